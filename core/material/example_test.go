package material_test

import (
	"fmt"

	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// What twelve drops of a typical bottle come to.
func Example() {
	for _, f := range material.Families() {
		if f.Key != "clear-red" {
			continue
		}
		bottle := f.New("my-red", "Lighthouse red")
		ml, g, _ := bottle.Take(measure.DropCount(12))
		fmt.Printf("%s: %.2f ml, %.2f g\n", bottle.Name, ml, g)
	}
	// Output:
	// Lighthouse red: 0.60 ml, 0.66 g
}
