package photo

import (
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/fit"
	"cloudburst/core/measure"
)

// Chart is a card of known patches: rows of equal fields within a border.
type Chart struct {
	Name    string       `json:"name" maxLength:"80"`
	Rows    int          `json:"rows"`
	Columns int          `json:"columns"`
	Border  float64      `json:"border" doc:"Width of its border, as a share of the distance between patches"`
	Patches []colour.Lab `json:"patches" nullable:"false" doc:"Row by row, CIELAB under D65"`
}

// Check says what is wrong with a chart.
func (c *Chart) Check() error {
	neutral := 0
	for _, p := range c.Patches {
		if !(p.L >= 0 && p.L <= 101 && math.Abs(p.A) < 130 && math.Abs(p.B) < 130) {
			return measure.Faulty(
				"card", "a patch of this card has no possible colour: L %s, a %s, b %s", measure.Number(p.L, 1),
				measure.Number(p.A, 1), measure.Number(p.B, 1),
			)
		}
		if p.Chroma() < greyChroma {
			neutral++
		}
	}
	switch {
	case c.Rows < 1 || c.Columns < 1 || c.Rows*c.Columns != len(c.Patches) || len(c.Patches) > 400:
		return measure.Faulty(
			"card",
			"a card has rows and columns of patches, up to 400 in all; this file has %d patches in %d rows of %d",
			len(c.Patches), c.Rows, c.Columns,
		)
	case len(c.Patches) < 8:
		return measure.Faulty("card", "a card needs eight patches or more; this one has %d", len(c.Patches))
	case neutral < 3:
		return measure.Faulty(
			"card", "a card needs three greys or more, to tell the camera's curve by; this one has %d", neutral,
		)
	}
	return nil
}

const greyChroma = 5.0

// greyWeight is how much more a grey counts than another patch in the last steps.
const greyWeight = 2.0

// Spots are the discs of the patches, for the card's four outer corners: top left, top right, bottom right, bottom
// left.
func (c *Chart) Spots(corners [4][2]float64) []Disc {
	h := homography(corners)
	wide, high := float64(c.Columns)+2*c.Border, float64(c.Rows)+2*c.Border
	var out []Disc
	for r := range c.Rows {
		for k := range c.Columns {
			u, v := (float64(k)+0.5+c.Border)/wide, (float64(r)+0.5+c.Border)/high
			x, y := h.at(u, v)
			x2, y2 := h.at(u+0.26/wide, v)
			x3, y3 := h.at(u, v+0.26/high)
			out = append(out, Disc{X: x, Y: y, Radius: min(math.Hypot(x2-x, y2-y), math.Hypot(x3-x, y3-y))})
		}
	}
	return out
}

// projective is a map of the unit square onto a quadrilateral.
type projective [8]float64

func homography(c [4][2]float64) projective {
	// Heckbert's closed form for the square to a quadrilateral.
	x, y := [4]float64{c[0][0], c[1][0], c[2][0], c[3][0]}, [4]float64{c[0][1], c[1][1], c[2][1], c[3][1]}
	sx, sy := x[0]-x[1]+x[2]-x[3], y[0]-y[1]+y[2]-y[3]
	dx1, dx2, dy1, dy2 := x[1]-x[2], x[3]-x[2], y[1]-y[2], y[3]-y[2]
	d := dx1*dy2 - dx2*dy1
	if math.Abs(d) < 1e-12 {
		d = 1e-12
	}
	g, h := (sx*dy2-dx2*sy)/d, (dx1*sy-sx*dy1)/d
	return projective{
		x[1] - x[0] + g*x[1], x[3] - x[0] + h*x[3], x[0], y[1] - y[0] + g*y[1], y[3] - y[0] + h*y[3], y[0], g, h,
	}
}

func (p projective) at(u, v float64) (x, y float64) {
	w := p[6]*u + p[7]*v + 1
	return (p[0]*u + p[1]*v + p[2]) / w, (p[3]*u + p[4]*v + p[5]) / w
}

// patch is a field of the card as it was seen and as it is.
type patch struct {
	seen medians
	even float64
	want [3]float64
	lab  colour.Lab
	grey bool
	y    float64
}

