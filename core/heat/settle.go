package heat

import (
	"math"

	"gonum.org/v1/gonum/integrate/quad"

	"cloudburst/core/fit"
)

// gravity, m/s².
const gravity = 9.80665

// Viscosity of plastisol between 280 and 400 °F: its logarithm falls straight with temperature, beyond, too.
type Viscosity struct{ At280F, At400F float64 } // Pa s

// At is it at a temperature.
func (v Viscosity) At(c float64) float64 {
	const from, to = (280.0 - 32) / 1.8, (400.0 - 32) / 1.8
	return math.Exp(math.Log(v.At280F) + (c-from)/(to-from)*math.Log(v.At400F/v.At280F))
}

// Grains are what sinks, or rises, in a cup that cools.
type Grains struct {
	MM               float64 // across
	GML, FluidGML    float64
	Fluid            Viscosity
	StartC, AmbientC float64
	CoolPerS         float64
}

func (g *Grains) at(seconds float64) float64 {
	return g.AmbientC + (g.StartC-g.AmbientC)*math.Exp(-g.CoolPerS*seconds)
}

// Speed is how fast they sink after a time, mm/s; below zero they rise. Stokes' law: no grain is in another's way.
func (g *Grains) Speed(seconds float64) float64 {
	d := g.MM / 1000
	return 1000 * (g.GML - g.FluidGML) * 1000 * gravity * d * d / (18 * g.Fluid.At(g.at(seconds)))
}

// Sunk is how far they have sunk, mm.
func (g *Grains) Sunk(seconds float64) float64 { return quad.Fixed(g.Speed, 0, seconds, nodes, nil, 0) }

// StirAfter is when they have sunk, or risen, by so much; false where the cup has fallen to a temperature before, at
// which it no longer flows.
func (g *Grains) StirAfter(mm, flowsAboveC float64) (seconds float64, ever bool) {
	until, cools := FallS(g.StartC, flowsAboveC, g.AmbientC, g.CoolPerS)
	if !cools {
		until = longest
	}
	if math.Abs(g.Sunk(until)) < mm {
		return 0, false
	}
	return fit.Halve(0, until, 60, func(t float64) bool { return math.Abs(g.Sunk(t)) >= mm }), true
}
