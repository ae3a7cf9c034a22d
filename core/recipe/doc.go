// Package recipe is what is kept for next time: a cup with a name, brought to another volume, swapped, laid beside
// another, and the test batches that were poured from it.
//
// Read recipe.go, scale.go and together.go (another volume, in doses that can be measured), swap.go and keep.go
// (another material, the same look), show.go (spots and layers that show through), beside.go, premix.go, batch.go.
//
// Units: as in packages cup and mix. What changes a recipe leaves the cup that it was handed as it was.
//
// Source: decisions 3 (rounding) and 12 (advice).
package recipe
