package match

import (
	"cloudburst/core/colour"
	"cloudburst/core/material"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// Mirror is a powder's platelets in a mix.
type Mirror struct {
	Sheen    *colour.Spectrum // what a closed sheet of them throws back to the eye, see Sheen
	Strength float64          // that hide each other, 1/mm: the powder's own times g per litre
}

// Sheen is what a closed sheet of a powder's platelets throws back in a light, with the piece turned so far.
func Sheen(p *material.Powder, light colour.Light, tiltDeg float64) colour.Spectrum {
	theta := optics.InsidePlastic(tiltDeg)
	out := p.Optics.Film.Reflects(theta)
	gain := light.Directional() * mix.GlintGain(p, theta)
	for b := range out {
		out[b] *= gain
	}
	return out
}

// visible is the depth to which mirrors are seen in a band, ∫exp(−fade·z)dz over the thickness, and its slope by
// fade.
func visible(fade, mm float64) (depth, slope float64) {
	u := fade * mm
	if u < 0.02 {
		return mm * (1 - u*(1.0/2-u*(1.0/6-u*(1.0/24)))), -mm * mm * (1.0/2 - u*(1.0/3-u*(1.0/8)))
	}
	e := expMinus(u)
	depth = (1 - e) / fade
	return depth, (mm*e - depth) / fade
}

// glints is the light of the mirrors, as package recipe has it: each hides the next, and the eye closes against the
// sum.
func (v *View) glints(mix *Coefficients, mirrors []Mirror) colour.XYZ {
	var x, y, z float64
	for b := range min(v.bands, colour.Bands) {
		depth, _ := visible(2*(mix.K[b]+mix.S[b]), v.mm)
		light := 0.0
		for i := range mirrors {
			light += mirrors[i].Sheen[b] * (1 - expMinus(mirrors[i].Strength*depth))
		}
		x += v.w[0][b] * light
		y += v.w[1][b] * light
		z += v.w[2][b] * light
	}
	closes := 1 / (1 + y)
	return colour.XYZ{X: x * closes, Y: y * closes, Z: z * closes}
}

// shine is the light of the mirrors with its slope.
type shine struct {
	xyz    colour.XYZ
	closes float64
	fade   colour.Spectrum // of a band's glint by K or S, before the eye closes
}

// shine fills in the light of the mirrors, and into by how X, Y and Z change by each one's strength before the eye
// closes.
func (v *View) shine(mix *Coefficients, mirrors []Mirror, s *shine, by []Gradient) {
	var x, y, z float64
	clear(by[:len(mirrors)])
	for b := range min(v.bands, colour.Bands) {
		depth, slope := visible(2*(mix.K[b]+mix.S[b]), v.mm)
		light := 0.0
		for i := range mirrors {
			m := &mirrors[i]
			open := m.Sheen[b]
			if m.Strength > 0 {
				open *= expMinus(m.Strength * depth)
				light += m.Sheen[b] - open
				s.fade[b] += 2 * open * m.Strength * slope
			}
			d := open * depth
			by[i][0] += v.w[0][b] * d
			by[i][1] += v.w[1][b] * d
			by[i][2] += v.w[2][b] * d
		}
		x += v.w[0][b] * light
		y += v.w[1][b] * light
		z += v.w[2][b] * light
	}
	s.closes = 1 / (1 + y)
	s.xyz = colour.XYZ{X: x * s.closes, Y: y * s.closes, Z: z * s.closes}
}

// closed is what a change of the mirrors' light comes to for an eye that closes against it.
func (s *shine) closed(d colour.XYZ) colour.XYZ {
	less := s.closes * d.Y
	return colour.XYZ{X: s.closes*d.X - less*s.xyz.X, Y: s.closes*d.Y - less*s.xyz.Y, Z: s.closes*d.Z - less*s.xyz.Z}
}
