package demo

import (
	"context"

	"cloudburst/core/cup"
	"cloudburst/core/logbook"
	"cloudburst/core/mix"
	"cloudburst/store"
)

// days are a year of the two at the lagoon, and at the market.
var days = []struct {
	day, title, recipe, words, water, light, forage, rig string
	tags                                                 []string
	good, caught, sold                                   int
}{
	{
		"2025-12-06", "Cold herring, first ice", "cold-herring", "Let it lie. They took it off the bottom.", "clear",
		"overcast", "sprat", "6 g, slow",
		[]string{"sea trout"},
		0, 1, 0,
	},
	{
		"2026-01-17", "Wet rope for the shop", "wet-rope", "Two dozen for the market. Even colour.", "", "", "", "",
		[]string{"market"},
		24, 0, 6,
	},
	{
		"2026-02-14", "Bog lantern under the bridge", "bog-lantern", "Only in the last half hour.", "stained", "dusk",
		"",
		"10 g",
		[]string{"zander", "bridge"},
		0, 2, 0,
	},
	{
		"2026-03-21", "Two-faced weed, high water", "two-faced-weed",
		"Olive in the shallows, straw in the current. Both took.", "stained", "overcast", "stickleback", "5 g",
		[]string{"sea trout", "weed"},
		0, 4, 0,
	},
	{
		"2026-04-11", "Gull belly, back of the wave", "wave-back", "Nothing before nine, then four in an hour.",
		"green",
		"bright", "herring", "8 g",
		[]string{"sea trout"},
		0, 4, 0,
	},
	{
		"2026-04-25", "Market, spring", "wave-back", "Herring sold out before noon.", "", "", "", "",
		[]string{"market"},
		36,
		0, 9,
	},
	{
		"2026-05-16", "Wet rope along the reeds", "wet-rope", "Goby everywhere. They want it on the bottom.", "stained",
		"overcast", "goby", "4 g",
		[]string{"perch", "reeds"},
		0, 11, 0,
	},
	{
		"2026-06-13", "Salted hail, deep hole", "salted-hail",
		"Sinks as it should; the flake is lost below four metres.",
		"green", "bright", "", "12 g",
		[]string{"zander"},
		0, 1, 0,
	},
	{
		"2026-07-04", "Midsummer, nothing", "two-faced-weed", "Too warm, too bright. Went swimming.", "clear", "bright",
		"",
		"",
		[]string{"sea trout"},
		0, 0, 0,
	},
	{
		"2026-08-22", "Perch fin for the harbour", "wet-rope", "Yellow side up. Children caught most of them.", "green",
		"bright", "perch fry", "3 g",
		[]string{"perch", "harbour"},
		0, 17, 0,
	},
	{
		"2026-09-12", "Market, autumn", "bog-lantern", "Lantern outsold everything. Ran out of bags.", "", "", "", "",
		[]string{"market"},
		40, 0, 11,
	},
	{
		"2026-10-10", "Bog lantern after the rain", "bog-lantern", "Muddy as tea with milk. They found it.", "muddy",
		"dusk",
		"", "10 g",
		[]string{"zander"},
		0, 3, 0,
	},
	{
		"2026-11-01", "Cold herring off the point", "cold-herring", "Two follows, one on the bank.", "clear", "dusk",
		"sprat",
		"8 g",
		[]string{"sea trout"},
		0, 1, 0,
	},
}

func addDays(ctx context.Context, sh *store.Shop, shelf cup.Shelf) error {
	for _, d := range days {
		r, err := sh.Recipe(ctx, d.recipe)
		if err != nil {
			return err
		}
		m, err := mix.Stir(&r.Cup, shelf)
		if err != nil {
			return err
		}
		lab := m.Colour(mix.Compared)
		if _, err := sh.AddEntry(ctx, logbook.Entry{
			Title: d.title, Day: d.day, Words: d.words, Tags: d.tags, Water: d.water, Light: d.light, Forage: d.forage,
			Rig: d.rig, Good: d.good, Caught: d.caught, Sold: d.sold, Recipe: r.UID, Colour: &lab,
		}); err != nil {
			return err
		}
	}
	return nil
}
