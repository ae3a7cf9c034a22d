package camera

import (
	"image"
	"image/color"
	"math"
	"math/rand/v2"

	"cloudburst/core/colour"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/photo"
)

// Studio is a shot as a camera with sensors of its own takes it: spectra under a light, through a lens that lets stray
// light in, with the camera's own balance, matrix and curve. It knows the truth of what it shows.
type Studio struct {
	Back, Belly *mix.Mix
	Light       colour.Light
	Other       colour.Light // falls from the right as well, where set: mixed light
	Paper       float64      // reflectance, 0.88 for white
	White, Grey bool         // a white and a grey square on the paper
	Card        bool
	Balance     Balance
	EV          float64 // exposure: 0 puts white at 0.8 of full
	Tone, Veil  float64
	Vignette    float64 // fall-off to the corners
	Gradient    float64 // from one side to the other
	Glare       bool
	Noise       float64 // of an encoded step
	Against     bool    // held against the light
	Table       bool    // the paper ends near the bait and the squares; beyond lies a table of wood
	Seed        uint64
}

// Balance is how the camera sets its white.
type Balance int

// The balances: right, half way to the mean of the picture, as for daylight.
const (
	RightBalance Balance = iota
	AutoBalance
	DaylightBalance
)

// Spot is a place to pin, with the truth under it.
type Spot struct {
	photo.Disc
	Name string
	Lab  colour.Lab // under D65, on even light, without gloss
	MM   float64
}

// The places of the things on the paper.
var (
	whiteAt    = photo.Disc{X: 215, Y: 660, Radius: 38}
	greyAt     = photo.Disc{X: 375, Y: 660, Radius: 38}
	bareAt     = photo.Disc{X: 1090, Y: 70, Radius: 30}
	cardCorner = [4][2]float64{{560, 500}, {1130, 512}, {1120, 735}, {552, 722}}
)

// WhiteSquare and GreySquare are what lies beside the bait.
const (
	WhiteSquare = 0.89
	GreySquare  = 0.196
)

// WhiteThing and GreyThing are the squares as they would be pinned.
func WhiteThing() photo.Thing { return thing(whiteAt, WhiteSquare) }
func GreyThing() photo.Thing  { return thing(greyAt, GreySquare) }
func thing(d photo.Disc, y float64) photo.Thing {
	s := colour.Flat(y)
	return photo.Thing{Disc: photo.Disc{X: d.X, Y: d.Y, Radius: 0.8 * d.Radius}, Lab: colour.D65.Lab(&s)}
}

// BareLight is the place of the bare light, and CardCorners those of the card.
func BareLight() photo.Disc      { return bareAt }
func CardCorners() [4][2]float64 { return cardCorner }

// cardSpectra are the patches of the stand-in's own card: five columns, four rows; smooth bands on a pale ground, and a
// row of greys.
func cardSpectra() []colour.Spectrum {
	var out []colour.Spectrum
	band := func(bands ...[3]float64) {
		var s colour.Spectrum
		for b := range s {
			v := 0.0
			for _, g := range bands {
				z := (colour.NM(b) - g[0]) / g[1]
				v += g[2] * math.Exp(-z*z/2)
			}
			s[b] = min(0.92, 0.035+v)
		}
		out = append(out, s)
	}
	edge := func(at, width, high float64, up bool) {
		var s colour.Spectrum
		for b := range s {
			v := 1 / (1 + math.Exp(-(colour.NM(b)-at)/width))
			if !up {
				v = 1 - v
			}
			s[b] = 0.04 + high*v
		}
		out = append(out, s)
	}
	edge(600, 10, 0.62, true)                                   // red
	edge(560, 12, 0.70, true)                                   // orange
	edge(512, 12, 0.78, true)                                   // yellow
	band([3]float64{535, 32, 0.42})                             // green
	band([3]float64{500, 45, 0.40})                             // cyan green
	edge(505, 16, 0.45, false)                                  // blue
	band([3]float64{445, 28, 0.38})                             // deep blue
	band([3]float64{430, 30, 0.35}, [3]float64{700, 55, 0.40})  // violet
	band([3]float64{430, 35, 0.40}, [3]float64{680, 60, 0.62})  // pink
	edge(590, 30, 0.30, true)                                   // brown
	band([3]float64{560, 60, 0.20}, [3]float64{620, 80, 0.14})  // olive
	edge(575, 45, 0.55, true)                                   // skin
	band([3]float64{460, 50, 0.30}, [3]float64{560, 90, 0.16})  // slate blue
	band([3]float64{550, 50, 0.55}, [3]float64{620, 60, 0.25})  // lime
	band([3]float64{480, 60, 0.55}, [3]float64{420, 40, 0.25})  // sky
	for _, y := range []float64{0.89, 0.58, 0.35, 0.19, 0.05} { // greys
		out = append(out, colour.Flat(y))
	}
	return out
}

