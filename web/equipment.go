package web

import (
	"context"

	"cloudburst/core/measure"
	"cloudburst/core/pour"
)

// EquipmentAnswer is what the bench heats, holds and shoots with, and its revision.
type EquipmentAnswer struct {
	pour.Equipment
	Revision int `json:"revision"`
}

type equipmentAnswer struct{ Body EquipmentAnswer }

const staleEquipment = "Your kit was changed from another window since you opened it. It is shown as it stands now; enter yours again if it still fits."

func (a *api) equipmentRoutes() {
	get(
		a, "showEquipment", "/equipment",
		func(ctx context.Context, _ *struct{}) (*equipmentAnswer, error) { return a.equipment(ctx, nil) },
	)
	put(a, "setEquipment", "/equipment", a.setEquipment)
	post(a, "tryHeater", "/equipment/heaters/{heater}/trial", a.tryHeater)
}

func (a *api) equipment(ctx context.Context, err error) (*equipmentAnswer, error) {
	if err != nil {
		return nil, problem(err, staleEquipment)
	}
	e, revision, err := shopOf(ctx).Equipment(ctx)
	return &equipmentAnswer{EquipmentAnswer{e, revision}}, problem(err, "")
}

type setEquipmentIn struct {
	Body struct {
		pour.Equipment
		Seen int `json:"seen" doc:"The revision that was seen"`
	}
}

func (a *api) setEquipment(ctx context.Context, in *setEquipmentIn) (*equipmentAnswer, error) {
	return a.equipment(ctx, shopOf(ctx).SetEquipment(ctx, in.Body.Equipment, in.Body.Seen))
}

type tryHeaterIn struct {
	Heater int `path:"heater" minimum:"0" maximum:"3" doc:"Which of the heaters, from 0"`
	Body   struct {
		Seen     int     `json:"seen"`
		Volume   string  `json:"volume" maxLength:"60" doc:"Plastisol in the cup, as typed"`
		Start    string  `json:"start" maxLength:"60" doc:"What it was before, as typed: 70F"`
		BurstS   float64 `json:"burstS" minimum:"1" maximum:"1800"`
		Reading1 string  `json:"reading1" maxLength:"60" doc:"The first reading, stirred, as typed"`
		AfterS1  float64 `json:"afterS1" minimum:"0" maximum:"3600" doc:"So long after the burst"`
		Reading2 string  `json:"reading2" maxLength:"60"`
		AfterS2  float64 `json:"afterS2" minimum:"1" maximum:"7200"`
	}
}

// tryHeater calibrates a microwave by one burst and two readings.
func (a *api) tryHeater(ctx context.Context, in *tryHeaterIn) (*equipmentAnswer, error) {
	e, _, err := shopOf(ctx).Equipment(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	b := &in.Body
	if in.Heater >= len(e.Heaters) {
		return nil, fieldProblem("heater", "there is no such microwave or pot in your kit")
	}
	v, err := measure.ParseVolume(b.Volume)
	if err != nil {
		return nil, fieldProblem("volume", err.Error())
	}
	t := pour.Trial{ML: v.ML, BurstS: b.BurstS, AfterS1: b.AfterS1, AfterS2: b.AfterS2}
	for _, one := range []struct {
		field, typed string
		to           *float64
	}{{"start", b.Start, &t.StartC}, {"reading1", b.Reading1, &t.Reading1C}, {"reading2", b.Reading2, &t.Reading2C}} {
		if *one.to, err = measure.ParseTemperature(one.typed); err != nil {
			return nil, fieldProblem(one.field, err.Error())
		}
	}
	found, err := e.Heaters[in.Heater].ByTrial(t, e.RoomC)
	if err != nil {
		return nil, problem(err, "")
	}
	e.Heaters[in.Heater] = found
	return a.equipment(ctx, shopOf(ctx).SetEquipment(ctx, e, b.Seen))
}
