package recipe_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/cup"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	. "cloudburst/core/recipe"
	. "cloudburst/testkit"
)

func TestALadderGoesUpFromNone(t *testing.T) {
	shelf := Bench()
	c := cup.Cup{
		Volume: MustVolume("1 cup"), Plastisol: "medium-plastisol",
		Doses: []cup.Dose{cup.DripOf("clear-yellow", 9), cup.DripOf("carbon-black", 3)},
	}
	rungs, err := Ladder(&c, "carbon-black", shelf, Kit, On(8, optics.White))
	require.NoError(t, err)
	require.Len(t, rungs, 6)
	assert.Empty(t, rungs[0].Typed)
	assert.Equal(t, "15 drops", rungs[5].Typed)
	last := 101.0
	for _, r := range rungs {
		m, err := mix.Stir(&r.Cup, shelf)
		require.NoError(t, err)
		l := m.Colour(On(8, optics.White)).L
		assert.Less(t, l, last, "%d drops of black are darker", r.Steps)
		last = l
		assert.InDelta(t, 9, r.Cup.AmountOf("clear-yellow").Value, 1e-9, "the rest stays")
	}
	assert.InDelta(t, 3, c.AmountOf("carbon-black").Value, 1e-9, "the cup itself stays as it is")
	spoons, err := Ladder(&c, "flake-gold", shelf, Kit, On(8, optics.White))
	require.NoError(t, err)
	assert.Contains(t, spoons[1].Typed, "tsp")
	_, err = Ladder(&c, "nothing", shelf, Kit, On(8, optics.White))
	assert.ErrorContains(t, err, "choose a bottle")
}
