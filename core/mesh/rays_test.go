package mesh_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	. "cloudburst/core/mesh"
)

// thicknesses casts a body turned about two axes, and gives each ray's place and the plastic it meets.
func thicknesses(t testing.TB, m *Mesh, perMM float64, turn func(Vec) Vec, tell func(x, y, mm float64)) {
	v := make([][3]float32, len(m.V))
	const half = 200
	for i, p := range m.V {
		q := turn(p)
		v[i] = [3]float32{float32(half + q[0]*perMM), float32(half - q[1]*perMM), float32(q[2])}
	}
	r, err := Cast(t.Context(), v, m.T, 2*half, 2*half)
	require.NoError(t, err)
	for y := range 2 * half {
		for x := range 2 * half {
			mm, entered, left := 0.0, 0, 0
			for _, h := range r.At(x, y) {
				if h.Enters() {
					entered++
				} else {
					left++
				}
			}
			require.Equal(t, entered, left, "every ray that goes in comes out, at %d, %d", x, y)
			Inside(r.At(x, y), func(in, out Hit) { mm += float64(in.Z - out.Z) })
			tell(float64(x-half)/perMM, float64(half-y)/perMM, mm)
		}
	}
}

func TestRaysThroughASphere(t *testing.T) {
	const r = 9.0
	m, err := Over(
		t.Context(), Field(func(p Vec) float64 { return p.Long() - r }), Vec{-11, -11, -11}, Vec{11, 11, 11}, 0.34,
	)
	require.NoError(t, err)
	rng := rand.New(rand.NewPCG(1, 2))
	for range 8 {
		a, b := 6*rng.Float64(), 6*rng.Float64()
		sinA, cosA := math.Sincos(a)
		sinB, cosB := math.Sincos(b)
		sum := 0.0
		thicknesses(t, m, 10, func(p Vec) Vec {
			q := Vec{p[0]*cosA - p[1]*sinA, p[0]*sinA + p[1]*cosA, p[2]}
			return Vec{q[0], q[1]*cosB - q[2]*sinB, q[1]*sinB + q[2]*cosB}
		}, func(x, y, mm float64) {
			sum += mm / 100
			if d := math.Hypot(x, y); d < 0.9*r {
				want := 2 * math.Sqrt(r*r-d*d)
				if math.Abs(mm-want) > 0.01*want {
					t.Fatalf("%v mm for %v", mm, want)
				}
			}
		})
		if want := 4 * math.Pi / 3 * r * r * r; math.Abs(sum-want) > 0.005*want {
			t.Fatalf("%v mm³ for %v", sum, want)
		}
	}
}
