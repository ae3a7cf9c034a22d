package material

import (
	"fmt"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/measure"
)

// Movement says whether a colour stays where it was poured.
type Movement string

// The movements: a pigment stays put, a dye moves through the plastic in the days after the pour.
const (
	Stays  Movement = "stays"
	Bleeds Movement = "bleeds"
)

// UsualRunsMM is how far a dye gets in two weeks that nobody looked at. A starting value.
const UsualRunsMM = 1.6

// DiffusesMM2S is how fast its colour moves through plastic, mm²/s: in a time it gets as far as the root of this by
// the time.
func (c *Colourant) DiffusesMM2S() float64 {
	if c.Movement != Bleeds {
		return 0
	}
	mm := UsualRunsMM
	if c.RunsMM != nil {
		mm = c.RunsMM.Value
	}
	const fortnightS = 14 * 86_400
	return mm * mm / fortnightS
}

// DefaultDropML is a drop from a bottle whose drops nobody has counted.
const DefaultDropML = 0.05

// Colourant is a liquid colour, dosed by the drop.
type Colourant struct {
	DropML     Value           `json:"dropML" doc:"Volume of one drop, ml"`
	DensityGML Value           `json:"densityGML" doc:"g/ml"`
	Movement   Movement        `json:"movement" enum:"stays,bleeds"`
	RunsMM     *Value          `json:"runsMM,omitempty" doc:"A dye: how far it gets into the plastic beside it in two weeks, mm; none: as dyes usually do"`
	UsualDrops [2]float64      `json:"usualDrops" doc:"From and to, drops per US cup of plastisol"`
	Optics     ColourantOptics `json:"optics"`
	Glows      *Fluorescence   `json:"glows,omitempty"`
	Learned    *Learned        `json:"-"` // from batches
	Contains   []Part          `json:"contains,omitempty" maxItems:"8" doc:"An own dilution: what was cut, and how far. The rest is clear"`
}

// Part is one bottle in a dilution of the maker's own.
type Part struct {
	Material string  `json:"material" maxLength:"64" format:"uid" doc:"uid of the bottle"`
	Share    float64 `json:"share" minimum:"0" maximum:"1" doc:"Its share of the volume"`
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
	Curve        *Curve  `json:"curve,omitempty" doc:"As chips of it have it, instead of all that"`
}

// Curve is what 1 ml of a colourant in a litre of mix adds to K and S, 1/mm, band by band from 380 to 730 nm, as chips
// of it have it.
type Curve struct {
	K        []float64 `json:"k" nullable:"false" minItems:"36" maxItems:"36"`
	S        []float64 `json:"s" nullable:"false" minItems:"36" maxItems:"36"`
	Chips    int       `json:"chips" minimum:"1" doc:"Readings that it comes from"`
	Residual float64   `json:"residual" minimum:"0" doc:"ΔE00 between them and what it has them be: root of the mean square"`
}

func (c *Curve) check() error {
	if len(c.K) != colour.Bands || len(c.S) != colour.Bands {
		return fmt.Errorf("colourant.optics.curve: a curve has %d bands", colour.Bands)
	}
	for b := range colour.Bands {
		if err := firstOf(
			inRange(fmt.Sprintf("colourant.optics.curve.k[%d]", b), c.K[b], 0, 500),
			inRange(fmt.Sprintf("colourant.optics.curve.s[%d]", b), c.S[b], 0, 500),
		); err != nil {
			return err
		}
	}
	return firstOf(
		inRange("colourant.optics.curve.chips", float64(c.Chips), 1, 1000),
		inRange("colourant.optics.curve.residual", c.Residual, 0, 100),
	)
}

// Band is one absorption band, a Gaussian over wavelength.
type Band struct {
	CentreNM    float64 `json:"centreNM"`
	WidthNM     float64 `json:"widthNM" doc:"Standard deviation, nm"`
	HeightPerMM float64 `json:"heightPerMM" doc:"1/mm at 1 ml per litre"`
}

// Coefficients gives what 1 ml of colourant in a litre of mix adds to K and S, 1/mm.
func (c *Colourant) Coefficients() (k, s colour.Spectrum) {
	o := &c.Optics
	if o.Curve != nil {
		copy(k[:], o.Curve.K)
		copy(s[:], o.Curve.S)
		c.Learned.apply(&k, &s)
		return k, s
	}
	k = bands(o.Absorbs)
	for b := range k {
		k[b] += o.FlatPerMM
		if o.ScatterPerMM > 0 {
			s[b] = o.ScatterPerMM * math.Pow(550/colour.NM(b), o.ScatterPower)
		}
	}
	c.Learned.apply(&k, &s)
	return k, s
}

