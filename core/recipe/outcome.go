package recipe

import (
	"slices"
	"strings"

	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// Outcome is how a batch was poured and what came of it, besides its colour.
type Outcome struct {
	Unknown  bool      `json:"unknown,omitempty" doc:"Nobody knows what went in: it teaches nothing, and is compared as it was read alone"`
	Mold     string    `json:"mold,omitempty" maxLength:"64" format:"uid" doc:"uid of the mold it was shot into"`
	HeatsC   []float64 `json:"heatsC,omitempty" maxItems:"40" doc:"Each time the plastic was heated, in order"`
	PouredML float64   `json:"pouredML,omitempty" minimum:"0" maximum:"100000" doc:"Of plastic"`
	LeftML   float64   `json:"leftML,omitempty" minimum:"0" maximum:"100000" doc:"Of plastic, in the cup"`
	Droop    Droop     `json:"droop,omitempty" enum:"stiff,right,limp" doc:"Held level by its head"`
	Pull     Pull      `json:"pull,omitempty" enum:"snaps,slow,tears" doc:"Pulled to twice its length and let go"`
	Float    Float     `json:"float,omitempty" enum:"floats,hovers,sinks" doc:"In a glass of water"`
	Defects  []Defect  `json:"defects,omitempty" maxItems:"8" enum:"short,dents,bubbles,flash,swapped,blended,faded,curled"`
	Fate     Fate      `json:"fate,omitempty" enum:"keep,remelt"`
}

// What the tests on the bench say, and what becomes of the batch; empty where nobody tried.
type (
	Droop string
	Pull  string
	Float string
	Fate  string
)

// Answers are what a test can say, in the order from one end to the other, with their words.
type Answers struct {
	Key    string   `json:"key"`
	Asks   string   `json:"asks"`
	Keys   []string `json:"keys" nullable:"false"`
	Values []string `json:"values" nullable:"false"`
}

// Tests are the tests of a bait that need no instrument.
func Tests() []Answers {
	return []Answers{
		{
			"droop", "Droop: held level by its head",
			[]string{"stiff", "right", "limp"},
			[]string{"stays stiff", "bends as it should", "hangs limp"},
		},
		{
			"pull", "Pull: to twice its length",
			[]string{"snaps", "slow", "tears"},
			[]string{"snaps back", "comes back slowly", "tears"},
		},
		{"float", "In a glass of water", []string{"floats", "hovers", "sinks"}, []string{"floats", "hovers", "sinks"}},
		{"fate", "What becomes of it", []string{"keep", "remelt"}, []string{"kept", "to be remelted"}},
	}
}

// Says is an outcome in a line; "" where nothing is known.
func (o *Outcome) Says() string {
	var said []string
	if n := len(o.HeatsC); n > 0 {
		said = append(said, "last heated to "+measure.Degrees(o.HeatsC[n-1]))
	}
	for i, key := range []string{string(o.Droop), string(o.Pull), string(o.Float), string(o.Fate)} {
		t := Tests()[i]
		if at := slices.Index(t.Keys, key); at >= 0 {
			said = append(said, t.Values[at])
		}
	}
	if o.LeftML > 0 {
		said = append(said, measure.Number(o.LeftML, 0)+" ml left in the cup")
	}
	return strings.Join(said, ", ")
}

// Check says what is wrong with an outcome.
func (o *Outcome) Check() error {
	for _, c := range o.HeatsC {
		if !(c > 0 && c <= measure.MaxC) {
			return measure.Faulty("heatsC", "a heat up to %s is accepted", measure.Degrees(measure.MaxC))
		}
	}
	if len(o.HeatsC) > 40 || len(o.Defects) > len(Defects()) {
		return measure.Faulty("outcome", "up to 40 heats and each defect once are kept")
	}
	if !(o.PouredML >= 0 && o.PouredML <= 1e5) || !(o.LeftML >= 0 && o.LeftML <= 1e5) {
		return measure.Faulty("leftML", "up to 100 litres are accepted")
	}
	if o.Mold != "" && !material.ValidUID(o.Mold) {
		return measure.Faulty("mold", "choose one of your molds")
	}
	for i, said := range []string{string(o.Droop), string(o.Pull), string(o.Float), string(o.Fate)} {
		t := Tests()[i]
		if said != "" && !slices.Contains(t.Keys, said) {
			return measure.Faulty(t.Key, "%s: choose one of the answers", t.Asks)
		}
	}
	for i, d := range o.Defects {
		if !slices.Contains(Defects(), d) {
			return measure.Faulty("defects", "choose from the list what went wrong")
		}
		if slices.Contains(o.Defects[:i], d) {
			return measure.Faulty("defects", "%s is there twice", d.Name())
		}
	}
	return nil
}

// Defect is what can be wrong with a bait that comes out of a mold.
type Defect string

// The defects.
const (
	ShortFill     Defect = "short"
	Dents         Defect = "dents"
	Bubbles       Defect = "bubbles"
	Flash         Defect = "flash"
	SwappedLayers Defect = "swapped"
	BlendedLayers Defect = "blended"
	Faded         Defect = "faded"
	Curled        Defect = "curled"
)

// Defects lists them.
func Defects() []Defect {
	return []Defect{ShortFill, Dents, Bubbles, Flash, SwappedLayers, BlendedLayers, Faded, Curled}
}

// Name says it in words.
func (d Defect) Name() string {
	return map[Defect]string{
		ShortFill: "short fill", Dents: "dents", Bubbles: "bubbles", Flash: "flash", SwappedLayers: "layers swapped",
		BlendedLayers: "layers blended", Faded: "faded or scorched colour", Curled: "curled or greyed flake",
	}[d]
}
