package flake_test

import (
	"context"
	"fmt"
	"image"
	"image/color"

	"cloudburst/core/flake"
	"cloudburst/core/photo"
)

// Forty-nine black squares on an amber base.
func Example() {
	img := image.NewRGBA(image.Rect(0, 0, 300, 300))
	for i := range 300 * 300 {
		x, y := i%300, i/300
		c := color.RGBA{R: 210, G: 150, B: 60, A: 255}
		if x%40 > 20 && x%40 < 32 && y%40 > 20 && y%40 < 32 {
			c = color.RGBA{R: 30, G: 25, B: 20, A: 255}
		}
		img.Set(x, y, c)
	}
	found, err := flake.Count(context.Background(), photo.Take(img), flake.Rect{X1: 300, Y1: 300}, 20)
	fmt.Println(err, len(found.Pieces))
	// Output:
	// <nil> 49
}
