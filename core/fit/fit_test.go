package fit_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	. "cloudburst/core/fit"
)

// model is one by a function and its slope.
type model func(x, r []float64, by [][]float64) bool

func (m model) Look(x, r []float64, by [][]float64) bool { return m(x, r, by) }

// Rosenbrock's valley, whose least is at (1, 1), from his own beginning (1960).
func rosenbrock(x, r []float64) bool {
	r[0], r[1] = 10*(x[1]-x[0]*x[0]), 1-x[0]
	return true
}

func TestRosenbrocksValley(t *testing.T) {
	x := []float64{-1.2, 1}
	s := Least{Rounds: 200}
	sum := s.Find(Differences{Residuals: rosenbrock, Step: func(int, float64) float64 { return 1e-7 }}, x, 2)
	assert.InDelta(t, 1, x[0], 1e-4)
	assert.InDelta(t, 1, x[1], 1e-4)
	assert.Less(t, sum, 1e-8)
}

// A decay read off a curve: Misra1a's form of the NIST's nonlinear reference data, with its certified values.
func TestCertifiedDecay(t *testing.T) {
	y := []float64{10.07, 14.73, 17.94, 23.93, 29.61, 35.18, 40.02, 44.82, 50.76, 55.05, 61.01, 66.40, 75.47, 81.78}
	at := []float64{77.6, 114.9, 141.1, 190.8, 239.9, 289.0, 332.8, 378.4, 434.8, 477.3, 536.8, 593.1, 689.1, 760.0}
	x := []float64{500, 1} // the second times 1e-4
	s := Least{Rounds: 500}
	sum := s.Find(model(func(x, r []float64, by [][]float64) bool {
		for k := range y {
			e := math.Exp(-x[1] * 1e-4 * at[k])
			r[k] = x[0]*(1-e) - y[k]
			by[0][k], by[1][k] = 1-e, x[0]*e*at[k]*1e-4
		}
		return true
	}), x, len(y))
	assert.InDelta(t, 2.3894212918e2, x[0], 1e-2)
	assert.InDelta(t, 5.5015643181, x[1], 1e-3)
	assert.InDelta(t, 1.2455138894e-1, sum, 1e-7)
}

// Doses stay between nothing and their most, whatever the residuals ask for, and a held one stays where it is.
func TestDosesStayWithinTheirBounds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 6).Draw(t, "n")
		held := rapid.IntRange(0, n-1).Draw(t, "held")
		draw := func(name string, from, to float64) []float64 {
			return rapid.SliceOfN(rapid.Float64Range(from, to), n, n).Draw(t, name)
		}
		want, most, even, x := draw("want", -5, 30), draw("most", 0.1, 20), draw("even", 0.1, 2), draw("x", 0, 0.1)
		first := x[:held:held]
		was := append([]float64{}, first...)
		s := Least{Held: held, Even: even, Most: most}
		s.Find(Differences{Residuals: func(x, r []float64) bool {
			for j := range x {
				r[j] = x[j] - want[j]
			}
			return true
		}, Step: func(int, float64) float64 { return 1e-6 }}, x, n)
		for j := range x {
			if j < held {
				if x[j] != was[j] {
					t.Fatalf("held %d: %g for %g", j, x[j], was[j])
				}
				continue
			}
			if best := max(0, min(most[j], want[j])); math.Abs(x[j]-best) > 1e-3*(1+best) {
				t.Fatalf("%d: %g for %g", j, x[j], best)
			}
		}
	})
}

func TestWhereNothingCanBe(t *testing.T) {
	var s Least
	never := Differences{Residuals: func(_, _ []float64) bool { return false }, Step: nil}
	assert.True(t, math.IsInf(s.Find(never, []float64{1}, 1), 1))
}

func TestASecondSearchAllocatesNothing(t *testing.T) {
	var s Least
	m := model(func(x, r []float64, by [][]float64) bool {
		r[0], r[1] = x[0]-3, x[1]*x[1]-2
		by[0][0], by[0][1], by[1][0], by[1][1] = 1, 0, 0, 2*x[1]
		return true
	})
	x := []float64{1, 1}
	s.Find(m, x, 2)
	assert.Zero(t, testing.AllocsPerRun(10, func() { x[0], x[1] = 1, 1; s.Find(m, x, 2) }))
	assert.InDelta(t, math.Sqrt2, x[1], 1e-5)
}

func TestHalve(t *testing.T) {
	assert.InDelta(t, math.Sqrt2, Halve(1, 2, 50, func(x float64) bool { return x*x > 2 }), 1e-14)
}

func TestSolve(t *testing.T) {
	x, ok := Solve([]float64{2, 1, 1, 3}, []float64{3, 5})
	require.True(t, ok)
	assert.InDeltaSlice(t, []float64{0.8, 1.4}, x, 1e-14)
	_, ok = Solve([]float64{1, 2, 2, 4}, []float64{1, 2})
	assert.False(t, ok)
}

// The widest direction of a cloud that was stretched along a known one.
func TestWidest(t *testing.T) {
	u := [3]float64{0.36, 0.48, 0.8}
	var a [3][3]float64
	for i := range 3 {
		a[i][i] = 0.1
		for j := range 3 {
			a[i][j] += 5 * u[i] * u[j]
		}
	}
	v := Widest(a)
	assert.InDelta(t, 1, math.Abs(u[0]*v[0]+u[1]*v[1]+u[2]*v[2]), 1e-12)
}
