package flake

import (
	"cmp"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/fit"
	"cloudburst/core/measure"
)

// kind is pieces that differ from the base in the same way.
type kind struct {
	dir              [3]float64
	members          []int
	sizeMM, contrast float64
	hues             [][3]float64 // each way in which its pieces differ from the base
	byBrightness     bool         // told from another of its size and hue by brightness alone
}

func dot3(a, b [3]float64) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }

func unit(m [3]float64) [3]float64 {
	n := math.Max(1e-9, math.Sqrt(m[0]*m[0]+m[1]*m[1]+m[2]*m[2]))
	return [3]float64{m[0] / n, m[1] / n, m[2] / n}
}

// parted parts a kind into two where its pieces fall into two sizes, or into two hues, with a gap between them; and
// those again.
func (c *area) parted(k kind, few int) []kind {
	if len(k.members) < 2*few {
		return []kind{k}
	}
	all := c.sorts(&k)
	again := func(two [2]kind) []kind { return append(c.parted(two[0], few), c.parted(two[1], few)...) }
	hue, plain := all.alongHue()
	size := func(o one) float64 { return o.size }
	whole := func(o one) bool { return o.whole }
	byHue, bySize := all.gap(hue, plain, few), all.gap(size, whole, few)
	if byHue.filled < mostBetween {
		// A mirror that faces the light and one that is turned away differ from the base to either side, in no hue.
		two := c.half(all, func(o one) bool { return hue(o) < byHue.line })
		// near and deep ones of one flake differ in hue, too
		oneSize := math.Abs(math.Log(two[0].sizeMM/two[1].sizeMM)) < alikeSize
		otherHue := !sameHue(two[0].dir, two[1].dir) || dot3(unit(two[0].dir), unit(two[1].dir)) < alikeHue
		if (!oneSize || byHue.filled < mostBetweenAlike) && otherHue {
			return again(two)
		}
	}
	if bySize.filled < mostBetween {
		return again(c.half(all, func(o one) bool { return o.size < bySize.line }))
	}
	// Neither alone, with pieces cut unevenly, but both together.
	if max(byHue.filled, bySize.filled) < mostBetweenEach {
		sign := 1.0
		if two := c.half(all, func(o one) bool { return hue(o) < byHue.line }); two[0].sizeMM > two[1].sizeMM {
			sign = -1
		}
		both := func(o one) float64 { return sign*(hue(o)-byHue.line)/byHue.apart + (o.size-bySize.line)/bySize.apart }
		if g := all.gap(both, plain, few); g.filled < mostBetweenBoth {
			return again(c.half(all, func(o one) bool { return both(o) < g.line }))
		}
	}
	return []kind{k}
}

// one is a piece of a kind as it is told from the others.
type one struct {
	part         int
	size, strong float64 // logarithm of mm; how far its colour is from the base
	hue          [3]float64
	whole        bool
}

type ones []one

func (c *area) sorts(k *kind) ones {
	all := make(ones, len(k.members))
	for i, m := range k.members {
		b := &c.parts[m]
		strong := math.Sqrt(b.mean[0]*b.mean[0] + b.mean[1]*b.mean[1] + b.mean[2]*b.mean[2])
		all[i] = one{part: m, size: math.Log(b.sizeMM), strong: strong, hue: unit(b.mean), whole: b.intact()}
	}
	return all
}

// alongHue looks along the way between the two hues that lie furthest apart, and says of which pieces they can be told:
// of those near the surface, since deep ones take on the base's.
func (all ones) alongHue() (hue func(one) float64, plain func(one) bool) {
	var strengths []float64
	var mid [3]float64
	for _, o := range all {
		strengths = append(strengths, o.strong)
		for ch := range 3 {
			mid[ch] += o.hue[ch] / float64(len(all))
		}
	}
	near := upper(strengths) * 0.6
	var cov [3][3]float64
	for _, o := range all {
		if o.strong < near {
			continue
		}
		for i := range 3 {
			for j := range 3 {
				cov[i][j] += (o.hue[i] - mid[i]) * (o.hue[j] - mid[j])
			}
		}
	}
	far := fit.Widest(cov)
	return func(o one) float64 { return dot3(o.hue, far) }, func(o one) bool { return o.whole && o.strong >= near }
}

