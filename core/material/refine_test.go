package material_test

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	. "cloudburst/core/material"
	"cloudburst/core/measure"
)

func TestEveryPropertyCanBeRefined(t *testing.T) {
	for _, f := range Families() {
		m := f.New("x", "X")
		props := m.Properties()
		require.NotEmpty(t, props, f.Key)
		for _, p := range props {
			value := p.Value * 1.05
			if p.Key == "usualFrom" || p.Key == "floor" {
				value = p.Value * 0.9
			}
			got, err := m.Refine(p.Key, value, Measured)
			if p.Key == "packing" && value > 1 {
				continue
			}
			require.NoError(t, err, "%s %s", f.Key, p.Key)
			for _, q := range got.Properties() {
				if q.Key == p.Key {
					assert.Equal(t, value, q.Value)
					assert.Equal(t, Measured, q.Origin, "%s %s", f.Key, p.Key)
				}
			}
			assert.Equal(t, p.Value, propertyOf(m, p.Key), "the one handed in is untouched")
		}
	}
	f, _ := FindFamily("clear-red")
	m := f.New("x", "X")
	_, err := m.Refine("dropML", 9, Measured)
	assert.ErrorContains(t, err, "out of range")
	_, err = m.Refine("colour", 1, Measured)
	assert.ErrorContains(t, err, "no property")
	strong, err := m.Stronger(2, Measured)
	require.NoError(t, err)
	k1, _ := m.Colourant.Coefficients()
	k2, _ := strong.Colourant.Coefficients()
	assert.InDelta(t, 2*k1[14], k2[14], 1e-12)
	runs, err := m.SetRuns(true)
	require.NoError(t, err)
	assert.True(t, runs.Runs())
	assert.False(t, m.Runs())
	_, err = m.Stronger(0, Measured)
	assert.ErrorContains(t, err, "fiftieth")
	salt, _ := FindFamily("salt-fine")
	_, err = salt.New("x", "X").Stronger(2, Measured)
	assert.Error(t, err)
	_, err = salt.New("x", "X").SetRuns(true)
	assert.Error(t, err)
}

func propertyOf(m Material, key string) float64 {
	for _, p := range m.Properties() {
		if p.Key == key {
			return p.Value
		}
	}
	return -1
}

func TestTakingAnAmount(t *testing.T) {
	take := func(key string, a measure.Amount) (float64, float64) {
		f, ok := FindFamily(key)
		require.True(t, ok, key)
		m := f.New("x", "X")
		ml, g, err := m.Take(a)
		require.NoError(t, err)
		return ml, g
	}
	ml, g := take("salt-fine", measure.Amount{Value: 1, Unit: measure.InTeaspoons})
	assert.InDelta(t, 4.92892*1.2, g, 1e-12)
	assert.InDelta(t, 4.92892*1.2/2.16, ml, 1e-12)
	ml, g = take("clear-red", measure.DropCount(20))
	assert.InDelta(t, 1, ml, 1e-12)
	assert.InDelta(t, 1.1, g, 1e-12)
	ml, _ = take("pearl-silver", measure.Amount{Value: 3, Unit: measure.InGrams})
	assert.InDelta(t, 1, ml, 1e-12)
	f, _ := FindFamily("flake-gold")
	m := f.New("x", "X")
	_, _, err := m.Take(measure.DropCount(3))
	assert.ErrorContains(t, err, "not dripped")
	a, err := m.In(measure.InTeaspoons, 4.92892*m.BulkGML())
	require.NoError(t, err)
	assert.InDelta(t, 1, a.Value, 1e-12)
	// Pieces per teaspoon as the optics count them.
	_, g, err = m.Take(measure.Amount{Value: 1, Unit: measure.InTeaspoons})
	require.NoError(t, err)
	assert.InEpsilon(
		t, 4928.92*m.Flake.Packing.Value/(m.Flake.AreaMM2()*m.Flake.ThicknessMM.Value), m.Flake.Pieces(g), 1e-9,
	)
}

