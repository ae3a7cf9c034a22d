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
	ShiftNM    float64           `json:"shiftNM" doc:"How much further to the red its absorption lies"`
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
	strength, steep := math.Exp(l.LnStrength), Steepness(k)
	for b := range k {
		hue := -l.ShiftNM * steep[b]
		for i, h := range l.LnHue {
			hue += h * hats[i][b]
		}
		k[b] *= strength * math.Exp(hue)
		s[b] *= strength
	}
}

// Steepness is by how much the logarithm of an absorption rises a nanometre: a band that lies elsewhere shows there. In
// what is nearly clear it fades, since nothing moves there.
func Steepness(k *colour.Spectrum) (out colour.Spectrum) {
	const clear = 0.02 // of the strongest
	most := 0.0
	for _, v := range k {
		most = max(most, v)
	}
	if most <= 0 {
		return out
	}
	ln := func(b int) float64 { return math.Log(k[max(0, min(colour.Bands-1, b))] + clear*most) }
	for b := range k {
		out[b] = (ln(b+1) - ln(b-1)) / (colour.NM(2) - colour.NM(0))
	}
	return out
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
