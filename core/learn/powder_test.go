package learn

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/testkit"
)

// truePowder is a powder as it really is: other than its label in strength, film, glint and own colour.
func truePowder(m material.Material, rng *rand.Rand) material.Material {
	f := &powder{of: &m}
	return f.with([]float64{
		0.3 * rng.NormFloat64(), 12 * rng.NormFloat64(), 0.25 * rng.NormFloat64(), 0.2 * rng.NormFloat64(),
	})
}

// Chips of a powder, face-on and tilted, read with noise 1: doses, tilts and thicknesses that were not read are
// foretold better by far than by its label.
func TestAPowderIsMeasuredFaceOnAndTilted(t *testing.T) {
	shelf := testkit.Bench()
	const base = "medium-plastisol"
	before, after, n := 0.0, 0.0, 0
	for seed, uid := range []string{
		"interference-blue", "interference-red", "pearl-silver", "interference-violet", "interference-green",
		"shift-green-violet",
	} {
		label, ok := shelf[uid]
		if !ok || label.Powder == nil {
			continue
		}
		rng := rand.New(rand.NewPCG(uint64(seed), 18))
		is := truePowder(label, rng)
		real := cup.Shelf{base: shelf[base], uid: is}
		weak, strong := PowderLoads(&label, testkit.MustVolume("1/2 cup"), testkit.Kit)
		require.Less(t, weak.Value, strong.Value)
		see := func(s cup.Shelf, dose measure.Amount, at mix.Condition) (colour.Lab, float64) {
			m, err := mix.Stir(
				&cup.Cup{
					Volume: testkit.MustVolume("1/2 cup"), Plastisol: base,
					Doses: []cup.Dose{{Material: uid, Typed: dose.String(), Amount: dose}},
				},
				s,
			)
			require.NoError(t, err)
			return m.Colour(at), m.Lines[0].PerLitre
		}
		at := func(mm, tilt float64, g optics.Ground) mix.Condition {
			return mix.Condition{ThicknessMM: mm, Ground: g, Light: colour.D65, State: cup.Rested, TiltDeg: tilt}
		}
		var chips []Chip
		for _, dose := range []measure.Amount{weak, strong} {
			for _, mm := range PowderMM {
				for _, g := range ChipGrounds {
					for _, tilt := range PowderTilts {
						lab, per := see(real, dose, at(mm, tilt, g))
						lab.L, lab.A, lab.B = lab.L+rng.NormFloat64(), lab.A+rng.NormFloat64(), lab.B+rng.NormFloat64()
						chips = append(chips, Chip{PerLitre: per, Lab: lab, At: at(mm, tilt, g), Off: 1})
					}
				}
			}
		}
		found, err := CalibratePowder(&label, base, chips, shelf)
		require.NoError(t, err)
		assert.NotEmpty(t, found.Says(label.Powder))
		assert.Less(t, found.Residual, 1.6*found.Expected, uid)
		mid := measure.Amount{Value: math.Sqrt(weak.Value * strong.Value), Unit: measure.InTeaspoons}
		for _, mm := range []float64{1, 4, 14} {
			for _, tilt := range []float64{0, 20, 60} {
				for _, g := range ChipGrounds {
					truly, _ := see(real, mid, at(mm, tilt, g))
					was, _ := see(cup.Shelf{base: shelf[base], uid: label}, mid, at(mm, tilt, g))
					now, _ := see(cup.Shelf{base: shelf[base], uid: found.Material}, mid, at(mm, tilt, g))
					before, after, n = before+colour.DeltaE00(was, truly), after+colour.DeltaE00(now, truly), n+1
				}
			}
		}
	}
	require.Positive(t, n)
	t.Logf(
		"%d looks that were not read: ΔE00 %.2f by the label, %.2f by the chips", n, before/float64(n),
		after/float64(n),
	)
	assert.Less(t, after/float64(n), 0.8)
	assert.Greater(t, before, 3*after)
}

func TestPowderChipsInWords(t *testing.T) {
	shelf := testkit.Bench()
	m := shelf["interference-blue"]
	_, err := CalibratePowder(&m, "medium-plastisol", nil, shelf)
	testkit.AssertFault(t, err, "chips", "face-on and tilted")
	_, err = CalibratePowder(&m, "medium-plastisol", []Chip{{}, {}, {}, {}}, shelf)
	testkit.AssertFault(t, err, "chips[0]", "g a litre")
}
