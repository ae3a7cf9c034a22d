// Package bait knows the shapes of baits, the molds they come from, how their layers lie, and so how thick each plastic is at each point that is
// seen.
//
// Read shape.go and shapes.go (what there is), mold.go (in a maker's measures), structure.go, design.go and cut.go (several mixes in one bait),
// fields.go (what lies behind each point of a picture), volumes.go, order.go, split.go.
//
// Units: mm and ml. A bait lies along x, nose at 0; y goes up to its back, z to the side that is looked at.
//
// Source: decision 6 (baits by rays). Shapes are our own, from closed formulas.
package bait
