// Package logbook is what was poured and how it fished: entries in a maker's own words, found again by words, tags,
// season and colour.
//
// Read entry.go.
//
// Units: counts; days as YYYY-MM-DD.
//
// Source: the makers' own habits (docs/model.md, "Logbook").
package logbook

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"cloudburst/core/colour"
	"cloudburst/core/measure"
)

// Entry is one: of a run, or of a day at the water.
type Entry struct {
	Title   string      `json:"title" minLength:"1" maxLength:"80"`
	Day     string      `json:"day" maxLength:"10" doc:"YYYY-MM-DD"`
	Words   string      `json:"words,omitempty" maxLength:"4000" doc:"In the maker's own words"`
	Tags    []string    `json:"tags" nullable:"false" maxItems:"12"`
	Water   string      `json:"water,omitempty" maxLength:"40" doc:"Clear, green, stained, muddy, or in other words"`
	Light   string      `json:"light,omitempty" maxLength:"40"`
	Forage  string      `json:"forage,omitempty" maxLength:"80"`
	Rig     string      `json:"rig,omitempty" maxLength:"80"`
	Good    int         `json:"good" minimum:"0" maximum:"100000" doc:"Baits that were poured"`
	Spoiled int         `json:"spoiled" minimum:"0" maximum:"100000"`
	Caught  int         `json:"caught" minimum:"0" maximum:"100000" doc:"Fish"`
	Sold    int         `json:"sold" minimum:"0" maximum:"100000" doc:"Packs"`
	Photo   string      `json:"photo,omitempty" maxLength:"64" format:"uid"`
	Recipe  string      `json:"recipe,omitempty" maxLength:"64" format:"uid" doc:"What was poured or fished"`
	Colour  *colour.Lab `json:"colour,omitempty" doc:"Of what was poured or fished, as a body over white"`
}

// Season is a time of the year.
type Season string

// The seasons, as anglers of the north reckon them: by whole months.
const (
	Spring Season = "spring"
	Summer Season = "summer"
	Autumn Season = "autumn"
	Winter Season = "winter"
)

// Seasons lists them.
func Seasons() []Season { return []Season{Spring, Summer, Autumn, Winter} }

// Season is that of an entry's day.
func (e *Entry) Season() Season {
	day, err := time.Parse(time.DateOnly, e.Day)
	if err != nil {
		return ""
	}
	return []Season{
		Winter, Winter, Spring, Spring, Spring, Summer, Summer, Summer, Autumn, Autumn, Autumn, Winter,
	}[day.Month()-1]
}

// Tidy brings tags into one form: small letters, each once.
func (e *Entry) Tidy() {
	tags := []string{}
	for _, t := range e.Tags {
		t = strings.ToLower(strings.Trim(strings.TrimSpace(t), "#"))
		if t != "" && !slices.Contains(tags, t) {
			tags = append(tags, t)
		}
	}
	e.Tags = tags
}

// Check says what is wrong with an entry.
func (e *Entry) Check() error {
	if err := measure.CheckName("title", "the entry", e.Title, 80); err != nil {
		return err
	}
	if _, err := time.Parse(time.DateOnly, e.Day); err != nil {
		return measure.Faulty("day", "%q is no day; write it as 2026-03-31", e.Day)
	}
	for _, f := range []struct {
		field, text string
		most        int
	}{{"words", e.Words, 4000}, {"water", e.Water, 40}, {"light", e.Light, 40}, {"forage", e.Forage, 80}, {"rig", e.Rig, 80}} {
		if err := measure.CheckNote(f.field, f.text); err != nil {
			return err
		}
		if len(f.text) > f.most {
			return measure.Faulty(f.field, "up to %d letters are kept", f.most)
		}
	}
	if len(e.Tags) > 12 {
		return measure.Faulty("tags", "up to twelve tags are kept")
	}
	for _, t := range e.Tags {
		if len(t) > 30 {
			return measure.Faulty("tags", "%q is long for a tag; up to 30 letters", t)
		}
		if err := measure.CheckLine("tags", t); err != nil {
			return err
		}
	}
	for _, n := range []struct {
		field string
		is    int
	}{{"good", e.Good}, {"spoiled", e.Spoiled}, {"caught", e.Caught}, {"sold", e.Sold}} {
		if n.is < 0 || n.is > 100_000 {
			return measure.Faulty(n.field, "a count is 0 or more")
		}
	}
	return nil
}

// Text is all that an entry is found by, in small letters; tags with a # before.
func (e *Entry) Text() string {
	parts := []string{e.Title, e.Words, e.Water, e.Light, e.Forage, e.Rig, string(e.Season())}
	for _, t := range e.Tags {
		parts = append(parts, "#"+t)
	}
	return strings.ToLower(strings.Join(parts, "\n"))
}

// Sought are the words of a question that an entry has to have: "what worked in stained water in spring?" is stained
// and spring.
func Sought(typed string) []string {
	empty := map[string]bool{
		"what": true, "worked": true, "in": true, "the": true, "a": true, "an": true, "was": true, "that": true,
		"on":  true,
		"for": true, "of": true, "and": true, "with": true,
		"water": true, "which": true, "did": true, "by": true, "we": true, "i": true, "when": true, "at": true,
		"it": true,
		"is": true,
	}
	var out []string
	for _, w := range strings.FieldsFunc(
		strings.ToLower(typed), func(r rune) bool { return strings.ContainsRune(" ,.;:?!\"'()\t\n", r) },
	) {
		if !empty[w] && !slices.Contains(out, w) {
			out = append(out, w)
		}
	}
	return out[:min(len(out), 8)]
}

// Says is an entry in a line: what came of it.
func (e *Entry) Says() string {
	var said []string
	add := func(n int, one, many string) {
		switch {
		case n == 1:
			said = append(said, "1 "+one)
		case n > 1:
			said = append(said, fmt.Sprintf("%d %s", n, many))
		}
	}
	add(e.Good, "bait", "baits")
	add(e.Spoiled, "spoiled", "spoiled")
	add(e.Caught, "fish", "fish")
	add(e.Sold, "pack sold", "packs sold")
	return strings.Join(said, ", ")
}
