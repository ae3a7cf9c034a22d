package picture

import (
	"context"
	"math"
	"slices"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/cores"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// studio is the light about a bait that is held in the hand: a soft sky, the sun or a lamp, with paper under it or
// none.
type studio struct {
	paper   bool    // it lies on something that takes a shadow
	against bool    // light comes through it
	hard    float64 // 0 an overcast sky, 1 a lamp or the sun
	index   float64 // of the plastic against what is about it
}

func studioOf(at mix.Condition) studio {
	s := studio{against: at.Ground == optics.Against, hard: at.Light.Directional(), index: optics.HostIndex}
	s.paper = at.Water == "" && !s.against
	if at.Water != "" {
		s.index = optics.HostIndex / optics.WaterIndex
	}
	return s
}

// sun is where a lamp stands: up, to the left, before the bait.
var sun = func() bait.Vec {
	v := bait.Vec{-0.42, 0.74, 0.53}
	return v.Times(1 / v.Long())
}()

// The lights' shares in what falls on the skin.
const (
	skyShare  = 0.55
	keyShare  = 0.45
	keyWrap   = 0.35 // how far round the key's light reaches
	bounce    = 0.10 // off the paper, from below
	liftShare = 0.45 // of what is brighter than face-on
	closeDim  = 0.30 // how much darker it is where nothing is open
)

// lit is the light that falls on a skin.
func lit(n bait.Vec) float64 {
	sky := 0.5 + 0.5*(0.82*n[1]+0.57*n[2])
	key := max(0, (n.Dot(sun)+keyWrap)/(1+keyWrap))
	return skyShare*sky + keyShare*key + bounce*max(0, -n[1])
}

var litFaceOn = lit(bait.Vec{0, 0, 1})

// shade is how much brighter or darker a cell is than the same plastic looked at face-on.
func (s *studio) shade(c *planCell) float64 {
	if s.against {
		return 1
	}
	v := lit(vec(c.normal)) / litFaceOn
	if v > 1 {
		v = 1 + liftShare*(v-1)
	}
	v *= 1 - closeDim*(1-float64(c.open))
	return v
}

// evened is how far clear plastic evens its shading out.
const evened = 0.55

// skinLight is what a light does at a cell, whatever is in the cups.
type skinLight struct{ shade, gloss, ground float32 }

// skinIn works it out, once for a light and a plan.
func (p *BaitPlan) skinIn(s studio) []skinLight {
	p.skins.Lock()
	defer p.skins.Unlock()
	if l, ok := p.skins.by[s]; ok {
		return l
	}
	out := make([]skinLight, len(p.cells))
	const some = 4096
	_ = cores.Each(context.Background(), (len(out)+some-1)/some, func(k int) error {
		for i := k * some; i < min(len(out), (k+1)*some); i++ {
			c := &p.cells[i]
			out[i] = skinLight{float32(s.shade(c)), float32(s.gloss(c)), float32(s.ground(float64(c.leaves)))}
		}
		return nil
	})
	if p.skins.by == nil {
		p.skins.by = map[studio][]skinLight{}
	}
	const lights = 3
	if len(p.skins.by) >= lights {
		clear(p.skins.by)
	}
	p.skins.by[s] = out
	return out
}

func vec(v [3]float32) bait.Vec { return bait.Vec{float64(v[0]), float64(v[1]), float64(v[2])} }

// ground is how much of the ground's light comes through where it leaves so straight.
func (s *studio) ground(leaves float64) float64 {
	if s.against {
		return 0.30 + 0.70*smooth(0.35, 0.85, leaves)
	}
	return 0.62 + 0.38*smooth(-0.2, 0.75, leaves)
}

func smooth(a, b, v float64) float64 {
	switch t := (v - a) / (b - a); {
	case t <= 0:
		return 0
	case t >= 1:
		return 1
	default:
		return t * t * (3 - 2*t)
	}
}

// gloss is the mirror image of what is about the bait, as a share of paper's white.
func (s *studio) gloss(c *planCell) float64 {
	n := vec(c.normal)
	cos := min(1, max(0.02, n[2]))
	// The mirrored ray: nothing is seen of the one who looks.
	r := bait.Vec{2 * cos * n[0], 2 * cos * n[1], 2*cos*cos - 1}
	if r[2] > 0.985 {
		return 0
	}
	return fresnel(cos, s.index) * s.about(r, 0.11+1.6*float64(c.spread)) * float64(c.open*c.open)
}

// lay brightens towards white without a hard end.
func lay(base, g float64) float64 {
	left := max(0.02, 1-base)
	return base + left*(1-fading(g/left))
}

// fading is exp(−v), to 4e-5: three of them a pixel are a good part of a picture's time.
func fading(v float64) float64 {
	v *= fadingPer
	i := int(v)
	if i >= fadingSteps {
		return 0
	}
	return fadingTable[i] + (fadingTable[i+1]-fadingTable[i])*(v-float64(i))
}

const (
	fadingPer   = 64
	fadingSteps = 12 * fadingPer
)

var fadingTable = func() (t [fadingSteps + 1]float64) {
	for i := range t {
		t[i] = math.Exp(-float64(i) / fadingPer)
	}
	return t
}()

// fresnel is the share that an even boundary throws back.
func fresnel(cos, index float64) float64 {
	inside := math.Sqrt(1 - (1-cos*cos)/(index*index))
	a, b := (cos-index*inside)/(cos+index*inside), (inside-index*cos)/(inside+index*cos)
	return (a*a + b*b) / 2
}

// about is what is about the bait, where a mirrored ray goes: as many times as bright as paper, blurred so far.
func (s *studio) about(r bait.Vec, soft float64) float64 {
	band := func(v, from, to float64) float64 {
		return smooth(from-soft, from+soft, v) * (1 - smooth(to-soft, to+soft, v))
	}
	sky := 0.32 * smooth(-0.3, 0.9, r[1])
	strip := 6.5 * band(r[1], 0.58, 0.86) * band(r[0], -0.62, 0.5)
	side := 1.6 * band(r[0], -0.97, -0.72) * band(r[1], -0.35, 0.5)
	low := 0.22 * band(r[1], -1.2, -0.62)
	soft2 := 0.06 + soft
	disc := 30 * math.Exp(-(1-r.Dot(sun))/(soft2*soft2*0.5)) * (0.06 / soft2)
	halo := 2.2 * math.Exp(-(1-r.Dot(sun))/0.16)
	sum := sky + side*(1-0.6*s.hard) + low + strip*(1-s.hard) + (disc+halo)*s.hard
	return sum * (1 - smooth(0.86, 0.985, r[2]))
}

// Shadows lie on the paper in layers by height: how far they blur and are thrown, mm, and how much of a bait throws
// each.
var shadowLayers = [3]struct{ blurMM, offMM, deep float64 }{{0.9, 0.5, 0.42}, {2.4, 1.6, 0.30}, {5.2, 3.4, 0.22}}

// shadow works out what is left of the light on the ground: the bait keeps some, and what comes through has its colour.
func (d *drawing) shadow() {
	if !d.casts() {
		return
	}
	w := d.blockedWide
	h := len(d.blocked) / w
	d.dark = make([]colour.RGB, w*h)
	for i := range d.dark {
		d.dark[i] = colour.RGB{R: 1, G: 1, B: 1}
	}
	var planes [3][]float64
	for k, of := range [3]func(q *colour.RGB) *float64{
		func(q *colour.RGB) *float64 { return &q.R }, func(q *colour.RGB) *float64 { return &q.G },
		func(q *colour.RGB) *float64 { return &q.B },
	} {
		planes[k] = make([]float64, w*h)
		for i := range d.blocked {
			planes[k][i] = *of(&d.blocked[i])
		}
	}
	var soft [len(shadowLayers)][3][]float64
	_ = cores.Each(context.Background(), 3*len(soft), func(i int) error {
		soft[i/3][i%3] = blurred(planes[i%3], w, shadowLayers[i/3].blurMM*d.PxPerMM/shadowStep)
		return nil
	})
	for i, l := range shadowLayers {
		dx, dy := int(0.45*l.offMM*d.PxPerMM/shadowStep+0.5), int(0.9*l.offMM*d.PxPerMM/shadowStep+0.5)
		for y := dy; y < h; y++ {
			for x := dx; x < w; x++ {
				q, o := &d.dark[y*w+x], (y-dy)*w+x-dx
				q.R, q.G, q.B = q.R*(1-l.deep*soft[i][0][o]), q.G*(1-l.deep*soft[i][1][o]), q.B*(1-l.deep*soft[i][2][o])
			}
		}
	}
	d.fade()
}

// fadeSteps are how far from the picture's edge its shadow begins: the picture may lie on a ground of the same colour.
const fadeSteps = 7

// fade takes the shadow off towards the picture's edges.
func (d *drawing) fade() {
	w := d.blockedWide
	h := len(d.dark) / w
	for y := range h {
		for x := range w {
			near := min(x, y, w-1-x, h-1-y)
			if near >= fadeSteps {
				continue
			}
			f := smooth(0, fadeSteps, float64(near))
			q := &d.dark[y*w+x]
			q.R, q.G, q.B = 1-f*(1-q.R), 1-f*(1-q.G), 1-f*(1-q.B)
		}
	}
}

// shadowRow is what is left of the light along a row of pixels, in the shadow's own steps.
type shadowRow struct {
	any  bool
	dark []colour.RGB
}

func (d *drawing) shadowRow(py int, into []colour.RGB) shadowRow {
	w := d.blockedWide
	h := len(d.dark) / w
	y := max(0, (float64(py)+0.5)/shadowStep-0.5)
	y0 := min(h-1, int(y))
	y1 := min(h-1, y0+1)
	r := shadowRow{dark: into[:0]}
	for x := range w {
		q := mixRGB(d.dark[y0*w+x], d.dark[y1*w+x], y-float64(y0))
		r.any = r.any || q.G < 1
		r.dark = append(r.dark, q)
	}
	return r
}

// at is between the two nearest steps.
func (r *shadowRow) at(px int) colour.RGB {
	const whole = 2 * shadowStep // in half pixels, so that it is counted
	at := max(0, 2*px+1-shadowStep)
	i := min(len(r.dark)-1, at/whole)
	a, b := &r.dark[i], &r.dark[min(len(r.dark)-1, i+1)]
	if a.G == 1 && b.G == 1 {
		return *a
	}
	return mixRGB(*a, *b, float64(at%whole)/whole)
}

// block adds up what a cell keeps of the light, on the shadow's coarser picture.
func (d *drawing) block(c *planCell, q *inside) {
	x, y := int(c.pixel)%d.Width, int(c.pixel)/d.Width
	o := &d.blocked[y/shadowStep*d.blockedWide+x/shadowStep]
	share := float64(c.cover) / (shadowStep * shadowStep)
	keeps := func(ground, inv float64) float64 { return share * (1 - 0.85*min(1, max(0, ground*inv))) }
	o.R, o.G, o.B = o.R+keeps(q.ground.R, d.inv.R), o.G+keeps(q.ground.G, d.inv.G), o.B+keeps(q.ground.B, d.inv.B)
}

// shadowStep is how many pixels of the picture are one of the shadow's.
const shadowStep = 4

// blurred is one colour of a picture blurred three times by a box, which comes near a bell of so many pixels.
func blurred(in []float64, w int, sigma float64) []float64 {
	r := max(1, int(sigma+0.5))
	a, b := slices.Clone(in), make([]float64, len(in))
	sums := make([]float64, w)
	for range 3 {
		boxedAlong(a, b, w, r)
		boxedAcross(b, a, sums, r)
	}
	return a
}

// boxedAlong blurs every row by a box of 2r+1; beyond the edge there is nothing.
func boxedAlong(in, out []float64, w, r int) {
	by := 1 / float64(2*r+1)
	for at := 0; at < len(in); at += w {
		from, to := in[at:at+w], out[at:at+w]
		sum := 0.0
		for k := -r; k < w; k++ {
			if k+r < w {
				sum += from[k+r]
			}
			if k-r > 0 {
				sum -= from[k-r-1]
			}
			if k >= 0 {
				to[k] = sum * by
			}
		}
	}
}

// boxedAcross blurs every column, all of them side by side: sums holds one box of each.
func boxedAcross(in, out, sums []float64, r int) {
	w := len(sums)
	h := len(in) / w
	by := 1 / float64(2*r+1)
	clear(sums)
	for k := -r; k < h; k++ {
		if k+r < h {
			for x, v := range in[(k+r)*w : (k+r+1)*w] {
				sums[x] += v
			}
		}
		if k-r > 0 {
			for x, v := range in[(k-r-1)*w : (k-r)*w] {
				sums[x] -= v
			}
		}
		if k >= 0 {
			to := out[k*w : (k+1)*w]
			for x, v := range sums {
				to[x] = v * by
			}
		}
	}
}
