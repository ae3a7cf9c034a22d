package web

import (
	"context"
	"fmt"

	"cloudburst/core/bait"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/recipe"
	"cloudburst/store"
)

// tellOf works out everything on a bait's page but its pictures.
func (a *api) tellOf(ctx context.Context, page *BaitPage, h *holding) error {
	st := &page.Structure
	shelf, kit, err := a.tools(ctx)
	if err != nil {
		return err
	}
	filled, byCup := h.mold.Takes(st, len(h.cups))
	for i := range h.cups {
		h.cups[i].BaitML, h.cups[i].ShotML = byCup[i].BaitML, byCup[i].ShotML
	}
	density := make([]float64, len(filled))
	for i, part := range filled {
		density[i] = h.mixes[part.Cup].Feel().DensityGML
	}
	page.Cups = h.cups
	for i, f := range page.Design.Fields(&h.mold.Mold) {
		p := BaitPart{PartFields: f, ML: filled[i].ML, CupKey: f.Key + ".cup"}
		if lie, ok := st.LieOf(f.Key, &h.shape); ok {
			body := h.mixes[st.Layers[lie.Layer].Cup]
			if spot := h.vessels[f.Cup]; spot != nil {
				if p.Shown, err = recipe.Shows(
					body, spot, recipe.Lie{OverMM: lie.OverMM, DeepMM: lie.DeepMM, BodyMM: lie.BodyMM}, shelf, kit,
				); err != nil {
					return err
				}
			}
		}
		page.Parts = append(page.Parts, p)
	}
	thick := h.shape.ThickestMM()
	chosen := func(a, b int) bool { return !h.cups[a].Gone && !h.cups[b].Gone }
	for i := range len(st.Layers) - 1 {
		low, high := st.Layers[i], st.Layers[i+1]
		if low.Cup == high.Cup || !chosen(low.Cup, high.Cup) {
			continue
		}
		d, says := recipe.Apart(h.mixes[low.Cup], h.mixes[high.Cup])
		page.Apart = append(page.Apart, BaitSay{fmt.Sprintf("%s and %s: %s", low.Name, high.Name, says), d.DeltaE00})
		through := recipe.Behind(h.mixes[low.Cup], h.mixes[high.Cup], thick)
		page.Through = append(page.Through, BaitSay{recipe.BehindSays(low.Name, through), through.DeltaE00})
	}
	if st.Core != nil && chosen(st.Layers[0].Cup, st.Core.Cup) {
		through := recipe.Behind(h.mixes[st.Layers[0].Cup], h.mixes[st.Core.Cup], thick)
		page.Through = append(
			page.Through, BaitSay{recipe.BehindSays("outside over the core", through), through.DeltaE00},
		)
	}
	page.Room = append(page.Room, h.shape.Room(st)...)
	page.Order = h.mold.Order(st, func(i int) string {
		if h.cups[i].Gone {
			return "a cup that is still to be chosen"
		}
		return h.cups[i].Name
	})
	hook := bait.Hook{Grams: page.Hook.Grams, X: page.Hook.AtMM, Y: page.Hook.UpMM}
	page.Fresh, page.Salt = bait.Floats(
		filled, density, mix.FreshGML, hook,
	), bait.Floats(filled, density, mix.SaltGML, hook)
	page.HookSet = []bait.Field{{Key: "hook.grams", Value: measure.Number(hook.Grams, 2) + " g"}}
	if hook.Grams > 0 {
		page.HookSet = append(page.HookSet, bait.Field{Key: "hook.at", Value: measure.Number(hook.X, 1) + " mm"},
			bait.Field{Key: "hook.up", Value: measure.Number(hook.Y, 1) + " mm"})
	}
	seen := map[string]bool{}
	for _, m := range h.mixes {
		for _, f := range m.Flakes {
			if !seen[f.Material] {
				seen[f.Material] = true
				page.Flakes = append(
					page.Flakes, FlakePassage{
						h.mold.Passage(f.Material, f.Flake.SizeMM()), f.Material, shelf[f.Material].Name,
					},
				)
			}
		}
	}
	return nil
}

// cupName is how a cup on the bench is called: by its letter, its recipe, and how much there is of it.
type cupName struct{ uid, short, long string }

// cupNames are cups of the bench, the one that was touched last first.
type cupNames []cupName

// namesOf names cups by their uids.
func (a *api) namesOf(ctx context.Context, uids ...string) (cupNames, error) {
	list, err := shopOf(ctx).CupsNamed(ctx, uids)
	var out cupNames
	for _, c := range list {
		out = append(out, nameOfCup(&c))
	}
	return out, err
}

func (n cupNames) of(uid string) cupName {
	for _, c := range n {
		if c.uid == uid {
			return c
		}
	}
	return cupName{}
}

func nameOfCup(c *store.CupLabel) cupName {
	short, long := c.Cup.Called(c.Own, c.Recipe)
	return cupName{c.UID, short, long}
}

// fill puts the cups of the bench that were touched last into what a design has still to choose, those that it does not
// have yet.
func (a *api) fill(ctx context.Context, d *bait.Design) error {
	list, err := shopOf(ctx).Cups(ctx, store.Page{Most: 2 * bait.MaxCups})
	if err != nil {
		return err
	}
	taken := map[string]bool{}
	for _, c := range d.Cups {
		taken[c.Cup] = true
	}
	for i := range d.Cups {
		for _, c := range list.Items {
			if d.Cups[i].Cup == "" && !taken[c.UID] {
				d.Cups[i].Cup, taken[c.UID] = c.UID, true
			}
		}
	}
	return nil
}
