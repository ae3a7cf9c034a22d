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

// GlowField is a fluorescent colourant in one even layer, worked out as far as it does not hang on the ground.
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

// halves are the parts of a layer above and below each depth.
type halves [glowSteps + 1]struct{ r0, t0, r1, t1 float64 }

func (h *halves) fill(k, s, x float64, depth *[glowSteps + 1]float64) {
	for i, z := range depth {
		h[i].r0, h[i].t0 = Slab(k, s, z)
		h[i].r1, h[i].t1 = Slab(k, s, x-z)
	}
}

// Glows works out the field of a colourant in a layer, in a light of that power. The bands that excite are treated as
// one, weighed by the light's power times what the colourant takes.
func (s Surface) Glows(l *Layer, g *Glow, light *colour.Spectrum) *GlowField {
	f := &GlowField{surface: s, light: light, glow: g}
	var kEx, sEx float64
	for b, k := range g.Takes {
		w := light[b] * k
		f.taken += w
		kEx += w * l.K[b]
		sEx += w * l.S[b]
	}
	if f.taken <= 0 {
		return f
	}
	kEx, sEx = kEx/f.taken, sEx/f.taken
	x := l.ThicknessMM
	reach := min(x, 14/(kEx+sEx+1e-9)) // deeper than this nothing is excited
	f.straight = math.Exp(-2 * (kEx + 2*sEx) * x)
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
	f.excite.fill(kEx, sEx, x, &f.depth)
	for b, shape := range g.Gives {
		if shape < leastGiven || light[b] <= 0 {
			continue
		}
		f.bands = append(f.bands, b)
		f.emit = append(f.emit, halves{})
		f.emit[len(f.emit)-1].fill(l.K[b], l.S[b], x, &f.depth)
	}
	return f
}

// Over gives the light that is sent to the front and out of the back, over a ground of reflectance rg with air between,
// as shares of what a perfect white would send in the same light, band by band (so it can lift a band above 1).
//
// Emission at a depth is a source in the two-flux equations, half up and half down; it is absorbed, scattered, sent back
// by the ground and met by both surfaces like any other light.
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
		below := h.r1 + h.t1*h.t1*behindEx/(1-h.r1*behindEx)
		// Flux at the depth: F goes in below the face, D and U run down and up.
		// U = below·D;  D = t0·F + r0·U;  F = (1−k1) + inside·(r0·F + t0·U)
		d := h.t0 / (1 - h.r0*below)
		in := (1 - s.Directional) / (1 - inside*(h.r0+h.t0*below*d))
		excites[i] = d * in * (1 + below) * f.weight[i]
	}
	out := 1 - s.Inside
	for j, b := range f.bands {
		source := f.glow.Yield * f.taken * f.glow.Gives[b] / f.light[b] / 2
		behind := s.behind(s.Inside, rg[b])
		for i := range excites {
			h := &f.emit[j][i]
			up := h.r0 + h.t0*h.t0*s.Inside/(1-h.r0*s.Inside) // what the part above sends back down
			down := h.r1 + h.t1*h.t1*behind/(1-h.r1*behind)   // what the part below sends back up
			run := source * excites[i] / (1 - up*down)        // half each way, going to and fro
			front[b] += run * (1 + down) * h.t0 * out / (1 - h.r0*s.Inside)
			back[b] += run * (1 + up) * h.t1 * out / (1 - h.r1*behind)
		}
	}
	return front, back
}

// behind is what the back face and a ground beyond it, with air between, send back to diffuse light inside.
func (s Surface) behind(inside, rg float64) float64 {
	return inside + (1-inside)*rg*(1-s.Diffuse)/(1-rg*s.Diffuse)
}
