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
			p.origin = m.part().origin()
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
	*m.part().origin() = origin
	return m, m.Check()
}

func (m *Material) properties() []property {
	l := &listing{}
	m.part().list(l)
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
