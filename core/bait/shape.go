package bait

import (
	"math"

	"cloudburst/core/measure"
	"cloudburst/core/mesh"
)

// Shape is a bait as it leaves its mold.
type Shape struct {
	Key    string  `json:"key"`
	Name   string  `json:"name"`
	About  string  `json:"about"`
	FromX  float64 `json:"-"`
	ToX    float64 `json:"lengthMM"`
	HalfY  float64 `json:"-"`     // no part lies further than this from the axis
	Lying  bool    `json:"lying"` // a flat bait, looked at from above: its main view shows the back
	*Solid `json:"-"`
	slots  []Slot
}

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

func shaped(key, name, about string, solid *Solid) Shape {
	half := 0.0
	for k := 1; k < 3; k++ {
		half = max(half, -solid.From[k], solid.To[k])
	}
	return Shape{
		Key: key, Name: name, About: about, FromX: solid.From[0], ToX: solid.To[0], HalfY: half, Lying: solid.lying,
		Solid: solid,
	}
}

// Ray goes through a bait; Way is one mm long.
type Ray struct{ From, Way Vec }

// At is a place on it.
func (r *Ray) At(mm float64) Vec { return r.From.Plus(r.Way.Times(mm)) }

// Stretch is a part of a ray that lies in plastic, and how steeply it goes through the skin at its ends: 1 straight.
type Stretch struct {
	In, Out       float64
	InCos, OutCos float64
}

// Length is how much plastic it is.
func (s *Stretch) Length() float64 { return s.Out - s.In }

// Cut takes the hook's slots out of a ray's stretches, in place. The way out of the skin at a slot's wall is the slot's
// own.
func (s *Shape) Cut(r *Ray, stretches []Stretch) []Stretch {
	for i := range s.slots {
		gap, inCos, outCos := s.gap(&s.slots[i], r)
		if gap.length() <= 0 {
			continue
		}
		var rest []Stretch
		for _, p := range stretches {
			if gap.to <= p.In || gap.from >= p.Out {
				rest = append(rest, p)
				continue
			}
			if gap.from > p.In {
				rest = append(rest, Stretch{p.In, gap.from, p.InCos, inCos})
			}
			if gap.to < p.Out {
				rest = append(rest, Stretch{gap.to, p.Out, outCos, p.OutCos})
			}
		}
		stretches = rest
	}
	return stretches
}

// gap is where a ray lies in a slot, and how steeply it goes through its walls.
func (s *Shape) gap(t *Slot, r *Ray) (gap span, inCos, outCos float64) {
	gap = span{math.Inf(-1), math.Inf(1)}
	inCos, outCos = 1, 1
	// Its roof runs along the body.
	a, b := s.at(t.FromMM), s.at(t.ToMM)
	y0, y1 := a.cy-a.hy+t.DeepMM, b.cy-b.hy+t.DeepMM
	sign := 1.0
	if t.InBack {
		y0, y1, sign = a.cy+a.hy-t.DeepMM, b.cy+b.hy-t.DeepMM, -1
	}
	slope := (y1 - y0) / max(1e-9, t.ToMM-t.FromMM)
	for _, w := range [5]struct {
		out Vec
		at  float64
	}{
		{Vec{-1, 0, 0}, -t.FromMM},
		{Vec{1, 0, 0}, t.ToMM},
		{Vec{0, 0, 1}, t.WideMM / 2},
		{Vec{0, 0, -1}, t.WideMM / 2},
		{Vec{-sign * slope, sign, 0}, sign * (y0 - slope*t.FromMM)},
	} {
		off, steep := w.at-w.out.Dot(r.From), w.out.Dot(r.Way)
		switch {
		case math.Abs(steep) < 1e-12:
			if off < 0 {
				return span{}, 1, 1
			}
		case steep > 0:
			if v := off / steep; v < gap.to {
				gap.to, outCos = v, steep
			}
		default:
			if v := off / steep; v > gap.from {
				gap.from, inCos = v, -steep
			}
		}
	}
	return gap, inCos, outCos
}

// farMM is where rays start from, well outside of any bait.
const farMM = 500

// rayAt is the ray down the main view at a point of it, x along and u up the picture.
func (s *Shape) rayAt(x, u float64) Ray {
	view := s.Main()
	return Ray{From: view.Back(Vec{x, u, farMM}), Way: view[2].Times(-1)}
}

