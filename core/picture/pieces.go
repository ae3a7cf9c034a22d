package picture

import (
	"cmp"
	"context"
	"image"
	"math"
	"math/rand/v2"
	"slices"

	"golang.org/x/image/vector"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/cores"
	"cloudburst/core/material"
	"cloudburst/core/mix"
)

// between is a mix as it looks between the pieces that are drawn: with so much of its flake's own weight in it that the
// pieces and what lies between them come to the colour that is seen at arm's length.
func between(m *mix.Mix, at mix.Condition) *mix.Mix {
	if len(m.Flakes) == 0 {
		return m
	}
	at.ThicknessMM = mix.BodyMM
	at.Water, at.DepthM, at.DistanceM = "", 0, 0
	want := m.Colour(at).Linear()
	body := m.Body()
	pieces, cover := drawn(m, body, at)
	best, off := 0.0, math.Inf(1)
	const steps = 12
	for i := range steps + 1 {
		share := float64(i) / steps
		base := m.Thinned(share).Colour(at).Linear()
		mean := colour.RGB{
			R: pieces.R + base.R*(1-cover), G: pieces.G + base.G*(1-cover), B: pieces.B + base.B*(1-cover),
		}
		if d := colour.DeltaE00(mean.Lab(), want.Lab()); d < off {
			best, off = share, d
		}
	}
	return m.Thinned(best)
}

// drawn is the mean light of the pieces that are drawn into a body, weighed by what they cover of it, and how much that
// is.
func drawn(m, body *mix.Mix, at mix.Condition) (light colour.RGB, cover float64) {
	type kind struct {
		deep  float64
		perMM float64 // covered in a mm of depth, seen from straight before it
		hues  [][]colour.Lab
		gain  float64
	}
	var kinds []kind
	deepest := 0.0
	for _, f := range m.Flakes {
		k := kind{deep: body.LegibleDepth(f.Flake, at), gain: meanBrightness(f.Flake, at)}
		if k.deep <= 0 {
			continue
		}
		// Pieces lie every way alike: half of their face is seen.
		k.perMM = f.PerMM3 * f.Flake.AreaMM2() / 2
		k.hues = body.PieceColours(f.Flake, at, k.deep, depthSteps)
		kinds = append(kinds, k)
		deepest = max(deepest, k.deep)
	}
	const slices = 24
	left := 1.0
	for i := range slices {
		z := deepest * (float64(i) + 0.5) / slices
		taken := 0.0
		for _, k := range kinds {
			if z >= k.deep {
				continue
			}
			c := left * k.perMM * deepest / slices
			taken += c
			gain := 1 + (k.gain-1)*(1-z/k.deep)
			for _, row := range k.hues {
				q := linearOf(row[int(z/k.deep*depthSteps)].SRGB())
				w := c * gain / float64(len(k.hues))
				light.R, light.G, light.B = light.R+w*q.R, light.G+w*q.G, light.B+w*q.B
			}
		}
		left = max(0, left-taken)
	}
	return light, 1 - left
}

// meanBrightness is that of pieces that lie every way alike.
func meanBrightness(f *material.Flake, at mix.Condition) float64 {
	const steps = 40
	sum := 0.0
	for i := range steps {
		cos := edgeOn + (1-edgeOn)*(float64(i)+0.5)/steps
		sum += cos * brightness(f, math.Acos(cos), at) // weighed by the face that is seen
	}
	return 2 * sum / steps
}

// thinForFlake is how many times its size a section must be for a piece to get in: one that is wider folds or stays
// out.
const thinForFlake = 1.0

// flakeKind is a flake of one cup, as it reads through the plastic of the cup that covers it.
type flakeKind struct {
	flake mix.FlakeIn
	cup   int
	deep  []float64 // by covering cup: to where it can be told apart; 0 where never
	table [][][depthSteps + 1]colour.RGB
	looks int
}

// laidPiece is a piece that will be seen.
type laidPiece struct {
	pieceAt
	kind, over int
}

// mostTries bounds the pieces that are laid into a bait.
const mostTries = 150_000

