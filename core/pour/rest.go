package pour

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
)

// worthML is how much has to be left over hot for anyone to look for another mold: less is a bait or two, and cold
// before the mold is found.
const worthML = 15

// Gives is what so much plastic gives of a mold.
type Gives struct {
	Mold  string
	Baits int
	InML  float64 // of the plastic, what that takes in all
}

// mostMolds are named.
const mostMolds = 3

// SaysGives says what so much plastic is good for, the molds that use the most of it first.
func SaysGives(all []Gives) string {
	some := slices.DeleteFunc(slices.Clone(all), func(g Gives) bool { return g.Baits == 0 })
	if len(some) == 0 {
		return "too little for a bait of any mold here; keep it"
	}
	slices.SortStableFunc(some, func(a, b Gives) int { return cmp.Compare(b.InML, a.InML) })
	var named []string
	for _, g := range some[:min(len(some), mostMolds)] {
		named = append(named, fmt.Sprintf("%d of %s", g.Baits, g.Mold))
	}
	return "enough for " + strings.Join(named, ", or ")
}
