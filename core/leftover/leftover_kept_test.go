package leftover_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	. "cloudburst/core/leftover"
	"cloudburst/core/mix"
	"cloudburst/testkit"
)

// A cup that was kept as a leftover and taken out again is the same mix.
func TestACupKeptIsTheSameMix(t *testing.T) {
	shelf := testkit.Bench()
	rapid.Check(t, func(t *rapid.T) {
		c := testkit.DrawCup(t)
		was, err := mix.Stir(&c, shelf)
		if err != nil {
			t.Skip("more than any cup takes")
		}
		tub := OfCup(&c, History{}, shelf)
		require.InEpsilon(t, was.FinishedML, tub.ML(DensitiesOf(shelf)), 1e-9)
		back, err := tub.Cup(shelf)
		require.NoError(t, err)
		is, err := mix.Stir(&back, shelf)
		require.NoError(t, err)
		require.InEpsilon(t, was.FinishedML, is.FinishedML, 1e-9)
		require.InDelta(t, 0, colour.DeltaE00(was.Colour(testkit.Over(4)), is.Colour(testkit.Over(4))), 1e-6)
	})
}

// Behaviour 9: sprues of a laminate melted together are the mix by volume, not the average of two colours on a screen.
func TestALaminateRemeltedIsTheMixByVolume(t *testing.T) {
	shelf := testkit.Bench()
	of := DensitiesOf(shelf)
	olive := testkit.CupOf(t, "1 cup", cup.DripOf("clear-green", 4), cup.DripOf("clear-brown", 6))
	cream := testkit.CupOf(t, "1 cup", cup.DripOf("titanium-white", 8), cup.DripOf("clear-yellow", 1))
	a, b := OfCup(
		&olive, History{HeatsMost: 1, HeatsMean: 1}, shelf,
	), OfCup(&cream, History{HeatsMost: 2, HeatsMean: 2}, shelf)
	x, err := a.Take(27, of)
	require.NoError(t, err)
	y, err := b.Take(18, of)
	require.NoError(t, err)
	x.Put(y, of)
	assert.InDelta(t, 45, x.ML(of), 1e-9)
	assert.InDelta(t, 1.4, x.HeatsMean, 1e-9)
	assert.Equal(t, 2.0, x.HeatsMost)
	is, err := x.Cup(shelf)
	require.NoError(t, err)
	mixed, err := mix.Stir(&is, shelf)
	require.NoError(t, err)
	at := testkit.Over(6)
	lab := func(c *cup.Cup) colour.Lab {
		m, err := mix.Stir(c, shelf)
		require.NoError(t, err)
		return m.Colour(at)
	}
	o, w := lab(&olive), lab(&cream)
	screen := colour.Lab{L: 0.6*o.L + 0.4*w.L, A: 0.6*o.A + 0.4*w.A, B: 0.6*o.B + 0.4*w.B}
	assert.Greater(t, colour.DeltaE00(screen, mixed.Colour(at)), 5.0)
}

// Heat yellows the base, slower with stabiliser in it, and tires: words get worse, never better.
func TestHeatYellows(t *testing.T) {
	shelf := testkit.Bench()
	clear := testkit.CupOf(t, "1 cup")
	kept := testkit.CupOf(t, "1 cup", testkit.ML("stabiliser", 1.2))
	yellow := func(c cup.Cup, dose float64) float64 {
		m, err := mix.Stir(&c, Aged(shelf, &c, dose))
		require.NoError(t, err)
		return m.Colour(testkit.Over(8)).B
	}
	last := yellow(clear, 0)
	for _, dose := range []float64{5, 10, 20, 40} {
		now := yellow(clear, dose)
		assert.Greater(t, now, last)
		assert.Less(t, yellow(kept, dose)-yellow(kept, 0), now-yellow(clear, 0), "stabiliser at %g min", dose)
		last = now
	}
	assert.Equal(t, yellow(clear, 0), yellow(clear, -1))
	assert.Contains(t, History{}.Tired(), "fresh")
	assert.Contains(t, History{DoseMost: 30}.Tired(), "Tired")
	assert.Contains(t, History{DoseMost: 90}.Tired(), "Throw it away")
}

func TestWhatIsNoLeftover(t *testing.T) {
	shelf := testkit.Bench()
	c := testkit.CupOf(t, "1 cup", cup.DripOf("clear-red", 3))
	good := Leftover{Name: "Red", Kind: RestOfCup, Day: "2026-11-28", Tub: OfCup(&c, History{}, shelf)}
	require.NoError(t, good.Check(shelf))
	for _, change := range []func(*Leftover){
		func(l *Leftover) { l.Name = "" },
		func(l *Leftover) { l.Kind = "else" },
		func(l *Leftover) { l.In = nil },
		func(l *Leftover) { l.In = map[string]float64{"clear-red": 40} },
		func(l *Leftover) { l.In = map[string]float64{"medium-plastisol": 40, "nothing": 1} },
		func(l *Leftover) { l.HeatsMost = 4000 },
	} {
		bad := good
		change(&bad)
		assert.Error(t, bad.Check(shelf))
	}
	assert.Contains(t, good.Names(shelf), "red")
}
