package recipe_test

import (
	"errors"
	"strings"
	"testing"

	"cloudburst/core/cup"
	"cloudburst/core/measure"
	. "cloudburst/core/recipe"
	. "cloudburst/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestARecipeNeedsAName(t *testing.T) {
	r := Recipe{UID: "r", Name: " ", Cup: CupOf(t, "1 cup")}
	AssertFault(t, r.Check(Bench()), "name", "1 to 80")
}

func TestGoesAreSummed(t *testing.T) {
	b := Batch{
		PouredOn: "2026-11-20", Plastisol: "medium-plastisol", Volume: Volume(t, "1 cup"), RestedHours: 48,
		Additions: []cup.Addition{
			{Doses: []cup.Dose{cup.DripOf("clear-red", 5), cup.DripOf("carbon-black", 1)}},
			{Doses: []cup.Dose{cup.DripOf("clear-red", 3)}},
			{Doses: []cup.Dose{cup.DripOf("clear-blue", 1), cup.DripOf("clear-red", 1)}},
		},
	}
	require.NoError(t, b.Check(Bench()))
	assert.Equal(
		t, []cup.Dose{cup.DripOf("clear-red", 9), cup.DripOf("carbon-black", 1), cup.DripOf("clear-blue", 1)},
		cup.Sum(b.Additions, Bench()),
	)
	was := CupOf(t, "1 cup", cup.DripOf("clear-red", 9), cup.DripOf("carbon-black", 1))
	is := b.Cup(Bench())
	d, err := Drift(&is, &was, Bench(), Over(4))
	require.NoError(t, err)
	assert.Greater(t, d.DeltaE00, 2.0, "a drop of strong blue that the recipe does not have")
	same, err := Drift(&was, &was, Bench(), Over(4))
	require.NoError(t, err)
	assert.Zero(t, same.DeltaE00)

	for field, spoil := range map[string]func(*Batch){
		"pouredOn":     func(b *Batch) { b.PouredOn = "yesterday" },
		"volume":       func(b *Batch) { b.Volume.ML = 0 },
		"additions":    func(b *Batch) { b.Additions = make([]cup.Addition, 31) },
		"additions[0]": func(b *Batch) { b.Additions = []cup.Addition{{}} },
		"verdict":      func(b *Batch) { b.Verdict = strings.Repeat("x", 1001) },
		"rested":       func(b *Batch) { b.RestedHours = -1 },
		"additions[1].doses[0]": func(b *Batch) {
			b.Additions = []cup.Addition{
				{Doses: []cup.Dose{cup.DripOf("clear-red", 1)}}, {Doses: []cup.Dose{cup.DripOf("clear-red", -1)}},
			}
		},
		"doses[0]": func(b *Batch) {
			b.Additions = []cup.Addition{
				{Doses: []cup.Dose{cup.DripOf("clear-red", 499)}}, {Doses: []cup.Dose{cup.DripOf("clear-red", 499)}},
			}
		},
	} {
		spoilt := b
		spoil(&spoilt)
		var f *measure.Fault
		require.True(t, errors.As(spoilt.Check(Bench()), &f), field)
		assert.Equal(t, field, f.Field)
	}
}
