package flake

import (
	"math"

	"cloudburst/core/measure"
)

// nearPX is how close to a small piece a hand points at it.
const nearPX = 4.0

// Correct is a count with one place pointed at by hand: the piece there is taken out, or, where none is, one of the
// class is added. The counts follow.
func (f Found) Correct(x, y, pxPerMM float64, class int) (Found, error) {
	if class < 0 || class >= len(f.Classes) {
		return f, measure.Faulty("class", "count the flake first, then choose which of its kinds is added")
	}
	best, at := math.Inf(1), -1
	for i, p := range f.Pieces {
		if d := math.Hypot(p.X-x, p.Y-y); d < best && d < max(nearPX, p.SizeMM*pxPerMM/2) {
			best, at = d, i
		}
	}
	f.Pieces = append([]Piece{}, f.Pieces...)
	switch {
	case at >= 0:
		f.Pieces = append(f.Pieces[:at], f.Pieces[at+1:]...)
	case !(x >= 0 && y >= 0 && x < 1e5 && y < 1e5):
		return f, measure.Faulty("x", "point at the photo")
	default:
		f.Pieces = append(
			f.Pieces, Piece{X: x, Y: y, SizeMM: f.Classes[class].SizeIN * measure.MMPerInch, Class: class},
		)
	}
	f.Classes = append([]Class{}, f.Classes...)
	for i := range f.Classes {
		f.Classes[i].Count = 0
	}
	for _, p := range f.Pieces {
		f.Classes[p.Class].Count++
	}
	for i := range f.Classes {
		f.Classes[i].PerCM2 = float64(f.Classes[i].Count) / f.AreaCM2
	}
	return f, nil
}
