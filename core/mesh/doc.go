// Package mesh knows closed triangle meshes: read from a file or laid over a field of distances, mended, measured,
// written.
//
// Read mesh.go (what one is, its volume and size), mend.go (what is wrong with one, and what can be put right),
// files.go (STL and OBJ), nets.go (a mesh over a field).
//
// Units: mm and ml. Triangles are seen from outside against the clock, so that the volume of a closed mesh is more than
// 0.
//
// Source: the volume by the divergence theorem; surface nets after S. F. F. Gibson, 1998.
package mesh
