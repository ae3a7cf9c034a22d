package picture

import (
	"context"
	"math"
	"slices"
	"sync"

	"cloudburst/core/bait"
	"cloudburst/core/cores"
	"cloudburst/core/mesh"
)

// BaitPlan is a shape laid out on a picture: what lies under each pixel, and how light goes through it. It hangs on
// nothing that a tap changes, so it is worth keeping.
type BaitPlan struct {
	Shape         bait.Shape
	View          bait.View
	Width, Height int
	PxPerMM       float64
	Wet           bool // under water light is bent less
	samples       int  // of a pixel's side
	middle        bait.Vec
	mostMM        float64
	cells         []planCell
	start         []int32 // by pixel: its first cell; one more at the end
	skins         struct {
		sync.Mutex
		by map[studio][]skinLight
	}
	scatters struct {
		sync.Mutex
		by map[scatterKey][]scatteredPiece
		n  int // pieces of all
	}
}

// mostSamples of a pixel's side; one while a bait is turned.
const mostSamples = 2

// moreStretches are kept behind the first one.
const moreStretches = 2

// marginMM is left free about a bait.
const marginMM = 3

// sheet holds what lies under every sample, and the skin turned into the picture.
type sheet struct {
	*mesh.Stretches
	perMM   float64
	turned  [][3]float32
	corners []corner
	// The pixels between which anything lies.
	left, right, top, bottom int
}

var sheets = sync.Pool{New: func() any { return new(sheet) }}

// corner is one of the skin's, turned into the picture: all that a pixel asks of it lies together.
type corner struct {
	at, n [3]float32
	open  float32
}

// PlanBait lays a shape out as it is held. The scale is the same for every view that fits.
func PlanBait(s bait.Shape, view bait.View, width, height int, wet bool) *BaitPlan {
	return planBait(s, view, width, height, wet, mostSamples)
}

// GlanceAtBait is the same in a hurry, with edges that are not softened: while a bait is turned.
func GlanceAtBait(s bait.Shape, view bait.View, width, height int, wet bool) *BaitPlan {
	return planBait(s, view, width, height, wet, 1)
}

func planBait(s bait.Shape, view bait.View, width, height int, wet bool, samples int) *BaitPlan {
	p := &BaitPlan{
		samples: samples, Shape: s, View: view, Width: width, Height: height, Wet: wet,
		middle: s.From.Plus(s.To).Times(0.5),
	}
	main := s.Main()
	p.PxPerMM = math.Inf(1)
	for i, v := range []bait.View{main, view} {
		wide, high := p.reach(&v)
		if i == 0 { // the named views have one scale
			high = max(high, s.To[1]-s.From[1], s.To[2]-s.From[2])
		}
		p.PxPerMM = min(p.PxPerMM, float64(width)/(wide+2*marginMM), float64(height)/(high+2*marginMM))
	}
	sh := p.sheet()
	const some = 4 // rows: a bait lies across, and few parts would leave a core idle at the end
	parts := make([]planRows, (height+some-1)/some)
	p.start = make([]int32, width*height+1)
	_ = cores.Each(context.Background(), len(parts), func(i int) error {
		r := &parts[i]
		from, to := i*some, min(height, (i+1)*some)
		r.start = p.start[from*width : from*width : to*width]
		cells := *cellPool.Get().(*[]planCell)
		r.cells = slices.Grow(cells[:0], sh.count(samples*from, samples*to)*9/8/(samples*samples)) // an eighth for edges
		for y := from; y < to; y++ {
			p.row(r, sh, y)
		}
		for k := range r.cells {
			r.mostMM = max(r.mostMM, float64(r.cells[k].mm))
		}
		return nil
	})
	from := make([]int32, len(parts)+1)
	for i := range parts {
		from[i+1] = from[i] + int32(len(parts[i].cells))
		p.mostMM = max(p.mostMM, parts[i].mostMM)
	}
	p.cells = make([]planCell, from[len(parts)])
	_ = cores.Each(context.Background(), len(parts), func(i int) error {
		copy(p.cells[from[i]:], parts[i].cells)
		cellPool.Put(&parts[i].cells)
		for k := range parts[i].start {
			parts[i].start[k] += from[i]
		}
		return nil
	})
	p.start[width*height] = from[len(parts)]
	sh.Release()
	sheets.Put(sh)
	return p
}

var cellPool = sync.Pool{New: func() any { return new([]planCell) }}

// reach is how wide and how high a view is.
func (p *BaitPlan) reach(v *bait.View) (wide, high float64) {
	var half bait.Vec
	size := p.Shape.To.Minus(p.Shape.From).Times(0.5)
	for k := range 2 {
		for axis := range 3 {
			half[k] += math.Abs(v[k][axis]) * size[axis]
		}
	}
	return 2 * half[0], 2 * half[1]
}

