package material

import (
	"regexp"
	"strings"

	"cloudburst/core/measure"
)

// Stock is how much of a material there is, and what it costs, as the maker wrote it and in ml or g.
type Stock struct {
	Typed   string  `json:"typed,omitempty" maxLength:"40" doc:"What is left, in the unit it is bought in" example:"2 oz"`
	Left    float64 `json:"left,omitempty" doc:"ml of a liquid, g of a solid"`
	Bought  string  `json:"bought,omitempty" maxLength:"40" doc:"What is bought at once" example:"4 fl oz"`
	Size    float64 `json:"size,omitempty" doc:"ml or g"`
	Price   float64 `json:"price,omitempty" minimum:"0" maximum:"1000000" doc:"For that, in the shop's money"`
	Reorder string  `json:"reorder,omitempty" maxLength:"40" doc:"Buy more below this"`
	Low     float64 `json:"low,omitempty" doc:"ml or g"`
}

// Stocked reads what was typed of a material's stock into ml or g.
func (m *Material) Stocked(s Stock) (Stock, error) {
	for _, one := range []struct {
		field, typed string
		to           *float64
	}{{"left", s.Typed, &s.Left}, {"bought", s.Bought, &s.Size}, {"reorder", s.Reorder, &s.Low}} {
		*one.to = 0
		if one.typed == "" {
			continue
		}
		v, err := m.bought(one.typed)
		if err != nil {
			return s, measure.Faulty(one.field, "%s", err)
		}
		*one.to = v
	}
	return s, nil
}

// bought reads an amount in the unit that it is bought in, as ml of a liquid or g of a solid.
func (m *Material) bought(typed string) (float64, error) {
	if v, err := measure.ParseVolume(typed); err == nil && m.Form() == measure.Liquid {
		return v.ML, nil
	}
	a, err := measure.StandardKit().ParseDose(typed, m.Form(), measure.CupML)
	if err != nil {
		return 0, err
	}
	ml, g, err := m.Take(a)
	if m.Form() == measure.Liquid {
		return ml, err
	}
	return g, err
}

// Change is what happens to a stock: something is bought, or what is left is counted or weighed. What is used is taken
// by Taken.
type Change struct {
	Kind   ChangeKind `json:"kind" enum:"bought,counted,weighed"`
	Typed  string     `json:"typed,omitempty" maxLength:"40" doc:"How much was bought, or is left, as typed"`
	GrossG float64    `json:"grossG,omitempty" minimum:"0" maximum:"100000" doc:"Bottle and all (weighed)"`
	EmptyG float64    `json:"emptyG,omitempty" minimum:"0" maximum:"100000" doc:"The bottle empty (weighed)"`
}

// ChangeKind is what happened to a stock.
type ChangeKind string

// The kinds.
const (
	Bought  ChangeKind = "bought"
	Counted ChangeKind = "counted"
	Weighed ChangeKind = "weighed"
)

// Changed is a stock after a change, and by how much that changed it, ml or g.
func (m *Material) Changed(s Stock, c Change) (Stock, float64, error) {
	was := s.Left
	switch c.Kind {
	case Bought, Counted:
		n, err := m.bought(c.Typed)
		if err != nil {
			return s, 0, measure.Faulty("typed", "%s", err)
		}
		if c.Kind == Bought && s.Typed != "" {
			return s.of(was+n, m), n, nil
		}
		s.Typed, s.Left = c.Typed, n
	case Weighed:
		if !(c.GrossG > 0 && c.EmptyG >= 0 && c.GrossG >= c.EmptyG && c.GrossG <= 100_000) {
			return s, 0, measure.Faulty(
				"grossG",
				"weigh the bottle with what is in it, and give what it weighs empty: the full one is the heavier",
			)
		}
		n := c.GrossG - c.EmptyG
		if m.Form() == measure.Liquid {
			n /= m.DensityGML()
		}
		s = s.of(n, m)
	default:
		return s, 0, measure.Faulty("kind", "something is bought, counted or weighed")
	}
	return s, s.Left - was, nil
}

// Taken is a stock after so much was taken out of it, ml or g. One that nobody counts stays so.
func (m *Material) Taken(s Stock, amount float64) Stock {
	if s.Typed == "" {
		return s
	}
	return s.of(max(0, s.Left-amount), m)
}

// of is the stock with so much left, said in the unit in which it was said before.
func (s Stock) of(left float64, m *Material) Stock {
	was := s.Left
	unit, number := "g", left
	if m.Form() == measure.Liquid {
		unit = "ml"
	}
	if said := saidAs.FindStringSubmatch(s.Typed); said != nil && was > 0 {
		if v, err := measure.ParseNumber(said[1]); err == nil {
			number, unit = v*left/was, strings.TrimSpace(said[2])
		}
	}
	s.Left, s.Typed = left, measure.Number(number, 2)+" "+unit
	return s
}

// saidAs parts an amount into its number and its unit.
var saidAs = regexp.MustCompile(`^\s*([0-9][0-9 ./,]*?)\s*([A-Za-z][A-Za-z .]*)$`)

// ParsePrice reads a price, with a point or a comma, with or without its money.
func ParsePrice(typed string) (float64, error) {
	text := strings.Trim(strings.TrimSpace(typed), "€$£ ")
	if text == "" {
		return 0, nil
	}
	v, err := measure.ParseNumber(text)
	if err != nil || !(v >= 0 && v <= 1_000_000) {
		return 0, measure.Faulty("price", "%q is no price; type one such as 9.50 or 9,50", typed)
	}
	return v, nil
}

// RunsLow says whether less is left than the maker buys more below.
func (s *Stock) RunsLow() bool { return s.Low > 0 && s.Left < s.Low }

// Gone says whether nothing is left; what nobody counts is never gone.
func (s *Stock) Gone() bool { return s.Typed != "" && s.Left <= 0 }

// PerUnit is what a ml or g costs; 0 where nobody said.
func (s *Stock) PerUnit() float64 {
	if s.Size <= 0 {
		return 0
	}
	return s.Price / s.Size
}
