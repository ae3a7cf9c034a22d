package picture

import (
	"cmp"
	"image"
	"image/draw"
	"math"
	"math/rand/v2"
	"slices"

	"golang.org/x/image/vector"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
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
}

// Draw draws the bait on its ground: at each point the thickness and the plastics there, their colour by table, a soft
// shading that changes no hue, and the flake in true size and number. Under water it hangs in the open. The same input
// gives the same picture, byte for byte.
func (p *BaitPicture) Draw(at mix.Condition) *image.RGBA {
	if at.Water != "" {
		at.Ground = optics.Dark
		if at.From == optics.FromBelow {
			at.Ground = optics.Against
		}
	}
	img := image.NewRGBA(image.Rect(0, 0, p.Width, p.Height))
	paper := mix.StackColour(nil, at).SRGB()
	fill(img, paper)
	ground := linearOf(paper)
	cutter := bait.NewCutter(&p.Shape, &p.Structure, p.Split, p.Cavity)
	parts := p.Structure.Parts()
	table := &stacks{cups: p.Cups, at: at, mostMM: p.mostMM, blends: map[[3]int]*mix.Mix{}}
	order := make([]strip, 0, 16)
	plain := p.Structure.Plain()
	look := func(cell *planCell) (colour.RGB, *stackTable) {
		if plain {
			order = append(order[:0], strip{a: parts[0].Cup, b: parts[0].Cup, mm: float64(cell.mm)})
		} else {
			t := cell.through()
			order = strips(cutter.Cut(&p.columns[cell.column], float64(cell.u), &t), parts, order)
		}
		return table.colour(order)
	}
	put := func(cell *planCell, c colour.RGB) {
		shade := 0.9 + 0.1*float64(cell.round)
		c = mixRGB(ground, colour.RGB{R: c.R * shade, G: c.G * shade, B: c.B * shade}, float64(cell.cover))
		o := 4 * cell.pixel
		img.Pix[o], img.Pix[o+1], img.Pix[o+2] = encode8(c.R), encode8(c.G), encode8(c.B)
	}
	var ahead colour.RGB
	var aheadOf *stackTable
	known := -1
	for i := 0; i < len(p.cells); {
		c, of := ahead, aheadOf
		if i != known {
			c, of = look(&p.cells[i])
		}
		put(&p.cells[i], c)
		// Down a column, away from edges, colour changes smoothly while the same plastics follow each other.
		next := i + 1
		if j := i + stride; !of.blends() && p.even(i, j) {
			ahead, aheadOf = look(&p.cells[j])
			known = j
			if aheadOf == of {
				for ; next < j; next++ {
					put(&p.cells[next], mixRGB(c, ahead, float64(next-i)/stride))
				}
			}
		}
		i = next
	}
	p.flake(img, at, cutter, parts)
	return img
}

// stride is how many pixels of a column are worked out at once where that can be.
const stride = 4

