package optics

import (
	"math"

	"cloudburst/core/colour"
)

// Glow is a fluorescent colourant in a layer: it takes light in some bands and gives part of it back in others.
type Glow struct {
	Takes colour.Spectrum // k of the colourant itself, 1/mm, in the bands that excite it
	Gives colour.Spectrum // shape of what it emits; sums to 1
	Yield float64         // energy out per energy taken
}

// glowSteps is the number of depths (less one) over which emission is summed, by Simpson's rule on a grid that is
// finer towards the front, where light comes in and gets out.
const glowSteps = 10

// leastGiven is the share of the emission below which a band is left out.
const leastGiven = 1e-3

// GlowField is a fluorescent colourant in one even layer of a stack, worked out as far as it does not hang on the
// ground.
type GlowField struct {
	surface  Surface
	light    *colour.Spectrum
	glow     *Glow
	taken    float64 // light times what the colourant takes, summed over the bands
	straight float64 // share of the exciting light that is never scattered
	depth    [glowSteps + 1]float64
	weight   [glowSteps + 1]float64
	excite   halves
	bands    []int
	emit     []halves
}

// part is what a part of a stack does to light: thrown back from its front and from its rear, and let through.
type part struct{ front, rear, through float64 }

// slab is an even layer as a part.
func slab(k, s, x float64) part {
	r, t := Slab(k, s, x)
	return part{r, r, t}
}

// over lays a part on another one.
func (p part) over(q part) part {
	between := 1 / (1 - p.rear*q.front) // light going back and forth
	through := p.through * between
	return part{
		p.front + p.through*through*q.front, q.rear + q.through*q.through*between*p.rear, through * q.through,
	}
}

// halves are the parts of a stack above and below each depth of a layer.
type halves [glowSteps + 1]struct{ above, below part }

// fill works them out. It is Slab at many depths of one layer: the root is drawn once, and what is left of the light
// below a depth is what is left of all of it, by what is left above. Depths go with the squares of whole numbers, so
// that what is left at one of them follows from the one before.
func (h *halves) fill(k, s, x float64, depth *[glowSteps + 1]float64, before, after part) {
	alpha := math.Sqrt(k * (k + 2*s))
	whole := math.Exp(-alpha * x)
	above, step := 1.0, math.Exp(-alpha*depth[1])
	twice := step * step
	for i, z := range depth {
		below := whole / above
		if above < 1e-100 {
			below = math.Exp(-alpha * (x - z))
		}
		h[i].above = before.over(fading(k, s, alpha, z, above))
		h[i].below = fading(k, s, alpha, x-z, below).over(after)
		above, step = above*step, step*twice
	}
}

// fading is an even layer with α = √(K(K+2S)) and e^(−αx) at hand; see Slab.
func fading(k, s, alpha, x, e float64) part {
	u := alpha * x
	if u < 1e-4 {
		return slab(k, s, x)
	}
	e2 := e * e // the fractions of Slab, brought to one
	d := 1 / (alpha*(1+e2) + (k+s)*(1-e2))
	r := s * (1 - e2) * d
	return part{r, r, 2 * e * alpha * d}
}

// unhindered lets everything through.
var unhindered = part{0, 0, 1}

// Glows works out the field of a colourant in a layer by itself, in a light of that power.
func (s Surface) Glows(l *Layer, g *Glow, light *colour.Spectrum) *GlowField {
	return s.GlowsIn([]Layer{*l}, 0, g, light)
}

