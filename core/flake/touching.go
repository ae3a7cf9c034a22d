package flake

import (
	"math"
	"slices"

	"cloudburst/core/photo"
)

// alikeHue is the cosine from which two differences can't be told from pixel to pixel.
const alikeHue = 0.97

// alikeSize is the logarithm of a proportion below which two kinds have one size.
const alikeSize = 0.16

// enoughOfOne is the share of a piece that lies face on from which a part of a blob counts as a piece.
const enoughOfOne = 0.35

// again looks anew at each blob, now that the kinds are known: each pixel goes to the kind that it differs like, and a
// blob that holds enough of two kinds is pieces of both. Kinds of one hue share their pixels, and are told by size.
func (c *area) again(kinds []kind) []kind {
	group := make([]int, len(kinds))
	groups := 0
	for i := range kinds {
		group[i] = groups
		for k := range i {
			if slices.ContainsFunc(kinds[i].hues, func(p [3]float64) bool {
				return slices.ContainsFunc(kinds[k].hues, func(q [3]float64) bool { return dot3(p, q) > alikeHue })
			}) {
				group[i] = group[k]
				break
			}
		}
		if group[i] == groups {
			groups++
		}
	}
	if groups < 2 {
		return kinds
	}
	added := make([][]int, len(kinds))
	like := func(m [3]float64) int {
		u := unit(m)
		best, cos := 0, -2.0
		for i := range kinds {
			for _, h := range kinds[i].hues {
				if v := dot3(u, h); v > cos {
					best, cos = group[i], v
				}
			}
		}
		return best
	}
	of := make([]int16, len(c.on)) // the group of each pixel of the blob in hand, one more than its number
	for i := range kinds {
		var keep []int
		for _, m := range kinds[i].members {
			pieces := c.split(c.parts[m].at, of, like)
			whole := func(p split) bool { // enough of it to be a piece of its kind
				least := math.Inf(1)
				for k := range kinds {
					if group[k] == p.group {
						least = min(least, kinds[k].sizeMM)
					}
				}
				return float64(len(p.at)) > enoughOfOne*hexArea*(least*c.px)*(least*c.px)
			}
			pieces = slices.DeleteFunc(pieces, func(p split) bool { return !whole(p) })
			if len(pieces) < 2 || !slices.ContainsFunc(
				pieces, func(p split) bool { return p.group != pieces[0].group },
			) {
				keep = append(keep, m)
				continue
			}
			c.parts[m] = blob{} // they stand for it
			for _, p := range pieces {
				b := blob{at: p.at, mean: c.meanOf(p.at), solid: c.solidity(p.at)}
				b.x, b.y, b.sizeMM = c.shape(p.at)
				best := -1
				for k := range kinds {
					off := func(k int) float64 { return math.Abs(math.Log(b.sizeMM / kinds[k].sizeMM)) }
					if group[k] == p.group && (best < 0 || off(k) < off(best)) {
						best = k
					}
				}
				c.parts = append(c.parts, b)
				added[best] = append(added[best], len(c.parts)-1)
			}
		}
		kinds[i].members = keep
	}
	for i := range kinds {
		kinds[i].members = append(kinds[i].members, added[i]...)
	}
	return kinds
}

// split is a stretch of a blob whose pixels are of one group.
type split struct {
	at    []int32
	group int
}

// split takes a blob apart by the groups of its pixels. of is scratch space, zero before and after.
func (c *area) split(at []int32, of []int16, like func([3]float64) int) (out []split) {
	for _, i := range at {
		of[i] = int16(1 + like([3]float64{float64(c.diff[0][i]), float64(c.diff[1][i]), float64(c.diff[2][i])}))
	}
	for _, i := range at {
		g := of[i]
		if g <= 0 {
			continue
		}
		of[i] = -1
		out = append(out, split{group: int(g) - 1, at: photo.Flood(c.w, len(of), i, func(_, n int32) bool {
			if of[n] != g {
				return false
			}
			of[n] = -1
			return true
		})})
	}
	for _, i := range at {
		of[i] = 0
	}
	return out
}

// From how many times the area of a piece that lies face on a blob is two, and from how many times its length.
const clump, stretched = 1.1, 1.25

// leastShown is the least size of a piece, as a share of its kind's: what is smaller is a bit of one that is hidden or
// on edge.
const leastShown = 0.35

// cut says whether a blob reaches over the region's left or upper edge. Of what is cut by the edges, those two are left
// out and the other two counted, as one counts in a grid: else pieces count whose middle lies outside.
func (c *area) cut(at []int32) bool {
	return slices.ContainsFunc(at, func(i int32) bool { return int(i)%c.w == 0 || int(i) < c.w })
}

// halves are the middles of a blob's two halves along its longer axis.
func (c *area) halves(at []int32) [][2]float64 {
	x, y, _, _ := c.axes(at)
	var xx, yy, xy float64
	for _, i := range at {
		dx, dy := float64(int(i)%c.w)-x, float64(int(i)/c.w)-y
		xx, yy, xy = xx+dx*dx, yy+dy*dy, xy+dx*dy
	}
	along := 0.5 * math.Atan2(2*xy, xx-yy)
	sin, cos := math.Sincos(along)
	var out [2][2]float64
	var n [2]float64
	for _, i := range at {
		u, v := float64(int(i)%c.w), float64(int(i)/c.w)
		half := 0
		if (u-x)*cos+(v-y)*sin > 0 {
			half = 1
		}
		out[half][0], out[half][1], n[half] = out[half][0]+u+0.5, out[half][1]+v+0.5, n[half]+1
	}
	for h := range out {
		out[h][0], out[h][1] = out[h][0]/max(1, n[h]), out[h][1]/max(1, n[h])
	}
	return out[:]
}
