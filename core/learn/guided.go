package learn

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/fit"
	"cloudburst/core/match"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/recipe"
)

// Guide is how a chip is poured and read: two loads, four thicknesses, over white and over dark.
var (
	ChipMM      = []float64{0.5, 1.5, 4, 12}
	ChipGrounds = []optics.Ground{optics.White, optics.Dark}
)

// Poured is a chip cup: a bottle's dose in so much plastisol, and what was read of it.
type Poured struct {
	Volume measure.Volume
	Dose   measure.Amount
	Read   []recipe.PartReading
	Tilts  []float64 // degrees, of each reading; none for face-on
}

// How much light the two loads of a chip are to let through where they are 4 mm thick: the strong one shows what the
// thin steps are like, the weak one the thick ones.
const (
	throughMM  = 4.0
	weakLets   = 0.60
	strongLets = 0.15
)

// Loads recommends two doses for chips of a bottle in so much plastisol, the weak one first, in steps that can be
// measured. strength is how many times as strong as its figures a first drop test has it; 1 for none.
func Loads(
	m *material.Material, base string, volume measure.Volume, strength float64, shelf cup.Shelf,
) (weak, strong measure.Amount, err error) {
	none := measure.Amount{}
	if m.Colourant == nil {
		return none, none, measure.Faulty("material", "chips of liquid colours are measured")
	}
	if !(strength >= 0.1 && strength <= 10) {
		return none, none, measure.Faulty(
			"first", "that is no drop of this bottle: it would be %s times as strong as it says",
			measure.Number(strength, 2),
		)
	}
	one := m.Taught(&material.Learned{LnStrength: math.Log(strength)})
	with := cup.Shelf{m.UID: one, base: shelf[base]}
	for _, p := range m.Colourant.Contains {
		with[p.Material] = shelf[p.Material]
	}
	lets := func(drops float64) float64 {
		mixed, err := mix.Stir(
			&cup.Cup{Volume: volume, Plastisol: base, Doses: []cup.Dose{cup.DripOf(m.UID, drops)}}, with,
		)
		if err != nil {
			return 0
		}
		return mixed.SeeThrough(throughMM, cup.Rested)
	}
	most := math.Floor(cup.MaxDropsPerCup * volume.ML / measure.CupML)
	if most < 2 {
		return none, none, measure.Faulty("volume", "take more plastisol: so little takes no two loads")
	}
	clear := lets(0)
	at := func(share float64) float64 {
		return math.Round(fit.Halve(0, most, 40, func(drops float64) bool { return lets(drops) <= share*clear }))
	}
	low, high := max(1, at(weakLets)), max(1, at(strongLets))
	if high < 3 { // in whole drops it would be the same cup twice
		return none, none, measure.Faulty(
			"volume", "a drop is too much for so little: take %s or more, or a dilution of it",
			roundVolume(volume.ML*3/high),
		)
	}
	if low >= high {
		low = max(1, math.Round(high/4))
	}
	return measure.DropCount(low), measure.DropCount(high), nil
}

func roundVolume(ml float64) string { return measure.Number(10*math.Ceil(ml/10), 0) + " ml" }

// FirstDrop says how many times as strong as its figures a bottle is, by one reading of a first chip.
func FirstDrop(m *material.Material, base string, p *Poured, shelf cup.Shelf) (float64, error) {
	if len(p.Read) == 0 {
		return 1, nil
	}
	r := &p.Read[0]
	if err := r.Check(); err != nil {
		return 0, err
	}
	off := func(strength float64) float64 {
		with := cup.Shelf{m.UID: m.Taught(&material.Learned{LnStrength: math.Log(strength)}), base: shelf[base]}
		mixed, err := mix.Stir(
			&cup.Cup{Volume: p.Volume, Plastisol: base, Doses: []cup.Dose{{Material: m.UID, Amount: p.Dose}}}, with,
		)
		if err != nil {
			return math.Inf(1)
		}
		return colour.DeltaE00(mixed.Colour(r.At()), r.Lab)
	}
	best, at := math.Inf(1), 1.0
	const steps = 80
	for i := range steps + 1 {
		strength := math.Exp(math.Log(10) * (2*float64(i)/steps - 1))
		if d := off(strength); d < best {
			best, at = d, strength
		}
	}
	return at, nil
}

// ChipsOf are poured chips in numbers.
func ChipsOf(m *material.Material, base string, poured []Poured, shelf cup.Shelf) ([]Chip, error) {
	var out []Chip
	for i := range poured {
		p := &poured[i]
		c := cup.Cup{
			Volume: p.Volume, Plastisol: base, Doses: []cup.Dose{{
				Material: m.UID, Typed: p.Dose.String(), Amount: p.Dose,
			}},
		}
		mixed, err := mix.Stir(&c, shelf)
		if err != nil {
			return nil, err
		}
		for k := range p.Read {
			r := &p.Read[k]
			if err := r.Check(); err != nil {
				return nil, err
			}
			one := Chip{PerLitre: mixed.Lines[0].PerLitre, Lab: r.Lab, At: r.At(), Off: r.How.Off()}
			if k < len(p.Tilts) {
				one.At.TiltDeg = p.Tilts[k]
			}
			out = append(out, one)
		}
	}
	return out, nil
}

// Curve is what chips have found, as a bottle keeps it.
func (c *Curves) Curve(chips int) *material.Curve {
	return &material.Curve{
		K: append([]float64{}, c.K[:]...), S: append([]float64{}, c.S[:]...), Chips: chips, Residual: c.Residual,
	}
}

