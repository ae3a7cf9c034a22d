package recipe

import (
	"fmt"
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// Scaled is a cup worked out for another volume, in whole drops and owned spoons.
type Scaled struct {
	From     measure.Volume `json:"from"`
	To       measure.Volume `json:"to"`
	Ratio    float64        `json:"ratio"`
	Lines    []ScaledLine   `json:"lines" nullable:"false"`
	DeltaE00 float64        `json:"deltaE00" doc:"Colour error of all that is taken together"`
	Nearness string         `json:"nearness"`
	Cup      Cup            `json:"cup" doc:"The cup to pour: the new volume with what to take"`
}

// ScaledLine is one material at the new volume.
type ScaledLine struct {
	Material string         `json:"material"`
	Was      measure.Amount `json:"was" doc:"At the old volume"`
	Exact    measure.Amount `json:"exact" doc:"At the new volume, unrounded"`
	Half     bool           `json:"half" doc:"Exactly between two drops"`
	Down     Rounding       `json:"down"`
	Up       Rounding       `json:"up"`
	Take     measure.Amount `json:"take"`
	Scoops   string         `json:"scoops,omitempty" doc:"Which spoons, how often"`
	Fewer    string         `json:"fewer,omitempty" doc:"Fewer scoops, within 5 %"`
	Why      string         `json:"why"`
	Working  string         `json:"working"`
}

// Rounding is one way to round a line, with the colour error it brings while all other lines are exact.
type Rounding struct {
	Amount   measure.Amount `json:"amount"`
	Says     string         `json:"says"`
	DeltaE00 float64        `json:"deltaE00"`
}

// seen is the least ΔE00 by which one rounding must beat the other before colour overrules the nearest.
const seen = 1.0

// Scale gives the cup in another volume of plastisol. The exact amount comes first. Then what can be measured: whole
// drops to the nearest, an exact half rounds down (one can add, not take out); spoons from the owned set by the least
// error; unless the eye would see that the other side is closer. What each side costs in colour is shown, seen as `at`
// says.
func Scale(c *Cup, shelf Shelf, kit measure.Kit, to measure.Volume, at Condition) (*Scaled, error) {
	if err := to.Check(); err != nil {
		return nil, &Fault{Field: "volume", Says: err.Error()}
	}
	if err := at.Check(); err != nil {
		return nil, err
	}
	now, err := Stir(c, shelf)
	if err != nil {
		return nil, err
	}
	wanted := now.Colour(at)
	out := &Scaled{From: c.Volume, To: to, Ratio: to.ML / c.Volume.ML, Lines: make([]ScaledLine, len(c.Doses))}
	exact := *c
	exact.Volume, exact.Doses = to, make([]Dose, len(c.Doses))
	for i, d := range c.Doses {
		a := d.Amount.Times(out.Ratio)
		exact.Doses[i] = Dose{d.Material, a.String(), a}
	}
	off := func(i int, a measure.Amount) (Rounding, error) {
		if a == exact.Doses[i].Amount {
			return Rounding{a, a.String(), 0}, nil
		}
		try := exact
		try.Doses = append([]Dose(nil), exact.Doses...)
		try.Doses[i].Amount = a
		m, err := Stir(&try, shelf)
		if err != nil {
			return Rounding{}, err
		}
		return Rounding{a, a.String(), colour.DeltaE00(wanted, m.Colour(at))}, nil
	}
	out.Cup = exact
	out.Cup.Doses = make([]Dose, len(c.Doses))
	for i, d := range exact.Doses {
		bottle := shelf[d.Material]
		line := ScaledLine{Material: d.Material, Was: c.Doses[i].Amount, Exact: d.Amount}
		down, up := line.round(&bottle, kit)
		if line.Down, err = off(i, down); err != nil {
			return nil, err
		}
		if line.Up, err = off(i, up); err != nil {
			return nil, err
		}
		line.take()
		line.Working = fmt.Sprintf("%s × %s ÷ %s = %s", line.Was, to, c.Volume, line.Exact)
		if line.Take.Unit == measure.InTeaspoons && line.Take.Value < measure.TeaspoonsPerCup/4 {
			best, few := kit.Round(line.Take.Value)
			line.Scoops = best.String()
			if few != nil && few.Scoops < best.Scoops {
				line.Fewer = fmt.Sprintf("%s, off by %s %%", few, measure.Number(100*few.ErrorTSP/line.Exact.Value, 1))
			}
		}
		out.Lines[i] = line
		out.Cup.Doses[i] = Dose{d.Material, line.Take.String(), line.Take}
	}
	taken, err := Stir(&out.Cup, shelf)
	if err != nil {
		return nil, err
	}
	out.DeltaE00 = colour.DeltaE00(wanted, taken.Colour(at))
	out.Nearness = colour.Nearness(out.DeltaE00)
	return out, nil
}

// round gives what can be measured just below and just above the exact amount; the same twice where it comes out even.
func (l *ScaledLine) round(bottle *material.Material, kit measure.Kit) (down, up measure.Amount) {
	set := func(v float64) measure.Amount { return measure.Amount{Value: v, Unit: l.Exact.Unit} }
	v := l.Exact.Value
	switch l.Exact.Unit {
	case measure.InDrops:
		return set(math.Floor(v)), set(math.Ceil(v))
	case measure.InTeaspoons:
		if len(kit.SpoonsTSP) == 0 || v > measure.TeaspoonsPerCup/4 { // by the cup: measured, not scooped
			return set(v), set(v)
		}
		// The nearest that the spoons give, and the nearest on its other side: a smallest spoon away.
		best, _ := kit.Round(v)
		near, step := best.TSP, kit.SmallestTSP()
		switch {
		case math.Abs(near-v) < 1e-9:
			return set(near), set(near)
		case near < v:
			other, _ := kit.Round(max(near+step, v))
			if other.TSP <= v {
				other.TSP = near + step
			}
			return set(near), set(other.TSP)
		default:
			other, _ := kit.Round(min(near-step, v))
			if other.TSP >= v {
				other.TSP = max(0, near-step)
			}
			return set(max(0, other.TSP)), set(near)
		}
	}
	return set(v), set(v) // grams and millilitres are weighed and drawn up as they come
}

// take decides which way to round, and says why.
func (l *ScaledLine) take() {
	if l.Down.Amount == l.Up.Amount {
		l.Take, l.Why = l.Down.Amount, "comes out even"
		return
	}
	near, other := l.Down, l.Up
	if l.Exact.Unit == measure.InDrops {
		nearest, half := measure.WholeDrops(l.Exact.Value)
		l.Half = half
		if nearest == l.Up.Amount.Value {
			near, other = l.Up, l.Down
		}
	} else if math.Abs(l.Up.Amount.Value-l.Exact.Value) < math.Abs(l.Down.Amount.Value-l.Exact.Value)-1e-12 {
		near, other = l.Up, l.Down
	}
	l.Take = near.Amount
	switch {
	case near.DeltaE00 > other.DeltaE00+seen:
		l.Take = other.Amount
		l.Why = fmt.Sprintf("%s is as near or nearer, but %s is closer to the eye", near.Says, other.Says)
	case l.Half:
		l.Why = "an exact half rounds down: you can add, not take out"
	case l.Exact.Unit == measure.InDrops:
		l.Why = "the nearest whole drop"
	default:
		l.Why = "the nearest that your spoons give"
	}
	if l.Take.Value == 0 && l.Exact.Value > 0 {
		l.Why = "less than can be measured: this volume is too small for it. Pour more, or cut the bottle first"
	}
}
