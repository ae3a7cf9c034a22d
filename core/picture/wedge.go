package picture

import (
	"image"
	"image/png"
	"io"
	"math"
	"sync"

	"cloudburst/core/colour"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// The wedge runs from a thin film to the bottom of a cup, on a log scale.
const (
	WedgeFromMM = 0.3
	WedgeToMM   = 60.0
)

// Mark is a place on the wedge that has a name.
type Mark struct {
	Name string  `json:"name"`
	MM   float64 `json:"mm"`
}

// Marks are the named places of the wedge, thin to thick.
func Marks() []Mark {
	return []Mark{{"film", 0.3}, {"fin", 1.5}, {"body", 10}, {"cup", 60}}
}

// WedgeMM is the thickness at a share of the wedge's width, 0 at the film, 1 at the cup.
func WedgeMM(share float64) float64 {
	return WedgeFromMM * math.Pow(WedgeToMM/WedgeFromMM, share)
}

// WedgeScale is the thickness at even steps of the wedge's width, from end to end.
func WedgeScale() []float64 {
	const steps = 100
	out := make([]float64, steps+1)
	for i := range out {
		out[i] = WedgeMM(float64(i) / steps)
	}
	return out
}

// WedgeSize says how large a wedge is drawn, in pixels.
type WedgeSize struct {
	Width, Strip int // Strip is the height of one ground's strip
}

// wedgeNodes is how many thicknesses are worked out. Between them Lab runs so evenly that a straight line is nearer
// than one step of the screen; screen colours would not, where the gamut ends.
const wedgeNodes = 120

// Wedge draws the mix from film to cup, one strip a ground from top to bottom, with nothing between the strips, seen
// under the rest of the condition. No shading, no edge: these are colours to be judged.
func Wedge(m *mix.Mix, at mix.Condition, size WedgeSize, grounds ...optics.Ground) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, size.Width, size.Strip*len(grounds)))
	nodes := make([][]colour.Lab, wedgeNodes+1)
	for n := range nodes {
		at.ThicknessMM = WedgeMM(float64(n) / wedgeNodes)
		nodes[n] = m.Colours(at, grounds...)
	}
	for i := range grounds {
		row := img.Pix[i*size.Strip*img.Stride:][:img.Stride]
		for x := range size.Width {
			where := (float64(x) + 0.5) / float64(size.Width) * wedgeNodes
			n := int(where)
			p, q, f := nodes[n][i], nodes[n+1][i], where-float64(n)
			c := colour.Lab{L: p.L + (q.L-p.L)*f, A: p.A + (q.A-p.A)*f, B: p.B + (q.B-p.B)*f}.SRGB()
			row[4*x], row[4*x+1], row[4*x+2], row[4*x+3] = c.R, c.G, c.B, 255
		}
		for more := 1; more < size.Strip; more++ { // a strip is the same in every row
			copy(img.Pix[(i*size.Strip+more)*img.Stride:], row)
		}
	}
	return img
}

// BenchWedge is what the bench asks for: wide enough that a step of colour is never a visible stripe. A strip
// is the same from top to bottom, so one row each is sent and the screen stretches it.
var BenchWedge = WedgeSize{Width: 720, Strip: 1}

// EncodePNG writes a picture fast rather than small: it crosses a room, not an ocean.
func EncodePNG(w io.Writer, img image.Image) error {
	return (&png.Encoder{CompressionLevel: png.BestSpeed, BufferPool: &buffers}).Encode(w, img)
}

// buffers are what a PNG is written through, used again: each is over a megabyte.
var buffers bufferPool

type bufferPool struct{ sync.Pool }

func (p *bufferPool) Get() *png.EncoderBuffer {
	b, _ := p.Pool.Get().(*png.EncoderBuffer)
	return b
}

func (p *bufferPool) Put(b *png.EncoderBuffer) { p.Pool.Put(b) }
