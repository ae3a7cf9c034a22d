package match

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// Met is how near a candidate comes to one reading.
type Met struct {
	Name    string            `json:"name"`
	Wanted  mix.Swatch        `json:"wanted"`
	Is      mix.Swatch        `json:"is"`
	Differs colour.Difference `json:"differs"`
	Range   float64           `json:"range" doc:"ΔE00 by which it may come out otherwise, since not every bottle was measured: one standard deviation"`
	Enough  string            `json:"enough,omitempty" doc:"Where the difference is one that does not matter: why"`
}

// Candidate is a cup that may be poured.
type Candidate struct {
	Cup         cup.Cup  `json:"cup"`
	Bottles     int      `json:"bottles" doc:"That the match chose"`
	DeltaE00    float64  `json:"deltaE00" doc:"Over all readings, as the root of the mean square by their weights; a wished see-through counts with it"`
	Nearness    string   `json:"nearness"`
	Range       float64  `json:"range" doc:"The same of the ranges"`
	Readings    []Met    `json:"readings" nullable:"false"`
	SeeThrough  float64  `json:"seeThrough" doc:"Share of the light that comes through where it was wished, or through a usual body"`
	SeeMM       float64  `json:"seeMM"`
	Price       float64  `json:"price" doc:"In the shop's money, of what the match chose; 0 where no price is known"`
	Bleeds      []string `json:"bleeds" nullable:"false" doc:"Names of what runs"`
	Over        int      `json:"over" doc:"Doses beyond the most that is usual"`
	OneStep     float64  `json:"oneStep" doc:"ΔE00 that one step of the most sensitive line makes"`
	OneStepSays string   `json:"oneStepSays"`
	f           found
	weighed     bool // its range counts
}

// Likely is how far it is likely to lie from what was read: where it is known how sure its bottles are, they count.
func (c *Candidate) Likely() float64 {
	if c.weighed {
		return math.Hypot(c.DeltaE00, c.Range)
	}
	return c.DeltaE00
}

// Result is what a search came to.
type Result struct {
	Candidates []Candidate `json:"candidates" nullable:"false"`
	Limit      *Limit      `json:"limit,omitempty" doc:"Where even the best misses: what is lacking"`
	Tried      int         `json:"tried" doc:"Sets of bottles that were worked out"`
	Likeliest  int         `json:"likeliest,omitempty" doc:"Where the shelf is too long for every set of three: of so many bottles, the likeliest, they were"`
}

// Candidates is how many are shown.
const Candidates = 5

// Progress is how far a search has come. Best are the candidates so far.
type Progress struct {
	Done float64     `json:"done" doc:"0..1"`
	Best []Candidate `json:"best" nullable:"false"`
}

// Search finds what to drip. each, where given, is told of what was found on the way.
func Search(ctx context.Context, w *Wish, shelf cup.Shelf, kit measure.Kit, each func(Progress)) (*Result, error) {
	p, err := newProblem(w, shelf, kit)
	if err != nil {
		return nil, err
	}
	step := 0.0
	all, err := p.search(
		ctx, w.Most, p.telling(ctx, w, each, func() float64 { step++; return min(0.95, 1-math.Pow(0.75, step)) }),
	)
	if err != nil {
		return nil, err
	}
	return p.result(ctx, w, all)
}

// telling turns what a search has found into progress.
func (p *problem) telling(ctx context.Context, w *Wish, each func(Progress), done func() float64) func(*pool) {
	if each == nil {
		return nil
	}
	return func(all *pool) {
		if list, err := p.ranked(ctx, w, all); err == nil {
			each(Progress{done(), list})
		}
	}
}

