package picture

import (
	"math"
	"slices"
	"sync"
	"sync/atomic"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/mix"
)

// strip is a run of plastic by cup: of one, or of two that ran into each other.
type strip struct {
	a, b  int
	share float64 // of b
	mm    float64
}

func (s *strip) blended() bool { return s.share > 0 && s.a != s.b }

// mostStrips is how many lie behind each other in a table; thinner ones are joined to their neighbours beyond that.
const mostStrips = 4

// fewer joins strips until a table can hold them.
func fewer(into []strip) []strip {
	for len(into) > mostStrips { // the thinnest two neighbours behind the front
		least := 1
		for i := 1; i+1 < len(into); i++ {
			if into[i].mm+into[i+1].mm < into[least].mm+into[least+1].mm {
				least = i
			}
		}
		into[least] = joined(into[least], into[least+1])
		into = append(into[:least+1], into[least+2:]...)
	}
	return into
}

// joined mixes two strips: what they absorb stays, their order does not. Of more than two cups the two that fill most.
func joined(p, q strip) strip {
	var cups [4]int
	var mm [4]float64
	n := 0
	for _, part := range [4]struct {
		cup int
		mm  float64
	}{{p.a, p.mm * (1 - p.share)}, {p.b, p.mm * p.share}, {q.a, q.mm * (1 - q.share)}, {q.b, q.mm * q.share}} {
		k := 0
		for k < n && cups[k] != part.cup {
			k++
		}
		if k == n {
			cups[n] = part.cup
			n++
		}
		mm[k] += part.mm
	}
	first, second := 0, -1
	for i := 1; i < n; i++ {
		switch {
		case mm[i] > mm[first]:
			first, second = i, first
		case second < 0 || mm[i] > mm[second]:
			second = i
		}
	}
	out := strip{a: cups[first], b: cups[first], mm: p.mm + q.mm}
	if second >= 0 && mm[second] > 0 {
		out.b, out.share = cups[second], mm[second]/(mm[first]+mm[second])
		if out.b < out.a { // one order, so that one table serves both
			out.a, out.b, out.share = out.b, out.a, 1-out.share
		}
	}
	return out
}

// parts of a colour, in linear light of the screen: what comes from inside the plastic, and what of the ground comes
// through it.
type inside struct{ body, ground colour.RGB }

func (p *inside) add(q *inside, weight float64) {
	p.body.R += weight * q.body.R
	p.body.G += weight * q.body.G
	p.body.B += weight * q.body.B
	p.ground.R += weight * q.ground.R
	p.ground.G += weight * q.ground.G
	p.ground.B += weight * q.ground.B
}

// grid is what a table of one order of strips is laid out on. Its axes: the whole thickness, finer where it is thin; for
// each strip but the last its share of what is left, finer at both ends; for a single blend its share.
type grid struct {
	order []strip // without thickness
	axes  int
	size  [mostStrips]int
	step  [mostStrips]int // from a node to the next one along each axis
}

// stackTable holds the colours of the nodes of a grid, worked out where they are asked for.
type stackTable struct {
	*grid
	cells []atomic.Pointer[inside]
}

// Steps of the axes, by how many there are.
var tableSteps = [mostStrips + 1][2]int{1: {97, 0}, 2: {37, 13}, 3: {25, 9}, 4: {17, 7}}

// Palette holds the colours of some cups in a light, as they are asked for. It is good for any bait of them, and
// several may ask at once.
type Palette struct {
	bases []*mix.Mix
	at    mix.Condition
	mu    sync.Mutex
	by    map[paletteKey]*stacks
}

// paletteKey is what a palette's tables are for: baits up to so many tens of mm, held in the hand or judged, where a
// powder's sheen is that of the whole.
type paletteKey struct {
	tens   int
	judged bool
}

// NewPalette begins one.
func NewPalette(cups []*mix.Mix, at mix.Condition) *Palette {
	at = grounded(at)
	p := &Palette{bases: make([]*mix.Mix, len(cups)), at: at, by: map[paletteKey]*stacks{}}
	for i, m := range cups {
		if m != nil {
			p.bases[i] = between(m, at)
		}
	}
	return p
}

