package demo

import (
	"context"

	"cloudburst/core/cup"
	"cloudburst/core/leftover"
	"cloudburst/core/pack"
	"cloudburst/store"
)

// addPacks are what the two sell at the harbour, and what they buy for it. Some packs are made up.
func addPacks(ctx context.Context, sh *store.Shop) error {
	uids := map[string]string{}
	for _, s := range []pack.Supply{
		{Name: "Bait oil, aniseed", Unit: pack.ML, Counted: true, Left: 180, Size: 250, Price: 11},
		{Name: "Labels, half a sheet", Unit: pack.Pieces, Counted: true, Left: 34, Low: 40, Size: 100, Price: 7},
		{
			Name: "Bags, clear, with a slider", Unit: pack.Pieces, Counted: true, Left: 61, Low: 20, Size: 100,
			Price: 9.5,
		},
		{Name: "Eye glue", Unit: pack.ML, Counted: true, Left: 14, Low: 5, Size: 20, Price: 6.2},
		{Name: "Eyes, amber, 4 mm", Unit: pack.Pieces, Counted: true, Left: 312, Low: 100, Size: 500, Price: 14},
	} {
		made, err := sh.AddSupply(ctx, s)
		if err != nil {
			return err
		}
		uids[s.Name] = made.UID
	}
	baits, err := sh.Baits(ctx, store.Page{Most: 10})
	if err != nil {
		return err
	}
	named := map[string]string{}
	for _, b := range baits.Items {
		named[b.Name] = b.UID
	}
	bag := []pack.Use{
		{Supply: uids["Bags, clear, with a slider"], Amount: 1},
		{Supply: uids["Labels, half a sheet"], Amount: 1},
		{Supply: uids["Bait oil, aniseed"], Amount: 2},
	}
	eyes := []pack.Use{{Supply: uids["Eyes, amber, 4 mm"], Amount: 2}, {Supply: uids["Eye glue"], Amount: 0.03}}
	for _, p := range []struct {
		pack.Pack
		made int
	}{
		{
			pack.Pack{
				Name: "Harbour herring, four", Note: "Spots on, eyes on. For the sea trout people.",
				Baits: []pack.Baits{{Bait: named["Harbour herring"], Count: 4}}, Each: eyes, Bag: bag, Price: 6.5,
			},
			0,
		},
		{
			pack.Pack{
				Name: "Weed that turns, six", Baits: []pack.Baits{{
					Bait: named["Weed that turns"], Count: 6,
				}}, Each: []pack.Use{},
				Bag: bag, Price: 5.5,
			},
			2,
		},
	} {
		made, err := sh.AddPack(ctx, p.Pack)
		if err != nil {
			return err
		}
		if p.made > 0 {
			if _, err := sh.MakeUp(ctx, made.UID, made.Revision, p.made); err != nil {
				return err
			}
		}
	}
	return nil
}

// tubs are what stood in the cupboard before the shop kept count by itself.
var tubs = []struct {
	name, from, recipe, day, note string
	kind                          leftover.Kind
	ml, heats                     float64
}{
	{
		"Tea and rope, all sorts", "the spring's test cups", "wet-rope", "2026-04-02", "Has a hair of glitter in it.",
		leftover.Mixed, 130, 3,
	},
	{"Lantern, half a cup", "the pour for the bridge", "bog-lantern", "2026-02-13", "", leftover.RestOfCup, 118, 1},
	{"Oilskin sprues", "the market pour", "storm-oilskin", "2026-04-24", "", leftover.Sprues, 64, 2},
	{
		"Shrimp, spoiled", "a batch with dents", "shrimp-in-tea", "2026-05-09", "Only the shape was bad.",
		leftover.Spoiled,
		41, 1,
	},
	{
		"Belly, old", "nobody knows which day", "gull-belly", "2025-11-30", "Yellow by now. For dark baits only.",
		leftover.Guessed, 210, 7,
	},
	{
		"Hail with salt", "the deep hole", "salted-hail", "2026-06-12", "Sinks: not for a float bait.",
		leftover.RestOfCup,
		52, 1,
	},
	{"Yard light, the rest", "a cup for the children", "yard-light", "2026-08-21", "", leftover.RestOfCup, 33, 1},
}

func addTubs(ctx context.Context, sh *store.Shop, shelf cup.Shelf) error {
	for _, t := range tubs {
		r, err := sh.Recipe(ctx, t.recipe)
		if err != nil {
			return err
		}
		dose := t.heats * leftover.UsualHeatMin
		tub := leftover.OfCup(
			&r.Cup, leftover.History{HeatsMean: t.heats, HeatsMost: t.heats, DoseMean: dose, DoseMost: dose}, shelf,
		)
		has := tub.ML(leftover.DensitiesOf(shelf))
		for uid := range tub.In {
			tub.In[uid] *= t.ml / has
		}
		if _, err := sh.AddLeftover(
			ctx, leftover.Leftover{Name: t.name, From: t.from, Kind: t.kind, Day: t.day, Note: t.note, Tub: tub},
		); err != nil {
			return err
		}
	}
	return nil
}
