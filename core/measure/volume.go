package measure

import (
	"fmt"
	"math"
	"strings"
)

// Volume is an amount of plastic: as typed, and in ml. Plastisol is measured cold, before it is heated.
type Volume struct {
	Typed string  `json:"typed" minLength:"1" maxLength:"40" doc:"As the maker wrote it" example:"1/2 cup"`
	ML    float64 `json:"ml" minimum:"1" maximum:"100000" doc:"Millilitres, measured cold"`
}

// The smallest and largest volumes that are taken for plastic in a cup or pail.
const (
	minVolumeML = 1
	maxVolumeML = 100_000
)

const volumeExamples = "a volume such as 1 cup, 1/2 cup, 8 fl oz, 300 ml or 1 gal"

// ParseVolume reads a volume of plastic. The error says what would be understood.
func ParseVolume(typed string) (Volume, error) {
	typed = strings.TrimSpace(typed)
	if typed == "" || len(typed) > 40 {
		return Volume{}, fmt.Errorf("type %s", volumeExamples)
	}
	value, spelled, ok := split(typed)
	switch {
	case strings.HasPrefix(typed, "-"):
		return Volume{}, fmt.Errorf("%q is below zero; type %s", typed, volumeExamples)
	case !ok:
		return Volume{}, fmt.Errorf("%q has no number that can be read; type %s", typed, volumeExamples)
	case spelled == "":
		return Volume{}, fmt.Errorf("%s of what? Add the unit: cup, fl oz, ml, l, pint, quart or gal", typed)
	}
	u, known := findVolumeUnit(spelled)
	if !known {
		return Volume{}, fmt.Errorf("%q is no unit of volume here; use cup, fl oz, ml, l, pint, quart or gal", spelled)
	}
	v := Volume{Typed: typed, ML: value * u.ml}
	return v, v.Check()
}

// Check says what is wrong with a volume that came from elsewhere.
func (v Volume) Check() error {
	switch {
	case !(v.ML > 0):
		return fmt.Errorf("a cup needs some plastisol: type %s", volumeExamples)
	case v.ML < minVolumeML:
		return fmt.Errorf("%s is less than 1 ml: too little to measure; type %s", v.Typed, volumeExamples)
	case v.ML > maxVolumeML:
		return fmt.Errorf("%s is over 100 litres: more than a cup or a pail holds; type %s", v.Typed, volumeExamples)
	}
	return nil
}

// String is the volume with its metric reading, "1/2 cup (118.3 ml)".
func (v Volume) String() string {
	if strings.HasSuffix(strings.ToLower(v.Typed), "ml") {
		return v.Typed
	}
	return fmt.Sprintf("%s (%s ml)", v.Typed, Number(v.ML, 1))
}

// The share by which a handy volume may be smaller, or larger, than the one that was asked for.
const (
	handyLeast = 0.7
	handyMost  = 1.5
)

// HandyBelow lists volumes below this one that are easily measured in its units, the nearest first: half fluid ounces,
// or 5 ml, and coarser for pails.
func (v Volume) HandyBelow() []Volume { return v.handy(-1) }

// HandyAbove lists those above it.
func (v Volume) HandyAbove() []Volume { return v.handy(1) }

func (v Volume) handy(by float64) []Volume {
	step, unit := FluidOunceML/2, "fl oz"
	if _, spelled, _ := split(v.Typed); spelled == "ml" || spelled == "cc" || strings.HasPrefix(spelled, "mil") ||
		strings.HasPrefix(spelled, "l") {
		step, unit = 5, "ml"
	}
	for v.ML/step > 40 {
		step *= 2
	}
	var out []Volume
	for n := math.Round(v.ML/step) - by; ; n += by {
		ml := n * step
		if ml < handyLeast*v.ML || ml > handyMost*v.ML || ml < minVolumeML || ml > maxVolumeML {
			if len(out) > 0 || n < 1 || ml > handyMost*v.ML {
				return out
			}
			continue
		}
		if by*(ml-v.ML) < 1e-6*v.ML {
			continue
		}
		typed := Number(ml, 0) + " ml"
		if unit != "ml" {
			typed = Number(ml/FluidOunceML, 1) + " fl oz"
		}
		out = append(out, Volume{typed, ml})
	}
}
