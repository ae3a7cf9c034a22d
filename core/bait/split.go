package bait

import (
	"math"
	"math/rand/v2"
	"slices"

	"cloudburst/core/measure"
)

// Split is a mold's own way of splitting layers. Typical at first; set by hand, or fitted from a shot.
type Split struct {
	ReachPct  []float64 `json:"reachPct,omitempty" maxItems:"4" doc:"How far back each layer reaches, from the belly up, % of the length; 100 where left out"`
	DriftMM   float64   `json:"driftMM" minimum:"-20" maximum:"20" doc:"How much higher the boundary lies at the tail than at the nose"`
	WanderMM  float64   `json:"wanderMM" minimum:"0" maximum:"20" doc:"How random it is: standard deviation of the boundary's height from cavity to cavity"`
	OddCount  int       `json:"oddCount" minimum:"0" maximum:"40" doc:"How many cavities at the runner's end come out odd"`
	OddMM     float64   `json:"oddMM" minimum:"-20" maximum:"20" doc:"How much higher the boundary lies in those"`
	Cavities  int       `json:"-"`
	Origin    string    `json:"origin" enum:"typical,fitted,by hand"`
	FittedSay string    `json:"fitted,omitempty" maxLength:"200" doc:"What it was fitted from"`
}

// Where a split comes from.
const (
	Typical = "typical"
	Fitted  = "fitted"
	ByHand  = "by hand"
)

// TypicalSplit is what a mold does that nobody has looked at: poured layers lie flat, shot ones wander, the more so
// where many cavities share a runner.
func TypicalSplit(poured bool, cavities int) Split {
	s := Split{WanderMM: 0.7, Origin: Typical}
	if poured {
		s.WanderMM = 0.4
	} else if cavities > 6 {
		s.OddCount, s.OddMM = 1, 1.5
	}
	return s
}

// Check says what is wrong with a split.
func (s *Split) Check() error {
	for _, r := range s.ReachPct {
		if !(r >= 10 && r <= 100) {
			return measure.Faulty("split.reachPct", "a layer reaches 10 to 100 %% of the length back")
		}
	}
	switch {
	case !(math.Abs(s.DriftMM) <= 20):
		return measure.Faulty("split.driftMM", "a boundary drifts by up to 20 mm")
	case !(s.WanderMM >= 0 && s.WanderMM <= 20):
		return measure.Faulty("split.wanderMM", "a boundary wanders by 0 to 20 mm")
	case !(math.Abs(s.OddMM) <= 20):
		return measure.Faulty("split.oddMM", "an odd cavity is off by up to 20 mm")
	case !(s.OddCount >= 0 && s.OddCount <= 40):
		return measure.Faulty("split.oddCount", "0 to 40 cavities come out odd")
	}
	return nil
}

// fadeShare is the share of the length over which a layer that ends early runs out.
const fadeShare = 0.12

// lay moves the upper edges of the layers to where this mold puts them, at a share of the length.
func (s *Split) lay(tops []float64, body span, along float64, cavity int) {
	off := s.DriftMM * (along - 0.5)
	if cavity > 0 {
		if s.OddCount > 0 && s.Cavities > 0 && cavity > s.Cavities-s.OddCount {
			off += s.OddMM
		}
		rng := rand.New(rand.NewPCG(uint64(cavity), 11))
		height, wave, at, long := rng.NormFloat64(), rng.NormFloat64(), rng.Float64(), 1+1.5*rng.Float64()
		off += s.WanderMM * (0.85*height + 0.5*wave*math.Sin(2*math.Pi*(at+along*long)))
	}
	n := len(tops)
	for i := range n - 1 {
		tops[i] += off
	}
	for i := range n {
		if i >= len(s.ReachPct) || s.ReachPct[i] >= 100 {
			continue
		}
		gone := min(1, max(0, (along-s.ReachPct[i]/100)/fadeShare+0.5)) // of the layer, at this place
		switch {
		case i == n-1: // the back ends: what lies below rises
			tops[i-1] += gone * (body.to + 1 - tops[i-1])
		case i == 0:
			tops[0] += gone * (body.from - 1 - tops[0])
		default:
			mid := (tops[i-1] + tops[i]) / 2
			tops[i-1] += gone * (mid - tops[i-1])
			tops[i] += gone * (mid - tops[i])
		}
	}
}

