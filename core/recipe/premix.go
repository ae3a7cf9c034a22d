package recipe

import (
	"math"

	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// weakestCut is the least share of a bottle in a dilution.
const weakestCut = 1e-4

// Premix makes a bottle of the maker's own dilution: parts of other bottles, and clear. A part that is a dilution
// itself is taken apart, so that a dilution always names the bottles it was made of.
func Premix(uid, name string, parts []material.Part, clear float64, shelf cup.Shelf) (material.Material, error) {
	whole := clear
	for _, p := range parts {
		if !(p.Share > 0) {
			return material.Material{}, measure.Faulty(
				"parts", "give each bottle its parts, such as 1 of black and 10 of clear",
			)
		}
		whole += p.Share
	}
	if len(parts) == 0 || !(clear >= 0) {
		return material.Material{}, measure.Faulty(
			"parts", "name a bottle and how it is cut, such as 1 part in 10 parts of clear",
		)
	}
	made := material.Material{UID: uid, Kind: material.KindColourant, Name: name}
	c := &material.Colourant{
		DropML: material.Value{
			Value: material.DefaultDropML, Origin: material.Typical,
		}, DensityGML: material.Value{Value: 1.02, Origin: material.Typical},
		Movement: material.Stays, Optics: material.ColourantOptics{
			Origin: material.Typical, Absorbs: []material.Band{},
		},
	}
	strongest := 0.0
	for _, p := range parts {
		of, ok := shelf[p.Material]
		if !ok || of.Colourant == nil {
			return made, measure.Faulty("parts", "only bottles of liquid colour can be cut")
		}
		share := p.Share / whole
		if share < weakestCut {
			return made, measure.Faulty("parts", "one part in 10,000 is the weakest cut that is taken")
		}
		if of.Colourant.Movement == material.Bleeds {
			c.Movement = material.Bleeds
		}
		if len(of.Colourant.Contains) == 0 {
			c.Contains = append(c.Contains, material.Part{Material: p.Material, Share: share})
		}
		for _, inner := range of.Colourant.Contains {
			c.Contains = append(c.Contains, material.Part{Material: inner.Material, Share: share * inner.Share})
		}
		if of.Colourant.UsualDrops[1] > 0 {
			strongest = max(strongest, share/of.Colourant.UsualDrops[1])
			c.UsualDrops[0] = max(c.UsualDrops[0], math.Round(of.Colourant.UsualDrops[0]/share))
		}
	}
	if strongest > 0 {
		c.UsualDrops[1] = min(cup.MaxDropsPerCup, math.Round(1/strongest))
		c.UsualDrops[0] = min(c.UsualDrops[0], c.UsualDrops[1])
	}
	made.Colourant = c
	return made, made.Check()
}
