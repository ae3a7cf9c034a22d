package recipe_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	. "cloudburst/core/recipe"
	. "cloudburst/testkit"
)

func TestAFlakeInFourBases(t *testing.T) {
	shelf, at := Bench(), On(8, optics.White)
	rack := []string{"clear-yellow", "titanium-white", "carbon-black", "grey-tint", "flake-silver"}
	c := cup.Cup{
		Volume: MustVolume("1/2 cup"), Plastisol: "medium-plastisol",
		Doses: []cup.Dose{cup.DripOf("clear-yellow", 6), {
			Material: "flake-silver", Typed: "1/16 tsp",
			Amount: measure.Amount{Value: 1.0 / 16, Unit: measure.InTeaspoons},
		}},
	}
	seen := func(c *cup.Cup) colour.Lab {
		m, err := mix.Stir(c, shelf)
		require.NoError(t, err)
		return m.Body().Colour(at)
	}
	all, err := Bases(&c, "flake-silver", rack, shelf, Kit, at)
	require.NoError(t, err)
	require.Len(t, all, 4)
	for i, name := range []string{"As it is", "Clear", "White", "Dark"} {
		assert.Equal(t, name, all[i].Name)
		assert.Equal(t, "flake-silver", all[i].Flake.Material)
		assert.Equal(t, c.AmountOf("flake-silver"), all[i].Cup.AmountOf("flake-silver"), "as much flake in each")
	}
	assert.Equal(t, c, all[0].Cup)
	assert.Greater(t, seen(&all[0].Cup).Chroma(), 20.0)
	for _, b := range all[1:] {
		assert.Less(t, seen(&b.Cup).Chroma(), 15.0, "%s has no hue", b.Name)
	}
	assert.Less(t, seen(&all[3].Cup).L, 35.0)
	assert.Greater(t, seen(&all[2].Cup).L, 70.0)
	assert.Greater(t, all[3].Flake.DeltaE00, all[2].Flake.DeltaE00+10, "silver leads in the dark, not in white")

	none := c
	none.Doses = nil
	all, err = Bases(&none, "flake-silver", rack, shelf, Kit, at)
	require.NoError(t, err)
	require.Len(t, all, 4)
	assert.Equal(t, "Smoky", all[0].Name, "a cup without a colour is the clear one")
	assert.Positive(t, all[0].Cup.AmountOf("flake-silver").Value, "of a flake that is not in, a spoon")
	assert.Less(t, seen(&all[3].Cup).L, seen(&all[0].Cup).L)
	assert.Less(t, seen(&all[0].Cup).L, seen(&all[1].Cup).L)

	all, err = Bases(&none, "flake-silver", nil, shelf, Kit, at)
	require.NoError(t, err)
	assert.Len(t, all, 1, "a rack without white and black has clear alone")
	_, err = Bases(&c, "clear-yellow", rack, shelf, Kit, at)
	assert.ErrorContains(t, err, "choose a flake")
}