// ByCard undoes the light by a card of known patches: the camera's curve and stray light from its greys, then a matrix
// for all of it, held near to the identity, and at last a few steps in Lab.
func ByCard(p *Picture, corners [4][2]float64, c *Chart) (*Light, error) {
	if err := c.Check(); err != nil {
		return nil, err
	}
	area := 0.0
	for i, a := range corners {
		b := corners[(i+1)%4]
		area += (a[0]*b[1] - b[0]*a[1]) / 2
		if err := p.holds(Disc{X: a[0], Y: a[1], Radius: 1}); err != nil {
			return nil, measure.Faulty("corners", "a corner of the card lies outside the picture")
		}
	}
	if area < 400*float64(len(c.Patches))/4 {
		return nil, measure.Faulty(
			"corners",
			"pin the card's corners one after the other: top left, top right, bottom right, bottom left as its patches are named; it has to be large enough to see each patch",
		)
	}
	spots := c.Spots(corners)
	l := &Light{Kind: Card, Matrix: [3][3]float64{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}}
	around := []Disc{{
		X: (corners[0][0] + corners[2][0]) / 2, Y: (corners[0][1] + corners[2][1]) / 2, Radius: math.Sqrt(area) / 1.6,
	}}
	l.Even = p.evenness(l, around)
	patches := make([]patch, len(spots))
	for i, d := range spots {
		if err := p.holds(d); err != nil {
			return nil, measure.Faulty("corners", "the card reaches out of the picture")
		}
		want := Thing{Lab: c.Patches[i]}
		patches[i] = patch{
			seen: p.spot(d).middle, even: l.Even.gain(d.X, d.Y), want: want.linear(), lab: c.Patches[i],
			grey: c.Patches[i].Chroma() < greyChroma,
		}
		patches[i].y = 0.2126*patches[i].want[0] + 0.7152*patches[i].want[1] + 0.0722*patches[i].want[2]
	}
	l.fitGreys(patches)
	l.fitMatrix(patches)
	l.polish(patches)
	sum, most := 0.0, 0.0
	for i := range patches {
		e := colour.DeltaE00(patches[i].lab, l.of(&patches[i]).Lab())
		sum += e / float64(len(patches))
		most = max(most, e)
	}
	l.Residual = sum
	if sum > 4 && sum <= 15 {
		l.Warnings = append(
			l.Warnings,
			"The card itself comes out ΔE00 "+measure.Number(sum, 0)+
				" off: this light is far from what the camera was set to. Set its white balance to this light and take the photo again.",
		)
	}
	if sum > 15 {
		return nil, measure.Faulty(
			"corners",
			"the patches do not look like those of this card (they are off by ΔE00 %s on the mean). Pin its corners in the order of its patches, or choose the card's own file",
			measure.Number(sum, 0),
		)
	}
	if m := p.mixed(l, around); m > mostMixed {
		l.Warnings = append(
			l.Warnings,
			"Two kinds of light fall on this photo, so that its hue changes from side to side. Switch one off, or shield it.",
		)
	}
	return l, nil
}

// raw is a patch in linear camera light, evened out.
func (l *Light) raw(q *patch) [3]float64 {
	c := q.seen.linear(l.table())
	return [3]float64{c.R * q.even, c.G * q.even, c.B * q.even}
}

func (l *Light) of(q *patch) colour.RGB { return colour.RGBOf(times(&l.Matrix, l.raw(q))) }

