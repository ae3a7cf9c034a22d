package project

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"cloudburst/core/cup"
	"cloudburst/core/learn"
	"cloudburst/core/match"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// Attempt is a batch of a part.
type Attempt struct {
	Cup      cup.Cup // what went in
	Unknown  bool    // nobody knows that
	LeftML   float64 // of its plastic, in the cup; 0 for nothing
	Standing Standing
	Called   string // how it is called in a sentence
}

// LastKnown is the latest batch of which is known what went in; nil for none.
func LastKnown(tried []Attempt) *Attempt {
	for i := len(tried) - 1; i >= 0; i-- {
		if !tried[i].Unknown {
			return &tried[i]
		}
	}
	return nil
}

// Advice is what to do about a part.
type Advice struct {
	Enough bool     `json:"enough"`
	Says   string   `json:"says"`
	Steps  []Onward `json:"steps" nullable:"false" doc:"The one to take first comes first"`
}

// Onward is one way to go on.
type Onward struct {
	match.Correction
	R80 float64 `json:"r80" doc:"ΔE00 within which it comes out as predicted, in four cases of five"`
}

// mostSteps are shown.
const mostSteps = 5

// Next says what to do about a part after what was tried, the latest last. l is what batches have taught of the
// bottles.
func (p *Project) Next(ctx context.Context, part *Sought, tried []Attempt, b *AtHand) (*Advice, error) {
	w, left, err := p.wish(part, tried, b)
	if err != nil {
		return nil, err
	}
	var cups []cup.Cup
	standings := make([]Standing, len(tried))
	for i := range tried {
		standings[i] = tried[i].Standing
		if !tried[i].Unknown {
			cups = append(cups, tried[i].Cup)
		}
	}
	steps, err := b.Learnt.Next(ctx, w, b.Shelf, b.Kit, cups, p.Volume)
	if err != nil {
		return nil, err
	}
	out := &Advice{Steps: []Onward{}}
	taught := b.Learnt.Shelf(b.Shelf)
	for i := range steps {
		s := &steps[i]
		if len(out.Steps) == mostSteps {
			break
		}
		fresh := s.Kind == "fresh"
		there := slices.ContainsFunc(out.Steps, func(o Onward) bool { return o.Cup.Same(&s.Cup) })
		if !left && !fresh || fresh && s.Cup.Volume.ML != p.Volume.ML || there {
			continue
		}
		one := Onward{Correction: *s}
		if one.R80, err = sure(b.Learnt, &s.Cup, w.Readings); err != nil {
			return nil, err
		}
		if fresh && s.Says == "" {
			one.Says = saysFresh(s, cups, taught)
		}
		out.Steps = append(out.Steps, one)
	}
	sayOrder(out.Steps)
	best := Best(standings)
	out.Enough = best >= 0 && standings[best].Enough
	out.Says = part.says(tried, standings, best, len(out.Steps))
	return out, nil
}

// plainly is by how much ΔE00 two steps have to differ for anyone to ask why the farther one comes first.
const plainly = 0.5

// sayOrder says why a step stands before one that is predicted to come nearer, and is less sure.
func sayOrder(steps []Onward) {
	for i := range steps {
		s := &steps[i]
		if slices.ContainsFunc(steps[i+1:], func(o Onward) bool {
			return o.DeltaE00 < s.DeltaE00-plainly && o.R80 > s.R80
		}) {
			s.Says = strings.TrimSpace(s.Says + " Surer than the nearer ones below: likely the better bet.")
		}
	}
}

// AtHand is what a step is worked out with.
type AtHand struct {
	Learnt *learn.Learnt // what batches have taught of the bottles
	Owned  []match.Owned
	Shelf  cup.Shelf // by its bottles' own figures
	Kit    measure.Kit
}

