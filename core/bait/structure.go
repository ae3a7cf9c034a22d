package bait

import (
	"fmt"
	"math"

	"cloudburst/core/measure"
)

// Structure says how the plastics of several cups lie in a bait. Cups are numbered from 0.
type Structure struct {
	Layers []Layer `json:"layers" minItems:"1" maxItems:"4" nullable:"false" doc:"From the belly up"`
	Core   *Core   `json:"core,omitempty"`
	Skin   *Skin   `json:"skin,omitempty"`
	Tail   *Tail   `json:"tail,omitempty"`
	Bars   []Bar   `json:"bars,omitempty" maxItems:"12"`
	Spots  []Spot  `json:"spots,omitempty" maxItems:"24"`
}

// Layer is a plastic between two heights.
type Layer struct {
	Name   string  `json:"name" maxLength:"40" doc:"Belly, vein, back…"`
	Cup    int     `json:"cup" minimum:"0" maximum:"7"`
	Top    float64 `json:"top" minimum:"-1" maximum:"1" doc:"Its upper edge: -1 the lowest of the body, 1 the highest; the last layer ends at 1"`
	BlurMM float64 `json:"blurMM" minimum:"0" maximum:"20" doc:"How far it runs into the layer above"`
}

// Core is a rod of another plastic down the middle of the body.
type Core struct {
	Cup    int     `json:"cup" minimum:"0" maximum:"7"`
	WideMM float64 `json:"wideMM" minimum:"0" maximum:"60"`
	FromMM float64 `json:"fromMM" minimum:"0" maximum:"400"`
	ToMM   float64 `json:"toMM" minimum:"0" maximum:"400"`
}

// Skin is laid into the head before the rest.
type Skin struct {
	Cup    int     `json:"cup" minimum:"0" maximum:"7"`
	ToMM   float64 `json:"toMM" minimum:"0" maximum:"400" doc:"How far back it reaches"`
	DeepMM float64 `json:"deepMM" minimum:"0" maximum:"20"`
}

// Tail is what was cut from a first shot and set back into the mold: everything behind a place.
type Tail struct {
	Cup    int     `json:"cup" minimum:"0" maximum:"7"`
	FromMM float64 `json:"fromMM" minimum:"0" maximum:"400"`
}

// Bar is a stripe round the back, down to a height.
type Bar struct {
	Cup     int     `json:"cup" minimum:"0" maximum:"7"`
	AtMM    float64 `json:"atMM" minimum:"0" maximum:"400" doc:"Its middle, from the nose"`
	WideMM  float64 `json:"wideMM" minimum:"0" maximum:"100"`
	DeepMM  float64 `json:"deepMM" minimum:"0" maximum:"20"`
	Down    float64 `json:"down" minimum:"-1" maximum:"1" doc:"How far down it reaches: 1 the back, -1 the belly"`
	UnderMM float64 `json:"underMM" minimum:"0" maximum:"20" doc:"Body that was poured over it; 0 where it lies on the mold"`
}

// Spot is a dot on both sides.
type Spot struct {
	Cup      int     `json:"cup" minimum:"0" maximum:"7"`
	AtMM     float64 `json:"atMM" minimum:"0" maximum:"400" doc:"From the nose"`
	UpMM     float64 `json:"upMM" minimum:"-100" maximum:"100" doc:"From the bait's axis"`
	AcrossMM float64 `json:"acrossMM" minimum:"0" maximum:"60"`
	DeepMM   float64 `json:"deepMM" minimum:"0" maximum:"20"`
	UnderMM  float64 `json:"underMM" minimum:"0" maximum:"20"`
}

// Limits of a structure.
const (
	MaxCups   = 8
	maxLayers = 4
	// What is drawn may lie in more, where a dye has run from layer to layer.
	mostSlices = 24
	maxBars    = 12
	maxSpots   = 24
)

// Part is a stretch of a bait that comes from one cup.
type Part struct {
	Name string
	Cup  int
}

// Parts lists them: layers from the belly up, core, skin, tail, bars, spots. Runs name them by their place in it.
func (st *Structure) Parts() []Part {
	var out []Part
	for _, l := range st.Layers {
		out = append(out, Part{l.Name, l.Cup})
	}
	if st.Core != nil {
		out = append(out, Part{"core", st.Core.Cup})
	}
	if st.Skin != nil {
		out = append(out, Part{"head skin", st.Skin.Cup})
	}
	if st.Tail != nil {
		out = append(out, Part{"set-in tail", st.Tail.Cup})
	}
	for i, b := range st.Bars {
		out = append(out, Part{fmt.Sprintf("bar %d", i+1), b.Cup})
	}
	for i, s := range st.Spots {
		out = append(out, Part{fmt.Sprintf("spot %d", i+1), s.Cup})
	}
	return out
}

