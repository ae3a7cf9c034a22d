package recipe_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/cup"
	"cloudburst/core/material"
	. "cloudburst/core/recipe"
	. "cloudburst/testkit"
)

// What is known of a batch decides between causes: cold plastic in a thin mold fills short; flake above its limit
// curls.
func TestDefectsLeadToTheirCauses(t *testing.T) {
	first := func(d Defect, f Facts) Cause {
		f.WorkC = cup.UsualWorkC
		all := Why(d, &f)
		require.NotEmpty(t, all)
		sum := 0.0
		for _, c := range all {
			assert.NotEmpty(t, c.Do)
			sum += c.Share
		}
		assert.InDelta(t, 1, sum, 1e-9)
		return all[0]
	}
	assert.Contains(t, first(ShortFill, Facts{PourC: 160, ThinMM: 1}).Says, "too cold for the thin parts")
	assert.Contains(t, first(ShortFill, Facts{PourC: 177, ThinMM: 4, Shots: 8}).Says, "too many fills")
	assert.Contains(t, first(Curled, Facts{PourC: 185, FlakeC: 171, Limited: "Soot"}).Do, "limit of Soot, 340 °F")
	assert.Contains(t, first(Curled, Facts{PourC: 165, FlakeC: 171, Heats: 4}).Says, "stayed hot")
	assert.Contains(t, first(Blended, Facts{PourC: 177, Runs: true, Rested: 72}).Says, "A dye in it runs")
	assert.Contains(t, first(Bubbles, Facts{Solids: 0.1}).Says, "Salt, powder or flake")
	assert.Contains(t, first(Faded, Facts{Heats: 5}).Says, "too often")
	for _, d := range Defects() {
		assert.NotEmpty(t, Why(d, &Facts{WorkC: cup.UsualWorkC}), d.Name())
	}
}

// Blended are layers that ran together.
const Blended = BlendedLayers

func TestFactsComeFromTheBatch(t *testing.T) {
	b := Batch{
		PouredOn: "2026-11-20", Plastisol: "medium-plastisol", Volume: Volume(t, "1 cup"), RestedHours: 48,
		Additions: []cup.Addition{{Doses: []cup.Dose{cup.DripOf("yellow-dye", 5)}}},
		Outcome:   Outcome{HeatsC: []float64{160, 182}, PouredML: 120, Defects: []Defect{Curled}, Fate: "remelt"},
	}
	shelf := Bench()
	dye := shelf["yellow-dye"]
	dye.Heat = &material.HeatLimit{MaxC: 175, Origin: material.Maker}
	shelf["yellow-dye"] = dye
	require.NoError(t, b.Check(shelf))
	is := b.Cup(shelf)
	f := FactsOf(&b, &is, Stirred(t, is), shelf, 1.2, 30)
	assert.Equal(t, 182.0, f.PourC)
	assert.Equal(t, 2, f.Heats)
	assert.InDelta(t, 4, f.Shots, 1e-9)
	assert.Equal(t, 175.0, f.FlakeC)
	assert.True(t, f.Runs)

	for field, o := range map[string]Outcome{
		"heatsC": {HeatsC: []float64{900}}, "leftML": {LeftML: -1}, "defects": {Defects: []Defect{Flash, Flash}},
		"droop": {Droop: "soggy"}, "fate": {Fate: "burn"}, "mold": {Mold: "No Such"},
	} {
		AssertFault(t, o.Check(), field, "")
	}
	AssertFault(t, (&Outcome{Defects: []Defect{"haunted"}}).Check(), "defects", "from the list")
}