// At gives how much plastic lies under a point of the main view, mm; 0 beside the bait.
func (s *Shape) At(x, u float64) float64 {
	var all []Stretch
	for _, p := range s.through(x, u) {
		all = append(all, Stretch{farMM - p.to, farMM - p.from, 1, 1})
	}
	r := s.rayAt(x, u)
	mm := 0.0
	for _, p := range s.Cut(&r, all) {
		mm += p.Length()
	}
	return mm
}

// VolumeML is the volume: of the skin, less the hook's slots.
func (s *Shape) VolumeML() float64 {
	if len(s.slots) == 0 {
		return s.ML
	}
	return s.ML - s.less.of(s.slots, func() float64 {
		ml := 0.0
		for i := range s.slots {
			ml += s.slotML(&s.slots[i])
		}
		return ml
	})
}

// slotML is what a slot takes of the skin's volume. What two slots share is counted with either.
func (s *Shape) slotML(t *Slot) float64 {
	ml := 0.0
	for x := t.FromMM + gridMM/2; x < t.ToMM; x += gridMM {
		for u := s.low() + gridMM/2; u < s.high(); u += gridMM {
			whole := 0.0
			for _, p := range s.through(x, u) {
				whole += p.length()
			}
			ml += (whole - s.At(x, u)) * gridMM * gridMM / 1000
		}
	}
	return ml
}

// ThinnestMM is the thinnest section, ThickestMM the thickest.
func (s *Shape) ThinnestMM() float64 { return s.ThinMM }

// ThickestMM is the thickest section.
func (s *Shape) ThickestMM() float64 { return s.ThickMM }

// Size is how high and how wide the bait is, over all its parts.
func (s *Shape) Size() (heightMM, widthMM float64) {
	return s.To[1] - s.From[1], s.To[2] - s.From[2]
}

// bodyHeight is how far the thick part reaches up and down: what fill heights are shares of.
func (s *Shape) bodyHeight() span {
	y := span{math.Inf(1), math.Inf(-1)}
	for x := s.FromX; x <= s.bodyTo; x += 4 * gridMM {
		if c := s.at(x); c.hy > 0 {
			y = span{min(y.from, c.cy-c.hy), max(y.to, c.cy+c.hy)}
		}
	}
	return y
}

func (s *Shape) bodyHalfWidth() float64 {
	most := 0.0
	for x := s.FromX; x <= s.bodyTo; x += 4 * gridMM {
		most = max(most, s.at(x).hz)
	}
	return most
}

// Scaled is the shape in another size.
func (s Shape) Scaled(lengthMM, heightMM, widthMM float64) Shape {
	height, width := s.Size()
	by := Vec{lengthMM / s.ToX, heightMM / height, widthMM / width}
	base := s.Solid
	solid := solidOf(keyOf(s.Key, by[0], by[1], by[2]), func() *Solid { return base.Stretched(by) })
	slots := s.slots
	s = shaped(s.Key, s.Name, s.About, solid)
	s.slots = slots
	return s
}

// With cuts slots into the body.
func (s Shape) With(slots ...Slot) Shape {
	s.slots = slots
	return s
}

// Outline is how far a bait reaches up and down the main view at an x; ok is false beyond its ends.
func (s *Shape) Outline(x float64) (low, high float64, ok bool) {
	low, high = math.Inf(1), math.Inf(-1)
	for u := s.low(); u <= s.high(); u += gridMM {
		if len(s.through(x, u)) > 0 {
			low, high = min(low, u), max(high, u)
		}
	}
	return low, high, low < high
}

// Find looks a shape up by its key.
func Find(key string) (Shape, error) {
	for _, b := range bodies() {
		if b.Key == key {
			return ours(b), nil
		}
	}
	return Shape{}, measure.Faulty("bait", "no bait is called %q; choose one of the shapes or a mold of yours", key)
}

// Slots are the hook's slots that are cut into it.
func (s *Shape) Slots() []Slot { return s.slots }

// Imported is a bait from a maker's own mesh, its nose at x = 0.
func Imported(key string, m *mesh.Mesh, lying bool) Shape {
	return shaped(key, "", "From a file of your own.", NewSolid(m, lying, 0))
}
