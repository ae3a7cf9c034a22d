package bait

import (
	"strconv"
	"strings"

	"cloudburst/core/measure"
)

// Set changes one measure of a mold as it was typed.
func (m *Mold) Set(field, typed string) error {
	path := strings.Split(field, ".")
	length := func(into *float64) error {
		switch strings.TrimSpace(typed) {
		case "", "open", "none":
			*into = 0
			return nil
		}
		mm, err := lengthOf(typed)
		if err != nil {
			return measure.Faulty(field, "%s", err)
		}
		*into = mm
		return nil
	}
	signed := func(into *float64) error {
		text, minus := strings.CutPrefix(strings.TrimSpace(typed), "-")
		mm, err := lengthOf(text)
		if err != nil {
			return measure.Faulty(field, "%s", err)
		}
		if minus {
			mm = -mm
		}
		*into = mm
		m.Split.Origin = ByHand
		return nil
	}
	millilitres := func(into *float64) error {
		text := strings.TrimSpace(typed)
		if text == "" || text == "0" || text == "0 ml" {
			*into = 0
			return nil
		}
		v, err := measure.ParseVolume(text)
		if err != nil {
			return measure.Faulty(field, "%s", err)
		}
		*into = v.ML
		return nil
	}
	count := func(into *int) error {
		v, err := strconv.Atoi(strings.TrimSpace(typed))
		if err != nil {
			return measure.Faulty(field, "%q is no number of cavities", typed)
		}
		*into = v
		return nil
	}
	switch path[0] {
	case "body":
		return m.setBody(field, typed)
	case "name":
		m.Name = strings.TrimSpace(typed)
	case "notes":
		m.Notes = typed
	case "shape":
		m.Shape = typed
		if typed == Chip && len(m.StepsMM) == 0 {
			m.StepsMM = []float64{1, 2, 3, 5, 8, 12}
		}
		if typed == Own && m.LengthMM == 0 {
			m.LengthMM, m.HeightMM, m.WidthMM, m.ThickestMM, m.ThinnestMM = 90, 20, 14, 12, 2
		}
		if typed != Own {
			m.LengthMM, m.HeightMM, m.WidthMM = 0, 0, 0
		}
		m.Slots, m.RodMM = nil, 0
	case "lengthMM":
		return length(&m.LengthMM)
	case "heightMM":
		return length(&m.HeightMM)
	case "widthMM":
		return length(&m.WidthMM)
	case "thickestMM":
		return length(&m.ThickestMM)
	case "thinnestMM":
		return length(&m.ThinnestMM)
	case "stepsMM":
		m.StepsMM = nil
		for _, text := range strings.FieldsFunc(typed, func(r rune) bool { return r == ',' || r == ';' || r == ' ' }) {
			if text == "mm" {
				continue
			}
			mm, err := lengthOf(text)
			if err != nil {
				return measure.Faulty(field, "%s", err)
			}
			m.StepsMM = append(m.StepsMM, mm)
		}
	case "cavities":
		return count(&m.Cavities)
	case "baitML":
		if text := strings.TrimSpace(typed); text == "" || strings.HasPrefix(text, "as the shape") {
			m.BaitML, m.BaitHow = 0, ""
			return nil
		}
		var err error
		m.BaitML, m.BaitHow, err = ParseBaitVolume(typed)
		return err
	case "sprueML":
		return millilitres(&m.SprueML)
	case "plugML":
		return millilitres(&m.PlugML)
	case "gateMM":
		return length(&m.GateMM)
	case "rodMM":
		return length(&m.RodMM)
	case "material":
		m.Material = Material(typed)
	case "poured":
		m.Poured = typed == "true"
		m.Lies = BackRight
		if m.Poured {
			m.Lies, m.GateMM = BackDown, 0
		}
		if m.Split.Origin == Typical {
			m.Split = TypicalSplit(m.Poured, m.Cavities)
		}
	case "lies":
		m.Lies = Lie(typed)
	case "slot":
		if typed == "remove" {
			m.Slots = nil
			return nil
		}
		s := m.bare()
		body := s.bodyHeight().length()
		m.Slots = []Slot{{FromMM: rounded(0.25*s.bodyTo, 1), ToMM: rounded(0.65*s.bodyTo, 1), DeepMM: rounded(0.4*body, 2), WideMM: rounded(max(1, 0.15*2*s.bodyHalfWidth()), 2)}}
	case "slots":
		if len(m.Slots) == 0 {
			return measure.Faulty(field, "there is no hook slot in this mold")
		}
		t := &m.Slots[0]
		switch path[len(path)-1] {
		case "fromMM":
			return length(&t.FromMM)
		case "toMM":
			return length(&t.ToMM)
		case "deepMM":
			return length(&t.DeepMM)
		case "wideMM":
			return length(&t.WideMM)
		case "inBack":
			t.InBack = typed == "true"
		}
	case "split":
		switch path[len(path)-1] {
		case "driftMM":
			return signed(&m.Split.DriftMM)
		case "wanderMM":
			return signed(&m.Split.WanderMM)
		case "oddMM":
			return signed(&m.Split.OddMM)
		case "oddCount":
			m.Split.Origin = ByHand
			return count(&m.Split.OddCount)
		case "reachPct":
			m.Split.ReachPct, m.Split.Origin = nil, ByHand
			if strings.HasPrefix(strings.TrimSpace(typed), "all") {
				return nil
			}
			for _, text := range strings.FieldsFunc(typed, func(r rune) bool { return r == ',' || r == ';' || r == ' ' || r == '%' }) {
				v, err := measure.ParseNumber(text)
				if err != nil {
					return measure.Faulty(field, "%q can't be read; write how far each layer reaches, from the belly up: 80, 100", typed)
				}
				m.Split.ReachPct = append(m.Split.ReachPct, v)
			}
		case "origin":
			m.Split = TypicalSplit(m.Poured, m.Cavities)
		}
	case "passes":
		if len(path) < 2 {
			return measure.Faulty(field, "choose a flake")
		}
		passes := map[string]Grade{}
		for k, v := range m.Passes {
			passes[k] = v
		}
		if typed == "" {
			delete(passes, path[1])
		} else {
			passes[path[1]] = Grade(typed)
		}
		m.Passes = passes
	default:
		return measure.Faulty(field, "a mold has no such measure")
	}
	return nil
}

// NewMold is a mold of one of our shapes, to be changed.
func NewMold(name, shape string) Mold {
	return Mold{Name: name, Shape: shape, Cavities: 1, GateMM: 4, Material: Aluminium, Lies: BackRight, Split: TypicalSplit(false, 1)}
}

// setBody says how a bait from a file lies.
func (m *Mold) setBody(field, typed string) error {
	if m.Body == nil {
		return measure.Faulty(field, "only a bait from a file of your own is turned in its mold")
	}
	b := *m.Body
	m.Body = &b
	switch field {
	case "body.roll":
		b.Quarters = (b.Quarters + 1) % 4
	case "body.tail":
		b.TailOn = !b.TailOn
	case "body.lying":
		b.Lying = typed == "true"
	default:
		return measure.Faulty(field, "a body is rolled, turned end for end, or laid flat")
	}
	return nil
}
