package picture

import (
	"math"

	"cloudburst/core/bait"
	"cloudburst/core/mesh"
	"cloudburst/core/optics"
)

// planCell is a pixel, or a sample of it where its samples see different things.
type planCell struct {
	pixel  int32
	more   uint8
	cover  float32    // share of the pixel
	x, y   float32    // where it lies, mm from the picture's middle, y up
	in     float32    // how near the skin is
	mm     float32    // of plastic along the bent ray
	normal [3]float32 // of the skin: right, up, near
	outCos float32    // how steeply the bent ray comes out
	leaves float32    // how straight on the light leaves at the back: 1 straight, -1 thrown back
	open   float32    // how much of what lies before the skin is free
	spread float32    // how much the skin turns within the pixel
	rest   [moreStretches][2]float32
}

// out is the way out of the skin.
func (c *planCell) out() xyz {
	return xyz{float64(c.normal[0]), float64(c.normal[1]), float64(c.normal[2])}
}

// xyz is a way or a place in the picture: Go keeps its three figures in registers, as it does not for a bait.Vec.
type xyz struct{ x, y, z float64 }

func xyzOf(v bait.Vec) xyz { return xyz{v[0], v[1], v[2]} }

func floats(v *[3]float32) xyz { return xyz{float64(v[0]), float64(v[1]), float64(v[2])} }

func (a xyz) plus(b xyz) xyz      { return xyz{a.x + b.x, a.y + b.y, a.z + b.z} }
func (a xyz) times(f float64) xyz { return xyz{f * a.x, f * a.y, f * a.z} }
func (a xyz) dot(b xyz) float64   { return a.x*b.x + a.y*b.y + a.z*b.z }
func (a xyz) long() float64       { return math.Sqrt(a.dot(a)) }

// cell works out what lies under a sample; also is that of the pixel's opposite corner, where both see the same.
func (p *BaitPlan) cell(c *planCell, sh *sheet, x, y int, first, also *mesh.Stretch) {
	mx, my := sh.place(x, y)
	n, open := p.skin(sh, float64(x), float64(y), first.InFace)
	in := float64(first.In)
	if also != nil {
		m, o := p.skin(sh, float64(x+1), float64(y+1), also.InFace)
		sum := n.plus(m)
		long := sum.long()
		c.spread = float32(2 - long)
		n, open = sum.times(1/max(1e-6, long)), (open+o)/2
		in = (in + float64(also.In)) / 2
		mx, my = mx+0.5/sh.perMM, my-0.5/sh.perMM
	}
	if n.z < 0.05 { // seen from its edge
		n.z = 0.05
		n = n.times(1 / n.long())
	}
	c.x, c.y, c.in, c.open = float32(mx), float32(my), float32(in), float32(open)
	c.normal = [3]float32{float32(n.x), float32(n.y), float32(n.z)}
	way := bent(n, p.index())
	from := xyz{mx, my, in}
	mm, face := sh.march(from, way)
	c.mm = float32(mm)
	c.outCos, c.leaves = 1, 1
	end := from.plus(way.times(mm))
	ex, ey := sh.sample(end.x, end.y)
	if face >= 0 {
		out, _ := p.skin(sh, ex, ey, face)
		c.outCos = float32(max(0.1, math.Abs(way.dot(out))))
		c.leaves = float32(leaves(way, out, p.index()))
	}
	// What lies below the place where the light comes out.
	for _, h := range sh.At(int(ex+0.5), int(ey+0.5)) {
		if float64(h.In) < end.z+marchSlack && h.In > h.Out && c.more < moreStretches {
			c.rest[c.more] = [2]float32{h.In, h.Out}
			c.more++
		}
	}
}

// index is the plastic's against what it lies in.
func (p *BaitPlan) index() float64 {
	if p.Wet {
		return optics.HostIndex / optics.WaterIndex
	}
	return optics.HostIndex
}

// sample is where a place lies among the samples.
func (s *sheet) sample(mmX, mmY float64) (x, y float64) {
	return mmX*s.perMM + float64(s.Wide)/2 - 0.5, float64(s.High)/2 - 0.5 - mmY*s.perMM
}

