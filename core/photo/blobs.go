package photo

import (
	"math"
	"slices"
)

// intact says whether a blob is one piece whose size can be measured: solid, and more than a speck.
func (b *blob) intact() bool { return b.solid > 0.88 && len(b.at) > 2*least }

// least is the fewest pixels that can be a piece.
const least = 6

// part parts pieces that touch: a blob that is solid stays whole; another is parted between the peaks of its distance to the
// edge.
func (c *census) part() {
	var areas []float64
	for _, b := range c.parts {
		if len(b.at) >= least {
			areas = append(areas, float64(len(b.at)))
		}
	}
	if len(areas) == 0 {
		c.parts = nil
		return
	}
	slices.Sort(areas)
	usual := areas[len(areas)/2]
	var out []blob
	for _, b := range c.parts {
		if len(b.at) < least {
			continue
		}
		b.mean = c.meanOf(b.at)
		if c.glare(&b, usual) { // what lies in it can't be counted
			c.hidden += len(b.at)
			continue
		}
		if c.solidity(b.at) > 0.86 || float64(len(b.at)) < 0.7*usual {
			out = append(out, b)
			continue
		}
		for _, at := range c.peaks(b.at) {
			if len(at) >= least {
				out = append(out, blob{at: at, mean: c.meanOf(at)})
			}
		}
	}
	c.parts = slices.DeleteFunc(out, func(b blob) bool { return !c.tells(&b) })
	for i := range c.parts {
		b := &c.parts[i]
		b.solid = c.solidity(b.at)
		b.x, b.y, b.sizeMM = c.shape(b.at)
	}
}

// Least contrast of a piece's better part, and of its width to its length: a piece that stands on edge is a line, and no
// one would count it.
const (
	leastTold = 0.13
	leastWide = 0.26
)

func (c *census) tells(b *blob) bool {
	sizes := make([]float32, len(b.at))
	for k, i := range b.at {
		sizes[k] = c.size[i]
	}
	slices.Sort(sizes)
	_, _, long, wide := c.axes(b.at)
	return sizes[len(sizes)*4/5] > leastTold && wide > leastWide*long
}

func (c *census) meanOf(at []int32) (m [3]float64) {
	for _, i := range at {
		for ch := range 3 {
			m[ch] += float64(c.diff[ch][i]) / float64(len(at))
		}
	}
	return m
}

// glare is large, and paler than the base in every channel alike.
func (c *census) glare(b *blob, usual float64) bool {
	m := b.mean
	low, high := min(m[0], m[1], m[2]), max(m[0], m[1], m[2])
	return float64(len(b.at)) > 8*usual && low > 0.05 && len(b.at) > int(0.4*c.px*c.px) && high > 0
}

// solidity is a blob's share of its convex hull.
func (c *census) solidity(at []int32) float64 {
	type point struct{ x, y float64 }
	// Only each row's ends can lie on the hull.
	top, bottom := c.h, 0
	for _, i := range at {
		top, bottom = min(top, int(i)/c.w), max(bottom, int(i)/c.w)
	}
	ends := make([][2]int, bottom-top+1)
	for r := range ends {
		ends[r] = [2]int{c.w, -1}
	}
	for _, i := range at {
		e := &ends[int(i)/c.w-top]
		e[0], e[1] = min(e[0], int(i)%c.w), max(e[1], int(i)%c.w)
	}
	pts := make([]point, 0, 4*len(ends))
	for r, e := range ends {
		if e[1] < 0 {
			continue
		}
		left, right, y := float64(e[0]), float64(e[1]+1), float64(top+r)
		pts = append(pts, point{left, y}, point{right, y}, point{left, y + 1}, point{right, y + 1})
	}
	slices.SortFunc(pts, func(a, b point) int {
		if a.x != b.x {
			if a.x < b.x {
				return -1
			}
			return 1
		}
		switch {
		case a.y < b.y:
			return -1
		case a.y > b.y:
			return 1
		}
		return 0
	})
	turn := func(o, a, b point) float64 { return (a.x-o.x)*(b.y-o.y) - (a.y-o.y)*(b.x-o.x) }
	var hull []point
	for pass := range 2 {
		start := len(hull)
		for k := range pts {
			q := pts[k]
			if pass == 1 {
				q = pts[len(pts)-1-k]
			}
			for len(hull) >= start+2 && turn(hull[len(hull)-2], hull[len(hull)-1], q) <= 0 {
				hull = hull[:len(hull)-1]
			}
			hull = append(hull, q)
		}
		hull = hull[:len(hull)-1]
	}
	area := 0.0
	for i, a := range hull {
		b := hull[(i+1)%len(hull)]
		area += (a.x*b.y - b.x*a.y) / 2
	}
	return float64(len(at)) / math.Max(1, math.Abs(area))
}

