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
	"cloudburst/core/recipe"
)

// BaitPlan is a shape laid out on a picture: what lies under each pixel. It hangs on nothing that a tap changes, so it
// is worth keeping.
type BaitPlan struct {
	Shape         bait.Shape
	View          bait.View
	Width, Height int
	PxPerMM       float64
	mostMM        float64
	cells         []planCell // of the pixels that the bait covers
	at            []int32    // by pixel: its cell, or -1
}

type planCell struct {
	pixel   int32
	through bait.Through
	v       float32 // where its thickness lies in the table
	cover   float32 // share of the pixel that the bait covers
}

// marginMM is left free about a bait.
const marginMM = 3

// PlanBait lays a shape out.
func PlanBait(s bait.Shape, view bait.View, width, height int) *BaitPlan {
	p := &BaitPlan{
		Shape: s, View: view, Width: width, Height: height, mostMM: s.ThickestMM(), at: make([]int32, width*height),
		PxPerMM: min(float64(width)/(s.ToX-s.FromX+2*marginMM), float64(height)/(2*s.HalfY+2*marginMM)),
	}
	if view == bait.Back {
		p.mostMM = 2 * s.HalfY
	}
	x0 := (float64(width)/p.PxPerMM - (s.ToX - s.FromX)) / 2
	var col bait.Column
	// Corners of the pixels are asked, so that an edge is as soft as the share of the pixel that it covers.
	corners := [2][]bait.Through{make([]bait.Through, height+1), make([]bait.Through, height+1)}
	edge := func(px int, into []bait.Through) {
		s.Column(float64(px)/p.PxPerMM-x0+s.FromX, view, &col)
		for py := range into {
			into[py] = col.At((float64(height)/2 - float64(py)) / p.PxPerMM)
		}
	}
	edge(0, corners[0])
	for px := range width {
		edge(px+1, corners[1])
		for py := range height {
			four := [4]*bait.Through{&corners[0][py], &corners[0][py+1], &corners[1][py], &corners[1][py+1]}
			covered, thick := 0, four[0]
			for _, t := range four {
				if t.MM > 0 {
					covered++
					thick = t
				}
			}
			pixel := int32(py*width + px)
			p.at[pixel] = -1
			if covered == 0 {
				continue
			}
			if covered == 4 {
				thick = four[0]
			}
			p.at[pixel] = int32(len(p.cells))
			v := min(math.Sqrt(thick.MM/p.mostMM), 1) * tableMM
			p.cells = append(p.cells, planCell{pixel, *thick, float32(v), float32(covered) / 4})
		}
		corners[0], corners[1] = corners[1], corners[0]
	}
	return p
}

// under is what lies under a point of the picture, in pixels.
func (p *BaitPlan) under(x, y float64) (t bait.Through) {
	px, py := int(x), int(y)
	if px < 0 || py < 0 || px >= p.Width || py >= p.Height {
		return t
	}
	if i := p.at[py*p.Width+px]; i >= 0 {
		t = p.cells[i].through
	}
	return t
}

// BaitPicture is a bait to be drawn: a plan, a structure, and one or two mixes in it.
type BaitPicture struct {
	*BaitPlan
	Structure     bait.Structure
	First, Second *recipe.Mix // back or outside, and belly or core; a single bait has no second
	Seed          uint64
}

// The table that a picture is coloured from: so many thicknesses by so many shares of the two plastics.
const (
	tableMM    = 48
	tableShare = 13
)

// Draw draws the bait on its ground: at each point the thickness and the slices of plastic there, their colour by table,
// a soft shading that changes no hue, and the flake in true size and number. The same input gives the same picture, byte
// for byte.
func (p *BaitPicture) Draw(at recipe.Condition) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, p.Width, p.Height))
	paper := recipe.StackColour(nil, at).SRGB()
	fill(img, paper)
	ground := linearOf(paper)
	table := p.table(at)
	for i := range p.cells {
		cell := &p.cells[i]
		second := 0.0
		if table.shares > 1 {
			second = p.Structure.Split(cell.through, p.View).Second
		}
		c := table.at(float64(cell.v), second)
		shade := 0.9 + 0.1*cell.through.Round
		c = mixRGB(ground, colour.RGB{R: c.R * shade, G: c.G * shade, B: c.B * shade}, float64(cell.cover))
		o := 4 * cell.pixel
		img.Pix[o], img.Pix[o+1], img.Pix[o+2] = encode8(c.R), encode8(c.G), encode8(c.B)
	}
	p.flake(img, at)
	return img
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

// baitTable is the colour by thickness and by the share of the second plastic, in linear light.
type baitTable struct {
	shares int
	cells  [tableMM + 1][tableShare]colour.RGB
}

func (p *BaitPicture) table(at recipe.Condition) *baitTable {
	t := &baitTable{shares: tableShare}
	if p.Structure.Kind == bait.Single || p.Second == nil {
		t.shares = 1
	}
	for i := range t.cells {
		v := float64(i) / tableMM
		mm := max(p.mostMM*v*v, recipe.MinThicknessMM) // finer where it is thin, where colour changes fastest
		for j := range t.shares {
			share := 0.0
			if t.shares > 1 {
				share = float64(j) / (tableShare - 1)
			}
			t.cells[i][j] = linearOf(recipe.StackColour(p.slices(mm, share), at).SRGB())
		}
	}
	return t
}

