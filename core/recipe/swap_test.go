package recipe_test

import (
	"slices"
	"strings"
	"testing"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	. "cloudburst/core/recipe"
	. "cloudburst/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestReplaceKeepsTheLook(t *testing.T) {
	c := CupOf(t, "1 cup", cup.DripOf("carbon-black", 2), cup.DripOf("clear-yellow", 10))
	s, err := Replace(&c, InPlace{Old: "carbon-black", New: "grey-tint"}, Bench(), Kit)
	require.NoError(t, err)
	assert.InDelta(t, 20, amount(s.Cup, "grey-tint"), 1, "a tenth of the strength: ten times the drops")
	assert.Less(t, s.DeltaE00, 1.0)
	assert.Empty(t, s.Lost)
	s, err = Replace(&c, InPlace{Old: "clear-yellow", New: "solid-yellow"}, Bench(), Kit)
	require.NoError(t, err)
	assert.NotEmpty(t, s.Lost, "an opaque yellow can't be see-through: %v", s)
	assert.Len(t, s.After, len(s.Before))
	_, err = Replace(&c, InPlace{Old: "clear-yellow", New: "carbon-black"}, Bench(), Kit)
	AssertFault(t, err, "new", "in this cup already")
	_, err = Replace(&c, InPlace{Old: "clear-blue", New: "grey-tint"}, Bench(), Kit)
	AssertFault(t, err, "old", "not in this cup")
	_, err = Replace(&c, InPlace{Old: "clear-yellow", New: "salt-fine"}, Bench(), Kit)
	AssertFault(t, err, "new", "colourant, powder or flake")
}

func amount(c cup.Cup, uid string) float64 {
	for _, d := range c.Doses {
		if d.Material == uid {
			return d.Amount.Value
		}
	}
	return 0
}

func TestSameLookWithSalt(t *testing.T) {
	c := CupOf(t, "1 cup", cup.DripOf("clear-red", 20), cup.DripOf("carbon-black", 2))
	salt := c
	salt.Doses = append(append([]cup.Dose{}, c.Doses...), Tsp("salt-coarse", 12))
	s, err := LookWith(&c, "salt-coarse", "1/4 cup", Bench(), Kit)
	require.NoError(t, err)
	naive := 0.0
	m := Stirred(t, salt)
	for i, at := range []mix.Condition{
		On(mix.FinMM, optics.White), On(mix.BodyMM, optics.White), On(mix.BodyMM, optics.Dark),
		On(mix.BodyMM, optics.Against),
	} {
		naive += colour.DeltaE00(m.Colour(at), s.Before[i].Swatch.Lab) / 4
	}
	assert.Less(t, s.DeltaE00, naive, "the doses follow")
	assert.Greater(t, amount(s.Cup, "clear-red"), 20.0, "salt takes room and chroma: more red")
	assert.NotEmpty(t, s.Changes)
	_, err = LookWith(&c, "clear-red", "1/4 cup", Bench(), Kit)
	AssertFault(t, err, "material", "additive")
	_, err = LookWith(&c, "salt-coarse", "much", Bench(), Kit)
	AssertFault(t, err, "typed", "no number")
}

