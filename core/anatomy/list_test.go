package anatomy_test

import (
	"bytes"
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
			low, high := m.Bounds()
			size := high.Minus(low)
			t.Logf(
				"%d triangles, %.1f × %.1f × %.1f mm, %.2f ml, %v", len(m.T), size[0], size[1], size[2], m.VolumeML(),
				took,
			)
			assert.Greater(t, m.VolumeML(), 1.0)
			// What is saved of it is a body that any program takes, this one first.
			var file bytes.Buffer
			require.NoError(t, m.WriteSTL(&file))
			again, did, err := mesh.Read(&file)
			require.NoError(t, err, "%d of its sides are crowded", crowded)
			assert.Empty(t, did)
			assert.InEpsilon(t, m.VolumeML(), again.VolumeML(), 1e-5)
			assert.InEpsilon(t, m.AreaMM2(), again.AreaMM2(), 1e-5)
		})
	}
}
