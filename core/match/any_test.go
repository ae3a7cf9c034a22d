package match_test

import (
	"errors"
	"flag"
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cores"
	"cloudburst/core/cup"
	. "cloudburst/core/match"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

var shelves = flag.Int("shelves", 25, "made-up shelves and targets that the search is tried on")

// Any shelf of one to twelve bottles, and any target from black to white, in and out of reach: the search answers, with
// figures, and with doses that can be dripped. A dark colour on a short shelf once ended it, about one in eight
// hundred.
func TestAnyShelfAndAnyTarget(t *testing.T) {
	all, uids := rack(11, 48)
	require.NoError(t, cores.Each(t.Context(), *shelves, func(i int) error {
		rng := rand.New(rand.NewPCG(uint64(i), 12))
		var own []string
		shelf := cup.Shelf{"base": all["base"]}
		for _, at := range rng.Perm(len(uids))[:1+rng.IntN(12)] {
			own = append(own, uids[at])
			shelf[uids[at]] = all[uids[at]]
		}
		w := &Wish{
			Cup: cupOf([]string{"1 cup", "2 ml", "1/4 cup", "5 gal"}[rng.IntN(4)]), Allowed: own, Most: 1 + rng.IntN(6),
		}
		for n := range 1 + rng.IntN(3) {
			dark := rng.Float64()
			w.Readings = append(w.Readings, Reading{
				Name: fmt.Sprint(n), Lab: colour.Lab{
					L: 100 * dark * dark, A: 220*rng.Float64() - 110, B: 220*rng.Float64() - 110,
				}, Weight: rng.Float64() * 3,
				At: mix.Condition{
					ThicknessMM: []float64{0.05, 1.5, 8, 100}[rng.IntN(4)], Ground: optics.Grounds()[rng.IntN(6)],
					Light: colour.D65,
					State: cup.Rested,
				},
			})
		}
		w.Readings[0].Weight = 1
		r, err := Search(t.Context(), w, shelf, spoonKit, nil)
		var f *measure.Fault
		if errors.As(err, &f) { // readings that contradict each other
			return nil
		}
		if err != nil {
			return fmt.Errorf("shelf %d of %d bottles, %d readings: %w", i, len(own), len(w.Readings), err)
		}
		assert.Empty(t, measure.NotFinite(r), "shelf %d", i)
		for _, c := range r.Candidates {
			assert.NoError(t, c.Cup.Check(shelf), "shelf %d", i)
			assert.LessOrEqual(t, c.Bottles, w.Most, "shelf %d", i)
		}
		return nil
	}))
}
