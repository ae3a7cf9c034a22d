package photo

import (
	"fmt"
	"math"
	"slices"

	"cloudburst/core/colour"
)

// Disc is a round spot on an upright picture, in pixels from its top left corner, or an area painted with a brush of
// that size.
type Disc struct {
	X      float64      `json:"x"`
	Y      float64      `json:"y"`
	Radius float64      `json:"radius"`
	Stroke [][2]float64 `json:"stroke,omitempty" maxItems:"300" doc:"Where else the brush went"`
}

// maxStroke bounds a painted area's work.
const maxStroke = 300

// holds says whether a pixel lies in the spot.
func (d *Disc) holds(x, y float64) bool {
	if math.Hypot(x-d.X, y-d.Y) <= d.Radius {
		return true
	}
	for _, s := range d.Stroke {
		if math.Hypot(x-s[0], y-s[1]) <= d.Radius {
			return true
		}
	}
	return false
}

// middle is where the spot lies on the whole: the light over it is that of there.
func (d *Disc) middle() (x, y float64) {
	x, y = d.X, d.Y
	for _, s := range d.Stroke {
		x, y = x+s[0], y+s[1]
	}
	n := float64(len(d.Stroke) + 1)
	return x / n, y / n
}

// Reading is the colour of a spot. It is what the camera wrote: the light and the camera's own taste are in it.
type Reading struct {
	Lab     colour.Lab `json:"lab" doc:"CIELAB, as if the picture's white were D65"`
	Pixels  int        `json:"pixels" doc:"How many pixels were read"`
	Kept    float64    `json:"kept" doc:"Share of the disc that the colour comes from, 0..1"`
	Glare   float64    `json:"glare" doc:"Share set aside as glare, 0..1"`
	Warning string     `json:"warning,omitempty"`
	Error   float64    `json:"error,omitempty" doc:"How far off it is expected to be, ΔE00; within twice that in nine of ten. 0 where nothing can be claimed"`
	From    Source     `json:"from,omitempty" enum:"typed,spectrum,words,cup" doc:"Where it is from, if not from a photo"`
	Unlit   bool       `json:"unlit,omitempty" doc:"The light was not corrected: only differences within this photo mean anything"`
}

// Thresholds of a reading.
const (
	roughFrom   = 3.8   // stated error, ΔE00: twice that is another colour
	maxPixels   = 6_000 // more would not make a median surer
	bandwidth   = 3.0   // Lab units: how far pixels of one even colour scatter
	clippedFrom = 251   // of 255: the sensor was full, the hue is lost
	darkBelow   = 15    // of 255: about 0.06 of the encoded range
)

type pixel struct {
	x, y float64
	rgb  [3]uint8
	lab  colour.Lab
}

// Sample reads the colour of a disc under a light (nil for as the camera wrote it): glare is left out, then each
// channel's median is taken in linear light.
//
// What is glare is found without a threshold on brightness alone, which would fail on white baits: the most common
// colour of the disc is sought (mean shift in Lab), pixels near to it are kept, and what is left over on the bright
// side is glare.
func Sample(p *Picture, d Disc, light *Light) (Reading, error) {
	if !(d.Radius >= 1 && d.Radius <= 2000) {
		return Reading{}, fmt.Errorf("a pin's radius is 1 to 2,000 px; this is %g", d.Radius)
	}
	if !(d.X >= 0 && d.Y >= 0 && d.X < float64(p.Width) && d.Y < float64(p.Height)) {
		return Reading{}, fmt.Errorf(
			"this pin lies outside the picture, which is %d × %d px; put it on the bait", p.Width, p.Height,
		)
	}
	if len(d.Stroke) > maxStroke {
		return Reading{}, fmt.Errorf(
			"this area is painted with %d strokes; up to %d are taken: use a larger brush", len(d.Stroke), maxStroke,
		)
	}
	for _, s := range d.Stroke {
		if !(s[0] >= 0 && s[1] >= 0 && s[0] < float64(p.Width) && s[1] < float64(p.Height)) {
			return Reading{}, fmt.Errorf(
				"a part of this area lies outside the picture, which is %d × %d px; paint on the bait", p.Width,
				p.Height,
			)
		}
	}
	s := p.spot(d)
	r := Reading{
		Pixels: s.all, Kept: float64(len(s.kept)) / float64(s.all), Glare: float64(s.brighter) / float64(s.all),
	}
	r.Warning = warn(s.kept, r)
	if light == nil {
		r.Lab, r.Unlit = s.middle.linear(&plainTable).Lab(), true
		return r, nil
	}
	x, y := d.middle()
	r.Lab = light.colour(s.middle.linear(light.table()), x, y).Lab()
	r.trust(s.kept, light)
	if r.Warning == "" && r.Error > roughFrom {
		r.Warning = "So deep a colour is read roughly in this light. A card in the photo, or daylight, makes it surer."
	}
	return r, nil
}

