package match

import (
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/fit"
)

// mostRows is the most residuals.
const mostRows = 3 * (MaxReadings + 1)

// solver finds doses. It holds what it works with, so that nothing is allocated on the way; one goroutine has it at a
// time.
type solver struct {
	p *problem
	// by sight: what the plain model leaves out (glow, glints) at the last exact look; nil for nothing
	offsets    []colour.Lab
	mixes      []Coefficients
	parts      []*Coefficients
	grads      []Gradient
	mirrors    []Mirror   // of the doses that were prepared, those of the cup last
	byShine    []Gradient // of each of them
	of         []int      // which of the set each mirror belongs to, -1 for the cup's own
	least      fit.Least
	even, most []float64           // of each of the set, for it
	set        []int               // what Look looks at
	doses      []float64           // of every bottle, and
	cols       [][mostRows]float64 // what each does, when newcomers are rated
	round      rounder
}

func (p *problem) solver() *solver {
	most := len(p.bottles) + 1
	return &solver{
		p: p, mixes: make([]Coefficients, len(p.lenses)), parts: make([]*Coefficients, 0, most),
		grads:   make([]Gradient, most),
		byShine: make([]Gradient, most+len(p.strengths)), least: fit.Least{Gain: 1e-3, Enough: 1e-7},
	}
}

// mix works out the coefficients of doses in a lens, and by how much they made the cup larger.
func (s *solver) mix(l int, set []int, x []float64) (*Coefficients, float64) {
	lens, m := &s.p.lenses[l], &s.mixes[l]
	bands := min(s.p.bands, colour.Bands)
	copy(m.K[:bands], lens.base.K[:])
	copy(m.S[:bands], lens.base.S[:])
	more := 1.0
	for j, i := range set {
		n := x[j]
		if n == 0 {
			continue
		}
		more += n * s.p.bottles[i].share
		per := &lens.per[i]
		for b := range bands {
			m.K[b] += n * per.K[b]
			m.S[b] += n * per.S[b]
		}
	}
	shrink := 1 / more
	for b := range bands {
		m.K[b] *= shrink
		m.S[b] *= shrink
	}
	return m, more
}

// residual puts a sight's three residuals into r.
func (s *solver) residual(i int, lab colour.Lab, r []float64) {
	c := &s.p.sights[i]
	d0, d1, d2 := lab.L-c.lab.L, lab.A-c.lab.A, lab.B-c.lab.B
	if s.offsets != nil {
		d0, d1, d2 = d0+s.offsets[i].L, d1+s.offsets[i].A, d2+s.offsets[i].B
	}
	c.form.Of(d0, d1, d2, r)
}

// weigh brings a gradient onto the scale of the residuals.
func (c *sight) weigh(g *Gradient, out []float64) {
	c.form.Of(g[0], g[1], g[2], out)
}

// cost of doses, without a slope.
func (s *solver) cost(set []int, x []float64) float64 {
	s.prepare(set, x)
	sum := 0.0
	var r [3]float64
	for i := range s.p.sights {
		c := &s.p.sights[i]
		s.shine(c, set)
		s.residual(i, c.view.Lab(&s.mixes[c.lens], s.mirrors), r[:])
		sum += r[0]*r[0] + r[1]*r[1] + r[2]*r[2]
	}
	return sum
}

// prepare mixes the doses, and lists their mirrors.
func (s *solver) prepare(set []int, x []float64) (more float64) {
	for l := range s.p.lenses {
		_, more = s.mix(l, set, x)
	}
	s.mirrors, s.of = s.mirrors[:0], s.of[:0]
	for j, i := range set {
		if b := &s.p.bottles[i]; b.strength > 0 {
			s.mirrors = append(s.mirrors, Mirror{Strength: b.strength * x[j] / more})
			s.of = append(s.of, j)
		}
	}
	for _, own := range s.p.strengths {
		s.mirrors = append(s.mirrors, Mirror{Strength: own / more})
		s.of = append(s.of, -1)
	}
	return more
}

// shine gives the mirrors their sheen in a sight.
func (s *solver) shine(c *sight, set []int) {
	for m, j := range s.of {
		if j >= 0 {
			s.mirrors[m].Sheen = c.sheens[set[j]]
		} else {
			s.mirrors[m].Sheen = c.ownSheens[m-(len(s.of)-len(c.ownSheens))]
		}
	}
}