// gap finds the valley between two kinds along a value.
func (all ones) gap(value func(one) float64, use func(one) bool, few int) valley {
	var v []float64
	for _, o := range all {
		if use(o) {
			v = append(v, value(o))
		}
	}
	return gap(v, max(3, few/2))
}

// half makes two kinds of one.
func (c *area) half(all ones, below func(one) bool) (two [2]kind) {
	for _, o := range all {
		to := &two[1]
		if below(o) {
			to = &two[0]
		}
		to.members = append(to.members, o.part)
		for ch := range 3 {
			to.dir[ch] += c.parts[o.part].mean[ch] * float64(len(c.parts[o.part].at))
		}
	}
	c.weigh(&two[0])
	c.weigh(&two[1])
	return two
}

// The most that lie between two heaps, as a share of the lesser: of two kinds, and of two that have one size. One more
// is added to those that do, since in few pieces a gap can be chance.
const mostBetween, mostBetweenAlike, chance = 0.4, 0.15, 1

// mostBetweenEach is the most in each of two measures that are looked at together, mostBetweenBoth the most in both as
// one: one flake has no two heaps that differ in size and hue alike.
const mostBetweenEach, mostBetweenBoth = 0.9, 0.6

// valley is what parts values into two heaps.
type valley struct {
	line   float64
	filled float64 // how many lie in it, as a share of the lesser heap
	apart  float64 // how far the heaps' medians are from each other
}

// gap looks for the valley that parts values into two heaps, each of few or more.
func gap(v []float64, few int) valley {
	if len(v) < 2*few {
		return valley{filled: math.Inf(1)}
	}
	slices.Sort(v)
	n := len(v)
	sum := make([]float64, n+1)
	for i, x := range v {
		sum[i+1] = sum[i] + x
	}
	best, at := 0.0, 0
	for i := few; i <= n-few; i++ { // the cut that leaves the heaps' middles furthest apart
		a, b := sum[i]/float64(i), (sum[n]-sum[i])/float64(n-i)
		if w := float64(i) * float64(n-i) * (b - a) * (b - a); w > best {
			best, at = w, i
		}
	}
	if at == 0 {
		return valley{filled: math.Inf(1)}
	}
	low, high := v[at/2], v[(at+n)/2] // medians
	w := high - low
	within := func(from, to float64) float64 {
		i, _ := slices.BinarySearch(v, from)
		j, _ := slices.BinarySearch(v, to)
		return float64(j - i)
	}
	middle := within(low+0.35*w, high-0.35*w)
	heap := min(within(low-0.15*w, low+0.15*w), within(high-0.15*w, high+0.15*w))
	return valley{(low + high) / 2, (middle + chance) / heap, w}
}

// weigh works out a kind's size and contrast.
func (c *area) weigh(k *kind) {
	var sizes, told []float64
	for _, m := range k.members {
		b := &c.parts[m]
		size := b.sizeMM
		if b.intact() {
			sizes = append(sizes, size)
		}
		told = append(told, c.contrast(b))
	}
	k.sizeMM, k.contrast = upper(sizes), upper(told)
}

// found sorts the pieces by colour, and measures them.
func (c *area) found() *Found {
	few := max(3, len(c.parts)/25)
	kinds := slices.DeleteFunc(c.byHue(), func(k kind) bool { return len(k.members) < few || k.sizeMM == 0 })
	var parted []kind
	for _, k := range kinds {
		parted = append(parted, c.parted(k, few)...)
	}
	parted = slices.DeleteFunc(parted, func(k kind) bool { return k.sizeMM == 0 })
	kinds = c.again(c.byTone(c.merged(parted, few), few))
	c.settle(kinds)
	c.adopt(kinds)
	kinds = c.look(slices.DeleteFunc(kinds, func(k kind) bool { return len(k.members) < few }))
	f := c.counted(kinds)
	if other, why := c.doubt(kinds, f, few); why != "" {
		f.Unsure, f.Other = why, c.counted(other)
	}
	return f
}

