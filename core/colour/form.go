package colour

import "math"

// Form is ΔE00 about a colour, as a form: ΔE00² ≈ |U·ΔLab|², U the upper triangle, row by row.
type Form [6]float64

// FormAt is the form about a colour, by second differences.
func FormAt(at Lab) Form {
	const h = 0.5
	move := func(d [3]float64) float64 {
		e := DeltaE00(at, Lab{L: at.L + d[0]*h, A: at.A + d[1]*h, B: at.B + d[2]*h})
		return e * e / (h * h)
	}
	var g [3][3]float64
	for i := range 3 {
		var d [3]float64
		d[i] = 1
		g[i][i] = move(d)
	}
	for i := range 3 {
		for j := range i {
			var d [3]float64
			d[i], d[j] = 1, 1
			g[i][j] = (move(d) - g[i][i] - g[j][j]) / 2
		}
	}
	// Cholesky, G = UᵀU. ΔE00 is no smooth form at grey: what would be no root is taken as little.
	const least = 1e-3
	u00 := math.Sqrt(max(g[0][0], least))
	u01, u02 := g[1][0]/u00, g[2][0]/u00
	u11 := math.Sqrt(max(g[1][1]-u01*u01, least))
	u12 := (g[2][1] - u01*u02) / u11
	u22 := math.Sqrt(max(g[2][2]-u02*u02-u12*u12, least))
	return Form{u00, u01, u02, u11, u12, u22}
}

// Times is a form of so many times the differences.
func (f Form) Times(share float64) Form {
	for i := range f {
		f[i] *= share
	}
	return f
}

// Of puts U·(l, a, b) into out: its length is the ΔE00 of that difference.
func (f *Form) Of(l, a, b float64, out []float64) {
	out[0], out[1], out[2] = f[0]*l+f[1]*a+f[2]*b, f[3]*a+f[4]*b, f[5]*b
}
