package web

import (
	"context"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/match"
	"cloudburst/core/mix"
)

// CorrectAsk is what a correction may use.
type CorrectAsk struct {
	Allow      match.Allow       `json:"allow,omitempty"`
	Most       int               `json:"most" minimum:"1" maximum:"6" doc:"Bottles that are added"`
	Readings   []MatchReading    `json:"readings,omitempty" maxItems:"24" doc:"What to meet; the cup's own target where empty"`
	SeeThrough *match.SeeThrough `json:"seeThrough,omitempty"`
}

// BetweenTwo is a colour between two others.
type BetweenTwo struct {
	One   colour.Lab `json:"one"`
	Other colour.Lab `json:"other"`
	Share float64    `json:"share" minimum:"0" maximum:"1" doc:"0 is the first, 1 the second"`
}

// SaidAnswer is what words make of a cup's target.
type SaidAnswer struct {
	Target     cup.Target        `json:"target"`
	Swatch     mix.Swatch        `json:"swatch"`
	SeeThrough *match.SeeThrough `json:"seeThrough,omitempty"`
	Says       string            `json:"says"`
}

func (a *api) correctRoutes() {
	post(a, "correctCup", "/cups/{cup}/correct", a.correctCup, asks)
	post(a, "sayOfCup", "/cups/{cup}/said", a.sayOfCup, asks)
}

type correctCupIn struct {
	UID  string `path:"cup" maxLength:"64" format:"uid"`
	Body CorrectAsk
}

func (a *api) correctCup(ctx context.Context, in *correctCupIn) (*struct{ Body match.Corrected }, error) {
	b, err := shopOf(ctx).Cup(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, kit, err := a.tools(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	w := &match.Wish{Cup: b.Cup.Cup, Most: in.Body.Most, SeeThrough: in.Body.SeeThrough}
	for i := range in.Body.Readings {
		w.Readings = append(w.Readings, in.Body.Readings[i].reading())
	}
	switch t := b.Cup.Target; {
	case len(w.Readings) > 0:
	case t != nil:
		w.Readings = []match.Reading{match.Targets(t)}
	default:
		return nil, fieldProblem(
			"readings", "This cup has no target yet: pin one on a reference, or say in words what is wrong with it.",
		)
	}
	if err := a.allow(ctx, w, &in.Body.Allow, true); err != nil {
		return nil, err
	}
	r, err := dear(
		ctx, a.budget, func(ctx context.Context) (*match.Corrected, error) { return match.Correct(ctx, w, shelf, kit) },
	)
	if err != nil {
		return nil, problem(err, "")
	}
	return &struct{ Body match.Corrected }{*r}, nil
}

type sayOfCupIn struct {
	UID string `path:"cup" maxLength:"64" format:"uid"`
	ViewQuery
	Body struct {
		Moves   []match.Move `json:"moves,omitempty" maxItems:"12"`
		Between *BetweenTwo  `json:"between,omitempty"`
	}
}

func (a *api) sayOfCup(ctx context.Context, in *sayOfCupIn) (*struct{ Body SaidAnswer }, error) {
	b, err := shopOf(ctx).Cup(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, _, err := a.tools(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	m, err := mix.Stir(&b.Cup.Cup, shelf)
	if err != nil {
		return nil, problem(err, "")
	}
	at := in.at(&b.Cup.Cup)
	if err := at.Check(); err != nil {
		return nil, problem(err, "")
	}
	out := SaidAnswer{Says: match.InWords(in.Body.Moves)}
	var got match.Said
	if two := in.Body.Between; two != nil {
		out.Says = "between the two"
		got, err = match.Between(two.One, two.Other, two.Share)
	} else {
		got, err = match.Say(m, at, in.Body.Moves)
	}
	if err != nil {
		return nil, problem(err, "")
	}
	t := match.SaidOf(b.Cup.Target, at, got, out.Says)
	out.Target, out.Swatch, out.SeeThrough = t, mix.NewSwatch(t.Lab), got.SeeThrough
	return &struct{ Body SaidAnswer }{out}, nil
}
