// Package measure reads amounts as makers write them and says them back: volumes of plastic, drops, spoons, weights,
// temperatures, lengths. What was typed is kept beside what it comes to.
//
// Read amount.go and unit.go (an amount), dose.go (how one is read), volume.go, kit.go (spoons, and rounding to them),
// heat.go, number.go (how figures are written), fault.go (what is wrong with an entry, and where).
//
// Units: ml, g, °C and mm inside; a cup is 236.588 ml, a teaspoon 4.929 ml, an inch 25.4 mm.
package measure
