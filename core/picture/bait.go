package picture

import (
	"context"
	"image"
	"math"
	"sync"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/cores"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// BaitPicture is a bait to be drawn: a plan, a structure, and the mix of each of its cups.
type BaitPicture struct {
	*BaitPlan
	Structure bait.Structure
	Cups      []*mix.Mix
	Split     bait.Split
	Cavity    int // which of the mold's cavities, with its own chance; 0 is the typical one
	Seed      uint64
	Laid      *Laid    // the structure laid into the plan, where it is at hand
	Palette   *Palette // of the same cups in the same light, where it is at hand
	Judge     bool     // even colours, to be judged: no gloss, no shading, no shadow
}

// Draw draws the bait on its ground: at each point the plastics that the light goes through, its gloss and shade, what
// the ground adds, and the flake in true size and number. Under water it hangs in the open. The same input gives the
// same picture, byte for byte.
func (p *BaitPicture) Draw(at mix.Condition) *image.RGBA { return p.draw(at, nil) }

// Paper is the ground beside the bait.
func (p *BaitPicture) Paper(at mix.Condition) colour.SRGB8 {
	return mix.StackColour(nil, grounded(at)).SRGB()
}

// grounded is the condition with what lies behind a bait: under water it hangs in the open.
func grounded(at mix.Condition) mix.Condition {
	if at.Water != "" {
		at.Ground = optics.Dark
		if at.From == optics.FromBelow {
			at.Ground = optics.Against
		}
	}
	return at
}

// canvas is a picture in linear light while it is drawn.
type canvas struct {
	wide, high int
	pix        []colour.RGB // where there is a bait
	cover      []float32    // how much of a pixel it covers
	gloss      []float32    // what it mirrors there, laid on last
	first      []inside
	blocked    []colour.RGB
}

// canvases are used again: each is tens of megabytes.
var canvases = sync.Pool{New: func() any { return new(canvas) }}

func sized[T any](s []T, n int) []T {
	if cap(s) < n {
		return make([]T, n)
	}
	return s[:n]
}

// draw shows the picture in linear light, too, to who wants to see it.
func (p *BaitPicture) draw(at mix.Condition, show func(c *canvas)) *image.RGBA {
	at = grounded(at)
	paper := mix.StackColour(nil, at).Shown()
	laid := p.Laid
	if laid == nil {
		laid = Lay(p.BaitPlan, &p.Structure, p.Split, p.Cavity)
	}
	d := &drawing{
		BaitPicture: p, at: at, paper: paper, laid: laid, studio: studioOf(at), toLight: mirrored(at.TiltDeg),
		inv: colour.RGB{
			R: 1 / max(1e-4, paper.R), G: 1 / max(1e-4, paper.G), B: 1 / max(1e-4, paper.B),
		},
	}
	palette := p.Palette
	if palette == nil {
		palette = NewPalette(p.Cups, at)
	}
	d.stacks = palette.upTo(p.mostMM, p.Judge)
	d.tables = d.stacks.of(laid.grids)
	if !p.Judge {
		d.skin = p.skinIn(d.studio)
	}
	const rows = 4 * shadowStep // a whole number of the shadow's pixels
	d.blockedWide = (p.Width + shadowStep - 1) / shadowStep
	c := canvases.Get().(*canvas)
	defer canvases.Put(c)
	n := p.Width * p.Height
	c.wide, c.high = p.Width, p.Height
	c.pix, c.cover, c.gloss, c.first = sized(c.pix, n), sized(c.cover, n), sized(c.gloss, n), sized(c.first, len(p.cells))
	c.blocked = sized(c.blocked, d.blockedWide*((p.Height+shadowStep-1)/shadowStep))
	clear(c.gloss)
	clear(c.blocked)
	d.blocked, d.first = c.blocked, c.first
	bands := (p.Height + rows - 1) / rows
	each := func(f func(from, to int)) {
		_ = cores.Each(context.Background(), bands, func(i int) error {
			f(i*rows*p.Width, min(p.Height, (i+1)*rows)*p.Width)
			return nil
		})
	}
	each(d.plastic)
	d.shadow()
	img := image.NewRGBA(image.Rect(0, 0, p.Width, p.Height))
	each(func(from, to int) { d.compose(c, img, from, to) })
	d.flake(c)
	each(func(from, to int) {
		for k := from; k < to; k++ {
			if c.cover[k] == 0 { // it was drawn with the ground
				continue
			}
			q := &c.pix[k]
			if g := float64(c.gloss[k]); g > 1e-4 {
				q.R, q.G, q.B = lay(q.R, g), lay(q.G, g), lay(q.B, g)
			}
			img.Pix[4*k], img.Pix[4*k+1], img.Pix[4*k+2], img.Pix[4*k+3] = encode8(q.R), encode8(q.G), encode8(q.B), 255
		}
	})
	if show != nil {
		show(c)
	}
	return img
}

// drawing is a bait while it is drawn.
type drawing struct {
	*BaitPicture
	at    mix.Condition
	paper colour.RGB
	inv   colour.RGB // 1 / paper
	// Where a skin looks that throws the light into the eye.
	toLight bait.Vec
	laid    *Laid
	stacks  *stacks
	tables  []*stackTable // by the grids that the structure was laid on
	studio  studio
	skin    []skinLight
	first   []inside // by cell: the plastic that is seen first
	// What the bait keeps of the light, and what is left of it on the ground, on a coarser picture.
	blocked, dark []colour.RGB
	blockedWide   int
}

// plastic works out what comes from the first plastic under each pixel of a stretch.
func (d *drawing) plastic(from, to int) {
	for i := d.start[from]; i < d.start[to]; i++ {
		d.first[i] = d.parts(int(i), 0)
		if d.casts() {
			d.block(&d.cells[i], &d.first[i])
		}
	}
}

// casts says whether the bait throws a shadow.
func (d *drawing) casts() bool { return !d.Judge && d.studio.paper }

// compose lays plastic, gloss and ground together, in whole rows.
func (d *drawing) compose(c *canvas, img *image.RGBA, from, to int) {
	paper := [4]uint8{encode8(d.paper.R), encode8(d.paper.G), encode8(d.paper.B), 255}
	clear(c.cover[from:to])
	var row shadowRow
	for first := from; first < to; first += d.Width {
		if d.casts() {
			row = d.shadowRow(first/d.Width, row.dark)
		}
		for x := range d.Width {
			pixel := first + x
			ground, shadow := d.paper, colour.RGB{R: 1, G: 1, B: 1}
			if row.any {
				if shadow = row.at(x); shadow.G < 1 {
					ground = colour.RGB{R: ground.R * shadow.R, G: ground.G * shadow.G, B: ground.B * shadow.B}
				}
			}
			i, end := d.start[pixel], d.start[pixel+1]
			if i == end { // nothing will be laid on it
				o := img.Pix[4*pixel : 4*pixel+4]
				if shadow.G == 1 {
					copy(o, paper[:])
				} else {
					o[0], o[1], o[2], o[3] = encode8(ground.R), encode8(ground.G), encode8(ground.B), 255
				}
				continue
			}
			var sum colour.RGB
			bare := 1.0
			for ; i < end; i++ {
				cell := &d.cells[i]
				w := float64(cell.cover)
				q := d.look(cell, int(i), &shadow)
				if !d.Judge {
					c.gloss[pixel] += float32(w) * d.skin[i].gloss
				}
				sum.R, sum.G, sum.B = sum.R+w*q.R, sum.G+w*q.G, sum.B+w*q.B
				bare -= w
			}
			c.cover[pixel] = float32(1 - bare)
			c.pix[pixel] = colour.RGB{R: sum.R + bare*ground.R, G: sum.G + bare*ground.G, B: sum.B + bare*ground.B}
		}
	}
}

// Where the plastic is thin, the shadow of what lies beside it is seen through it; where it is thick, its own light
// falls there.
const shadedToMM = 2.5

// look is the colour of a cell.
func (d *drawing) look(cell *planCell, i int, shadow *colour.RGB) colour.RGB {
	ground := d.paper
	if !d.Judge {
		f := float64(d.skin[i].ground)
		thin := 0.0
		if d.studio.paper {
			thin = 1 - smooth(0.4, shadedToMM, float64(cell.mm))
		}
		ground = colour.RGB{
			R: ground.R * f * (1 - thin*(1-shadow.R)), G: ground.G * f * (1 - thin*(1-shadow.G)),
			B: ground.B * f * (1 - thin*(1-shadow.B)),
		}
	}
	// What lies behind is the ground of what lies before it.
	for k := int(cell.more); k > 0; k-- {
		q := d.parts(i, k)
		ground = d.onto(&q, 1, ground)
	}
	q := &d.first[i]
	if d.Judge {
		return d.onto(q, 1, ground)
	}
	clear := min(1, (q.ground.R*d.inv.R+q.ground.G*d.inv.G+q.ground.B*d.inv.B)/3)
	shade := float64(d.skin[i].shade)
	out := d.onto(q, shade+(1-shade)*evened*clear, ground)
	if d.stacks.sheens != nil {
		out = shone(out, d.shine(cell, i))
	}
	return out
}

// onto is plastic over a ground.
func (d *drawing) onto(q *inside, shade float64, ground colour.RGB) colour.RGB {
	return colour.RGB{
		R: q.body.R*shade + q.ground.R*d.inv.R*ground.R,
		G: q.body.G*shade + q.ground.G*d.inv.G*ground.G,
		B: q.body.B*shade + q.ground.B*d.inv.B*ground.B,
	}
}

// parts is the light of one of a cell's stretches.
func (d *drawing) parts(i, stretch int) (sum inside) {
	var one [1]spot
	for _, sp := range d.laid.spotsOf(d.BaitPlan, i, stretch, &one) {
		d.stacks.add(&sum, d.tables[sp.grid], &sp)
	}
	return sum
}

// hiddenMM is how much of either plastic before a blend leaves nothing of it to see.
const hiddenMM = 1.5

// apart lays blends out as strips behind each other, each next to its like.
func apart(order, into []strip) []strip {
	into = into[:0]
	push := func(cup int, mm float64) {
		if k := len(into) - 1; k >= 0 && into[k].a == cup {
			into[k].mm += mm
			return
		}
		into = append(into, strip{a: cup, b: cup, mm: mm})
	}
	for i, s := range order {
		if !s.blended() {
			push(s.a, s.mm)
			continue
		}
		first := s.a
		switch { // what lies before it says which comes first; else what lies behind
		case len(into) > 0 && into[len(into)-1].a == s.b:
			first = s.b
		case len(into) == 0 && i+1 < len(order) && order[i+1].a == s.a:
			first = s.b
		}
		if first == s.a {
			push(s.a, s.mm*(1-s.share))
			push(s.b, s.mm*s.share)
		} else {
			push(s.b, s.mm*s.share)
			push(s.a, s.mm*(1-s.share))
		}
	}
	return into
}

func encode8(v float64) uint8 {
	i := int(v*(encodeSteps-1) + 0.5)
	if uint(i) >= encodeSteps { // min and max of floats take longer than all the rest
		return encodeBeyond(v)
	}
	return encodeTable[i]
}

func encodeBeyond(v float64) uint8 {
	if v >= 1 {
		return 255
	}
	return 0
}

// encodeTable turns linear light into screen values; the steps are finer than the screen's own where it is darkest.
const encodeSteps = 1 << 14

var encodeTable = func() (t [encodeSteps]uint8) {
	for i := range t {
		t[i] = uint8(math.Round(255 * colour.Encode(float64(i)/(encodeSteps-1))))
	}
	return t
}()
