package flake

import (
	"cmp"
	"math"
	"slices"
)

// A blob as solid as convex is one piece, or two that no one could part; the size of one as solid as sizeable can be
// measured.
const convex, sizeable = 0.93, 0.94

// intact says whether a blob is one piece whose size can be measured: solid, and more than a speck.
func (b *blob) intact() bool { return b.solid > sizeable && len(b.at) > 2*least }

// least is the fewest pixels that can be a piece.
const least = 6

// part parts pieces that touch: a blob that is solid stays whole; another is parted between the peaks of its distance
// to the edge.
func (c *area) part() {
	var areas []float64
	for _, b := range c.parts {
		if len(b.at) >= least && c.tells(&b) {
			areas = append(areas, float64(len(b.at)))
		}
	}
	if len(areas) == 0 {
		c.parts = nil
		return
	}
	usual := usualOf(areas)
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
		if c.solidity(b.at) > convex || float64(len(b.at)) < 0.7*usual {
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
	tints := c.tints()
	c.parts = slices.DeleteFunc(c.parts, func(b blob) bool { return c.byCompression(&b, tints) })
	c.dropOnEdge()
}

// usualOf is the usual one of the areas: their median without the specks, however many there are.
func usualOf(areas []float64) float64 {
	slices.Sort(areas)
	all, sum := 0.0, 0.0
	for _, a := range areas {
		all += a
	}
	for i, a := range areas {
		if sum += a; sum > all/2 { // half of what is covered lies in smaller ones
			specks, _ := slices.BinarySearch(areas[:i], a/8)
			areas = areas[specks:]
			break
		}
	}
	return areas[len(areas)/2]
}

// Least contrast of a piece's better part, and least of its width to its length: nothing is narrower than what the lens
// leaves of a line, px², and of a larger piece the tilt tells.
const (
	leastTold = 0.11
	leastWide = 0.26
	leastLine = 0.6
)

func (c *area) tells(b *blob) bool {
	sizes := make([]float32, len(b.at))
	for k, i := range b.at {
		sizes[k] = c.size[i]
	}
	slices.Sort(sizes)
	_, _, long, wide := c.axes(b.at)
	return sizes[len(sizes)*4/5] > leastTold &&
		wide*wide > min(leastWide*leastWide*long*long, leastLine+onEdge*onEdge*long*long)
}

// blockPX is what a compressed photo works by, and up to two blocks off it puts what it can't keep: it keeps tint more
// coarsely than light.
const blockPX = 8

// byCompression says whether a blob may be what a compressed photo makes of strong tints nearby: a speck that differs
// from the base in tint and hardly in light, by a fraction of what lies within two blocks of it.
func (c *area) byCompression(b *blob, tints []float64) bool {
	const few, ofNear = blockPX * blockPX, 0.25
	light, tint := c.lightAndTint(b.mean)
	if len(b.at) >= few || light >= ofTint*tint {
		return false
	}
	wide, high := c.blocks()
	x, y := int(b.x)/blockPX, int(b.y)/blockPX
	near := 0.0
	for v := max(0, y-2); v <= min(high-1, y+2); v++ {
		for u := max(0, x-2); u <= min(wide-1, x+2); u++ {
			near = max(near, tints[v*wide+u])
		}
	}
	return tint < ofNear*near
}

func (c *area) blocks() (wide, high int) { return (c.w-1)/blockPX + 1, (c.h-1)/blockPX + 1 }

// tints are the strongest tints by blocks.
func (c *area) tints() []float64 {
	wide, high := c.blocks()
	out := make([]float64, wide*high)
	for i := range c.w * c.h {
		if !c.on[i] {
			continue
		}
		_, tint := c.lightAndTint([3]float64{float64(c.diff[0][i]), float64(c.diff[1][i]), float64(c.diff[2][i])})
		k := i/c.w/blockPX*wide + i%c.w/blockPX
		out[k] = max(out[k], tint)
	}
	return out
}

// ofTint is the share of tint under which a difference in light counts for none.
const ofTint = 0.5

// lightAndTint is how far a difference from the base is one of light and of tint, in a compressed photo's terms, both
// in one unit (the photo's curve taken as straight about the base).
func (c *area) lightAndTint(diff [3]float64) (light, tint float64) {
	var v [3]float64
	for ch := range 3 {
		v[ch] = c.wrote[ch] * diff[ch]
		light += luma[ch] * v[ch]
	}
	return math.Abs(light), math.Hypot((v[0]-light)/1.402, (v[2]-light)/1.772)
}

// contrast is how much a blob differs from the base, in the channel that shows it best for its noise.
func (c *area) contrast(b *blob) float64 {
	most := 0.0
	for ch := range 3 {
		most = max(most, c.weight[ch]*math.Abs(b.mean[ch]))
	}
	return most
}

func (c *area) meanOf(at []int32) (m [3]float64) {
	for _, i := range at {
		for ch := range 3 {
			m[ch] += float64(c.diff[ch][i]) / float64(len(at))
		}
	}
	return m
}

// glare is large, and paler than the base in every channel alike.
func (c *area) glare(b *blob, usual float64) bool {
	m := b.mean
	low, high := min(m[0], m[1], m[2]), max(m[0], m[1], m[2])
	return float64(len(b.at)) > 8*usual && low > 0.05 && len(b.at) > int(0.4*c.px*c.px) && high > 0
}

// solidity is a blob's share of the pixels whose middles its convex hull holds: 1 of every straight line and every
// convex piece, however it lies to the pixels.
func (c *area) solidity(at []int32) float64 {
	type point struct{ x, y int }
	top, bottom := c.h, 0
	for _, i := range at {
		top, bottom = min(top, int(i)/c.w), max(bottom, int(i)/c.w)
	}
	ends := make([][2]int, bottom-top+1) // only each row's ends can lie on the hull
	for r := range ends {
		ends[r] = [2]int{c.w, -1}
	}
	for _, i := range at {
		e := &ends[int(i)/c.w-top]
		e[0], e[1] = min(e[0], int(i)%c.w), max(e[1], int(i)%c.w)
	}
	// side is the hull's left side (way 1) or its right one (way -1), from the top down.
	side := func(end, way int) (hull []point) {
		for r, e := range ends {
			if e[1] < 0 {
				continue
			}
			q := point{e[end], r}
			for n := len(hull); n >= 2; n-- {
				o, a := hull[n-2], hull[n-1]
				if way*((a.x-o.x)*(q.y-o.y)-(a.y-o.y)*(q.x-o.x)) < 0 {
					break
				}
				hull = hull[:n-1]
			}
			hull = append(hull, q)
		}
		return hull
	}
	left, right := side(0, 1), side(1, -1)
	all, l, r := 0, 0, 0
	for y := range ends {
		for l+1 < len(left) && left[l+1].y <= y {
			l++
		}
		for r+1 < len(right) && right[r+1].y <= y {
			r++
		}
		from, to := left[l].x, right[r].x
		if l+1 < len(left) {
			a, b := left[l], left[l+1]
			from = a.x + int(math.Ceil(float64((b.x-a.x)*(y-a.y))/float64(b.y-a.y)-1e-9))
		}
		if r+1 < len(right) {
			a, b := right[r], right[r+1]
			to = a.x + int(math.Floor(float64((b.x-a.x)*(y-a.y))/float64(b.y-a.y)+1e-9))
		}
		all += max(0, to-from+1)
	}
	return float64(len(at)) / float64(max(1, all))
}

// peaks parts a blob between the places that lie deepest in it.
func (c *area) peaks(at []int32) [][]int32 {
	x0, y0, x1, y1 := c.box(at)
	w, h := x1-x0+3, y1-y0+3
	d := make([]float32, w*h)
	for _, i := range at {
		d[(int(i)/c.w-y0+1)*w+int(i)%c.w-x0+1] = 1e6
	}
	chamfer(d, w, h)
	kept := apart(tops(d, w, h), d, w)
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

// chamfer makes of a shape, whose pixels are large and others 0, how far each lies from its edge: down, then up. The
// margin stays 0.
func chamfer(d []float32, w, h int) {
	for y := 1; y < h-1; y++ {
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
}

// top is a place that lies no nearer to the edge than those around it.
type top struct {
	x, y int
	d    float32
}

// tops lists them, the furthest from the edge first.
func tops(d []float32, w, h int) (all []top) {
	for y := 1; y < h-1; y++ {
		for x := 1; x < w-1; x++ {
			v := d[y*w+x]
			if v < 1.5 {
				continue
			}
			is := true
			for dy := -1; dy <= 1 && is; dy++ {
				for dx := -1; dx <= 1; dx++ {
					if d[(y+dy)*w+x+dx] > v {
						is = false
						break
					}
				}
			}
			if is {
				all = append(all, top{x, y, v})
			}
		}
	}
	slices.SortFunc(all, func(a, b top) int {
		return cmp.Or(cmp.Compare(b.d, a.d), cmp.Compare(a.y, b.y), cmp.Compare(a.x, b.x))
	})
	return all
}

// apart keeps those that are pieces of their own: it narrows between them.
func apart(all []top, d []float32, w int) (kept []top) {
	for _, q := range all {
		own := true
		for _, k := range kept {
			dist := math.Hypot(float64(q.x-k.x), float64(q.y-k.y))
			if dist < 1.1*float64(k.d) || narrowest(d, w, q.x, q.y, k.x, k.y) > 0.72*min(q.d, k.d) {
				own = false
				break
			}
		}
		if own {
			kept = append(kept, q)
		}
	}
	return kept
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
