// Package flake counts the flake on a photo: which kinds lie in a region, how large and how many they are, and where
// that can be read in two ways.
//
// Read count.go (what differs from the base), blobs.go (pieces, and what touches), edge.go (which of them stand on
// edge), kinds.go, tone.go, touching.go and settle.go (which piece is of which kind), doubt.go (the other reading),
// correct.go (by hand).
//
// Units: places in px of the upright photo, sizes in mm or inches across the flats, densities per cm² of what shows.
//
// Source: docs/model.md. Its figures were chosen by close-ups of the camera stand-in, and judged by photos that nothing
// was chosen by.
package flake
