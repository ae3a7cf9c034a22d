package material

import (
	"fmt"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
)

// Finish says how the face of a piece looks.
type Finish string

// The finishes.
const (
	Plain       Finish = "plain"       // matte, one colour
	Metallic    Finish = "metallic"    // a coloured mirror
	Holographic Finish = "holographic" // each piece its own hue by tilt
	ClearFilm   Finish = "clear"       // mirrors one hue, lets the rest through
	ShiftFilm   Finish = "shift"       // a mirror whose hue moves with the tilt
)

// Finishes lists them.
func Finishes() []Finish { return []Finish{Plain, Metallic, Holographic, ClearFilm, ShiftFilm} }

// Flake is glitter: flat pieces of one size and cut, dosed by spoon.
type Flake struct {
	SizeIn      Value        `json:"sizeIn" doc:"Across the flats, inches"`
	Spread      float64      `json:"spread" doc:"Spread of sizes, as a share of the size"`
	Shape       optics.Shape `json:"shape" enum:"hex,square,irregular"`
	Finish      Finish       `json:"finish" enum:"plain,metallic,holographic,clear,shift"`
	ThicknessMM Value        `json:"thicknessMM"`
	Packing     Value        `json:"packing" doc:"Share of a spoon that is flake, not air"`
	DensityGML  Value        `json:"densityGML" doc:"True density, g/ml"`
	Movement    Movement     `json:"movement" enum:"stays,bleeds" doc:"Whether its dye runs"`
	UsualTSP    [2]float64   `json:"usualTSP" doc:"From and to, tsp per US cup of plastisol"`
	Optics      FlakeOptics  `json:"optics"`
}

// FlakeOptics is the colour of a face: ρ = floor + (top − floor)·exp(−Σ
// height·exp(−((λ−centre)/width)²/2)), or a thin film's where there is one.
type FlakeOptics struct {
	Origin  Origin       `json:"origin" enum:"typical,maker,measured"`
	Floor   float64      `json:"floor" doc:"Reflectance where it absorbs most"`
	Top     float64      `json:"top" doc:"Reflectance where it absorbs nothing"`
	Absorbs []Band       `json:"absorbs" nullable:"false" maxItems:"12" doc:"Heights without unit"`
	Film    *optics.Film `json:"film,omitempty"`
}

// SizeMM is across the flats.
func (f *Flake) SizeMM() float64 { return f.SizeIn.Value * measure.MMPerInch }

// AreaMM2 is the mean area of a face.
func (f *Flake) AreaMM2() float64 { return f.Shape.AreaMM2(f.SizeMM(), f.Spread) }

// BulkGML is what a millilitre of it weighs in the spoon.
func (f *Flake) BulkGML() float64 { return f.DensityGML.Value * f.Packing.Value }

// Pieces is how many pieces weigh that many grams.
func (f *Flake) Pieces(grams float64) float64 {
	return 1000 * grams / f.DensityGML.Value / (f.AreaMM2() * f.ThicknessMM.Value)
}

// Beta is the share of light that a randomly turned face throws back.
func (f *Flake) Beta() float64 {
	if f.Finish == Plain {
		return 2.0 / 3
	}
	return 0.5
}

// SeesThrough says whether light passes a piece.
func (f *Flake) SeesThrough() bool { return f.Finish == ClearFilm }

// Face is the reflectance of a face at an angle inside the plastic.
func (f *Flake) Face(angleDeg float64) colour.Spectrum {
	o := &f.Optics
	if o.Film != nil {
		r := o.Film.Reflects(angleDeg)
		for b := range r {
			r[b] = o.Floor + (o.Top-o.Floor)*r[b]
		}
		return r
	}
	dip := bands(o.Absorbs)
	var rho colour.Spectrum
	for b := range rho {
		rho[b] = o.Floor + (o.Top-o.Floor)*math.Exp(-dip[b])
	}
	return rho
}

// HoloHues is how many hues stand for a holographic piece's many.
const HoloHues = 6

// Hue is the face of a holographic piece turned so that it throws hue i of HoloHues: a bright band on a dim mirror.
func (f *Flake) Hue(i int) colour.Spectrum {
	base := f.Face(0)
	centre := 420 + 250*(float64(i)+0.5)/HoloHues
	for b := range base {
		z := (colour.NM(b) - centre) / 38
		base[b] *= 0.35 + 1.1*math.Exp(-z*z/2)
	}
	return base
}

// Add gives what n pieces per mm³ do to light, as randomly turned pieces at arm's length.
func (f *Flake) Add(nPerMM3 float64) (k, s colour.Spectrum) {
	rho := f.Face(meanTilt)
	k, s = optics.AddFlake(nPerMM3*f.AreaMM2(), f.Beta(), &rho)
	if f.SeesThrough() { // what it does not mirror goes on
		k = colour.Spectrum{}
	}
	return k, s
}

func (f *Flake) check() error {
	o := &f.Optics
	if !slices.Contains([]optics.Shape{optics.Hex, optics.Square, optics.Irregular}, f.Shape) {
		return fmt.Errorf("flake.shape: %q is none of hex, square, irregular", f.Shape)
	}
	if !slices.Contains(Finishes(), f.Finish) {
		return fmt.Errorf("flake.finish: %q is none of plain, metallic, holographic, clear, shift", f.Finish)
	}
	if f.Movement != Stays && f.Movement != Bleeds {
		return fmt.Errorf("flake.movement: %q is neither stays nor bleeds", f.Movement)
	}
	if o.Film != nil {
		if err := checkFilm("flake.optics.film", o.Film); err != nil {
			return err
		}
	}
	if err := checkBands("flake.optics.absorbs", o.Absorbs); err != nil {
		return err
	}
	return firstOf(
		f.SizeIn.within("flake.sizeIn", 0.002, 0.25), inRange("flake.spread", f.Spread, 0, 1),
		f.ThicknessMM.within("flake.thicknessMM", 0.005, 0.5), f.Packing.within("flake.packing", 0.05, 1),
		f.DensityGML.within("flake.densityGML", 0.5, 10), Value{0, o.Origin}.within("flake.optics", 0, 0),
		inRange("flake.usualTSP[0]", f.UsualTSP[0], 0, 100), inRange(
			"flake.usualTSP[1]", f.UsualTSP[1], f.UsualTSP[0], 100,
		),
		inRange("flake.optics.floor", o.Floor, 0, 1), inRange("flake.optics.top", o.Top, o.Floor, 1),
	)
}

func (*Flake) kind() Kind        { return KindFlake }
func (f *Flake) origin() *Origin { return &f.Optics.Origin }
func (f *Flake) bands() *[]Band  { return &f.Optics.Absorbs }

func (f *Flake) copyTo(m *Material) {
	of := *f
	of.Optics.Absorbs = append([]Band{}, f.Optics.Absorbs...)
	of.Optics.Film = again(f.Optics.Film)
	m.Flake = &of
}

func (f *Flake) dosed() dosing {
	return dosing{
		solid: true, densityGML: f.DensityGML.Value, bulkGML: f.BulkGML(), unit: measure.InTeaspoons, usual: f.UsualTSP,
	}
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
