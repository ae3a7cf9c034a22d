package material_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	. "cloudburst/core/material"
	"cloudburst/core/measure"
)

func made(t *testing.T, key string) Material {
	t.Helper()
	f, ok := FindFamily(key)
	require.True(t, ok, key)
	return f.New(key, f.Name)
}

func faultAt(t *testing.T, err error, field, says string) {
	t.Helper()
	var f *measure.Fault
	require.ErrorAs(t, err, &f)
	assert.Equal(t, field, f.Field)
	assert.Contains(t, f.Says, says)
}

func TestABottleIsRefinedAsTyped(t *testing.T) {
	red := made(t, "clear-red")
	is, err := red.Typed("name", "  Quay red ", Measured, 0)
	require.NoError(t, err)
	assert.Equal(t, "Quay red", is.Name)
	assert.NotEqual(t, "Quay red", red.Name, "the bottle that was handed in stays")
	is, err = red.Typed("heat", "330F", Maker, 0)
	require.NoError(t, err)
	assert.InDelta(t, 165.6, is.Heat.MaxC, 0.1)
	assert.True(t, is.Stands(165.6))
	assert.False(t, is.Stands(176.7))
	is, err = is.Typed("heat", "", NoneSaid, 0)
	require.NoError(t, err)
	assert.True(t, is.Stands(240), "nobody said a limit")
	is, err = red.Typed("runs", "yes", Measured, 0)
	require.NoError(t, err)
	assert.True(t, is.Runs())
	is, err = red.Typed("strength", "2", Measured, 0)
	require.NoError(t, err)
	assert.InDelta(t, 2*red.Colourant.Optics.Absorbs[0].HeightPerMM, is.Colourant.Optics.Absorbs[0].HeightPerMM, 1e-9)
	is, err = red.Typed("drops", "2 ml", Measured, 50)
	require.NoError(t, err)
	assert.InDelta(t, 0.04, is.Colourant.DropML.Value, 1e-12)
	assert.Equal(t, Measured, is.Colourant.DropML.Origin)
	gold := made(t, "flake-gold")
	is, err = gold.Typed("sizeIn", ".035", Maker, 0)
	require.NoError(t, err)
	assert.InDelta(t, 0.035, is.Flake.SizeIn.Value, 1e-12)
}

func TestWhatCannotBeRefinedIsSaidAtItsField(t *testing.T) {
	red := made(t, "clear-red")
	for _, c := range []struct {
		key, typed, says string
		count            float64
	}{
		{"name", "", "1 to 80", 0},
		{"heat", "warm", "type a temperature", 0},
		{"strength", "strong", "figure", 0},
		{"strength", "1e9", "", 0},
		{"drops", "2 ml", "count drops into", 0},
		{"drops", "40 drops", "count drops into", 40},
		{"dropML", "1e6", "", 0},
		{"sizeIn", "big", "", 0},
		{"nothing", "1", "", 0},
	} {
		got, err := red.Typed(c.key, c.typed, Measured, c.count)
		faultAt(t, err, c.key, c.says)
		assert.Equal(t, red, got, "%s %s", c.key, c.typed)
	}
}

func TestStockIsReadInTheUnitItIsBoughtIn(t *testing.T) {
	red, gold := made(t, "clear-red"), made(t, "flake-gold")
	s, err := red.Stocked(Stock{Typed: "1 fl oz", Bought: "4 fl oz", Reorder: "2 fl oz", Price: 12})
	require.NoError(t, err)
	assert.InDelta(t, 29.57, s.Left, 0.01)
	assert.InDelta(t, 12/118.29, s.PerUnit(), 1e-4)
	assert.True(t, s.RunsLow())
	assert.False(t, s.Gone())
	s, err = gold.Stocked(Stock{Typed: "30 g"})
	require.NoError(t, err)
	assert.InDelta(t, 30, s.Left, 1e-9)
	assert.False(t, s.RunsLow())
	assert.Zero(t, s.PerUnit(), "nobody said a price")
	s, err = red.Stocked(Stock{Typed: "0 ml"})
	require.NoError(t, err)
	assert.True(t, s.Gone())
	assert.False(t, (&Stock{}).Gone(), "what nobody counts is never gone")
	_, err = red.Stocked(Stock{Typed: "1 oz", Bought: "a splash"})
	faultAt(t, err, "bought", "splash")
}

func TestAFamilysMaterialInItsSize(t *testing.T) {
	f, _ := FindFamily("flake-silver")
	m, err := f.Sized(" Rime ", ".060", "square")
	require.NoError(t, err)
	assert.Equal(t, "Rime", m.Name)
	assert.InDelta(t, 0.06, m.Flake.SizeIn.Value, 1e-12)
	assert.EqualValues(t, "square", m.Flake.Shape)
	_, err = f.Sized("Rime", "huge", "")
	faultAt(t, err, "size", "")
	red, _ := FindFamily("clear-red")
	_, err = red.Sized("Red", "huge", "square")
	require.NoError(t, err, "only flake has a size")
}

func TestAMaterialIsFoundByItsWords(t *testing.T) {
	red := made(t, "clear-red")
	red.Name, red.Note = "Quay red", "from the pier, stains the bench"
	assert.True(t, red.Named(""))
	assert.True(t, red.Named("QUAY bench"))
	assert.False(t, red.Named("quay gold"))
}
