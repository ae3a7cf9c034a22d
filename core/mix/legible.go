package mix

import (
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
)

// Legible says how a flake stands against its base.
type Legible struct {
	Material    string   `json:"material"`
	PiecesTotal float64  `json:"piecesTotal" doc:"In the cup"`
	PerBait     float64  `json:"perBait" doc:"In a usual bait of 6 ml"`
	SeenPerCM2  float64  `json:"seenPerCM2" doc:"Optical weight, with what hides it"`
	CountPerCM2 float64  `json:"countPerCM2" doc:"Pieces that can be told apart"`
	DeltaE00    float64  `json:"deltaE00" doc:"A piece against its base, the mean of its hues"`
	Wish        string   `json:"wish" doc:"sparse, medium or heavy"`
	Hues        []PieceV `json:"hues" nullable:"false"`
	Hidden      string   `json:"hidden,omitempty" doc:"Why it hardly shows"`
	Words       string   `json:"words"`
}

// PieceV is one face of a piece in its base.
type PieceV struct {
	Swatch   Swatch  `json:"swatch" doc:"The piece as it reads through the base above it"`
	DeltaE00 float64 `json:"deltaE00"`
}

// pieces per cm² at which a flake is called medium, and heavy.
const (
	mediumFrom = 4.0
	heavyFrom  = 15.0
)

// Legibility works out every flake of the mix against the base between the pieces, under a condition.
func (m *Mix) Legibility(at Condition) []Legible {
	body := m.Body()
	own := body.Seen(at)
	base := at.Light.Lab(&own)
	sumNA := 0.0
	for _, f := range m.Flakes {
		sumNA += f.PerMM3 * f.Flake.AreaMM2()
	}
	out := []Legible{}
	for _, f := range m.Flakes {
		nA := f.PerMM3 * f.Flake.AreaMM2()
		l := Legible{
			Material: f.Material, PiecesTotal: f.PerMM3 * 1000 * m.FinishedML, PerBait: f.PerMM3 * 1000 * UsualBaitML,
			SeenPerCM2: optics.SeenPerCM2(f.PerMM3, nA, &body.K, &body.S, at.ThicknessMM), Hues: []PieceV{},
		}
		// The mean depth at which pieces are seen.
		depth := l.SeenPerCM2 / (100 * f.PerMM3) / 2
		for _, face := range faces(f.Flake, at.TiltDeg) {
			lab := body.piece(&face, f.Flake, depth, at, &own)
			d := colour.DeltaE00(lab, base)
			l.Hues = append(l.Hues, PieceV{NewSwatch(lab), d})
			l.DeltaE00 += d
		}
		l.DeltaE00 /= float64(len(l.Hues))
		l.CountPerCM2 = optics.CountPerCM2(f.PerMM3, sumNA, body.LegibleDepth(f.Flake, at))
		l.say()
		out = append(out, l)
	}
	return out
}

func (l *Legible) say() {
	switch {
	case l.CountPerCM2 >= heavyFrom:
		l.Wish = "heavy"
	case l.CountPerCM2 >= mediumFrom:
		l.Wish = "medium"
	default:
		l.Wish = "sparse"
	}
	switch {
	case l.DeltaE00 < 5:
		l.Hidden, l.Words = "it has nearly the colour of its base", "lost in a base of its own hue"
	case l.CountPerCM2 < 0.3:
		l.Hidden, l.Words = "the base covers all but the pieces at the skin", "covered by its base"
	case l.DeltaE00 < 12:
		l.Words = "quiet against its base"
	case l.DeltaE00 < 25:
		l.Words = "plain against its base"
	default:
		l.Words = "leads: it shouts against its base"
	}
}

// faces are the hues that a piece shows.
func faces(f *material.Flake, tiltDeg float64) []colour.Spectrum {
	theta := optics.InsidePlastic(tiltDeg)
	switch f.Finish {
	case material.Holographic:
		var out []colour.Spectrum
		for i := range material.HoloHues {
			out = append(out, f.Hue(i))
		}
		return out
	case material.ShiftFilm:
		return []colour.Spectrum{f.Face(theta), f.Face(theta + 20)}
	}
	return []colour.Spectrum{f.Face(theta)}
}

