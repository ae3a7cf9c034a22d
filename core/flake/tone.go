package flake

import (
	"math"
	"slices"
)

// How pieces of one size are told to be of one flake or of several. A piece that sends back g times its own colour F,
// through a depth of its base B that lets τ of it through, differs from the base by τ (g F/B − 1), as a share of it
// and in linear light. Whatever g and τ are: without what all channels have in common, that is F/B's own tint, longer
// or shorter. So the pieces of one flake have one bearing about the neutral axis, near or deep, flashing or dim; those
// of another flake have another. A flake without a hue of its own has the bearing of 1/B. One that splits the light has
// many.

// tone is how a blob differs from the base.
type tone struct {
	neutral float64 // in all channels alike, as a share of the base, linear
	tint    float64 // beside that
	bearing float64 // of the tint, rad
}

// share is how much of the difference is tint.
func (t tone) share() float64 { return t.tint / max(1e-9, math.Hypot(t.tint, t.neutral)) }

// toneOf is the tone of a difference, linear and as a share of the base.
func toneOf(d [3]float64) tone {
	u, v := (d[0]-d[1])/math.Sqrt2, (d[0]+d[1]-2*d[2])/math.Sqrt(6)
	return tone{(d[0] + d[1] + d[2]) / math.Sqrt(3), math.Hypot(u, v), math.Atan2(v, u)}
}

func (b *blob) tone() tone {
	var d [3]float64
	for ch := range 3 {
		root := 1 + b.mean[ch]/3
		d[ch] = root*root*root - 1
	}
	return toneOf(d)
}

// Limits of what is told by tone.
const (
	leastTint   = 0.04 // from which on a bearing can be told
	plainShare  = 0.08 // of tint, below which a piece has no hue
	sized       = 0.25 // logarithm of a proportion to the kind's size, of what is looked at
	noiseShare  = 0.03 // of tint, which is noise
	bearings    = 144  // steps around the axis
	bearingBlur = 0.05 // rad: what noise and a tinted base add
	sameBearing = 0.4  // rad from a heap's middle that are of it
	strayShare  = 0.2  // of all that lie about no heap: from there on a flake that splits the light
	strayAround = 0.14 // the same, where heaps lie all around
	mostHues    = 3    // of one size: more are a flake that splits the light
)

// telling is how plain it must be that two heaps are two flakes.
type telling struct {
	valley float64 // between them, of the lesser one's height
	heap   float64 // of all pieces, from which on a heap is a flake
	// The most that lie between two brightnesses, as a share of the lesser heap.
	between float64
}

var surely, perhaps = telling{valley: 0.4, heap: 0.08, between: 0.15}, telling{valley: 0.75, heap: 0.06, between: 0.4}

// turnBetween is the angle between two bearings.
func turnBetween(a, b float64) float64 { return math.Abs(math.Remainder(a-b, 2*math.Pi)) }

// nearest is which of some bearings lies nearest to another.
func nearest(bearings []float64, to float64) (best int) {
	for i, b := range bearings {
		if turnBetween(b, to) < turnBetween(bearings[best], to) {
			best = i
		}
	}
	return best
}

// byTone decides anew, of all kinds that have one size, which pieces are of one flake.
func (c *area) byTone(kinds []kind, few int) []kind {
	var out []kind
	taken := make([]bool, len(kinds))
	for i, k := range kinds {
		if taken[i] {
			continue
		}
		group := k
		group.members = slices.Clone(k.members)
		for j := i + 1; j < len(kinds); j++ {
			if !taken[j] && math.Abs(math.Log(kinds[j].sizeMM/k.sizeMM)) < alikeSize {
				taken[j] = true
				group = together(group, kinds[j])
				group.hues = append(slices.Clone(group.hues), kinds[j].hues...)
			}
		}
		out = append(out, c.toned(group, few, surely)...)
	}
	for i := 0; i < len(out); i++ {
		if m := slices.IndexFunc(out, func(m kind) bool { return out[i].pairsOf(m) }); m >= 0 {
			out[m].members = append(out[m].members, out[i].members...)
			out = slices.Delete(out, i, i+1)
			i--
		}
	}
	return out
}

// toned parts pieces of one size by their tone.
func (c *area) toned(k kind, few int, how telling) []kind {
	var tones []tone
	whole := 0
	for _, m := range k.members {
		// others are told by their size later
		if b := &c.parts[m]; b.intact() && math.Abs(math.Log(b.sizeMM/k.sizeMM)) < sized {
			whole++
			tones = append(tones, b.tone())
		}
	}
	heaps := bearingsOf(tones, few, how)
	enough := max(few/2, 4, int(how.heap*float64(whole)))
	plain := 0
	var shares []float64
	for _, t := range tones {
		if t.share() < plainShare {
			plain++
		}
		shares = append(shares, math.Log(max(noiseShare, t.share())))
	}
	// Those without a hue are a flake of their own, if there is a gap to the others, and none of those is what flashes
	// of it.
	own, hasOwn := c.neutralBearing()
	g := gap(shares, enough)
	neutral := len(heaps) > 0 && plain >= enough && g.filled < how.valley &&
		!(hasOwn && turnBetween(heaps[nearest(heaps, own)], own) < sameBearing)
	n := len(heaps)
	if neutral {
		n++
	}
	if n < 2 {
		return c.byBrightness(k, enough, how)
	}
	parts := make([][]int, n)
	for _, m := range k.members {
		t := c.parts[m].tone()
		best := nearest(heaps, t.bearing)
		switch {
		case neutral:
			if t.share() < math.Exp(g.line-g.apart/6) { // deep ones of the other have less, too
				best = n - 1
			}
		case hasOwn && (t.share() < plainShare || t.tint < leastTint):
			best = nearest(heaps, own)
		}
		parts[best] = append(parts[best], m)
	}
	out := make([]kind, 0, n)
	for _, members := range parts {
		one := c.of(members)
		one.hues = c.huesOf(members)
		if one.sizeMM == 0 {
			return []kind{k}
		}
		out = append(out, one)
	}
	return out
}