// slices are front to back: a laminate's back over its belly, a core between two halves of its outside.
func (p *BaitPicture) slices(mm, second float64) []recipe.Slice {
	if p.Structure.Kind == bait.Core {
		outside := mm * (1 - second) / 2
		return []recipe.Slice{{Mix: p.First, MM: outside}, {Mix: p.Second, MM: mm * second}, {Mix: p.First, MM: outside}}
	}
	return []recipe.Slice{{Mix: p.First, MM: mm * (1 - second)}, {Mix: p.Second, MM: mm * second}}
}

func (t *baitTable) at(v, second float64) colour.RGB {
	i := min(int(v), tableMM-1)
	f := v - float64(i)
	if t.shares == 1 {
		return mixRGB(t.cells[i][0], t.cells[i+1][0], f)
	}
	w := min(max(second, 0), 1) * (tableShare - 1)
	j := min(int(w), tableShare-2)
	g := w - float64(j)
	return mixRGB(mixRGB(t.cells[i][j], t.cells[i+1][j], f), mixRGB(t.cells[i][j+1], t.cells[i+1][j+1], f), g)
}

// thinForFlake is how many times its size a section must be for a piece to get in: one that is wider folds or stays out.
const thinForFlake = 1.0

// flake lays the pieces of both mixes into the bait.
func (p *BaitPicture) flake(img *image.RGBA, at recipe.Condition) {
	scale := p.PxPerMM
	at.ThicknessMM = recipe.BodyMM
	rng := rand.New(rand.NewPCG(p.Seed, 7))
	type kind struct {
		flake  recipe.FlakeIn
		table  [][depthSteps + 1]colour.RGB
		deep   float64
		second bool
	}
	var kinds []kind
	for i, m := range []*recipe.Mix{p.First, p.Second} {
		if m == nil || (i == 1 && p.Structure.Kind == bait.Single) {
			continue
		}
		body := m.Body()
		for _, f := range m.Flakes {
			k := kind{flake: f, deep: body.LegibleDepth(f.Flake, at), second: i == 1}
			if k.deep <= 0 {
				continue
			}
			for _, hue := range body.PieceColours(f.Flake, at, k.deep, depthSteps) {
				var row [depthSteps + 1]colour.RGB
				for d, lab := range hue {
					row[d] = linearOf(lab.SRGB())
				}
				k.table = append(k.table, row)
			}
			kinds = append(kinds, k)
		}
	}
	type laid struct {
		pieceAt
		kind int
	}
	var pieces []laid
	width, height := float64(p.Width)/scale, float64(p.Height)/scale
	for n := range kinds {
		k := &kinds[n]
		size := k.flake.Flake.SizeMM()
		for range int(min(k.flake.PerMM3*width*height*k.deep, 4*maxPieces)) {
			x, y := rng.Float64()*width, rng.Float64()*height
			depth := rng.Float64() * k.deep
			q := laid{kind: n, pieceAt: pieceAt{
				depth: depth, hue: rng.IntN(len(k.table)), x: x * scale, y: y * scale,
				turn: rng.Float64() * 2 * math.Pi, tilt: math.Acos(0.12 + 0.88*rng.Float64()), lean: rng.Float64() * 2 * math.Pi,
			}}
			t := p.under(x*scale, y*scale)
			if t.MM < size*thinForFlake || depth > t.MM {
				continue
			}
			cut := p.Structure.Split(t, p.View)
			behind := cut.First*t.MM < depth && depth < (cut.First+cut.Second)*t.MM
			if p.Structure.Kind == bait.Laminate && p.View == bait.Side {
				behind = cut.Second > 0.5
			}
			if behind != k.second {
				continue
			}
			q.bright = brightness(k.flake.Flake, q.tilt, at)
			pieces = append(pieces, q)
		}
	}
	slices.SortFunc(pieces, func(a, b laid) int { return cmp.Compare(b.depth, a.depth) })
	if len(pieces) > maxPieces {
		pieces = pieces[len(pieces)-maxPieces:]
	}
	pad := 4
	for _, k := range kinds {
		pad = max(pad, int(k.flake.Flake.SizeMM()*scale)+4)
	}
	if len(pieces) == 0 {
		return
	}
	wide := image.NewRGBA(image.Rect(-pad, -pad, p.Width+pad, p.Height+pad))
	draw.Draw(wide, img.Bounds(), img, image.Point{}, draw.Src)
	c := CloseUp{PxPerMM: scale}
	r := &vector.Rasterizer{}
	for _, q := range pieces {
		k := &kinds[q.kind]
		lin := k.table[q.hue][int(q.depth/k.deep*depthSteps)]
		gain := 1 + (q.bright-1)*(1-q.depth/k.deep)
		lin = colour.RGB{R: lin.R * gain, G: lin.G * gain, B: lin.B * gain}
		c.drawPiece(wide, r, k.flake.Flake, q.pieceAt, lin)
	}
	draw.Draw(img, img.Bounds(), wide, image.Point{}, draw.Src)
}