// sheet turns the skin into the picture, counted in samples (z stays in mm), and casts rays through it; the hook's
// slots are cut out.
func (p *BaitPlan) sheet() *sheet {
	s := &p.Shape
	samples := p.samples
	sh := sheets.Get().(*sheet)
	sh.perMM = float64(samples) * p.PxPerMM
	sh.turned = slices.Grow(sh.turned[:0], len(s.V))[:len(s.V)]
	sh.corners = slices.Grow(sh.corners[:0], len(s.V))[:len(s.V)]
	cx, cy := float64(samples*p.Width)/2-0.5, float64(samples*p.Height)/2-0.5
	right, up, near, middle := xyzOf(p.View[0]), xyzOf(p.View[1]), xyzOf(p.View[2]), xyzOf(p.middle).times(-1)
	of := func(v xyz) xyz { return xyz{right.dot(v), up.dot(v), near.dot(v)} }
	const parts = 16
	var reach [parts][2][2]float32 // lowest and highest, across and down
	_ = cores.Each(context.Background(), parts, func(part int) error {
		low, high := [2]float32{math.MaxFloat32, math.MaxFloat32}, [2]float32{-math.MaxFloat32, -math.MaxFloat32}
		for i := part * len(s.V) / parts; i < (part+1)*len(s.V)/parts; i++ {
			q, m := of(floats(&s.V[i]).plus(middle)), of(floats(&s.N[i]))
			x, y := float32(cx+sh.perMM*q.x), float32(cy-sh.perMM*q.y)
			low[0], high[0] = min(low[0], x), max(high[0], x)
			low[1], high[1] = min(low[1], y), max(high[1], y)
			at := [3]float32{x, y, float32(q.z)}
			sh.turned[i] = at
			sh.corners[i] = corner{at, [3]float32{float32(m.x), float32(m.y), float32(m.z)}, s.Open[i]}
		}
		reach[part] = [2][2]float32{low, high}
		return nil
	})
	low, high := reach[0][0], reach[0][1]
	for _, r := range reach[1:] {
		for k := range 2 {
			low[k], high[k] = min(low[k], r[0][k]), max(high[k], r[1][k])
		}
	}
	sh.left, sh.right = max(0, int(low[0])/samples-1), min(p.Width, int(high[0])/samples+2)
	sh.top, sh.bottom = max(0, int(low[1])/samples-1), min(p.Height, int(high[1])/samples+2)
	var err error
	if sh.Stretches, err = mesh.CastThrough(
		context.Background(), sh.turned, s.T, samples*p.Width, samples*p.Height,
	); err != nil {
		panic(err) // nothing ends a background
	}
	for _, t := range s.Slots() {
		// Only the samples before the slot.
		x0, x1, y0, y1 := sh.Wide, 0, sh.High, 0
		for k := range 8 {
			v := bait.Vec{
				[2]float64{t.FromMM, t.ToMM}[k&1], [2]float64{s.From[1], s.To[1]}[k>>1&1],
				[2]float64{-t.WideMM / 2, t.WideMM / 2}[k>>2],
			}
			at := p.View.Of(v.Minus(p.middle))
			x, y := sh.sample(at[0], at[1])
			x0, x1, y0, y1 = min(x0, int(x)-1), max(x1, int(x)+2), min(y0, int(y)-1), max(y1, int(y)+2)
		}
		x0, x1, y0, y1 = max(0, x0), min(sh.Wide, x1), max(0, y0), min(sh.High, y1)
		_ = cores.Each(context.Background(), max(0, y1-y0), func(i int) error {
			for x := x0; x < x1; x++ {
				if all := sh.At(x, y0+i); len(all) > 0 {
					px, py := sh.place(x, y0+i)
					sh.Set(x, y0+i, p.slots(px, py, all))
				}
			}
			return nil
		})
	}
	return sh
}

// count is how many stretches lie under the rows of samples from one up to another.
func (s *sheet) count(from, to int) (n int) {
	for y := from; y < to; y++ {
		r := s.Row(y)
		n += r.Count(0, s.Wide)
	}
	return n
}

// place is where a sample lies, mm from the picture's middle, y up.
func (s *sheet) place(x, y int) (mmX, mmY float64) {
	return (float64(x) - (float64(s.Wide)/2 - 0.5)) / s.perMM, (float64(s.High)/2 - 0.5 - float64(y)) / s.perMM
}

