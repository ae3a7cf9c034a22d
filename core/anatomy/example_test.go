package anatomy_test

import (
	"fmt"

	"cloudburst/core/anatomy"
)

// How far two places lie from the skin of a stick: inside it is below 0.
func Example() {
	for _, b := range anatomy.All() {
		if b.Key == "stick" {
			fmt.Printf(
				"%.0f mm along its axis, %.0f mm over its back\n", b.Field(anatomy.Vec{60, 0, 0}),
				b.Field(anatomy.Vec{60, 20, 0}),
			)
		}
	}
	// Output:
	// -6 mm along its axis, 14 mm over its back
}
