package reference_test

import (
	"fmt"

	"cloudburst/core/colour"
	"cloudburst/core/reference"
)

// Five baits of one bag; the fourth is not typical of it.
func Example() {
	var bag []reference.Sampled
	for i, l := range []float64{50, 50.6, 49.5, 62, 50.2} {
		bag = append(bag, reference.Sampled{Sample: i + 1, Part: "back", Lab: colour.Lab{L: l, A: 10, B: 30}})
	}
	fmt.Println(reference.SpreadOf(bag).Says)
	// Output:
	// Bait 4 is not typical of this bag: it lies ΔE00 11 off where the others keep together. Set it aside?
}