func (p *problem) result(ctx context.Context, w *Wish, all *pool) (*Result, error) {
	list, err := p.ranked(ctx, w, all)
	if err != nil {
		return nil, err
	}
	out := &Result{Candidates: list, Tried: len(all.sets)}
	if len(list) > 0 && list[0].DeltaE00 > limitFrom && !w.Plain {
		if out.Limit, err = p.limit(ctx, w, all, list[0].DeltaE00); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// ranked gives the best candidates that really differ: no two share more than half of the bottles of the smaller, as
// far as there are such. Of the same ΔE00, as far as anyone could tell, usual doses come first, then the fewer
// bottles, then the cheaper, then what a drop does less to.
func (p *problem) ranked(ctx context.Context, w *Wish, all *pool) ([]Candidate, error) {
	nearest := all.likely(exactOf)
	exact := make([]Candidate, len(nearest))
	errs := make([]error, len(nearest))
	if err := parallel(
		ctx, p, len(nearest), func(s *solver, i int) { exact[i], errs[i] = p.candidate(s, w, nearest[i]) },
	); err != nil {
		return nil, err
	}
	if err := errors.Join(errs...); err != nil {
		return nil, err
	}
	slices.SortStableFunc(exact, p.byRank)
	s := p.solver()
	var out []Candidate
	differs := func(f *found) bool {
		for i := range out {
			if !different(f, &out[i].f) {
				return false
			}
		}
		return true
	}
	for _, c := range exact {
		if len(out) < Candidates && differs(&c.f) {
			out = append(out, c)
		}
	}
	if len(out) < Candidates {
		for _, f := range all.best(0, len(all.sets)) {
			if len(out) == Candidates {
				break
			}
			if !differs(&f) {
				continue
			}
			near := s.roundOf(&f)
			for _, r := range near[:min(1, len(near))] {
				if !differs(&r) { // rounding may have left a bottle out
					break
				}
				c, err := p.candidate(s, w, r)
				if err != nil {
					return nil, err
				}
				out = append(out, c)
			}
		}
		slices.SortStableFunc(out, p.byRank)
	}
	return out, nil
}

// exactOf is how many of the nearest are looked at exactly.
const exactOf = 40

// What counts as equally near: what is shown alike, and the wider the less sure the target itself is.
const (
	sameRank   = 0.1  // ΔE00
	sameUnsure = 0.15 // of what the target may be off by
)

// expected is how far a candidate is likely to lie from what the target really is, which may be off itself by off.
func expected(deltaE00, off float64) float64 { return math.Hypot(deltaE00, off) }

// byRank puts the nearest first. Of those that are equally near, as far as the target is sure: usual doses before the
// fewer bottles, before what a drop does less to, before the cheaper.
func (p *problem) byRank(a, b Candidate) int {
	grade := func(c *Candidate) float64 {
		return math.Round((expected(c.Likely(), p.off) - p.off) / (sameRank + sameUnsure*p.off))
	}
	return cmp.Or(
		cmp.Compare(grade(&a), grade(&b)), cmp.Compare(a.Over, b.Over), cmp.Compare(a.Bottles, b.Bottles),
		cmp.Compare(
			math.Round(a.OneStep/sameStep), math.Round(b.OneStep/sameStep),
		), cmp.Compare(a.Price, b.Price), cmp.Compare(a.OneStep, b.OneStep),
	)
}

// sameStep is the ΔE00 of one drop that counts as equally sensitive.
const sameStep = 0.5

// different says whether two sets share at most half of the bottles of the smaller.
func different(a, b *found) bool {
	shared := 0
	for _, i := range a.set[:a.n] {
		if slices.Contains(b.set[:b.n], i) {
			shared++
		}
	}
	return 2*shared <= min(a.n, b.n)
}

// How far a bottle's strength is off, as a share, by where its figures come from.
var strengthOff = map[material.Origin]float64{material.Typical: 0.3, material.Maker: 0.2, material.Measured: 0.07}

// offOf is the same of a bottle: as batches have taught it, where they have.
func offOf(m *material.Material) float64 {
	if l := m.Learned(); l != nil {
		return l.StrengthSD
	}
	return strengthOff[m.OpticsOrigin()]
}

// candidate works a set of doses out exactly.
func (p *problem) candidate(s *solver, w *Wish, f found) (Candidate, error) {
	set := f.bottles()
	filled, err := p.poured(p.of(set), f.x[:f.n])
	if err != nil {
		return Candidate{}, err
	}
	filled.Target = w.Cup.Target
	mixed, err := p.stir(p.of(set), f.x[:f.n])
	if err != nil {
		return Candidate{}, err
	}
	c := Candidate{Cup: filled, Bottles: f.n, Bleeds: []string{}, Readings: []Met{}, f: f, SeeMM: mix.BodyMM}
	if w.SeeThrough != nil {
		c.SeeMM = w.SeeThrough.ThicknessMM
	}
	c.SeeThrough = mixed.SeeThrough(c.SeeMM, cup.Rested)
	s.offsets = f.glow
	jac := s.slopes(set, f.x[:f.n])
	s.offsets = nil
	felt := make([]float64, f.n)
	for i := range p.sights {
		sight, r := &p.sights[i], &p.readings[i]
		lab := p.seen(i, mixed)
		d := sight.apart(lab)
		c.DeltaE00 += sight.weight * d * d / p.weights
		off := 0.0
		for j, b := range set {
			col := jac[j][3*i : 3*i+3]
			size := (col[0]*col[0] + col[1]*col[1] + col[2]*col[2]) / sight.weight
			felt[j] += size * sight.weight / p.weights
			by := f.x[j] * offOf(p.bottles[b].m)
			off += size * by * by
		}
		c.Range += sight.weight * off / p.weights
		if sight.dark {
			continue
		}
		m := Met{
			Name: r.Name, Wanted: mix.NewSwatch(r.Lab), Is: mix.NewSwatch(lab), Differs: colour.Compare(lab, r.Lab),
			Range: math.Sqrt(off),
		}
		if t := (cup.Target{GoodEnough: r.Enough, Error: r.Off}); t.Enough(d) != "" {
			m.Enough = t.Enough(d)
		}
		c.Readings = append(c.Readings, m)
	}
	c.DeltaE00, c.Range = math.Sqrt(c.DeltaE00), math.Sqrt(c.Range)
	if w.Unsure != nil {
		p.unsure(w, &c)
	}
	c.Nearness = colour.Nearness(c.DeltaE00)
	for j, b := range set {
		bottle := &p.bottles[b]
		if cup.OverUsual(bottle.m, bottle.amount(f.x[j]), p.cup.Volume.ML) > 1 {
			c.Over++
		}
		c.Price += f.x[j] * bottle.price
		if bottle.m.Runs() {
			c.Bleeds = append(c.Bleeds, bottle.m.Name)
		}
		if d := math.Sqrt(felt[j]); d > max(c.OneStep, 0.05) {
			c.OneStep = d
			c.OneStepSays = fmt.Sprintf(
				"%s of %s more makes ΔE00 %s", bottle.step, bottle.m.Name, measure.Number(d, 1),
			)
		}
	}
	return c, nil
}

// unsure replaces a candidate's ranges by what is known of its bottles.
func (p *problem) unsure(w *Wish, c *Candidate) {
	ranges := w.Unsure(&c.Cup, p.readings)
	if len(ranges) != len(p.readings) {
		return
	}
	sum, met := 0.0, 0
	for i := range p.sights {
		sum += p.sights[i].weight / p.weights * ranges[i] * ranges[i]
		if !p.sights[i].dark {
			c.Readings[met].Range = ranges[i]
			met++
		}
	}
	c.Range = math.Sqrt(sum)
	c.weighed = true
}

// Judge says how a cup meets the readings of a wish: one of the candidates with its doses changed. What in it is
// allowed counts as chosen, the rest as held.
func Judge(w *Wish, filled *cup.Cup, shelf cup.Shelf, kit measure.Kit) (*Candidate, error) {
	if err := filled.Check(shelf); err != nil {
		return nil, err
	}
	own := *w
	own.Cup, own.Allowed = *filled, nil
	own.Cup.Doses = nil
	var chosen []cup.Dose
	for _, d := range filled.Doses {
		m := shelf[d.Material]
		if (m.Colourant != nil || m.Powder != nil) && d.Amount.Value > 0 && len(chosen) < MostBottles {
			chosen = append(chosen, d)
			own.Allowed = append(own.Allowed, d.Material)
		} else {
			own.Cup.Doses = append(own.Cup.Doses, d)
		}
	}
	if len(chosen) == 0 { // nothing is chosen yet, but something must be allowed to make a wish
		own.Allowed = w.Allowed
	}
	p, err := newProblem(&own, shelf, kit)
	if err != nil {
		return nil, err
	}
	var set []int
	var x []float64
	for i, d := range chosen {
		b := &p.bottles[i]
		set = append(set, i)
		x = append(x, takes(b.m, d.Amount)/takes(b.m, b.step))
	}
	s := p.solver()
	f := sorted(set, x, 0)
	if p.glows(set) {
		f.glow = s.leftOut(set, x)
	}
	c, err := p.candidate(s, &own, f)
	if err != nil {
		return nil, err
	}
	target := c.Cup.Target
	c.Cup = *filled // as it was typed
	c.Cup.Target = target
	return &c, nil
}
