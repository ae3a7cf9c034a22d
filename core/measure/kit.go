package measure

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// Kit is what a maker measures with: the spoons they own, and measures of their own naming.
type Kit struct {
	SpoonsTSP []float64      `json:"spoonsTSP" nullable:"false" maxItems:"16" doc:"Spoons owned, in teaspoons"`
	Heaped    float64        `json:"heaped" minimum:"1" maximum:"3" doc:"What a heaped spoon holds, in level ones"`
	Named     []NamedMeasure `json:"named" nullable:"false" maxItems:"40"`
}

// NamedMeasure is a measure of the maker's own, such as "tip of the small knife", known by weighing it once.
type NamedMeasure struct {
	Name string  `json:"name" minLength:"2" maxLength:"40"`
	ML   float64 `json:"ml" minimum:"0.0005" maximum:"500" doc:"Volume of what lies on it, loosely filled"`
	From string  `json:"from,omitempty" maxLength:"120" doc:"How it was calibrated"`
}

// StandardKit is a set of the usual spoons, for a maker who has said nothing yet.
func StandardKit() Kit {
	return Kit{
		SpoonsTSP: []float64{1, 0.5, 0.25, 0.125, 0.0625, 0.03125, 0.015625}, Heaped: 1.5, Named: []NamedMeasure{},
	}
}

// Check says what is wrong with a kit.
func (k Kit) Check() error {
	if len(k.SpoonsTSP) > 16 || len(k.Named) > 40 {
		return fmt.Errorf("up to 16 spoons and 40 measures of your own are kept")
	}
	for i, s := range k.SpoonsTSP {
		if !(s >= 1.0/512 && s <= 12) {
			return fmt.Errorf("a spoon holds from 1/512 tsp to 12 tsp; %s is none", Number(s, 4))
		}
		if slices.Index(k.SpoonsTSP, s) != i {
			return fmt.Errorf("the %s spoon is in the set twice", Spoons(s))
		}
	}
	if !(k.Heaped >= 1 && k.Heaped <= 3) {
		return fmt.Errorf("a heaped spoon holds 1 to 3 level ones")
	}
	for i, n := range k.Named {
		name := cleanUnit(strings.ToLower(n.Name))
		if len(name) < 2 || len(name) > 40 || strings.ContainsAny(name, "0123456789+/") {
			return fmt.Errorf("%q: name a measure with 2 to 40 letters, without figures or +", n.Name)
		}
		if err := CheckLine("name", n.Name); err != nil {
			return err
		}
		if _, known := doseUnits[name]; known {
			return fmt.Errorf("%q is a unit already; choose another name", n.Name)
		}
		if slices.IndexFunc(k.Named, func(o NamedMeasure) bool { return strings.EqualFold(o.Name, n.Name) }) != i {
			return fmt.Errorf("two measures are called %q", n.Name)
		}
		if !(n.ML >= 0.0005 && n.ML <= 500) {
			return fmt.Errorf("%q holds %s ml; 0.0005 to 500 are accepted", n.Name, Number(n.ML, 4))
		}
	}
	return nil
}

// Calibrate makes a named measure from one weighing of a material of known bulk density.
func Calibrate(name string, grams, times, bulkGML float64, of string) (NamedMeasure, error) {
	if !(grams > 0) || !(times >= 1) || !(bulkGML > 0) {
		return NamedMeasure{}, fmt.Errorf("weigh one or more measures of it together and give the grams, such as 0.35 g for 10")
	}
	n := NamedMeasure{
		strings.TrimSpace(name), grams / times / bulkGML,
		fmt.Sprintf("%s g for %s of %s", Number(grams, 3), Number(times, 0), of),
	}
	return n, Kit{Heaped: 1, Named: []NamedMeasure{n}}.Check()
}

// SmallestTSP is the smallest spoon owned, or 1/64 tsp.
func (k Kit) SmallestTSP() float64 {
	if len(k.SpoonsTSP) == 0 {
		return 1.0 / 64
	}
	return slices.Min(k.SpoonsTSP)
}

