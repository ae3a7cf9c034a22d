package flake

import (
	"context"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cores"
	"cloudburst/core/fit"
	"cloudburst/core/measure"
	"cloudburst/core/photo"
)

// Rect is an upright region of a picture, in pixels.
type Rect struct {
	X0 float64 `json:"x0"`
	Y0 float64 `json:"y0"`
	X1 float64 `json:"x1"`
	Y1 float64 `json:"y1"`
}

// Piece is one piece of flake that was found.
type Piece struct {
	X      float64 `json:"x" doc:"px of the photo"`
	Y      float64 `json:"y"`
	SizeMM float64 `json:"sizeMM" doc:"Across its flats, as far as it shows"`
	Class  int     `json:"class"`
}

// FlakeClass is one colour of flake.
type Class struct {
	Hex    string  `json:"hex" doc:"Its colour where it lies at the surface, as the camera wrote it"`
	SizeIN float64 `json:"sizeIN" doc:"Across the flats"`
	Count  int     `json:"count"`
	PerCM2 float64 `json:"perCM2"`
	Alike  string  `json:"alike,omitempty" doc:"Which other flake would look the same, and counts here if it is there"`
}

// Found is what a count of flake found.
type Found struct {
	AreaCM2 float64 `json:"areaCM2"`
	Classes []Class `json:"classes" nullable:"false"`
	Pieces  []Piece `json:"pieces" nullable:"false"`
	Warning string  `json:"warning,omitempty"`
	Unsure  string  `json:"unsure,omitempty" doc:"Why the same photo may be read in another way"`
	Other   *Found  `json:"other,omitempty" doc:"The other reading"`
	Decided bool    `json:"decided,omitempty" doc:"A hand chose between the two"`
}

// Limits of a count.
const (
	mostPixels    = 1_500_000
	leastPiecePX  = 3.5    // across the flats: less can't be told apart
	spotPX        = 0.4    // how much larger a lens makes such a piece
	hexArea       = 0.866  // of a hexagon, as a share of its flats' square
	hexSpread     = 0.2635 // along its longer axis, as a share of its flats
	leastContrast = 0.07   // of a piece against its base, as a share of it
)

// ScaleOf is how many pixels are a millimetre, from two points and what lies between them as it was typed.
func ScaleOf(a, b [2]float64, typed string) (float64, error) {
	mm, err := measure.ParseLength(typed)
	if err != nil {
		return 0, measure.Faulty("length", "%s", err)
	}
	px := math.Hypot(b[0]-a[0], b[1]-a[1])
	if px < 20 || !(px/mm > 0.5 && px/mm < 1000) {
		return 0, measure.Faulty(
			"length",
			"the two points lie too close together for that; point at something longer, a ruler's ends at best",
		)
	}
	return px / mm, nil
}

// Count finds the pieces of flake in a region: what differs from the base, which is its commonest colour with a gentle
// slope, in pieces that hang together; what touches is parted where it narrows.
func Count(ctx context.Context, p *photo.Picture, region Rect, pxPerMM float64) (*Found, error) {
	if !(pxPerMM > 0.5 && pxPerMM < 1000) {
		return nil, measure.Faulty(
			"scale", "say first how long something in the photo is: two points, and the millimetres between them",
		)
	}
	x0, y0 := max(0, int(region.X0)), max(0, int(region.Y0))
	x1, y1 := min(p.Width, int(region.X1)), min(p.Height, int(region.Y1))
	if x1-x0 < 40 || y1-y0 < 40 {
		return nil, measure.Faulty("region", "draw a larger region, over the flake in an even part of the bait")
	}
	step := 1
	for (x1-x0)/step*((y1-y0)/step) > mostPixels {
		step++
	}
	c := &area{w: (x1 - x0) / step, h: (y1 - y0) / step, px: pxPerMM / float64(step)}
	var f *Found
	if err := cores.InTurn(
		ctx, func() { c.read(p, x0, y0, step) }, c.base, c.differ, c.label, c.part, func() { f = c.found() },
	); err != nil {
		return nil, err
	}
	for _, one := range []*Found{f, f.Other} {
		if one == nil {
			continue
		}
		for i := range one.Pieces {
			one.Pieces[i].X = float64(x0) + one.Pieces[i].X*float64(step)
			one.Pieces[i].Y = float64(y0) + one.Pieces[i].Y*float64(step)
		}
	}
	return f, nil
}

