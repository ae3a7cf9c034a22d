package mix_test

import (
	"fmt"
	"testing"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	. "cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/recipe"
	. "cloudburst/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// Behaviour 1: the same cup reads far darker at 60 mm than at 1 mm; a weak grey that looks dark in the cup is nearly
// clear as a film.
func TestAWeakGreyIsDarkInTheCupAndClearAsAFilm(t *testing.T) {
	m := Stirred(t, CupOf(t, "1 cup", cup.DripOf("grey-tint", 9)))
	c, fin := m.Colour(Over(60)), m.Colour(Over(1))
	film := m.Colour(Condition{ThicknessMM: 0.3, Ground: optics.Against, Light: colour.D65})
	assert.Greater(t, fin.L-c.L, 40.0)
	assert.Less(t, c.L, 25.0)
	assert.Greater(t, film.L, 93.0)
	for _, other := range []string{"clear-blue", "solid-red", "titanium-white"} {
		m := Stirred(t, CupOf(t, "1 cup", cup.DripOf(other, 6)))
		assert.Greater(t, m.Colour(Over(1)).L, m.Colour(Over(60)).L, other)
	}
}

// Behaviour 8: half a cup at half the drops is the same colour; rounding is shown as ΔE00, not as a fraction.
func TestHalfACupAtHalfTheDropsIsTheSameColour(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := float64(2 * rapid.IntRange(0, 30).Draw(t, "red"))
		k := float64(2 * rapid.IntRange(0, 6).Draw(t, "black"))
		mm := rapid.Float64Range(0.1, 60).Draw(t, "mm")
		whole := Stirred(t, CupOf(t, "1 cup", cup.DripOf("clear-red", n), cup.DripOf("carbon-black", k)))
		half := Stirred(t, CupOf(t, "1/2 cup", cup.DripOf("clear-red", n/2), cup.DripOf("carbon-black", k/2)))
		if d := colour.DeltaE00(whole.Colour(Over(mm)), half.Colour(Over(mm))); d > 1e-9 {
			t.Fatalf("half a cup is off by %g", d)
		}
	})
	odd := CupOf(t, "1 cup", cup.DripOf("clear-red", 9), cup.DripOf("carbon-black", 3))
	s, err := recipe.Scale(&odd, Bench(), measure.StandardKit(), Volume(t, "1/2 cup"), Over(10))
	require.NoError(t, err)
	black := s.Lines[1]
	assert.Equal(t, 1.5, black.Exact.Value)
	assert.True(t, black.Half)
	assert.Greater(t, black.Down.DeltaE00, 0.5, "the eye sees half a drop of black")
	assert.Greater(t, black.Up.DeltaE00, 0.5)
	assert.Equal(t, colour.Nearness(s.DeltaE00), s.Nearness)
}

func TestFinishedVolumeAgainstHandReckoning(t *testing.T) {
	// 33 drops of 0.05 ml in a cup: 1.65 ml in 238.238 ml.
	m := Stirred(t, CupOf(t, "1 cup", cup.DripOf("clear-red", 33)))
	assert.InDelta(t, 238.238, m.FinishedML, 1e-9)
	assert.InDelta(t, 1650/238.238, m.Lines[0].PerLitre, 1e-9)
	assert.Equal(t, "33 drops × 0.05 ml = 1.65 ml in 238.2 ml finished: 6.926 ml per litre", m.Lines[0].Working)
}

