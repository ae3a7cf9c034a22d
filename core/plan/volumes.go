package plan

import (
	"math"

	"cloudburst/core/measure"
)

// Plan is what a job comes to.
type Plan struct {
	Molds     []MoldPlan
	Shots     []ShotPlan
	Balance   Balance
	BaitsMade int
	ColdPerML float64 // of a bait's place
}

// MoldPlan is a mold's share of it.
type MoldPlan struct {
	Name     string
	Pour     int   // baits, with spares
	Made     int   // baits
	Cavities []int // of each fill
}

// ShotPlan is one shot.
type ShotPlan struct {
	Name         string
	FillsPerLoad []int // nil where it is poured by hand
	Cooks        int
	Parts        []PartPlan
}

// PartPlan is one cup of it.
type PartPlan struct {
	Name string
	// by mold
	FullFillHotML                                                                                                   map[string]float64
	GeometricML, CavitiesHotML, TopUpHotML, SprueHotML, SpillHotML, PlugHotML, PurgeHotML, CupLossHotML, TotalHotML float64
	Cooks                                                                                                           []Cook
	KeptColdML, CutOffColdML, RestColdML, MeasuredColdML                                                            float64
}

// Cook is one cup of a part that is cooked at once.
type Cook struct {
	Loads, Fills                              int // no loads where it is poured by hand
	NeededHotML, NeededColdML, MeasuredColdML float64
	Drops                                     []Dripped
	Spoons                                    []Scooped
	PlastisolML                               float64
}

// fits is by how much a volume may exceed its place: rounding, not plastic.
const fits = 1e-9

// fill is one fill of a mold.
type fill struct {
	mold, cavities int
}

// TooLarge says that not even one fill can be cooked or loaded.
type TooLarge struct{ FillHotML, MostHotML float64 }

func (e *TooLarge) Error() string {
	return "one fill takes " + measure.Number(e.FillHotML, 0) + " ml hot, and " + measure.Number(e.MostHotML, 0) +
		" ml is the most that this cup, microwave or injector gives: take a larger one, or a mold with fewer cavities"
}

// Make plans a job.
func Make(j *Job, kit measure.Kit) (*Plan, error) {
	if err := j.Check(); err != nil {
		return nil, err
	}
	p := &Plan{ColdPerML: j.upHot() * j.Shrink}
	var fills []fill
	for i, m := range j.Molds {
		pour := m.Count + int(math.Ceil(float64(m.Count)*j.SparePercent/100-fits))
		plan := MoldPlan{Name: m.Name, Pour: pour}
		for left := pour; left > 0; left -= m.Cavities {
			cavities := m.Cavities
			if j.Partial {
				cavities = min(cavities, left)
			}
			plan.Cavities = append(plan.Cavities, cavities)
			plan.Made += cavities
			fills = append(fills, fill{i, cavities})
		}
		p.Molds = append(p.Molds, plan)
		p.BaitsMade += plan.Made
	}
	for i := range j.Shots {
		s, err := j.shot(&j.Shots[i], fills, kit)
		if err != nil {
			return nil, err
		}
		p.Shots = append(p.Shots, *s)
	}
	p.balance(j)
	return p, nil
}

// fillHot is what a fill takes of a part.
func (j *Job) fillHot(p *Part, f fill) float64 {
	m := &j.Molds[f.mold]
	return float64(f.cavities)*(p.GeometricML[m.Name]*j.upHot()+p.SpillHotML) + m.SprueHotML*p.SprueShare
}

// load is what is drawn into an injector at once, or poured by hand.
type load struct {
	fills []fill
	hot   []float64 // of each part, with plug and purge
}

