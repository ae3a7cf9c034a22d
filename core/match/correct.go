package match

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"cloudburst/core/colour"
	"cloudburst/core/measure"
	"cloudburst/core/recipe"
)

// Correction is what may be done with a cup that is not right yet. Nothing is ever taken out of it.
type Correction struct {
	Kind     string        `json:"kind" enum:"leave,add,clear,fresh"`
	Adds     []recipe.Dose `json:"adds" nullable:"false" doc:"What goes in, colour by colour"`
	ClearML  float64       `json:"clearML" doc:"Clear plastisol that goes in before"`
	MakesML  float64       `json:"makesML" doc:"Finished plastic after it"`
	WastesML float64       `json:"wastesML" doc:"Plastic that nobody asked for: more than the cup was, or the cup that is given up"`
	Says     string        `json:"says"`
	Candidate
}

// Corrected are the ways out, the one to take first.
type Corrected struct {
	Now     Candidate    `json:"now" doc:"The cup as it stands"`
	Options []Correction `json:"options" nullable:"false"`
}

// How corrections are weighed.
const (
	clearMost  = 2.0 // times the cup's volume
	clearSteps = 24  // tried of that
	gains      = 0.1 // ΔE00 that an addition must bring to be proposed
	alikeOff   = 0.5 // ΔE00 within which two ways out count as equally good
	newBottle  = 0.3 // ΔE00 that a bottle must bring that is not in the cup yet
)

// Correct works out what to do with a cup: w.Cup is what is in it now, of which w.Cup.Volume is left.
func Correct(ctx context.Context, w *Wish, shelf recipe.Shelf, kit measure.Kit) (*Corrected, error) {
	p, err := newProblem(w, shelf, kit)
	if err != nil {
		return nil, err
	}
	out := &Corrected{Options: []Correction{}}
	s := p.solver()
	if out.Now, err = p.candidate(s, w, found{glow: s.leftOut(nil, nil)}); err != nil {
		return nil, err
	}
	now := out.Now.DeltaE00
	all, err := p.search(ctx, w.Most, nil)
	if err != nil {
		return nil, err
	}
	add, err := p.bestAddition(ctx, w, all)
	if err != nil {
		return nil, err
	}
	if add != nil && add.DeltaE00 < now-gains {
		c := Correction{Kind: "add", Adds: p.adds(&add.f), MakesML: p.finished(&add.f), Candidate: *add}
		c.Says = fmt.Sprintf("Add %s: ΔE00 %s becomes %s.", say(c.Adds, shelf), measure.Number(now, 1), measure.Number(c.DeltaE00, 1))
		out.Options = append(out.Options, c)
	}
	reached := now
	if len(out.Options) > 0 {
		reached = out.Options[0].DeltaE00
	}
	if reached > alikeOff {
		clear, err := p.withClear(ctx, w, all, reached)
		if err != nil {
			return nil, err
		}
		fresh, err := freshCup(ctx, w, shelf, kit, reached)
		if err != nil {
			return nil, err
		}
		ways := []*Correction{clear, fresh}
		if clear != nil && fresh != nil && better(fresh, clear) {
			ways = []*Correction{fresh, clear}
		}
		var first []Correction
		for _, c := range ways {
			if c != nil {
				c.Says += fmt.Sprintf(" ΔE00 %s becomes %s; %s ml more than was asked for.", measure.Number(now, 1), measure.Number(c.DeltaE00, 1), measure.Number(c.WastesML, 0))
				if c.Kind == "fresh" {
					c.Says = strings.Replace(c.Says, " more than was asked for", " are given up", 1)
				}
				first = append(first, *c)
			}
		}
		// More plastic, or a new cup, comes before an addition only if it brings what anyone can see.
		if len(first) > 0 && first[0].DeltaE00 < reached-1 {
			out.Options = append(first, out.Options...)
		} else {
			out.Options = append(out.Options, first...)
		}
	}
	leave := Correction{Kind: "leave", Adds: []recipe.Dose{}, MakesML: p.base.FinishedML, Candidate: out.Now, Says: "Leave it: ΔE00 " + measure.Number(now, 1) + ", and nothing that is allowed brings it nearer."}
	if len(out.Options) > 0 {
		leave.Says = "Leave it as it is: ΔE00 " + measure.Number(now, 1) + "."
	}
	out.Options = append(out.Options, leave)
	return out, nil
}

// better says whether one way out is to be preferred: the nearer, or of those that are alike the one that wastes less.
func better(a, b *Correction) bool {
	if math.Abs(a.DeltaE00-b.DeltaE00) > alikeOff {
		return a.DeltaE00 < b.DeltaE00
	}
	return a.WastesML < b.WastesML
}

// bestAddition is the nearest of the measurable additions; a bottle that is not in the cup yet must be worth opening.
func (p *problem) bestAddition(ctx context.Context, w *Wish, all *pool) (*Candidate, error) {
	nearest := all.nearest(exactOf)
	list := make([]Candidate, len(nearest))
	errs := make([]error, len(nearest))
	if err := parallel(ctx, p, len(nearest), func(s *solver, i int) { list[i], errs[i] = p.candidate(s, w, nearest[i]) }); err != nil {
		return nil, err
	}
	var best *Candidate
	least := math.Inf(1)
	for i := range list {
		if errs[i] != nil {
			return nil, errs[i]
		}
		worth := list[i].DeltaE00
		for _, b := range p.of(list[i].f.bottles()) {
			worth += newBottle / 10
			if !slices.ContainsFunc(p.cup.Doses, func(d recipe.Dose) bool { return d.Material == b.m.UID && d.Amount.Value > 0 }) {
				worth += newBottle
			}
		}
		if worth < least {
			least, best = worth, &list[i]
		}
	}
	return best, nil
}

