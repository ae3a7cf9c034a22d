// Package bait knows the shapes of baits, how their layers lie, and so how thick each plastic is at each point that is
// seen. Shapes are our own, from closed formulas; lengths in mm.
package bait

import (
	"fmt"
	"math"
)

// Shape is a bait as it is looked at in its main view: from the side, or from above for the flat ones.
type Shape struct {
	Key   string  `json:"key"`
	Name  string  `json:"name"`
	About string  `json:"about"`
	FromX float64 `json:"-"`
	ToX   float64 `json:"lengthMM"`
	HalfY float64 `json:"-"` // the picture reaches so far to both sides of the axis
	parts []part
}

// View says from where a bait is looked at.
type View string

// The views. Side is a shape's main view; Back is turned by a quarter about its length.
const (
	Side View = "side"
	Back View = "back"
)

// part is a solid along x whose cross-section is a superellipse |y/h|^n + |z/w|^n = 1 about a centre line.
type part struct {
	from, to float64
	half     func(s float64) float64 // h: half height in the main view, at a share s of the part's length
	wide     func(s float64) float64 // w: half thickness through the main view
	centre   func(s float64) float64 // of the axis, in y
	flat     bool                    // n = 6, a slab with rounded edges; else an ellipse
	wallMM   float64                 // hollow, with a wall so thick
}

func (p *part) power() float64 {
	if p.flat {
		return 6
	}
	return 2
}

// at gives half sizes and centre at a point along the bait; ok is false beyond the part.
func (p *part) at(x float64) (h, w, c float64, ok bool) {
	if x < p.from || x > p.to {
		return 0, 0, 0, false
	}
	s := (x - p.from) / (p.to - p.from)
	h, w = p.half(s), p.wide(s)
	if p.centre != nil {
		c = p.centre(s)
	}
	return h, w, c, h > 1e-6 && w > 1e-6
}

// chord is the length through a superellipse at a share u of its half size, for a half thickness w.
func chord(u, w, n float64) float64 {
	if u = math.Abs(u); u >= 1 {
		return 0
	}
	if n == 2 {
		return 2 * w * math.Sqrt(1-u*u)
	}
	return 2 * w * math.Pow(1-math.Pow(u, n), 1/n)
}

// Through is what lies under one point of the picture.
type Through struct {
	MM    float64 // of plastic
	Round float64 // 1 in the middle of its part, 0 at the edge: for soft shading
	Up    float64 // where the point lies in its part, from -1 (belly) to 1 (back); in a back view 0
	Half  float64 // half size of the part there, mm
	Body  bool    // the thick part, which has layers; the rest is poured with it
}

// Column is a bait cut at one x: every part that lies there, ready to be asked for any y.
type Column struct {
	view  View
	slots []slot
}

type slot struct {
	h, w, c, n, wall float64
	body             bool
}

// Column cuts the bait at x. The column that is handed in is used again.
func (s *Shape) Column(x float64, view View, col *Column) {
	col.view, col.slots = view, col.slots[:0]
	for i := range s.parts {
		p := &s.parts[i]
		h, w, c, ok := p.at(x)
		if !ok {
			continue
		}
		if view == Back {
			h, w, c = w, h, 0
		}
		col.slots = append(col.slots, slot{h, w, c, p.power(), p.wallMM, i == 0})
	}
}

// At gives what lies at a height y of the column; MM is 0 beside the bait.
func (col *Column) At(y float64) Through {
	var t Through
	for i := range col.slots {
		p := &col.slots[i]
		u := (y - p.c) / p.h
		mm := chord(u, p.w, p.n)
		if mm <= t.MM {
			continue
		}
		if p.wall > 0 && p.h > p.wall && p.w > p.wall {
			mm -= chord((y-p.c)/(p.h-p.wall), p.w-p.wall, p.n)
		}
		if mm > t.MM {
			t = Through{MM: mm, Round: math.Sqrt(max(0, 1-u*u)), Up: u, Half: p.h, Body: p.body}
			if col.view == Back {
				t.Up = 0
			}
		}
	}
	return t
}

// At gives the thickness at a point of the picture, x along the bait and y up, mm; MM is 0 beside it.
func (s *Shape) At(x, y float64, view View) Through {
	var col Column
	s.Column(x, view, &col)
	return col.At(y)
}

// VolumeML is the volume, from the areas of the cross-sections: π·h·w for an ellipse.
func (s *Shape) VolumeML() float64 {
	const steps = 2000
	sum := 0.0
	for i := range s.parts {
		p := &s.parts[i]
		dx := (p.to - p.from) / steps
		for k := range steps {
			h, w, _, ok := p.at(p.from + (float64(k)+0.5)*dx)
			if !ok {
				continue
			}
			area := superArea(p.power()) * h * w
			if p.wallMM > 0 && h > p.wallMM && w > p.wallMM {
				area -= superArea(p.power()) * (h - p.wallMM) * (w - p.wallMM)
			}
			sum += area * dx
		}
	}
	return sum / 1000
}

// superArea is the area of |x|^n + |y|^n = 1: 4·Γ(1+1/n)²/Γ(1+2/n), π for n = 2.
func superArea(n float64) float64 {
	g := math.Gamma(1 + 1/n)
	return 4 * g * g / math.Gamma(1+2/n)
}

// Fills is how many baits so much plastic is good for, sprues and plugs not counted.
func (s *Shape) Fills(ml float64) int { return int(ml / s.VolumeML()) }

// ThinnestMM and ThickestMM are the thinnest middle and the thickest middle of any part, in the main view.
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
func (s *Shape) ThickestMM() float64 {
	most := 0.0
	for x := s.FromX; x <= s.ToX; x += (s.ToX - s.FromX) / 200 {
		for i := range s.parts {
			if _, _, c, ok := s.parts[i].at(x); ok {
				most = max(most, s.At(x, c, Side).MM)
			}
		}
	}
	return most
}

// Find looks a shape up by its key.
func Find(key string) (Shape, error) {
	for _, s := range Shapes() {
		if s.Key == key {
			return s, nil
		}
	}
	return Shape{}, fmt.Errorf("no bait is called %q; choose one of the shapes", key)
}
