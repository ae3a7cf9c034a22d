// Package optics sends light through plastic: Kubelka–Munk two-flux slabs, stacks of them, the surfaces between
// plastic and air or water, and what lies behind.
//
// Read slab.go (one layer, a pile of them), surface.go (the two faces), view.go (what lies behind), then what is
// special: film.go and flake.go (powders and flake), glow.go (fluorescence), water.go.
//
// Units: coefficients are diffuse and effective, in 1/mm: K absorbs, S scatters back; a straight beam's absorption is
// about half of K. Thickness is in mm. Layers run from the front (the viewer) to the back. The zero value of every type
// works: a zero Stack is nothing at all, a zero Surface is no surface.
//
// Source: Kubelka 1948 and 1954 (layers and stacks), Saunderson 1942 (faces), both as docs/model.md has them.
package optics
