package fit

import "gonum.org/v1/gonum/mat"

// Halve narrows down, so many times, where enough turns true between low, where it is not, and high, where it is; the
// middle of what is left.
func Halve(low, high float64, times int, enough func(x float64) bool) float64 {
	low, high = Between(low, high, times, enough)
	return (low + high) / 2
}

// Between is the same, and gives what is left: the last that was too little, and the first that was enough.
func Between(low, high float64, times int, enough func(x float64) bool) (tooLittle, first float64) {
	for range times {
		if mid := (low + high) / 2; enough(mid) {
			high = mid
		} else {
			low = mid
		}
	}
	return low, high
}

// Solve solves a·x = b for a square matrix, given by rows; false where it is (all but) singular.
func Solve(a, b []float64) ([]float64, bool) {
	var x mat.VecDense
	if err := x.SolveVec(mat.NewDense(len(b), len(b), a), mat.NewVecDense(len(b), b)); err != nil {
		return nil, false
	}
	return x.RawVector().Data, true
}

// Solve6 is the same for six unknowns.
func Solve6(a [6][6]float64, b [6]float64) (x [6]float64, ok bool) {
	var rows []float64
	for i := range a {
		rows = append(rows, a[i][:]...)
	}
	got, ok := Solve(rows, b[:])
	copy(x[:], got)
	return x, ok
}

// Dot6 is the sum of products.
func Dot6(a, b [6]float64) (sum float64) {
	for i := range a {
		sum += a[i] * b[i]
	}
	return sum
}

// Widest is the direction in which a symmetric three by three matrix reaches furthest.
func Widest(a [3][3]float64) [3]float64 {
	var e mat.EigenSym
	e.Factorize(
		mat.NewSymDense(
			3, []float64{a[0][0], a[0][1], a[0][2], a[1][0], a[1][1], a[1][2], a[2][0], a[2][1], a[2][2]},
		), true,
	)
	var v mat.Dense
	e.VectorsTo(&v)
	return [3]float64{v.At(0, 2), v.At(1, 2), v.At(2, 2)}
}
