package web_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/web"
)

// The demo's batches teach the bottle that all of them have. One more reading changes what is known, and nothing of it
// stays once it is taken out.
func TestReadingsTeachABottle(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	learned := func(uid string) web.LearnedAnswer {
		return get[web.LearnedAnswer](s, "GET", "/materials/"+uid+"/learned", nil)
	}
	before := learned("tea-brown")
	assert.Len(t, before.Batches, 4)
	assert.Contains(t, before.Says, "By 4 batches")
	assert.Len(t, before.After, len(before.Before))
	assert.Less(t, before.Learned.StrengthSD, 0.2, "surer than its typical figures")

	all := list[web.BatchCard](s, "/batches")
	batch := all[slices.IndexFunc(all, func(b web.BatchCard) bool { return b.RecipeName == "Wet rope" })]
	reading := anything{
		"name": "Tail", "lab": anything{"L": 80, "a": 2, "b": 14}, "thicknessMM": 2, "ground": "white",
		"state": "rested",
		"how":   "photo",
	}
	path := "/batches/" + batch.UID + "/readings"
	got := get[web.BatchCard](s, "POST", path, reading)
	assert.Len(t, got.Readings, len(batch.Readings)+1)
	added := got.Read[len(got.Read)-1]
	assert.Equal(t, "2 mm over white, off a photo", added.Where)
	assert.NotEqual(t, before.Learned.LnStrength, learned("tea-brown").Learned.LnStrength)

	// A dark bait where all others are pale: flagged, in words.
	wrong := get[web.BatchCard](
		s, "POST", path,
		anything{
			"name": "Mixed up", "lab": anything{"L": 5, "a": 0, "b": 0}, "thicknessMM": 2, "ground": "white",
			"state": "rested",
			"how":   "instrument",
		},
	)
	assert.Contains(t, learned("tea-brown").Batches[0].Misfits[0], "Mixed up lies ΔE00")

	for _, uid := range []string{added.UID, wrong.Read[len(wrong.Read)-1].UID} {
		get[web.BatchCard](s, "DELETE", path+"/"+uid, nil)
	}
	assert.Equal(t, before, learned("tea-brown"))
	status, _, _ := s.refused("DELETE", path+"/"+added.UID, nil)
	assert.Equal(t, 404, status)

	none := learned("skerry-medium")
	assert.Nil(t, none.Learned)
	assert.Contains(t, none.Says, "Nothing was learned")
	for field, spoil := range map[string]any{
		"thicknessMM": 0, "name": "", "how": "guessed", "lab": anything{"L": 190, "a": 0, "b": 0},
	} {
		bad := anything{}
		for k, v := range reading {
			bad[k] = v
		}
		bad[field] = spoil
		status, at, says := s.refused("POST", path, bad)
		assert.Equal(t, 422, status, field)
		assert.Contains(t, at, field)
		assert.NotEmpty(t, says)
	}
	status, _, _ = s.refused("POST", "/batches/nowhere/readings", reading)
	assert.Equal(t, 404, status)
}

