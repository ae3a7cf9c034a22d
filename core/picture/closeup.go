package picture

import (
	"cmp"
	"image"
	"image/color"
	"image/draw"
	"math"
	"math/rand/v2"
	"slices"

	"golang.org/x/image/vector"

	"cloudburst/core/colour"
	"cloudburst/core/material"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// CloseUp says how a piece of the mix is drawn close up.
type CloseUp struct {
	Width, Height int // pixels
	// true scale is what the screen makes of it; a bar beside the picture says how long a millimetre is
	PxPerMM float64
	Seed    uint64  // the same seed lays the same pieces
	Uneven  float64 // how unevenly pieces are cut: the spread of their size's logarithm
}

// BenchCloseUp is what the bench asks for at every tap, PageCloseUp what a material's own page does.
var (
	BenchCloseUp = CloseUp{Width: 320, Height: 160, PxPerMM: 8}
	PageCloseUp  = CloseUp{Width: 416, Height: 240, PxPerMM: 10}
)

// maxPieces bounds the work; beyond it the deepest are left out, which nobody sees.
const maxPieces = 4000

// depthSteps is how many depths a piece's colour is worked out for.
const depthSteps = 10

// edgeOn is the cosine of the tilt at which all that shows of a piece is its edge.
const edgeOn = 0.02

type pieceAt struct {
	depth      float64
	flake, hue int
	x, y       float64 // px
	turn, tilt float64 // in the plane, and away from the viewer, radians
	lean       float64 // which way it is tilted
	bright     float64
	uneven     float64 // how much larger than its flake says, as a logarithm
}

// Draw shows the body between the pieces, evenly, and the pieces on it in true size and number, each with its own tilt:
// nearer pieces lie over deeper ones, and each reads through the body above it.
func (c CloseUp) Draw(m *mix.Mix, at mix.Condition) *image.RGBA {
	img, _ := c.draw(m, at, false)
	return img
}

// Lain is a piece of a close-up as it was drawn.
type Lain struct {
	Flake    int // of the mix
	X, Y     float64
	TiltCos  float64
	Contrast float64 // the largest log ratio of its light to the base's, over the channels
	Shown    float64 // share of its pixels that no nearer piece hides
}

// Lay draws and says where the pieces are and what shows of them: the truth for counting them.
func (c CloseUp) Lay(m *mix.Mix, at mix.Condition) (*image.RGBA, []Lain) {
	return c.draw(m, at, true)
}

func (c CloseUp) draw(m *mix.Mix, at mix.Condition, tell bool) (*image.RGBA, []Lain) {
	pad := 4 // a piece at the edge is drawn whole, then cut off with the margin
	for _, f := range m.Flakes {
		pad = max(pad, int(f.Flake.SizeMM()*c.PxPerMM)+4)
	}
	img := image.NewRGBA(image.Rect(-pad, -pad, c.Width+pad, c.Height+pad))
	body := m.Body()
	ground := body.Colour(at).SRGB()
	fill(img, ground)
	base := linearOf(ground)
	pieces, kinds := c.strew(m, at)
	r := &vector.Rasterizer{}
	var told *telling
	if tell {
		told = &telling{top: make([]int32, len(img.Pix)/4)}
	}
	for _, p := range pieces {
		f := m.Flakes[p.flake].Flake
		k := &kinds[p.flake]
		lin := k.hues[p.hue][int(p.depth/k.deepMM*depthSteps)]
		sharp := 1 - p.depth/k.deepMM // a blurred piece's flash is blurred, too
		gain := 1 + (p.bright-1)*sharp
		lin = colour.RGB{R: lin.R * gain, G: lin.G * gain, B: lin.B * gain}
		if same(base, lin) { // scatter has blurred it away
			continue
		}
		alpha := 1.0
		if f.SeesThrough() {
			alpha = 0.75
		}
		rgb := mixRGB(base, lin, alpha)
		under := c.drawPiece(img, r, f, p, rgb)
		if told != nil {
			told.add(
				Lain{
					Flake: p.flake, X: p.x, Y: p.y, TiltCos: math.Cos(p.tilt), Contrast: logRatio(base, rgb),
				}, r, under, img,
			)
		}
	}
	out := image.NewRGBA(image.Rect(0, 0, c.Width, c.Height))
	draw.Draw(out, out.Bounds(), img, image.Point{}, draw.Src)
	return out, told.list()
}

// legible is how a kind of flake shows: how deep it does, and its colours by hue and depth.
type legible struct {
	deepMM float64
	hues   [][depthSteps + 1]colour.RGB
}

// strew lets a mix's pieces fall by chance, the deepest first.
func (c CloseUp) strew(m *mix.Mix, at mix.Condition) ([]pieceAt, []legible) {
	rng := rand.New(rand.NewPCG(c.Seed, 7))
	body := m.Body()
	var pieces []pieceAt
	kinds := make([]legible, len(m.Flakes))
	for i, f := range m.Flakes {
		deep := body.LegibleDepth(f.Flake, at)
		if kinds[i].deepMM = deep; deep <= 0 {
			continue
		}
		hues := body.PieceColours(f.Flake, at, deep, depthSteps)
		kinds[i].hues = make([][depthSteps + 1]colour.RGB, len(hues))
		for h := range hues {
			for d, lab := range hues[h] {
				kinds[i].hues[h][d] = linearOf(lab.SRGB())
			}
		}
		area := float64(c.Width) * float64(c.Height) / (c.PxPerMM * c.PxPerMM)
		count := min(f.PerMM3*area*deep, maxPieces)
		for range int(count + rng.Float64()) {
			p := pieceAt{
				depth: deep * rng.Float64(), flake: i, hue: rng.IntN(len(hues)),
				x: rng.Float64() * float64(c.Width), y: rng.Float64() * float64(c.Height),
				turn: rng.Float64() * 2 * math.Pi, tilt: tilted(rng), lean: rng.Float64() * 2 * math.Pi,
			}
			if c.Uneven > 0 {
				p.uneven = c.Uneven * rng.NormFloat64()
			}
			p.bright = brightness(f.Flake, p.tilt, at)
			pieces = append(pieces, p)
		}
	}
	slices.SortFunc(pieces, func(a, b pieceAt) int { return cmp.Compare(a.depth, b.depth) })
	pieces = pieces[:min(len(pieces), maxPieces)]
	slices.Reverse(pieces)
	return pieces, kinds
}

// telling keeps what was drawn, and how much of each piece the later ones leave to be seen.
type telling struct {
	lain []Lain
	own  []int   // pixels of each piece
	top  []int32 // which piece lies uppermost at a pixel, 0 for none, else one more than its number
}

// add takes a piece that was just drawn, whose outline r still holds.
func (t *telling) add(l Lain, r *vector.Rasterizer, under image.Rectangle, img *image.RGBA) {
	t.lain = append(t.lain, l)
	mask := image.NewAlpha(under)
	r.Draw(mask, under, image.Opaque, image.Point{})
	own := 0
	for y := under.Min.Y; y < under.Max.Y; y++ {
		for x := under.Min.X; x < under.Max.X; x++ {
			if mask.AlphaAt(x, y).A > 127 {
				own++
				if image.Pt(x, y).In(img.Rect) {
					t.top[img.PixOffset(x, y)/4] = int32(len(t.lain))
				}
			}
		}
	}
	t.own = append(t.own, own)
}

func (t *telling) list() []Lain {
	if t == nil {
		return nil
	}
	for _, id := range t.top {
		if id > 0 {
			t.lain[id-1].Shown += 1 / float64(t.own[id-1])
		}
	}
	return t.lain
}

// logRatio is the largest of the channels'.
func logRatio(base, c colour.RGB) float64 {
	least := func(v float64) float64 { return max(v, 1e-3) }
	return max(
		math.Abs(math.Log(least(c.R)/least(base.R))), math.Abs(math.Log(least(c.G)/least(base.G))),
		math.Abs(math.Log(least(c.B)/least(base.B))),
	)
}

// brightness is how a piece's tilt changes it: a mirror that faces the light flashes, one that does not goes dim. On
// average over all tilts it is about as bright as its colour says.
func brightness(f *material.Flake, tilt float64, at mix.Condition) float64 {
	if f.Finish == material.Plain {
		return 0.85 + 0.3*math.Cos(tilt)
	}
	dir := at.Light.Directional()
	off := (tilt*180/math.Pi - 20 - at.TiltDeg) / 9
	flash := math.Exp(-off * off / 2)
	return (1-dir)*(0.75+0.4*math.Cos(tilt)) + dir*(0.55+4*flash)
}

func (c CloseUp) drawPiece(
	img *image.RGBA, r *vector.Rasterizer, f *material.Flake, p pieceAt, rgb colour.RGB,
) image.Rectangle {
	under := c.trace(r, f, p)
	fill := image.NewUniform(color.RGBA{R: encode8(rgb.R), G: encode8(rgb.G), B: encode8(rgb.B), A: 255})
	r.Draw(img, under, fill, image.Point{})
	return under
}

// trace lays a piece's outline into the rasteriser, and says where in the picture that is.
func (c CloseUp) trace(r *vector.Rasterizer, f *material.Flake, p pieceAt) image.Rectangle {
	size := math.Exp(p.uneven) * f.SizeMM() * c.PxPerMM
	corners := outline(f.Shape, size, p)
	minX, minY, maxX, maxY := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	// A tilted piece is shorter along the way that it leans.
	short := math.Cos(p.tilt)
	sin, cos := math.Sincos(p.lean)
	for i, q := range corners {
		along, across := q[0]*cos+q[1]*sin, -q[0]*sin+q[1]*cos
		along *= short
		corners[i] = [2]float64{p.x + along*cos - across*sin, p.y + along*sin + across*cos}
		minX, maxX = min(minX, corners[i][0]), max(maxX, corners[i][0])
		minY, maxY = min(minY, corners[i][1]), max(maxY, corners[i][1])
	}
	x0, y0 := int(math.Floor(minX)), int(math.Floor(minY))
	w, h := int(math.Ceil(maxX))-x0+1, int(math.Ceil(maxY))-y0+1
	r.Reset(w, h)
	for i, q := range corners {
		x, y := float32(q[0]-float64(x0)), float32(q[1]-float64(y0))
		if i == 0 {
			r.MoveTo(x, y)
		} else {
			r.LineTo(x, y)
		}
	}
	r.ClosePath()
	return image.Rect(x0, y0, x0+w, y0+h)
}

// outline gives the corners of a piece about its middle, turned in the plane.
func outline(s optics.Shape, size float64, p pieceAt) [][2]float64 {
	n, radius, first := 6, size/math.Sqrt(3), 0.0 // a hex's corners lie outside its flats
	switch s {
	case optics.Square:
		n, radius, first = 4, size/math.Sqrt2, math.Pi/4
	case optics.Irregular:
		n, radius = 5, size*0.56
	}
	out := make([][2]float64, n)
	for i := range out {
		a := p.turn + first + 2*math.Pi*float64(i)/float64(n)
		rad := radius
		if s == optics.Irregular {
			rad *= 0.7 + 0.5*math.Abs(math.Sin(7*p.turn+3*float64(i)))
		}
		out[i] = [2]float64{rad * math.Cos(a), rad * math.Sin(a)}
	}
	return out
}

// tilted is a piece's tilt: pieces lie every way alike, so the cosine is spread evenly, down to that of its thin edge.
func tilted(rng *rand.Rand) float64 { return math.Acos(edgeOn + (1-edgeOn)*rng.Float64()) }

func fill(img *image.RGBA, c colour.SRGB8) {
	for i := 0; i < len(img.Pix); i += 4 {
		img.Pix[i], img.Pix[i+1], img.Pix[i+2], img.Pix[i+3] = c.R, c.G, c.B, 255
	}
}

func linearOf(c colour.SRGB8) colour.RGB {
	return colour.RGB{
		R: colour.Decode(float64(c.R) / 255), G: colour.Decode(float64(c.G) / 255),
		B: colour.Decode(float64(c.B) / 255),
	}
}

// same says whether two colours are one on a screen.
func same(a, b colour.RGB) bool {
	const step = 0.006 // of linear light: a step or two of the screen
	return math.Abs(a.R-b.R) < step && math.Abs(a.G-b.G) < step && math.Abs(a.B-b.B) < step
}

func mixRGB(a, b colour.RGB, share float64) colour.RGB {
	return colour.RGB{R: a.R + (b.R-a.R)*share, G: a.G + (b.G-a.G)*share, B: a.B + (b.B-a.B)*share}
}