// The advice is never worse, by its own measure, than the doses as they are; where none is better, it says so.
func TestLoadAdviceIsNeverWorseThanNone(t *testing.T) {
	held := 0
	for _, c := range []cup.Cup{
		CupOf(t, "1 cup", cup.DripOf("clear-red", 20), cup.DripOf("carbon-black", 2)),
		CupOf(t, "1 cup", cup.DripOf("clear-brown", 12), cup.DripOf("clear-green", 6), Tsp("flake-gold", 0.5)),
		CupOf(t, "1 cup", cup.DripOf("clear-yellow", 4)),
		CupOf(t, "1 cup", cup.DripOf("titanium-white", 20)),
		CupOf(t, "1/2 cup", cup.DripOf("clear-blue", 40), cup.DripOf("clear-red", 30)),
	} {
		loads, err := Loads(&c, "a quarter cup", Bench(), Kit)
		require.NoError(t, err)
		require.Len(t, loads, 3)
		for _, l := range loads {
			as := c
			as.Doses = slices.Clone(l.Swapped.Cup.Doses)
			for i, d := range as.Doses { // the colours as they were, the rest as advised
				for _, was := range c.Doses {
					if m := Bench()[d.Material]; d.Material == was.Material && m.Colourant != nil {
						as.Doses[i] = was
					}
				}
			}
			m, naive := Stirred(t, as), 0.0
			for i, at := range []mix.Condition{
				On(mix.FinMM, optics.White), On(mix.BodyMM, optics.White), On(mix.BodyMM, optics.Dark),
				On(mix.BodyMM, optics.Against),
			} {
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
	shelf := Bench()
	for key, in := range map[string]float64{"fine": 0.015, "coarse": 0.035, "huge": 0.094} {
		f, _ := material.FindFamily("flake-gold")
		m := f.New(key, key)
		m.Flake.Resize(in, material.Measured)
		shelf[key] = m
	}
	c := CupOf(t, "1 cup", cup.DripOf("clear-brown", 6), Tsp("fine", 0.5))
	mold := bait.NewMold("Ours", "drop-shot-minnow")
	s, err := Replace(&c, InPlace{Old: "fine", New: "coarse", Mold: &mold}, shelf, Kit)
	require.NoError(t, err)
	require.Len(t, s.Flake, 1)
	f := s.Flake[0]
	assert.InDelta(t, 1, f.Is.CoverPerMM/f.Was.CoverPerMM, 0.15, "as much of it to see")
	assert.InDelta(t, 5.4, f.Was.PerBait/f.Is.PerBait, 1)
	assert.NotEqual(t, "can't be told apart", s.Nearness)
	assert.Contains(t, strings.Join(s.Lost, "; "), "pieces a bait instead of")
	one, err := mix.Stir(&c, shelf)
	require.NoError(t, err)
	assert.InDelta(
		t, one.Legibility(Over(8))[0].PiecesTotal/one.FinishedML*mold.VolumeML(), f.Was.PerBait, 1e-6, "of this bait",
	)

	s, err = Replace(&c, InPlace{Old: "fine", New: "coarse", Keep: KeepCount}, shelf, Kit)
	require.NoError(t, err)
	assert.InDelta(t, 1, s.Flake[0].Is.PerBait/s.Flake[0].Was.PerBait, 0.15)
	assert.Contains(
		t, strings.Join(s.Changes, "; "), "Transparent brown", "so much more flake moves the colour: the base follows",
	)

	s, err = Replace(&c, InPlace{Old: "fine", New: "huge", Mold: &mold}, shelf, Kit)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(s.Lost, "; "), "gate")
}

func TestPremixKnowsItsContents(t *testing.T) {
	shelf := Bench()
	cut, err := Premix(
		"black-cut", "Black, ten to one", []material.Part{{Material: "carbon-black", Share: 1}}, 10, shelf,
	)
	require.NoError(t, err)
	shelf["black-cut"] = cut
	twice, err := Premix("black-cut-2", "And again", []material.Part{{Material: "black-cut", Share: 1}}, 1, shelf)
	require.NoError(t, err)
	shelf["black-cut-2"] = twice
	assert.InDelta(t, 1.0/22, twice.Colourant.Contains[0].Share, 1e-12)
	assert.Equal(t, "carbon-black", twice.Colourant.Contains[0].Material)
	one, eleven := CupOf(t, "1 cup", cup.DripOf("carbon-black", 1)), CupOf(t, "1 cup", cup.DripOf("black-cut", 11))
	a, err := mix.Stir(&one, shelf)
	require.NoError(t, err)
	b, err := mix.Stir(&eleven, shelf)
	require.NoError(t, err)
	assert.Less(t, colour.DeltaE00(a.Colour(Over(8)), b.Colour(Over(8))), 0.1)
	_, err = Premix("x", "X", nil, 1, shelf)
	AssertFault(t, err, "parts", "name a bottle")
	_, err = Premix("x", "X", []material.Part{{Material: "salt-fine", Share: 1}}, 1, shelf)
	AssertFault(t, err, "parts", "only bottles")
	delete(shelf, "carbon-black")
	_, err = mix.Stir(&eleven, shelf)
	AssertFault(t, err, "doses[0]", "not on the shelf")
}

func TestScalingWithSpoons(t *testing.T) {
	c := CupOf(
		t, "1 cup", cup.DripOf("clear-red", 5), Tsp("pearl-silver", 0.125), Tsp("salt-fine", measure.TeaspoonsPerCup/4),
		ML("softener", 6),
	)
	s, err := Scale(
		&c, Bench(), measure.Kit{
			SpoonsTSP: []float64{0.25, 0.125, 1.0 / 32}, Heaped: 1.5,
		}, Volume(t, "1/3 cup"), Over(8),
	)
	require.NoError(t, err)
	pearl := s.Lines[1]
	assert.InDelta(t, 0.0417, pearl.Exact.Value, 1e-3)
	assert.Equal(t, 1.0/32, pearl.Take.Value)
	assert.Equal(t, "1 × 1/32 tsp", pearl.Scoops)
	assert.Greater(t, pearl.Up.Amount.Value, pearl.Exact.Value)
	assert.InDelta(t, 2, s.Lines[3].Take.Value, 1e-9, "millilitres are drawn up as they come")
	assert.Equal(t, "comes out even", s.Lines[3].Why)
}

func TestTwoBottlesAtEqualStrength(t *testing.T) {
	b, err := SideBySide("carbon-black", "grey-tint", Bench())
	require.NoError(t, err)
	assert.InDelta(t, 10, b.Ratio, 1)
	assert.Less(t, b.DeltaE00, 2.0)
	r, err := SideBySide("clear-red", "clear-violet", Bench())
	require.NoError(t, err)
	assert.NotEmpty(t, r.Words)
	_, err = SideBySide("clear-red", "salt-fine", Bench())
	AssertFault(t, err, "other", "two colours")
	shelf := Bench()
	for key, want := range map[string]string{
		"clear-red": "transparent", "solid-red": "opaque", "titanium-white": "opaque", "ultramarine": "half",
		"yellow-dye": "transparent",
	} {
		m := shelf[key]
		assert.Equal(t, want, Clarity(&m, shelf), key)
	}
	gold := shelf["flake-gold"]
	best := BestBases(
		&gold,
		[]NamedCup{
			{Name: "own", Cup: CupOf(t, "1 cup", cup.DripOf("solid-yellow", 20), cup.DripOf("clear-brown", 4))},
			{Name: "blue", Cup: CupOf(t, "1 cup", cup.DripOf("clear-blue", 3))},
		},
		shelf, 5,
	)
	require.Len(t, best, 2)
	assert.Equal(t, "blue", best[0].Name)
}

// Swaps and doses for a wish, of any cup.
func TestEveryFigureOfASwapIsFinite(t *testing.T) {
	shelf := Bench()
	rapid.Check(t, func(t *rapid.T) {
		c := DrawCup(t)
		if c.Check(shelf) != nil || len(c.Doses) == 0 {
			t.Skip("can't be kept")
		}
		families := material.Families()
		old := rapid.SampledFrom(c.Doses).Draw(t, "old").Material
		new := rapid.SampledFrom(families).Draw(t, "new").Key
		if s, err := Replace(&c, InPlace{Old: old, New: new}, shelf, Kit); err == nil {
			require.Empty(t, measure.NotFinite(s))
		}
		if s, err := LookWith(
			&c, "salt-fine", rapid.SampledFrom([]string{"0 g", "1/4 cup", "1/64 tsp"}).Draw(t, "salt"), shelf, Kit,
		); err == nil {
			require.Empty(t, measure.NotFinite(s))
		}
		m, err := mix.Stir(&c, shelf)
		require.NoError(t, err)
		flake := slices.IndexFunc(families, func(f material.Family) bool { return f.Kind == material.KindFlake })
		f := families[flake].New("x", "x")
		if a, ok := m.DoseFor(&f, "medium", DrawCondition(t)); ok {
			require.Empty(t, measure.NotFinite(a))
		}
	})
}

// A cut of next to nothing is a slip, said in words.
func TestACutOfNothingIsRefusedInWords(t *testing.T) {
	var f *measure.Fault
	_, err := Premix("cut", "Cut", []material.Part{{Material: "clear-red", Share: 5e-324}}, 95, Bench())
	require.ErrorAs(t, err, &f)
	require.Contains(t, f.Says, "weakest cut")
	bad := Bench()["clear-red"]
	bad.Colourant.DropML.Value = 9
	require.ErrorAs(t, bad.Check(), &f, "whatever is wrong with a material is said at its field")
}
