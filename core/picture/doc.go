// Package picture draws what a maker will see, as Go images: the thickness wedge of a cup, its flake close up, a bait
// from any side, a mold's plan. The same input gives the same picture, byte for byte.
//
// Read wedge.go and closeup.go; then plan.go and cell.go (what lies under each pixel of a bait), bait.go (how it
// is drawn), stack.go (its colours, by table), studio.go (light, gloss, shadow), pieces.go (its flake).
//
// Units: mm on the plastic, px on the picture; sRGB.
package picture
