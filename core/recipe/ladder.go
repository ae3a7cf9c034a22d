package recipe

import (
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// Rung is a cup with so many steps of one of its materials, and what that does.
type Rung struct {
	Steps    int     `json:"steps" doc:"Drops of a bottle, spoons of a powder"`
	Typed    string  `json:"typed" doc:"The dose as it can be typed; empty for none"`
	DeltaE00 float64 `json:"deltaE00" doc:"From the rung before"`
	Cup      cup.Cup `json:"-"`
}

// ladderSteps are the rungs: each about twice the one before, as the eye takes them.
var ladderSteps = []int{0, 1, 2, 4, 8, 15}

// Ladder puts more and more of one material into a cup, whatever of it is in there now. Rungs that the cup can't take
// are left out.
func Ladder(c *cup.Cup, material string, shelf cup.Shelf, kit measure.Kit, at mix.Condition) ([]Rung, error) {
	bottle, ok := shelf[material]
	if !ok || bottle.Plastisol != nil {
		return nil, measure.Faulty("material", "choose a bottle, a powder, a flake or an additive of the shelf")
	}
	none := *c
	none.Doses = slices.DeleteFunc(slices.Clone(c.Doses), func(d cup.Dose) bool { return d.Material == material })
	var out []Rung
	var before colour.Lab
	for i, n := range ladderSteps {
		r := Rung{Steps: n, Cup: none}
		if n > 0 {
			var err error
			if r.Cup, _, err = none.With(material, n, shelf, kit); err != nil {
				break // it takes no more
			}
			r.Typed = r.Cup.AmountOf(material).String()
		}
		m, err := mix.Stir(&r.Cup, shelf)
		if err != nil {
			return nil, err
		}
		lab := m.Colour(at)
		if i > 0 {
			r.DeltaE00 = colour.DeltaE00(before, lab)
		}
		before = lab
		out = append(out, r)
	}
	return out, nil
}
