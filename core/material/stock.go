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

// Taken is a stock after so much was taken out of it, ml or g, said in the unit that it was said in. One that nobody counts stays so.
func (s Stock) Taken(amount float64) Stock {
	if s.Typed == "" {
		return s
	}
	was := s.Left
	s.Left = max(0, s.Left-amount)
	unit := "g"
	number := s.Left
	if m := saidAs.FindStringSubmatch(s.Typed); m != nil && was > 0 {
		if v, err := measure.ParseNumber(m[1]); err == nil {
			number, unit = v*s.Left/was, strings.TrimSpace(m[2])
		}
	}
	s.Typed = measure.Number(number, 3) + " " + unit
	return s
}

// saidAs parts an amount into its number and its unit.
var saidAs = regexp.MustCompile(`^\s*([0-9][0-9 ./,]*?)\s*([A-Za-z][A-Za-z .]*)$`)

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
