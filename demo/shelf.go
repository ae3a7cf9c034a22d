package demo

import (
	"context"
	"fmt"

	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/recipe"
	"cloudburst/store"
)

type bottle struct{ uid, family, name, note string }

// bottles is everything that is no flake: jugs, liquid colours, powders, additives.
var bottles = []bottle{
	{"skerry-medium", "medium-plastisol", "House medium", "Everyday jug. Stir it well, it settles in the cold store."},
	{"skerry-soft", "soft-plastisol", "Winter soft", "For water under 6 °C."},
	{"skerry-firm", "firm-plastisol", "Pike firm", ""},

	{"peat-black", "carbon-black", "Peat black", "One drop at a time."},
	{"drizzle-grey", "grey-tint", "Drizzle grey", ""},
	{"chalk-white", "titanium-white", "Chalk white", ""},
	{"rowan-red", "clear-red", "Rowan red", ""},
	{"brick-quay", "solid-red", "Brick quay", ""},
	{"ember-orange", "clear-orange", "Ember orange", ""},
	{"broom-yellow", "clear-yellow", "Broom yellow", ""},
	{"oilskin-yellow", "solid-yellow", "Oilskin yellow", "Covers everything; for perch in August."},
	{"bottle-green", "clear-green", "Bladderwrack green", "Very strong."},
	{"sound-blue", "clear-blue", "Sound blue", "Very strong."},
	{"slate-blue", "ultramarine", "Late-hour blue", ""},
	{"heather-violet", "clear-violet", "Heather violet", "Half of what you think."},
	{"tea-brown", "clear-brown", "Bog tea", "The base of nearly all our naturals."},
	{"mud-brown", "solid-brown", "Estuary mud", ""},
	{"glow-yellow-dye", "yellow-dye", "Lamp yellow dye", "Runs. Never beside a white belly."},
	{"foxglove-dye", "magenta-dye", "Foxglove dye", "Runs."},
	{"tern-dye", "cyan-dye", "Tern dye", "Runs."},
	{"sundew-dye", "red-dye", "Sundew dye", "Runs."},
	{"mussel-dye", "black-dye", "Mussel dye", "Violet in the thin parts. Runs."},
	{"beacon-lime", "glow-lime", "Beacon lime", "Dull under the bench lamp; look at it in the yard."},
	{"buoy-orange", "glow-orange", "Buoy orange", ""},
	{"flare-pink", "glow-pink", "Flare pink", "Foams when stirred."},
	{"herring-shine", "highlight-silver", "Herring shine", "Shake it."},

	{"wet-slate-pearl", "pearl-silver", "Wet slate pearl", ""},
	{"milk-pearl", "pearl-fine", "Milk pearl", ""},
	{"straw-pearl", "pearl-gold", "Straw pearl", ""},
	{"reed-bronze", "pearl-bronze", "Reed bronze", "With bog tea for crayfish."},
	{"rust-pearl", "pearl-copper", "Rust pearl", ""},
	{"gleam-gold", "interference-gold", "Gleam gold", "Needs a dark cup."},
	{"gleam-red", "interference-red", "Gleam red", "Needs a dark cup."},
	{"gleam-violet", "interference-violet", "Gleam violet", "Needs a dark cup."},
	{"gleam-blue", "interference-blue", "Gleam blue", "Needs a dark cup. The lagoon's herring."},
	{"gleam-green", "interference-green", "Gleam green", "Needs a dark cup."},
	{"starling-shift", "shift-green-violet", "Starling shift", "A knife tip does a cup."},
	{"beetle-shift", "shift-copper-green", "Beetle shift", "A knife tip does a cup."},
	{"dusk-shift", "shift-blue-violet", "Dusk shift", ""},

	{"shed-softener", "softener", "Shed softener", ""},
	{"shed-hardener", "hardener", "Shed hardener", ""},
	{"slow-burn", "stabiliser", "Slow burn stabiliser", "Five drops a cup, or the shed smells till Sunday."},
	{"shrimp-oil", "scent-oil", "Shrimp oil", ""},
	{"fine-salt", "salt-fine", "Fine salt", "Dry it in the oven that is not for food."},
	{"coarse-salt", "salt-coarse", "Coarse salt", ""},
	{"bead-glass", "glass-beads", "Bead glass", ""},
	{"cork-dust", "floating-spheres", "Floating dust", "Mask on: it flies."},
}