func TestVolumesAgainstVectors(t *testing.T) {
	var file struct {
		Cases []struct {
			ID          string
			PlastisolML float64 `json:"plastisol_ml"`
			Density     float64 `json:"plastisol_density"`
			Liquids     []struct {
				ML, Drops, Density float64
				DropML             float64 `json:"drop_ml"`
			}
			Solids []struct {
				Name          string
				Cups, TSP, G  float64
				Bulk          float64 `json:"bulk_density"`
				True          float64 `json:"true_density"`
				GrainMM, Q    float64
				GrainMMVector float64 `json:"grain_mm"`
			}
			Expect struct {
				FinishedML float64   `json:"finished_volume_ml"`
				MassG      float64   `json:"mass_g"`
				Density    float64   `json:"density_g_ml"`
				Liquids    []float64 `json:"liquids_ml_per_l"`
				Solids     []float64 `json:"solids_g_per_l"`
				Fresh      bool      `json:"floats_in_fresh_water_0_998"`
				Sea        bool      `json:"floats_in_sea_water_1_025"`
				S          []float64 `json:"S_add_per_mm"`
			}
		}
	}
	Read(t, "volumes.json", &file)
	require.Len(t, file.Cases, 16)
	for _, c := range file.Cases {
		shelf := Bench()
		jug := shelf["soft-plastisol"]
		p := *jug.Plastisol
		p.DensityGML.Value = c.Density
		jug.Plastisol = &p
		shelf[jug.UID] = jug
		filled := cup.Cup{Volume: measure.Volume{Typed: "x", ML: c.PlastisolML}, Plastisol: jug.UID}
		put := func(family string, a measure.Amount, refine func(*material.Material)) {
			f, _ := material.FindFamily(family)
			m := f.New("m"+string(rune('a'+len(filled.Doses))), "M")
			refine(&m)
			shelf[m.UID] = m
			filled.Doses = append(filled.Doses, cup.Dose{Material: m.UID, Typed: "", Amount: a})
		}
		for _, l := range c.Liquids {
			a := measure.Amount{Value: l.ML, Unit: measure.InML}
			if l.Drops > 0 {
				a = measure.DropCount(l.Drops)
			}
			put("softener", a, func(m *material.Material) {
				m.Additive.DensityGML.Value = l.Density
				if l.DropML > 0 {
					m.Additive.DropML.Value = l.DropML
				}
			})
		}
		for _, s := range c.Solids {
			a := measure.Amount{Value: s.TSP + measure.TeaspoonsPerCup*s.Cups, Unit: measure.InTeaspoons}
			if s.G > 0 {
				a = measure.Amount{Value: s.G, Unit: measure.InGrams}
			}
			put("salt-fine", a, func(m *material.Material) {
				v := m.Additive
				v.BulkGML.Value, v.DensityGML.Value, v.Hiding.Value, v.GrainMM.Value = s.Bulk, s.True, s.Q, max(s.GrainMMVector, 1e-3)
			})
		}
		m, err := Stir(&filled, shelf)
		require.NoError(t, err, c.ID)
		assert.InEpsilon(t, c.Expect.FinishedML, m.FinishedML, 1e-9, c.ID)
		assert.InEpsilon(t, c.Expect.MassG, m.MassG, 1e-9, c.ID)
		feel := m.Feel()
		assert.InEpsilon(t, c.Expect.Density, feel.DensityGML, 1e-9, c.ID)
		assert.Equal(t, c.Expect.Fresh, feel.FloatsFresh, c.ID)
		assert.Equal(t, c.Expect.Sea, feel.FloatsSalt, c.ID)
		for i, want := range append(append([]float64{}, c.Expect.Liquids...), c.Expect.Solids...) {
			assert.InEpsilon(t, want, m.Lines[i].PerLitre, 1e-9, c.ID)
		}
		haze := material.TypicalBase.ScatterPerMM * m.PlastisolML / m.FinishedML
		for _, s := range c.Expect.S {
			haze += s
		}
		assert.InEpsilon(t, haze, m.S[10], 1e-8, c.ID)
	}
}

