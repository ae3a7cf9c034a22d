package plan

import (
	"math"

	"cloudburst/core/measure"
)

// Dripped are the drops of a bottle in a cook.
type Dripped struct {
	Name  string
	Exact float64
	Whole float64
	Tie   bool // it came to an exact half, and was rounded down: nothing comes out of a cup again
}

// Scooped are the spoons of a solid in a cook.
type Scooped struct {
	Name     string
	ExactTSP float64
	Scoops   measure.Scoops
	Grams    float64
}

// halves is within what two figures count as the same.
const halves = 1e-9

// dose works out what goes into a cook, in whole drops and owned spoons.
func (r *Recipe) dose(c *Cook, kit measure.Kit) {
	if r.PerColdML <= 0 {
		c.PlastisolML = c.MeasuredColdML
		return
	}
	share := c.MeasuredColdML / r.PerColdML
	c.PlastisolML = c.MeasuredColdML
	for _, d := range r.Drops {
		one := Dripped{Name: d.Name, Exact: d.Drops * share}
		one.Whole, one.Tie = wholeDrops(one.Exact)
		c.PlastisolML -= one.Whole * d.DropML
		c.Drops = append(c.Drops, one)
	}
	for _, s := range r.Spoons {
		one := Scooped{Name: s.Name, ExactTSP: s.TSP * share}
		one.Scoops, _ = kit.Round(one.ExactTSP)
		one.Grams = one.Scoops.TSP * measure.TeaspoonML * s.BulkGML
		c.PlastisolML -= one.Grams / s.TrueGML
		c.Spoons = append(c.Spoons, one)
	}
}

// wholeDrops rounds to the nearest drop, an exact half down.
func wholeDrops(exact float64) (whole float64, tie bool) {
	down := math.Floor(exact)
	switch over := exact - down; {
	case math.Abs(over-0.5) < halves:
		return down, true
	case over > 0.5:
		return down + 1, false
	}
	return down, false
}
