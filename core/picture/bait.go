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
	pix        []colour.RGB
	cover      []float32 // how much of a pixel the bait covers
	gloss      []float32 // what it mirrors there, laid on last
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
		BaitPicture: p, at: at, paper: paper, laid: laid, studio: studioOf(at),
		cups: make([]int, len(laid.parts)), inv: colour.RGB{
			R: 1 / max(1e-4, paper.R), G: 1 / max(1e-4, paper.G), B: 1 / max(1e-4, paper.B),
		},
	}
	for i, part := range laid.parts {
		d.cups[i] = part.Cup
	}
	palette := p.Palette
	if palette == nil {
		palette = NewPalette(p.Cups, at)
	}
	d.tables = palette.upTo(p.mostMM)
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
	each := func(f func(b *brush, from, to int)) {
		_ = cores.EachWith(context.Background(), bands, func() *brush {
			return &brush{drawing: d, tables: stackReader{stacks: d.tables}}
		}, func(b *brush, i int) error {
			f(b, i*rows*p.Width, min(p.Height, (i+1)*rows)*p.Width)
			return nil
		})
	}
	each((*brush).plastic)
	d.shadow()
	img := image.NewRGBA(image.Rect(0, 0, p.Width, p.Height))
	each(func(b *brush, from, to int) { b.compose(c, img, from, to) })
	d.flake(c)
	each(func(_ *brush, from, to int) {
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
	at     mix.Condition
	paper  colour.RGB
	inv    colour.RGB // 1 / paper
	laid   *Laid
	cups   []int // by part
	tables *stacks
	studio studio
	skin   []skinLight
	first  []inside // by cell: the plastic that is seen first
	// What the bait keeps of the light, and what is left of it on the ground, on a coarser picture.
	blocked, dark []colour.RGB
	blockedWide   int
}

// brush is what one of several needs to draw.
type brush struct {
	*drawing
	tables stackReader
	order  []strip
	apart  []strip
	one    [1]strip
}

// plastic works out what comes from the first plastic under each pixel of a stretch.
func (b *brush) plastic(from, to int) {
	for i := b.start[from]; i < b.start[to]; i++ {
		b.first[i] = b.parts(int(i), 0)
		if b.casts() {
			b.block(&b.cells[i], &b.first[i])
		}
	}
}

// casts says whether the bait throws a shadow.
func (d *drawing) casts() bool { return !d.Judge && d.studio.paper }

// compose lays plastic, gloss and ground together.
func (b *brush) compose(c *canvas, img *image.RGBA, from, to int) {
	lit := colour.RGB{R: 1, G: 1, B: 1}
	paper := [4]uint8{encode8(b.paper.R), encode8(b.paper.G), encode8(b.paper.B), 255}
	var row shadowRow
	for pixel, x := from, 0; pixel < to; pixel, x = pixel+1, x+1 {
		if x == b.Width {
			x = 0
		}
		if x == 0 && b.casts() {
			row = b.shadowRow(pixel/b.Width, row.dark)
		}
		ground, shadow := b.paper, lit
		if row.any {
			if shadow = row.at(x); shadow.G < 1 {
				ground = colour.RGB{R: ground.R * shadow.R, G: ground.G * shadow.G, B: ground.B * shadow.B}
			}
		}
		if b.start[pixel] == b.start[pixel+1] {
			c.cover[pixel], c.pix[pixel] = 0, ground
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
		for i := b.start[pixel]; i < b.start[pixel+1]; i++ {
			cell := &b.cells[i]
			w := float64(cell.cover)
			q := b.look(cell, int(i), &shadow)
			if !b.Judge {
				c.gloss[pixel] += float32(w) * b.skin[i].gloss
			}
			sum.R, sum.G, sum.B = sum.R+w*q.R, sum.G+w*q.G, sum.B+w*q.B
			bare -= w
		}
		c.cover[pixel] = float32(1 - bare)
		c.pix[pixel] = colour.RGB{R: sum.R + bare*ground.R, G: sum.G + bare*ground.G, B: sum.B + bare*ground.B}
	}
}

// Where the plastic is thin, the shadow of what lies beside it is seen through it; where it is thick, its own light
// falls there.
const shadedToMM = 2.5

// look is the colour of a cell.
func (b *brush) look(cell *planCell, i int, shadow *colour.RGB) colour.RGB {
	ground := b.paper
	if !b.Judge {
		f := float64(b.skin[i].ground)
		thin := 0.0
		if b.studio.paper {
			thin = 1 - smooth(0.4, shadedToMM, float64(cell.mm))
		}
		ground = colour.RGB{
			R: ground.R * f * (1 - thin*(1-shadow.R)), G: ground.G * f * (1 - thin*(1-shadow.G)),
			B: ground.B * f * (1 - thin*(1-shadow.B)),
		}
	}
	// What lies behind is the ground of what lies before it.
	for k := int(cell.more); k > 0; k-- {
		q := b.parts(i, k)
		ground = b.onto(&q, 1, ground)
	}
	q := &b.first[i]
	if b.Judge {
		return b.onto(q, 1, ground)
	}
	clear := min(1, (q.ground.R*b.inv.R+q.ground.G*b.inv.G+q.ground.B*b.inv.B)/3)
	shade := float64(b.skin[i].shade)
	return b.onto(q, shade+(1-shade)*evened*clear, ground)
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
func (b *brush) parts(i, stretch int) inside {
	b.order = b.order[:0]
	for _, r := range b.laid.runs(b.BaitPlan, i, stretch) {
		s := strip{a: b.cups[r.part], b: b.cups[r.other], share: float64(r.share), mm: float64(r.mm)}
		if s.a == s.b || s.share == 0 {
			s.b, s.share = s.a, 0
		}
		if k := len(b.order) - 1; k >= 0 && !s.blended() && !b.order[k].blended() && b.order[k].a == s.a {
			b.order[k].mm += s.mm
			continue
		}
		b.order = append(b.order, s)
	}
	// Two that have run into each other lie behind each other where the ray goes through other plastic, too; the more
	// of it they are, the more they count as the mixture that they are.
	var blend strip
	total, before, share := 0.0, 0.0, 0.0
	for _, s := range b.order {
		if s.blended() && s.mm > blend.mm {
			blend, before = s, total
		}
		total += s.mm
	}
	if blend.mm == 0 {
		b.order = fewer(b.order)
		return b.tables.colour(b.order)
	}
	// What lies before it hides it, the sooner where it is something else.
	if first := b.order[0]; first.blended() || first.a == blend.a || first.a == blend.b {
		share = blend.mm / total * max(0, 1-before/hiddenMM)
	}
	b.one[0] = blend
	b.one[0].mm = total
	mixed := b.tables.colour(b.one[:])
	if share > 0.999 {
		return mixed
	}
	b.apart = apart(b.order, b.apart)
	joined := b.tables.colour(fewer(b.apart))
	var sum inside
	sum.add(&mixed, share)
	sum.add(&joined, 1-share)
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

// Laid is a structure laid into a plan: which parts lie under each cell. It hangs on no colour, so it is worth keeping.
type Laid struct {
	parts []bait.Part
	plain bool
	start []int32 // by cell and stretch
	all   []laidRun
}

type laidRun struct {
	part, other int16
	share, mm   float32
}

// Lay lays a structure into a plan.
func Lay(p *BaitPlan, st *bait.Structure, split bait.Split, cavity int) *Laid {
	l := &Laid{parts: st.Parts(), plain: st.Plain()}
	if l.plain {
		return l
	}
	cutter := bait.NewCutter(&p.Shape, st, split, cavity)
	const some = 4096
	type piece struct {
		count []int32
		runs  []laidRun
	}
	pieces := make([]piece, (len(p.cells)+some-1)/some)
	_ = cores.EachWith(context.Background(), len(pieces), cutter.Another, func(c *bait.Cutter, k int) error {
		q := &pieces[k]
		for i := k * some; i < min(len(p.cells), (k+1)*some); i++ {
			cell := &p.cells[i]
			for stretch := range 1 + moreStretches {
				n := len(q.runs)
				if stretch <= int(cell.more) {
					r, s := p.ray(cell)
					if stretch > 0 {
						r, s = p.behind(cell, stretch-1)
					}
					for _, run := range c.Cut(&r, s) {
						q.runs = append(
							q.runs, laidRun{int16(run.Part), int16(run.Other), float32(run.Share), float32(run.MM)},
						)
					}
				}
				q.count = append(q.count, int32(len(q.runs)-n))
			}
		}
		return nil
	})
	l.start = make([]int32, 1, len(p.cells)*(1+moreStretches)+1)
	for i := range pieces {
		for _, n := range pieces[i].count {
			l.start = append(l.start, l.start[len(l.start)-1]+n)
		}
		l.all = append(l.all, pieces[i].runs...)
	}
	return l
}

// runs are those of one of a cell's stretches.
func (l *Laid) runs(p *BaitPlan, cell, stretch int) []laidRun {
	if !l.plain {
		i := cell*(1+moreStretches) + stretch
		return l.all[l.start[i]:l.start[i+1]]
	}
	c := &p.cells[cell]
	mm := c.mm
	if stretch > 0 {
		mm = c.rest[stretch-1][0] - c.rest[stretch-1][1]
	}
	return []laidRun{{mm: mm}}
}

func encode8(v float64) uint8 { return encodeTable[int(min(1, max(0, v))*(encodeSteps-1)+0.5)] }

// encodeTable turns linear light into screen values; the steps are finer than the screen's own where it is darkest.
const encodeSteps = 1 << 14

var encodeTable = func() (t [encodeSteps]uint8) {
	for i := range t {
		t[i] = uint8(math.Round(255 * colour.Encode(float64(i)/(encodeSteps-1))))
	}
	return t
}()
