package mesh

import (
	"context"
	"math"
	"slices"
	"sync"

	"cloudburst/core/cores"
)

// Hit is where a ray meets a surface.
type Hit struct {
	Z    float32
	face int32 // of a triangle that is entered; ^ of one that is left
}

// Enters says whether the ray goes in there; else it comes out.
func (h Hit) Enters() bool { return h.face >= 0 }

// Face is the triangle.
func (h Hit) Face() int {
	if h.face < 0 {
		return int(^h.face)
	}
	return int(h.face)
}

// Rays are parallel rays down z through a grid, each with what it meets, the nearest (the largest z) first.
type Rays struct {
	Wide, High int
	bands      []band
	shift      int // a band has 1 << shift rows
}

type band struct {
	start []int32 // by ray: where its hits begin; one more at the end
	hits  []Hit
}

// At gives what the ray of a column and a row meets.
func (r *Rays) At(x, y int) []Hit {
	b := &r.bands[y>>r.shift]
	i := (y&(1<<r.shift-1))*r.Wide + x
	return b.hits[b.start[i]:b.start[i+1]]
}

// subSteps is how finely corners are placed between two rays: on whole numbers, a side that two triangles share is met
// by one of them only.
const subSteps = 256

// bandsPerCore keeps cores busy to the end, and what a band needs near the core that works on it.
const bandsPerCore = 8

// gridded is a corner on the grid of rays, with its depth beside it: what a triangle asks for lies together.
type gridded struct {
	x, y int32
	z    float32
}

type node struct {
	hit  Hit
	next int32
}

// scratch is what a band needs while it is worked out.
type scratch struct {
	head  []int32
	nodes []node
}

var scratches = sync.Pool{New: func() any { return new(scratch) }}

// CastThrough is Cast with what lies inside told at once.
func CastThrough(ctx context.Context, v [][3]float32, t [][3]int32, wide, high int) (*Stretches, error) {
	r := &Stretches{Wide: wide, High: high}
	n, shift, bins, at := binned(ctx, v, t, high)
	per := 1 << shift
	r.bands, r.rows = make([]*stretchBand, n), make([]Row, high)
	nothing := Row{start: make([]int32, wide+1)}
	return r, cores.Each(ctx, n, func(i int) error {
		rows := min(per, high-i*per)
		if !slices.ContainsFunc(bins, func(part [][]int32) bool { return len(part[i]) > 0 }) {
			for y := range rows {
				r.rows[i*per+y] = nothing
			}
			return nil
		}
		s := scratches.Get().(*scratch)
		defer scratches.Put(s)
		s.clear(wide * rows)
		for _, part := range bins {
			s.cast(t, at, part[i], wide, i*per, rows)
		}
		out := stretchBands.Get().(*stretchBand)
		out.start = slices.Grow(out.start[:0], wide*rows+1)[:wide*rows+1]
		out.all = slices.Grow(out.all[:0], len(s.nodes)/2+1)
		var hits [64]Hit
		for k, first := range s.head[:wide*rows] {
			out.start[k] = int32(len(out.all))
			if first < 0 {
				continue
			}
			if in, o, once := s.once(first); once {
				out.all = append(out.all, Stretch{in.Z, o.Z, int32(in.Face()), int32(o.Face())})
				continue
			}
			Inside(s.sorted(first, hits[:0]), func(in, o Hit) {
				out.all = append(out.all, Stretch{in.Z, o.Z, int32(in.Face()), int32(o.Face())})
			})
		}
		out.start[wide*rows] = int32(len(out.all))
		for y := range rows {
			r.rows[i*per+y] = Row{out.start[y*wide : (y+1)*wide+1], out.all}
		}
		r.bands[i] = out
		return nil
	})
}

