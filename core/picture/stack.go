package picture

import (
	"math"
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

// stackTable holds the colours of one order of strips, worked out where they are asked for. Its axes: the whole
// thickness, finer where it is thin; for each strip but the last its share of what is left, finer at both ends; for a
// single blend its share.
type stackTable struct {
	order []strip // without thickness
	size  [mostStrips]int
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
	upToM map[int]*stacks // by tens of mm
}

// NewPalette begins one.
func NewPalette(cups []*mix.Mix, at mix.Condition) *Palette {
	at = grounded(at)
	p := &Palette{bases: make([]*mix.Mix, len(cups)), at: at, upToM: map[int]*stacks{}}
	for i, m := range cups {
		if m != nil {
			p.bases[i] = between(m, at)
		}
	}
	return p
}

// upTo are the tables for baits up to so thick.
func (p *Palette) upTo(mm float64) *stacks {
	p.mu.Lock()
	defer p.mu.Unlock()
	tens := int(mm/10) + 1
	s, ok := p.upToM[tens]
	if !ok {
		s = &stacks{cups: p.bases, at: p.at, mostMM: 10 * float64(tens), blends: map[[3]int]*mix.Mix{}}
		p.upToM[tens] = s
	}
	return s
}

// stacks are the tables of one picture; several may ask at once, each by its own stackReader.
type stacks struct {
	cups   []*mix.Mix
	at     mix.Condition
	mostMM float64
	mu     sync.Mutex
	tables []*stackTable
	blends map[[3]int]*mix.Mix
}

// stackReader remembers which tables were asked last.
type stackReader struct {
	*stacks
	recent []*stackTable
}

func (s *stackReader) table(order []strip) *stackTable {
	for i, t := range s.recent {
		if t.like(order) {
			if i > 0 { // the next pixel will most likely ask for the same
				s.recent[i], s.recent[i-1] = s.recent[i-1], t
			}
			return t
		}
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, t := range s.tables {
		if t.like(order) {
			s.recent = append(s.recent, t)
			return t
		}
	}
	t := &stackTable{order: append([]strip(nil), order...)}
	axes := len(order)
	steps := tableSteps[axes]
	if len(order) == 1 && order[0].blended() {
		axes, steps = 2, [2]int{21, 9}
	}
	cells := 1
	for i := range t.size {
		t.size[i] = 1
		if i < axes {
			t.size[i] = steps[min(i, 1)]
		}
		cells *= t.size[i]
	}
	t.cells = make([]atomic.Pointer[inside], cells)
	s.tables = append(s.tables, t)
	s.recent = append(s.recent, t)
	return t
}

func (t *stackTable) like(order []strip) bool {
	if len(order) != len(t.order) {
		return false
	}
	for i := range order {
		if order[i].a != t.order[i].a || order[i].b != t.order[i].b ||
			(len(order) > 1 && order[i].share != t.order[i].share) ||
			order[i].blended() != t.order[i].blended() {
			return false
		}
	}
	return true
}

// colour of strips under a pixel, between the nearest cells of their table.
func (s *stackReader) colour(order []strip) (sum inside) {
	if len(order) == 0 {
		return sum
	}
	t := s.table(order)
	total := 0.0
	for i := range order {
		total += order[i].mm
	}
	var at [mostStrips]float64
	at[0] = math.Sqrt(min(1, total/s.mostMM)) * float64(t.size[0]-1)
	axes := 1
	if len(order) == 1 {
		if order[0].blended() {
			at[1] = ends(order[0].share) * float64(t.size[1]-1)
			axes = 2
		}
	} else {
		left := total
		for i := range len(order) - 1 {
			share := 0.0
			if left > 0 {
				share = order[i].mm / left
			}
			left -= order[i].mm
			at[i+1] = ends(share) * float64(t.size[i+1]-1)
		}
		axes = len(order)
	}
	var low [mostStrips]int
	for i := range axes {
		low[i] = max(0, min(int(at[i]), t.size[i]-2))
		at[i] -= float64(low[i])
	}
	for corner := range 1 << axes {
		weight := 1.0
		node := low
		for i := range axes {
			if corner>>i&1 == 1 {
				node[i]++
				weight *= at[i]
			} else {
				weight *= 1 - at[i]
			}
		}
		if weight >= 1e-4 {
			sum.add(s.cell(t, node), weight)
		}
	}
	return sum
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

func (s *stacks) cell(t *stackTable, node [mostStrips]int) *inside {
	i := ((node[3]*t.size[2]+node[2])*t.size[1]+node[1])*t.size[0] + node[0]
	if c := t.cells[i].Load(); c != nil {
		return c
	}
	c := s.work(t, node)
	t.cells[i].Store(c)
	return c
}

// work works a cell out.
func (s *stacks) work(t *stackTable, node [mostStrips]int) *inside {
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
	whole, own := mix.StackParts(slices[:len(t.order)], s.at)
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
