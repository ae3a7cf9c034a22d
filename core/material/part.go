package material

import (
	"fmt"
	"strings"

	"cloudburst/core/measure"
)

// part is what a kind of material says of itself. A new kind is a type with these methods, a field of Material and a
// line in parts.
type part interface {
	kind() Kind
	check() error
	copyTo(m *Material) // a copy that shares nothing with it
	dosed() dosing
	origin() *Origin // where the figures of its look come from
	bands() *[]Band  // in which it absorbs; nil for what has none
	list(l *listing) // what its owner may refine
}

// dosing is how a material gets into a cup.
type dosing struct {
	solid      bool
	densityGML float64
	bulkGML    float64 // as it lies in the spoon; a liquid's is its density
	dropML     float64 // 0 for what is not dripped
	unit       measure.Unit
	usual      [2]float64 // per US cup, in that unit; 0 for what has none
}

// parts are what a material may be, one of each kind; nil for what it is not.
func (m *Material) parts() [5]part {
	return [5]part{
		some(m.Plastisol), some(m.Colourant), some(m.Powder), some(m.Flake), some(m.Additive),
	}
}

// Kinds lists the kinds of material, in the order in which a shelf shows them.
func Kinds() []Kind { return []Kind{KindPlastisol, KindColourant, KindPowder, KindFlake, KindAdditive} }

// part is the one that a material is; nil for one that is none.
func (m *Material) part() part {
	for _, p := range m.parts() {
		if p != nil {
			return p
		}
	}
	return nil
}

func (m *Material) checkPart() error {
	set := 0
	for _, p := range m.parts() {
		if p != nil {
			set++
		}
	}
	if p := m.part(); set == 1 && p.kind() == m.Kind {
		return p.check()
	}
	kinds := make([]string, 0, len(Kinds()))
	for _, k := range Kinds() {
		kinds = append(kinds, string(k))
	}
	last := len(kinds) - 1
	return fmt.Errorf(
		"kind: %q needs its own properties and no others; the kinds are %s and %s",
		m.Kind, strings.Join(kinds[:last], ", "), kinds[last],
	)
}

// some is a part, or no part where the pointer to it is nil.
func some[T any, P interface {
	*T
	part
}](p P) part {
	if p == nil {
		return nil
	}
	return p
}

// again is a copy of what may be nil.
func again[T any](of *T) *T {
	if of == nil {
		return nil
	}
	c := *of
	return &c
}
