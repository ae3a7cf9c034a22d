package maker_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/cores"
	. "cloudburst/stand/maker"
	"cloudburst/testkit"
)

// Makers whose bottles are not what their labels say come to their colours with the second batch where batches teach,
// and mostly not at all where they don't. In full: cloudburst simulate.
func TestMakersWhoLearnGetThere(t *testing.T) {
	try := func(truth Truth, learning bool, targets int) *Outcome {
		got, err := Trial{
			Truth: truth, Targets: testkit.Tried(5*targets, targets), Learning: learning, Seed: 1,
		}.Run(t.Context())
		require.NoError(t, err)
		t.Logf("%+v learning %v: %+v", truth, learning, *got)
		return got
	}
	typical := Truth{Strength: 0.3, Hue: 0.1, Noise: 0.7}
	with, without := try(typical, true, 8), try(typical, false, 3)
	assert.LessOrEqual(t, with.Median, 2.0)
	assert.GreaterOrEqual(t, with.Within2, 0.8)
	assert.Greater(t, with.Within2, without.Within2+0.2)
	assert.Greater(t, with.Covered80, 0.7)
	mismatched := typical
	mismatched.Mismatch = true
	assert.GreaterOrEqual(t, try(mismatched, true, 5).Within3, 0.6)
}

// A trial goes the same way each time, on any number of processors.
func TestATrialIsRepeatable(t *testing.T) {
	trial := Trial{Truth: Truth{Strength: 0.3, Hue: 0.1, Noise: 0.7}, Targets: 2, Learning: true, Seed: 9}
	one, err := trial.Run(cores.Politely(t.Context()))
	require.NoError(t, err)
	two, err := trial.Run(t.Context())
	require.NoError(t, err)
	one.Seconds, two.Seconds = 0, 0
	assert.Equal(t, one, two)
}
