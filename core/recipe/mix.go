package recipe

import (
	"fmt"

	"cloudburst/core/colour"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
)

// Mix is a cup worked out: its finished volume and what it does to light.
type Mix struct {
	FinishedML float64
	K, S       colour.Spectrum // 1/mm
	Lines      []Line
}

// Line is one dose worked out, with its sum in words.
type Line struct {
	Material   string  `json:"material"`
	ML         float64 `json:"ml"`
	MLPerLitre float64 `json:"mlPerLitre" doc:"Millilitres per litre of finished volume"`
	Working    string  `json:"working" doc:"The sum behind the figure, in the maker's units"`
}

// Stir works a cup out. Everything is reckoned per litre of the finished volume, plastisol and colourants
// together, so that doses dilute each other as they do in the cup. Coefficients add up: K = K_base + Σ c·k.
func Stir(c *Cup, shelf Shelf) (*Mix, error) {
	if err := c.Check(shelf); err != nil {
		return nil, err
	}
	m := &Mix{FinishedML: c.Volume.ML, Lines: make([]Line, len(c.Doses))}
	for i, d := range c.Doses {
		m.Lines[i].ML = d.Drops * shelf[d.Material].Colourant.DropML.Value
		m.FinishedML += m.Lines[i].ML
	}
	base := shelf[c.Plastisol]
	m.K, m.S = base.Plastisol.Coefficients()
	plain := c.Volume.ML / m.FinishedML
	for b := range m.K {
		m.K[b] *= plain
		m.S[b] *= plain
	}
	for i, d := range c.Doses {
		bottle := shelf[d.Material]
		line := &m.Lines[i]
		line.Material = d.Material
		line.MLPerLitre = 1000 * line.ML / m.FinishedML
		line.Working = fmt.Sprintf("%s × %s ml = %s ml in %s ml finished: %s ml per litre",
			measure.Drops(d.Drops), measure.Number(bottle.Colourant.DropML.Value, 3), measure.Number(line.ML, 3),
			measure.Number(m.FinishedML, 1), measure.Number(line.MLPerLitre, 3))
		k, s := bottle.Colourant.Coefficients()
		for b := range k {
			m.K[b] += line.MLPerLitre * k[b]
			m.S[b] += line.MLPerLitre * s[b]
		}
	}
	return m, nil
}

// At is an even piece of the mix, that thick, in air.
func (m *Mix) At(thicknessMM float64) optics.Piece {
	st := optics.Pile(optics.Layer{K: m.K, S: m.S, ThicknessMM: thicknessMM})
	return optics.InAir.Enclose(&st)
}

// Colour of the mix at a thickness, over a ground, in a light.
func (m *Mix) Colour(at Condition) colour.Lab {
	piece := m.At(at.ThicknessMM)
	seen := at.Ground.See(&piece)
	return at.Light.Lab(&seen)
}

// Condition says how a mix is looked at.
type Condition struct {
	ThicknessMM float64
	Ground      optics.Ground
	Light       colour.Light
}

// Check says what is wrong with a condition.
func (at Condition) Check() error {
	if err := checkThickness("thickness", at.ThicknessMM); err != nil {
		return err
	}
	if _, err := optics.ParseGround(string(at.Ground)); err != nil {
		return &Fault{"ground", err.Error()}
	}
	if _, err := colour.ParseLight(string(at.Light)); err != nil {
		return &Fault{"light", err.Error()}
	}
	return nil
}
