package heat

import (
	"math"

	"cloudburst/core/fit"
)

// UsualDiffusivity is that of plastisol, mm²/s.
const UsualDiffusivity = 0.11

// Section is a section of plastic that cools from the walls of its mold, which keep their temperature.
type Section struct {
	ThicknessMM float64
	Diffusivity float64 // mm²/s
	StartC      float64
	WallC       float64
	Open        bool // its top is open and loses nothing; else there is a wall on either side
}

// width is that of the slab between two walls of which the section is one, or the half.
func (s *Section) width() float64 {
	if s.Open {
		return 2 * s.ThicknessMM
	}
	return s.ThicknessMM
}

// terms of the series: it is called for from the first tenths of a second on.
const terms = 4000

// series sums the slab's Fourier series; of gives the weight of a term by its odd number m.
func (s *Section) series(seconds float64, of func(m float64) float64) float64 {
	l := s.width()
	rate := math.Pi * math.Pi * s.Diffusivity * seconds / (l * l)
	sum := 0.0
	for i := range terms {
		m := float64(2*i + 1)
		fades := math.Exp(-m * m * rate)
		if fades < 1e-18 {
			break
		}
		sum += of(m) * fades
	}
	return s.WallC + (s.StartC-s.WallC)*sum
}

// At is the temperature so deep from the wall after a time.
func (s *Section) At(depthMM, seconds float64) float64 {
	if seconds <= 0 {
		return s.StartC
	}
	return s.series(
		seconds, func(m float64) float64 { return 4 / (m * math.Pi) * math.Sin(m*math.Pi*depthMM/s.width()) },
	)
}

// Centre is the temperature where it cools last: in the middle, or at the open top.
func (s *Section) Centre(seconds float64) float64 { return s.At(s.width()/2, seconds) }

// Mean is the mean temperature over the section.
func (s *Section) Mean(seconds float64) float64 {
	if seconds <= 0 {
		return s.StartC
	}
	return s.series(seconds, func(m float64) float64 { return 8 / (m * m * math.Pi * math.Pi) })
}

// longest is how long anybody waits for a mold.
const longest = 24 * 3600.0

// When is when a place has fallen to a temperature; false where it never does.
func (s *Section) When(depthMM, c float64) (seconds float64, ever bool) {
	switch {
	case c >= s.StartC:
		return 0, true
	case c <= s.WallC || s.At(depthMM, longest) > c:
		return 0, false
	}
	return fit.Halve(0, longest, 70, func(t float64) bool { return s.At(depthMM, t) <= c }), true
}

// CentreWhen is the same of where it cools last: when it can be taken out, or when it no longer flows.
func (s *Section) CentreWhen(c float64) (seconds float64, ever bool) { return s.When(s.width()/2, c) }

// Layer is a layer at a temperature.
type Layer struct {
	C, MM             float64
	Conducts          float64 // W/(m K)
	DensityGML, CpJgK float64
}

// Effusivity is how strongly it imposes its temperature on what it touches, W s^½/(m² K).
func (l *Layer) Effusivity() float64 {
	return math.Sqrt(l.Conducts * l.DensityGML * 1000 * l.CpJgK * 1000)
}

// ContactC is the temperature at the boundary of two layers when they touch.
func ContactC(a, b *Layer) float64 {
	ea, eb := a.Effusivity(), b.Effusivity()
	return (ea*a.C + eb*b.C) / (ea + eb)
}

// EvenedC is that of both when they have shared their heat.
func EvenedC(a, b *Layer) float64 {
	ha, hb := a.MM*a.DensityGML*a.CpJgK, b.MM*b.DensityGML*b.CpJgK
	return (ha*a.C + hb*b.C) / (ha + hb)
}

// Window is when a layer may be poured onto another of like plastic.
type Window struct {
	EarliestS float64 // before, they mix
	LatestS   float64 // after, they do not bond
	NeverLate bool
	TopC      float64 // of the lower one at the latest
}

// Feasible says whether there is such a time.
func (w *Window) Feasible() bool { return w.NeverLate || w.LatestS >= w.EarliestS }

// NextLayer is when a second layer may be poured onto an open one: its top has fallen so far that they do not mix, and
// not so far that the boundary would be colder than what bonds. False where they always mix.
func (s *Section) NextLayer(upperC, mixAboveC, bondC float64) (Window, bool) {
	earliest, ever := s.CentreWhen(mixAboveC)
	if !ever {
		return Window{}, false
	}
	w := Window{EarliestS: earliest, TopC: 2*bondC - upperC}
	var late bool
	w.LatestS, late = s.CentreWhen(w.TopC)
	w.NeverLate = !late
	return w, true
}
