package reference_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"cloudburst/core/colour"
	. "cloudburst/core/reference"
)

func aBag(rng *rand.Rand, samples int, sd float64, odd int, by float64) []Sampled {
	var all []Sampled
	for n := 1; n <= samples; n++ {
		for i, c := range []colour.Lab{{L: 40, A: 5, B: 30}, {L: 80, A: 0, B: 8}} {
			part := []string{"back", "belly"}[i]
			l := colour.Lab{L: c.L + sd*rng.NormFloat64(), A: c.A + sd*rng.NormFloat64(), B: c.B + sd*rng.NormFloat64()}
			if n == odd {
				l.L -= by
			}
			all = append(all, Sampled{Sample: n, Part: part, Lab: l})
		}
	}
	return all
}

// Bags with one odd bait, and without: the odd one is found, and hardly ever one that is not.
func TestTheOddBaitOfABagIsFound(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 4))
	found, falsely := 0, 0
	const bags = 200
	for range bags {
		if SpreadOf(aBag(rng, 5, 0.8, 3, 7)).Odd == 3 {
			found++
		}
		if SpreadOf(aBag(rng, 5, 0.8, 0, 0)).Odd != 0 {
			falsely++
		}
	}
	t.Logf("found in %d of %d, falsely in %d", found, bags, falsely)
	assert.Greater(t, found, 185)
	assert.Less(t, falsely, 15)
}

func TestTheSpreadOfABag(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 5))
	bag := SpreadOf(aBag(rng, 9, 1, 2, 9))
	for _, p := range bag.Parts {
		assert.InDelta(t, 1.7, p.DeltaE00, 1.0, "the odd one does not widen it: %+v", p)
	}
	assert.Contains(t, bag.Says, "Bait 2 is not typical")
	assert.Contains(t, SpreadOf(nil).Says, "Pin the same part on several baits")
	three := SpreadOf(aBag(rng, 3, 0.5, 1, 20))
	assert.Zero(t, three.Odd, "of three, nobody can say which is odd")
}
