//go:build !amd64

package match

const byFour = false

func lightOver(k, s, ground, w *float64, mm, glow float64, groups int, xyz *float64) {
	panic("no such processor")
}

func lightAgainst(k, s, ground, w *float64, mm, glow float64, groups int, xyz *float64) {
	panic("no such processor")
}

func slopeOver(k, s, ground, w *float64, mm, glow float64, groups int, xyz, dk, ds *float64) {
	panic("no such processor")
}

func slopeAgainst(k, s, ground, w *float64, mm, glow float64, groups int, xyz, dk, ds *float64) {
	panic("no such processor")
}
func weighFour(k, s, dk, ds, w *float64, groups int, xyz *float64) { panic("no such processor") }
