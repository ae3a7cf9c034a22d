package recipe

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// Scaled is a cup worked out for another volume, in whole drops and owned spoons.
type Scaled struct {
	From     measure.Volume `json:"from"`
	To       measure.Volume `json:"to"`
	Ratio    float64        `json:"ratio"`
	Lines    []ScaledLine   `json:"lines" nullable:"false"`
	DeltaE00 float64        `json:"deltaE00" doc:"Colour error of all that is taken together"`
	Nearness string         `json:"nearness"`
	Cup      cup.Cup        `json:"cup" doc:"The cup to pour: the new volume with what to take, line by line"`
	Together *Rounded       `json:"together,omitempty" doc:"All lines rounded together, where that comes closer"`
	Weaker   *Rounded       `json:"weaker,omitempty" doc:"With weaker cuts of its bottles, where the shelf has them and that comes closer"`
	Advice   string         `json:"advice,omitempty" doc:"What to do where no way to round comes close"`
	Even     []EvenVolume   `json:"even" nullable:"false" doc:"Volumes near by at which every line comes out even"`
}

// Rounds is a way to round the lines of a scaled cup.
type Rounds string

// The ways: each line by itself, all together, together and with weaker cuts.
const (
	RoundLines    Rounds = "lines"
	RoundTogether Rounds = "together"
	RoundWeaker   Rounds = "weaker"
)

// By is the cup rounded in one of the ways; the nearest to it, where that one comes no closer.
func (s *Scaled) By(way Rounds) *cup.Cup {
	switch {
	case way == RoundWeaker && s.Weaker != nil:
		return &s.Weaker.Cup
	case way != RoundLines && s.Together != nil:
		return &s.Together.Cup
	}
	return &s.Cup
}

// Rounded is another way to round a cup.
type Rounded struct {
	DeltaE00 float64 `json:"deltaE00"`
	Nearness string  `json:"nearness"`
	Says     string  `json:"says" doc:"What it does otherwise than line by line"`
	Cup      cup.Cup `json:"cup"`
}

