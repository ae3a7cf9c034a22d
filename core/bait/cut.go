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

// Cutter cuts rays through a bait into runs. It is made for a shape, a structure and one shot of its mold, and keeps
// what it needs between rays; it is not for use by several at once.
type Cutter struct {
	st    *Structure
	shape *Shape
	body  span
	tops  [][mostSlices]float64 // y of the layers' upper edges, by x in steps of topsMM
	over  []bool                // whether anything is laid over the layers there
	line  []piece
	next  []piece
	runs  []Run
}

// topsMM is how closely boundaries are tabled along a bait.
const topsMM = 0.5

// piece of a ray while it is cut.
type piece struct {
	to          float64
	part, other int
	share       float64
}

// NewCutter makes a cutter. Cavity 0 is the typical one, without a shot's own chance.
func NewCutter(s *Shape, st *Structure, split Split, cavity int) *Cutter {
	c := &Cutter{st: st, shape: s, body: s.bodyHeight()}
	n := len(st.Layers)
	steps := int((s.ToX-s.FromX)/topsMM) + 2
	c.tops, c.over = make([][mostSlices]float64, steps), make([]bool, steps)
	for k := range c.tops {
		x := s.FromX + float64(k)*topsMM
		tops := c.tops[k][:n]
		for i := range n {
			tops[i] = c.YOf(st.Layers[i].Top)
		}
		tops[n-1] = math.Inf(1)
		if n > 1 {
			split.lay(tops, c.body, (x-s.FromX)/(s.ToX-s.FromX), cavity)
			tops[n-1] = 1e6
		}
		c.over[k] = st.over(x, topsMM)
	}
	return c
}

// Another is a cutter of the same bait, for use beside it.
func (c *Cutter) Another() *Cutter {
	return &Cutter{st: c.st, shape: c.shape, body: c.body, tops: c.tops, over: c.over}
}

// YOf is the height of a share of the body, mm from the axis.
func (c *Cutter) YOf(share float64) float64 {
	return c.body.from + (share+1)/2*c.body.length()
}

// over says whether anything lies over the layers near an x.
func (st *Structure) over(x, near float64) bool {
	if (st.Core != nil && x >= st.Core.FromMM-near && x <= st.Core.ToMM+near) ||
		(st.Skin != nil && x <= st.Skin.ToMM+near) || (st.Tail != nil && x >= st.Tail.FromMM-near) {
		return true
	}
	for i := range st.Bars {
		if math.Abs(x-st.Bars[i].AtMM) <= st.Bars[i].WideMM/2+near {
			return true
		}
	}
	for i := range st.Spots {
		if math.Abs(x-st.Spots[i].AtMM) < st.Spots[i].AcrossMM/2+near {
			return true
		}
	}
	return false
}

// place is where an x lies in the tables.
func (c *Cutter) place(x float64) (i int, f float64) {
	v := min(float64(len(c.tops)-2), max(0, (x-c.shape.FromX)/topsMM))
	i = int(v)
	return i, v - float64(i)
}

// top is a layer's upper edge at an x.
func (c *Cutter) top(layer int, x float64) float64 {
	i, f := c.place(x)
	return c.tops[i][layer] + f*(c.tops[i+1][layer]-c.tops[i][layer])
}

// Cut gives the runs of a stretch of a ray, the near end first. The slice is used again by the next call.
func (c *Cutter) Cut(r *Ray, s Stretch) []Run {
	c.runs = c.runs[:0]
	if s.Length() <= 0 {
		return c.runs
	}
	c.line = append(c.line[:0], piece{to: s.Out})
	c.layers(r, s)
	a, _ := c.place(r.At(s.In)[0])
	b, _ := c.place(r.At(s.Out)[0])
	for k := min(a, b); k <= max(a, b)+1; k++ {
		if c.over[k] {
			c.laid(r, s)
			break
		}
	}
	from := s.In
	for _, p := range c.line {
		mm := p.to - from
		from = p.to
		if mm < leastRunMM {
			continue
		}
		if k := len(c.runs) - 1; k >= 0 && c.runs[k].Part == p.part && c.runs[k].Other == p.other &&
			math.Abs(c.runs[k].Share-p.share) < 0.02 {
			c.runs[k].MM += mm
			continue
		}
		c.runs = append(c.runs, Run{p.part, p.other, p.share, mm})
	}
	return c.runs
}

