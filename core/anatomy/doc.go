// Package anatomy shapes our own baits as smooth signed-distance fields: a body, and what grows out of it or is pressed
// into it.
//
// Read field.go (how parts are joined), loft.go (a body along its length), sweep.go (limbs, fins and tails along a
// line), crease.go (grooves in the skin), then fish.go, worms.go and lying.go, where each bait is put together, and
// list.go.
//
// Units: mm. A bait lies along x, nose at 0; y goes up to its back, z to the side that is looked at. Every bait is the
// same on both sides of z = 0 but for the strands of a tube.
//
// Source: smooth union after Quilez, "smooth minimum" (polynomial); shapes are our own.
package anatomy
