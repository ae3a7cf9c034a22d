package measure

import (
	"fmt"
	"strings"
)

// MaxC is hotter than any bench is.
const MaxC = 260.0

const temperatureExamples = "a temperature such as 350F or 177 °C"

// ParseTemperature reads degrees and gives them in °C. A bare number is refused unless it can only be one of the two.
func ParseTemperature(typed string) (float64, error) {
	value, unit, ok := split(strings.ReplaceAll(typed, "°", " "))
	unit = strings.TrimPrefix(strings.TrimPrefix(unit, "degrees"), "deg")
	unit = strings.TrimSpace(unit)
	switch {
	case strings.HasPrefix(strings.TrimSpace(typed), "-"):
		return 0, fmt.Errorf("%q is out of reach: no bench is below freezing; type %s", typed, temperatureExamples)
	case !ok:
		return 0, fmt.Errorf("%q has no number that can be read; type %s", typed, temperatureExamples)
	}
	var c float64
	switch unit {
	case "f", "fahrenheit":
		c = Celsius(value)
	case "c", "celsius":
		c = value
	case "":
		// plastisol is worked at 160–180 °C, which is 320–360 °F: only above that is there no doubt
		if value < 260 {
			return 0, fmt.Errorf(
				"%s of which degrees? Type %sF or %sC", Number(value, 1), Number(value, 1), Number(value, 1),
			)
		}
		c = Celsius(value)
	default:
		return 0, fmt.Errorf("%q are no degrees that are known here; type %s", unit, temperatureExamples)
	}
	if c < 0 || c > MaxC {
		return 0, fmt.Errorf(
			"%q is out of reach: from 0 to 260 °C (500 °F) is accepted; type %s", typed, temperatureExamples,
		)
	}
	return c, nil
}

// Celsius and Fahrenheit convert degrees.
func Celsius(f float64) float64    { return (f - 32) / 1.8 }
func Fahrenheit(c float64) float64 { return c*1.8 + 32 }

// Degrees says a temperature in both.
func Degrees(c float64) string {
	return Number(Fahrenheit(c), 0) + " °F (" + Number(c, 0) + " °C)"
}

const lengthExamples = "a length such as 4 mm, 1/4 in or .015 in"

// MMPerInch is exact.
const MMPerInch = 25.4

// ParseLength reads a length and gives it in mm.
func ParseLength(typed string) (float64, error) {
	value, unit, ok := split(strings.ReplaceAll(strings.ReplaceAll(typed, "\"", " in"), "″", " in"))
	switch {
	case strings.HasPrefix(strings.TrimSpace(typed), "-"):
		return 0, fmt.Errorf("%q is below zero; type %s", typed, lengthExamples)
	case !ok:
		return 0, fmt.Errorf("%q has no number that can be read; type %s", typed, lengthExamples)
	}
	switch unit {
	case "mm", "millimetre", "millimetres", "millimeter", "millimeters":
	case "cm":
		value *= 10
	case "in", "inch", "inches":
		value *= MMPerInch
	case "thou", "mil", "mils":
		value *= MMPerInch / 1000
	case "":
		return 0, fmt.Errorf("%s of what? Add mm or in", Number(value, 3))
	default:
		return 0, fmt.Errorf("%q is no length that is known here; type %s", unit, lengthExamples)
	}
	if !(value > 0 && value <= 1000) {
		return 0, fmt.Errorf("%q is out of reach; type %s", typed, lengthExamples)
	}
	return value, nil
}

const flakeExamples = "a flake size such as .008, .015, .035 or 0.4 mm"

// ParseFlakeSize reads the size of flake, across the flats, and gives it in inches. A bare number is inches, as the
// trade writes it. A slip of the decimal point is asked back rather than taken.
func ParseFlakeSize(typed string) (float64, error) {
	value, unit, ok := split(strings.ReplaceAll(typed, "\"", " in"))
	if !ok || strings.HasPrefix(strings.TrimSpace(typed), "-") {
		return 0, fmt.Errorf("%q has no size that can be read; type %s", typed, flakeExamples)
	}
	in := value
	switch unit {
	case "", "in", "inch", "inches":
		if value >= 0.125 && value < 1 {
			return 0, fmt.Errorf("%s inch would be a flake of %s mm. Did you mean %s? If not, give it in mm",
				inches(value), Number(value*MMPerInch, 1), inches(value/10))
		}
		if value >= 1 && value <= 125 && unit == "" {
			return 0, fmt.Errorf(
				"%s of what? Type %s for inches, or %s mm", Number(value, 3), inches(value/1000), Number(value, 2),
			)
		}
	case "mm":
		in = value / MMPerInch
	case "thou", "mil", "mils":
		in = value / 1000
	case "micron", "microns", "um", "µm", "μm":
		in = value / 1000 / MMPerInch
	default:
		return 0, fmt.Errorf("%q is no size that is known here; type %s", unit, flakeExamples)
	}
	if !(in >= 0.002 && in <= 0.25) {
		return 0, fmt.Errorf("%q is out of reach for flake: from .002 to .250 in; type %s", typed, flakeExamples)
	}
	return in, nil
}

// inches writes a size the way flake is labelled: .015, .040.
func inches(v float64) string {
	s := fmt.Sprintf("%.3f", v)
	return strings.TrimPrefix(s, "0")
}

// FlakeSize writes a size the way flake is labelled, with its metric reading: ".015 in (0.38 mm)".
func FlakeSize(in float64) string { return inches(in) + " in (" + Number(in*MMPerInch, 2) + " mm)" }
