package mix

import (
	"math"

	"cloudburst/core/material"
)

// Feel is what a cup's plastic is like in the hand and in the water.
type Feel struct {
	MassG         float64 `json:"massG"`
	DensityGML    float64 `json:"densityGML"`
	FloatsFresh   bool    `json:"floatsFresh"`
	FloatsSalt    bool    `json:"floatsSalt"`
	SinkFreshCMS  float64 `json:"sinkFreshCMS" doc:"How fast a usual bait sinks in fresh water, cm/s; below 0 it rises"`
	SinkSaltCMS   float64 `json:"sinkSaltCMS"`
	HookToSinkG   float64 `json:"hookToSinkG" doc:"The lightest hook with which a usual bait sinks in fresh water, g"`
	Hand          float64 `json:"hand" doc:"0 runs through the fingers, 10 is a boot sole"`
	HandWords     string  `json:"handWords"`
	Strength      float64 `json:"strength" doc:"Against plain plastisol of the same grade, 0..1"`
	StrengthWords string  `json:"strengthWords"`
	YieldML       float64 `json:"yieldML" doc:"What the additions add to the plastisol"`
}

// Densities of the waters, g/ml.
const (
	FreshGML = 0.998
	SaltGML  = 1.025
)

// A usual bait, for sink rates: volume in ml, the area that it turns to the way down in cm², and its drag. A hook's
// steel displaces an eighth of its weight.
const (
	UsualBaitML = 6.0
	dragAreaCM2 = 9.0
	dragCoeff   = 1.1
	steelGML    = 7.85
)

// How additives change the hand (per share of the volume) and the strength. Starting values; a maker's own pull tests
// refine them.
const (
	softerPerShare = 22.0
	harderPerShare = 22.0
	weakSalt       = 2.2
	weakGlass      = 0.5
	weakSpheres    = 1.0
	weakSoftener   = 1.6
)

// Feel works out weight, float, hand and strength.
func (m *Mix) Feel() Feel {
	f := Feel{MassG: m.MassG, DensityGML: m.MassG / m.FinishedML, YieldML: m.FinishedML - m.PlastisolML}
	f.FloatsFresh, f.FloatsSalt = f.DensityGML < FreshGML, f.DensityGML < SaltGML
	f.SinkFreshCMS, f.SinkSaltCMS = Sinks(f.DensityGML, FreshGML, 0), Sinks(f.DensityGML, SaltGML, 0)
	if light := (FreshGML - f.DensityGML) * UsualBaitML; light > 0 {
		f.HookToSinkG = light / (1 - FreshGML/steelGML)
	}
	soft := m.share[material.Softener] + 0.8*m.share[material.Scent]
	f.Hand = min(10, max(0, m.grade/m.PlastisolML-softerPerShare*soft+harderPerShare*m.share[material.Hardener]))
	f.HandWords = handWords(f.Hand)
	f.Strength = math.Exp(-weakSalt*m.share[material.Salt] - weakGlass*m.share[material.Glass] - weakSpheres*m.share[material.Spheres] - weakSoftener*soft)
	switch {
	case f.Strength > 0.93:
		f.StrengthWords = "as strong as plain plastic"
	case f.Strength > 0.8:
		f.StrengthWords = "a little weaker than plain"
	case f.Strength > 0.6:
		f.StrengthWords = "tears sooner"
	default:
		f.StrengthWords = "tears at the first fish"
	}
	return f
}

func handWords(hand float64) string {
	for _, step := range []struct {
		below float64
		words string
	}{{1.5, "jelly"}, {3, "very soft"}, {4.2, "soft"}, {5.8, "medium"}, {7.2, "firm"}} {
		if hand < step.below {
			return step.words
		}
	}
	return "very firm"
}

// Sinks is the speed, cm/s, at which a usual bait of a density with a hook goes down in water; below 0 it rises.
// Weight less buoyancy against drag: v = √(2·m·g/(ρ·C·A)).
func Sinks(densityGML, waterGML, hookG float64) float64 {
	net := (densityGML-waterGML)*UsualBaitML + hookG*(1-waterGML/steelGML) // g
	v := math.Sqrt(2 * math.Abs(net) * 981 / (waterGML * dragCoeff * dragAreaCM2))
	if net < 0 {
		return -v
	}
	return v
}
