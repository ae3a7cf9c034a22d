package mesh_test

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

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

// Corners on whole and half rays put sides along rows, along columns and through rays, where a rounding would show.
func TestARayMeetsWhatItGoesThrough(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		const wide, high = 9, 7
		corner := rapid.Custom(func(t *rapid.T) [3]float32 {
			at := rapid.IntRange(-4, 20)
			return [3]float32{float32(at.Draw(t, "x")) / 2, float32(at.Draw(t, "y")) / 2, float32(at.Draw(t, "z"))}
		})
		v := rapid.SliceOfN(corner, 4, 4).Draw(t, "corners")
		r, err := Cast(context.Background(), v, [][3]int32{{0, 1, 2}, {0, 3, 1}, {1, 3, 2}, {2, 3, 0}}, wide, high)
		require.NoError(t, err)
		covered := func(x, y float64) bool {
			for _, f := range [][3]int{{0, 1, 2}, {0, 3, 1}, {1, 3, 2}, {2, 3, 0}} {
				low, top := math.Inf(1), math.Inf(-1)
				for k := range f {
					a, b := v[f[k]], v[f[(k+1)%3]]
					s := float64(b[0]-a[0])*(y-float64(a[1])) - float64(b[1]-a[1])*(x-float64(a[0]))
					low, top = min(low, s), max(top, s)
				}
				if low > 0 || top < 0 {
					return true
				}
			}
			return false
		}
		for y := range high {
			for x := range wide {
				// A ray on a side is told by what lies close about it; off both diagonals, as sides may run along them.
				inside, beside := true, true
				for _, d := range [][2]float64{{3, 1}, {-1, 3}, {-3, -1}, {1, -3}} {
					c := covered(float64(x)+d[0]*1e-3, float64(y)+d[1]*1e-3)
					inside, beside = inside && c, beside && !c
				}
				hits := r.At(x, y)
				if inside && len(hits) != 2 || beside && len(hits) != 0 || len(hits) != 0 && len(hits) != 2 {
					t.Fatalf("%d hits at %d, %d; inside %v, beside %v", len(hits), x, y, inside, beside)
				}
				if len(hits) == 2 && (hits[0].Z < hits[1].Z || hits[0].Enters() == hits[1].Enters()) {
					t.Fatalf("%v at %d, %d", hits, x, y)
				}
			}
		}
	})
}
