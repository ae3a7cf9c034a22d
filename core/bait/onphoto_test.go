package bait_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	. "cloudburst/core/bait"
)

// A photo of a bait, turned, mirrored and in any size, gives the thickness that the shape has there.
func TestThicknessOffAPhoto(t *testing.T) {
	for _, s := range Shapes() {
		x := s.FromX + 0.35*(s.ToX-s.FromX)
		for _, u := range []float64{0, 0.8} {
			really := s.At(x, u)
			if really == 0 {
				continue
			}
			for _, c := range []struct{ turn, px, mirror float64 }{
				{0, 8, 1}, {0.4, 3, 1}, {-0.7, 11, 1}, {0.3, 6, -1},
			} {
				sin, cos := math.Sincos(c.turn)
				place := func(x, u float64) [2]float64 { // nose to the left, or to the right where it is mirrored
					x *= c.mirror
					return [2]float64{900 + c.px*(x*cos+u*sin), 500 + c.px*(x*sin-u*cos)}
				}
				got, err := s.ThicknessAt(place(s.FromX, 0), place(s.ToX, 0), place(x, u))
				require.NoError(t, err)
				assert.InDelta(t, really, got, 1e-6, "%s %+v", s.Key, c)
			}
		}
		_, err := s.ThicknessAt([2]float64{0, 0}, [2]float64{500, 0}, [2]float64{250, 400})
		assert.ErrorContains(t, err, "does not reach there")
		_, err = s.ThicknessAt([2]float64{5, 5}, [2]float64{5, 5}, [2]float64{5, 5})
		assert.ErrorContains(t, err, "far end of the tail")
	}
}