// even says whether two cells lie in one column of a body that is seen face on, with nothing but it between them.
func (p *BaitPlan) even(i, j int) bool {
	if j >= len(p.cells) {
		return false
	}
	a, b := &p.cells[i], &p.cells[j]
	return a.column == b.column && a.section == b.section && int(b.pixel-a.pixel) == stride*p.Width && min(a.round, b.round) > 0.55 && min(a.cover, b.cover) == 1 &&
		math.Abs(float64(a.mm-b.mm)) < 0.06*float64(a.mm) // no slot ends between them
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

// thinForFlake is how many times its size a section must be for a piece to get in: one that is wider folds or stays out.
const thinForFlake = 1.0

// flakeKind is a flake of one cup, as it reads through the plastic of the cup that covers it.
type flakeKind struct {
	flake mix.FlakeIn
	cup   int
	deep  []float64 // by covering cup: to where it can be told apart; 0 where never
	table [][][depthSteps + 1]colour.RGB
	looks int
}

// flake lays the pieces of every cup into the bait.
func (p *BaitPicture) flake(img *image.RGBA, at mix.Condition, cutter *bait.Cutter, parts []bait.Part) {
	scale := p.PxPerMM
	at.ThicknessMM = mix.BodyMM
	wet := at.Water != ""
	var black, white colour.RGB
	if wet { // a piece is seen as in air, then through the water as a whole
		b, w := mix.Veil(at)
		black, white = linearOf(b.SRGB()), linearOf(w.SRGB())
		at.Water, at.DepthM, at.DistanceM = "", 0, 0
	}
	rng := rand.New(rand.NewPCG(p.Seed, 7))
	used := make([]bool, len(p.Cups))
	for _, part := range parts {
		used[part.Cup] = true
	}
	var kinds []flakeKind
	for cup, m := range p.Cups {
		if m == nil || !used[cup] {
			continue
		}
		for _, f := range m.Flakes {
			k := flakeKind{flake: f, cup: cup, deep: make([]float64, len(p.Cups)), table: make([][][depthSteps + 1]colour.RGB, len(p.Cups))}
			for over, cover := range p.Cups {
				if cover == nil || !used[over] {
					continue
				}
				body := cover.Body()
				if k.deep[over] = body.LegibleDepth(f.Flake, at); k.deep[over] <= 0 {
					continue
				}
				for _, hue := range body.PieceColours(f.Flake, at, k.deep[over], depthSteps) {
					var row [depthSteps + 1]colour.RGB
					for d, lab := range hue {
						row[d] = linearOf(lab.SRGB())
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
	type laid struct {
		pieceAt
		kind, over int
	}
	var pieces []laid
	width, height := float64(p.Width)/scale, float64(p.Height)/scale
	for n := range kinds {
		k := &kinds[n]
		size := k.flake.Flake.SizeMM()
		deepest := slices.Max(k.deep)
		for range int(min(k.flake.PerMM3*width*height*deepest, 4*maxPieces)) {
			x, y := rng.Float64()*width, rng.Float64()*height
			depth, chance := rng.Float64()*deepest, rng.Float64()
			q := laid{kind: n, pieceAt: pieceAt{
				depth: depth, hue: rng.IntN(k.looks), x: x * scale, y: y * scale,
				turn: rng.Float64() * 2 * math.Pi, tilt: tilted(rng), lean: rng.Float64() * 2 * math.Pi,
			}}
			cell := p.under(x*scale, y*scale)
			if cell == nil || float64(cell.mm) < size*thinForFlake || depth > float64(cell.mm) {
				continue
			}
			t := cell.through()
			cup, over := cupAt(cutter.Cut(&p.columns[cell.column], float64(cell.u), &t), parts, depth, chance)
			if cup != k.cup || depth >= k.deep[over] {
				continue
			}
			q.over = over
			q.bright = brightness(k.flake.Flake, q.tilt, at)
			pieces = append(pieces, q)
		}
	}
	slices.SortFunc(pieces, func(a, b laid) int { return cmp.Compare(b.depth, a.depth) })
	if len(pieces) > maxPieces {
		pieces = pieces[len(pieces)-maxPieces:]
	}
	if len(pieces) == 0 {
		return
	}
	pad := 4
	for _, k := range kinds {
		pad = max(pad, int(k.flake.Flake.SizeMM()*scale)+4)
	}
	wide := image.NewRGBA(image.Rect(-pad, -pad, p.Width+pad, p.Height+pad))
	draw.Draw(wide, img.Bounds(), img, image.Point{}, draw.Src)
	c := CloseUp{PxPerMM: scale}
	r := &vector.Rasterizer{}
	for _, q := range pieces {
		k := &kinds[q.kind]
		deep := k.deep[q.over]
		lin := k.table[q.over][q.hue][int(q.depth/deep*depthSteps)]
		gain := 1 + (q.bright-1)*(1-q.depth/deep)
		lin = colour.RGB{R: lin.R * gain, G: lin.G * gain, B: lin.B * gain}
		if wet {
			lin = colour.RGB{R: black.R + lin.R*(white.R-black.R), G: black.G + lin.G*(white.G-black.G), B: black.B + lin.B*(white.B-black.B)}
		}
		c.drawPiece(wide, r, k.flake.Flake, q.pieceAt, lin)
	}
	draw.Draw(img, img.Bounds(), wide, image.Point{}, draw.Src)
}

// cupAt is the cup that fills a depth, and the one that lies in front of it. In a blend it is either, by chance.
func cupAt(runs []bait.Run, parts []bait.Part, depth, chance float64) (cup, over int) {
	over = -1
	for _, r := range runs {
		cup = parts[r.Part].Cup
		if chance < r.Share {
			cup = parts[r.Other].Cup
		}
		if over < 0 {
			over = cup
		}
		if depth -= r.MM; depth <= 0 {
			break
		}
	}
	return cup, max(over, 0)
}
