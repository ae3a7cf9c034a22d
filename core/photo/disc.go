package photo

import (
	"fmt"
	"image"
	"math"
	"slices"

	"cloudburst/core/colour"
)

// Disc is a round spot on an upright picture, in pixels from its top left corner.
type Disc struct {
	X      float64 `json:"x"`
	Y      float64 `json:"y"`
	Radius float64 `json:"radius"`
}

// Reading is the colour of a spot. It is what the camera wrote: the light and the camera's own taste are in it.
type Reading struct {
	Lab     colour.Lab `json:"lab" doc:"CIELAB, as if the picture's white were D65"`
	Pixels  int        `json:"pixels" doc:"How many pixels were read"`
	Kept    float64    `json:"kept" doc:"Share of the disc that the colour comes from, 0..1"`
	Glare   float64    `json:"glare" doc:"Share set aside as glare, 0..1"`
	Warning string     `json:"warning,omitempty"`
}

// Thresholds of a reading.
const (
	maxPixels   = 20_000 // more would not make a median surer
	bandwidth   = 3.0    // Lab units: how far pixels of one even colour scatter
	clippedFrom = 251    // of 255: the sensor was full, the hue is lost
	darkBelow   = 15     // of 255: about 0.06 of the encoded range
)

type pixel struct {
	rgb [3]uint8
	lab colour.Lab
}

// Sample reads the colour of a disc: glare is left out, then each channel's median is taken in linear light.
//
// What is glare is found without a threshold on brightness alone, which would fail on white baits: the most
// common colour of the disc is sought (mean shift in Lab), pixels near to it are kept, and what is left over
// on the bright side is glare.
func Sample(img image.Image, d Disc) (Reading, error) {
	bounds := img.Bounds()
	if !(d.Radius >= 1 && d.Radius <= 2000) {
		return Reading{}, fmt.Errorf("a pin's radius is 1 to 2,000 px; this is %g", d.Radius)
	}
	if !(d.X >= 0 && d.Y >= 0 && d.X < float64(bounds.Dx()) && d.Y < float64(bounds.Dy())) {
		return Reading{}, fmt.Errorf("this pin lies outside the picture, which is %d × %d px; put it on the bait", bounds.Dx(), bounds.Dy())
	}
	all := pixelsIn(img, d)
	open := slices.DeleteFunc(slices.Clone(all), pixel.clipped)
	r := Reading{Pixels: len(all)}
	if len(open) < len(all)/10+1 { // white through and through: there is nothing else to read
		open = all
	}
	mode := commonest(open)
	var kept []pixel
	for _, p := range open {
		if near(p.lab, mode) <= 3*bandwidth {
			kept = append(kept, p)
		}
	}
	brighter := len(all) - len(open)
	for _, p := range open {
		if near(p.lab, mode) > 3*bandwidth && p.lab.L > mode.L {
			brighter++
		}
	}
	r.Kept = float64(len(kept)) / float64(len(all))
	r.Glare = float64(brighter) / float64(len(all))
	r.Lab = medianLinear(kept).Lab()
	r.Warning = warn(kept, r)
	return r, nil
}

func pixelsIn(img image.Image, d Disc) []pixel {
	b := img.Bounds()
	step := max(1, math.Sqrt(math.Pi*d.Radius*d.Radius/maxPixels))
	var out []pixel
	for y := math.Ceil(d.Y - d.Radius); y <= d.Y+d.Radius; y += step {
		for x := math.Ceil(d.X - d.Radius); x <= d.X+d.Radius; x += step {
			at := image.Pt(b.Min.X+int(x), b.Min.Y+int(y))
			if math.Hypot(x-d.X, y-d.Y) > d.Radius || x < 0 || y < 0 || !at.In(b) {
				continue
			}
			red, green, blue, _ := img.At(at.X, at.Y).RGBA()
			rgb := [3]uint8{uint8(red >> 8), uint8(green >> 8), uint8(blue >> 8)}
			lin := colour.RGB{R: decoded[rgb[0]], G: decoded[rgb[1]], B: decoded[rgb[2]]}
			out = append(out, pixel{rgb, lin.Lab()})
		}
	}
	return out
}

var decoded = func() (table [256]float64) {
	for i := range table {
		table[i] = colour.Decode(float64(i) / 255)
	}
	return table
}()

func (p pixel) clipped() bool { return max(p.rgb[0], p.rgb[1], p.rgb[2]) >= clippedFrom }

func near(p, q colour.Lab) float64 {
	return math.Sqrt((p.L-q.L)*(p.L-q.L) + (p.A-q.A)*(p.A-q.A) + (p.B-q.B)*(p.B-q.B))
}

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
			L: (float64(c[0]) + 0.5) * 2 * bandwidth, A: (float64(c[1]) + 0.5) * 2 * bandwidth, B: (float64(c[2]) + 0.5) * 2 * bandwidth,
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
			if near(p.lab, from) <= reach {
				sum.L, sum.A, sum.B = sum.L+p.lab.L, sum.A+p.lab.A, sum.B+p.lab.B
				n++
			}
		}
		if n == 0 { // an empty middle of a cell: look further
			reach *= 1.5
			continue
		}
		to := colour.Lab{L: sum.L / float64(n), A: sum.A / float64(n), B: sum.B / float64(n)}
		if near(to, from) < 0.02 {
			return to, n
		}
		from = to
	}
	n := 0
	for _, p := range pixels {
		if near(p.lab, from) <= 2*bandwidth {
			n++
		}
	}
	return from, n
}

func medianLinear(pixels []pixel) colour.RGB {
	var out [3]float64
	for ch := range out {
		values := make([]uint8, len(pixels))
		for i, p := range pixels {
			values[i] = p.rgb[ch]
		}
		slices.Sort(values)
		mid := len(values) / 2
		out[ch] = decoded[values[mid]]
		if len(values)%2 == 0 {
			out[ch] = (decoded[values[mid-1]] + decoded[values[mid]]) / 2
		}
	}
	return colour.RGB{R: out[0], G: out[1], B: out[2]}
}

func warn(kept []pixel, r Reading) string {
	clipped, dark := 0, 0
	for _, p := range kept {
		if p.clipped() {
			clipped++
		}
		if max(p.rgb[0], p.rgb[1], p.rgb[2]) < darkBelow {
			dark++
		}
	}
	switch {
	case 2*clipped > len(kept):
		return "The camera was full here: the hue is lost. Take a darker shot."
	case 2*dark > len(kept):
		return "Too dark to tell its hue. Take a brighter shot, or pin a thinner part."
	case r.Kept < 0.4:
		return "Several colours lie under this pin. Make it smaller or move it to an even spot."
	}
	return ""
}
