package recipe_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/optics"
	. "cloudburst/core/recipe"
)

// Behaviour 2: a bait's fins are lighter and more see-through than its body; a bait of half the thickness needs about
// twice the dose for the same look.
func TestFinsAndThinBaits(t *testing.T) {
	m := stir(t, cupOf(t, "1 cup", DripOf("clear-red", 9), DripOf("carbon-black", 1)))
	assert.Greater(t, m.Colour(over(1.5)).L, m.Colour(over(12)).L+15)
	assert.Greater(t, m.SeeThrough(1.5, Rested), m.SeeThrough(12, Rested)+0.2)
	twice := stir(t, cupOf(t, "1 cup", DripOf("clear-red", 18), DripOf("carbon-black", 2)))
	assert.Less(t, colour.DeltaE00(m.Colour(over(12)), twice.Colour(over(6))), 1.5)
	assert.Greater(t, colour.DeltaE00(m.Colour(over(12)), m.Colour(over(6))), 8.0)
}

func TestTheSameLookInAThinnerBait(t *testing.T) {
	c := cupOf(t, "1 cup", DripOf("clear-red", 10), DripOf("clear-brown", 4), tsp("salt-fine", 3))
	s, err := InAnotherBait(&c, Thickness{BodyMM: 12, FinMM: 2}, Thickness{BodyMM: 6, FinMM: 2}, KeepBody, bench(), kit)
	require.NoError(t, err)
	assert.InDelta(t, 25, amount(s.Cup, "clear-red"), 7, "half as thick takes about twice as much, and more for the salt that does not follow")
	assert.Equal(t, c.Doses[2], s.Cup.Doses[2], "salt goes by volume")
	was, is := stir(t, c), stir(t, s.Cup)
	assert.Less(t, colour.DeltaE00(was.Colour(over(12)), is.Colour(over(6))), 2.0)
	assert.Contains(t, strings.Join(s.Lost, " "), "fins over white", "the fins get more than they had")
	_, err = InAnotherBait(&c, Thickness{}, Thickness{BodyMM: 6, FinMM: 2}, KeepBody, bench(), kit)
	assertFault(t, err, "bait", "thickness")
}

// Behaviour 4: two transparent colourants of different windows give one hue when thin and another when thick, and it
// depends on their ratio.
func TestAChangeableTurnsWithThickness(t *testing.T) {
	turn := func(violet, yellow float64) float64 {
		m := stir(t, cupOf(t, "1 cup", DripOf("clear-violet", violet), DripOf("clear-yellow", yellow)))
		return hueApart(m.Colour(over(0.8)), m.Colour(over(10)))
	}
	best := turn(6, 16)
	assert.Greater(t, best, 60.0, "two hues from one cup")
	assert.Greater(t, best, turn(6, 60)+20, "and hardly so at another ratio")
	assert.Greater(t, best, turn(0.5, 16)+20)
}

// Behaviour 7: a dark back seen through a clear belly greys it; red over green is darker than red over yellow.
func TestWhatLiesBehindShowsThrough(t *testing.T) {
	clear, dark := stir(t, cupOf(t, "1 cup", DripOf("clear-yellow", 4))), stir(t, cupOf(t, "1 cup", DripOf("carbon-black", 20)))
	belly := StackColour([]Slice{{clear, 4}}, on(1, optics.White))
	backed := StackColour([]Slice{{clear, 4}, {dark, 3}}, on(1, optics.White))
	assert.Less(t, backed.L, belly.L-30)
	assert.Less(t, backed.Chroma(), belly.Chroma())
	red, green, yellow := stir(t, cupOf(t, "1 cup", DripOf("clear-red", 12))), stir(t, cupOf(t, "1 cup", DripOf("solid-yellow", 20), DripOf("clear-green", 6))), stir(t, cupOf(t, "1 cup", DripOf("solid-yellow", 20)))
	assert.Less(t, StackColour([]Slice{{red, 2}, {green, 6}}, on(1, optics.White)).L, StackColour([]Slice{{red, 2}, {yellow, 6}}, on(1, optics.White)).L-5)
}

