package recipe_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
	. "cloudburst/core/recipe"
)

// drawCup is any cup that can be kept: of any volume, with doses of nothing and of next to nothing, too.
func drawCup(t *rapid.T) Cup {
	families := material.Families()
	c := Cup{
		Volume:    measure.Volume{Typed: "some", ML: rapid.OneOf(rapid.Float64Range(1, 100_000), rapid.SampledFrom([]float64{1, 2, 10, 236.588})).Draw(t, "ml")},
		Plastisol: rapid.SampledFrom([]string{"soft-plastisol", "medium-plastisol"}).Draw(t, "base"), Doses: []Dose{},
	}
	used := map[string]bool{c.Plastisol: true}
	for range rapid.IntRange(0, 8).Draw(t, "lines") {
		f := rapid.SampledFrom(families).Draw(t, "family")
		if used[f.Key] {
			continue
		}
		used[f.Key] = true
		m := f.New(f.Key, f.Name)
		units := []measure.Unit{measure.InML, measure.InDrops}
		if m.Form() == measure.Solid {
			units = []measure.Unit{measure.InTeaspoons, measure.InGrams}
		}
		a := measure.Amount{Unit: rapid.SampledFrom(units).Draw(t, "unit")}
		a.Value = rapid.OneOf(rapid.SampledFrom([]float64{0, 5e-324, 1e-300, 1e-12, 1e-4}), rapid.Float64Range(0, 30)).Draw(t, "dose") * max(1e-2, c.Volume.ML/236.6)
		if rapid.IntRange(0, 9).Draw(t, "guess") == 0 {
			a.High = a.Value * 2
		}
		c.Doses = append(c.Doses, Dose{f.Key, a.String(), a})
	}
	if rapid.Bool().Draw(t, "has a target") {
		c.Target = &Target{Name: "It", Lab: colour.Lab{L: rapid.Float64Range(0, 100).Draw(t, "L")}, ThicknessMM: 4, Ground: "white"}
	}
	return c
}

func drawCondition(t *rapid.T) Condition {
	at := Condition{
		ThicknessMM: rapid.OneOf(rapid.Float64Range(0.05, 100), rapid.SampledFrom([]float64{0.05, 100})).Draw(t, "mm"),
		Ground:      rapid.SampledFrom(optics.Grounds()).Draw(t, "ground"), Light: rapid.SampledFrom(colour.Lights()).Draw(t, "light"),
		State: rapid.SampledFrom(States()).Draw(t, "state"), TiltDeg: rapid.SampledFrom([]float64{0, 30, 60}).Draw(t, "tilt"),
	}
	if rapid.Bool().Draw(t, "under water") {
		at.Water, at.DepthM, at.DistanceM = rapid.SampledFrom(optics.Waters()).Draw(t, "water"), rapid.SampledFrom([]float64{0, 1, 50}).Draw(t, "depth"), 0.5
	}
	return at
}

// No figure that leaves the core is without end or not a number, for any cup that can be kept. A flake's plus, then its minus,
// once made 0/0.
func TestEveryFigureOfEveryCupIsFinite(t *testing.T) {
	shelf := bench()
	mold := bait.NewMold("It", "paddle-minnow")
	rapid.Check(t, func(t *rapid.T) {
		c, at := drawCup(t), drawCondition(t)
		if c.Check(shelf) != nil {
			t.Skip("can't be kept")
		}
		finite := func(what string, v any, err error) {
			if err == nil {
				require.Empty(t, measure.NotFinite(v), what)
			}
		}
		m, err := Stir(&c, shelf)
		require.NoError(t, err)
		finite("stir", m, nil)
		look, err := LookAt(&c, m, shelf, at)
		require.NoError(t, err)
		finite("look", look, nil)
		finite("legibility", m.Legibility(at), nil)
		more, err := More(&c, m, shelf, kit, at)
		finite("one more", more, err)
		finite("bench tests", m.BenchTests(at.Light), nil)
		finite("molds", MoldWatch(m, shelf, &mold), nil)
		for _, to := range []float64{1, 2, 10, 100_000} {
			s, err := Scale(&c, shelf, kit, measure.Volume{Typed: "some", ML: to}, at)
			finite("scale", s, err)
		}
		v := Live{Cup: c, Heats: []Heat{{180, 0}, {0, -9e15}, {260, 9e15}}}
		finite("warmth", v.WarmthAt(1e12), nil)
		rest, other, err := v.Split(rapid.Float64Range(0, 1).Draw(t, "share"))
		finite("split", []Live{rest, other}, err)
		if err == nil {
			require.NoError(t, rest.Check(shelf), "what is left can be kept")
			require.NoError(t, other.Check(shelf), "so can what went over")
		}
		finite("merge", v.Merge(other, shelf), err)
	})
}

