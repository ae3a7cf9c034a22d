package material

import (
	"fmt"
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
)

// PowderType says what a powder does.
type PowderType string

// The powders.
const (
	Pearl        PowderType = "pearl"        // a sheen, silver or coloured
	Interference PowderType = "interference" // one hue back, its complement through
	ColourShift  PowderType = "shift"        // its hue moves with the tilt
)

// Powder is a fine platelet powder, dosed by small spoons.
type Powder struct {
	Type       PowderType    `json:"type" enum:"pearl,interference,shift"`
	BulkGML    Value         `json:"bulkGML" doc:"g per ml as it lies in the spoon"`
	DensityGML Value         `json:"densityGML" doc:"True density, g/ml"`
	UsualTSP   [2]float64    `json:"usualTSP" doc:"From and to, tsp per US cup of plastisol"`
	Optics     PowderOptics  `json:"optics"`
	Label      *PowderOptics `json:"label,omitempty" doc:"Its figures as they were before chips of it were read"`
	Learned    *Learned      `json:"-"` // from batches: its strength
}

// Mirrors is how strongly its platelets hide each other, 1/mm at 1 g per litre.
func (p *Powder) Mirrors() float64 {
	if p.Learned == nil {
		return p.Optics.StrengthPerMM
	}
	return p.Optics.StrengthPerMM * math.Exp(p.Learned.LnStrength)
}

// PowderOptics: platelets coated with a thin film. s = a·R_film at 30°, k = 0 for a coat on mica: what is not
// reflected passes. With a metal core nothing passes: k = a·(1−R). A coloured body absorbs besides.
type PowderOptics struct {
	Origin        Origin      `json:"origin" enum:"typical,maker,measured"`
	Film          optics.Film `json:"film"`
	MetalCore     bool        `json:"metalCore" doc:"Lets nothing through"`
	StrengthPerMM float64     `json:"strengthPerMM" doc:"a: back-scatter of a perfect mirror, 1/mm at 1 g per litre"`
	Glint         float64     `json:"glint" doc:"Brightness along the mirror direction, in directional light"`
	GlintWidthDeg float64     `json:"glintWidthDeg" doc:"How far the glint spreads about face-on, degrees inside the plastic"`
	Absorbs       []Band      `json:"absorbs" nullable:"false" maxItems:"12" doc:"Colour of the platelet itself, 1/mm at 1 g per litre"`
}

// meanTilt is the angle inside the plastic at which randomly turned platelets are met on average.
const meanTilt = 30

// Coefficients gives what 1 g of powder in a litre of mix adds to K and S, 1/mm.
func (p *Powder) Coefficients() (k, s colour.Spectrum) {
	o := &p.Optics
	r := o.Film.Reflects(meanTilt)
	k = bands(o.Absorbs)
	for b := range r {
		s[b] = o.StrengthPerMM * r[b]
		if o.MetalCore {
			k[b] += o.StrengthPerMM * (1 - r[b])
		}
	}
	p.Learned.apply(&k, &s)
	return k, s
}

func (p *Powder) check() error {
	if p.Label != nil {
		was := Powder{
			Type: p.Type, BulkGML: p.BulkGML, DensityGML: p.DensityGML, UsualTSP: p.UsualTSP, Optics: *p.Label,
		}
		if err := was.check(); err != nil {
			return fmt.Errorf("powder.label: %w", err)
		}
	}
	o := &p.Optics
	if p.Type != Pearl && p.Type != Interference && p.Type != ColourShift {
		return fmt.Errorf("powder.type: %q is none of pearl, interference, shift", p.Type)
	}
	if err := checkFilm("powder.optics.film", &o.Film); err != nil {
		return err
	}
	if err := checkBands("powder.optics.absorbs", o.Absorbs); err != nil {
		return err
	}
	return firstOf(
		p.BulkGML.within("powder.bulkGML", 0.02, 5), p.DensityGML.within("powder.densityGML", 0.5, 10),
		Value{0, o.Origin}.within("powder.optics", 0, 0),
		inRange("powder.usualTSP[0]", p.UsualTSP[0], 0, 100), inRange(
			"powder.usualTSP[1]", p.UsualTSP[1], p.UsualTSP[0], 100,
		),
		inRange("powder.optics.strengthPerMM", o.StrengthPerMM, 0, 100),
		inRange("powder.optics.glint", o.Glint, 0, 100), inRange("powder.optics.glintWidthDeg", o.GlintWidthDeg, 1, 90),
	)
}

func checkFilm(field string, f *optics.Film) error {
	return firstOf(
		inRange(field+".index", f.Index, 1, 4), inRange(field+".backIndex", f.BackIndex, 1, 4),
		inRange(
			field+".thicknessNM", f.ThicknessNM, 0, 2000,
		), inRange(field+".r1", f.R1, -1, 1), inRange(field+".r2", f.R2, -1, 1),
	)
}

func (*Powder) kind() Kind        { return KindPowder }
func (p *Powder) origin() *Origin { return &p.Optics.Origin }
func (p *Powder) bands() *[]Band  { return &p.Optics.Absorbs }

func (p *Powder) copyTo(m *Material) {
	of := *p
	of.Optics.Absorbs = append([]Band{}, p.Optics.Absorbs...)
	if of.Label = again(p.Label); of.Label != nil {
		of.Label.Absorbs = append([]Band{}, p.Label.Absorbs...)
	}
	m.Powder = &of
}

func (p *Powder) dosed() dosing {
	return dosing{
		solid: true, densityGML: p.DensityGML.Value, bulkGML: p.BulkGML.Value, unit: measure.InTeaspoons, usual: p.UsualTSP,
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