// Behaviour 10: a dot of opaque black shows through a light body and fades in a darker one.
func TestADotShowsThroughALightBody(t *testing.T) {
	dot := stir(t, cupOf(t, "1 cup", DripOf("carbon-black", 200)))
	light, darker := stir(t, cupOf(t, "1 cup", DripOf("clear-yellow", 4))), stir(t, cupOf(t, "1 cup", DripOf("clear-brown", 20), DripOf("carbon-black", 6)))
	plain, faint := ShowThrough(light, dot, 1, 1, 10, on(1, optics.White)), ShowThrough(darker, dot, 1, 1, 10, on(1, optics.White))
	assert.Greater(t, plain, 25.0)
	assert.Less(t, faint, plain/2)
	assert.Greater(t, plain, ShowThrough(light, dot, 6, 1, 10, on(1, optics.White)), "deeper is fainter")
}

func TestAStackOfOneMixIsThatMix(t *testing.T) {
	m := stir(t, cupOf(t, "1 cup", DripOf("glow-lime", 12), tsp("pearl-silver", 0.125)))
	at := on(7, optics.White)
	one := m.Colour(at)
	cut := StackColour([]Slice{{m, 3}, {nil, 2}, {m, 4}, {m, 0}}, at)
	assert.InDelta(t, one.L, cut.L, 1e-9)
	assert.InDelta(t, one.B, cut.B, 1e-9)
	bare := StackColour(nil, at)
	assert.Greater(t, bare.L, 90.0, "paper")
}

func TestTheFinsCanBeKeptInstead(t *testing.T) {
	c := cupOf(t, "1 cup", DripOf("clear-red", 10), DripOf("clear-brown", 4))
	s, err := InAnotherBait(&c, Thickness{BodyMM: 12, FinMM: 2}, Thickness{BodyMM: 12, FinMM: 1}, KeepFins, bench(), kit)
	require.NoError(t, err)
	assert.Less(t, colour.DeltaE00(stir(t, c).Colour(over(2)), stir(t, s.Cup).Colour(over(1))), 2.0)
	assert.Contains(t, strings.Join(s.Lost, " "), "body over white")
}

// A spot's dose is found that keeps it visible, or makes it subtle, through the body over it.
func TestWhatDoseKeepsASpotVisible(t *testing.T) {
	body := stir(t, cupOf(t, "1 cup", DripOf("clear-yellow", 6)))
	faint := cupOf(t, "1 cup", DripOf("carbon-black", 1))
	got, err := Shows(body, &faint, Lie{OverMM: 0.5, DeepMM: 0.6, BodyMM: 10}, bench(), kit)
	require.NoError(t, err)
	require.NotNil(t, got.Visible)
	assert.Less(t, got.DeltaE00, 10.0)
	assert.GreaterOrEqual(t, got.Visible.DeltaE00, 9.0)
	assert.Contains(t, strings.Join(got.Visible.Changes, " "), "1 drop → ")
	strong := cupOf(t, "1 cup", DripOf("carbon-black", 30))
	got, err = Shows(body, &strong, Lie{OverMM: 0, DeepMM: 0.6, BodyMM: 10}, bench(), kit)
	require.NoError(t, err)
	assert.Nil(t, got.Visible)
	require.NotNil(t, got.Subtle)
	assert.Less(t, got.Subtle.DeltaE00, 8.0)
	solid := stir(t, cupOf(t, "1 cup", DripOf("titanium-white", 40)))
	got, err = Shows(solid, &strong, Lie{OverMM: 4, DeepMM: 0.6, BodyMM: 10}, bench(), kit)
	require.NoError(t, err)
	assert.Nil(t, got.Visible, "no dose gets through this body")
	assert.Contains(t, got.Says, "can't be seen")
}

// A blend lies between its two mixes, and all of one is that one.
func TestABlendIsTheMeanByVolume(t *testing.T) {
	a, b := stir(t, cupOf(t, "1 cup", DripOf("clear-red", 10))), stir(t, cupOf(t, "1 cup", DripOf("clear-red", 20)))
	want := stir(t, cupOf(t, "1 cup", DripOf("clear-red", 15)))
	assert.Less(t, colour.DeltaE00(want.Colour(over(6)), Blend(a, b, 0.5).Colour(over(6))), 0.1, "halves of two cups are the cup between")
	assert.Same(t, a, Blend(a, b, 0))
	assert.Same(t, b, Blend(a, b, 1))
}
