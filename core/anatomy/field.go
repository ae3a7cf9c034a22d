package anatomy

import (
	"math"

	"cloudburst/core/mesh"
)

// Vec is a place, mm.
type Vec = mesh.Vec

// part is a solid that is joined to those before it, or cut out of them.
type part struct {
	from, to Vec
	soft     float64 // over so many mm it runs into what it is joined to
	cut      bool
	single   bool // on one side only; else it is there on both sides of z = 0
	d        func(p Vec) float64
}

// outside is how far a place lies outside of the part's box; 0 inside.
func (q *part) outside(p Vec) float64 {
	sum := 0.0
	for k := range 3 {
		off := max(q.from[k]-p[k], p[k]-q.to[k], 0)
		sum += off * off
	}
	return math.Sqrt(sum)
}

// Bait is an anatomy: its field, and what its parts are called where a maker's measures ask.
type Bait struct {
	Key, Name, About string
	LengthMM         float64
	Lying            bool    // flat, and looked at from above
	BodyTo           float64 // where its thick part ends
	parts            []part
}

func (b *Bait) add(q part, soft float64) {
	q.soft = soft
	b.parts = append(b.parts, q)
}

// cutOut takes a part away, with an edge as soft.
func (b *Bait) cutOut(q part, soft float64) {
	q.soft, q.cut = soft, true
	b.parts = append(b.parts, q)
}

// Near is the field of the parts that can touch a box.
func (b *Bait) Near(from, to Vec) mesh.Field {
	near := &Bait{}
	soft := 0.0 // what comes later decides how far it runs into what was there
	for _, q := range b.parts {
		soft = max(soft, q.soft)
	}
	low, high := from, to // with its mirror image
	low[2], high[2] = min(from[2], -to[2]), max(to[2], -from[2])
	for _, q := range b.parts {
		there := true
		for k := range 3 {
			a, b := low[k], high[k]
			if q.single {
				a, b = from[k], to[k]
			}
			there = there && q.from[k] <= b+soft && q.to[k] >= a-soft
		}
		if there {
			near.parts = append(near.parts, q)
		}
	}
	return near.Field
}

// Field gives the distance to the bait's skin.
func (b *Bait) Field(p Vec) float64 {
	d := math.Inf(1)
	both := p
	both[2] = math.Abs(both[2])
	for i := range b.parts {
		q := &b.parts[i]
		at := both
		if q.single {
			at = p
		}
		far := q.outside(at)
		switch {
		case q.cut && far > q.soft-d, !q.cut && far > d+q.soft && d < math.Inf(1): // too far away to change anything
		case q.cut:
			d = -softMin(-d, q.d(at), q.soft)
		case far > farMM:
			d = min(d, far)
		default:
			own := q.d(at)
			if far > 0 {
				own = max(own, far)
			}
			d = softMin(d, own, q.soft)
		}
	}
	return d
}

// farMM is how far from a part's box its box tells enough.
const farMM = 6

// softMin is the lesser of two, rounded off where they are nearly equal; rounding takes off a quarter of k at most.
func softMin(a, b, k float64) float64 {
	if math.IsInf(a, 1) {
		return b
	}
	h := max(k-math.Abs(a-b), 0)
	if h == 0 {
		return min(a, b)
	}
	return min(a, b) - h*h/(4*k)
}

// Bounds is a box about the bait with a margin.
func (b *Bait) Bounds(marginMM float64) (from, to Vec) {
	from, to = Vec{math.Inf(1), math.Inf(1), math.Inf(1)}, Vec{math.Inf(-1), math.Inf(-1), math.Inf(-1)}
	for _, q := range b.parts {
		if q.cut {
			continue
		}
		for k := range 3 {
			from[k], to[k] = min(from[k], q.from[k]-marginMM), max(to[k], q.to[k]+marginMM)
		}
		if !q.single {
			from[2], to[2] = min(from[2], -q.to[2]-marginMM), max(to[2], -q.from[2]+marginMM)
		}
	}
	return from, to
}

// ball is a sphere; squeezed along y it is a dome.
func ball(at Vec, r float64) part {
	return part{from: Vec{
		at[0] - r, at[1] - r, at[2] - r,
	}, to: Vec{at[0] + r, at[1] + r, at[2] + r}, d: func(p Vec) float64 {
		return p.Minus(at).Long() - r
	}}
}

// skin is the outermost place of the bait so far beside (x, y), and which way its surface looks there.
func (b *Bait) skin(x, y float64) (at, out Vec) {
	return b.cast(Vec{x, y, 60}, Vec{0, 0, -1})
}

// above is the uppermost place over (x, z).
func (b *Bait) above(x, z float64) (at, out Vec) {
	return b.cast(Vec{x, 60, z}, Vec{0, -1, 0})
}

// cast goes from outside until it meets the skin.
func (b *Bait) cast(p, way Vec) (at, out Vec) {
	for range 200 {
		d := b.Field(p)
		if d < 1e-3 || d > 200 {
			break
		}
		p = p.Plus(way.Times(0.7 * d))
	}
	return p, b.slope(p, 0.1)
}

// slope is the way out of the bait at a place.
func (b *Bait) slope(p Vec, h float64) Vec {
	var g Vec
	for k := range 3 {
		up, down := p, p
		up[k] += h
		down[k] -= h
		g[k] = b.Field(up) - b.Field(down)
	}
	if l := g.Long(); l > 0 {
		return g.Times(1 / l)
	}
	return Vec{0, 0, 1}
}

// smooth goes from 0 at a to 1 at b, level at both ends.
func smooth(a, b, v float64) float64 {
	t := min(1, max(0, (v-a)/(b-a)))
	return t * t * (3 - 2*t)
}
