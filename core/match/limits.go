package match

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// Limit is what keeps the best candidate from its target.
type Limit struct {
	BandNM   float64      `json:"bandNM" doc:"Where absorption is lacking; 0 where none would help much, or nobody can be sure where"`
	FromNM   float64      `json:"fromNM,omitempty" doc:"Where nobody can be sure: it is lacking somewhere from here"`
	ToNM     float64      `json:"toNM,omitempty" doc:"To here"`
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
	OnShelf  string  `json:"onShelf,omitempty" doc:"Name of a bottle of it that is on the shelf, and was not allowed"`
}

// limitFrom is the ΔE00 from which it is asked what is lacking.
const limitFrom = 1.0

// thoughtWidthsNM are those of an absorber that is only thought of, a bell over wavelength: a dye's, and a pigment's.
var thoughtWidthsNM = []float64{22, 35}

const (
	thoughtPerMM = 0.02 // of one step
	limitSets    = 12   // sets with which it is tried
	helps        = 0.75 // of the error, or less, must be left for it to be named
)

// limit finds the absorber that would bring the best sets nearest, and the families of bottle that come near to it.
func (p *problem) limit(ctx context.Context, w *Wish, all *pool, without float64) (*Limit, error) {
	out := &Limit{Without: without, Families: []LimitClose{}}
	from := p.roomFor(w, all)
	if len(from) == 0 {
		return nil, nil
	}
	var thoughts []thought
	for nm := 400.0; nm <= 700; nm += 10 {
		for _, width := range thoughtWidthsNM {
			thoughts = append(thoughts, thought{nm, width})
		}
	}
	left, err := p.tryThoughts(ctx, from, len(thoughts), func(i int, q *problem) error {
		q.think(Coefficients{K: thoughts[i].absorbs()})
		return nil
	})
	if err != nil {
		return nil, err
	}
	out.where(thoughts, left)
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
		if left[i] < helps*without && !p.has(f.Key) {
			out.Families = append(out.Families, LimitClose{f.Key, f.Name, left[i], p.leftOut(f.Key)})
		}
	}
	slices.SortStableFunc(out.Families, func(a, b LimitClose) int { return cmp.Compare(a.DeltaE00, b.DeltaE00) })
	out.Families = out.Families[:min(len(out.Families), 3)]
	out.say()
	return out, nil
}

// has says whether a bottle of a family is allowed already: it can't be what is lacking.
func (p *problem) has(family string) bool {
	return slices.ContainsFunc(p.bottles, func(b bottle) bool { return b.m.Family == family })
}

// leftOut names a bottle of a family that is on the shelf and not allowed; empty where there is none.
func (p *problem) leftOut(family string) string {
	for _, uid := range slices.Sorted(maps.Keys(p.shelf)) {
		if m := p.shelf[uid]; m.Family == family {
			return m.Name
		}
	}
	return ""
}

// thought is a band that is only thought of.
type thought struct{ centreNM, widthNM float64 }

func (t thought) absorbs() (k colour.Spectrum) {
	for b := range k {
		z := (colour.NM(b) - t.centreNM) / t.widthNM
		k[b] = thoughtPerMM * math.Exp(-z*z/2)
	}
	return k
}

// How sure one must be to name a band.
const (
	asGood   = 0.1  // ΔE00 by which a band may be worse than the best and be as likely
	asGoodOf = 0.2  // the same, as a share of the best
	surely   = 40.0 // nm of spread, beyond which none is named
)

// where weighs all bands by how near they bring it, and names the middle of them; or from where to where, if they lie
// far apart.
func (l *Limit) where(thoughts []thought, left []float64) {
	l.With = slices.Min(left)
	if l.With >= helps*l.Without {
		return
	}
	sum, mean, square := 0.0, 0.0, 0.0
	for i, t := range thoughts {
		w := math.Exp(-(left[i] - l.With) / (asGood + asGoodOf*l.With))
		sum, mean, square = sum+w, mean+w*t.centreNM, square+w*t.centreNM*t.centreNM
	}
	mean /= sum
	spread := math.Sqrt(max(0, square/sum-mean*mean))
	if spread > surely {
		l.FromNM, l.ToNM = math.Round((mean-spread)/10)*10, math.Round((mean+spread)/10)*10
		return
	}
	l.BandNM = math.Round(mean/10) * 10
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
func (p *problem) tryThoughts(
	ctx context.Context, from []found, n int, add func(i int, q *problem) error,
) ([]float64, error) {
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
		l.Says = fmt.Sprintf(
			"Nothing that is allowed absorbs well near %s nm (%s). With it ΔE00 %s could become %s.",
			measure.Number(l.BandNM, 0), bandWords(l.BandNM), without, measure.Number(l.With, 1),
		)
	case l.ToNM > 0:
		l.Says = fmt.Sprintf("Not sure what is lacking: an absorber somewhere from %s to %s nm, by which ΔE00 %s could become %s. A reading through another thickness, or over another ground, would tell.",
			measure.Number(l.FromNM, 0), measure.Number(l.ToNM, 0), without, measure.Number(l.With, 1))
	case len(l.Families) > 0:
		l.Says = fmt.Sprintf(
			"No absorber alone would help: it is ΔE00 %s off for want of what hides or shines.", without,
		)
	default:
		l.Says = fmt.Sprintf(
			"ΔE00 %s is as near as plastic of this thickness comes: no single bottle more would help much. Look at the reading again, or allow more bottles in one recipe.",
			without,
		)
	}
	if len(l.Families) > 0 {
		f := l.Families[0]
		if f.OnShelf != "" {
			l.Says += fmt.Sprintf(
				" “%s”, which is on your shelf and was left out, would bring it to ΔE00 %s.", f.OnShelf,
				measure.Number(f.DeltaE00, 1),
			)
			return
		}
		l.Says += fmt.Sprintf(
			" A bottle such as “%s” would bring it to ΔE00 %s.", f.Name, measure.Number(f.DeltaE00, 1),
		)
	}
}
