package measure

import (
	"fmt"
	"math"
	"regexp"
	"strings"
)

// Form says how a material is dosed, which decides what a typed "oz" or a bare number means.
type Form string

// The forms. Liquids are dripped, or poured by volume; solids are spooned or weighed.
const (
	Liquid Form = "liquid"
	Solid  Form = "solid"
)

const (
	solidExamples  = "a dose such as 1/8 tsp, 1/8 + 1/32 tsp, 2 heaped 1/4 tsp, 1/4 cup, 2.5 g or 3 ml"
	liquidExamples = "a dose such as 12 drops, 12d, 2 ml, 1/2 tsp or 1 fl oz"
	ounceG         = 28.349523
	poundG         = 453.59237
)

func (f Form) examples() string {
	if f == Solid {
		return solidExamples
	}
	return liquidExamples
}

type doseUnit struct {
	unit  Unit
	times float64
	only  Form // empty for both
}

// doseUnits by spelling, lower case, without full stops. "oz" is added by form: weight for solids, volume for liquids.
var doseUnits = func() map[string]doseUnit {
	m := map[string]doseUnit{}
	add := func(u Unit, times float64, only Form, spellings ...string) {
		for _, s := range spellings {
			m[s] = doseUnit{u, times, only}
		}
	}
	add(InDrops, 1, Liquid, "d", "dr", "drop", "drops", "drip", "drips")
	add(InML, 1, "", "ml", "cc", "millilitre", "millilitres", "milliliter", "milliliters", "mls")
	add(InML, FluidOunceML, "", "fl oz", "floz", "fluid ounce", "fluid ounces")
	add(InGrams, 1, "", "g", "gr", "gram", "grams", "gramme", "grammes", "gm")
	add(InGrams, 0.001, "", "mg", "milligram", "milligrams")
	add(InGrams, 1000, "", "kg")
	add(InGrams, poundG, Solid, "lb", "lbs", "pound", "pounds")
	add(InTeaspoons, 1, "", "tsp", "tsps", "t", "ts", "teaspoon", "teaspoons", "teasp")
	add(InTeaspoons, 3, "", "tbsp", "tbs", "tbl", "tablespoon", "tablespoons")
	add(InTeaspoons, TeaspoonsPerCup, "", "cup", "cups", "c")
	return m
}()

func findDoseUnit(spelled string, form Form) (doseUnit, bool) {
	switch spelled {
	case "oz", "ounce", "ounces", "ozs":
		if form == Solid {
			return doseUnit{InGrams, ounceG, Solid}, true
		}
		return doseUnit{InML, FluidOunceML, Liquid}, true
	case "":
		if form == Liquid {
			return doseUnit{InDrops, 1, Liquid}, true
		}
		return doseUnit{}, false
	}
	u, ok := doseUnits[spelled]
	return u, ok && (u.only == "" || u.only == form)
}

var (
	perSuffix  = regexp.MustCompile(`\s*(?:per|/|an?|in a|to the|to a)\s*(cup|c|ounce|oz|fl oz|half cup|1/2 cup|pint|litre|liter|l|100 ml)\s*$`)
	guessWords = regexp.MustCompile(`^(?:some|about|around|roughly|approx|ca|maybe|~)\s*[,:]?\s*(?:about\s+)?`)
	rangeForm  = regexp.MustCompile(`^([0-9./ ,]+?)\s*(?:-|–|to|or)\s*([0-9./ ,]+)(\s*[a-z].*)?$`)
	splitTerms = regexp.MustCompile(`\s*(?:\+|\band\b|&|\bplus\b)\s*`)
	styleWords = regexp.MustCompile(`\b(level(?:led)?|heaped|heaping|rounded|half[- ]full|scant)\b`)
)

// What a word beside a spoon makes of it, as a share of a level one; heaped is the kit's own.
const (
	halfFull = 0.5
	scant    = 0.75
)

// The range of a guess that gave none: from half to half as much again.
const guessSpread = 0.5

// A load given as a share of the finished weight is reckoned in plain plastisol of usual density: the rest of a cup
// weighs about as much.
const (
	plainGML    = 1.03
	mostPercent = 60
)

var byWeight = regexp.MustCompile(`\s*(?:by (?:weight|mass)|w/w|of (?:the )?weight)$`)