// fitGreys finds the curve and the stray light at which the greys come out in their ratios, and each channel's gain.
func (l *Light) fitGreys(patches []patch) {
	best := math.Inf(1)
	var tone, veil float64
	var gains [3]float64
	try := func(a, v float64) {
		l.Tone, l.Veil, l.made = a, v, nil
		cost := 0.0
		var g [3]float64
		for ch := range 3 {
			var num, den float64
			for i := range patches {
				if q := &patches[i]; q.grey {
					c := l.raw(q)[ch]
					w := math.Pow(max(q.y, 0.005), -1.3)
					num += w * c * q.want[ch]
					den += w * c * c
				}
			}
			g[ch] = num / max(den, 1e-12)
			for i := range patches {
				if q := &patches[i]; q.grey {
					e := math.Cbrt(max(0, g[ch]*l.raw(q)[ch])) - math.Cbrt(q.want[ch])
					cost += e * e
				}
			}
		}
		// Nothing but the greys speaks for a strong curve: a weak pull towards the usual.
		cost += 2e-5 * (a - 0.07) * (a - 0.07) / 0.0025
		if cost < best {
			best, tone, veil, gains = cost, a, v, g
		}
	}
	for a := 0.0; a <= mostTone+1e-9; a += 0.02 {
		for v := 0.0; v <= mostVeil/2; v += 0.0015 {
			try(a, v)
		}
	}
	a0, v0 := tone, veil
	for _, da := range []float64{-0.01, -0.005, 0, 0.005, 0.01} {
		for _, dv := range []float64{-0.0008, -0.0004, 0, 0.0004, 0.0008} {
			if a0+da >= 0 && v0+dv >= 0 {
				try(a0+da, v0+dv)
			}
		}
	}
	l.Tone, l.Veil, l.made = tone, veil, nil
	l.Matrix = balance([3]float64{1 / gains[0], 1 / gains[1], 1 / gains[2]}, [3]float64{1, 1, 1})
	l.Warmth = math.Log(gains[2] / gains[0])
}

// fitMatrix is the least-squares matrix on the balanced channels, weighted by Y^−0.67, with a ridge towards leaving
// them be.
func (l *Light) fitMatrix(patches []patch) {
	const ridge = 0.02
	start := l.Matrix
	var change [3][3]float64
	for row := range 3 {
		var a [6][6]float64
		var b [6]float64
		for i := range patches {
			q := &patches[i]
			c := times(&start, l.raw(q))
			w := math.Pow(max(q.y, 0.01), -1.34)
			for j := range 3 {
				for k := range 3 {
					a[j][k] += w * c[j] * c[k]
				}
				b[j] += w * c[j] * q.want[row]
			}
		}
		trace := (a[0][0] + a[1][1] + a[2][2]) / 3
		for j := range 3 {
			a[j][j] += ridge * trace
			if j == row {
				b[j] += ridge * trace
			}
			a[j+3][j+3] = 1
		}
		x, ok := fit.Solve6(a, b)
		if !ok {
			return
		}
		copy(change[row][:], x[:3])
	}
	l.Matrix = product(change, start)
}

// polish takes Levenberg–Marquardt steps on the matrix in Lab, chroma weighed down as the eye does.
func (l *Light) polish(patches []patch) {
	base := l.Matrix
	balanced := make([][3]float64, len(patches))
	for i := range patches {
		balanced[i] = times(&base, l.raw(&patches[i]))
	}
	start := [3][3]float64{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}
	const pull = 0.3
	residuals := func(m *[3][3]float64, out []float64) []float64 {
		out = out[:0]
		for i := range patches {
			q := &patches[i]
			got := colour.RGBOf(times(m, balanced[i])).Lab()
			s := 1 + 0.045*q.lab.Chroma()
			// A patch that the matrix can't reach must not pull the others: beyond a few units it counts by its root.
			e := [3]float64{got.L - q.lab.L, (got.A - q.lab.A) / s, (got.B - q.lab.B) / s}
			n := math.Sqrt(e[0]*e[0] + e[1]*e[1] + e[2]*e[2])
			f := 1.0
			if n > 3 {
				f = math.Sqrt(3 / n)
			}
			if q.grey { // a white that is off shows most
				f *= greyWeight
			}
			out = append(out, f*e[0], f*e[1], f*e[2])
		}
		for r := range 3 {
			for k := range 3 {
				out = append(out, pull*10*(m[r][k]-start[r][k]))
			}
		}
		return out
	}
	model := fit.Differences{
		Residuals: func(x, r []float64) bool {
			residuals(matrixOf(x), r[:0])
			return true
		},
		Step: func(int, float64) float64 { return 1e-4 },
	}
	x := []float64{1, 0, 0, 0, 1, 0, 0, 0, 1}
	least := fit.Least{Rounds: 12, Gain: 1e-6}
	least.Find(model, x, 3*len(patches)+9)
	l.Matrix = product(*matrixOf(x), base)
}

func matrixOf(x []float64) *[3][3]float64 {
	return &[3][3]float64{{x[0], x[1], x[2]}, {x[3], x[4], x[5]}, {x[6], x[7], x[8]}}
}
