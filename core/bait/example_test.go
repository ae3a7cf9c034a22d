package bait_test

import (
	"fmt"

	"cloudburst/core/bait"
)

// A mold of a shape in its usual size, and what comes out of it.
func Example() {
	mold := bait.NewMold("Lagoon minnow", "paddle-minnow")
	fmt.Printf("%.1f ml a bait\n", mold.VolumeML())
	// Output:
	// 9.7 ml a bait
}
