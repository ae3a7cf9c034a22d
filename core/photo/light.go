package photo

import (
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/fit"
	"cloudburst/core/measure"
)

// Kind says what a photo's light was undone by.
type Kind string

// The kinds.
const (
	WhiteGrey Kind = "white-grey"
	Card      Kind = "card"
	Bare      Kind = "bare"
)

// Light undoes what the light and the camera did: an S-curve of the camera, light that strays into the lens, the
// light's own colour, its unevenness.
type Light struct {
	Kind     Kind          `json:"kind" enum:"white-grey,card,bare"`
	Tone     float64       `json:"tone" doc:"a of the camera's curve v − a·sin(2πv)/2π on encoded values"`
	Veil     float64       `json:"veil" doc:"Stray light, as a share of white"`
	Matrix   [3][3]float64 `json:"matrix" doc:"Linear camera RGB to linear sRGB under D65"`
	Even     Even          `json:"even"`
	Residual float64       `json:"residual" doc:"What is left at the patches themselves, mean ΔE00; always flatters"`
	Lamp     colour.Light  `json:"lamp,omitempty" doc:"The light it was taken in, where somebody said so"`
	Warmth   float64       `json:"warmth" doc:"ln of the red over the blue that the light had; above 0 warm"`
	Warnings []string      `json:"warnings,omitempty" nullable:"false"`

	made *table
}

// Stray light, as a share of white: what a lens usually lets in, and the most.
const (
	usualVeil = 0.004
	mostVeil  = 0.03
)

// mostTone is the strongest curve that a camera is taken to have.
const mostTone = 0.2

// untone undoes the curve by Newton's steps.
func untone(e, a float64) float64 {
	v := e
	for range 8 {
		v -= (v - a*math.Sin(2*math.Pi*v)/(2*math.Pi) - e) / (1 - a*math.Cos(2*math.Pi*v))
	}
	return v
}

func (l *Light) table() *table {
	if l.made == nil {
		var t table
		for i := range t {
			t[i] = max(0, colour.Decode(untone(float64(i)/255, l.Tone))-l.Veil)
		}
		l.made = &t
	}
	return l.made
}

// colour takes linear camera RGB at a place to linear sRGB under D65.
func (l *Light) colour(c colour.RGB, x, y float64) colour.RGB {
	g := l.Even.gain(x, y)
	return colour.RGBOf(times(&l.Matrix, [3]float64{g * c.R, g * c.G, g * c.B}))
}

// Thing is something of a known colour that lies in the photo.
type Thing struct {
	Disc
	Lab colour.Lab `json:"lab"`
}

func (t *Thing) linear() [3]float64 { c := t.Lab.Linear(); return [3]float64{c.R, c.G, c.B} }

