package measure

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// Unit is what an amount is counted in, for one cup.
type Unit string

// The units of a dose. Teaspoons are level; a heaped one counts as more (see Kit).
const (
	InDrops     Unit = "drops"
	InML        Unit = "ml"
	InGrams     Unit = "g"
	InTeaspoons Unit = "tsp"
)

// Amount is how much of a thing goes into a cup. Low and High bound an estimate; both are 0 where it was measured.
type Amount struct {
	Value float64 `json:"value" minimum:"0" maximum:"1000000"`
	Unit  Unit    `json:"unit" enum:"drops,ml,g,tsp"`
	Low   float64 `json:"low,omitempty" minimum:"0" maximum:"1000000" doc:"An estimate: at least this"`
	High  float64 `json:"high,omitempty" minimum:"0" maximum:"1000000" doc:"An estimate: at most this"`
}

// DropCount is an amount of whole or part drops.
func DropCount(n float64) Amount { return Amount{Value: n, Unit: InDrops} }

// Estimated says whether the amount is a guess with a range.
func (a Amount) Estimated() bool { return a.High > 0 }

// Times is the amount, and its range, multiplied.
func (a Amount) Times(f float64) Amount {
	return Amount{tidy(a.Value * f), a.Unit, tidy(a.Low * f), tidy(a.High * f)}
}

// Plus adds two amounts of the same unit; ok is false if they are not. A guess added to a count is a guess.
func (a Amount) Plus(b Amount) (sum Amount, ok bool) {
	if a.Unit != b.Unit {
		return a, false
	}
	sum = Amount{Value: tidy(a.Value + b.Value), Unit: a.Unit}
	if a.Estimated() || b.Estimated() {
		sum.Low, sum.High = tidy(a.least()+b.least()), tidy(a.most()+b.most())
	}
	return sum, true
}

func (a Amount) least() float64 {
	if a.Estimated() {
		return a.Low
	}
	return a.Value
}

func (a Amount) most() float64 {
	if a.Estimated() {
		return a.High
	}
	return a.Value
}

// AtLeast and AtMost are the ends of an estimate, as plain amounts.
func (a Amount) AtLeast() Amount { return Amount{Value: a.least(), Unit: a.Unit} }

// AtMost is the upper end of an estimate.
func (a Amount) AtMost() Amount { return Amount{Value: a.most(), Unit: a.Unit} }

// tidy removes what adding thirds leaves behind, so that a third three times is one.
func tidy(v float64) float64 {
	if n := math.Round(v*192) / 192; math.Abs(v-n) < 1e-12 {
		return n
	}
	return v
}

// Check says what is wrong with an amount that came from elsewhere.
func (a Amount) Check() error {
	switch {
	case !slices.Contains([]Unit{InDrops, InML, InGrams, InTeaspoons}, a.Unit):
		return fmt.Errorf("%q is no unit of a dose; use drops, ml, g or tsp", a.Unit)
	case !(a.Value >= 0) || math.IsInf(a.Value, 0):
		return fmt.Errorf("an amount is 0 or more")
	case a.Estimated() && !(a.Low >= 0 && a.Low <= a.Value && a.Value <= a.High):
		return fmt.Errorf("an estimate lies between its least and its most")
	}
	return nil
}

// String says an amount as a maker would: "12 drops", "1/8 tsp + 1/32 tsp", "2.5 g".
func (a Amount) String() string {
	if a.Estimated() {
		return "some, " + Figures(a.Low) + "-" + Figures(a.High) + " " + string(a.Unit)
	}
	switch a.Unit {
	case InDrops:
		return Drops(a.Value)
	case InTeaspoons:
		return Spoons(a.Value)
	}
	return Figures(a.Value) + " " + string(a.Unit)
}

// Spoons says teaspoons in the fractions that spoons are made in: "1 1/8 tsp", "1/8 tsp + 1/32 tsp", else
// decimals. A quarter cup and more are said in cups.
func Spoons(tsp float64) string {
	if cups := tsp / TeaspoonsPerCup; cups >= 0.25 && isMultiple(cups, 0.25) {
		if cups <= 1 {
			return mixed(cups, 4) + " cup"
		}
		return mixed(cups, 4) + " cups"
	}
	if tsp == 0 || !isMultiple(tsp, 1.0/64) {
		return Figures(tsp) + " tsp"
	}
	sixty := int(math.Round(tsp * 64))
	whole, rest := sixty/64, sixty%64
	var parts []string
	for _, den := range []int{2, 4, 8, 16, 32, 64} {
		if n := 64 / den; rest >= n {
			count := rest / n
			rest -= count * n
			parts = append(parts, fmt.Sprintf("%d/%d", count, den))
		}
	}
	// 1/2 + 1/4 is 3/4: join halves and quarters, which makers do say in one.
	if len(parts) > 1 && parts[0] == "1/2" && parts[1] == "1/4" {
		parts = append([]string{"3/4"}, parts[2:]...)
	}
	switch {
	case len(parts) == 0:
		return fmt.Sprintf("%d tsp", whole)
	case whole > 0:
		parts[0] = fmt.Sprintf("%d %s", whole, parts[0])
	}
	return strings.Join(parts, " tsp + ") + " tsp"
}

// TeaspoonsPerCup is 48 but for the sixth digit, since both measures are rounded.
const TeaspoonsPerCup = CupML / TeaspoonML

func isMultiple(v, of float64) bool {
	n := math.Round(v / of)
	return n > 0 && math.Abs(v-n*of) < 1e-9
}

func mixed(v float64, den int) string {
	n := int(math.Round(v * float64(den)))
	whole, top := n/den, n%den
	for top > 0 && top%2 == 0 && den%2 == 0 {
		top, den = top/2, den/2
	}
	switch {
	case top == 0:
		return fmt.Sprint(whole)
	case whole == 0:
		return fmt.Sprintf("%d/%d", top, den)
	}
	return fmt.Sprintf("%d %d/%d", whole, top, den)
}
