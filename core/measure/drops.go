package measure

import "math"

// maxTypedDrops bounds one entry; how many a cup can take is the recipe's business.
const maxTypedDrops = 100_000

// Drops says a count of drops: "1 drop", "12 drops", "2.5 drops".
func Drops(n float64) string {
	if n == 1 {
		return "1 drop"
	}
	return Number(n, 2) + " drops"
}

// WholeDrops is the nearest whole count. An exact half rounds down: one can add, not take out.
func WholeDrops(exact float64) (whole float64, half bool) {
	floor := math.Floor(exact)
	switch rest := exact - floor; {
	case math.Abs(rest-0.5) < 1e-9:
		return floor, true
	case rest > 0.5:
		return floor + 1, false
	default:
		return floor, false
	}
}
