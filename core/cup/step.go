package cup

import (
	"fmt"
	"slices"
	"strings"

	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// Step is one thing a maker does to the cup on the bench. Fields that its kind does not use stay empty.
type Step struct {
	Kind     StepKind `json:"kind" enum:"drip,add,dose,remove,volume,plastisol,target,untarget,empty,work,swap,heat,pour,lost,return,name,split,merge"`
	Material string   `json:"material,omitempty" maxLength:"64" format:"uid" doc:"uid of the bottle (drip, add, dose, remove, plastisol)"`
	Drops    int      `json:"drops,omitempty" minimum:"-1000" maximum:"1000" doc:"How many steps more, or fewer: drops of a bottle, smallest spoons of a powder (drip)"`
	Typed    string   `json:"typed,omitempty" maxLength:"200" doc:"What was typed (add, dose, volume, work, heat, pour, lost, return)"`
	Sure     bool     `json:"sure,omitempty" doc:"It was asked back, and is meant so"`
	Target   *Target  `json:"target,omitempty"`
	Cup      *Cup     `json:"cup,omitempty" doc:"What the cup is to hold from now on (swap)"`
	Letter   string   `json:"letter,omitempty" maxLength:"2" doc:"(name)"`
	Part     string   `json:"part,omitempty" maxLength:"40" doc:"Which part of the bait it is for (name)"`
	AtMS     int64    `json:"atMS,omitempty" doc:"When the hand did it, ms since 1970, by the device's clock"`
}

// StepKind names what a step does.
type StepKind string

// The kinds of step. Drip and add put something to what is there, so two devices may do it at once; the others set.
const (
	Drip        StepKind = "drip"
	Add         StepKind = "add"
	SetDose     StepKind = "dose"
	Remove      StepKind = "remove"
	SetVolume   StepKind = "volume"
	SetBase     StepKind = "plastisol"
	SetTarget   StepKind = "target"
	ClearTarget StepKind = "untarget"
	Empty       StepKind = "empty"
	SetWork     StepKind = "work"
	Swap        StepKind = "swap"
	HeatUp      StepKind = "heat"
	PourOut     StepKind = "pour"
	Lost        StepKind = "lost"
	Return      StepKind = "return"
	SetName     StepKind = "name"
	SplitOff    StepKind = "split" // two cups at once: see Live.Split and Live.Merge
	MergeIn     StepKind = "merge"
)

// Merges says whether the step means the same whatever was done to the cup in between.
func (s Step) Merges() bool { return s.Kind == Drip || s.Kind == Add }

// Apply gives the cup after the step. The cup that was handed in is not touched.
func (s Step) Apply(v Live, shelf Shelf, kit measure.Kit) (Live, error) {
	v = v.clone()
	if err := s.do(&v, shelf, kit); err != nil {
		return v, err
	}
	if err := v.Check(shelf); err != nil {
		if f, ok := err.(*measure.Fault); ok && strings.HasPrefix(f.Field, "doses") && s.Kind != SetVolume {
			// on the bench the fault belongs to what was just entered
			return v, &measure.Fault{Field: "typed", Says: f.Says}
		}
		return v, err
	}
	return v, nil
}

func (s Step) do(v *Live, shelf Shelf, kit measure.Kit) error {
	c := &v.Cup
	switch s.Kind {
	case Drip, Add, SetDose, Remove:
		return s.dose(c, shelf, kit)
	case SetVolume:
		volume, err := measure.ParseVolume(s.Typed)
		if err != nil {
			return &measure.Fault{Field: "typed", Says: err.Error()}
		}
		c.Volume = volume
	case SetBase:
		c.Plastisol = s.Material
	case SetTarget:
		c.Target = s.Target
		if c.Target == nil {
			return measure.Faulty("target", "pin a spot on a reference first, then take it as the target")
		}
	case ClearTarget:
		c.Target = nil
	case Empty:
		c.Doses = []Dose{}
	case SetWork:
		temp, err := measure.ParseTemperature(s.Typed)
		if err != nil {
			return &measure.Fault{Field: "typed", Says: err.Error()}
		}
		c.WorkC = temp
	case Swap:
		if s.Cup == nil {
			return measure.Faulty("cup", "say what the cup is to hold")
		}
		c.Doses = slices.Clone(s.Cup.Doses)
	case HeatUp:
		temp, err := measure.ParseTemperature(s.Typed)
		if err != nil {
			return &measure.Fault{Field: "typed", Says: err.Error()}
		}
		v.Heats = append(v.Heats, Heat{temp, s.AtMS})
	case PourOut, Lost:
		part, err := v.parseShare(s.Typed, shelf)
		if err != nil {
			return err
		}
		return v.pour(s.Kind, part)
	case Return:
		return v.takeBack(s.Typed, shelf)
	case SetName:
		v.Letter, v.Part = strings.TrimSpace(s.Letter), strings.TrimSpace(s.Part)
	default:
		return measure.Faulty("kind", "no step is called %q", s.Kind)
	}
	return nil
}

func (s Step) dose(c *Cup, shelf Shelf, kit measure.Kit) error {
	bottle, ok := shelf[s.Material]
	if !ok {
		return measure.Faulty("material", "nothing on the shelf has the uid %q", s.Material)
	}
	at := slices.IndexFunc(c.Doses, func(d Dose) bool { return d.Material == s.Material })
	if s.Kind == Remove {
		if at >= 0 {
			c.Doses = slices.Delete(c.Doses, at, at+1)
		}
		return nil
	}
	if s.Kind == Drip && s.Drops <= 0 && at < 0 { // fewer of what is not in it
		return nil
	}
	var d Dose
	if at >= 0 {
		d = c.Doses[at]
	} else {
		d = Dose{Material: s.Material, Amount: measure.Amount{Unit: NextStep(&bottle, kit).Unit}}
	}
	var err error
	switch s.Kind {
	case Drip:
		one := NextStep(&bottle, kit)
		if d.Amount.Unit != one.Unit { // dosed by weight so far: a step is what one step weighs
			one = plus(measure.Amount{Unit: d.Amount.Unit}, one, &bottle)
		}
		d.Amount = measure.Amount{Value: max(0, d.Amount.Value+float64(s.Drops)*one.Value), Unit: d.Amount.Unit}
		d.Amount = d.Amount.Times(1)
		d.Typed = d.Amount.String()
	default:
		var typed measure.Amount
		if typed, err = kit.ParseDose(s.Typed, bottle.Form(), c.Volume.ML); err != nil {
			return &measure.Fault{Field: "typed", Says: err.Error()}
		}
		if s.Kind == Add && at >= 0 {
			d.Amount = plus(d.Amount, typed, &bottle)
			d.Typed = d.Amount.String()
		} else {
			d.Amount, d.Typed = typed, strings.TrimSpace(s.Typed)
		}
		if Slips(&bottle, d.Amount, c.Volume.ML) && !s.Sure && !tooMany(d.Amount, c.Volume.ML) {
			_, usual := bottle.Usual()
			return &measure.Fault{Field: "typed", Ask: true, Says: fmt.Sprintf("%s of %s is %s times what is usual (up to %s a cup). Meant so? Enter it once more to keep it.",
				d.Amount, bottle.Name, measure.Number(OverUsual(&bottle, d.Amount, c.Volume.ML), 0), usual)}
		}
	}
	if at >= 0 {
		c.Doses[at] = d
	} else {
		c.Doses = append(c.Doses, d)
	}
	return nil
}

func tooMany(a measure.Amount, volumeML float64) bool {
	return a.Unit == measure.InDrops && a.Value > MaxDropsPerCup*volumeML/measure.CupML+0.5
}

// NextStep is the least by which a dose is stepped: one drop, a small spoon, a millilitre. A spoon is the smallest
// owned one that is no less than an eighth of the least usual dose, so that salt is not tapped in by the 1/64.
func NextStep(m *material.Material, kit measure.Kit) measure.Amount {
	from, _ := m.Usual()
	switch {
	case m.Form() == measure.Solid:
		step := kit.SmallestTSP()
		for _, spoon := range kit.SpoonsTSP {
			if step < from.Value/8 && spoon > step || spoon < step && spoon >= from.Value/8 {
				step = spoon
			}
		}
		return measure.Amount{Value: step, Unit: measure.InTeaspoons}
	case m.Colourant != nil:
		return measure.DropCount(1)
	case m.Additive != nil && from.Value < 1: // a stabiliser, by the drop
		return measure.DropCount(1)
	}
	return measure.Amount{Value: 1, Unit: measure.InML}
}

// slipFactor is how many times the usual dose is asked back.
const slipFactor = 10

// Slips says whether a dose is so far beyond what is usual that it is asked back.
func Slips(m *material.Material, a measure.Amount, volumeML float64) bool {
	return OverUsual(m, a, volumeML) > slipFactor
}

// OverUsual is a dose as a multiple of the most that is usual of the material; 0 where nothing is usual.
func OverUsual(m *material.Material, a measure.Amount, volumeML float64) float64 {
	_, usual := m.Usual()
	if usual.Value == 0 {
		return 0
	}
	_, is, err := m.Take(a)
	if err != nil {
		return 0
	}
	_, most, err := m.Take(usual)
	if err != nil || most == 0 {
		return 0
	}
	return is / (most * volumeML / measure.CupML)
}
