package age

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/bait"
	"cloudburst/core/cup"
	"cloudburst/core/heat"
	"cloudburst/core/material"
	"cloudburst/core/mix"
	"cloudburst/core/picture"
	"cloudburst/testkit"
)

func minnow(t testing.TB, way string, fillings ...[]cup.Dose) *Bait {
	m := bait.NewMold("Minnow", "paddle-minnow")
	d := bait.NewDesign("x", "m", "")
	require.NoError(t, d.Begin(way, &m))
	s := m.Bait()
	b := &Bait{Shape: &s, Structure: d.Structure}
	for _, f := range fillings {
		b.Cups = append(b.Cups, testkit.CupOf(t, "1 cup", f...))
	}
	return b
}

var (
	dyed  = []cup.Dose{cup.DripOf("red-dye", 6)}
	white = []cup.Dose{cup.DripOf("titanium-white", 4)}
	blue  = []cup.Dose{cup.DripOf("clear-blue", 5)}
)

func dyeIn(t *testing.T, c *cup.Cup, shelf cup.Shelf) float64 {
	finished, err := c.FinishedML(shelf)
	require.NoError(t, err)
	a := c.AmountOf("red-dye")
	if a.Value <= 0 {
		return 0
	}
	m := shelf["red-dye"]
	ml, _, err := m.Take(a)
	require.NoError(t, err)
	return ml / finished
}

// In a laminate the dye is where the series of two thin layers has it; none is lost; and the picture of the slices is
// that of what is in them.
func TestALaminateAgesAsTheSeriesHasIt(t *testing.T) {
	shelf := testkit.Bench()
	b := minnow(t, "laminate", white, dyed)
	low, high := b.layerMM(0), b.layerMM(1)
	is := dyeIn(t, &b.Cups[1], shelf)
	dye := shelf["red-dye"]
	thin := heat.Thin{
		Boundary: heat.Boundary{Diffuses: dye.Colourant.DiffusesMM2S(), Left: 0, Right: is}, LeftMM: low, RightMM: high,
	}
	for _, day := range []float64{2, 14, 400, 5000} {
		a, err := b.After(day, shelf)
		require.NoError(t, err)
		left, right := thin.Means(day * heat.DayS)
		assert.InDelta(t, left, dyeIn(t, &a.Parts[0], shelf), 0.01*is, "day %g", day)
		assert.InDelta(t, right, dyeIn(t, &a.Parts[1], shelf), 0.01*is, "day %g", day)
		assert.Greater(t, len(a.Structure.Layers), 4, "cut into slices")
		below, sum, before := -1.0, 0.0, -1.0
		for _, l := range a.Structure.Layers {
			mm := b.Shape.FillMM(l.Top) - b.Shape.FillMM(below)
			below = l.Top
			got := dyeIn(t, &a.Cups[l.Cup], shelf)
			assert.GreaterOrEqual(t, got, before-1e-9, "ever more of it upwards")
			before = got
			sum += got * mm
		}
		assert.Equal(t, 1.0, below)
		assert.InDelta(t, is*high, sum, 0.005*is*high, "day %g: none is lost", day)
	}
	poured, err := b.After(0, shelf)
	require.NoError(t, err)
	assert.Equal(t, b.Structure, poured.Structure, "on the day it is as it was poured")
}

// Where a dye is so quick that two weeks make all of it one mixture, the bait on day 14 is the picture of its cups
// stirred together, dye and all.
func TestTheFullyMixedLayerLooksMixed(t *testing.T) {
	shelf := testkit.Bench()
	quick, err := shelf["red-dye"].Refine("runsMM", 20, material.Measured)
	require.NoError(t, err)
	shelf["red-dye"] = quick
	b := minnow(t, "laminate", nil, dyed)
	a, err := b.After(14, shelf)
	require.NoError(t, err)
	low, high := b.layerMM(0), b.layerMM(1)
	mixed := testkit.CupOf(t, "1 cup")
	mixed.Doses = []cup.Dose{testkit.ML("red-dye", dyeIn(t, &b.Cups[1], shelf)*high/(low+high)*mixed.Volume.ML)}
	wanted := testkit.Stirred(t, mixed)
	draw := func(st bait.Structure, cups ...*mix.Mix) []uint8 {
		p := picture.BaitPicture{
			BaitPlan: picture.PlanBait(
				*b.Shape, b.Shape.Main(), 200, 90, false,
			), Structure: st, Cups: cups, Judge: true,
		}
		return p.Draw(testkit.Over(5)).Pix
	}
	var cups []*mix.Mix
	for i := range a.Cups {
		m, err := mix.Stir(&a.Cups[i], shelf)
		require.NoError(t, err)
		cups = append(cups, m)
	}
	one := draw(bait.Structure{Layers: []bait.Layer{{Name: "all", Top: 1}}}, wanted)
	many := draw(a.Structure, cups...)
	for i := range one {
		assert.InDelta(t, one[i], many[i], 2, "byte %d", i)
	}
}