// bands sums Gaussian bands.
func bands(list []Band) (out colour.Spectrum) {
	for _, band := range list {
		for b := range out {
			z := (colour.NM(b) - band.CentreNM) / band.WidthNM
			out[b] += band.HeightPerMM * math.Exp(-z*z/2)
		}
	}
	return out
}

func (c *Colourant) check() error {
	if c.Movement != Stays && c.Movement != Bleeds {
		return fmt.Errorf("colourant.movement: %q is neither stays (a pigment) nor bleeds (a dye)", c.Movement)
	}
	o := c.Optics
	if err := checkBands("colourant.optics.absorbs", o.Absorbs); err != nil {
		return err
	}
	if o.Curve != nil {
		if err := o.Curve.check(); err != nil {
			return err
		}
	}
	if c.Glows != nil {
		if err := c.Glows.check(); err != nil {
			return err
		}
	}
	if len(c.Contains) > 8 {
		return fmt.Errorf("colourant.contains: a dilution is made of up to 8 bottles")
	}
	if c.RunsMM != nil {
		if err := c.RunsMM.within("colourant.runsMM", 0.05, 20); err != nil {
			return err
		}
	}
	whole := 0.0
	for i, p := range c.Contains {
		if !ValidUID(p.Material) || !(p.Share > 0 && p.Share <= 1) {
			return fmt.Errorf("colourant.contains[%d]: name a bottle and its share, above 0 and up to 1", i)
		}
		whole += p.Share
	}
	if whole > 1+1e-9 {
		return fmt.Errorf("colourant.contains: the shares come to more than the whole bottle")
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

func checkBands(field string, list []Band) error {
	if len(list) > 12 {
		return fmt.Errorf("%s: %d bands; at most 12 are taken", field, len(list))
	}
	for i, band := range list {
		at := fmt.Sprintf("%s[%d]", field, i)
		if err := firstOf(
			inRange(at+".centreNM", band.CentreNM, 200, 1000),
			inRange(at+".widthNM", band.WidthNM, 2, 500),
			inRange(at+".heightPerMM", band.HeightPerMM, 0, 100),
		); err != nil {
			return err
		}
	}
	return nil
}

// Fluorescence is what a colourant gives back of the light that it takes.
type Fluorescence struct {
	ExciteNM  float64 `json:"exciteNM" doc:"Middle of the band that excites it"`
	ExciteSD  float64 `json:"exciteSD" doc:"Its width, nm (standard deviation)"`
	EmitNM    float64 `json:"emitNM" doc:"Middle of the band that it gives back"`
	EmitSD    float64 `json:"emitSD"`
	Yield     float64 `json:"yield" doc:"Energy given per energy taken, 0..1"`
	TakesPerM float64 `json:"takesPerMM" doc:"Peak absorption that feeds it, 1/mm at 1 ml per litre"`
}

// Glow gives the excitation per ml per litre, and the shape of the emission, which sums to 1.
func (f *Fluorescence) Glow() (takes, gives colour.Spectrum) {
	takes = bands([]Band{{f.ExciteNM, f.ExciteSD, f.TakesPerM}})
	gives = bands([]Band{{f.EmitNM, f.EmitSD, 1}})
	sum := 0.0
	for _, v := range gives {
		sum += v
	}
	for b := range gives {
		gives[b] /= sum
	}
	return takes, gives
}

func (f *Fluorescence) check() error {
	return firstOf(
		inRange(
			"colourant.glows.exciteNM", f.ExciteNM, 380, 700,
		), inRange("colourant.glows.exciteSD", f.ExciteSD, 5, 100),
		inRange(
			"colourant.glows.emitNM", f.EmitNM, f.ExciteNM, 730,
		), inRange("colourant.glows.emitSD", f.EmitSD, 5, 100),
		inRange("colourant.glows.yield", f.Yield, 0, 1), inRange("colourant.glows.takesPerMM", f.TakesPerM, 0, 100),
	)
}

func (*Colourant) kind() Kind        { return KindColourant }
func (c *Colourant) origin() *Origin { return &c.Optics.Origin }
func (c *Colourant) bands() *[]Band  { return &c.Optics.Absorbs }

func (c *Colourant) copyTo(m *Material) {
	of := *c
	of.Optics.Absorbs = append([]Band{}, c.Optics.Absorbs...)
	of.Contains = slices.Clone(c.Contains)
	of.RunsMM, of.Glows = again(c.RunsMM), again(c.Glows)
	if of.Optics.Curve = again(c.Optics.Curve); of.Optics.Curve != nil {
		curve := of.Optics.Curve
		curve.K, curve.S = slices.Clone(curve.K), slices.Clone(curve.S)
	}
	m.Colourant = &of
}

func (c *Colourant) dosed() dosing {
	return dosing{
		densityGML: c.DensityGML.Value, bulkGML: c.DensityGML.Value, dropML: c.DropML.Value,
		unit: measure.InDrops, usual: c.UsualDrops,
	}
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
