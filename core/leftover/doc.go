// Package leftover keeps account of plastic that is poured, split, put together and melted again: what is in it, thing
// by thing, and how much heat it has taken.
//
// Read tub.go.
//
// Units: ml of a liquid and g of a solid; volumes cold and finished; the heat dose in minutes at 350 °F (package
// heat).
//
// Source: docs/model.md ("Leftovers"). Everything is mixed evenly at once; volumes are added by what is in them.
package leftover
