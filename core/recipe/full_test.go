package recipe_test

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
	. "cloudburst/core/recipe"
)

var kit = measure.StandardKit()

func tsp(material string, n float64) Dose {
	return Dose{material, "", measure.Amount{Value: n, Unit: measure.InTeaspoons}}
}

func ml(material string, n float64) Dose {
	return Dose{material, "", measure.Amount{Value: n, Unit: measure.InML}}
}

func on(mm float64, g optics.Ground) Condition {
	return Condition{ThicknessMM: mm, Ground: g, Light: colour.D65}
}

func hueApart(a, b colour.Lab) float64 {
	d := math.Abs(a.HueDeg() - b.HueDeg())
	return min(d, 360-d)
}

// Behaviour 3: interference powder on clear is pale over white, its hue over dark, its complement against the light;
// with black it keeps its hue over any ground, and no light comes through.
func TestInterferencePowderTurnsWithItsGround(t *testing.T) {
	for _, key := range []string{"interference-blue", "interference-green", "interference-red", "interference-gold", "interference-violet"} {
		clear := stir(t, cupOf(t, "1 cup", tsp(key, 0.25)))
		white, dark, through := clear.Colour(on(4, optics.White)), clear.Colour(on(4, optics.Dark)), clear.Colour(on(4, optics.Against))
		assert.Greater(t, white.L, 60.0, "%s over white %v", key, white)
		assert.Less(t, white.Chroma(), dark.Chroma(), key)
		assert.Greater(t, dark.Chroma(), 12.0, key)
		assert.Greater(t, hueApart(dark, through), 110.0, "%s: over dark %v, through %v", key, dark, through)

		black := stir(t, cupOf(t, "1 cup", tsp(key, 0.25), DripOf("carbon-black", 30)))
		w, d := black.Colour(on(8, optics.White)), black.Colour(on(8, optics.Dark))
		assert.Less(t, colour.DeltaE00(w, d), 1.0, key)
		assert.Less(t, black.SeeThrough(8, Rested), 0.01, key)
		assert.Less(t, hueApart(d, dark), 35.0, "%s keeps its hue: %v, was %v", key, d, dark)
	}
}

func TestGlintMovesWithTiltAndLight(t *testing.T) {
	m := stir(t, cupOf(t, "1 cup", tsp("shift-copper-green", 1.0/16), DripOf("carbon-black", 12)))
	sun := on(6, optics.Dark)
	sun.Light = colour.D50
	face := m.Colour(sun)
	sun.TiltDeg = 50
	tilted := m.Colour(sun)
	assert.Greater(t, face.L, tilted.L, "face-on it glints")
	assert.Greater(t, colour.DeltaE00(face, tilted), 10.0)
	over := on(6, optics.Dark)
	a := m.Colour(over)
	over.TiltDeg = 50
	assert.Less(t, colour.DeltaE00(a, m.Colour(over)), colour.DeltaE00(face, tilted), "an overcast sky makes little glint")
	l := lookAt(t, cupOf(t, "1 cup", tsp("interference-blue", 0.25)), on(4, optics.Dark))
	require.NotNil(t, l.Tilted)
}

func lookAt(t *testing.T, c Cup, at Condition) Look {
	t.Helper()
	m := stir(t, c)
	l, err := LookAt(&c, m, bench(), at)
	require.NoError(t, err)
	return l
}

func legible(t *testing.T, base Dose, flake string) Legible {
	t.Helper()
	l := stir(t, cupOf(t, "1 cup", base, tsp(flake, 0.5))).Legibility(on(8, optics.White))
	require.Len(t, l, 1)
	return l[0]
}

