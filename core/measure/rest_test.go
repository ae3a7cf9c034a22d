package measure_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	. "cloudburst/core/measure"
)

func TestRests(t *testing.T) {
	for typed, hours := range map[string]float64{
		"24": 24, "2.5 hours": 2.5, "2,5 h": 2.5, "3 days": 72, "a week": 168, "half an hour": 0.5, "90 min": 1.5,
		"0": 0,
	} {
		got, err := ParseRest(typed)
		require.NoError(t, err, typed)
		assert.InDelta(t, hours, got, 1e-9, typed)
	}
	for _, typed := range []string{"", "soon", "-2", "3 moons"} {
		_, err := ParseRest(typed)
		assert.ErrorContains(t, err, "type it as 24 hours", typed)
	}
	assert.Equal(t, "24 h", Rest(24))
	assert.Equal(t, "3 days", Rest(72))
	assert.Equal(t, "2.5 days", Rest(60))
}
