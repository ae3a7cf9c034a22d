package recipe

import (
	"cmp"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/fit"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// Beside is two bottles at equal strength: which way do they lean?
type Beside struct {
	One      BesideBottle `json:"one"`
	Other    BesideBottle `json:"other"`
	DeltaE00 float64      `json:"deltaE00"`
	Words    string       `json:"words" doc:"How the other leans from the first"`
	Ratio    float64      `json:"ratio" doc:"How many times as much of the other it takes"`
}

// BesideBottle is one of the two.
type BesideBottle struct {
	Material string         `json:"material"`
	Dose     measure.Amount `json:"dose"`
	Says     string         `json:"says"`
	Swatches []mix.Swatch   `json:"swatches" nullable:"false" doc:"At 1, 2, 4, 8 and 16 mm over white"`
}

var besideMM = []float64{1, 2, 4, 8, 16}

// SideBySide puts two colours side by side at equal strength: the other's dose is the one that darkens a body as much
// (or hides a dark ground as much, for what is too pale to darken).
func SideBySide(one, other string, shelf cup.Shelf) (Beside, error) {
	a, ok1 := shelf[one]
	b, ok2 := shelf[other]
	if !ok1 || !ok2 || !a.Colours() || !b.Colours() {
		return Beside{}, measure.Faulty("other", "choose two colours from the shelf")
	}
	plain, _ := mix.Alone(&a, shelf, measure.Amount{Unit: a.Middling().Unit})
	strength := func(m *material.Material, dose measure.Amount) (*mix.Mix, float64) {
		mixed, _ := mix.Alone(m, shelf, dose)
		if mixed == nil {
			return nil, math.Inf(1)
		}
		at := mix.Condition{ThicknessMM: mix.BodyMM, Ground: optics.White, Light: colour.D65}
		white := colour.DeltaE00(mixed.Colour(at), plain.Colour(at))
		at.Ground = optics.Dark
		return mixed, white + colour.DeltaE00(mixed.Colour(at), plain.Colour(at))
	}
	doseA := a.Middling()
	mixA, want := strength(&a, doseA)
	doseB := b.Middling()
	usual := doseB.Value
	octaves := fit.Halve(-8, 8, 50, func(octaves float64) bool {
		doseB.Value = usual * math.Exp2(octaves)
		_, s := strength(&b, doseB)
		return s >= want
	})
	doseB.Value = usual * math.Exp2(octaves)
	mixB, _ := strength(&b, doseB)
	if mixA == nil || mixB == nil {
		return Beside{}, measure.Faulty("other", "these two can't be brought to one strength")
	}
	out := Beside{
		One:   BesideBottle{Material: one, Dose: doseA, Says: doseA.String() + " a cup"},
		Other: BesideBottle{Material: other, Dose: doseB, Says: nearAmount(doseB) + " a cup"},
	}
	for _, mm := range besideMM {
		at := mix.Condition{ThicknessMM: mm, Ground: optics.White, Light: colour.D65}
		out.One.Swatches = append(out.One.Swatches, mix.NewSwatch(mixA.Colour(at)))
		out.Other.Swatches = append(out.Other.Swatches, mix.NewSwatch(mixB.Colour(at)))
	}
	at := mix.Condition{ThicknessMM: mix.BodyMM, Ground: optics.White, Light: colour.D65}
	d := colour.Compare(mixB.Colour(at), mixA.Colour(at))
	out.DeltaE00, out.Words = d.DeltaE00, d.Words
	if doseA.Unit == doseB.Unit {
		out.Ratio = doseB.Value / doseA.Value
	}
	return out, nil
}

func nearAmount(a measure.Amount) string {
	places := 1
	if a.Unit != measure.InDrops {
		places = 3
	}
	return "about " + measure.Number(a.Value, places) + " " + string(a.Unit)
}

// Clarity says how far a colour hides what lies behind it at a usual dose in a body: transparent, half or opaque. It
// goes by scatter, since a strong transparent red lets little light through, too; only what is nearly black counts as
// opaque without it.
func Clarity(m *material.Material, shelf cup.Shelf) string {
	mixed, _ := mix.Alone(m, shelf, m.Middling())
	if mixed == nil {
		return ""
	}
	haze := (colour.EyeMean(&mixed.S) - material.TypicalBase.ScatterPerMM) * mix.BodyMM
	switch {
	case haze > 0.9 || mixed.SeeThrough(mix.BodyMM, cup.Rested) < 0.04:
		return "opaque"
	case haze > 0.25:
		return "half"
	}
	return "transparent"
}

// NamedCup is a cup under its recipe's name.
type NamedCup struct {
	Name string
	Cup  cup.Cup
}

// BaseFor is how a flake stands in a base.
type BaseFor struct {
	Name     string
	Base     mix.Swatch
	DeltaE00 float64
	Words    string
}

// BestBases sorts bases by how much a flake stands out in them, at a usual dose, best first; at most `most`.
func BestBases(flake *material.Material, cups []NamedCup, shelf cup.Shelf, most int) []BaseFor {
	at := mix.Condition{ThicknessMM: mix.BodyMM, Ground: optics.White, Light: colour.D65}
	var out []BaseFor
	for _, c := range cups {
		base := c.Cup
		base.Doses = slices.DeleteFunc(
			slices.Clone(base.Doses), func(d cup.Dose) bool { m := shelf[d.Material]; return m.Flake != nil },
		)
		dose := flake.Middling().Times(base.Volume.ML / measure.CupML)
		base.Doses = append(base.Doses, cup.Dose{Material: flake.UID, Typed: "", Amount: dose})
		mixed, err := mix.Stir(&base, shelf)
		if err != nil {
			continue
		}
		l := mixed.Legibility(at)[0]
		words := l.Words
		if l.Hidden != "" {
			words = l.Hidden
		}
		out = append(out, BaseFor{c.Name, mix.NewSwatch(mixed.Body().Colour(at)), l.DeltaE00, words})
	}
	slices.SortFunc(out, func(a, b BaseFor) int { return cmp.Compare(b.DeltaE00, a.DeltaE00) })
	return out[:min(len(out), most)]
}
