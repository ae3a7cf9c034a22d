package learn

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/stat/distuv"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/match"
	"cloudburst/core/mix"
)

// Sure is how sure the prediction of a colour is.
type Sure struct {
	SD  float64 // root of the mean square of ΔE00 between what is predicted and what is
	R80 float64 // ΔE00 within which it lies in four cases of five
}

// Sure says how sure the predictions of a cup are, with the bottles as they are known now.
func (l *Learnt) Sure(c *cup.Cup, ats []mix.Condition) ([]Sure, error) {
	return l.sure(c, ats, func(int) int { return -1 }, l.beliefs)
}

// Read says how sure it is what devices will read of a cup, one for each condition. How far a device is off does not
// matter there, as far as it has read the same bottles before: what it was off by then, it is off by again.
func (l *Learnt) Read(c *cup.Cup, ats []mix.Condition, devices []string) ([]Sure, error) {
	return l.sure(c, ats, l.reads(devices), l.beliefs)
}

// reads says which of the devices reads a condition, -1 for none.
func (l *Learnt) reads(devices []string) func(k int) int {
	return func(k int) int { return slices.Index(l.p.devices, devices[k]) }
}

// sure works out either, by beliefs.
func (l *Learnt) sure(c *cup.Cup, ats []mix.Condition, by func(k int) int, beliefs []belief) ([]Sure, error) {
	q := &problem{shelf: l.p.shelf}
	one, err := q.pour(c, map[string]int{}, 0)
	if err != nil {
		return nil, err
	}
	q.pours = []poured{one}
	x, known := l.knownOf(q, beliefs)
	out := make([]Sure, len(ats))
	for k, at := range ats {
		device := by(k)
		if l.cov == nil {
			device = -1
		}
		if len(one.parts) == 0 && device < 0 {
			continue // nothing that could be otherwise
		}
		s := q.look(0, at)
		lab, slopes := q.predict(&s, x, true)
		form := colour.FormAt(lab)
		g := mat.NewDense(3, max(1, known[0].cov.SymmetricDim()), nil)
		put := func(j int, slope match.Gradient) {
			var v [3]float64
			form.Of(slope[0], slope[1], slope[2], v[:])
			for ch := range 3 {
				g.Set(ch, j, g.At(ch, j)+v[ch])
			}
		}
		for i := range one.parts {
			t := &one.parts[i]
			for m := range perBottle {
				put(perBottle*t.bottle+m, slopes[i*perBottle+m])
			}
			if t.dose >= 0 {
				put(q.doseAt(t.dose), slopes[i*perBottle])
			}
		}
		for ch := range 3 {
			if device >= 0 {
				put(q.size()+3*device+ch, axis(ch, 1))
			}
		}
		besides := mat.NewDense(3, 3, nil) // whatever is known of the bottles
		off := func(of match.Gradient, times float64) {
			var v [3]float64
			form.Of(of[0], of[1], of[2], v[:])
			for i := range 3 {
				for j := range 3 {
					besides.Set(i, j, besides.At(i, j)+times*v[i]*v[j])
				}
			}
		}
		for i := range one.parts { // drops that are not alike
			off(slopes[i*perBottle], one.parts[i].uneven)
		}
		for ch := range 3 { // and the model itself
			off(axis(ch, 1), l.p.model*l.p.model)
		}
		spreads := make([]spread, len(known))
		for i, b := range known {
			var gc, in, more mat.Dense
			gc.Mul(g, b.cov)
			in.Mul(&gc, g.T())
			more.Scale(b.besides*b.besides, besides)
			in.Add(&in, &more)
			spreads[i] = spreadOfForm(&in, b.share)
		}
		out[k] = sureOf(spreads)
	}
	return out, nil
}

func axis(ch int, by float64) (v match.Gradient) {
	v[ch] = by
	return v
}

// knownOf is what is known of a cup's parameters, and after them of the devices': where they lie, and how far they may
// lie from there by each belief. What was never read lies as far as all others of the shelf.
func (l *Learnt) knownOf(q *problem, beliefs []belief) (x []float64, known []belief) {
	own := q.size()
	x = make([]float64, own)
	var of []int // in the whole, -1 for what it does not know
	for range own {
		of = append(of, -1)
	}
	for i, uid := range q.bottles {
		at, ok := l.at[uid]
		if !ok || l.cov == nil {
			continue
		}
		for k := range perBottle {
			x[perBottle*i+k], of[perBottle*i+k] = l.x[perBottle*at+k], perBottle*at+k
		}
	}
	if l.cov != nil {
		for j := range 3 * len(l.p.devices) {
			of = append(of, l.p.deviceAt(0)+j)
		}
	}
	for _, b := range beliefs {
		cov := mat.NewSymDense(max(1, len(of)), nil)
		for i := range of {
			if of[i] < 0 {
				sd := q.priorSD(i)
				if i < q.doseAt(0) {
					sd *= b.width
				}
				cov.SetSym(i, i, sd*sd)
			}
			for j := range i + 1 {
				if of[i] >= 0 && of[j] >= 0 {
					cov.SetSym(i, j, b.cov.At(of[i], of[j]))
				}
			}
		}
		known = append(known, belief{b.share, b.width, b.besides, cov})
	}
	return x, known
}

// spread is how far a colour may lie from where it is predicted, by one belief: the square of ΔE00 as a multiple of a
// χ² of so many degrees of freedom.
type spread struct{ share, times, freedom float64 }

// spreadOfForm is that of a covariance in the scale of ΔE00: a sum of three squares, as a multiple of a χ² with the
// same mean and variance (Satterthwaite 1946).
func spreadOfForm(c mat.Matrix, share float64) spread {
	trace, square := 0.0, 0.0
	for i := range 3 {
		trace += c.At(i, i)
		for j := range 3 {
			square += c.At(i, j) * c.At(i, j)
		}
	}
	if trace <= 0 {
		return spread{share: share}
	}
	return spread{share, square / trace, trace * trace / square}
}

// sureOf takes all beliefs together: within how much the colour lies in four cases of five, whichever holds.
func sureOf(all []spread) (s Sure) {
	for _, one := range all {
		s.SD += one.share * one.times * one.freedom
	}
	if s.SD = math.Sqrt(s.SD); s.SD == 0 {
		return s
	}
	const cases, near = 0.8, 1e-3
	if len(all) == 1 {
		s.R80 = math.Sqrt(all[0].times * distuv.ChiSquared{K: all[0].freedom}.Quantile(cases))
		return s
	}
	low, high := 0.0, s.SD/math.Sqrt(1-cases) // Chebyshev: no more lies beyond
	for high-low > near*high {
		s.R80 = (low + high) / 2
		within := 0.0
		for _, one := range all {
			if one.times == 0 {
				within += one.share
				continue
			}
			within += one.share * distuv.ChiSquared{K: one.freedom}.CDF(s.R80*s.R80/one.times)
		}
		if within < cases {
			low = s.R80
		} else {
			high = s.R80
		}
	}
	return s
}
