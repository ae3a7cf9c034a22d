package recipe

import (
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// Base is a plastic that a cup's flake is seen in, and how the flake stands there.
type Base struct {
	Name  string
	Cup   cup.Cup
	Flake mix.Legible
}

// Bases puts a flake of a cup, with all that is no colour, into four plastics: the cup's own colour, or a smoky one
// where it has none; clear; white; dark. What makes it white or dark are those bottles of the rack that whiten and
// blacken the most without a hue; a plastic that none of them makes is left out. Which base suits a flake is seldom
// guessed right: silver that leads in a dark one is gone in a white one.
func Bases(
	c *cup.Cup, flake string, rack []string, shelf cup.Shelf, kit measure.Kit, at mix.Condition,
) ([]Base, error) {
	if bottle, ok := shelf[flake]; !ok || bottle.Flake == nil {
		return nil, measure.Faulty("material", "choose a flake of the shelf")
	}
	own := *c
	if own.AmountOf(flake).Value == 0 {
		var err error
		if own, _, err = own.With(flake, 1, shelf, kit); err != nil {
			return nil, err
		}
	}
	clear := own
	clear.Doses = slices.DeleteFunc(slices.Clone(own.Doses), func(d cup.Dose) bool {
		m := shelf[d.Material]
		return m.Colourant != nil || m.Powder != nil
	})
	white, black := neutrals(&clear, rack, shelf, kit)
	named := []Base{{Name: "As it is", Cup: own}, {Name: "Clear", Cup: clear}}
	if len(own.Doses) == len(clear.Doses) {
		named = named[1:]
		if black != "" {
			named = append([]Base{{Name: "Smoky", Cup: with(&clear, black, smoky, shelf, kit)}}, named...)
		}
	}
	if white != "" {
		named = append(named, Base{Name: "White", Cup: with(&clear, white, 1, shelf, kit)})
	}
	if black != "" {
		named = append(named, Base{Name: "Dark", Cup: with(&clear, black, 1, shelf, kit)})
	}
	for i := range named {
		m, err := mix.Stir(&named[i].Cup, shelf)
		if err != nil {
			return nil, err
		}
		for _, l := range m.Legibility(at) {
			if l.Material == flake {
				named[i].Flake = l
			}
		}
	}
	return named, nil
}

// smoky is how much of a usual dose of black makes a plastic smoky.
const smoky = 0.25

// with is a cup with a share of a bottle's usual dose in it, a step at least; the cup as it was where it takes no more.
func with(c *cup.Cup, uid string, share float64, shelf cup.Shelf, kit measure.Kit) cup.Cup {
	m := shelf[uid]
	step := cup.NextStep(&m, kit)
	n := m.Middling().Value * share * c.Volume.ML / measure.CupML / step.Value
	out, _, err := c.With(uid, int(max(1, math.Round(n))), shelf, kit)
	if err != nil {
		return *c
	}
	return out
}

// mostChroma is how strong the hue of a bottle may be that is called white or black.
const mostChroma = 15

// neutrals are the bottles that whiten and blacken a plastic the most, without a hue of their own; empty where the
// rack has none. A white is light over black, too.
func neutrals(c *cup.Cup, rack []string, shelf cup.Shelf, kit measure.Kit) (white, black string) {
	plain := mix.Condition{ThicknessMM: mix.BodyMM, Light: colour.D65, State: cup.Rested}
	lightest, darkest := whiteFrom, blackTo
	for _, uid := range slices.Sorted(slices.Values(rack)) {
		if m := shelf[uid]; m.Colourant == nil || glows(&m) {
			continue
		}
		made := with(c, uid, 1, shelf, kit)
		m, err := mix.Stir(&made, shelf)
		if err != nil {
			continue
		}
		over := plain
		over.Ground = optics.Dark
		onDark := m.Body().Colour(over)
		over.Ground = optics.White
		onWhite := m.Body().Colour(over)
		if l := onDark.L; l > lightest && onDark.Chroma() < mostChroma {
			white, lightest = uid, l
		}
		if l := onWhite.L; l < darkest && onWhite.Chroma() < mostChroma {
			black, darkest = uid, l
		}
	}
	return white, black
}

// A bottle whitens where a body over black is lighter than this, and blackens where one over white is darker, L.
const whiteFrom, blackTo = 60.0, 35.0

func glows(m *material.Material) bool { return m.Colourant.Glows != nil }