// Cups is how many cups a structure takes.
func (st *Structure) Cups() int {
	most := 0
	for _, p := range st.Parts() {
		most = max(most, p.Cup)
	}
	return most + 1
}

// Plain says that all of it comes from one cup.
func (st *Structure) Plain() bool {
	parts := st.Parts()
	for _, p := range parts {
		if p.Cup != parts[0].Cup {
			return false
		}
	}
	return true
}

// Check says what is wrong with a structure in a bait, at its field.
func (st *Structure) Check(s *Shape) error {
	if len(st.Layers) == 0 || len(st.Layers) > maxLayers {
		return measure.Faulty("layers", "a bait has one to %d layers", maxLayers)
	}
	if len(st.Bars) > maxBars || len(st.Spots) > maxSpots {
		return measure.Faulty("spots", "up to %d bars and %d spots are taken", maxBars, maxSpots)
	}
	for i, p := range st.Parts() {
		if p.Cup < 0 || p.Cup >= MaxCups {
			return measure.Faulty("cups", "%s has no cup; up to %d cups go into a bait", st.Parts()[i].Name, MaxCups)
		}
	}
	if err := st.checkLayers(); err != nil {
		return err
	}
	if err := st.checkInside(s); err != nil {
		return err
	}
	return st.checkMarks(s)
}

// checkLayers looks at the layers: each ends above the one below it.
func (st *Structure) checkLayers() error {
	below := -1.0
	for i, l := range st.Layers {
		field := fmt.Sprintf("layers.%d.top", i)
		last := i == len(st.Layers)-1
		switch {
		case !(l.Top >= -1 && l.Top <= 1):
			return measure.Faulty(
				field,
				"the layers come to more than the bait: %s would end outside it. Fill heights go from 0 to 100 %%",
				l.Name,
			)
		case l.Top <= below && !(last && l.Top == 1):
			return measure.Faulty(field, "%s would have no height: it must end above the layer below it", l.Name)
		case last && l.Top != 1:
			return measure.Faulty(field, "the topmost layer fills what is left, to 100 %%")
		case !(l.BlurMM >= 0 && l.BlurMM <= 20):
			return measure.Faulty(fmt.Sprintf("layers.%d.blurMM", i), "layers run into each other by 0 to 20 mm")
		}
		below = l.Top
	}
	return nil
}

// checkInside looks at what there is one of: core, head skin, set-in tail.
func (st *Structure) checkInside(s *Shape) error {
	_, width := s.Size()
	body := s.bodyHeight()
	if c := st.Core; c != nil {
		wide := 2 * min(-body.from, body.to, s.bodyHalfWidth())
		switch {
		case !(c.WideMM > 0):
			return measure.Faulty("core.wideMM", "a core is wider than 0 mm")
		case c.WideMM >= wide:
			return measure.Faulty(
				"core.wideMM", "a core of %s mm is wider than its bait, which leaves room for less than %s mm",
				measure.Number(c.WideMM, 1), measure.Number(wide, 1),
			)
		case !(c.FromMM >= 0 && c.ToMM > c.FromMM && c.ToMM <= s.ToX):
			return measure.Faulty("core.toMM", "a core lies inside the bait: from 0 to %s mm", measure.Number(s.ToX, 0))
		}
	}
	if k := st.Skin; k != nil {
		if !(k.ToMM > 0 && k.ToMM <= s.ToX) {
			return measure.Faulty(
				"skin.toMM", "a head skin reaches back from more than 0 to %s mm", measure.Number(s.ToX, 0),
			)
		}
		if err := deep("skin.deepMM", k.DeepMM, 0, width); err != nil {
			return err
		}
	}
	if t := st.Tail; t != nil && !(t.FromMM > 0 && t.FromMM < s.ToX) {
		return measure.Faulty(
			"tail.fromMM", "a set-in tail begins between 0 and %s mm from the nose", measure.Number(s.ToX, 0),
		)
	}
	return nil
}

