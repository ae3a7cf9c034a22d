package bait

import (
	"fmt"
	"maps"
	"strings"

	"cloudburst/core/measure"
)

// NewMold is a mold of one of our shapes, to be changed.
func NewMold(name, shape string) Mold {
	return Mold{
		Name: name, Shape: shape, Cavities: 1, GateMM: 4, Material: Aluminium, Lies: BackRight,
		Split: TypicalSplit(false, 1),
	}
}

// Set changes one measure of a mold as it was typed.
func (m *Mold) Set(field, typed string) error {
	all := m.commands()
	if _, known := all[field]; known {
		return all.set(field, typed)
	}
	of, flake, _ := strings.Cut(field, ".")
	switch {
	case of == "passes" && flake != "":
		m.pass(flake, Grade(typed))
		return nil
	case of == "passes":
		return measure.Faulty(field, "choose a flake")
	case of == "slots":
		return measure.Faulty(field, "there is no hook slot in this mold")
	case of == "body":
		return measure.Faulty(field, "only a bait from a file of your own is turned in its mold")
	}
	return measure.Faulty(field, "a mold has no such measure")
}

// commands are what can be typed of a mold.
func (m *Mold) commands() commands {
	size := func(into *float64) command { return none(length(into), "", "open", "none") }
	all := commands{
		"name":         text(&m.Name),
		"notes":        func(typed string) error { m.Notes = typed; return nil },
		"shape":        m.reshape,
		"lengthMM":     size(&m.LengthMM),
		"heightMM":     size(&m.HeightMM),
		"widthMM":      size(&m.WidthMM),
		"thickestMM":   size(&m.ThickestMM),
		"thinnestMM":   size(&m.ThinnestMM),
		"stepsMM":      m.setSteps,
		"cavities":     count(&m.Cavities),
		"baitML":       m.setVolume,
		"sprueML":      parsed(&m.SprueML, millilitres),
		"plugML":       parsed(&m.PlugML, millilitres),
		"gateMM":       size(&m.GateMM),
		"rodMM":        size(&m.RodMM),
		"material":     func(typed string) error { m.Material = Material(typed); return nil },
		"lies":         func(typed string) error { m.Lies = Lie(typed); return nil },
		"poured":       then(yes(&m.Poured), m.layAnew),
		"slot":         m.cutSlot,
		"split.origin": func(string) error { m.Split = TypicalSplit(m.Poured, m.Cavities); return nil },
	}
	byHand := func(set command) command { return then(set, func() { m.Split.Origin = ByHand }) }
	maps.Copy(all, commands{
		"split.driftMM":  byHand(signedLength(&m.Split.DriftMM)),
		"split.wanderMM": byHand(signedLength(&m.Split.WanderMM)),
		"split.oddMM":    byHand(signedLength(&m.Split.OddMM)),
		"split.oddCount": byHand(count(&m.Split.OddCount)),
		"split.reachPct": byHand(m.setReach),
	})
	if len(m.Slots) > 0 {
		t := &m.Slots[0]
		maps.Copy(all, commands{
			"slots.0.fromMM": size(&t.FromMM), "slots.0.toMM": size(&t.ToMM), "slots.0.deepMM": size(&t.DeepMM),
			"slots.0.wideMM": size(&t.WideMM), "slots.0.inBack": yes(&t.InBack),
		})
	}
	if m.Body != nil {
		b := *m.Body
		turned := func(set command) command { return then(set, func() { m.Body = &b }) }
		maps.Copy(all, commands{
			"body.roll":  turned(func(string) error { b.Quarters = (b.Quarters + 1) % 4; return nil }),
			"body.tail":  turned(func(string) error { b.TailOn = !b.TailOn; return nil }),
			"body.lying": turned(yes(&b.Lying)),
		})
	}
	return all
}

// reshape takes another shape, with measures of its own only where it has them.
func (m *Mold) reshape(shape string) error {
	m.Shape = shape
	if shape == Chip && len(m.StepsMM) == 0 {
		m.StepsMM = []float64{1, 2, 3, 5, 8, 12}
	}
	switch {
	case shape != Own:
		m.LengthMM, m.HeightMM, m.WidthMM = 0, 0, 0
	case m.LengthMM == 0:
		m.LengthMM, m.HeightMM, m.WidthMM, m.ThickestMM, m.ThinnestMM = 90, 20, 14, 12, 2
	}
	m.Slots, m.RodMM = nil, 0
	return nil
}

func (m *Mold) setSteps(typed string) error {
	steps, err := list(typed, "mm", lengthOf)
	if err == nil {
		m.StepsMM = steps
	}
	return err
}

// setVolume takes what a bait was measured to take; nothing for what the shape says.
func (m *Mold) setVolume(typed string) (err error) {
	if words := strings.TrimSpace(typed); words == "" || strings.HasPrefix(words, "as the shape") {
		m.BaitML, m.BaitHow = 0, ""
		return nil
	}
	ml, how, err := ParseBaitVolume(typed)
	if err == nil {
		m.BaitML, m.BaitHow = ml, how
	}
	return err
}

// layAnew follows a mold that is now shot or poured open.
func (m *Mold) layAnew() {
	m.Lies = BackRight
	if m.Poured {
		m.Lies, m.GateMM = BackDown, 0
	}
	if m.Split.Origin == Typical {
		m.Split = TypicalSplit(m.Poured, m.Cavities)
	}
}

// cutSlot makes a hook slot of usual measures, or takes it away.
func (m *Mold) cutSlot(typed string) error {
	m.Slots = nil
	if typed == "remove" {
		return nil
	}
	s := m.bare()
	body := s.bodyHeight().length()
	m.Slots = []Slot{{
		FromMM: rounded(0.25*s.bodyTo, 1), ToMM: rounded(0.65*s.bodyTo, 1),
		DeepMM: rounded(0.4*body, 2), WideMM: rounded(max(1, 0.15*2*s.bodyHalfWidth()), 2),
	}}
	return nil
}

// setReach says how far back each layer reaches, from the belly up.
func (m *Mold) setReach(typed string) error {
	if strings.HasPrefix(strings.TrimSpace(typed), "all") {
		m.Split.ReachPct = nil
		return nil
	}
	reach, err := list(typed, "%", func(word string) (float64, error) {
		v, err := measure.ParseNumber(word)
		if err != nil {
			err = fmt.Errorf("%q can't be read; write how far each layer reaches, from the belly up: 80, 100", typed)
		}
		return v, err
	})
	if err == nil {
		m.Split.ReachPct = reach
	}
	return err
}

// pass says how a flake passes this mold's gate; with no grade, nobody has said.
func (m *Mold) pass(flake string, grade Grade) {
	passes := maps.Clone(m.Passes)
	if passes == nil {
		passes = map[string]Grade{}
	}
	if grade == "" {
		delete(passes, flake)
	} else {
		passes[flake] = grade
	}
	m.Passes = passes
}
