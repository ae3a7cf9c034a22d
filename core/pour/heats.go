package pour

import (
	"fmt"

	"cloudburst/core/cup"
	"cloudburst/core/heat"
	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// Heat is how hot a cup has to be when it is shot, and how hot it may get.
type Heat struct {
	LeastC float64 `json:"leastC"`
	Least  string  `json:"least" doc:"Why not colder"`
	MostC  float64 `json:"mostC"`
	Most   string  `json:"most" doc:"Why not hotter"`
	ShotC  float64 `json:"shotC" doc:"A cup up to this is not too hot to shoot: no thermometer is surer"`
	AimC   float64 `json:"aimC" doc:"What it is shot at"`
	WorkC  float64 `json:"workC" doc:"What it is heated to before anything that is sensitive goes in"`
	FlakeC float64 `json:"flakeC,omitempty" doc:"Flake goes in below that; 0 where none minds"`
}

// Starting values; a maker's own mold and plastic may do otherwise.
const (
	bondC     = 90.6  // 195 °F: a boundary that was colder when the layers met comes apart
	mixAboveC = 126.7 // 260 °F: a layer that is hotter mixes with the next
	setC      = 93.3  // 200 °F: plastic holds its shape
	demouldC  = 50.0
	scorchC   = 190.0 // 375 °F, where the maker of the plastisol says nothing
	// K by which a cup may be hotter than it aims at: two that aim at the same differ by 10 °F at most
	nearC      = 1.0
	headroomC  = 4.0   // K that a cup cools between its last burst and the shot
	fuseC      = 165.0 // plastic that was never as hot does not set fully
	injectorBy = 1.6   // a metal barrel takes its heat so much faster than a cup on the bench
)

// bond is the coldest boundary that holds.
func (e *Equipment) bond() float64 {
	if e.BondC > 0 {
		return e.BondC
	}
	return bondC
}

// wallC is how warm the molds are.
func (o *Order) wallC(e *Equipment) float64 {
	if o.Warm {
		return e.PlateC
	}
	return e.RoomC
}

// heats works out for each cup how hot it has to be: not too cold to shoot or to bond to what lies in the mold already,
// and not hotter than anything in it stands.
func (o *Order) heats(shots []shot, e *Equipment, shelf cup.Shelf) []Heat {
	out := make([]Heat, len(o.Cups))
	for i := range o.Cups {
		h := &out[i]
		c := &o.Cups[i].Cup
		h.LeastC, h.Least = cup.ShootableC, "Colder than "+measure.Degrees(cup.ShootableC)+" it does not fill the mold."
		base := shelf[c.Plastisol]
		h.MostC, h.Most = scorchC, "Most plastisol scorches at "+measure.Degrees(scorchC)+"."
		if l := base.Heat; l != nil && l.MaxC > 0 && l.Origin != material.NoneSaid {
			h.MostC, h.Most = l.MaxC, base.Name+": "+l.Words()+"."
		}
		h.WorkC = min(c.WorkingC(), h.MostC)
		for _, d := range c.Doses {
			m := shelf[d.Material]
			l := m.Heat
			if d.Amount.Value <= 0 || l == nil || l.MaxC <= 0 || l.Origin == material.NoneSaid {
				continue
			}
			if m.Flake != nil && (h.FlakeC == 0 || l.MaxC < h.FlakeC) {
				h.FlakeC = l.MaxC
			}
			if l.MaxC < h.MostC {
				h.MostC, h.Most = l.MaxC, m.Name+": "+l.Words()+"."
			}
		}
	}
	// What was laid into the mold has taken the mold's heat when the body comes.
	needs := 2*e.bond() - o.wallC(e)
	lies := ""
	for _, s := range shots {
		switch s.way {
		case Tails:
			lies = "set-in tails"
		case Laid:
			lies = laidWords(o)
		case Rods:
			lies = ""
		}
		if lies == "" || s.way == Tails || s.way == Laid {
			continue
		}
		for _, p := range s.parts {
			if h := &out[p.cup]; needs > h.LeastC {
				h.LeastC = needs
				h.Least = fmt.Sprintf(
					"The %s lie in a mold of %s and bond to a body of %s or more.", lies, measure.Degrees(o.wallC(e)),
					measure.Degrees(needs),
				)
			}
		}
	}
	for i := range out {
		h := &out[i]
		h.ShotC = h.MostC + nearC
		h.AimC = max(min(h.MostC-headroomC, o.Cups[i].PourC), min(h.LeastC, h.MostC))
		h.WorkC = max(h.WorkC, min(h.MostC, max(fuseC, h.AimC)))
	}
	return out
}

func laidWords(o *Order) string {
	switch {
	case len(o.Structure.Spots) > 0 && len(o.Structure.Bars) > 0:
		return "bars and spots"
	case len(o.Structure.Bars) > 0:
		return "bars"
	case len(o.Structure.Spots) > 0:
		return "spots"
	}
	return "parts of the head skin"
}

// clash says which cups can't be hot enough and cool enough at once.
func (o *Order) clash(heats []Heat) []string {
	var out []string
	for i, h := range heats {
		if h.LeastC > h.MostC+0.05 {
			out = append(out, fmt.Sprintf("%s: %s %s", o.Cups[i].Name, h.Least, h.Most))
		}
	}
	return out
}

// section is what cools last in a mold: the thickest part of the bait.
func (o *Order) section(thickMM, startC float64, e *Equipment, open bool) heat.Section {
	return heat.Section{
		ThicknessMM: thickMM, Diffusivity: heat.UsualDiffusivity, StartC: startC, WallC: o.wallC(e), Open: open,
	}
}

// mostFills is how many fills nobody does from one load.
const mostFills = 12

// fillsPerLoad is how many fills a load is good for before it stiffens in its barrel.
func (e *Equipment) fillsPerLoad(aimC, barrelML float64) int {
	s, ever := heat.FallS(aimC, cup.ShootableC-1, e.RoomC, e.heater().coolPerS(barrelML)*injectorBy)
	if !ever {
		return mostFills
	}
	return max(1, min(mostFills, int((s-drawS)/fillS)))
}

// What it takes to draw a load, to shoot a fill, and to pour a cavity by hand, seconds.
const (
	drawS   = 20.0
	fillS   = 15.0
	cavityS = 8.0
)
