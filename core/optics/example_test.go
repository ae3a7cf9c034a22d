package optics_test

import (
	"fmt"

	"cloudburst/core/colour"
	"cloudburst/core/optics"
)

// A green film of 2 mm that absorbs red and blue, on white paper and against the light.
func Example() {
	k := colour.Flat(0.02)
	for b := range k {
		if nm := colour.NM(b); nm < 490 || nm > 580 {
			k[b] = 0.4
		}
	}
	stack := optics.Pile(optics.Layer{K: k, S: colour.Flat(0.02), ThicknessMM: 2})
	piece := optics.InAir.Enclose(&stack)
	for _, ground := range []optics.Ground{optics.White, optics.Against} {
		seen := ground.See(&piece)
		fmt.Println(ground.Name(), colour.D65.Lab(&seen).SRGB().Hex())
	}
	// Output:
	// over white #45eb6c
	// against the light #99f1a7
}
