package picture

import (
	"image"
	"image/png"
	"io"
	"math"

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

// wedgeNodes is how many thicknesses are worked out; between them colours run so evenly that a straight line is
// nearer than one step of the screen.
const wedgeNodes = 180

// Wedge draws the mix from film to cup, one strip a ground from top to bottom, with nothing between the strips, seen
// under the rest of the condition. No shading, no edge: these are colours to be judged.
func Wedge(m *recipe.Mix, at recipe.Condition, size WedgeSize, grounds ...optics.Ground) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, size.Width, size.Strip*len(grounds)))
	for i, g := range grounds {
		var node [wedgeNodes + 1][3]float64
		at.Ground = g
		for n := range node {
			at.ThicknessMM = WedgeMM(float64(n) / wedgeNodes)
			c := m.Colour(at).SRGB()
			node[n] = [3]float64{float64(c.R), float64(c.G), float64(c.B)}
		}
		row := img.Pix[i*size.Strip*img.Stride:][:img.Stride]
		for x := range size.Width {
			where := (float64(x) + 0.5) / float64(size.Width) * wedgeNodes
			n := int(where)
			for ch := range 3 {
				v := node[n][ch] + (node[n+1][ch]-node[n][ch])*(where-float64(n))
				row[4*x+ch] = uint8(math.Round(v))
			}
			row[4*x+3] = 255
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
	return (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(w, img)
}