func TestLookComparesAndWarns(t *testing.T) {
	shelf := Bench()
	c := CupOf(t, "1 cup", cup.DripOf("magenta-dye", 10), cup.DripOf("carbon-black", 90))
	c.Target = &cup.Target{Name: "Belly", Lab: colour.Lab{L: 60, A: 30}, ThicknessMM: 4, Ground: optics.White}
	m, err := Stir(&c, shelf)
	require.NoError(t, err)
	l, err := LookAt(&c, m, shelf, Over(4))
	require.NoError(t, err)
	assert.Contains(t, l.Against.Words, "much darker")
	assert.Equal(t, "another colour", l.Against.Nearness)
	all := ""
	for _, w := range l.Watch {
		all += w.Says + "\n"
		assert.NotEmpty(t, w.Why, w.Kind)
	}
	assert.Contains(t, all, "over ten times its usual")
	assert.Contains(t, all, "bleeds")
	assert.Contains(t, l.Sure, "estimate")
	assert.Regexp(t, "^#[0-9a-f]{6}$", l.Swatch.Hex)
	assert.Less(t, l.SeeThrough, 0.05)
	_, err = LookAt(&c, m, shelf, Condition{ThicknessMM: 4, Ground: "moon", Light: colour.D65})
	AssertFault(t, err, "ground", "white, dark")
	_, err = LookAt(&c, m, shelf, Condition{ThicknessMM: 4, Ground: optics.White, Light: "candle"})
	AssertFault(t, err, "light", "D65")

	clear := CupOf(t, "1 cup")
	m, err = Stir(&clear, shelf)
	require.NoError(t, err)
	l, err = LookAt(&clear, m, shelf, Over(1))
	require.NoError(t, err)
	assert.Greater(t, l.SeeThrough, 0.88)
	assert.Nil(t, l.Against)
	assert.Empty(t, l.Watch)
}

// Behaviour 3: interference powder on clear is pale over white, its hue over dark, its complement against the light;
// with black it keeps its hue over any ground, and no light comes through.
func TestInterferencePowderTurnsWithItsGround(t *testing.T) {
	for _, key := range []string{
		"interference-blue", "interference-green", "interference-red", "interference-gold", "interference-violet",
	} {
		clear := Stirred(t, CupOf(t, "1 cup", Tsp(key, 0.25)))
		white, dark, through := clear.Colour(On(4, optics.White)), clear.Colour(On(4, optics.Dark)), clear.Colour(On(4, optics.Against))
		assert.Greater(t, white.L, 60.0, "%s over white %v", key, white)
		assert.Less(t, white.Chroma(), dark.Chroma(), key)
		assert.Greater(t, dark.Chroma(), 12.0, key)
		assert.Greater(t, HueApart(dark, through), 110.0, "%s: over dark %v, through %v", key, dark, through)

		black := Stirred(t, CupOf(t, "1 cup", Tsp(key, 0.25), cup.DripOf("carbon-black", 30)))
		w, d := black.Colour(On(8, optics.White)), black.Colour(On(8, optics.Dark))
		assert.Less(t, colour.DeltaE00(w, d), 1.0, key)
		assert.Less(t, black.SeeThrough(8, cup.Rested), 0.01, key)
		assert.Less(t, HueApart(d, dark), 35.0, "%s keeps its hue: %v, was %v", key, d, dark)
	}
}

func TestGlintMovesWithTiltAndLight(t *testing.T) {
	m := Stirred(t, CupOf(t, "1 cup", Tsp("shift-copper-green", 1.0/16), cup.DripOf("carbon-black", 12)))
	sun := On(6, optics.Dark)
	sun.Light = colour.D50
	face := m.Colour(sun)
	sun.TiltDeg = 50
	tilted := m.Colour(sun)
	assert.Greater(t, face.L, tilted.L, "face-on it glints")
	assert.Greater(t, colour.DeltaE00(face, tilted), 10.0)
	over := On(6, optics.Dark)
	a := m.Colour(over)
	over.TiltDeg = 50
	assert.Less(
		t, colour.DeltaE00(a, m.Colour(over)), colour.DeltaE00(face, tilted), "an overcast sky makes little glint",
	)
	l := lookAt(t, CupOf(t, "1 cup", Tsp("interference-blue", 0.25)), On(4, optics.Dark))
	require.NotNil(t, l.Tilted)
}

func lookAt(t *testing.T, c cup.Cup, at Condition) Look {
	t.Helper()
	m := Stirred(t, c)
	l, err := LookAt(&c, m, Bench(), at)
	require.NoError(t, err)
	return l
}

