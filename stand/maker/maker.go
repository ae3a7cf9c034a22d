package maker

import (
	"math"
	"math/rand/v2"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// Truth is how far a maker's bench differs from what is thought of it.
type Truth struct {
	Strength float64 // of the logarithm of a bottle's strength: one standard deviation
	Hue      float64 // of that of its absorption, place by place
	Noise    float64 // of a reading, on each axis of Lab
	Offset   float64 // of the reading device, on each axis of Lab
	Mismatch bool    // bottles shaped as other families are, drops that scatter, other surfaces
}

// dropScatter is how far a single drop's volume lies from the usual one.
const dropScatter = 0.10

// otherSurface is what plastic of another index and finish throws back.
var otherSurface = optics.Surface{Directional: 0.05, Diffuse: 0.105, Inside: 0.62}

// Maker is one at the bench.
type Maker struct {
	truth  Truth
	bottle cup.Shelf // as they really are
	rng    *rand.Rand
	offset [3]float64
}

// New makes one up, with bottles of their own.
func New(shelf cup.Shelf, truth Truth, rng *rand.Rand) *Maker {
	m := &Maker{truth: truth, bottle: cup.Shelf{}, rng: rng}
	uids := make([]string, 0, len(shelf))
	for uid := range shelf {
		uids = append(uids, uid)
	}
	slices.Sort(uids)
	for _, uid := range uids {
		one := shelf[uid]
		l := material.Learned{LnStrength: truth.Strength * rng.NormFloat64()}
		for i := range l.LnHue {
			l.LnHue[i] = truth.Hue * rng.NormFloat64()
		}
		if one.Powder != nil { // the thickness of its film is what it is
			l.LnHue = [material.HueModes]float64{}
		}
		if c := one.Colourant; c != nil && truth.Mismatch {
			c := *c
			c.Optics.Absorbs = slices.Clone(c.Optics.Absorbs)
			for i := range c.Optics.Absorbs {
				b := &c.Optics.Absorbs[i]
				b.CentreNM += 10 * rng.NormFloat64()
				b.WidthNM *= math.Exp(0.15 * rng.NormFloat64())
				b.HeightPerMM *= math.Exp(0.15 * rng.NormFloat64())
			}
			one.Colourant = &c
		}
		m.bottle[uid] = one.Taught(&l)
	}
	for i := range m.offset {
		m.offset[i] = truth.Offset * rng.NormFloat64()
	}
	return m
}

// Pour makes a cup, as it comes out at this bench.
func (m *Maker) Pour(c cup.Cup) (*mix.Mix, error) {
	c.Doses = slices.Clone(c.Doses)
	if m.truth.Mismatch {
		for i := range c.Doses {
			d := &c.Doses[i]
			if d.Amount.Unit == measure.InDrops { // drop by drop: many even out
				d.Amount.Value *= math.Exp(dropScatter / math.Sqrt(max(1, d.Amount.Value)) * m.rng.NormFloat64())
			}
		}
	}
	return mix.Stir(&c, m.bottle)
}

// See is what a mix really looks like at this bench.
func (m *Maker) See(made *mix.Mix, at mix.Condition) colour.Lab {
	lab := made.Colour(at)
	if !m.truth.Mismatch {
		return lab
	}
	stack := optics.Pile(made.Layer(at.ThicknessMM, at.State))
	plain := func(s optics.Surface) colour.Lab {
		piece := s.Enclose(&stack)
		seen := at.Ground.See(&piece)
		return at.Light.Lab(&seen)
	}
	was, is := plain(optics.InAir), plain(otherSurface)
	return colour.Lab{L: lab.L + is.L - was.L, A: lab.A + is.A - was.A, B: lab.B + is.B - was.B}
}

// Offset is what the maker's device adds to all it reads.
func (m *Maker) Offset() colour.Lab {
	return colour.Lab{L: m.offset[0], A: m.offset[1], B: m.offset[2]}
}

// Read reads a colour with the maker's device.
func (m *Maker) Read(lab colour.Lab) colour.Lab {
	n := func(ch int) float64 { return m.offset[ch] + m.truth.Noise*m.rng.NormFloat64() }
	return colour.Lab{L: max(0, lab.L+n(0)), A: lab.A + n(1), B: lab.B + n(2)}
}
