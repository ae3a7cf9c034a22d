package web

import (
	"context"

	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/sync/errgroup"

	"cloudburst/core/bait"
	"cloudburst/core/optics"
	"cloudburst/core/picture"
	"cloudburst/core/recipe"
)

// Sheet is several pictures beside each other: one colour in several baits, several colours in one, or one bait in several
// waters.
type Sheet struct {
	Title    string         `json:"title"`
	Pictures []SheetPicture `json:"pictures" nullable:"false"`
}

// SheetPicture is one of them.
type SheetPicture struct {
	NamedPicture
	Says string `json:"says,omitempty"`
}

type sheetAnswer struct {
	ContentEncoding string `header:"Content-Encoding"`
	Body            Sheet
}

// drawAll draws the pictures of a sheet at once, in their order.
func drawAll(title string, n int, draw func(i int) (SheetPicture, error)) (*sheetAnswer, error) {
	out := &sheetAnswer{"identity", Sheet{Title: title, Pictures: make([]SheetPicture, n)}}
	var g errgroup.Group
	g.SetLimit(4)
	for i := range n {
		g.Go(func() (err error) {
			out.Body.Pictures[i], err = draw(i)
			return err
		})
	}
	return out, problem(g.Wait(), "")
}

func (a *api) sheetRoutes() {
	huma.Get(a.huma, "/baits/{bait}/waters", func(ctx context.Context, in *BaitPath) (*sheetAnswer, error) {
		h, err := a.holdAt(ctx, in, smallBait)
		if err != nil {
			return nil, problem(err, "")
		}
		waters := optics.Waters()
		return drawAll(h.saved.Name, len(waters), func(i int) (SheetPicture, error) {
			p := h.picture
			at := in.at()
			at.Water = waters[i]
			img, err := drawBait(&p, at)
			return SheetPicture{NamedPicture{img, waters[i].Name(), string(waters[i])}, ""}, err
		})
	})
	type cupSheet struct {
		UID string `path:"cup" maxLength:"64"`
		BaitLook
	}
	huma.Get(a.huma, "/sheet/{cup}", func(ctx context.Context, in *cupSheet) (*sheetAnswer, error) {
		_, mix, _, err := a.stirred(ctx, in.UID)
		if err != nil {
			return nil, problem(err, "")
		}
		names, err := a.cupNames(ctx)
		if err != nil {
			return nil, problem(err, "")
		}
		molds, err := a.shop.Molds(ctx)
		if err != nil {
			return nil, problem(err, "")
		}
		var all []shaped
		for _, m := range molds {
			if !m.Retired {
				one, err := a.mold(ctx, m.UID)
				if err != nil {
					return nil, problem(err, "")
				}
				all = append(all, one)
			}
		}
		for _, s := range bait.Shapes() {
			all = append(all, shaped{s.Key, bait.NewMold(s.Name, s.Key), false})
		}
		return drawAll(names.of(in.UID).short, len(all), func(i int) (SheetPicture, error) {
			s := all[i].Bait()
			img, err := drawBait(&picture.BaitPicture{BaitPlan: a.plans.get(s, all[i].key, s.Main(), listBait), Structure: plainStructure, Cups: []*recipe.Mix{mix}}, in.at())
			return SheetPicture{NamedPicture{img, all[i].Name, all[i].key}, ""}, err
		})
	})
	type colours struct {
		BaitQuery
		BaitLook
	}
	huma.Get(a.huma, "/sheet", func(ctx context.Context, in *colours) (*sheetAnswer, error) {
		m, err := a.mold(ctx, in.Bait)
		if err != nil {
			return nil, problem(err, "")
		}
		shelf, err := a.shop.Shelf(ctx)
		if err != nil {
			return nil, problem(err, "")
		}
		recipes, err := a.shop.Recipes(ctx)
		if err != nil {
			return nil, problem(err, "")
		}
		s := m.Bait()
		plan := a.plans.get(s, m.key, in.view(&s), listBait)
		return drawAll(m.Name, len(recipes), func(i int) (SheetPicture, error) {
			mix, err := recipe.Stir(&recipes[i].Cup, shelf)
			if err != nil {
				return SheetPicture{}, err
			}
			img, err := drawBait(&picture.BaitPicture{BaitPlan: plan, Structure: plainStructure, Cups: []*recipe.Mix{mix}}, in.at())
			return SheetPicture{NamedPicture{img, recipes[i].Name, recipes[i].UID}, ""}, err
		})
	})
}
