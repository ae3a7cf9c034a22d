package web

import (
	"context"
	"fmt"

	"github.com/danielgtaylor/huma/v2"

	"cloudburst/core/colour"
	"cloudburst/core/measure"
	"cloudburst/core/recipe"
	"cloudburst/store"
)

// BatchCard is a test batch with its sums.
type BatchCard struct {
	store.SavedBatch
	Sum   []recipe.Dose     `json:"sum" nullable:"false" doc:"All goes together"`
	Drift colour.Difference `json:"drift" doc:"How far what really went in is predicted to lie from the recipe"`
}

func (a *api) batchRoutes() {
	huma.Get(a.huma, "/batches", func(ctx context.Context, in *struct {
		Recipe string `query:"recipe" maxLength:"64" doc:"uid of a recipe; empty for all"`
	}) (*struct {
		Body []BatchCard `nullable:"false"`
	}, error) {
		list, err := a.shop.Batches(ctx, in.Recipe)
		out := &struct {
			Body []BatchCard `nullable:"false"`
		}{[]BatchCard{}}
		for _, b := range list {
			card, err := a.batchCard(ctx, b)
			if err != nil {
				return nil, problem(err, "")
			}
			out.Body = append(out.Body, card)
		}
		return out, problem(err, "")
	})

	type go1 struct {
		Doses []struct {
			Material string `json:"material" maxLength:"64"`
			Typed    string `json:"typed" maxLength:"200" doc:"As typed: 12, 12d, 12 drops"`
		} `json:"doses" nullable:"false" maxItems:"60"`
	}
	type newBatch struct {
		Body struct {
			Recipe      string  `json:"recipe" maxLength:"64"`
			Revision    int     `json:"revision"`
			PouredOn    string  `json:"pouredOn" maxLength:"40" doc:"YYYY-MM-DD"`
			Volume      string  `json:"volume" maxLength:"200" doc:"As typed"`
			Goes        []go1   `json:"goes" nullable:"false" maxItems:"30"`
			Verdict     string  `json:"verdict" maxLength:"4000"`
			RestedHours float64 `json:"restedHours"`
			Photo       string  `json:"photo,omitempty" maxLength:"64"`
		}
	}
	huma.Post(a.huma, "/batches", func(ctx context.Context, in *newBatch) (*struct{ Body BatchCard }, error) {
		v, err := measure.ParseVolume(in.Body.Volume)
		if err != nil {
			return nil, fieldProblem("volume", err.Error())
		}
		b := recipe.Batch{
			PouredOn: in.Body.PouredOn, Volume: v, Goes: []recipe.Go{}, Verdict: in.Body.Verdict,
			RestedHours: in.Body.RestedHours, Photo: in.Body.Photo,
		}
		for i, g := range in.Body.Goes {
			round := recipe.Go{Doses: []recipe.Dose{}}
			for j, d := range g.Doses {
				drops, err := measure.ParseDrops(d.Typed)
				if err != nil {
					return nil, fieldProblem(fmt.Sprintf("goes[%d].doses[%d]", i, j), err.Error())
				}
				round.Doses = append(round.Doses, recipe.Dose{Material: d.Material, Typed: d.Typed, Drops: drops})
			}
			b.Goes = append(b.Goes, round)
		}
		if b.Photo != "" {
			if err := a.shop.HasPhoto(ctx, b.Photo); err != nil {
				return nil, problem(err, "")
			}
		}
		saved, err := a.shop.AddBatch(ctx, in.Body.Recipe, in.Body.Revision, b)
		if err != nil {
			return nil, problem(err, "")
		}
		card, err := a.batchCard(ctx, saved)
		return &struct{ Body BatchCard }{card}, problem(err, "")
	})
}

func (a *api) batchCard(ctx context.Context, b store.SavedBatch) (BatchCard, error) {
	card := BatchCard{SavedBatch: b, Sum: recipe.Sum(b.Goes)}
	if card.Sum == nil {
		card.Sum = []recipe.Dose{}
	}
	shelf, err := a.shop.Shelf(ctx)
	if err != nil {
		return card, err
	}
	r, err := a.shop.RecipeAt(ctx, b.RecipeUID, b.RecipeRevision)
	if err != nil {
		return card, err
	}
	is := b.Cup(r.Plastisol)
	card.Drift, err = recipe.Drift(&is, &r.Cup, shelf, condition{}.at(&r.Cup))
	return card, err
}
