package recipe

import (
	"fmt"
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/fit"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// Lie is how a bar or spot lies in a body: so much of the body over it, so thick, in a body that thick.
type Lie struct{ OverMM, DeepMM, BodyMM float64 }

// Shown is how a bar or spot shows through the body over it.
type Shown struct {
	DeltaE00 float64 `json:"deltaE00" doc:"With and without it, over white"`
	FarSide  float64 `json:"farSide" doc:"The same from the other side of the bait, through all of the body"`
	Says     string  `json:"says"`
	Visible  *Redose `json:"visible,omitempty" doc:"What would make it plainly visible; none where it is, or where no dose gets there"`
	Subtle   *Redose `json:"subtle,omitempty" doc:"What would make it subtle"`
}

// Redose is a cup with all its colours changed by one factor.
type Redose struct {
	Changes  []string `json:"changes" nullable:"false"`
	DeltaE00 float64  `json:"deltaE00"`
}

// Contrasts of a spot, ΔE00: plainly visible from, subtle about, not seen below.
const (
	plainSpot  = 10.0
	subtleSpot = 4.0
	leastSpot  = 2.0
)

// Shows works out how a cup shows as a bar or spot in a body, and what dose of it would show it plainly or subtly.
func Shows(body *mix.Mix, spot *cup.Cup, lie Lie, shelf cup.Shelf, kit measure.Kit) (*Shown, error) {
	at := seenAt(mix.BodyMM, optics.White)
	contrast := func(c *cup.Cup) (float64, *mix.Mix, error) {
		m, err := mix.Stir(c, shelf)
		if err != nil {
			return 0, nil, err
		}
		return mix.ShowThrough(body, m, lie.OverMM, lie.DeepMM, lie.BodyMM, at), m, nil
	}
	now, mixed, err := contrast(spot)
	if err != nil {
		return nil, err
	}
	out := &Shown{
		DeltaE00: now,
		FarSide:  mix.ShowThrough(body, mixed, max(0, lie.BodyMM-lie.OverMM-lie.DeepMM), lie.DeepMM, lie.BodyMM, at),
	}
	switch {
	case now < leastSpot:
		out.Says = "can't be seen"
	case now < subtleSpot:
		out.Says = "a shadow at most"
	case now < plainSpot:
		out.Says = "subtle"
	default:
		out.Says = "plainly visible"
	}
	var free []int
	for i, d := range spot.Doses {
		if b := shelf[d.Material]; b.Colours() {
			free = append(free, i)
		}
	}
	if len(free) == 0 {
		return out, nil
	}
	// redose finds the factor at which the contrast comes to what is wanted: it grows with the dose as far as it grows.
	redose := func(wanted, from, to float64) (*Redose, error) {
		try := func(factor float64) (cup.Cup, float64, error) {
			c := *spot
			c.Doses = append([]cup.Dose(nil), spot.Doses...)
			for _, i := range free {
				c.Doses[i].Amount = spot.Doses[i].Amount.Times(factor)
			}
			e, _, err := contrast(&c)
			return c, e, err
		}
		factor := fit.Halve(math.Log(from), math.Log(to), 24, func(ln float64) bool {
			_, e, err := try(math.Exp(ln))
			return err != nil || e >= wanted // more than a cup takes is too much
		})
		c, e, err := try(math.Exp(factor))
		if err != nil || math.Abs(e-wanted) > 1.5 {
			return nil, nil //nolint:nilerr // no dose that a cup takes gets there
		}
		measurable(&c, free, kit)
		e, _, err = contrast(&c)
		return &Redose{Changes: cup.Changed(spot, &c, shelf), DeltaE00: e}, err
	}
	if now < plainSpot {
		if out.Visible, err = redose(plainSpot, 1, 40); err != nil {
			return nil, err
		}
	}
	if now > subtleSpot+1 {
		out.Subtle, err = redose(subtleSpot, 1.0/60, 1)
	}
	return out, err
}

// Apart is how two layers differ, and whether they will be seen as two.
func Apart(a, b *mix.Mix) (colour.Difference, string) {
	at := seenAt(mix.BodyMM, optics.White)
	d := colour.Compare(b.Colour(at), a.Colour(at))
	switch {
	case d.DeltaE00 < 4:
		return d, d.Nearness + ": hardly seen as two in a bait"
	case d.DeltaE00 < 8:
		return d, d.Nearness
	}
	return d, "plainly two colours"
}

// Behind is how what lies behind changes a layer, each half of a bait so thick.
func Behind(front, behind *mix.Mix, mm float64) colour.Difference {
	at := seenAt(mix.BodyMM, optics.White)
	alone := mix.StackColour([]mix.Slice{{Mix: front, MM: mm / 2}}, at)
	backed := mix.StackColour([]mix.Slice{{Mix: front, MM: mm / 2}, {Mix: behind, MM: mm / 2}}, at)
	return colour.Compare(backed, alone)
}

// BehindSays puts it into a sentence.
func BehindSays(name string, d colour.Difference) string {
	if d.DeltaE00 < 1 || d.Words == "" {
		return fmt.Sprintf("What lies behind the %s does not show.", name)
	}
	return fmt.Sprintf("What lies behind makes the %s %s.", name, d.Words)
}
