package mesh

import "math"

// Steps is a bar of steps along x, each so long, all so high along y, and each as thick as it is told, even about z =
// 0.
func Steps(thickMM []float64, longMM, highMM float64) *Mesh {
	m := &Mesh{}
	type key struct{ x, y, z float64 }
	at := map[key]int32{}
	corner := func(x, y, z float64) int32 {
		k := key{x, y, z}
		if _, there := at[k]; !there {
			at[k] = int32(len(m.V))
			m.V = append(m.V, Vec{x, y, z})
		}
		return at[k]
	}
	quad := func(a, b, c, d int32) { m.T = append(m.T, [3]int32{a, b, c}, [3]int32{a, c, d}) }
	high := highMM / 2
	wall := func(x, from, to float64, right bool) { // upright, across x
		a, b, c, d := corner(x, -high, from), corner(x, high, from), corner(x, high, to), corner(x, -high, to)
		if right {
			quad(a, b, c, d)
		} else {
			quad(a, d, c, b)
		}
	}
	for i, mm := range thickMM {
		x0, x1, t := longMM*float64(i), longMM*float64(i+1), mm/2
		quad(corner(x0, -high, t), corner(x1, -high, t), corner(x1, high, t), corner(x0, high, t))
		quad(corner(x0, -high, -t), corner(x0, high, -t), corner(x1, high, -t), corner(x1, -high, -t))
		// The upper and the lower side share every corner that a neighbour has there.
		left, right := []float64{-t, t}, []float64{-t, t}
		if i > 0 && thickMM[i-1] < mm {
			left = []float64{-t, -thickMM[i-1] / 2, thickMM[i-1] / 2, t}
		}
		if i+1 < len(thickMM) && thickMM[i+1] < mm {
			right = []float64{-t, -thickMM[i+1] / 2, thickMM[i+1] / 2, t}
		}
		for _, y := range []float64{-high, high} {
			var ring []int32
			for k := range left {
				ring = append(ring, corner(x0, y, left[len(left)-1-k]))
			}
			for _, z := range right {
				ring = append(ring, corner(x1, y, z))
			}
			hub := corner((x0+x1)/2, y, 0)
			for k, a := range ring {
				b := ring[(k+1)%len(ring)]
				if y < 0 {
					a, b = b, a
				}
				m.T = append(m.T, [3]int32{hub, b, a})
			}
		}
		before, after := 0.0, 0.0
		if i > 0 {
			before = thickMM[i-1] / 2
		}
		if i+1 < len(thickMM) {
			after = thickMM[i+1] / 2
		}
		if before < t { // a riser, its whole where nothing stands before it
			if before == 0 {
				wall(x0, -t, t, false)
			} else {
				wall(x0, before, t, false)
				wall(x0, -t, -before, false)
			}
		}
		if after < t {
			if after == 0 {
				wall(x1, -t, t, true)
			} else {
				wall(x1, after, t, true)
				wall(x1, -t, -after, true)
			}
		}
	}
	return m
}

// Creased is the mesh with a way out of its skin at every corner; where two triangles meet at more than an angle, the
// corner is given twice.
func (m *Mesh) Creased(radians float64) *Mesh {
	faces := make([]Vec, len(m.T))
	around := make([][]int32, len(m.V))
	for i, t := range m.T {
		n := m.V[t[1]].Minus(m.V[t[0]]).Cross(m.V[t[2]].Minus(m.V[t[0]]))
		faces[i] = n
		for _, c := range t {
			around[c] = append(around[c], int32(i))
		}
	}
	least := math.Cos(radians)
	out := &Mesh{T: make([][3]int32, len(m.T))}
	type group struct {
		n  Vec
		id int32
	}
	given := make([][]group, len(m.V))
	for i, t := range m.T {
		own := faces[i].Long()
		for k, c := range t {
			n := faces[i]
			for _, o := range around[c] {
				if o != int32(i) && own > 0 && faces[o].Dot(faces[i]) > least*own*faces[o].Long() {
					n = n.Plus(faces[o])
				}
			}
			if l := n.Long(); l > 0 {
				n = n.Times(1 / l)
			}
			id := int32(-1)
			for _, g := range given[c] {
				if g.n.Dot(n) > 0.999 {
					id = g.id
				}
			}
			if id < 0 {
				id = int32(len(out.V))
				given[c] = append(given[c], group{n, id})
				out.V, out.N = append(out.V, m.V[c]), append(out.N, n)
			}
			out.T[i][k] = id
		}
	}
	return out
}
