package recipe

import (
	"fmt"
	"time"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// Batch is a test batch: what really went into a cup poured from a recipe, and how it turned out.
type Batch struct {
	PouredOn    string         `json:"pouredOn" format:"date" doc:"Day of the pour, YYYY-MM-DD"`
	Volume      measure.Volume `json:"volume"`
	Additions   []cup.Addition `json:"additions" nullable:"false" maxItems:"30" doc:"What went in, addition by addition"`
	Verdict     string         `json:"verdict" maxLength:"1000" doc:"In the maker's own words"`
	RestedHours float64        `json:"restedHours" minimum:"0" maximum:"87600" doc:"How long it had rested when it was judged"`
	Photo       string         `json:"photo,omitempty" maxLength:"64" format:"uid" doc:"uid of a photo"`
	Plastisol   string         `json:"plastisol" maxLength:"64" format:"uid"`
	Outcome     Outcome        `json:"outcome"`
}

// Cup is what was in the batch's cup in the end.
func (b *Batch) Cup(shelf cup.Shelf) cup.Cup {
	return cup.Cup{Volume: b.Volume, Plastisol: b.Plastisol, Doses: cup.Sum(b.Additions, shelf)}
}

// Check says what is wrong with a batch.
func (b *Batch) Check(shelf cup.Shelf) error {
	if _, err := time.Parse(time.DateOnly, b.PouredOn); err != nil {
		return measure.Faulty("pouredOn", "%q is no day; write it as 2026-03-31", b.PouredOn)
	}
	if err := b.Volume.Check(); err != nil {
		return &measure.Fault{Field: "volume", Says: err.Error()}
	}
	if len(b.Additions) > 30 {
		return measure.Faulty("additions", "a batch has up to 30 additions; this has %d", len(b.Additions))
	}
	if len(b.Verdict) > 1000 {
		return measure.Faulty("verdict", "a verdict can have 1,000 letters; this has %d", len(b.Verdict))
	}
	if err := measure.CheckNote("verdict", b.Verdict); err != nil {
		return err
	}
	if !(b.RestedHours >= 0 && b.RestedHours <= 87600) {
		return measure.Faulty("rested", "hours of rest from 0 (hot from the mold) to ten years are accepted")
	}
	for i, g := range b.Additions {
		if len(g.Doses) == 0 {
			return measure.Faulty(fmt.Sprintf("additions[%d]", i), "nothing went in by addition %d; leave it out", i+1)
		}
		for j, d := range g.Doses {
			m, ok := shelf[d.Material]
			if !ok {
				return measure.Faulty(
					fmt.Sprintf("additions[%d].doses[%d]", i, j), "nothing on the shelf has the uid %q", d.Material,
				)
			}
			if _, _, err := m.Take(d.Amount); err != nil {
				return measure.Faulty(fmt.Sprintf("additions[%d].doses[%d]", i, j), "%s", err)
			}
		}
	}
	if err := b.Outcome.Check(); err != nil {
		return err
	}
	cup := b.Cup(shelf)
	return cup.Check(shelf)
}

// Drift is how far the batch's cup is predicted to lie from its recipe's, for what really went in.
func Drift(is, was *cup.Cup, shelf cup.Shelf, at mix.Condition) (colour.Difference, error) {
	is1, err := mix.Stir(is, shelf)
	if err != nil {
		return colour.Difference{}, err
	}
	was1, err := mix.Stir(was, shelf)
	if err != nil {
		return colour.Difference{}, err
	}
	return colour.Compare(is1.Colour(at), was1.Colour(at)), nil
}
