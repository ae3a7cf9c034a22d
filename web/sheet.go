package web

import (
	"cmp"
	"context"
	"fmt"

	"cloudburst/core/bait"
	"cloudburst/core/cores"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/picture"
	"cloudburst/core/recipe"
	"cloudburst/store"
)

// Sheet is several pictures beside each other: one colour in several baits, several colours in one, or one bait in
// several waters.
type Sheet struct {
	Title    string         `json:"title"`
	Pictures []SheetPicture `json:"pictures" nullable:"false"`
	Next     string         `json:"next,omitempty" doc:"Send it back as after for the next sheet; empty at the end"`
}

// How many pictures go on one sheet: recipes, and molds of one's own.
const (
	onASheet  = 24
	mostMolds = 40
)

// SheetPicture is one of them.
type SheetPicture struct {
	NamedPicture
	Says string    `json:"says,omitempty"`
	Step *cup.Step `json:"step,omitempty" doc:"What takes the cup of the bench there; absent where it is there"`
}

type sheetAnswer struct {
	ContentEncoding string `header:"Content-Encoding"`
	Body            Sheet
}

// drawAll draws the pictures of a sheet, in their order.
func (a *api) drawAll(
	ctx context.Context, title, next string, n int, draw func(i int) (SheetPicture, error),
) (*sheetAnswer, error) {
	out, err := dear(ctx, a.budget, func(ctx context.Context) (*sheetAnswer, error) {
		out := &sheetAnswer{"identity", Sheet{Title: title, Pictures: make([]SheetPicture, n), Next: next}}
		return out, cores.Each(ctx, n, func(i int) (err error) {
			out.Body.Pictures[i], err = draw(i)
			return err
		})
	})
	if err != nil {
		return nil, problem(err, "")
	}
	return out, nil
}

func (a *api) sheetRoutes() {
	get(a, "baitInWaters", "/baits/{bait}/waters", a.baitInWaters)
	get(a, "baitAges", "/baits/{bait}/ages", a.baitAges)
	get(a, "cupSheet", "/cups/{cup}/sheet", a.cupSheet)
	get(a, "cupLadder", "/cups/{cup}/ladder", a.cupLadder)
	get(a, "cupBases", "/cups/{cup}/bases", a.cupBases)
	get(a, "recipeSheet", "/sheets/recipes", a.recipeSheet)
}

func (a *api) baitInWaters(ctx context.Context, in *BaitPath) (*sheetAnswer, error) {
	h, err := a.holdAt(ctx, in, smallBait)
	if err != nil {
		return nil, problem(err, "")
	}
	waters := optics.Waters()
	return a.drawAll(ctx, h.saved.Name, "", len(waters), func(i int) (SheetPicture, error) {
		p := h.picture
		at := in.at()
		at.Water = waters[i]
		p.BaitPlan = a.plans.get(h.shape, h.mold.key, p.View, smallBait, true)
		p.Laid = a.plans.laid(&p)
		img, err := drawBait(&p, at)
		return SheetPicture{NamedPicture: NamedPicture{img, waters[i].Name(), string(waters[i])}}, err
	})
}

type cupSheetIn struct {
	UID string `path:"cup" maxLength:"64" format:"uid"`
	BaitLook
}