func TestHeatLimitsSayWhereTheyComeFrom(t *testing.T) {
	for says, h := range map[string]*HeatLimit{
		"gives no heat limit": nil, "survived 3 heats at 350 °F": {MaxC: 176.7, Origin: Survived, Heats: 3},
		"says its maker": {MaxC: 170, Origin: Maker}, "tried by you": {MaxC: 170, Origin: Measured},
		"is typical": {MaxC: 170, Origin: Typical},
	} {
		assert.Contains(t, h.Words(), says)
	}
	m := Material{UID: "a", Kind: KindPowder, Name: "A", Heat: &HeatLimit{MaxC: 400, Origin: Maker}}
	assert.ErrorContains(t, m.Check(), "heat.maxC")
	m.Heat.MaxC, m.Heat.Origin = 100, "rumour"
	assert.ErrorContains(t, m.Check(), "rumour")
	m.Heat = nil
	assert.ErrorContains(t, m.Check(), "needs its own properties")
}

// A powder, a flake or a film family is only worth its name if it looks like it.
func TestSolidFamiliesLookLikeTheirNames(t *testing.T) {
	hue := func(r colour.Spectrum) string { return colour.D65.Lab(&r).HueName() }
	for key, want := range map[string][]string{
		"interference-gold": {"yellow", "orange", "brown"}, "interference-red": {"red", "pink"},
		"interference-violet": {"violet", "blue"}, "interference-blue": {"blue"}, "interference-green": {"green"},
	} {
		f, _ := FindFamily(key)
		m := f.New("x", "X")
		_, s := m.Powder.Coefficients()
		assert.Contains(t, want, hue(s), key)
	}
	for key, want := range map[string][]string{
		"flake-red": {"red"}, "flake-gold": {"yellow", "orange"}, "flake-green": {"green"}, "flake-blue": {"blue"},
		"flake-purple": {"violet", "pink"}, "flake-copper": {"orange", "red"}, "flake-orange": {"orange", "red"},
		"flake-black": {"black"}, "flake-silver": {"white", "grey"}, "flake-white": {"white"},
		"flake-clear-blue":  {"blue"},
		"flake-clear-green": {"green"}, "flake-clear-red": {"red", "pink"},
		"flake-shift-green": {"green"}, "flake-shift-copper": {"orange"},
	} {
		f, _ := FindFamily(key)
		m := f.New("x", "X")
		assert.Contains(t, want, hue(m.Flake.Face(0)), key)
	}
	f, _ := FindFamily("flake-shift-green")
	m := f.New("x", "X")
	assert.NotEqual(t, hue(m.Flake.Face(0)), hue(m.Flake.Face(35)), "it shifts")
	holo, _ := FindFamily("flake-holo")
	h := holo.New("x", "X")
	assert.NotEqual(t, hue(h.Flake.Hue(0)), hue(h.Flake.Hue(HoloHues-1)))
	glow, _ := FindFamily("glow-lime")
	takes, gives := glow.New("x", "X").Colourant.Glows.Glow()
	sum := 0.0
	for b := range gives {
		sum += gives[b]
	}
	assert.InDelta(t, 1, sum, 1e-12)
	assert.Greater(t, takes[6], takes[20])
}

// A band that is learned to lie 5 nm to the red is much as one whose centre stands there: the slope of a curve says
// where it goes at first.
func TestALearnedShiftMovesTheBand(t *testing.T) {
	m, err := FindFamily("clear-blue")
	require.True(t, err)
	plain := m.New("x", "x")
	moved := *plain.Colourant
	moved.Optics.Absorbs = slices.Clone(moved.Optics.Absorbs)
	for i := range moved.Optics.Absorbs {
		moved.Optics.Absorbs[i].CentreNM += 5
	}
	want, _ := moved.Coefficients()
	was, _ := plain.Colourant.Coefficients()
	taught := plain.Taught(&Learned{ShiftNM: 5})
	got, _ := taught.Colourant.Coefficients()
	off, apart, most := 0.0, 0.0, 0.0
	for b := range got {
		off, apart = max(off, math.Abs(got[b]-want[b])), max(apart, math.Abs(was[b]-want[b]))
		most = max(most, want[b])
	}
	assert.Less(t, off, 0.6*apart)
	assert.Less(t, off, 0.05*most)
}
