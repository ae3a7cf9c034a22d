package material

import (
	"fmt"
	"strings"

	"cloudburst/core/measure"
)

// Property is one value of a material that its owner may refine.
type Property struct {
	Key    string  `json:"key"`
	Label  string  `json:"label"`
	Unit   string  `json:"unit"`
	Value  float64 `json:"value"`
	Says   string  `json:"says" doc:"The value as a maker would write it"`
	Origin Origin  `json:"origin" enum:"typical,maker,measured,none,survived"`
	About  string  `json:"about,omitempty"`
	Fine   bool    `json:"fine,omitempty" doc:"Seldom touched by hand: the bands in which it absorbs"`
}

// property ties a row of the material's page to where the value lives.
type property struct {
	Property
	value  *float64
	origin *Origin // nil where the origin is the optics' own, which refining makes measured
}

// Properties lists what can be refined, with where each value comes from.
func (m *Material) Properties() []Property {
	var out []Property
	of := m.clone()
	for _, p := range of.properties() {
		p.Value = *p.value
		p.Says = measure.Number(p.Value, 4)
		if p.Unit == "tsp a cup" {
			p.Says = strings.TrimSuffix(measure.Spoons(p.Value), " tsp")
		}
		p.Origin = m.OpticsOrigin()
		if p.origin != nil {
			p.Origin = *p.origin
		}
		out = append(out, p.Property)
	}
	return out
}

// Refine sets one property. The material that was handed in is not touched.
func (m Material) Refine(key string, value float64, origin Origin) (Material, error) {
	m = m.clone()
	for _, p := range m.properties() {
		if p.Key != key {
			continue
		}
		*p.value = value
		if p.origin == nil {
			p.origin = m.opticsOrigin()
		}
		*p.origin = origin
		return m, m.Check()
	}
	return m, fmt.Errorf("key: no property of %s is called %q", m.Name, key)
}

// SetRuns says whether the colour of a liquid or a flake moves through the plastic.
func (m Material) SetRuns(runs bool) (Material, error) {
	m = m.clone()
	movement := Stays
	if runs {
		movement = Bleeds
	}
	switch {
	case m.Colourant != nil:
		m.Colourant.Movement = movement
	case m.Flake != nil:
		m.Flake.Movement = movement
	default:
		return m, fmt.Errorf("runs: only liquid colours and flake run, or do not")
	}
	return m, m.Check()
}

// Stronger makes a colour stronger or weaker by a factor, all bands alike.
func (m Material) Stronger(times float64, origin Origin) (Material, error) {
	m = m.clone()
	if !(times >= 0.02 && times <= 50) {
		return m, fmt.Errorf("strength: from a fiftieth to fifty times is accepted")
	}
	switch {
	case m.Colourant != nil:
		o := &m.Colourant.Optics
		o.FlatPerMM *= times
		o.ScatterPerMM *= times
		for i := range o.Absorbs {
			o.Absorbs[i].HeightPerMM *= times
		}
		if c := o.Curve; c != nil {
			for b := range c.K {
				c.K[b], c.S[b] = times*c.K[b], times*c.S[b]
			}
		}
		if g := m.Colourant.Glows; g != nil {
			g.TakesPerM *= times
		}
	case m.Powder != nil:
		o := &m.Powder.Optics
		o.StrengthPerMM *= times
		for i := range o.Absorbs {
			o.Absorbs[i].HeightPerMM *= times
		}
	default:
		return m, fmt.Errorf("strength: only liquid colours and powders have one")
	}
	*m.opticsOrigin() = origin
	return m, m.Check()
}

func (m *Material) opticsOrigin() *Origin {
	switch {
	case m.Plastisol != nil:
		return &m.Plastisol.Optics.Origin
	case m.Colourant != nil:
		return &m.Colourant.Optics.Origin
	case m.Powder != nil:
		return &m.Powder.Optics.Origin
	case m.Flake != nil:
		return &m.Flake.Optics.Origin
	}
	return &m.Additive.Hiding.Origin
}

func (m *Material) properties() []property {
	l := &listing{}
	switch {
	case m.Plastisol != nil:
		m.Plastisol.list(l)
	case m.Colourant != nil:
		m.Colourant.list(l)
	case m.Powder != nil:
		m.Powder.list(l)
	case m.Flake != nil:
		m.Flake.list(l)
	case m.Additive != nil:
		m.Additive.list(l)
	}
	return l.all
}

// listing is where each kind of material puts what can be set of it.
type listing struct{ all []property }

// own is a figure that says itself where it comes from.
func (l *listing) own(key, label, unit string, v *Value, about string) {
	l.all = append(l.all, property{Property{Key: key, Label: label, Unit: unit, About: about}, &v.Value, &v.Origin})
}

// look is one that comes from where the material's optics do.
func (l *listing) look(key, label, unit string, v *float64, about string) {
	l.all = append(l.all, property{Property{Key: key, Label: label, Unit: unit, About: about}, v, nil})
}

func (l *listing) usual(unit string, v *[2]float64) {
	l.look("usualFrom", "Usual, from", unit, &v[0], "")
	l.look("usualTo", "Usual, to", unit, &v[1], "")
}

