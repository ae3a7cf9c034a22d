package measure

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

const dropExamples = "drops such as 12, 12d or 12 drops"

// maxTypedDrops bounds one entry; how many a cup can take is the recipe's business.
const maxTypedDrops = 100_000

// ParseDrops reads a count of drops. Nobody can dose part of a drop, so it must be whole.
func ParseDrops(typed string) (float64, error) {
	typed = strings.TrimSpace(typed)
	if typed == "" || len(typed) > 40 {
		return 0, fmt.Errorf("type %s", dropExamples)
	}
	value, spelled, ok := split(typed)
	switch {
	case strings.HasPrefix(typed, "-"):
		return 0, fmt.Errorf("%q is below zero; a cup gives no drops back: type %s", typed, dropExamples)
	case !ok:
		return 0, fmt.Errorf("%q has no number that can be read; type %s", typed, dropExamples)
	case !slices.Contains(dropSpellings, spelled):
		return 0, fmt.Errorf("%q is not counted here; this bottle is dosed in drops: type %s", spelled, dropExamples)
	case value != math.Trunc(value):
		return 0, fmt.Errorf("%s drops can't be dripped; type %s or %s", Number(value, 2), Number(math.Floor(value), 0), Number(math.Ceil(value), 0))
	case value > maxTypedDrops:
		return 0, fmt.Errorf("%s drops is no dose; type %s", Number(value, 0), dropExamples)
	}
	return value, nil
}

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
