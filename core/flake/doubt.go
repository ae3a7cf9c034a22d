package flake

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cloudburst/core/measure"
)

// A count may be read in two ways: two colours of one size may be one flake that glitters, and what is small beside
// coarse pieces may be their rims or a finer flake. Where what was found leaves that open, it is said, and the other
// reading stands beside the first.

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
		if taken[i] || len(b.at) < least || c.contrast(b) < leftContrast*leastTold || b.solid < 0.85 ||
			b.sizeMM*c.px < leastPiecePX {
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

// finer looks whether what was left uncounted is a kind of its own: of one size, and whole. sure is false where there
// is too little of it.
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

// look goes over what was left out once more: what has a kind's size and hue is counted with it, what is a kind of its
// own is one.
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

// twin is which other of the kinds was told from kind number i by brightness alone; -1 for none.
func (k kind) twin(kinds []kind, i int) int {
	for j, o := range kinds {
		if j != i && k.byBrightness && o.byBrightness && math.Abs(math.Log(o.sizeMM/k.sizeMM)) < alikeSize {
			return j
		}
	}
	return -1
}

// doubt gives the other way to read what was found, and why; nil where there is none.
func (c *area) doubt(kinds []kind, f *Found, few int) ([]kind, string) {
	var other []kind
	var why []string
	for i, k := range kinds {
		var two []kind
		if j := k.twin(kinds, i); j > i {
			continue // the two as one, at the second
		} else if j >= 0 {
			two = []kind{together(kinds[j], k)}
			c.weigh(&two[0])
		} else if two = c.toned(k, few, perhaps); len(two) < 2 {
			other = append(other, k)
			continue
		}
		other = append(other, two...)
		size := measure.Number(f.Classes[i].SizeIN, 3)
		why = append(why, "the pieces of "+size+" in may be one flake that glitters, or two colours")
	}
	if k, doubt, _ := c.finer(kinds); doubt {
		other = append(other, k)
		why = append(
			why,
			fmt.Sprintf(
				"%d pieces of %s in may be a finer flake, or bits of the others", len(k.members),
				measure.Number(k.sizeMM/measure.MMPerInch, 3),
			),
		)
	}
	if len(why) == 0 {
		return nil, ""
	}
	says := strings.Join(why, "; ")
	return other, strings.ToUpper(says[:1]) + says[1:] + "."
}
