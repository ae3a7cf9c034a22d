package optics_test

import (
	"math"
	"testing"

	"pgregory.net/rapid"

	"cloudburst/core/colour"
	. "cloudburst/core/optics"
)

// A layer that is cut in two glows as it did whole, over any ground; and what is laid over it dims it.
func TestGlowInAStack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		k, s := rapid.Float64Range(0.001, 0.4).Draw(t, "k"), rapid.Float64Range(0, 0.8).Draw(t, "s")
		mm := rapid.Float64Range(0.5, 12).Draw(t, "mm")
		cut := rapid.Float64Range(0.1, 0.9).Draw(t, "cut")
		rg := colour.Flat(rapid.Float64Range(0, 0.9).Draw(t, "ground"))
		light := colour.D65.Power()
		g := &Glow{Yield: 0.8}
		for b := range g.Takes {
			z := (colour.NM(b) - 450) / 30
			g.Takes[b] = 0.3 * math.Exp(-z*z/2)
			y := (colour.NM(b) - 520) / 20
			g.Gives[b] = math.Exp(-y * y / 2)
		}
		sum := 0.0
		for _, v := range g.Gives {
			sum += v
		}
		for b := range g.Gives {
			g.Gives[b] /= sum
		}
		layer := func(mm float64) Layer {
			l := Layer{K: colour.Flat(k), S: colour.Flat(s), ThicknessMM: mm}
			for b := range l.K {
				l.K[b] += g.Takes[b]
			}
			return l
		}
		whole := layer(mm)
		front, back := InAir.Glows(&whole, g, &light).Over(&rg)
		parts := []Layer{layer(mm * cut), layer(mm * (1 - cut))}
		var f2, b2 colour.Spectrum
		for i := range parts {
			f, b := InAir.GlowsIn(parts, i, g, &light).Over(&rg)
			for n := range f2 {
				f2[n], b2[n] = f2[n]+f[n], b2[n]+b[n]
			}
		}
		at := 14 // 520 nm
		for what, pair := range map[string][2]float64{"front": {front[at], f2[at]}, "back": {back[at], b2[at]}} {
			if math.Abs(pair[0]-pair[1]) > 0.02*pair[0]+1e-4 {
				t.Fatalf("%s: %v whole, %v cut", what, pair[0], pair[1])
			}
		}
		smoke := Layer{K: colour.Flat(0.3), S: colour.Flat(0.05), ThicknessMM: 1}
		dim, _ := InAir.GlowsIn([]Layer{smoke, whole}, 1, g, &light).Over(&rg)
		if dim[at] >= front[at] {
			t.Fatalf("under smoke it glows more: %v, bare %v", dim[at], front[at])
		}
	})
}
