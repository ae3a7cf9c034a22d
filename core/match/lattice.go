package match

import (
	"cmp"
	"math"
	"slices"
)

// beside are the doses that can be measured on either side of one, in steps: the nearer first, then outwards. next
// gives one more each time, until there is none.
type beside struct {
	b      *bottle
	x      float64
	lo, hi int // of the next to the one side and to the other
}

func (b *bottle) beside(x float64) beside {
	n := beside{b: b, x: x}
	if b.spots == nil {
		n.lo = int(math.Floor(x))
	} else {
		at, _ := slices.BinarySearch(b.spots, x)
		n.lo = at - 1
		if at < len(b.spots) && b.spots[at] == x {
			n.lo = at
		}
	}
	n.hi = n.lo + 1
	return n
}

func (n *beside) at(i int) (float64, bool) {
	switch {
	case i < 0:
		return 0, false
	case n.b.spots == nil:
		return float64(i), float64(i) <= n.b.most
	case i >= len(n.b.spots):
		return 0, false
	}
	return n.b.spots[i], true
}

func (n *beside) next() (float64, bool) {
	lower, low := n.at(n.lo)
	upper, high := n.at(n.hi)
	if low && (!high || n.x-lower <= upper-n.x) {
		n.lo--
		return lower, true
	}
	n.hi++
	return upper, high
}

// rounder brings a set to doses that can be measured.
//
// About the unrounded doses the residuals are taken as straight, r + J·(x−x₀), with J = Q·R and the columns in
// such an order that the most sensitive bottle is decided first. Each decision moves what is best for those that
// follow, so that a drop too much of black is made up for by less brown. The tree is walked depth first, nearer doses
// first; a branch ends where it is worse than what is kept. What remains is worked out in full.
type rounder struct {
	p     *problem
	n     int
	set   [MostBottles]int
	x0    [MostBottles]float64
	r     [MostBottles][MostBottles]float64 // upper triangle; row n−1 is decided first
	x     [MostBottles]float64
	most  int
	limit float64
	found []leaf // ascending
}

type leaf struct {
	x    [MostBottles]float64
	cost float64
}

// leaves is how many roundings of a set are worked out in full.
const leaves = 4

// roundOf gives the measurable doses nearest to a set's own in look.
func (s *solver) roundOf(f *found) []found {
	n, rows := f.n, 3*len(s.p.sights)
	set := f.bottles()
	s.offsets = f.glow
	defer func() { s.offsets = nil }()
	jac := s.slopes(set, f.x[:n])
	r := &s.round
	*r = rounder{p: s.p, n: n, most: leaves, limit: math.Inf(1), found: r.found[:0]}
	// The least sensitive in column 0, beside what the others can make up for: chosen from the last column backwards.
	var order [MostBottles]int
	for j := range n {
		order[j] = j
	}
	felt := func(j int) (sum float64) {
		for _, d := range jac[j][:rows] {
			sum += d * d
		}
		return sum
	}
	slices.SortFunc(order[:n], func(a, b int) int { return cmp.Compare(felt(a), felt(b)) })
	var q [MostBottles][mostRows]float64
	for k := range n {
		j := order[k]
		r.set[k], r.x0[k] = set[j], f.x[j]
		copy(q[k][:rows], jac[j][:rows])
		for i := range k {
			dot := 0.0
			for b := range rows {
				dot += q[i][b] * q[k][b]
			}
			r.r[i][k] = dot
			for b := range rows {
				q[k][b] -= dot * q[i][b]
			}
		}
		size := 0.0
		for _, d := range q[k][:rows] {
			size += d * d
		}
		r.r[k][k] = math.Sqrt(max(size, 1e-12))
		for b := range rows {
			q[k][b] /= r.r[k][k]
		}
	}
	r.walk(n-1, 0)
	out := make([]found, 0, len(r.found))
	for _, l := range r.found {
		g := sorted(r.set[:n], l.x[:n], 0)
		if g.n > 0 {
			g.glow = f.glow
			g.cost = s.cost(g.bottles(), g.x[:g.n])
			out = append(out, g)
		}
	}
	slices.SortFunc(out, byCost)
	return out
}

// walk decides on dose k, then on those before it.
func (r *rounder) walk(k int, cost float64) {
	if k < 0 {
		at, _ := slices.BinarySearchFunc(r.found, cost, func(l leaf, c float64) int { return cmp.Compare(l.cost, c) })
		r.found = slices.Insert(r.found, at, leaf{r.x, cost})
		if len(r.found) > r.most {
			r.found = r.found[:r.most]
		}
		if len(r.found) == r.most {
			r.limit = r.found[r.most-1].cost
		}
		return
	}
	// Where this dose is best, given those that are decided.
	want := r.x0[k]
	for j := k + 1; j < r.n; j++ {
		want -= r.r[k][j] / r.r[k][k] * (r.x[j] - r.x0[j])
	}
	b := &r.p.bottles[r.set[k]]
	beside := b.beside(max(0, min(want, b.most))) // else there is nothing on the one side, and it would end there
	for range 4 {
		x, ok := beside.next()
		if !ok {
			return
		}
		off := r.r[k][k] * (x - want)
		c := cost + off*off
		if c >= r.limit {
			return
		}
		r.x[k] = x
		r.walk(k-1, c)
	}
}
