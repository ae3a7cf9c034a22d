package photo

import (
	"math"
	"slices"

	"cloudburst/core/fit"
)

// Even is how the light falls off over a photo: a quadratic in the log of the luminance, fitted over the paper. The
// zero value is even light.
type Even struct {
	Fit   [6]float64 `json:"fit"` // of 1, u, v, u², uv, v², with u and v from -1 to 1
	Paper float64    `json:"paper" doc:"Share of the photo that is paper"`
	Side  [2]float64 `json:"side" doc:"The photo's sides, px"`
}

func (e *Even) terms(x, y float64) [6]float64 {
	u, v := 2*x/e.Side[0]-1, 2*y/e.Side[1]-1
	return [6]float64{1, u, v, u * u, u * v, v * v}
}

// gain is what evens a place out.
func (e *Even) gain(x, y float64) float64 {
	if e.Side[0] == 0 {
		return 1
	}
	sum := 0.0
	for i, t := range e.terms(x, y) {
		sum += e.Fit[i] * t
	}
	return math.Exp(-sum)
}

// usualFall is how much darker a usual lens makes the corners.
const usualFall = 0.11

// usualEven is a usual lens's fall-off, where there is no paper to tell it by.
func (p *Picture) usualEven() Even {
	w, h := float64(p.Width), float64(p.Height)
	d := w*w + h*h
	return Even{Fit: [6]float64{3: -usualFall * w * w / d, 5: -usualFall * h * h / d}, Side: [2]float64{w, h}}
}

// cell is a small piece of the picture: its mean linear RGB and place.
type cell struct {
	x, y   float64
	rgb    [3]float64
	rough  float64
	border bool
}

const cellsAcross = 64

func (p *Picture) cells(t *table) []cell {
	step := max(4, p.Width/cellsAcross)
	var out []cell
	for y0 := 0; y0+step <= p.Height; y0 += step {
		for x0 := 0; x0+step <= p.Width; x0 += step {
			c := cell{x: float64(x0) + float64(step)/2, y: float64(y0) + float64(step)/2}
			c.border = x0 < step || y0 < step || x0+2*step > p.Width || y0+2*step > p.Height
			var sum, sq [3]float64
			n := 0.0
			for y := y0; y < y0+step; y += 2 {
				for x := x0; x < x0+step; x += 2 {
					q := p.At(x, y)
					for ch := range 3 {
						v := t[q[ch]]
						sum[ch] += v
						sq[ch] += v * v
					}
					n++
				}
			}
			for ch := range 3 {
				c.rgb[ch] = sum[ch] / n
			}
			c.rough = math.Sqrt(max(0, sq[1]/n-c.rgb[1]*c.rgb[1])) / max(1e-6, c.rgb[1])
			out = append(out, c)
		}
	}
	return out
}

// mostFall is how far, as a log, the light may differ over the paper: what is darker or lighter than that is no paper.
const mostFall = 0.3

// paper picks the cells of the paper: those that hang together, without a step in brightness or hue, with what lies
// around the things that were pinned; without pins, with the border.
func (p *Picture) paper(t *table, around []Disc) (paper []cell, share float64) {
	cells := p.cells(t)
	step := max(4, p.Width/cellsAcross)
	across := p.Width / step
	flat := func(i int) bool { return cells[i].rough < 0.06 && cells[i].rgb[1] > 0.02 }
	alike := func(i, k int) bool {
		for ch := range 3 {
			if math.Abs(math.Log(cells[i].rgb[ch]/cells[k].rgb[ch])) > 0.035 {
				return false
			}
		}
		return true
	}
	group := make([]int, len(cells))
	var sizes []int
	for i := range cells {
		if group[i] != 0 || !flat(i) {
			continue
		}
		id := len(sizes) + 1
		group[i] = id
		sizes = append(sizes, len(Flood(across, len(cells), int32(i), func(k, n int32) bool {
			if group[n] != 0 || !flat(int(n)) || !alike(int(k), int(n)) {
				return false
			}
			group[n] = id
			return true
		})))
	}
	votes := make([]int, len(sizes)+1)
	by := make([]bool, len(cells))
	for i := range cells {
		c := &cells[i]
		if group[i] == 0 {
			continue
		}
		near := len(around) == 0 && c.border
		for _, d := range around {
			r := math.Hypot(c.x-d.X, c.y-d.Y) / d.Radius
			near = near || (r > 1.3 && r < 3.5)
		}
		if near {
			votes[group[i]]++
			by[i] = true
		}
	}
	best, most := 0, slices.Max(votes) // a pale bait that comes near a pin is no paper: it gets few of the votes
	for id := 1; id <= len(sizes); id++ {
		if 4*votes[id] > most && (best == 0 || sizes[id-1] > sizes[best-1]) {
			best = id
		}
	}
	if best == 0 {
		return nil, 0
	}
	var near []float64
	for i := range cells {
		if group[i] == best && by[i] {
			near = append(near, math.Log(cells[i].rgb[1]))
		}
	}
	slices.Sort(near)
	level := near[len(near)/2]
	for i := range cells {
		if group[i] == best && math.Abs(math.Log(cells[i].rgb[1])-level) < mostFall {
			paper = append(paper, cells[i])
		}
	}
	return paper, float64(len(paper)) / float64(len(cells))
}

