package age

import (
	"fmt"
	"math"
	"slices"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/heat"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// Change is what becomes of a part of a bait.
type Change struct {
	Part    string            `json:"part"`
	Differs colour.Difference `json:"differs" doc:"In its mean, from the day it was poured"`
}

// Figures of the advice. Days are those that a maker thinks in.
const (
	fortnight   = 14.0
	seenFrom    = 2.0 // ΔE00 from which a maker sees it
	barrierStep = 0.5
	barrierMost = 4.0
	standsIn    = 6.0 // ΔE00 within which a pigment is worth naming
	fineSteps   = 16
)

var days = []float64{0.5, 1, 2, 3, 5, 7, 10, fortnight}

// looks are the colours of the parts, as they are by now.
func (g *Aged) looks(shelf cup.Shelf) ([]colour.Lab, error) {
	out := make([]colour.Lab, len(g.Parts))
	for i := range g.Parts {
		m, err := mix.Stir(&g.Parts[i], shelf)
		if err != nil {
			return nil, err
		}
		out[i] = m.Colour(mix.Compared)
	}
	return out, nil
}

// Changes are those of each part, some days after; parts that stay as they are are left out.
func (b *Bait) Changes(after float64, shelf cup.Shelf) ([]Change, error) {
	is, then, err := b.looked(after, shelf)
	if err != nil {
		return nil, err
	}
	out := []Change{}
	for i, p := range b.Structure.Parts() {
		if d := colour.Compare(then[i], is[i]); d.DeltaE00 >= 0.5 {
			out = append(out, Change{p.Name, d})
		}
	}
	return out, nil
}

func (b *Bait) looked(after float64, shelf cup.Shelf) (is, then []colour.Lab, err error) {
	poured, err := b.After(0, shelf)
	if err != nil {
		return nil, nil, err
	}
	aged, err := b.After(after, shelf)
	if err != nil {
		return nil, nil, err
	}
	if is, err = poured.looks(shelf); err != nil {
		return nil, nil, err
	}
	then, err = aged.looks(shelf)
	return is, then, err
}

// worst is the part that changes most by a day.
func (b *Bait) worst(after float64, shelf cup.Shelf) (part int, deltaE float64, words string, err error) {
	is, then, err := b.looked(after, shelf)
	if err != nil {
		return 0, 0, "", err
	}
	for i := range is {
		if d := colour.Compare(then[i], is[i]); d.DeltaE00 > deltaE {
			part, deltaE, words = i, d.DeltaE00, d.Words
		}
	}
	return part, deltaE, words, nil
}

// Says is what becomes of a bait within two weeks and what to do about it: another bottle, something clear between, the
// day by which it is fished.
func (b *Bait) Says(shelf, allowed cup.Shelf) ([]string, error) {
	dyes := b.dyes(shelf)
	if len(dyes) == 0 {
		return []string{"There is no dye in it: its colours stay where they were poured."}, nil
	}
	if b.Structure.Plain() {
		return []string{"A dye is in all of it alike, so that it looks the same in two weeks. It runs into any bait that lies against it: keep it apart."}, nil
	}
	part, most, words, err := b.worst(fortnight, shelf)
	if err != nil {
		return nil, err
	}
	reach := 0.0
	for _, y := range dyes {
		reach = max(reach, math.Sqrt(y.diffuses*fortnight*heat.DayS))
	}
	parts := b.Structure.Parts()
	if most < seenFrom {
		return []string{fmt.Sprintf(
			"Its dye runs some %s mm in two weeks, and nobody sees it: ΔE00 %s at most.", measure.Number(reach, 1),
			measure.Number(most, 1),
		)}, nil
	}
	out := []string{fmt.Sprintf(
		"Within two weeks the dye runs some %s mm, and the %s becomes %s (ΔE00 %s).", measure.Number(reach, 1),
		parts[part].Name, words, measure.Number(most, 1),
	)}
	day, err := b.seenBy(shelf)
	if err != nil {
		return nil, err
	}
	out = append(out, day)
	for _, f := range []func(int, cup.Shelf) (string, error){
		b.barrier,
		func(_ int, shelf cup.Shelf) (string, error) { return b.pigments(dyes, shelf, allowed) },
	} {
		says, err := f(part, shelf)
		if err != nil {
			return nil, err
		}
		if says != "" {
			out = append(out, says)
		}
	}
	return out, nil
}

// seenBy says by which day it is seen.
func (b *Bait) seenBy(shelf cup.Shelf) (string, error) {
	last := 0.0
	for _, d := range days {
		_, most, _, err := b.worst(d, shelf)
		if err != nil {
			return "", err
		}
		if most >= seenFrom {
			break
		}
		last = d
	}
	switch {
	case last < 1:
		return "Pour it the day that it is fished: it is seen within a day.", nil
	case last == 1:
		return "Fish it the day after: later it is seen.", nil
	}
	return fmt.Sprintf("Until day %s nobody sees it: fish it by then.", measure.Number(last, 0)), nil
}

// barrier says how thick a clear layer between two layers keeps the one clean that changes most.
func (b *Bait) barrier(part int, shelf cup.Shelf) (string, error) {
	layers := b.Structure.Layers
	if len(layers) != 2 || part > 1 {
		return "", nil
	}
	clear := b.Cups[layers[0].Cup]
	clear.Doses = []cup.Dose{}
	for mm := barrierStep; mm <= barrierMost; mm += barrierStep {
		with := *b
		with.Cups = append(slices.Clone(b.Cups), clear)
		share := b.Shape.ShareOfMM(mm) + 1 // of the height, as tops have it
		edge := layers[0].Top
		with.Structure.Layers = []bait.Layer{
			{Name: layers[0].Name, Cup: layers[0].Cup, Top: edge - share/2},
			{Name: "barrier", Cup: len(b.Cups), Top: edge + share/2},
			{Name: layers[1].Name, Cup: layers[1].Cup, Top: 1},
		}
		if with.Structure.Layers[0].Top <= -1 || with.Structure.Layers[1].Top >= 1 {
			break
		}
		is, then, err := with.looked(fortnight, shelf)
		if err != nil {
			return "", err
		}
		if colour.DeltaE00(is[2*part], then[2*part]) < seenFrom {
			return fmt.Sprintf(
				"%s mm of clear plastic between %s and %s keep the %s clean for two weeks.", measure.Number(mm, 1),
				layers[0].Name,
				layers[1].Name, layers[part].Name,
			), nil
		}
	}
	return fmt.Sprintf(
		"No clear layer up to %s mm keeps the %s clean for two weeks.", measure.Number(barrierMost, 0),
		layers[part].Name,
	), nil
}

// pigments names, for each dye, a bottle that stays where it is poured and comes closest in its place.
func (b *Bait) pigments(dyes []dye, shelf, allowed cup.Shelf) (string, error) {
	out := ""
	for _, y := range dyes {
		for _, p := range b.Structure.Parts() {
			c := b.Cups[p.Cup]
			if c.AmountOf(y.uid).Value <= 0 {
				continue
			}
			uid, off, err := instead(&c, y.uid, shelf, allowed)
			if err != nil {
				return "", err
			}
			if uid == "" {
				out += fmt.Sprintf(
					"No bottle on the shelf that stays comes near to %s in the %s. ", shelf[y.uid].Name, p.Name,
				)
			} else {
				out += fmt.Sprintf(
					"%s in place of %s stays, and comes within ΔE00 %s. ", shelf[uid].Name, shelf[y.uid].Name,
					measure.Number(off, 1),
				)
			}
			break
		}
	}
	if out != "" {
		out = out[:len(out)-1]
	}
	return out, nil
}

// instead is the pigment that comes closest in place of a dye, by itself, at the dose at which it does; none where none
// comes near.
func instead(c *cup.Cup, dyeUID string, shelf, allowed cup.Shelf) (uid string, off float64, err error) {
	was, err := mix.Stir(c, shelf)
	if err != nil {
		return "", 0, err
	}
	wanted := was.Colour(mix.Compared)
	bare := *c
	bare.Doses = slices.DeleteFunc(slices.Clone(c.Doses), func(d cup.Dose) bool { return d.Material == dyeUID })
	off = standsIn
	for _, candidate := range sortedUIDs(allowed) {
		m := allowed[candidate]
		if m.Colourant == nil || m.Colourant.Movement != material.Stays || c.AmountOf(candidate).Value > 0 {
			continue
		}
		at := func(drops float64) float64 {
			t := bare
			t.Doses = append(slices.Clone(bare.Doses), cup.DripOf(candidate, drops))
			mixed, stir := mix.Stir(&t, shelf)
			if stir != nil {
				err = stir
				return math.Inf(1)
			}
			return colour.DeltaE00(wanted, mixed.Colour(mix.Compared))
		}
		most := 2 * m.Colourant.UsualDrops[1] * c.Volume.ML / measure.CupML
		best := math.Inf(1)
		for k := range fineSteps { // finer where there is little
			v := float64(k+1) / fineSteps
			best = min(best, at(max(1, math.Round(most*v*v))))
		}
		if err != nil {
			return "", 0, err
		}
		if best < off {
			uid, off = candidate, best
		}
	}
	return uid, off, nil
}

func sortedUIDs(shelf cup.Shelf) []string {
	out := make([]string, 0, len(shelf))
	for uid := range shelf {
		out = append(out, uid)
	}
	slices.Sort(out)
	return out
}