// wish is what is asked for a part: on top of what is left of the last cup, or else beginning anew.
func (p *Project) wish(part *Sought, tried []Attempt, b *AtHand) (w match.Wish, left bool, err error) {
	w = match.Wish{Cup: cup.Cup{Volume: p.Volume, Plastisol: p.Plastisol}, Most: p.Most}
	for i := range part.Targets {
		w.Readings = append(w.Readings, match.Targets(&part.Targets[i]))
	}
	if last := LastKnown(tried); last != nil {
		w.Cup.Plastisol = last.Cup.Plastisol
		if left = last.LeftML > 0; left {
			if w.Cup, err = leftOf(last, b.Shelf); err != nil {
				return w, left, err
			}
		} else { // what is no colour goes in again
			for _, d := range cup.Times(last.Cup.Doses, p.Volume.ML/last.Cup.Volume.ML) {
				if m := b.Shelf[d.Material]; m.Colourant == nil && m.Powder == nil {
					w.Cup.Doses = append(w.Cup.Doses, d)
				}
			}
		}
	}
	return w, left, w.From(b.Owned, &p.Allow, true)
}

// says is how a part stands after what was tried; best is the nearest of it, -1 for none that was read, and steps lead
// on.
func (p *Sought) says(tried []Attempt, standings []Standing, best, steps int) string {
	if best >= 0 && standings[best].Enough {
		line := "the line"
		if p.OfBag() {
			line = "the bag's own spread"
		}
		return fmt.Sprintf(
			"Good enough: ΔE00 %s is inside %s of %s with %s. Save it as a recipe, or leave it at that.",
			measure.Number(standings[best].DeltaE00, 1), line, measure.Number(p.Stop(), 1), tried[best].Called,
		)
	}
	switch {
	case steps == 0:
		return "Nothing that is allowed comes nearer. Let more bottles in."
	case len(tried) == 0:
		return "Nothing was poured yet. Begin with the first of these."
	case best < 0:
		return "What was poured was not read yet: read it first, then each of these gets surer."
	}
	return fmt.Sprintf(
		"The nearest so far is %s, ΔE00 %s; the line is at %s.", tried[best].Called,
		measure.Number(standings[best].DeltaE00, 1), measure.Number(p.Stop(), 1),
	)
}

// leftOf is what is left in the cup of a batch.
func leftOf(t *Attempt, shelf cup.Shelf) (cup.Cup, error) {
	all, err := t.Cup.FinishedML(shelf)
	if err != nil {
		return cup.Cup{}, err
	}
	share := min(1, t.LeftML/all)
	c := t.Cup
	c.Volume = measure.Volume{ML: t.Cup.Volume.ML * share}
	c.Volume.Typed = measure.Number(c.Volume.ML, 0) + " ml"
	c.Doses = cup.Times(t.Cup.Doses, share)
	return c, nil
}

// sure is how far what is read of a cup may come out otherwise, over all readings: each with the device that read the
// reference.
func sure(l *learn.Learnt, c *cup.Cup, readings []match.Reading) (float64, error) {
	ats, devices := make([]mix.Condition, len(readings)), make([]string, len(readings))
	for i := range readings {
		ats[i], devices[i] = readings[i].At, readings[i].Device
	}
	all, err := l.Read(c, ats, devices)
	if err != nil {
		return 0, err
	}
	sum := 0.0
	for _, s := range all {
		sum += s.R80 * s.R80
	}
	return math.Sqrt(sum / float64(len(all))), nil
}

// saysFresh says how a fresh cup differs from those before it.
func saysFresh(s *match.Correction, tried []cup.Cup, shelf cup.Shelf) string {
	if len(tried) == 0 {
		return "A first cup."
	}
	last := tried[len(tried)-1]
	if last.Volume.ML != s.Cup.Volume.ML { // as much of it
		last.Doses = cup.Times(last.Doses, s.Cup.Volume.ML/last.Volume.ML)
		last.Volume = s.Cup.Volume
	}
	changed := cup.Changed(&last, &s.Cup, shelf)
	if len(changed) == 0 {
		return "The same cup once more: it is likely to come nearer than it did."
	}
	return "A fresh cup; beside the last one: " + strings.Join(changed, ", ") + "."
}

// Price is what is in a cup, as far as prices are known.
func Price(c *cup.Cup, owned []match.Owned) float64 {
	sum := 0.0
	for _, o := range owned {
		per := o.Stock.PerUnit()
		if o.Material.UID == c.Plastisol {
			sum += per * c.Volume.ML
		}
		for _, d := range c.Doses {
			if d.Material != o.Material.UID {
				continue
			}
			ml, g, err := o.Material.Take(d.Amount)
			switch {
			case err != nil:
			case o.Material.Form() == measure.Liquid:
				sum += per * ml
			default:
				sum += per * g
			}
		}
	}
	return sum
}
