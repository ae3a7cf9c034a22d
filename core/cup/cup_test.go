package cup_test

import (
	"math"
	"testing"

	"cloudburst/core/colour"
	. "cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	. "cloudburst/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestCheckRefusesWhatNobodyPours(t *testing.T) {
	for _, c := range []struct {
		field, says string
		spoil       func(*Cup)
	}{
		{"volume", "needs some plastisol", func(c *Cup) { c.Volume.ML = math.NaN() }},
		{"plastisol", "plastisol from the shelf", func(c *Cup) { c.Plastisol = "clear-red" }},
		{"doses[0]", "up to 500 drops", func(c *Cup) { c.Doses[0].Amount.Value = 501 }},
		{"doses[0]", "nothing on the shelf", func(c *Cup) { c.Doses[0].Material = "gone" }},
		{"doses[1]", "twice", func(c *Cup) { c.Doses = append(c.Doses, c.Doses[0]) }},
		{"doses[0]", "0 or more", func(c *Cup) { c.Doses[0].Amount.Value = -1 }},
		{"doses[0]", "0 or more", func(c *Cup) { c.Doses[0].Amount.Value = math.NaN() }},
		{"doses", "at most 60", func(c *Cup) { c.Doses = make([]Dose, 61) }},
		{"target.ground", "white, dark", func(c *Cup) { c.Target.Ground = "moon" }},
		{"target.lab", "accepted", func(c *Cup) { c.Target.Lab.A = math.Inf(1) }},
		{"target.thicknessMM", "0.05 to 100", func(c *Cup) { c.Target.ThicknessMM = 0 }},
		{"target.name", "1 to 80", func(c *Cup) { c.Target.Name = "" }},
	} {
		filled := CupOf(t, "1 cup", DripOf("clear-red", 5))
		filled.Target = &Target{Name: "Belly", Lab: colour.Lab{L: 50}, ThicknessMM: 4, Ground: optics.White}
		require.NoError(t, filled.Check(Bench()))
		c.spoil(&filled)
		AssertFault(t, filled.Check(Bench()), c.field, c.says)
	}
	shelf := Bench()
	thick := shelf["clear-red"]
	bottle := *thick.Colourant
	bottle.DropML.Value = 0.5
	thick.Colourant = &bottle
	shelf["clear-red"] = thick
	flood := CupOf(t, "1 cup", DripOf("clear-red", 490))
	flood.Doses[0].Amount.Value = 480
	AssertFault(t, flood.Check(shelf), "doses", "more liquid than plastisol")
}

func TestStepsOfTheBench(t *testing.T) {
	shelf := Bench()
	start := CupOf(t, "1 cup", DripOf("clear-red", 5))
	do := func(c Cup, s Step) Cup {
		got, err := s.Apply(Live{Cup: c}, shelf, measure.StandardKit())
		require.NoError(t, err)
		return got.Cup
	}
	c := do(start, Step{Kind: Drip, Material: "clear-red", Drops: 1})
	assert.Equal(t, []Dose{DripOf("clear-red", 6)}, c.Doses)
	assert.Equal(t, 5.0, start.Doses[0].Amount.Value, "the cup handed in is untouched")
	c = do(c, Step{Kind: Drip, Material: "carbon-black", Drops: 1})
	c = do(c, Step{Kind: SetDose, Material: "carbon-black", Typed: "12d"})
	assert.Equal(
		t, Dose{Material: "carbon-black", Typed: "12d", Amount: measure.DropCount(12)}, c.Doses[1], "kept as typed",
	)
	c = do(c, Step{Kind: Drip, Material: "carbon-black", Drops: -20})
	assert.Equal(t, 0.0, c.Doses[1].Amount.Value, "never below nothing")
	c = do(c, Step{Kind: Remove, Material: "carbon-black"})
	assert.Len(t, c.Doses, 1)
	c = do(c, Step{Kind: SetVolume, Typed: "2 cups"})
	assert.InDelta(t, 473.176, c.Volume.ML, 1e-9)
	assert.Equal(t, 6.0, c.Doses[0].Amount.Value, "pouring more plastisol adds no drops")
	c = do(c, Step{Kind: SetBase, Material: "soft-plastisol"})
	target := &Target{Name: "Belly", Lab: colour.Lab{L: 60}, ThicknessMM: 4, Ground: optics.White}
	c = do(c, Step{Kind: SetTarget, Target: target})
	assert.Equal(t, target, c.Target)
	assert.Nil(t, do(c, Step{Kind: ClearTarget}).Target)
	assert.Empty(t, do(c, Step{Kind: Empty}).Doses)

	for _, bad := range []struct {
		step        Step
		field, says string
	}{
		{Step{Kind: SetDose, Material: "clear-red", Typed: "12 buckets"}, "typed", "12d"},
		{Step{Kind: SetDose, Material: "clear-red", Typed: "5000"}, "typed", "more than any cup takes"},
		{Step{Kind: SetVolume, Typed: "lots"}, "typed", "1 cup"},
		{Step{Kind: Drip, Material: "gone", Drops: 1}, "material", "nothing on the shelf"},
		{Step{Kind: SetBase, Material: "clear-red"}, "plastisol", "plastisol from the shelf"},
		{Step{Kind: SetTarget}, "target", "pin a spot"},
		{Step{Kind: "shake"}, "kind", "shake"},
	} {
		_, err := bad.step.Apply(Live{Cup: start}, shelf, measure.StandardKit())
		AssertFault(t, err, bad.field, bad.says)
	}
	assert.True(t, Step{Kind: Drip}.Merges())
	assert.False(t, Step{Kind: SetDose}.Merges())
}

func TestSlipsAreAskedBack(t *testing.T) {
	v := Live{Cup: CupOf(t, "1 cup")}
	_, err := Step{Kind: SetDose, Material: "pearl-silver", Typed: "1 oz"}.Apply(v, Bench(), Kit)
	AssertFault(t, err, "typed", "Meant so? Enter it once more")
	assert.True(t, err.(*measure.Fault).Ask)
	got, err := Step{Kind: SetDose, Material: "pearl-silver", Typed: "1 oz", Sure: true}.Apply(v, Bench(), Kit)
	require.NoError(t, err)
	assert.Equal(t, "1 oz", got.Doses[0].Typed)
	_, err = Step{Kind: SetDose, Material: "flake-gold", Typed: ".040"}.Apply(v, Bench(), Kit)
	AssertFault(t, err, "typed", "flake's size in inches")
	_, err = Step{Kind: SetDose, Material: "flake-gold", Typed: "3 drops"}.Apply(v, Bench(), Kit)
	AssertFault(t, err, "typed", "not dripped")
	got, err = Step{Kind: SetDose, Material: "clear-red", Typed: "some, 2-5 drops"}.Apply(v, Bench(), Kit)
	require.NoError(t, err)
	l, err := mix.LookAt(&got.Cup, Stirred(t, got.Cup), Bench(), Over(8))
	require.NoError(t, err)
	require.NotNil(t, l.Range)
	assert.Greater(t, *l.Range, 1.0)
	assert.Contains(t, l.Sure, "by guess")
	got, err = Step{Kind: Add, Material: "clear-red", Typed: "3d"}.Apply(got, Bench(), Kit)
	require.NoError(t, err)
	assert.Equal(t, "some, 5-8 drops", got.Doses[0].Typed)
}

func TestChanged(t *testing.T) {
	a, b := CupOf(
		t, "1 cup", DripOf("clear-red", 5), DripOf("carbon-black", 1),
	), CupOf(t, "2 cups", DripOf("clear-red", 6), Tsp("flake-gold", 0.5))
	assert.Equal(t, []string{
		"volume 1 cup → 2 cups", "Transparent red (quinacridone class) 5 drops → 6 drops",
		"Carbon black left out (was 1 drop)", "Gold flake new: 1/2 tsp",
	}, Changed(&a, &b, Bench()))
	assert.Empty(t, Changed(&a, &a, Bench()))
}

// A step that is taken and taken back, from any cup, leaves one that can be worked out.
func TestPlusThenMinusCanBeWorkedOut(t *testing.T) {
	shelf := Bench()
	rapid.Check(t, func(t *rapid.T) {
		c := DrawCup(t)
		if c.Check(shelf) != nil {
			t.Skip("can't be kept")
		}
		f := rapid.SampledFrom(material.Families()).Draw(t, "of")
		v := Live{Cup: c}
		for _, n := range []int{1, -1, -1} {
			if next, err := (Step{Kind: Drip, Material: f.Key, Drops: n}).Apply(v, shelf, Kit); err == nil {
				v = next
			}
		}
		at := mix.Condition{ThicknessMM: 4, Ground: optics.White, Light: colour.D65}
		m, err := mix.Stir(&v.Cup, shelf)
		require.NoError(t, err)
		require.Empty(t, measure.NotFinite(m.Legibility(at)))
		look, err := mix.LookAt(&v.Cup, m, shelf, at)
		require.NoError(t, err)
		require.Empty(t, measure.NotFinite(look))
	})
}

// A minus where there is none adds no line, and a line of nothing is no part of a recipe.
func TestNothingIsNoPartOfARecipe(t *testing.T) {
	shelf := Bench()
	v := Live{Cup: CupOf(t, "1 cup", DripOf("clear-red", 3))}
	after, err := Step{Kind: Drip, Material: "clear-blue", Drops: -1}.Apply(v, shelf, Kit)
	require.NoError(t, err)
	require.Len(t, after.Doses, 1)
	after, err = Step{Kind: Drip, Material: "clear-red", Drops: -9}.Apply(v, shelf, Kit)
	require.NoError(t, err)
	require.Len(t, after.Doses, 1, "it stays on the bench")
	require.Empty(t, after.Filled().Doses)
	require.Len(t, v.Filled().Doses, 1)
}
