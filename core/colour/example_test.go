package colour_test

import (
	"fmt"

	"cloudburst/core/colour"
)

// A paper that throws back nine tenths of every band, in daylight.
func Example() {
	paper := colour.Flat(0.9)
	lab := colour.D65.Lab(&paper)
	fmt.Printf("%.1f %.1f %.1f %s\n", lab.L, lab.A, lab.B, lab.SRGB().Hex())
	fmt.Printf("%.2f\n", colour.DeltaE00(lab, colour.Lab{L: 90}))
	// Output:
	// 96.0 0.0 0.0 #f3f3f3
	// 3.65
}
