package match

import (
	"cmp"
	"context"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cores"
)

// found is a set of bottles with doses, in steps, and what they come to. Bottles ascend.
type found struct {
	n    int
	set  [MostBottles]uint8
	x    [MostBottles]float64
	cost float64
	glow []colour.Lab // by sight, where something glows: what the plain model leaves out; see solver.offsets
}

func (f *found) bottles() []int {
	out := make([]int, f.n)
	for i := range out {
		out[i] = int(f.set[i])
	}
	return out
}

// key names the set.
func (f *found) key() [MostBottles]uint8 {
	k := f.set
	for i := f.n; i < len(k); i++ {
		k[i] = math.MaxUint8
	}
	return k
}

// sorted makes a found of bottles in any order; what is not dosed is left out.
func sorted(set []int, x []float64, cost float64) found {
	f := found{cost: cost}
	for j, i := range set {
		if x[j] <= 0 {
			continue
		}
		at := f.n
		for at > 0 && f.set[at-1] > uint8(i) {
			f.set[at], f.x[at] = f.set[at-1], f.x[at-1]
			at--
		}
		f.set[at], f.x[at] = uint8(i), x[j]
		f.n++
	}
	return f
}

// The breadth of the search.
const (
	beam       = 80  // sets that are extended
	pairFirst  = 40  // pairs that are, of which one mostly is near enough
	pairBeam   = 250 // pairs that are otherwise
	newcomers  = 12  // bottles tried with each
	screened   = 120 // of those, worked out in full
	glowing    = 30  // of those that glow, or lie in a stack
	measured   = 300 // sets that are rounded
	again      = 40  // of the best sets, whose bottles are exchanged one by one
	roughLooks = 4   // at a set that is screened
	fullLooks  = 3   // at one that is worked out
)

// rounds of exchanges, by the most bottles in a set. All pairs were tried anyway.
var rounds = []int{0, 0, 0, 3, 6}

// smallRack is up to how many bottles every triple is tried: some hundred sets.
const smallRack = 14

// nearEnough is a ΔE00, well below what can be seen.
const nearEnough = 0.1

// parallel does n things on the processors that the context allows; do gets a solver of its own.
func parallel(ctx context.Context, p *problem, n int, do func(s *solver, i int)) error {
	return cores.EachWith(ctx, n, p.solver, func(s *solver, i int) error {
		do(s, i)
		return nil
	})
}

// fit solves sets where they stand.
func (p *problem) fit(ctx context.Context, list []found, looks int) error {
	return parallel(ctx, p, len(list), func(s *solver, k int) { s.fit(&list[k], looks) })
}

// fit solves a set where it stands. What glows is taken as it was at the last exact look, then looked at again.
func (s *solver) fit(f *found, looks int) {
	s.offsets = f.glow
	defer func() { s.offsets = nil }()
	set, x := f.bottles(), slices.Clone(f.x[:f.n])
	solve := func() {
		glow := s.offsets
		*f = sorted(set, x, s.solve(set, x, 0, looks))
		f.glow = glow
	}
	if !s.p.glows(set) || s.p.rough == nil {
		solve()
		return
	}
	if s.offsets == nil {
		s.offsets = s.leftOut(set, x)
	}
	solve()
	s.offsets = s.leftOut(set, x)
	solve()
}

// pool holds the best doses of every set that was tried, and of the nearest those that can be measured.
type pool struct {
	sets    map[[MostBottles]uint8]found
	rounded map[[MostBottles]uint8]found // by the unrounded set
}

func newPool() *pool {
	return &pool{sets: map[[MostBottles]uint8]found{}, rounded: map[[MostBottles]uint8]found{}}
}

func (p *pool) put(list ...found) {
	for _, f := range list {
		if old, ok := p.sets[f.key()]; f.n > 0 && (!ok || f.cost < old.cost) {
			p.sets[f.key()] = f
		}
	}
}