func legible(t *testing.T, base cup.Dose, flake string) Legible {
	t.Helper()
	l := Stirred(t, CupOf(t, "1 cup", base, Tsp(flake, 0.5))).Legibility(On(8, optics.White))
	require.Len(t, l, 1)
	return l[0]
}

// Behaviour 5: a piece reads in the colour of its base laid over its own: the same flake changes hue from base to base
// and can vanish in one of its own hue; black flake darkens like pigment.
func TestFlakeAgainstItsBase(t *testing.T) {
	inClear, inRed, inBlue := legible(t, cup.DripOf("clear-red", 0), "flake-red"), legible(
		t, cup.DripOf("solid-red", 20), "flake-red",
	), legible(t, cup.DripOf("clear-blue", 2), "flake-red")
	assert.Less(t, inRed.DeltaE00, inClear.DeltaE00)
	assert.Less(t, inRed.DeltaE00, inBlue.DeltaE00)
	clear, blue := inClear.Hues[0].Swatch.Lab, inBlue.Hues[0].Swatch.Lab
	assert.Greater(t, colour.DeltaE00(clear, blue), 15.0, "%v %v", clear, blue)
	assert.Less(t, HueApart(clear, colour.Lab{L: 50, A: 50, B: 25}), 40.0, "red in clear: %v", clear)
	assert.Greater(t, inClear.DeltaE00, 25.0)
	assert.Contains(t, inClear.Words, "leads")

	// A flake of its base's own colour is lost.
	own := Stirred(
		t, CupOf(t, "1 cup", cup.DripOf("carbon-black", 60), Tsp("flake-black", 0.5)),
	).Legibility(On(8, optics.White))[0]
	assert.Less(t, own.DeltaE00, 5.0)
	assert.NotEmpty(t, own.Hidden)

	plain := Stirred(t, CupOf(t, "1 cup", cup.DripOf("clear-yellow", 8)))
	with := Stirred(t, CupOf(t, "1 cup", cup.DripOf("clear-yellow", 8), Tsp("flake-black", 1)))
	assert.Less(t, with.Colour(Over(8)).L, plain.Colour(Over(8)).L-5)
	assert.Less(t, with.SeeThrough(8, cup.Rested), plain.SeeThrough(8, cup.Rested))
	assert.InDelta(t, with.BodyK[10], plain.BodyK[10], 0.02*plain.BodyK[10], "the body between the pieces is as it was")
}

// Behaviour 6: salt lowers chroma over white, lifts a dark colour, hides interior flake, raises density; the same
// weight in glass hardly changes the colour.
func TestSaltAgainstGlass(t *testing.T) {
	grams := func(m string, g float64) cup.Dose {
		return cup.Dose{Material: m, Typed: "", Amount: measure.Amount{Value: g, Unit: measure.InGrams}}
	}
	for _, pair := range [][2]string{{"salt-fine", "glass-beads"}} {
		red := cup.DripOf("clear-red", 12)
		none := Stirred(t, CupOf(t, "1 cup", red))
		salt, glass := Stirred(
			t, CupOf(t, "1 cup", red, grams(pair[0], 60)),
		), Stirred(t, CupOf(t, "1 cup", red, grams(pair[1], 60)))
		assert.Less(t, salt.Colour(Over(4)).Chroma(), none.Colour(Over(4)).Chroma()-3)
		assert.Less(t, colour.DeltaE00(none.Colour(Over(4)), glass.Colour(Over(4))), 3.5)
		assert.Greater(
			t, colour.DeltaE00(none.Colour(On(8, optics.Dark)), salt.Colour(On(8, optics.Dark))),
			3*colour.DeltaE00(none.Colour(On(8, optics.Dark)), glass.Colour(On(8, optics.Dark))),
		)
		dark := Stirred(t, CupOf(t, "1 cup", cup.DripOf("carbon-black", 5)))
		lifted := Stirred(t, CupOf(t, "1 cup", cup.DripOf("carbon-black", 5), grams(pair[0], 60)))
		assert.Greater(t, lifted.Colour(Over(15)).L, dark.Colour(Over(15)).L+5)

		flake := Tsp("flake-green", 0.5)
		seen := func(c cup.Cup) float64 { return Stirred(t, c).Legibility(On(12, optics.White))[0].SeenPerCM2 }
		bare, withSalt, withGlass := seen(CupOf(t, "1 cup", flake)), seen(CupOf(
			t, "1 cup", flake, grams(pair[0], 120),
		)), seen(CupOf(t, "1 cup", flake, grams(pair[1], 120)))
		assert.Less(t, withSalt, 0.6*bare, "salt hides flake")
		assert.Greater(t, withGlass, 0.75*bare, "glass hardly")
		assert.Greater(t, salt.Feel().DensityGML, none.Feel().DensityGML+0.05)
		assert.Less(t, salt.Feel().Strength, glass.Feel().Strength)
	}
}

