package match

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// Costs is what it costs besides its colour, in the ΔE00 that it must bring to be worth it.
func (c *Correction) Costs() float64 { return c.costs }

// Correction is what may be done with a cup that is not right yet. Nothing is ever taken out of it.
type Correction struct {
	Kind     string     `json:"kind" enum:"leave,add,clear,fresh"`
	Adds     []cup.Dose `json:"adds" nullable:"false" doc:"What goes in, colour by colour"`
	ClearML  float64    `json:"clearML" doc:"Clear plastisol that goes in before"`
	MakesML  float64    `json:"makesML" doc:"Finished plastic after it"`
	WastesML float64    `json:"wastesML" doc:"Plastic that nobody asked for: more than the cup was, or the cup that is given up"`
	Says     string     `json:"says"`
	Why      string     `json:"why,omitempty" doc:"Why it goes beyond a usual dose, where it does"`
	costs    float64    // besides its colour, in ΔE00
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
)

// What a way out costs besides its colour, in the ΔE00 that it must bring to be worth it. A maker does what is little,
// cheap and safe first, since nothing comes out of a cup again. Ours.
const (
	oneMoreBottle = 0.03 // to drip from one more
	newBottle     = 0.3  // to open one that is not in the cup yet
	bleedsNow     = 0.5  // to bring what bleeds into a cup that did not
	wholeUsual    = 0.5  // to add as much as a usual dose
	overUsual     = 1.5  // to go beyond a usual dose, and as much again for each doubling
	asMuchClear   = 1.0  // plastic that nobody asked for, as much as the cup
	clearAtAll    = 0.7  // to measure and heat it
	freshAtAll    = 1.0  // to begin again
)

// Correct works out what to do with a cup: w.Cup is what is in it now, of which w.Cup.Volume is left. The ways out come
// in the order in which a maker would try them: by how near they come, as far as the target is sure, and by what they
// cost.
func Correct(ctx context.Context, w *Wish, shelf cup.Shelf, kit measure.Kit) (*Corrected, error) {
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
	ways, err := p.additions(ctx, w, all, now)
	if err != nil {
		return nil, err
	}
	best := now
	for i := range ways {
		best = min(best, ways[i].DeltaE00+ways[i].costs)
	}
	if best > alikeOff {
		clear, err := p.withClear(ctx, w, all, now)
		if err != nil {
			return nil, err
		}
		reached := now
		if len(ways) > 0 {
			reached = ways[0].DeltaE00
		}
		fresh, err := freshCup(ctx, w, shelf, kit, reached)
		if err != nil {
			return nil, err
		}
		for _, c := range []*Correction{clear, fresh} {
			if c == nil {
				continue
			}
			c.Says += fmt.Sprintf(
				" ΔE00 %s becomes %s; %s ml more than was asked for.", measure.Number(now, 1),
				measure.Number(c.DeltaE00, 1),
				measure.Number(c.WastesML, 0),
			)
			if c.Kind == "fresh" {
				c.Says = strings.Replace(c.Says, " more than was asked for", " are given up", 1)
			}
			ways = append(ways, *c)
		}
	}
	byWorth := func(a, b Correction) int {
		return cmp.Compare(expected(a.Likely(), p.off)+a.costs, expected(b.Likely(), p.off)+b.costs)
	}
	slices.SortStableFunc(ways, byWorth)
	out.Options = append(out.Options, ways...)
	leave := Correction{
		Kind: "leave", Adds: []cup.Dose{}, MakesML: p.base.FinishedML, Candidate: out.Now,
		Says: "Leave it: ΔE00 " + measure.Number(now, 1) + ", and nothing that is allowed brings it nearer.",
	}
	if len(out.Options) > 0 {
		leave.Says = "Leave it as it is: ΔE00 " + measure.Number(now, 1) + "."
	}
	out.Options = append(out.Options, leave)
	return out, nil
}