// spot is a disc's pixels, sorted into those of its commonest colour and the rest.
type spot struct {
	all, brighter int
	kept          []pixel
	middle        medians
}

func (p *Picture) spot(d Disc) spot {
	all := p.pixelsIn(d)
	open := slices.DeleteFunc(slices.Clone(all), pixel.clipped)
	if len(open) < len(all)/10+1 { // white through and through: there is nothing else to read
		open = all
	}
	mode := commonest(open)
	s := spot{all: len(all), brighter: len(all) - len(open)}
	var glare []pixel
	for _, q := range all {
		if len(open) < len(all) && q.clipped() {
			glare = append(glare, q)
		}
	}
	for _, q := range open {
		switch {
		case colour.DeltaEab(q.lab, mode) <= 3*bandwidth:
			s.kept = append(s.kept, q)
		case q.lab.L > mode.L:
			s.brighter++
			glare = append(glare, q)
		}
	}
	s.middle = medianOf(s.kept)
	if 20*s.brighter > s.all { // glare has a fringe, which is no colour of the bait
		away := max(6, d.Radius/4) // a camera file smears hue over some pixels
		for len(glare) > 400 {     // every second still covers it
			for i := range len(glare) / 2 {
				glare[i] = glare[2*i]
			}
			glare = glare[:len(glare)/2]
		}
		var clear []pixel
		for _, q := range s.kept {
			near := false
			for _, g := range glare {
				if near = math.Abs(g.x-q.x) < away && math.Abs(g.y-q.y) < away; near {
					break
				}
			}
			if !near {
				clear = append(clear, q)
			}
		}
		if 10*len(clear) > s.all {
			s.middle = medianOf(clear)
		}
	}
	return s
}

func (p *Picture) pixelsIn(d Disc) []pixel {
	x0, y0, x1, y1 := d.X, d.Y, d.X, d.Y
	for _, s := range d.Stroke {
		x0, y0, x1, y1 = min(x0, s[0]), min(y0, s[1]), max(x1, s[0]), max(y1, s[1])
	}
	x0, y0, x1, y1 = x0-d.Radius, y0-d.Radius, x1+d.Radius, y1+d.Radius
	area := min(math.Pi*d.Radius*d.Radius*float64(1+len(d.Stroke)), (x1-x0)*(y1-y0))
	step := max(1, math.Sqrt(area/maxPixels))
	var out []pixel
	for y := math.Ceil(max(0, y0)); y <= min(y1, float64(p.Height-1)); y += step {
		for x := math.Ceil(max(0, x0)); x <= min(x1, float64(p.Width-1)); x += step {
			if !d.holds(x, y) {
				continue
			}
			rgb := p.At(int(x), int(y))
			lin := colour.RGB{R: plainTable[rgb[0]], G: plainTable[rgb[1]], B: plainTable[rgb[2]]}
			out = append(out, pixel{x, y, rgb, lin.Lab()})
		}
	}
	return out
}

func (p pixel) clipped() bool { return max(p.rgb[0], p.rgb[1], p.rgb[2]) >= clippedFrom }

