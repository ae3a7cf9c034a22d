package recipe

import (
	"cloudburst/core/measure"
)

// Timed is a step with the time at which it was taken, and the cup after it.
type Timed struct {
	Step  Step  `json:"step"`
	AtMS  int64 `json:"atMS"`
	After Cup   `json:"after"`
}

// PauseMS is how long nothing is added before a new go begins.
const PauseMS = 20_000

// Goes sorts the additions of a cup into goes: a pause, or anything that is no addition, ends one. What was typed as a
// dose is the difference to what was there. before is the cup before the first step.
func Goes(before Cup, steps []Timed) []Go {
	var goes []Go
	var open *Go
	var last int64
	was := before
	for _, t := range steps {
		earlier := was
		was = t.After
		if t.Step.Kind != Drip && t.Step.Kind != Add && t.Step.Kind != SetDose {
			open = nil
			continue
		}
		now, then := amountOf(&was, t.Step.Material), amountOf(&earlier, t.Step.Material)
		if now.Unit != then.Unit {
			then = measure.Amount{Unit: now.Unit}
		}
		more := measure.Amount{Value: now.Value - then.Value, Unit: now.Unit}
		if now.Estimated() {
			more.Low, more.High = max(0, now.Low-then.Value), now.High-then.Value
		}
		if open == nil || t.AtMS-last > PauseMS {
			goes = append(goes, Go{})
			open = &goes[len(goes)-1]
		}
		last = t.AtMS
		open.add(t.Step.Material, more)
	}
	out := []Go{}
	for _, g := range goes {
		if g.tidy(); len(g.Doses) > 0 {
			out = append(out, g)
		}
	}
	return out
}

func amountOf(c *Cup, uid string) measure.Amount {
	for _, d := range c.Doses {
		if d.Material == uid {
			return d.Amount
		}
	}
	return measure.Amount{}
}

func (g *Go) add(uid string, a measure.Amount) {
	for i := range g.Doses {
		if g.Doses[i].Material == uid {
			if sum, ok := g.Doses[i].Amount.Plus(a); ok {
				g.Doses[i].Amount = sum
			}
			return
		}
	}
	g.Doses = append(g.Doses, Dose{Material: uid, Amount: a})
}

// tidy drops what was taken back within the go, and words the rest.
func (g *Go) tidy() {
	var kept []Dose
	for _, d := range g.Doses {
		if d.Amount.Value > 0 {
			d.Typed = d.Amount.String()
			kept = append(kept, d)
		}
	}
	g.Doses = kept
}
