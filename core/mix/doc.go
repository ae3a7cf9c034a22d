// Package mix turns doses into light: what a cup comes to per litre of finished volume, which absorption and scatter
// that gives, and what colour that is at a thickness, over a ground, in a light.
//
// Read mix.go (doses → coefficients), see.go (coefficients → light → colour), look.go (a colour with its target
// and what is to be watched), legible.go (flake, piece by piece), feel.go (weight and hand), stack.go (several mixes
// behind each other), then onemore.go, tests.go, spoons.go and watch.go.
//
// Units: per litre of finished volume (plastisol, liquids and the true volume of solids together), so that doses dilute
// each other as they do in the cup; K and S in 1/mm, thickness in mm, flake in pieces per mm³.
//
// Source: docs/model.md, with a file name at each of its parts.
package mix
