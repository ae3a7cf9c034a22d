// Package testkit holds what the tests of the core share: a bench with one bottle of every family, cups of it, and any
// cup at all.
package testkit

import (
	"encoding/json"
	"errors"
	"math"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// Bench is a shelf with one bottle of every family, named after it.
func Bench() cup.Shelf {
	shelf := cup.Shelf{}
	for _, f := range material.Families() {
		shelf[f.Key] = f.New(f.Key, f.Name)
	}
	return shelf
}

// Volume reads a volume as typed.
func Volume(t require.TestingT, typed string) measure.Volume {
	v, err := measure.ParseVolume(typed)
	require.NoError(t, err)
	return v
}

// MustVolume is a volume as typed, for examples.
func MustVolume(typed string) measure.Volume {
	v, err := measure.ParseVolume(typed)
	if err != nil {
		panic(err)
	}
	return v
}

// CupOf is a cup of medium plastisol.
func CupOf(t require.TestingT, typed string, doses ...cup.Dose) cup.Cup {
	return cup.Cup{Volume: Volume(t, typed), Plastisol: "medium-plastisol", Doses: doses}
}

// Stirred is a cup of the bench, worked out.
func Stirred(t require.TestingT, c cup.Cup) *mix.Mix {
	m, err := mix.Stir(&c, Bench())
	require.NoError(t, err)
	return m
}

// Over is seen so thick over white.
func Over(mm float64) mix.Condition {
	return mix.Condition{ThicknessMM: mm, Ground: optics.White, Light: colour.D65}
}

// Read reads a file of testdata.
func Read(t *testing.T, file string, into any) {
	t.Helper()
	raw, err := os.ReadFile("testdata/" + file)
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(raw, into))
}

// AssertFault wants a fault in a field that says something.
func AssertFault(t *testing.T, err error, field, says string) {
	t.Helper()
	var f *measure.Fault
	if assert.True(t, errors.As(err, &f), "%v", err) {
		assert.Equal(t, field, f.Field)
		assert.Contains(t, f.Says, says)
	}
}

// Kit is a standard set of spoons.
var Kit = measure.StandardKit()

// Tsp is a dose in teaspoons.
func Tsp(material string, n float64) cup.Dose {
	return cup.Dose{Material: material, Typed: "", Amount: measure.Amount{Value: n, Unit: measure.InTeaspoons}}
}

// ML is a dose in millilitres.
func ML(material string, n float64) cup.Dose {
	return cup.Dose{Material: material, Typed: "", Amount: measure.Amount{Value: n, Unit: measure.InML}}
}

// On is seen so thick on a ground.
func On(mm float64, g optics.Ground) mix.Condition {
	return mix.Condition{ThicknessMM: mm, Ground: g, Light: colour.D65}
}

// HueApart is how far two hues lie apart, degrees.
func HueApart(a, b colour.Lab) float64 {
	d := math.Abs(a.HueDeg() - b.HueDeg())
	return min(d, 360-d)
}

// DrawCup is any cup that can be kept: of any volume, with doses of nothing and of next to nothing, too.
func DrawCup(t *rapid.T) cup.Cup {
	families := material.Families()
	c := cup.Cup{
		Volume: measure.Volume{
			Typed: "some",
			ML: rapid.OneOf(
				rapid.Float64Range(1, 100_000), rapid.SampledFrom([]float64{1, 2, 10, 236.588}),
			).Draw(t, "ml"),
		},
		Plastisol: rapid.SampledFrom([]string{
			"soft-plastisol", "medium-plastisol",
		}).Draw(t, "base"), Doses: []cup.Dose{},
	}
	used := map[string]bool{c.Plastisol: true}
	for range rapid.IntRange(0, 8).Draw(t, "lines") {
		f := rapid.SampledFrom(families).Draw(t, "family")
		if used[f.Key] {
			continue
		}
		used[f.Key] = true
		m := f.New(f.Key, f.Name)
		units := []measure.Unit{measure.InML, measure.InDrops}
		if m.Form() == measure.Solid {
			units = []measure.Unit{measure.InTeaspoons, measure.InGrams}
		}
		a := measure.Amount{Unit: rapid.SampledFrom(units).Draw(t, "unit")}
		a.Value = rapid.OneOf(
			rapid.SampledFrom([]float64{0, 5e-324, 1e-300, 1e-12, 1e-4}), rapid.Float64Range(0, 30),
		).Draw(t, "dose") * max(1e-2, c.Volume.ML/236.6)
		if rapid.IntRange(0, 9).Draw(t, "guess") == 0 {
			a.High = a.Value * 2
		}
		c.Doses = append(c.Doses, cup.Dose{Material: f.Key, Typed: a.String(), Amount: a})
	}
	if rapid.Bool().Draw(t, "has a target") {
		c.Target = &cup.Target{
			Name: "It", Lab: colour.Lab{L: rapid.Float64Range(0, 100).Draw(t, "L")}, ThicknessMM: 4, Ground: "white",
		}
	}
	return c
}

// DrawCondition is any way to look at it.
func DrawCondition(t *rapid.T) mix.Condition {
	at := mix.Condition{
		ThicknessMM: rapid.OneOf(rapid.Float64Range(0.05, 100), rapid.SampledFrom([]float64{0.05, 100})).Draw(t, "mm"),
		Ground:      rapid.SampledFrom(optics.Grounds()).Draw(t, "ground"),
		Light:       rapid.SampledFrom(colour.Lights()).Draw(t, "light"),
		State:       rapid.SampledFrom(cup.States()).Draw(t, "state"),
		TiltDeg:     rapid.SampledFrom([]float64{0, 30, 60}).Draw(t, "tilt"),
	}
	if rapid.Bool().Draw(t, "under water") {
		at.Water, at.DepthM, at.DistanceM = rapid.SampledFrom(optics.Waters()).Draw(t, "water"), rapid.SampledFrom([]float64{0, 1, 50}).Draw(t, "depth"), 0.5
	}
	return at
}