// Card is the stand-in's own card.
func Card() *photo.Chart {
	c := &photo.Chart{Name: "The stand-in's card", Rows: 4, Columns: 5, Border: 0.1}
	for _, s := range cardSpectra() {
		c.Patches = append(c.Patches, colour.D65.Lab(&s))
	}
	return c
}

// sensors are the camera's: a Gaussian each, with a side lobe, a little off from camera to camera.
func sensors(seed uint64) (s [3]colour.Spectrum) {
	rng := rand.New(rand.NewPCG(seed, 5))
	for ch, g := range [3][4]float64{{602, 36, 0.07, 455}, {538, 42, 0.06, 620}, {456, 32, 0.05, 535}} {
		at, wide := g[0]+2.5*rng.NormFloat64(), g[1]*(1+0.05*rng.NormFloat64())
		for b := range s[ch] {
			z, q := (colour.NM(b)-at)/wide, (colour.NM(b)-g[3])/30
			s[ch][b] = math.Exp(-z*z/2) + g[2]*math.Exp(-q*q/2)
		}
	}
	return s
}

// Shoot takes the photo, and tells the truth about the spots on it.
func (s Studio) Shoot() (*image.RGBA, []Spot) {
	rng := rand.New(rand.NewPCG(s.Seed, 1))
	view := mix.Condition{Ground: optics.White, Light: colour.D65}
	if s.Against {
		view.Ground = optics.Against
	}
	t := s.things(s.develops(view), view)
	bait := shape()
	curve := s.curve()
	cardSpots := Card().Spots(cardCorner)
	turn := 2 * math.Pi * rng.Float64()
	exposure := 0.8 * math.Exp2(s.EV) / t.full
	img := image.NewRGBA(image.Rect(0, 0, Width, Height))
	for py := range Height {
		for px := range Width {
			x, y := float64(px), float64(py)
			mm := float64(bait[py*Width+px])
			c := s.under(&t, mm, x, y, cardSpots, rng)
			r := math.Hypot(x-Width/2, y-Height/2) / math.Hypot(Width/2, Height/2)
			along := ((x-Width/2)*math.Cos(turn) + (y-Height/2)*math.Sin(turn)) / (Width / 2)
			light := exposure * (1 - s.Vignette*r*r) * (1 + s.Gradient*along/2)
			other := 0.0
			if s.Other != "" {
				other = 0.6 * x / Width
			}
			extra := s.Veil * exposure
			if s.Glare && mm != 0 {
				extra += 0.9 * math.Exp(-sq((y-320-0.02*(x-500))/7)) * math.Exp(-sq((x-470)/190))
			}
			var out [3]uint8
			for ch := range 3 {
				v := (c[0][ch]*(1-other)+c[1][ch]*other)*light + extra
				e := curve[int(min(1, max(0, v))*curveSteps+0.5)]
				out[ch] = uint8(min(255, max(0, math.Round(255*e+s.Noise*rng.NormFloat64()))))
			}
			img.SetRGBA(px, py, color.RGBA{R: out[0], G: out[1], B: out[2], A: 255})
		}
	}
	return img, s.spots(view)
}

// developed is a colour as the camera has it, linear: under the shot's light, and under the other one.
type developed [2][3]float64

// developer is the camera's sensors, its white balance and its matrix.
type developer struct {
	sens         [3]colour.Spectrum
	white        [3]float64
	balance      [3]float64
	matrix       [3][3]float64
	power, other colour.Spectrum
	mixed        bool
}

