package learn

import (
	"context"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cores"
	"cloudburst/core/cup"
	"cloudburst/core/match"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// pouredAgain is what it costs, in ΔE00, to pour a cup a second time from which nothing new is learned.
const pouredAgain = 0.15

// Next says what to do after what was poured so far: w is what is asked, w.Cup what is in the cup now. The steps come
// in the order in which they are likely to bring the colour, how sure each one is counted in; what they cost besides is
// left to whoever shows them. A cup that begins anew is of that volume.
func (l *Learnt) Next(
	ctx context.Context, w match.Wish, shelf cup.Shelf, kit measure.Kit, tried []cup.Cup, volume measure.Volume,
) ([]match.Correction, error) {
	taught := l.Shelf(shelf)
	w.Unsure = l.Unsure
	w.Readings = slices.Clone(w.Readings)
	for i := range w.Readings { // as they would be, were their devices not off
		r := &w.Readings[i]
		off := l.Offset(r.Device)
		r.Lab = colour.Lab{L: max(0, r.Lab.L-off.L), A: r.Lab.A - off.A, B: r.Lab.B - off.B}
	}
	var steps []match.Correction
	if len(tried) > 0 {
		corrected, err := match.Correct(ctx, &w, taught, kit)
		if err != nil {
			return nil, err
		}
		steps = corrected.Options
	}
	anew := w
	if times := volume.ML / w.Cup.Volume.ML; times != 1 { // what is no colour goes in as it did
		anew.Cup.Volume, anew.Cup.Doses = volume, cup.Times(w.Cup.Doses, times)
	}
	fresh, err := freshCups(ctx, anew, taught, kit, tried)
	if err != nil {
		return nil, err
	}
	for _, c := range fresh {
		steps = append(
			steps,
			match.Correction{
				Kind: "fresh", Adds: c.Cup.Doses, MakesML: c.Cup.Volume.ML, WastesML: w.Cup.Volume.ML, Candidate: c,
			},
		)
	}
	likely := func(c *match.Correction) float64 {
		v := c.Likely()
		if c.Kind != "leave" && slices.ContainsFunc(tried, func(t cup.Cup) bool { return t.Same(&c.Cup) }) {
			v += pouredAgain
		}
		return v
	}
	slices.SortStableFunc(steps, func(a, b match.Correction) int {
		switch x, y := likely(&a), likely(&b); {
		case x < y:
			return -1
		case x > y:
			return 1
		}
		return 0
	})
	return steps, nil
}

// freshCups are cups that begin anew: of bottles that were poured already, which are surer than any other; of those and
// one more; or, at first, of any.
func freshCups(
	ctx context.Context, w match.Wish, taught cup.Shelf, kit measure.Kit, tried []cup.Cup,
) ([]match.Candidate, error) {
	doses := w.Cup.Doses
	w.Cup.Doses, w.Plain = nil, true
	for _, d := range doses {
		if m := taught[d.Material]; m.Colourant == nil && m.Powder == nil {
			w.Cup.Doses = append(w.Cup.Doses, d)
		}
	}
	var known, others []string
	for _, uid := range w.Allowed {
		if slices.ContainsFunc(tried, func(c cup.Cup) bool { return holds(&c, uid) }) {
			known = append(known, uid)
		} else {
			others = append(others, uid)
		}
	}
	sets := [][]string{w.Allowed}
	if len(known) > 0 {
		sets = [][]string{known}
		for _, uid := range others {
			sets = append(sets, append(slices.Clone(known), uid))
		}
	}
	found := make([][]match.Candidate, len(sets))
	err := cores.Each(ctx, len(sets), func(i int) error {
		anew := w
		anew.Allowed = sets[i]
		r, err := match.Search(ctx, &anew, taught, kit, nil)
		if err == nil {
			found[i] = r.Candidates
		}
		return err
	})
	return slices.Concat(found...), err
}

func holds(c *cup.Cup, uid string) bool {
	return slices.ContainsFunc(c.Doses, func(d cup.Dose) bool { return d.Material == uid && d.Amount.Value > 0 })
}

// Unsure is match.Wish's: by what is likeliest, since it is asked of each cup that might be poured.
func (l *Learnt) Unsure(c *cup.Cup, readings []match.Reading) []float64 {
	ats, devices := make([]mix.Condition, len(readings)), make([]string, len(readings))
	for i := range readings {
		ats[i], devices[i] = readings[i].At, readings[i].Device
	}
	sure, err := l.sure(c, ats, l.reads(devices), l.likeliest())
	if err != nil {
		return nil
	}
	out := make([]float64, len(sure))
	for i := range sure {
		out[i] = sure[i].SD
	}
	return out
}