// slope fills in how a sight's colour changes by each of the set, as it stands in s.mixes; the last of grads is the
// mix's own.
func (s *solver) slope(c *sight, set []int, more float64) colour.Lab {
	per, mix := s.p.lenses[c.lens].per, &s.mixes[c.lens]
	s.parts = s.parts[:0]
	for _, j := range set {
		s.parts = append(s.parts, &per[j])
	}
	s.parts = append(s.parts, mix)
	s.shine(c, set)
	lab := c.view.Slope(mix, s.parts, s.grads, s.mirrors, s.byShine)
	own := &s.grads[len(set)]
	for m, j := range s.of {
		by := &s.byShine[m]
		for k := range by {
			own[k] += s.mirrors[m].Strength * by[k]
			if j >= 0 {
				s.grads[j][k] += s.p.bottles[set[j]].strength * by[k]
			}
		}
	}
	for j, b := range set {
		share := s.p.bottles[b].share
		for k := range own {
			s.grads[j][k] = (s.grads[j][k] - share*own[k]) / more
		}
	}
	return lab
}

// Look fills in the residuals of doses of the set and how they change, as fit wants it.
func (s *solver) Look(x, r []float64, by [][]float64) bool {
	more := s.prepare(s.set, x)
	for i := range s.p.sights {
		c := &s.p.sights[i]
		s.residual(i, s.slope(c, s.set, more), r[3*i:3*i+3])
		for j := range s.set {
			c.weigh(&s.grads[j], by[j][3*i:3*i+3])
		}
	}
	return true
}

// The doses are moved on a scale of proportions that turns even near nothing.
const evenBelow = 0.5 // steps

// solve moves the doses from x until the residuals are least, none below nothing or above its most. held doses, the
// first of the set, stay as they are. x is overwritten.
func (s *solver) solve(set []int, x []float64, held, rounds int) float64 {
	s.set, s.even, s.most = set, s.even[:0], s.most[:0]
	for _, b := range set {
		s.even, s.most = append(s.even, evenBelow), append(s.most, s.p.bottles[b].most)
	}
	s.least.Held, s.least.Rounds, s.least.Even, s.least.Most = held, rounds, s.even, s.most
	return s.least.Find(s, x, 3*len(s.p.sights))
}

// slopes gives how the residuals change by each dose of a set, until the next search.
func (s *solver) slopes(set []int, x []float64) [][]float64 {
	s.set = set
	_, by := s.least.Look(s, x, 3*len(s.p.sights))
	return by
}

// newcomer is a bottle that would lessen the residuals of a set, and about how much of it.
type newcomer struct {
	bottle int
	gain   float64
	steps  float64
}

// newcomers rates every bottle outside a set by what it would take off the residuals if the doses of the set followed.
// Those that would not, as it stands, have a gain below nothing.
func (s *solver) newcomers(set []int, x []float64) []newcomer {
	n, rows := len(set), 3*len(s.p.sights)
	all := s.p.all
	if s.doses == nil {
		s.doses, s.cols = make([]float64, len(all)), make([][mostRows]float64, len(all))
	}
	doses, cols := s.doses, s.cols
	clear(doses)
	for j, i := range set {
		doses[i] = x[j]
	}
	more := s.prepare(all, doses)
	var r [mostRows]float64
	for i := range s.p.sights {
		c := &s.p.sights[i]
		s.residual(i, s.slope(c, all, more), r[3*i:3*i+3])
		for j := range all {
			c.weigh(&s.grads[j], cols[j][3*i:3*i+3])
		}
	}
	// The set's own directions, made square to each other; what is left of a newcomer beside them is what it brings.
	var own [MostBottles][]float64
	m := 0
	for j := range n {
		v := cols[set[j]][:rows]
		for k := range m {
			along(v, own[k], v)
		}
		size := 0.0
		for _, d := range v {
			size += d * d
		}
		if size < 1e-12 || x[j] == 0 {
			continue
		}
		size = 1 / math.Sqrt(size)
		for k := range v {
			v[k] *= size
		}
		own[m] = v
		m++
	}
	rest := r[:rows]
	for k := range m {
		along(rest, own[k], rest)
	}
	var out []newcomer
next:
	for j := range cols {
		for _, i := range set {
			if i == j {
				continue next
			}
		}
		v := cols[j][:rows]
		for k := range m {
			along(v, own[k], v)
		}
		dot, size := 0.0, 1e-12
		for k, d := range v {
			dot += d * rest[k]
			size += d * d
		}
		if dot >= 0 { // it would have to be taken out; with less of the others it may still help
			out = append(out, newcomer{j, -dot, s.p.bottles[j].usual / 3})
			continue
		}
		steps := min(-dot/size, s.p.bottles[j].most)
		out = append(out, newcomer{j, -steps * (2*dot + steps*size), steps})
	}
	return out
}

// along takes from v its part along a unit vector.
func along(v, unit, out []float64) {
	dot := 0.0
	for k, d := range unit {
		dot += d * v[k]
	}
	for k, d := range unit {
		out[k] = v[k] - dot*d
	}
}