// peaks parts a blob between the places that lie deepest in it.
func (c *census) peaks(at []int32) [][]int32 {
	x0, y0, x1, y1 := c.w, c.h, 0, 0
	for _, i := range at {
		x, y := int(i)%c.w, int(i)/c.w
		x0, y0, x1, y1 = min(x0, x), min(y0, y), max(x1, x), max(y1, y)
	}
	w, h := x1-x0+3, y1-y0+3
	d := make([]float32, w*h)
	for _, i := range at {
		d[(int(i)/c.w-y0+1)*w+int(i)%c.w-x0+1] = 1e6
	}
	for y := 1; y < h-1; y++ { // chamfer distances, down and up
		for x := 1; x < w-1; x++ {
			k := y*w + x
			if d[k] > 0 {
				d[k] = min(d[k], d[k-1]+1, d[k-w]+1, d[k-w-1]+1.4, d[k-w+1]+1.4)
			}
		}
	}
	for y := h - 2; y > 0; y-- {
		for x := w - 2; x > 0; x-- {
			k := y*w + x
			if d[k] > 0 {
				d[k] = min(d[k], d[k+1]+1, d[k+w]+1, d[k+w+1]+1.4, d[k+w-1]+1.4)
			}
		}
	}
	type peak struct {
		x, y int
		d    float32
	}
	var all []peak
	for y := 1; y < h-1; y++ {
		for x := 1; x < w-1; x++ {
			v := d[y*w+x]
			if v < 1.5 {
				continue
			}
			top := true
			for dy := -1; dy <= 1 && top; dy++ {
				for dx := -1; dx <= 1; dx++ {
					if d[(y+dy)*w+x+dx] > v {
						top = false
						break
					}
				}
			}
			if top {
				all = append(all, peak{x, y, v})
			}
		}
	}
	slices.SortFunc(all, func(a, b peak) int {
		switch {
		case a.d > b.d:
			return -1
		case a.d < b.d:
			return 1
		}
		return a.y*w + a.x - b.y*w - b.x
	})
	var kept []peak
	for _, q := range all {
		apart := true
		for _, k := range kept {
			// Two peaks are two pieces where it narrows between them.
			dist := math.Hypot(float64(q.x-k.x), float64(q.y-k.y))
			if dist < 1.1*float64(k.d) || narrowest(d, w, q.x, q.y, k.x, k.y) > 0.72*min(q.d, k.d) {
				apart = false
				break
			}
		}
		if apart {
			kept = append(kept, q)
		}
	}
	if len(kept) < 2 {
		return [][]int32{at}
	}
	out := make([][]int32, len(kept))
	for _, i := range at {
		x, y := int(i)%c.w-x0+1, int(i)/c.w-y0+1
		best, near := 0, math.Inf(1)
		for k, q := range kept {
			if r := math.Hypot(float64(x-q.x), float64(y-q.y)) - float64(q.d); r < near {
				best, near = k, r
			}
		}
		out[best] = append(out[best], i)
	}
	return out
}

// narrowest is the least distance to the edge along the way between two places.
func narrowest(d []float32, w, x0, y0, x1, y1 int) float32 {
	steps := max(abs(x1-x0), abs(y1-y0))
	least := float32(math.Inf(1))
	for k := range steps + 1 {
		f := float64(k) / float64(max(1, steps))
		x, y := x0+int(math.Round(f*float64(x1-x0))), y0+int(math.Round(f*float64(y1-y0)))
		least = min(least, d[y*w+x])
	}
	return least
}

func abs(v int) int {
	if v < 0 {
		return -v
	}
	return v
}