// adds are the doses of a set, as they go in now.
func (p *problem) adds(f *found) []recipe.Dose {
	out := []recipe.Dose{}
	for j, b := range p.of(f.bottles()) {
		a := b.amount(f.x[j])
		out = append(out, recipe.Dose{Material: b.m.UID, Typed: a.String(), Amount: a})
	}
	return out
}

func (p *problem) finished(f *found) float64 {
	more := 1.0
	for j, b := range p.of(f.bottles()) {
		more += f.x[j] * b.share
	}
	return p.base.FinishedML * more
}

func say(adds []recipe.Dose, shelf recipe.Shelf) string {
	var out []string
	for _, d := range adds {
		out = append(out, d.Amount.String()+" of "+shelf[d.Material].Name)
	}
	if len(out) == 0 {
		return "no colour"
	}
	return strings.Join(out, ", ")
}

// withClear finds the least clear plastisol that brings an overshot cup back: the sets that came nearest, in cups that were made larger
// step by step. It is nil where that brings nothing.
func (p *problem) withClear(ctx context.Context, w *Wish, all *pool, reached float64) (*Correction, error) {
	ml := func(i int) float64 {
		step := w.Cup.Volume.ML * clearMost / clearSteps
		round := 1.0
		if step >= 5 {
			round = 5
		}
		return math.Ceil(float64(i)*step/round) * round
	}
	sets := append([]found{{}}, all.best(0, exactOf)...)
	costs := make([]float64, clearSteps+1)
	errs := make([]error, clearSteps+1)
	cups := make([]*Correction, clearSteps+1)
	err := parallel(ctx, p, clearSteps, func(_ *solver, i int) {
		i++
		costs[i] = math.Inf(1)
		larger := *w
		larger.Cup.Volume = measure.Volume{ML: w.Cup.Volume.ML + ml(i)}
		larger.Cup.Volume.Typed = measure.Number(larger.Cup.Volume.ML, 1) + " ml"
		q, err := newProblem(&larger, p.shelf, p.kit)
		if err != nil {
			errs[i] = err
			return
		}
		s := q.solver()
		best := found{cost: math.Inf(1)}
		for _, f := range sets {
			if f.n == 0 {
				f.glow = s.leftOut(nil, nil)
				s.offsets = f.glow
				f.cost = s.cost(nil, nil)
				s.offsets = nil
			} else {
				for j := range f.n {
					f.x[j] = max(f.x[j], 0.5)
				}
				s.fit(&f, fullLooks+2)
				if f.n == 0 {
					continue
				}
				list := s.roundOf(&f)
				if len(list) == 0 {
					continue
				}
				f = list[0]
			}
			if f.cost < best.cost {
				best = f
			}
		}
		c, err := q.candidate(s, &larger, best)
		if err != nil {
			errs[i] = err
			return
		}
		costs[i] = c.DeltaE00
		cups[i] = &Correction{Kind: "clear", Adds: q.adds(&best), ClearML: ml(i), MakesML: q.finished(&best), WastesML: ml(i), Candidate: c}
	})
	if err != nil {
		return nil, err
	}
	least := math.Inf(1)
	for i := 1; i <= clearSteps; i++ {
		if errs[i] != nil {
			return nil, errs[i]
		}
		least = min(least, costs[i])
	}
	if least > reached-alikeOff {
		return nil, nil
	}
	for i := 1; i <= clearSteps; i++ {
		if costs[i] <= least+alikeOff/2 {
			c := cups[i]
			c.Says = fmt.Sprintf("Stir in %s ml of clear plastisol, then add %s: it makes %s ml.", measure.Number(c.ClearML, 0), say(c.Adds, p.shelf), measure.Number(c.MakesML, 0))
			if len(c.Adds) == 0 {
				c.Says = fmt.Sprintf("Stir in %s ml of clear plastisol: it makes %s ml.", measure.Number(c.ClearML, 0), measure.Number(c.MakesML, 0))
			}
			return c, nil
		}
	}
	return nil, nil
}

// freshCup starts again: the same volume, with what colours nothing still in it. It is nil where that brings nothing.
func freshCup(ctx context.Context, w *Wish, shelf recipe.Shelf, kit measure.Kit, reached float64) (*Correction, error) {
	anew := *w
	anew.Cup.Doses = slices.DeleteFunc(slices.Clone(w.Cup.Doses), func(d recipe.Dose) bool {
		m := shelf[d.Material]
		return m.Colourant != nil || m.Powder != nil
	})
	p, err := newProblem(&anew, shelf, kit)
	if err != nil {
		return nil, err
	}
	all, err := p.search(ctx, w.Most, nil)
	if err != nil {
		return nil, err
	}
	list, err := p.ranked(ctx, &anew, all)
	if err != nil || len(list) == 0 || list[0].DeltaE00 > reached-alikeOff {
		return nil, err
	}
	c := &Correction{Kind: "fresh", Adds: p.adds(&list[0].f), MakesML: p.finished(&list[0].f), WastesML: w.Cup.Volume.ML, Candidate: list[0]}
	c.Says = fmt.Sprintf("Start again with %s of plastisol and %s.", anew.Cup.Volume, say(c.Adds, shelf))
	return c, nil
}

// Targets turns a cup's own target into a reading.
func Targets(t *recipe.Target) Reading {
	state := t.State
	if state == "" {
		state = recipe.Rested
	}
	return Reading{
		Name: t.Name, Lab: t.Lab, Weight: 1, Enough: t.GoodEnough, Off: t.Error,
		At: recipe.Condition{ThicknessMM: t.ThicknessMM, Ground: t.Ground, Light: colour.D65, State: state},
	}
}
