package mix

import (
	"cmp"
	"math"
	"slices"

	"cloudburst/core/cup"
	"cloudburst/core/measure"

	"cloudburst/core/colour"
	"cloudburst/core/material"
	"cloudburst/core/optics"
)

// Condition says how a mix is looked at. What is left empty: rested, face-on, in air.
type Condition struct {
	ThicknessMM float64
	Ground      optics.Ground
	Light       colour.Light
	State       cup.State
	TiltDeg     float64      // how far the piece is turned away from the light's mirror direction, outside
	Water       optics.Water // under water, where set
	DepthM      float64
	DistanceM   float64
	From        optics.From // under water: from where
}

// How a state changes the plastisol's own haze. Raw plastisol is milk; hot it is at its clearest; fresh from the mold
// it is hazier for some hours. Starting values, until readings in each state replace them.
const (
	rawMilkPerMM = 3.0
	hotHaze      = 0.4
	freshHaze    = 1.6
)

// UsualLook is how a cup is looked at where nobody says: as its target was read, or as a thin body over white.
func UsualLook(c *cup.Cup) Condition {
	at := Condition{ThicknessMM: usualMM, Ground: optics.White, Light: colour.D65, State: cup.Rested}
	if t := c.Target; t != nil {
		at.ThicknessMM, at.Ground, at.State = t.ThicknessMM, t.Ground, cmp.Or(t.State, at.State)
	}
	return at
}

const usualMM = 4.0

// Compared is how recipes are compared with a colour that is sought.
var Compared = Condition{ThicknessMM: 5, Ground: optics.White, Light: colour.D65}

// Or fills in what a condition leaves out.
func (at Condition) Or(usual Condition) Condition {
	at.ThicknessMM, at.Ground = cmp.Or(at.ThicknessMM, usual.ThicknessMM), cmp.Or(at.Ground, usual.Ground)
	at.Light, at.State = cmp.Or(at.Light, usual.Light), cmp.Or(at.State, usual.State)
	return at
}

// MaxTiltDeg is as far as a piece is turned; beyond it one sees the edge.
const MaxTiltDeg = 60

// Check says what is wrong with a condition.
func (at Condition) Check() error {
	if err := cup.CheckThickness("thickness", at.ThicknessMM); err != nil {
		return err
	}
	if _, err := optics.ParseGround(string(at.Ground)); err != nil {
		return &measure.Fault{Field: "ground", Says: err.Error()}
	}
	if _, err := colour.ParseLight(string(at.Light)); err != nil {
		return &measure.Fault{Field: "light", Says: err.Error()}
	}
	if at.State != "" && !slices.Contains(cup.States(), at.State) {
		return measure.Faulty("state", "no state is called %q; use raw, hot, fresh or rested", at.State)
	}
	if !(at.TiltDeg >= 0 && at.TiltDeg <= MaxTiltDeg) {
		return measure.Faulty("tilt", "a tilt from 0 to 60 degrees is accepted")
	}
	if at.Water != "" && !slices.Contains(optics.Waters(), at.Water) {
		return measure.Faulty("water", "no water is called %q; use clear, green, stained or muddy", at.Water)
	}
	if at.From != "" && !slices.Contains(optics.Froms(), at.From) {
		return measure.Faulty("from", "a bait under water is seen from the side, from below or from above")
	}
	if !(at.DepthM >= 0 && at.DepthM <= 50 && at.DistanceM >= 0 && at.DistanceM <= 50) {
		return measure.Faulty("water", "a depth and a distance up to 50 m are accepted")
	}
	return nil
}

// haze is what a state adds to scatter.
func (m *Mix) haze(s cup.State) float64 {
	switch s {
	case cup.Raw:
		return rawMilkPerMM * m.PlastisolML / m.FinishedML
	case cup.Hot:
		return m.baseS * (hotHaze - 1)
	case cup.Fresh:
		return m.baseS * (freshHaze - 1)
	}
	return 0
}

