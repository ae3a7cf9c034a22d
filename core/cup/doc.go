// Package cup is what stands on the bench: what is in a cup, what was done to it, and what became of it.
//
// Read cup.go (volume, doses, target), step.go (one thing that a maker does to it), live.go (a cup as a quantity:
// poured, split, merged, reheated), additions.go (which steps were one round of dripping).
//
// Units: volumes in ml of plastisol, temperatures in °C, times in ms since 1970 as they are handed in. What a cup
// looks like is package mix's.
//
// Source: decisions 2 (steps, not states) and 5 (two cups, one step).
package cup
