package mix

import (
	"fmt"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
)

// Mix is a cup worked out: its finished volume and mass, and what it does to light.
type Mix struct {
	FinishedML  float64
	MassG       float64
	PlastisolML float64
	K, S        colour.Spectrum // 1/mm, with everything in it: what is seen at arm's length
	BodyK       colour.Spectrum // the same without the flake's own colour: what lies between the pieces
	BodyS       colour.Spectrum
	Lines       []Line
	Flakes      []FlakeIn
	Mirrors     []MirrorIn
	glows       []optics.Glow
	baseS       float64                   // the plastisol's own haze, 1/mm
	share       map[material.Role]float64 // of the finished volume, by additive
	LoadG       float64                   // salt, glass and spheres
	grade       float64                   // hand index of the plastisol, see feel.go
}

// Glows says whether something in the mix is fluorescent.
func (m *Mix) Glows() bool { return len(m.glows) > 0 }

// FlakeIn is one flake in the mix.
type FlakeIn struct {
	Material string
	Flake    *material.Flake
	PerMM3   float64 // pieces
}

// MirrorIn is one powder that glints, in g per litre.
type MirrorIn struct {
	Powder *material.Powder
	GramsL float64
}

// Line is one dose worked out, with its sum in words.
type Line struct {
	Material string  `json:"material"`
	ML       float64 `json:"ml" doc:"True volume: what it takes up in the finished mix"`
	Grams    float64 `json:"grams"`
	PerLitre float64 `json:"perLitre" doc:"ml (liquids) or g (solids) per litre of finished volume"`
	Working  string  `json:"working" doc:"The sum behind the figure, in the maker's units"`
}

// Stir works a cup out. Everything is reckoned per litre of the finished volume: plastisol, liquids and the true
// volume of solids together, so that doses dilute each other as they do in the cup. Coefficients add up:
// K = K_base + Σ c·k, S likewise.
func Stir(c *cup.Cup, shelf cup.Shelf) (*Mix, error) {
	if err := c.Check(shelf); err != nil {
		return nil, err
	}
	base := shelf[c.Plastisol]
	m := &Mix{
		FinishedML: c.Volume.ML, PlastisolML: c.Volume.ML, MassG: c.Volume.ML * base.DensityGML(),
		Lines: make([]Line, len(c.Doses)), share: map[material.Role]float64{},
	}
	for i, d := range c.Doses {
		bottle := shelf[d.Material]
		l := &m.Lines[i]
		l.Material = d.Material
		var err error
		if l.ML, l.Grams, err = bottle.Take(d.Amount); err != nil {
			return nil, measure.Faulty(fmt.Sprintf("doses[%d]", i), "%s", err)
		}
		m.FinishedML += l.ML
		m.MassG += l.Grams
	}
	m.pour(base.Plastisol, c.Volume.ML)
	for i, d := range c.Doses {
		bottle := shelf[d.Material]
		l := &m.Lines[i]
		per, unit := l.ML, "ml"
		if bottle.Form() == measure.Solid {
			per, unit = l.Grams, "g"
		}
		l.PerLitre = 1000 * per / m.FinishedML
		l.Working = working(&bottle, d.Amount, l, unit, m.FinishedML)
		m.add(&bottle, shelf, l)
	}
	m.BodyK, m.BodyS = m.K, m.S
	for _, f := range m.Flakes { // last, so that the body is known without it
		k, s := f.Flake.Add(f.PerMM3)
		addTo(&m.K, &k, 1)
		addTo(&m.S, &s, 1)
	}
	return m, nil
}

// leastPieces of a flake per mm³ are some: less than one piece in a thousand litres is none, as when it was tapped in
// and out again.
const leastPieces = 1e-9

// pour adds plastisol.
func (m *Mix) pour(p *material.Plastisol, ml float64) {
	share := ml / m.FinishedML
	k, s := p.Coefficients()
	addTo(&m.K, &k, share)
	addTo(&m.S, &s, share)
	m.baseS += share * p.Optics.ScatterPerMM
	m.grade += p.Hand() * ml
}

func (m *Mix) add(bottle *material.Material, shelf cup.Shelf, l *Line) {
	switch {
	case bottle.Plastisol != nil: // a second grade, from a cup that was poured in
		m.pour(bottle.Plastisol, l.ML)
		m.PlastisolML += l.ML
	case bottle.Colourant != nil && len(bottle.Colourant.Contains) > 0:
		for _, part := range bottle.Colourant.Contains {
			of := shelf[part.Material]
			m.drip(of.Colourant, l.PerLitre*part.Share)
		}
	case bottle.Colourant != nil:
		m.drip(bottle.Colourant, l.PerLitre)
	case bottle.Powder != nil:
		k, s := bottle.Powder.Coefficients()
		addTo(&m.K, &k, l.PerLitre)
		addTo(&m.S, &s, l.PerLitre)
		m.Mirrors = append(m.Mirrors, MirrorIn{bottle.Powder, l.PerLitre})
	case bottle.Flake != nil:
		n := bottle.Flake.Pieces(l.Grams) / (1000 * m.FinishedML)
		if n < leastPieces {
			return
		}
		m.Flakes = append(m.Flakes, FlakeIn{l.Material, bottle.Flake, n})
	case bottle.Additive != nil:
		fraction := l.ML / m.FinishedML
		m.share[bottle.Additive.Role] += fraction
		switch bottle.Additive.Role {
		case material.Salt, material.Glass, material.Spheres:
			m.LoadG += l.Grams
		}
		haze := colour.Flat(bottle.Additive.Scatters(fraction))
		addTo(&m.S, &haze, 1)
	}
}

func (m *Mix) drip(c *material.Colourant, perLitre float64) {
	k, s := c.Coefficients()
	addTo(&m.K, &k, perLitre)
	addTo(&m.S, &s, perLitre)
	if c.Glows != nil {
		g := optics.Glow{Yield: c.Glows.Yield}
		g.Takes, g.Gives = c.Glows.Glow()
		for b := range g.Takes {
			g.Takes[b] *= perLitre
		}
		m.glows = append(m.glows, g)
	}
}

func addTo(sum, part *colour.Spectrum, times float64) {
	for b, v := range part {
		sum[b] += times * v
	}
}

// working says how a line's figure comes about.
func working(bottle *material.Material, a measure.Amount, l *Line, unit string, finishedML float64) string {
	tail := fmt.Sprintf(
		" in %s ml finished: %s %s per litre", measure.Number(finishedML, 1), measure.Number(l.PerLitre, 3), unit,
	)
	a = measure.Amount{Value: a.Value, Unit: a.Unit}
	switch {
	case a.Unit == measure.InDrops && a.Value > 0:
		return fmt.Sprintf("%s × %s ml = %s ml", a, measure.Number(l.ML/a.Value, 3), measure.Number(l.ML, 3)) + tail
	case bottle.Form() == measure.Solid && a.Unit != measure.InGrams:
		loose := a.Value
		if a.Unit == measure.InTeaspoons {
			loose *= measure.TeaspoonML
		}
		return fmt.Sprintf(
			"%s = %s ml in the spoon × %s g/ml = %s g", a, measure.Number(loose, 2),
			measure.Number(bottle.BulkGML(), 2),
			measure.Number(l.Grams, 2),
		) + tail
	case unit == "g":
		return fmt.Sprintf("%s g", measure.Number(l.Grams, 2)) + tail
	}
	return fmt.Sprintf("%s = %s ml", a, measure.Number(l.ML, 2)) + tail
}