// Layer is an even piece of the mix, with the haze of its state.
func (m *Mix) Layer(mm float64, state cup.State) optics.Layer {
	l := optics.Layer{K: m.K, S: m.S, ThicknessMM: mm}
	if h := m.haze(state); h != 0 {
		for b := range l.S {
			l.S[b] = max(0, l.S[b]+h)
		}
	}
	return l
}

// At is an even piece of the mix, that thick, in air.
func (m *Mix) At(thicknessMM float64) optics.Piece {
	st := optics.Pile(optics.Layer{K: m.K, S: m.S, ThicknessMM: thicknessMM})
	return optics.InAir.Enclose(&st)
}

// Seen is the light that reaches the eye, band by band, as a share of what a white would send.
func (m *Mix) Seen(at Condition) colour.Spectrum {
	l := m.Layer(at.ThicknessMM, at.State)
	return m.see(&l, at)
}

// Body is the same without the flake's own colour: what lies between the pieces.
func (m *Mix) Body() *Mix {
	if len(m.Flakes) == 0 {
		return m
	}
	b := *m
	b.K, b.S, b.Flakes = m.BodyK, m.BodyS, nil
	return &b
}

// Thinned is the mix with so much of its flake's own colour: 0 is what lies between the pieces, 1 all of it.
func (m *Mix) Thinned(share float64) *Mix {
	b := *m
	b.Flakes = nil
	for i := range b.K {
		b.K[i], b.S[i] = m.BodyK[i]+share*(m.K[i]-m.BodyK[i]), m.BodyS[i]+share*(m.S[i]-m.BodyS[i])
	}
	return &b
}

func (m *Mix) see(l *optics.Layer, at Condition) colour.Spectrum {
	h := m.hold(l, at)
	h.glint(m, l)
	return h.over(at.Ground)
}

// held is a piece of the mix in a light, worked out as far as it does not hang on the ground; what its powders throw
// back is added by glint.
type held struct {
	at     Condition
	piece  optics.Piece
	fields []*optics.GlowField
	glints colour.Spectrum // what glints, as the eye takes it
}

func (m *Mix) hold(l *optics.Layer, at Condition) *held {
	surface := optics.InAir
	if at.Water != "" {
		surface = optics.InWater
	}
	st := optics.Pile(*l)
	h := &held{at: at, piece: surface.Enclose(&st)}
	if len(m.glows) > 0 {
		light := at.Light.Power()
		for i := range m.glows {
			h.fields = append(h.fields, surface.Glows(l, &m.glows[i], &light))
		}
	}
	return h
}

// glint adds what the powders of a layer throw back of directional light.
func (h *held) glint(m *Mix, l *optics.Layer) {
	at := h.at
	if dir := at.Light.Directional(); dir > 0 && len(m.Mirrors) > 0 {
		for i := range m.Mirrors {
			g := m.glint(l, &m.Mirrors[i], at.TiltDeg)
			addTo(&h.glints, &g, dir)
		}
		// The eye closes against what is brighter than white, and keeps its hue.
		closes := 1 / (1 + at.Light.Luminous(&h.glints))
		for b := range h.glints {
			h.glints[b] *= closes
		}
	}
}

// over is the light that reaches the eye over a ground.
func (h *held) over(g optics.Ground) colour.Spectrum {
	seen := g.See(&h.piece)
	if len(h.fields) > 0 {
		rg := g.Reflectance()
		for _, f := range h.fields {
			front, back := f.Over(&rg)
			if g == optics.Against {
				front = back
			}
			addTo(&seen, &front, 1)
		}
	}
	if g != optics.Against {
		addTo(&seen, &h.glints, 1)
	}
	if h.at.Water != "" {
		seen, _ = h.at.Water.See(&seen, h.at.DepthM, h.at.DistanceM, h.at.From)
		lift(&seen, h.at)
	}
	return seen
}

// Colours are the colours under a condition over several grounds, which share most of the work.
func (m *Mix) Colours(at Condition, grounds ...optics.Ground) []colour.Lab {
	l := m.Layer(at.ThicknessMM, at.State)
	h := m.hold(&l, at)
	h.glint(m, &l)
	out := make([]colour.Lab, len(grounds))
	for i, g := range grounds {
		seen := h.over(g)
		out[i] = at.Light.Lab(&seen)
	}
	return out
}

