package recipe

import (
	"fmt"
	"slices"
	"time"

	"cloudburst/core/colour"
	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// Batch is a test batch: what really went into a cup poured from a recipe, and how it turned out.
type Batch struct {
	PouredOn    string         `json:"pouredOn" format:"date" doc:"Day of the pour, YYYY-MM-DD"`
	Volume      measure.Volume `json:"volume"`
	Goes        []Go           `json:"goes" nullable:"false" maxItems:"30" doc:"What went in, go by go"`
	Verdict     string         `json:"verdict" maxLength:"1000" doc:"In the maker's own words"`
	RestedHours float64        `json:"restedHours" minimum:"0" maximum:"87600" doc:"How long it had rested when it was judged"`
	Photo       string         `json:"photo,omitempty" maxLength:"64" format:"uid" doc:"uid of a photo"`
}

// Go is one round of dripping: some drops of some bottles, then a look.
type Go struct {
	Doses []Dose `json:"doses" nullable:"false" maxItems:"60"`
}

// Sum adds the goes up, bottle by bottle, in the order in which each first went in. What was dosed in two units is
// summed in the first.
func Sum(goes []Go, shelf Shelf) []Dose {
	var sum []Dose
	for _, g := range goes {
		for _, d := range g.Doses {
			at := slices.IndexFunc(sum, func(s Dose) bool { return s.Material == d.Material })
			if at < 0 {
				sum = append(sum, d)
				continue
			}
			m := shelf[d.Material]
			sum[at].Amount = plus(sum[at].Amount, d.Amount, &m)
		}
	}
	for i := range sum {
		sum[i].Typed = sum[i].Amount.String()
	}
	return sum
}

// plus adds two amounts of a material, in the unit of the first.
func plus(a, b measure.Amount, m *material.Material) measure.Amount {
	if sum, ok := a.Plus(b); ok {
		return sum
	}
	convert := func(v float64) float64 {
		_, g, err := m.Take(measure.Amount{Value: v, Unit: b.Unit})
		if err != nil {
			return 0
		}
		in, err := m.In(a.Unit, g)
		if err != nil {
			return 0
		}
		return in.Value
	}
	sum, _ := a.Plus(measure.Amount{Value: convert(b.Value), Unit: a.Unit, Low: convert(b.Low), High: convert(b.High)})
	return sum
}

// Cup is what was in the batch's cup in the end, of the recipe's plastisol.
func (b *Batch) Cup(plastisol string, shelf Shelf) Cup {
	return Cup{Volume: b.Volume, Plastisol: plastisol, Doses: Sum(b.Goes, shelf)}
}

// Check says what is wrong with a batch.
func (b *Batch) Check(plastisol string, shelf Shelf) error {
	if _, err := time.Parse(time.DateOnly, b.PouredOn); err != nil {
		return fault("pouredOn", "%q is no day; write it as 2026-03-31", b.PouredOn)
	}
	if err := b.Volume.Check(); err != nil {
		return &Fault{Field: "volume", Says: err.Error()}
	}
	if len(b.Goes) > 30 {
		return fault("goes", "a batch has up to 30 goes; this has %d", len(b.Goes))
	}
	if len(b.Verdict) > 1000 {
		return fault("verdict", "a verdict can have 1,000 letters; this has %d", len(b.Verdict))
	}
	if err := measure.CheckNote("verdict", b.Verdict); err != nil {
		return err
	}
	if !(b.RestedHours >= 0 && b.RestedHours <= 87600) {
		return fault("restedHours", "hours of rest from 0 (hot from the mold) to ten years are accepted")
	}
	for i, g := range b.Goes {
		if len(g.Doses) == 0 {
			return fault(fmt.Sprintf("goes[%d]", i), "nothing went in at go %d; leave it out", i+1)
		}
		for j, d := range g.Doses {
			m, ok := shelf[d.Material]
			if !ok {
				return fault(fmt.Sprintf("goes[%d].doses[%d]", i, j), "nothing on the shelf has the uid %q", d.Material)
			}
			if _, _, err := m.Take(d.Amount); err != nil {
				return fault(fmt.Sprintf("goes[%d].doses[%d]", i, j), "%s", err)
			}
		}
	}
	cup := b.Cup(plastisol, shelf)
	return cup.Check(shelf)
}

// Drift is how far the batch's cup is predicted to lie from its recipe's, for what really went in.
func Drift(is, was *Cup, shelf Shelf, at Condition) (colour.Difference, error) {
	is1, err := Stir(is, shelf)
	if err != nil {
		return colour.Difference{}, err
	}
	was1, err := Stir(was, shelf)
	if err != nil {
		return colour.Difference{}, err
	}
	return colour.Compare(is1.Colour(at), was1.Colour(at)), nil
}
