package camera

import (
	"image"
	"image/color"
	"math"
	"math/rand/v2"

	"cloudburst/core/colour"
	"cloudburst/core/mix"
	"cloudburst/core/picture"
)

// CloseUp is a shot of flake from near, on even light, with what a lens and a sensor do to it. It knows the truth of
// what it shows.
type CloseUp struct {
	Mix      *mix.Mix
	At       mix.Condition
	PxPerMM  float64
	EV       float64
	Vignette float64
	Gradient float64
	Blur     float64 // of the lens, px
	Noise    float64 // of an encoded step
	Seed     uint64
	Uneven   float64 // how unevenly the flake is cut: the spread of its size's logarithm
}

// closeUpSize is such a shot's size in pixels.
var closeUpSize = image.Pt(1040, 640)

// These are what an eye still tells in a close-up: the share of a piece that shows, how far it is turned to the eye,
// its log ratio to the base.
const seenShare, seenCos, seenRatio = 0.35, 0.15, 0.12

// Shoot takes the photo, and says which of the pieces in it an eye can tell.
func (c CloseUp) Shoot() (*image.RGBA, []picture.Lain) {
	drawn, lain := picture.CloseUp{
		Width: closeUpSize.X, Height: closeUpSize.Y, PxPerMM: c.PxPerMM, Seed: c.Seed, Uneven: c.Uneven,
	}.Lay(c.Mix, c.At)
	rng := rand.New(rand.NewPCG(c.Seed, 3))
	w, h := closeUpSize.X, closeUpSize.Y
	var light [3][]float64
	for ch := range light {
		light[ch] = make([]float64, w*h)
		for i := range light[ch] {
			light[ch][i] = colour.Decode(float64(drawn.Pix[4*i+ch]) / 255)
		}
		blur(light[ch], w, h, c.Blur)
	}
	turn := 2 * math.Pi * rng.Float64()
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			u, v := float64(2*x)/float64(w)-1, float64(2*y)/float64(h)-1
			gain := math.Exp2(c.EV) * (1 - c.Vignette*(u*u+v*v)/2) * (1 +
				c.Gradient*(u*math.Cos(turn)+v*math.Sin(turn))/2)
			var out [3]uint8
			for ch := range out {
				e := colour.Encode(min(1, light[ch][y*w+x]*gain))
				out[ch] = uint8(min(255, max(0, math.Round(255*e+c.Noise*rng.NormFloat64()))))
			}
			img.SetRGBA(x, y, color.RGBA{R: out[0], G: out[1], B: out[2], A: 255})
		}
	}
	var seen []picture.Lain
	for _, p := range lain {
		if p.Shown > seenShare && p.TiltCos > seenCos && p.Contrast > seenRatio {
			seen = append(seen, p)
		}
	}
	return img, seen
}

// blur is Gaussian, along and across.
func blur(v []float64, w, h int, sigma float64) {
	if sigma <= 0 {
		return
	}
	n := int(math.Ceil(3 * sigma))
	kernel := make([]float64, 2*n+1)
	sum := 0.0
	for i := range kernel {
		d := float64(i-n) / sigma
		kernel[i] = math.Exp(-d * d / 2)
		sum += kernel[i]
	}
	out := make([]float64, len(v))
	for _, step := range []int{1, w} {
		for i := range v {
			at, length := i%w, w
			if step == w {
				at, length = i/w, h
			}
			acc := 0.0
			for k, weight := range kernel {
				acc += weight * v[i+step*(min(length-1, max(0, at+k-n))-at)]
			}
			out[i] = acc / sum
		}
		copy(v, out)
	}
}