// byHue gathers pieces that differ from the base in about the same way, the plainest first.
func (c *area) byHue() []kind {
	strength := func(i int) float64 {
		m := c.parts[i].mean
		return math.Sqrt(dot3(m, m)) * math.Sqrt(float64(len(c.parts[i].at)))
	}
	order := make([]int, len(c.parts))
	for i := range order {
		order[i] = i
	}
	slices.SortFunc(order, func(a, b int) int { return cmp.Or(cmp.Compare(strength(b), strength(a)), a-b) })
	const alike = 0.8 // cosine
	var kinds []kind
	for _, i := range order {
		u := unit(c.parts[i].mean)
		best, cos := -1, alike
		for k := range kinds {
			if v := dot3(u, unit(kinds[k].dir)); v > cos {
				best, cos = k, v
			}
		}
		if best < 0 {
			kinds = append(kinds, kind{})
			best = len(kinds) - 1
		}
		k := &kinds[best]
		for ch := range 3 {
			k.dir[ch] += c.parts[i].mean[ch] * float64(len(c.parts[i].at))
		}
		k.members = append(k.members, i)
	}
	for i := range kinds {
		c.weigh(&kinds[i])
	}
	return kinds
}

// merged puts together what is one flake, and leaves out what is none: the plainest kinds first, since a faint one can
// be a plain one's deep pieces or its rims, never the other way round.
func (c *area) merged(kinds []kind, few int) []kind {
	slices.SortStableFunc(kinds, func(a, b kind) int {
		return cmp.Compare(b.contrast*float64(len(b.members)), a.contrast*float64(len(a.members)))
	})
	var out []kind
	for _, k := range kinds {
		if same := c.sameAs(k, out, few); same >= 0 {
			out[same].members = append(out[same].members, k.members...)
			out[same].hues = append(out[same].hues, unit(k.dir))
		} else if c.standsAlone(k, out) || !slices.ContainsFunc(out, func(m kind) bool { return c.rimOf(k, m) }) {
			k.hues = [][3]float64{unit(k.dir)}
			out = append(out, k)
		}
	}
	return out
}

// sameAs is the kind that another is more of; -1 for none. The reasons in the order of how sure they are.
func (c *area) sameAs(k kind, kinds []kind, few int) int {
	apart := func(m kind) float64 { return math.Abs(math.Log(k.sizeMM / m.sizeMM)) }
	const tinted, tintedSize, faint, faintSize = 0.6, 0.25, 0.25, 0.3
	for _, same := range []func(m kind) bool{
		// One flake, facing the light and turned away from it, near and deep; or a mirror that flashes here and is dim
		// there.
		func(m kind) bool { return apart(m) < alikeSize && k.hued(m) },
		// In a tinted base: the deeper, the nearer to its hue, without a gap.
		func(m kind) bool {
			return apart(m) < tintedSize && dot3(unit(k.dir), unit(m.dir)) > tinted &&
				len(c.parted(together(k, m), few)) == 1
		},
		k.pairsOf,
		// A few of one kind's size and of another's hue are the first, deep or half hidden by the second.
		func(m kind) bool {
			return apart(m) < alikeSize && 6*len(k.members) < len(m.members) &&
				slices.ContainsFunc(kinds, func(o kind) bool { return sameHue(k.dir, o.dir) })
		},
		// A mirror about as light as its base differs from it in any way, and hardly.
		func(m kind) bool { return m.mirror() && apart(m) < faintSize && k.contrast < faint*m.contrast },
	} {
		if i := slices.IndexFunc(kinds, same); i >= 0 {
			return i
		}
	}
	return -1
}

// hued says whether two kinds differ from the base in like ways, or as a mirror does.
func (k kind) hued(m kind) bool { return sameHue(k.dir, m.dir) || opposite(k.dir, m.dir) }

// pairsOf says whether a few of another's hue, that are larger by less than twice, are two of it each.
func (k kind) pairsOf(m kind) bool {
	return k.sizeMM > m.sizeMM && k.sizeMM < 2*m.sizeMM && 10*len(k.members) < len(m.members) && k.hued(m)
}