// flake lays the pieces of every cup into the bait: each has its own place and its own way to lie there, and keeps both
// as the bait turns.
func (d *drawing) flake(c *canvas) {
	at := d.at
	at.ThicknessMM = mix.BodyMM
	wet := at.Water != ""
	var black, white colour.RGB
	if wet { // a piece is seen as in air, then through the water as a whole
		b, w := mix.Veil(at)
		black, white = linearOf(b.SRGB()), linearOf(w.SRGB())
		at.Water, at.DepthM, at.DistanceM = "", 0, 0
	}
	kinds := d.kinds(at)
	if len(kinds) == 0 {
		return
	}
	pieces := d.lay(kinds, at)
	lights := make([]colour.RGB, len(pieces))
	for i, q := range pieces {
		k := &kinds[q.kind]
		share := q.depth / k.deep[q.over]
		lin := k.table[q.over][q.hue][int(min(1, share)*depthSteps)]
		gain := 1 + (q.bright-1)*(1-share)
		lin = colour.RGB{R: lin.R * gain, G: lin.G * gain, B: lin.B * gain}
		if wet {
			lin = colour.RGB{
				R: black.R + lin.R*(white.R-black.R), G: black.G + lin.G*(white.G-black.G),
				B: black.B + lin.B*(white.B-black.B),
			}
		}
		lights[i] = lin
	}
	// By bands of rows, side by side; within each in their order. A piece that lies in two is stamped in both.
	const rows = 32
	close := CloseUp{PxPerMM: d.PxPerMM}
	_ = cores.EachWith(context.Background(), (c.high+rows-1)/rows, func() *stamp {
		return &stamp{CloseUp: close, to: c, r: &vector.Rasterizer{}, mask: image.NewAlpha(image.Rectangle{})}
	}, func(s *stamp, band int) error {
		s.top, s.bottom = band*rows, min(c.high, (band+1)*rows)
		for i := range pieces {
			q := &pieces[i]
			f := kinds[q.kind].flake.Flake
			if far := f.SizeMM()*d.PxPerMM + 2; q.y+far < float64(s.top) || q.y-far > float64(s.bottom) {
				continue
			}
			s.lay(f, q.pieceAt, lights[i])
		}
		return nil
	})
}

func (d *drawing) kinds(at mix.Condition) []flakeKind {
	used := make([]bool, len(d.Cups))
	for _, cup := range d.laid.cups {
		used[cup] = true
	}
	var kinds []flakeKind
	for cup, m := range d.Cups {
		if m == nil || !used[cup] {
			continue
		}
		for _, f := range m.Flakes {
			k := flakeKind{
				flake: f, cup: cup, deep: make([]float64, len(d.Cups)), table: make(
					[][][depthSteps + 1]colour.RGB, len(d.Cups),
				),
			}
			for over, cover := range d.Cups {
				if cover == nil || !used[over] {
					continue
				}
				body := cover.Body()
				if k.deep[over] = body.LegibleDepth(f.Flake, at); k.deep[over] <= 0 {
					continue
				}
				for _, hue := range body.PieceColours(f.Flake, at, k.deep[over], depthSteps) {
					var row [depthSteps + 1]colour.RGB
					for i, lab := range hue {
						row[i] = linearOf(lab.SRGB())
					}
					k.table[over] = append(k.table[over], row)
				}
				k.looks = len(k.table[over])
			}
			if k.looks > 0 {
				kinds = append(kinds, k)
			}
		}
	}
	return kinds
}

// lay finds the pieces that are seen, the deepest first.
func (d *drawing) lay(kinds []flakeKind, at mix.Condition) []laidPiece {
	var pieces []laidPiece
	for n := range kinds {
		k := &kinds[n]
		for _, q := range d.scattered(n, k) {
			cell := &d.cells[q.cell]
			cup, over := d.cupAt(cell, float64(q.depth), float64(q.chance))
			if cup != k.cup || float64(q.depth) >= k.deep[over] {
				continue
			}
			pieces = append(pieces, laidPiece{
				kind: n, over: over, pieceAt: pieceAt{
					depth: float64(q.depth), hue: int(q.hue), x: float64(q.x), y: float64(q.y), turn: float64(q.turn),
					tilt: float64(q.tilt), lean: float64(q.lean), bright: brightness(k.flake.Flake, float64(q.tilt), at),
				},
			})
		}
	}
	slices.SortStableFunc(pieces, func(a, b laidPiece) int { return cmp.Compare(b.depth, a.depth) })
	if len(pieces) > maxPieces {
		pieces = pieces[len(pieces)-maxPieces:]
	}
	return pieces
}

// scatterKey is what the places of pieces hang on, besides the bait and how it is held: no colour.
type scatterKey struct {
	seed         uint64
	kind         int
	tries, looks int
	sizeMM, deep float64
}

// scatteredPiece is a piece that is seen where the plastic before it is clear enough.
type scatteredPiece struct {
	x, y, depth, turn, tilt, lean, chance float32
	cell                                  int32
	hue                                   int16
}

// A plan keeps the places of so many pieces, of all kinds together.
const mostScattered = 60_000

// deeper is a depth that serves all a little less deep, too: a drop more of something must not lay all pieces anew.
func deeper(mm float64) float64 { return math.Exp2(math.Ceil(2*math.Log2(max(mm, 0.1))) / 2) }

// scattered are the places of a kind's pieces.
func (d *drawing) scattered(n int, k *flakeKind) []scatteredPiece {
	size := d.Shape.To.Minus(d.Shape.From)
	key := scatterKey{
		d.Seed, n, int(min(k.flake.PerMM3*size[0]*size[1]*size[2], mostTries)), k.looks, k.flake.Flake.SizeMM(),
		deeper(slices.Max(k.deep)),
	}
	p := d.BaitPlan
	p.scatters.Lock()
	all, there := p.scatters.by[key]
	p.scatters.Unlock()
	if there {
		return all
	}
	all = d.scatter(&key)
	p.scatters.Lock()
	defer p.scatters.Unlock()
	if p.scatters.by == nil || p.scatters.n+len(all) > mostScattered {
		p.scatters.by, p.scatters.n = map[scatterKey][]scatteredPiece{}, 0
	}
	if len(all) <= mostScattered {
		p.scatters.by[key] = all
		p.scatters.n += len(all)
	}
	return all
}

