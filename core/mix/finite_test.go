package mix_test

import (
	"testing"

	"cloudburst/core/bait"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	. "cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/recipe"
	. "cloudburst/testkit"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// No figure that leaves the core is without end or not a number, for any cup that can be kept. A flake's plus, then its
// minus, once made 0/0.
func TestEveryFigureOfEveryCupIsFinite(t *testing.T) {
	shelf := Bench()
	mold := bait.NewMold("It", "paddle-minnow")
	rapid.Check(t, func(t *rapid.T) {
		c, at := DrawCup(t), DrawCondition(t)
		if c.Check(shelf) != nil {
			t.Skip("can't be kept")
		}
		finite := func(what string, v any, err error) {
			if err == nil {
				require.Empty(t, measure.NotFinite(v), what)
			}
		}
		m, err := Stir(&c, shelf)
		require.NoError(t, err)
		finite("stir", m, nil)
		look, err := LookAt(&c, m, shelf, at)
		require.NoError(t, err)
		finite("look", look, nil)
		finite("legibility", m.Legibility(at), nil)
		more, err := More(&c, m, shelf, Kit, at)
		finite("one more", more, err)
		finite("bench tests", m.BenchTests(at.Light), nil)
		finite("molds", mold.Watch(m, shelf), nil)
		for _, to := range []float64{1, 2, 10, 100_000} {
			s, err := recipe.Scale(&c, shelf, Kit, measure.Volume{Typed: "some", ML: to}, at)
			finite("scale", s, err)
		}
		v := cup.Live{
			Cup: c, Heats: []cup.Heat{{TempC: 180, AtMS: 0}, {TempC: 0, AtMS: -9e15}, {TempC: 260, AtMS: 9e15}},
		}
		finite("warmth", v.WarmthAt(1e12), nil)
		rest, other, err := v.Split(rapid.Float64Range(0, 1).Draw(t, "share"))
		finite("split", []cup.Live{rest, other}, err)
		if err == nil {
			require.NoError(t, rest.Check(shelf), "what is left can be kept")
			require.NoError(t, other.Check(shelf), "so can what went over")
		}
		finite("merge", v.Merge(other, shelf), err)
	})
}

// A guess whose upper end no cup could take is shown all the same.
func TestAGuessBeyondWhatACupTakesIsShown(t *testing.T) {
	c := cup.Cup{Volume: measure.Volume{Typed: "1 ml", ML: 1}, Plastisol: "soft-plastisol", Doses: []cup.Dose{
		{
			Material: "floating-spheres", Typed: "some",
			Amount: measure.Amount{Value: 0.3, Low: 0, High: 0.6, Unit: measure.InGrams},
		},
	}}
	require.NoError(t, c.Check(Bench()))
	lookAt(t, c, On(4, optics.White))
}
