package web

import (
	"cmp"
	"context"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/learn"
	"cloudburst/core/material"
	"cloudburst/core/mix"
	"cloudburst/store"
)

// LearnedAnswer is what the shop's batches say of a bottle.
type LearnedAnswer struct {
	Learned  *material.Learned  `json:"learned,omitempty" doc:"Not there where no batch with it was read"`
	Accepted bool               `json:"accepted" doc:"Cups are predicted with it"`
	Revision int                `json:"revision" doc:"Of the bottle; send it back with the next change"`
	Says     string             `json:"says"`
	Before   []mix.Swatch       `json:"before" nullable:"false" doc:"A usual dose, thin to thick, by its own figures"`
	After    []mix.Swatch       `json:"after" nullable:"false" doc:"The same as the batches have it"`
	Differs  *colour.Difference `json:"differs,omitempty" doc:"Of a body with that dose"`
	Batches  []LearnedFrom      `json:"batches" nullable:"false" doc:"That it is in and that were read, the latest first"`
}

// LearnedFrom is a batch that taught something.
type LearnedFrom struct {
	UID        string   `json:"uid"`
	RecipeUID  string   `json:"recipeUID,omitempty"`
	ProjectUID string   `json:"projectUID,omitempty"`
	Of         string   `json:"of" doc:"What it was poured for or from"`
	PouredOn   string   `json:"pouredOn"`
	Readings   int      `json:"readings"`
	Misfits    []string `json:"misfits" nullable:"false" doc:"Readings of it that do not fit the others, in words"`
}

func (a *api) showLearned(ctx context.Context, in *BottlePath) (*learnedAnswer, error) {
	return a.learned(ctx, in.UID)
}

type learnedAnswer struct{ Body LearnedAnswer }

type acceptLearnedIn struct {
	BottlePath
	Body struct {
		Seen     int  `json:"seen" doc:"The revision that was seen"`
		Accepted bool `json:"accepted"`
	}
}

func (a *api) acceptLearned(ctx context.Context, in *acceptLearnedIn) (*learnedAnswer, error) {
	if _, err := shopOf(ctx).Accept(ctx, in.UID, in.Body.Seen, in.Body.Accepted); err != nil {
		return nil, problem(err, staleBottle)
	}
	return a.learned(ctx, in.UID)
}

// lessons are what the shop's batches teach.
func (a *api) lessons(ctx context.Context) (*store.Lessons, error) {
	return dear(ctx, a.budget, shopOf(ctx).Lessons)
}

func (a *api) learned(ctx context.Context, uid string) (*learnedAnswer, error) {
	item, err := shopOf(ctx).Item(ctx, uid)
	if err != nil {
		return nil, problem(err, "")
	}
	l, err := a.lessons(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	out := LearnedAnswer{
		Learned: l.Bottle(uid), Accepted: item.Accepted, Revision: item.Revision, Before: []mix.Swatch{},
		After: []mix.Swatch{}, Batches: []LearnedFrom{},
	}
	out.Says = learn.Says(out.Learned)
	if change, ok := learn.ChangeOf(item.Material, out.Learned, shelf); ok && out.Learned != nil {
		for i := range change.Before {
			out.Before, out.After = append(
				out.Before, mix.NewSwatch(change.Before[i]),
			), append(out.After, mix.NewSwatch(change.After[i]))
		}
		out.Differs = &change.Differs
	}
	for i, b := range l.Batches {
		if slices.ContainsFunc(l.Poured[i].Cup.Doses, func(d cup.Dose) bool { return d.Material == uid }) {
			out.Batches = append(out.Batches, LearnedFrom{
				UID: b.UID, RecipeUID: b.RecipeUID, ProjectUID: b.ProjectUID, Of: cmp.Or(
					b.ProjectName, b.RecipeName, "A cup of its own",
				),
				PouredOn: b.PouredOn, Readings: len(b.Readings), Misfits: misfitsOf(l, &b),
			})
		}
	}
	return &learnedAnswer{out}, nil
}

// misfitsOf are the readings of a batch that do not fit the others, in words.
func misfitsOf(l *store.Lessons, b *store.SavedBatch) []string {
	out := []string{}
	for _, m := range l.Misfits() {
		for _, r := range b.Readings {
			if r.UID == m.Reading {
				out = append(out, m.Says(r.Name))
			}
		}
	}
	return out
}
