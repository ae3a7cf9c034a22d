package photo_test

import (
	"fmt"
	"image"
	"image/color"

	"cloudburst/core/photo"
)

// A pin on an even patch; with no light undone, no error can be claimed.
func Example() {
	img := image.NewRGBA(image.Rect(0, 0, 60, 60))
	for i := range 60 * 60 {
		img.Set(i%60, i/60, color.RGBA{R: 200, G: 120, B: 40, A: 255})
	}
	reading, _ := photo.Sample(photo.Take(img), photo.Disc{X: 30, Y: 30, Radius: 10}, nil)
	fmt.Printf("%.0f %.0f %.0f, light undone: %t\n", reading.Lab.L, reading.Lab.A, reading.Lab.B, !reading.Unlit)
	// Output:
	// 58 25 54, light undone: false
}
