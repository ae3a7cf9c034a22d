// Package camera stands in for a camera: it makes the photo that one would take of a bait on white paper, from
// cups as the core predicts them, with what real shots bring along (uneven light, a cast, glare, noise).
package camera

import (
	"sync"

	"cloudburst/core/bait"
)

// The picture's size in pixels, and the bait's places in it.
const (
	Width, Height = 1200, 750
	bodyMM        = 13.0 // no part is thicker
)

// It is a fork-tail minnow, thicker than usual, so that its body is deep in colour and its lobes are thin.
const (
	axis, nose, pxPerMM = 375.0, 130.0, 12.34
	deepMM              = 14.0 // side to side, with its fins
)

var minnow = sync.OnceValue(func() bait.Shape {
	s, err := bait.Find("drop-shot-minnow")
	if err != nil {
		panic(err) // it is one of ours
	}
	height, _ := s.Size()
	return s.Scaled(s.ToX, height, deepMM)
})

// thickness is the bait at a pixel, 0 beside it, and whether its lower half lies there.
func thickness(x, y float64) (mm float64, lower bool) {
	s := minnow()
	return s.At((x-nose)/pxPerMM, (axis-y)/pxPerMM), y > axis+12
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