// leastPaper is the share of a photo that has to be paper for two kinds of light to be told.
const leastPaper = 0.3

// How even the light of a photo may be before its paper was looked at: a usual lens, and a lamp that may stand to any
// side. What the paper says counts the more, the more of it there is.
const (
	evenSlope = 0.10  // of the log light, from the middle to a side
	evenBend  = 0.05  // of its falling off
	evenNoise = 0.02  // of the log light of a cell, which hangs together with its neighbours'
	evenCells = 100.0 // so that all cells of a photo of paper count as so many
)

// evenness fits the light's fall-off over the paper; cells that lie off the fit (rulers, shadows, white things) are
// left out.
func (p *Picture) evenness(l *Light, around []Disc) Even {
	e := Even{Side: [2]float64{float64(p.Width), float64(p.Height)}}
	cells, share := p.paper(l.table(), around)
	e.Paper = share
	usual := p.usualEven()
	if len(cells) < 6 {
		usual.Paper = share
		return usual
	}
	value := func(c cell) float64 { return math.Log(c.rgb[1]) }
	for round := range 4 {
		var a [6][6]float64
		var b [6]float64
		for _, c := range cells {
			t := e.terms(c.x, c.y)
			for i := range 6 {
				for j := range 6 {
					a[i][j] += t[i] * t[j]
				}
				b[i] += t[i] * value(c)
			}
		}
		each := evenCells * share / float64(len(cells)) / (evenNoise * evenNoise)
		for i := range 6 {
			for j := range 6 {
				a[i][j] *= each
			}
			b[i] *= each
		}
		for i, off := range [6]float64{1: evenSlope, 2: evenSlope, 3: evenBend, 4: evenBend, 5: evenBend} {
			if off > 0 {
				a[i][i] += 1 / (off * off)
				b[i] += usual.Fit[i] / (off * off)
			}
		}
		found, ok := fit.Solve6(a, b)
		if !ok {
			usual.Paper = share
			return usual
		}
		e.Fit = found
		if round == 3 {
			break
		}
		off := make([]float64, len(cells))
		for i, c := range cells {
			off[i] = math.Abs(value(c) - fit.Dot6(e.terms(c.x, c.y), e.Fit))
		}
		sorted := slices.Clone(off)
		slices.Sort(sorted)
		limit := max(0.012, 3*sorted[len(sorted)/2])
		var keep []cell
		for i, c := range cells {
			if off[i] < limit {
				keep = append(keep, c)
			}
		}
		cells = keep
	}
	// Relative to the middle of the picture.
	e.Fit[0] = 0
	return e
}

// mostMixed is how much the paper's hue may change over the picture, as a log ratio.
const mostMixed = 0.10

// mixed is by how much log R/G or log B/G changes over the paper from end to end.
func (p *Picture) mixed(l *Light, around []Disc) float64 {
	cells, share := p.paper(l.table(), around)
	if share < leastPaper {
		return 0
	}
	most := 0.0
	for _, ch := range [2]int{0, 2} {
		// A plane through the log ratios, least squares in u and v.
		var s, su, sv, suu, svv, suv, sz, szu, szv float64
		for _, c := range cells {
			u, v := 2*c.x/float64(p.Width)-1, 2*c.y/float64(p.Height)-1
			z := math.Log(c.rgb[ch] / c.rgb[1])
			s, su, sv, suu, svv, suv = s+1, su+u, sv+v, suu+u*u, svv+v*v, suv+u*v
			sz, szu, szv = sz+z, szu+z*u, szv+z*v
		}
		a, b, c := suu-su*su/s, suv-su*sv/s, svv-sv*sv/s
		p1, p2 := szu-sz*su/s, szv-sz*sv/s
		if d := a*c - b*b; d > 1e-9 {
			gu, gv := (p1*c-p2*b)/d, (p2*a-p1*b)/d
			most = max(most, 2*math.Hypot(gu, gv))
		}
	}
	return most
}
