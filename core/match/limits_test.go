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
	. "cloudburst/testkit"
)

// The shelf lacks a bottle with one band, and everything that absorbs near it: the band is named, and the family with
// it.
func TestTheLackingBandIsNamed(t *testing.T) {
	all, uids := rack(5, 48)
	rng := rand.New(rand.NewPCG(9, 2))
	made, named, familyRight := 0, 0, 0
	for made < Tried(30, 10) {
		// A bottle of one band in the middle of the spectrum.
		uid := uids[rng.IntN(len(uids))]
		m := all[uid]
		if m.Colourant == nil || len(m.Colourant.Optics.Absorbs) == 0 {
			continue
		}
		strongest := slices.MaxFunc(
			m.Colourant.Optics.Absorbs,
			func(a, b material.Band) int { return int(math.Copysign(1, a.HeightPerMM-b.HeightPerMM)) },
		)
		if strongest.CentreNM < 430 || strongest.CentreNM > 680 || strongest.WidthNM > 45 {
			continue
		}
		var allowed []string
		for _, u := range uids {
			o := all[u]
			if u != uid && !absorbsNear(&o, strongest.CentreNM) {
				allowed = append(allowed, u)
			}
		}
		c := cupOf(
			"1 cup", cup.Dose{Material: uid, Amount: measure.DropCount(math.Round(m.Colourant.UsualDrops[1] / 2))},
		)
		for _, u := range rng.Perm(len(allowed))[:1] {
			o := all[allowed[u]]
			c.Doses = append(c.Doses, cup.Dose{Material: o.UID, Amount: o.Middling()})
		}
		w := &Wish{Cup: cupOf("1 cup"), Readings: readingsOf(t, c, all, threeLooks...), Allowed: allowed, Most: 4}
		r, err := Search(context.Background(), w, all, spoonKit, nil)
		require.NoError(t, err)
		if r.Candidates[0].DeltaE00 < 2 { // no gap: others make up for it
			continue
		}
		made++
		require.NotNil(t, r.Limit)
		if math.Abs(r.Limit.BandNM-strongest.CentreNM) <= 30 {
			named++
		} else {
			t.Logf(
				"%s absorbs at %.0f nm; named %.0f (ΔE00 %.1f, with it %.1f): %v", uid, strongest.CentreNM,
				r.Limit.BandNM,
				r.Limit.Without, r.Limit.With, r.Limit.Families,
			)
		}
		if slices.ContainsFunc(r.Limit.Families, func(f LimitClose) bool { return f.Key == m.Family }) {
			familyRight++
		}
	}
	t.Logf("the band is named within 30 nm in %d of %d, the family in %d", named, made, familyRight)
	assert.GreaterOrEqual(t, named, made*8/10)
	assert.GreaterOrEqual(t, familyRight, made*8/10)
}

// absorbsNear says whether a bottle takes at a wavelength a third or more of what it takes at most.
func absorbsNear(m *material.Material, nm float64) bool {
	if m.Colourant == nil {
		return m.Powder.Optics.MetalCore || len(m.Powder.Optics.Absorbs) > 0
	}
	k, _ := m.Colourant.Coefficients()
	most := slices.Max(k[:])
	b := int(math.Round((nm - 380) / 10))
	return most > 0 && k[b] > most/3
}
