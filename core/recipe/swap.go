package recipe

import (
	"fmt"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
)

// Swapped is a cup with one thing changed and its look kept as far as that goes.
type Swapped struct {
	Cup      Cup         `json:"cup"`
	DeltaE00 float64     `json:"deltaE00" doc:"Mean over thin and thick, over white and dark"`
	Nearness string      `json:"nearness"`
	Changes  []string    `json:"changes" nullable:"false" doc:"What changes in the cup, in words"`
	Lost     []string    `json:"lost" nullable:"false" doc:"What can't be kept"`
	Before   []SwapPatch `json:"before" nullable:"false"`
	After    []SwapPatch `json:"after" nullable:"false"`
}

// SwapPatch is the cup in one of the looks that are compared.
type SwapPatch struct {
	Name   string `json:"name"`
	Swatch Swatch `json:"swatch"`
}

// kept is a look that is to be kept: how it was seen, and how it will be. Where free, it is only compared.
type kept struct {
	name    string
	was, is Condition
	free    bool
}

func seenAt(mm float64, g optics.Ground) Condition {
	return Condition{ThicknessMM: mm, Ground: g, Light: colour.D65}
}

// looks are those in which a swap keeps a look: fin and body over white, body over dark and against the light.
func looks() []kept {
	var out []kept
	for _, l := range []struct {
		name string
		mm   float64
		on   optics.Ground
	}{
		{"fin over white", FinMM, optics.White},
		{"body over white", BodyMM, optics.White},
		{"body over dark", BodyMM, optics.Dark},
		{"body against the light", BodyMM, optics.Against},
	} {
		at := seenAt(l.mm, l.on)
		out = append(out, kept{name: l.name, was: at, is: at})
	}
	return out
}

// Thickness is that of a bait's body and of its fins.
type Thickness struct{ BodyMM, FinMM float64 }

// Keep names the part whose look is kept.
type Keep string

// The parts.
const (
	KeepBody Keep = "body"
	KeepFins Keep = "fins"
)

// InAnotherBait solves the colours so that the named part of a bait of another thickness looks as it did in this one; the
// other part is compared, since it can't be kept besides where the two baits' fins and bodies differ in their own ways.
func InAnotherBait(c *Cup, from, to Thickness, keep Keep, shelf Shelf, kit measure.Kit) (*Swapped, error) {
	for _, mm := range []float64{from.BodyMM, from.FinMM, to.BodyMM, to.FinMM} {
		if err := checkThickness("bait", mm); err != nil {
			return nil, err
		}
	}
	type part struct {
		name     string
		from, to float64
	}
	body, fins := part{"body", from.BodyMM, to.BodyMM}, part{"fins", from.FinMM, to.FinMM}
	main, other := body, fins
	if keep == KeepFins {
		main, other = fins, body
	}
	pairs := []kept{{name: other.name + " over white", was: seenAt(other.from, optics.White), is: seenAt(other.to, optics.White), free: true}}
	for _, g := range []optics.Ground{optics.White, optics.Dark, optics.Against} {
		pairs = append(pairs, kept{name: main.name + " " + g.Name(), was: seenAt(main.from, g), is: seenAt(main.to, g)})
	}
	try := *c
	try.Doses = times(c.Doses, main.from/main.to) // half as thick takes about twice as much
	var free []int
	for i, d := range try.Doses {
		if b := shelf[d.Material]; b.Colours() {
			free = append(free, i)
		} else {
			try.Doses[i] = c.Doses[i] // salt and softener go by volume
		}
	}
	return keepLook(c, &try, free, pairs, shelf, kit)
}

// Replace swaps one line for another material. Its dose is solved so that the cup looks as before; the others stay.
func Replace(c *Cup, old, new string, shelf Shelf, kit measure.Kit) (*Swapped, error) {
	at := slices.IndexFunc(c.Doses, func(d Dose) bool { return d.Material == old })
	bottle, ok := shelf[new]
	switch {
	case at < 0:
		return nil, fault("old", "that is not in this cup")
	case !ok || !bottle.Colours():
		return nil, fault("new", "choose a colourant, powder or flake from the shelf")
	case slices.IndexFunc(c.Doses, func(d Dose) bool { return d.Material == new }) >= 0:
		return nil, fault("new", "%s is in this cup already; add to it instead", bottle.Name)
	}
	try := *c
	try.Doses = slices.Clone(c.Doses)
	try.Doses[at] = Dose{new, "", bottle.Middling().Times(c.Volume.ML / measure.CupML)}
	return keepLook(c, &try, []int{at}, looks(), shelf, kit)
}

