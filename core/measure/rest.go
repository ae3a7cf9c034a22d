package measure

import (
	"fmt"
	"math"
	"strings"
)

// hoursOf are the units in which a rest is told.
var hoursOf = map[string]float64{
	"": 1, "h": 1, "hr": 1, "hrs": 1, "hour": 1, "hours": 1, "min": 1.0 / 60, "mins": 1.0 / 60, "minute": 1.0 / 60,
	"minutes": 1.0 / 60,
	"d":       24, "day": 24, "days": 24, "week": 168, "weeks": 168,
}

// ParseRest reads how long plastic rested, as hours: "24", "2.5 hours", "3 days", "a week".
func ParseRest(typed string) (float64, error) {
	v, unit, ok := split(typed)
	per, known := hoursOf[unit]
	if !ok || !known || strings.Contains(typed, "-") {
		return 0, fmt.Errorf("%q is no rest; type it as 24 hours, 2.5 h or 3 days", typed)
	}
	return v * per, nil
}

// Rest says hours as a maker would: in days from two of them on.
func Rest(hours float64) string {
	if hours < 48 {
		return Number(hours, 1) + " h"
	}
	return Number(math.Round(hours/2.4)/10, 1) + " days"
}
