package mesh_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	. "cloudburst/core/mesh"
)

func TestStepsAreClosed(t *testing.T) {
	for _, steps := range [][]float64{{3}, {1, 2}, {2, 1}, {1, 2, 3, 5, 8, 12}, {4, 1, 4, 4, 2}} {
		m := Steps(steps, 18, 26)
		sum := 0.0
		for _, mm := range steps {
			sum += mm
		}
		assert.InDelta(t, sum*18*26/1000, m.VolumeML(), 1e-9, "%v", steps)
		open, _ := m.Open()
		assert.Zero(t, open, "%v", steps)
		creased := m.Creased(0.8)
		assert.InDelta(t, m.VolumeML(), creased.VolumeML(), 1e-9)
		assert.Len(t, creased.N, len(creased.V))
	}
}
