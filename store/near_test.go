package store_test

import (
	"cmp"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/recipe"
	. "cloudburst/store"
	"cloudburst/store/storetest"
)

// The search reads only what can be near in lightness; it must find what comparing every recipe finds.
func TestRecipesNearAColourAreThoseOfAFullComparison(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	for i := range 60 {
		c := reddish(t)
		for j := range c.Doses {
			c.Doses[j] = cup.DripOf(c.Doses[j].Material, float64(1+(i*i*(3+j)+7*j)%120))
		}
		_, err := sh.SaveRecipe(ctx, recipe.Recipe{Name: "R" + strconv.Itoa(i), Cup: c}, 0, "", "")
		require.NoError(t, err)
	}
	every, err := sh.Recipes(ctx, "", Page{Most: 100})
	require.NoError(t, err)
	seen, err := sh.SeenOf(ctx, every.Items)
	require.NoError(t, err)
	for _, wanted := range []colour.Lab{{L: 0}, {L: 100}, {L: 55, A: 40, B: 20}, {L: 30, A: -60}, seen[17].Near} {
		var all []NearRecipe
		for i, s := range seen {
			all = append(all, NearRecipe{UID: every.Items[i].UID, DeltaE00: colour.DeltaE00(s.Near, wanted)})
		}
		slices.SortFunc(all, func(a, b NearRecipe) int { return cmp.Compare(a.DeltaE00, b.DeltaE00) })
		var got []NearRecipe
		for page := (Page{Most: 9}); ; {
			part, err := sh.RecipesNear(ctx, wanted, "", page)
			require.NoError(t, err)
			got = append(got, part.Items...)
			if page.After = part.Next; part.Next == "" {
				break
			}
		}
		require.Len(t, got, len(all))
		for i := range all {
			assert.InDelta(t, all[i].DeltaE00, got[i].DeltaE00, 1e-6, "%v, place %d", wanted, i)
		}
	}
}
