package pour

import (
	"fmt"
	"math"
	"slices"

	"cloudburst/core/heat"
	"cloudburst/core/measure"
)

// Equipment is what a bench heats, holds and shoots with. A bench without injectors, vacuum or hot plate is a bench.
type Equipment struct {
	Heaters     []Heater   `json:"heaters" nullable:"false" maxItems:"4" doc:"Microwaves and hot pots, the same for each"`
	Injectors   []Injector `json:"injectors" nullable:"false" maxItems:"12" doc:"None where all is poured by hand"`
	Blocks      int        `json:"blocks" minimum:"0" maximum:"8" doc:"Blending blocks, which join single injectors"`
	Vacuum      bool       `json:"vacuum"`
	PlatePlaces int        `json:"platePlaces" minimum:"0" maximum:"24" doc:"Molds that the hot plate warms at once; 0 without one"`
	Hands       int        `json:"hands" minimum:"1" maximum:"8" doc:"People at the bench"`
	CupML       float64    `json:"cupML" minimum:"30" maximum:"5000" doc:"Largest cup, measured cold"`
	LeastML     float64    `json:"leastML" minimum:"0" maximum:"500" doc:"Less than that does not heat evenly"`
	StepML      float64    `json:"stepML" minimum:"0" maximum:"100" doc:"Plastisol is measured to that; 0 for exactly"`
	RoomC       float64    `json:"roomC" minimum:"-10" maximum:"45"`
	PlateC      float64    `json:"plateC" minimum:"25" maximum:"120" doc:"Molds from the hot plate"`
	Shrink      float64    `json:"shrink" minimum:"0.8" maximum:"1" doc:"Cold volume of a hot one"`
	TopUp       float64    `json:"topUp" minimum:"0" maximum:"1" doc:"Share of the shrinkage that is refilled by topping off the sprue"`
	BondC       float64    `json:"bondC" minimum:"0" maximum:"160" doc:"Layers whose boundary is colder when they meet come apart; 0 for the usual"`
	CupLossML   float64    `json:"cupLossML" minimum:"0" maximum:"100" doc:"Hot, stays in a cup"`
	Throws      bool       `json:"throws,omitempty" doc:"Leftovers are thrown away: none are kept"`
	LossRuns    int        `json:"lossRuns" minimum:"0" maximum:"1000000" doc:"How many cooks of past runs taught that"`
}

// Heater is a microwave or a hot pot.
type Heater struct {
	Name       string  `json:"name" minLength:"1" maxLength:"40"`
	Pot        bool    `json:"pot" doc:"A hot pot: slower, and a cup in it does not cool"`
	PowerW     float64 `json:"powerW" minimum:"100" maximum:"4000"`
	MostML     float64 `json:"mostML" minimum:"30" maximum:"10000" doc:"The most that it takes at once"`
	Efficiency float64 `json:"efficiency" minimum:"0.05" maximum:"1" doc:"Share of its power that arrives in the cup"`
	CoolPerS   float64 `json:"coolPerS" minimum:"0.00005" maximum:"0.01" doc:"How fast 240 ml from it cool, of what they are warmer than the room"`
	Found      string  `json:"found,omitempty" maxLength:"200" doc:"How that was found; usual figures where empty"`
}

// Injector is a kind of injector.
type Injector struct {
	Name    string  `json:"name" minLength:"1" maxLength:"40"`
	ML      float64 `json:"ml" minimum:"5" maximum:"2000" doc:"Of each barrel, hot"`
	Barrels int     `json:"barrels" minimum:"1" maximum:"3"`
	Count   int     `json:"count" minimum:"1" maximum:"12"`
	PlugML  float64 `json:"plugML" minimum:"0" maximum:"100" doc:"Stays in each barrel, each load"`
	PurgeML float64 `json:"purgeML" minimum:"0" maximum:"100" doc:"Is pushed out of each barrel before, each load"`
}

