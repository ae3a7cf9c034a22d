package heat

import "math"

// DayS is a day.
const DayS = 86_400.0

// Boundary is where a dye meets plastic that has less of it: so much on either side, ml per litre.
type Boundary struct {
	Diffuses    float64 // mm²/s
	Left, Right float64
}

// Reach is how far it gets in a time, mm.
func (b *Boundary) Reach(seconds float64) float64 { return math.Sqrt(b.Diffuses * seconds) }

// Thick is how much there is at a place, mm right of the boundary, after a time, where both sides are thick.
func (b *Boundary) Thick(mm, seconds float64) float64 {
	return b.Right + (b.Left-b.Right)/2*math.Erfc(mm/(2*b.Reach(seconds)))
}

// Thin is a boundary between two layers from which nothing gets out.
type Thin struct {
	Boundary
	LeftMM, RightMM float64
}

// Mixed is what it comes to in the end.
func (t *Thin) Mixed() float64 {
	return (t.LeftMM*t.Left + t.RightMM*t.Right) / (t.LeftMM + t.RightMM)
}

// sum adds the terms of the series up; of gives what the cosine is at a place, or in the mean.
func (t *Thin) sum(seconds float64, of func(n float64) float64) float64 {
	l := t.LeftMM + t.RightMM
	sum := t.Mixed()
	for n := 1.0; n <= terms; n++ {
		fades := math.Exp(-n * n * math.Pi * math.Pi * t.Diffuses * seconds / (l * l))
		if fades < 1e-18 {
			break
		}
		sum += 2 * (t.Left - t.Right) / (n * math.Pi) * math.Sin(n*math.Pi*t.LeftMM/l) * fades * of(n)
	}
	return sum
}

// At is how much there is at a place, mm from the left outer face, after a time.
func (t *Thin) At(mm, seconds float64) float64 {
	l := t.LeftMM + t.RightMM
	return t.sum(seconds, func(n float64) float64 { return math.Cos(n * math.Pi * mm / l) })
}

// Means are what is in either layer in the mean after a time.
func (t *Thin) Means(seconds float64) (left, right float64) {
	l := t.LeftMM + t.RightMM
	edge := func(n float64) float64 { return math.Sin(n*math.Pi*t.LeftMM/l) * l / (n * math.Pi) }
	left = t.sum(seconds, func(n float64) float64 { return edge(n) / t.LeftMM })
	right = t.sum(seconds, func(n float64) float64 { return -edge(n) / t.RightMM })
	return left, right
}
