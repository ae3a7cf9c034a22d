package colour

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"unicode"
)

// SaidError is how far off, in ΔE00, a colour from words alone is expected to be.
const SaidError = 10.0

// Typical colours of the words that makers use for one; our own estimates.
var saidHues = map[string]Lab{
	"black": {14, 0, 0}, "grey": {56, 0, 0}, "white": {93, 0, 2}, "silver": {76, 0, 0}, "smoke": {48, 0, 3},
	"brown": {36, 15, 23}, "rust": {42, 38, 40}, "sand": {74, 4, 23}, "straw": {82, 0, 38}, "bone": {87, 1, 12},
	"cream": {90, 2, 19},
	"red":   {42, 58, 36}, "pink": {68, 44, -8}, "orange": {63, 42, 62}, "amber": {64, 22, 60}, "gold": {66, 10, 55},
	"yellow": {84, 3, 78},
	"olive":  {46, -7, 38}, "moss": {40, -12, 28}, "green": {46, -42, 32}, "teal": {46, -32, -8}, "blue": {38, 4, -48},
	"violet": {36, 38, -44}, "purple": {34, 42, -36}, "peat": {24, 6, 14}, "slate": {42, -2, -8},
}

// What a word does to the colour that it stands with: lightness is moved a share of the way to an end, chroma
// multiplied.
var saidWays = map[string]struct{ to, share, chroma float64 }{
	"dark": {0, 0.4, 0.85}, "deep": {0, 0.3, 1.1}, "light": {100, 0.35, 0.8}, "pale": {100, 0.5, 0.55},
	"bright": {100, 0.12, 1.25}, "clean": {50, 0, 1.25}, "dull": {50, 0, 0.55}, "muddy": {40, 0.15, 0.5},
	"dirty": {40, 0.1, 0.6},
}

var saidLeans = map[string]string{
	"reddish": "red", "pinkish": "pink", "brownish": "brown", "yellowish": "yellow", "golden": "gold",
	"greenish": "green", "bluish": "blue", "greyish": "grey", "blackish": "black", "whitish": "white", "milky": "white",
}

// FromWords makes a colour of a few words: hues, each named by its word, the last of which counts double, with what
// they lean to and how dark or dull they are. It is a start for a search and no measurement. Errors name the word that
// was not understood.
func FromWords(text string) (Lab, error) {
	words := strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) })
	var sum Lab
	weight, last := 0.0, Lab{}
	add := func(c Lab, w float64) {
		sum.L, sum.A, sum.B = sum.L+w*c.L, sum.A+w*c.A, sum.B+w*c.B
		weight += w
	}
	hues := 0
	for _, w := range words {
		if c, ok := saidHues[w]; ok {
			add(c, 1)
			last = c
			hues++
		} else if hue, ok := saidLeans[w]; ok {
			add(saidHues[hue], 0.35)
		} else if _, ok := saidWays[w]; !ok && !littleWord[w] {
			return Lab{}, fmt.Errorf(
				"“%s” is no colour word that is known here; say it as in “dark dull olive” or “pale greenish straw”", w,
			)
		}
	}
	if hues == 0 {
		return Lab{}, errors.New("name a colour, as in “dark dull olive” or “pale greenish straw”")
	}
	add(last, 1)
	c := Lab{sum.L / weight, sum.A / weight, sum.B / weight}
	for _, w := range words {
		if way, ok := saidWays[w]; ok {
			c.L += way.share * (way.to - c.L)
			c.A, c.B = c.A*way.chroma, c.B*way.chroma
		}
	}
	c.L = math.Min(96, math.Max(6, c.L))
	return c, nil
}

var littleWord = map[string]bool{
	"a": true, "and": true, "very": true, "with": true, "the": true, "of": true, "rather": true, "quite": true,
}