// once are the hits of a ray that goes in and comes out, as most do; others are sorted.
func (s *scratch) once(k int32) (in, out Hit, ok bool) {
	a := &s.nodes[k]
	if a.next < 0 {
		return in, out, false
	}
	b := &s.nodes[a.next]
	in, out = a.hit, b.hit
	if in.Z < out.Z {
		in, out = out, in
	}
	return in, out, b.next < 0 && in.Enters() && !out.Enters() && in.Z > out.Z
}

// sorted are the hits of a ray, the nearest first.
func (s *scratch) sorted(k int32, into []Hit) []Hit {
	for ; k >= 0; k = s.nodes[k].next {
		h := s.nodes[k].hit
		into = append(into, h)
		j := len(into) - 1
		for ; j > 0 && into[j-1].Z < h.Z; j-- {
			into[j] = into[j-1]
		}
		into[j] = h
	}
	return into
}

// Cast sends rays through a closed surface. Its corners are given with x and y counted in rays, x to the right and y
// down; a triangle that goes round against the clock as it is seen, with y up, is entered.
func Cast(ctx context.Context, v [][3]float32, t [][3]int32, wide, high int) (*Rays, error) {
	r := &Rays{Wide: wide, High: high}
	n, shift, bins, at := binned(ctx, v, t, high)
	per := 1 << shift
	r.bands, r.shift = make([]band, n), shift
	return r, cores.Each(ctx, n, func(i int) error {
		s := scratches.Get().(*scratch)
		defer scratches.Put(s)
		rows := min(per, high-i*per)
		s.clear(wide * rows)
		for _, part := range bins {
			s.cast(t, at, part[i], wide, i*per, rows)
		}
		out := band{start: make([]int32, wide*rows+1), hits: make([]Hit, 0, len(s.nodes))}
		for k, first := range s.head[:wide*rows] {
			from := len(out.hits)
			out.start[k] = int32(from)
			if first >= 0 {
				out.hits = out.hits[:from+len(s.sorted(first, out.hits[from:]))]
			}
		}
		out.start[wide*rows] = int32(len(out.hits))
		r.bands[i] = out
		return nil
	})
}

// binned snaps corners to the grid, and sorts triangles by the bands of rows that they touch: by part of the list, then
// by band, so that parts can be sorted side by side.
func binned(
	ctx context.Context, v [][3]float32, t [][3]int32, high int,
) (n, shift int, bins [][][]int32, at []gridded) {
	at = make([]gridded, len(v))
	parts := bandsPerCore * cores.Of(ctx)
	reach := make([][2]int32, parts)
	_ = cores.Each(ctx, parts, func(i int) error {
		low, high := int32(math.MaxInt32), int32(math.MinInt32)
		for k := i * len(v) / parts; k < (i+1)*len(v)/parts; k++ {
			p := &v[k]
			y := int32(math.Floor(float64(p[1])*subSteps + 0.5))
			at[k] = gridded{int32(math.Floor(float64(p[0])*subSteps + 0.5)), y, p[2]}
			low, high = min(low, y), max(high, y)
		}
		reach[i] = [2]int32{low, high}
		return nil
	})
	low, top := int32(math.MaxInt32), int32(math.MinInt32)
	for _, r := range reach {
		low, top = min(low, r[0]), max(top, r[1])
	}
	covered := max(0, min(high, int(top)/subSteps+1)-max(0, int(low)/subSteps))
	for covered>>(shift+1) > bandsPerCore*cores.Of(ctx) {
		shift++
	}
	rows := 1 << shift
	n = (high + rows - 1) / rows
	bins = make([][][]int32, parts)
	per := int32(rows * subSteps)
	_ = cores.Each(ctx, parts, func(i int) error {
		from, to := i*len(t)/parts, (i+1)*len(t)/parts
		touched := func(f int) (first, last int32) {
			q := &t[f]
			a, b, c := at[q[0]].y, at[q[1]].y, at[q[2]].y
			return max(0, min(a, b, c)/per), min(int32(n-1), max(a, b, c)/per)
		}
		ends := make([]int32, n+1)
		for f := from; f < to; f++ {
			for k, last := touched(f); k <= last; k++ {
				ends[k+1]++
			}
		}
		for k := range n {
			ends[k+1] += ends[k]
		}
		all, own := make([]int32, ends[n]), make([][]int32, n)
		for k := range own {
			own[k] = all[ends[k]:ends[k]:ends[k+1]]
		}
		for f := from; f < to; f++ {
			for k, last := touched(f); k <= last; k++ {
				own[k] = append(own[k], int32(f))
			}
		}
		bins[i] = own
		return nil
	})
	return n, shift, bins, at
}