func (d *developer) raw(light, r *colour.Spectrum) (c [3]float64) {
	for ch := range 3 {
		for b := range r {
			c[ch] += light[b] * r[b] * d.sens[ch][b]
		}
	}
	return c
}

// paler is the white of a light, as bright as the shot's own.
func (d *developer) paler(light *colour.Spectrum) [3]float64 {
	one := colour.Flat(1)
	w := d.raw(light, &one)
	times := d.white[1] / w[1]
	for ch := range 3 {
		w[ch] *= times
	}
	return w
}

func (d *developer) develop(c [3]float64) (out [3]float64) {
	for ch := range 3 {
		c[ch] /= d.balance[ch]
	}
	for r := range 3 {
		out[r] = d.matrix[r][0]*c[0] + d.matrix[r][1]*c[1] + d.matrix[r][2]*c[2]
	}
	return out
}

func (d *developer) lit(r colour.Spectrum) developed {
	out := developed{d.develop(d.raw(&d.power, &r))}
	if d.mixed {
		one := colour.Flat(1)
		c, w := d.raw(&d.other, &r), d.raw(&d.other, &one)
		for ch := range 3 {
			c[ch] *= d.white[1] / w[1]
		}
		out[1] = d.develop(c)
	}
	return out
}

// seen is what of a mix a camera sees, without its light.
func seen(m *mix.Mix, mm float64, view mix.Condition) colour.Spectrum {
	view.ThicknessMM = max(0.05, mm)
	return m.Seen(view)
}

// develops makes the camera, its white set as the shot has it.
func (s *Studio) develops(view mix.Condition) *developer {
	sens := sensors(s.Seed)
	d := &developer{sens: sens, matrix: daylightMatrix(sens), power: s.Light.Power(), mixed: s.Other != ""}
	if d.mixed {
		d.other = s.Other.Power()
	}
	one := colour.Flat(1)
	d.white = d.raw(&d.power, &one)
	d.balance = d.white
	switch s.Balance {
	case AutoBalance:
		paper := s.paper()
		back, belly := seen(s.Back, 8, view), seen(s.Belly, 8, view)
		mean, a, b := d.raw(&d.power, &paper), d.raw(&d.power, &back), d.raw(&d.power, &belly)
		for ch := range 3 {
			grey := 0.7*mean[ch]/s.Paper + 0.15*a[ch] + 0.15*b[ch]
			d.balance[ch] = d.white[ch] * math.Pow(grey/d.white[ch], 0.65)
		}
	case DaylightBalance:
		day := colour.D65.Power()
		d.balance = d.paler(&day)
	}
	return d
}

// paper is what the bait lies on, or the light behind it.
func (s *Studio) paper() colour.Spectrum {
	if s.Against {
		return colour.Flat(1)
	}
	return colour.Flat(s.Paper)
}

// things are what lies in the picture, developed.
type things struct {
	tables                          [2][tableSize]developed // back and belly, by thickness
	paper, white, grey, black, wood developed
	patches                         []developed
	full                            float64 // the brightest channel of a full white, which it is metered by
}

func (s *Studio) things(d *developer, view mix.Condition) (t things) {
	for k, m := range []*mix.Mix{s.Back, s.Belly} {
		for i := range t.tables[k] {
			t.tables[k][i] = d.lit(seen(m, bodyMM*float64(i)/(tableSize-1), view))
		}
	}
	t.paper, t.white, t.grey = d.lit(s.paper()), d.lit(colour.Flat(WhiteSquare)), d.lit(colour.Flat(GreySquare))
	t.black, t.wood = d.lit(colour.Flat(0.03)), d.lit(colour.Flat(0.16))
	for _, p := range cardSpectra() {
		t.patches = append(t.patches, d.lit(p))
	}
	full := d.lit(colour.Flat(1))[0]
	t.full = max(full[0], full[1], full[2])
	return t
}

const curveSteps = 1 << 15