// laid lays what lies over the layers on the ray, each over those that were there before it.
func (c *Cutter) laid(r *Ray, s Stretch) {
	all := span{s.In, s.Out}
	part := len(c.st.Layers)
	if k := c.st.Core; k != nil {
		in := along(r, k.FromMM, k.ToMM).and(all)
		if in.length() > 0 {
			c.paint(s.In, c.rod(r, k.WideMM/2, in).and(in), part)
		}
		part++
	}
	if k := c.st.Skin; k != nil {
		in := along(r, math.Inf(-1), k.ToMM).and(all)
		// It thins out to its end.
		deep := func(mm float64) float64 {
			v := max(0, r.At(mm)[0]) / k.ToMM
			return k.DeepMM * math.Sqrt(max(0, 1-v*v))
		}
		c.shell(s, in, 0, deep(s.In), deep(s.Out), part)
		part++
	}
	if k := c.st.Tail; k != nil {
		c.paint(s.In, along(r, k.FromMM, math.Inf(1)).and(all), part)
		part++
	}
	for i := range c.st.Bars {
		b := &c.st.Bars[i]
		in := along(r, b.AtMM-b.WideMM/2, b.AtMM+b.WideMM/2).and(all)
		if in.length() > 0 {
			// A stripe that was laid ends in a rounded tongue.
			off := (r.At((in.from + in.to) / 2)[0] - b.AtMM) / (b.WideMM / 2)
			down := c.YOf(b.Down) + (c.YOf(1)-c.YOf(b.Down))*0.25*off*off
			in = between(r.From[1], r.Way[1], down, math.Inf(1)).and(in)
			c.shell(s, in, b.UnderMM, b.DeepMM, b.DeepMM, part+i)
		}
	}
	part += len(c.st.Bars)
	for i := range c.st.Spots {
		p := &c.st.Spots[i]
		k, up := 1, p.UpMM
		if c.shape.Lying { // on its back, and so by z, which runs down the picture there
			k, up = 2, -p.UpMM
		}
		in := inCircle(r.From[0]-p.AtMM, r.From[k]-up, r.Way[0], r.Way[k], p.AcrossMM/2).and(all)
		c.shell(s, in, p.UnderMM, p.DeepMM, p.DeepMM, part+i)
	}
}

// along is where a ray lies between two x.
func along(r *Ray, from, to float64) span { return between(r.From[0], r.Way[0], from, to) }

// between is where p + q·t lies between two limits.
func between(p, q, from, to float64) span {
	if math.Abs(q) < 1e-12 {
		if p < from || p > to {
			return span{}
		}
		return span{math.Inf(-1), math.Inf(1)}
	}
	a, b := (from-p)/q, (to-p)/q
	return span{min(a, b), max(a, b)}
}

// inCircle is where a ray, seen along the axis of a round rod, lies in it.
func inCircle(x, y, dx, dy, r float64) span {
	a, b, c := dx*dx+dy*dy, x*dx+y*dy, x*x+y*y-r*r
	if a < 1e-12 {
		if c > 0 {
			return span{}
		}
		return span{math.Inf(-1), math.Inf(1)}
	}
	d := b*b - a*c
	if d <= 0 {
		return span{}
	}
	d = math.Sqrt(d)
	return span{(-b - d) / a, (-b + d) / a}
}

// rod is where a ray lies in a core about the body's middle; it gives way where the body is thinner.
func (c *Cutter) rod(r *Ray, half float64, in span) span {
	body := c.shape.at(r.At((in.from + in.to) / 2)[0])
	return inCircle(r.From[1]-body.cy, r.From[2]-body.cz, r.Way[1], r.Way[2], min(half, 0.9*body.hy, 0.9*body.hz))
}

// layers lays the layers on the ray, and what runs into each other between them.
func (c *Cutter) layers(r *Ray, s Stretch) {
	n := len(c.st.Layers)
	if n == 1 {
		return
	}
	all := span{s.In, s.Out}
	a, b := r.At(s.In), r.At(s.Out)
	// How far the ray lies over each boundary, at its two ends; between them it goes evenly.
	var in, out [mostSlices]float64
	for i := range n - 1 {
		in[i], out[i] = a[1]-c.top(i, a[0]), b[1]-c.top(i, b[0])
	}
	// where is the stretch in which it lies so far over a boundary.
	where := func(i int, from, to float64) span {
		q := (out[i] - in[i]) / s.Length()
		return between(in[i]-q*s.In, q, from, to).and(all)
	}
	for i := 1; i < n; i++ {
		c.paint(s.In, where(i-1, 0, math.Inf(1)), i)
	}
	for i := range n - 1 {
		half := c.st.Layers[i].BlurMM / 2
		if half <= 0 {
			continue
		}
		low, high := max(-half, min(in[i], out[i])), min(half, max(in[i], out[i]))
		if high < low {
			continue
		}
		c.blend(s.In, where(i, low-1e-9, high+1e-9), i, i+1, c.above(i, (low+high)/2))
	}
}

// above is the share of the layer above in what lies so far over the upper edge of a layer.
func (c *Cutter) above(layer int, off float64) float64 {
	blur := c.st.Layers[layer].BlurMM
	if blur <= 0 {
		if off >= 0 {
			return 1
		}
		return 0
	}
	v := min(1, max(0, off/blur+0.5))
	return v * v * (3 - 2*v)
}

// leastCos keeps a shell from running on for ever where a ray grazes the skin.
const leastCos = 0.12

// shell lays a part on the ray where it lies between two depths under the skin, within a stretch: so deep where the ray
// goes in, and where it comes out.
func (c *Cutter) shell(s Stretch, within span, under, deepIn, deepOut float64, part int) {
	if within.length() <= 0 {
		return
	}
	in, out := max(leastCos, s.InCos), max(leastCos, s.OutCos)
	near := span{s.In + under/in, s.In + (under+deepIn)/in}
	far := span{s.Out - (under+deepOut)/out, s.Out - under/out}
	if deepIn > 0 {
		c.paint(s.In, near.and(span{s.In + under/in, s.Out - under/out}).and(within), part)
	}
	if deepOut > 0 {
		c.paint(s.In, far.and(span{s.In + under/in, s.Out - under/out}).and(within), part)
	}
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
