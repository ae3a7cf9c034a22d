package pour

import (
	"fmt"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/recipe"
)

// WayOut is a change to an order that makes it possible.
type WayOut struct {
	Says  string `json:"says"`
	Looks string `json:"looks" doc:"What that does to the bait, in words"`
	Order Order  `json:"order" doc:"The order so changed"`
}

// mostWays is how many ways out are looked for.
const mostWays = 4

// WaysOut looks for changes after which an order can be poured: each is worked out in full.
func (o *Order) WaysOut(b *Bench) []WayOut {
	out := []WayOut{}
	all := o.candidates(b)
	all = append(all, o.both(all, b)...)
	for _, w := range all[:min(len(all), mostTries)] {
		p, err := w.Order.Figure(b)
		if err != nil || p.Impossible != nil {
			continue
		}
		out = append(out, w)
		if len(out) == mostWays {
			break
		}
	}
	return out
}

// mostTries bounds the search: each is a plan of its own.
const mostTries = 30

// both are two changes at once, the first ones with each other.
func (o *Order) both(all []WayOut, b *Bench) (out []WayOut) {
	for i := range all[:min(len(all), 4)] {
		for _, second := range all[i].Order.candidates(b) {
			if second.Says == all[i].Says {
				continue
			}
			looks := all[i].Looks
			if second.Looks != looks {
				looks += " " + second.Looks
			}
			out = append(out, WayOut{all[i].Says + " And: " + second.Says, looks, second.Order})
		}
	}
	return out
}

// candidates are changes worth a try, those first that change the bait least.
func (o *Order) candidates(b *Bench) (out []WayOut) {
	try := func(says, looks string, change func(*Order)) {
		n := *o
		n.Cups, n.Molds, n.Later = slices.Clone(o.Cups), slices.Clone(o.Molds), nil
		change(&n)
		out = append(out, WayOut{says, looks, n})
	}
	same := "The bait looks the same."
	if len(o.Later) > 0 {
		try("Leave the steps where they were before you moved them.", same, func(*Order) {})
	}
	if !o.Warm && b.PlatePlaces > 0 {
		try(fmt.Sprintf(
			"Warm the molds to %s first: what lies in them bonds to a cooler body.", measure.Degrees(b.PlateC),
		),
			"The bait looks the same; layers run into each other a little more.", func(n *Order) { n.Warm = true })
	}
	if o.Warm {
		try(
			"Leave the molds cold.", "The bait looks the same; layers keep a sharper edge.", func(n *Order) { n.Warm = false },
		)
	}
	for i := range o.Cups {
		for _, d := range o.Cups[i].Cup.Doses {
			m := b.Shelf[d.Material]
			if m.Flake == nil || m.Heat == nil || m.Heat.MaxC <= 0 || m.Heat.Origin == material.NoneSaid {
				continue
			}
			if other, ok := sturdier(&m, b.Shelf); ok {
				if s, err := recipe.Replace(
					&o.Cups[i].Cup, recipe.InPlace{Old: m.UID, New: other.UID, Mold: o.first(b.Molds)}, b.Shelf, b.Kit,
				); err == nil {
					try(fmt.Sprintf("%s instead of %s: %s.", other.Name, m.Name, other.Heat.Words()),
						fmt.Sprintf("The base is off by ΔE00 %s; the flake is another: look at both.", measure.Number(s.DeltaE00, 1)), func(n *Order) { n.Cups[i].Cup = s.Cup })
				}
			}
			try(
				fmt.Sprintf("Leave %s out of %s.", m.Name, o.Cups[i].Name), "The bait without that flake.",
				func(n *Order) { n.Cups[i].Cup = without(&o.Cups[i].Cup, m.UID) },
			)
		}
	}
	if st := o.Structure; len(st.Spots) > 0 || len(st.Bars) > 0 || st.Skin != nil {
		try("Leave the "+laidWords(o)+" off.", "The bait without them.", func(n *Order) {
			n.Structure.Spots, n.Structure.Bars, n.Structure.Skin = nil, nil, nil
			n.Cups = n.Cups[:n.Structure.Cups()]
		})
	}
	if b.Vacuum && o.Degas != NoDegas {
		try("Leave out the vacuum.", "The same colour; more bubbles.", func(n *Order) { n.Degas = NoDegas })
	}
	for i := range o.Molds {
		if o.Molds[i].Count > 1 {
			try(fmt.Sprintf(
				"Half as many baits, %d, and the rest in a second run.", (o.Molds[i].Count+1)/2,
			), same, func(n *Order) {
				for k := range n.Molds {
					n.Molds[k].Count = (n.Molds[k].Count + 1) / 2
				}
			})
			break
		}
	}
	for _, by := range []float64{8, 16} {
		try(fmt.Sprintf(
			"Shoot every cup %s hotter.", measure.Number(by*1.8, 0)+" °F",
		), "Layers run into each other more.", func(n *Order) {
			for k := range n.Cups {
				n.Cups[k].PourC = min(measure.MaxC, n.Cups[k].PourC+by)
			}
		})
	}
	return out
}

// sturdier finds the flake that is most like one and stands more heat.
func sturdier(m *material.Material, shelf cup.Shelf) (*material.Material, bool) {
	var best *material.Material
	bestBy := 0.0
	for _, o := range shelf {
		if o.Flake == nil || o.UID == m.UID || o.Heat == nil || o.Heat.Origin == material.NoneSaid ||
			o.Heat.MaxC < m.Heat.MaxC+5 {
			continue
		}
		by := unlike(o.Flake, m.Flake)
		if best == nil || by < bestBy || by == bestBy && o.UID < best.UID {
			best, bestBy = &o, by
		}
	}
	return best, best != nil
}

// unlike is how far two flakes are from each other to the eye: their faces' ΔE00, and as much for a third more in
// size.
func unlike(a, b *material.Flake) float64 {
	by := 30 * math.Abs(math.Log(a.SizeMM()/b.SizeMM()))
	if a.Finish != b.Finish {
		by += 8
	}
	fa, fb := a.Face(0), b.Face(0)
	return by + colour.DeltaE00(colour.D65.Lab(&fa), colour.D65.Lab(&fb))
}

// without is a cup without one of its materials.
func without(c *cup.Cup, uid string) cup.Cup {
	out := *c
	out.Doses = slices.DeleteFunc(slices.Clone(c.Doses), func(d cup.Dose) bool { return d.Material == uid })
	return out
}
