package recipe

import (
	"maps"
	"math"
	"slices"

	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// offNearest is what a step away from the nearest drop or spoon must earn in ΔE00 to be worth it.
const offNearest = 0.05

// rungs are the amounts that can be measured about an exact one, in order: two on each side, or the one that comes out
// even.
func rungs(exact measure.Amount, kit measure.Kit) []float64 {
	down, up := around(exact, kit)
	if down == up {
		return []float64{down.Value}
	}
	step := up.Value - down.Value
	out := []float64{down.Value, up.Value}
	if down.Value > 0 {
		below, _ := around(measure.Amount{Value: max(0, down.Value-0.5*step), Unit: exact.Unit}, kit)
		out = slices.Insert(out, 0, below.Value)
	}
	_, above := around(measure.Amount{Value: up.Value + 0.5*step, Unit: exact.Unit}, kit)
	out = append(out, above.Value)
	slices.Sort(out)
	out = slices.Compact(out)
	if out[0] == 0 && exact.Value >= mostLeftOut*step { // a recipe keeps its bottles
		out = out[1:]
	}
	return out
}

// mostLeftOut is the share of the least step below which a line may be left out.
const mostLeftOut = 0.25

// roundTogether takes the free doses of a cup, exact as they stand, to what can be measured, all of them together: of
// the amounts about each, those that bring the least cost. One line's rounding so makes up for another's. It starts
// from the nearest of each line and goes on while one line, or two at once, can be moved for the better.
func roundTogether(c *cup.Cup, free []int, kit measure.Kit, cost func() (float64, error)) error {
	type line struct {
		values      []float64
		at, nearest int
	}
	lines := make([]line, len(free))
	set := func(j, at int) {
		l := &lines[j]
		l.at = at
		d := &c.Doses[free[j]]
		d.Amount = measure.Amount{Value: l.values[at], Unit: d.Amount.Unit}
	}
	for j, i := range free {
		exact := c.Doses[i].Amount
		l := &lines[j]
		l.values = rungs(exact, kit)
		for k, v := range l.values {
			if math.Abs(v-exact.Value) < math.Abs(l.values[l.nearest]-exact.Value)-1e-12 {
				l.nearest = k
			}
		}
		set(j, l.nearest)
	}
	total := func() float64 {
		v, err := cost()
		if err != nil {
			return math.Inf(1) // more than a cup takes
		}
		for _, l := range lines {
			v += offNearest * math.Abs(float64(l.at-l.nearest))
		}
		return v
	}
	best := total()
	for range 20 {
		before := best
		var move [][2]int
		try := func(steps ...[2]int) {
			was := make([]int, len(steps))
			for n, s := range steps {
				was[n] = lines[s[0]].at
				if to := was[n] + s[1]; to < 0 || to >= len(lines[s[0]].values) {
					return
				}
			}
			for n, s := range steps {
				set(s[0], was[n]+s[1])
			}
			if v := total(); v < best-1e-9 {
				best, move = v, slices.Clone(steps)
			}
			for n, s := range steps {
				set(s[0], was[n])
			}
		}
		for j := range lines {
			for _, by := range []int{-1, 1} {
				try([2]int{j, by})
				for k := j + 1; k < len(lines); k++ {
					try([2]int{j, by}, [2]int{k, -1})
					try([2]int{j, by}, [2]int{k, 1})
				}
			}
		}
		if best >= before {
			break
		}
		for _, s := range move {
			set(s[0], lines[s[0]].at+s[1])
		}
	}
	for _, i := range free {
		c.Doses[i].Typed = c.Doses[i].Amount.String()
	}
	_, err := cost()
	return err
}

// around gives what can be measured just below and just above an exact amount; the same twice where it comes out even.
func around(exact measure.Amount, kit measure.Kit) (down, up measure.Amount) {
	set := func(v float64) measure.Amount { return measure.Amount{Value: v, Unit: exact.Unit} }
	v := exact.Value
	switch exact.Unit {
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

// strength is the bottle that a liquid is a cut of, and how much of that is in it; itself, whole, where it is no cut of
// a single one.
func strength(m *material.Material) (of string, share float64) {
	if c := m.Colourant; c != nil && len(c.Contains) == 1 {
		return c.Contains[0].Material, c.Contains[0].Share
	}
	return m.UID, 1
}

// weaker replaces each line of few drops by a weaker cut of the same bottle, as far as the shelf has one, at its exact
// dose. The cut taken is the strongest that comes to sixDrops or more.
func weaker(c *cup.Cup, shelf cup.Shelf) (*cup.Cup, bool) {
	out, changed := *c, false
	out.Doses = slices.Clone(c.Doses)
	for i, d := range c.Doses {
		m := shelf[d.Material]
		if m.Colourant == nil || d.Amount.Unit != measure.InDrops || d.Amount.Value >= sixDrops || d.Amount.Value <= 0 {
			continue
		}
		root, share := strength(&m)
		best, drops := "", 0.0
		for _, uid := range slices.Sorted(maps.Keys(shelf)) {
			cut := shelf[uid]
			r, s := strength(&cut)
			if cut.Colourant == nil || r != root || s >= share || c.AmountOf(uid).Value > 0 {
				continue
			}
			n := d.Amount.Value * m.Colourant.DropML.Value * share / (s * cut.Colourant.DropML.Value)
			better := best == "" || (n >= sixDrops) != (drops >= sixDrops) && n >= sixDrops || n >= sixDrops &&
				n < drops ||
				n < sixDrops && drops < sixDrops && n > drops
			if n > cup.MaxDropsPerCup*c.Volume.ML/measure.CupML || !better {
				continue
			}
			best, drops = uid, n
		}
		if best == "" {
			continue
		}
		out.Doses[i] = cup.Dose{Material: best, Typed: "", Amount: measure.DropCount(drops)}
		changed = true
	}
	return &out, changed
}

// sixDrops and more round to within a twelfth: fewer want a weaker bottle.
const sixDrops = 6.0
