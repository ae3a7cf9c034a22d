package match

import (
	"cmp"
	"context"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// LayerSlice is so much of one part in a stack.
type LayerSlice struct {
	Part int     `json:"part" minimum:"0" doc:"Index of the part"`
	MM   float64 `json:"mm" minimum:"0.05" maximum:"100"`
}

// LayerReading is a colour of a layered bait where one looks through several parts. It belongs to the part in front.
type LayerReading struct {
	Reading
	Behind []LayerSlice // what lies behind the front part, front to back
}

// LayerPart is one part of a layered bait: its cup, what may go into it, and what is read where it lies in front.
type LayerPart struct {
	Name     string
	Cup      cup.Cup
	Allowed  []string
	Most     int
	Readings []LayerReading
}

// LayersWish is a bait whose parts are matched together.
type LayersWish struct {
	Parts   []LayerPart
	PriceOf func(uid string) float64
}

// PartMatched is what one part came to.
type PartMatched struct {
	Name string `json:"name"`
	Candidate
	Alone float64 `json:"alone" doc:"ΔE00 of this part if each were matched by itself, then poured together"`
}

// LayersResult are the parts, matched together.
type LayersResult struct {
	Parts    []PartMatched `json:"parts" nullable:"false"`
	DeltaE00 float64       `json:"deltaE00" doc:"Over the readings of all parts"`
	Alone    float64       `json:"alone" doc:"The same if each were matched by itself"`
	Ties     []Tie         `json:"ties" nullable:"false" doc:"What could tie the layers together, most plainly seen first"`
}

// MostParts is how many parts are matched together.
const MostParts = 4

// breadth is how widely parts are searched together.
type breadth struct {
	best   int // of each part, combined with those of the others
	rounds int // of looking at each with the others as they are
}

var usualBreadth = breadth{20, 3}

const polishes = 40

func (w *LayersWish) check(shelf cup.Shelf) error {
	if len(w.Parts) < 2 || len(w.Parts) > MostParts {
		return measure.Faulty("parts", "two to %d parts are matched together; give one by itself", MostParts)
	}
	for i := range w.Parts {
		part := &w.Parts[i]
		one := Wish{Cup: part.Cup, Allowed: part.Allowed, Most: part.Most}
		for _, r := range part.Readings {
			for _, b := range r.Behind {
				if b.Part < 0 || b.Part >= len(w.Parts) || b.Part == i ||
					!(b.MM >= cup.MinThicknessMM && b.MM <= cup.MaxThicknessMM) {
					return measure.Faulty(
						"parts", "%s lies over a part that is not there, or is too thin or thick", part.Name,
					)
				}
			}
			if len(r.Behind) == 0 { // stacks of one spot may differ without contradiction
				one.Readings = append(one.Readings, r.Reading)
			}
		}
		if len(part.Readings) == 0 {
			return measure.Faulty(
				"parts", "%s has nothing to match yet: pin a spot of it, or give it a reading", part.Name,
			)
		}
		if len(one.Readings) == 0 {
			one.Readings = []Reading{part.Readings[0].Reading}
		}
		if err := one.Check(shelf); err != nil {
			return err
		}
	}
	return nil
}

// layered is a layered bait in work.
type layered struct {
	w        *LayersWish
	problems []*problem // of each part, alone
	mixes    []*mix.Mix
	sets     []found
	worse    float64 // what it counts if a part is worse than by itself; without end in the end
}

// How much it counts, in turn: a way to a better bait may lead through one that is worse in a part.
var worseTimes = []float64{100, 1e4, 1e8}

// exact is the colour that a reading shows with the mixes as they are.
func (l *layered) exact(part int, r *LayerReading, mixes []*mix.Mix) colour.Lab {
	of := func(m *mix.Mix) *mix.Mix {
		if r.Between {
			return m.Body()
		}
		return m
	}
	if len(r.Behind) == 0 {
		return of(mixes[part]).Colour(r.At)
	}
	stack := []mix.Slice{{Mix: of(mixes[part]), MM: r.At.ThicknessMM}}
	for _, b := range r.Behind {
		stack = append(stack, mix.Slice{Mix: of(mixes[b.Part]), MM: b.MM})
	}
	return mix.StackColour(stack, r.At)
}

// off is the mean square ΔE00 of a part.
func (l *layered) off(part int, mixes []*mix.Mix) float64 {
	sum, weights := 0.0, 0.0
	for i := range l.w.Parts[part].Readings {
		r := &l.w.Parts[part].Readings[i]
		d := colour.DeltaE00(l.exact(part, r, mixes), r.Lab)
		sum += r.Weight * d * d
		weights += r.Weight
	}
	return sum / max(weights, 1e-9)
}

// together is the mean square over all parts. What a part is worse than its bound counts so many times more, so that no
// part is bought with another.
func (l *layered) together(mixes []*mix.Mix, bound []float64) float64 {
	sum := 0.0
	for i := range mixes {
		off := l.off(i, mixes)
		sum += off
		if bound != nil && off > noWorse(bound[i]) {
			sum += l.worse * (off - bound[i])
		}
	}
	return sum / float64(len(mixes))
}

// part makes the problem of one part, with the others as they are; alone as if nothing lay behind.
func (l *layered) part(i int, shelf cup.Shelf, kit measure.Kit, alone bool) (*problem, *Wish, error) {
	part := &l.w.Parts[i]
	w := &Wish{Cup: part.Cup, Allowed: part.Allowed, Most: part.Most, PriceOf: l.w.PriceOf}
	for j := range part.Readings {
		r := part.Readings[j]
		r.stacked = len(r.Behind) > 0
		if r.stacked && !alone {
			mixes := slices.Clone(l.mixes)
			r.exact = func(mix *mix.Mix) colour.Lab {
				own := slices.Clone(mixes)
				own[i] = mix
				return l.exact(i, &part.Readings[j], own)
			}
		}
		w.Readings = append(w.Readings, r.Reading)
	}
	p, err := newProblem(w, shelf, kit)
	return p, w, err
}

// Layers matches the parts of a layered bait together: each alone first, then each with what lies behind it as it is,
// then the best of all parts combined, and whole steps moved as long as the bait as a whole gains by it.
func Layers(
	ctx context.Context, w *LayersWish, shelf cup.Shelf, kit measure.Kit, each func(Progress),
) (*LayersResult, error) {
	return layers(ctx, w, shelf, kit, each, usualBreadth)
}

func layers(
	ctx context.Context, w *LayersWish, shelf cup.Shelf, kit measure.Kit, each func(Progress), by breadth,
) (*LayersResult, error) {
	if err := w.check(shelf); err != nil {
		return nil, err
	}
	n := len(w.Parts)
	l := &layered{
		w: w, problems: make([]*problem, n), mixes: make([]*mix.Mix, n), sets: make([]found, n), worse: worseTimes[0],
	}
	choices := make([][]found, n)
	steps, done := float64(n*(by.rounds+1)+1), 0.0
	tell := func() {
		done++
		if each != nil {
			each(Progress{Done: done / steps, Best: []Candidate{}})
		}
	}
	take := func(i int, p *problem, all *pool) {
		for _, f := range all.nearest(by.best) {
			if !slices.ContainsFunc(choices[i], func(g found) bool { return g.set == f.set && g.x == f.x }) {
				choices[i] = append(choices[i], f)
			}
		}
	}
	for i := range n {
		p, wish, err := l.part(i, shelf, kit, true)
		if err != nil {
			return nil, err
		}
		all, err := p.search(ctx, wish.Most, nil)
		if err != nil {
			return nil, err
		}
		list, err := p.ranked(ctx, wish, all)
		if err != nil {
			return nil, err
		}
		l.problems[i] = p
		take(i, p, all)
		l.sets[i] = list[0].f
		if l.mixes[i], err = l.stir(i, &l.sets[i]); err != nil {
			return nil, err
		}
		tell()
	}
	alone := make([]float64, n)
	for i := range n {
		alone[i] = l.off(i, l.mixes)
	}
	first, firstMixes := slices.Clone(l.sets), slices.Clone(l.mixes)
	// From the back to the front: what lies behind is settled before what is seen through.
	for range by.rounds {
		for _, i := range l.backFirst() {
			p, wish, err := l.part(i, shelf, kit, false)
			if err != nil {
				return nil, err
			}
			if p.stacked {
				all, err := p.search(ctx, wish.Most, nil)
				if err != nil {
					return nil, err
				}
				take(i, p, all)
				if err := l.combine(choices, alone); err != nil {
					return nil, err
				}
			}
			tell()
		}
	}
	if err := l.settle(ctx, choices, alone, first, firstMixes); err != nil {
		return nil, err
	}
	tell()
	return l.result(shelf, alone)
}

// settle chooses among all that was found for each part, and polishes them together.
func (l *layered) settle(
	ctx context.Context, choices [][]found, alone []float64, first []found, firstMixes []*mix.Mix,
) error {
	if err := l.combine(choices, alone); err != nil {
		return err
	}
	for _, l.worse = range worseTimes {
		if err := l.polish(ctx, alone); err != nil {
			return err
		}
	}
	if l.within(alone) {
		return nil
	}
	// No way led back: from each part by itself, never leaving what is no worse.
	l.sets, l.mixes = first, firstMixes
	if err := l.combine(choices, alone); err != nil {
		return err
	}
	return l.polish(ctx, alone)
}

// noWorse is a mean square that nobody could tell from another: light from behind comes through nearly everything, a
// millionth of it.
func noWorse(off float64) float64 {
	d := math.Sqrt(off) + 0.005
	return d * d
}

// within says whether no part is worse than its bound.
func (l *layered) within(bound []float64) bool {
	for i := range bound {
		if l.off(i, l.mixes) > noWorse(bound[i]) {
			return false
		}
	}
	return true
}

// backFirst orders the parts: those that nothing lies behind come first.
func (l *layered) backFirst() []int {
	var out []int
	behind := func(i int) (n int) {
		for _, r := range l.w.Parts[i].Readings {
			n += len(r.Behind)
		}
		return n
	}
	for i := range l.w.Parts {
		out = append(out, i)
	}
	slices.SortStableFunc(out, func(a, b int) int { return cmp.Compare(behind(a), behind(b)) })
	return out
}

func (l *layered) stir(i int, f *found) (*mix.Mix, error) {
	p := l.problems[i]
	return p.stir(p.of(f.bottles()), f.x[:f.n])
}

// combine finds the best combination of the choices of all parts.
func (l *layered) combine(choices [][]found, bound []float64) error {
	n := len(choices)
	mixes := make([][]*mix.Mix, n)
	for i := range choices {
		for j := range choices[i] {
			m, err := l.stir(i, &choices[i][j])
			if err != nil {
				return err
			}
			mixes[i] = append(mixes[i], m)
		}
	}
	least := l.together(l.mixes, bound)
	try := slices.Clone(l.mixes)
	// Part by part, as long as anything gains: a part's readings hang on what lies behind it only.
	for gained := true; gained; {
		gained = false
		for i := range n {
			for j := range mixes[i] {
				copy(try, l.mixes)
				try[i] = mixes[i][j]
				for k := range n { // with the best of every other part to go with it
					if k == i {
						continue
					}
					best, at := l.together(try, bound), -1
					own := try[k]
					for m := range mixes[k] {
						try[k] = mixes[k][m]
						if c := l.together(try, bound); c < best {
							best, at = c, m
						}
					}
					try[k] = own
					if at >= 0 {
						try[k] = mixes[k][at]
					}
				}
				if c := l.together(try, bound); c < least-1e-9 {
					least, gained = c, true
					for k := range n {
						if at := slices.Index(mixes[k], try[k]); at >= 0 {
							l.sets[k] = choices[k][at]
						}
						l.mixes[k] = try[k]
					}
				}
			}
		}
	}
	return nil
}

// polish moves whole steps, one dose or two of a part at a time, as long as the bait gains.
func (l *layered) polish(ctx context.Context, bound []float64) error {
	least := l.together(l.mixes, bound)
	for range polishes {
		if err := ctx.Err(); err != nil {
			return err
		}
		before := least
		for i := range l.sets {
			f := l.sets[i]
			moves := l.problems[i].neighbours(&f)
			for _, g := range moves {
				m, err := l.stir(i, &g)
				if err != nil {
					continue // more than the cup takes
				}
				old := l.mixes[i]
				l.mixes[i] = m
				if c := l.together(l.mixes, bound); c < least-1e-9 {
					least, l.sets[i] = c, g
				} else {
					l.mixes[i] = old
				}
			}
		}
		if before-least < 1e-6 {
			return nil
		}
	}
	return nil
}

// neighbours are the doses one measurable step away, in one bottle or in two.
func (p *problem) neighbours(f *found) []found {
	sides := make([][]float64, f.n)
	for j := range f.n {
		b := &p.bottles[f.set[j]]
		near := b.beside(f.x[j])
		sides[j] = []float64{f.x[j]}
		for range 3 {
			if x, ok := near.next(); ok && x != f.x[j] {
				sides[j] = append(sides[j], x)
			}
		}
	}
	var out []found
	for j := range f.n {
		for k := range j + 1 {
			for _, x := range sides[j] {
				for _, y := range sides[k] {
					g := *f
					g.x[k] = y
					g.x[j] = x
					if j == k && y != x {
						continue
					}
					if g.x != f.x && g.x[j] > 0 && g.x[k] > 0 {
						out = append(out, g)
					}
				}
			}
		}
	}
	return out
}

func (l *layered) result(shelf cup.Shelf, alone []float64) (*LayersResult, error) {
	out := &LayersResult{Ties: []Tie{}}
	n := float64(len(l.w.Parts))
	for i := range l.w.Parts {
		p, part := l.problems[i], &l.w.Parts[i]
		w := &Wish{Cup: part.Cup}
		c, err := p.candidate(p.solver(), w, l.sets[i])
		if err != nil {
			return nil, err
		}
		off := l.off(i, l.mixes)
		c.DeltaE00 = math.Sqrt(off)
		c.Nearness = colour.Nearness(c.DeltaE00)
		at := 0
		for j := range part.Readings {
			r := &part.Readings[j]
			if r.Weight == 0 {
				continue
			}
			lab := l.exact(i, r, l.mixes)
			m := &c.Readings[at]
			m.Is, m.Differs = mix.NewSwatch(lab), colour.Compare(lab, r.Lab)
			m.Enough = (&cup.Target{GoodEnough: r.Enough, Error: r.Off}).Enough(m.Differs.DeltaE00)
			at++
		}
		out.Parts = append(out.Parts, PartMatched{part.Name, c, math.Sqrt(alone[i])})
		out.DeltaE00 += off / n
		out.Alone += alone[i] / n
	}
	out.DeltaE00, out.Alone = math.Sqrt(out.DeltaE00), math.Sqrt(out.Alone)
	out.Ties = l.ties(shelf)
	return out, nil
}
