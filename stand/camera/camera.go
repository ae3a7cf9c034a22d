// Package camera stands in for a camera: it makes the photo that one would take of a bait on white paper, from
// cups as the core predicts them, with what real shots bring along (uneven light, a cast, glare, noise).
package camera

import (
	"image"
	"image/color"
	"math"
	"math/rand/v2"
	"sync"

	"cloudburst/core/colour"
	"cloudburst/core/optics"
	"cloudburst/core/recipe"
)

// Scene is what stands before the camera and how it is lit.
type Scene struct {
	Back, Belly *recipe.Mix // upper and lower half of the bait
	Cast        colour.RGB  // what the camera makes of white, per channel in linear light; {1,1,1} is right
	Exposure    float64     // of white paper, in linear light; 0.8 leaves some room
	Glare       bool        // a streak of light along the back
	Noise       float64     // standard deviation in encoded steps of 1/255
	Seed        uint64
}

// The picture's size in pixels, and the bait's places in it.
const (
	Width, Height = 1200, 750
	bodyMM        = 11.0 // thickness in the middle
	tailMM        = 2.2
)

// Shoot takes the photo.
func Shoot(s Scene) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, Width, Height))
	rng := rand.New(rand.NewPCG(s.Seed, 1))
	back, belly := tableOf(s.Back), tableOf(s.Belly)
	paper := colour.RGB{R: 0.88, G: 0.88, B: 0.88}
	for y := range Height {
		for x := range Width {
			mm, lower := thickness(float64(x), float64(y))
			lin := paper
			if mm > 0 {
				table := back
				if lower {
					table = belly
				}
				lin = table[min(tableSize-1, int(mm/bodyMM*(tableSize-1)))]
			}
			lit := s.Exposure / 0.88 * falloff(x, y)
			extra := 0.0
			if s.Glare && mm > 0 {
				extra = 0.9 * math.Exp(-sq((float64(y)-308-0.02*float64(x-500))/7)) * math.Exp(-sq(float64(x-470)/190))
			}
			px := [3]float64{lin.R * s.Cast.R, lin.G * s.Cast.G, lin.B * s.Cast.B}
			var out [3]uint8
			for i, v := range px {
				encoded := 255*colour.Encode(min(1, max(0, v*lit+extra))) + s.Noise*rng.NormFloat64()
				out[i] = uint8(min(255, max(0, math.Round(encoded))))
			}
			img.SetRGBA(x, y, color.RGBA{out[0], out[1], out[2], 255})
		}
	}
	return img
}

// falloff is how the light sinks from the middle to the corners, 14 % at most.
func falloff(x, y int) float64 {
	r := math.Hypot(float64(x-Width/2), float64(y-Height/2)) / math.Hypot(Width/2, Height/2)
	return 1 - 0.14*r*r
}

// thickness is the bait at a pixel, 0 beside it, and whether its lower half lies there: a body that tapers to a
// thin stem, and a flat paddle at its end.
func thickness(x, y float64) (mm float64, lower bool) {
	const axis, nose, body, end, deep, thin = 375.0, 130.0, 900.0, 985.0, 112.0, 17.0
	lower = y > axis+12
	// The paddle: an egg that hangs at the end of the stem.
	if r := sq((x-1010)/58) + sq((y-axis-14)/98); r < 1 {
		mm = max(tailMM*math.Sqrt(math.Min(1, 3*(1-r))), 0.4)
	}
	if x > nose && x <= end {
		along := min(1, (x-nose)/(body-nose))
		half := deep * math.Pow(math.Sin(math.Pi*math.Pow(along, 0.56)), 0.7) // steep at the nose, long towards the tail
		if along > 0.5 {
			half = max(half, thin)
		}
		if across := (y - axis) / half; math.Abs(across) < 1 {
			mm = max(mm, bodyMM*math.Pow(half/deep, 0.8)*math.Sqrt(1-across*across))
		}
	}
	return mm, lower
}

// shape is the bait's thickness by pixel, worked out once; below 0 in its lower half.
var shape = sync.OnceValue(func() []float32 {
	out := make([]float32, Width*Height)
	for y := range Height {
		for x := range Width {
			mm, lower := thickness(float64(x), float64(y))
			if lower {
				mm = -mm
			}
			out[y*Width+x] = float32(mm)
		}
	}
	return out
})

const tableSize = 200

// tableOf is the mix on white paper by thickness, in linear screen light.
func tableOf(m *recipe.Mix) (table [tableSize]colour.RGB) {
	for i := range table {
		mm := max(0.05, bodyMM*float64(i)/(tableSize-1))
		c := m.Colour(recipe.Condition{ThicknessMM: mm, Ground: optics.White, Light: colour.D65}).SRGB()
		table[i] = colour.RGB{R: colour.Decode(float64(c.R) / 255), G: colour.Decode(float64(c.G) / 255), B: colour.Decode(float64(c.B) / 255)}
	}
	return table
}

func sq(v float64) float64 { return v * v }