func TestFluorescenceNeedsItsLight(t *testing.T) {
	m := Stirred(t, CupOf(t, "1 cup", cup.DripOf("glow-lime", 20), cup.DripOf("titanium-white", 6)))
	day, lamp := m.Seen(On(6, optics.White)), m.Seen(Condition{ThicknessMM: 6, Ground: optics.White, Light: colour.A})
	best := 0.0
	for _, v := range day {
		best = max(best, v)
	}
	assert.Greater(t, best, 1.0, "it lifts a band above white")
	assert.Less(t, lamp[13], day[13], "a warm lamp excites it less")
	through := m.Seen(On(2, optics.Against))
	dull := Stirred(t, CupOf(t, "1 cup", cup.DripOf("titanium-white", 6))).Seen(On(2, optics.Against))
	assert.Greater(t, through[13]/dull[13], 0.9, "it shows against the light, too")
}

func TestStatesAndWater(t *testing.T) {
	c := CupOf(t, "1 cup", cup.DripOf("clear-green", 3))
	m := Stirred(t, c)
	at := func(s cup.State) colour.Lab {
		x := On(8, optics.Dark)
		x.State = s
		return m.Colour(x)
	}
	assert.Greater(t, at(cup.Raw).L, at(cup.Fresh).L+20, "raw plastisol is milk")
	assert.Greater(t, at(cup.Fresh).L, at(cup.Rested).L)
	assert.Greater(t, at(cup.Rested).L, at(cup.Hot).L)
	under := On(8, optics.White)
	under.Water, under.DepthM, under.DistanceM = optics.Stained, 2, 1
	l := lookAt(t, c, under)
	require.NotNil(t, l.InWater)
	under.DistanceM = 6
	assert.Less(t, lookAt(t, c, under).InWater.DeltaE00, l.InWater.DeltaE00, "it fades into the water")
	for _, bad := range []func(*Condition){
		func(c *Condition) { c.State = "stale" }, func(c *Condition) { c.TiltDeg = 80 },
		func(c *Condition) { c.Water = "soup" }, func(c *Condition) { c.DepthM = 99 },
	} {
		x := Over(4)
		bad(&x)
		assert.Error(t, x.Check())
	}
}

func TestOneMoreSaysWhatADropDoes(t *testing.T) {
	c := CupOf(
		t, "1 cup", cup.DripOf("clear-yellow", 8), cup.DripOf("carbon-black", 1), Tsp("pearl-silver", 1.0/32),
		Tsp("salt-fine", 6),
	)
	c.Target = &cup.Target{Name: "x", Lab: colour.Lab{L: 40, A: 0, B: 40}, ThicknessMM: 8, Ground: optics.White}
	m := Stirred(t, c)
	more, err := More(&c, m, Bench(), Kit, Over(8))
	require.NoError(t, err)
	require.Len(t, more, 4)
	assert.Contains(t, more[1].Words, "darker")
	assert.Contains(t, more[1].Words, "less see-through")
	assert.Greater(t, more[1].DeltaE00, more[0].DeltaE00, "a drop of black does more than a drop of yellow")
	require.NotNil(t, more[1].Nearer)
	assert.Greater(t, *more[1].Nearer, 0.0)
	assert.Equal(t, "1 drop", more[0].Says)
	assert.Equal(t, "1/64 tsp", more[2].Says)
	assert.Equal(t, "1/2 tsp", more[3].Says, "salt is not tapped in by the 1/64")
	// What it says is what the step then does.
	next, _, err := c.With("carbon-black", 1, Bench(), Kit)
	require.NoError(t, err)
	assert.Equal(t, Stirred(t, next).Colour(Over(8)), more[1].Swatch.Lab)
}