// checkMarks looks at bars and spots: each lies on the bait.
func (st *Structure) checkMarks(s *Shape) error {
	_, width := s.Size()
	for i, b := range st.Bars {
		field := fmt.Sprintf("bars.%d.", i)
		switch {
		case !(b.AtMM >= 0 && b.AtMM <= s.ToX):
			return measure.Faulty(field+"atMM", "a bar lies on the bait: from 0 to %s mm", measure.Number(s.ToX, 0))
		case !(b.WideMM > 0 && b.WideMM <= s.ToX):
			return measure.Faulty(field+"wideMM", "a bar is wider than 0 mm, and at most as wide as the bait is long")
		case !(b.Down >= -1 && b.Down < 1):
			return measure.Faulty(field+"down", "a bar reaches down from the back: to 0 to 99 %% of the height")
		}
		if err := deep(field+"deepMM", b.DeepMM, b.UnderMM, width); err != nil {
			return err
		}
	}
	for i, p := range st.Spots {
		field := fmt.Sprintf("spots.%d.", i)
		switch {
		case !(p.AtMM >= 0 && p.AtMM <= s.ToX):
			return measure.Faulty(field+"atMM", "a spot lies on the bait: from 0 to %s mm", measure.Number(s.ToX, 0))
		case !(math.Abs(p.UpMM) <= s.HalfY):
			return measure.Faulty(
				field+"upMM", "a spot lies on the bait: up to %s mm from its axis", measure.Number(s.HalfY, 0),
			)
		case !(p.AcrossMM > 0 && p.AcrossMM <= 60):
			return measure.Faulty(field+"acrossMM", "a spot is more than 0 and up to 60 mm across")
		}
		if err := deep(field+"deepMM", p.DeepMM, p.UnderMM, width); err != nil {
			return err
		}
	}
	return nil
}

func deep(field string, mm, under, width float64) error {
	switch {
	case !(mm > 0):
		return measure.Faulty(field, "it is thicker than 0 mm")
	case !(under >= 0):
		return measure.Faulty(field, "the body over it is 0 mm or more")
	case mm+under > width/2:
		return measure.Faulty(
			field, "%s mm from each side is more than the bait, which is %s mm wide", measure.Number(mm+under, 1),
			measure.Number(width, 1),
		)
	}
	return nil
}

// Place is how a bar or spot lies in the body: in which layer, under how much of it, in a section how thick.
type Place struct {
	Layer                  int
	OverMM, DeepMM, BodyMM float64
}

// LieOf gives it for a bar or spot, by its key; ok is false for other parts.
func (st *Structure) LieOf(key string, s *Shape) (p Place, ok bool) {
	var x, y float64
	var i int
	switch {
	case scan(key, "bars.%d", &i) && i < len(st.Bars):
		b := st.Bars[i]
		body := s.bodyHeight()
		x, p.OverMM, p.DeepMM = b.AtMM, b.UnderMM, b.DeepMM
		y = body.from + body.length()*((b.Down+1)/2+1)/2 // half way up the bar
		if c := s.at(x); c.hy > 0 {
			y = min(y, c.cy+0.6*c.hy)
		}
		if s.Lying { // from above, at the middle
			y = 0
		}
	case scan(key, "spots.%d", &i) && i < len(st.Spots):
		q := st.Spots[i]
		x, y, p.OverMM, p.DeepMM = q.AtMM, q.UpMM, q.UnderMM, q.DeepMM
	default:
		return p, false
	}
	p.BodyMM = max(s.At(x, y), p.OverMM+p.DeepMM)
	if s.Lying {
		y = s.bodyHeight().to
	}
	c := NewCutter(s, st, Split{}, 0)
	for p.Layer < len(st.Layers)-1 && y >= c.YOf(st.Layers[p.Layer].Top) {
		p.Layer++
	}
	return p, true
}

func scan(key, form string, into *int) bool {
	n, err := fmt.Sscanf(key, form, into)
	return n == 1 && err == nil
}

// Refit keeps what was laid onto a bait inside another one, when its mold is changed.
func (st *Structure) Refit(m *Mold) {
	s := m.Bait()
	_, width := s.Size()
	inside := func(v *float64) { *v = min(*v, rounded(s.ToX, 1)) }
	thin := func(deep, under *float64) {
		if *deep+*under > 0.45*width {
			*under = 0
			*deep = min(*deep, rounded(0.2*width, 10))
		}
	}
	if c := st.Core; c != nil {
		body := s.bodyHeight()
		c.WideMM = min(c.WideMM, rounded(0.9*2*min(-body.from, body.to, s.bodyHalfWidth()), 10))
		c.ToMM = min(c.ToMM, rounded(s.bodyTo, 1))
		c.FromMM = min(c.FromMM, 0.5*c.ToMM)
	}
	if k := st.Skin; k != nil {
		var none float64
		inside(&k.ToMM)
		thin(&k.DeepMM, &none)
	}
	if t := st.Tail; t != nil {
		t.FromMM = min(t.FromMM, rounded(0.9*s.ToX, 1))
	}
	for i := range st.Bars {
		inside(&st.Bars[i].AtMM)
		thin(&st.Bars[i].DeepMM, &st.Bars[i].UnderMM)
	}
	for i := range st.Spots {
		p := &st.Spots[i]
		inside(&p.AtMM)
		p.UpMM = min(s.HalfY, max(-s.HalfY, p.UpMM))
		thin(&p.DeepMM, &p.UnderMM)
	}
}
