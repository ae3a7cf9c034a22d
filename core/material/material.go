package material

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"
)

// Kind is what a material is for.
type Kind string

// The kinds of material.
const (
	KindPlastisol Kind = "plastisol"
	KindColourant Kind = "colourant"
)

// Origin says where a value came from, least sure first.
type Origin string

// The origins of a value.
const (
	Typical  Origin = "typical"  // of its family; nobody measured this bottle
	Maker    Origin = "maker"    // from the maker's sheet
	Measured Origin = "measured" // by the owner of the bottle
)

// Value is a number with its origin; the unit is in the name of the field that holds it.
type Value struct {
	Value  float64 `json:"value"`
	Origin Origin  `json:"origin" enum:"typical,maker,measured"`
}

// Material is one bottle or jug on the shelf. Exactly one of its parts, the one of its kind, is set.
type Material struct {
	UID       string     `json:"uid" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"Names the bottle for good, in every file and shop"`
	Kind      Kind       `json:"kind" enum:"plastisol,colourant"`
	Name      string     `json:"name" minLength:"1" maxLength:"80" doc:"The maker's own name for it"`
	Family    string     `json:"family,omitempty" maxLength:"80" doc:"Family of typical values it started from"`
	Note      string     `json:"note,omitempty" maxLength:"2000"`
	Plastisol *Plastisol `json:"plastisol,omitempty"`
	Colourant *Colourant `json:"colourant,omitempty"`
}

var uidPattern = regexp.MustCompile(`^[a-z0-9][a-z0-9-]{0,63}$`)

// ValidUID says whether a text can name a material or a recipe for good.
func ValidUID(uid string) bool { return uidPattern.MatchString(uid) }

// Check says what is wrong with a material, naming the field, or returns nil.
func (m *Material) Check() error {
	if !ValidUID(m.UID) {
		return fmt.Errorf("uid %q: use up to 64 small letters, digits and hyphens", m.UID)
	}
	if n := utf8.RuneCountInString(strings.TrimSpace(m.Name)); n == 0 || n > 80 {
		return fmt.Errorf("name: a material needs a name of 1 to 80 letters")
	}
	if len(m.Family) > 80 || len(m.Note) > 2000 {
		return fmt.Errorf("note: keep a note under 2,000 letters and a family's name under 80")
	}
	switch {
	case m.Kind == KindPlastisol && m.Plastisol != nil && m.Colourant == nil:
		return m.Plastisol.check()
	case m.Kind == KindColourant && m.Colourant != nil && m.Plastisol == nil:
		return m.Colourant.check()
	}
	return fmt.Errorf("kind: %q needs its own properties and no others; the kinds are plastisol and colourant", m.Kind)
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