// Behaviour 5: a piece reads in the colour of its base laid over its own: the same flake changes hue from base to base
// and can vanish in one of its own hue; black flake darkens like pigment.
func TestFlakeAgainstItsBase(t *testing.T) {
	inClear, inRed, inBlue := legible(t, DripOf("clear-red", 0), "flake-red"), legible(t, DripOf("solid-red", 20), "flake-red"), legible(t, DripOf("clear-blue", 2), "flake-red")
	assert.Less(t, inRed.DeltaE00, inClear.DeltaE00)
	assert.Less(t, inRed.DeltaE00, inBlue.DeltaE00)
	clear, blue := inClear.Hues[0].Swatch.Lab, inBlue.Hues[0].Swatch.Lab
	assert.Greater(t, colour.DeltaE00(clear, blue), 15.0, "%v %v", clear, blue)
	assert.Less(t, hueApart(clear, colour.Lab{L: 50, A: 50, B: 25}), 40.0, "red in clear: %v", clear)
	assert.Greater(t, inClear.DeltaE00, 25.0)
	assert.Contains(t, inClear.Words, "leads")

	// A flake of its base's own colour is lost.
	own := stir(t, cupOf(t, "1 cup", DripOf("carbon-black", 60), tsp("flake-black", 0.5))).Legibility(on(8, optics.White))[0]
	assert.Less(t, own.DeltaE00, 5.0)
	assert.NotEmpty(t, own.Hidden)

	plain := stir(t, cupOf(t, "1 cup", DripOf("clear-yellow", 8)))
	with := stir(t, cupOf(t, "1 cup", DripOf("clear-yellow", 8), tsp("flake-black", 1)))
	assert.Less(t, with.Colour(over(8)).L, plain.Colour(over(8)).L-5)
	assert.Less(t, with.SeeThrough(8, Rested), plain.SeeThrough(8, Rested))
	assert.InDelta(t, with.BodyK[10], plain.BodyK[10], 0.02*plain.BodyK[10], "the body between the pieces is as it was")
}

// Behaviour 6: salt lowers chroma over white, lifts a dark colour, hides interior flake, raises density; the same weight
// in glass hardly changes the colour.
func TestSaltAgainstGlass(t *testing.T) {
	grams := func(m string, g float64) Dose { return Dose{m, "", measure.Amount{Value: g, Unit: measure.InGrams}} }
	for _, pair := range [][2]string{{"salt-fine", "glass-beads"}} {
		red := DripOf("clear-red", 12)
		none := stir(t, cupOf(t, "1 cup", red))
		salt, glass := stir(t, cupOf(t, "1 cup", red, grams(pair[0], 60))), stir(t, cupOf(t, "1 cup", red, grams(pair[1], 60)))
		assert.Less(t, salt.Colour(over(4)).Chroma(), none.Colour(over(4)).Chroma()-3)
		assert.Less(t, colour.DeltaE00(none.Colour(over(4)), glass.Colour(over(4))), 3.5)
		assert.Greater(t, colour.DeltaE00(none.Colour(on(8, optics.Dark)), salt.Colour(on(8, optics.Dark))), 3*colour.DeltaE00(none.Colour(on(8, optics.Dark)), glass.Colour(on(8, optics.Dark))))
		dark := stir(t, cupOf(t, "1 cup", DripOf("carbon-black", 5)))
		lifted := stir(t, cupOf(t, "1 cup", DripOf("carbon-black", 5), grams(pair[0], 60)))
		assert.Greater(t, lifted.Colour(over(15)).L, dark.Colour(over(15)).L+5)

		flake := tsp("flake-green", 0.5)
		seen := func(c Cup) float64 { return stir(t, c).Legibility(on(12, optics.White))[0].SeenPerCM2 }
		bare, withSalt, withGlass := seen(cupOf(t, "1 cup", flake)), seen(cupOf(t, "1 cup", flake, grams(pair[0], 120))), seen(cupOf(t, "1 cup", flake, grams(pair[1], 120)))
		assert.Less(t, withSalt, 0.6*bare, "salt hides flake")
		assert.Greater(t, withGlass, 0.75*bare, "glass hardly")
		assert.Greater(t, salt.Feel().DensityGML, none.Feel().DensityGML+0.05)
		assert.Less(t, salt.Feel().Strength, glass.Feel().Strength)
	}
}

