package heat

import (
	"math"

	"gonum.org/v1/gonum/integrate/quad"
)

// The heat dose: minutes at DoseC that would do the same to the plastic (Arrhenius).
const (
	DoseC       = (350.0 - 32) / 1.8
	activationJ = 112_000.0 // per mole: near 320 °F the dose doubles each 18 °F
	gasJ        = 8.314462618
	kelvin      = 273.15
)

// DoseRate is how many minutes at DoseC a minute at a temperature is worth.
func DoseRate(c float64) float64 {
	return math.Exp(-activationJ / gasJ * (1/(c+kelvin) - 1/(DoseC+kelvin)))
}

// nodes of the quadrature: an integral over an hour's cooling is right to 1e-9.
const nodes = 48

// DoseWarmed is the dose of a time in which the temperature goes straight from one to another.
func DoseWarmed(fromC, toC, minutes float64) float64 {
	return minutes * quad.Fixed(func(u float64) float64 { return DoseRate(fromC + (toC-fromC)*u) }, 0, 1, nodes, nil, 0)
}

// DoseCooled is the dose of a time in which a cup cools.
func DoseCooled(fromC, ambientC, coolPerS, minutes float64) float64 {
	sum := 0.0
	const parts = 8
	for i := range parts {
		sum += quad.Fixed(func(m float64) float64 {
			return DoseRate(ambientC + (fromC-ambientC)*math.Exp(-60*coolPerS*m))
		}, minutes*float64(i)/parts, minutes*float64(i+1)/parts, nodes, nil, 0)
	}
	return sum
}
