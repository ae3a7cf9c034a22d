package colour

import (
	"math"
	"strings"
)

// Nearness puts a ΔE00 in the words used throughout: can't be told apart, same bag, close, similar, another colour.
func Nearness(deltaE00 float64) string {
	switch {
	case deltaE00 < 1:
		return "can't be told apart"
	case deltaE00 < 2:
		return "same bag"
	case deltaE00 < 4:
		return "close"
	case deltaE00 < 8:
		return "similar"
	default:
		return "another colour"
	}
}

// Difference is how one colour stands to another, in words and as a figure.
type Difference struct {
	DeltaE00 float64 `json:"deltaE00" doc:"CIEDE2000"`
	Nearness string  `json:"nearness" doc:"can't be told apart, same bag, close, similar, another colour"`
	Words    string  `json:"words" doc:"which way the first leans from the second; empty when they can't be told apart"`
}

// Compare says how `is` differs from `wanted`.
func Compare(is, wanted Lab) Difference {
	d := DeltaE00(wanted, is)
	return Difference{DeltaE00: d, Nearness: Nearness(d), Words: Lean(is, wanted)}
}

// Lean says which way `is` lies from `wanted`: darker or paler first, then the hue it leans to, then
// cleaner or duller, each with its degree. Parts too small to see are left out.
func Lean(is, wanted Lab) string {
	var parts []string
	say := func(size float64, word string) {
		switch {
		case size < 0.8:
		case size < 2.5:
			parts = append(parts, "a touch "+word)
		case size < 8:
			parts = append(parts, word)
		default:
			parts = append(parts, "much "+word)
		}
	}
	// Each part is measured alone, so that its degree means the same in every corner of the colour space.
	lightness := DeltaE00(wanted, Lab{is.L, wanted.A, wanted.B})
	if is.L < wanted.L {
		say(lightness, "darker")
	} else {
		say(lightness, "paler")
	}
	p, q := Lab{50, is.A, is.B}, Lab{50, wanted.A, wanted.B}
	cp, cq := p.Chroma(), q.Chroma()
	if min(cp, cq) < 8 { // near grey a hue angle means little: name the direction of the shift itself
		say(DeltaE00(q, p), hueWord(hueDeg(p.A-q.A, p.B-q.B)))
		return strings.Join(parts, ", ")
	}
	turned := Lab{50, p.A * cq / cp, p.B * cq / cp}
	say(DeltaE00(q, turned), hueWord(hueDeg(turned.A-q.A, turned.B-q.B)))
	chroma := DeltaE00(turned, p)
	if cp < cq {
		say(chroma, "duller")
	} else {
		say(chroma, "cleaner")
	}
	return strings.Join(parts, ", ")
}

// hueWord names the direction of a shift in the a*b* plane.
func hueWord(deg float64) string {
	words := []string{
		"redder", "more orange", "yellower", "more yellow-green", "greener", "more blue-green", "bluer", "more violet",
	}
	return words[int(math.Round(deg/45))%8]
}

// HueName names a colour roughly, for finding it again: black, grey, white, brown or a hue.
func (c Lab) HueName() string {
	chroma, h := c.Chroma(), c.HueDeg()
	switch {
	case c.L < 30 && chroma < 14:
		return "black"
	case chroma < 9 && c.L > 82:
		return "white"
	case chroma < 9:
		return "grey"
	case h >= 30 && h < 100 && c.L < 48 && chroma < 55:
		return "brown"
	}
	for _, band := range []struct {
		below float64
		name  string
	}{{38, "red"}, {72, "orange"}, {108, "yellow"}, {195, "green"}, {285, "blue"}, {330, "violet"}, {352, "pink"}} {
		if h < band.below {
			return band.name
		}
	}
	return "red"
}