// blackish is how bright pieces are that send hardly any light back, as a share of their base.
const blackish = 0.4

// halfOn is the least share of its area that a piece shows whose brightness is its own.
const halfOn = 0.5

// byBrightness parts pieces of one hue, or of none, into lighter and darker ones, where there are few between: that may
// be two flakes, or one that flashes here and is dim there. Only where the darker ones are black it is taken for two.
func (c *area) byBrightness(k kind, enough int, how telling) []kind {
	light := func(m int) float64 { return math.Cbrt(max(0, 1+c.parts[m].tone().neutral/math.Sqrt(3))) }
	var all []float64
	for _, m := range k.members {
		b := &c.parts[m]
		// of those on edge a lens leaves less
		if across := b.sizeMM * c.px; b.intact() && float64(len(b.at)) > halfOn*hexArea*across*across {
			all = append(all, light(m))
		}
	}
	g := gap(all, enough)
	if g.filled > how.between || how == surely && g.line-g.apart/2 > math.Cbrt(blackish) {
		return []kind{k}
	}
	var two [2][]int
	for _, m := range k.members {
		side := 0
		if light(m) > g.line {
			side = 1
		}
		two[side] = append(two[side], m)
	}
	out := []kind{c.of(two[0]), c.of(two[1])}
	for i := range out {
		if out[i].sizeMM == 0 {
			return []kind{k}
		}
		out[i].hues, out[i].byBrightness = c.huesOf(two[i]), true
	}
	return out
}

// huesOf are the ways in which pieces of one flake differ from the base: those that are lighter than it, and those that
// are darker.
func (c *area) huesOf(members []int) (hues [][3]float64) {
	var sums [2][3]float64
	var n [2]int
	for _, m := range members {
		side := 0
		if c.parts[m].tone().neutral < 0 {
			side = 1
		}
		n[side]++
		for ch := range 3 {
			sums[side][ch] += c.parts[m].mean[ch]
		}
	}
	for side := range sums {
		if 10*n[side] > len(members) {
			hues = append(hues, unit(sums[side]))
		}
	}
	return hues
}

// neutralBearing is the bearing of a flake without a hue of its own in this base; none where the base has hardly a hue.
func (c *area) neutralBearing() (float64, bool) {
	var d [3]float64
	mean := 0.0
	for ch := range 3 {
		root := max(0.05, c.fit[ch][0])
		d[ch] = 1 / (root * root * root)
		mean += d[ch] / 3
	}
	t := toneOf([3]float64{d[0] / mean, d[1] / mean, d[2] / mean})
	return t.bearing, t.tint > 0.15
}

// bearingsOf are the middles of the heaps that pieces make by their bearing; one where they go all around.
func bearingsOf(tones []tone, few int, how telling) []float64 {
	var told []float64
	for _, t := range tones {
		if t.tint >= leastTint {
			told = append(told, t.bearing)
		}
	}
	if len(told) == 0 {
		return nil
	}
	var height [bearings]float64
	at := func(i int) float64 { return 2 * math.Pi * float64(i) / bearings }
	for i := range height {
		for _, b := range told {
			d := turnBetween(b, at(i)) / bearingBlur
			height[i] += math.Exp(-d * d / 2)
		}
	}
	var tops []int
	for i := range height {
		if height[i] > 0 && height[i] >= height[(i+1)%bearings] && height[i] > height[(i+bearings-1)%bearings] {
			tops = append(tops, i)
		}
	}
	slices.SortFunc(tops, func(a, b int) int {
		if height[a] > height[b] {
			return -1
		}
		return 1
	})
	var heaps []int
	for _, p := range tops {
		apart := true
		for _, q := range heaps {
			lowest := [2]float64{math.Inf(1), math.Inf(1)}
			for way, step := range []int{1, bearings - 1} {
				for i := p; i != q; i = (i + step) % bearings {
					lowest[way] = min(lowest[way], height[i])
				}
			}
			if max(lowest[0], lowest[1]) > how.valley*height[p] {
				apart = false
				break
			}
		}
		if apart {
			heaps = append(heaps, p)
		}
	}
	n := make([]int, len(heaps))
	stray := 0
	middles := make([]float64, len(heaps))
	for i, p := range heaps {
		middles[i] = at(p)
	}
	for _, b := range told {
		n[nearest(middles, b)]++
	}
	enough := max(few/2, 4, int(how.heap*float64(len(tones))))
	var out []float64
	for h, middle := range middles {
		if n[h] >= enough {
			out = append(out, middle)
		}
	}
	// As many flakes of one size with hues all around are rarer than one that splits the light: they have to be plainer.
	near, most := sameBearing, strayShare
	if how == surely && len(out) == mostHues && allAround(out) {
		near, most = sameBearing/2, strayAround
	}
	for _, b := range told {
		if !slices.ContainsFunc(out, func(o float64) bool { return turnBetween(b, o) < near }) {
			stray++
		}
	}
	if len(out) > mostHues || len(out) > 1 && float64(stray) > most*float64(len(told)) {
		return out[:1]
	}
	return out
}

// allAround says whether bearings leave hardly more than half a turn free.
func allAround(list []float64) bool {
	const hardlyMore = 1.1
	sorted := slices.Sorted(slices.Values(list))
	for i, b := range sorted {
		next := sorted[(i+1)%len(sorted)]
		if i+1 == len(sorted) {
			next += 2 * math.Pi
		}
		if next-b > hardlyMore*math.Pi {
			return false
		}
	}
	return true
}
