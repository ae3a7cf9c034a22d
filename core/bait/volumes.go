package bait

import (
	"fmt"
	"math"

	"cloudburst/core/measure"
)

// Filled is what a part takes of a bait.
type Filled struct {
	Part
	ML   float64 // of one cavity
	X, Y float64 // its middle, mm from the nose and from the axis
}

// Volumes adds up what each part takes, in the typical cavity; together they come to the bait's volume.
func (s *Shape) Volumes(st *Structure, split Split) []Filled {
	parts := st.Parts()
	out := make([]Filled, len(parts))
	for i := range out {
		out[i].Part = parts[i]
	}
	const every = 2 // rays of the grid
	c := NewCutter(s, st, split, 0)
	sum := 0.0
	var all []Stretch
	add := func(part int, mm float64, mid Vec) {
		f := &out[part]
		f.ML += mm
		f.X += mid[0] * mm
		f.Y += mid[1] * mm
	}
	for gx := 1; gx < s.grid.Wide; gx += every {
		for gy := 1; gy < s.grid.High; gy += every {
			all = s.stretches(gx, gy, farMM, all[:0])
			x, u := s.FromX+float64(gx-1)*gridMM, s.high()-float64(gy-1)*gridMM
			r := s.rayAt(x, u)
			for _, p := range s.Cut(&r, all) {
				at := p.In
				for _, run := range c.Cut(&r, p) {
					mid := r.At(at + run.MM/2)
					at += run.MM
					sum += run.MM
					add(run.Part, run.MM*(1-run.Share), mid)
					add(run.Other, run.MM*run.Share, mid)
				}
			}
		}
	}
	for i := range out {
		f := &out[i]
		if f.ML > 0 {
			f.X, f.Y = f.X/f.ML, f.Y/f.ML
		}
		f.ML *= s.VolumeML() / sum
	}
	return out
}

// ByCup adds the parts up by cup.
func ByCup(filled []Filled, cups int) []float64 {
	ml := make([]float64, cups)
	for _, f := range filled {
		if f.Cup < cups {
			ml[f.Cup] += f.ML
		}
	}
	return ml
}

// Hook is what hangs in a bait.
type Hook struct{ Grams, X, Y float64 }

// steelGML is what hooks are made of; they displace that much less than they weigh.
const steelGML = 7.85

// Balance is how a bait lies in water.
type Balance struct {
	MassG      float64 `json:"massG"`
	BuoyancyG  float64 `json:"buoyancyG" doc:"Weight of the water that it takes the place of"`
	Floats     bool    `json:"floats"`
	RightingMM float64 `json:"rightingMM" doc:"How far its weight hangs below its buoyancy: above 0 it swims back up"`
	NoseMM     float64 `json:"noseMM" doc:"How far its weight lies before its buoyancy"`
	Says       string  `json:"says"`
}

// Floats works out whether a bait floats, and which way up: its weight hangs below the middle of what it displaces, or
// it turns over. Densities are g/ml, by part; a hook hangs where it hangs.
func Floats(filled []Filled, density []float64, waterGML float64, hook Hook) Balance {
	var b Balance
	var ml, mx, my, vx, vy float64
	for i, f := range filled {
		g := f.ML * density[i]
		b.MassG += g
		ml += f.ML
		mx, my = mx+g*f.X, my+g*f.Y
		vx, vy = vx+f.ML*f.X, vy+f.ML*f.Y
	}
	if hook.Grams > 0 {
		v := hook.Grams / steelGML
		b.MassG += hook.Grams
		ml += v
		mx, my = mx+hook.Grams*hook.X, my+hook.Grams*hook.Y
		vx, vy = vx+v*hook.X, vy+v*hook.Y
	}
	b.BuoyancyG = ml * waterGML
	b.Floats = b.MassG < b.BuoyancyG
	b.RightingMM = vy/ml - my/b.MassG
	b.NoseMM = vx/ml - mx/b.MassG
	word := "sinks"
	if b.Floats {
		word = "floats"
	}
	off := math.Abs(b.MassG - b.BuoyancyG)
	if off < 0.02*b.MassG {
		word = "hangs nearly still"
	}
	up := "rolls freely"
	switch {
	case b.RightingMM > 0.1:
		up = "back up"
	case b.RightingMM < -0.1:
		up = "belly up: its back is the heavier"
	}
	lie := "level"
	if b.NoseMM > 1 {
		lie = "nose down"
	} else if b.NoseMM < -1 {
		lie = "tail down"
	}
	b.Says = fmt.Sprintf("%s by %s g, %s, %s", word, measure.Number(off, 2), up, lie)
	return b
}

// leastRoomMM is what hot plastic needs to get behind what was laid before. A starting value.
const leastRoomMM = 1.2

// Room says where a bar or spot leaves too little behind it for the body to fill.
func (s *Shape) Room(st *Structure) []string {
	var out []string
	tell := func(what string, x, y, taken float64) {
		across := s.At(x, y)
		if left := across - 2*taken; across > 0 && left < leastRoomMM {
			out = append(out, fmt.Sprintf("%s leaves %s mm for the body between the two sides, %s mm from the nose; hot plastic wants %s mm to fill. Lay it thinner, or where the bait is thicker.",
				what, measure.Number(max(0, left), 1), measure.Number(x, 0), measure.Number(leastRoomMM, 1)))
		}
	}
	for i, b := range st.Bars {
		tell(fmt.Sprintf("Bar %d", i+1), b.AtMM, 0, b.DeepMM+b.UnderMM)
	}
	for i, p := range st.Spots {
		tell(fmt.Sprintf("Spot %d", i+1), p.AtMM, p.UpMM, p.DeepMM+p.UnderMM)
	}
	return out
}

// Take is what a bait, and a filling of the mold, take of one cup.
type Take struct{ BaitML, ShotML float64 }

// Takes are the parts of a bait with their volumes, and what they come to by cup. Where the mold's volume was measured,
// the parts follow it; sprue and plug are shared out by what the baits take.
func (m *Mold) Takes(st *Structure, cups int) ([]Filled, []Take) {
	s := m.Bait()
	parts := s.Volumes(st, m.Way())
	whole := m.VolumeML()
	scale := whole / s.VolumeML()
	for i := range parts {
		parts[i].ML *= scale
	}
	out := make([]Take, cups)
	for i, ml := range ByCup(parts, cups) {
		out[i] = Take{BaitML: ml, ShotML: m.ShotML() * ml / whole}
	}
	return parts, out
}
