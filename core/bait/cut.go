package bait

import "math"

// Run is a stretch of plastic along a ray: of one part, or of two that have run into each other.
type Run struct {
	Part, Other int     // places in Structure.Parts
	Share       float64 // of Other
	MM          float64
}

// leastRunMM is less than anyone sees.
const leastRunMM = 1e-3

// Cutter cuts rays through a bait into runs. It is made for a shape, a structure and one shot of its mold, and keeps what
// it needs between rays; it is not for use by several at once.
type Cutter struct {
	st     *Structure
	shape  *Shape
	split  Split
	cavity int
	body   span
	tops   [maxLayers]float64 // y of the layers' upper edges at the column
	x      float64
	laid   bool // something is laid over the layers at the column
	line   []piece
	next   []piece
	runs   []Run
}

// piece of a ray while it is cut; part -1 is a gap.
type piece struct {
	to          float64
	part, other int
	share       float64
}

// NewCutter makes a cutter. Cavity 0 is the typical one, without a shot's own chance.
func NewCutter(s *Shape, st *Structure, split Split, cavity int) *Cutter {
	return &Cutter{st: st, shape: s, split: split, cavity: cavity, body: s.bodyHeight(), x: math.NaN()}
}

// YOf is the height of a share of the body, mm from the axis.
func (c *Cutter) YOf(share float64) float64 {
	return c.body.from + (share+1)/2*c.body.length()
}

// column works out where the layers end at an x.
func (c *Cutter) column(x float64) {
	if x == c.x {
		return
	}
	c.x = x
	n := len(c.st.Layers)
	for i := range n {
		c.tops[i] = c.YOf(c.st.Layers[i].Top)
	}
	c.tops[n-1] = math.Inf(1)
	c.laid = c.st.over(x)
	if n > 1 {
		c.split.lay(c.tops[:n], c.body, (x-c.shape.FromX)/(c.shape.ToX-c.shape.FromX), c.cavity)
	}
}

// over says whether anything lies over the layers at an x.
func (st *Structure) over(x float64) bool {
	if (st.Core != nil && x >= st.Core.FromMM && x <= st.Core.ToMM) || (st.Skin != nil && x <= st.Skin.ToMM) || (st.Tail != nil && x >= st.Tail.FromMM) {
		return true
	}
	for i := range st.Bars {
		if math.Abs(x-st.Bars[i].AtMM) <= st.Bars[i].WideMM/2 {
			return true
		}
	}
	for i := range st.Spots {
		if math.Abs(x-st.Spots[i].AtMM) < st.Spots[i].AcrossMM/2 {
			return true
		}
	}
	return false
}

// Cut gives the runs of the ray through a column at a height of the screen, front to back. The slice is used again by the
// next call.
func (c *Cutter) Cut(col *Column, u float64, t *Through) []Run {
	c.runs = c.runs[:0]
	if t.MM <= 0 {
		return c.runs
	}
	c.column(col.X)
	if math.Abs(col.sin) < 1e-9 && !c.laid { // level: the ray stays at one height
		c.runs = append(c.runs, c.level(u*col.cos))
		c.runs[0].MM = t.MM
		return c.runs
	}
	c.pieces(col, u, t)
	from := t.From
	for _, p := range c.line {
		mm := p.to - from
		from = p.to
		if p.part < 0 || mm < leastRunMM {
			continue
		}
		if k := len(c.runs) - 1; k >= 0 && c.runs[k].Part == p.part && c.runs[k].Other == p.other && math.Abs(c.runs[k].Share-p.share) < 0.02 {
			c.runs[k].MM += mm
			continue
		}
		c.runs = append(c.runs, Run{p.part, p.other, p.share, mm})
	}
	return c.runs
}

// pieces lays the parts on the ray, each over those that were there before it.
func (c *Cutter) pieces(col *Column, u float64, t *Through) {
	c.line = append(c.line[:0], piece{to: t.To})
	sec := &col.sections[t.Section]
	c.layers(col, u, span{t.From, t.To})
	part := len(c.st.Layers)
	if k := c.st.Core; k != nil {
		if t.Body && col.X >= k.FromMM && col.X <= k.ToMM {
			r := min(k.WideMM/2, 0.9*sec.hy, 0.9*sec.hz)
			rod := section{hy: r, hz: r, cy: sec.cy, cz: sec.cz}
			if in, ok := rod.crosses(col.sin, col.cos, u, 0); ok {
				c.paint(t.From, in, part)
			}
		}
		part++
	}
	if k := c.st.Skin; k != nil {
		if t.Body && col.X <= k.ToMM {
			// It thins out to its end.
			deep := k.DeepMM * math.Sqrt(max(0, 1-col.X/k.ToMM*col.X/k.ToMM))
			c.shell(col, u, t, sec, 0, deep, part, span{math.Inf(-1), math.Inf(1)}, false)
		}
		part++
	}
	if k := c.st.Tail; k != nil {
		if col.X >= k.FromMM {
			c.paint(t.From, span{t.From, t.To}, part)
		}
		part++
	}
	for i := range c.st.Bars {
		b := &c.st.Bars[i]
		if off := (col.X - b.AtMM) / (b.WideMM / 2); math.Abs(off) <= 1 {
			// A stripe that was laid ends in a rounded tongue.
			down := c.YOf(b.Down) + (c.YOf(1)-c.YOf(b.Down))*0.25*off*off
			c.shell(col, u, t, sec, b.UnderMM, b.DeepMM, part+i, span{down, math.Inf(1)}, false)
		}
	}
	part += len(c.st.Bars)
	for i := range c.st.Spots {
		s := &c.st.Spots[i]
		if dx, r := col.X-s.AtMM, s.AcrossMM/2; math.Abs(dx) < r {
			half := math.Sqrt(r*r - dx*dx)
			within := span{s.UpMM - half, s.UpMM + half}
			if c.shape.Lying { // on its back, and so by z, which runs down the screen there
				within = span{-within.to, -within.from}
			}
			c.shell(col, u, t, sec, s.UnderMM, s.DeepMM, part+i, within, c.shape.Lying)
		}
	}
	hollow, slot := col.gaps(sec, u, span{t.From, t.To})
	c.paint(t.From, hollow, -1)
	c.paint(t.From, slot, -1)
}

