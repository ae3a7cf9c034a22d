package bait

import (
	"math"

	"cloudburst/core/measure"
)

// Shape is a bait as it leaves its mold.
type Shape struct {
	Key   string  `json:"key"`
	Name  string  `json:"name"`
	About string  `json:"about"`
	FromX float64 `json:"-"`
	ToX   float64 `json:"lengthMM"`
	HalfY float64 `json:"-"`     // no part lies further than this from the axis
	Lying bool    `json:"lying"` // a flat bait, looked at from above: its main view shows the back
	parts []part
	slots []Slot
}

// View is how far a bait is rolled about its length, degrees: towards you its back comes up, away its belly.
type View float64

// The views that have a name.
const (
	Side  View = 0
	Back  View = 90
	Belly View = -90
)

// Main is the view that a shape is made for.
func (s *Shape) Main() View {
	if s.Lying {
		return Back
	}
	return Side
}

// Slot is room for a hook: it takes volume, and thins the wall.
type Slot struct {
	FromMM float64 `json:"fromMM" minimum:"0" maximum:"400"`
	ToMM   float64 `json:"toMM" minimum:"0" maximum:"400"`
	DeepMM float64 `json:"deepMM" minimum:"0" maximum:"60"`
	WideMM float64 `json:"wideMM" minimum:"0" maximum:"30"`
	InBack bool    `json:"inBack" doc:"Open to the back; else to the belly"`
}

// part is a solid along x whose cross-section is a superellipse |y/h|^n + |z/w|^n = 1 about a centre line.
type part struct {
	from, to float64
	half     func(s float64) float64 // half size across the main view, at a share s of the part's length
	wide     func(s float64) float64 // half thickness through the main view
	centre   func(s float64) float64 // of the axis, across the main view
	flat     bool                    // n = 6, a slab with rounded edges; else an ellipse
	wallMM   float64                 // hollow, with a wall so thick
}

// section is a part cut across: half sizes and middle.
type section struct {
	part           int
	hy, hz, cy, cz float64
	flat           bool
	wall           float64
}

// at cuts a part at x; ok is false beyond it.
func (p *part) at(x float64, lying bool) (c section, ok bool) {
	if x < p.from || x > p.to {
		return c, false
	}
	s := (x - p.from) / (p.to - p.from)
	c = section{hy: p.half(s), hz: p.wide(s), flat: p.flat, wall: p.wallMM}
	if p.centre != nil {
		c.cy = p.centre(s)
	}
	if lying {
		c.hy, c.hz, c.cy, c.cz = c.hz, c.hy, 0, c.cy
	}
	return c, c.hy > 1e-6 && c.hz > 1e-6
}

// span is a stretch of a ray, by depth.
type span struct{ from, to float64 }

func (s span) length() float64 { return max(0, s.to-s.from) }

func (s span) and(o span) span { return span{max(s.from, o.from), min(s.to, o.to)} }

// crosses is the stretch in which a ray at height u of the screen lies in the section, made smaller all round by so much.
// Height and depth are measured from the bait's axis; ok is false where the ray misses.
func (c *section) crosses(sin, cos, u, smaller float64) (in span, ok bool) {
	hy, hz := c.hy-smaller, c.hz-smaller
	if hy <= 0 || hz <= 0 {
		return in, false
	}
	middle := -(c.cy*sin + c.cz*cos) // depth of the section's middle
	u -= c.cy*cos - c.cz*sin
	if !c.flat {
		// Y = u·cos − t·sin, Z = −u·sin − t·cos in Y²/hy² + Z²/hz² = 1.
		qy, qz := 1/(hy*hy), 1/(hz*hz)
		a, b := sin*sin*qy+cos*cos*qz, u*sin*cos*(qz-qy)
		d := b*b - a*(u*u*(cos*cos*qy+sin*sin*qz)-1)
		if d <= 0 {
			return in, false
		}
		d = math.Sqrt(d)
		return span{middle + (-b-d)/a, middle + (-b+d)/a}, true
	}
	in = span{-math.MaxFloat64, math.MaxFloat64}
	for _, box := range [2][3]float64{{u * cos, -sin, hy}, {-u * sin, -cos, hz}} { // |p + q·t| ≤ h
		p, q, h := box[0], box[1], box[2]
		if math.Abs(q) < 1e-12 {
			if math.Abs(p) >= h {
				return in, false
			}
			continue
		}
		in = in.and(span{min((-h-p)/q, (h-p)/q), max((-h-p)/q, (h-p)/q)})
	}
	if in.length() <= 0 {
		return in, false
	}
	// |Y/hy|⁶ + |Z/hz|⁶ is convex along the ray: Newton's steps from the box's faces come down on the edge from outside.
	for end := range 2 {
		t, down := in.from, -1.0
		if end == 1 {
			t, down = in.to, 1
		}
		for range 40 {
			y, z := (u*cos-t*sin)/hy, (-u*sin-t*cos)/hz
			y2, z2 := y*y, z*z
			f := y2*y2*y2 + z2*z2*z2 - 1
			if f < 1e-7 {
				break
			}
			slope := 6 * (y2*y2*y*(-sin)/hy + z2*z2*z*(-cos)/hz)
			if slope*down <= 1e-12 {
				return in, false
			}
			t -= f / slope
		}
		if end == 0 {
			in.from = t
		} else {
			in.to = t
		}
	}
	return span{in.from + middle, in.to + middle}, in.to > in.from
}