// best are the sets with the least cost, of exactly n bottles, or of any number where n is 0.
func (p *pool) best(n, most int) []found {
	out := make([]found, 0, len(p.sets))
	for _, f := range p.sets {
		if n == 0 || f.n == n {
			out = append(out, f)
		}
	}
	slices.SortFunc(out, byCost)
	return out[:min(len(out), most)]
}

// nearest are the sets whose measurable doses come nearest.
func (p *pool) nearest(most int) []found {
	out := make([]found, 0, len(p.rounded))
	for _, f := range p.rounded {
		if f.n > 0 {
			out = append(out, f)
		}
	}
	slices.SortFunc(out, byCost)
	return out[:min(len(out), most)]
}

// fewOf is how many of each small number of bottles are looked at exactly besides the nearest.
const fewOf = 6

// likely are the nearest, and the nearest of one, two and three bottles, which may be as good as the target is sure.
func (p *pool) likely(most int) []found {
	all := p.nearest(len(p.rounded))
	out := slices.Clone(all[:min(len(all), most)])
	few := [4]int{}
	for i, f := range all {
		if f.n < len(few) {
			if few[f.n]++; few[f.n] <= fewOf && i >= most {
				out = append(out, f)
			}
		}
	}
	return out
}

func byCost(a, b found) int {
	if c := cmp.Compare(a.cost, b.cost); c != 0 {
		return c
	}
	return slices.Compare(a.set[:], b.set[:])
}

// near says whether what was found can't be told from the target by anyone, so that looking on gains nothing.
func (p *problem) near(all *pool) bool {
	best := all.nearest(1)
	return len(best) > 0 && best[0].cost < nearEnough*nearEnough*p.weights
}

// search finds the sets of up to most bottles that come nearest: every bottle and every pair, then a beam, then the
// best sets with one bottle exchanged, until nothing is left that anyone could see. each is told when something nearer
// was found.
func (p *problem) search(ctx context.Context, most int, each func(*pool)) (*pool, error) {
	all := newPool()
	singles, err := p.singles(ctx)
	if err != nil {
		return nil, err
	}
	all.put(singles...)
	if most > 1 && len(p.bottles) > 1 {
		pairs, err := p.pairs(ctx, singles)
		if err != nil {
			return nil, err
		}
		all.put(pairs...)
	}
	if err := p.roundAll(ctx, all); err != nil {
		return nil, err
	}
	if n := len(p.bottles); most >= 3 && n <= smallRack { // few enough to be tried whole
		if err := p.everyTriple(ctx, all, nil); err != nil {
			return nil, err
		}
	}
	for n := 3; n <= min(most, len(p.bottles)); n++ {
		stages := beamOf(n)
		from, done := all.best(n-1, slices.Max(stages)), 0
		for _, to := range stages {
			if p.near(all) {
				return all, nil
			}
			to = min(to, len(from))
			if err := p.extend(ctx, all, from[done:to], each); err != nil {
				return nil, err
			}
			done = to
		}
	}
	exchanged := map[[MostBottles]uint8]bool{}
	for range rounds[min(most, len(rounds)-1)] {
		if p.near(all) {
			break
		}
		var less []found
		left := again
		for _, f := range all.nearest(len(all.rounded)) {
			if left == 0 {
				break
			}
			if f.n < 2 || exchanged[f.key()] {
				continue
			}
			exchanged[f.key()] = true
			left--
			for drop := range f.n {
				less = append(less, f.without(drop))
			}
		}
		if err := p.fit(ctx, less, fullLooks); err != nil {
			return nil, err
		}
		if err := p.extend(ctx, all, less, each); err != nil {
			return nil, err
		}
	}
	return all, nil
}

// beamOf is how many sets are extended to n bottles, from stage to stage: more pairs, since a pair tells little yet,
// but few at first.
func beamOf(n int) []int {
	if n == 3 {
		return []int{pairFirst, pairBeam}
	}
	return []int{beam}
}

