package recipe

import (
	"fmt"
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
)

// Swatch is one colour with what a screen needs to show it.
type Swatch struct {
	Lab colour.Lab `json:"lab"`
	Hex string     `json:"hex" doc:"Nearest sRGB colour of the same hue and lightness"`
}

// NewSwatch makes a swatch of a Lab colour.
func NewSwatch(lab colour.Lab) Swatch { return Swatch{lab, lab.SRGB().Hex()} }

// Look is what a cup is predicted to look like at one thickness.
type Look struct {
	ThicknessMM float64            `json:"thicknessMM"`
	Ground      optics.Ground      `json:"ground" enum:"white,dark,grey,against"`
	Light       colour.Light       `json:"light"`
	Swatch      Swatch             `json:"swatch"`
	SeeThrough  float64            `json:"seeThrough" doc:"Share of light that comes through, 0..1, as the eye weighs it"`
	Against     *colour.Difference `json:"against,omitempty" doc:"How it stands to the target, where there is one"`
	Sure        string             `json:"sure" doc:"How far the figure can be trusted, and what would make it surer"`
	Watch       []string           `json:"watch" nullable:"false" doc:"What to look out for"`
	FinishedML  float64            `json:"finishedML"`
	Lines       []Line             `json:"lines" nullable:"false"`
}

// LookAt predicts the cup's colour under a condition and compares it with the cup's target.
func LookAt(c *Cup, m *Mix, shelf Shelf, at Condition) (Look, error) {
	if err := at.Check(); err != nil {
		return Look{}, err
	}
	piece := m.At(at.ThicknessMM)
	seen := at.Ground.See(&piece)
	lab := at.Light.Lab(&seen)
	l := Look{
		ThicknessMM: at.ThicknessMM, Ground: at.Ground, Light: at.Light, Swatch: NewSwatch(lab),
		SeeThrough: at.Light.Luminous(&piece.Through), Sure: sure(c, shelf), Watch: watch(c, m, shelf),
		FinishedML: m.FinishedML, Lines: m.Lines,
	}
	if c.Target != nil {
		d := colour.Compare(lab, c.Target.Lab)
		l.Against = &d
	}
	return l, nil
}

func sure(c *Cup, shelf Shelf) string {
	typical := 0
	for _, d := range c.Doses {
		if shelf[d.Material].Colourant.Optics.Origin == material.Typical {
			typical++
		}
	}
	switch {
	case typical == 0 && len(c.Doses) > 0:
		return "From measured bottles."
	case typical == len(c.Doses):
		return "An estimate: typical values, no bottle measured yet."
	default:
		return fmt.Sprintf("An estimate: %d of %d bottles have typical values only.", typical, len(c.Doses))
	}
}

// watch lists what a maker should know before dripping on.
func watch(c *Cup, m *Mix, shelf Shelf) []string {
	out := []string{}
	liquid := 0.0
	for i, d := range c.Doses {
		bottle := shelf[d.Material]
		liquid += m.Lines[i].ML
		perCup := d.Drops * measure.CupML / c.Volume.ML
		if most := bottle.Colourant.UsualDrops[1]; most > 0 && perCup > 10*most {
			out = append(out, fmt.Sprintf("%s: %s drops a cup is over ten times its usual %s. Meant so?",
				bottle.Name, measure.Number(perCup, 0), measure.Number(most, 0)))
		}
		if bottle.Colourant.Movement == material.Bleeds && d.Drops > 0 {
			out = append(out, fmt.Sprintf("%s is a dye: it bleeds. Within days it evens out and runs into a layer beside it.", bottle.Name))
		}
	}
	if share := liquid / m.FinishedML; share > 0.05 {
		out = append(out, fmt.Sprintf("%s %% of this cup is colourant: it will come out softer and may not set well.", measure.Number(100*share, 0)))
	}
	return out
}

// Usual is what a material looks like by itself: a usual dose in a cup of typical plastisol, as a body over white.
func Usual(m *material.Material) (Swatch, string) {
	const self, base = "self", "base"
	shelf := Shelf{self: *m, base: {Plastisol: &material.Plastisol{Optics: material.TypicalBase}}}
	c := Cup{Volume: measure.Volume{Typed: "1 cup", ML: measure.CupML}, Plastisol: base}
	dose := "clear"
	if m.Plastisol != nil {
		c.Plastisol = self
	} else {
		usual := m.Colourant.UsualDrops
		drops := math.Round(math.Sqrt(max(usual[0], 1) * max(usual[1], 1)))
		c.Doses = []Dose{{self, "", drops}}
		dose = measure.Drops(drops) + " a cup"
	}
	mix, err := Stir(&c, shelf)
	if err != nil { // a stored material is sound; a usual dose of it fits a cup
		return Swatch{}, ""
	}
	return NewSwatch(mix.Colour(Condition{bodyMM, optics.White, colour.D65})), dose
}

// bodyMM is the thickness of an ordinary bait's body.
const bodyMM = 8
