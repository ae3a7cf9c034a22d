package mesh

import (
	"cmp"
	"math"
	"slices"
)

// Where two sheets of a body touch along a side, four triangles share it: a claw that lies against the next one, the
// wall of a hollow body that thins to nothing. Inside and outside are still told by the triangles' directions; but
// neighbours can no longer be looked up by a side's two ends.

// part leaves no side to more than two triangles: about each crowded one, those with plastic between them stay
// together, and all pairs but one get a corner of their own in its middle. The surface stays where it is.
// It says how many sides were crowded; false where as many triangles must run one way along a side as the other, and
// don't.
func (m *Mesh) part(beside map[edge][]int32) (crowded int, ok bool) {
	// In the order of the triangles: two runs give the same mesh.
	between := map[int32]*[3]int32{} // a triangle's new corners behind its own ones, from 1
	for i := range m.T {
		for k := range 3 {
			e := sideOf(m.T[i], k)
			around := beside[e]
			if len(around) < 3 || around[0] != int32(i) {
				continue
			}
			crowded++
			pairs := m.pairs(e, around)
			if pairs == nil {
				return crowded, false
			}
			for _, pair := range pairs[1:] {
				m.V = append(m.V, m.V[e.from].Plus(m.V[e.to]).Times(0.5))
				if m.N != nil {
					m.N = append(m.N, unit(m.N[e.from].Plus(m.N[e.to])))
				}
				for _, t := range pair {
					if between[t] == nil {
						between[t] = new([3]int32)
					}
					for s := range 3 {
						if sideOf(m.T[t], s) == e {
							between[t][s] = int32(len(m.V))
						}
					}
				}
			}
		}
	}
	for i := range int32(len(m.T)) {
		if between[i] != nil {
			m.divide(i, *between[i])
		}
	}
	return crowded, true
}

// sideOf is the k-th side of a triangle, its lower corner first.
func sideOf(t [3]int32, k int) edge { return edge{min(t[k], t[(k+1)%3]), max(t[k], t[(k+1)%3])} }

// sides lists the triangles at each side.
func (m *Mesh) sides() map[edge][]int32 {
	beside := make(map[edge][]int32, 3*len(m.T)/2)
	for i, t := range m.T {
		for k := range 3 {
			e := sideOf(t, k)
			beside[e] = append(beside[e], int32(i))
		}
	}
	return beside
}

// open says whether a side has an odd number of triangles, so that one of them has no neighbour.
func open(beside map[edge][]int32) bool {
	for _, all := range beside {
		if len(all)%2 == 1 {
			return true
		}
	}
	return false
}

// pairs are those of the triangles about a side that have plastic between them. Going around it, one that runs against
// the side opens the plastic and one that runs along it ends it, as brackets do. Nil where they don't match.
func (m *Mesh) pairs(e edge, around []int32) (all [][2]int32) {
	type sheet struct {
		t     int32
		opens bool
		angle float64
	}
	along := unit(m.V[e.to].Minus(m.V[e.from]))
	right := unit(along.Cross(Vec{0, 0, 1}))
	if math.Abs(along[2]) > 0.9 {
		right = unit(along.Cross(Vec{1, 0, 0}))
	}
	ahead := along.Cross(right)
	sheets := make([]sheet, len(around))
	for i, t := range around {
		c := m.T[t]
		s := &sheets[i]
		s.t = t
		for k := range 3 {
			if sideOf(c, k) == e {
				s.opens = c[k] != e.from
				to := m.V[c[(k+2)%3]].Minus(m.V[e.from])
				s.angle = math.Atan2(to.Dot(ahead), to.Dot(right))
			}
		}
	}
	slices.SortStableFunc(sheets, func(a, b sheet) int { return cmp.Compare(a.angle, b.angle) })
	depth, least, first := 0, 0, 0
	for i, s := range sheets {
		if depth--; s.opens {
			depth += 2
		}
		if depth < least {
			least, first = depth, i+1
		}
	}
	if depth != 0 {
		return nil
	}
	var opened []int32
	for i := range sheets {
		if s := sheets[(first+i)%len(sheets)]; s.opens {
			opened = append(opened, s.t)
		} else {
			all = append(all, [2]int32{opened[len(opened)-1], s.t})
			opened = opened[:len(opened)-1]
		}
	}
	return all
}

// divide makes triangles of one that has got corners in the middle of its sides, about a corner in its own middle.
func (m *Mesh) divide(i int32, between [3]int32) {
	var ring []int32
	t := m.T[i]
	hub := int32(len(m.V))
	middle := m.V[t[0]].Plus(m.V[t[1]]).Plus(m.V[t[2]]).Times(1.0 / 3)
	m.V = append(m.V, middle)
	if m.N != nil {
		m.N = append(m.N, unit(m.N[t[0]].Plus(m.N[t[1]]).Plus(m.N[t[2]])))
	}
	for k := range 3 {
		if ring = append(ring, t[k]); between[k] > 0 {
			ring = append(ring, between[k]-1)
		}
	}
	m.T[i] = [3]int32{ring[0], ring[1], hub}
	for k := 1; k < len(ring); k++ {
		m.T = append(m.T, [3]int32{ring[k], ring[(k+1)%len(ring)], hub})
	}
}
