package match_test

import (
	"fmt"
	"slices"
	"testing"

	"pgregory.net/rapid"

	. "cloudburst/core/match"
)

// Candidates are listed so that nobody reads a larger difference above a smaller one; of those shown alike the simpler
// comes first.
func TestCandidatesAreListedAsTheyAreShown(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		list := make([]Candidate, rapid.IntRange(2, 12).Draw(t, "candidates"))
		for i := range list {
			list[i].DeltaE00 = float64(rapid.IntRange(0, 1000).Draw(t, "ΔE00")) / 997 // none lies halfway
			list[i].Bottles = rapid.IntRange(1, 4).Draw(t, "bottles")
		}
		slices.SortStableFunc(list, ByRank)
		for i := range list[1:] {
			a, b := &list[i], &list[i+1]
			shown := func(c *Candidate) string { return fmt.Sprintf("%.1f", c.DeltaE00) }
			switch {
			case shown(a) > shown(b):
				t.Fatalf("%s stands above %s", shown(a), shown(b))
			case shown(a) == shown(b) && a.Bottles > b.Bottles:
				t.Fatalf(
					"of two that are %s off, the one of %d bottles stands above that of %d", shown(a), a.Bottles,
					b.Bottles,
				)
			}
		}
	})
}
