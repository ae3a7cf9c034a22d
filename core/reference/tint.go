package reference

import (
	"fmt"
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/fit"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
)

// Look is a pin of a part that may be tinted, or clear with the layer behind it showing.
type Look struct {
	Lab    colour.Lab
	MM     float64 // of the part itself
	Ground float64 // reflectance of what the bait lies on
	Backed bool    // the bait's own back, or another layer, lies behind it; else nothing does
	Error  float64 // of the reading, ΔE00
}

// Verdict is whether a part carries its colour or only shows what is behind it.
type Verdict struct {
	Answer string  `json:"answer" enum:"tinted,clear,neither,cannot tell"`
	Says   string  `json:"says"`
	Tinted float64 `json:"tinted" doc:"How far off the second pin would be if the part were tinted, ΔE00"`
	Clear  float64 `json:"clear" doc:"How far off if it were clear"`
	Next   string  `json:"next,omitempty" doc:"The view that would settle it"`
}

// The answers.
const (
	Tinted     = "tinted"
	ClearOver  = "clear"
	Neither    = "neither"
	CannotTell = "cannot tell"
)

// neitherFrom is the misfit, ΔE00, from which neither model explains a spot. It is wide: greens outside sRGB miss by
// up to 25 even where the model is right.
const neitherFrom = 25.0

// leastRatio is how much two thicknesses have to differ for a tint to show it.
const leastRatio = 1.4

const bestView = "Pin a spot of the same part with nothing behind it but the paper, or where it is half as thick."

// ThroughOrThere decides between a tinted slab and a clear one over a layer, from two pins of one part: each model is
// fitted to the first pin (the tint's absorption, or the colour of what lies behind, in three broad bands, for several
// amounts of haze) and asked for the second; the difference of their misfits decides. Another paper under both can
// never decide it, since it only shows whether light gets through.
func ThroughOrThere(one, other Look) (Verdict, error) {
	for i, l := range []Look{one, other} {
		if !(l.MM > 0.05 && l.MM <= 100) {
			return Verdict{}, measure.Faulty(
				"thickness", "pin %d: how thick is the part there? From 0.05 to 100 mm", i+1,
			)
		}
		if !(l.Ground >= 0 && l.Ground <= 1) {
			return Verdict{}, measure.Faulty("ground", "a ground sends back 0 to 100 %% of the light")
		}
	}
	ratio := max(one.MM, other.MM) / min(one.MM, other.MM)
	v := Verdict{Answer: CannotTell, Next: bestView}
	switch {
	case one.Backed == other.Backed && ratio < leastRatio && math.Abs(one.Ground-other.Ground) > 0.05:
		v.Says = "Only the paper changed: that shows whether light gets through, not which layer carries the colour."
		return v, nil
	case one.Backed == other.Backed && ratio < leastRatio:
		v.Says = fmt.Sprintf(
			"The two spots are nearly as thick as each other (%s and %s mm): either would look the same.",
			measure.Number(one.MM, 1), measure.Number(other.MM, 1),
		)
		return v, nil
	case !one.Backed && !other.Backed:
		v.Says = "With nothing behind either spot, what colour there is, is in the plastic."
		v.Answer, v.Next = Tinted, ""
		if one.Lab.Chroma() < 6 && one.Lab.L > 80 && other.Lab.Chroma() < 6 && other.Lab.L > 80 {
			v.Answer, v.Says = ClearOver, "With nothing behind either spot there is hardly any colour: it is clear."
		}
		return v, nil
	}
	if !one.Backed { // the fit begins where there is something behind
		one, other = other, one
	}
	v.Tinted, v.Clear = math.Inf(1), math.Inf(1)
	for _, s := range []float64{0.004, 0.012, 0.03, 0.07, 0.16, 0.35} {
		v.Tinted = min(v.Tinted, misfit(one, other, s, tintedSlab))
		if s <= 0.07 { // beyond that nobody would call it clear
			v.Clear = min(v.Clear, misfit(one, other, s, clearSlab))
		}
	}
	noise := 1.2 * math.Hypot(max(1, one.Error), max(1, other.Error))
	gap := math.Abs(v.Tinted - v.Clear)
	best := min(v.Tinted, v.Clear)
	switch {
	case best > neitherFrom+noise:
		v.Answer = Neither
		v.Says = fmt.Sprintf(
			"Neither fits: a tint misses the second spot by ΔE00 %s, clear plastic by %s. Are both spots of one plastic, and is the light of each photo undone?",
			measure.Number(v.Tinted, 1), measure.Number(v.Clear, 1),
		)
	case gap < 2+noise || best > 0.5*max(v.Tinted, v.Clear):
		v.Says = fmt.Sprintf(
			"Both would fit: tinted to ΔE00 %s, clear to %s.", measure.Number(v.Tinted, 1), measure.Number(v.Clear, 1),
		)
	case v.Tinted < v.Clear:
		v.Answer, v.Next = Tinted, ""
		v.Says = fmt.Sprintf(
			"It is tinted: that explains the second spot to ΔE00 %s, clear plastic would be off by %s.",
			measure.Number(v.Tinted, 1), measure.Number(v.Clear, 1),
		)
	default:
		v.Answer, v.Next = ClearOver, ""
		v.Says = fmt.Sprintf(
			"It is clear, and what lies behind shows: that explains the second spot to ΔE00 %s, a tint would be off by %s.",
			measure.Number(v.Clear, 1), measure.Number(v.Tinted, 1),
		)
	}
	return v, nil
}

// model gives the colour of a look, a channel at a time: `unknown` is the tint's absorption per mm, or the reflectance
// of what lies behind.
type model func(l Look, haze, unknown float64) float64

const clearK = 0.003 // of plain plastisol, 1/mm

func slab(k, s, mm float64) optics.Stack {
	l := optics.Layer{ThicknessMM: mm}
	l.K[0], l.S[0] = k, s
	return optics.Pile(l)
}

// tintedSlab lies on the paper, whatever else there is.
func tintedSlab(l Look, haze, k float64) float64 {
	st := slab(k, haze, l.MM)
	piece := optics.InAir.Enclose(&st)
	ground := colour.Flat(l.Ground)
	return piece.Over(&ground)[0]
}

// clearSlab lies on the layer behind it, or on the paper where nothing is behind.
func clearSlab(l Look, haze, behind float64) float64 {
	st := slab(clearK, haze, l.MM)
	if l.Backed {
		ground := colour.Flat(behind)
		return optics.InAir.Joined(&st, &ground)[0]
	}
	piece := optics.InAir.Enclose(&st)
	ground := colour.Flat(l.Ground)
	return piece.Over(&ground)[0]
}

// misfit fits the unknown to the first look, channel by channel, and says how far off the second then is. What the
// first look itself can't be fitted by counts, too.
func misfit(one, other Look, haze float64, m model) float64 {
	first := one.Lab.Linear()
	want := [3]float64{first.R, first.G, first.B}
	var got, fitted [3]float64
	// A tint darkens, a paler layer behind brightens: either way the colour goes one way with the unknown.
	low, high := 0.0, 1.0
	if m(one, haze, 0) > m(one, haze, 1) {
		high = 12
	}
	rising := m(one, haze, high) > m(one, haze, low)
	for ch := range 3 {
		at := fit.Halve(low, high, 40, func(x float64) bool { return (m(one, haze, x) < want[ch]) != rising })
		fitted[ch], got[ch] = m(one, haze, at), m(other, haze, at)
	}
	return colour.DeltaE00(other.Lab, colour.RGBOf(got).Lab()) + colour.DeltaE00(one.Lab, colour.RGBOf(fitted).Lab())
}