// Scoops is a way to measure an amount with the spoons at hand.
type Scoops struct {
	Counts   []ScoopCount `json:"counts" nullable:"false"`
	Scoops   int          `json:"scoops"`
	TSP      float64      `json:"tsp" doc:"What they come to"`
	ErrorTSP float64      `json:"errorTSP" doc:"That less what was wanted"`
}

// ScoopCount is how often one spoon is filled.
type ScoopCount struct {
	TSP float64 `json:"tsp"`
	N   int     `json:"n"`
}

// String says it: "1 × 1/8 tsp, 2 × 1/32 tsp".
func (s Scoops) String() string {
	var parts []string
	for _, c := range s.Counts {
		parts = append(parts, fmt.Sprintf("%d × %s", c.N, Spoons(c.TSP)))
	}
	if len(parts) == 0 {
		return "none"
	}
	return strings.Join(parts, ", ")
}

// MaxScoops is how often anyone fills a spoon for one dose before reaching for a larger one.
const MaxScoops = 12

const tie = 1e-12 // teaspoons

// Round finds the spoons for a target: the least error, then the fewest scoops, then under rather than over (one
// can add, not take out), then larger spoons. few is the fewest scoops within 5 %, or nil if there is none.
//
// It is a search over all counts, cut short where the spoons left over can no longer reach what the best has:
// spoons are tried from the largest down, and a branch ends once it is over the target by more than the best error.
func (k Kit) Round(targetTSP float64) (best Scoops, few *Scoops) {
	spoons := slices.Clone(k.SpoonsTSP)
	slices.SortFunc(spoons, func(a, b float64) int { return cmpFloat(b, a) })
	counts := make([]int, len(spoons))
	var bestC, fewC []int
	var bestT, fewT float64
	better := func(n int, total float64, c []int, m int, other float64, o []int, byError bool) bool {
		e, f := math.Abs(total-targetTSP), math.Abs(other-targetTSP)
		if byError && math.Abs(e-f) > tie {
			return e < f
		}
		if n != m {
			return n < m
		}
		if math.Abs(e-f) > tie {
			return e < f
		}
		if under, over := total <= targetTSP+tie, other <= targetTSP+tie; under != over {
			return under
		}
		return slices.Compare(c, o) > 0
	}
	sum := func(c []int) (n int) {
		for _, v := range c {
			n += v
		}
		return n
	}
	var walk func(i, left int, total float64)
	walk = func(i, left int, total float64) {
		if over := total - targetTSP; over > tie && bestC != nil && over > math.Abs(bestT-targetTSP)+tie &&
			(fewC == nil || over > 0.05*targetTSP+tie) {
			return
		}
		if i == len(spoons) {
			n := MaxScoops - left
			if bestC == nil || better(n, total, counts, sum(bestC), bestT, bestC, true) {
				bestC, bestT = slices.Clone(counts), total
			}
			if math.Abs(total-targetTSP) <= 0.05*targetTSP+tie && (fewC == nil || better(
				n, total, counts, sum(fewC), fewT, fewC, false,
			)) {
				fewC, fewT = slices.Clone(counts), total
			}
			return
		}
		// All that is left, filled with the largest spoon left, must come near enough.
		if short := targetTSP - total - float64(left)*spoons[i]; bestC != nil && short > math.Abs(bestT-targetTSP)+
			tie &&
			short > 0.05*targetTSP+tie {
			return
		}
		most := min(left, int(math.Ceil((targetTSP-total)/spoons[i]))+1)
		for n := max(most, 0); n >= 0; n-- {
			counts[i] = n
			walk(i+1, left-n, total+float64(n)*spoons[i])
		}
		counts[i] = 0
	}
	walk(0, MaxScoops, 0)
	scoops := func(c []int, total float64) Scoops {
		s := Scoops{Counts: []ScoopCount{}, Scoops: sum(c), TSP: total, ErrorTSP: total - targetTSP}
		for i, n := range c {
			if n > 0 {
				s.Counts = append(s.Counts, ScoopCount{spoons[i], n})
			}
		}
		return s
	}
	best = scoops(bestC, bestT)
	if fewC != nil {
		s := scoops(fewC, fewT)
		few = &s
	}
	return best, few
}

func cmpFloat(a, b float64) int {
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}
