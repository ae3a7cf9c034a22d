package mesh

import (
	"cmp"
	"context"
	"math"
	"slices"

	"cloudburst/core/cores"
)

// Field gives how far a place lies outside of a body, mm; below 0 inside. It may be wrong by a factor far from the
// surface, but never say more than the distance is.
type Field func(p Vec) float64

// Solid is a body given by its field.
type Solid interface {
	// Field is the distance to its surface.
	Field(p Vec) float64
	// Near is a field with the same surface within a box, which may be sooner worked out; what it says elsewhere does
	// not matter.
	Near(from, to Vec) Field
}

// Field is a solid itself.
func (f Field) Field(p Vec) float64 { return f(p) }

// Near is the whole field.
func (f Field) Near(Vec, Vec) Field { return f }

// blockCells are the cells of a block's side: blocks that lie wholly on one side are passed over.
const blockCells = 16

// block is where one lies on the grid, in blocks.
type block [3]int

// Over lays a mesh over a field within a box, by surface nets on a grid of so many mm: a corner in every cell that the
// surface goes through, a face across every side of the grid that it cuts. It is closed where the surface keeps a cell
// away from the box's sides. Two runs give the same mesh.
func Over(ctx context.Context, body Solid, from, to Vec, step float64) (*Mesh, error) {
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
				if math.Abs(body.Field(middle)) <= reach+2*step {
					all = append(all, block{x, y, z})
				}
			}
		}
	}
	listed := map[block]bool{}
	for _, b := range all {
		listed[b] = true
	}
	// Where the surface leaves a block, the next one is asked, too: a field that says too much may have hidden it.
	nets := make([]net, 0, len(all))
	for len(nets) < len(all) {
		done := len(nets)
		nets = append(nets, make([]net, len(all)-done)...)
		if err := cores.Each(ctx, len(nets)-done, func(i int) error {
			nets[done+i] = netOf(body, from, step, all[done+i])
			return nil
		}); err != nil {
			return nil, err
		}
		for i := done; i < len(nets); i++ {
			for side, leaves := range nets[i].leaves {
				next := all[i]
				next[side/2] += 2*(side%2) - 1
				if leaves && !listed[next] && next[side/2] >= 0 && next[side/2] < count[side/2] {
					listed[next] = true
					all = append(all, next)
				}
			}
		}
	}
	m := &Mesh{}
	at := map[[3]int32]int32{} // corners by their cell
	for i := range nets {
		for k, cell := range nets[i].cells {
			at[cell] = int32(len(m.V))
			m.V, m.N = append(m.V, nets[i].corners[k]), append(m.N, nets[i].outs[k])
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
	outs    []Vec // which way the surface looks there
	faces   [][4][3]int32
	leaves  [6]bool // through which of its sides the surface goes: low and high of each axis
}

// skippedBlock is one of some cells' side that lies wholly on one side.
type skippedBlock struct {
	at     [3]int
	cells  int
	middle float64
}

// Grid points of a block's side, and all of them.
const (
	blockPoints = blockCells + 1
	allPoints   = blockPoints * blockPoints * blockPoints
)

// sampled asks a field for the points of a block's grid. Small blocks of it that lie wholly on one side take the
// distance of their middle; it is asked generously, since a field may say too much. What is left is asked once more in
// blocks of half the size, whose middles are points of the grid.
func sampled(f Field, place func(x, y, z int) Vec, step float64) (d [allPoints]float64) {
	const n, small, tiny = blockPoints, 4, 2
	var known [allPoints]bool
	var skipped []skippedBlock
	far := func(distance float64, cells int) bool {
		return math.Abs(distance) > 2.6*float64(cells)*step*math.Sqrt(3)/2+step
	}
	ask := func(x, y, z int) float64 {
		i := (z*n+y)*n + x
		if !known[i] {
			d[i], known[i] = f(place(x, y, z)), true
		}
		return d[i]
	}
	const side = blockCells / small
	for k := range side * side * side {
		x, y, z := k%side*small, k/side%side*small, k/side/side*small
		if middle := f(place(x, y, z).Plus(Vec{small, small, small}.Times(step / 2))); far(middle, small) {
			skipped = append(skipped, skippedBlock{[3]int{x, y, z}, small, middle})
			continue
		}
		for o := range 8 {
			x, y, z := x+o&1*tiny, y+o>>1&1*tiny, z+o>>2*tiny
			if middle := ask(x+tiny/2, y+tiny/2, z+tiny/2); far(middle, tiny) {
				skipped = append(skipped, skippedBlock{[3]int{x, y, z}, tiny, middle})
				continue
			}
			for q := range (tiny + 1) * (tiny + 1) * (tiny + 1) {
				ask(x+q%(tiny+1), y+q/(tiny+1)%(tiny+1), z+q/(tiny+1)/(tiny+1))
			}
		}
	}
	for _, b := range skipped {
		side := b.cells + 1
		for k := range side * side * side {
			if i := ((b.at[2]+k/side/side)*n+b.at[1]+k/side%side)*n + b.at[0] + k%side; !known[i] {
				d[i] = b.middle
			}
		}
	}
	return d
}

func netOf(body Solid, from Vec, step float64, b block) (out net) {
	const n = blockPoints
	place := func(x, y, z int) Vec {
		return Vec{
			float64(b[0]*blockCells + x), float64(b[1]*blockCells + y), float64(b[2]*blockCells + z),
		}.Times(step).Plus(from)
	}
	margin := Vec{2 * step, 2 * step, 2 * step}
	f := body.Near(place(0, 0, 0).Minus(margin), place(blockCells, blockCells, blockCells).Plus(margin))
	d := sampled(f, place, step)
	at := func(x, y, z int) float64 { return d[(z*n+y)*n+x] }
	for side := range out.leaves {
		axis, u, v := side/2, (side/2+1)%3, (side/2+2)%3
		var p [3]int
		p[axis] = side % 2 * blockCells
		first := at(p[0], p[1], p[2]) < 0
		for k := range n * n {
			p[u], p[v] = k%n, k/n
			out.leaves[side] = out.leaves[side] || (at(p[0], p[1], p[2]) < 0) != first
		}
	}
	cell := func(x, y, z int) [3]int32 {
		return [3]int32{int32(b[0]*blockCells + x), int32(b[1]*blockCells + y), int32(b[2]*blockCells + z)}
	}
	for z := range blockCells {
		for y := range blockCells {
			for x := range blockCells {
				// Most cells lie on one side with all their corners.
				low := d[(z*n+y)*n+x:]
				if inside := low[0] < 0; inside == (low[1] < 0) && inside == (low[n] < 0) && inside == (low[n+1] < 0) &&
					inside == (low[n*n] < 0) &&
					inside == (low[n*n+1] < 0) && inside == (low[n*n+n] < 0) && inside == (low[n*n+n+1] < 0) {
					continue
				}
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
					corner, way := settle(f, sum.Times(1/cuts), step)
					out.cells, out.corners, out.outs = append(out.cells, cell(x, y, z)), append(out.corners, corner), append(out.outs, way)
				}
			}
		}
	}
	slices.SortStableFunc(out.faces, func(a, b [4][3]int32) int { return cmp.Compare(a[0][0], b[0][0]) })
	return out
}

// settle takes a corner onto the surface by one of Newton's steps, no further than half of a cell, and says which way
// the surface looks.
func settle(f Field, p Vec, step float64) (at, out Vec) {
	h := step * 0.4
	for k := range 3 {
		q, r := p, p
		q[k] += h
		r[k] -= h
		out[k] = (f(q) - f(r)) / (2 * h)
	}
	size := out.Dot(out)
	if size < 1e-9 {
		return p, Vec{0, 0, 1}
	}
	by := out.Times(-f(p) / size)
	if l := by.Long(); l > step/2 {
		by = by.Times(step / 2 / l)
	}
	return p.Plus(by), out.Times(1 / math.Sqrt(size))
}
