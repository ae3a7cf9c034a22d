package material_test

import (
	"fmt"
	"math"
	"reflect"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	. "cloudburst/core/material"
	"cloudburst/core/optics"
)

// The rack to begin with can be kept as it is, and has what a first cup needs.
func TestTheStarterRack(t *testing.T) {
	kinds := map[Kind]int{}
	names := map[string]bool{}
	for i, m := range Starter() {
		m.UID = fmt.Sprint("s-", i)
		assert.NoError(t, m.Check(), m.Name)
		assert.NotContains(t, m.Name, "class", "a plain name")
		kinds[m.Kind]++
		names[m.Name] = true
	}
	assert.Equal(t, map[Kind]int{KindPlastisol: 1, KindColourant: 12, KindPowder: 2, KindFlake: 4}, kinds)
	assert.Len(t, names, 19)
}

func TestEveryFamilyMakesASoundBottle(t *testing.T) {
	colourants := 0
	seen := map[string]bool{}
	for _, f := range Families() {
		m := f.New("my-bottle", "My bottle")
		require.NoError(t, m.Check(), f.Key)
		assert.False(t, seen[f.Key], "%s twice", f.Key)
		assert.NotEmpty(t, f.About)
		seen[f.Key] = true
		if m.Colourant == nil {
			continue
		}
		colourants++
		k, s := m.Colourant.Coefficients()
		for b := range k {
			assert.True(t, k[b] >= 0 && s[b] >= 0, "%s band %d", f.Key, b)
		}
		// A bottle owns its values: refining one must not change the family.
		if len(m.Colourant.Optics.Absorbs) > 0 {
			m.Colourant.Optics.Absorbs[0].HeightPerMM = 99
			again := f.New("x", "X")
			assert.NotEqual(t, 99.0, again.Colourant.Optics.Absorbs[0].HeightPerMM)
		}
	}
	assert.GreaterOrEqual(t, colourants, 12)
	_, ok := FindFamily("no-such")
	assert.False(t, ok)
}

func TestStrengthsAreWhatTheModelSays(t *testing.T) {
	strength := func(key string) float64 {
		f, ok := FindFamily(key)
		require.True(t, ok)
		m := f.New("x", "x")
		k, _ := m.Colourant.Coefficients()
		return k[20]
	}
	assert.InDelta(t, 0.28, strength("carbon-black"), 1e-12)
	assert.InDelta(t, strength("carbon-black")/10, strength("grey-tint"), 1e-12)
	k, s := (&Plastisol{Optics: TypicalBase}).Coefficients()
	assert.InDelta(t, 0.006, k[0], 1e-12)
	assert.InDelta(t, 0.002+0.004*math.Exp(-350.0/40), k[35], 1e-12)
	assert.Equal(t, colour.Flat(0.004), s)
}

// A family is only worth its name if a usual dose in a bait looks like it.
func TestFamiliesLookLikeTheirNames(t *testing.T) {
	for key, hue := range map[string][2]float64{
		"clear-red": {345, 40}, "solid-red": {15, 60}, "clear-orange": {35, 75}, "clear-yellow": {75, 110},
		"solid-yellow": {75, 112},
		"clear-green":  {140, 200}, "clear-blue": {215, 275}, "ultramarine": {255, 310}, "clear-violet": {290, 335},
		"clear-brown": {55, 95},
		"yellow-dye":  {80, 112}, "magenta-dye": {325, 25}, "cyan-dye": {195, 260},
	} {
		f, _ := FindFamily(key)
		m := f.New("x", "x")
		lab := inABody(&m, (m.Colourant.UsualDrops[0]+m.Colourant.UsualDrops[1])/3)
		h := lab.HueDeg()
		inside := h >= hue[0] && h <= hue[1]
		if hue[0] > hue[1] {
			inside = h >= hue[0] || h <= hue[1]
		}
		assert.True(t, inside, "%s: hue %.0f° (%v), wanted %v", key, h, lab, hue)
		assert.Greater(t, lab.Chroma(), 18.0, "%s: %v", key, lab)
	}
}

// inABody is the colour over white of 6 mm of clear plastic with that many drops in a cup.
func inABody(m *Material, drops float64) colour.Lab {
	k, s := (&Plastisol{Optics: TypicalBase}).Coefficients()
	ck, cs := m.Colourant.Coefficients()
	mlPerLitre := drops * m.Colourant.DropML.Value / 0.236588
	for b := range k {
		k[b] += mlPerLitre * ck[b]
		s[b] += mlPerLitre * cs[b]
	}
	st := optics.Pile(optics.Layer{K: k, S: s, ThicknessMM: 6})
	piece := optics.InAir.Enclose(&st)
	seen := optics.White.See(&piece)
	return colour.D65.Lab(&seen)
}

func TestCheckNamesTheFieldAtFault(t *testing.T) {
	f, _ := FindFamily("clear-red")
	for field, spoil := range map[string]func(*Material){
		"uid":                                 func(m *Material) { m.UID = "Not Good" },
		"name":                                func(m *Material) { m.Name = "  " },
		"kind":                                func(m *Material) { m.Kind = KindPlastisol },
		"colourant.movement":                  func(m *Material) { m.Colourant.Movement = "runs" },
		"colourant.dropML":                    func(m *Material) { m.Colourant.DropML.Value = 0 },
		"origin":                              func(m *Material) { m.Colourant.DensityGML.Origin = "guess" },
		"colourant.optics.absorbs[1].widthNM": func(m *Material) { m.Colourant.Optics.Absorbs[1].WidthNM = 0 },
		"colourant.optics.scatterPerMM":       func(m *Material) { m.Colourant.Optics.ScatterPerMM = math.NaN() },
		"colourant.usualDrops[1]":             func(m *Material) { m.Colourant.UsualDrops = [2]float64{9, 3} },
		"at most 12":                          func(m *Material) { m.Colourant.Optics.Absorbs = make([]Band, 13) },
		"kind: \"colourant\" needs its own":   func(m *Material) { m.Plastisol = &Plastisol{} },
		"colourant.optics.absorbs[0].heightPerMM": func(m *Material) { m.Colourant.Optics.Absorbs[0].HeightPerMM = -1 },
	} {
		m := f.New("my-red", "My red")
		spoil(&m)
		assert.ErrorContains(t, m.Check(), field)
	}
}

// The API says which kinds there are by the tags of two fields, and each kind is a field of a material.
func TestTheKindsThatTheAPINames(t *testing.T) {
	kinds := make([]string, 0, len(Kinds()))
	for _, k := range Kinds() {
		kinds = append(kinds, string(k))
		f, ok := reflect.TypeFor[Material]().FieldByName(strings.ToUpper(string(k[:1])) + string(k[1:]))
		require.True(t, ok, k)
		m := Material{UID: "m", Name: "M", Kind: k}
		reflect.ValueOf(&m).Elem().FieldByIndex(f.Index).Set(reflect.New(f.Type.Elem()))
		assert.NotContains(t, m.Check().Error(), "needs its own properties", "%s is in parts", k)
	}
	for _, of := range []any{Material{}, Family{}} {
		f, _ := reflect.TypeOf(of).FieldByName("Kind")
		assert.Equal(t, strings.Join(kinds, ","), f.Tag.Get("enum"), "%T", of)
	}
}