func TestFluorescenceNeedsItsLight(t *testing.T) {
	m := stir(t, cupOf(t, "1 cup", DripOf("glow-lime", 20), DripOf("titanium-white", 6)))
	day, lamp := m.Seen(on(6, optics.White)), m.Seen(Condition{ThicknessMM: 6, Ground: optics.White, Light: colour.A})
	best := 0.0
	for _, v := range day {
		best = max(best, v)
	}
	assert.Greater(t, best, 1.0, "it lifts a band above white")
	assert.Less(t, lamp[13], day[13], "a warm lamp excites it less")
	through := m.Seen(on(2, optics.Against))
	dull := stir(t, cupOf(t, "1 cup", DripOf("titanium-white", 6))).Seen(on(2, optics.Against))
	assert.Greater(t, through[13]/dull[13], 0.9, "it shows against the light, too")
}

func TestStatesAndWater(t *testing.T) {
	c := cupOf(t, "1 cup", DripOf("clear-green", 3))
	m := stir(t, c)
	at := func(s State) colour.Lab {
		x := on(8, optics.Dark)
		x.State = s
		return m.Colour(x)
	}
	assert.Greater(t, at(Raw).L, at(Fresh).L+20, "raw plastisol is milk")
	assert.Greater(t, at(Fresh).L, at(Rested).L)
	assert.Greater(t, at(Rested).L, at(Hot).L)
	under := on(8, optics.White)
	under.Water, under.DepthM, under.DistanceM = optics.Stained, 2, 1
	l := lookAt(t, c, under)
	require.NotNil(t, l.InWater)
	under.DistanceM = 6
	assert.Less(t, lookAt(t, c, under).InWater.DeltaE00, l.InWater.DeltaE00, "it fades into the water")
	for _, bad := range []func(*Condition){
		func(c *Condition) { c.State = "stale" }, func(c *Condition) { c.TiltDeg = 80 }, func(c *Condition) { c.Water = "soup" }, func(c *Condition) { c.DepthM = 99 },
	} {
		x := over(4)
		bad(&x)
		assert.Error(t, x.Check())
	}
}

func TestOneMoreSaysWhatADropDoes(t *testing.T) {
	c := cupOf(t, "1 cup", DripOf("clear-yellow", 8), DripOf("carbon-black", 1), tsp("pearl-silver", 1.0/32), tsp("salt-fine", 6))
	c.Target = &Target{Name: "x", Lab: colour.Lab{L: 40, A: 0, B: 40}, ThicknessMM: 8, Ground: optics.White}
	m := stir(t, c)
	more, err := More(&c, m, bench(), kit, over(8))
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
	next, _, err := c.With("carbon-black", 1, bench(), kit)
	require.NoError(t, err)
	assert.Equal(t, stir(t, next).Colour(over(8)), more[1].Swatch.Lab)
}

func TestTheQuickTestsOfTheBench(t *testing.T) {
	depth := func(doses ...Dose) float64 { return stir(t, cupOf(t, "1 cup", doses...)).StickDepth(Hot) }
	clear, some, black := depth(), depth(DripOf("grey-tint", 10)), depth(DripOf("carbon-black", 20))
	assert.Greater(t, clear, some)
	assert.Greater(t, some, black)
	assert.Less(t, black, 6.0)
	assert.Less(t, depth(DripOf("titanium-white", 20)), 12.0, "white hides a stick, too")
	tests := stir(t, cupOf(t, "1 cup", DripOf("clear-red", 12))).BenchTests(colour.D65)
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
	feel := func(doses ...Dose) Feel { return stir(t, cupOf(t, "1 cup", doses...)).Feel() }
	plain := feel()
	assert.False(t, plain.FloatsFresh)
	floats := feel(tsp("floating-spheres", 12))
	assert.True(t, floats.FloatsFresh)
	assert.Less(t, floats.SinkFreshCMS, 0.0)
	assert.Greater(t, floats.HookToSinkG, 0.0)
	assert.InDelta(t, 0, Sinks(floats.DensityGML, FreshGML, floats.HookToSinkG), 0.3, "that hook just sinks it")
	soft := feel(ml("softener", 25))
	assert.Less(t, soft.Hand, plain.Hand)
	assert.Greater(t, feel(ml("hardener", 25)).Hand, plain.Hand)
	assert.Less(t, feel(tsp("salt-fine", 24)).Strength, 0.85)
	assert.Greater(t, soft.YieldML, 24.0)
}