// without is the set without one of its bottles.
func (f *found) without(drop int) found {
	left := found{n: f.n - 1, glow: f.glow}
	copy(left.set[:], slices.Delete(slices.Clone(f.set[:f.n]), drop, drop+1))
	copy(left.x[:], slices.Delete(slices.Clone(f.x[:f.n]), drop, drop+1))
	return left
}

// singles are the best dose of every bottle alone.
func (p *problem) singles(ctx context.Context) ([]found, error) {
	out := make([]found, len(p.bottles))
	err := parallel(ctx, p, len(out), func(s *solver, i int) {
		set, x := []int{i}, []float64{0}
		f := &out[i]
		*f = found{n: 1, set: [MostBottles]uint8{uint8(i)}, x: [MostBottles]float64{p.bottles[i].usual}}
		if !p.glows(set) {
			best := math.Inf(1)
			for steps := p.bottles[i].most; steps > 0.4; steps /= 2.5 {
				x[0] = steps
				if c := s.cost(set, x); c < best {
					best, f.x[0] = c, steps
				}
			}
		}
		s.fit(f, 6)
		if f.n == 0 { // it only harms; what little of it would do is still a place to begin
			x[0] = 0.5
			*f = found{
				n: 1, set: [MostBottles]uint8{uint8(i)}, x: [MostBottles]float64{x[0]}, cost: s.cost(set, x),
				glow: f.glow,
			}
		}
	})
	return out, err
}

// pairs screens every pair on few bands, and gives the best of them fully worked out.
func (p *problem) pairs(ctx context.Context, singles []found) ([]found, error) {
	n := len(p.bottles)
	out := make([]found, 0, n*(n-1)/2)
	for i := range n {
		for j := i + 1; j < n; j++ {
			out = append(out, found{
				n: 2, set: [MostBottles]uint8{uint8(i), uint8(j)}, x: [MostBottles]float64{
					singles[i].x[0] * pairStart, singles[j].x[0] * pairStart,
				},
				glow: sumOf(singles[i].glow, singles[j].glow),
			})
		}
	}
	if err := p.rough.fit(ctx, out, pairLooks); err != nil {
		return nil, err
	}
	slices.SortFunc(out, byCost)
	out = out[:min(len(out), pairBeam*3/2)]
	return out, p.fit(ctx, out, roughLooks)
}

// A pair begins at this share of what each does best alone, and is looked at so often.
const (
	pairStart = 0.6
	pairLooks = 2
)

func sumOf(a, b []colour.Lab) []colour.Lab {
	switch {
	case a == nil:
		return b
	case b == nil:
		return a
	}
	out := slices.Clone(a)
	for i, o := range b {
		out[i] = colour.Lab{L: a[i].L + o.L, A: a[i].A + o.A, B: a[i].B + o.B}
	}
	return out
}

// extend tries the most promising newcomers with each of the sets, and rounds what comes nearest.
func (p *problem) extend(ctx context.Context, all *pool, from []found, each func(*pool)) error {
	lists := make([][]found, len(from))
	err := parallel(ctx, p.rough, len(from), func(s *solver, k int) {
		f := &from[k]
		if f.n == MostBottles {
			return
		}
		s.offsets = f.glow
		come := s.newcomers(f.bottles(), f.x[:f.n])
		slices.SortFunc(come, func(a, b newcomer) int { return cmp.Compare(b.gain, a.gain) })
		for _, c := range come[:min(len(come), newcomers)] {
			t := sorted(append(f.bottles(), c.bottle), append(slices.Clone(f.x[:f.n]), max(c.steps, 1e-3)), 0)
			t.glow = f.glow
			lists[k] = append(lists[k], t)
		}
	})
	if err != nil {
		return err
	}
	var trials []found
	seen := map[[MostBottles]uint8]bool{}
	for _, list := range lists {
		for _, t := range list {
			if _, tried := all.sets[t.key()]; !tried && !seen[t.key()] {
				seen[t.key()] = true
				trials = append(trials, t)
			}
		}
	}
	if err := p.rough.fit(ctx, trials, roughLooks); err != nil {
		return err
	}
	slices.SortFunc(trials, byCost)
	exact := 0
	// exact looks are dear: only the best of those that glow get them
	trials = slices.DeleteFunc(trials, func(f found) bool {
		if p.glows(f.bottles()) {
			exact++
			return exact > glowing
		}
		return false
	})
	trials = trials[:min(len(trials), screened)]
	if err := p.fit(ctx, trials, fullLooks); err != nil {
		return err
	}
	all.put(trials...)
	if err := p.roundAll(ctx, all); err != nil {
		return err
	}
	if each != nil {
		each(all)
	}
	return nil
}

