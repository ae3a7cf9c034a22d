package anatomy

import "math"

// crease is a groove so wide and deep, pressed into the skin along places on it; it fades out at its ends.
func (b *Bait) crease(places, outs []Vec, wideMM, deepMM float64) {
	r := (wideMM*wideMM/4 + deepMM*deepMM) / (2 * deepMM)
	n := len(places)
	rod := make([]Vec, n)
	for i := range rod {
		fade := smooth(0, 0.2, float64(i)/float64(n-1)) * (1 - smooth(0.8, 1, float64(i)/float64(n-1)))
		rod[i] = places[i].Plus(outs[i].Times(r - deepMM*fade + 0.02))
	}
	q := part{from: rod[0], to: rod[0]}
	for _, p := range rod {
		for k := range 3 {
			q.from[k], q.to[k] = min(q.from[k], p[k]-r), max(q.to[k], p[k]+r)
		}
	}
	q.d = func(p Vec) float64 {
		best := math.Inf(1)
		for i := range n - 1 {
			ab, ap := rod[i+1].Minus(rod[i]), p.Minus(rod[i])
			off := ap.Minus(ab.Times(min(1, max(0, ap.Dot(ab)/max(1e-9, ab.Dot(ab))))))
			best = min(best, off.Dot(off))
		}
		return math.Sqrt(best) - r
	}
	b.cutOut(q, 0.25)
}

// sideCrease runs along a line in the side view, on both sides.
func (b *Bait) sideCrease(line [][2]float64, wideMM, deepMM float64) {
	places, outs := b.along(line, b.skin)
	b.crease(places, outs, wideMM, deepMM)
}

// backCrease runs along a line seen from above, x and z.
func (b *Bait) backCrease(line [][2]float64, wideMM, deepMM float64) {
	places, outs := b.along(line, b.above)
	b.crease(places, outs, wideMM, deepMM)
}

// along lays a line in even steps onto the skin.
func (b *Bait) along(line [][2]float64, onto func(x, y float64) (at, out Vec)) (places, outs []Vec) {
	w := sweep{steps: 24, face: Vec{0, 0, 1}}
	for _, p := range line {
		w.joints = append(w.joints, joint{at: Vec{p[0], p[1], 0}, wide: 1, thick: 1})
	}
	for _, p := range w.line() {
		at, out := onto(p.at[0], p.at[1])
		places, outs = append(places, at), append(outs, out)
	}
	return places, outs
}

// eye is a shallow socket with a dome in it, on both sides.
func (b *Bait) eye(x, y, r float64) {
	at, out := b.skin(x, y)
	b.cutOut(ball(at.Plus(out.Times(0.62*r)), 1.18*r), 0.35)
	b.add(ball(at.Minus(out.Times(0.55*r)), 1.02*r), 0.3)
}