// PieceColours are the colours of each hue of a flake at depths from 0 to deep, through this body.
func (m *Mix) PieceColours(f *material.Flake, at Condition, deep float64, steps int) [][]colour.Lab {
	var out [][]colour.Lab
	own := m.Seen(at)
	for _, face := range faces(f, at.TiltDeg) {
		row := make([]colour.Lab, steps+1)
		for i := range row {
			row[i] = m.piece(&face, f, max(deep*float64(i)/float64(steps), 1e-3), at, &own)
		}
		out = append(out, row)
	}
	return out
}

// piece is the colour of a face seen through `depth` mm of the body over it; what it lets through shows the body
// behind. own is the body's own light.
func (m *Mix) piece(
	face *colour.Spectrum, f *material.Flake, depth float64, at Condition, own *colour.Spectrum,
) colour.Lab {
	behind := *face
	if f.SeesThrough() {
		rest := m.Seen(Condition{
			ThicknessMM: max(
				at.ThicknessMM-depth, cup.MinThicknessMM,
			), Ground: at.Ground, Light: at.Light, State: at.State,
		})
		for b := range behind {
			behind[b] = min(1, face[b]+(1-face[b])*(1-face[b])*rest[b])
		}
	}
	l := m.Layer(depth, at.State)
	st := optics.Pile(l)
	seen := optics.InAir.Joined(&st, &behind)
	// The scatter above blurs a small piece into its base.
	sharp := math.Exp(-2 * colour.EyeMean(&l.S) * depth)
	for b := range seen {
		seen[b] = own[b] + (seen[b]/facePass-own[b])*sharp
	}
	return at.Light.Lab(&seen)
}

// facePass undoes what a joined ground loses at the surface that a bare face would not: (1−k1)(1−k2)/(1−k2) for a
// white.
const facePass = 0.96

// LegibleDepth is the depth to which a piece can be told from the body: where the log ratio of its light, through the
// layer over it, to the body's own has sunk to the least that the eye sees in every band. Scatter above it veils and
// blurs it.
func (m *Mix) LegibleDepth(f *material.Flake, at Condition) float64 {
	face := f.Face(optics.InsidePlastic(at.TiltDeg))
	own := m.Seen(at)
	one := m.Layer(1, at.State)
	return optics.LegibleDepth(&one.K, &one.S, &face, &own, at.ThicknessMM)
}

// DoseFor is the dose of a flake, in tsp for the cup, at which so many pieces per cm² can be told apart; ok is false
// if no sane dose gets there.
func (m *Mix) DoseFor(flake *material.Material, wish string, at Condition) (measure.Amount, bool) {
	want := map[string]float64{
		"sparse": mediumFrom / 3, "medium": math.Sqrt(mediumFrom * heavyFrom), "heavy": heavyFrom * 2,
	}[wish]
	a, ok := m.DosesSeen([]Counted{{flake, want}}, at)
	return a[0], ok && want > 0
}

// Measured is the same in few spoons that the maker has.
func (m *Mix) Measured(flake *material.Material, wish string, kit measure.Kit, at Condition) (measure.Amount, error) {
	dose, ok := m.DoseFor(flake, wish, at)
	if !ok {
		return dose, measure.Faulty(
			"wish", "No dose gets there: this base hides %s. Take a clearer base, or larger flake.", flake.Name,
		)
	}
	best, few := kit.Round(dose.Value)
	if few != nil {
		best = *few
	}
	dose.Value = best.TSP
	return dose, nil
}

// Counted is a flake of which so many pieces were told apart.
type Counted struct {
	Flake  *material.Material
	PerCM2 float64
}

// DosesSeen are the doses, in tsp for the cup, at which so many pieces of each flake per cm² can be told apart in this
// mix, all of them at once, since pieces hide pieces; ok is false if no sane doses get there.
func (m *Mix) DosesSeen(counted []Counted, at Condition) ([]measure.Amount, bool) {
	body := m.Body()
	per, areas, depths := make([]float64, len(counted)), make([]float64, len(counted)), make([]float64, len(counted))
	for i, c := range counted {
		per[i], areas[i], depths[i] = c.PerCM2, c.Flake.Flake.AreaMM2(), body.LegibleDepth(c.Flake.Flake, at)
	}
	perMM3, ok := optics.PerMM3(per, areas, depths)
	out := make([]measure.Amount, len(counted))
	for i, c := range counted {
		f := c.Flake.Flake
		grams := perMM3[i] * 1000 * m.FinishedML * areas[i] * f.ThicknessMM.Value * f.DensityGML.Value / 1000
		a, err := c.Flake.In(measure.InTeaspoons, grams)
		out[i], ok = a, ok && err == nil
	}
	return out, ok
}
