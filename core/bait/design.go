package bait

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cloudburst/core/measure"
)

// Design is a bait that is to be made: its mold, the cups it is poured from, and how they lie in it.
type Design struct {
	Name      string    `json:"name" maxLength:"80"`
	Mold      string    `json:"mold" maxLength:"64" format:"uid" doc:"uid of a mold, or the key of one of our shapes"`
	Cups      []Poured  `json:"cups" maxItems:"8" nullable:"false"`
	Structure Structure `json:"structure"`
	Hook      Weight    `json:"hook"`
}

// Poured is a cup that a design takes from the bench, and how hot it goes in.
type Poured struct {
	Cup   string  `json:"cup" maxLength:"64" format:"uid" doc:"uid of a cup on the bench; empty where it is still to be chosen"`
	PourC float64 `json:"pourC"`
}

// Weight is a hook or a jig head in the bait.
type Weight struct {
	Grams float64 `json:"grams"`
	AtMM  float64 `json:"atMM" doc:"From the nose"`
	UpMM  float64 `json:"upMM" doc:"From the bait's axis"`
}

// UsualPourC is how hot a cup goes in where nothing else was said: 330 °F.
const UsualPourC = 165.6

// NewDesign is a bait of one cup.
func NewDesign(name, mold, cup string) Design {
	return Design{
		Name: name, Mold: mold, Cups: []Poured{{cup, UsualPourC}},
		Structure: Structure{Layers: []Layer{{Name: "all of it", Top: 1}}},
	}
}

// Begin turns the design into one of the ways; the cups that it then takes are there, some still to be chosen.
func (d *Design) Begin(way string, m *Mold) error {
	cup := min(len(d.Cups), MaxCups-1)
	if len(d.Cups) == 0 {
		cup = 0
	}
	if len(d.Cups) > 1 && (way == "core" || way == "skin" || way == "tail" || way == "bars" || way == "spots") {
		// What is laid onto a bait of several cups takes one that no layer takes, if there is one.
		for k := range d.Cups {
			free := true
			for _, l := range d.Structure.Layers {
				free = free && l.Cup != k
			}
			if free {
				cup = k
			}
		}
	}
	st, err := m.Begin(way, &d.Structure, cup)
	if err != nil {
		return err
	}
	d.Structure = st
	for len(d.Cups) < st.Cups() {
		d.Cups = append(d.Cups, Poured{PourC: UsualPourC})
	}
	d.soften(-1)
	return nil
}

// WayFor is how so many cups are laid into a bait where nobody says: alone, one over the other, three layers, poured
// one after the other.
func WayFor(cups int) string {
	ways := []string{"single", "laminate", "three", "pour"}
	return ways[max(1, min(cups, len(ways)))-1]
}

// FromTheBelly sorts parts by their names, from the belly up: what is called neither stays between, in its order.
func FromTheBelly[T any](parts []T, name func(T) string) []T {
	height := func(p T) int {
		n := strings.ToLower(name(p))
		switch {
		case strings.Contains(n, "belly"), strings.Contains(n, "bottom"):
			return 0
		case strings.Contains(n, "back"), strings.Contains(n, "top"):
			return 2
		}
		return 1
	}
	out := slices.Clone(parts)
	slices.SortStableFunc(out, func(a, b T) int { return height(a) - height(b) })
	return out
}

// soften works the boundaries of a cup out anew from how hot the cups go in; those of every cup for -1.
func (d *Design) soften(cup int) {
	layers := d.Structure.Layers
	for i := range layers[:len(layers)-1] {
		a, b := layers[i].Cup, layers[i+1].Cup
		if (cup < 0 || cup == a || cup == b) && a < len(d.Cups) && b < len(d.Cups) {
			layers[i].BlurMM = rounded(BlurMM(d.Cups[a].PourC, d.Cups[b].PourC), 10)
		}
	}
}

// Check says what is wrong with a design in its mold.
func (d *Design) Check(m *Mold) error {
	if err := measure.CheckName("name", "the bait", d.Name, 80); err != nil {
		return err
	}
	s := m.Bait()
	if err := d.Structure.Check(&s); err != nil {
		return err
	}
	switch {
	case len(d.Cups) < d.Structure.Cups() || len(d.Cups) > MaxCups:
		return measure.Faulty("cups", "every part takes a cup, and up to %d cups go into a bait", MaxCups)
	case !(d.Hook.Grams >= 0 && d.Hook.Grams <= 200):
		return measure.Faulty("hook.grams", "a hook weighs 0 to 200 g")
	case !(d.Hook.AtMM >= 0 && d.Hook.AtMM <= s.ToX):
		return measure.Faulty("hook.at", "a hook hangs in the bait: 0 to %s mm from the nose", measure.Number(s.ToX, 0))
	case !(math.Abs(d.Hook.UpMM) <= s.HalfY):
		return measure.Faulty(
			"hook.up", "a hook hangs in the bait: up to %s mm from its axis", measure.Number(s.HalfY, 0),
		)
	}
	for i, c := range d.Cups {
		if !(c.PourC >= 0 && c.PourC <= 260) {
			return measure.Faulty(fmt.Sprintf("cups.%d.pour", i), "a cup goes in at up to 260 °C")
		}
	}
	return nil
}
