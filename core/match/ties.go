package match

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/recipe"
)

// Tie is a powder or a flake that, stirred into two layers, makes them look like one bait.
type Tie struct {
	Material string         `json:"material"`
	Name     string         `json:"name"`
	Parts    [2]string      `json:"parts"`
	Dose     measure.Amount `json:"dose" doc:"Into each cup"`
	Nearer   float64        `json:"nearer" doc:"ΔE00 by which a powder brings the two layers nearer to each other"`
	Costs    float64        `json:"costs" doc:"ΔE00 by which it takes the bait from its readings"`
	Says     string         `json:"says"`
}

// A tie may cost the match so much, and is named if a powder brings the layers so much nearer.
const (
	tieCosts  = 1.5
	tieNearer = 0.5
	tiesShown = 3
)

// ties looks for flake that reads in two neighbouring layers, and for powders that bring the two nearer to each other.
func (l *layered) ties(shelf cup.Shelf) []Tie {
	type one struct {
		Tie
		seen float64
	}
	var all []one
	own := l.together(l.mixes, nil)
	look := mix.Condition{ThicknessMM: mix.BodyMM, Ground: optics.White, Light: colour.D65}
	uids := make([]string, 0, len(shelf))
	for uid := range shelf {
		uids = append(uids, uid)
	}
	slices.Sort(uids)
	for i := range len(l.mixes) - 1 {
		for _, uid := range uids {
			m := shelf[uid]
			if m.Flake == nil && m.Powder == nil {
				continue
			}
			dose := m.Middling()
			try := slices.Clone(l.mixes)
			held := false
			for k := i; k <= i+1; k++ {
				p := l.problems[k]
				a := dose.Times(p.cup.Volume.ML / measure.CupML)
				c, err := p.poured(p.of(l.sets[k].bottles()), l.sets[k].x[:l.sets[k].n])
				if err == nil {
					held = held || slices.ContainsFunc(c.Doses, func(d cup.Dose) bool { return d.Material == uid })
					c.Doses = append(c.Doses, cup.Dose{Material: uid, Typed: a.String(), Amount: a})
					if mix, err := mix.Stir(&c, shelf); err == nil {
						try[k] = mix
					}
				}
			}
			if held || try[i] == l.mixes[i] || try[i+1] == l.mixes[i+1] {
				continue
			}
			t := one{Tie: Tie{
				Material: uid, Name: m.Name, Parts: [2]string{l.w.Parts[i].Name, l.w.Parts[i+1].Name}, Dose: dose,
			}}
			t.Costs = max(0, math.Sqrt(l.together(try, nil))-math.Sqrt(own))
			if t.Costs > tieCosts {
				continue
			}
			before, _ := recipe.Apart(l.mixes[i], l.mixes[i+1])
			after, _ := recipe.Apart(try[i], try[i+1])
			t.Nearer = before.DeltaE00 - after.DeltaE00
			if m.Flake != nil {
				a, b := seenIn(try[i], uid, look), seenIn(try[i+1], uid, look)
				t.seen = min(a, b)
				if t.seen <= 0 {
					continue
				}
				t.Says = fmt.Sprintf(
					"%s a cup of %s in both: it shows in %s (ΔE00 %s from its base) and in %s (%s).", dose, m.Name,
					t.Parts[0],
					measure.Number(a, 0), t.Parts[1], measure.Number(b, 0),
				)
			} else {
				if t.Nearer < tieNearer {
					continue
				}
				t.seen = 10 * t.Nearer
				t.Says = fmt.Sprintf(
					"%s a cup of %s in both brings %s and %s nearer by ΔE00 %s.", dose, m.Name, t.Parts[0], t.Parts[1],
					measure.Number(t.Nearer, 1),
				)
			}
			if t.Costs >= 0.1 {
				t.Says += fmt.Sprintf(" It costs the match ΔE00 %s.", measure.Number(t.Costs, 1))
			}
			all = append(all, t)
		}
	}
	slices.SortStableFunc(all, func(a, b one) int { return cmp.Compare(b.seen, a.seen) })
	out := []Tie{}
	for _, t := range all[:min(len(all), tiesShown)] {
		out = append(out, t.Tie)
	}
	return out
}

// seenIn is how far a flake stands out from its base where it does, else 0.
func seenIn(mix *mix.Mix, uid string, at mix.Condition) float64 {
	for _, l := range mix.Legibility(at) {
		if l.Material == uid && l.Hidden == "" {
			return l.DeltaE00
		}
	}
	return 0
}
