package web

import (
	"context"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/learn"
	"cloudburst/core/material"
	"cloudburst/core/mix"
	"cloudburst/core/recipe"
	"cloudburst/store"
)

// LearnedAnswer is what the shop's batches say of a bottle. Nothing is predicted by it yet.
type LearnedAnswer struct {
	Learned *material.Learned  `json:"learned,omitempty" doc:"Not there where no batch with it was read"`
	Says    string             `json:"says"`
	Before  []mix.Swatch       `json:"before" nullable:"false" doc:"A usual dose, thin to thick, by its own figures"`
	After   []mix.Swatch       `json:"after" nullable:"false" doc:"The same as the batches have it"`
	Differs *colour.Difference `json:"differs,omitempty" doc:"Of a body with that dose"`
	Batches []LearnedFrom      `json:"batches" nullable:"false" doc:"That it is in and that were read, the latest first"`
}

// LearnedFrom is a batch that taught something.
type LearnedFrom struct {
	UID        string   `json:"uid"`
	RecipeUID  string   `json:"recipeUID"`
	RecipeName string   `json:"recipeName"`
	PouredOn   string   `json:"pouredOn"`
	Readings   int      `json:"readings"`
	Misfits    []string `json:"misfits" nullable:"false" doc:"Readings of it that do not fit the others, in words"`
}

func (a *api) showLearned(ctx context.Context, in *BottlePath) (*struct{ Body LearnedAnswer }, error) {
	item, err := a.shop.Item(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, err := a.shop.Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	list, err := a.shop.ReadBatches(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	batches, err := a.poured(ctx, list, shelf)
	if err != nil {
		return nil, problem(err, "")
	}
	l, err := dear(ctx, a.budget, func(context.Context) (*learn.Learnt, error) { return learn.From(shelf, batches) })
	if err != nil {
		return nil, problem(err, "")
	}
	out := LearnedAnswer{Learned: l.Bottle(in.UID), Before: []mix.Swatch{}, After: []mix.Swatch{}, Batches: []LearnedFrom{}}
	out.Says = learn.Says(out.Learned)
	if change, ok := learn.ChangeOf(item.Material, out.Learned, shelf); ok && out.Learned != nil {
		for i := range change.Before {
			out.Before, out.After = append(out.Before, mix.NewSwatch(change.Before[i])), append(out.After, mix.NewSwatch(change.After[i]))
		}
		out.Differs = &change.Differs
	}
	for i, b := range list {
		if !slices.ContainsFunc(batches[i].Cup.Doses, func(d cup.Dose) bool { return d.Material == in.UID }) {
			continue
		}
		from := LearnedFrom{b.UID, b.RecipeUID, b.RecipeName, b.PouredOn, len(b.Readings), []string{}}
		for _, m := range l.Misfits() {
			for _, r := range b.Readings {
				if r.UID == m.Reading {
					from.Misfits = append(from.Misfits, m.Says(r.Name))
				}
			}
		}
		out.Batches = append(out.Batches, from)
	}
	return &struct{ Body LearnedAnswer }{out}, nil
}

// poured are batches to learn from, as they were poured.
func (a *api) poured(ctx context.Context, list []store.SavedBatch, shelf cup.Shelf) ([]learn.Batch, error) {
	recipes, err := a.shop.RecipesOf(ctx, list)
	if err != nil {
		return nil, err
	}
	out := make([]learn.Batch, len(list))
	for i := range list {
		b := &list[i]
		uids, read := make([]string, len(b.Readings)), make([]recipe.PartReading, len(b.Readings))
		for k, r := range b.Readings {
			uids[k], read[k] = r.UID, r.PartReading
		}
		r := recipes[b.UID]
		out[i] = learn.Of(b.UID, b.Cup(r.Plastisol, shelf), uids, read)
	}
	return out, nil
}