type flakeOnShelf struct {
	uid, family, name, note string
	sizeIn                  float64
}

var flakes = []flakeOnShelf{
	{"soot-008", "flake-black", "Soot, fine", "", 0.008},
	{"soot-035", "flake-black", "Soot", "", 0.035},
	{"soot-060", "flake-black", "Soot, coarse", "Blocks the small injector.", 0.062},
	{"lime-dust-015", "flake-white", "Quicklime flake", "", 0.015},
	{"ember-015", "flake-red", "Ember flake, fine", "", 0.015},
	{"ember-035", "flake-red", "Ember flake", "", 0.035},
	{"carrot-035", "flake-orange", "Sea buckthorn flake", "", 0.035},
	{"barley-008", "flake-gold", "Barley, fine", "", 0.008},
	{"barley-015", "flake-gold", "Barley, small", "", 0.015},
	{"barley-035", "flake-gold", "Barley", "", 0.035},
	{"kettle-035", "flake-copper", "Kettle flake", "", 0.035},
	{"kettle-060", "flake-copper", "Kettle flake, coarse", "", 0.062},
	{"eelgrass-015", "flake-green", "Eelgrass flake, small", "", 0.015},
	{"eelgrass-035", "flake-green", "Eelgrass flake", "", 0.035},
	{"strait-015", "flake-blue", "Strait flake, small", "", 0.015},
	{"strait-035", "flake-blue", "Strait flake", "", 0.035},
	{"thistle-035", "flake-purple", "Thistle flake", "", 0.035},
	{"rime-008", "flake-silver", "Rime, fine", "The scales of everything.", 0.008},
	{"rime-015", "flake-silver", "Rime, small", "", 0.015},
	{"rime-035", "flake-silver", "Rime", "", 0.035},
	{"aurora-015", "flake-holo", "Aurora, small", "Goes dull above 325 °F; we lost a batch.", 0.015},
	{"aurora-035", "flake-holo", "Aurora", "", 0.035},
	{"rust-runs-035", "flake-red-bleeding", "Rusty nail flake", "Runs pink in a week.", 0.035},
	{"ice-blue-035", "flake-clear-blue", "Ice blue flake", "Nothing over white; all there over black.", 0.035},
	{"ice-green-035", "flake-clear-green", "Ice green flake", "", 0.035},
	{"ice-red-015", "flake-clear-red", "Ice red flake", "", 0.015},
	{"drake-035", "flake-shift-green", "Drake's neck flake", "", 0.035},
	{"newt-035", "flake-shift-copper", "Newt flake", "", 0.035},
}

// onShelf is everything that stands there, in its order.
func onShelf() ([]material.Material, error) {
	var all []material.Material
	add := func(uid, name, family, note string, more func(*material.Material)) error {
		f, ok := material.FindFamily(family)
		if !ok {
			return fmt.Errorf("demo: no family %s", family)
		}
		m := f.New(uid, name)
		more(&m)
		if refine, ok := refined[uid]; ok {
			refine(&m)
		}
		m.Note = note
		all = append(all, m)
		return nil
	}
	for _, b := range bottles {
		if err := add(b.uid, b.name, b.family, b.note, func(*material.Material) {}); err != nil {
			return nil, err
		}
	}
	for _, k := range flakes {
		if err := add(
			k.uid, k.name, k.family, k.note, func(m *material.Material) { m.Flake.Resize(k.sizeIn, material.Maker) },
		); err != nil {
			return nil, err
		}
	}
	cut, err := recipe.Premix(
		"peat-cut", "Peat black, ten to one", []material.Part{{Material: "peat-black", Share: 1}}, 10, shelfOf(all),
	)
	cut.Note = "Our own cut, for the last touch."
	return append(all, cut), err
}