// layers lays the layers on the ray, and what runs into each other between them.
func (c *Cutter) layers(col *Column, u float64, in span) {
	n := len(c.st.Layers)
	if n == 1 {
		return
	}
	y := func(depth float64) float64 { return u*col.cos - depth*col.sin }
	seen := span{min(y(in.from), y(in.to)), max(y(in.from), y(in.to))}
	// depthOf is the stretch of the ray between two heights.
	depthOf := func(h span) span {
		a, b := (u*col.cos-h.from)/col.sin, (u*col.cos-h.to)/col.sin
		return span{min(a, b), max(a, b)}.and(in)
	}
	if math.Abs(col.sin) < 1e-9 {
		r := c.level(u * col.cos)
		c.lay(in.from, in, piece{part: r.Part, other: r.Other, share: r.Share})
		return
	}
	below := math.Inf(-1)
	for i := range n {
		c.paint(in.from, depthOf(span{below, c.tops[i]}), i)
		below = c.tops[i]
	}
	for i := range n - 1 {
		zone := span{c.tops[i] - c.st.Layers[i].BlurMM/2, c.tops[i] + c.st.Layers[i].BlurMM/2}
		part := zone.and(seen)
		// A zone that is crossed from end to end looks as its sharp boundary does.
		if part.length() <= 0 || part.length() >= zone.length()-1e-9 {
			continue
		}
		c.blend(in.from, depthOf(part), i, i+1, c.above(i, (part.from+part.to)/2))
	}
}

// level is what lies at a height.
func (c *Cutter) level(y float64) Run {
	n := len(c.st.Layers)
	i := 0
	for i < n-1 && y >= c.tops[i] {
		i++
	}
	r := Run{Part: i, Other: i}
	for _, below := range [2]int{i - 1, i} { // the boundary under it, and the one over it
		if below < 0 || below >= n-1 {
			continue
		}
		if share := c.above(below, y); share > 0.005 && share < 0.995 {
			return Run{Part: below, Other: below + 1, Share: share}
		}
	}
	return r
}

// above is the share of the layer above in what lies at a height about the upper edge of a layer.
func (c *Cutter) above(layer int, y float64) float64 {
	blur := c.st.Layers[layer].BlurMM
	if blur <= 0 {
		if y >= c.tops[layer] {
			return 1
		}
		return 0
	}
	v := min(1, max(0, (y-c.tops[layer])/blur+0.5))
	return v * v * (3 - 2*v)
}

// shell lays a part on the ray where it lies between two depths under the surface, and within heights or, across, within
// a stretch of z.
func (c *Cutter) shell(col *Column, u float64, t *Through, sec *section, under, deep float64, part int, stretch span, across bool) {
	outer, ok := sec.crosses(col.sin, col.cos, u, under)
	if !ok {
		return
	}
	// y = u·cos − t·sin, z = −u·sin − t·cos.
	at, along := u*col.cos, col.sin
	if across {
		at, along = -u*col.sin, col.cos
	}
	within := outer
	if math.Abs(along) < 1e-9 {
		if at < stretch.from || at > stretch.to {
			return
		}
	} else {
		a, b := (at-stretch.from)/along, (at-stretch.to)/along
		within = within.and(span{min(a, b), max(a, b)})
	}
	inner, ok := sec.crosses(col.sin, col.cos, u, under+deep)
	if !ok {
		c.paint(t.From, within, part)
		return
	}
	c.paint(t.From, within.and(span{outer.from, inner.from}), part)
	c.paint(t.From, within.and(span{inner.to, outer.to}), part)
}

func (c *Cutter) paint(start float64, s span, part int) { c.lay(start, s, piece{part: part}) }

func (c *Cutter) blend(start float64, s span, part, other int, share float64) {
	switch {
	case share < 0.01:
		c.paint(start, s, part)
	case share > 0.99:
		c.paint(start, s, other)
	default:
		c.lay(start, s, piece{part: part, other: other, share: share})
	}
}

// lay puts a piece over what was there.
func (c *Cutter) lay(start float64, s span, p piece) {
	if s.to-s.from < 1e-9 {
		return
	}
	c.next = c.next[:0]
	from := start
	add := func(q piece, a, b float64) {
		if b > a {
			q.to = b
			c.next = append(c.next, q)
		}
	}
	for _, q := range c.line {
		add(q, from, min(q.to, s.from))
		if cover := (span{from, q.to}).and(s); cover.to > cover.from {
			add(p, cover.from, cover.to)
		}
		add(q, max(from, s.to), q.to)
		from = q.to
	}
	c.line, c.next = c.next, c.line
}
