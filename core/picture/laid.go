package picture

import (
	"context"
	"math"

	"cloudburst/core/bait"
	"cloudburst/core/cores"
)

// Laid is a structure laid into a plan: which parts lie under each cell, and where in the tables their colours are to be
// found. It hangs on no colour, so it is worth keeping.
type Laid struct {
	parts []bait.Part
	cups  []int // by part
	plain bool
	grids []*grid
	tops  float64 // mm, to which the grids go
	// By cell and stretch: where each begins.
	start, spotAt []int32
	all           []laidRun
	spots         []spot
}

type laidRun struct {
	part, other int16
	share, mm   float32
}

// Lay lays a structure into a plan.
func Lay(p *BaitPlan, st *bait.Structure, split bait.Split, cavity int) *Laid {
	l := &Laid{parts: st.Parts(), plain: st.Plain(), tops: tableMM(p.mostMM)}
	for _, part := range l.parts {
		l.cups = append(l.cups, part.Cup)
	}
	if l.plain {
		l.grids = []*grid{gridOf([]strip{{a: l.cups[0], b: l.cups[0]}})}
		return l
	}
	cutter := bait.NewCutter(&p.Shape, st, split, cavity)
	places := &atlas{mostMM: l.tops}
	const some = 4096
	type piece struct {
		count, spotCount []int32
		runs             []laidRun
		spots            []spot
	}
	pieces := make([]piece, (len(p.cells)+some-1)/some)
	_ = cores.EachWith(context.Background(), len(pieces), func() *layer {
		return &layer{cutter: cutter.Another(), cups: l.cups, places: atlasReader{atlas: places}}
	}, func(w *layer, k int) error {
		q := &pieces[k]
		for i := k * some; i < min(len(p.cells), (k+1)*some); i++ {
			cell := &p.cells[i]
			for stretch := range 1 + moreStretches {
				n, m := len(q.runs), len(q.spots)
				if stretch <= int(cell.more) {
					r, s := p.ray(cell)
					if stretch > 0 {
						r, s = p.behind(cell, stretch-1)
					}
					for _, run := range w.cutter.Cut(&r, s) {
						q.runs = append(
							q.runs, laidRun{int16(run.Part), int16(run.Other), float32(run.Share), float32(run.MM)},
						)
					}
					q.spots = w.find(q.runs[n:], q.spots)
				}
				q.count, q.spotCount = append(q.count, int32(len(q.runs)-n)), append(q.spotCount, int32(len(q.spots)-m))
			}
		}
		return nil
	})
	runs, spots := 0, 0
	for i := range pieces {
		runs, spots = runs+len(pieces[i].runs), spots+len(pieces[i].spots)
	}
	n := len(p.cells)*(1+moreStretches) + 1
	l.start, l.spotAt = make([]int32, 1, n), make([]int32, 1, n)
	l.all, l.spots = make([]laidRun, 0, runs), make([]spot, 0, spots)
	for i := range pieces {
		q := &pieces[i]
		for k := range q.count {
			l.start = append(l.start, l.start[len(l.start)-1]+q.count[k])
			l.spotAt = append(l.spotAt, l.spotAt[len(l.spotAt)-1]+q.spotCount[k])
		}
		l.all, l.spots = append(l.all, q.runs...), append(l.spots, q.spots...)
	}
	l.grids = places.grids
	return l
}

// runs are those of one of a cell's stretches.
func (l *Laid) runs(p *BaitPlan, cell, stretch int) []laidRun {
	if !l.plain {
		i := cell*(1+moreStretches) + stretch
		return l.all[l.start[i]:l.start[i+1]]
	}
	return []laidRun{{mm: p.cells[cell].stretch(stretch)}}
}

// stretch is how much plastic one of a cell's stretches is, mm.
func (c *planCell) stretch(k int) float32 {
	if k == 0 {
		return c.mm
	}
	return c.rest[k-1][0] - c.rest[k-1][1]
}

// spotsOf are where the colours of one of a cell's stretches lie.
func (l *Laid) spotsOf(p *BaitPlan, cell, stretch int, one *[1]spot) []spot {
	if !l.plain {
		i := cell*(1+moreStretches) + stretch
		return l.spots[l.spotAt[i]:l.spotAt[i+1]]
	}
	g := l.grids[0]
	v := math.Sqrt(min(1, float64(p.cells[cell].stretch(stretch))/l.tops)) * float64(g.size[0]-1)
	low := min(int(v), g.size[0]-2)
	one[0] = spot{node: int32(low), share: 1, at: [mostStrips]float32{float32(v - float64(low))}}
	return one[:]
}

// layer is what one of several needs to lay a structure.
type layer struct {
	cutter *bait.Cutter
	cups   []int
	places atlasReader
	order  []strip
	apart  []strip
	one    [1]strip
}

// find appends where the colours of some runs behind each other lie.
func (w *layer) find(runs []laidRun, into []spot) []spot {
	w.order = w.order[:0]
	for _, r := range runs {
		s := strip{a: w.cups[r.part], b: w.cups[r.other], share: float64(r.share), mm: float64(r.mm)}
		if s.a == s.b || s.share == 0 {
			s.b, s.share = s.a, 0
		}
		if k := len(w.order) - 1; k >= 0 && !s.blended() && !w.order[k].blended() && w.order[k].a == s.a {
			w.order[k].mm += s.mm
			continue
		}
		w.order = append(w.order, s)
	}
	if len(w.order) == 0 {
		return into
	}
	// Two that have run into each other lie behind each other where the ray goes through other plastic, too; the more
	// of it they are, the more they count as the mixture that they are.
	var blend strip
	total, before, share := 0.0, 0.0, 0.0
	for _, s := range w.order {
		if s.blended() && s.mm > blend.mm {
			blend, before = s, total
		}
		total += s.mm
	}
	if blend.mm == 0 {
		w.order = fewer(w.order)
		return append(into, w.places.find(w.order, 1))
	}
	// What lies before it hides it, the sooner where it is something else.
	if first := w.order[0]; first.blended() || first.a == blend.a || first.a == blend.b {
		share = blend.mm / total * max(0, 1-before/hiddenMM)
	}
	w.one[0] = blend
	w.one[0].mm = total
	if share > 0.999 {
		return append(into, w.places.find(w.one[:], 1))
	}
	w.apart = apart(w.order, w.apart)
	if share > 0 {
		into = append(into, w.places.find(w.one[:], share))
	}
	return append(into, w.places.find(fewer(w.apart), 1-share))
}
