package mix_test

import (
	"testing"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	. "cloudburst/core/mix"
	"cloudburst/core/optics"
	. "cloudburst/testkit"

	"github.com/stretchr/testify/assert"
)

// Behaviour 2: a bait's fins are lighter and more see-through than its body; a bait of half the thickness needs about
// twice the dose for the same look.
func TestFinsAndThinBaits(t *testing.T) {
	m := Stirred(t, CupOf(t, "1 cup", cup.DripOf("clear-red", 9), cup.DripOf("carbon-black", 1)))
	assert.Greater(t, m.Colour(Over(1.5)).L, m.Colour(Over(12)).L+15)
	assert.Greater(t, m.SeeThrough(1.5, cup.Rested), m.SeeThrough(12, cup.Rested)+0.2)
	twice := Stirred(t, CupOf(t, "1 cup", cup.DripOf("clear-red", 18), cup.DripOf("carbon-black", 2)))
	assert.Less(t, colour.DeltaE00(m.Colour(Over(12)), twice.Colour(Over(6))), 1.5)
	assert.Greater(t, colour.DeltaE00(m.Colour(Over(12)), m.Colour(Over(6))), 8.0)
}

// Behaviour 4: two transparent colourants of different windows give one hue when thin and another when thick, and it
// depends on their ratio.
func TestAChangeableTurnsWithThickness(t *testing.T) {
	turn := func(violet, yellow float64) float64 {
		m := Stirred(t, CupOf(t, "1 cup", cup.DripOf("clear-violet", violet), cup.DripOf("clear-yellow", yellow)))
		return HueApart(m.Colour(Over(0.8)), m.Colour(Over(10)))
	}
	best := turn(6, 16)
	assert.Greater(t, best, 60.0, "two hues from one cup")
	assert.Greater(t, best, turn(6, 60)+20, "and hardly so at another ratio")
	assert.Greater(t, best, turn(0.5, 16)+20)
}

// Behaviour 7: a dark back seen through a clear belly greys it; red over green is darker than red over yellow.
func TestWhatLiesBehindShowsThrough(t *testing.T) {
	clear, dark := Stirred(t, CupOf(t, "1 cup", cup.DripOf("clear-yellow", 4))), Stirred(
		t, CupOf(t, "1 cup", cup.DripOf("carbon-black", 20)),
	)
	belly := StackColour([]Slice{{Mix: clear, MM: 4}}, On(1, optics.White))
	backed := StackColour([]Slice{{Mix: clear, MM: 4}, {Mix: dark, MM: 3}}, On(1, optics.White))
	assert.Less(t, backed.L, belly.L-30)
	assert.Less(t, backed.Chroma(), belly.Chroma())
	red, green, yellow := Stirred(t, CupOf(t, "1 cup", cup.DripOf("clear-red", 12))), Stirred(
		t, CupOf(t, "1 cup", cup.DripOf("solid-yellow", 20), cup.DripOf("clear-green", 6)),
	), Stirred(t, CupOf(t, "1 cup", cup.DripOf("solid-yellow", 20)))
	assert.Less(
		t, StackColour([]Slice{{Mix: red, MM: 2}, {Mix: green, MM: 6}}, On(1, optics.White)).L,
		StackColour([]Slice{{Mix: red, MM: 2}, {Mix: yellow, MM: 6}}, On(1, optics.White)).L-5,
	)
}

func TestAStackOfOneMixIsThatMix(t *testing.T) {
	m := Stirred(t, CupOf(t, "1 cup", cup.DripOf("glow-lime", 12), Tsp("pearl-silver", 0.125)))
	at := On(7, optics.White)
	one := m.Colour(at)
	cut := StackColour([]Slice{{Mix: m, MM: 3}, {Mix: nil, MM: 2}, {Mix: m, MM: 4}, {Mix: m, MM: 0}}, at)
	assert.InDelta(t, one.L, cut.L, 1e-9)
	assert.InDelta(t, one.B, cut.B, 1e-9)
	bare := StackColour(nil, at)
	assert.Greater(t, bare.L, 90.0, "paper")
}

// A blend lies between its two mixes, and all of one is that one.
func TestABlendIsTheMeanByVolume(t *testing.T) {
	a, b := Stirred(
		t, CupOf(t, "1 cup", cup.DripOf("clear-red", 10)),
	), Stirred(t, CupOf(t, "1 cup", cup.DripOf("clear-red", 20)))
	want := Stirred(t, CupOf(t, "1 cup", cup.DripOf("clear-red", 15)))
	assert.Less(
		t, colour.DeltaE00(want.Colour(Over(6)), Blend(a, b, 0.5).Colour(Over(6))), 0.1,
		"halves of two cups are the cup between",
	)
	assert.Same(t, a, Blend(a, b, 0))
	assert.Same(t, b, Blend(a, b, 1))
}