func TestWatchOuts(t *testing.T) {
	// Each rule with a cup that it is about, and one that it is not.
	for kind, c := range map[string][2]Cup{
		"slip":    {cupOf(t, "1 cup", tsp("pearl-silver", 9)), cupOf(t, "1 cup", tsp("pearl-silver", 0.25))},
		"heat":    {cupOf(t, "1 cup", tsp("flake-holo", 0.5)), cupOf(t, "1 cup", tsp("pearl-silver", 0.25))},
		"bleeds":  {cupOf(t, "1 cup", DripOf("cyan-dye", 4)), cupOf(t, "1 cup", DripOf("clear-blue", 1))},
		"thin":    {cupOf(t, "1 cup", tsp("flake-large", 0.5)), cupOf(t, "1 cup", tsp("flake-gold", 0.5))},
		"gate":    {cupOf(t, "1 cup", tsp("flake-huge", 0.5)), cupOf(t, "1 cup", tsp("flake-gold", 0.5))},
		"liquid":  {cupOf(t, "1 cup", ml("softener", 25)), cupOf(t, "1 cup", ml("softener", 5))},
		"carries": {cupOf(t, "1 cup", tsp("salt-fine", 60)), cupOf(t, "1 cup", tsp("salt-fine", 12))},
		"soft":    {cupOf(t, "1 cup", ml("softener", 50)), cupOf(t, "1 cup", ml("softener", 5))},
		"greys":   {cupOf(t, "1 cup", DripOf("clear-red", 9), DripOf("clear-green", 3)), cupOf(t, "1 cup", DripOf("clear-yellow", 9), DripOf("clear-green", 3))},
		"hidden":  {cupOf(t, "1 cup", DripOf("titanium-white", 60), tsp("flake-gold", 1.0/32)), cupOf(t, "1 cup", tsp("flake-gold", 0.5))},
		"settles": {cupOf(t, "1 cup", tsp("glass-beads", 12)), cupOf(t, "1 cup", tsp("floating-spheres", 12))},
		"bubbles": {cupOf(t, "1 cup", tsp("salt-fine", 12)), cupOf(t, "1 cup", tsp("glass-beads", 12))},
		"whitens": {cupOf(t, "1 cup", tsp("floating-spheres", 12)), cupOf(t, "1 cup", tsp("glass-beads", 3))},
		"smell":   {cupOf(t, "1 cup", ml("stabiliser", 5)), cupOf(t, "1 cup", ml("stabiliser", 1))},
	} {
		for i, wanted := range []bool{true, false} {
			shelf := bench()
			for key, in := range map[string]float64{"flake-large": 0.055, "flake-huge": 0.062} {
				f, _ := material.FindFamily("flake-gold")
				m := f.New(key, key)
				m.Flake.Resize(in, material.Measured)
				shelf[key] = m
			}
			m, err := Stir(&c[i], shelf)
			require.NoError(t, err, kind)
			l, err := LookAt(&c[i], m, shelf, over(8))
			require.NoError(t, err)
			mold := bait.NewMold("Ours", "drop-shot-minnow")
			l.Watch = append(l.Watch, MoldWatch(m, shelf, &mold)...)
			found := false
			for _, w := range l.Watch {
				assert.NotEmpty(t, w.Why, w.Kind)
				found = found || w.Kind == kind
			}
			assert.Equal(t, wanted, found, "%s: %+v", kind, l.Watch)
		}
	}
	salt := cupOf(t, "1 cup", tsp("salt-fine", 12))
	says := fmt.Sprint(lookAt(t, salt, over(8)).Watch)
	assert.Contains(t, says, "stir at least every")
}

