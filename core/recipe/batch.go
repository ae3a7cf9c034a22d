package recipe

import (
	"fmt"
	"slices"
	"time"

	"cloudburst/core/colour"
	"cloudburst/core/measure"
)

// Batch is a test batch: what really went into a cup poured from a recipe, and how it turned out.
type Batch struct {
	PouredOn    string         `json:"pouredOn" format:"date" doc:"Day of the pour, YYYY-MM-DD"`
	Volume      measure.Volume `json:"volume"`
	Goes        []Go           `json:"goes" nullable:"false" maxItems:"30" doc:"What went in, go by go"`
	Verdict     string         `json:"verdict" maxLength:"1000" doc:"In the maker's own words"`
	RestedHours float64        `json:"restedHours" minimum:"0" maximum:"87600" doc:"How long it had rested when it was judged"`
	Photo       string         `json:"photo,omitempty" maxLength:"64" doc:"uid of a photo"`
}

// Go is one round of dripping: some drops of some bottles, then a look.
type Go struct {
	Doses []Dose `json:"doses" nullable:"false" maxItems:"60"`
}

// Sum adds the goes up, bottle by bottle, in the order in which each first went in.
func Sum(goes []Go) []Dose {
	var sum []Dose
	for _, g := range goes {
		for _, d := range g.Doses {
			at := slices.IndexFunc(sum, func(s Dose) bool { return s.Material == d.Material })
			if at < 0 {
				sum = append(sum, d)
				continue
			}
			sum[at].Drops += d.Drops
		}
	}
	for i := range sum {
		sum[i].Typed = measure.Drops(sum[i].Drops)
	}
	return sum
}

// Cup is what was in the batch's cup in the end, of the recipe's plastisol.
func (b *Batch) Cup(plastisol string) Cup {
	return Cup{Volume: b.Volume, Plastisol: plastisol, Doses: Sum(b.Goes)}
}

// Check says what is wrong with a batch.
func (b *Batch) Check(plastisol string, shelf Shelf) error {
	if _, err := time.Parse(time.DateOnly, b.PouredOn); err != nil {
		return fault("pouredOn", "%q is no day; write it as 2026-03-31", b.PouredOn)
	}
	if err := b.Volume.Check(); err != nil {
		return &Fault{"volume", err.Error()}
	}
	if len(b.Goes) > 30 {
		return fault("goes", "a batch has up to 30 goes of drops; this has %d", len(b.Goes))
	}
	if len(b.Verdict) > 1000 {
		return fault("verdict", "a verdict can have 1,000 letters; this has %d", len(b.Verdict))
	}
	if !(b.RestedHours >= 0 && b.RestedHours <= 87600) {
		return fault("restedHours", "hours of rest from 0 (hot from the mold) to ten years are accepted")
	}
	for i, g := range b.Goes {
		if len(g.Doses) == 0 {
			return fault(fmt.Sprintf("goes[%d]", i), "nothing went in at go %d; leave it out", i+1)
		}
		for j, d := range g.Doses {
			if !(d.Drops >= 0) {
				return fault(fmt.Sprintf("goes[%d].doses[%d]", i, j), "a go adds drops: 0 or more")
			}
		}
	}
	cup := b.Cup(plastisol)
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