func (a *api) cupSheet(ctx context.Context, in *cupSheetIn) (*sheetAnswer, error) {
	_, mixed, _, err := a.stirred(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	names, err := a.namesOf(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	name := names.of(in.UID).short
	molds, err := shopOf(ctx).Molds(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	var all []shaped
	for _, m := range molds {
		if !m.Retired && len(all) < mostMolds {
			all = append(all, shapedMold(m))
		}
	}
	for _, s := range bait.Names() {
		all = append(all, shaped{s[0], bait.NewMold(s[1], s[0]), false})
	}
	return a.drawAll(ctx, name, "", len(all), func(i int) (SheetPicture, error) {
		s := all[i].Bait()
		img, err := drawBait(
			&picture.BaitPicture{
				BaitPlan: a.plans.get(s, all[i].key, s.Main(), listBait, in.Water != ""), Structure: plainStructure,
				Cups: []*mix.Mix{mixed}, Judge: in.Even,
			},
			in.at(),
		)
		return SheetPicture{NamedPicture: NamedPicture{img, all[i].Name, all[i].key}}, err
	})
}

type cupLadderIn struct {
	UID      string `path:"cup" maxLength:"64" format:"uid"`
	Material string `query:"material" maxLength:"64" format:"uid" required:"true" doc:"What there is more of from rung to rung, or the flake"`
	ViewQuery
}

// rung is one cup of a row of them that a cup on the bench may be changed to.
type rung struct {
	cup        *cup.Cup
	name, says string
	key        string
	step       cup.Step
}

// cupLadder shows a cup with more and more of one material as baits; a picture's key is the dose as it can be typed.
func (a *api) cupLadder(ctx context.Context, in *cupLadderIn) (*sheetAnswer, error) {
	return a.rungs(ctx, in, func(c *cup.Cup, shelf cup.Shelf, kit measure.Kit, at mix.Condition) ([]rung, error) {
		all, err := recipe.Ladder(c, in.Material, shelf, kit, at)
		out := make([]rung, len(all))
		for i := range all {
			r := &all[i]
			out[i] = rung{&r.Cup, cmp.Or(r.Typed, "none"), "", r.Typed, cup.Step{
				Kind: cup.SetDose, Material: in.Material, Typed: r.Typed,
			}}
			if r.Typed == "" {
				out[i].step = cup.Step{Kind: cup.Remove, Material: in.Material}
			}
			if i > 0 {
				out[i].says = fmt.Sprintf("ΔE00 %.1f on from the one before", r.DeltaE00)
			}
		}
		return out, err
	})
}

// cupBases shows a cup's flake in four plastics.
func (a *api) cupBases(ctx context.Context, in *cupLadderIn) (*sheetAnswer, error) {
	items, err := shopOf(ctx).AllMaterials(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	var rack []string
	for i := range items {
		if !items[i].Retired {
			rack = append(rack, items[i].UID)
		}
	}
	return a.rungs(ctx, in, func(c *cup.Cup, shelf cup.Shelf, kit measure.Kit, at mix.Condition) ([]rung, error) {
		all, err := recipe.Bases(c, in.Material, rack, shelf, kit, at)
		out := make([]rung, len(all))
		for i := range all {
			b := &all[i]
			out[i] = rung{
				&b.Cup, b.Name, fmt.Sprintf("%s, ΔE00 %.0f", b.Flake.Words, b.Flake.DeltaE00), "",
				cup.Step{Kind: cup.Swap, Cup: &b.Cup},
			}
		}
		return out, err
	})
}

// rungs draws them as baits.
func (a *api) rungs(
	ctx context.Context, in *cupLadderIn,
	of func(*cup.Cup, cup.Shelf, measure.Kit, mix.Condition) ([]rung, error),
) (*sheetAnswer, error) {
	b, err := shopOf(ctx).Cup(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, kit, err := a.tools(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	mold, err := a.mold(ctx, in.Bait)
	if err != nil {
		return nil, problem(err, "")
	}
	at := in.at(&b.Cup.Cup)
	if err := at.Check(); err != nil {
		return nil, problem(err, "")
	}
	all, err := of(&b.Cup.Cup, shelf, kit, at)
	if err != nil {
		return nil, problem(err, "")
	}
	plain, err := a.plan(&mold, in.BaitQuery, at, listBait)
	if err != nil {
		return nil, problem(err, "")
	}
	return a.drawAll(ctx, shelf[in.Material].Name, "", len(all), func(i int) (SheetPicture, error) {
		m, err := mix.Stir(all[i].cup, shelf)
		if err != nil {
			return SheetPicture{}, err
		}
		p := *plain
		p.Cups = []*mix.Mix{m}
		img, err := drawBait(&p, at)
		out := SheetPicture{NamedPicture{img, all[i].name, all[i].key}, all[i].says, &all[i].step}
		if all[i].cup.Same(&b.Cup.Cup) {
			out.Step = nil
		}
		return out, err
	})
}

type recipeSheetIn struct {
	BaitQuery
	BaitLook
	After string `query:"after" maxLength:"400" doc:"Where the sheet before it ended"`
}

func (a *api) recipeSheet(ctx context.Context, in *recipeSheetIn) (*sheetAnswer, error) {
	m, err := a.mold(ctx, in.Bait)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	list, err := shopOf(ctx).Recipes(ctx, "", store.Page{After: in.After, Most: onASheet})
	if err != nil {
		return nil, problem(err, "")
	}
	recipes := list.Items
	plan, err := a.plan(&m, in.BaitQuery, in.at(), listBait)
	if err != nil {
		return nil, problem(err, "")
	}
	return a.drawAll(ctx, m.Name, list.Next, len(recipes), func(i int) (SheetPicture, error) {
		mixed, err := mix.Stir(&recipes[i].Cup, shelf)
		if err != nil {
			return SheetPicture{}, err
		}
		img, err := drawBait(
			&picture.BaitPicture{
				BaitPlan: plan.BaitPlan, Structure: plainStructure, Cups: []*mix.Mix{mixed}, Judge: in.Even,
			},
			in.at(),
		)
		return SheetPicture{NamedPicture: NamedPicture{img, recipes[i].Name, recipes[i].UID}}, err
	})
}
