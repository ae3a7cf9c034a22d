package mix

import (
	"maps"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// KindSeen is one kind of flake that was counted in a photo.
type KindSeen struct {
	SizeIN float64
	Lab    colour.Lab
	PerCM2 float64
	Flake  string // uid of the flake that it is, where somebody says so
}

// Spoons is what one kind of counted flake comes to.
type Spoons struct {
	Flake  string         `json:"flake" doc:"uid of the flake on the shelf that comes nearest; empty where the shelf holds none"`
	Name   string         `json:"name"`
	SizeIN float64        `json:"sizeIN" doc:"Of that flake"`
	Near   bool           `json:"near" doc:"It is of that size; else the dose is worked out for the size that was counted"`
	PerCup measure.Amount `json:"perCup" doc:"tsp per US cup of finished plastic"`
	Take   string         `json:"take" doc:"The same with the spoons that are owned"`
	Says   string         `json:"says"`
	Hidden bool           `json:"hidden" doc:"No dose shows so many in this base"`
}

// How far a flake's size may lie from the counted one to be called the same, as a share: sizes of the trade lie further
// apart.
const sameSize = 0.2

// SpoonsPerCup turns counted flake into spoons per cup of this base, through the depth to which it lets one see.
func (m *Mix) SpoonsPerCup(seen []KindSeen, shelf cup.Shelf, kit measure.Kit, at Condition) []Spoons {
	out := make([]Spoons, len(seen))
	var counted []Counted
	var which []int
	for i, k := range seen {
		f, near := flakeLike(shelf, k)
		if f == nil {
			out[i].Says = "there is no flake on the shelf to reckon with; add one there first"
			continue
		}
		out[i] = Spoons{Flake: f.UID, Name: f.Name, SizeIN: f.Flake.SizeIn.Value, Near: near}
		if !near { // as if it came in that size
			own, flake := *f, *f.Flake
			flake.SizeIn.Value = k.SizeIN
			own.Flake = &flake
			f = &own
		}
		counted = append(counted, Counted{f, k.PerCM2})
		which = append(which, i)
	}
	doses, _ := m.DosesSeen(counted, at)
	for n, i := range which {
		o := &out[i]
		depth := m.Body().LegibleDepth(counted[n].Flake.Flake, at)
		o.PerCup = doses[n]
		o.PerCup.Value *= measure.CupML / m.FinishedML
		best, few := kit.Round(o.PerCup.Value)
		if few != nil {
			best = *few
		}
		o.Take = measure.Spoons(best.TSP)
		switch {
		case depth <= 0 || o.PerCup.Value > mostTSP:
			o.Hidden, o.Says = true, "this base hides it: no dose shows so many pieces; is it the base of the photo?"
		case !o.Near:
			o.Says = "the shelf holds none of that size; reckoned as if " + o.Name + " came in it"
		default:
			o.Says = "seen to a depth of " + measure.Number(depth, 1) + " mm"
		}
	}
	return out
}

// mostTSP a cup is past any sane dose of flake.
const mostTSP = 12.0

// flakeLike is the flake on the shelf that comes nearest: of the size, and of those the nearest in colour; or else the
// nearest in colour of any size.
func flakeLike(shelf cup.Shelf, k KindSeen) (best *material.Material, near bool) {
	if f, ok := shelf[k.Flake]; ok && f.Flake != nil {
		return &f, math.Abs(math.Log(f.Flake.SizeIn.Value/k.SizeIN)) <= sameSize
	}
	least := math.Inf(1)
	for _, uid := range slices.Sorted(maps.Keys(shelf)) {
		f := shelf[uid]
		if f.Flake == nil || f.Flake.SizeIn.Value <= 0 {
			continue
		}
		off := math.Abs(math.Log(f.Flake.SizeIn.Value / k.SizeIN))
		face := f.Flake.Face(0)
		// A piece lies turned away from the light as often as to it, so that hue counts before lightness.
		own := colour.D65.Lab(&face)
		own.L = (own.L + k.Lab.L) / 2
		d := colour.DeltaE00(own, k.Lab)
		if off > sameSize {
			d += 1000
		}
		if d < least {
			least, best, near = d, &f, off <= sameSize
		}
	}
	return best, near
}
