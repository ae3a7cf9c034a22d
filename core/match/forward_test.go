package match_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"cloudburst/core/colour"
	. "cloudburst/core/match"
	"cloudburst/core/optics"
)

// plain is the same by the formulas as package optics has them.
func plain(m *Coefficients, mm float64, ground optics.Ground, light colour.Light) colour.Lab {
	st := optics.Pile(optics.Layer{K: m.K, S: m.S, ThicknessMM: mm})
	piece := optics.InAir.Enclose(&st)
	seen := ground.See(&piece)
	return light.Lab(&seen)
}

var grounds = []optics.Ground{optics.White, optics.Dark, optics.Grey, optics.Against, optics.Metal, optics.Hand}

// anyMix is smooth, from clear to solid, from colourless to nearly black.
func anyMix(t *rapid.T, name string) *Coefficients {
	number := func(of string, from, to float64) float64 { return rapid.Float64Range(from, to).Draw(t, name+" "+of) }
	m := &Coefficients{}
	k, s := math.Exp(number("k", -9, 3)), math.Exp(number("s", -9, 3))
	if number("clear", 0, 1) < 0.1 {
		s = 0
	}
	at, wide := number("at", 380, 730), number("wide", 15, 120)
	for b := range m.K {
		z := (colour.NM(b) - at) / wide
		m.K[b] = k * math.Exp(-z*z/2)
		m.S[b] = s * (1.2 - 0.4*float64(b)/colour.Bands)
	}
	return m
}

// The tables give what the formulas give, on every ground, from film to depth.
func TestTablesAgainstTheFormulas(t *testing.T) {
	most := 0.0
	rapid.Check(t, func(t *rapid.T) {
		m := anyMix(t, "mix")
		mm := math.Exp(rapid.Float64Range(math.Log(0.3), math.Log(60)).Draw(t, "mm"))
		ground, light := rapid.SampledFrom(grounds).Draw(t, "ground"), rapid.SampledFrom(colour.Lights()).Draw(t, "light")
		want, got := plain(m, mm, ground, light), NewView(mm, ground, light).Lab(m, nil)
		d := colour.DeltaE00(want, got)
		most = max(most, d)
		if !(d < 1e-5) {
			t.Fatalf("ΔE00 %g: %v for %v", d, got, want)
		}
	})
	t.Logf("ΔE00 %.1g at most", most)
}

// The slope is what the colour does when a little more goes in.
func TestSlopeIsTheDerivative(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m, part := anyMix(t, "mix"), anyMix(t, "part")
		mm := math.Exp(rapid.Float64Range(math.Log(0.3), math.Log(30)).Draw(t, "mm"))
		v := NewView(mm, rapid.SampledFrom(grounds).Draw(t, "ground"), colour.D65)
		most := 0.0
		for b := range part.K {
			most = max(most, part.K[b], part.S[b])
		}
		step := 1e-5 / most
		with := func(by float64) colour.Lab {
			n := *m
			for b := range n.K {
				n.K[b], n.S[b] = n.K[b]+by*part.K[b], n.S[b]+by*part.S[b]
			}
			return v.Lab(&n, nil)
		}
		out := make([]Gradient, 1)
		at := v.Slope(m, []*Coefficients{part}, out, nil, nil)
		if d := colour.DeltaE00(at, v.Lab(m, nil)); d > 1e-6 {
			t.Fatalf("the slope's own colour is off by %g", d)
		}
		// Forwards only, since nothing can be taken out of clear plastic; twice, to take the curvature off.
		one, two, here := with(step), with(2*step), v.Lab(m, nil)
		for i, d := range [3][3]float64{{here.L, one.L, two.L}, {here.A, one.A, two.A}, {here.B, one.B, two.B}} {
			want := (4*d[1] - d[2] - 3*d[0]) / (2 * step)
			size := math.Abs(out[0][0]) + math.Abs(out[0][1]) + math.Abs(out[0][2])
			if math.Abs(out[0][i]-want) > 0.003*size+1e-6/step {
				t.Fatalf("channel %d: %g for %g", i, out[0][i], want)
			}
		}
	})
}

func TestASolidWallLooksTheSameFromAnyDepth(t *testing.T) {
	m := &Coefficients{S: colour.Flat(5), K: colour.Flat(0.5)}
	assert.InDelta(
		t, NewView(20, optics.Dark, colour.D65).Lab(m, nil).L, NewView(60, optics.White, colour.D65).Lab(m, nil).L,
		1e-6,
	)
}

func mixes(n int) []*Coefficients {
	rng := rand.New(rand.NewPCG(4, 2))
	out := make([]*Coefficients, n)
	for i := range out {
		out[i] = &Coefficients{}
		at := 400 + 300*rng.Float64()
		for b := range out[i].K {
			z := (colour.NM(b) - at) / 60
			out[i].K[b], out[i].S[b] = 0.005+0.4*math.Exp(-z*z/2), 0.05*rng.Float64()
		}
	}
	return out
}

func BenchmarkLab(b *testing.B) {
	m, v := mixes(64), NewView(8, optics.White, colour.D65)
	i := 0
	for b.Loop() {
		v.Lab(m[i%64], nil)
		i++
	}
}

func BenchmarkLabByFormulas(b *testing.B) {
	m := mixes(64)
	i := 0
	for b.Loop() {
		plain(m[i%64], 8, optics.White, colour.D65)
		i++
	}
}

func BenchmarkSlopeOfFour(b *testing.B) {
	m, v := mixes(64), NewView(8, optics.White, colour.D65)
	out := make([]Gradient, 4)
	i := 0
	for b.Loop() {
		v.Slope(m[i%64], m[:4], out, nil, nil)
		i++
	}
}
