package picture

import (
	"math"

	"cloudburst/core/bait"
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

// blendSteps is how finely a blend behind or before other strips is told apart.
const blendSteps = 16

var blendShares = func() (t [blendSteps + 1]float64) {
	for i := range t {
		t[i] = within(float64(i) / blendSteps)
	}
	return t
}()

// strips makes runs of parts into strips of cups.
func strips(runs []bait.Run, parts []bait.Part, into []strip) []strip {
	into = into[:0]
	for _, r := range runs {
		s := strip{a: parts[r.Part].Cup, b: parts[r.Other].Cup, share: r.Share, mm: r.MM}
		if s.a == s.b || s.share == 0 {
			s.b, s.share = s.a, 0
		}
		if k := len(into) - 1; k >= 0 && !s.blended() && !into[k].blended() && into[k].a == s.a {
			into[k].mm += s.mm
			continue
		}
		into = append(into, s)
	}
	for len(into) > mostStrips { // join the thinnest two neighbours behind the front
		least := 1
		for i := 1; i+1 < len(into); i++ {
			if into[i].mm+into[i+1].mm < into[least].mm+into[least+1].mm {
				least = i
			}
		}
		into[least] = joined(into[least], into[least+1])
		into = append(into[:least+1], into[least+2:]...)
	}
	if len(into) > 1 {
		for i := range into {
			if into[i].share > 0 {
				into[i].share = blendShares[int(ends(into[i].share)*blendSteps+0.5)]
			}
		}
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

// stackTable holds the colours of one order of strips, in linear light, worked out where they are asked for. Its axes:
// the whole thickness, finer where it is thin; for each strip but the last its share of what is left, finer at both ends;
// for a single blend its share.
type stackTable struct {
	order []strip // without thickness
	size  [mostStrips]int
	cells []rgb32
}

type rgb32 struct{ r, g, b float32 }

// Steps of the axes, by how many there are.
var tableSteps = [mostStrips + 1][2]int{1: {49, 0}, 2: {49, 17}, 3: {33, 13}, 4: {25, 9}}

// stacks are the tables of one picture.
type stacks struct {
	cups   []*mix.Mix
	at     mix.Condition
	mostMM float64
	tables []*stackTable
	blends map[[3]int]*mix.Mix
}

func (s *stacks) table(order []strip) *stackTable {
	for i, t := range s.tables {
		if t.like(order) {
			if i > 0 { // the next pixel will most likely ask for the same
				s.tables[i], s.tables[i-1] = s.tables[i-1], t
			}
			return t
		}
	}
	t := &stackTable{order: append([]strip(nil), order...)}
	axes := len(order)
	steps := tableSteps[axes]
	if len(order) == 1 && order[0].blended() {
		axes, steps = 2, [2]int{25, 13}
	}
	cells := 1
	for i := range t.size {
		t.size[i] = 1
		if i < axes {
			t.size[i] = steps[min(i, 1)]
		}
		cells *= t.size[i]
	}
	t.cells = make([]rgb32, cells)
	for i := range t.cells {
		t.cells[i].r = -1
	}
	s.tables = append(s.tables, t)
	return t
}

// blends says that the colour goes by a share, which changes faster than a thickness does.
func (t *stackTable) blends() bool { return t != nil && len(t.order) == 1 && t.order[0].blended() }

func (t *stackTable) like(order []strip) bool {
	if len(order) != len(t.order) {
		return false
	}
	for i := range order {
		if order[i].a != t.order[i].a || order[i].b != t.order[i].b || (len(order) > 1 && order[i].share != t.order[i].share) ||
			order[i].blended() != t.order[i].blended() {
			return false
		}
	}
	return true
}

// colour of strips under a pixel, between the nearest cells of their table.
func (s *stacks) colour(order []strip) (colour.RGB, *stackTable) {
	if len(order) == 0 {
		return colour.RGB{}, nil
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
	if axes == 1 {
		low[0] = min(int(at[0]), t.size[0]-2)
		f := at[0] - float64(low[0])
		a := s.cell(t, low)
		low[0]++
		b := s.cell(t, low)
		return mixRGB(colour.RGB{R: float64(a.r), G: float64(a.g), B: float64(a.b)}, colour.RGB{R: float64(b.r), G: float64(b.g), B: float64(b.b)}, f), t
	}
	for i := range axes {
		low[i] = max(0, min(int(at[i]), t.size[i]-2))
		at[i] -= float64(low[i])
	}
	var sum colour.RGB
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
		if weight < 1e-4 {
			continue
		}
		c := s.cell(t, node)
		sum.R += weight * float64(c.r)
		sum.G += weight * float64(c.g)
		sum.B += weight * float64(c.b)
	}
	return sum, t
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

func (s *stacks) cell(t *stackTable, node [mostStrips]int) rgb32 {
	i := ((node[3]*t.size[2]+node[2])*t.size[1]+node[1])*t.size[0] + node[0]
	if c := t.cells[i]; c.r >= 0 {
		return c
	}
	return s.work(t, node, i)
}

// work works a cell out.
func (s *stacks) work(t *stackTable, node [mostStrips]int, i int) rgb32 {
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
	lin := linearOf(mix.StackColour(slices[:len(t.order)], s.at).SRGB())
	t.cells[i] = rgb32{float32(lin.R), float32(lin.G), float32(lin.B)}
	return t.cells[i]
}

func (s *stacks) blend(a, b int, share float64) *mix.Mix {
	if share <= 0 || a == b {
		return s.cups[a]
	}
	key := [3]int{a, b, int(share * 4096)}
	m, ok := s.blends[key]
	if !ok {
		m = mix.Blend(s.cups[a], s.cups[b], share)
		s.blends[key] = m
	}
	return m
}
