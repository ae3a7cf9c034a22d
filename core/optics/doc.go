// Package optics sends light through plastic: Kubelka–Munk two-flux slabs, stacks of them, the surfaces
// between plastic and air or water, and what lies behind.
//
// Coefficients are diffuse and effective, in 1/mm: K absorbs, S scatters back. A straight beam's absorption
// is about half of K. Thickness is in mm. Layers run from the front (the viewer) to the back.
//
// The zero value of every type works: a zero Stack is nothing at all, a zero Surface is no surface.
package optics