// EvenVolume is a volume at which every line of a recipe can be measured as it is.
type EvenVolume struct {
	Volume measure.Volume `json:"volume"`
	Says   string         `json:"says"`
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
func Scale(c *cup.Cup, shelf cup.Shelf, kit measure.Kit, to measure.Volume, at mix.Condition) (*Scaled, error) {
	if err := to.Check(); err != nil {
		return nil, &measure.Fault{Field: "volume", Says: err.Error()}
	}
	if err := at.Check(); err != nil {
		return nil, err
	}
	now, err := mix.Stir(c, shelf)
	if err != nil {
		return nil, err
	}
	wanted := now.Colour(at)
	out := &Scaled{From: c.Volume, To: to, Ratio: to.ML / c.Volume.ML, Lines: make([]ScaledLine, len(c.Doses))}
	exact := *c
	exact.Volume, exact.Doses = to, make([]cup.Dose, len(c.Doses))
	for i, d := range c.Doses {
		a := d.Amount.Times(out.Ratio)
		exact.Doses[i] = cup.Dose{Material: d.Material, Typed: a.String(), Amount: a}
	}
	out.Cup = exact
	out.Cup.Doses = make([]cup.Dose, len(c.Doses))
	for i := range exact.Doses {
		if out.Lines[i], err = scaledLine(c, &exact, i, wanted, at, shelf, kit); err != nil {
			return nil, err
		}
		take := out.Lines[i].Take
		out.Cup.Doses[i] = cup.Dose{Material: exact.Doses[i].Material, Typed: take.String(), Amount: take}
	}
	taken, err := mix.Stir(&out.Cup, shelf)
	if err != nil {
		return nil, err
	}
	out.DeltaE00 = colour.DeltaE00(wanted, taken.Colour(at))
	out.Nearness = colour.Nearness(out.DeltaE00)
	out.Even = []EvenVolume{}
	if out.DeltaE00 < enough {
		return out, nil
	}
	return out, out.others(&exact, wanted, at, shelf, kit)
}

// scaledLine brings one line to the other volume, and looks at what rounding it down or up by itself does.
func scaledLine(
	c, exact *cup.Cup, i int, wanted colour.Lab, at mix.Condition, shelf cup.Shelf, kit measure.Kit,
) (ScaledLine, error) {
	off := func(a measure.Amount) (Rounding, error) {
		if a == exact.Doses[i].Amount {
			return Rounding{a, a.String(), 0}, nil
		}
		try := *exact
		try.Doses = slices.Clone(exact.Doses)
		try.Doses[i].Amount = a
		m, err := mix.Stir(&try, shelf)
		if err != nil {
			return Rounding{}, err
		}
		return Rounding{a, a.String(), colour.DeltaE00(wanted, m.Colour(at))}, nil
	}
	line := ScaledLine{Material: exact.Doses[i].Material, Was: c.Doses[i].Amount, Exact: exact.Doses[i].Amount}
	down, up := around(line.Exact, kit)
	var err error
	if line.Down, err = off(down); err != nil {
		return line, err
	}
	if line.Up, err = off(up); err != nil {
		return line, err
	}
	line.take()
	line.Working = fmt.Sprintf("%s × %s ÷ %s = %s", line.Was, exact.Volume, c.Volume, line.Exact)
	if line.Take.Unit == measure.InTeaspoons && line.Take.Value < measure.TeaspoonsPerCup/4 {
		best, few := kit.Round(line.Take.Value)
		line.Scoops = best.String()
		if few != nil && few.Scoops < best.Scoops {
			line.Fewer = fmt.Sprintf("%s, off by %s %%", few, measure.Number(100*few.ErrorTSP/line.Exact.Value, 1))
		}
	}
	return line, nil
}

// others are the ways that come closer than line by line: all lines together, weaker cuts, a volume near by; and what
// to do where none does.
func (out *Scaled) others(
	exact *cup.Cup, wanted colour.Lab, at mix.Condition, shelf cup.Shelf, kit measure.Kit,
) (err error) {
	if out.Together, err = together(exact, wanted, at, shelf, kit, out.DeltaE00); err != nil {
		return err
	}
	best := out.DeltaE00
	if out.Together != nil {
		best = out.Together.DeltaE00
		out.Together.Says = "Taken together: " + strings.Join(otherwise(&out.Cup, &out.Together.Cup, shelf), ", ")
	}
	if cut, ok := weaker(exact, shelf); ok {
		if out.Weaker, err = together(cut, wanted, at, shelf, kit, best); err != nil {
			return err
		}
		if out.Weaker != nil {
			out.Weaker.Says = "With weaker cuts: " + strings.Join(otherwise(&out.Cup, &out.Weaker.Cup, shelf), ", ")
		}
	}
	out.Even = evenVolumes(exact, out.To, kit)
	if out.Weaker != nil {
		best = out.Weaker.DeltaE00
	}
	if best > 2 {
		worst := slices.MaxFunc(out.Lines, func(a, b ScaledLine) int {
			return cmp.Compare(min(a.Down.DeltaE00, a.Up.DeltaE00), min(b.Down.DeltaE00, b.Up.DeltaE00))
		})
		m := shelf[worst.Material]
		out.Advice = "Too little to measure truly at this volume: pour more"
		if m.Colourant != nil {
			out.Advice += ", or make a weaker cut of " + m.Name + " first"
		}
	}
	return nil
}

// enough is the ΔE00 that no eye sees, and the least by which another way to round must be closer to be shown.
const enough = 0.3

// together rounds the colours of a cup together; nil where that does not come closer than it is already. Flake and
// additives are rounded line by line: they are there for more than their colour.
func together(
	exact *cup.Cup, wanted colour.Lab, at mix.Condition, shelf cup.Shelf, kit measure.Kit, than float64,
) (*Rounded, error) {
	r := &Rounded{Cup: *exact}
	r.Cup.Doses = slices.Clone(exact.Doses)
	var colours []int
	for i := range r.Cup.Doses {
		d := &r.Cup.Doses[i]
		if m := shelf[d.Material]; m.Colourant != nil || m.Powder != nil {
			colours = append(colours, i)
			continue
		}
		down, up := around(d.Amount, kit)
		a := down
		if up.Value-d.Amount.Value < d.Amount.Value-down.Value {
			a = up
		}
		d.Amount, d.Typed = a, a.String()
	}
	err := roundTogether(&r.Cup, colours, kit, func() (float64, error) {
		m, err := mix.Stir(&r.Cup, shelf)
		if err != nil {
			return 0, err
		}
		r.DeltaE00 = colour.DeltaE00(wanted, m.Colour(at))
		return r.DeltaE00, nil
	})
	if err != nil || r.DeltaE00 > than-enough {
		return nil, err
	}
	r.Nearness = colour.Nearness(r.DeltaE00)
	return r, nil
}

// otherwise says where one cup's doses differ from another's.
func otherwise(line, other *cup.Cup, shelf cup.Shelf) []string {
	var out []string
	for i, d := range other.Doses {
		switch was := line.Doses[i]; {
		case was.Material != d.Material:
			out = append(
				out, fmt.Sprintf("%s of %s in place of %s", d.Amount, shelf[d.Material].Name, shelf[was.Material].Name),
			)
		case was.Amount != d.Amount:
			out = append(out, fmt.Sprintf("%s of %s, not %s", d.Amount, shelf[d.Material].Name, was.Amount))
		}
	}
	return out
}

// How far off a whole drop or a spoon an amount is still called even, as a share of it.
const evenWithin = 0.01

// evenVolumes looks for handy volumes near the wanted one at which every line is whole: the nearest below, and above.
func evenVolumes(c *cup.Cup, to measure.Volume, kit measure.Kit) []EvenVolume {
	out := []EvenVolume{}
	for _, side := range [][]measure.Volume{to.HandyBelow(), to.HandyAbove()} {
		for _, v := range side {
			even := true
			for _, d := range c.Doses {
				exact := d.Amount.Times(v.ML / c.Volume.ML)
				down, up := around(exact, kit)
				if off := min(exact.Value-down.Value, up.Value-exact.Value); off > evenWithin*exact.Value {
					even = false
					break
				}
			}
			if even {
				out = append(out, EvenVolume{v, "At " + v.Typed + " every line is whole"})
				break
			}
		}
	}
	return out
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
