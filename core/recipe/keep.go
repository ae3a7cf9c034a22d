package recipe

import (
	"fmt"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/fit"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// keepLook solves the free doses of a cup for the look of another, then rounds them to what can be measured, all
// together. Where that comes no closer than the cup as it was tried, its doses are left as they are.
func keepLook(was, try *cup.Cup, free []int, looks []kept, shelf cup.Shelf, kit measure.Kit) (*Swapped, error) {
	before, err := mix.Stir(was, shelf)
	if err != nil {
		return nil, err
	}
	var wanted []colour.Lab
	out := &Swapped{Changes: []string{}, Lost: []string{}, Flake: []SwapFlake{}}
	for _, l := range looks {
		lab := before.Colour(l.was)
		wanted = append(wanted, lab)
		out.Before = append(out.Before, SwapPatch{l.name, mix.NewSwatch(lab)})
	}
	off := func() (float64, error) {
		m, err := mix.Stir(try, shelf)
		if err != nil {
			return 0, err
		}
		sum, n := 0.0, 0.0
		for i, l := range looks {
			if !l.free {
				sum, n = sum+colour.DeltaE00(m.Colour(l.is), wanted[i]), n+1
			}
		}
		return sum / n, nil
	}
	untouched := slices.Clone(try.Doses)
	held := math.Inf(1)
	if !slices.ContainsFunc(free, func(i int) bool { return try.Doses[i] != doseOf(was, try.Doses[i].Material) }) {
		if held, err = off(); err != nil {
			return nil, err
		}
	}
	if err := solve(try, free, looks, wanted, shelf); err != nil {
		return nil, err
	}
	if err := polish(try, free, shelf, off); err != nil {
		return nil, err
	}
	if err := roundTogether(try, free, kit, off); err != nil {
		return nil, err
	}
	solved, err := off()
	if err != nil {
		return nil, err
	}
	if len(free) > 0 && solved > held-enough {
		copy(try.Doses, untouched)
		if held >= 1 {
			out.Hold = "Hold the colours as they are: no other doses come visibly closer."
		}
	}
	after, err := mix.Stir(try, shelf)
	if err != nil {
		return nil, err
	}
	for i, l := range looks {
		lab := after.Colour(l.is)
		d := colour.Compare(lab, wanted[i])
		out.DeltaE00 += d.DeltaE00 / float64(len(looks))
		out.After = append(out.After, SwapPatch{l.name, mix.NewSwatch(lab)})
		if d.DeltaE00 > 2 {
			out.Lost = append(
				out.Lost, fmt.Sprintf("%s: %s (ΔE00 %s)", l.name, d.Words, measure.Number(d.DeltaE00, 1)),
			)
		}
	}
	out.Lost = append(out.Lost, lostWith(was, try, before, after, looks, shelf)...)
	out.Cup, out.Nearness, out.Changes = *try, colour.Nearness(out.DeltaE00), cup.Changed(was, try, shelf)
	return out, nil
}

// lostWith says what else a swap loses: light that came through, what stays where it lies, the usual dose.
func lostWith(was, try *cup.Cup, before, after *mix.Mix, looks []kept, shelf cup.Shelf) (lost []string) {
	body := looks[len(looks)-1] // a body against the light, in every list
	if a, b := before.SeeThrough(
		body.was.ThicknessMM, cup.Rested,
	), after.SeeThrough(body.is.ThicknessMM, cup.Rested); math.Abs(a-b) > 0.05 {
		lost = append(
			lost, fmt.Sprintf(
				"see-through: %s %% instead of %s %%", measure.Number(100*b, 0), measure.Number(100*a, 0),
			),
		)
	}
	for _, d := range try.Doses {
		b := shelf[d.Material]
		was := was.AmountOf(d.Material)
		if b.Runs() && was.Value == 0 {
			lost = append(lost, b.Name+" bleeds, and what it stands for may not")
		}
		if over := cup.OverUsual(&b, d.Amount, try.Volume.ML); b.Colours() && over > 1.001 &&
			d.Amount.Value > was.Value {
			_, usual := b.Usual()
			lost = append(
				lost, fmt.Sprintf(
					"%s: %s is more than the usual %s a cup; less of it comes out paler", b.Name, d.Amount, usual,
				),
			)
		}
	}
	return lost
}

func doseOf(c *cup.Cup, uid string) cup.Dose {
	for _, d := range c.Doses {
		if d.Material == uid {
			return d
		}
	}
	return cup.Dose{}
}

// measurable rounds doses to what can be dripped and spooned, each by itself.
func measurable(c *cup.Cup, free []int, kit measure.Kit) {
	for _, i := range free {
		d := &c.Doses[i]
		down, up := around(d.Amount, kit)
		near := down
		if up.Value-d.Amount.Value < d.Amount.Value-down.Value {
			near = up
		}
		d.Amount = near
		d.Typed = d.Amount.String()
	}
}

// mostDose is the most of a material that a swap puts in: its usual dose, or what was in already.
func mostDose(d cup.Dose, m *material.Material, volumeML float64) float64 {
	_, usual := m.Usual()
	most := d.Amount.Value
	if usual.Unit == d.Amount.Unit && usual.Value > 0 {
		most = max(most, 2*usual.Value*volumeML/measure.CupML)
	}
	return max(most, 1e-6)
}

// polish goes on from a solution in the eye's own measure, dose by dose, in steps that get finer.
func polish(c *cup.Cup, free []int, shelf cup.Shelf, cost func() (float64, error)) error {
	best, err := cost()
	if err != nil {
		return err
	}
	most := make([]float64, len(free))
	for n, i := range free {
		m := shelf[c.Doses[i].Material]
		most[n] = mostDose(c.Doses[i], &m, c.Volume.ML)
	}
	for _, by := range []float64{1.4, 1.15, 1.05} {
		for range 6 {
			before := best
			for n, i := range free {
				d := &c.Doses[i]
				was := d.Amount.Value
				keep := was
				for _, v := range []float64{min(was*by, most[n]), was / by} {
					d.Amount.Value = v
					if got, err := cost(); err == nil && got < best-1e-9 {
						best, keep = got, v
					}
				}
				d.Amount.Value = keep
			}
			if best > before-0.01 {
				break
			}
		}
	}
	return nil
}

// solve moves the free doses, none below zero, until the cup looks as wanted in every look: the least of Lab with
// chroma weighed down as the eye does.
func solve(c *cup.Cup, free []int, looks []kept, wanted []colour.Lab, shelf cup.Shelf) error {
	if len(free) == 0 {
		return nil
	}
	var failed error
	x, even, most := make([]float64, len(free)), make([]float64, len(free)), make([]float64, len(free))
	for j, i := range free {
		m := shelf[c.Doses[i].Material]
		x[j] = c.Doses[i].Amount.Value
		most[j] = mostDose(c.Doses[i], &m, c.Volume.ML)
		even[j] = max(m.Middling().Times(c.Volume.ML/measure.CupML).Value, 1e-6) / 10
	}
	residuals := func(x, r []float64) bool {
		for j, i := range free {
			c.Doses[i].Amount.Value = x[j]
		}
		m, err := mix.Stir(c, shelf)
		if err != nil { // more than a cup takes
			failed = err
			return false
		}
		n := 0
		for i, l := range looks {
			if l.free {
				continue
			}
			lab, w := m.Colour(l.is), wanted[i]
			sc := 1 + 0.045*w.Chroma()
			r[n], r[n+1], r[n+2] = lab.L-w.L, (lab.A-w.A)/sc, (lab.B-w.B)/sc
			n += 3
		}
		return true
	}
	rows := 0
	for _, l := range looks {
		if !l.free {
			rows += 3
		}
	}
	least := fit.Least{Gain: 1e-6, Even: even, Most: most}
	step := func(j int, x float64) float64 { return 1e-3 * max(x, even[j]) }
	if math.IsInf(least.Find(fit.Differences{Residuals: residuals, Step: step}, x, rows), 1) {
		return failed
	}
	for j, i := range free {
		c.Doses[i].Amount.Value = x[j]
	}
	return nil
}