// ByWhiteAndGrey undoes the light by a white and a grey thing: the camera's curve is the one at which the two come out
// in their ratio, then each channel is scaled so that the white comes out as it is. Where the white is clipped, the
// grey alone has to do, and the curve stays unknown. lamp is the light it was taken in; empty where nobody knows.
func ByWhiteAndGrey(p *Picture, white, grey Thing, lamp colour.Light) (*Light, error) {
	for _, t := range []*Thing{&white, &grey} {
		if err := p.holds(t.Disc); err != nil {
			return nil, err
		}
	}
	w, g := p.spot(white.Disc), p.spot(grey.Disc)
	wantW, wantG := white.linear(), grey.linear()
	if !(wantW[1] > 1.5*wantG[1] && wantG[1] > 0.01) {
		return nil, measure.Faulty("grey", "the grey has to be plainly darker than the white, and lighter than black")
	}
	l := &Light{Kind: WhiteGrey, Tone: 0.08}
	channels := func(s *spot, t *Thing) [3]float64 {
		c := s.middle.linear(l.table())
		gain := l.Even.gain(t.X, t.Y)
		return [3]float64{c.R * gain, c.G * gain, c.B * gain}
	}
	ratio := func() float64 {
		a, b := channels(&w, &white), channels(&g, &grey)
		sum := 0.0
		for ch, weight := range [3]float64{0.25, 0.6, 0.15} {
			sum += weight * (math.Log(a[ch]/b[ch]) - math.Log(wantW[ch]/wantG[ch]))
		}
		return sum
	}
	clipped := w.clippedShare() > 0.02
	pins := []Disc{white.Disc, grey.Disc}
	solve := func(set func(float64), from, to float64) {
		fit.Halve(from, to, 24, func(x float64) bool {
			set(x)
			l.made = nil
			return ratio() <= 0
		})
	}
	for range 3 { // the evenness hangs on the curve, and the curve on the evenness
		l.made = nil
		l.Even = p.evenness(l, pins)
		level := w.middle.linear(l.table()).G + l.Veil
		l.Veil, l.made = usualVeil*level, nil
		if clipped {
			continue
		}
		// Undoing more of the curve makes the contrast smaller, taking more stray light away makes it larger.
		l.Tone = 0
		if ratio() > 0 {
			solve(func(a float64) { l.Tone = a }, 0, mostTone)
		} else {
			solve(func(v float64) { l.Veil = -v }, -mostVeil*level, -usualVeil*level)
		}
	}
	by, want := channels(&w, &white), wantW
	if clipped {
		by, want = channels(&g, &grey), wantG
		l.Warnings = append(
			l.Warnings,
			"The white is too bright for the camera: the light was corrected by the grey alone. Take a darker shot.",
		)
	}
	if min(by[0], by[1], by[2]) <= 0 {
		return nil, measure.Faulty("white", "the white is black in this photo; put the pin on the white thing itself")
	}
	l.Matrix = balance(by, want)
	if l.Lamp = lamp; lamp != "" {
		l.Matrix = product(lampMatrix(lamp), l.Matrix)
	}
	l.Warmth = math.Log(want[2] / by[2] * by[0] / want[0])
	l.Residual = colour.DeltaE00(grey.Lab, colour.RGBOf(times(&l.Matrix, channels(&g, &grey))).Lab())
	if l.Residual > 6 {
		l.Warnings = append(
			l.Warnings,
			"White and grey do not agree: one of them is tinted, in a shadow, or not what it was said to be.",
		)
	}
	if m := p.mixed(l, pins); m > mostMixed {
		l.Warnings = append(
			l.Warnings,
			"Two kinds of light fall on this photo, so that its hue changes from side to side. Switch one off, or shield it.",
		)
	}
	return l, nil
}

// A camera balances its sensors before it makes screen colours of them; a light that it did not balance is undone
// there, too.
var (
	usualMatrix = usualUnder(colour.D65)
	usualBack   = inverse(usualMatrix)
)

// balance is the matrix that takes a white as it was seen to what it is, by gains of the sensors.
func balance(seen, is [3]float64) [3][3]float64 {
	a, b := times(&usualBack, seen), times(&usualBack, is)
	var d [3][3]float64
	for ch := range 3 {
		if a[ch] <= 1e-6 || b[ch] <= 1e-6 { // far off any light: gains of the channels have to do
			for k := range 3 {
				d[k][k] = is[k] / seen[k]
			}
			return d
		}
		d[ch][ch] = b[ch] / a[ch]
	}
	return product(product(usualMatrix, d), usualBack)
}

func times(m *[3][3]float64, c [3]float64) (out [3]float64) {
	for r := range 3 {
		out[r] = m[r][0]*c[0] + m[r][1]*c[1] + m[r][2]*c[2]
	}
	return out
}

func product(a, b [3][3]float64) (out [3][3]float64) {
	for r := range 3 {
		for c := range 3 {
			out[r][c] = a[r][0]*b[0][c] + a[r][1]*b[1][c] + a[r][2]*b[2][c]
		}
	}
	return out
}

func inverse(m [3][3]float64) (out [3][3]float64) {
	for c := range 3 {
		for r := range 3 {
			i, j, k, n := (c+1)%3, (c+2)%3, (r+1)%3, (r+2)%3
			out[r][c] = m[i][k]*m[j][n] - m[i][n]*m[j][k]
		}
	}
	d := m[0][0]*out[0][0] + m[0][1]*out[1][0] + m[0][2]*out[2][0]
	for r := range 3 {
		for c := range 3 {
			out[r][c] /= d
		}
	}
	return out
}

// holds says whether a pin can be read.
func (p *Picture) holds(d Disc) error {
	if !(d.Radius >= 1 && d.Radius <= 2000) ||
		!(d.X >= 0 && d.Y >= 0 && d.X < float64(p.Width) && d.Y < float64(p.Height)) {
		return measure.Faulty("disc", "this pin lies outside the picture, which is %d × %d px", p.Width, p.Height)
	}
	return nil
}