// scatter works them out, in handfuls, each with a chance of its own, so that they can be laid side by side and lie the
// same every time.
func (d *drawing) scatter(key *scatterKey) []scatteredPiece {
	s := &d.Shape
	size := s.To.Minus(s.From)
	const some = 4096
	laid := make([][]scatteredPiece, (key.tries+some-1)/some)
	_ = cores.Each(context.Background(), len(laid), func(i int) error {
		rng := rand.New(rand.NewPCG(key.seed, uint64(7+key.kind+i<<8)))
		for range min(some, key.tries-i*some) {
			place := bait.Vec{
				s.From[0] + rng.Float64()*size[0], s.From[1] + rng.Float64()*size[1], s.From[2] + rng.Float64()*size[2],
			}
			// Every way alike.
			up, around := 2*rng.Float64()-1, 2*math.Pi*rng.Float64()
			turn, hue, chance := rng.Float64(), rng.IntN(key.looks), rng.Float64()
			q := d.View.Of(place.Minus(d.middle))
			cell, x, y, depth := d.seenAt(q, key.deep)
			if cell < 0 || !s.Holds(place) || float64(d.cells[cell].mm) < key.sizeMM*thinForFlake {
				continue
			}
			sin, cos := math.Sincos(around)
			flat := math.Sqrt(1 - up*up)
			way := d.View.Of(bait.Vec{flat * cos, flat * sin, up})
			laid[i] = append(laid[i], scatteredPiece{
				x: float32(x), y: float32(y), depth: float32(depth), turn: float32(turn * 2 * math.Pi),
				tilt: float32(math.Acos(max(edgeOn, math.Abs(way[2])))), lean: float32(math.Atan2(-way[1], way[0])),
				chance: float32(chance), cell: int32(cell), hue: int16(hue),
			})
		}
		return nil
	})
	return slices.Concat(laid...)
}

// seenAt is where in the picture a place inside the bait is seen, through the bent light, in which cell, and how deep
// it lies; -1 where it is not, or deeper than can matter.
func (d *drawing) seenAt(q bait.Vec, deepest float64) (number int, x, y, depth float64) {
	px := func(mx, my float64) (float64, float64) {
		return mx*d.PxPerMM + float64(d.Width)/2, float64(d.Height)/2 - my*d.PxPerMM
	}
	sx, sy := q[0], q[1]
	for range 3 {
		x, y = px(sx, sy)
		if number = d.under(x, y); number < 0 {
			return -1, 0, 0, 0
		}
		cell := &d.cells[number]
		down := float64(cell.in) - q[2]
		if down < 0 || down > 2*deepest+1 {
			return -1, 0, 0, 0
		}
		way := bent(cell.out(), d.index())
		depth = down / -way.z
		sx, sy = q[0]-way.x*depth, q[1]-way.y*depth
	}
	if depth > deepest || depth > float64(d.cells[number].mm) {
		return -1, 0, 0, 0
	}
	x, y = px(sx, sy)
	return number, x, y, depth
}

// cupAt is the cup that fills a depth, and the one that lies in front of it. In a blend it is either, by chance.
func (d *drawing) cupAt(cell *planCell, depth, chance float64) (cup, over int) {
	i := d.start[cell.pixel]
	over = -1
	for _, r := range d.laid.runs(d.BaitPlan, int(i), 0) {
		cup = d.laid.cups[r.part]
		if chance < float64(r.share) {
			cup = d.laid.cups[r.other]
		}
		if over < 0 {
			over = cup
		}
		if depth -= float64(r.mm); depth <= 0 {
			break
		}
	}
	return cup, max(over, 0)
}

// stamp lays pieces into some rows of a picture of linear light.
type stamp struct {
	CloseUp
	to          *canvas
	r           *vector.Rasterizer
	mask        *image.Alpha
	top, bottom int
}

func (s *stamp) lay(f *material.Flake, p pieceAt, rgb colour.RGB) {
	under := s.trace(s.r, f, p)
	w, h := under.Dx(), under.Dy()
	if under.Max.Y <= s.top || under.Min.Y >= s.bottom {
		return
	}
	if cap(s.mask.Pix) < w*h {
		s.mask.Pix = make([]uint8, w*h)
	}
	*s.mask = image.Alpha{Pix: s.mask.Pix[:w*h], Stride: w, Rect: image.Rect(0, 0, w, h)}
	clear(s.mask.Pix)
	s.r.Draw(s.mask, s.mask.Rect, image.Opaque, image.Point{})
	for y := max(s.top, under.Min.Y); y < min(s.bottom, under.Max.Y); y++ {
		for x := max(0, under.Min.X); x < min(s.to.wide, under.Max.X); x++ {
			if a := s.mask.Pix[(y-under.Min.Y)*w+x-under.Min.X]; a > 0 {
				i := y*s.to.wide + x
				s.to.pix[i] = mixRGB(s.to.pix[i], rgb, float64(a)/255*float64(s.to.cover[i]))
			}
		}
	}
}
