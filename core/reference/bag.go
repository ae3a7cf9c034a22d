package reference

import (
	"fmt"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/measure"
)

// Sampled is a reading of a part of one bait of a bag.
type Sampled struct {
	Sample int
	Part   string
	Lab    colour.Lab
}

// Spread is how much a part differs from bait to bait.
type Spread struct {
	Part     string     `json:"part"`
	Centre   colour.Lab `json:"centre" doc:"The typical bait's"`
	Samples  int        `json:"samples"`
	DeltaE00 float64    `json:"deltaE00" doc:"How far a typical bait lies from the centre: what is within that is good enough"`
	Odd      []int      `json:"odd" nullable:"false" doc:"Samples that are not typical in this part"`
}

// Bag is what several baits of one bag say together.
type Bag struct {
	Parts []Spread `json:"parts" nullable:"false"`
	Odd   int      `json:"odd,omitempty" doc:"The sample that is proposed for setting aside; 0 for none"`
	Says  string   `json:"says"`
}

// leastSamples are needed before one of them can be odd.
const leastSamples = 4

// A sample is odd in a part where it lies this many times as far off as the others do, and at least so far.
const (
	oddTimes = 3.5
	leastOdd = 2.5
)

// SpreadOf works out a bag's spread per part, robustly: the centre is the point with the least sum of distances, the
// spread the median distance from it. The sample that is odd in most parts is proposed for setting aside.
func SpreadOf(all []Sampled) Bag {
	bag := Bag{Parts: []Spread{}}
	var names []string
	for _, s := range all {
		if !slices.Contains(names, s.Part) {
			names = append(names, s.Part)
		}
	}
	votes := map[int]float64{}
	for _, name := range names {
		var of []Sampled
		for _, s := range all {
			if s.Part == name {
				of = append(of, s)
			}
		}
		if len(of) < 2 {
			continue
		}
		p := Spread{Part: name, Centre: centre(of), Samples: len(of), Odd: []int{}}
		off := make([]float64, len(of))
		for i, s := range of {
			off[i] = colour.DeltaE00(p.Centre, s.Lab)
		}
		sorted := slices.Clone(off)
		slices.Sort(sorted)
		p.DeltaE00 = sorted[len(sorted)/2]
		if len(of) >= leastSamples {
			for i, s := range of {
				if off[i] > max(leastOdd, oddTimes*max(0.5, p.DeltaE00)) {
					p.Odd = append(p.Odd, s.Sample)
					votes[s.Sample] += off[i]
				}
			}
		}
		bag.Parts = append(bag.Parts, p)
	}
	most := 0.0
	for sample, v := range votes {
		if v > most || (v == most && sample < bag.Odd) {
			most, bag.Odd = v, sample
		}
	}
	switch {
	case len(bag.Parts) == 0:
		bag.Says = "Pin the same part on several baits of the bag, and number them: then their spread is known."
	case bag.Odd > 0:
		bag.Says = fmt.Sprintf(
			"Bait %d is not typical of this bag: it lies ΔE00 %s off where the others keep together. Set it aside?",
			bag.Odd,
			measure.Number(most/float64(max(1, timesOdd(bag, bag.Odd))), 1),
		)
	default:
		bag.Says = "The baits of this bag keep together."
	}
	return bag
}

func timesOdd(b Bag, sample int) (n int) {
	for _, p := range b.Parts {
		if slices.Contains(p.Odd, sample) {
			n++
		}
	}
	return n
}

// centre is the geometric median in Lab, by Weiszfeld's steps.
func centre(of []Sampled) colour.Lab {
	var c colour.Lab
	for _, s := range of {
		c.L, c.A, c.B = c.L+s.Lab.L/float64(len(of)), c.A+s.Lab.A/float64(len(of)), c.B+s.Lab.B/float64(len(of))
	}
	for range 60 {
		var next colour.Lab
		sum := 0.0
		for _, s := range of {
			w := 1 / math.Max(1e-3, colour.DeltaEab(c, s.Lab))
			next.L, next.A, next.B = next.L+w*s.Lab.L, next.A+w*s.Lab.A, next.B+w*s.Lab.B
			sum += w
		}
		c = colour.Lab{L: next.L / sum, A: next.A / sum, B: next.B / sum}
	}
	return c
}