// LookWith adds an amount of an additive, and lets the colours follow so that the cup looks as before.
func LookWith(c *Cup, uid, typed string, shelf Shelf, kit measure.Kit) (*Swapped, error) {
	m, ok := shelf[uid]
	if !ok || m.Additive == nil {
		return nil, fault("material", "choose an additive from the shelf")
	}
	a, err := kit.ParseDose(typed, m.Form(), c.Volume.ML)
	if err != nil {
		return nil, &Fault{Field: "typed", Says: err.Error()}
	}
	try := *c
	try.Doses = slices.DeleteFunc(slices.Clone(c.Doses), func(d Dose) bool { return d.Material == uid })
	var free []int
	for i, d := range try.Doses {
		if b := shelf[d.Material]; b.Colours() {
			free = append(free, i)
		}
	}
	try.Doses = append(try.Doses, Dose{uid, typed, a})
	return keepLook(c, &try, free, looks(), shelf, kit)
}

// keepLook solves the free doses of a cup for the look of another, then rounds them to what can be measured.
func keepLook(was, try *Cup, free []int, looks []kept, shelf Shelf, kit measure.Kit) (*Swapped, error) {
	before, err := Stir(was, shelf)
	if err != nil {
		return nil, err
	}
	var wanted []colour.Lab
	out := &Swapped{Changes: []string{}, Lost: []string{}}
	for _, l := range looks {
		lab := before.Colour(l.was)
		wanted = append(wanted, lab)
		out.Before = append(out.Before, SwapPatch{l.name, NewSwatch(lab)})
	}
	if err := solve(try, free, looks, wanted, shelf); err != nil {
		return nil, err
	}
	measurable(try, free, kit)
	after, err := Stir(try, shelf)
	if err != nil {
		return nil, err
	}
	for i, l := range looks {
		lab := after.Colour(l.is)
		d := colour.Compare(lab, wanted[i])
		out.DeltaE00 += d.DeltaE00 / float64(len(looks))
		out.After = append(out.After, SwapPatch{l.name, NewSwatch(lab)})
		if d.DeltaE00 > 2 {
			out.Lost = append(out.Lost, fmt.Sprintf("%s: %s (ΔE00 %s)", l.name, d.Words, measure.Number(d.DeltaE00, 1)))
		}
	}
	body := looks[len(looks)-1] // a body against the light, in every list
	if a, b := before.SeeThrough(body.was.ThicknessMM, Rested), after.SeeThrough(body.is.ThicknessMM, Rested); math.Abs(a-b) > 0.05 {
		out.Lost = append(out.Lost, fmt.Sprintf("see-through: %s %% instead of %s %%", measure.Number(100*b, 0), measure.Number(100*a, 0)))
	}
	for _, d := range try.Doses {
		if b := shelf[d.Material]; b.Runs() && amountOf(was, d.Material).Value == 0 {
			out.Lost = append(out.Lost, b.Name+" bleeds, and what it stands for may not")
		}
	}
	out.Cup, out.Nearness, out.Changes = *try, colour.Nearness(out.DeltaE00), Changed(was, try, shelf)
	return out, nil
}

// measurable rounds doses to what can be dripped and spooned.
func measurable(c *Cup, free []int, kit measure.Kit) {
	for _, i := range free {
		d := &c.Doses[i]
		switch d.Amount.Unit {
		case measure.InDrops:
			d.Amount.Value, _ = measure.WholeDrops(d.Amount.Value)
		case measure.InTeaspoons:
			if len(kit.SpoonsTSP) > 0 && d.Amount.Value < measure.TeaspoonsPerCup/4 {
				best, _ := kit.Round(d.Amount.Value)
				d.Amount.Value = best.TSP
			}
		}
		d.Amount = measure.Amount{Value: d.Amount.Value, Unit: d.Amount.Unit}
		d.Typed = d.Amount.String()
	}
}

// solve moves the free doses, none below zero, until the cup looks as wanted in every look: Levenberg–Marquardt on
// Lab with chroma weighed down as the eye does, the Jacobian by differences.
func solve(c *Cup, free []int, looks []kept, wanted []colour.Lab, shelf Shelf) error {
	if len(free) == 0 {
		return nil
	}
	residual := func() ([]float64, error) {
		m, err := Stir(c, shelf)
		if err != nil {
			return nil, err
		}
		var r []float64
		for i, l := range looks {
			if l.free {
				continue
			}
			lab, w := m.Colour(l.is), wanted[i]
			sc := 1 + 0.045*w.Chroma()
			r = append(r, lab.L-w.L, (lab.A-w.A)/sc, (lab.B-w.B)/sc)
		}
		return r, nil
	}
	cost := func(r []float64) (sum float64) {
		for _, v := range r {
			sum += v * v
		}
		return sum
	}
	scale := make([]float64, len(free))
	for j, i := range free {
		m := shelf[c.Doses[i].Material]
		scale[j] = max(m.Middling().Times(c.Volume.ML/measure.CupML).Value, 1e-6)
	}
	r, err := residual()
	if err != nil {
		return err
	}
	damp := 1e-2
	for range 60 {
		jac := make([][]float64, len(free))
		for j, i := range free {
			x := c.Doses[i].Amount.Value
			h := 1e-3 * max(x, scale[j]/10)
			c.Doses[i].Amount.Value = x + h
			up, err := residual()
			c.Doses[i].Amount.Value = x
			if err != nil {
				return err
			}
			jac[j] = make([]float64, len(r))
			for k := range r {
				jac[j][k] = (up[k] - r[k]) / h * scale[j]
			}
		}
		improved := false
		for range 8 {
			step := normal(jac, r, damp)
			old := make([]float64, len(free))
			for j, i := range free {
				old[j] = c.Doses[i].Amount.Value
				c.Doses[i].Amount.Value = max(0, old[j]-step[j]*scale[j])
			}
			next, err := residual()
			if err == nil && cost(next) < cost(r)-1e-12 {
				improved = cost(r)-cost(next) > 1e-6*cost(r)
				r, damp = next, damp/3
				break
			}
			for j, i := range free { // refused, or more than a cup takes
				c.Doses[i].Amount.Value = old[j]
			}
			damp *= 4
		}
		if !improved {
			break
		}
	}
	return nil
}

