package measure

import (
	"strings"
	"unicode"
	"unicode/utf8"
)

// CheckName says what is wrong with the name of a thing: it has 1 to most letters, all of which can be seen.
func CheckName(field, thing, name string, most int) error {
	if n := utf8.RuneCountInString(strings.TrimSpace(name)); n == 0 || n > most {
		return Faulty(field, "give %s a name of 1 to %d letters, so that you find it again", thing, most)
	}
	return CheckLine(field, name)
}

// CheckLine says whether a line holds what can't be seen: control characters, marks of no width, or marks that turn the
// direction of writing. With them two names can look the same, and a name can read as what it is not.
func CheckLine(field, text string) error { return checkSeen(field, text, false) }

// CheckNote is the same for text of several lines.
func CheckNote(field, text string) error { return checkSeen(field, text, true) }

func checkSeen(field, text string, lines bool) error {
	if !utf8.ValidString(text) {
		return Faulty(field, "this holds bytes that are no letters; type it anew")
	}
	for _, r := range text {
		switch {
		case lines && (r == '\n' || r == '\t' || r == '\r'):
		case unicode.IsControl(r), unicode.In(
			r, unicode.Cf, unicode.Co, unicode.Zl, unicode.Zp, unicode.Other_Default_Ignorable_Code_Point,
		),
			r == utf8.RuneError, r == '\u2800':
			return Faulty(field, "this holds a mark that can't be seen (U+%04X); type it anew instead of pasting it", r)
		}
	}
	return nil
}