func TestTheQuickTestsOfTheBench(t *testing.T) {
	depth := func(doses ...cup.Dose) float64 { return Stirred(t, CupOf(t, "1 cup", doses...)).StickDepth(cup.Hot) }
	clear, some, black := depth(), depth(cup.DripOf("grey-tint", 10)), depth(cup.DripOf("carbon-black", 20))
	assert.Greater(t, clear, some)
	assert.Greater(t, some, black)
	assert.Less(t, black, 6.0)
	assert.Less(t, depth(cup.DripOf("titanium-white", 20)), 12.0, "white hides a stick, too")
	tests := Stirred(t, CupOf(t, "1 cup", cup.DripOf("clear-red", 12))).BenchTests(colour.D65)
	require.Len(t, tests, 7)
	for _, b := range tests {
		assert.Len(t, b.Labels, len(b.Swatch), b.Key)
		assert.NotEmpty(t, b.Says, b.Key)
	}
	chip := tests[6].Swatch
	require.Len(t, chip, 4)
	assert.Greater(t, chip[0].Lab.L, chip[3].Lab.L)
}

func TestFeel(t *testing.T) {
	feel := func(doses ...cup.Dose) Feel { return Stirred(t, CupOf(t, "1 cup", doses...)).Feel() }
	plain := feel()
	assert.False(t, plain.FloatsFresh)
	floats := feel(Tsp("floating-spheres", 12))
	assert.True(t, floats.FloatsFresh)
	assert.Less(t, floats.SinkFreshCMS, 0.0)
	assert.Greater(t, floats.HookToSinkG, 0.0)
	assert.InDelta(t, 0, Sinks(floats.DensityGML, FreshGML, floats.HookToSinkG), 0.3, "that hook just sinks it")
	soft := feel(ML("softener", 25))
	assert.Less(t, soft.Hand, plain.Hand)
	assert.Greater(t, feel(ML("hardener", 25)).Hand, plain.Hand)
	assert.Less(t, feel(Tsp("salt-fine", 24)).Strength, 0.85)
	assert.Greater(t, soft.YieldML, 24.0)
}

