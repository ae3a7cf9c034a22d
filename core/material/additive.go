package material

import (
	"fmt"
	"slices"

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

func (*Additive) kind() Kind           { return KindAdditive }
func (a *Additive) origin() *Origin    { return &a.Hiding.Origin }
func (*Additive) bands() *[]Band       { return nil }
func (a *Additive) copyTo(m *Material) { c := *a; m.Additive = &c }

func (a *Additive) dosed() dosing {
	density := a.DensityGML.Value
	if a.Form == measure.Solid {
		return dosing{
			solid: true, densityGML: density, bulkGML: a.BulkGML.Value, unit: measure.InTeaspoons, usual: a.Usual,
		}
	}
	return dosing{densityGML: density, bulkGML: density, dropML: a.DropML.Value, unit: measure.InML, usual: a.Usual}
}

func (a *Additive) list(l *listing) {
	l.own("densityGML", "True density", "g/ml", &a.DensityGML, "")
	unit := "tsp a cup"
	if a.Form == measure.Liquid {
		unit = "ml a cup"
		l.own("dropML", "One drop", "ml", &a.DropML, "Count drops into a measured amount")
	} else {
		l.own("bulkGML", "As it lies in the spoon", "g/ml", &a.BulkGML, "Weigh a level teaspoon")
		l.own("grainMM", "Grain", "mm", &a.GrainMM, "Coarse grains cloud less and settle faster")
		l.own("hiding", "Cloudiness of a grain", "", &a.Hiding, "")
	}
	l.usual(unit, &a.Usual)
}