func shelfOf(all []material.Material) cup.Shelf {
	shelf := cup.Shelf{}
	for _, m := range all {
		shelf[m.UID] = m
	}
	return shelf
}

// stock fills the shelf.
func stock(ctx context.Context, sh *store.Shop) error {
	all, err := onShelf()
	if err != nil {
		return err
	}
	for _, m := range all {
		item, err := sh.AddMaterial(ctx, m)
		if err != nil {
			return fmt.Errorf("demo: %s: %w", m.Name, err)
		}
		s, ok := stocks[m.UID]
		if !ok {
			s = usualStock(&m)
		}
		if _, err := sh.SetStock(ctx, m.UID, item.Revision, s); err != nil {
			return err
		}
	}
	kit := measure.StandardKit()
	kit.Named = []measure.NamedMeasure{{
		Name: "tip of the small knife", ML: 0.1167, From: "0.35 g for 10 of Wet slate pearl",
	}}
	return sh.SetKit(ctx, kit, 1)
}

// refined are the values that the two have measured or been told.
var refined = map[string]func(*material.Material){
	"peat-black": func(m *material.Material) {
		m.Colourant.DropML = material.Value{Value: 0.046, Origin: material.Measured}
	},
	"chalk-white": func(m *material.Material) {
		m.Colourant.DropML = material.Value{Value: 0.058, Origin: material.Measured}
	},
	"bottle-green": func(m *material.Material) { m.Heat = &material.HeatLimit{MaxC: 190, Origin: material.Maker} },
	"flare-pink":   func(m *material.Material) { m.Heat = &material.HeatLimit{MaxC: 182, Origin: material.Maker} },
	"beetle-shift": func(m *material.Material) { m.Heat = &material.HeatLimit{Origin: material.NoneSaid} },
	"rime-035": func(m *material.Material) {
		m.Heat = &material.HeatLimit{MaxC: 177, Origin: material.Survived, Heats: 4}
	},
	"aurora-015": func(m *material.Material) { m.Heat = &material.HeatLimit{MaxC: 163, Origin: material.Measured} },
	"barley-035": func(m *material.Material) { m.Heat = &material.HeatLimit{MaxC: 179, Origin: material.Maker} },
	"skerry-medium": func(m *material.Material) {
		m.Plastisol.DensityGML = material.Value{Value: 1.035, Origin: material.Measured}
	},
	"fine-salt": func(m *material.Material) {
		m.Additive.BulkGML = material.Value{Value: 1.24, Origin: material.Measured}
	},
}

var stocks = map[string]material.Stock{
	"skerry-medium": {
		Typed: "1.5 gal", Left: 5678, Bought: "5 gal", Size: 18927, Price: 240, Reorder: "1 gal", Low: 3785,
	},
	"skerry-soft": {
		Typed: "2 quarts", Left: 1893, Bought: "1 gal", Size: 3785, Price: 62, Reorder: "1 quart", Low: 946,
	},
	"peat-black": {
		Typed: "0.5 fl oz", Left: 14.8, Bought: "1 fl oz", Size: 29.6, Price: 6.5, Reorder: "1 fl oz", Low: 29.6,
	},
	"aurora-015": {Typed: "6 g", Left: 6, Bought: "2 oz", Size: 56.7, Price: 11, Reorder: "15 g", Low: 15},
}

func usualStock(m *material.Material) material.Stock {
	switch {
	case m.Plastisol != nil:
		return material.Stock{Typed: "1 gal", Left: 3785, Bought: "1 gal", Size: 3785, Price: 58}
	case m.Form() == measure.Liquid:
		return material.Stock{Typed: "3 fl oz", Left: 88.7, Bought: "4 fl oz", Size: 118.3, Price: 9}
	case m.Additive != nil:
		return material.Stock{Typed: "2 lb", Left: 907, Bought: "5 lb", Size: 2268, Price: 12}
	}
	return material.Stock{Typed: "1.5 oz", Left: 42.5, Bought: "2 oz", Size: 56.7, Price: 8}
}
