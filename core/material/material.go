package material

import (
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"cloudburst/core/measure"
)

// Kind is what a material is for.
type Kind string

// The kinds of material.
const (
	KindPlastisol Kind = "plastisol"
	KindColourant Kind = "colourant"
	KindPowder    Kind = "powder"
	KindFlake     Kind = "flake"
	KindAdditive  Kind = "additive"
)

// Origin says where a value came from, least sure first.
type Origin string

// The origins of a value.
const (
	Typical  Origin = "typical"  // of its family; nobody measured this bottle
	Maker    Origin = "maker"    // from the maker's sheet
	Measured Origin = "measured" // by the owner of the bottle
	NoneSaid Origin = "none"     // its maker gives none (heat limits)
	Survived Origin = "survived" // it has been that hot, so often, and came through (heat limits)
)

// Value is a number with its origin; the unit is in the name of the field that holds it.
type Value struct {
	Value  float64 `json:"value"`
	Origin Origin  `json:"origin" enum:"typical,maker,measured"`
}

// Material is one bottle or jug on the shelf. Exactly one of its parts, the one of its kind, is set.
type Material struct {
	UID       string     `json:"uid" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"Names the bottle for good, in every file and shop"`
	Kind      Kind       `json:"kind" enum:"plastisol,colourant,powder,flake,additive"`
	Name      string     `json:"name" minLength:"1" maxLength:"80" doc:"The maker's own name for it"`
	Family    string     `json:"family,omitempty" maxLength:"80" doc:"Family of typical values it started from"`
	Note      string     `json:"note,omitempty" maxLength:"2000"`
	Replaces  string     `json:"replaces,omitempty" maxLength:"64" format:"uid" doc:"uid of the bottle of the same stuff before this one"`
	Heat      *HeatLimit `json:"heat,omitempty"`
	Plastisol *Plastisol `json:"plastisol,omitempty"`
	Colourant *Colourant `json:"colourant,omitempty"`
	Powder    *Powder    `json:"powder,omitempty"`
	Flake     *Flake     `json:"flake,omitempty"`
	Additive  *Additive  `json:"additive,omitempty"`
}

// HeatLimit is how hot a material may get, and how that is known.
type HeatLimit struct {
	MaxC   float64 `json:"maxC" minimum:"0" maximum:"260" doc:"°C; 0 where nobody says"`
	Origin Origin  `json:"origin" enum:"typical,maker,measured,none,survived"`
	Heats  int     `json:"heats,omitempty" minimum:"0" maximum:"1000" doc:"How many heats to that it has survived"`
}

// Words says a heat limit with where it comes from.
func (h *HeatLimit) Words() string {
	if h == nil || h.Origin == NoneSaid || h.MaxC == 0 {
		return "its maker gives no heat limit"
	}
	deg := measure.Degrees(h.MaxC)
	switch h.Origin {
	case Survived:
		return fmt.Sprintf("survived %d heats at %s", h.Heats, deg)
	case Maker:
		return "up to " + deg + ", says its maker"
	case Measured:
		return "up to " + deg + ", tried by you"
	}
	return "up to " + deg + " is typical; ask its maker"
}

func (h *HeatLimit) check() error {
	if h == nil {
		return nil
	}
	if !slices.Contains([]Origin{Typical, Maker, Measured, NoneSaid, Survived}, h.Origin) {
		return fmt.Errorf("heat: origin %q is none of typical, maker, measured, none, survived", h.Origin)
	}
	return firstOf(inRange("heat.maxC", h.MaxC, 0, 260), inRange("heat.heats", float64(h.Heats), 0, 1000))
}

var uidPattern = regexp.MustCompile(UIDPattern(false))

// UIDPattern is what a uid looks like, as a regular expression; empty says whether none will do, too.
func UIDPattern(empty bool) string {
	if empty {
		return `^([a-z0-9][a-z0-9-]{0,63})?$`
	}
	return `^[a-z0-9][a-z0-9-]{0,63}$`
}

// ValidUID says whether a text can name a material or a recipe for good.
func ValidUID(uid string) bool { return uidPattern.MatchString(uid) }

// Check says what is wrong with a material, as a Fault at its field, or returns nil.
func (m *Material) Check() error {
	err := m.check()
	var f *measure.Fault
	if err == nil || errors.As(err, &f) {
		return err
	}
	field, _, _ := strings.Cut(err.Error(), ":")
	return &measure.Fault{Field: field, Says: err.Error()}
}

func (m *Material) check() error {
	if !ValidUID(m.UID) {
		return fmt.Errorf("uid %q: use up to 64 small letters, digits and hyphens", m.UID)
	}
	for _, err := range []error{
		measure.CheckName(
			"name", "the material", m.Name, 80,
		), measure.CheckLine("family", m.Family), measure.CheckNote("note", m.Note),
	} {
		if err != nil {
			return err
		}
	}
	if len(m.Family) > 80 || len(m.Note) > 2000 {
		return fmt.Errorf("note: keep a note under 2,000 letters and a family's name under 80")
	}
	if err := m.Heat.check(); err != nil {
		return err
	}
	if m.Replaces != "" && !ValidUID(m.Replaces) {
		return fmt.Errorf("replaces %q: use up to 64 small letters, digits and hyphens", m.Replaces)
	}
	return m.checkPart()
}

// Tidy gives a material that was read from a file empty lists where it has none, so that it is written again the same.
func (m *Material) Tidy() {
	p := m.part()
	if p == nil {
		return
	}
	if list := p.bands(); list != nil && *list == nil {
		*list = []Band{}
	}
}

// within checks a value's range and origin.
func (v Value) within(field string, low, high float64) error {
	if !slices.Contains([]Origin{Typical, Maker, Measured}, v.Origin) {
		return fmt.Errorf("%s: origin %q is none of typical, maker, measured", field, v.Origin)
	}
	return inRange(field, v.Value, low, high)
}

func inRange(field string, v, low, high float64) error {
	if !(v >= low && v <= high) { // also catches NaN
		return fmt.Errorf("%s: %g is out of range; use %g to %g", field, v, low, high)
	}
	return nil
}

func firstOf(errs ...error) error {
	for _, err := range errs {
		if err != nil {
			return err
		}
	}
	return nil
}