// tableMM is how thick the tables go that serve baits up to so thick.
func tableMM(mm float64) float64 { return 10 * float64(int(mm/10)+1) }

// upTo are the tables for baits up to so thick.
func (p *Palette) upTo(mm float64, judged bool) *stacks {
	p.mu.Lock()
	defer p.mu.Unlock()
	key := paletteKey{int(mm/10) + 1, judged}
	s, ok := p.by[key]
	if !ok {
		s = &stacks{
			cups: p.bases, at: p.at, mostMM: tableMM(mm), blends: map[[3]int]*mix.Mix{}, parts: mix.StackParts,
		}
		if !judged {
			if s.sheens = sheens(p.bases, p.at, s.mostMM); s.sheens != nil {
				s.parts = mix.DullParts
			}
		}
		p.by[key] = s
	}
	return s
}

// stacks are the tables of one picture; several may ask at once.
type stacks struct {
	cups   []*mix.Mix
	at     mix.Condition
	mostMM float64
	parts  func([]mix.Slice, mix.Condition) (whole, body colour.Lab)
	sheens []*sheen // by cup, where the sheen is laid on by itself
	mu     sync.Mutex
	tables []*stackTable
	blends map[[3]int]*mix.Mix
}

// of are the tables of some grids.
func (s *stacks) of(grids []*grid) []*stackTable {
	s.mu.Lock()
	defer s.mu.Unlock()
	out := make([]*stackTable, len(grids))
	for i, g := range grids {
		k := slices.IndexFunc(s.tables, func(t *stackTable) bool { return t.like(g.order) })
		if k < 0 {
			k = len(s.tables)
			last := mostStrips - 1
			s.tables = append(s.tables, &stackTable{g, make([]atomic.Pointer[inside], g.step[last]*g.size[last])})
		}
		out[i] = s.tables[k]
	}
	return out
}

func gridOf(order []strip) *grid {
	g := &grid{order: slices.Clone(order), axes: len(order)}
	steps := tableSteps[g.axes]
	if len(order) == 1 && order[0].blended() {
		g.axes, steps = 2, [2]int{21, 9}
	}
	step := 1
	for i := range g.size {
		g.size[i], g.step[i] = 1, step
		if i < g.axes {
			g.size[i] = steps[min(i, 1)]
		}
		step *= g.size[i]
	}
	return g
}

func (g *grid) like(order []strip) bool {
	if len(order) != len(g.order) {
		return false
	}
	for i := range order {
		if order[i].a != g.order[i].a || order[i].b != g.order[i].b ||
			(len(order) > 1 && order[i].share != g.order[i].share) ||
			order[i].blended() != g.order[i].blended() {
			return false
		}
	}
	return true
}

// spot is where a colour lies in a table: from which node on, how far towards the next one along each axis; and what
// share it is of what is seen.
type spot struct {
	grid, node int32
	share      float32
	at         [mostStrips]float32
}

// atlas finds strips on grids, for baits up to so thick; several may ask at once, each by its own atlasReader.
type atlas struct {
	mostMM float64
	mu     sync.Mutex
	grids  []*grid
}

// atlasReader remembers which grids were asked last.
type atlasReader struct {
	*atlas
	recent []recentGrid
}

type recentGrid struct {
	*grid
	number int32
}

