package material

import (
	"fmt"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/measure"
)

// Role says what an additive is for.
type Role string

// The roles.
const (
	Softener   Role = "softener"
	Hardener   Role = "hardener"
	Stabiliser Role = "stabiliser"
	Salt       Role = "salt"
	Glass      Role = "glass"
	Spheres    Role = "spheres"
	Scent      Role = "scent"
)

// Roles lists them.
func Roles() []Role { return []Role{Softener, Hardener, Stabiliser, Salt, Glass, Spheres, Scent} }

// Additive is what goes in for feel, weight, heat or smell. Liquids are poured or dripped, solids spooned.
type Additive struct {
	Role       Role         `json:"role" enum:"softener,hardener,stabiliser,salt,glass,spheres,scent"`
	Form       measure.Form `json:"form" enum:"liquid,solid"`
	DropML     Value        `json:"dropML" doc:"Volume of one drop, ml (liquids)"`
	BulkGML    Value        `json:"bulkGML" doc:"g per ml as it lies in the spoon (solids)"`
	DensityGML Value        `json:"densityGML" doc:"True density, g/ml"`
	GrainMM    Value        `json:"grainMM" doc:"Size of a grain (solids)"`
	Hiding     Value        `json:"hiding" doc:"q in S = 1.5·φ/d·q: how strongly a grain turns light back"`
	Usual      [2]float64   `json:"usual" doc:"From and to, per US cup of plastisol: ml of a liquid, tsp of a solid"`
}

// Scatters is the scatter, 1/mm, that a volume fraction of grains adds: S = 1.5·(φ/d)·q.
func (a *Additive) Scatters(fraction float64) float64 {
	if a.Form != measure.Solid {
		return 0
	}
	return 1.5 * fraction / a.GrainMM.Value * a.Hiding.Value
}

func (a *Additive) check() error {
	if !slices.Contains(Roles(), a.Role) {
		return fmt.Errorf(
			"additive.role: %q is none of softener, hardener, stabiliser, salt, glass, spheres, scent", a.Role,
		)
	}
	if a.Form != measure.Liquid && a.Form != measure.Solid {
		return fmt.Errorf("additive.form: %q is neither liquid nor solid", a.Form)
	}
	err := firstOf(
		a.DensityGML.within("additive.densityGML", 0.02, 10),
		inRange("additive.usual[0]", a.Usual[0], 0, 1000), inRange("additive.usual[1]", a.Usual[1], a.Usual[0], 1000),
	)
	if err != nil {
		return err
	}
	if a.Form == measure.Liquid {
		return a.DropML.within("additive.dropML", 0.005, 0.5)
	}
	return firstOf(
		a.BulkGML.within("additive.bulkGML", 0.01, 8), a.GrainMM.within("additive.grainMM", 0.001, 5),
		a.Hiding.within("additive.hiding", 0, 5),
	)
}

// Fluorescence is what a colourant gives back of the light that it takes.
type Fluorescence struct {
	ExciteNM  float64 `json:"exciteNM" doc:"Middle of the band that excites it"`
	ExciteSD  float64 `json:"exciteSD" doc:"Its width, nm (standard deviation)"`
	EmitNM    float64 `json:"emitNM" doc:"Middle of the band that it gives back"`
	EmitSD    float64 `json:"emitSD"`
	Yield     float64 `json:"yield" doc:"Energy given per energy taken, 0..1"`
	TakesPerM float64 `json:"takesPerMM" doc:"Peak absorption that feeds it, 1/mm at 1 ml per litre"`
}

// Glow gives the excitation per ml per litre, and the shape of the emission, which sums to 1.
func (f *Fluorescence) Glow() (takes, gives colour.Spectrum) {
	takes = bands([]Band{{f.ExciteNM, f.ExciteSD, f.TakesPerM}})
	gives = bands([]Band{{f.EmitNM, f.EmitSD, 1}})
	sum := 0.0
	for _, v := range gives {
		sum += v
	}
	for b := range gives {
		gives[b] /= sum
	}
	return takes, gives
}

func (f *Fluorescence) check() error {
	return firstOf(
		inRange(
			"colourant.glows.exciteNM", f.ExciteNM, 380, 700,
		), inRange("colourant.glows.exciteSD", f.ExciteSD, 5, 100),
		inRange(
			"colourant.glows.emitNM", f.EmitNM, f.ExciteNM, 730,
		), inRange("colourant.glows.emitSD", f.EmitSD, 5, 100),
		inRange("colourant.glows.yield", f.Yield, 0, 1), inRange("colourant.glows.takesPerMM", f.TakesPerM, 0, 100),
	)
}
