package material

import (
	"fmt"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/measure"
)

// Plastisol is the liquid vinyl that every cup begins with.
type Plastisol struct {
	Grade      string     `json:"grade" enum:"soft,medium,firm"`
	DensityGML Value      `json:"densityGML" doc:"g/ml, cold"`
	Optics     BaseOptics `json:"optics"`
}

// BaseOptics are the coefficients of fused, rested plastisol:
//
//	K = floor + yellow·exp(−(λ−380)/decay), S = scatter, all 1/mm
type BaseOptics struct {
	Origin        Origin  `json:"origin" enum:"typical,maker,measured"`
	FloorPerMM    float64 `json:"floorPerMM" doc:"Absorption at every wavelength, 1/mm"`
	YellowPerMM   float64 `json:"yellowPerMM" doc:"Extra absorption at 380 nm, 1/mm"`
	YellowDecayNM float64 `json:"yellowDecayNM" doc:"How fast the extra falls with wavelength, nm"`
	ScatterPerMM  float64 `json:"scatterPerMM" doc:"Haze, 1/mm"`
}

// TypicalBase are starting values for a jug that nobody has measured: a little yellow and a little hazy.
var TypicalBase = BaseOptics{Typical, 0.002, 0.004, 40, 0.004}

// Coefficients gives K and S of the plastisol alone, 1/mm.
func (p *Plastisol) Coefficients() (k, s colour.Spectrum) {
	o := p.Optics
	for b := range k {
		k[b] = o.FloorPerMM + o.YellowPerMM*math.Exp(-(colour.NM(b)-380)/o.YellowDecayNM)
		s[b] = o.ScatterPerMM
	}
	return k, s
}

func (p *Plastisol) check() error {
	if !slices.Contains([]string{"soft", "medium", "firm"}, p.Grade) {
		return fmt.Errorf("plastisol.grade: %q is none of soft, medium, firm", p.Grade)
	}
	o := p.Optics
	return firstOf(
		p.DensityGML.within("plastisol.densityGML", 0.8, 1.5),
		Value{0, o.Origin}.within("plastisol.optics", 0, 0),
		inRange("plastisol.optics.floorPerMM", o.FloorPerMM, 0, 1),
		inRange("plastisol.optics.yellowPerMM", o.YellowPerMM, 0, 1),
		inRange("plastisol.optics.yellowDecayNM", o.YellowDecayNM, 1, 1000),
		inRange("plastisol.optics.scatterPerMM", o.ScatterPerMM, 0, 10),
	)
}

// Hand is the grade on a scale of the hand: 0 runs through the fingers, 10 is a boot sole.
func (p *Plastisol) Hand() float64 {
	return map[string]float64{"soft": 3, "medium": 5, "firm": 7.5}[p.Grade]
}

func (*Plastisol) kind() Kind           { return KindPlastisol }
func (p *Plastisol) origin() *Origin    { return &p.Optics.Origin }
func (*Plastisol) bands() *[]Band       { return nil }
func (p *Plastisol) copyTo(m *Material) { c := *p; m.Plastisol = &c }

func (p *Plastisol) dosed() dosing {
	return dosing{densityGML: p.DensityGML.Value, bulkGML: p.DensityGML.Value, dropML: DefaultDropML, unit: measure.InML}
}

func (p *Plastisol) list(l *listing) {
	l.own("densityGML", "Density, cold", "g/ml", &p.DensityGML, "")
	l.look("scatterPerMM", "Haze", "1/mm", &p.Optics.ScatterPerMM, "How hazy it is of itself")
	l.look("yellowPerMM", "Yellow", "1/mm", &p.Optics.YellowPerMM, "Absorption at 380 nm; ageing raises it")
	l.look("floorPerMM", "Grey", "1/mm", &p.Optics.FloorPerMM, "Absorption at every wavelength")
}
