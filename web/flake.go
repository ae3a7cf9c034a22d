package web

import (
	"context"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/flake"
	"cloudburst/core/match"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/store"
)

func (a *api) flakeRoutes() {
	post(a, "setScale", "/references/{reference}/scale", a.setScale)
	post(a, "countFlake", "/references/{reference}/flake", a.countFlake)
	remove(a, "dropFlakeCount", "/references/{reference}/flake", a.dropFlakeCount)
	post(a, "correctFlakeCount", "/references/{reference}/flake/pieces", a.correctFlakeCount)
	post(a, "decideFlakeCount", "/references/{reference}/flake/reading", a.decideFlakeCount)
	get(a, "flakeSpoons", "/references/{reference}/spoons", a.flakeSpoons)
}

type setScaleIn struct {
	ReferencePath
	Body struct {
		A      [2]float64 `json:"a" doc:"px of the photo"`
		B      [2]float64 `json:"b"`
		Length string     `json:"length" maxLength:"40" doc:"What lies between them, as typed: 50 mm, 2 in"`
		Seen   int        `json:"seen" minimum:"1" doc:"The revision of the reference that was seen"`
	}
}

func (a *api) setScale(ctx context.Context, in *setScaleIn) (*referenceAnswer, error) {
	scale, err := flake.ScaleOf(in.Body.A, in.Body.B, in.Body.Length)
	if err == nil {
		err = shopOf(ctx).SetScale(ctx, in.UID, in.Body.Seen, scale)
	}
	return a.reference(ctx, in.UID, err)
}

type countFlakeIn struct {
	ReferencePath
	Body struct {
		flake.Rect
		Seen int `json:"seen" minimum:"1" doc:"The revision of the reference that was seen"`
	}
}

func (a *api) countFlake(ctx context.Context, in *countFlakeIn) (*referenceAnswer, error) {
	r, err := shopOf(ctx).Reference(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	p, err := a.picture(ctx, r)
	if err != nil {
		return nil, problem(err, "")
	}
	box := in.Body.Rect
	found, err := dear(ctx, a.budget, func(ctx context.Context) (*flake.Found, error) {
		return flake.Count(
			ctx, p,
			flake.Rect{
				X0: min(box.X0, box.X1), Y0: min(box.Y0, box.Y1), X1: max(box.X0, box.X1), Y1: max(box.Y0, box.Y1),
			},
			r.PxPerMM,
		)
	})
	if err == nil {
		err = shopOf(ctx).SetFlake(ctx, in.UID, in.Body.Seen, found)
	}
	return a.reference(ctx, in.UID, err)
}

type dropFlakeCountIn struct {
	ReferencePath
	Seen int `query:"seen" required:"true" minimum:"1" doc:"The revision of the reference that was seen"`
}

func (a *api) dropFlakeCount(ctx context.Context, in *dropFlakeCountIn) (*referenceAnswer, error) {
	return a.reference(ctx, in.UID, shopOf(ctx).SetFlake(ctx, in.UID, in.Seen, nil))
}

type correctFlakeCountIn struct {
	ReferencePath
	Body struct {
		X     float64 `json:"x" doc:"px of the photo"`
		Y     float64 `json:"y"`
		Class int     `json:"class" doc:"Of which kind the piece is, if one is added there"`
		Seen  int     `json:"seen" minimum:"1" doc:"The revision of the reference that was seen"`
	}
}

func (a *api) correctFlakeCount(ctx context.Context, in *correctFlakeCountIn) (*referenceAnswer, error) {
	return a.changeFlake(ctx, in.UID, in.Body.Seen, "class", func(r *store.Reference) (flake.Found, error) {
		return r.Flake.Correct(in.Body.X, in.Body.Y, r.PxPerMM, in.Body.Class)
	})
}

// changeFlake puts a count right by hand: field is what is at fault where nothing was counted yet.
func (a *api) changeFlake(
	ctx context.Context, uid string, seen int, field string, change func(*store.Reference) (flake.Found, error),
) (*referenceAnswer, error) {
	r, err := shopOf(ctx).Reference(ctx, uid)
	if err != nil {
		return nil, problem(err, "")
	}
	if _, done, err := shopOf(ctx).Done(ctx); done || err != nil {
		return a.reference(ctx, uid, err)
	}
	if r.Flake == nil {
		return nil, problem(measure.Faulty(field, "count the flake first"), "")
	}
	found, err := change(&r)
	if err == nil {
		err = shopOf(ctx).SetFlake(ctx, uid, seen, &found)
	}
	return a.reference(ctx, uid, err)
}

type decideFlakeCountIn struct {
	ReferencePath
	Body struct {
		Other bool `json:"other" doc:"The other reading is the right one; else the one that is shown"`
		Seen  int  `json:"seen" minimum:"1" doc:"The revision of the reference that was seen"`
	}
}

func (a *api) decideFlakeCount(ctx context.Context, in *decideFlakeCountIn) (*referenceAnswer, error) {
	return a.changeFlake(ctx, in.UID, in.Body.Seen, "other", func(r *store.Reference) (flake.Found, error) {
		return r.Flake.Decide(in.Body.Other)
	})
}

type flakeSpoonsIn struct {
	ReferencePath
	Recipe      string        `query:"recipe" maxLength:"64" format:"uid" doc:"uid of the recipe whose base it is; empty for clear plastisol"`
	ThicknessMM float64       `query:"thickness" required:"true"`
	Ground      optics.Ground `query:"ground" enum:"white,dark,grey,against,metal,hand" default:"white"`
	Flakes      []string      `query:"flakes,explode" maxItems:"20" doc:"uid of the flake that each kind is; empty for the nearest on the shelf"`
}

func (a *api) flakeSpoons(ctx context.Context, in *flakeSpoonsIn) (*struct {
	Body []mix.Spoons `nullable:"false"`
}, error,
) {
	r, err := shopOf(ctx).Reference(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	if r.Flake == nil {
		return nil, problem(measure.Faulty("recipe", "count the flake first"), "")
	}
	c, _, err := a.pour(ctx, in.Recipe, "", "", ViewQuery{})
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, kit, err := a.tools(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	m, err := mix.Stir(&c, shelf)
	if err != nil {
		return nil, problem(err, "")
	}
	at := mix.Condition{ThicknessMM: in.ThicknessMM, Ground: in.Ground, Light: colour.D65, State: cup.Rested}
	if err := at.Check(); err != nil {
		return nil, problem(err, "")
	}
	seen, err := match.Seen(r.Flake)
	if err != nil {
		return nil, problem(err, "")
	}
	for i := range seen {
		if i < len(in.Flakes) {
			seen[i].Flake = in.Flakes[i]
		}
	}
	return &struct {
		Body []mix.Spoons `nullable:"false"`
	}{m.SpoonsPerCup(seen, shelf, kit, at)}, nil
}