// area is the region while it is counted.
type area struct {
	w, h   int
	px     float64 // per mm
	cr     [3][]float32
	fit    [3][6]float64
	diff   [3][]float32 // against the base, as a share of it
	weight [3]float64   // of each channel, less than 1 where its noise would pass for flake
	wrote  [3]float64   // the base's middle as the camera wrote it
	size   []float32    // the largest difference, weighed
	on     []bool
	parts  []blob

	coarseTint bool // the photo keeps tint in half as many pixels as light, across or both ways
	hidden     int  // pixels under glare
}

// blob is a set of pixels.
type blob struct {
	at     []int32
	mean   [3]float64
	solid  float64 // share of its convex hull
	x, y   float64 // its middle
	sizeMM float64
}

func (c *area) read(p *photo.Picture, x0, y0, step int) {
	c.coarseTint = p.CoarseTint && step == 1 // else several of its pixels are one here
	var root [256]float32
	for i := range root {
		root[i] = float32(math.Cbrt(colour.Decode(float64(i) / 255)))
	}
	for ch := range 3 {
		c.cr[ch] = make([]float32, c.w*c.h)
		c.diff[ch] = make([]float32, c.w*c.h)
	}
	for y := range c.h {
		for x := range c.w {
			q := p.At(x0+x*step, y0+y*step)
			for ch := range 3 {
				c.cr[ch][y*c.w+x] = root[q[ch]]
			}
		}
	}
}

func (c *area) terms(i int) [6]float64 {
	u, v := 2*float64(i%c.w)/float64(c.w)-1, 2*float64(i/c.w)/float64(c.h)-1
	return [6]float64{1, u, v, u * u, u * v, v * v}
}

// base fits the base: from the commonest colour outwards, a quadratic in each channel, again and again over what lies
// on it.
func (c *area) base() {
	n := c.w * c.h
	var hist [32][32][32]int
	cell := func(i int) (a, b, d int) {
		return min(31, int(c.cr[0][i]*32)), min(31, int(c.cr[1][i]*32)), min(31, int(c.cr[2][i]*32))
	}
	best, bi := 0, 0
	for i := 0; i < n; i += 2 {
		a, b, d := cell(i)
		hist[a][b][d]++
		if hist[a][b][d] > best {
			best, bi = hist[a][b][d], i
		}
	}
	for ch := range 3 {
		c.fit[ch] = [6]float64{float64(c.cr[ch][bi])}
	}
	limit := 0.05
	for round := range 6 {
		var a [6][6]float64
		var b [3][6]float64
		for i := 0; i < n; i += 5 {
			t := c.terms(i)
			in := true
			for ch := range 3 {
				in = in && math.Abs(float64(c.cr[ch][i])-fit.Dot6(t, c.fit[ch])) < limit*math.Max(0.15, fit.Dot6(t, c.fit[ch]))
			}
			if !in {
				continue
			}
			for j := range 6 {
				for k := range 6 {
					a[j][k] += t[j] * t[k]
				}
				for ch := range 3 {
					b[ch][j] += t[j] * float64(c.cr[ch][i])
				}
			}
		}
		for ch := range 3 {
			if x, ok := fit.Solve6(a, b[ch]); ok {
				c.fit[ch] = x
			}
		}
		if round > 1 {
			limit = 0.03
		}
	}
}

// differ works out where a pixel differs from the base.
func (c *area) differ() {
	n := c.w * c.h
	for ch := range 3 {
		root := c.fit[ch][0]
		c.wrote[ch] = colour.Encode(root * root * root)
	}
	for i := range n {
		t := c.terms(i)
		for ch := range 3 {
			b := math.Max(0.05, fit.Dot6(t, c.fit[ch]))
			c.diff[ch][i] = float32(3 * (float64(c.cr[ch][i]) - b) / b)
		}
	}
	for ch := range 3 {
		c.diff[ch] = smooth(c.diff[ch], c.w, c.h)
		const sigmas = 3
		c.weight[ch] = min(1, leastContrast/(sigmas*noise(c.diff[ch])))
	}
	c.size = make([]float32, n)
	for i := range n {
		m := 0.0
		for ch := range 3 {
			m = max(m, c.weight[ch]*math.Abs(float64(c.diff[ch][i])))
		}
		c.size[i] = float32(m)
	}
	const floor = float32(leastContrast)
	// A piece's own rim is blurred: what is below 0.42 of the strongest nearby is rim.
	reach := max(2, int(0.09*c.px))
	top := strongest(c.size, c.w, c.h, reach)
	c.on = make([]bool, n)
	for i := range n {
		c.on[i] = c.size[i] > floor && c.size[i] > 0.42*top[i]
	}
}

