package plan

import (
	"math"

	"cloudburst/core/measure"
)

// Most is the most baits of a job's mold that so much plastic gives, cooked at once, and the plan for them; nil where
// it is not enough for one.
func Most(j *Job, availableColdML float64, kit measure.Kit) (*Plan, error) {
	one := *j
	one.Molds = append([]Mold{}, j.Molds[:1]...)
	try := func(n int) *Plan {
		one.Molds[0].Count = n
		p, err := Make(&one, kit)
		if err != nil {
			return nil
		}
		for i := range p.Shots {
			if p.Shots[i].Cooks > 1 {
				return nil
			}
		}
		if p.Balance.InML > availableColdML+fits {
			return nil
		}
		return p
	}
	one.Molds[0].Count = 1
	if err := one.Check(); err != nil {
		return nil, err
	}
	low, high := 0, 1
	for high <= mostBaits && try(high) != nil {
		low, high = high, 2*high
	}
	for high = min(high, mostBaits+1); high-low > 1; {
		if mid := (low + high) / 2; try(mid) != nil {
			low = mid
		} else {
			high = mid
		}
	}
	if low == 0 {
		return nil, nil
	}
	return try(low), nil
}

// HalfShot is a cup of which some was shot and some came back as sprues, and what puts it right.
type HalfShot struct {
	InCupML float64
	Share   float64 // of the full cup
	OutML   float64
}

// AfterShot is a cup after a shot.
func AfterShot(cupML, shotML, returnedML float64) HalfShot {
	in := cupML - shotML + returnedML
	return HalfShot{InCupML: in, Share: in / cupML, OutML: shotML - returnedML}
}

// Correction is a correction of the full cup for what is in it now: whole drops, and how far that is off.
func (h *HalfShot) Correction(drops float64) (whole, offDrops float64) {
	exact := drops * h.Share
	whole, _ = wholeDrops(exact)
	return whole, whole - exact
}

// Shortfall is what came of a plan of which some baits were not filled.
type Shortfall struct {
	Good, Short          int     // baits that are good, and how many are lacking
	SpoiledML, NotShotML float64 // cold, of the baits that were not filled
	LeftoverML           float64 // all that can be melted again
	Again                *Plan   // for what is lacking; nil where nothing is
	FromLeftoverML       float64
	FreshML              float64
}

// After says what is lacking when some baits of a plan of one mold held only a share of their plastic, and plans them
// anew. Extra baits of the last fill count.
func (p *Plan) After(
	j *Job, shortFilled int, share float64, again Job, useLeftovers bool, kit measure.Kit,
) (*Shortfall, error) {
	if shortFilled < 0 || shortFilled > p.BaitsMade || !(share >= 0 && share <= 1) {
		return nil, measure.Faulty("spoiled", "from none to all %d baits can be spoiled", p.BaitsMade)
	}
	one := 0.0
	for i := range j.Shots {
		for k := range j.Shots[i].Parts {
			one += j.Shots[i].Parts[k].KeptML[j.Molds[0].Name] * p.ColdPerML
		}
	}
	n := float64(shortFilled)
	out := &Shortfall{Good: p.BaitsMade - shortFilled, SpoiledML: n * share * one, NotShotML: n * (1 - share) * one}
	out.Short = max(0, j.Molds[0].Count-out.Good)
	out.LeftoverML = p.Balance.LeftoversML() + out.SpoiledML + out.NotShotML
	if out.Short == 0 {
		return out, nil
	}
	again.Molds = append([]Mold{}, j.Molds[:1]...)
	again.Molds[0].Count = out.Short
	var err error
	if out.Again, err = Make(&again, kit); err != nil {
		return nil, err
	}
	if useLeftovers {
		out.FromLeftoverML = math.Min(out.LeftoverML, out.Again.Balance.InML)
	}
	out.FreshML = out.Again.Balance.InML - out.FromLeftoverML
	return out, nil
}