func TestSlipsAreAskedBack(t *testing.T) {
	v := Live{Cup: cupOf(t, "1 cup")}
	_, err := Step{Kind: SetDose, Material: "pearl-silver", Typed: "1 oz"}.Apply(v, bench(), kit)
	assertFault(t, err, "typed", "Meant so? Enter it once more")
	assert.True(t, err.(*measure.Fault).Ask)
	got, err := Step{Kind: SetDose, Material: "pearl-silver", Typed: "1 oz", Sure: true}.Apply(v, bench(), kit)
	require.NoError(t, err)
	assert.Equal(t, "1 oz", got.Doses[0].Typed)
	_, err = Step{Kind: SetDose, Material: "flake-gold", Typed: ".040"}.Apply(v, bench(), kit)
	assertFault(t, err, "typed", "flake's size in inches")
	_, err = Step{Kind: SetDose, Material: "flake-gold", Typed: "3 drops"}.Apply(v, bench(), kit)
	assertFault(t, err, "typed", "not dripped")
	got, err = Step{Kind: SetDose, Material: "clear-red", Typed: "some, 2-5 drops"}.Apply(v, bench(), kit)
	require.NoError(t, err)
	l := lookAt(t, got.Cup, over(8))
	require.NotNil(t, l.Range)
	assert.Greater(t, *l.Range, 1.0)
	assert.Contains(t, l.Sure, "by guess")
	got, err = Step{Kind: Add, Material: "clear-red", Typed: "3d"}.Apply(got, bench(), kit)
	require.NoError(t, err)
	assert.Equal(t, "some, 5-8 drops", got.Doses[0].Typed)
}

func TestReplaceKeepsTheLook(t *testing.T) {
	c := cupOf(t, "1 cup", DripOf("carbon-black", 2), DripOf("clear-yellow", 10))
	s, err := Replace(&c, InPlace{Old: "carbon-black", New: "grey-tint"}, bench(), kit)
	require.NoError(t, err)
	assert.InDelta(t, 20, amount(s.Cup, "grey-tint"), 1, "a tenth of the strength: ten times the drops")
	assert.Less(t, s.DeltaE00, 1.0)
	assert.Empty(t, s.Lost)
	s, err = Replace(&c, InPlace{Old: "clear-yellow", New: "solid-yellow"}, bench(), kit)
	require.NoError(t, err)
	assert.NotEmpty(t, s.Lost, "an opaque yellow can't be see-through: %v", s)
	assert.Len(t, s.After, len(s.Before))
	_, err = Replace(&c, InPlace{Old: "clear-yellow", New: "carbon-black"}, bench(), kit)
	assertFault(t, err, "new", "in this cup already")
	_, err = Replace(&c, InPlace{Old: "clear-blue", New: "grey-tint"}, bench(), kit)
	assertFault(t, err, "old", "not in this cup")
	_, err = Replace(&c, InPlace{Old: "clear-yellow", New: "salt-fine"}, bench(), kit)
	assertFault(t, err, "new", "colourant, powder or flake")
}

func amount(c Cup, uid string) float64 {
	for _, d := range c.Doses {
		if d.Material == uid {
			return d.Amount.Value
		}
	}
	return 0
}

