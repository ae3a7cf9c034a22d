package recipe_test

import (
	"math"
	"testing"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	. "cloudburst/core/recipe"
	. "cloudburst/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// Rounded line by line, odd drops all lose their halves to the same side; together they make up for each other.
func TestLinesAreRoundedTogether(t *testing.T) {
	c := CupOf(
		t, "2 cups", cup.DripOf("clear-red", 5), cup.DripOf("clear-blue", 3), cup.DripOf("clear-yellow", 3),
		cup.DripOf("titanium-white", 5), cup.DripOf("carbon-black", 1),
	)
	s, err := Scale(&c, Bench(), Kit, Volume(t, "1 cup"), Over(4))
	require.NoError(t, err)
	require.NotNil(t, s.Together)
	assert.Less(t, s.Together.DeltaE00, 0.7*s.DeltaE00, "%+v", s.Together)
	assert.Contains(t, s.Together.Says, "not ")
}

func TestTogetherIsNeverWorseAndAlwaysMeasurable(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var doses []cup.Dose
		for _, uid := range []string{
			"clear-red", "clear-blue", "clear-yellow", "titanium-white", "carbon-black",
		}[:rapid.IntRange(1, 5).Draw(t, "n")] {
			doses = append(doses, cup.DripOf(uid, float64(rapid.IntRange(1, 30).Draw(t, uid))))
		}
		c := CupOf(t, "1 cup", doses...)
		to := measure.Volume{Typed: "some", ML: rapid.Float64Range(20, 300).Draw(t, "ml")}
		s, err := Scale(&c, Bench(), Kit, to, Over(4))
		require.NoError(t, err)
		for _, r := range []*Rounded{s.Together, s.Weaker} {
			if r == nil {
				continue
			}
			assert.Less(t, r.DeltaE00, s.DeltaE00)
			m := Stirred(t, r.Cup)
			assert.InDelta(t, r.DeltaE00, colour.DeltaE00(Stirred(t, c).Colour(Over(4)), m.Colour(Over(4))), 1e-9)
			for _, d := range r.Cup.Doses {
				assert.Equal(t, math.Trunc(d.Amount.Value), d.Amount.Value, "whole drops")
			}
		}
		for _, e := range s.Even {
			for _, d := range c.Doses {
				n := d.Amount.Value * e.Volume.ML / c.Volume.ML
				assert.InDelta(t, math.Round(n), n, 0.0101*n, "%s at %s", d.Material, e.Volume.Typed)
			}
		}
	})
}

func TestAWeakerCutIsOfferedWhereDropsAreFew(t *testing.T) {
	shelf := Bench()
	cut, err := Premix("black-1-10", "Black 1 in 10", []material.Part{{Material: "carbon-black", Share: 1}}, 9, shelf)
	require.NoError(t, err)
	shelf[cut.UID] = cut
	c := CupOf(t, "1 cup", cup.DripOf("carbon-black", 3), cup.DripOf("clear-yellow", 24))
	s, err := Scale(&c, shelf, Kit, Volume(t, "1/2 cup"), Over(4))
	require.NoError(t, err)
	require.NotNil(t, s.Weaker)
	assert.Less(t, s.Weaker.DeltaE00, 0.4)
	assert.Equal(t, 15.0, amount(s.Weaker.Cup, "black-1-10"), "%+v", s.Weaker)
	assert.Contains(t, s.Weaker.Says, "Black 1 in 10 in place of")
}

// A quarter of a drop short of whole at half a cup, whole at 5 fl oz.
func TestAVolumeNearByComesOutEven(t *testing.T) {
	c := CupOf(t, "10 fl oz", cup.DripOf("carbon-black", 2), cup.DripOf("clear-yellow", 8))
	s, err := Scale(&c, Bench(), Kit, Volume(t, "1/2 cup"), Over(4))
	require.NoError(t, err)
	require.NotEmpty(t, s.Even)
	assert.Equal(t, "At 5 fl oz every line is whole", s.Even[0].Says)
}