// additions are the one that a maker would try, and the one that comes nearest where that is visibly nearer; none where
// none helps.
func (p *problem) additions(ctx context.Context, w *Wish, all *pool, now float64) ([]Correction, error) {
	likely := all.likely(exactOf)
	list := make([]Correction, len(likely))
	errs := make([]error, len(likely))
	if err := parallel(ctx, p, len(likely), func(s *solver, i int) {
		c := &list[i]
		if c.Candidate, errs[i] = p.candidate(s, w, likely[i]); errs[i] != nil {
			return
		}
		c.Kind, c.Adds, c.MakesML = "add", p.adds(&c.f), p.finished(&c.f)
		c.costs = p.burden(c.Adds, &c.Cup, w.Cup.Volume.ML)
	}); err != nil {
		return nil, err
	}
	if err := errors.Join(errs...); err != nil {
		return nil, err
	}
	list = slices.DeleteFunc(list, func(c Correction) bool { return c.DeltaE00 > now-gains })
	if len(list) == 0 {
		return nil, nil
	}
	tried := slices.MinFunc(list, func(a, b Correction) int {
		return cmp.Compare(expected(a.Likely(), p.off)+a.costs, expected(b.Likely(), p.off)+b.costs)
	})
	nearest := slices.MinFunc(list, func(a, b Correction) int { return cmp.Compare(a.DeltaE00, b.DeltaE00) })
	ways := []Correction{tried}
	if nearest.DeltaE00 < tried.DeltaE00-alikeOff {
		ways = append(ways, nearest)
	}
	for i := range ways {
		c := &ways[i]
		c.Says = fmt.Sprintf(
			"Add %s: ΔE00 %s becomes %s.", say(c.Adds, p.shelf), measure.Number(now, 1), measure.Number(c.DeltaE00, 1),
		)
		c.Why = p.beyond(c.Adds, &c.Cup)
	}
	return ways, nil
}

// burden is what additions to a cup of wasML cost besides their colour; after is the cup with them.
func (p *problem) burden(adds []cup.Dose, after *cup.Cup, wasML float64) float64 {
	sum := 0.0
	bled := slices.ContainsFunc(
		p.cup.Doses, func(d cup.Dose) bool { m := p.shelf[d.Material]; return m.Runs() && d.Amount.Value > 0 },
	)
	for _, d := range adds {
		m := p.shelf[d.Material]
		sum += oneMoreBottle + wholeUsual*cup.OverUsual(&m, d.Amount, wasML)
		if !slices.ContainsFunc(
			p.cup.Doses, func(in cup.Dose) bool { return in.Material == d.Material && in.Amount.Value > 0 },
		) {
			sum += newBottle
		}
		if m.Runs() && !bled {
			sum += bleedsNow
		}
		if over := p.over(d.Material, after); over > 1 {
			sum += overUsual * (1 + math.Log2(over))
		}
	}
	return sum
}

// over is how many times the most of its usual dose a material comes to in a cup.
func (p *problem) over(uid string, after *cup.Cup) float64 {
	m := p.shelf[uid]
	for _, d := range after.Doses {
		if d.Material == uid {
			return cup.OverUsual(&m, d.Amount, after.Volume.ML)
		}
	}
	return 0
}

// beyond says which additions go beyond a usual dose, and why they are shown all the same.
func (p *problem) beyond(adds []cup.Dose, after *cup.Cup) string {
	var out []string
	for _, d := range adds {
		if over := p.over(d.Material, after); over > 1.001 {
			m := p.shelf[d.Material]
			_, usual := m.Usual()
			out = append(out, fmt.Sprintf("%s a cup of %s", usual, m.Name))
		}
	}
	if len(out) == 0 {
		return ""
	}
	return "Beyond the usual " + strings.Join(out, " and ") + ": nothing milder that is allowed comes as near."
}