// glint is the powder's mirror image of a directional light, about the mirror direction:
// L = G·R_f(θ)·a·∫exp(−2(K+S)z)dz, G = g0·exp(−(θ/θw)²/2), θ inside the plastic.
func (m *Mix) glint(l *optics.Layer, p *MirrorIn, tiltDeg float64) colour.Spectrum {
	o := &p.Powder.Optics
	theta := optics.InsidePlastic(tiltDeg)
	gain := GlintGain(p.Powder, theta)
	out := o.Film.Reflects(theta)
	for b := range out {
		fade := 2 * (l.K[b] + l.S[b])
		depth := l.ThicknessMM
		if fade*depth > 1e-9 {
			depth = -math.Expm1(-fade*depth) / fade
		}
		// Platelets hide each other: many can't glint more than a closed sheet of them.
		out[b] *= gain * -math.Expm1(-p.Powder.Mirrors()*p.GramsL*depth)
	}
	return out
}

// Glints says whether the mix's powders throw light back in a light, so that it looks otherwise as it turns.
func (m *Mix) Glints(at Condition) bool {
	return len(m.Mirrors) > 0 && at.Light.Directional() > 0 && at.Ground != optics.Against
}

// Sheen is what the powders of so much of the mix throw back, turned so far from the light's mirror direction: linear
// light of the screen, which may lie beyond what it can show.
func (m *Mix) Sheen(mm, tiltDeg float64, at Condition) colour.RGB {
	at.TiltDeg = tiltDeg
	l := m.Layer(mm, at.State)
	h := held{at: at}
	h.glint(m, &l)
	return at.Light.Lab(&h.glints).Linear()
}

// GlintGain is how bright a powder's platelets are, as a multiple of their film, at an angle inside the plastic.
func GlintGain(p *material.Powder, thetaDeg float64) float64 {
	z := thetaDeg / p.Optics.GlintWidthDeg
	return p.Optics.Glint * math.Exp(-z*z/2)
}

// lift opens the eye: it is set to the light where it looks from, so that a white there would look white again in
// lightness (not in hue). From above it is set to the light over the water.
func lift(seen *colour.Spectrum, at Condition) {
	white := colour.Flat(1)
	depth := at.DepthM
	if at.From == optics.FromAbove {
		depth = 0
	}
	lit, _ := at.Water.See(&white, depth, 0, optics.FromSide)
	y := at.Light.Luminous(&lit)
	if y <= 0 {
		return
	}
	for b := range seen {
		seen[b] /= y
	}
}

// Veil is what the water makes of a black and of a white piece: what is drawn onto a picture under water lies between.
func Veil(at Condition) (black, white colour.Lab) {
	lit := colour.Flat(1)
	dark, _ := at.Water.See(&colour.Spectrum{}, at.DepthM, at.DistanceM, at.From)
	bright, _ := at.Water.See(&lit, at.DepthM, at.DistanceM, at.From)
	lift(&dark, at)
	lift(&bright, at)
	return at.Light.Lab(&dark), at.Light.Lab(&bright)
}

// Open is the colour of the open water beside the piece, as the same eye sees it.
func Open(at Condition) colour.Lab {
	_, water := at.Water.See(&colour.Spectrum{}, at.DepthM, at.DistanceM, at.From)
	lift(&water, at)
	return at.Light.Lab(&water)
}

// Colour of the mix under a condition.
func (m *Mix) Colour(at Condition) colour.Lab {
	seen := m.Seen(at)
	return at.Light.Lab(&seen)
}

// SeeThrough is the share of light that comes through, as the eye weighs it.
func (m *Mix) SeeThrough(mm float64, state cup.State) float64 {
	l := m.Layer(mm, state)
	st := optics.Pile(l)
	p := optics.InAir.Enclose(&st)
	return colour.D65.Luminous(&p.Through)
}
