// Package material describes what stands on a maker's shelf and what each thing does to light: plastisol, liquid
// colourants, powders, flake and additives, with families of typical values to start from where nobody has measured the
// bottle.
//
// Read material.go (one material), a kind of it (colourant.go, powder.go, flake.go, additive.go, plastisol.go), take.go
// (what a dose of it comes to), then family.go and family_solids.go, starter.go and refine.go.
//
// Units: effect per ml or g in a litre of finished volume; drops in ml, densities in g/ml, flake in inches across the
// flats. Every property keeps where it came from (its Origin), so that a screen can say how far it is to be trusted.
//
// Source: docs/model.md; the families are estimates of ours.
package material