func TestWatchOuts(t *testing.T) {
	// Each rule with a cup that it is about, and one that it is not.
	for kind, c := range map[string][2]cup.Cup{
		"slip":    {CupOf(t, "1 cup", Tsp("pearl-silver", 9)), CupOf(t, "1 cup", Tsp("pearl-silver", 0.25))},
		"heat":    {CupOf(t, "1 cup", Tsp("flake-holo", 0.5)), CupOf(t, "1 cup", Tsp("pearl-silver", 0.25))},
		"bleeds":  {CupOf(t, "1 cup", cup.DripOf("cyan-dye", 4)), CupOf(t, "1 cup", cup.DripOf("clear-blue", 1))},
		"thin":    {CupOf(t, "1 cup", Tsp("flake-large", 0.5)), CupOf(t, "1 cup", Tsp("flake-gold", 0.5))},
		"gate":    {CupOf(t, "1 cup", Tsp("flake-huge", 0.5)), CupOf(t, "1 cup", Tsp("flake-gold", 0.5))},
		"liquid":  {CupOf(t, "1 cup", ML("softener", 25)), CupOf(t, "1 cup", ML("softener", 5))},
		"carries": {CupOf(t, "1 cup", Tsp("salt-fine", 60)), CupOf(t, "1 cup", Tsp("salt-fine", 12))},
		"soft":    {CupOf(t, "1 cup", ML("softener", 50)), CupOf(t, "1 cup", ML("softener", 5))},
		"greys": {
			CupOf(t, "1 cup", cup.DripOf("clear-red", 9), cup.DripOf("clear-green", 3)),
			CupOf(t, "1 cup", cup.DripOf("clear-yellow", 9), cup.DripOf("clear-green", 3)),
		},
		"hidden": {
			CupOf(t, "1 cup", cup.DripOf("titanium-white", 60), Tsp("flake-gold", 1.0/32)),
			CupOf(t, "1 cup", Tsp("flake-gold", 0.5)),
		},
		"settles": {CupOf(t, "1 cup", Tsp("glass-beads", 12)), CupOf(t, "1 cup", Tsp("floating-spheres", 12))},
		"bubbles": {CupOf(t, "1 cup", Tsp("salt-fine", 12)), CupOf(t, "1 cup", Tsp("glass-beads", 12))},
		"whitens": {CupOf(t, "1 cup", Tsp("floating-spheres", 12)), CupOf(t, "1 cup", Tsp("glass-beads", 3))},
		"smell":   {CupOf(t, "1 cup", ML("stabiliser", 5)), CupOf(t, "1 cup", ML("stabiliser", 1))},
	} {
		for i, wanted := range []bool{true, false} {
			shelf := Bench()
			for key, in := range map[string]float64{"flake-large": 0.055, "flake-huge": 0.062} {
				f, _ := material.FindFamily("flake-gold")
				m := f.New(key, key)
				m.Flake.Resize(in, material.Measured)
				shelf[key] = m
			}
			m, err := Stir(&c[i], shelf)
			require.NoError(t, err, kind)
			l, err := LookAt(&c[i], m, shelf, Over(8))
			require.NoError(t, err)
			mold := bait.NewMold("Ours", "drop-shot-minnow")
			l.Watch = append(l.Watch, mold.Watch(m, shelf)...)
			found := false
			for _, w := range l.Watch {
				assert.NotEmpty(t, w.Why, w.Kind)
				found = found || w.Kind == kind
			}
			assert.Equal(t, wanted, found, "%s: %+v", kind, l.Watch)
		}
	}
	salt := CupOf(t, "1 cup", Tsp("salt-fine", 12))
	says := fmt.Sprint(lookAt(t, salt, Over(8)).Watch)
	assert.Contains(t, says, "stir at least every")
}

func TestFlakeWishes(t *testing.T) {
	f, _ := material.FindFamily("flake-gold")
	gold := f.New("gold", "Gold")
	m := Stirred(t, CupOf(t, "1 cup", cup.DripOf("clear-blue", 1)))
	last := 0.0
	for _, wish := range []string{"sparse", "medium", "heavy"} {
		a, ok := m.DoseFor(&gold, wish, On(8, optics.White))
		require.True(t, ok)
		assert.Greater(t, a.Value, last)
		last = a.Value
		shelf := Bench()
		shelf["gold"] = gold
		c := CupOf(t, "1 cup", cup.DripOf("clear-blue", 1), cup.Dose{Material: "gold", Typed: "", Amount: a})
		m, err := Stir(&c, shelf)
		require.NoError(t, err)
		assert.Equal(t, wish, m.Legibility(On(8, optics.White))[0].Wish)
	}
}

func TestStockIsWatched(t *testing.T) {
	c := CupOf(t, "1 cup", cup.DripOf("clear-red", 40), Tsp("flake-gold", 0.5))
	m := Stirred(t, c)
	says := func(left, low map[string]float64) string {
		return fmt.Sprint(StockWatch(&c, m, Bench(), left, low))
	}
	assert.Contains(t, says(map[string]float64{"clear-red": 1}, nil), "not enough")
	assert.Contains(t, says(map[string]float64{"clear-red": 10}, map[string]float64{"clear-red": 9}), "runs low")
	assert.Contains(t, says(map[string]float64{"flake-gold": 1}, nil), "takes 1.4 g; 1 g are left")
	assert.Contains(t, says(map[string]float64{"medium-plastisol": 100}, nil), "takes 236.6 ml")
	assert.Equal(t, "[]", says(map[string]float64{"clear-red": 100}, nil))
	assert.Equal(t, "[]", says(nil, nil), "what is not counted is not watched")
}
