package learn_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	. "cloudburst/core/learn"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/recipe"
	"cloudburst/testkit"
)

const clear = "medium-plastisol"

// read is what a mix looks like at every place of a guided chip.
func read(m *mix.Mix) (out []recipe.PartReading) {
	for _, mm := range ChipMM {
		for _, ground := range ChipGrounds {
			r := recipe.PartReading{
				Name: "chip", ThicknessMM: mm, Ground: ground, State: cup.Rested, How: recipe.ByInstrument,
			}
			r.Lab = m.Colour(r.At())
			out = append(out, r)
		}
	}
	return out
}

// A bottle twice as strong as its label: a first drop shows it, the loads that are recommended are smaller, and the
// curve of its chips, put on the bottle, foretells an unseen mix.
func TestAGuidedChipMeasuresABottle(t *testing.T) {
	shelf := testkit.Bench()
	cupful := testkit.Volume(t, "1/2 cup")
	for _, uid := range []string{"clear-red", "clear-blue", "solid-yellow", "carbon-black", "titanium-white"} {
		cupful := cupful
		if uid == "carbon-black" { // so strong that a drop is too much for half a cup
			cupful = testkit.Volume(t, "2 cups")
		}
		m := shelf[uid]
		truth := testkit.Bench()
		truth[uid] = m.Taught(&material.Learned{LnStrength: math.Log(2)})
		pour := func(doses ...cup.Dose) *mix.Mix {
			made, err := mix.Stir(&cup.Cup{Volume: cupful, Plastisol: clear, Doses: doses}, truth)
			require.NoError(t, err)
			return made
		}
		first := Poured{Volume: cupful, Dose: measure.DropCount(2)}
		drop := pour(cup.DripOf(uid, 2))
		first.Read = read(drop)[4:5]
		strength, err := FirstDrop(&m, clear, &first, shelf)
		require.NoError(t, err)
		assert.InDelta(t, 2, strength, 0.3, uid)

		weak, strong, err := Loads(&m, clear, cupful, strength, shelf)
		require.NoError(t, err, uid)
		assert.Less(t, weak.Value, strong.Value, uid)
		asLabelled, _, err := Loads(&m, clear, cupful, 1, shelf)
		require.NoError(t, err)
		assert.LessOrEqual(t, weak.Value, asLabelled.Value, "a stronger bottle takes less")

		poured := []Poured{
			{Volume: cupful, Dose: weak, Read: read(pour(cup.DripOf(uid, weak.Value)))},
			{Volume: cupful, Dose: strong, Read: read(pour(cup.DripOf(uid, strong.Value)))},
		}
		chips, err := ChipsOf(&m, clear, poured, shelf)
		require.NoError(t, err)
		require.Len(t, chips, 16)
		p := shelf[clear]
		curves, err := Calibrate(p.Plastisol, chips, nil)
		require.NoError(t, err)
		assert.Less(t, curves.Residual, 0.7, uid)
		assert.NotContains(t, curves.Says(), "too much")

		is, err := m.ByChips(curves.Curve(len(chips)))
		require.NoError(t, err)
		known := testkit.Bench()
		known[uid] = is
		mixed := []cup.Dose{cup.DripOf(uid, math.Round((weak.Value+strong.Value)/2)), cup.DripOf("clear-brown", 4)}
		at := mix.Condition{ThicknessMM: 6, Ground: optics.White, Light: colour.D65, State: cup.Rested}
		foretold, err := mix.Stir(&cup.Cup{Volume: cupful, Plastisol: clear, Doses: mixed}, known)
		require.NoError(t, err)
		assert.Less(t, colour.DeltaE00(foretold.Colour(at), pour(mixed...).Colour(at)), 1.0, uid)

		back, err := is.ByChips(nil)
		require.NoError(t, err)
		k, _ := back.Colourant.Coefficients()
		was, _ := m.Colourant.Coefficients()
		assert.Equal(t, was, k)
		twice, err := is.Stronger(2, material.Measured)
		require.NoError(t, err)
		assert.InDelta(t, 2*is.Colourant.Optics.Curve.K[10], twice.Colourant.Optics.Curve.K[10], 1e-12)
	}
	m := shelf["clear-red"]
	_, _, err := Loads(&m, clear, testkit.Volume(t, "2 ml"), 1, shelf)
	testkit.AssertFault(t, err, "volume", "")
	_, _, err = Loads(&m, clear, cupful, 50, shelf)
	testkit.AssertFault(t, err, "first", "no drop of this bottle")
	salt := shelf["salt-fine"]
	_, err = salt.ByChips(nil)
	assert.Error(t, err)
}

// A clear chip tells how hazy and how yellow a plastisol is.
func TestAClearChipMeasuresThePlastisol(t *testing.T) {
	shelf := testkit.Bench()
	m := shelf[clear]
	truth := *m.Plastisol
	truth.Optics.ScatterPerMM, truth.Optics.YellowPerMM = 0.011, 0.015
	old := m
	old.Plastisol = &truth
	mixed, err := mix.Stir(&cup.Cup{Volume: testkit.Volume(t, "1/2 cup"), Plastisol: clear}, cup.Shelf{clear: old})
	require.NoError(t, err)
	found, residual, err := CalibrateBase(m.Plastisol, read(mixed))
	require.NoError(t, err)
	assert.InDelta(t, 0.011, found.Optics.ScatterPerMM, 0.0006)
	assert.InDelta(t, 0.015, found.Optics.YellowPerMM, 0.0015)
	assert.Less(t, residual, 0.2)
	assert.Equal(t, material.Measured, found.Optics.Origin)
	_, _, err = CalibrateBase(m.Plastisol, read(mixed)[:3])
	testkit.AssertFault(t, err, "chips", "at least")
}

func TestLabIsReadAsItIsTyped(t *testing.T) {
	for _, typed := range []string{"41.5 -3 18.2", " L 41,5 a -3 b 18,2", "41.5; -3; 18.2", "L*=41.5 a*=-3 b*=18.2"} {
		lab, err := ParseLab(typed)
		require.NoError(t, err, typed)
		assert.Equal(t, colour.Lab{L: 41.5, A: -3, B: 18.2}, lab)
	}
	for _, typed := range []string{"", "41.5 3", "1 2 3 4", "red", "1 2 x"} {
		_, err := ParseLab(typed)
		assert.Error(t, err, typed)
	}
}
