package material

import (
	"fmt"
	"math"

	"cloudburst/core/measure"
)

// Form says how the material is dosed.
func (m *Material) Form() measure.Form {
	if m.part().dosed().solid {
		return measure.Solid
	}
	return measure.Liquid
}

// DensityGML is the true density.
func (m *Material) DensityGML() float64 { return m.part().dosed().densityGML }

// BulkGML is what a millilitre weighs as it lies in the spoon; a liquid's is its density.
func (m *Material) BulkGML() float64 { return m.part().dosed().bulkGML }

// DropML is the volume of a drop; 0 for what is not dripped.
func (m *Material) DropML() float64 { return m.part().dosed().dropML }

// Take gives the true volume and the mass of an amount: what it takes up in the finished mix, and what it weighs.
func (m *Material) Take(a measure.Amount) (ml, grams float64, err error) {
	if err := a.Check(); err != nil {
		return 0, 0, fmt.Errorf("%s: %w", m.Name, err)
	}
	density := m.DensityGML()
	switch a.Unit {
	case measure.InGrams:
		return a.Value / density, a.Value, nil
	case measure.InDrops:
		drop := m.DropML()
		if drop == 0 {
			return 0, 0, fmt.Errorf("%s is not dripped; dose it in tsp, ml or g", m.Name)
		}
		ml = a.Value * drop
		return ml, ml * density, nil
	}
	loose := a.Value
	if a.Unit == measure.InTeaspoons {
		loose *= measure.TeaspoonML
	}
	grams = loose * m.BulkGML()
	return grams / density, grams, nil
}

// Usual is the usual dose per US cup, from and to. Both are 0 for what has none.
func (m *Material) Usual() (from, to measure.Amount) {
	d := m.part().dosed()
	return measure.Amount{Value: d.usual[0], Unit: d.unit}, measure.Amount{Value: d.usual[1], Unit: d.unit}
}

// Middling is the middle of the usual dose, on a scale of doublings.
func (m *Material) Middling() measure.Amount {
	from, to := m.Usual()
	mid := math.Sqrt(max(from.Value, to.Value/16) * to.Value)
	switch from.Unit {
	case measure.InDrops:
		mid = math.Round(mid)
	case measure.InTeaspoons: // a fraction that a spoon has
		mid = math.Exp2(math.Round(math.Log2(max(mid, 1.0/64))))
	}
	return measure.Amount{Value: mid, Unit: from.Unit}
}

// In gives an amount in another unit, as far as this material has it.
func (m *Material) In(unit measure.Unit, grams float64) (measure.Amount, error) {
	one, each := measure.Amount{Value: 1, Unit: unit}, 0.0
	_, each, err := m.Take(one)
	if err != nil {
		return one, err
	}
	return measure.Amount{Value: grams / each, Unit: unit}, nil
}

// OpticsOrigin is where the figures of its look come from, for "how sure is this".
func (m *Material) OpticsOrigin() Origin { return *m.part().origin() }

// Runs says whether its colour moves through the plastic in the days after the pour.
func (m *Material) Runs() bool {
	return (m.Colourant != nil && m.Colourant.Movement == Bleeds) || (m.Flake != nil && m.Flake.Movement == Bleeds)
}

// Colours says whether the material is there for its look.
func (m *Material) Colours() bool { return m.Colourant != nil || m.Powder != nil || m.Flake != nil }