// ParseDose reads a dose as typed, for a cup of volumeML: "12 drops", "1/8 + 1/32 tsp", "2 heaped 1/4 tsp", "2.5 g", "3
// drops per oz", "some, 2-5 drops", "tip of the small knife", "a quarter cup", "21 %" of the finished weight. Errors
// say what would be understood.
func (k Kit) ParseDose(typed string, form Form, volumeML float64) (Amount, error) {
	none := Amount{}
	s := strings.Join(strings.Fields(strings.ToLower(vulgarFractions.Replace(typed))), " ")
	s = strings.TrimRight(s, ". ")
	switch {
	case s == "" || len(typed) > 60:
		return none, fmt.Errorf("type %s", form.examples())
	case strings.HasPrefix(s, "-") || strings.HasPrefix(s, "−"):
		return none, fmt.Errorf(
			"%q is below zero; what is in a cup can't be taken out: type %s", typed, form.examples(),
		)
	}
	if share, ok := strings.CutSuffix(byWeight.ReplaceAllString(s, ""), "%"); ok && form == Solid {
		v, rest, ok := split(strings.TrimSpace(share))
		if !ok || rest != "" || v > mostPercent {
			return none, fmt.Errorf(
				"%q is no share of the weight; type 1 to %d %%, or %s", typed, mostPercent, form.examples(),
			)
		}
		return Amount{Value: v / (100 - v) * volumeML * plainGML, Unit: InGrams}.limit(typed, form)
	}
	per, perName := 1.0, ""
	if m := perSuffix.FindStringSubmatchIndex(s); m != nil {
		word := s[m[2]:m[3]]
		head := s[:m[0]]
		// "a cup" after a bare number is a volume ("half a cup of salt"), not a rate.
		if _, unit, ok := split(head); ok && (unit != "" || form == Liquid) && !strings.HasSuffix(head, "half") &&
			!strings.HasSuffix(head, "quarter of") {
			s, perName = head, word
			per = volumeML / map[string]float64{
				"cup": CupML, "c": CupML, "ounce": FluidOunceML, "oz": FluidOunceML, "fl oz": FluidOunceML,
				"half cup": CupML / 2, "1/2 cup": CupML / 2, "pint": PintML, "litre": LitreML, "liter": LitreML,
				"l":      LitreML,
				"100 ml": 100,
			}[word]
		}
	}
	guess := guessWords.MatchString(s)
	s = guessWords.ReplaceAllString(s, "")
	if guess && s == "" {
		return none, fmt.Errorf(
			"some is fine: say about how much, such as %q or %q", "some, about 3 "+guessUnit(form),
			"2-5 "+guessUnit(form),
		)
	}
	if m := rangeForm.FindStringSubmatch(s); m != nil {
		low, err := k.sum(m[1]+m[3], typed, form)
		if err != nil {
			return none, err
		}
		high, err := k.sum(m[2]+m[3], typed, form)
		if err != nil {
			return none, err
		}
		if !(low.Value < high.Value) {
			return none, fmt.Errorf("%q runs backwards; write the smaller figure first, such as 2-5 drops", typed)
		}
		return Amount{(low.Value + high.Value) / 2, low.Unit, low.Value, high.Value}.Times(per).limit(typed, form)
	}
	a, err := k.sum(s, typed, form)
	if err != nil {
		return none, err
	}
	a = a.Times(per)
	if guess {
		a.Low, a.High = a.Value*(1-guessSpread), a.Value*(1+guessSpread)
	} else if a.Unit == InDrops && per == 1 && a.Value != math.Trunc(a.Value) {
		return none, fmt.Errorf(
			"%s can't be dripped; type %s or %s", Drops(a.Value), Number(math.Floor(a.Value), 0),
			Number(math.Ceil(a.Value), 0),
		)
	} else if a.Unit == InDrops && perName != "" {
		a.Value, _ = WholeDrops(a.Value)
	}
	return a.limit(typed, form)
}

func guessUnit(f Form) string {
	if f == Solid {
		return "g"
	}
	return "drops"
}

func (a Amount) limit(typed string, form Form) (Amount, error) {
	if most := map[Unit]float64{
		InDrops: maxTypedDrops, InML: 50_000, InGrams: 100_000, InTeaspoons: 20_000,
	}[a.Unit]; a.most() > most {
		return a, fmt.Errorf("%q is no dose for a cup; type %s", typed, form.examples())
	}
	return a, nil
}

// sum adds the terms of "1/8 + 1/32 tsp" or "1/2 tsp and 2 heaped 1/8 tsp".
func (k Kit) sum(s, typed string, form Form) (Amount, error) {
	terms := splitTerms.Split(s, -1)
	var total Amount
	// A unit said once, at the end, holds for all of a sum: 1/8 + 1/32 tsp.
	_, lastUnit, _ := split(styleless(terms[len(terms)-1]))
	for i, term := range terms {
		a, err := k.term(term, lastUnit, typed, form)
		if err != nil {
			return total, err
		}
		if i == 0 {
			total = a
			continue
		}
		sum, ok := total.Plus(a)
		if !ok {
			return total, fmt.Errorf(
				"%q adds %s to %s; give one dose in one unit", typed, unitName(a.Unit), unitName(total.Unit),
			)
		}
		total = sum
	}
	return total, nil
}

