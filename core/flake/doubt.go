package flake

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cloudburst/core/measure"
)

// A count may be read in two ways: two colours of one size may be one flake that glitters, and what is small beside coarse pieces may be
// their rims or a finer flake. Where what was found leaves that open, it is said, and the other reading stands beside the first.

// How far pieces must lie apart to be doubted as one kind. Chosen, as all figures here, by close-ups of the camera stand-in, treated as
// phones treat photos.
const (
	doubtAngle    = 0.42 // rad between the ways in which two heaps differ from the base
	doubtApart    = 2.2  // the same, in spreads of the heaps
	doubtShare    = 0.14 // of the lesser heap
	mirrorAngle   = 1.2  // from which on the two may be a mirror that faces the light, and one that does not
	mirrorShare   = 0.09 // of the lesser heap there
	doubtBetween  = 0.3  // the most that lie between two strengths, as a share of the lesser heap
	doubtStrength = 0.5  // how far those are apart, as a logarithm
	doubtFew      = 6    // pieces in it at least
	deeper        = 0.68 // times as strong as the other: the weaker heap is the same flake, deep in a tinted base
)

// How much must be left uncounted to be a kind, or to be doubted: bits and rims are of all sizes, a flake is of one.
const (
	leftFew      = 8
	leftSpread   = 0.25 // of the logarithm of their sizes, of the middle six in ten
	leftIntact   = 0.75 // share of them that is whole
	leftSurely   = 0.3  // of those counted: from there on it is a kind
	leftContrast = 1.25 // times the least that is told
	leftNear     = 0.22 // how far the size of others may lie from theirs that are counted with them, as a logarithm
)

// Decide takes one of the two readings: this one as it stands, or the other. Either can be gone back to.
func (f *Found) Decide(other bool) (Found, error) {
	if f.Other == nil {
		return *f, measure.Faulty("other", "this count can be read in one way only")
	}
	out, left := *f, *f.Other
	if other {
		out, left = *f.Other, *f
		left.Other, left.Unsure, left.Decided = nil, "", false
		out.Unsure = f.Unsure
	}
	out.Other, out.Decided = &left, true
	return out, nil
}

// heaps parts the pieces of a kind into two by the way in which they differ from the base; doubt is false where they are one heap.
func (c *area) heaps(members []int) (two [2][]int, doubt bool) {
	type one struct {
		m   int
		hue [3]float64
	}
	var all []one
	var strengths []float64
	strong := func(m int) float64 {
		v := c.parts[m].mean
		return math.Sqrt(dot3(v, v))
	}
	for _, m := range members {
		if c.parts[m].intact() {
			strengths = append(strengths, strong(m))
		}
	}
	near := 0.5 * upper(strengths) // deep ones take on the base's hue
	for _, m := range members {
		if c.parts[m].intact() && strong(m) >= near {
			all = append(all, one{m, unit(c.parts[m].mean)})
		}
	}
	if two, ok := c.byStrength(members); ok {
		return two, true
	}
	if len(all) < 2*doubtFew {
		return two, false
	}
	// Two means on the sphere, from the two that lie furthest apart along the widest spread.
	var middle [3]float64
	for _, o := range all {
		for ch := range 3 {
			middle[ch] += o.hue[ch]
		}
	}
	far := func(from [3]float64) [3]float64 {
		return slices.MinFunc(all, func(a, b one) int {
			switch d := dot3(a.hue, from) - dot3(b.hue, from); {
			case d < 0:
				return -1
			case d > 0:
				return 1
			}
			return a.m - b.m
		}).hue
	}
	heads := [2][3]float64{far(unit(middle))}
	heads[1] = far(heads[0])
	side := make([]int, len(all))
	for range 25 {
		var sums [2][3]float64
		for i, o := range all {
			side[i] = 0
			if dot3(o.hue, heads[1]) > dot3(o.hue, heads[0]) {
				side[i] = 1
			}
			for ch := range 3 {
				sums[side[i]][ch] += o.hue[ch]
			}
		}
		heads = [2][3]float64{unit(sums[0]), unit(sums[1])}
	}
	var n [2]float64
	var strengthOf [2][]float64
	spread := 0.0
	for i, o := range all {
		n[side[i]]++
		strengthOf[side[i]] = append(strengthOf[side[i]], strong(o.m))
		a := math.Acos(min(1, dot3(o.hue, heads[side[i]])))
		spread += a * a
	}
	angle := math.Acos(max(-1, min(1, dot3(heads[0], heads[1]))))
	spread = math.Sqrt(spread/float64(len(all))) + 0.02
	share := min(n[0], n[1]) / float64(len(all))
	least := doubtShare
	if angle > mirrorAngle {
		least = mirrorShare
	}
	if min(n[0], n[1]) < doubtFew || share < least || angle < doubtAngle || angle < doubtApart*spread {
		return two, false
	}
	if a, b := upper(strengthOf[0]), upper(strengthOf[1]); angle < mirrorAngle && min(a, b) < deeper*max(a, b) {
		return two, false
	}
	for _, m := range members {
		u := unit(c.parts[m].mean)
		if dot3(u, heads[1]) > dot3(u, heads[0]) {
			two[1] = append(two[1], m)
		} else {
			two[0] = append(two[0], m)
		}
	}
	return two, true
}