// normal solves (JᵀJ + damp·diag)·x = Jᵀr by elimination; the systems are small.
func normal(jac [][]float64, r []float64, damp float64) []float64 {
	n := len(jac)
	a := make([][]float64, n)
	for i := range a {
		a[i] = make([]float64, n+1)
		for j := range n {
			for k := range r {
				a[i][j] += jac[i][k] * jac[j][k]
			}
		}
		for k := range r {
			a[i][n] += jac[i][k] * r[k]
		}
	}
	for i := range a {
		a[i][i] += damp*a[i][i] + 1e-9
	}
	for i := range n {
		p := i
		for j := i + 1; j < n; j++ {
			if math.Abs(a[j][i]) > math.Abs(a[p][i]) {
				p = j
			}
		}
		a[i], a[p] = a[p], a[i]
		if a[i][i] == 0 {
			continue
		}
		for j := range n {
			if j == i {
				continue
			}
			f := a[j][i] / a[i][i]
			for k := i; k <= n; k++ {
				a[j][k] -= f * a[i][k]
			}
		}
	}
	x := make([]float64, n)
	for i := range x {
		if a[i][i] != 0 {
			x[i] = a[i][n] / a[i][i]
		}
	}
	return x
}

// weakestCut is the least share of a bottle in a dilution.
const weakestCut = 1e-4

// Premix makes a bottle of the maker's own dilution: parts of other bottles, and clear. A part that is a dilution
// itself is taken apart, so that a dilution always names the bottles it was made of.
func Premix(uid, name string, parts []material.Part, clear float64, shelf Shelf) (material.Material, error) {
	whole := clear
	for _, p := range parts {
		if !(p.Share > 0) {
			return material.Material{}, fault("parts", "give each bottle its parts, such as 1 of black and 10 of clear")
		}
		whole += p.Share
	}
	if len(parts) == 0 || !(clear >= 0) {
		return material.Material{}, fault("parts", "name a bottle and how it is cut, such as 1 part in 10 parts of clear")
	}
	made := material.Material{UID: uid, Kind: material.KindColourant, Name: name}
	c := &material.Colourant{
		DropML: material.Value{Value: material.DefaultDropML, Origin: material.Typical}, DensityGML: material.Value{Value: 1.02, Origin: material.Typical},
		Movement: material.Stays, Optics: material.ColourantOptics{Origin: material.Typical, Absorbs: []material.Band{}},
	}
	strongest := 0.0
	for _, p := range parts {
		of, ok := shelf[p.Material]
		if !ok || of.Colourant == nil {
			return made, fault("parts", "only bottles of liquid colour can be cut")
		}
		share := p.Share / whole
		if share < weakestCut {
			return made, fault("parts", "one part in 10,000 is the weakest cut that is taken")
		}
		if of.Colourant.Movement == material.Bleeds {
			c.Movement = material.Bleeds
		}
		if len(of.Colourant.Contains) == 0 {
			c.Contains = append(c.Contains, material.Part{Material: p.Material, Share: share})
		}
		for _, inner := range of.Colourant.Contains {
			c.Contains = append(c.Contains, material.Part{Material: inner.Material, Share: share * inner.Share})
		}
		if of.Colourant.UsualDrops[1] > 0 {
			strongest = max(strongest, share/of.Colourant.UsualDrops[1])
			c.UsualDrops[0] = max(c.UsualDrops[0], math.Round(of.Colourant.UsualDrops[0]/share))
		}
	}
	if strongest > 0 {
		c.UsualDrops[1] = min(MaxDropsPerCup, math.Round(1/strongest))
		c.UsualDrops[0] = min(c.UsualDrops[0], c.UsualDrops[1])
	}
	made.Colourant = c
	return made, made.Check()
}
