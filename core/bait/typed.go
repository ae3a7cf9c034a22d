package bait

import (
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"

	"cloudburst/core/measure"
)

// A command takes one measure as a maker typed or dragged it. Molds and designs list theirs by name; Set looks one up.
type command func(typed string) error

// commands are what can be typed of a mold or a bait, by the field's name.
type commands map[string]command

// set gives what was typed to its field. A fault names the field, so that it is said beside it.
func (c commands) set(field, typed string) error {
	err := c[field](typed)
	var fault *measure.Fault
	if err == nil || errors.As(err, &fault) {
		return err
	}
	return measure.Faulty(field, "%s", err)
}

// begin says whether any field's name begins so.
func (c commands) begin(name string) bool {
	for field := range c {
		if strings.HasPrefix(field, name) {
			return true
		}
	}
	return false
}

func text(into *string) command {
	return func(typed string) error { *into = strings.TrimSpace(typed); return nil }
}

func yes(into *bool) command {
	return func(typed string) error { *into = typed == "true"; return nil }
}

func length(into *float64) command { return parsed(into, lengthOf) }

// signedLength is one that may lie on either side of where it is measured from.
func signedLength(into *float64) command {
	return parsed(into, func(typed string) (float64, error) {
		bare, below := strings.CutPrefix(strings.TrimSpace(typed), "-")
		mm, err := lengthOf(bare)
		if below {
			mm = -mm
		}
		return mm, err
	})
}

func parsed(into *float64, read func(string) (float64, error)) command {
	return func(typed string) error {
		v, err := read(typed)
		if err == nil {
			*into = v
		}
		return err
	}
}

// none lets some words stand for nothing.
func none(set command, words ...string) command {
	return func(typed string) error {
		for _, w := range words {
			if strings.TrimSpace(typed) == w {
				return set("0")
			}
		}
		return set(typed)
	}
}

func count(into *int) command {
	return func(typed string) error {
		v, err := strconv.Atoi(strings.TrimSpace(typed))
		if err != nil {
			return fmt.Errorf("%q is no number of cavities", typed)
		}
		*into = v
		return nil
	}
}

// then does something else with what was typed rightly.
func then(set command, do func()) command {
	return func(typed string) error {
		err := set(typed)
		if err == nil {
			do()
		}
		return err
	}
}

// list reads several numbers, parted by commas or blanks; left out are units that may stand among them.
func list(typed, leftOut string, read func(string) (float64, error)) (out []float64, err error) {
	for _, word := range strings.FieldsFunc(typed, func(r rune) bool { return strings.ContainsRune(",; ", r) }) {
		if word = strings.TrimSuffix(word, leftOut); word == "" {
			continue
		}
		v, err := read(word)
		if err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	return out, nil
}

// lengthOf reads a length; a bare number is mm here, where every size is one. Nought is taken.
func lengthOf(typed string) (float64, error) {
	text := strings.TrimSpace(typed)
	if v, err := strconv.ParseFloat(text, 64); err == nil {
		switch {
		case math.IsNaN(v) || v > 1000:
			return 0, fmt.Errorf("%q is out of reach; type a length such as 4 mm or 1/4 in", typed)
		case v < 0:
			return 0, fmt.Errorf("%q is below zero; type a length such as 4 mm or 1/4 in", typed)
		}
		return v, nil
	}
	if strings.TrimSpace(strings.TrimSuffix(text, "mm")) == "0" {
		return 0, nil
	}
	return measure.ParseLength(text)
}

// grams reads a weight: "3 g", "1/4 oz", or a bare number of grams.
func grams(typed string) (float64, error) {
	text := strings.ToLower(strings.TrimSpace(typed))
	times := 1.0
	switch {
	case strings.HasSuffix(text, "oz"):
		text, times = strings.TrimSuffix(text, "oz"), 28.3495
	case strings.HasSuffix(text, "g"):
		text = strings.TrimSuffix(text, "g")
	}
	text = strings.TrimSpace(text)
	if text == "0" || text == "" && typed != "" {
		return 0, nil
	}
	v, err := measure.ParseNumber(text)
	if err != nil || !(v >= 0 && v*times <= 200) {
		return 0, fmt.Errorf("%q can't be read; type a hook's weight, such as 3 g or 1/8 oz", typed)
	}
	return v * times, nil
}

// millilitres reads a volume that may be nothing.
func millilitres(typed string) (float64, error) {
	switch text := strings.TrimSpace(typed); text {
	case "", "0", "0 ml":
		return 0, nil
	default:
		v, err := measure.ParseVolume(text)
		return v.ML, err
	}
}
