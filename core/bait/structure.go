package bait

import (
	"fmt"
	"math"
)

// Kind says how the plastics lie in a bait.
type Kind string

// The structures.
const (
	Single   Kind = "single"   // one cup
	Laminate Kind = "laminate" // back and belly, shot together
	Core     Kind = "core"     // a second colour down the middle
)

// Structure says how two cups share a bait.
type Structure struct {
	Kind       Kind    `json:"kind" enum:"single,laminate,core"`
	BoundaryAt float64 `json:"boundaryAt" minimum:"-0.9" maximum:"0.9" doc:"Laminate: height of the plane, -1 belly, 1 back"`
	BlurMM     float64 `json:"blurMM" minimum:"0" maximum:"10" doc:"Laminate: how far the two run into each other; hotter cups more"`
	CoreShare  float64 `json:"coreShare" minimum:"0.05" maximum:"0.95" doc:"Core: its width as a share of the bait's"`
}

// Check says what is wrong with a structure.
func (st *Structure) Check() error {
	switch st.Kind {
	case Single:
		return nil
	case Laminate:
		if !(st.BoundaryAt >= -0.9 && st.BoundaryAt <= 0.9) {
			return fmt.Errorf("the boundary lies inside the bait: from -0.9 (near the belly) to 0.9 (near the back)")
		}
		if !(st.BlurMM >= 0 && st.BlurMM <= 10) {
			return fmt.Errorf("a boundary is 0 to 10 mm soft")
		}
		return nil
	case Core:
		if !(st.CoreShare >= 0.05 && st.CoreShare <= 0.95) {
			return fmt.Errorf("a core is narrower than its bait: from 5 to 95 %% of it")
		}
		return nil
	}
	return fmt.Errorf("no structure is called %q; use single, laminate or core", st.Kind)
}

// Slices is the plastic under one point, front to back, as shares of the thickness: first cup, second cup, first cup.
type Slices struct{ First, Second, Last float64 }

// Split says how a point's thickness is shared. In a side view the plane of a laminate is seen edge-on, so that a point is
// back or belly, or a mixture of both near the boundary; from the back one looks through the back layer at the belly.
func (st *Structure) Split(t Through, view View) Slices {
	switch st.Kind {
	case Laminate:
		if !t.Body { // tails and fins fill with both: the back's cup above, as the mold lies
			return Slices{First: st.backShare(t.Up * t.Half)}.filled()
		}
		if view == Back {
			return Slices{First: (1 - st.BoundaryAt) / 2}.filled()
		}
		return Slices{First: st.backShare((t.Up - st.BoundaryAt) * t.Half)}.filled()
	case Core:
		if !t.Body {
			return Slices{First: 1}
		}
		up := t.Up
		if view == Back {
			up = math.Sqrt(max(0, 1-t.Round*t.Round))
		}
		outer := chord(up, 1, 2)
		inner := st.CoreShare * chord(up/st.CoreShare, 1, 2)
		if outer <= 0 || inner <= 0 {
			return Slices{First: 1}
		}
		share := min(1, inner/outer)
		return Slices{First: (1 - share) / 2, Second: share, Last: (1 - share) / 2}
	}
	return Slices{First: 1}
}

func (s Slices) filled() Slices {
	s.Second = 1 - s.First
	return s
}

// backShare is how much of the back's plastic lies at a distance above the boundary, mm: half at it, all of it beyond
// the blur.
func (st *Structure) backShare(aboveMM float64) float64 {
	if st.BlurMM <= 0 {
		if aboveMM >= 0 {
			return 1
		}
		return 0
	}
	v := min(1, max(0, aboveMM/st.BlurMM+0.5))
	return v * v * (3 - 2*v)
}

// SharesOf is how much of the bait's volume each cup fills, by adding up the picture.
func (s *Shape) SharesOf(st *Structure) (first, second float64) {
	const step = 0.5
	for x := s.FromX + step/2; x < s.ToX; x += step {
		for y := -s.HalfY; y < s.HalfY; y += step {
			t := s.At(x, y, Side)
			if t.MM <= 0 {
				continue
			}
			cut := st.Split(t, Side)
			// Round parts: the slices are shares of the chord, which is what the volume is made of.
			first += t.MM * (cut.First + cut.Last)
			second += t.MM * cut.Second
		}
	}
	all := first + second
	return first / all, second / all
}
