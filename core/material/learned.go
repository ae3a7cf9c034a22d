package material

import (
	"math"

	"cloudburst/core/colour"
)

// HueModes is at how many places along the spectrum the hue of a bottle is learned.
const HueModes = 5

// Learned is what the readings of batches have taught of a bottle, beside its own figures. It is worked out from them
// anew, never stored.
type Learned struct {
	LnStrength float64           `json:"lnStrength" doc:"Logarithm of how many times as strong it is"`
	LnHue      [HueModes]float64 `json:"lnHue" doc:"The same of its absorption about 400, 480, 560, 640 and 720 nm"`
	StrengthSD float64           `json:"strengthSD" doc:"How far the logarithm of its strength may be off: one standard deviation"`
	Batches    int               `json:"batches" doc:"That taught it"`
}

// hats are the modes: each is 1 at its own place and falls to nothing at its neighbours; the first and the last go on
// beyond.
var hats = func() (out [HueModes]colour.Spectrum) {
	const from, to = 400.0, 720.0
	for b := range colour.Bands {
		at := (max(from, min(to, colour.NM(b))) - from) / (to - from) * (HueModes - 1)
		for i := range out {
			out[i][b] = max(0, 1-math.Abs(at-float64(i)))
		}
	}
	return out
}()

// Hat is a mode of hue.
func Hat(mode int) *colour.Spectrum { return &hats[mode] }

// apply corrects coefficients.
func (l *Learned) apply(k, s *colour.Spectrum) {
	if l == nil {
		return
	}
	strength := math.Exp(l.LnStrength)
	for b := range k {
		hue := 0.0
		for i, h := range l.LnHue {
			hue += h * hats[i][b]
		}
		k[b] *= strength * math.Exp(hue)
		s[b] *= strength
	}
}

// Taught is a material with what was learned of it, or by its own figures for nil.
func (m Material) Taught(l *Learned) Material {
	switch {
	case m.Colourant != nil:
		c := *m.Colourant
		c.Learned, m.Colourant = l, &c
	case m.Powder != nil:
		p := *m.Powder
		p.Learned, m.Powder = l, &p
	}
	return m
}

// Learned is what was learned of a material; nil for nothing.
func (m *Material) Learned() *Learned {
	switch {
	case m.Colourant != nil:
		return m.Colourant.Learned
	case m.Powder != nil:
		return m.Powder.Learned
	}
	return nil
}

// Measured is a material whose figures count as measured.
func (m Material) Measured() Material {
	m = m.Taught(m.Learned())
	switch {
	case m.Colourant != nil:
		m.Colourant.Optics.Origin = Measured
	case m.Powder != nil:
		m.Powder.Optics.Origin = Measured
	}
	return m
}