// slots cuts the hook's slots out of what lies under a sample: where one parts a stretch in two, they stay one, with
// less in between than there was, by the part that is seen.
func (p *BaitPlan) slots(x, y float64, all []mesh.Stretch) []mesh.Stretch {
	const far = 500
	r := bait.Ray{From: p.View.Back(bait.Vec{x, y, far}).Plus(p.middle), Way: p.View[2].Times(-1)}
	var out []mesh.Stretch
	for _, h := range all {
		if h.InFace == h.OutFace && h.InFace < 0 {
			continue
		}
		cut := p.Shape.Cut(&r, []bait.Stretch{{In: far - float64(h.In), Out: far - float64(h.Out)}})
		if len(cut) == 0 {
			continue
		}
		// A ray of the grid has no room for more: of two parts the far one moves up to the near one.
		first, last := cut[0], cut[len(cut)-1]
		long := 0.0
		for _, c := range cut {
			long += c.Length()
		}
		q := mesh.Stretch{
			In: float32(far - first.In), Out: float32(far - first.In - long), InFace: h.InFace, OutFace: h.OutFace,
		}
		if len(cut) == 1 {
			q.Out = float32(far - first.Out)
		}
		if q.In != h.In {
			q.InFace = -1
		}
		if float32(far-last.Out) != h.Out {
			q.OutFace = -1
		}
		out = append(out, q)
	}
	return out
}

// planRows are rows of pixels while a plan is made.
type planRows struct {
	cells  []planCell
	start  []int32
	mostMM float64
}

// row works the cells of a row of pixels out.
func (p *BaitPlan) row(out *planRows, sh *sheet, py int) {
	samples := p.samples
	var rows [mostSamples]*mesh.Row
	for k := range samples {
		rows[k] = sh.Row(samples*py + k)
	}
	var all [mostSamples * mostSamples][]mesh.Stretch
	under := all[:samples*samples]
	for px := range p.Width {
		out.start = append(out.start, int32(len(out.cells)))
		if py < sh.top || py >= sh.bottom || px < sh.left || px >= sh.right {
			continue
		}
		n := 0
		for k := range samples {
			n += rows[k].Count(samples*px, samples*px+samples)
		}
		if n == 0 {
			continue
		}
		for k, i := 0, 0; k < samples; k++ {
			for x := samples * px; x < samples*px+samples; x++ {
				under[i] = rows[k].At(x)
				i++
			}
		}
		pixel := int32(py*p.Width + px)
		if whole(under, 3/p.PxPerMM) {
			also := &under[len(under)-1][0]
			if samples == 1 {
				also = nil
			}
			p.cell(out.add(pixel, 1), sh, samples*px, samples*py, &under[0][0], also)
			continue
		}
		for k := range under {
			if len(under[k]) > 0 {
				c := out.add(pixel, 1/float32(samples*samples))
				p.cell(c, sh, samples*px+k%samples, samples*py+k/samples, &under[k][0], nil)
			}
		}
	}
}

// whole says whether samples see one part: a step of more than a slope makes is another.
func whole(under [][]mesh.Stretch, stepMM float64) bool {
	n := len(under[0])
	if n == 0 {
		return false
	}
	for _, u := range under[1:] {
		if len(u) != n || math.Abs(float64(u[0].In-under[0][0].In)) >= stepMM {
			return false
		}
	}
	return true
}

// add begins a cell; it is written where it stays.
func (r *planRows) add(pixel int32, cover float32) *planCell {
	r.cells = append(r.cells, planCell{pixel: pixel, cover: cover})
	return &r.cells[len(r.cells)-1]
}

// Place is where a point of the picture, in pixels, lies on the bait: x from the nose, u up the screen from the axis,
// mm. It holds where the bait lies along the picture.
func (p *BaitPlan) Place(px, py float64) (x, u float64) {
	at := p.View.Of(p.middle)
	return (px-float64(p.Width)/2)/p.PxPerMM + at[0], (float64(p.Height)/2-py)/p.PxPerMM + at[1]
}

// under is the number of the cell under a point of the picture, in pixels; -1 beside the bait.
func (p *BaitPlan) under(x, y float64) int {
	px, py := int(x), int(y)
	if px < 0 || py < 0 || px >= p.Width || py >= p.Height {
		return -1
	}
	if i := py*p.Width + px; p.start[i] < p.start[i+1] {
		return int(p.start[i])
	}
	return -1
}

// ray is the bent ray under a cell, in the bait's own coordinates, and the stretch of it that lies in plastic.
func (p *BaitPlan) ray(c *planCell) (bait.Ray, bait.Stretch) {
	n := c.out()
	way := bent(n, p.index())
	return bait.Ray{
			From: p.View.Back(bait.Vec{
				float64(c.x), float64(c.y), float64(c.in),
			}).Plus(p.middle), Way: p.View.Back(bait.Vec{way.x, way.y, way.z}),
		},
		bait.Stretch{Out: float64(c.mm), InCos: -way.dot(n), OutCos: float64(c.outCos)}
}

// behind is the straight ray under a cell, and its stretches behind the first.
func (p *BaitPlan) behind(c *planCell, k int) (bait.Ray, bait.Stretch) {
	r := bait.Ray{From: p.View.Back(bait.Vec{float64(c.x), float64(c.y), 0}).Plus(p.middle), Way: p.View[2].Times(-1)}
	return r, bait.Stretch{In: -float64(c.rest[k][0]), Out: -float64(c.rest[k][1]), InCos: 0.8, OutCos: 0.8}
}