// rimOf says whether pieces are what shows of another kind's hidden ones, or their rims. A rim differs as its piece
// does; sheen any way, but in few places, and noise hardly; and a fine flake comes in numbers.
func (c *area) rimOf(k, m kind) bool {
	const speck, half, nearly, three = 0.5, 0.45, 0.95, 0.75
	few := 6*len(k.members) < len(m.members)
	rim := dot3(unit(k.dir), unit(m.dir)) > 0 || 2*len(k.members) < len(m.members)
	return k.sizeMM < speck*m.sizeMM && (k.sizeMM*c.px < leastPiecePX+spotPX || few) ||
		k.sizeMM < nearly*m.sizeMM && k.contrast < 0.2*m.contrast ||
		k.sizeMM < three*m.sizeMM && rim && k.contrast < half*m.contrast
}

// From where on a flake has a colour, under any usual light, and from where on it is no black.
const leastChroma, leastL = 20, 40

// counted counts and measures the pieces of kinds.
func (c *area) counted(kinds []kind) *Found {
	f := &Found{AreaCM2: float64(c.w*c.h-c.hidden) / (c.px * c.px) / 100, Classes: []Class{}, Pieces: []Piece{}}
	const burntOut = 0.99
	if max(c.wrote[0], c.wrote[1], c.wrote[2]) > burntOut {
		f.Warning = "The photo is too bright: the plastic is burnt out, and flake that is as light as it does not show. Take it darker."
	}
	for _, k := range kinds {
		class := len(f.Classes)
		var whole, sizes, pixels []float64
		for _, i := range k.members {
			b := &c.parts[i]
			sizes, pixels = append(sizes, b.sizeMM), append(pixels, float64(len(b.at)))
			if b.intact() {
				whole = append(whole, b.sizeMM)
			}
		}
		if len(whole) == 0 {
			whole = sizes
		}
		slices.Sort(whole)
		size := whole[len(whole)*6/10]
		faceOn := hexArea * (size * c.px) * (size * c.px) // px
		count := 0
		for _, i := range k.members {
			b := &c.parts[i]
			if c.cut(b.at) || b.sizeMM < leastShown*size {
				continue
			}
			places := [][2]float64{{b.x, b.y}}
			// more than one piece covers, or is long, however it lies
			if float64(len(b.at)) > clump*faceOn || b.sizeMM > stretched*size {
				places = c.halves(b.at)
			}
			for _, p := range places {
				f.Pieces = append(f.Pieces, Piece{p[0], p[1], b.sizeMM, class})
				count++
			}
		}
		fc := Class{SizeIN: size / measure.MMPerInch, Count: count, PerCM2: float64(count) / f.AreaCM2}
		plain := c.plainest(k.members)
		var rgb [3]float64
		for ch := range 3 {
			v := c.fit[ch][0] * (1 + plain[ch]/3)
			rgb[ch] = v * v * v
		}
		lab := colour.RGBOf(rgb).Lab()
		fc.Hex = lab.SRGB().Hex()
		if lab.Chroma() < leastChroma && lab.L > leastL && k.twin(kinds, class) < 0 {
			fc.Alike = "Silver and white of one size look the same in a photo: both count here."
		}
		f.Classes = append(f.Classes, fc)
		// By their area, which sinks with the size when a lens leaves of every small piece the same spot.
		slices.Sort(pixels)
		if math.Sqrt(pixels[len(pixels)*3/4]/hexArea) < leastPiecePX+spotPX {
			f.Warning = "The pieces are too small in this photo to be told apart: go closer, until a piece is some eight pixels across."
		}
	}
	return f
}

// adopt gives the whole pieces that no kind claims to the one whose size they have: deep ones, and a mirror's that
// hardly differ from the base.
func (c *area) adopt(kinds []kind) {
	const noNoise = 0.16
	taken := make([]bool, len(c.parts))
	for _, k := range kinds {
		for _, m := range k.members {
			taken[m] = true
		}
	}
	for i := range c.parts {
		b := &c.parts[i]
		if taken[i] || !b.intact() {
			continue
		}
		best, near := -1, 0.12
		for k := range kinds {
			if off := math.Abs(math.Log(b.sizeMM / kinds[k].sizeMM)); off < near &&
				(c.contrast(b) > noNoise || kinds[k].mirror()) {
				best, near = k, off
			}
		}
		if best >= 0 {
			kinds[best].members = append(kinds[best].members, i)
		}
	}
}

