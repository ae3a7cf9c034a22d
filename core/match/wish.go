package match

import (
	"fmt"
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// Reading is a colour that the mix is to have, and how it was seen.
type Reading struct {
	Name     string                        `json:"name" maxLength:"80"`
	Lab      colour.Lab                    `json:"lab"`
	At       mix.Condition                 `json:"-"`
	Weight   float64                       `json:"weight" doc:"1 for an ordinary one"`
	Between  bool                          `json:"between" doc:"Read between the pieces of flake, so that their own colour does not count"`
	Enough   float64                       `json:"enough" doc:"ΔE00 below which a difference does not matter; 0 where nobody knows"`
	Off      float64                       `json:"off" doc:"ΔE00 by which the reading itself may be off; 0 for an exact one"`
	Device   string                        `json:"-"` // readings of one device are off together; empty where this one stands alone
	exact    func(mix *mix.Mix) colour.Lab // in a stack, with the other layers as they are; nil for an even piece
	stacked  bool                          // other layers lie behind it
	onlyDark bool                          // only its lightness counts: a wished see-through
}

// SeeThrough is how much light a piece is wished to let through.
type SeeThrough struct {
	Share       float64 `json:"share" minimum:"0" maximum:"1"`
	ThicknessMM float64 `json:"thicknessMM" minimum:"0.05" maximum:"100"`
}

// Wish is what is asked: readings to meet with what is allowed, on top of what a cup holds already.
type Wish struct {
	Cup        cup.Cup     // volume, plastisol, and what is in it and stays
	Readings   []Reading   // of one even piece each
	Allowed    []string    // uids of colourants and powders
	Most       int         // bottles besides what is in the cup
	SeeThrough *SeeThrough // where wished
	PriceOf    func(uid string) float64
	Plain      bool // what is lacking is not asked
	// Unsure says how far each reading of a cup may come out otherwise, ΔE00, one standard deviation, where more is
	// known of the bottles than where their figures come from. Then what is surer is ranked before what is not.
	Unsure func(c *cup.Cup, readings []Reading) []float64
}

// Limits of a wish.
const (
	MaxReadings = 24
	MaxAllowed  = 200
	MostBottles = 6
)

// Check says what is wrong with a wish, in words that say what to do about it.
func (w *Wish) Check(shelf cup.Shelf) error {
	if err := w.Cup.Check(shelf); err != nil {
		return err
	}
	switch {
	case len(w.Readings) == 0:
		return measure.Faulty(
			"readings",
			"there is nothing to match yet: pin a spot on the reference, or give it a reading by words or by an instrument",
		)
	case len(w.Readings) > MaxReadings:
		return measure.Faulty(
			"readings", "up to %d readings are matched at once; these are %d. Leave some aside", MaxReadings,
			len(w.Readings),
		)
	case len(w.Allowed) == 0:
		return measure.Faulty(
			"allowed", "no bottle is allowed: let some colourants or powders of the shelf in, or lift a filter",
		)
	case len(w.Allowed) > MaxAllowed:
		return measure.Faulty(
			"allowed", "up to %d bottles are searched at once; these are %d. Narrow it down", MaxAllowed,
			len(w.Allowed),
		)
	case w.Most < 1 || w.Most > MostBottles:
		return measure.Faulty("most", "from 1 to %d bottles in a recipe", MostBottles)
	}
	for i, r := range w.Readings {
		field := fmt.Sprintf("readings[%d]", i)
		if err := r.At.Check(); err != nil {
			return err
		}
		if !(r.Lab.L >= 0 && r.Lab.L <= 200 && math.Abs(r.Lab.A) <= 200 && math.Abs(r.Lab.B) <= 200) {
			return measure.Faulty(field, "L from 0 to 200, a and b from -200 to 200 are accepted")
		}
		if r.At.Water != "" {
			return measure.Faulty(field, "a reading is matched as it lies in air")
		}
		if !(r.Weight >= 0 && r.Weight <= 100) {
			return measure.Faulty(field, "a weight from 0 to 100 is accepted")
		}
	}
	if err := w.clash(); err != nil {
		return err
	}
	for _, uid := range w.Allowed {
		m, ok := shelf[uid]
		if !ok {
			return measure.Faulty("allowed", "nothing on the shelf has the uid %q", uid)
		}
		if m.Colourant == nil && m.Powder == nil {
			return measure.Faulty(
				"allowed", "%s is no colourant and no powder; flake is chosen from the count of a photo", m.Name,
			)
		}
	}
	if s := w.SeeThrough; s != nil {
		if !(s.Share >= 0 && s.Share <= 1) || !(s.ThicknessMM >= cup.MinThicknessMM &&
			s.ThicknessMM <= cup.MaxThicknessMM) {
			return measure.Faulty(
				"seeThrough", "a share from 0 to 100 %% at a thickness from %g to %g mm is accepted",
				cup.MinThicknessMM,
				float64(cup.MaxThicknessMM),
			)
		}
	}
	return nil
}

// clashFrom is how far apart two readings of one and the same spot may lie before they contradict each other.
const clashFrom = 10.0

// clash finds wishes that no plastic can meet together.
func (w *Wish) clash() error {
	for i, a := range w.Readings {
		for _, b := range w.Readings[:i] {
			if a.At == b.At && a.Between == b.Between && !a.stacked && !b.stacked && a.Weight > 0 && b.Weight > 0 {
				if d := colour.DeltaE00(a.Lab, b.Lab); d > clashFrom {
					return measure.Faulty("readings", "%s and %s were read at %s mm %s and lie ΔE00 %s apart: one plastic can't be both. Leave one aside, or say which part each belongs to",
						b.Name, a.Name, measure.Number(a.At.ThicknessMM, 1), a.At.Ground.Name(), measure.Number(d, 0))
				}
			}
		}
		s := w.SeeThrough
		if s == nil || a.At.Ground != optics.Against || a.Weight == 0 || a.stacked {
			continue
		}
		// A thicker piece lets no more light through.
		seen := a.Lab.XYZ(colour.XYZ{X: 1, Y: 1, Z: 1}).Y
		thicker := a.At.ThicknessMM >= s.ThicknessMM
		if (thicker && seen > s.Share*clashTimes+clashMore) || (!thicker && seen < (s.Share-clashMore)/clashTimes) {
			return measure.Faulty("seeThrough", "%s lets %s %% of the light through at %s mm; %s %% at %s mm contradicts it. Change the wish, or leave that reading aside",
				a.Name, measure.Number(100*seen, 0), measure.Number(a.At.ThicknessMM, 1), measure.Number(100*s.Share, 0), measure.Number(s.ThicknessMM, 1))
		}
	}
	return nil
}

// A wished share and one that was read may differ by so much before they are called a contradiction.
const (
	clashTimes = 1.3
	clashMore  = 0.03
)
