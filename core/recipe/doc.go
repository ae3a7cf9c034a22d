// Package recipe turns doses into light: what is in a cup, what that comes to per litre of finished volume,
// which absorption and scatter it gives, and what colour that is at a thickness, over a ground, in a light.
// It also scales a cup to another volume, takes the taps of the bench, and sums what went into a batch.
//
// Read in this order: cup.go (what is in it), mix.go (coefficients), look.go (colours), scale.go, step.go, batch.go.
package recipe
