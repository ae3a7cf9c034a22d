package fit

import "math"

// Model is what is fitted.
type Model interface {
	// Look fills in the residuals r at x, and into by, where it is not nil, how each of them changes by each parameter:
	// by[j][k] is residual k's change by x[j]. False where x can't be.
	Look(x, r []float64, by [][]float64) bool
}

// Least looks for the parameters with the least sum of squared residuals. It holds what it works with, so that a second
// search allocates nothing; one goroutine has it at a time.
type Least struct {
	Rounds int     // steps at most; 0 is 60
	Gain   float64 // share of the sum that a step must take off for another to follow
	Enough float64 // a sum below which nothing more is done
	Held   int     // the first so many parameters stay as they are

	// Of each parameter. Doses, and whatever else can't be below nothing, are moved as logarithms of themselves plus
	// Even, up to Most: what a dose does goes about with its logarithm, and evenly near nothing. Without Even a
	// parameter is free.
	Even, Most []float64

	at, try state
	a, l    [][]float64
	g, step []float64
	free    []int
}

type state struct {
	x, r []float64
	by   [][]float64
	sum  float64
}

// Steps are damped less after one that helped, and more after one that did not; a logarithm is moved by mostTurn at
// most.
const (
	firstDamp, leastDamp = 1e-3, 1e-9
	less, more           = 6, 8
	tries                = 5
	mostTurn             = 1.5
	still                = 1e-5 // a step that is none
)

// Find moves x to where the residuals, so many of them, are least, and gives their sum of squares; infinite where x
// can't be.
func (s *Least) Find(m Model, x []float64, residuals int) float64 {
	n := len(x)
	s.make(n, residuals)
	at, try := &s.at, &s.try
	copy(at.x, x)
	if !look(m, at) {
		return math.Inf(1)
	}
	damp := firstDamp
	rounds := s.Rounds
	if rounds == 0 {
		rounds = 60
	}
	for range rounds {
		if at.sum < s.Enough || s.normal(at) == 0 {
			break
		}
		better := false
		for range tries {
			if !s.move(at, try, damp) {
				break
			}
			if look(m, try) && try.sum < at.sum {
				better = at.sum-try.sum > s.Gain*at.sum
				at, try = try, at
				damp = max(damp/less, leastDamp)
				break
			}
			damp *= more
		}
		if !better {
			break
		}
	}
	copy(x, at.x)
	return at.sum
}

// Look gives the residuals at x, and how they change by each parameter, until the next search.
func (s *Least) Look(m Model, x []float64, residuals int) (r []float64, by [][]float64) {
	s.make(len(x), residuals)
	copy(s.at.x, x)
	look(m, &s.at)
	return s.at.r, s.at.by
}

func (s *Least) make(n, residuals int) {
	if cap(s.free) < n || cap(s.at.r) < residuals {
		n, residuals := max(n, cap(s.free)), max(residuals, cap(s.at.r))
		for _, st := range []*state{&s.at, &s.try} {
			*st = state{x: make([]float64, n), r: make([]float64, residuals), by: square(n, residuals)}
		}
		s.a, s.l = square(n, n), square(n, n)
		s.g, s.step, s.free = make([]float64, n), make([]float64, n), make([]int, n)
	}
	for _, st := range []*state{&s.at, &s.try} {
		st.x, st.r, st.by = st.x[:n], st.r[:residuals], st.by[:n]
		for j := range st.by {
			st.by[j] = st.by[j][:residuals]
		}
	}
}

func square(n, m int) [][]float64 {
	out, all := make([][]float64, n), make([]float64, n*m)
	for i := range out {
		out[i] = all[i*m : (i+1)*m : (i+1)*m]
	}
	return out
}

func look(m Model, st *state) bool {
	st.sum = 0
	ok := m.Look(st.x, st.r, st.by)
	for _, v := range st.r {
		st.sum += v * v
	}
	return ok && !math.IsNaN(st.sum)
}

// scale is how much a step of one moves a parameter.
func (s *Least) scale(j int, x float64) float64 {
	if s.Even == nil {
		return 1
	}
	return x + s.Even[j]
}

// normal sets up the normal equations of the parameters that are not held and do not stand at a bound that they would
// leave.
func (s *Least) normal(at *state) int {
	s.free = s.free[:0]
	g := s.g[:0]
	for j := s.Held; j < len(at.x); j++ {
		slope := 0.0
		by := at.by[j]
		for k, r := range at.r {
			slope += by[k] * r
		}
		if s.Even != nil && ((at.x[j] <= 0 && slope >= 0) || (at.x[j] >= s.Most[j] && slope <= 0)) {
			continue
		}
		s.free = append(s.free, j)
		g = append(g, slope*s.scale(j, at.x[j]))
	}
	for i, p := range s.free {
		for j, q := range s.free[:i+1] {
			sum := 0.0
			u, v := at.by[p], at.by[q][:len(at.by[p])]
			for k := range u {
				sum += u[k] * v[k]
			}
			s.a[i][j] = sum * s.scale(p, at.x[p]) * s.scale(q, at.x[q])
		}
	}
	return len(s.free)
}

// move takes a damped step; false where it would be none.
func (s *Least) move(at, try *state, damp float64) bool {
	step := s.step[:len(s.free)]
	for i := range step {
		copy(s.l[i][:i+1], s.a[i][:i+1])
		s.l[i][i] += damp*s.a[i][i] + 1e-9
		step[i] = -s.g[i]
	}
	cholesky(s.l, step)
	copy(try.x, at.x)
	moved := 0.0
	for i, j := range s.free {
		if s.Even == nil {
			try.x[j] += step[i]
			moved = max(moved, math.Abs(step[i]))
			continue
		}
		scale := s.scale(j, at.x[j])
		try.x[j] = max(0, min(s.Most[j], scale*math.Exp(max(-mostTurn, min(mostTurn, step[i])))-s.Even[j]))
		moved = max(moved, math.Abs(try.x[j]-at.x[j])/scale)
	}
	return moved >= still
}

// cholesky solves a·x = b in place for a symmetric positive matrix whose lower triangle is given.
func cholesky(a [][]float64, b []float64) {
	for i := range b {
		row := a[i]
		for j := range i + 1 {
			sum := row[j]
			for k := range j {
				sum -= row[k] * a[j][k]
			}
			if i == j {
				row[i] = math.Sqrt(max(sum, 1e-300))
			} else {
				row[j] = sum / a[j][j]
			}
		}
		for k := range i {
			b[i] -= row[k] * b[k]
		}
		b[i] /= row[i]
	}
	for i := len(b) - 1; i >= 0; i-- {
		for k := i + 1; k < len(b); k++ {
			b[i] -= a[k][i] * b[k]
		}
		b[i] /= a[i][i]
	}
}

// Differences is a model of which only the residuals are known: how they change is found by steps.
type Differences struct {
	Residuals func(x, r []float64) bool
	Step      func(j int, x float64) float64
}

// Look is Model's.
func (d Differences) Look(x, r []float64, by [][]float64) bool {
	if !d.Residuals(x, r) {
		return false
	}
	for j := range by {
		was, h := x[j], d.Step(j, x[j])
		x[j] = was + h
		ok := d.Residuals(x, by[j])
		x[j] = was
		if !ok {
			return false
		}
		for k := range by[j] {
			by[j][k] = (by[j][k] - r[k]) / h
		}
	}
	return true
}
