// Package bait knows the shapes of baits, the molds they come from, how their layers lie, and so how thick each plastic
// is at each point that is seen.
//
// Read solid.go (a closed skin, and the grid that it is looked through by), shape.go, shapes.go and facts.go (what
// there is), view.go (how it is held), mold.go (in a maker's measures), structure.go, design.go and cut.go (several
// mixes in one bait), fields.go, volumes.go, order.go, split.go.
//
// Units: mm and ml. A bait lies along x, nose at 0; y goes up to its back, z to the side that is looked at.
//
// Source: decision 14 (a bait is a closed skin). Shapes are our own, from core/anatomy.
package bait
