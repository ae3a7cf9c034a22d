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
const glowSteps = 16

// Glows adds the light that a fluorescent colourant in one even layer sends to the front and out of the back, as
// shares of what a perfect white would send in the same light, band by band (so it can lift a band above 1).
//
// The bands that excite are treated as one, weighed by the light's power times what the colourant takes. Emission at
// a depth is a source in the two-flux equations, half up and half down; it is absorbed, scattered, sent back by the
// ground (reflectance rg, with air between) and met by both surfaces like any other light.
func (s Surface) Glows(l *Layer, g *Glow, light *colour.Spectrum, rg *colour.Spectrum) (front, back colour.Spectrum) {
	var taken, kEx, sEx, rgEx float64
	for b, k := range g.Takes {
		w := light[b] * k
		taken += w
		kEx += w * l.K[b]
		sEx += w * l.S[b]
		rgEx += w * rg[b]
	}
	if taken <= 0 {
		return front, back
	}
	kEx, sEx, rgEx = kEx/taken, sEx/taken, rgEx/taken
	x := l.ThicknessMM
	reach := min(x, 14/(kEx+sEx+1e-9)) // deeper than this nothing is excited
	// Light that was not scattered meets a face as a beam does; the rest meets it as diffuse light.
	straight := math.Exp(-2 * (kEx + 2*sEx) * x)
	inside := s.Directional*straight + s.Inside*(1-straight)
	var depth, excites [glowSteps + 1]float64
	behindEx := s.behind(inside, rgEx)
	for i := range depth {
		v := float64(i) / glowSteps
		z := reach * v * v
		depth[i] = z
		// Flux at the depth: F goes in below the face, D and U run down and up.
		r0, t0 := Slab(kEx, sEx, z)
		r1, t1 := Slab(kEx, sEx, x-z)
		below := r1 + t1*t1*behindEx/(1-r1*behindEx)
		// U = below·D;  D = t0·F + r0·U;  F = (1−k1) + inside·(r0·F + t0·U)
		d := t0 / (1 - r0*below)
		f := (1 - s.Directional) / (1 - inside*(r0+t0*below*d))
		weight := 4.0
		switch {
		case i == 0 || i == glowSteps:
			weight = 1
		case i%2 == 0:
			weight = 2
		}
		excites[i] = d * f * (1 + below) * weight / (3 * glowSteps) * 2 * reach * v // Simpson, dz = 2·reach·v dv
	}
	for b, shape := range g.Gives {
		if shape < 1e-6 || light[b] <= 0 {
			continue
		}
		source := g.Yield * taken * shape / light[b] / 2
		behind := s.behind(s.Inside, rg[b])
		out := (1 - s.Inside)
		for i, z := range depth {
			if excites[i] == 0 {
				continue
			}
			r0, t0 := Slab(l.K[b], l.S[b], z)
			r1, t1 := Slab(l.K[b], l.S[b], x-z)
			up := r0 + t0*t0*s.Inside/(1-r0*s.Inside)  // what the part above sends back down
			down := r1 + t1*t1*behind/(1-r1*behind)    // what the part below sends back up
			run := source * excites[i] / (1 - up*down) // half each way, going to and fro
			front[b] += run * (1 + down) * t0 * out / (1 - r0*s.Inside)
			back[b] += run * (1 + up) * t1 * out / (1 - r1*behind)
		}
	}
	return front, back
}

// behind is what the back face and a ground beyond it, with air between, send back to diffuse light inside.
func (s Surface) behind(inside, rg float64) float64 {
	return inside + (1-inside)*rg*(1-s.Diffuse)/(1-rg*s.Diffuse)
}
