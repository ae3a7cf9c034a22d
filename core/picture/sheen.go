package picture

import (
	"context"
	"math"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/cores"
	"cloudburst/core/mix"
)

// sheen is what a cup's powders throw back of a light that comes from one side: by how thick the plastic is, finer where
// it is thin, and by how far its skin is turned away from where the light is mirrored to, as √(1 − cos): even steps of
// the angle where it glints, and no arc cosine a pixel.
type sheen [sheenThick + 1][sheenTurn + 1]colour.RGB

const (
	sheenThick = 5
	sheenTurn  = 24
)

// sheens are those of a palette's cups; nil where nothing glints, or under water, which takes it as a whole.
func sheens(cups []*mix.Mix, at mix.Condition, mostMM float64) []*sheen {
	var out []*sheen
	for i, m := range cups {
		if m == nil || at.Water != "" || !m.Glints(at) {
			continue
		}
		if out == nil {
			out = make([]*sheen, len(cups))
		}
		s := &sheen{}
		_ = cores.Each(context.Background(), sheenTurn+1, func(turn int) error {
			u := float64(turn) / sheenTurn
			for k := range s {
				v := float64(k) / sheenThick
				s[k][turn] = m.Sheen(max(leastSheenMM, mostMM*v*v), math.Acos(1-u*u)*180/math.Pi, at)
			}
			return nil
		})
		out[i] = s
	}
	return out
}

const leastSheenMM = 0.05

// of is between the nearest of them.
func (s *sheen) of(thick, turn float64) colour.RGB {
	v, u := thick*sheenThick, turn*sheenTurn
	k, j := min(int(v), sheenThick-1), min(int(u), sheenTurn-1)
	v, u = v-float64(k), u-float64(j)
	return mixRGB(mixRGB(s[k][j], s[k][j+1], u), mixRGB(s[k+1][j], s[k+1][j+1], u), v)
}

// mirrored is where a skin has to look to throw the light into the eye: towards the eye, or turned away from there about
// the bait's length as the bait is tilted.
func mirrored(tiltDeg float64) bait.Vec {
	sin, cos := math.Sincos(tiltDeg * math.Pi / 180)
	return bait.Vec{0, sin, cos}
}

// shine is what the powders of a cell throw back: platelets lie along the skin, so it runs over a bait as it is turned,
// and turns its hue towards the rims.
func (d *drawing) shine(cell *planCell, i int) (sum colour.RGB) {
	runs := d.laid.runs(d.BaitPlan, i, 0)
	if len(runs) == 0 {
		return sum
	}
	r := &runs[0]
	if d.stacks.sheens[d.laid.cups[r.part]] == nil && d.stacks.sheens[d.laid.cups[r.other]] == nil {
		return sum
	}
	n := vec(cell.normal)
	turn := math.Sqrt(1 - min(1, max(0, n.Dot(d.toLight))))
	thick := math.Sqrt(min(1, float64(r.mm)/d.stacks.mostMM))
	for k, part := range [2]int16{r.part, r.other} {
		share := float64(r.share)
		if k == 0 {
			share = 1 - share
		}
		if s := d.stacks.sheens[d.laid.cups[part]]; s != nil && share > 0 {
			q := s.of(thick, turn)
			share *= float64(cell.open)
			sum.R, sum.G, sum.B = sum.R+share*q.R, sum.G+share*q.G, sum.B+share*q.B
		}
	}
	return sum
}

// shone is a colour with such a sheen on it. What is brighter than the screen keeps its hue.
func shone(q, by colour.RGB) colour.RGB {
	q = colour.RGB{R: max(0, q.R+by.R), G: max(0, q.G+by.G), B: max(0, q.B+by.B)}
	if most := max(q.R, q.G, q.B); most > 1 {
		return colour.RGB{R: q.R / most, G: q.G / most, B: q.B / most}
	}
	return q
}
