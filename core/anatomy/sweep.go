package anatomy

import (
	"math"
)

// joint is a place of a sweep's line, and its section there: half as wide as Wide, half as thick as Thick.
type joint struct {
	at          Vec
	wide, thick float64
	sheet       float64 // 0 an ellipse, 1 a sheet with a round rim, and between
}

// sweep is a limb, a fin or a tail: a section taken along a line.
type sweep struct {
	joints []joint
	face   Vec // which way the broad side looks at the first joint; it is carried along without a twist
	// ribs makes it thicker or thinner by a factor, at a share of its length and a share of its half width.
	ribs   func(s, u float64) float64
	steps  int
	single bool
}

// rimShare is how large a sheet's rim is against its half thickness, thinToRim how much thinner it gets towards it.
const (
	rimShare  = 0.62
	thinToRim = 0.38
)

// place is a place of the line with its frame: along, across the broad side, and out of it.
type place struct {
	at, along, across, out Vec
	wide, thick, sheet, s  float64
}

// chunkSteps are the segments that share a bounding ball.
const chunkSteps = 5

type chunk struct {
	first, last int
	middle      Vec
	reach       float64
}

func (w sweep) part() part {
	line := w.line()
	q := part{single: w.single, from: line[0].at, to: line[0].at}
	for i := range line {
		p := &line[i]
		for k := range 3 {
			// The section's reach along an axis, and its end caps'.
			r := math.Hypot(p.wide*p.across[k], p.thick*p.out[k]) + p.thick
			q.from[k], q.to[k] = min(q.from[k], p.at[k]-r), max(q.to[k], p.at[k]+r)
		}
	}
	var chunks []chunk
	for i := 0; i < len(line)-1; i += chunkSteps {
		c := chunk{first: i, last: min(i+chunkSteps, len(line)-1)}
		c.middle = line[i].at.Plus(line[c.last].at).Times(0.5)
		for k := i; k <= c.last; k++ {
			c.reach = max(c.reach, line[k].at.Minus(c.middle).Long())
		}
		chunks = append(chunks, c)
	}
	segments := make([]segment, len(line)-1)
	for i := range segments {
		s := &segments[i]
		s.from, s.way = line[i].at, line[i+1].at.Minus(line[i].at)
		s.inverse = 1 / s.way.Dot(s.way)
	}
	q.d = func(p Vec) float64 {
		// The chunk with the nearest middle first: it rules out most of the others.
		first, nearest := 0, math.Inf(1)
		for i := range chunks {
			m := &chunks[i].middle
			x, y, z := p[0]-m[0], p[1]-m[1], p[2]-m[2]
			if d := x*x + y*y + z*z; d < nearest {
				first, nearest = i, d
			}
		}
		best, seg, t := math.Inf(1), 0, 0.0
		search := func(c *chunk) {
			for i := c.first; i < c.last; i++ {
				s := &segments[i]
				x, y, z := p[0]-s.from[0], p[1]-s.from[1], p[2]-s.from[2]
				u := min(1, max(0, (x*s.way[0]+y*s.way[1]+z*s.way[2])*s.inverse))
				x, y, z = x-u*s.way[0], y-u*s.way[1], z-u*s.way[2]
				if d := x*x + y*y + z*z; d < best {
					best, seg, t = d, i, u
				}
			}
		}
		search(&chunks[first])
		for i := range chunks {
			if i == first {
				continue
			}
			c := &chunks[i]
			x, y, z := p[0]-c.middle[0], p[1]-c.middle[1], p[2]-c.middle[2]
			if reach := math.Sqrt(best) + c.reach; x*x+y*y+z*z < reach*reach {
				search(c)
			}
		}
		return w.section(&line[seg], &line[seg+1], t, p)
	}
	return q
}

// segment is a straight stretch of a sweep's line.
type segment struct {
	from, way Vec
	inverse   float64 // of its length squared
}