// Seen is a place of a boundary as it was seen on a shot bait: a share of the length from the nose, and a height from
// the axis, mm.
type Seen struct{ Along, UpMM float64 }

// SeenOn reads places that were marked on a photo of a bait: nose and tail end, then the boundary between two layers,
// all in pixels with y down; the back lies up in the photo.
func SeenOn(s *Shape, nose, tail [2]float64, marks [][2]float64) ([]Seen, error) {
	dx, dy := tail[0]-nose[0], tail[1]-nose[1]
	px := math.Hypot(dx, dy)
	if px < 40 {
		return nil, measure.Faulty(
			"places", "mark the nose, then the tail's end: they lie too close together to tell the scale",
		)
	}
	scale := (s.ToX - s.FromX) / px
	// The back lies up: to the left of the way from nose to tail where that goes right.
	up := 1.0
	if dx < 0 {
		up = -1
	}
	var out []Seen
	for _, m := range marks {
		x, y := m[0]-nose[0], m[1]-nose[1]
		along := (x*dx + y*dy) / (px * px)
		if along < -0.05 || along > 1.05 {
			return nil, measure.Faulty(
				"places", "a mark lies beside the bait, beyond its nose or tail; mark the boundary on the bait itself",
			)
		}
		out = append(out, Seen{along, -up * (-x*dy + y*dx) / px * scale})
	}
	return out, nil
}

// FitSplit learns how a mold splits a laminate from where the boundary was seen, on one or several baits of a shot:
// where it lies (as a share of the body, to take over into the structure), its drift, where the lower layer ends, and
// what is left as wandering. It takes five places or more.
func FitSplit(s *Shape, baits [][]Seen, split Split) (Split, float64, error) {
	body := s.bodyHeight()
	var all []Seen
	reach, reached := 0.0, 0
	for _, places := range baits {
		slices.SortFunc(places, func(a, b Seen) int {
			if a.Along < b.Along {
				return -1
			}
			return 1
		})
		// A layer that ends early: the boundary dives to the belly and stays there.
		end := len(places)
		for end > 0 && places[end-1].UpMM < body.from*0.85 {
			end--
		}
		if end < len(places) && end > 0 {
			reach += (places[end-1].Along + places[end].Along) / 2
			reached++
		}
		all = append(all, places[:end]...)
	}
	if len(all) < 5 {
		return split, 0, measure.Faulty(
			"places",
			"mark the boundary at five places or more, from nose to tail, so that drift and wandering can be told apart",
		)
	}
	// A straight line by least squares, up = at + drift·(along − ½).
	var sx, sy, sxx, sxy float64
	for _, p := range all {
		x := p.Along - 0.5
		sx, sy, sxx, sxy = sx+x, sy+p.UpMM, sxx+x*x, sxy+x*p.UpMM
	}
	n := float64(len(all))
	drift := 0.0
	if d := n*sxx - sx*sx; d > 1e-9 {
		drift = (n*sxy - sx*sy) / d
	}
	at := (sy - drift*sx) / n
	rest := 0.0
	for _, p := range all {
		e := p.UpMM - at - drift*(p.Along-0.5)
		rest += e * e
	}
	split.DriftMM = rounded(drift, 10)
	split.WanderMM = rounded(math.Sqrt(rest/max(1, n-2)), 10)
	if reached > 0 {
		split.ReachPct = []float64{rounded(100*reach/float64(reached), 1)}
	} else {
		split.ReachPct = nil
	}
	split.Origin = Fitted
	top := min(0.9, max(-0.9, 2*(at-body.from)/body.length()-1))
	return split, top, split.Check()
}

func rounded(v, parts float64) float64 { return math.Round(v*parts) / parts }
