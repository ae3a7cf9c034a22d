package match

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// Limit is what keeps the best candidate from its target.
type Limit struct {
	BandNM   float64      `json:"bandNM" doc:"Where absorption is lacking; 0 where none would help much"`
	Without  float64      `json:"without" doc:"ΔE00 of the best candidate"`
	With     float64      `json:"with" doc:"ΔE00 that an absorber there would leave"`
	Families []LimitClose `json:"families" nullable:"false" doc:"Families of bottle that would close the gap, best first"`
	Says     string       `json:"says"`
}

// LimitClose is a family that would close a gap.
type LimitClose struct {
	Key      string  `json:"key"`
	Name     string  `json:"name"`
	DeltaE00 float64 `json:"deltaE00" doc:"With a typical bottle of it"`
}

// limitFrom is the ΔE00 from which it is asked what is lacking.
const limitFrom = 1.0

// An absorber that is only thought of: a bell over wavelength, as wide as a dye's.
const (
	thoughtWidthNM = 35.0
	thoughtPerMM   = 0.02 // of one step
	limitSets      = 12   // sets with which it is tried
	helps          = 0.75 // of the error, or less, must be left for it to be named
)

// limit finds the absorber that would bring the best sets nearest, and the families of bottle that come near to it.
func (p *problem) limit(ctx context.Context, w *Wish, all *pool, without float64) (*Limit, error) {
	out := &Limit{Without: without, Families: []LimitClose{}}
	from := p.roomFor(w, all)
	if len(from) == 0 {
		return nil, nil
	}
	var centres []float64
	for nm := 390.0; nm <= 720; nm += 10 {
		centres = append(centres, nm)
	}
	left, err := p.tryThoughts(ctx, from, len(centres), func(i int, q *problem) error {
		var k colour.Spectrum
		for b := range k {
			z := (colour.NM(b) - centres[i]) / thoughtWidthNM
			k[b] = thoughtPerMM * math.Exp(-z*z/2)
		}
		q.think(Coefficients{K: k})
		return nil
	})
	if err != nil {
		return nil, err
	}
	best := 0
	for i := range left {
		if left[i] < left[best] {
			best = i
		}
	}
	out.With = left[best]
	if left[best] < helps*without {
		out.BandNM = centres[best]
	}
	var families []material.Family
	for _, f := range material.Families() {
		if f.Kind == material.KindColourant || f.Kind == material.KindPowder {
			families = append(families, f)
		}
	}
	left, err = p.tryThoughts(ctx, from, len(families), func(i int, q *problem) error {
		m := families[i].New("thought-of", families[i].Name)
		return q.allow(&m)
	})
	if err != nil {
		return nil, err
	}
	for i, f := range families {
		if left[i] < helps*without {
			out.Families = append(out.Families, LimitClose{f.Key, f.Name, left[i]})
		}
	}
	slices.SortStableFunc(out.Families, func(a, b LimitClose) int { return cmp.Compare(a.DeltaE00, b.DeltaE00) })
	out.Families = out.Families[:min(len(out.Families), 3)]
	out.say()
	return out, nil
}

// roomFor are the best sets that leave room for one bottle more.
func (p *problem) roomFor(w *Wish, all *pool) []found {
	var from []found
	for n := max(1, w.Most-1); n > 0; n-- {
		from = append(from, all.best(n, limitSets/n)...)
	}
	if w.Most == 1 {
		from = []found{{}}
	}
	return from
}

// tryThoughts adds, for each of n thoughts, one bottle to the problem, and gives the ΔE00 that the sets with it leave.
func (p *problem) tryThoughts(ctx context.Context, from []found, n int, add func(i int, q *problem) error) ([]float64, error) {
	left := make([]float64, n)
	errs := make([]error, n)
	err := parallel(ctx, p, n, func(_ *solver, i int) {
		q := p.copy()
		if errs[i] = add(i, q); errs[i] != nil {
			return
		}
		s := q.solver()
		least := math.Inf(1)
		new := uint8(len(q.bottles) - 1)
		for _, f := range from {
			f.set[f.n], f.x[f.n] = new, max(0.5, q.bottles[new].usual/2)
			f.n++
			s.fit(&f, 12)
			least = min(least, f.cost)
		}
		left[i] = math.Sqrt(least / p.weights)
	})
	for _, e := range errs {
		if e != nil {
			return nil, e
		}
	}
	return left, err
}

// copy is the problem with lists of its own, so that a bottle can be added.
func (p *problem) copy() *problem {
	q := *p
	q.bottles, q.all, q.lenses, q.sights = slices.Clone(p.bottles), slices.Clone(p.all), slices.Clone(p.lenses), slices.Clone(p.sights)
	for i := range q.lenses {
		q.lenses[i].per = slices.Clone(q.lenses[i].per)
	}
	for i := range q.sights {
		q.sights[i].sheens = slices.Clone(q.sights[i].sheens)
	}
	return &q
}

// think adds a bottle that nobody sells.
func (p *problem) think(per Coefficients) {
	p.all = append(p.all, len(p.bottles))
	p.bottles = append(p.bottles, bottle{m: &material.Material{UID: "thought-of"}, most: 1000, usual: 2})
	for i := range p.lenses {
		p.lenses[i].per = append(p.lenses[i].per, per)
	}
	for i := range p.sights {
		p.sights[i].sheens = append(p.sights[i].sheens, nil)
	}
}

// bandWords name the colour that is taken out of the light at a wavelength, and what is left to be seen.
func bandWords(nm float64) string {
	for _, b := range []struct {
		below float64
		words string
	}{
		{440, "violet light; what takes it looks yellow"},
		{485, "blue light; what takes it looks yellow to orange"},
		{510, "blue-green light; what takes it looks orange to red"},
		{565, "green light; what takes it looks pink to violet"},
		{590, "yellow light; what takes it looks violet to blue"},
		{630, "orange light; what takes it looks blue"},
	} {
		if nm < b.below {
			return b.words
		}
	}
	return "red light; what takes it looks green to blue"
}

func (l *Limit) say() {
	without := measure.Number(l.Without, 1)
	switch {
	case l.BandNM > 0:
		l.Says = fmt.Sprintf("Nothing that is allowed absorbs well near %s nm (%s). With it ΔE00 %s could become %s.", measure.Number(l.BandNM, 0), bandWords(l.BandNM), without, measure.Number(l.With, 1))
	case len(l.Families) > 0:
		l.Says = fmt.Sprintf("No absorber alone would help: it is ΔE00 %s off for want of what hides or shines.", without)
	default:
		l.Says = fmt.Sprintf("ΔE00 %s is as near as plastic of this thickness comes: no single bottle more would help much. Look at the reading again, or allow more bottles in one recipe.", without)
	}
	if len(l.Families) > 0 {
		f := l.Families[0]
		l.Says += fmt.Sprintf(" A bottle such as “%s” would bring it to ΔE00 %s.", f.Name, measure.Number(f.DeltaE00, 1))
	}
}