// mirror says whether pieces of a kind differ from the base to either side.
func (k *kind) mirror() bool {
	return slices.ContainsFunc(k.hues, func(p [3]float64) bool {
		return slices.ContainsFunc(k.hues, func(q [3]float64) bool { return opposite(p, q) })
	})
}

// together are two kinds as one.
func together(a, b kind) kind {
	a.members = slices.Concat(a.members, b.members)
	for ch := range 3 {
		a.dir[ch] += b.dir[ch]
	}
	return a
}

// upper is a figure that six in ten lie under; 0 of none.
func upper(v []float64) float64 {
	if len(v) == 0 {
		return 0
	}
	slices.Sort(v)
	return v[len(v)*6/10]
}

// plainest is how those of the pieces differ from the base that lie nearest to the surface, as far as that shows: those
// whose own hue stands out most.
func (c *area) plainest(members []int) (mean [3]float64) {
	score := func(i int) float64 {
		m := c.parts[i].mean
		mid := (m[0] + m[1] + m[2]) / 3
		own, all := 0.0, 0.0
		for _, v := range m {
			own += (v - mid) * (v - mid)
			all += v * v
		}
		return math.Sqrt(own) + 0.3*math.Sqrt(all)
	}
	order := slices.Clone(members)
	slices.SortFunc(order, func(a, b int) int { return cmp.Or(cmp.Compare(score(b), score(a)), a-b) })
	n := max(min(3, len(order)), len(order)/20)
	for _, i := range order[:n] {
		for ch := range 3 {
			mean[ch] += c.parts[i].mean[ch] / float64(n)
		}
	}
	return mean
}

// opposite says whether two differences lie to opposite sides of the base, as those of a mirror do that flashes here
// and is dim there. Two flakes of one size to either side of their base are taken for one, too; a hand parts them.
func opposite(a, b [3]float64) bool {
	p, q := unit(a), unit(b)
	return dot3(p, q) < -0.6
}

// sameHue says whether two differences lie to the same side in hue, or have hardly any.
func sameHue(a, b [3]float64) bool {
	tint := func(m [3]float64) (t [3]float64, share float64) {
		mean, all, own := (m[0]+m[1]+m[2])/3, 0.0, 0.0
		for ch := range 3 {
			t[ch] = m[ch] - mean
			all += m[ch] * m[ch]
			own += t[ch] * t[ch]
		}
		return t, math.Sqrt(own / math.Max(1e-12, all))
	}
	p, ps := tint(unit(a))
	q, qs := tint(unit(b))
	if ps < 0.25 && qs < 0.25 {
		return true
	}
	dot, pp, qq := 0.0, 0.0, 0.0
	for ch := range 3 {
		dot, pp, qq = dot+p[ch]*q[ch], pp+p[ch]*p[ch], qq+q[ch]*q[ch]
	}
	return dot > 0.7*math.Sqrt(pp*qq) && min(ps, qs) > 0.12
}

// standsAlone says whether pieces lie apart from larger ones and differ from the base in light: neither rims nor what
// compression makes.
func (c *area) standsAlone(k kind, others []kind) bool {
	const most = 0.15
	if light, tint := c.lightAndTint(unit(k.dir)); len(k.members) < leftFew || light < ofTint*tint ||
		k.sizeMM*c.px < leastPiecePX+spotPX {
		return false
	}
	larger := make([]bool, c.w*c.h)
	for _, o := range others {
		if o.sizeMM < k.sizeMM {
			continue
		}
		for _, m := range o.members {
			for _, i := range c.parts[m].at {
				larger[i] = true
			}
		}
	}
	touching := 0
	for _, m := range k.members {
		if c.touches(&c.parts[m], larger) {
			touching++
		}
	}
	return float64(touching) < most*float64(len(k.members))
}