// Usual figures of a bench that nobody has described yet.
const (
	usualShrink  = 0.93
	usualPlateC  = 54.4 // 130 °F
	usualCupLoss = 5.0
	usualPlug    = 6.0
	usualPurge   = 2.0
)

// Usual is a bench of one microwave and one pair of hands.
func Usual() Equipment {
	return Equipment{
		Heaters: []Heater{{
			Name: "Microwave", PowerW: 1000, MostML: 480, Efficiency: heat.UsualEfficiency,
			CoolPerS: heat.UsualCoolPerS,
		}},
		Injectors: []Injector{{
			Name: "Injector, 6 oz", ML: 175, Barrels: 1, Count: 2, PlugML: usualPlug, PurgeML: usualPurge,
		}},
		Blocks: 1, Hands: 1, CupML: 480, LeastML: 60, StepML: 5, RoomC: 21, PlateC: usualPlateC, Shrink: usualShrink,
		TopUp: 0.5, CupLossML: usualCupLoss,
	}
}

// Check says what is wrong with a bench.
func (e *Equipment) Check() error {
	between := func(field, what, unit string, v, low, high float64) error {
		if !(v >= low && v <= high) {
			return measure.Faulty(
				field, "%s: %s to %s %s are accepted", what, measure.Number(low, 2), measure.Number(high, 2), unit,
			)
		}
		return nil
	}
	if len(e.Heaters) == 0 || len(e.Heaters) > 4 {
		return measure.Faulty("heaters", "a bench heats with one to four microwaves or hot pots")
	}
	if len(e.Injectors) > 12 {
		return measure.Faulty("injectors", "up to twelve kinds of injector are kept")
	}
	for i, h := range e.Heaters {
		at := fmt.Sprintf("heaters.%d.", i)
		for _, err := range []error{
			measure.CheckName(at+"name", "what heats", h.Name, 40),
			between(at+"powerW", "its power", "W", h.PowerW, 100, 4000),
			between(at+"mostML", "the most that it takes", "ml", h.MostML, 30, 10_000),
			between(at+"efficiency", "what arrives in the cup", "of its power", h.Efficiency, 0.05, 1),
			between(at+"coolPerS", "how fast a cup cools", "a second", h.CoolPerS, 0.00005, 0.01),
		} {
			if err != nil {
				return err
			}
		}
	}
	for i, j := range e.Injectors {
		at := fmt.Sprintf("injectors.%d.", i)
		for _, err := range []error{
			measure.CheckName(at+"name", "the injector", j.Name, 40),
			between(at+"ml", "a barrel", "ml", j.ML, 5, 2000),
			between(at+"barrels", "barrels", "", float64(j.Barrels), 1, 3),
			between(at+"count", "how many of them", "", float64(j.Count), 1, 12),
			between(at+"plugML", "the plug", "ml", j.PlugML, 0, 100),
			between(at+"purgeML", "what is pushed out before", "ml", j.PurgeML, 0, 100),
		} {
			if err != nil {
				return err
			}
		}
		if j.PlugML+j.PurgeML >= j.ML {
			return measure.Faulty(
				at+"plugML", "plug and purge take all of the %s ml of %s", measure.Number(j.ML, 0), j.Name,
			)
		}
	}
	for _, err := range []error{
		between("blocks", "blending blocks", "", float64(e.Blocks), 0, 8),
		between("platePlaces", "places on the hot plate", "", float64(e.PlatePlaces), 0, 24),
		between("hands", "people at the bench", "", float64(e.Hands), 1, 8),
		between("cupML", "the largest cup", "ml", e.CupML, 30, 5000),
		between("leastML", "the least that is cooked", "ml", e.LeastML, 0, min(500, e.CupML)),
		between("stepML", "plastisol is measured to", "ml", e.StepML, 0, 100),
		between("roomC", "the room", "°C", e.RoomC, -10, 45),
		between("plateC", "a mold from the hot plate", "°C", e.PlateC, 25, 120),
		between("shrink", "the cold volume of a hot one", "", e.Shrink, 0.8, 1),
		between("topUp", "topped off", "of what it shrinks", e.TopUp, 0, 1),
		between("bondC", "what bonds", "°C", e.BondC, 0, 160),
		between("cupLossML", "what stays in a cup", "ml", e.CupLossML, 0, 100),
	} {
		if err != nil {
			return err
		}
	}
	return nil
}

