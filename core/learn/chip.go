package learn

import (
	"fmt"
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/fit"
	"cloudburst/core/match"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// Chip is one reading of a chip that was poured to measure a bottle: nothing but plastisol and so much of it.
type Chip struct {
	PerLitre float64 // ml of a liquid or g of a solid in a litre of finished mix
	Lab      colour.Lab
	At       mix.Condition
	Off      float64 // on each axis of Lab: one standard deviation
}

// Curves are what a ml or g of a bottle in a litre of mix adds to K and S, as chips have it.
type Curves struct {
	match.Coefficients
	Residual float64 // ΔE00 between the chips as they were read and as the curves have them: root of the mean square
	Expected float64 // the same, if nothing but the readings' own errors were left
	Family   bool    // the family's shape was leaned on
	Dropped  bool    // it was looked at, and does not fit
}

// How the logarithms of the curves are built, and what is thought of them beforehand. Chosen by docs/model.md; the
// family's by how far bottles of one family lie apart.
const (
	forK, forS     = 14, 6    // cubic B-splines
	bendK, bendS   = 0.6, 0.2 // of their second differences
	anyK, anyS     = 4.0, 4.0 // of their level, where nothing is known
	likeK, likeS   = 0.35, 0.3
	usualK, usualS = -4.0, -7.0 // logarithms, 1/mm at 1 ml per litre
	// by which the sum of squares may grow with a family: its own bottles cost some ten, others hundreds
	mostStrain       = 80.0
	leastChips       = 4
	mostChips        = 400
	leastPer, mostPL = 1e-3, 500.0
)

// splines are cubic B-splines over the grid, evenly set.
func splines(n int) []colour.Spectrum {
	out := make([]colour.Spectrum, n)
	first, last := colour.NM(0), colour.NM(colour.Bands-1)
	step := (last - first) / float64(n-3)
	for i := range out {
		for b := range colour.Bands {
			u := math.Abs((colour.NM(b)-first)/step - float64(i-1))
			switch {
			case u < 1:
				out[i][b] = 2.0/3 - u*u + u*u*u/2
			case u < 2:
				out[i][b] = (2 - u) * (2 - u) * (2 - u) / 6
			}
		}
	}
	return out
}

var splinesK, splinesS = splines(forK), splines(forS)

// chips are chips in numbers.
type chips struct {
	list   []Chip
	views  []*match.View
	rest   []match.Coefficients // of the plastisol, by chip
	like   []float64            // what the parameters are thought to be
	spread []float64
	parts  []match.Coefficients
	refs   []*match.Coefficients
	slopes []match.Gradient
}

// Calibrate finds a bottle's curves from chips of it in a plastisol. family is what it is thought to be like; nil for
// nothing.
func Calibrate(base *material.Plastisol, list []Chip, family *match.Coefficients) (*Curves, error) {
	if len(list) < leastChips || len(list) > mostChips {
		return nil, measure.Faulty(
			"chips", "read from %d to %d chips: two loads at four thicknesses, over white and over dark, are best",
			leastChips,
			mostChips,
		)
	}
	for i, c := range list {
		field := fmt.Sprintf("chips[%d]", i)
		check := Batch{Readings: []Reading{{Lab: c.Lab, At: c.At, Off: c.Off}}}
		if err := check.checkReadings(); err != nil {
			return nil, err
		}
		if !(c.PerLitre >= leastPer && c.PerLitre <= mostPL) {
			return nil, measure.Faulty(field, "a load from %g to %g ml or g a litre is accepted", leastPer, mostPL)
		}
	}
	without, x, sum := newChips(base, list, nil).fit()
	if family == nil {
		return without, nil
	}
	with, _, strained := newChips(base, list, family).fit(x)
	with.Family = true
	if strained-sum > mostStrain {
		without.Dropped = true
		return without, nil
	}
	return with, nil
}

func newChips(base *material.Plastisol, list []Chip, family *match.Coefficients) *chips {
	c := &chips{list: list, like: make([]float64, forK+forS), spread: make([]float64, forK+forS)}
	k, s := base.Coefficients()
	for _, one := range list {
		c.views = append(c.views, match.NewView(one.At.ThicknessMM, one.At.Ground, one.At.Light))
		rest := match.Coefficients{K: k, S: s}
		share := 1 - one.PerLitre/1000
		for b := range rest.K {
			rest.K[b], rest.S[b] = share*rest.K[b], share*rest.S[b]
		}
		c.rest = append(c.rest, rest)
	}
	for i := range c.like {
		c.like[i], c.spread[i] = usualK, anyK
		if i >= forK {
			c.like[i], c.spread[i] = usualS, anyS
		}
	}
	if family != nil {
		for i := range forK {
			c.like[i], c.spread[i] = about(&splinesK[i], &family.K), likeK
		}
		for i := range forS {
			c.like[forK+i], c.spread[forK+i] = about(&splinesS[i], &family.S), likeS
		}
	}
	c.parts = make([]match.Coefficients, forK+forS)
	c.slopes = make([]match.Gradient, forK+forS)
	for i := range c.parts {
		c.refs = append(c.refs, &c.parts[i])
	}
	return c
}

// about is the mean logarithm of a curve where a spline lies.
func about(spline, curve *colour.Spectrum) float64 {
	sum, weight := 0.0, 0.0
	for b, w := range spline {
		sum, weight = sum+w*math.Log(max(1e-6, curve[b])), weight+w
	}
	return sum / weight
}

// curves are what the parameters stand for.
func (c *chips) curves(x []float64) (out match.Coefficients) {
	for b := range out.K {
		k, s := 0.0, 0.0
		for i := range forK {
			k += x[i] * splinesK[i][b]
		}
		for i := range forS {
			s += x[forK+i] * splinesS[i][b]
		}
		out.K[b], out.S[b] = math.Exp(max(-30, min(6, k))), math.Exp(max(-30, min(6, s)))
	}
	return out
}

// residuals counts them: three a chip, one a second difference, one a level.
func (c *chips) residuals() int { return 3*len(c.list) + (forK - 2) + (forS - 2) + forK + forS }

// Look is fit.Model's.
func (c *chips) Look(x, r []float64, by [][]float64) bool {
	is := c.curves(x)
	for j := range by {
		clear(by[j])
	}
	for n, one := range c.list {
		sum := c.rest[n]
		for b := range sum.K {
			sum.K[b] += one.PerLitre * is.K[b]
			sum.S[b] += one.PerLitre * is.S[b]
		}
		w := 1 / max(leastOff, one.Off)
		lab := c.views[n].Lab(&sum, nil)
		if by != nil {
			for b := range is.K {
				for i := range forK {
					c.parts[i].K[b] = one.PerLitre * is.K[b] * splinesK[i][b]
				}
				for i := range forS {
					c.parts[forK+i].S[b] = one.PerLitre * is.S[b] * splinesS[i][b]
				}
			}
			lab = c.views[n].Slope(&sum, c.refs, c.slopes, nil, nil)
			for j := range by {
				for ch := range 3 {
					by[j][3*n+ch] = w * c.slopes[j][ch]
				}
			}
		}
		r[3*n], r[3*n+1], r[3*n+2] = w*(lab.L-one.Lab.L), w*(lab.A-one.Lab.A), w*(lab.B-one.Lab.B)
	}
	at := 3 * len(c.list)
	put := func(sd float64, terms map[int]float64) {
		r[at] = 0
		for j, times := range terms {
			r[at] += times * (x[j] - c.like[j]) / sd
			if by != nil {
				by[j][at] = times / sd
			}
		}
		at++
	}
	for i := range forK - 2 {
		put(bendK, map[int]float64{i: 1, i + 1: -2, i + 2: 1})
	}
	for i := range forS - 2 {
		put(bendS, map[int]float64{forK + i: 1, forK + i + 1: -2, forK + i + 2: 1})
	}
	for j := range x {
		put(c.spread[j], map[int]float64{j: 1})
	}
	return true
}

// fit looks for the curves from several levels, and from where others were found.
func (c *chips) fit(also ...[]float64) (curves *Curves, x []float64, sum float64) {
	least := fit.Least{Rounds: 80, Gain: 1e-6}
	best, at := math.Inf(1), []float64(nil)
	starts := also
	for _, level := range []float64{0, 2, -2} {
		x := make([]float64, len(c.like))
		for j := range x {
			x[j] = c.like[j] + level
		}
		starts = append(starts, x)
	}
	for _, start := range starts {
		x := append([]float64{}, start...)
		if sum := least.Find(c, x, c.residuals()); sum < best {
			best, at = sum, x
		}
	}
	out := &Curves{Coefficients: c.curves(at)}
	for n, one := range c.list {
		sum := c.rest[n]
		for b := range sum.K {
			sum.K[b] += one.PerLitre * out.K[b]
			sum.S[b] += one.PerLitre * out.S[b]
		}
		d := colour.DeltaE00(c.views[n].Lab(&sum, nil), one.Lab)
		out.Residual += d * d / float64(len(c.list))
		form, v := colour.FormAt(one.Lab), [3]float64{}
		for ch := range 3 {
			var axis [3]float64
			axis[ch] = max(leastOff, one.Off)
			form.Of(axis[0], axis[1], axis[2], v[:])
			out.Expected += (v[0]*v[0] + v[1]*v[1] + v[2]*v[2]) / float64(len(c.list))
		}
	}
	out.Residual, out.Expected = math.Sqrt(out.Residual), math.Sqrt(out.Expected)
	return out, at, best
}

var _ fit.Model = (*chips)(nil)