// A bottle that is stronger than its label is measured by chips: the guide says what to pour, the curve meets the
// readings, recipes follow it, and the bottle can go back to its figures. Chips that can't be are refused with the
// place where they were typed.
func TestABottleIsMeasuredByChips(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	ctx := t.Context()
	shelf, err := s.shop.Shelf(ctx)
	require.NoError(t, err)
	bottle := shelf["rowan-red"]
	truth, err := bottle.Stronger(1.6, material.Measured)
	require.NoError(t, err)
	guide := get[web.ChipGuide](s, "POST", "/materials/rowan-red/chips/guide", anything{"volume": "1/2 cup"})
	require.Len(t, guide.Loads, 2)
	assert.Contains(t, guide.Says, "two step chips")
	loads := func(noiseless bool) []any {
		var out []any
		for _, typed := range guide.Loads {
			dose, err := measure.StandardKit().ParseDose(typed, measure.Liquid, measure.CupML/2)
			require.NoError(t, err)
			volume, err := measure.ParseVolume("1/2 cup")
			require.NoError(t, err)
			made, err := mix.Stir(&cup.Cup{
				Volume: volume, Plastisol: "skerry-medium", Doses: []cup.Dose{{Material: "rowan-red", Amount: dose}},
			},
				cup.Shelf{"rowan-red": truth, "skerry-medium": shelf["skerry-medium"]})
			require.NoError(t, err)
			var cells []any
			for _, mm := range guide.MM {
				for _, g := range guide.Grounds {
					l := made.Colour(mix.Condition{ThicknessMM: mm, Ground: g, Light: colour.D65, State: cup.Rested})
					cells = append(
						cells, anything{
							"thicknessMM": mm, "ground": g, "lab": fmt.Sprintf("%.1f %.1f %.1f", l.L, l.A, l.B),
						},
					)
				}
			}
			if !noiseless {
				cells[3] = anything{"thicknessMM": 1.5, "ground": "dark", "lab": "reddish"}
			}
			out = append(out, anything{"dose": typed, "cells": cells})
		}
		return out
	}
	ask := func(noiseless bool) anything {
		return anything{"volume": "1/2 cup", "how": "instrument", "family": true, "loads": loads(noiseless)}
	}
	status, at, says := s.refused("POST", "/materials/rowan-red/chips/preview", ask(false))
	assert.Equal(t, 422, status)
	assert.Equal(t, "body.loads[0].cells[3].lab", at)
	assert.Contains(t, says, "no L, a and b")

	found := get[web.ChipAnswer](s, "POST", "/materials/rowan-red/chips/preview", ask(true))
	assert.Equal(t, 16, found.Readings)
	assert.Less(t, found.Residual, 0.6)
	assert.Contains(t, found.Says, "shape of its family fits")
	assert.InDelta(t, 1.6, found.K[14]/found.WasK[14], 0.15, "where it takes most")

	was := get[web.RecipeCard](s, "GET", "/recipes/shrimp-in-tea", nil).Look.Swatch
	page := get[web.Bottle](s, "GET", "/materials/rowan-red", nil)
	body := ask(true)
	body["seen"] = page.Revision
	kept := get[web.Bottle](s, "PUT", "/materials/rowan-red/chips", body)
	require.NotNil(t, kept.Colourant.Optics.Curve)
	assert.Equal(t, 16, kept.Colourant.Optics.Curve.Chips)
	assert.NotEqual(t, was, get[web.RecipeCard](s, "GET", "/recipes/shrimp-in-tea", nil).Look.Swatch)
	status, _, _ = s.refused("PUT", "/materials/rowan-red/chips", body)
	assert.Equal(t, 409, status, "from another window")
	back := get[web.Bottle](s, "DELETE", fmt.Sprintf("/materials/rowan-red/chips?seen=%d", kept.Revision), nil)
	assert.Nil(t, back.Colourant.Optics.Curve)
	assert.Equal(t, was, get[web.RecipeCard](s, "GET", "/recipes/shrimp-in-tea", nil).Look.Swatch)

	// A powder, face-on and tilted.
	powder := shelf["gleam-blue"]
	stronger, err := powder.Stronger(1.5, material.Measured)
	require.NoError(t, err)
	stronger, err = stronger.Refine("filmNM", powder.Powder.Optics.Film.ThicknessNM+15, material.Measured)
	require.NoError(t, err)
	guide = get[web.ChipGuide](s, "POST", "/materials/gleam-blue/chips/guide", anything{"volume": "1/2 cup"})
	assert.Contains(t, guide.Says, "tilted by 45 degrees")
	require.Equal(t, []float64{0, 45}, guide.Tilts)
	var tilted []any
	for _, typed := range guide.Loads {
		dose, err := measure.StandardKit().ParseDose(typed, measure.Solid, measure.CupML/2)
		require.NoError(t, err)
		volume, err := measure.ParseVolume("1/2 cup")
		require.NoError(t, err)
		made, err := mix.Stir(
			&cup.Cup{
				Volume: volume, Plastisol: "skerry-medium", Doses: []cup.Dose{{Material: "gleam-blue", Amount: dose}},
			},
			cup.Shelf{"gleam-blue": stronger, "skerry-medium": shelf["skerry-medium"]},
		)
		require.NoError(t, err)
		var cells []any
		for _, mm := range guide.MM {
			for _, g := range guide.Grounds {
				for _, tilt := range guide.Tilts {
					l := made.Colour(mix.Condition{
						ThicknessMM: mm, Ground: g, Light: colour.D65, State: cup.Rested, TiltDeg: tilt,
					})
					cells = append(
						cells,
						anything{
							"thicknessMM": mm, "ground": g, "tiltDeg": tilt,
							"lab": fmt.Sprintf("%.1f %.1f %.1f", l.L, l.A, l.B),
						},
					)
				}
			}
		}
		tilted = append(tilted, anything{"dose": typed, "cells": cells})
	}
	bottle2 := get[web.Bottle](s, "GET", "/materials/gleam-blue", nil)
	body = anything{
		"volume": "1/2 cup", "how": "instrument", "family": false, "loads": tilted, "seen": bottle2.Revision,
	}
	pearl := get[web.Bottle](s, "PUT", "/materials/gleam-blue/chips", body)
	assert.InDelta(t, 1.5, pearl.Powder.Optics.StrengthPerMM/powder.Powder.Optics.StrengthPerMM, 0.08)
	assert.InDelta(t, powder.Powder.Optics.Film.ThicknessNM+15, pearl.Powder.Optics.Film.ThicknessNM, 2)
	pearl = get[web.Bottle](s, "DELETE", fmt.Sprintf("/materials/gleam-blue/chips?seen=%d", pearl.Revision), nil)
	assert.Equal(t, powder.Powder.Optics, pearl.Powder.Optics, "back to its figures")

	// A clear chip of the plastisol.
	clear := get[web.ChipGuide](s, "POST", "/materials/skerry-soft/chips/guide", anything{"volume": ""})
	assert.Empty(t, clear.Loads)
	status, _, says = s.refused(
		"POST", "/materials/skerry-soft/chips/preview",
		anything{"volume": "", "how": "eye", "family": false, "loads": []any{anything{"dose": "", "cells": []any{}}}},
	)
	assert.Equal(t, 422, status)
	assert.Contains(t, says, "at least 4 chips")
	status, _, says = s.refused("POST", "/materials/fine-salt/chips/guide", anything{"volume": ""})
	assert.Equal(t, 422, status)
	assert.Contains(t, says, "liquid colours, powders and plastisol")
}
