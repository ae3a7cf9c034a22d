package heat

import "math"

// Spread is how a dye moves through layers that lie against each other, flat ones or rings around a rod. Nothing gets
// out at either end. It is worked out in steps, where Boundary and Thin have their two layers in closed form.
type Spread struct {
	Diffuses float64 // mm²/s
	Layers   []Layered
	Round    bool // the first is a rod, the others are rings around it
}

// Layered is a layer, and how much is in it at first.
type Layered struct{ MM, PerL float64 }

// Profile is how much there is where, some time after.
type Profile struct {
	edges []float64 // mm
	perL  []float64 // between them
	round bool
}

// Steps of a spread: cells a layer, finer towards its edges; steps of time, the first ones damped, since the edges are
// sharp.
const (
	spreadCells = 96
	spreadSteps = 160
	dampedSteps = 4
)

// After is how it lies after a time.
func (s *Spread) After(seconds float64) *Profile {
	p := &Profile{edges: []float64{0}, round: s.Round}
	at := 0.0
	for _, l := range s.Layers {
		if l.MM <= 0 {
			continue
		}
		for k := 1; k <= spreadCells; k++ {
			p.edges = append(p.edges, at+l.MM*(1-math.Cos(math.Pi*float64(k)/spreadCells))/2)
			p.perL = append(p.perL, l.PerL)
		}
		at += l.MM
	}
	n := len(p.perL)
	if n < 2 || seconds <= 0 || s.Diffuses <= 0 {
		return p
	}
	// What passes an edge each second, and what a cell holds: both a mm of the third direction, and around the axis an
	// angle of one.
	pass, holds := make([]float64, n-1), make([]float64, n)
	for i := range n {
		holds[i] = p.size(p.edges[i], p.edges[i+1])
		if i > 0 {
			face := 1.0
			if s.Round {
				face = p.edges[i]
			}
			pass[i-1] = s.Diffuses * face / ((p.edges[i+1] - p.edges[i-1]) / 2)
		}
	}
	step := solver{pass: pass, holds: holds, c: p.perL, right: make([]float64, n), upper: make([]float64, n)}
	dt := seconds / spreadSteps
	for range dampedSteps {
		step.forward(dt/dampedSteps, 1)
	}
	for range spreadSteps - 1 {
		step.forward(dt, 0.5)
	}
	return p
}

// solver goes a step of time at once, Crank and Nicolson's way or wholly implicit.
type solver struct{ pass, holds, c, right, upper []float64 }

func (s *solver) forward(dt, implicit float64) {
	n := len(s.c)
	flow := func(i int) float64 { // into cell i, as it is
		sum := 0.0
		if i > 0 {
			sum += s.pass[i-1] * (s.c[i-1] - s.c[i])
		}
		if i < n-1 {
			sum += s.pass[i] * (s.c[i+1] - s.c[i])
		}
		return sum
	}
	for i := range n {
		s.right[i] = s.holds[i]*s.c[i] + (1-implicit)*dt*flow(i)
	}
	// A matrix of three diagonals, by elimination.
	left := 0.0
	for i := range n {
		own, up := s.holds[i], 0.0
		if i > 0 {
			own += implicit * dt * s.pass[i-1]
		}
		if i < n-1 {
			own += implicit * dt * s.pass[i]
			up = -implicit * dt * s.pass[i]
		}
		if i > 0 {
			own -= left * s.upper[i-1]
			s.right[i] -= left * s.right[i-1]
		}
		s.upper[i] = up / own
		s.right[i] /= own
		left = up
	}
	for i := n - 1; i >= 0; i-- {
		s.c[i] = s.right[i]
		if i < n-1 {
			s.c[i] -= s.upper[i] * s.c[i+1]
		}
	}
}

// size is how much lies between two places.
func (p *Profile) size(from, to float64) float64 {
	if p.round {
		return (to*to - from*from) / 2
	}
	return to - from
}

// Mean is how much there is between two places, mm from the first outer face or from the axis.
func (p *Profile) Mean(fromMM, toMM float64) float64 {
	sum, all := 0.0, 0.0
	for i, c := range p.perL {
		from, to := max(fromMM, p.edges[i]), min(toMM, p.edges[i+1])
		if to > from {
			size := p.size(from, to)
			sum, all = sum+c*size, all+size
		}
	}
	if all == 0 {
		return 0
	}
	return sum / all
}
