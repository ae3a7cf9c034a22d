package bait

import (
	"sync"

	"cloudburst/core/anatomy"
	"cloudburst/core/mesh"
)

func bodies() []*anatomy.Bait { return anatomy.All() }

func ours(b *anatomy.Bait) Shape {
	return shaped(b.Key, b.Name, b.About, own()[b.Key]())
}

// own are the skins of our own shapes, each made when it is first asked for, and kept.
var own = sync.OnceValue(func() map[string]func() *Solid {
	out := map[string]func() *Solid{}
	for _, b := range bodies() {
		out[b.Key] = sync.OnceValue(func() *Solid { return kept(b.Key, func() *Solid { return grown(b, meshMM) }) })
	}
	return out
})

// Shapes lists our own shapes.
func Shapes() []Shape {
	var list []Shape
	for _, b := range bodies() {
		list = append(list, ours(b))
	}
	return list
}

// Names are the shapes' keys and names, without making them.
func Names() [][2]string {
	var out [][2]string
	for _, b := range bodies() {
		out = append(out, [2]string{b.Key, b.Name})
	}
	return out
}

// NameOf is what a shape is called.
func NameOf(key string) (name string, known bool) {
	for _, b := range bodies() {
		if b.Key == key {
			return b.Name, true
		}
	}
	return "", false
}

// Sized is a bait of one's own measures: a body that is thick in the middle, and a tail as thin as the thinnest
// section.
func Sized(lengthMM, heightMM, thickestMM, thinnestMM float64) Shape {
	solid := solidOf(keyOf(Own, lengthMM, heightMM, thickestMM, thinnestMM), func() *Solid {
		s := grown(anatomy.Measured(lengthMM, heightMM, thickestMM, thinnestMM), max(0.2, min(meshMM, thinnestMM/3)))
		s.ThinMM, s.ThickMM = thinnestMM, thickestMM // as they were given, not as they are looked through
		return s
	})
	return shaped(Own, "Measures of its own", "A body and a tail, by its measures.", solid)
}

// A step of a step chip.
const (
	chipStepMM = 18.0
	chipHighMM = 26.0
)

// StepChip is a chip of even steps, for judging a colour at each thickness.
func StepChip(stepsMM []float64) Shape {
	solid := solidOf(keyOf(Chip, stepsMM...), func() *Solid {
		return NewSolid(mesh.Steps(stepsMM, chipStepMM, chipHighMM), false, chipStepMM*float64(len(stepsMM)))
	})
	return shaped(Chip, "Step chip", "Even steps, from thin to thick.", solid)
}