// A step that is taken and taken back, from any cup, leaves one that can be worked out.
func TestPlusThenMinusCanBeWorkedOut(t *testing.T) {
	shelf := bench()
	rapid.Check(t, func(t *rapid.T) {
		c := drawCup(t)
		if c.Check(shelf) != nil {
			t.Skip("can't be kept")
		}
		f := rapid.SampledFrom(material.Families()).Draw(t, "of")
		v := Live{Cup: c}
		for _, n := range []int{1, -1, -1} {
			if next, err := (Step{Kind: Drip, Material: f.Key, Drops: n}).Apply(v, shelf, kit); err == nil {
				v = next
			}
		}
		at := Condition{ThicknessMM: 4, Ground: optics.White, Light: colour.D65}
		m, err := Stir(&v.Cup, shelf)
		require.NoError(t, err)
		require.Empty(t, measure.NotFinite(m.Legibility(at)))
		look, err := LookAt(&v.Cup, m, shelf, at)
		require.NoError(t, err)
		require.Empty(t, measure.NotFinite(look))
	})
}

// Swaps and doses for a wish, of any cup.
func TestEveryFigureOfASwapIsFinite(t *testing.T) {
	shelf := bench()
	rapid.Check(t, func(t *rapid.T) {
		c := drawCup(t)
		if c.Check(shelf) != nil || len(c.Doses) == 0 {
			t.Skip("can't be kept")
		}
		families := material.Families()
		old := rapid.SampledFrom(c.Doses).Draw(t, "old").Material
		new := rapid.SampledFrom(families).Draw(t, "new").Key
		if s, err := Replace(&c, InPlace{Old: old, New: new}, shelf, kit); err == nil {
			require.Empty(t, measure.NotFinite(s))
		}
		if s, err := LookWith(&c, "salt-fine", rapid.SampledFrom([]string{"0 g", "1/4 cup", "1/64 tsp"}).Draw(t, "salt"), shelf, kit); err == nil {
			require.Empty(t, measure.NotFinite(s))
		}
		m, err := Stir(&c, shelf)
		require.NoError(t, err)
		flake := slices.IndexFunc(families, func(f material.Family) bool { return f.Kind == material.KindFlake })
		f := families[flake].New("x", "x")
		if a, ok := m.DoseFor(&f, "medium", drawCondition(t)); ok {
			require.Empty(t, measure.NotFinite(a))
		}
	})
}

// A minus where there is none adds no line, and a line of nothing is no part of a recipe.
func TestNothingIsNoPartOfARecipe(t *testing.T) {
	shelf := bench()
	v := Live{Cup: cupOf(t, "1 cup", DripOf("clear-red", 3))}
	after, err := Step{Kind: Drip, Material: "clear-blue", Drops: -1}.Apply(v, shelf, kit)
	require.NoError(t, err)
	require.Len(t, after.Doses, 1)
	after, err = Step{Kind: Drip, Material: "clear-red", Drops: -9}.Apply(v, shelf, kit)
	require.NoError(t, err)
	require.Len(t, after.Doses, 1, "it stays on the bench")
	require.Empty(t, after.Filled().Doses)
	require.Len(t, v.Filled().Doses, 1)
}

// A cut of next to nothing is a slip, said in words.
func TestACutOfNothingIsRefusedInWords(t *testing.T) {
	var f *measure.Fault
	_, err := Premix("cut", "Cut", []material.Part{{Material: "clear-red", Share: 5e-324}}, 95, bench())
	require.ErrorAs(t, err, &f)
	require.Contains(t, f.Says, "weakest cut")
	bad := bench()["clear-red"]
	bad.Colourant.DropML.Value = 9
	require.ErrorAs(t, bad.Check(), &f, "whatever is wrong with a material is said at its field")
}

// A guess whose upper end no cup could take is shown all the same.
func TestAGuessBeyondWhatACupTakesIsShown(t *testing.T) {
	c := Cup{Volume: measure.Volume{Typed: "1 ml", ML: 1}, Plastisol: "soft-plastisol", Doses: []Dose{
		{Material: "floating-spheres", Typed: "some", Amount: measure.Amount{Value: 0.3, Low: 0, High: 0.6, Unit: measure.InGrams}},
	}}
	require.NoError(t, c.Check(bench()))
	lookAt(t, c, on(4, optics.White))
}
