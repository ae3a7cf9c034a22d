// Package picture draws what a maker will see, as Go images: the thickness wedge of a cup, its flake close up, a bait from any side, a mold's plan.
// The same input gives the same picture, byte for byte.
//
// Read wedge.go, closeup.go, bait.go, stack.go, plan.go.
//
// Units: mm on the plastic, px on the picture; sRGB.
package picture