// commonest is the mode of the pixels' colours: mean shift from the fullest cells of a coarse grid. Of two
// about equally common colours it takes the darker, since glare only adds light.
func commonest(pixels []pixel) colour.Lab {
	type cell [3]int
	counts := map[cell]int{}
	at := func(c colour.Lab) cell {
		const size = 2 * bandwidth
		return cell{int(math.Floor(c.L / size)), int(math.Floor(c.A / size)), int(math.Floor(c.B / size))}
	}
	for _, p := range pixels {
		counts[at(p.lab)]++
	}
	cells := make([]cell, 0, len(counts))
	for c := range counts {
		cells = append(cells, c)
	}
	slices.SortFunc(cells, func(a, b cell) int { // fullest first; then by place, so that the answer never varies
		if d := counts[b] - counts[a]; d != 0 {
			return d
		}
		return slices.Compare(a[:], b[:])
	})
	var best colour.Lab
	bestCount := 0
	for _, c := range cells[:min(6, len(cells))] {
		mode, count := climb(pixels, colour.Lab{
			L: (float64(c[0]) + 0.5) * 2 * bandwidth, A: (float64(c[1]) + 0.5) * 2 * bandwidth, B: (float64(c[2]) +
				0.5) * 2 * bandwidth,
		})
		clearlyMore := 10*count > 11*bestCount
		about := 11*count > 10*bestCount
		if clearlyMore || (about && mode.L < best.L) {
			best, bestCount = mode, count
		}
	}
	return best
}

// climb moves a point to the middle of the pixels around it until it stays.
func climb(pixels []pixel, from colour.Lab) (colour.Lab, int) {
	reach := 2 * bandwidth
	for range 20 {
		var sum colour.Lab
		n := 0
		for _, p := range pixels {
			if colour.DeltaEab(p.lab, from) <= reach {
				sum.L, sum.A, sum.B = sum.L+p.lab.L, sum.A+p.lab.A, sum.B+p.lab.B
				n++
			}
		}
		if n == 0 { // an empty middle of a cell: look further
			reach *= 1.5
			continue
		}
		to := colour.Lab{L: sum.L / float64(n), A: sum.A / float64(n), B: sum.B / float64(n)}
		if colour.DeltaEab(to, from) < 0.02 {
			return to, n
		}
		from = to
	}
	n := 0
	for _, p := range pixels {
		if colour.DeltaEab(p.lab, from) <= 2*bandwidth {
			n++
		}
	}
	return from, n
}

// medians are each channel's encoded median, as the two values around it.
type medians [3][2]uint8

func medianOf(pixels []pixel) (m medians) {
	if len(pixels) == 0 {
		return m
	}
	for ch := range 3 {
		var count [256]int
		for i := range pixels {
			count[pixels[i].rgb[ch]]++
		}
		nth := func(n int) uint8 {
			for v, c := range count {
				if n -= c; n < 0 {
					return uint8(v)
				}
			}
			return 255
		}
		m[ch] = [2]uint8{nth((len(pixels) - 1) / 2), nth(len(pixels) / 2)}
	}
	return m
}

// linear is the median in linear light.
func (m *medians) linear(t *table) colour.RGB {
	mean := func(v [2]uint8) float64 { return (t[v[0]] + t[v[1]]) / 2 }
	return colour.RGB{R: mean(m[0]), G: mean(m[1]), B: mean(m[2])}
}

func warn(kept []pixel, r Reading) string {
	clipped, dark, empty := 0, 0, 0
	for _, p := range kept {
		if p.clipped() {
			clipped++
		}
		if max(p.rgb[0], p.rgb[1], p.rgb[2]) < darkBelow {
			dark++
		}
		if min(p.rgb[0], p.rgb[1], p.rgb[2]) < darkBelow {
			empty++
		}
	}
	switch {
	case 2*clipped > len(kept):
		return "The camera was full here: the hue is lost. Take a darker shot."
	case 2*dark > len(kept):
		return "Too dark to tell its hue. Take a brighter shot, or pin a thinner part."
	case 2*empty > len(kept):
		return "So deep a colour that one of the camera's channels is empty: its chroma is not to be trusted. Pin a thinner part."
	case r.Kept < 0.4:
		return "Several colours lie under this pin. Make it smaller or move it to an even spot."
	}
	return ""
}