// adds are the doses of a set, as they go in now.
func (p *problem) adds(f *found) []cup.Dose {
	out := []cup.Dose{}
	for j, b := range p.of(f.bottles()) {
		a := b.amount(f.x[j])
		out = append(out, cup.Dose{Material: b.m.UID, Typed: a.String(), Amount: a})
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

func say(adds []cup.Dose, shelf cup.Shelf) string {
	var out []string
	for _, d := range adds {
		out = append(out, d.Amount.String()+" of "+shelf[d.Material].Name)
	}
	if len(out) == 0 {
		return "no colour"
	}
	return strings.Join(out, ", ")
}

// withClear finds the least clear plastisol that brings an overshot cup back: the sets that came nearest, in cups that
// were made larger step by step, and with no colour besides. It is nil where that brings nothing.
func (p *problem) withClear(ctx context.Context, w *Wish, all *pool, now float64) (*Correction, error) {
	ml := func(i int) float64 {
		step := w.Cup.Volume.ML * clearMost / clearSteps
		round := 1.0
		if step >= 5 {
			round = 5
		}
		return math.Ceil(float64(i)*step/round) * round
	}
	sets := slices.Concat(all.best(0, exactOf/2), all.best(1, exactOf/4), all.best(2, exactOf/4))
	errs := make([]error, clearSteps)
	cups := make([]*Correction, clearSteps)
	err := parallel(ctx, p, clearSteps, func(_ *solver, i int) { cups[i], errs[i] = p.thinned(w, sets, ml(i+1)) })
	if err != nil {
		return nil, err
	}
	if err := errors.Join(errs...); err != nil {
		return nil, err
	}
	var c *Correction
	for _, way := range cups {
		if way != nil && way.DeltaE00 < now-alikeOff && (c == nil || better(way, c, p.off)) {
			c = way
		}
	}
	if c == nil {
		return nil, nil
	}
	makes := measure.Number(c.MakesML, 0)
	c.Says = fmt.Sprintf(
		"Stir in %s ml of clear plastisol, then add %s: it makes %s ml.", measure.Number(c.ClearML, 0),
		say(c.Adds, p.shelf),
		makes,
	)
	if len(c.Adds) == 0 {
		c.Says = fmt.Sprintf("Stir in %s ml of clear plastisol: it makes %s ml.", measure.Number(c.ClearML, 0), makes)
	}
	c.Why = p.beyond(c.Adds, &c.Cup)
	return c, nil
}

// thinned is what comes of so much clear plastisol: nothing else added, or the best of sets.
func (p *problem) thinned(w *Wish, sets []found, clearML float64) (best *Correction, err error) {
	larger := *w
	larger.Cup.Volume = measure.Volume{ML: w.Cup.Volume.ML + clearML}
	larger.Cup.Volume.Typed = measure.Number(larger.Cup.Volume.ML, 1) + " ml"
	q, err := newProblem(&larger, p.shelf, p.kit)
	if err != nil {
		return nil, err
	}
	s := q.solver()
	ways := []found{{glow: s.leftOut(nil, nil)}}
	if f, ok := q.bestOnTop(s, sets, w.Cup.Volume.ML); ok {
		ways = append(ways, f)
	}
	for _, f := range ways {
		if f.n == 0 && f.cost > 0 {
			continue
		}
		c, err := q.candidate(s, &larger, f)
		if err != nil {
			return nil, err
		}
		way := &Correction{
			Kind: "clear", Adds: q.adds(&f), ClearML: clearML, MakesML: q.finished(&f), WastesML: clearML, Candidate: c,
		}
		way.costs = q.burden(way.Adds, &c.Cup, w.Cup.Volume.ML) + clearAtAll + asMuchClear*clearML/w.Cup.Volume.ML
		if best == nil || better(way, best, p.off) {
			best = way
		}
	}
	return best, nil
}

// bestOnTop is what is best added of sets to a cup that was wasML before.
func (p *problem) bestOnTop(s *solver, sets []found, wasML float64) (best found, ok bool) {
	worth := math.Inf(1)
	for _, f := range sets {
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
		after, err := p.poured(p.of(f.bottles()), f.x[:f.n])
		if err != nil {
			continue // more than a cup takes
		}
		if v := expected(math.Sqrt(f.cost/p.weights), p.off) + p.burden(p.adds(&f), &after, wasML); v < worth {
			best, worth, ok = f, v, true
		}
	}
	return best, ok
}

// better says whether one way out would be tried before another.
func better(a, b *Correction, off float64) bool {
	return expected(a.Likely(), off)+a.costs < expected(b.Likely(), off)+b.costs
}

// freshCup starts again: the same volume, with what colours nothing still in it. It is nil where that brings nothing.
func freshCup(ctx context.Context, w *Wish, shelf cup.Shelf, kit measure.Kit, reached float64) (*Correction, error) {
	anew := *w
	anew.Cup.Doses = slices.DeleteFunc(slices.Clone(w.Cup.Doses), func(d cup.Dose) bool {
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
	c := &Correction{
		Kind: "fresh", Adds: p.adds(&list[0].f), MakesML: p.finished(&list[0].f), WastesML: w.Cup.Volume.ML,
		Candidate: list[0],
	}
	c.costs = freshAtAll + asMuchClear
	c.Says = fmt.Sprintf("Start again with %s of plastisol and %s.", anew.Cup.Volume, say(c.Adds, shelf))
	return c, nil
}

// Targets turns a cup's own target into a reading.
func Targets(t *cup.Target) Reading {
	return Reading{
		Name: t.Name, Lab: t.Lab, Weight: 1, Enough: t.GoodEnough, Off: cup.Off(t.Error, t.Exact), Device: t.Device,
		At: mix.Condition{
			ThicknessMM: t.ThicknessMM, Ground: t.Ground, Light: colour.D65, State: cmp.Or(t.State, cup.Rested),
		},
	}
}