// clear makes ready for so many rays.
func (s *scratch) clear(rays int) {
	if cap(s.head) < rays {
		s.head = make([]int32, rays)
	}
	s.head = s.head[:cap(s.head)]
	for i := range s.head[:rays] {
		s.head[i] = -1
	}
	s.nodes = s.nodes[:0]
}

// cast finds what the rays of some rows meet.
func (s *scratch) cast(t [][3]int32, at []gridded, of []int32, wide, top, rows int) {
	head := s.head[:wide*rows]
	nodes, n := s.nodes[:cap(s.nodes)], len(s.nodes)
	for _, face := range of {
		q := &t[face]
		a, b, c := at[q[0]], at[q[1]], at[q[2]]
		area := int64(b.x-a.x)*int64(c.y-a.y) - int64(b.y-a.y)*int64(c.x-a.x)
		if area == 0 {
			continue
		}
		za, zb, zc := float64(a.z), float64(b.z), float64(c.z)
		name := ^face
		if area < 0 { // y runs down: against the clock as it is seen
			name = face
			b, c, area = c, b, -area
			zb, zc = zc, zb
		}
		x0, x1 := max(0, ceilDiv(min(a.x, b.x, c.x))), min(int32(wide-1), floorDiv(max(a.x, b.x, c.x)))
		y0, y1 := max(int32(top), ceilDiv(min(a.y, b.y, c.y))), min(int32(top+rows-1), floorDiv(max(a.y, b.y, c.y)))
		if x0 > x1 || y0 > y1 {
			continue
		}
		// Sides by their sign at a ray; one that lies on a side belongs to the triangle whose top or left side it is.
		e0, dx0, dy0 := side(b, c, x0, y0)
		e1, dx1, dy1 := side(c, a, x0, y0)
		e2, dx2, dy2 := side(a, b, x0, y0)
		inv := 1 / float64(area)
		// Depth over the triangle is a plane: by the sides without the rule's shift.
		zx := (float64(dx0)*za + float64(dx1)*zb + float64(dx2)*zc) * inv
		zy := (float64(dy0)*za + float64(dy1)*zb + float64(dy2)*zc) * inv
		px, py := float64(x0)*subSteps-float64(a.x), float64(y0)*subSteps-float64(a.y)
		zRow := za + (zx*px+zy*py)/subSteps
		if most := n + int((x1-x0+1)*(y1-y0+1)); most > len(nodes) {
			nodes = slices.Grow(nodes, most)
			nodes = nodes[:cap(nodes)]
		}
		s0, s1, s2 := spanOf(dx0), spanOf(dx1), spanOf(dx2)
		last := int(x1 - x0)
		from := (int(y0)-top)*wide + int(x0)
		for y := y0; y <= y1; y++ {
			t0, t1, t2 := s0.at(e0), s1.at(e1), s2.at(e2)
			lo := max(0, -t0&s0.left, -t1&s1.left, -t2&s2.left)
			hi := min(last, t0&^s0.left|last&s0.left, t1&^s1.left|last&s1.left, t2&^s2.left|last&s2.left)
			z := zRow + float64(lo)*zx
			for x := lo; x <= hi; x++ {
				nodes[n] = node{Hit{float32(z), name}, head[from+x]}
				head[from+x] = int32(n)
				n++
				z += zx
			}
			e0, e1, e2, zRow, from = e0+dy0, e1+dy1, e2+dy2, zRow+zy, from+wide
		}
	}
	s.nodes = nodes[:n]
}

