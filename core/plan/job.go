package plan

import (
	"math"

	"cloudburst/core/measure"
)

// Job is what is to be poured.
type Job struct {
	Shrink       float64 // cold volume of a hot one
	TopUp        float64 // share of the shrinkage that is replaced by topping off the sprue
	SparePercent float64 // baits more than asked
	Partial      bool    // in the last fill of a mold only as many cavities are shot as are needed
	StepColdML   float64 // plastisol is measured in such steps; 0 for exactly
	Molds        []Mold
	Shots        []Shot // one after another
}

// Mold is a mold, with how many baits of it are asked.
type Mold struct {
	Name       string
	Cavities   int
	SprueHotML float64 // of a fill of all cavities
	Count      int
	Copies     int // of the mold: no load fills one twice; 0 where that is no matter
}

// Shot is what is shot at once: its parts have to be hot together.
type Shot struct {
	Name      string
	Parts     []Part
	MostFills int // of a load, before it stiffens; 0 where that is no matter
}

// Part is a cup.
type Part struct {
	Name            string
	GeometricML     map[string]float64 // of a cavity, by mold
	KeptML          map[string]float64 // of that, what stays in the bait: the rest is cut off
	SprueShare      float64
	InjectorHotML   float64 // 0 where it is poured by hand
	PlugHotML       float64 // stays in the injector, each load
	PurgeHotML      float64 // is pushed out before, each load
	CupLossHotML    float64 // stays in the cup, each cook
	SpillHotML      float64 // each cavity
	LargestColdML   float64 // cup
	LeastColdML     float64 // less than that can't be cooked evenly
	MicrowaveColdML float64
	Recipe          Recipe
}

// Recipe is what goes into so much finished plastic.
type Recipe struct {
	PerColdML float64
	Drops     []Drops
	Spoons    []Spoons
}

// Drops are drops of a bottle.
type Drops struct {
	Name   string
	Drops  float64
	DropML float64
}

// Spoons are teaspoons of a solid.
type Spoons struct {
	Name             string
	TSP              float64
	BulkGML, TrueGML float64
}

// byHand says whether a part is poured and not shot.
func (p *Part) byHand() bool { return p.InjectorHotML <= 0 }

// upHot is what goes hot into a place of 1 ml: what is topped off shrinks, too.
func (j *Job) upHot() float64 { return 1 + j.TopUp*(1/j.Shrink-1) }

// limitHot is how much of a part can be cooked at once and gets out of the cup.
func (j *Job) limitHot(p *Part) float64 {
	return min(p.LargestColdML, p.MicrowaveColdML)/j.Shrink - p.CupLossHotML
}

// mostBaits bounds a job.
const mostBaits = 100_000

// Check says what is wrong with a job.
func (j *Job) Check() error {
	if !(j.Shrink > 0.5 && j.Shrink <= 1) {
		return measure.Faulty("shrink", "plastic shrinks to between 50 and 100 %% of its hot volume")
	}
	if !(j.TopUp >= 0 && j.TopUp <= 1) || !(j.SparePercent >= 0 && j.SparePercent <= 100) ||
		!(j.StepColdML >= 0 && j.StepColdML <= 1000) {
		return measure.Faulty("job", "top-up from 0 to all of it, spares up to 100 %%, measuring steps up to a litre")
	}
	if len(j.Molds) == 0 || len(j.Shots) == 0 {
		return measure.Faulty("molds", "choose a mold, and what is poured into it")
	}
	for _, m := range j.Molds {
		if m.Count < 1 || m.Count > mostBaits {
			return measure.Faulty("count", "how many baits? From 1 to %d are planned at once", mostBaits)
		}
		if m.Cavities < 1 || !(m.SprueHotML >= 0) {
			return measure.Faulty("molds", "%s: a mold has cavities, and a sprue of some volume or none", m.Name)
		}
	}
	for _, s := range j.Shots {
		if len(s.Parts) == 0 {
			return measure.Faulty("shots", "%s: a shot has one cup or several", s.Name)
		}
		for _, p := range s.Parts {
			sum := 0.0
			for _, m := range j.Molds {
				g, k := p.GeometricML[m.Name], p.KeptML[m.Name]
				if !(g >= 0 && g < 1e5) || !(k >= 0 && k <= g+1e-9) {
					return measure.Faulty("parts", "%s: what is kept of a cavity is a part of it", p.Name)
				}
				sum += g
			}
			if !(sum > 0) || math.IsInf(sum, 0) {
				return measure.Faulty("parts", "%s takes no room in any of the molds", p.Name)
			}
			if !(p.LargestColdML > 0 && p.MicrowaveColdML > 0) {
				return measure.Faulty(
					"cups", "%s: how large is the largest cup, and what does the microwave take?", p.Name,
				)
			}
		}
	}
	return nil
}