// reach is half the section's size on the screen, and where its middle lies.
func (c *section) reach(sin, cos float64) (half, middle float64) {
	a, b := math.Abs(c.hy*cos), math.Abs(c.hz*sin)
	if c.flat { // the support of a superellipse goes by the dual power, 6/5
		half = math.Pow(math.Pow(a, 1.2)+math.Pow(b, 1.2), 1/1.2)
	} else {
		half = math.Hypot(a, b)
	}
	return half, c.cy*cos - c.cz*sin
}

// Through is what lies under one point of the picture.
type Through struct {
	MM    float64 // of plastic
	Round float64 // 1 in the middle of its part, 0 at the edge: for soft shading
	Body  bool    // the thick part; else a tail, fin or claw
	// Where the ray enters and leaves, by depth from the bait's axis, and through which of the column's sections.
	From, To float64
	Section  int
}

// Column is a bait cut at one x: every part that lies there, ready to be asked for any height of the screen.
type Column struct {
	X        float64
	sin, cos float64
	sections []section
	slots    []box // in the body
}

// box is a stretch of y and z without plastic.
type box struct{ y, z span }

// Column cuts the bait at x for a view. The column that is handed in is used again.
func (s *Shape) Column(x float64, view View, col *Column) {
	col.X, col.sections, col.slots = x, col.sections[:0], col.slots[:0]
	col.sin, col.cos = math.Sincos(float64(view) * math.Pi / 180)
	for i := range s.parts {
		c, ok := s.parts[i].at(x, s.Lying)
		if !ok {
			continue
		}
		c.part = i
		col.sections = append(col.sections, c)
		if i > 0 {
			continue
		}
		for _, slot := range s.slots {
			if x >= slot.FromMM && x <= slot.ToMM {
				col.slots = append(col.slots, slot.box(&c))
			}
		}
	}
}

func (t *Slot) box(c *section) box {
	b := box{y: span{c.cy - c.hy, c.cy - c.hy + t.DeepMM}, z: span{c.cz - t.WideMM/2, c.cz + t.WideMM/2}}
	if t.InBack {
		b.y = span{c.cy + c.hy - t.DeepMM, c.cy + c.hy}
	}
	return b
}

// crosses is the stretch in which a ray lies in the box.
func (b *box) crosses(sin, cos, u float64) span {
	in := span{-math.MaxFloat64, math.MaxFloat64}
	for _, side := range [2]struct {
		p, q float64
		s    span
	}{{u * cos, -sin, b.y}, {-u * sin, -cos, b.z}} {
		if math.Abs(side.q) < 1e-12 {
			if side.p < side.s.from || side.p > side.s.to {
				return span{}
			}
			continue
		}
		one, two := (side.s.from-side.p)/side.q, (side.s.to-side.p)/side.q
		in = in.and(span{min(one, two), max(one, two)})
	}
	return in
}

// gaps are the stretches of a ray in a section that hold no plastic: a hollow, and a slot.
func (col *Column) gaps(c *section, u float64, in span) (hollow, slot span) {
	if c.wall > 0 {
		if h, ok := c.crosses(col.sin, col.cos, u, c.wall); ok {
			hollow = h.and(in)
		}
	}
	if c.part == 0 {
		for i := range col.slots {
			if s := col.slots[i].crosses(col.sin, col.cos, u).and(in); s.length() > slot.length() {
				slot = s
			}
		}
	}
	return hollow, slot
}

// Reach is between which heights of the screen the column holds anything; ok is false where it is empty.
func (col *Column) Reach() (low, high float64, ok bool) {
	low, high = math.Inf(1), math.Inf(-1)
	for i := range col.sections {
		half, middle := col.sections[i].reach(col.sin, col.cos)
		low, high = min(low, middle-half), max(high, middle+half)
	}
	return low, high, low < high
}

// At gives what lies at a height u of the screen; MM is 0 beside the bait. Where parts lie behind each other, it is the
// thickest.
func (col *Column) At(u float64) Through {
	var t Through
	for i := range col.sections {
		c := &col.sections[i]
		in, ok := c.crosses(col.sin, col.cos, u, 0)
		if !ok || in.length() <= t.MM {
			continue
		}
		hollow, slot := col.gaps(c, u, in)
		mm := in.length() - hollow.length() - slot.length() + hollow.and(slot).length()
		if mm > t.MM {
			half, middle := c.reach(col.sin, col.cos)
			v := (u - middle) / half
			t = Through{MM: mm, Round: math.Sqrt(max(0, 1-v*v)), Body: c.part == 0, From: in.from, To: in.to, Section: i}
		}
	}
	return t
}

// At gives the thickness at a point of the picture, x along the bait and u up the screen, mm; MM is 0 beside it.
func (s *Shape) At(x, u float64, view View) Through {
	var col Column
	s.Column(x, view, &col)
	return col.At(u)
}

