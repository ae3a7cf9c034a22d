package mesh

import (
	"math"
	"slices"
	"strings"

	"cloudburst/core/measure"
)

// What is mended at most: holes with so many sides in all, each no longer than a share of the whole.
const (
	mostHoles     = 64
	mostHoleSides = 400
	largestHole   = 0.2
	weldWithin    = 2e-6 // of the size: corners that files write twice
)

// weld makes one corner of those that lie at the same place, or within a step of a grid, and drops triangles without an
// area.
func (m *Mesh) weld(step float64) {
	from, _ := m.Bounds()
	type cell [3]uint64
	at := make(map[cell]int32, len(m.V)/2)
	place := make([]int32, len(m.V))
	var kept []Vec
	for i, v := range m.V {
		var c cell
		for k := range 3 {
			if by := v[k] - from[k]; step > 0 {
				c[k] = uint64(math.Round(by / step))
			} else {
				c[k] = math.Float64bits(by)
			}
		}
		n, there := at[c]
		if !there {
			n = int32(len(kept))
			at[c] = n
			kept = append(kept, v)
		}
		place[i] = n
	}
	tris := m.T[:0]
	for _, t := range m.T {
		a, b, c := place[t[0]], place[t[1]], place[t[2]]
		if a != b && b != c && c != a {
			tris = append(tris, [3]int32{a, b, c})
		}
	}
	m.V, m.T = kept, tris
}

// Mend turns triangles that look the wrong way, and closes small holes. It says what it did; an error where no inside
// comes of it.
func (m *Mesh) Mend() (did []string, err error) {
	m.weld(0)
	beside := m.sides()
	if open(beside) { // else it is as whoever drew it meant it, however fine
		from, to := m.Bounds()
		m.weld(weldWithin * math.Max(to.Minus(from).Long(), 1e-9))
		beside = m.sides()
	}
	if len(m.T) < 4 {
		return nil, measure.Faulty("file", "this file has no body in it: fewer than four triangles are left")
	}
	touching, ok := m.part(beside)
	if !ok {
		return did, measure.Faulty(
			"file",
			"three sheets or more meet in one edge here, so that nobody can tell inside from outside; join the bodies in the program that drew them, and save it again",
		)
	}
	if touching > 0 {
		beside = m.sides()
		did = append(did, "parted sheets that touch in "+measure.Plural(float64(touching), "edge"))
	}
	if turned := m.orient(beside); turned > 0 {
		did = append(did, "turned "+measure.Plural(float64(turned), "triangle")+" that looked inwards")
	}
	holes, err := m.close()
	if err != nil {
		return did, err
	}
	if holes > 0 {
		did = append(did, "closed "+measure.Plural(float64(holes), "small hole"))
	}
	if !m.Closed() {
		return did, measure.Faulty(
			"file",
			"this body is not closed, so that it has no volume; close it in the program that drew it, and save it again",
		)
	}
	if m.VolumeML() < 0 {
		for i := range m.T {
			m.T[i][1], m.T[i][2] = m.T[i][2], m.T[i][1]
		}
		did = append(did, "turned the whole body, which was inside out")
	}
	return did, nil
}

// orient makes neighbours run against each other, sheet by sheet, so that fewer triangles are turned than stay.
func (m *Mesh) orient(beside map[edge][]int32) (turned int) {
	runs := func(i int32, e edge) bool { // from e's lower corner to its higher
		t := m.T[i]
		return t[0] == e.from && t[1] == e.to || t[1] == e.from && t[2] == e.to || t[2] == e.from && t[0] == e.to
	}
	state := make([]int8, len(m.T)) // 1 as it is, -1 turned
	for start := range m.T {
		if state[start] != 0 {
			continue
		}
		state[start] = 1
		sheet := []int32{int32(start)}
		for k := 0; k < len(sheet); k++ {
			i := sheet[k]
			t := m.T[i]
			for s := range 3 {
				e := sideOf(t, s)
				for _, o := range beside[e] {
					if o == i || state[o] != 0 {
						continue
					}
					state[o] = state[i]
					if runs(i, e) == runs(o, e) { // both the same way: one of them is turned
						state[o] = -state[i]
					}
					sheet = append(sheet, o)
				}
			}
		}
		wrong := 0
		for _, i := range sheet {
			if state[i] < 0 {
				wrong++
			}
		}
		flip := int8(-1)
		if 2*wrong > len(sheet) {
			flip = 1
		}
		for _, i := range sheet {
			if state[i] == flip {
				m.T[i][1], m.T[i][2] = m.T[i][2], m.T[i][1]
				turned++
			}
		}
	}
	return turned
}

// close lays a fan of triangles into each small hole.
func (m *Mesh) close() (holes int, err error) {
	all := m.edges()
	next := map[int32]int32{} // along the open side, against the triangles
	for e := range all {
		if all[edge{e.to, e.from}] == 0 {
			if _, twice := next[e.to]; twice {
				return 0, measure.Faulty(
					"file",
					"this body is open where two holes touch; close it in the program that drew it, and save it again",
				)
			}
			next[e.to] = e.from
		}
	}
	var starts []int32
	for v := range next {
		starts = append(starts, v)
	}
	slices.Sort(starts) // two runs give the same mesh
	from, to := m.Bounds()
	most := largestHole * to.Minus(from).Long()
	seen := map[int32]bool{}
	for _, v := range starts {
		if seen[v] {
			continue
		}
		var ring []int32
		for at := v; !seen[at]; at = next[at] {
			seen[at] = true
			ring = append(ring, at)
			if _, on := next[at]; !on || len(ring) > mostHoleSides {
				return 0, measure.Faulty(
					"file",
					"this body has a hole that is too large to be closed here; close it in the program that drew it, and save it again",
				)
			}
		}
		if holes++; holes > mostHoles {
			return 0, measure.Faulty(
				"file", "this body has more than %d holes; close them in the program that drew it, and save it again",
				mostHoles,
			)
		}
		low, high := m.V[ring[0]], m.V[ring[0]]
		middle := Vec{}
		for _, i := range ring {
			low, high = low.each(m.V[i], math.Min), high.each(m.V[i], math.Max)
			middle = middle.Plus(m.V[i].Times(1 / float64(len(ring))))
		}
		if high.Minus(low).Long() > most {
			return 0, measure.Faulty(
				"file",
				"this body is open: one hole is %s mm across; close it in the program that drew it, and save it again",
				measure.Number(high.Minus(low).Long(), 0),
			)
		}
		if len(ring) == 3 {
			m.T = append(m.T, [3]int32{ring[0], ring[1], ring[2]})
			continue
		}
		hub := int32(len(m.V))
		m.V = append(m.V, middle)
		for i := range ring {
			m.T = append(m.T, [3]int32{ring[i], ring[(i+1)%len(ring)], hub})
		}
	}
	return holes, nil
}

// says joins what was done.
func says(did []string) string {
	if len(did) == 0 {
		return ""
	}
	s := strings.Join(did, "; ")
	return strings.ToUpper(s[:1]) + s[1:] + "."
}