// loads draws fills in their order: a load takes the next one if it fits every part.
func (j *Job) loads(s *Shot, fills []fill) ([]load, error) {
	var all []load
	for _, f := range fills {
		need := make([]float64, len(s.Parts))
		join := len(all) > 0
		for i := range s.Parts {
			p := &s.Parts[i]
			need[i] = j.fillHot(p, f)
			most, extra := j.limitHot(p), 0.0
			if p.byHand() { // a fill is the unit
				join = false
			} else {
				most, extra = min(most, p.InjectorHotML), p.PlugHotML+p.PurgeHotML
			}
			if need[i]+extra > most+fits {
				return nil, &TooLarge{need[i], most - extra}
			}
			if join && all[len(all)-1].hot[i]+need[i] > most+fits {
				join = false
			}
		}
		if s.MostFills > 0 && join {
			join = len(all[len(all)-1].fills) < s.MostFills
		}
		if copies := j.Molds[f.mold].Copies; join && copies > 0 {
			in := 0
			for _, of := range all[len(all)-1].fills {
				if of.mold == f.mold {
					in++
				}
			}
			join = in < copies
		}
		if !join {
			l := load{hot: make([]float64, len(s.Parts))}
			for i := range s.Parts {
				if p := &s.Parts[i]; !p.byHand() {
					l.hot[i] = p.PlugHotML + p.PurgeHotML
				}
			}
			all = append(all, l)
		}
		last := &all[len(all)-1]
		last.fills = append(last.fills, f)
		for i := range need {
			last.hot[i] += need[i]
		}
	}
	return all, nil
}

// shot plans one shot: all its parts change cooks together, and a load is drawn from one cook.
func (j *Job) shot(s *Shot, fills []fill, kit measure.Kit) (*ShotPlan, error) {
	loads, err := j.loads(s, fills)
	if err != nil {
		return nil, err
	}
	var cooks [][]load
	var inCook []float64
	for _, l := range loads {
		join := len(cooks) > 0
		for i := range s.Parts {
			if join && inCook[i]+l.hot[i] > j.limitHot(&s.Parts[i])+fits {
				join = false
			}
		}
		if !join {
			cooks, inCook = append(cooks, nil), make([]float64, len(s.Parts))
		}
		cooks[len(cooks)-1] = append(cooks[len(cooks)-1], l)
		for i := range inCook {
			inCook[i] += l.hot[i]
		}
	}
	out := &ShotPlan{Name: s.Name, Cooks: len(cooks)}
	for _, l := range loads {
		if !s.Parts[0].byHand() {
			out.FillsPerLoad = append(out.FillsPerLoad, len(l.fills))
		}
	}
	for i := range s.Parts {
		out.Parts = append(out.Parts, j.part(&s.Parts[i], i, cooks, kit))
	}
	return out, nil
}

// part sums a part up, and doses its cooks.
func (j *Job) part(p *Part, at int, cooks [][]load, kit measure.Kit) PartPlan {
	out := PartPlan{Name: p.Name, FullFillHotML: map[string]float64{}}
	for i, m := range j.Molds {
		out.FullFillHotML[m.Name] = j.fillHot(p, fill{i, m.Cavities})
	}
	for _, loads := range cooks {
		c := Cook{NeededHotML: p.CupLossHotML}
		for _, l := range loads {
			c.NeededHotML += l.hot[at]
			c.Fills += len(l.fills)
			if !p.byHand() {
				c.Loads++
				out.PlugHotML += p.PlugHotML
				out.PurgeHotML += p.PurgeHotML
			}
			for _, f := range l.fills {
				m := &j.Molds[f.mold]
				n := float64(f.cavities)
				out.GeometricML += n * p.GeometricML[m.Name]
				out.KeptColdML += n * p.KeptML[m.Name] * j.upHot() * j.Shrink
				out.SprueHotML += m.SprueHotML * p.SprueShare
				out.SpillHotML += n * p.SpillHotML
			}
		}
		c.NeededColdML = c.NeededHotML * j.Shrink
		c.MeasuredColdML = c.NeededColdML
		if j.StepColdML > 0 {
			c.MeasuredColdML = j.StepColdML * math.Ceil(c.NeededColdML/j.StepColdML-fits)
		}
		c.MeasuredColdML = max(c.MeasuredColdML, min(p.LeastColdML, p.LargestColdML, p.MicrowaveColdML))
		p.Recipe.dose(&c, kit)
		out.CupLossHotML += p.CupLossHotML
		out.MeasuredColdML += c.MeasuredColdML
		out.RestColdML += c.MeasuredColdML - c.NeededColdML
		out.TotalHotML += c.NeededHotML
		out.Cooks = append(out.Cooks, c)
	}
	out.CavitiesHotML = out.GeometricML * j.upHot()
	out.TopUpHotML = out.CavitiesHotML - out.GeometricML
	out.CutOffColdML = out.CavitiesHotML*j.Shrink - out.KeptColdML
	return out
}
