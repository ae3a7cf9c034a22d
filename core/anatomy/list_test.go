package anatomy_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	. "cloudburst/core/anatomy"
	"cloudburst/core/mesh"
)

// Every anatomy gives one closed body without anything that floats beside it.
func TestAnatomiesAreClosedBodies(t *testing.T) {
	for _, b := range All() {
		t.Run(b.Key, func(t *testing.T) {
			from, to := b.Bounds(1)
			began := time.Now()
			m, err := mesh.Over(t.Context(), b, from, to, 0.34)
			require.NoError(t, err)
			took := time.Since(began)
			open, crowded := m.Open()
			assert.Zero(t, open)
			t.Log(open, crowded)
			low, high := m.Bounds()
			size := high.Minus(low)
			t.Logf(
				"%d triangles, %.1f × %.1f × %.1f mm, %.2f ml, %v", len(m.T), size[0], size[1], size[2], m.VolumeML(),
				took,
			)
			assert.Greater(t, m.VolumeML(), 1.0)
		})
	}
}