// GlowsIn works out the field of a colourant in one layer of a stack, front to back. The bands that excite are treated
// as one, weighed by the light's power times what the colourant takes.
func (s Surface) GlowsIn(layers []Layer, which int, g *Glow, light *colour.Spectrum) *GlowField {
	f := &GlowField{surface: s, light: light, glow: g}
	l := &layers[which]
	kEx, sEx := make([]float64, len(layers)), make([]float64, len(layers))
	for b, k := range g.Takes {
		w := light[b] * k
		f.taken += w
		for i := range layers {
			kEx[i] += w * layers[i].K[b]
			sEx[i] += w * layers[i].S[b]
		}
	}
	if f.taken <= 0 {
		return f
	}
	straight := 0.0
	for i := range layers {
		kEx[i], sEx[i] = kEx[i]/f.taken, sEx[i]/f.taken
		straight += (kEx[i] + 2*sEx[i]) * layers[i].ThicknessMM
	}
	f.straight = math.Exp(-2 * straight)
	x := l.ThicknessMM
	reach := min(x, 14/(kEx[which]+sEx[which]+1e-9)) // deeper than this nothing is excited
	for i := range f.depth {
		v := float64(i) / glowSteps
		f.depth[i] = reach * v * v
		simpson := 4.0
		switch {
		case i == 0 || i == glowSteps:
			simpson = 1
		case i%2 == 0:
			simpson = 2
		}
		f.weight[i] = simpson / (3 * glowSteps) * 2 * reach * v // dz = 2·reach·v dv
	}
	// about are the parts before and after the layer, by its coefficients in each.
	about := func(k, sc func(i int) float64) (before, after part) {
		before, after = unhindered, unhindered
		for i := range layers {
			switch q := slab(k(i), sc(i), layers[i].ThicknessMM); {
			case i < which:
				before = before.over(q)
			case i > which:
				after = after.over(q)
			}
		}
		return before, after
	}
	before, after := about(func(i int) float64 { return kEx[i] }, func(i int) float64 { return sEx[i] })
	f.excite.fill(kEx[which], sEx[which], x, &f.depth, before, after)
	f.bands = make([]int, 0, len(g.Gives))
	for b, shape := range g.Gives {
		if shape >= leastGiven && light[b] > 0 {
			f.bands = append(f.bands, b)
		}
	}
	f.emit = make([]halves, len(f.bands))
	for j, b := range f.bands {
		before, after := about(
			func(i int) float64 { return layers[i].K[b] }, func(i int) float64 { return layers[i].S[b] },
		)
		f.emit[j].fill(l.K[b], l.S[b], x, &f.depth, before, after)
	}
	return f
}

// Over gives the light that is sent to the front and out of the back, over a ground of reflectance rg with air between,
// as shares of what a perfect white would send in the same light, band by band (so it can lift a band above 1).
//
// Emission at a depth is a source in the two-flux equations, half up and half down; it is absorbed, scattered, sent
// back by the ground and met by both surfaces like any other light.
func (f *GlowField) Over(rg *colour.Spectrum) (front, back colour.Spectrum) {
	if f.taken <= 0 {
		return front, back
	}
	s := f.surface
	rgEx := 0.0
	for b, k := range f.glow.Takes {
		rgEx += f.light[b] * k * rg[b]
	}
	// Light that was not scattered meets a face as a beam does; the rest meets it as diffuse light.
	inside := s.Directional*f.straight + s.Inside*(1-f.straight)
	behindEx := s.behind(inside, rgEx/f.taken)
	var excites [glowSteps + 1]float64
	for i := range excites {
		h := &f.excite[i]
		up, down := &h.above, &h.below
		below := down.front + down.through*down.through*behindEx/(1-down.rear*behindEx)
		// Flux at the depth: F goes in below the face, D and U run down and up.
		// U = below·D;  D = t·F + rear·U;  F = (1−k1) + inside·(front·F + t·U)
		d := up.through / (1 - up.rear*below)
		in := (1 - s.Directional) / (1 - inside*(up.front+up.through*below*d))
		excites[i] = d * in * (1 + below) * f.weight[i]
	}
	out := 1 - s.Inside
	for j, b := range f.bands {
		source := f.glow.Yield * f.taken * f.glow.Gives[b] / f.light[b] / 2
		behind := s.behind(s.Inside, rg[b])
		for i := range excites {
			h := &f.emit[j][i]
			a, c := &h.above, &h.below
			before := 1 / (1 - a.front*s.Inside) // to and fro between a part and the face beyond it
			after := 1 / (1 - c.rear*behind)
			up := a.rear + a.through*a.through*s.Inside*before // what the part above sends back down
			down := c.front + c.through*c.through*behind*after // what the part below sends back up
			run := source * excites[i] / (1 - up*down)         // half each way, going to and fro
			front[b] += run * (1 + down) * a.through * out * before
			back[b] += run * (1 + up) * c.through * out * after
		}
	}
	return front, back
}

// behind is what the back face and a ground beyond it, with air between, send back to diffuse light inside.
func (s Surface) behind(inside, rg float64) float64 {
	return inside + (1-inside)*rg*(1-s.Diffuse)/(1-rg*s.Diffuse)
}
