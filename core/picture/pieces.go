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
	r := &vector.Rasterizer{}
	close := CloseUp{PxPerMM: d.PxPerMM}
	mask := image.NewAlpha(image.Rectangle{})
	for _, q := range pieces {
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
		close.stamp(c, r, mask, k.flake.Flake, q.pieceAt, lin)
	}
}

func (d *drawing) kinds(at mix.Condition) []flakeKind {
	used := make([]bool, len(d.Cups))
	for _, cup := range d.cups {
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
	s := &d.Shape
	size := s.To.Minus(s.From)
	box := size[0] * size[1] * size[2]
	// In handfuls, each with a chance of its own, so that they can be laid side by side and lie the same every time.
	type handful struct{ kind, number, tries int }
	var all []handful
	const some = 4096
	for n := range kinds {
		for k, left := 0, int(min(kinds[n].flake.PerMM3*box, mostTries)); left > 0; k, left = k+1, left-some {
			all = append(all, handful{n, k, min(some, left)})
		}
	}
	laid := make([][]laidPiece, len(all))
	_ = cores.Each(context.Background(), len(all), func(i int) error {
		n := all[i].kind
		k := &kinds[n]
		mm := k.flake.Flake.SizeMM()
		deepest := slices.Max(k.deep)
		rng := rand.New(rand.NewPCG(d.Seed, uint64(7+n+all[i].number<<8)))
		var pieces []laidPiece
		for range all[i].tries {
			place := bait.Vec{
				s.From[0] + rng.Float64()*size[0], s.From[1] + rng.Float64()*size[1], s.From[2] + rng.Float64()*size[2],
			}
			// Every way alike.
			up, around := 2*rng.Float64()-1, 2*math.Pi*rng.Float64()
			turn, hue, chance := rng.Float64(), rng.IntN(k.looks), rng.Float64()
			q := d.View.Of(place.Minus(d.middle))
			cell, x, y, depth := d.seenAt(q, deepest)
			if cell == nil || !s.Holds(place) || float64(cell.mm) < mm*thinForFlake {
				continue
			}
			cup, over := d.cupAt(cell, depth, chance)
			if cup != k.cup || depth >= k.deep[over] {
				continue
			}
			sin, cos := math.Sincos(around)
			flat := math.Sqrt(1 - up*up)
			way := d.View.Of(bait.Vec{flat * cos, flat * sin, up})
			tilt := math.Acos(max(edgeOn, math.Abs(way[2])))
			pieces = append(pieces, laidPiece{
				kind: n, over: over,
				pieceAt: pieceAt{
					depth: depth, hue: hue, x: x, y: y, turn: turn * 2 * math.Pi, tilt: tilt,
					lean:   math.Atan2(-way[1], way[0]),
					bright: brightness(k.flake.Flake, tilt, at),
				},
			})
		}
		laid[i] = pieces
		return nil
	})
	pieces := slices.Concat(laid...)
	slices.SortStableFunc(pieces, func(a, b laidPiece) int { return cmp.Compare(b.depth, a.depth) })
	if len(pieces) > maxPieces {
		pieces = pieces[len(pieces)-maxPieces:]
	}
	return pieces
}

// seenAt is where in the picture a place inside the bait is seen, through the bent light, and how deep it lies; nil
// where it is not, or deeper than can matter.
func (d *drawing) seenAt(q bait.Vec, deepest float64) (cell *planCell, x, y, depth float64) {
	px := func(mx, my float64) (float64, float64) {
		return mx*d.PxPerMM + float64(d.Width)/2, float64(d.Height)/2 - my*d.PxPerMM
	}
	sx, sy := q[0], q[1]
	for range 3 {
		x, y = px(sx, sy)
		if cell = d.under(x, y); cell == nil {
			return nil, 0, 0, 0
		}
		down := float64(cell.in) - q[2]
		if down < 0 || down > 2*deepest+1 {
			return nil, 0, 0, 0
		}
		way := bent(vec(cell.normal), d.index())
		depth = down / -way[2]
		sx, sy = q[0]-way[0]*depth, q[1]-way[1]*depth
	}
	if depth > deepest || depth > float64(cell.mm) {
		return nil, 0, 0, 0
	}
	x, y = px(sx, sy)
	return cell, x, y, depth
}

// cupAt is the cup that fills a depth, and the one that lies in front of it. In a blend it is either, by chance.
func (d *drawing) cupAt(cell *planCell, depth, chance float64) (cup, over int) {
	i := d.start[cell.pixel]
	over = -1
	for _, r := range d.laid.runs(d.BaitPlan, int(i), 0) {
		cup = d.cups[r.part]
		if chance < float64(r.share) {
			cup = d.cups[r.other]
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

// stamp lays a piece into a picture of linear light.
func (c CloseUp) stamp(
	to *canvas, r *vector.Rasterizer, mask *image.Alpha, f *material.Flake, p pieceAt, rgb colour.RGB,
) {
	under := c.trace(r, f, p)
	w, h := under.Dx(), under.Dy()
	if cap(mask.Pix) < w*h {
		mask.Pix = make([]uint8, w*h)
	}
	*mask = image.Alpha{Pix: mask.Pix[:w*h], Stride: w, Rect: image.Rect(0, 0, w, h)}
	clear(mask.Pix)
	r.Draw(mask, mask.Rect, image.Opaque, image.Point{})
	for y := max(0, under.Min.Y); y < min(to.high, under.Max.Y); y++ {
		for x := max(0, under.Min.X); x < min(to.wide, under.Max.X); x++ {
			if a := mask.Pix[(y-under.Min.Y)*w+x-under.Min.X]; a > 0 {
				i := y*to.wide + x
				to.pix[i] = mixRGB(to.pix[i], rgb, float64(a)/255*float64(to.cover[i]))
			}
		}
	}
}
