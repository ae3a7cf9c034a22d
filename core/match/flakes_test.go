package match_test

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/cup"
	. "cloudburst/core/match"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// flakeRack is every family of flake in three sizes of the trade.
func flakeRack(shelf cup.Shelf) []string {
	var uids []string
	for _, f := range material.Families() {
		if f.Kind != material.KindFlake {
			continue
		}
		for _, size := range []float64{0.015, 0.035, 0.062} {
			uid := f.Key + map[float64]string{0.015: "-015", 0.035: "-035", 0.062: "-062"}[size]
			m := f.New(uid, uid)
			m.Flake.SizeIn.Value = size
			shelf[uid] = m
			uids = append(uids, uid)
		}
	}
	return uids
}

// On made-up references with the right flake on the shelf it is chosen, with the spoons that were stirred in; without
// it the substitute is said to be one. What was seen is a little off; how far a count of a photo is off is measured in
// package photo.
func TestTheRightFlakeIsChosen(t *testing.T) {
	shelf, uids := rack(2, 24)
	flakes := flakeRack(shelf)
	rng := rand.New(rand.NewPCG(6, 1))
	at := seen(8, optics.White)
	right, spoons, said, made := 0, 0, 0, 0
	for made < 30 {
		filled := hidden(rng, shelf, uids, "1 cup")
		uid := flakes[rng.IntN(len(flakes))]
		m := shelf[uid]
		dose := []float64{1.0 / 32, 1.0 / 16, 1.0 / 8, 1.0 / 4}[rng.IntN(4)]
		filled.Doses = append(
			filled.Doses, cup.Dose{Material: uid, Amount: measure.Amount{Value: dose, Unit: measure.InTeaspoons}},
		)
		mixed, err := mix.Stir(&filled, shelf)
		require.NoError(t, err)
		l := mixed.Legibility(at)[0]
		if l.Hidden != "" || l.CountPerCM2 < 1 { // nothing that a photo would show
			continue
		}
		made++
		kind := mix.KindSeen{
			SizeIN: m.Flake.SizeIn.Value * math.Exp(0.05*rng.NormFloat64()),
			PerCM2: l.CountPerCM2 * math.Exp(0.01*rng.NormFloat64()),
		}
		for _, h := range l.Hues {
			n := float64(len(l.Hues))
			kind.Lab.L += h.Swatch.Lab.L / n
			kind.Lab.A += (h.Swatch.Lab.A + 1.5*rng.NormFloat64()) / n
			kind.Lab.B += (h.Swatch.Lab.B + 1.5*rng.NormFloat64()) / n
		}
		kind.Lab.L += 3 * rng.NormFloat64()
		finish := []material.Finish{m.Flake.Finish}
		got, err := ChooseFlake(mixed, []mix.KindSeen{kind}, finish, shelf, spoonKit, at)
		require.NoError(t, err)
		first := got[0].Choices[0]
		if first.Material == uid {
			right++
			if math.Abs(first.Dose.Value-dose) <= 1.0/64+1e-9 {
				spoons++
			} else {
				t.Logf("%s: %s for %s tsp", uid, first.Take, measure.Number(dose, 4))
			}
		} else {
			t.Logf("%s was taken for %s", uid, first.Material)
		}
		less := cup.Shelf{}
		for k, v := range shelf {
			// Without it, and without any that would be called the same.
			if v.Flake == nil || v.Flake.SizeIn.Value != m.Flake.SizeIn.Value {
				less[k] = v
			}
		}
		got, err = ChooseFlake(mixed, []mix.KindSeen{kind}, finish, less, spoonKit, at)
		require.NoError(t, err)
		if c := got[0].Choices[0]; c.Substitute && c.Why != "" && assert.Contains(t, got[0].Says, "as a substitute") {
			said++
		}
	}
	t.Logf(
		"the right flake in %d of 30, spoons within one step in %d; a substitute is said to be one in %d", right,
		spoons,
		said,
	)
	assert.GreaterOrEqual(t, right, 27)
	assert.GreaterOrEqual(t, spoons, right-1)
	assert.Equal(t, 30, said)
}

// Flake darkens and colours what is seen at arm's length: the base is solved again for it.
func TestTheBaseFollowsTheFlake(t *testing.T) {
	shelf, uids := rack(2, 24)
	flakeRack(shelf)
	truth := cupOf(
		"1 cup", cup.DripOf("clear-yellow-0", 12), cup.DripOf("clear-green-0", 2),
		cup.Dose{Material: "flake-black-035", Amount: measure.Amount{Value: 0.5, Unit: measure.InTeaspoons}},
	)
	m, err := mix.Stir(&truth, shelf)
	require.NoError(t, err)
	at := seen(8, optics.White)
	l := m.Legibility(at)[0]
	seenKind := []mix.KindSeen{{SizeIN: 0.035, PerCM2: l.CountPerCM2, Lab: l.Hues[0].Swatch.Lab}}
	w := &Wish{
		Cup: cupOf("1 cup"), Readings: []Reading{{
			Name: "arm's length", Lab: m.Colour(at), At: at, Weight: 1,
		}}, Allowed: uids,
		Most: 3,
	}
	r, kinds, err := WithFlake(context.Background(), w, seenKind, []material.Finish{material.Plain}, shelf, spoonKit)
	require.NoError(t, err)
	assert.Equal(t, "flake-black-035", kinds[0].Choices[0].Material)
	assert.Less(t, r.Candidates[0].DeltaE00, 1.0)
	assert.True(
		t, slices.ContainsFunc(
			r.Candidates[0].Cup.Doses, func(d cup.Dose) bool { return d.Material == "flake-black-035" },
		),
	)
	// Read between the pieces instead, the flake's own colour does not count.
	w.Readings[0].Between, w.Readings[0].Lab = true, m.Body().Colour(at)
	r, _, err = WithFlake(context.Background(), w, seenKind, []material.Finish{material.Plain}, shelf, spoonKit)
	require.NoError(t, err)
	assert.Less(t, r.Candidates[0].DeltaE00, 0.5)

	_, err = ChooseFlake(m, nil, nil, shelf, spoonKit, at)
	assert.ErrorContains(t, err, "no flake was counted")
	bare, _ := rack(2, 4)
	_, err = ChooseFlake(m, seenKind, nil, bare, spoonKit, at)
	assert.ErrorContains(t, err, "no flake on the shelf")
}