func unitName(u Unit) string {
	if u == InTeaspoons {
		return "spoons"
	}
	return string(u)
}

func styleless(term string) string {
	return strings.TrimRight(strings.Join(strings.Fields(styleWords.ReplaceAllString(term, " ")), " "), " ,")
}

// term reads one number and its unit, with a word for how full the spoon is.
func (k Kit) term(term, lastUnit, typed string, form Form) (Amount, error) {
	fill := 1.0
	term = halfSpoon.ReplaceAllString(term, "half-full $1")
	style := styleWords.FindString(term)
	switch {
	case style == "heaped", style == "heaping", style == "rounded":
		fill = k.Heaped
	case strings.HasPrefix(style, "half"):
		fill = halfFull
	case style == "scant":
		fill = scant
	}
	if style != "" {
		term = strings.Trim(styleless(term), " ,")
	}
	for _, n := range k.Named {
		if count, ok := k.named(term, n); ok {
			return Amount{Value: count * fill * n.ML / TeaspoonML, Unit: InTeaspoons}.onlyFor(form, typed)
		}
	}
	// "2 x 1/4 tsp", "2 heaped 1/4 tsp": a count of spoons of a size.
	times := 1.0
	if m := countOf.FindStringSubmatch(term); m != nil && (m[2] != "" || style != "") {
		n, _ := plain(m[1])
		times, term = n, m[3]
	}
	value, spelled, ok := split(term)
	if !ok {
		if term == "" {
			return Amount{}, fmt.Errorf("%q lacks a figure; type %s", typed, form.examples())
		}
		return Amount{}, fmt.Errorf("%q has no number that can be read; type %s", term, form.examples())
	}
	spelled, _, _ = strings.Cut(strings.Trim(spelled, ", "), " of ") // "of salt"
	if spelled == "" {
		spelled = lastUnit
	}
	u, known := findDoseUnit(spelled, form)
	switch {
	case !known && spelled == "" && form == Solid:
		return Amount{}, fmt.Errorf(
			"%s of what? Add the unit: tsp, g, ml or cup. %s", Number(value, 4), flakeSizeHint(value),
		)
	case !known && doseUnits[spelled].only == Liquid:
		return Amount{}, fmt.Errorf("powders, flake and salt are not dripped; type %s", solidExamples)
	case !known && form == Solid:
		return Amount{}, fmt.Errorf(
			"%q is no unit that is known here; weigh it once and it becomes a measure of your own, or type %s", spelled,
			form.examples(),
		)
	case !known:
		return Amount{}, fmt.Errorf("%q is no unit that is known here; type %s", spelled, form.examples())
	case style != "" && u.unit != InTeaspoons:
		return Amount{}, fmt.Errorf("only spoons are %s; type %s", style, form.examples())
	}
	return Amount{Value: tidy(times * value * u.times * fill), Unit: u.unit}, nil
}

var halfSpoon = regexp.MustCompile(`\bhalf (\d)`) // "half 1/4 tsp" is a spoon filled by half

var countOf = regexp.MustCompile(`^(\d+)\s*(x|×|\*)?\s+?((?:\d+/\d+|\.\d+|\d+\.\d+|\d+)\s*[a-z].*)$`)

func (a Amount) onlyFor(form Form, typed string) (Amount, error) {
	if form == Liquid {
		return a, fmt.Errorf("%q is a measure for powders; this bottle is dripped: type %s", typed, liquidExamples)
	}
	return a, nil
}

// flakeSizeHint asks back where a flake's size was typed for its dose.
func flakeSizeHint(v float64) string {
	if v >= 0.004 && v <= 0.125 && v != 0.125 {
		return fmt.Sprintf(
			"If %s is the flake's size in inches, it belongs on the shelf, not in the dose",
			strings.TrimPrefix(Number(v, 4), "0"),
		)
	}
	return "For example 1/8 tsp"
}

// named reads "2 tips of the small knife" or just the name.
func (k Kit) named(term string, n NamedMeasure) (float64, bool) {
	name := strings.Join(strings.Fields(strings.ToLower(n.Name)), " ")
	if term == name {
		return 1, true
	}
	head, found := strings.CutSuffix(term, name)
	if !found { // "2 tips of the knife"
		first, rest, _ := strings.Cut(name, " ")
		if head, found = strings.CutSuffix(term, strings.TrimSpace(first+"s "+rest)); !found {
			return 0, false
		}
	}
	head = strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(head), "x"))
	if head == "" {
		return 1, true
	}
	v, rest, ok := split(head)
	return v, ok && rest == ""
}