func TestSameLookWithSalt(t *testing.T) {
	c := cupOf(t, "1 cup", DripOf("clear-red", 20), DripOf("carbon-black", 2))
	salt := c
	salt.Doses = append(append([]Dose{}, c.Doses...), tsp("salt-coarse", 12))
	s, err := LookWith(&c, "salt-coarse", "1/4 cup", bench(), kit)
	require.NoError(t, err)
	naive := 0.0
	m := stir(t, salt)
	for i, at := range []Condition{on(FinMM, optics.White), on(BodyMM, optics.White), on(BodyMM, optics.Dark), on(BodyMM, optics.Against)} {
		naive += colour.DeltaE00(m.Colour(at), s.Before[i].Swatch.Lab) / 4
	}
	assert.Less(t, s.DeltaE00, naive, "the doses follow")
	assert.Greater(t, amount(s.Cup, "clear-red"), 20.0, "salt takes room and chroma: more red")
	assert.NotEmpty(t, s.Changes)
	_, err = LookWith(&c, "clear-red", "1/4 cup", bench(), kit)
	assertFault(t, err, "material", "additive")
	_, err = LookWith(&c, "salt-coarse", "much", bench(), kit)
	assertFault(t, err, "typed", "no number")
}

// The advice is never worse, by its own measure, than the doses as they are; where none is better, it says so.
func TestLoadAdviceIsNeverWorseThanNone(t *testing.T) {
	held := 0
	for _, c := range []Cup{
		cupOf(t, "1 cup", DripOf("clear-red", 20), DripOf("carbon-black", 2)),
		cupOf(t, "1 cup", DripOf("clear-brown", 12), DripOf("clear-green", 6), tsp("flake-gold", 0.5)),
		cupOf(t, "1 cup", DripOf("clear-yellow", 4)),
		cupOf(t, "1 cup", DripOf("titanium-white", 20)),
		cupOf(t, "1/2 cup", DripOf("clear-blue", 40), DripOf("clear-red", 30)),
	} {
		loads, err := Loads(&c, "a quarter cup", bench(), kit)
		require.NoError(t, err)
		require.Len(t, loads, 3)
		for _, l := range loads {
			as := c
			as.Doses = slices.Clone(l.Swapped.Cup.Doses)
			for i, d := range as.Doses { // the colours as they were, the rest as advised
				for _, was := range c.Doses {
					if m := bench()[d.Material]; d.Material == was.Material && m.Colourant != nil {
						as.Doses[i] = was
					}
				}
			}
			m, naive := stir(t, as), 0.0
			for i, at := range []Condition{on(FinMM, optics.White), on(BodyMM, optics.White), on(BodyMM, optics.Dark), on(BodyMM, optics.Against)} {
				naive += colour.DeltaE00(m.Colour(at), l.Swapped.Before[i].Swatch.Lab) / 4
			}
			assert.LessOrEqual(t, l.Swapped.DeltaE00, naive+1e-9, "%s in %v", l.Name, c.Doses)
			if l.Swapped.Hold != "" {
				held++
				assert.InDelta(t, naive, l.Swapped.DeltaE00, 1e-9)
			}
			assert.Greater(t, l.Swapped.Is.LoadPercent, 15.0)
			assert.Less(t, l.Swapped.Is.Strength, l.Swapped.Was.Strength)
			assert.Greater(t, l.Swapped.Is.YieldML, 30.0/2)
		}
		assert.Less(t, loads[0].Swapped.DeltaE00, loads[2].Swapped.DeltaE00+0.3, "glass clouds least, fine salt most")
	}
	assert.Positive(t, held, "at least one of them is best left alone")
}

