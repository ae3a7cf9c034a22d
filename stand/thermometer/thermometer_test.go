package thermometer

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/pour"
)

// A microwave that is calibrated by two of its readings predicts the third within 8 °F.
func TestTwoReadingsPredictTheThird(t *testing.T) {
	for seed := range uint64(30) {
		shows := New(seed)
		first := []Burst{{1000, 95, 0}}
		one, two := shows.Read(240, 1.03, 21, 105, first), shows.Read(240, 1.03, 21, 260, first)
		usual := pour.Usual()
		h, err := usual.Heaters[0].ByTrial(
			pour.Trial{ML: 240, StartC: 21, BurstS: 95, Reading1C: one, AfterS1: 10, Reading2C: two, AfterS2: 165}, 21,
		)
		require.NoError(t, err)
		// And then another burst.
		third := shows.Read(240, 1.03, 21, 330, append(first, Burst{1000, 40, 280}))
		c := h.After(240, 1.03, 21, two, 20, 40, 10)
		assert.InDelta(t, third, c, 8/1.8, "seed %d", seed)
	}
	assert.Contains(t, New(1).About(), "stand-in")
}
