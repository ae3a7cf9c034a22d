// Package picture draws what a maker will see, as Go images: the thickness wedge of a cup. The same input
// gives the same picture, byte for byte.
package picture