func (r *atlasReader) grid(order []strip) recentGrid {
	for i, g := range r.recent {
		if g.like(order) {
			if i > 0 { // the next pixel will most likely ask for the same
				r.recent[i], r.recent[i-1] = r.recent[i-1], g
			}
			return g
		}
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	k := slices.IndexFunc(r.grids, func(g *grid) bool { return g.like(order) })
	if k < 0 {
		k = len(r.grids)
		r.grids = append(r.grids, gridOf(order))
	}
	r.recent = append(r.recent, recentGrid{r.grids[k], int32(k)})
	return r.recent[len(r.recent)-1]
}

// find is where strips lie.
func (r *atlasReader) find(order []strip, share float64) spot {
	g := r.grid(order)
	total := 0.0
	for i := range order {
		total += order[i].mm
	}
	sp := spot{grid: g.number, share: float32(share)}
	along := func(axis int, v float64) {
		v *= float64(g.size[axis] - 1)
		low := max(0, min(int(v), g.size[axis]-2))
		sp.node += int32(low * g.step[axis])
		sp.at[axis] = float32(v - float64(low))
	}
	along(0, math.Sqrt(min(1, total/r.mostMM)))
	switch {
	case len(order) > 1:
		left := total
		for i := range len(order) - 1 {
			share := 0.0
			if left > 0 {
				share = order[i].mm / left
			}
			left -= order[i].mm
			along(i+1, ends(share))
		}
	case order[0].blended():
		along(1, ends(order[0].share))
	}
	return sp
}

// leastWeight is what a node has to count for to be worked out.
const leastWeight = 1e-4

// add adds up what lies between the nodes about a spot.
func (s *stacks) add(sum *inside, t *stackTable, sp *spot) {
	for corner := range 1 << t.axes {
		weight, node := sp.share, int(sp.node)
		for i := range t.axes {
			if corner>>i&1 == 1 {
				node += t.step[i]
				weight *= sp.at[i]
			} else {
				weight *= 1 - sp.at[i]
			}
		}
		if weight >= leastWeight {
			sum.add(s.cell(t, node), float64(weight))
		}
	}
}

// ends spreads a share so that equal steps are finer towards both ends: s = (1 − cos πu)/2.
func ends(share float64) float64 {
	v := min(1, max(0, share)) * endSteps
	i := min(int(v), endSteps-1)
	return endTable[i] + (endTable[i+1]-endTable[i])*(v-float64(i))
}

const endSteps = 2048

var endTable = func() (t [endSteps + 1]float64) {
	for i := range t {
		t[i] = math.Acos(1-2*float64(i)/endSteps) / math.Pi
	}
	return t
}()

// within is its inverse.
func within(v float64) float64 { return (1 - math.Cos(math.Pi*v)) / 2 }

func (s *stacks) cell(t *stackTable, i int) *inside {
	if c := t.cells[i].Load(); c != nil {
		return c
	}
	c := s.work(t, i)
	t.cells[i].Store(c)
	return c
}

// work works a cell out.
func (s *stacks) work(t *stackTable, i int) *inside {
	var node [mostStrips]int
	for axis := range node {
		node[axis] = i / t.step[axis] % t.size[axis]
	}
	share := func(axis int) float64 {
		return within(float64(node[axis]) / float64(t.size[axis]-1))
	}
	v := float64(node[0]) / float64(t.size[0]-1)
	left := max(s.mostMM*v*v, cup.MinThicknessMM)
	var slices [mostStrips]mix.Slice
	for k := range t.order {
		o := &t.order[k]
		mm, of := left, o.share
		if k < len(t.order)-1 {
			mm = left * share(k+1)
		}
		if len(t.order) == 1 && o.blended() {
			of = share(1)
		}
		left -= mm
		slices[k] = mix.Slice{Mix: s.blend(o.a, o.b, of), MM: mm}
	}
	whole, own := s.parts(slices[:len(t.order)], s.at)
	seen, body := whole.Shown(), own.Linear()
	return &inside{body, colour.RGB{R: seen.R - body.R, G: seen.G - body.G, B: seen.B - body.B}}
}

func (s *stacks) blend(a, b int, share float64) *mix.Mix {
	if share <= 0 || a == b {
		return s.cups[a]
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	key := [3]int{a, b, int(share * 4096)}
	m, ok := s.blends[key]
	if !ok {
		m = mix.Blend(s.cups[a], s.cups[b], share)
		s.blends[key] = m
	}
	return m
}
