package match

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/leftover"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// Reused is what a leftover is good for, where a colour is sought: only what goes in changes it.
type Reused struct {
	Place int        // of the leftover in what was handed in
	Now   float64    // ΔE00 as it is
	Then  float64    // and after what goes in
	Look  colour.Lab // as it is
	After colour.Lab // and then
	Adds  []string   // what goes in, to all of it
	Says  string
	score float64
}

// How leftovers are weighed. Ours.
const (
	reusedMost   = 16   // are looked at with additions; the likely ones first
	reusedAdds   = 2    // bottles that are opened for one: it is to save work, too
	asItIs       = 1.0  // ΔE00 within which nothing goes in
	cannotBe     = 6.0  // ΔE00 beyond which it is not that colour
	darkerCosts  = 2.0  // ΔE00 for each L that it is darker than what is sought: nothing makes it paler but much white
	tiredCosts   = 0.03 // ΔE00 for a minute of heat dose
	savesAsMuch  = 0.4  // ΔE00 that it is worth to use up a cup of it
	savesAtMost  = 1.0
	paleIsDarker = 4.0 // L within which it counts as no darker
)

// Reuse says what leftovers will do for a colour, the one to take first first: by how near it comes, how much of it is
// used up, how tired it is and what goes in. wish gives what is asked for a cup.
func Reuse(
	ctx context.Context, tubs []leftover.Tub, target *cup.Target, wish func(c cup.Cup) (*Wish, error), shelf cup.Shelf,
	kit measure.Kit,
) ([]Reused, error) {
	type one struct {
		Reused
		cup    cup.Cup
		shelf  cup.Shelf
		likely float64
	}
	reading := Targets(target)
	var all []one
	for i := range tubs {
		c, err := tubs[i].Cup(shelf)
		if err != nil {
			continue // of what nobody knows there is nothing to say
		}
		aged := leftover.Aged(shelf, &c, tubs[i].DoseMean)
		m, err := mix.Stir(&c, aged)
		if err != nil {
			continue
		}
		lab := m.Colour(reading.At)
		o := one{Reused{Place: i, Look: lab, After: lab, Adds: []string{}}, c, aged, 0}
		o.Now = colour.DeltaE00(target.Lab, lab)
		o.Then = o.Now
		o.likely = o.Now + darkerCosts*max(0, target.Lab.L-lab.L-paleIsDarker)
		all = append(all, o)
	}
	slices.SortStableFunc(all, func(x, y one) int { return cmp.Compare(x.likely, y.likely) })
	out := []Reused{}
	for _, o := range all[:min(len(all), reusedMost)] {
		costs := 0.0
		if o.Now > asItIs {
			w, err := wish(o.cup)
			if err != nil {
				return nil, err
			}
			w.Cup, w.Readings, w.Most, w.Plain = o.cup, []Reading{reading}, reusedAdds, true
			add, err := nearestAddition(ctx, w, o.shelf, kit)
			switch {
			case ctx.Err() != nil:
				return nil, ctx.Err()
			case err == nil && add != nil:
				o.Then, costs = add.DeltaE00, add.costs
				for _, d := range add.Adds {
					o.Adds = append(o.Adds, d.Amount.String()+" "+shelf[d.Material].Name)
				}
				if m, err := mix.Stir(&add.Cup, o.shelf); err == nil {
					o.After = m.Colour(reading.At)
				}
			}
		}
		of := leftover.DensitiesOf(shelf)
		saves := min(savesAtMost, savesAsMuch*tubs[o.Place].ML(of)/measure.CupML)
		o.score = o.Then + costs + tiredCosts*tubs[o.Place].DoseMost - saves
		if o.Then > cannotBe { // after all that can be it
			o.score += 100
		}
		o.say()
		out = append(out, o.Reused)
	}
	slices.SortStableFunc(out, func(x, y Reused) int { return cmp.Compare(x.score, y.score) })
	return out, nil
}

// nearestAddition is what a maker would try to put in; nil where nothing helps.
func nearestAddition(ctx context.Context, w *Wish, shelf cup.Shelf, kit measure.Kit) (*Correction, error) {
	p, err := newProblem(w, shelf, kit)
	if err != nil {
		return nil, err
	}
	s := p.solver()
	now, err := p.candidate(s, w, found{glow: s.leftOut(nil, nil)})
	if err != nil {
		return nil, err
	}
	all, err := p.search(ctx, w.Most, nil)
	if err != nil {
		return nil, err
	}
	ways, err := p.additions(ctx, w, all, now.DeltaE00)
	if err != nil || len(ways) == 0 {
		return nil, err
	}
	return &ways[len(ways)-1], nil // the nearest, where that is visibly nearer than what would be tried first
}

func (r *Reused) say() {
	switch {
	case r.Then > cannotBe:
		r.Says = fmt.Sprintf(
			"It can't become that by anything that goes in: the nearest stays ΔE00 %s away.",
			measure.Number(r.Then, 1),
		)
	case len(r.Adds) == 0:
		r.Says = fmt.Sprintf("Will do as it is: ΔE00 %s, %s.", measure.Number(r.Now, 1), colour.Nearness(r.Now))
	default:
		r.Says = fmt.Sprintf(
			"Will do with %s: ΔE00 %s, %s.", strings.Join(r.Adds, " and "), measure.Number(r.Then, 1),
			colour.Nearness(r.Then),
		)
	}
}
