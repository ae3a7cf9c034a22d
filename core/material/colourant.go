package material

import (
	"fmt"
	"math"

	"cloudburst/core/colour"
)

// Movement says whether a colour stays where it was poured.
type Movement string

// The movements: a pigment stays put, a dye moves through the plastic in the days after the pour.
const (
	Stays  Movement = "stays"
	Bleeds Movement = "bleeds"
)

// DefaultDropML is a drop from a bottle whose drops nobody has counted.
const DefaultDropML = 0.05

// Colourant is a liquid colour, dosed by the drop.
type Colourant struct {
	DropML     Value           `json:"dropML" doc:"Volume of one drop, ml"`
	DensityGML Value           `json:"densityGML" doc:"g/ml"`
	Movement   Movement        `json:"movement" enum:"stays,bleeds"`
	UsualDrops [2]float64      `json:"usualDrops" doc:"From and to, drops per US cup of plastisol"`
	Optics     ColourantOptics `json:"optics"`
}

// ColourantOptics are the coefficients that 1 ml of the colourant adds to a litre of mix:
//
//	k = flat + Σ height·exp(−((λ−centre)/width)²/2), s = scatter·(550/λ)^power, all 1/mm
type ColourantOptics struct {
	Origin       Origin  `json:"origin" enum:"typical,maker,measured"`
	FlatPerMM    float64 `json:"flatPerMM" doc:"Absorption at every wavelength, 1/mm at 1 ml per litre"`
	Absorbs      []Band  `json:"absorbs" nullable:"false" maxItems:"12"`
	ScatterPerMM float64 `json:"scatterPerMM" doc:"Scatter at 550 nm, 1/mm at 1 ml per litre"`
	ScatterPower float64 `json:"scatterPower" doc:"How scatter rises towards blue: (550/λ)^power"`
}

// Band is one absorption band, a Gaussian over wavelength.
type Band struct {
	CentreNM    float64 `json:"centreNM"`
	WidthNM     float64 `json:"widthNM" doc:"Standard deviation, nm"`
	HeightPerMM float64 `json:"heightPerMM" doc:"1/mm at 1 ml per litre"`
}

// Coefficients gives what 1 ml of colourant in a litre of mix adds to K and S, 1/mm.
func (c *Colourant) Coefficients() (k, s colour.Spectrum) {
	o := c.Optics
	for b := range k {
		nm := colour.NM(b)
		k[b] = o.FlatPerMM
		for _, band := range o.Absorbs {
			z := (nm - band.CentreNM) / band.WidthNM
			k[b] += band.HeightPerMM * math.Exp(-z*z/2)
		}
		s[b] = o.ScatterPerMM * math.Pow(550/nm, o.ScatterPower)
	}
	return k, s
}

func (c *Colourant) check() error {
	if c.Movement != Stays && c.Movement != Bleeds {
		return fmt.Errorf("colourant.movement: %q is neither stays (a pigment) nor bleeds (a dye)", c.Movement)
	}
	o := c.Optics
	if len(o.Absorbs) > 12 {
		return fmt.Errorf("colourant.optics.absorbs: %d bands; at most 12 are taken", len(o.Absorbs))
	}
	for i, band := range o.Absorbs {
		at := fmt.Sprintf("colourant.optics.absorbs[%d]", i)
		if err := firstOf(
			inRange(at+".centreNM", band.CentreNM, 200, 1000),
			inRange(at+".widthNM", band.WidthNM, 2, 500),
			inRange(at+".heightPerMM", band.HeightPerMM, 0, 100),
		); err != nil {
			return err
		}
	}
	return firstOf(
		c.DropML.within("colourant.dropML", 0.005, 0.5),
		c.DensityGML.within("colourant.densityGML", 0.5, 3),
		Value{0, o.Origin}.within("colourant.optics", 0, 0),
		inRange("colourant.usualDrops[0]", c.UsualDrops[0], 0, 500),
		inRange("colourant.usualDrops[1]", c.UsualDrops[1], c.UsualDrops[0], 500),
		inRange("colourant.optics.flatPerMM", o.FlatPerMM, 0, 100),
		inRange("colourant.optics.scatterPerMM", o.ScatterPerMM, 0, 100),
		inRange("colourant.optics.scatterPower", o.ScatterPower, -4, 6),
	)
}
