package match

import (
	"context"
	"slices"

	"cloudburst/core/cup"
	"cloudburst/core/measure"
)

// Harder is the long search: it works out every set of up to three bottles, then goes on from there. each is told how
// far it has come. Sets of three grow with the cube of the shelf: of a long one, those of the likeliest bottles are
// worked out.
func Harder(ctx context.Context, w *Wish, shelf cup.Shelf, kit measure.Kit, each func(Progress)) (*Result, error) {
	p, err := newProblem(w, shelf, kit)
	if err != nil {
		return nil, err
	}
	done := 0.0
	tell := p.telling(ctx, w, each, func() float64 { return done })
	all, err := p.search(ctx, w.Most, tell)
	if err != nil {
		return nil, err
	}
	if w.Most >= 3 {
		if err := p.everyTriple(ctx, all, func(share float64) {
			done = 0.9 * share
			if tell != nil {
				tell(all)
			}
		}); err != nil {
			return nil, err
		}
	}
	done = 0.9
	for n := 4; n <= w.Most; n++ {
		if err := p.extend(ctx, all, all.best(n-1, 4*beam), tell); err != nil {
			return nil, err
		}
	}
	out, err := p.result(ctx, w, all)
	if err == nil && w.Most >= 3 && len(p.bottles) > mostInTriples {
		out.Likeliest = mostInTriples
	}
	return out, err
}

// mostInTriples is of how many bottles every set of three is worked out: some 80,000 sets, a quarter of a minute on one
// processor.
const mostInTriples = 80

// likeliest are the bottles of the nearest sets so far, each counted where it first comes, in their own order.
func (p *problem) likeliest(all *pool) []int {
	var out []int
	in := make([]bool, len(p.bottles))
	for _, f := range all.best(0, len(all.sets)) {
		for _, i := range f.bottles() {
			if !in[i] && len(out) < mostInTriples {
				in[i] = true
				out = append(out, i)
			}
		}
	}
	slices.Sort(out)
	return out
}

// How the long search begins with a triple, how often it looks at it, and how many it does between two reports.
const (
	tripleStart = 0.4
	tripleLooks = 8
	tripleChunk = 1000
)

// everyTriple works out every set of one, two and three bottles in full, and rounds every one.
func (p *problem) everyTriple(ctx context.Context, all *pool, each func(share float64)) error {
	singles, err := p.singles(ctx)
	if err != nil {
		return err
	}
	all.put(singles...)
	begin := func(set ...int) found {
		x := make([]float64, len(set))
		f := found{}
		for j, i := range set {
			x[j] = singles[i].x[0] * tripleStart
			f.glow = sumOf(f.glow, singles[i].glow)
		}
		g := sorted(set, x, 0)
		g.glow = f.glow
		return g
	}
	which := p.likeliest(all)
	n := len(which)
	whole, done := float64(max(1, n*(n-1)*(n-2)/6)), 0.0
	var chunk []found
	flush := func() error {
		if err := p.fit(ctx, chunk, tripleLooks); err != nil {
			return err
		}
		all.put(chunk...)
		if err := p.round(ctx, all, chunk); err != nil {
			return err
		}
		done += float64(len(chunk))
		chunk = chunk[:0]
		if each != nil {
			each(min(1, done/whole))
		}
		return nil
	}
	for i := range n {
		for j := i + 1; j < n; j++ {
			chunk = append(chunk, begin(which[i], which[j]))
			for k := j + 1; k < n; k++ {
				chunk = append(chunk, begin(which[i], which[j], which[k]))
			}
			if len(chunk) >= tripleChunk {
				if err := flush(); err != nil {
					return err
				}
			}
		}
	}
	return flush()
}