// What lies in a bait ages, too: a core, spots with a halo, bars, a set-in tail, a skin; pigments stay.
func TestPartsInABaitAge(t *testing.T) {
	shelf := testkit.Bench()
	for way, part := range map[string]string{
		"core": "core", "spots": "spot 1", "bars": "bar 1", "tail": "set-in tail", "skin": "head skin",
	} {
		b := minnow(t, way, white, dyed, dyed)
		a, err := b.After(14, shelf)
		require.NoError(t, err, way)
		at := -1
		for i, p := range b.Structure.Parts() {
			if p.Name == part {
				at = i
			}
		}
		require.GreaterOrEqual(t, at, 0, way)
		require.Len(t, a.Parts, len(b.Structure.Parts()))
		is, then := dyeIn(t, &b.Cups[b.Structure.Parts()[at].Cup], shelf), dyeIn(t, &a.Parts[at], shelf)
		assert.Less(t, then, 0.995*is, way)
		assert.Greater(t, then, 0.0, way)
		if way == "spots" {
			require.Len(t, a.Structure.Spots, 2*len(b.Structure.Spots), "each in its halo")
			halo, spot := a.Structure.Spots[0], a.Structure.Spots[1]
			assert.Greater(t, halo.AcrossMM, spot.AcrossMM)
			assert.Less(t, dyeIn(t, &a.Cups[halo.Cup], shelf), dyeIn(t, &a.Cups[spot.Cup], shelf))
			assert.Positive(t, dyeIn(t, &a.Cups[halo.Cup], shelf))
		}
		stays := minnow(t, way, white, blue, blue)
		still, err := stays.After(14, shelf)
		require.NoError(t, err)
		assert.Equal(t, stays.Structure, still.Structure, way)
		assert.Equal(t, stays.Cups, still.Cups, way)
	}
}

func TestWhatToDoAboutADye(t *testing.T) {
	shelf := testkit.Bench()
	says := func(b *Bait) string {
		list, err := b.Says(shelf, shelf)
		require.NoError(t, err)
		return strings.Join(list, " ")
	}
	assert.Contains(t, says(minnow(t, "laminate", white, blue)), "no dye in it")
	assert.Contains(t, says(minnow(t, "single", dyed)), "keep it apart")
	text := says(minnow(t, "laminate", white, dyed))
	assert.Contains(t, text, "the belly becomes")
	assert.Regexp(t, `of clear plastic between belly and back keep|No clear layer up to 4 mm`, text)
	assert.Regexp(t, `in place of Red dye stays|that stays comes near to Red dye`, text)
	assert.Regexp(t, `Until day|the day after|the day that it is fished`, text)

	// The barrier that is named keeps them apart: with it in, nothing is seen.
	changes, err := minnow(t, "laminate", white, dyed).Changes(14, shelf)
	require.NoError(t, err)
	require.NotEmpty(t, changes)
	assert.Equal(t, "belly", changes[0].Part)
	assert.Greater(t, changes[0].Differs.DeltaE00, 2.0)

	// A dye that its maker has seen run less is believed.
	slow := testkit.Bench()
	m := slow["red-dye"]
	m, err = m.Refine("runsMM", 0.1, material.Measured)
	require.NoError(t, err)
	slow["red-dye"] = m
	less, err := minnow(t, "laminate", white, dyed).Changes(14, slow)
	require.NoError(t, err)
	if len(less) > 0 {
		assert.Less(t, less[0].Differs.DeltaE00, changes[0].Differs.DeltaE00/2)
	}
}
