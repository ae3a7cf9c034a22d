package picture

import (
	"image"
	"image/png"
	"io"
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/optics"
	"cloudburst/core/recipe"
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

// WedgeSize says how large a wedge is drawn, in pixels.
type WedgeSize struct {
	Width, Strip int // Strip is the height of one ground's strip
}

// Wedge draws the mix from film to cup, one strip a ground from top to bottom, with nothing between the
// strips. No shading, no edge: these are colours to be judged.
func Wedge(m *recipe.Mix, light colour.Light, size WedgeSize, grounds ...optics.Ground) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, size.Width, size.Strip*len(grounds)))
	for x := range size.Width {
		piece := m.At(WedgeMM((float64(x) + 0.5) / float64(size.Width)))
		for i, g := range grounds {
			seen := g.See(&piece)
			c := light.Lab(&seen).SRGB()
			at := img.PixOffset(x, i*size.Strip)
			img.Pix[at], img.Pix[at+1], img.Pix[at+2], img.Pix[at+3] = c.R, c.G, c.B, 255
		}
	}
	for i := range grounds { // a strip is the same in every row
		first := img.Pix[i*size.Strip*img.Stride:][:img.Stride]
		for row := 1; row < size.Strip; row++ {
			copy(img.Pix[(i*size.Strip+row)*img.Stride:], first)
		}
	}
	return img
}

// BenchWedge is what the bench asks for: wide enough that a step of colour is never a visible stripe. A strip
// is the same from top to bottom, so one row each is sent and the screen stretches it.
var BenchWedge = WedgeSize{Width: 720, Strip: 1}

// EncodePNG writes a picture fast rather than small: it crosses a room, not an ocean.
func EncodePNG(w io.Writer, img image.Image) error {
	return (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(w, img)
}