// roundAll brings the nearest sets that have not been yet to doses that can be measured.
func (p *problem) roundAll(ctx context.Context, all *pool) error {
	best := all.best(0, measured)
	return p.round(
		ctx, all, slices.DeleteFunc(best, func(f found) bool { _, done := all.rounded[f.key()]; return done }),
	)
}

func (p *problem) round(ctx context.Context, all *pool, best []found) error {
	out := make([]found, len(best))
	err := parallel(ctx, p, len(best), func(s *solver, i int) {
		if r := s.roundOf(&best[i]); len(r) > 0 {
			out[i] = r[0]
		}
	})
	for i, f := range out {
		all.rounded[best[i].key()] = f
	}
	return err
}

// coarseFrom begins the groups of bands that stand for one each where sets are screened: narrow where the eye looks.
// Good enough to screen by, never to rank.
var coarseFrom = []int{0, 4, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24, 26, 28, 30, 33, colour.Bands}

var coarseBands = len(coarseFrom) - 1

// coarse is the same problem on few bands.
func (p *problem) coarse() *problem {
	out := *p
	out.bands = coarseBands
	out.rough, out.sights, out.lenses = nil, slices.Clone(p.sights), nil
	for i := range out.sights {
		s := &out.sights[i]
		s.view = s.view.coarse()
		s.sheens, s.ownSheens = slices.Clone(s.sheens), slices.Clone(s.ownSheens)
		for _, list := range [][]*colour.Spectrum{s.sheens, s.ownSheens} {
			for j, sheen := range list {
				if sheen != nil {
					c := coarse(&Coefficients{K: *sheen})
					list[j] = &c.K
				}
			}
		}
	}
	for _, l := range p.lenses {
		rough := lens{base: coarse(&l.base), per: make([]Coefficients, len(l.per))}
		for i := range l.per {
			rough.per[i] = coarse(&l.per[i])
		}
		out.lenses = append(out.lenses, rough)
	}
	return &out
}

// eye is how much a band counts for all three channels together.
var eye = func() (w colour.Spectrum) {
	v := NewView(1, "", colour.D65)
	for b := range w {
		w[b] = v.w[0][b] + v.w[1][b] + v.w[2][b]
	}
	return w
}()

func coarse(c *Coefficients) (out Coefficients) {
	for i := range coarseBands {
		sum := 0.0
		for b := coarseFrom[i]; b < coarseFrom[i+1]; b++ {
			sum += eye[b]
			out.K[i] += eye[b] * c.K[b]
			out.S[i] += eye[b] * c.S[b]
		}
		out.K[i] /= sum
		out.S[i] /= sum
	}
	return out
}

func (v *View) coarse() *View {
	out := &View{bands: coarseBands, mm: v.mm, glow: v.glow, against: v.against}
	for i := range coarseBands {
		wide := float64(coarseFrom[i+1] - coarseFrom[i])
		for b := coarseFrom[i]; b < coarseFrom[i+1]; b++ {
			out.w[0][i] += v.w[0][b]
			out.w[1][i] += v.w[1][b]
			out.w[2][i] += v.w[2][b]
			out.ground[i] += v.ground[b] / wide
		}
	}
	return out
}
