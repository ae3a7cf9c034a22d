package recipe

import (
	"fmt"
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/measure"
)

// Scaled is a cup worked out for another volume, in whole drops.
type Scaled struct {
	From     measure.Volume `json:"from"`
	To       measure.Volume `json:"to"`
	Ratio    float64        `json:"ratio"`
	Lines    []ScaledLine   `json:"lines" nullable:"false"`
	DeltaE00 float64        `json:"deltaE00" doc:"Colour error of all the taken drops together"`
	Nearness string         `json:"nearness"`
	Cup      Cup            `json:"cup" doc:"The cup to pour: the new volume with the drops to take"`
}

// ScaledLine is one colourant at the new volume.
type ScaledLine struct {
	Material string   `json:"material"`
	Was      float64  `json:"was" doc:"Drops at the old volume"`
	Exact    float64  `json:"exact" doc:"Drops at the new volume, unrounded"`
	Half     bool     `json:"half" doc:"Exactly between two drops"`
	Down     Rounding `json:"down"`
	Up       Rounding `json:"up"`
	Take     float64  `json:"take" doc:"Drops to take"`
	Why      string   `json:"why"`
	Working  string   `json:"working"`
}

// Rounding is one way to round a line, with the colour error it brings while all other lines are exact.
type Rounding struct {
	Drops    float64 `json:"drops"`
	DeltaE00 float64 `json:"deltaE00"`
}

// seen is the least ΔE00 by which one rounding must beat the other before colour overrules the nearest drop.
const seen = 1.0

// Scale gives the cup in another volume of plastisol. The exact amount comes first. Then whole drops: the
// nearest, and an exact half rounds down (one can add, not take out), unless the eye would see that the
// other side is closer; what that costs in colour is shown for both sides, seen as `at` says.
func Scale(c *Cup, shelf Shelf, to measure.Volume, at Condition) (*Scaled, error) {
	if err := to.Check(); err != nil {
		return nil, &Fault{"volume", err.Error()}
	}
	if err := at.Check(); err != nil {
		return nil, err
	}
	now, err := Stir(c, shelf)
	if err != nil {
		return nil, err
	}
	wanted := now.Colour(at)
	ratio := to.ML / c.Volume.ML
	exact := Cup{Volume: to, Plastisol: c.Plastisol, Doses: make([]Dose, len(c.Doses)), Target: c.Target}
	for i, d := range c.Doses {
		drops := d.Drops * ratio
		if n := math.Round(drops); math.Abs(drops-n) < 1e-9 { // 1/3 cup three times is one cup
			drops = n
		}
		exact.Doses[i] = Dose{d.Material, measure.Drops(drops), drops}
	}
	out := &Scaled{From: c.Volume, To: to, Ratio: ratio, Lines: make([]ScaledLine, len(c.Doses))}
	off := func(i int, drops float64) (Rounding, error) {
		try := exact
		try.Doses = append([]Dose(nil), exact.Doses...)
		try.Doses[i].Drops = drops
		m, err := Stir(&try, shelf)
		if err != nil {
			return Rounding{}, err
		}
		return Rounding{drops, colour.DeltaE00(wanted, m.Colour(at))}, nil
	}
	out.Cup = exact
	out.Cup.Doses = make([]Dose, len(c.Doses))
	for i, d := range exact.Doses {
		line := ScaledLine{Material: d.Material, Was: c.Doses[i].Drops, Exact: d.Drops}
		if line.Down, err = off(i, math.Floor(d.Drops)); err != nil {
			return nil, err
		}
		if line.Up, err = off(i, math.Ceil(d.Drops)); err != nil {
			return nil, err
		}
		line.take()
		line.Working = fmt.Sprintf("%s × %s ÷ %s = %s", measure.Drops(line.Was), to, c.Volume, measure.Drops(line.Exact))
		out.Lines[i] = line
		out.Cup.Doses[i] = Dose{d.Material, measure.Drops(line.Take), line.Take}
	}
	taken, err := Stir(&out.Cup, shelf)
	if err != nil {
		return nil, err
	}
	out.DeltaE00 = colour.DeltaE00(wanted, taken.Colour(at))
	out.Nearness = colour.Nearness(out.DeltaE00)
	return out, nil
}

// take decides which way to round, and says why.
func (l *ScaledLine) take() {
	if l.Down.Drops == l.Up.Drops {
		l.Take, l.Why = l.Down.Drops, "comes out even"
		return
	}
	nearest, half := measure.WholeDrops(l.Exact)
	l.Take, l.Half = nearest, half
	near, other := l.Down, l.Up
	if nearest == l.Up.Drops {
		near, other = l.Up, l.Down
	}
	switch {
	case near.DeltaE00 > other.DeltaE00+seen:
		l.Take = other.Drops
		l.Why = fmt.Sprintf("%s is as near in drops or nearer, but %s is closer to the eye", measure.Number(near.Drops, 0), measure.Number(other.Drops, 0))
	case half:
		l.Why = "an exact half rounds down: you can add, not take out"
	default:
		l.Why = "the nearest whole drop"
	}
	if l.Take == 0 && l.Exact > 0 {
		l.Why = "less than a drop: this volume is too small for it. Pour more, or cut the bottle first"
	}
}
