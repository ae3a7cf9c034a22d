package pour_test

import (
	"context"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/leftover"
	"cloudburst/core/match"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	. "cloudburst/core/pour"
	"cloudburst/testkit"
)

// 130 ml of an olive leftover, reheated twice, with black flake, and 45 ml of laminate sprues, olive and cream as 60 to
// 40, toward a dark back in baits of 9 ml: by what goes in alone, in whole drops, counted after losses, with its age
// said; and not toward a pale belly.
func TestLeftoversTowardADarkBack(t *testing.T) {
	b := bench()
	of := leftover.DensitiesOf(b.Shelf)
	tub := func(ml float64, h leftover.History, doses ...cup.Dose) leftover.Tub {
		c := testkit.CupOf(t, "1 cup", doses...)
		all := leftover.OfCup(&c, h, b.Shelf)
		out, err := all.Take(ml, of)
		require.NoError(t, err)
		return out
	}
	olive := []cup.Dose{cup.DripOf("clear-green", 3), cup.DripOf("clear-brown", 6), cup.DripOf("clear-yellow", 2)}
	cream := []cup.Dose{cup.DripOf("titanium-white", 6), cup.DripOf("clear-yellow", 1)}
	all := tub(
		130, leftover.History{HeatsMean: 3, HeatsMost: 3, DoseMean: 14, DoseMost: 14},
		append([]cup.Dose{testkit.Tsp("flake-black", 0.25)}, olive...)...,
	)
	once := leftover.History{HeatsMean: 1, HeatsMost: 1, DoseMean: 5, DoseMost: 5}
	all.Put(tub(27, once, olive...), of)
	all.Put(tub(18, once, cream...), of)
	require.InDelta(t, 175, all.ML(of), 1e-6)
	assert.InDelta(t, (130*3+45)/175.0, all.HeatsMean, 1e-9)
	assert.Equal(t, 3.0, all.HeatsMost)
	assert.Contains(t, all.Tired(), "yellow")

	c, err := all.Cup(b.Shelf)
	require.NoError(t, err)
	aged := leftover.Aged(b.Shelf, &c, all.DoseMean)
	at := mix.Condition{ThicknessMM: 8, Ground: optics.White, Light: colour.D65, State: cup.Rested}
	correct := func(want colour.Lab) (now float64, best *match.Correction) {
		w := &match.Wish{
			Cup: c, Most: 3, Plain: true, Readings: []match.Reading{{Name: "Back", Lab: want, At: at, Weight: 1}},
			PriceOf: func(string) float64 { return 0 },
		}
		for uid, m := range b.Shelf {
			if m.Colourant != nil && m.Colourant.Glows == nil && !m.Runs() {
				w.Allowed = append(w.Allowed, uid)
			}
		}
		got, err := match.Correct(context.Background(), w, aged, b.Kit)
		require.NoError(t, err)
		for i := range got.Options {
			if o := &got.Options[i]; o.Kind == "add" && (best == nil || o.DeltaE00 < best.DeltaE00) {
				best = o
			}
		}
		return got.Now.DeltaE00, best
	}
	dark := testkit.Stirred(
		t,
		testkit.CupOf(
			t, "1 cup", cup.DripOf("clear-green", 5), cup.DripOf("clear-brown", 12), cup.DripOf("carbon-black", 3),
		),
	).Colour(at)
	now, add := correct(dark)
	require.NotNil(t, add)
	assert.Greater(t, now, 8.0)
	assert.Less(t, add.DeltaE00, 3.0, "from ΔE00 %.1f", now)
	require.NotEmpty(t, add.Adds)
	for _, d := range add.Adds {
		assert.InDelta(t, math.Round(d.Amount.Value), d.Amount.Value, 1e-9, "%s: %s", d.Material, d.Amount)
		assert.Positive(t, d.Amount.Value)
	}
	for _, d := range c.Doses { // nothing was taken out
		assert.GreaterOrEqual(t, add.Cup.AmountOf(d.Material).Value, d.Amount.Value-1e-9, d.Material)
	}
	t.Logf("ΔE00 %.1f, with %v %.1f", now, add.Adds, add.DeltaE00)

	// So many baits of 9 ml, after sprues, plugs and what stays in the cup: fewer than 175 by 9.
	m := b.Molds["lagoon"]
	m.BaitML = 9
	o := &Order{
		Name: "Dark backs", Degas: NoDegas, Structure: bait.NewDesign("", "lagoon", "").Structure,
		Cups: []Poured{{Name: "Back", Cup: add.Cup, PourC: 166}}, Molds: []Asked{{Mold: "lagoon", Count: 1, Copies: 2}},
	}
	made, err := o.Most(b, 175)
	require.NoError(t, err)
	require.NotNil(t, made)
	assert.Equal(t, 14, made.BaitsMade)
	assert.LessOrEqual(t, made.Balance.InML, 175.0)

	pale := testkit.Stirred(t, testkit.CupOf(t, "1 cup", cup.DripOf("titanium-white", 8))).Colour(at)
	from, white := correct(pale)
	if white != nil {
		assert.Greater(t, white.DeltaE00, 4.0, "from ΔE00 %.1f: it never gets as pale", from)
	}
}