// section is the distance of a place to the section at a share between two places of the line.
func (w *sweep) section(a, b *place, t float64, p Vec) float64 {
	mix := func(x, y float64) float64 { return x + t*(y-x) }
	at := a.at.Plus(b.at.Minus(a.at).Times(t))
	off := p.Minus(at)
	across := a.across.Plus(b.across.Minus(a.across).Times(t))
	out := a.out.Plus(b.out.Minus(a.out).Times(t))
	u, v := math.Abs(off.Dot(across)), math.Abs(off.Dot(out))
	rest := 0.0
	if t == 0 || t == 1 { // beyond an end, or where the line bends
		rest = math.Sqrt(max(0, off.Dot(off)-u*u-v*v))
	}
	wide, thick, sheet := mix(a.wide, b.wide), mix(a.thick, b.thick), mix(a.sheet, b.sheet)
	if w.ribs != nil {
		thick *= w.ribs(mix(a.s, b.s), off.Dot(across)/wide)
	}
	d := 0.0
	if sheet < 1 {
		x, y, z := u/wide, v/thick, rest/thick
		q := math.Sqrt(x*x + y*y + z*z)
		d = -min(wide, thick)
		if q > 0.05 {
			gx, gy, gz := x/wide, y/thick, z/thick
			d = max(d, (q-1)*q/math.Sqrt(gx*gx+gy*gy+gz*gz))
		}
	}
	if sheet > 0 {
		r := min(rimShare*thick, wide)
		at := min(u, wide) / wide
		x, y := u-(wide-r), v-(thick*(1-thinToRim*at*at)-r)
		x = math.Hypot(max(x, 0), rest)
		if rest == 0 {
			x = u - (wide - r)
		}
		flat := math.Hypot(max(x, 0), max(y, 0)) + min(max(x, y), 0) - r
		d += sheet * (flat - d)
	}
	return d
}

// line is the sweep's line through its joints (Catmull–Rom), with a frame that turns no more than it must.
func (w *sweep) line() []place {
	steps := w.steps
	if steps == 0 {
		steps = 36
	}
	n := len(w.joints)
	get := func(i int) joint { return w.joints[min(n-1, max(0, i))] }
	out := make([]place, steps+1)
	for i := range out {
		s := float64(i) / float64(steps)
		v := s * float64(n-1)
		k := min(int(v), n-2)
		f := v - float64(k)
		a, b, c, d := get(k-1), get(k), get(k+1), get(k+2)
		if k == 0 { // an end runs straight on
			a.at = b.at.Times(2).Minus(c.at)
		}
		if k == n-2 {
			d.at = c.at.Times(2).Minus(b.at)
		}
		f2, f3 := f*f, f*f*f
		wa, wb, wc, wd := -0.5*f3+f2-0.5*f, 1.5*f3-2.5*f2+1, -1.5*f3+2*f2+0.5*f, 0.5*f3-0.5*f2
		p := place{s: s}
		for axis := range 3 {
			p.at[axis] = wa*a.at[axis] + wb*b.at[axis] + wc*c.at[axis] + wd*d.at[axis]
			p.along[axis] = (-1.5*f2+2*f-0.5)*a.at[axis] + (4.5*f2-5*f)*b.at[axis] + (-4.5*f2+4*f+0.5)*c.at[axis] +
				(1.5*f2-f)*d.at[axis]
		}
		// Sections go from joint to joint without overshooting.
		e := f * f * (3 - 2*f)
		p.wide, p.thick, p.sheet = b.wide+e*(c.wide-b.wide), b.thick+e*(c.thick-b.thick), b.sheet+e*(c.sheet-b.sheet)
		out[i] = p
	}
	face := w.face
	for i := range out {
		p := &out[i]
		p.along = p.along.Times(1 / p.along.Long())
		p.out = face.Minus(p.along.Times(face.Dot(p.along)))
		p.out = p.out.Times(1 / p.out.Long())
		p.across = p.along.Cross(p.out)
		face = p.out
	}
	return out
}
