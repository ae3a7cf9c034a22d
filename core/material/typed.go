package material

import (
	"strings"

	"cloudburst/core/measure"
	"cloudburst/core/optics"
)

// Typed gives a material with one thing set as typed: its name, its note, whether it runs (yes or no), its heat limit,
// its strength, how many drops went into a measured amount, or a property by its key. count are the drops counted, or
// the heats survived.
func (m Material) Typed(key, typed string, origin Origin, count float64) (Material, error) {
	typed = strings.TrimSpace(typed)
	out, err := m.typed(key, typed, origin, count)
	if err != nil {
		if f, ok := err.(*measure.Fault); ok && f.Field == key {
			return m, f
		}
		return m, &measure.Fault{Field: key, Says: err.Error()}
	}
	return out, nil
}

func (m Material) typed(key, typed string, origin Origin, count float64) (Material, error) {
	switch key {
	case "name":
		m.Name = typed
		return m, measure.CheckName("name", "it", typed, 80)
	case "note":
		m.Note = typed
		return m, m.Check()
	case "runs":
		return m.SetRuns(typed == "yes")
	case "heat":
		m.Heat = &HeatLimit{Origin: origin, Heats: int(count)}
		if origin != NoneSaid {
			c, err := measure.ParseTemperature(typed)
			if err != nil {
				return m, err
			}
			m.Heat.MaxC = c
		}
		return m, m.Check()
	case "strength":
		v, err := measure.ParseNumber(typed)
		if err != nil {
			return m, err
		}
		return m.Stronger(v, origin)
	case "drops":
		return m.counted(typed, count)
	}
	parse := measure.ParseNumber
	if key == "sizeIn" {
		parse = measure.ParseFlakeSize
	}
	v, err := parse(typed)
	if err != nil {
		return m, err
	}
	return m.Refine(key, v, origin)
}

// counted is a bottle whose drops were counted into a measured amount.
func (m Material) counted(typed string, drops float64) (Material, error) {
	a, err := measure.StandardKit().ParseDose(typed, measure.Liquid, measure.CupML)
	if err != nil || a.Unit == measure.InDrops || drops < 1 {
		return m, measure.Faulty("drops", "count drops into a measured amount, such as 40 drops into 2 ml")
	}
	ml, _, err := m.Take(a)
	if err != nil {
		return m, err
	}
	return m.Refine("dropML", ml/drops, Measured)
}

// Stands says whether a material stands a temperature, °C, as far as is known.
func (m *Material) Stands(c float64) bool {
	const reading = 0.5 // K, of a thermometer
	return m.Heat == nil || m.Heat.MaxC == 0 || m.Heat.Origin == NoneSaid || c <= m.Heat.MaxC+reading
}

// Named says whether all of some words stand in a material's name, family or note.
func (m *Material) Named(words string) bool {
	text := strings.ToLower(m.Name + "\n" + m.Family + "\n" + m.Note)
	for _, w := range strings.Fields(strings.ToLower(words)) {
		if !strings.Contains(text, w) {
			return false
		}
	}
	return true
}

// Sized is a family's material, with a flake's size as typed and its shape where those are said.
func (f *Family) Sized(name, size, shape string) (Material, error) {
	m := f.New("", strings.TrimSpace(name))
	if m.Flake == nil {
		return m, nil
	}
	if size != "" {
		inches, err := measure.ParseFlakeSize(size)
		if err != nil {
			return m, &measure.Fault{Field: "size", Says: err.Error()}
		}
		m.Flake.Resize(inches, Maker)
	}
	if shape != "" {
		m.Flake.Shape = optics.Shape(shape)
	}
	return m, nil
}
