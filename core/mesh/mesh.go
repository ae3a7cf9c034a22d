package mesh

import "math"

// Vec is a place or a way, mm.
type Vec [3]float64

func (a Vec) Plus(b Vec) Vec      { return Vec{a[0] + b[0], a[1] + b[1], a[2] + b[2]} }
func (a Vec) Minus(b Vec) Vec     { return Vec{a[0] - b[0], a[1] - b[1], a[2] - b[2]} }
func (a Vec) Times(f float64) Vec { return Vec{a[0] * f, a[1] * f, a[2] * f} }
func (a Vec) Dot(b Vec) float64   { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }
func (a Vec) Long() float64       { return math.Sqrt(a.Dot(a)) }
func (a Vec) Cross(b Vec) Vec {
	return Vec{a[1]*b[2] - a[2]*b[1], a[2]*b[0] - a[0]*b[2], a[0]*b[1] - a[1]*b[0]}
}

// unit is the same way, 1 long; nothing stays nothing.
func unit(a Vec) Vec {
	if l := a.Long(); l > 0 {
		return a.Times(1 / l)
	}
	return a
}

func (a Vec) each(b Vec, f func(x, y float64) float64) Vec {
	return Vec{f(a[0], b[0]), f(a[1], b[1]), f(a[2], b[2])}
}

// Mesh is triangles between corners.
type Mesh struct {
	V []Vec
	N []Vec // which way the surface looks at each corner; may be missing
	T [][3]int32
}

// Bounds are the least upright box about it; nothing of an empty one.
func (m *Mesh) Bounds() (from, to Vec) {
	if len(m.V) == 0 {
		return from, to
	}
	from, to = m.V[0], m.V[0]
	for _, v := range m.V {
		from, to = from.each(v, math.Min), to.each(v, math.Max)
	}
	return from, to
}

// VolumeML is what it holds: a sixth of the sum of its triangles' spat products, about the middle of its box so that no
// digits are lost far from nought.
func (m *Mesh) VolumeML() float64 {
	from, to := m.Bounds()
	middle := from.Plus(to).Times(0.5)
	sum := 0.0
	for _, t := range m.T {
		a, b, c := m.V[t[0]].Minus(middle), m.V[t[1]].Minus(middle), m.V[t[2]].Minus(middle)
		sum += a.Dot(b.Cross(c))
	}
	return sum / 6 / 1000
}

// AreaMM2 is its surface.
func (m *Mesh) AreaMM2() float64 {
	sum := 0.0
	for _, t := range m.T {
		sum += m.V[t[1]].Minus(m.V[t[0]]).Cross(m.V[t[2]].Minus(m.V[t[0]])).Long()
	}
	return sum / 2
}

// Scale makes it so many times as large.
func (m *Mesh) Scale(by float64) {
	for i := range m.V {
		m.V[i] = m.V[i].Times(by)
	}
}

// FitLength moves its end to x = 0 and makes it so long, alike every way.
func (m *Mesh) FitLength(mm float64) {
	from, to := m.Bounds()
	by := mm / (to[0] - from[0])
	for i := range m.V {
		m.V[i][0] -= from[0]
		m.V[i] = m.V[i].Times(by)
	}
}

// edge is a side of a triangle, from one corner to the next.
type edge struct{ from, to int32 }

// edges counts each side's triangles, by its direction.
func (m *Mesh) edges() map[edge]int32 {
	all := make(map[edge]int32, 3*len(m.T))
	for _, t := range m.T {
		for i := range 3 {
			all[edge{t[i], t[(i+1)%3]}]++
		}
	}
	return all
}

// Closed says whether every side of a triangle has exactly one neighbour that runs against it: then it has an inside.
func (m *Mesh) Closed() bool {
	all := m.edges()
	for e, n := range all {
		if n != 1 || all[edge{e.to, e.from}] != 1 {
			return false
		}
	}
	return len(m.T) > 0
}

// Open counts sides of triangles without a neighbour that runs against them, and sides that more than two triangles
// share.
func (m *Mesh) Open() (open, crowded int) {
	all := m.edges()
	for e, n := range all {
		if all[edge{e.to, e.from}] != n {
			open++
		}
		if n > 1 {
			crowded++
		}
	}
	return open, crowded
}
