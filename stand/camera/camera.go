// Package camera stands in for a camera: it makes the photo that one would take of a bait on white paper, from
// cups as the core predicts them, with what real shots bring along (uneven light, a cast, glare, noise).
package camera

import (
	"math"
	"sync"
)

// The picture's size in pixels, and the bait's places in it.
const (
	Width, Height = 1200, 750
	bodyMM        = 11.0 // thickness in the middle
	tailMM        = 2.2
)

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

func sq(v float64) float64 { return v * v }
