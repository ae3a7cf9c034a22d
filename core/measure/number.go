package measure

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

var numberWords = map[string]float64{
	"half a": 0.5, "half an": 0.5, "half": 0.5, "a half": 0.5, "quarter of a": 0.25, "a quarter of a": 0.25,
	"a quarter": 0.25,
	"quarter":   0.25, "a third of a": 1.0 / 3, "three quarters of a": 0.75, "three quarters": 0.75,
	"two thirds of a": 2.0 / 3, "two thirds": 2.0 / 3, "a": 1, "an": 1, "one": 1, "two": 2, "three": 3, "four": 4,
}

var vulgarFractions = strings.NewReplacer(
	"½", " 1/2", "¼", " 1/4", "¾", " 3/4", "⅓", " 1/3", "⅔", " 2/3", "⅛", " 1/8", "⅜", " 3/8", "⅝", " 5/8",
	"⅞", " 7/8",
	"⁄", "/", "\u00a0", " ",
)

// split takes what was typed apart into a number and the unit's spelling. ok is false where no number leads.
func split(typed string) (value float64, unit string, ok bool) {
	s := strings.Join(strings.Fields(strings.ToLower(vulgarFractions.Replace(typed))), " ")
	s = strings.NewReplacer(" / ", "/", " /", "/", "/ ", "/").Replace(s)
	for n := min(3, strings.Count(s, " ")); n >= 0; n-- { // the longest run of words that is a number
		words := strings.SplitN(s, " ", n+2)
		if v, isWord := numberWords[strings.Join(words[:min(n+1, len(words))], " ")]; isWord {
			return v, cleanUnit(strings.Join(words[min(n+1, len(words)):], " ")), true
		}
	}
	end := strings.IndexFunc(s, func(r rune) bool { return !strings.ContainsRune("0123456789./, ", r) })
	if end < 0 {
		end = len(s)
	}
	value, ok = number(strings.TrimRight(s[:end], " ."))
	return value, cleanUnit(s[end:]), ok
}

func cleanUnit(s string) string {
	return strings.Join(strings.Fields(strings.ReplaceAll(strings.TrimPrefix(s, "of "), ".", " ")), " ")
}

// number reads "2", "1/2", "1 1/2", ".5", "1.5" and "1,5".
func number(s string) (float64, bool) {
	whole, rest, mixed := strings.Cut(s, " ")
	if mixed {
		w, ok1 := plain(whole)
		f, ok2 := fraction(rest)
		return w + f, ok1 && ok2 && w == math.Trunc(w) && f < 1
	}
	if strings.Contains(s, "/") {
		return fraction(s)
	}
	return plain(s)
}

func fraction(s string) (float64, bool) {
	top, bottom, cut := strings.Cut(s, "/")
	t, ok1 := plain(strings.TrimSpace(top))
	b, ok2 := plain(strings.TrimSpace(bottom))
	return t / b, cut && ok1 && ok2 && b > 0
}

func plain(s string) (float64, bool) {
	if whole, after, comma := strings.Cut(s, ","); comma {
		// "1,5" is one and a half; "1,000" may be a thousand or one: ask rather than guess.
		if len(after) == 0 || len(after) > 2 || strings.ContainsAny(after, ".,") {
			return 0, false
		}
		s = whole + "." + after
	}
	v, err := strconv.ParseFloat(s, 64)
	return v, err == nil && !math.IsInf(v, 0) && !strings.ContainsAny(s, "xpn_")
}

// ParseNumber reads a plain figure: "2", "1/2", "1 1/2", ".5", "1,5".
func ParseNumber(typed string) (float64, error) {
	v, unit, ok := split(typed)
	if !ok || unit != "" || strings.HasPrefix(strings.TrimSpace(typed), "-") {
		return 0, fmt.Errorf("%q is no figure; type one such as 0.05 or 1/2", typed)
	}
	return v, nil
}

// Number writes a value as a maker would: at most `places` decimals, no trailing zeros.
func Number(v float64, places int) string {
	s := strconv.FormatFloat(v, 'f', places, 64)
	if strings.Contains(s, ".") {
		s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	if s == "-0" {
		return "0"
	}
	return s
}

// Figures writes a number with as many places as anyone measures, three figures or so: 147.9, 26.4, 8.74, 0.0312.
func Figures(v float64) string {
	switch {
	case v >= 10:
		return Number(v, 1)
	case v >= 1:
		return Number(v, 2)
	case v >= 0.1 || v == 0:
		return Number(v, 3)
	case v >= 1e-6:
		return Number(v, 2-int(math.Floor(math.Log10(v))))
	}
	return strconv.FormatFloat(v, 'g', 3, 64)
}

// Seconds says a span of time as one waits it: seconds up to a minute and a half, then minutes.
func Seconds(s float64) string {
	if s < 90 {
		return Plural(max(1, math.Round(s)), "second")
	}
	return Plural(math.Round(s/30)/2, "minute")
}

// Plural is a number of things: 1 hole, 2 holes.
func Plural(n float64, one string) string {
	if n == 1 {
		return "1 " + one
	}
	return Number(n, 1) + " " + one + "s"
}
