package match_test

import (
	"cmp"
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/optimize"

	. "cloudburst/core/match"
	. "cloudburst/testkit"

	"cloudburst/core/cup"
)

func quantile(v []float64, q float64) float64 {
	slices.Sort(v)
	return v[int(q*float64(len(v)-1))]
}

func mean(v []float64) (sum float64) {
	for _, x := range v {
		sum += x / float64(len(v))
	}
	return sum
}

// targets are wishes made from hidden recipes of a rack of 48, with the recipe.
func targets(t testing.TB, n int, each func(w *Wish, shelf cup.Shelf, truth cup.Cup)) {
	shelf, uids := rack(1, 48)
	rng := rand.New(rand.NewPCG(7, 7))
	for range n {
		truth := hidden(rng, shelf, uids, "1 cup")
		each(
			&Wish{
				Cup: cupOf("1 cup"), Readings: readingsOf(t, truth, shelf, threeLooks...), Allowed: uids, Most: 4,
			}, shelf,
			truth,
		)
	}
}

// Hidden recipes of two to four bottles are met again, in whole drops and spoons.
func TestHiddenRecipesAreMet(t *testing.T) {
	var off, ms []float64
	alike, few := 0, 0
	targets(t, Tried(120, 36), func(w *Wish, shelf cup.Shelf, truth cup.Cup) {
		start := time.Now()
		r, err := Search(context.Background(), w, shelf, spoonKit, nil)
		require.NoError(t, err)
		ms = append(ms, time.Since(start).Seconds()*1000)
		off = append(off, r.Candidates[0].DeltaE00)
		if len(r.Candidates) < Candidates {
			few++
		}
		for i, a := range r.Candidates {
			for _, b := range r.Candidates[:i] {
				if !differ(a.Cup, b.Cup) {
					alike++
				}
			}
			assert.LessOrEqual(t, a.Bottles, 4)
			for _, d := range a.Cup.Doses {
				m := shelf[d.Material]
				assert.InDelta(t, 0, measurable(&m, d.Amount), 1e-9, "%s of %s", d.Amount, m.Name)
			}
		}
	})
	t.Logf(
		"%.1f ms in the median, %.1f at p90; ΔE00 %.3f in the mean, %.3f at p95, %.3f at most", quantile(ms, 0.5),
		quantile(ms, 0.9), mean(off), quantile(off, 0.95), quantile(off, 1),
	)
	assert.Less(t, mean(off), 0.05)
	assert.Less(t, quantile(off, 0.95), 0.2)
	assert.Zero(t, alike, "pairs of candidates that share more than half of their bottles")
	assert.Zero(t, few, "searches with fewer than five candidates")
}

// Beside every set of up to three bottles, worked out in full with the same rounding: never worse by what anyone could
// see, and far sooner done.
func TestAgainstEveryTriple(t *testing.T) {
	n := Tried(120, 5)
	var ratios []float64
	worst := 0.0
	targets(t, n, func(w *Wish, shelf cup.Shelf, truth cup.Cup) {
		w.Most = 3
		start := time.Now()
		r, err := Search(context.Background(), w, shelf, spoonKit, nil)
		require.NoError(t, err)
		ours := time.Since(start)
		start = time.Now()
		long, err := EveryTriple(w, shelf, spoonKit)
		require.NoError(t, err)
		ratios = append(ratios, float64(time.Since(start))/float64(ours))
		if by := r.Candidates[0].DeltaE00 - long; by > worst {
			worst = by
			t.Logf("%.3f worse than every triple's %.3f, for %v", by, long, truth.Doses)
		}
	})
	t.Logf(
		"%d targets: at most %.3f worse than every triple, %.0f times sooner in the median", n, worst,
		quantile(ratios, 0.5),
	)
	assert.Less(t, worst, 0.2)
	assert.Greater(t, quantile(ratios, 0.5), 8.0) // over all targets 21 and 22 were measured: docs/measured.md
}

// A generic optimiser, on the same evaluation, over the doses of all bottles at once or of sets that it is handed.
func TestAgainstAGenericOptimiser(t *testing.T) {
	var times, errs, own []float64
	targets(t, 3, func(w *Wish, shelf cup.Shelf, truth cup.Cup) {
		start := time.Now()
		r, err := Search(context.Background(), w, shelf, spoonKit, nil)
		require.NoError(t, err)
		ours := time.Since(start)
		start = time.Now()
		p, err := NewProblem(w, shelf, spoonKit)
		require.NoError(t, err)
		best := generic(t, p, len(w.Allowed), w.Most)
		times = append(times, float64(time.Since(start))/float64(ours))
		errs, own = append(errs, best), append(own, r.Candidates[0].DeltaE00)
	})
	t.Logf(
		"generic: %.1f times as long, ΔE00 %.3f in the mean where ours is %.3f", quantile(times, 0.5), mean(errs),
		mean(own),
	)
	assert.Greater(t, quantile(times, 0.5), 10.0)
	assert.Less(t, mean(own), mean(errs)/4)
}

// generic is Nelder–Mead from three starts over the logarithms of all doses; the largest few doses are kept, solved
// again, and rounded to whole steps, one after the other.
func generic(t *testing.T, p *Problem, bottles, most int) float64 {
	rng := rand.New(rand.NewPCG(3, 1))
	dose := func(set []int, u []float64) []float64 {
		x := make([]float64, bottles)
		for j, i := range set {
			x[i] = min(p.Most(i), math.Max(0, math.Exp(u[j])-0.5))
		}
		return x
	}
	minimise := func(set []int, u []float64, evaluations int) ([]float64, float64) {
		r, err := optimize.Minimize(optimize.Problem{Func: func(u []float64) float64 { return p.Off(dose(set, u)) }}, u,
			&optimize.Settings{FuncEvaluations: evaluations, Converger: &optimize.FunctionConverge{Absolute: 1e-6, Iterations: 400}}, &optimize.NelderMead{})
		require.NoError(t, err)
		return r.X, r.F
	}
	best := math.Inf(1)
	for range 3 {
		var all []int
		u := make([]float64, bottles)
		for i := range u {
			all = append(all, i)
			u[i] = math.Log(0.5 + rng.Float64())
		}
		u, _ = minimise(all, u, 40_000)
		slices.SortFunc(all, func(a, b int) int { return cmp.Compare(u[b], u[a]) })
		set := all[:most]
		v := make([]float64, most)
		for j, i := range set {
			v[j] = u[i]
		}
		v, _ = minimise(set, v, 4_000)
		x := dose(set, v)
		for _, i := range set {
			x[i] = math.Round(x[i])
		}
		best = min(best, p.Off(x))
	}
	return best
}