// noise is the standard deviation of what is mostly noise.
func noise(v []float32) float64 {
	var quiet []float64
	for i := 0; i < len(v); i += 7 {
		quiet = append(quiet, math.Abs(float64(v[i])))
	}
	slices.Sort(quiet)
	const normal = 1.48 // of a median of distances
	return normal * quiet[len(quiet)/2]
}

// smooth is a mean over three by three.
func smooth(a []float32, w, h int) []float32 {
	out := make([]float32, len(a))
	for y := range h {
		for x := range w {
			sum, n := float32(0), float32(0)
			for dy := -1; dy <= 1; dy++ {
				for dx := -1; dx <= 1; dx++ {
					if u, v := x+dx, y+dy; u >= 0 && v >= 0 && u < w && v < h {
						sum += a[v*w+u]
						n++
					}
				}
			}
			out[y*w+x] = sum / n
		}
	}
	return out
}

// strongest is the largest value within a square, by rows and then by columns.
func strongest(a []float32, w, h, r int) []float32 {
	pass := func(in []float32, n, stride, lines, lineStride int) []float32 {
		out := make([]float32, len(in))
		for l := range lines {
			for i := range n {
				m := float32(0)
				for k := max(0, i-r); k <= min(n-1, i+r); k++ {
					m = max(m, in[l*lineStride+k*stride])
				}
				out[l*lineStride+i*stride] = m
			}
		}
		return out
	}
	return pass(pass(a, w, 1, h, w), h, w, w, 1)
}

// label gathers what hangs together and differs in the same way.
func (c *area) label() {
	c.gather(func(i, k int32) bool { // neighbours of unlike colour belong to two pieces
		dot, a, b := 0.0, 0.0, 0.0
		for ch := range 3 {
			p, q := c.weight[ch]*float64(c.diff[ch][i]), c.weight[ch]*float64(c.diff[ch][k])
			dot, a, b = dot+p*q, a+p*p, b+q*q
		}
		return dot > 0.6*math.Sqrt(a*b)
	})
}

// gather makes blobs of neighbouring pixels that are alike.
func (c *area) gather(like func(i, k int32) bool) {
	seen := make([]bool, len(c.on))
	for i := range c.on {
		if !c.on[i] || seen[i] {
			continue
		}
		seen[i] = true
		c.parts = append(c.parts, blob{at: photo.Flood(c.w, len(c.on), int32(i), func(k, n int32) bool {
			if !c.on[n] || seen[n] || !like(k, n) {
				return false
			}
			seen[n] = true
			return true
		})})
	}
}

// shape is a piece's middle and its size across the flats: the spread along its longer axis hardly changes with tilt,
// and of a hexagon it is a known share of the flats.
func (c *area) shape(at []int32) (x, y, sizeMM float64) {
	x, y, long, _ := c.axes(at)
	return x + 0.5, y + 0.5, long / hexSpread / c.px
}

// axes are a blob's middle and its spread along its longer and shorter axis, px.
func (c *area) axes(at []int32) (x, y, long, wide float64) {
	n := float64(len(at))
	for _, i := range at {
		x += float64(int(i)%c.w) / n
		y += float64(int(i)/c.w) / n
	}
	var xx, yy, xy float64
	for _, i := range at {
		dx, dy := float64(int(i)%c.w)-x, float64(int(i)/c.w)-y
		xx, yy, xy = xx+dx*dx/n, yy+dy*dy/n, xy+dx*dy/n
	}
	l, w := principal(xx, yy, xy)
	return x, y, math.Sqrt(l + 1.0/12), math.Sqrt(max(0, w) + 1.0/12)
}

// principal are the variances along the longer and the shorter axis, of those along and across a picture.
func principal(xx, yy, xy float64) (long, wide float64) {
	mid, half := (xx+yy)/2, math.Sqrt((xx-yy)*(xx-yy)/4+xy*xy)
	return mid + half, mid - half
}

// box is the least upright box about pixels.
func (c *area) box(at []int32) (x0, y0, x1, y1 int) {
	x0, y0 = c.w, c.h
	for _, i := range at {
		x, y := int(i)%c.w, int(i)/c.w
		x0, y0, x1, y1 = min(x0, x), min(y0, y), max(x1, x), max(y1, y)
	}
	return x0, y0, x1, y1
}
