package learn

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/mat"

	"cloudburst/core/fit"
)

// belief is one of the ways in which the bottles and the devices may be: how sure the parameters are, if it is so.
type belief struct {
	share   float64       // how likely it is, of 1
	width   float64       // how far bottles lie from their figures, as times of what is usual
	besides float64       // how far drops and the model are off, as times of what is taken of them
	cov     *mat.SymDense // of the parameters, about where they are; nil where nothing was read
}

// How far off a maker's bottles and devices are all over is not known before: what a bench pours, reads or writes down
// in its own way shows only in what its readings leave over. A shelf is nearer to its figures than is usual, or as near,
// or further off; a device is right, or off by several on each axis of Lab. Drops and the model are off as the shelf is,
// and by nearly twice as much as a cup leaves over: its own bottles have taken up the rest, another cup's have not.
var (
	widths       = []float64{0.55, 1, 2, 4}
	widthsBefore = []float64{0.6, 0.12, 0.23, 0.05} // how likely each is
	offs         = []float64{0.1, 4}
	offsBefore   = []float64{0.9, 0.1}
)

const besidesWidth = 1.8

// likeliest is the one belief by which parameters are found.
func (l *Learnt) likeliest() []belief { return []belief{{1, 1, 1, l.cov}} }

// unread are the beliefs where nothing was read.
func unread() (out []belief) {
	for i, width := range widths {
		out = append(out, belief{widthsBefore[i], width, besidesWidth * width, nil})
	}
	return out
}

// Of many devices only so many beliefs are followed up, and none that is as good as ruled out.
const mostBeliefs, leastShare = 12, 0.003

// trial is a belief while it is weighed.
type trial struct {
	width  float64
	prior  float64   // logarithm of how likely it was
	device []float64 // how far each is off, on each axis of Lab
	chol   mat.Cholesky
	at     mat.VecDense // where the parameters would lie
	likely float64      // logarithm of how likely it is, but for what is the same for all
}

// believe weighs the beliefs by what the readings say: by the evidence of each, along the slopes where the parameters
// are (Laplace's approximation).
func (l *Learnt) believe(least *fit.Least, residuals int) {
	a, b := l.normal(least, residuals)
	var trials []*trial
	for i, width := range widths {
		trials = append(trials, &trial{width: width, prior: math.Log(widthsBefore[i]), device: slices.Clone(l.p.device)})
	}
	trials = l.weighed(trials, a, b)
	for i := range l.p.devices {
		var each []*trial
		for _, t := range trials {
			for k, off := range offs {
				device := slices.Clone(t.device)
				device[i] = off
				each = append(each, &trial{width: t.width, prior: t.prior + math.Log(offsBefore[k]), device: device})
			}
		}
		trials = l.weighed(each, a, b)
	}
	all := 0.0
	for _, t := range trials {
		cov := mat.NewSymDense(len(l.x), nil)
		if t.chol.InverseTo(cov) != nil {
			continue
		}
		// The parameters stay where they are likeliest, so that where they would lie is so much further.
		t.at.SubVec(&t.at, mat.NewVecDense(len(l.x), l.x))
		cov.SymRankOne(cov, 1, &t.at)
		share := math.Exp(t.likely - trials[0].likely)
		all += share
		l.beliefs = append(l.beliefs, belief{share, t.width, besidesWidth * t.width, cov})
	}
	for i := range l.beliefs {
		l.beliefs[i].share /= all
	}
	if len(l.beliefs) == 0 { // too near to nothing to be told apart
		l.beliefs = l.likeliest()
	}
}

// weighed weighs trials against the normal equations, and keeps those that count, the likeliest first.
func (l *Learnt) weighed(trials []*trial, a *mat.SymDense, b *mat.VecDense) []*trial {
	p := l.p
	trials = slices.DeleteFunc(trials, func(t *trial) bool {
		at := mat.NewSymDense(len(l.x), nil)
		at.CopySym(a)
		t.likely = t.prior
		more := func(j int, sd float64) { // by how much surer the parameter was before
			was := p.priorSD(j)
			at.SetSym(j, j, at.At(j, j)+1/(sd*sd)-1/(was*was))
			t.likely -= math.Log(sd)
		}
		for j := range p.doseAt(0) {
			more(j, t.width*p.priorSD(j))
		}
		for j := range 3 * len(p.devices) {
			more(p.deviceAt(0)+j, t.device[j/3])
		}
		if !t.chol.Factorize(at) || t.chol.SolveVecTo(&t.at, b) != nil {
			return true
		}
		t.likely += mat.Dot(b, &t.at)/2 - t.chol.LogDet()/2
		return false
	})
	slices.SortStableFunc(trials, func(t, u *trial) int { return cmp.Compare(u.likely, t.likely) })
	for i, t := range trials {
		if i == mostBeliefs || t.likely < trials[0].likely+math.Log(leastShare) {
			return trials[:i]
		}
	}
	return trials
}

// normal are the normal equations where the parameters are: what a parameter would have to be, were all the others
// right, is told by b.
func (l *Learnt) normal(least *fit.Least, residuals int) (a *mat.SymDense, b *mat.VecDense) {
	r, by := least.Look(l.p, l.x, residuals)
	n := len(l.x)
	a, b = mat.NewSymDense(n, nil), mat.NewVecDense(n, nil)
	for i := range n {
		for j := i; j < n; j++ {
			sum := 0.0
			for k, v := range by[i] {
				sum += v * by[j][k]
			}
			a.SetSym(i, j, sum)
		}
	}
	b.MulVec(a, mat.NewVecDense(n, l.x))
	for i := range n {
		sum := 0.0
		for k, v := range by[i] {
			sum += v * r[k]
		}
		b.SetVec(i, b.AtVec(i)-sum)
	}
	return a, b
}