// Another size of flake: at arm's length the same, close up a fifth of the pieces.
func TestAnotherFlakeIsToldBySizeAndCount(t *testing.T) {
	shelf := bench()
	for key, in := range map[string]float64{"fine": 0.015, "coarse": 0.035, "huge": 0.094} {
		f, _ := material.FindFamily("flake-gold")
		m := f.New(key, key)
		m.Flake.Resize(in, material.Measured)
		shelf[key] = m
	}
	c := cupOf(t, "1 cup", DripOf("clear-brown", 6), tsp("fine", 0.5))
	mold := bait.NewMold("Ours", "drop-shot-minnow")
	s, err := Replace(&c, InPlace{Old: "fine", New: "coarse", Mold: &mold}, shelf, kit)
	require.NoError(t, err)
	require.Len(t, s.Flake, 1)
	f := s.Flake[0]
	assert.InDelta(t, 1, f.Is.CoverPerMM/f.Was.CoverPerMM, 0.15, "as much of it to see")
	assert.InDelta(t, 5.4, f.Was.PerBait/f.Is.PerBait, 1)
	assert.NotEqual(t, "can't be told apart", s.Nearness)
	assert.Contains(t, strings.Join(s.Lost, "; "), "pieces a bait instead of")
	one, err := Stir(&c, shelf)
	require.NoError(t, err)
	assert.InDelta(t, one.Legibility(over(8))[0].PiecesTotal/one.FinishedML*mold.VolumeML(), f.Was.PerBait, 1e-6, "of this bait")

	s, err = Replace(&c, InPlace{Old: "fine", New: "coarse", Keep: KeepCount}, shelf, kit)
	require.NoError(t, err)
	assert.InDelta(t, 1, s.Flake[0].Is.PerBait/s.Flake[0].Was.PerBait, 0.15)
	assert.Contains(t, strings.Join(s.Changes, "; "), "Transparent brown", "so much more flake moves the colour: the base follows")

	s, err = Replace(&c, InPlace{Old: "fine", New: "huge", Mold: &mold}, shelf, kit)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(s.Lost, "; "), "gate")
}

func TestPremixKnowsItsContents(t *testing.T) {
	shelf := bench()
	cut, err := Premix("black-cut", "Black, ten to one", []material.Part{{Material: "carbon-black", Share: 1}}, 10, shelf)
	require.NoError(t, err)
	shelf["black-cut"] = cut
	twice, err := Premix("black-cut-2", "And again", []material.Part{{Material: "black-cut", Share: 1}}, 1, shelf)
	require.NoError(t, err)
	shelf["black-cut-2"] = twice
	assert.InDelta(t, 1.0/22, twice.Colourant.Contains[0].Share, 1e-12)
	assert.Equal(t, "carbon-black", twice.Colourant.Contains[0].Material)
	one, eleven := cupOf(t, "1 cup", DripOf("carbon-black", 1)), cupOf(t, "1 cup", DripOf("black-cut", 11))
	a, err := Stir(&one, shelf)
	require.NoError(t, err)
	b, err := Stir(&eleven, shelf)
	require.NoError(t, err)
	assert.Less(t, colour.DeltaE00(a.Colour(over(8)), b.Colour(over(8))), 0.1)
	_, err = Premix("x", "X", nil, 1, shelf)
	assertFault(t, err, "parts", "name a bottle")
	_, err = Premix("x", "X", []material.Part{{Material: "salt-fine", Share: 1}}, 1, shelf)
	assertFault(t, err, "parts", "only bottles")
	delete(shelf, "carbon-black")
	_, err = Stir(&eleven, shelf)
	assertFault(t, err, "doses[0]", "not on the shelf")
}

func TestChanged(t *testing.T) {
	a, b := cupOf(t, "1 cup", DripOf("clear-red", 5), DripOf("carbon-black", 1)), cupOf(t, "2 cups", DripOf("clear-red", 6), tsp("flake-gold", 0.5))
	assert.Equal(t, []string{
		"volume 1 cup → 2 cups", "Transparent red (quinacridone class) 5 drops → 6 drops", "Carbon black left out (was 1 drop)", "Gold flake new: 1/2 tsp",
	}, Changed(&a, &b, bench()))
	assert.Empty(t, Changed(&a, &a, bench()))
}

