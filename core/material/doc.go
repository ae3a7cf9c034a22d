// Package material describes what stands on a maker's shelf and what each thing does to light: plastisol and
// liquid colourants, with families of typical values to start from where nobody has measured the bottle.
//
// Every property keeps where it came from, so that a screen can say how far it is to be trusted.
package material
