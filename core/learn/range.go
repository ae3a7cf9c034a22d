package learn

import (
	"math"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/stat/distuv"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/mix"
)

// Sure is how sure the prediction of a colour is.
type Sure struct {
	SD  float64 // root of the mean square of ΔE00 between what is predicted and what is
	R80 float64 // ΔE00 within which it lies in four cases of five
}

// Sure says how sure the predictions of a cup are, with the bottles as they are known now.
func (l *Learnt) Sure(c *cup.Cup, ats []mix.Condition) ([]Sure, error) {
	q := &problem{shelf: l.p.shelf}
	known := map[string]int{}
	one, err := q.pour(c, known, 0)
	if err != nil {
		return nil, err
	}
	q.pours = []poured{one}
	x := make([]float64, q.size())
	n := len(x)
	of := make([]int, n) // in the whole, -1 for what it does not know
	for j := range of {
		of[j] = -1
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
	out := make([]Sure, len(ats))
	if n == 0 { // nothing that could be otherwise
		for k := range out {
			out[k] = spreadOfForm(mat.NewDiagDense(3, nil))
		}
		return out, nil
	}
	cov := mat.NewSymDense(n, nil)
	for i := range n {
		if sd := q.priorSD(i); of[i] < 0 {
			cov.SetSym(i, i, sd*sd)
		}
		for j := range i + 1 {
			if of[i] >= 0 && of[j] >= 0 {
				cov.SetSym(i, j, l.cov.At(of[i], of[j]))
			}
		}
	}
	for k, at := range ats {
		s := q.look(0, at)
		lab, slopes := q.predict(&s, x, true)
		form := colour.FormAt(lab)
		g := mat.NewDense(3, n, nil)
		var v [3]float64
		for i := range one.parts {
			t := &one.parts[i]
			for m := range perBottle {
				sl := slopes[i*perBottle+m]
				form.Of(sl[0], sl[1], sl[2], v[:])
				for ch := range 3 {
					g.Set(ch, perBottle*t.bottle+m, g.At(ch, perBottle*t.bottle+m)+v[ch])
					if m == 0 && t.dose >= 0 {
						g.Set(ch, q.doseAt(t.dose), g.At(ch, q.doseAt(t.dose))+v[ch])
					}
				}
			}
		}
		var gc, c mat.Dense
		gc.Mul(g, cov)
		c.Mul(&gc, g.T())
		for ch := range 3 { // and the model itself
			var axis [3]float64
			axis[ch] = l.p.model
			form.Of(axis[0], axis[1], axis[2], v[:])
			for i := range 3 {
				for j := range 3 {
					c.Set(i, j, c.At(i, j)+v[i]*v[j])
				}
			}
		}
		out[k] = spreadOfForm(&c)
	}
	return out, nil
}

// spreadOfForm makes a range of a covariance in the scale of ΔE00: a sum of three squares, as a multiple of a χ² with the same mean and
// variance (Satterthwaite 1946).
func spreadOfForm(c mat.Matrix) Sure {
	trace, square := 0.0, 0.0
	for i := range 3 {
		trace += c.At(i, i)
		for j := range 3 {
			square += c.At(i, j) * c.At(i, j)
		}
	}
	if trace <= 0 {
		return Sure{}
	}
	times, freedom := square/trace, trace*trace/square
	return Sure{SD: math.Sqrt(trace), R80: math.Sqrt(times * distuv.ChiSquared{K: freedom}.Quantile(0.8))}
}
