package mix

import (
	"cloudburst/core/colour"
	"cloudburst/core/optics"
)

// Slice is a thickness of one mix in a bait.
type Slice struct {
	Mix *Mix
	MM  float64
}

// leastSliceMM is less than anyone sees.
const leastSliceMM = 1e-3

// StackColour is the colour of slices laid on each other, front to back, under a condition (whose own thickness does
// not count). Powders glint in the front slice only.
func StackColour(slices []Slice, at Condition) colour.Lab {
	h, front := holdStack(slices, at)
	if h == nil {
		return bare(at)
	}
	h.glint(front.Mix, front.layer)
	seen := h.over(at.Ground)
	return at.Light.Lab(&seen)
}

// StackParts is the same with its part that comes from inside the plastic, as it would be over nothing at all: what is
// left is the ground's, or the light's behind it.
func StackParts(slices []Slice, at Condition) (whole, body colour.Lab) {
	return parts(slices, at, (*held).glint)
}

// DullParts is the same without what powders throw back; see Sheen.
func DullParts(slices []Slice, at Condition) (whole, body colour.Lab) {
	return parts(slices, at, func(*held, *Mix, *optics.Layer) {})
}

func parts(slices []Slice, at Condition, shine func(*held, *Mix, *optics.Layer)) (whole, body colour.Lab) {
	h, front := holdStack(slices, at)
	if h == nil {
		return bare(at), colour.Lab{}
	}
	shine(h, front.Mix, front.layer)
	seen := h.over(at.Ground)
	whole = at.Light.Lab(&seen)
	if at.Ground == optics.Against {
		return whole, colour.Lab{}
	}
	own := h.over(optics.Nothing)
	return whole, at.Light.Lab(&own)
}

// bare is the ground beside the plastic.
func bare(at Condition) colour.Lab {
	if at.Water != "" {
		return Open(at)
	}
	bare := at.Ground.Reflectance()
	if at.Ground == optics.Against {
		bare = colour.Flat(1)
	}
	return at.Light.Lab(&bare)
}

// frontSlice is the one that is seen first.
type frontSlice struct {
	*Mix
	layer *optics.Layer
}

// holdStack works slices out as far as they do not hang on the ground; nil where there is nothing to see.
func holdStack(slices []Slice, at Condition) (*held, frontSlice) {
	var kept []Slice
	for _, s := range slices {
		switch last := len(kept) - 1; {
		case s.Mix == nil || s.MM < leastSliceMM:
		case last >= 0 && kept[last].Mix == s.Mix:
			kept[last].MM += s.MM
		default:
			kept = append(kept, s)
		}
	}
	if len(kept) == 0 {
		return nil, frontSlice{}
	}
	layers := make([]optics.Layer, len(kept))
	for i, s := range kept {
		layers[i] = s.Mix.Layer(s.MM, at.State)
	}
	front := frontSlice{kept[0].Mix, &layers[0]}
	if len(kept) == 1 {
		return kept[0].Mix.hold(&layers[0], at), front
	}
	surface := optics.InAir
	if at.Water != "" {
		surface = optics.InWater
	}
	st := optics.Pile(layers...)
	h := &held{at: at, piece: surface.Enclose(&st)}
	light := at.Light.Power()
	for i, s := range kept {
		for k := range s.Mix.glows {
			h.fields = append(h.fields, surface.GlowsIn(layers, i, &s.Mix.glows[k], &light))
		}
	}
	return h, front
}

// ShowThrough is the contrast of a spot or bar, so thick and of one mix, under so much of a body over it and the rest
// of the body behind: ΔE00 with and without it.
func ShowThrough(body, spot *Mix, overMM, spotMM, bodyMM float64, at Condition) float64 {
	without := StackColour([]Slice{{body, bodyMM}}, at)
	with := StackColour([]Slice{{body, overMM}, {spot, spotMM}, {body, max(0, bodyMM-overMM-spotMM)}}, at)
	return colour.DeltaE00(without, with)
}

// Blend is what two mixes come to where they have run into each other, with so much of the second. Coefficients of a
// mixture are the mean by volume.
func Blend(a, b *Mix, share float64) *Mix {
	switch {
	case share <= 0 || a == b:
		return a
	case share >= 1:
		return b
	}
	mean := func(x, y float64) float64 { return x + (y-x)*share }
	m := &Mix{
		FinishedML: mean(a.FinishedML, b.FinishedML), MassG: mean(a.MassG, b.MassG),
		PlastisolML: mean(a.PlastisolML, b.PlastisolML),
		baseS:       mean(a.baseS, b.baseS), grade: mean(a.grade, b.grade),
	}
	for i := range m.K {
		m.K[i], m.S[i] = mean(a.K[i], b.K[i]), mean(a.S[i], b.S[i])
		m.BodyK[i], m.BodyS[i] = mean(a.BodyK[i], b.BodyK[i]), mean(a.BodyS[i], b.BodyS[i])
	}
	for _, part := range []struct {
		of    *Mix
		share float64
	}{{a, 1 - share}, {b, share}} {
		for _, r := range part.of.Mirrors {
			m.Mirrors = append(m.Mirrors, MirrorIn{r.Powder, r.GramsL * part.share})
		}
		for _, f := range part.of.Flakes {
			f.PerMM3 *= part.share
			m.Flakes = append(m.Flakes, f)
		}
		for _, g := range part.of.glows {
			for i := range g.Takes {
				g.Takes[i] *= part.share
			}
			m.glows = append(m.glows, g)
		}
	}
	return m
}
