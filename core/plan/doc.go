// Package plan works out what has to be cooked for so many baits: how much of each part's cup, in how many cooks,
// injector loads and mold fills, what goes into each cook in whole drops and owned spoons, and where all of it ends up.
//
// Read job.go (what is asked), volumes.go (fills, loads, cooks), doses.go (what goes into a cook), balance.go (where it
// goes), backwards.go (how many baits, a half-shot cup, a shortfall).
//
// Units: ml. Plastic is hot (at pouring heat), cold (at room heat, finished) or geometric (its place in the mold); each
// name says which. Cold is hot × Shrink.
//
// Source: docs/model.md ("From recipe to baits").
package plan