// byStrength parts pieces that differ from the base strongly from those that hardly do, where there are few between: in a clear base depth
// leaves a piece as it is, so that those are two colours; in a tinted or a milky one they fade without a gap.
func (c *area) byStrength(members []int) (two [2][]int, ok bool) {
	strength := func(m int) float64 { return math.Log(c.contrast(&c.parts[m])) }
	var all []float64
	for _, m := range members {
		if c.parts[m].intact() {
			all = append(all, strength(m))
		}
	}
	g := gap(all, max(doubtFew, int(doubtShare*float64(len(all)))))
	if g.filled > doubtBetween || g.apart < doubtStrength {
		return two, false
	}
	for _, m := range members {
		side := 0
		if strength(m) < g.line {
			side = 1
		}
		two[side] = append(two[side], m)
	}
	return two, true
}

// leftOver are pieces that no kind counts and that do not lie at the edge of one that is counted.
func (c *area) leftOver(kinds []kind) []int {
	owner := make([]bool, c.w*c.h)
	taken := make([]bool, len(c.parts))
	for _, k := range kinds {
		for _, m := range k.members {
			taken[m] = true
			for _, i := range c.parts[m].at {
				owner[i] = true
			}
		}
	}
	var out []int
	for i := range c.parts {
		b := &c.parts[i]
		if taken[i] || len(b.at) < least || c.contrast(b) < leftContrast*leastTold || b.solid < 0.85 || b.sizeMM*c.px < leastPiecePX {
			continue
		}
		if !c.touches(b, owner) {
			out = append(out, i)
		}
	}
	return out
}

// touches says whether a blob lies within two pixels of what is marked.
func (c *area) touches(b *blob, marked []bool) bool {
	const reach = 2
	return slices.ContainsFunc(b.at, func(i int32) bool {
		x, y := int(i)%c.w, int(i)/c.w
		for v := max(0, y-reach); v <= min(c.h-1, y+reach); v++ {
			for u := max(0, x-reach); u <= min(c.w-1, x+reach); u++ {
				if marked[v*c.w+u] {
					return true
				}
			}
		}
		return false
	})
}

// of makes a kind of parts.
func (c *area) of(members []int) kind {
	k := kind{members: members}
	for _, m := range members {
		for ch := range 3 {
			k.dir[ch] += c.parts[m].mean[ch] * float64(len(c.parts[m].at))
		}
	}
	c.weigh(&k)
	return k
}

// finer looks whether what was left uncounted is a kind of its own: of one size, and whole. sure is false where there is too little of it.
func (c *area) finer(kinds []kind) (k kind, doubt, sure bool) {
	left := c.leftOver(kinds)
	var sizes []float64
	for _, m := range left {
		if c.parts[m].intact() {
			sizes = append(sizes, math.Log(c.parts[m].sizeMM))
		}
	}
	if len(sizes) < leftFew || float64(len(sizes)) < leftIntact*float64(len(left)) {
		return k, false, false
	}
	slices.Sort(sizes)
	if sizes[len(sizes)*85/100]-sizes[len(sizes)*25/100] > leftSpread {
		return k, false, false
	}
	counted := 0
	taken := make([]bool, len(c.parts))
	for _, o := range kinds {
		counted += len(o.members)
		for _, m := range o.members {
			taken[m] = true
		}
	}
	// Those of its size count with it, also where they touch others, or hardly differ from the base.
	size := sizes[len(sizes)*6/10]
	for _, m := range left {
		taken[m] = true
	}
	for i := range c.parts {
		if b := &c.parts[i]; !taken[i] && b.intact() && math.Abs(math.Log(b.sizeMM)-size) < leftNear {
			left = append(left, i)
		}
	}
	return c.of(left), true, float64(len(sizes)) >= leftSurely*float64(counted)
}

// look goes over what was left out once more: what has a kind's size and hue is counted with it, what is a kind of its own is one.
func (c *area) look(kinds []kind) []kind {
	k, doubt, sure := c.finer(kinds)
	if !doubt {
		return kinds
	}
	for i, o := range kinds { // more of a kind that is counted
		if math.Abs(math.Log(k.sizeMM/o.sizeMM)) < alikeSize && (sameHue(k.dir, o.dir) || opposite(k.dir, o.dir)) {
			kinds[i].members = append(kinds[i].members, k.members...)
			kinds[i].hues = append(kinds[i].hues, unit(k.dir))
			return kinds
		}
	}
	if sure {
		kinds = append(kinds, k)
	}
	return kinds
}

// doubt gives the other way to read what was found, and why; nil where there is none.
func (c *area) doubt(kinds []kind, f *Found) ([]kind, string) {
	var other []kind
	var why []string
	for i, k := range kinds {
		two, doubt := c.heaps(k.members)
		if !doubt {
			other = append(other, k)
			continue
		}
		other = append(other, c.of(two[0]), c.of(two[1]))
		size := measure.Number(f.Classes[i].SizeIN, 3)
		why = append(why, "the pieces of "+size+" in may be one flake that glitters, or two colours")
	}
	if k, doubt, _ := c.finer(kinds); doubt {
		other = append(other, k)
		why = append(why, fmt.Sprintf("%d pieces of %s in may be a finer flake, or bits of the others", len(k.members), measure.Number(k.sizeMM/measure.MMPerInch, 3)))
	}
	if len(why) == 0 {
		return nil, ""
	}
	says := strings.Join(why, "; ")
	return other, strings.ToUpper(says[:1]) + says[1:] + "."
}
