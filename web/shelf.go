package web

import (
	"context"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"cloudburst/core/material"
	"cloudburst/core/recipe"
)

// Bottle is a material as the shelf shows it.
type Bottle struct {
	material.Material
	Swatch recipe.Swatch `json:"swatch" doc:"A usual dose in a body over white"`
	Dose   string        `json:"dose" doc:"That usual dose, in words"`
}

func bottleOf(m material.Material) Bottle {
	swatch, dose := recipe.Usual(&m)
	return Bottle{m, swatch, dose}
}

func (a *api) shelfRoutes() {
	huma.Get(a.huma, "/shelf", func(ctx context.Context, _ *struct{}) (*struct {
		Body []Bottle `nullable:"false"`
	}, error,
	) {
		list, err := a.shop.Materials(ctx)
		out := []Bottle{}
		for _, m := range list {
			out = append(out, bottleOf(m))
		}
		return &struct {
			Body []Bottle `nullable:"false"`
		}{out}, problem(err, "")
	})
	huma.Get(a.huma, "/families", func(context.Context, *struct{}) (*struct {
		Body []material.Family `nullable:"false"`
	}, error,
	) {
		return &struct {
			Body []material.Family `nullable:"false"`
		}{material.Families()}, nil
	})
	type newBottle struct {
		Body struct {
			Family string `json:"family" maxLength:"80"`
			Name   string `json:"name" maxLength:"200" doc:"The maker's own name for it"`
		}
	}
	huma.Post(a.huma, "/shelf", func(ctx context.Context, in *newBottle) (*struct{ Body Bottle }, error) {
		family, ok := material.FindFamily(in.Body.Family)
		if !ok {
			return nil, fieldProblem("family", "choose one of the families that are offered")
		}
		if err := recipe.CheckName(in.Body.Name); err != nil {
			return nil, problem(err, "")
		}
		m, err := a.shop.AddMaterial(ctx, family.New("", strings.TrimSpace(in.Body.Name)))
		return &struct{ Body Bottle }{bottleOf(m)}, problem(err, "")
	})
}
