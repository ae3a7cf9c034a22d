package optics

import (
	"math"

	"cloudburst/core/colour"
)

// Slab gives reflectance and transmittance of one even layer, seen from inside the plastic and with nothing
// behind it. It is the Kubelka–Munk solution written so that nothing is divided by S or by K: exact for a
// clear slab (S = 0 gives e^(−Kx)), an infinitely thick one and everything between.
//
//	α = √(K(K+2S))   t = tanh(αx)/α   D = 1+(K+S)t   R = S·t/D   T = sech(αx)/D
func Slab(k, s, xMM float64) (r, t float64) {
	alpha := math.Sqrt(k * (k + 2*s))
	u := alpha * xMM
	var th, sech float64
	if u < 1e-4 { // tanh u / α by its series: α may be zero
		th = xMM * (1 - u*u/3 + 2*u*u*u*u/15)
		sech = 1 - u*u/2
	} else {
		e := math.Exp(-u)
		e2 := e * e
		th = (1 - e2) / ((1 + e2) * alpha)
		if u < 0.5 { // 1 − e² would lose digits
			th = math.Tanh(u) / alpha
		}
		sech = 2 * e / (1 + e2)
	}
	d := 1 + (k+s)*th
	return s * th / d, sech / d
}

// Layer is one even layer of plastic.
type Layer struct {
	K, S        colour.Spectrum // 1/mm
	ThicknessMM float64
}

// Stack is what a pile of layers does to the light inside it, band by band, with no surfaces and nothing
// behind: R from the front, RBack from behind, T either way, and Cone, the share of a straight beam that
// comes through without having been scattered or absorbed.
type Stack struct {
	R, RBack, T, Cone colour.Spectrum
}

// Pile computes the stack of layers, front to back. No layers at all let everything through.
func Pile(layers ...Layer) Stack {
	var st Stack
	st.T, st.Cone = colour.Flat(1), colour.Flat(1)
	for i := range layers {
		st.Add(&layers[i])
	}
	return st
}

// Add puts one more layer behind the stack.
func (st *Stack) Add(l *Layer) {
	for b := range colour.Bands {
		r2, t2 := Slab(l.K[b], l.S[b], l.ThicknessMM)
		r1, back, t1 := st.R[b], st.RBack[b], st.T[b]
		d := 1 - back*r2 // light going back and forth between the two
		st.R[b] = r1 + t1*t1*r2/d
		st.RBack[b] = r2 + t2*t2*back/d
		st.T[b] = t1 * t2 / d
		st.Cone[b] *= math.Exp(-(l.K[b] + 2*l.S[b]) * l.ThicknessMM)
	}
}