// skin is the way out of the skin on a face and how open it lies there, at a sample. Where there is no face, it is a
// slot's wall.
func (p *BaitPlan) skin(sh *sheet, x, y float64, face int32) (n xyz, open float64) {
	if face < 0 {
		return xyz{0, 0, 1}, 0.2
	}
	t := &p.Shape.T[face]
	a, b, c := &sh.corners[t[0]], &sh.corners[t[1]], &sh.corners[t[2]]
	ax, ay := float64(b.at[0]-a.at[0]), float64(b.at[1]-a.at[1])
	bx, by := float64(c.at[0]-a.at[0]), float64(c.at[1]-a.at[1])
	px, py := x-float64(a.at[0]), y-float64(a.at[1])
	wb, wc := 1.0/3, 1.0/3
	if area := ax*by - ay*bx; math.Abs(area) > 1e-6 {
		inv := 1 / area
		wb = clamped((px*by-py*bx)*inv, 1)
		wc = clamped((ax*py-ay*px)*inv, 1-wb)
	}
	wa := 1 - wb - wc
	n.x = wa*float64(a.n[0]) + wb*float64(b.n[0]) + wc*float64(c.n[0])
	n.y = wa*float64(a.n[1]) + wb*float64(b.n[1]) + wc*float64(c.n[1])
	n.z = wa*float64(a.n[2]) + wb*float64(b.n[2]) + wc*float64(c.n[2])
	open = wa*float64(a.open) + wb*float64(b.open) + wc*float64(c.open)
	if l := n.long(); l > 1e-6 {
		return n.times(1 / l), open
	}
	return xyz{0, 0, 1}, open
}

// clamped holds a share between 0 and a most; it hardly ever has to, and a branch that is guessed right costs nothing.
func clamped(v, most float64) float64 {
	switch {
	case v < 0:
		return 0
	case v > most:
		return most
	}
	return v
}

// bent is the way of a ray that comes straight down, inside the plastic: Snell's law.
func bent(n xyz, index float64) xyz {
	eta := 1 / index
	cos := n.z
	inside := math.Sqrt(1 - eta*eta*(1-cos*cos))
	w := n.times(eta*cos - inside)
	w.z -= eta
	return w
}

// leaves is how straight on a ray goes when it comes out: the cosine to the straight way down, or -1 where it is thrown
// back.
func leaves(way, out xyz, index float64) float64 {
	cos := way.dot(out)
	if cos < 0 {
		out, cos = out.times(-1), -cos
	}
	sin2 := index * index * (1 - cos*cos)
	if sin2 >= 1 {
		return -1
	}
	end := way.times(index).plus(out.times(math.Sqrt(1-sin2) - index*cos))
	return -end.z
}

// A march goes on by a share of what is left below it, and no less than a step: at a rim nothing lies straight below,
// and yet the bent light goes in. Where it has come out the step is halved until it is short.
const (
	marchShare  = 0.9
	marchStepMM = 0.12
	marchEndMM  = 0.05
	marchSlack  = 0.06 // mm, by which a sample's own skin may lie off the ray's
)

// march follows a ray through the plastic: how far it goes, and the face where it comes out (-1 unknown).
func (s *sheet) march(from, way xyz) (mm float64, face int32) {
	x, y := s.sample(from.x, from.y)
	x, y = x+0.5, y+0.5
	dx, dy := way.x*s.perMM, -way.y*s.perMM
	under := func(t float64) (gap float64, face int32, inside bool) {
		z := float32(from.z + way.z*t)
		for _, h := range s.At(int(x+dx*t), int(y+dy*t)) {
			if z <= h.In+marchSlack && z > h.Out {
				return float64(z - h.Out), h.OutFace, true
			}
		}
		return 0, -1, false
	}
	t, further := 0.0, marchShare/-way.z
	face = -1
	gap, f, in := under(0)
	for range 200 {
		if in {
			face = f
		}
		step := gap * further
		if step < marchStepMM {
			step = marchStepMM
		}
		if gap, f, in = under(t + step); in {
			t += step
			continue
		}
		for step > marchEndMM {
			step /= 2
			if _, f, still := under(t + step); still {
				t += step
				face = f
			}
		}
		t += step / 2
		break
	}
	return max(t, 0.02), face
}