// span tells where a row of rays crosses a side of a triangle.
type span struct {
	per, half float64
	left      int // all bits where the triangle begins at the side, none where it ends there
}

// spanFar is more rays than a row has.
const spanFar = 1 << 20

func spanOf(dx int64) span {
	s := span{per: spanFar, left: int(-dx >> 63)} // along a row: all of it or none
	if dx != 0 {
		s.per = 1 / math.Abs(float64(dx))
	}
	s.half = spanFar + s.per/2
	return s
}

// at is the last ray that is inside, of a triangle that ends there; minus the first, of one that begins there. Sides are
// whole numbers: half of one more keeps the floor of a quotient from what floats lose.
func (s *span) at(side int64) int { return int(float64(side)*s.per+s.half) - spanFar }

// side is the edge function from p to q at a ray, and its steps from ray to ray: 0 or more inside.
func side(p, q gridded, x, y int32) (at, dx, dy int64) {
	dx, dy = -int64(q.y-p.y)*subSteps, int64(q.x-p.x)*subSteps
	at = int64(q.x-p.x)*(int64(y)*subSteps-int64(p.y)) - int64(q.y-p.y)*(int64(x)*subSteps-int64(p.x))
	if !(q.y < p.y || q.y == p.y && q.x > p.x) { // neither a left side nor a top one
		at--
	}
	return at, dx, dy
}

func ceilDiv(v int32) int32 {
	return -floorDiv(-v)
}

func floorDiv(v int32) int32 { return v >> 8 }

// Stretch is a part of a ray that lies inside of a body, and the triangles at its ends.
type Stretch struct {
	In, Out         float32
	InFace, OutFace int32
}

// Stretches are parallel rays with what of them lies inside of a body, the nearest first.
type Stretches struct {
	Wide, High int
	rows       []Row
	bands      []*stretchBand
}

type stretchBand struct {
	start []int32
	all   []Stretch
}

var stretchBands = sync.Pool{New: func() any { return new(stretchBand) }}

// Release gives back what the rays took; nobody may look at them afterwards.
func (r *Stretches) Release() {
	for _, b := range r.bands {
		if b != nil {
			stretchBands.Put(b)
		}
	}
	r.bands, r.rows = nil, nil
}

// At gives those of the ray of a column and a row; none beyond the grid.
func (r *Stretches) At(x, y int) []Stretch {
	if uint(x) >= uint(r.Wide) || uint(y) >= uint(r.High) {
		return nil
	}
	return r.rows[y].At(x)
}

// Row are the rays of a row, the first to the last.
type Row struct {
	start []int32
	all   []Stretch
}

// Row gives those of a row of the grid.
func (r *Stretches) Row(y int) *Row { return &r.rows[y] }

// At gives those of the ray of a column.
func (r *Row) At(x int) []Stretch { return r.all[r.start[x]:r.start[x+1]] }

// Count is how many there are from one column up to another.
func (r *Row) Count(from, to int) int { return int(r.start[to] - r.start[from]) }

// Set replaces those of a ray, which become no more.
func (r *Stretches) Set(x, y int, by []Stretch) {
	all := r.At(x, y)
	n := copy(all, by)
	for i := n; i < len(all); i++ { // of no length, behind everything
		all[i] = Stretch{-math.MaxFloat32, -math.MaxFloat32, -1, -1}
	}
}

// Inside walks the hits of a ray and tells each stretch that lies inside: from where it is entered to where it is left.
func Inside(hits []Hit, tell func(in, out Hit)) {
	depth := 0
	var in Hit
	for _, h := range hits {
		if h.Enters() {
			if depth == 0 {
				in = h
			}
			depth++
			continue
		}
		if depth--; depth == 0 {
			tell(in, h)
		}
		depth = max(depth, 0)
	}
}