func (s *spot) clippedShare() float64 {
	n := 0
	for _, q := range s.kept {
		if q.clipped() {
			n++
		}
	}
	return float64(n) / float64(max(1, len(s.kept)))
}

// trust says how far off a reading is expected to be.
func (r *Reading) trust(kept []pixel, l *Light) {
	c := r.Lab.Chroma()
	low := 0.0
	n := 0
	for _, q := range kept {
		if min(q.rgb[0], q.rgb[1], q.rgb[2]) < darkBelow {
			n++
		}
	}
	if 2*n > len(kept) {
		low = 1.4
	}
	switch {
	case l.Kind == Card:
		r.Error = 1 + 0.025*c + low
	case l.Lamp == "":
		r.Error = 2.2 + 0.14*c + low // it may have been a lamp, since nobody said which light it was
	case l.Lamp == colour.D65 || l.Lamp == colour.D50 || l.Lamp == colour.Shade:
		r.Error = 1.3 + 0.04*c + low
	default:
		r.Error = 1.9 + 0.06*c + low
	}
	r.Error += 0.3 * l.Residual
	if l.Kind == WhiteGrey && l.Even.Paper < leastPaper { // hardly anything told how the light falls off
		r.Error += 0.6
	}
	if len(l.Warnings) > 0 { // a white too bright for the camera, two kinds of light: what was undone is a guess
		r.Error += 1.5
	}
}

// usualTone is a camera's curve where nothing in the photo tells it.
const usualTone = 0.08

// ByBareLight undoes the light of a shot that is held against it: the bare lamp, window or sky beside the bait is its
// white, and readings are what comes through. What is clipped over 2 % of the pin can't serve.
func ByBareLight(p *Picture, bare Disc, lamp colour.Light) (*Light, error) {
	if err := p.holds(bare); err != nil {
		return nil, err
	}
	s := p.spot(bare)
	if s.clippedShare() > 0.02 || s.brighter > s.all/50 {
		return nil, measure.Faulty(
			"bare",
			"the bare light is too bright for the camera, so that its hue is lost. Take a darker shot, or pin a dimmer place of the same light",
		)
	}
	l := &Light{Kind: Bare, Tone: usualTone, Even: p.usualEven()}
	c := s.middle.linear(l.table())
	gain := l.Even.gain(bare.X, bare.Y)
	c.R, c.G, c.B = c.R*gain, c.G*gain, c.B*gain
	if min(c.R, c.G, c.B) < 0.05 {
		return nil, measure.Faulty(
			"bare", "this is no light, it is dark here; put the pin on the bare lamp, window or sky",
		)
	}
	l.Matrix = balance([3]float64{c.R, c.G, c.B}, [3]float64{1, 1, 1})
	if l.Lamp = lamp; lamp != "" {
		l.Matrix = product(lampMatrix(lamp), l.Matrix)
	}
	l.Warmth = math.Log(c.R / c.B)
	return l, nil
}

// Paper and GreyCard are how much usual white and grey things send back, %.
const Paper, GreyCard = 88, 18

// Neutral is a white or grey thing at a place, by how much it sends back, %; usual where nobody said.
func Neutral(field string, d Disc, percent, usual float64) (Thing, error) {
	if !(percent >= 0 && percent <= 100) {
		return Thing{}, measure.Faulty(field, "a thing sends back more than 0 and up to 100 %% of the light")
	}
	if percent == 0 {
		percent = usual
	}
	s := colour.Flat(percent / 100)
	return Thing{Disc: d, Lab: colour.D65.Lab(&s)}, nil
}

// Says is what is to be known of a light that was undone, in sentences: how it was evened out, what nobody said, and
// its warnings.
func (l *Light) Says() []string {
	out := []string{"Uneven light is evened out over the paper."}
	if l.Even.Paper < leastPaper {
		out[0] = "There is little paper: the light is evened out as a usual lens has it, and readings are less sure."
	}
	if l.Kind == WhiteGrey && l.Lamp == "" {
		out = append(
			out,
			"Nobody said which light it was taken in. Under a lamp a deep colour may be far off: undo the light once more and name it.",
		)
	}
	return append(out, l.Warnings...)
}
