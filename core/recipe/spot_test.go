package recipe_test

import (
	"strings"
	"testing"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	. "cloudburst/core/recipe"
	. "cloudburst/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTheSameLookInAThinnerBait(t *testing.T) {
	c := CupOf(t, "1 cup", cup.DripOf("clear-red", 10), cup.DripOf("clear-brown", 4), Tsp("salt-fine", 3))
	s, err := InAnotherBait(&c, Thickness{BodyMM: 12, FinMM: 2}, Thickness{BodyMM: 6, FinMM: 2}, KeepBody, Bench(), Kit)
	require.NoError(t, err)
	assert.InDelta(
		t, 25, amount(s.Cup, "clear-red"), 7,
		"half as thick takes about twice as much, and more for the salt that does not follow",
	)
	assert.Equal(t, c.Doses[2], s.Cup.Doses[2], "salt goes by volume")
	was, is := Stirred(t, c), Stirred(t, s.Cup)
	assert.Less(t, colour.DeltaE00(was.Colour(Over(12)), is.Colour(Over(6))), 2.0)
	assert.Contains(t, strings.Join(s.Lost, " "), "fins over white", "the fins get more than they had")
	_, err = InAnotherBait(&c, Thickness{}, Thickness{BodyMM: 6, FinMM: 2}, KeepBody, Bench(), Kit)
	AssertFault(t, err, "bait", "thickness")
}

// Behaviour 10: a dot of opaque black shows through a light body and fades in a darker one.
func TestADotShowsThroughALightBody(t *testing.T) {
	dot := Stirred(t, CupOf(t, "1 cup", cup.DripOf("carbon-black", 200)))
	light, darker := Stirred(t, CupOf(t, "1 cup", cup.DripOf("clear-yellow", 4))), Stirred(
		t, CupOf(t, "1 cup", cup.DripOf("clear-brown", 20), cup.DripOf("carbon-black", 6)),
	)
	plain, faint := mix.ShowThrough(light, dot, 1, 1, 10, On(1, optics.White)), mix.ShowThrough(
		darker, dot, 1, 1, 10, On(1, optics.White),
	)
	assert.Greater(t, plain, 25.0)
	assert.Less(t, faint, plain/2)
	assert.Greater(t, plain, mix.ShowThrough(light, dot, 6, 1, 10, On(1, optics.White)), "deeper is fainter")
}

func TestTheFinsCanBeKeptInstead(t *testing.T) {
	c := CupOf(t, "1 cup", cup.DripOf("clear-red", 10), cup.DripOf("clear-brown", 4))
	s, err := InAnotherBait(
		&c, Thickness{BodyMM: 12, FinMM: 2}, Thickness{BodyMM: 12, FinMM: 1}, KeepFins, Bench(), Kit,
	)
	require.NoError(t, err)
	assert.Less(t, colour.DeltaE00(Stirred(t, c).Colour(Over(2)), Stirred(t, s.Cup).Colour(Over(1))), 2.0)
	assert.Contains(t, strings.Join(s.Lost, " "), "body over white")
}

// A spot's dose is found that keeps it visible, or makes it subtle, through the body over it.
func TestWhatDoseKeepsASpotVisible(t *testing.T) {
	body := Stirred(t, CupOf(t, "1 cup", cup.DripOf("clear-yellow", 6)))
	faint := CupOf(t, "1 cup", cup.DripOf("carbon-black", 1))
	got, err := Shows(body, &faint, Lie{OverMM: 0.5, DeepMM: 0.6, BodyMM: 10}, Bench(), Kit)
	require.NoError(t, err)
	require.NotNil(t, got.Visible)
	assert.Less(t, got.DeltaE00, 10.0)
	assert.GreaterOrEqual(t, got.Visible.DeltaE00, 9.0)
	assert.Contains(t, strings.Join(got.Visible.Changes, " "), "1 drop → ")
	strong := CupOf(t, "1 cup", cup.DripOf("carbon-black", 30))
	got, err = Shows(body, &strong, Lie{OverMM: 0, DeepMM: 0.6, BodyMM: 10}, Bench(), Kit)
	require.NoError(t, err)
	assert.Nil(t, got.Visible)
	require.NotNil(t, got.Subtle)
	assert.Less(t, got.Subtle.DeltaE00, 8.0)
	solid := Stirred(t, CupOf(t, "1 cup", cup.DripOf("titanium-white", 40)))
	got, err = Shows(solid, &strong, Lie{OverMM: 4, DeepMM: 0.6, BodyMM: 10}, Bench(), Kit)
	require.NoError(t, err)
	assert.Nil(t, got.Visible, "no dose gets through this body")
	assert.Contains(t, got.Says, "can't be seen")
}