// curve is what the camera writes for a linear value.
func (s *Studio) curve() []float64 {
	curve := make([]float64, curveSteps+1)
	for i := range curve {
		e := colour.Encode(float64(i) / curveSteps)
		curve[i] = e - s.Tone*math.Sin(2*math.Pi*e)/(2*math.Pi)
	}
	return curve
}

// under is what lies at a place; mm is how thick the bait is there, below 0 in its belly.
func (s *Studio) under(t *things, mm, x, y float64, cardSpots []photo.Disc, rng *rand.Rand) developed {
	inside := func(d photo.Disc, half float64) bool { return math.Abs(x-d.X) < half && math.Abs(y-d.Y) < half }
	card := s.Card && inQuad(cardCorner, x, y)
	switch {
	case mm != 0:
		k := 0
		if mm < 0 {
			k = 1
		}
		return t.tables[k][min(tableSize-1, int(math.Abs(mm)/bodyMM*(tableSize-1)))]
	case s.White && inside(whiteAt, 52):
		return t.white
	case s.Grey && inside(greyAt, 52):
		return t.grey
	case s.Table && !(y > 230 && y < 400) && !(x > 120 && x < 480 && y > 590 && y < 730) && !card:
		grain := 1 + 0.35*math.Sin(x/9+3*math.Sin(y/140)) + 0.2*rng.Float64()
		c := t.wood
		for k := range c {
			for ch := range 3 {
				c[k][ch] *= grain
			}
		}
		return c
	case card:
		c := t.black
		for i, d := range cardSpots {
			if inside(d, 1.55*d.Radius) {
				c = t.patches[i]
			}
		}
		return c
	}
	return t.paper
}

// spots are places to pin on the bait.
func (s Studio) spots(view mix.Condition) []Spot {
	var out []Spot
	for _, p := range []struct {
		name  string
		x, y  float64
		r     float64
		belly bool
	}{{"back", 600, 352, 12, false}, {"belly", 640, 412, 12, true}, {"belly edge", 640, 430, 6, true}, {"tail", 968, 310, 12, false}, {"tail, below", 968, 428, 12, true}} {
		m := s.Back
		if p.belly {
			m = s.Belly
		}
		mm, _ := thickness(p.x, p.y)
		view.ThicknessMM = mm
		out = append(out, Spot{photo.Disc{X: p.x, Y: p.y, Radius: p.r}, p.name, m.Colour(view), mm})
	}
	return out
}

func inQuad(c [4][2]float64, x, y float64) bool {
	for i, a := range c {
		b := c[(i+1)%4]
		if (b[0]-a[0])*(y-a[1])-(b[1]-a[1])*(x-a[0]) < 0 {
			return false
		}
	}
	return true
}

// daylightMatrix takes a camera's balanced RGB to linear sRGB, fitted over the card in daylight, white kept white.
func daylightMatrix(sens [3]colour.Spectrum) (m [3][3]float64) {
	day := colour.D65.Power()
	one := colour.Flat(1)
	raw := func(r *colour.Spectrum) (c [3]float64) {
		for ch := range 3 {
			for b := range r {
				c[ch] += day[b] * r[b] * sens[ch][b]
			}
		}
		return c
	}
	white := raw(&one)
	for row := range 3 {
		// Two unknowns a row, since it sums to one: m0 + m1 + m2 = 1.
		i, j, k := row, (row+1)%3, (row+2)%3
		var ajj, ajk, akk, bj, bk float64
		for _, s := range cardSpectra() {
			c := raw(&s)
			lin := colour.D65.Lab(&s).Linear()
			want := [3]float64{lin.R, lin.G, lin.B}[row]
			ci, cj, ck := c[i]/white[i], c[j]/white[j], c[k]/white[k]
			u, v, z := cj-ci, ck-ci, want-ci
			ajj, ajk, akk, bj, bk = ajj+u*u, ajk+u*v, akk+v*v, bj+u*z, bk+v*z
		}
		d := ajj*akk - ajk*ajk
		m[row][j], m[row][k] = (bj*akk-bk*ajk)/d, (bk*ajj-bj*ajk)/d
		m[row][i] = 1 - m[row][j] - m[row][k]
	}
	return m
}

func sq(v float64) float64 { return v * v }