// heater is the one that the others are taken to be like: the weakest.
func (e *Equipment) heater() *Heater {
	return &e.Heaters[slices.IndexFunc(e.Heaters, func(h Heater) bool {
		return !slices.ContainsFunc(
			e.Heaters, func(o Heater) bool { return o.PowerW*o.Efficiency < h.PowerW*h.Efficiency },
		)
	})]
}

// mostCookML is the most that is cooked at once, cold.
func (e *Equipment) mostCookML() float64 { return min(e.CupML, e.heater().MostML) }

// pots says whether every cup waits in a hot pot.
func (e *Equipment) pots() bool {
	return !slices.ContainsFunc(e.Heaters, func(h Heater) bool { return !h.Pot })
}

// coolML is the cup whose cooling a heater's figure is of; a larger one cools slower, as its surface grows less than
// what is in it.
const coolML = 240.0

func (h *Heater) coolPerS(ml float64) float64 { return h.CoolPerS * math.Cbrt(coolML/ml) }

// Trial is one burst with two readings after it, as a maker tells it.
type Trial struct {
	ML        float64 `json:"ml" minimum:"10" maximum:"5000" doc:"Plastisol in the cup"`
	StartC    float64 `json:"startC"`
	BurstS    float64 `json:"burstS" minimum:"1" maximum:"1800"`
	Reading1C float64 `json:"reading1C"`
	AfterS1   float64 `json:"afterS1" minimum:"0" maximum:"3600" doc:"Since the end of the burst"`
	Reading2C float64 `json:"reading2C"`
	AfterS2   float64 `json:"afterS2" minimum:"1" maximum:"7200"`
}

// usualGML is what plastisol weighs.
const usualGML = 1.03

// ByTrial is a heater as two readings found it.
func (h *Heater) ByTrial(t Trial, roomC float64) (Heater, error) {
	for _, c := range []float64{t.StartC, t.Reading1C, t.Reading2C} {
		if !(c >= -10 && c <= measure.MaxC) {
			return *h, measure.Faulty(
				"reading1", "%s is no reading of a cup; up to 260 °C (500 °F) is accepted", measure.Degrees(c),
			)
		}
	}
	trial := heat.Trial{
		PowerW: h.PowerW, MassG: t.ML * usualGML, CpJgK: heat.UsualCpJgK, AmbientC: roomC, StartC: t.StartC,
		BurstS:    t.BurstS,
		Reading1C: t.Reading1C, Reading2C: t.Reading2C, AfterS1: t.AfterS1, AfterS2: t.AfterS2,
	}
	f, err := trial.Calibrate()
	if err != nil {
		return *h, err
	}
	out := *h
	out.Efficiency, out.CoolPerS = f.Efficiency, f.CoolPerS*math.Cbrt(t.ML/coolML)
	out.Found = fmt.Sprintf(
		"%s ml for %s s: %s, then %s", measure.Number(t.ML, 0), measure.Number(t.BurstS, 0),
		measure.Degrees(t.Reading1C),
		measure.Degrees(t.Reading2C),
	)
	return out, nil
}

// After is what so much plastic that shows a temperature is predicted to show after a wait, a burst and another wait.
func (h *Heater) After(ml, gML, roomC, showsC, waitS, burstS, thenS float64) float64 {
	v := heat.NewCup(ml*gML, heat.UsualCpJgK, showsC, roomC, h.coolPerS(ml))
	v.Rest(waitS)
	const parts = 20 // it loses heat meanwhile
	for range parts {
		v.Burst(h.PowerW, h.Efficiency, burstS/parts)
		v.Rest(burstS / parts)
	}
	v.Rest(thenS)
	return v.C
}
