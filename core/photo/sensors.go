package photo

import (
	"math"
	"sync"

	"cloudburst/core/colour"
)

// A camera turns what its sensors see into screen colours by a matrix made for daylight. Under a lamp the same matrix
// is off, even where the white is right: reds come out dull. What a usual camera gets wrong under a light is worked out
// from usual sensors (a Gaussian each, of no camera in particular) over smooth reflectances, and undone where the maker
// says which light it was.

var usualSensors = [3][2]float64{{598, 38}, {536, 40}, {460, 30}} // middle and width, nm

// smooth reflectances: edges both ways and bands, on a dark ground.
func smoothSpectra() []colour.Spectrum {
	var out []colour.Spectrum
	make1 := func(f func(nm float64) float64) {
		var s colour.Spectrum
		for b := range s {
			s[b] = 0.05 + 0.7*f(colour.NM(b))
		}
		out = append(out, s)
	}
	for at := 450.0; at <= 650; at += 20 {
		for _, wide := range []float64{12, 35} {
			edge := func(nm float64) float64 { return 1 / (1 + math.Exp(-(nm-at)/wide)) }
			make1(edge)
			make1(func(nm float64) float64 { return 1 - edge(nm) })
			make1(func(nm float64) float64 { z := (nm - at) / (1.5 * wide); return math.Exp(-z * z / 2) })
			make1(func(nm float64) float64 { z := (nm - at) / (1.5 * wide); return 1 - 0.8*math.Exp(-z*z/2) })
		}
	}
	return out
}

// usualUnder is the white-preserving matrix from usual balanced sensors under a light to linear sRGB as under D65.
func usualUnder(light colour.Light) [3][3]float64 {
	power := light.Power()
	raw := func(r *colour.Spectrum) (c [3]float64) {
		for ch, s := range usualSensors {
			for b := range r {
				z := (colour.NM(b) - s[0]) / s[1]
				c[ch] += power[b] * r[b] * math.Exp(-z*z/2)
			}
		}
		return c
	}
	one := colour.Flat(1)
	white := raw(&one)
	var m [3][3]float64
	for row := range 3 {
		i, j, k := row, (row+1)%3, (row+2)%3
		var jj, jk, kk, bj, bk float64
		for _, s := range smoothSpectra() {
			c := raw(&s)
			lin := colour.D65.Lab(&s).Linear()
			want := [3]float64{lin.R, lin.G, lin.B}[row]
			ci := c[i] / white[i]
			u, v, z := c[j]/white[j]-ci, c[k]/white[k]-ci, want-ci
			w := 1 / (0.05 + want*want) // dark colours count, too
			jj, jk, kk, bj, bk = jj+w*u*u, jk+w*u*v, kk+w*v*v, bj+w*u*z, bk+w*v*z
		}
		d := jj*kk - jk*jk
		m[row][j], m[row][k] = (bj*kk-bk*jk)/d, (bk*jj-bj*jk)/d
		m[row][i] = 1 - m[row][j] - m[row][k]
	}
	return m
}

var lamps sync.Map // colour.Light → [3][3]float64

// lampMatrix undoes what a usual camera's daylight matrix gets wrong under a light.
func lampMatrix(light colour.Light) [3][3]float64 {
	if m, ok := lamps.Load(light); ok {
		return m.([3][3]float64)
	}
	m := product(usualUnder(light), inverse(usualUnder(colour.D65)))
	lamps.Store(light, m)
	return m
}