// VolumeML is the volume, from the areas of the cross-sections (π·h·w for an ellipse) less the hook's slots.
func (s *Shape) VolumeML() float64 {
	const steps = 500
	sum := 0.0
	var col Column
	for i := range s.parts {
		p := &s.parts[i]
		dx := (p.to - p.from) / steps
		for k := range steps {
			x := p.from + (float64(k)+0.5)*dx
			c, ok := p.at(x, s.Lying)
			if !ok {
				continue
			}
			area := c.area(0)
			if c.wall > 0 {
				area -= c.area(c.wall)
			}
			if i == 0 && len(s.slots) > 0 {
				s.Column(x, Side, &col)
				area -= col.slotArea()
			}
			sum += area * dx
		}
	}
	return sum / 1000
}

// area of |y/h|^n + |z/w|^n = 1: 4·Γ(1+1/n)²/Γ(1+2/n)·h·w.
func (c *section) area(smaller float64) float64 {
	hy, hz := c.hy-smaller, c.hz-smaller
	switch {
	case hy <= 0 || hz <= 0:
		return 0
	case c.flat:
		return flatArea * hy * hz
	}
	return math.Pi * hy * hz
}

var flatArea = 4 * math.Pow(math.Gamma(1+1.0/6), 2) / math.Gamma(1+2.0/6)

// slotArea is what the slots take of the body's section, by strips across.
func (col *Column) slotArea() float64 {
	const strips = 40
	c := &col.sections[0]
	sum := 0.0
	for _, b := range col.slots {
		dy := b.y.length() / strips
		for k := range strips {
			in, ok := c.crosses(0, 1, b.y.from+(float64(k)+0.5)*dy, 0)
			if ok {
				sum += in.and(span{-b.z.to, -b.z.from}).length() * dy
			}
		}
	}
	return sum
}

// ThinnestMM is the middle of the thinnest part, in the main view.
func (s *Shape) ThinnestMM() float64 {
	least := math.Inf(1)
	for i := range s.parts {
		if p := &s.parts[i]; p.wallMM > 0 {
			least = min(least, 2*p.wallMM)
		} else {
			least = min(least, 2*p.wide(0.5))
		}
	}
	return least
}

// ThickestMM is the thickest point in the main view.
func (s *Shape) ThickestMM() float64 { return s.thickest(s.Main()) }

func (s *Shape) thickest(view View) float64 {
	most := 0.0
	var col Column
	for x := s.FromX; x <= s.ToX; x += (s.ToX - s.FromX) / 200 {
		s.Column(x, view, &col)
		for i := range col.sections {
			_, middle := col.sections[i].reach(col.sin, col.cos)
			most = max(most, col.At(middle).MM)
		}
	}
	return most
}

// Size is how high and how wide the bait is, over all its parts.
func (s *Shape) Size() (heightMM, widthMM float64) {
	var y, z span
	for k := 0; k <= 400; k++ {
		x := s.FromX + (s.ToX-s.FromX)*float64(k)/400
		for i := range s.parts {
			if c, ok := s.parts[i].at(x, s.Lying); ok {
				y = span{min(y.from, c.cy-c.hy), max(y.to, c.cy+c.hy)}
				z = span{min(z.from, c.cz-c.hz), max(z.to, c.cz+c.hz)}
			}
		}
	}
	return y.length(), z.length()
}

// bodyHeight is how far the thick part reaches up and down: what fill heights are shares of.
func (s *Shape) bodyHeight() span {
	var y span
	p := &s.parts[0]
	for k := 0; k <= 200; k++ {
		if c, ok := p.at(p.from+(p.to-p.from)*float64(k)/200, s.Lying); ok {
			y = span{min(y.from, c.cy-c.hy), max(y.to, c.cy+c.hy)}
		}
	}
	return y
}

// Scaled is the shape in another size.
func (s Shape) Scaled(lengthMM, heightMM, widthMM float64) Shape {
	height, width := s.Size()
	along, up, across := lengthMM/s.ToX, heightMM/height, widthMM/width
	first, second := up, across // of the main view
	if s.Lying {
		first, second = across, up
	}
	times := func(f func(float64) float64, by float64) func(float64) float64 {
		if f == nil {
			return nil
		}
		return func(s float64) float64 { return by * f(s) }
	}
	parts := make([]part, len(s.parts))
	for i, p := range s.parts {
		p.from, p.to = p.from*along, p.to*along
		p.half, p.centre, p.wide = times(p.half, first), times(p.centre, first), times(p.wide, second)
		p.wallMM *= second
		parts[i] = p
	}
	s.parts, s.ToX, s.HalfY = parts, lengthMM, s.HalfY*max(up, across)
	return s
}

// With cuts slots into the body.
func (s Shape) With(slots ...Slot) Shape {
	s.slots = slots
	return s
}

// Find looks a shape up by its key.
func Find(key string) (Shape, error) {
	for _, s := range Shapes() {
		if s.Key == key {
			return s, nil
		}
	}
	return Shape{}, measure.Faulty("bait", "no bait is called %q; choose one of the shapes or a mold of yours", key)
}
