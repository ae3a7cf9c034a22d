package flake

import (
	"math"
	"slices"
)

// onEdge is the cosine of the tilt from which on a piece stands on edge: all that shows of it is a line, and no one
// would count it.
const onEdge = 0.15

// sharp is the least that a lens and the smoothing make of a point, px²; addedToLines what noise and the next pieces'
// light add to a line besides, found on the close-ups of the camera stand-in. A piece whose length is not so many times
// that of a point can't be told by its width.
const sharp, addedToLines, overPoint = 0.75, 0.2, 2.5

// Where a photo keeps tint in half as many pixels as light, a point in tint is wider by this, px²: two pixels as one, at
// least; noise and what a phone does to it add more.
const leastInTint, mostInTint = 0.5, 2.2

// dropOnEdge drops the pieces that stand on edge. A lens makes a line wide: what it adds is taken off before width and
// length are compared.
func (c *area) dropOnEdge() {
	owner := make([]int32, c.w*c.h) // of each pixel, one more than its part's number
	for i := range c.parts {
		for _, k := range c.parts[i].at {
			owner[k] = int32(i + 1)
		}
	}
	type spread struct {
		long, wide float64
		told       bool
		inTint     bool
	}
	all := make([]spread, len(c.parts))
	var narrow []float64
	for i := range c.parts {
		b := &c.parts[i]
		if c.contrast(b) < leastTold || len(b.at) <= 2*least || b.solid <= convex {
			continue
		}
		light, plain := c.lightAlong(b)
		s := spread{told: true, inTint: !plain && c.coarseTint}
		s.long, s.wide = c.spreads(b, light, plain, owner, int32(i+1))
		if all[i] = s; s.inTint {
			narrow = append(narrow, s.wide)
		}
	}
	inLight := c.lens() + addedToLines
	inTint := inLight + leastInTint
	const enough, narrowest = 30, 10
	if len(narrow) >= enough { // of pieces that lie anyhow, a tenth are as good as lines
		slices.Sort(narrow)
		inTint = min(inLight+mostInTint, max(inTint, narrow[len(narrow)/narrowest]))
	}
	kept := c.parts[:0]
	for i, b := range c.parts {
		s, point := &all[i], inLight
		if s.inTint {
			point = inTint
		}
		if s.told && s.long > overPoint*point && s.wide-point < onEdge*onEdge*(s.long-point) {
			continue
		}
		kept = append(kept, b)
	}
	c.parts = kept
}

// spreads are a blob's variances along its longer and shorter axis, px², by how strongly the light of each pixel of it
// and close around it differs the way that it does, without what belongs to others.
func (c *area) spreads(
	b *blob, light func(i int32) float64, signed bool, owner []int32, number int32,
) (long, wide float64) {
	x0, y0, x1, y1 := c.box(b.at)
	const ring = 2
	x0, y0, x1, y1 = max(0, x0-ring), max(0, y0-ring), min(c.w-1, x1+ring), min(c.h-1, y1+ring)
	w, h := x1-x0+1, y1-y0+1
	near := make([]bool, w*h)
	for _, i := range b.at {
		x, y := int(i)%c.w-x0, int(i)/c.w-y0
		for v := max(0, y-ring); v <= min(h-1, y+ring); v++ {
			for u := max(0, x-ring); u <= min(w-1, x+ring); u++ {
				near[v*w+u] = true
			}
		}
	}
	var n, sx, sy, xx, yy, xy float64
	for y := range h {
		for x := range w {
			i := int32((y+y0)*c.w + x + x0)
			if !near[y*w+x] || c.on[i] && owner[i] != number {
				continue
			}
			v := light(i)
			if !signed {
				v = max(0, v)
			}
			fx, fy := float64(x), float64(y)
			n, sx, sy, xx, yy, xy = n+v, sx+v*fx, sy+v*fy, xx+v*fx*fx, yy+v*fy*fy, xy+v*fx*fy
		}
	}
	if n <= 0 {
		return 0, 0
	}
	mx, my := sx/n, sy/n
	return principal(xx/n-mx*mx, yy/n-my*my, xy/n-mx*my)
}

// lens is the variance that the lens and the smoothing give to what is sharp, px², by the steepest edge of each of the
// plainest pieces: the step there is their difference from the base. Those that show in light tell it best.
func (c *area) lens() (px2 float64) {
	const wide = 5 // px across
	var byLight, byTint []float64
	for i := range c.parts {
		b := &c.parts[i]
		_, _, long, across := c.axes(b.at)
		if b.intact() && c.contrast(b) > 3*leastTold && across > wide*hexSpread && across > 0.6*long {
			if light, plain := c.lightAlong(b); plain {
				byLight = append(byLight, c.edge(b, light))
			} else {
				byTint = append(byTint, c.edge(b, light))
			}
		}
	}
	const enough = 8
	if len(byLight) < enough {
		byLight = append(byLight, byTint...)
	}
	if len(byLight) < enough {
		return sharp
	}
	slices.Sort(byLight)
	return max(sharp, byLight[len(byLight)/2])
}

// edge is the variance of a piece's steepest edge, px²: the step of its light over the steepest slope, as a Gaussian
// has it.
func (c *area) edge(b *blob, light func(i int32) float64) (px2 float64) {
	var plain []float64
	steepest := 0.0
	for _, i := range b.at {
		plain = append(plain, light(i))
		if x, y := int(i)%c.w, int(i)/c.w; x > 0 && y > 0 && x < c.w-1 && y < c.h-1 {
			steepest = max(steepest, math.Hypot(light(i+1)-light(i-1), light(i+int32(c.w))-light(i-int32(c.w)))/2)
		}
	}
	slices.Sort(plain)
	step := plain[len(plain)*9/10]
	const difference = 1.0 / 3 // px², since the slope is that between every other pixel
	r := step / steepest
	return r*r/2/math.Pi - difference
}

// plainInLight is how much a blob has to be lighter or darker than its base to be measured by that alone, and as a share
// of how much it differs.
const plainInLight, mostlyInLight = 0.1, 0.3

// lightAlong gives how much the light of a pixel differs from the base in the way that a blob's does. Where a photo keeps
// light sharper than tint, and the blob shows in light, that is what counts.
func (c *area) lightAlong(b *blob) (light func(i int32) float64, plain bool) {
	var share [3]float64
	whole := dot3(luma, c.wrote)
	for ch := range 3 {
		share[ch] = luma[ch] * c.wrote[ch] / whole
	}
	if by := dot3(share, b.mean); c.coarseTint && math.Abs(by) > max(plainInLight, mostlyInLight*c.contrast(b)) {
		way := math.Copysign(1, by)
		return func(i int32) float64 {
			return way * inLight(
				share[0]*float64(c.diff[0][i])+share[1]*float64(c.diff[1][i])+share[2]*float64(c.diff[2][i]),
			)
		}, true
	}
	var u [3]float64
	for _, i := range b.at {
		for ch := range 3 {
			u[ch] += inLight(float64(c.diff[ch][i])) * c.weight[ch] * c.weight[ch]
		}
	}
	u = unit(u)
	return func(i int32) float64 {
		return inLight(float64(c.diff[0][i]))*u[0] + inLight(float64(c.diff[1][i]))*u[1] +
			inLight(float64(c.diff[2][i]))*u[2]
	}, false
}

// luma is how a compressed photo makes light of what the camera wrote (ITU-R BT.601).
var luma = [3]float64{0.299, 0.587, 0.114}

// inLight is a difference from the base as a share of the base's light, in which a lens adds its own spread to a
// piece's.
func inLight(diff float64) float64 {
	root := 1 + diff/3
	return root*root*root - 1
}