func TestScalingWithSpoons(t *testing.T) {
	c := cupOf(t, "1 cup", DripOf("clear-red", 5), tsp("pearl-silver", 0.125), tsp("salt-fine", measure.TeaspoonsPerCup/4), ml("softener", 6))
	s, err := Scale(&c, bench(), measure.Kit{SpoonsTSP: []float64{0.25, 0.125, 1.0 / 32}, Heaped: 1.5}, volume(t, "1/3 cup"), over(8))
	require.NoError(t, err)
	pearl := s.Lines[1]
	assert.InDelta(t, 0.0417, pearl.Exact.Value, 1e-3)
	assert.Equal(t, 1.0/32, pearl.Take.Value)
	assert.Equal(t, "1 × 1/32 tsp", pearl.Scoops)
	assert.Greater(t, pearl.Up.Amount.Value, pearl.Exact.Value)
	assert.InDelta(t, 2, s.Lines[3].Take.Value, 1e-9, "millilitres are drawn up as they come")
	assert.Equal(t, "comes out even", s.Lines[3].Why)
}

func TestFlakeWishes(t *testing.T) {
	f, _ := material.FindFamily("flake-gold")
	gold := f.New("gold", "Gold")
	m := stir(t, cupOf(t, "1 cup", DripOf("clear-blue", 1)))
	last := 0.0
	for _, wish := range []string{"sparse", "medium", "heavy"} {
		a, ok := m.DoseFor(&gold, wish, on(8, optics.White))
		require.True(t, ok)
		assert.Greater(t, a.Value, last)
		last = a.Value
		shelf := bench()
		shelf["gold"] = gold
		c := cupOf(t, "1 cup", DripOf("clear-blue", 1), Dose{"gold", "", a})
		mix, err := Stir(&c, shelf)
		require.NoError(t, err)
		assert.Equal(t, wish, mix.Legibility(on(8, optics.White))[0].Wish)
	}
}

func TestStockIsWatched(t *testing.T) {
	c := cupOf(t, "1 cup", DripOf("clear-red", 40), tsp("flake-gold", 0.5))
	m := stir(t, c)
	says := func(left, low map[string]float64) string { return fmt.Sprint(StockWatch(&c, m, bench(), left, low)) }
	assert.Contains(t, says(map[string]float64{"clear-red": 1}, nil), "not enough")
	assert.Contains(t, says(map[string]float64{"clear-red": 10}, map[string]float64{"clear-red": 9}), "runs low")
	assert.Contains(t, says(map[string]float64{"flake-gold": 1}, nil), "takes 1.4 g; 1 g are left")
	assert.Contains(t, says(map[string]float64{"medium-plastisol": 100}, nil), "takes 236.6 ml")
	assert.Equal(t, "[]", says(map[string]float64{"clear-red": 100}, nil))
	assert.Equal(t, "[]", says(nil, nil), "what is not counted is not watched")
}

func TestTwoBottlesAtEqualStrength(t *testing.T) {
	b, err := SideBySide("carbon-black", "grey-tint", bench())
	require.NoError(t, err)
	assert.InDelta(t, 10, b.Ratio, 1)
	assert.Less(t, b.DeltaE00, 2.0)
	r, err := SideBySide("clear-red", "clear-violet", bench())
	require.NoError(t, err)
	assert.NotEmpty(t, r.Words)
	_, err = SideBySide("clear-red", "salt-fine", bench())
	assertFault(t, err, "other", "two colours")
	shelf := bench()
	for key, want := range map[string]string{"clear-red": "transparent", "solid-red": "opaque", "titanium-white": "opaque", "ultramarine": "half", "yellow-dye": "transparent"} {
		m := shelf[key]
		assert.Equal(t, want, Clarity(&m, shelf), key)
	}
	gold := shelf["flake-gold"]
	best := BestBases(&gold, []NamedCup{{"own", cupOf(t, "1 cup", DripOf("solid-yellow", 20), DripOf("clear-brown", 4))}, {"blue", cupOf(t, "1 cup", DripOf("clear-blue", 3))}}, shelf, 5)
	require.Len(t, best, 2)
	assert.Equal(t, "blue", best[0].Name)
}
