package demo

import (
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/recipe"
)

type colourSpec struct {
	uid, name, notes, volume, plastisol string
	tags                                []string
	doses                               []cup.Dose
}

func d(material string, drops float64) cup.Dose { return cup.DripOf(material, drops) }

func tsp(material string, n float64) cup.Dose {
	a := measure.Amount{Value: n, Unit: measure.InTeaspoons}
	return cup.Dose{Material: material, Typed: a.String(), Amount: a}
}

func ml(material string, n float64) cup.Dose {
	a := measure.Amount{Value: n, Unit: measure.InML}
	return cup.Dose{Material: material, Typed: a.String(), Amount: a}
}

var recipes = []colourSpec{
	{
		"bog-lantern", "Bog lantern", "Amber against the light, brown over the bottom. Zander at dusk.", "1 cup",
		"skerry-medium",
		[]string{"zander", "dusk"},
		[]cup.Dose{d("tea-brown", 9), d("ember-orange", 5), d("peat-black", 1)},
	},
	{
		"cold-herring", "Cold herring back", "Back for the laminate; blue when thin, nearly black in the cup.",
		"1/2 cup",
		"skerry-soft",
		[]string{"sea trout", "laminate"},
		[]cup.Dose{d("sound-blue", 2), d("drizzle-grey", 8), d("heather-violet", 1)},
	},
	{
		"wet-rope", "Wet rope", "Clear greenish brown, for clear water in spring.", "1 cup", "skerry-medium",
		[]string{"perch", "natural"},
		[]cup.Dose{d("tea-brown", 3), d("bottle-green", 1), d("drizzle-grey", 3)},
	},
	{
		"storm-oilskin", "Storm oilskin", "Solid, seen from far in stained water.", "8 fl oz", "skerry-medium",
		[]string{"stained water"},
		[]cup.Dose{d("oilskin-yellow", 14), d("bottle-green", 1)},
	},
	{
		"shrimp-in-tea", "Shrimp in tea", "Goes pink where it is thin.", "1 cup", "skerry-soft",
		[]string{"sea trout", "natural"},
		[]cup.Dose{d("rowan-red", 4), d("tea-brown", 6), d("chalk-white", 2)},
	},
	{
		"two-faced-weed", "Two-faced weed", "A changeable: olive fins, red-brown body. The ratio is everything.",
		"2 cups",
		"skerry-medium",
		[]string{"changeable"},
		[]cup.Dose{d("heather-violet", 8), d("broom-yellow", 32)},
	},
	{
		"gull-belly", "Gull belly", "Pale belly for anything.", "300 ml", "skerry-medium",
		[]string{"belly"},
		[]cup.Dose{d("chalk-white", 18), d("drizzle-grey", 3)},
	},
	{
		"wave-back", "Back of the wave", "Blue that goes black when it turns. The black goes in first.", "1 cup",
		"skerry-medium",
		[]string{"sea trout", "laminate"},
		[]cup.Dose{d("peat-black", 14), tsp("gleam-blue", 0.25), tsp("rime-008", 1.0/16)},
	},
	{
		"peat-spot", "Peat spot", "For spots and bars; a little goes a long way.", "60 ml", "skerry-medium",
		[]string{"spots"},
		[]cup.Dose{d("peat-black", 10)},
	},
	{
		"salted-hail", "Salted hail", "Heavy and quiet, for the drop-off. Salt takes the flake's shine: be generous.",
		"1 cup", "skerry-firm",
		[]string{"zander", "heavy"},
		[]cup.Dose{
			d("tea-brown", 8), d("bottle-green", 1), tsp("barley-035", 1), tsp("soot-035", 0.5), tsp("kettle-060", 0.5),
			tsp("fine-salt", 12), ml("shed-softener", 6),
		},
	},
	{
		"yard-light", "Yard light", "Glows at noon, sleeps under the lamp.", "1 cup", "skerry-soft",
		[]string{"stained water", "perch"},
		[]cup.Dose{d("beacon-lime", 20), d("chalk-white", 3), tsp("eelgrass-015", 0.25)},
	},
	{
		"everything-pot", "Everything pot", "What one cup can hold: the test of the bench.", "1 cup", "skerry-medium",
		[]string{"trial"},
		[]cup.Dose{
			d("broom-yellow", 9), d("bottle-green", 1), d("beacon-lime", 6), d("peat-black", 1),
			tsp("wet-slate-pearl", 1.0/32),
			tsp("gleam-green", 1.0/16),
			tsp("barley-008", 1.0/16), tsp("aurora-035", 0.25), tsp("soot-035", 0.25), tsp("fine-salt", 3),
			ml("shed-softener", 5),
		},
	},
}

func (s colourSpec) recipe() (recipe.Recipe, error) {
	v, err := measure.ParseVolume(s.volume)
	return recipe.Recipe{
		UID: s.uid, Name: s.name, Notes: s.notes, Tags: s.tags,
		Cup: cup.Cup{Volume: v, Plastisol: s.plastisol, Doses: s.doses},
	}, err
}
