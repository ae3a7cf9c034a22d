package learn

import (
	"fmt"
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/fit"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// How a chip of a powder is read: thin and thick, face-on and tilted, since it is its film that makes its hue.
var (
	PowderMM    = []float64{1.5, 8}
	PowderTilts = []float64{0, 45}
)

// What is thought of a powder beforehand: one standard deviation of the logarithms of its strength, glint and own
// colour, and of its film, nm. From how far powders of one family lie apart; where the film is another order, it is
// looked for from further starts.
const (
	likeStrength = 0.6
	likeGlint    = 0.6
	likeBody     = 0.5
	likeFilmNM   = 25.0
	filmStepNM   = 30.0
	filmStarts   = 2 // to either side
	mostFilmNM   = 2000.0
)

// PowderFound is a powder as its chips have it.
type PowderFound struct {
	material.Material
	Residual float64 // ΔE00 between the chips as they were read and as it has them: root of the mean square
	Expected float64 // the same, if nothing but the readings' own errors were left
}

// PowderLoads recommends two doses for chips of a powder in so much plastisol: the least that is usual, and the most.
func PowderLoads(m *material.Material, volume measure.Volume, kit measure.Kit) (weak, strong measure.Amount) {
	from, to := m.Usual()
	at := func(usual measure.Amount) measure.Amount {
		scoops, _ := kit.Round(usual.Value * volume.ML / measure.CupML)
		return measure.Amount{Value: max(scoops.TSP, kit.SmallestTSP()), Unit: measure.InTeaspoons}
	}
	weak, strong = at(from), at(to)
	if strong.Value <= weak.Value {
		strong.Value = 4 * weak.Value
	}
	return weak, strong
}

// CalibratePowder finds a powder's strength, film, glint and the depth of its own colour from chips of it in a
// plastisol.
func CalibratePowder(m *material.Material, base string, list []Chip, shelf cup.Shelf) (*PowderFound, error) {
	if len(list) < leastChips || len(list) > mostChips {
		return nil, measure.Faulty(
			"chips", "read from %d to %d chips: two loads, thin and thick, face-on and tilted, are best", leastChips,
			mostChips,
		)
	}
	for i, c := range list {
		if !(c.PerLitre >= leastPer && c.PerLitre <= mostPL) {
			return nil, measure.Faulty(
				fmt.Sprintf("chips[%d]", i), "a load from %g to %g g a litre is accepted", leastPer, mostPL,
			)
		}
	}
	p := &powder{of: m, base: base, list: list, shelf: shelf}
	best := math.Inf(1)
	var found []float64
	for k := -filmStarts; k <= filmStarts; k++ {
		x := []float64{0, float64(k) * filmStepNM, 0, 0}
		least := fit.Least{Rounds: 60, Gain: 1e-6}
		if sum := least.Find(p, x, 3*len(list)+len(x)); sum < best {
			best, found = sum, append([]float64{}, x...)
		}
	}
	if p.err != nil {
		return nil, p.err
	}
	out := &PowderFound{Material: p.with(found)}
	labs, err := p.labs(&out.Material)
	if err != nil {
		return nil, err
	}
	for i, c := range list {
		d := colour.DeltaE00(labs[i], c.Lab)
		n := math.Sqrt(3) * max(leastOff, c.Off)
		out.Residual, out.Expected = out.Residual+d*d/float64(len(list)), out.Expected+n*n/float64(len(list))
	}
	out.Residual, out.Expected = math.Sqrt(out.Residual), math.Sqrt(out.Expected)
	return out, out.Check()
}

// powder is a powder that is looked for. Parameters: the logarithm of its strength, its film in nm, the logarithms of
// its glint and of its own colour's depth, each beside what it was.
type powder struct {
	of    *material.Material
	base  string
	list  []Chip
	shelf cup.Shelf
	err   error
}

// with is the powder of some parameters.
func (f *powder) with(x []float64) material.Material {
	m := *f.of
	p := *m.Powder
	if p.Label == nil {
		was := p.Optics
		p.Label = &was
	}
	o := &p.Optics
	o.StrengthPerMM *= math.Exp(x[0])
	o.Film.ThicknessNM = min(mostFilmNM, max(0, o.Film.ThicknessNM+x[1]))
	o.Glint *= math.Exp(x[2])
	o.Absorbs = append([]material.Band{}, o.Absorbs...)
	for i := range o.Absorbs {
		o.Absorbs[i].HeightPerMM *= math.Exp(x[3])
	}
	o.Origin = material.Measured
	p.Learned = nil
	m.Powder = &p
	return m
}

// labs are the chips as a powder has them.
func (f *powder) labs(m *material.Material) ([]colour.Lab, error) {
	shelf := cup.Shelf{f.base: f.shelf[f.base], m.UID: *m}
	mixed := map[float64]*mix.Mix{}
	out := make([]colour.Lab, len(f.list))
	for i, c := range f.list {
		one, ok := mixed[c.PerLitre]
		if !ok {
			const litre = 1000.0
			// PerLitre is of the finished mix: so much less plastisol is in it.
			ml := litre - c.PerLitre/m.DensityGML()
			a := measure.Amount{Value: c.PerLitre, Unit: measure.InGrams}
			var err error
			if one, err = mix.Stir(&cup.Cup{
				Volume: measure.Volume{
					ML: ml, Typed: measure.Number(ml, 1) + " ml",
				}, Plastisol: f.base, Doses: []cup.Dose{{Material: m.UID, Typed: a.String(), Amount: a}},
			}, shelf); err != nil {
				return nil, err
			}
			mixed[c.PerLitre] = one
		}
		out[i] = one.Colour(c.At)
	}
	return out, nil
}

// Look is fit.Model's; its slopes are differences.
func (f *powder) Look(x, r []float64, by [][]float64) bool {
	at := func(x, r []float64) bool {
		m := f.with(x)
		labs, err := f.labs(&m)
		if err != nil {
			f.err = err
			return false
		}
		for i, lab := range labs {
			w := 1 / max(leastOff, f.list[i].Off)
			is := f.list[i].Lab
			r[3*i], r[3*i+1], r[3*i+2] = w*(lab.L-is.L), w*(lab.A-is.A), w*(lab.B-is.B)
		}
		for j, like := range [4]float64{likeStrength, likeFilmNM, likeGlint, likeBody} {
			r[3*len(labs)+j] = x[j] / like
		}
		return true
	}
	x[0], x[2], x[3] = min(4, max(-4, x[0])), min(4, max(-4, x[2])), min(4, max(-4, x[3]))
	if !at(x, r) {
		return false
	}
	if by == nil {
		return true
	}
	moved, there := append([]float64{}, x...), make([]float64, len(r))
	for j, step := range [4]float64{1e-3, 0.05, 1e-3, 1e-3} {
		moved[j] = x[j] + step
		if !at(moved, there) {
			return false
		}
		moved[j] = x[j]
		for i := range r {
			by[j][i] = (there[i] - r[i]) / step
		}
	}
	return true
}

// Says is how well chips of a powder were fitted, in words.
func (f *PowderFound) Says(was *material.Powder) string {
	o, old := f.Powder.Optics, was.Optics
	times := o.StrengthPerMM / old.StrengthPerMM
	says := fmt.Sprintf("%s times as strong as its figures, its film %s nm (%s before), its glint %s (%s). That meets the readings to ΔE00 %s; their own errors make %s of that.",
		measure.Number(times, 2), measure.Number(o.Film.ThicknessNM, 0), measure.Number(old.Film.ThicknessNM, 0),
		measure.Number(o.Glint, 2), measure.Number(old.Glint, 2),
		measure.Number(f.Residual, 1), measure.Number(f.Expected, 1))
	if f.Residual > noisy*f.Expected {
		says += " That is too much: face-on and tilted mixed up, a wrong thickness, or light that glares? Read the worst of them again."
	}
	return says
}