// noisy is by how much the residual may exceed what the readings' own errors make of it.
const noisy = 1.6

// Says is how well chips were fitted, in words.
func (c *Curves) Says() string {
	says := fmt.Sprintf(
		"The curve meets the readings to ΔE00 %s; their own errors make %s of that.", measure.Number(c.Residual, 1),
		measure.Number(c.Expected, 1),
	)
	if c.Residual > noisy*c.Expected {
		says += " That is too much: a wrong thickness, two loads mixed up, or bad light? Read the worst of them again."
	}
	switch {
	case c.Dropped:
		says += " It does not look like its family, so its family's shape was left aside."
	case c.Family:
		says += " The shape of its family fits, and steadies it."
	}
	return says
}

// CalibrateBase finds a plastisol's haze, yellow and grey from readings of clear chips of it.
func CalibrateBase(was *material.Plastisol, read []recipe.PartReading) (*material.Plastisol, float64, error) {
	if len(read) < leastChips || len(read) > mostChips {
		return nil, 0, measure.Faulty(
			"chips", "read at least %d chips: two thicknesses, over white and over dark", leastChips,
		)
	}
	f := &base{decay: was.Optics.YellowDecayNM}
	for i := range read {
		r := &read[i]
		if err := r.Check(); err != nil {
			return nil, 0, err
		}
		f.list = append(f.list, Chip{Lab: r.Lab, At: r.At(), Off: r.How.Off()})
		f.views = append(f.views, match.NewView(r.ThicknessMM, r.Ground, colour.D65))
	}
	for b := range colour.Bands {
		f.yellow[b] = math.Exp(-(colour.NM(b) - 380) / f.decay)
	}
	o := was.Optics
	x := []float64{
		math.Log(max(1e-5, o.FloorPerMM)), math.Log(max(1e-5, o.YellowPerMM)), math.Log(max(1e-5, o.ScatterPerMM)),
	}
	f.like = append([]float64{}, x...)
	least := fit.Least{Rounds: 80, Gain: 1e-6}
	least.Find(f, x, 3*len(f.list)+len(x))
	is := *was
	is.Optics.FloorPerMM, is.Optics.YellowPerMM, is.Optics.ScatterPerMM = math.Exp(x[0]), math.Exp(x[1]), math.Exp(x[2])
	is.Optics.Origin = material.Measured
	k, s := is.Coefficients()
	sum := 0.0
	for i, v := range f.views {
		d := colour.DeltaE00(v.Lab(&match.Coefficients{K: k, S: s}, nil), f.list[i].Lab)
		sum += d * d / float64(len(f.views))
	}
	return &is, math.Sqrt(sum), nil
}

// base is a plastisol that is looked for; its figures' logarithms are the parameters: grey, yellow, haze.
type base struct {
	list   []Chip
	views  []*match.View
	yellow colour.Spectrum
	decay  float64
	like   []float64
}

// anyBase is how far a plastisol may lie from what is usual: one standard deviation of the logarithm.
const anyBase = 2.0

// Look is fit.Model's.
func (f *base) Look(x, r []float64, by [][]float64) bool {
	var sum match.Coefficients
	parts := make([]match.Coefficients, len(x))
	refs := make([]*match.Coefficients, len(x))
	for j := range x {
		x[j] = max(-14, min(2, x[j]))
		refs[j] = &parts[j]
	}
	for b := range sum.K {
		parts[0].K[b], parts[1].K[b], parts[2].S[b] = math.Exp(x[0]), math.Exp(x[1])*f.yellow[b], math.Exp(x[2])
		sum.K[b], sum.S[b] = parts[0].K[b]+parts[1].K[b], parts[2].S[b]
	}
	slopes := make([]match.Gradient, len(x))
	for j := range by {
		clear(by[j])
	}
	for n := range f.list {
		w := 1 / max(leastOff, f.list[n].Off)
		lab := f.views[n].Slope(&sum, refs, slopes, nil, nil)
		is := f.list[n].Lab
		r[3*n], r[3*n+1], r[3*n+2] = w*(lab.L-is.L), w*(lab.A-is.A), w*(lab.B-is.B)
		for j := range by {
			for ch := range 3 {
				by[j][3*n+ch] = w * slopes[j][ch]
			}
		}
	}
	for j := range x {
		at := 3*len(f.list) + j
		r[at] = (x[j] - f.like[j]) / anyBase
		if by != nil {
			by[j][at] = 1 / anyBase
		}
	}
	return true
}

// ParseLab reads L, a and b as typed: "41.5 3 18.2", "L 41,5 a 3 b 18,2".
func ParseLab(typed string) (colour.Lab, error) {
	words := strings.FieldsFunc(typed, func(r rune) bool { return strings.ContainsRune(" \t;LabAB*=:", r) })
	var v [3]float64
	if len(words) != len(v) {
		return colour.Lab{}, fmt.Errorf("%q are no L, a and b; type them like 41.5 3 18.2", typed)
	}
	for i, w := range words {
		n, err := strconv.ParseFloat(strings.ReplaceAll(w, ",", "."), 64)
		if err != nil {
			return colour.Lab{}, fmt.Errorf("%q are no L, a and b; type them like 41.5 3 18.2", typed)
		}
		v[i] = n
	}
	return colour.Lab{L: v[0], A: v[1], B: v[2]}, nil
}
