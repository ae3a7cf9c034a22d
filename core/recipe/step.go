package recipe

import (
	"slices"
	"strings"

	"cloudburst/core/measure"
)

// Step is one thing a maker does to the cup on the bench. Fields that its kind does not use stay empty.
type Step struct {
	Kind     StepKind `json:"kind" enum:"drip,dose,remove,volume,plastisol,target,untarget,empty"`
	Material string   `json:"material,omitempty" maxLength:"64" doc:"uid of the bottle (drip, dose, remove, plastisol)"`
	Drops    int      `json:"drops,omitempty" minimum:"-1000" maximum:"1000" doc:"How many drops more, or fewer (drip)"`
	Typed    string   `json:"typed,omitempty" maxLength:"200" doc:"What was typed (dose, volume)"`
	Target   *Target  `json:"target,omitempty"`
}

// StepKind names what a step does.
type StepKind string

// The kinds of step. Drip adds to what is there, so two devices may drip at once; the others set.
const (
	Drip        StepKind = "drip"
	SetDose     StepKind = "dose"
	Remove      StepKind = "remove"
	SetVolume   StepKind = "volume"
	SetBase     StepKind = "plastisol"
	SetTarget   StepKind = "target"
	ClearTarget StepKind = "untarget"
	Empty       StepKind = "empty"
)

// Merges says whether the step means the same whatever was done to the cup in between.
func (s Step) Merges() bool { return s.Kind == Drip }

// Apply gives the cup after the step. The cup that was handed in is not touched.
func (s Step) Apply(c Cup, shelf Shelf) (Cup, error) {
	c.Doses = slices.Clone(c.Doses)
	switch s.Kind {
	case Drip, SetDose, Remove:
		if err := s.dose(&c, shelf); err != nil {
			return c, err
		}
	case SetVolume:
		v, err := measure.ParseVolume(s.Typed)
		if err != nil {
			return c, &Fault{"typed", err.Error()}
		}
		c.Volume = v
	case SetBase:
		c.Plastisol = s.Material
	case SetTarget:
		c.Target = s.Target
		if c.Target == nil {
			return c, fault("target", "pin a spot on a reference first, then take it as the target")
		}
	case ClearTarget:
		c.Target = nil
	case Empty:
		c.Doses = []Dose{}
	default:
		return c, fault("kind", "no step is called %q", s.Kind)
	}
	if err := c.Check(shelf); err != nil {
		if f, ok := err.(*Fault); ok && strings.HasPrefix(f.Field, "doses") && s.Kind != SetVolume {
			return c, &Fault{"typed", f.Says} // on the bench the fault belongs to what was just entered
		}
		return c, err
	}
	return c, nil
}

func (s Step) dose(c *Cup, shelf Shelf) error {
	bottle, ok := shelf[s.Material]
	if !ok || bottle.Colourant == nil {
		return fault("material", "no colourant on the shelf has the uid %q", s.Material)
	}
	at := slices.IndexFunc(c.Doses, func(d Dose) bool { return d.Material == s.Material })
	if s.Kind == Remove {
		if at >= 0 {
			c.Doses = slices.Delete(c.Doses, at, at+1)
		}
		return nil
	}
	if at < 0 {
		c.Doses = append(c.Doses, Dose{Material: s.Material})
		at = len(c.Doses) - 1
	}
	d := &c.Doses[at]
	if s.Kind == Drip {
		d.Drops = max(0, d.Drops+float64(s.Drops))
		d.Typed = measure.Drops(d.Drops)
		return nil
	}
	drops, err := measure.ParseDrops(s.Typed)
	if err != nil {
		return &Fault{"typed", err.Error()}
	}
	d.Drops, d.Typed = drops, strings.TrimSpace(s.Typed)
	return nil
}
