package mesh

import (
	"cmp"
	"context"
	"math"
	"slices"

	"cloudburst/core/cores"
)

// Field gives how far a place lies outside of a body, mm; below 0 inside. It may be wrong by a factor far from the surface, but never say more
// than the distance is.
type Field func(p Vec) float64

// blockCells are the cells of a block's side: blocks that lie wholly on one side are passed over.
const blockCells = 16

// block is where one lies on the grid, in blocks.
type block [3]int

// Over lays a mesh over a field within a box, by surface nets on a grid of so many mm: a corner in every cell that the surface goes through,
// a face across every side of the grid that it cuts. It is closed where the surface keeps a cell away from the box's sides. Two runs give
// the same mesh.
func Over(ctx context.Context, f Field, from, to Vec, step float64) (*Mesh, error) {
	var count block
	for k := range 3 {
		count[k] = int(math.Ceil((to[k] - from[k]) / step / blockCells))
	}
	var all []block
	reach := step * blockCells * math.Sqrt(3) / 2
	for z := range count[2] {
		for y := range count[1] {
			for x := range count[0] {
				middle := Vec{float64(x) + 0.5, float64(y) + 0.5, float64(z) + 0.5}.Times(step * blockCells).Plus(from)
				if math.Abs(f(middle)) <= reach+2*step {
					all = append(all, block{x, y, z})
				}
			}
		}
	}
	nets := make([]net, len(all))
	if err := cores.Each(ctx, len(all), func(i int) error {
		nets[i] = netOf(f, from, step, all[i])
		return nil
	}); err != nil {
		return nil, err
	}
	m := &Mesh{}
	at := map[[3]int32]int32{} // corners by their cell
	for i := range nets {
		for k, cell := range nets[i].cells {
			at[cell] = int32(len(m.V))
			m.V = append(m.V, nets[i].corners[k])
		}
	}
	for i := range nets {
		for _, q := range nets[i].faces {
			var c [4]int32
			for k, cell := range q {
				c[k] = at[cell]
			}
			m.T = append(m.T, [3]int32{c[0], c[1], c[2]}, [3]int32{c[0], c[2], c[3]})
		}
	}
	return m, nil
}

// net is a block's part of a mesh.
type net struct {
	cells   [][3]int32
	corners []Vec
	faces   [][4][3]int32
}

func netOf(f Field, from Vec, step float64, b block) (out net) {
	const n = blockCells + 1 // grid points of a side
	var d [n * n * n]float64
	place := func(x, y, z int) Vec {
		return Vec{float64(b[0]*blockCells + x), float64(b[1]*blockCells + y), float64(b[2]*blockCells + z)}.Times(step).Plus(from)
	}
	at := func(x, y, z int) float64 { return d[(z*n+y)*n+x] }
	for z := range n {
		for y := range n {
			for x := range n {
				d[(z*n+y)*n+x] = f(place(x, y, z))
			}
		}
	}
	cell := func(x, y, z int) [3]int32 {
		return [3]int32{int32(b[0]*blockCells + x), int32(b[1]*blockCells + y), int32(b[2]*blockCells + z)}
	}
	for z := range blockCells {
		for y := range blockCells {
			for x := range blockCells {
				sum, cuts := Vec{}, 0.0
				for axis := range 3 {
					u, v := (axis+1)%3, (axis+2)%3
					for k := range 4 { // the four sides of the cell along an axis
						p := [3]int{x, y, z}
						p[u] += k & 1
						p[v] += k >> 1
						q := p
						q[axis]++
						a, c := at(p[0], p[1], p[2]), at(q[0], q[1], q[2])
						if (a < 0) == (c < 0) {
							continue
						}
						cut := place(p[0], p[1], p[2])
						cut[axis] += step * a / (a - c)
						sum, cuts = sum.Plus(cut), cuts+1
						if p[u] > [3]int{x, y, z}[u] || p[v] > [3]int{x, y, z}[v] {
							continue
						}
						// The side at the cell's own corner gives the face between the four cells about it.
						var face [4][3]int32
						for i, o := range [4][2]int{{-1, -1}, {0, -1}, {0, 0}, {-1, 0}} {
							s := [3]int{x, y, z}
							s[u] += o[0]
							s[v] += o[1]
							face[i] = cell(s[0], s[1], s[2])
						}
						if a >= 0 { // seen from outside against the clock
							face[1], face[3] = face[3], face[1]
						}
						out.faces = append(out.faces, face)
					}
				}
				if cuts > 0 {
					out.cells, out.corners = append(out.cells, cell(x, y, z)), append(out.corners, settle(f, sum.Times(1/cuts), step))
				}
			}
		}
	}
	slices.SortStableFunc(out.faces, func(a, b [4][3]int32) int { return cmp.Compare(a[0][0], b[0][0]) })
	return out
}

// settle takes a corner onto the surface by one of Newton's steps, no further than half of a cell.
func settle(f Field, p Vec, step float64) Vec {
	h := step / 8
	var g Vec
	for k := range 3 {
		q := p
		q[k] += h
		r := p
		r[k] -= h
		g[k] = (f(q) - f(r)) / (2 * h)
	}
	size := g.Dot(g)
	if size < 1e-9 {
		return p
	}
	by := g.Times(-f(p) / size)
	if l := by.Long(); l > step/2 {
		by = by.Times(step / 2 / l)
	}
	return p.Plus(by)
}