func (l *listing) bands(list []Band, unit string) {
	for i := range list {
		b := &list[i]
		for _, v := range []struct {
			key, label, unit string
			value            *float64
		}{{"centreNM", "middle", "nm", &b.CentreNM}, {"widthNM", "width", "nm", &b.WidthNM}, {"height", "depth", unit, &b.HeightPerMM}} {
			l.look(fmt.Sprintf("band%d.%s", i, v.key), fmt.Sprintf("Band %d, %s", i+1, v.label), v.unit, v.value, "")
			l.all[len(l.all)-1].Fine = true
		}
	}
}

func (p *Plastisol) list(l *listing) {
	l.own("densityGML", "Density, cold", "g/ml", &p.DensityGML, "")
	l.look("scatterPerMM", "Haze", "1/mm", &p.Optics.ScatterPerMM, "How hazy it is of itself")
	l.look("yellowPerMM", "Yellow", "1/mm", &p.Optics.YellowPerMM, "Absorption at 380 nm; ageing raises it")
	l.look("floorPerMM", "Grey", "1/mm", &p.Optics.FloorPerMM, "Absorption at every wavelength")
}

func (c *Colourant) list(l *listing) {
	l.own("dropML", "One drop", "ml", &c.DropML, "Count drops into a measured amount")
	l.own("densityGML", "Density", "g/ml", &c.DensityGML, "")
	l.usual("drops a cup", &c.UsualDrops)
	if c.Movement == Bleeds {
		if c.RunsMM == nil {
			c.RunsMM = &Value{UsualRunsMM, Typical}
		}
		l.own("runsMM", "Runs in two weeks", "mm", c.RunsMM, "How far it gets into clear plastic that it lies against")
	}
	if len(c.Contains) > 0 { // its colour is that of the bottles it was cut from
		return
	}
	if c.Optics.Curve == nil { // else its colour is what its chips have it be
		l.look("scatterPerMM", "Hiding", "1/mm", &c.Optics.ScatterPerMM, "Scatter of 1 ml in a litre")
		l.look("flatPerMM", "Greying", "1/mm", &c.Optics.FlatPerMM, "Absorption at every wavelength")
		l.bands(c.Optics.Absorbs, "1/mm")
	}
	if c.Glows != nil {
		l.look("yield", "Glow", "of the light it takes", &c.Glows.Yield, "")
	}
}

func (p *Powder) list(l *listing) {
	l.own("bulkGML", "As it lies in the spoon", "g/ml", &p.BulkGML, "Weigh a level teaspoon")
	l.own("densityGML", "True density", "g/ml", &p.DensityGML, "")
	l.usual("tsp a cup", &p.UsualTSP)
	l.look("strengthPerMM", "Strength", "1/mm", &p.Optics.StrengthPerMM, "Of 1 g in a litre")
	l.look("filmNM", "Film", "nm", &p.Optics.Film.ThicknessNM, "Its thickness makes the hue")
	l.look("glint", "Glint", "×", &p.Optics.Glint, "Brightness along the mirror direction")
	l.bands(p.Optics.Absorbs, "1/mm")
}

func (f *Flake) list(l *listing) {
	l.own("sizeIn", "Size across the flats", "in", &f.SizeIn, "")
	l.own("thicknessMM", "Thickness", "mm", &f.ThicknessMM, "")
	l.own("packing", "Share of a spoon that is flake", "", &f.Packing, "Weigh a level teaspoon")
	l.own("densityGML", "True density", "g/ml", &f.DensityGML, "")
	l.look("spread", "Spread of sizes", "of the size", &f.Spread, "")
	l.look("top", "Brightest", "of the light", &f.Optics.Top, "Reflectance where it absorbs nothing")
	l.look("floor", "Darkest", "of the light", &f.Optics.Floor, "Reflectance where it absorbs most")
	l.bands(f.Optics.Absorbs, "")
	l.usual("tsp a cup", &f.UsualTSP)
}

func (a *Additive) list(l *listing) {
	l.own("densityGML", "True density", "g/ml", &a.DensityGML, "")
	unit := "tsp a cup"
	if a.Form == measure.Liquid {
		unit = "ml a cup"
		l.own("dropML", "One drop", "ml", &a.DropML, "Count drops into a measured amount")
	} else {
		l.own("bulkGML", "As it lies in the spoon", "g/ml", &a.BulkGML, "Weigh a level teaspoon")
		l.own("grainMM", "Grain", "mm", &a.GrainMM, "Coarse grains cloud less and settle faster")
		l.own("hiding", "Cloudiness of a grain", "", &a.Hiding, "")
	}
	l.usual(unit, &a.Usual)
}

// ByChips is a colourant as chips of it have it; nil takes it, or a powder, back to its own figures.
func (m Material) ByChips(curve *Curve) (Material, error) {
	m = m.clone()
	if p := m.Powder; p != nil && p.Label != nil && curve == nil {
		p.Optics, p.Label = *p.Label, nil
		return m, m.Check()
	}
	if m.Colourant == nil || len(m.Colourant.Contains) > 0 {
		return m, fmt.Errorf("chips: only a liquid colour is measured so; a dilution is what its bottles are")
	}
	m.Colourant.Optics.Curve = curve
	m.Colourant.Optics.Origin = Measured
	if curve == nil { // whatever its figures came from: they were less than that
		m.Colourant.Optics.Origin = Typical
	}
	return m, m.Check()
}
