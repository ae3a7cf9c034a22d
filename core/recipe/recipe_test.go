package recipe_test

import (
	"encoding/json"
	"errors"
	"math"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cloudburst/core/colour"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
	. "cloudburst/core/recipe"
)

// bench is a shelf with one bottle of every family, named after it.
func bench() Shelf {
	shelf := Shelf{}
	for _, f := range material.Families() {
		shelf[f.Key] = f.New(f.Key, f.Name)
	}
	return shelf
}

func volume(t require.TestingT, typed string) measure.Volume {
	v, err := measure.ParseVolume(typed)
	require.NoError(t, err)
	return v
}

func cupOf(t require.TestingT, typed string, doses ...Dose) Cup {
	return Cup{Volume: volume(t, typed), Plastisol: "medium-plastisol", Doses: doses}
}

func stir(t require.TestingT, c Cup) *Mix {
	m, err := Stir(&c, bench())
	require.NoError(t, err)
	return m
}

func over(mm float64) Condition {
	return Condition{ThicknessMM: mm, Ground: optics.White, Light: colour.D65}
}

// Behaviour 1: the same cup reads far darker at 60 mm than at 1 mm; a weak grey that looks dark in the cup is nearly clear as a film.
func TestAWeakGreyIsDarkInTheCupAndClearAsAFilm(t *testing.T) {
	m := stir(t, cupOf(t, "1 cup", DripOf("grey-tint", 9)))
	cup, fin := m.Colour(over(60)), m.Colour(over(1))
	film := m.Colour(Condition{ThicknessMM: 0.3, Ground: optics.Against, Light: colour.D65})
	assert.Greater(t, fin.L-cup.L, 40.0)
	assert.Less(t, cup.L, 25.0)
	assert.Greater(t, film.L, 93.0)
	for _, other := range []string{"clear-blue", "solid-red", "titanium-white"} {
		m := stir(t, cupOf(t, "1 cup", DripOf(other, 6)))
		assert.Greater(t, m.Colour(over(1)).L, m.Colour(over(60)).L, other)
	}
}

// Behaviour 8: half a cup at half the drops is the same colour; rounding is shown as ΔE00, not as a fraction.
func TestHalfACupAtHalfTheDropsIsTheSameColour(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := float64(2 * rapid.IntRange(0, 30).Draw(t, "red"))
		k := float64(2 * rapid.IntRange(0, 6).Draw(t, "black"))
		mm := rapid.Float64Range(0.1, 60).Draw(t, "mm")
		whole := stir(t, cupOf(t, "1 cup", DripOf("clear-red", n), DripOf("carbon-black", k)))
		half := stir(t, cupOf(t, "1/2 cup", DripOf("clear-red", n/2), DripOf("carbon-black", k/2)))
		if d := colour.DeltaE00(whole.Colour(over(mm)), half.Colour(over(mm))); d > 1e-9 {
			t.Fatalf("half a cup is off by %g", d)
		}
	})
	odd := cupOf(t, "1 cup", DripOf("clear-red", 9), DripOf("carbon-black", 3))
	s, err := Scale(&odd, bench(), measure.StandardKit(), volume(t, "1/2 cup"), over(10))
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
	m := stir(t, cupOf(t, "1 cup", DripOf("clear-red", 33)))
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
	read(t, "volumes.json", &file)
	require.Len(t, file.Cases, 16)
	for _, c := range file.Cases {
		shelf := bench()
		jug := shelf["soft-plastisol"]
		p := *jug.Plastisol
		p.DensityGML.Value = c.Density
		jug.Plastisol = &p
		shelf[jug.UID] = jug
		cup := Cup{Volume: measure.Volume{Typed: "x", ML: c.PlastisolML}, Plastisol: jug.UID}
		put := func(family string, a measure.Amount, refine func(*material.Material)) {
			f, _ := material.FindFamily(family)
			m := f.New("m"+string(rune('a'+len(cup.Doses))), "M")
			refine(&m)
			shelf[m.UID] = m
			cup.Doses = append(cup.Doses, Dose{m.UID, "", a})
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
		m, err := Stir(&cup, shelf)
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

func TestScalingAgainstVectors(t *testing.T) {
	var file struct {
		Cases []struct {
			ID    string
			From  float64 `json:"from_finished_ml"`
			To    float64 `json:"to_finished_ml"`
			Drops []struct {
				Name  string
				Drops float64
			}
			Expect struct {
				VolumeRatio float64 `json:"volume_ratio"`
				DoseRatio   float64 `json:"dose_ratio"`
				Drops       []struct {
					Exact, Whole float64
					Tie          bool
				}
			}
		}
	}
	read(t, "scale.json", &file)
	require.Len(t, file.Cases, 16)
	for _, c := range file.Cases {
		for i, want := range c.Expect.Drops {
			whole, half := measure.WholeDrops(c.Drops[i].Drops * c.Expect.DoseRatio)
			assert.Equal(t, want.Whole, whole, "%s %s", c.ID, c.Drops[i].Name)
			assert.Equal(t, want.Tie, half, "%s %s", c.ID, c.Drops[i].Name)
		}
		if c.Expect.DoseRatio != c.Expect.VolumeRatio || len(c.Drops) == 0 { // a thickness ratio comes with the baits
			continue
		}
		keys := []string{"carbon-black", "clear-red", "clear-yellow", "clear-blue", "clear-green", "solid-red"}
		cup := Cup{Volume: measure.Volume{Typed: "from", ML: c.From}, Plastisol: "medium-plastisol"}
		for i, d := range c.Drops {
			cup.Doses = append(cup.Doses, DripOf(keys[i], d.Drops))
		}
		s, err := Scale(&cup, bench(), measure.StandardKit(), measure.Volume{Typed: "to", ML: c.To}, over(4))
		require.NoError(t, err, c.ID)
		for i, want := range c.Expect.Drops {
			assert.InDelta(t, want.Exact, s.Lines[i].Exact.Value, 1e-6, c.ID)
			if s.Lines[i].Take.Value != want.Whole { // only the eye may overrule the nearest drop
				assert.Greater(t, math.Abs(s.Lines[i].Up.DeltaE00-s.Lines[i].Down.DeltaE00), 1.0, c.ID)
			}
		}
	}
}

func read(t *testing.T, file string, into any) {
	t.Helper()
	raw, err := os.ReadFile("testdata/" + file)
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(raw, into))
}

func TestScaleTakesTheBetterSide(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := cupOf(t, "1 cup",
			DripOf("clear-yellow", float64(rapid.IntRange(0, 40).Draw(t, "yellow"))),
			DripOf("carbon-black", float64(rapid.IntRange(0, 8).Draw(t, "black"))))
		to := measure.Volume{Typed: "some ml", ML: rapid.Float64Range(20, 4000).Draw(t, "to")}
		s, err := Scale(&c, bench(), measure.StandardKit(), to, over(4))
		require.NoError(t, err)
		for _, l := range s.Lines {
			if l.Take.Value != math.Trunc(l.Take.Value) || math.Abs(l.Take.Value-l.Exact.Value) >= 1 {
				t.Fatalf("takes %v of %v", l.Take, l.Exact)
			}
			taken, other := l.Down, l.Up
			if l.Take == l.Up.Amount {
				taken, other = l.Up, l.Down
			}
			if taken.DeltaE00 > other.DeltaE00+1 {
				t.Fatalf("takes the worse side: %+v", l)
			}
			if l.Down.Amount == l.Up.Amount && l.Down.DeltaE00 > 1e-9 {
				t.Fatalf("an even dose has no error: %+v", l)
			}
		}
	})
}

func TestScaleRefusesAndWarns(t *testing.T) {
	c := cupOf(t, "1 cup", DripOf("carbon-black", 1))
	_, err := Scale(&c, bench(), measure.StandardKit(), measure.Volume{Typed: "0 ml"}, over(4))
	assertFault(t, err, "volume", "needs some plastisol")
	_, err = Scale(&c, bench(), measure.StandardKit(), volume(t, "1 cup"), over(0))
	assertFault(t, err, "thickness", "0.05 to 100")
	s, err := Scale(&c, bench(), measure.StandardKit(), volume(t, "50 ml"), Condition{ThicknessMM: 1, Ground: optics.Against, Light: colour.D65})
	require.NoError(t, err)
	assert.Equal(t, 0.0, s.Lines[0].Take.Value)
	assert.Contains(t, s.Lines[0].Why, "too small")
	assert.Equal(t, "1 drop × 50 ml ÷ 1 cup (236.6 ml) = 0.21 drops", s.Lines[0].Working)
}

func assertFault(t *testing.T, err error, field, says string) {
	t.Helper()
	var f *measure.Fault
	if assert.True(t, errors.As(err, &f), "%v", err) {
		assert.Equal(t, field, f.Field)
		assert.Contains(t, f.Says, says)
	}
}

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
		cup := cupOf(t, "1 cup", DripOf("clear-red", 5))
		cup.Target = &Target{Name: "Belly", Lab: colour.Lab{L: 50}, ThicknessMM: 4, Ground: optics.White}
		require.NoError(t, cup.Check(bench()))
		c.spoil(&cup)
		assertFault(t, cup.Check(bench()), c.field, c.says)
	}
	shelf := bench()
	thick := shelf["clear-red"]
	bottle := *thick.Colourant
	bottle.DropML.Value = 0.5
	thick.Colourant = &bottle
	shelf["clear-red"] = thick
	flood := cupOf(t, "1 cup", DripOf("clear-red", 490))
	flood.Doses[0].Amount.Value = 480
	assertFault(t, flood.Check(shelf), "doses", "more liquid than plastisol")
	r := Recipe{UID: "r", Name: " ", Cup: cupOf(t, "1 cup")}
	assertFault(t, r.Check(bench()), "name", "1 to 80")
}

func TestStepsOfTheBench(t *testing.T) {
	shelf := bench()
	start := cupOf(t, "1 cup", DripOf("clear-red", 5))
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
	assert.Equal(t, Dose{"carbon-black", "12d", measure.DropCount(12)}, c.Doses[1], "kept as typed")
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
		assertFault(t, err, bad.field, bad.says)
	}
	assert.True(t, Step{Kind: Drip}.Merges())
	assert.False(t, Step{Kind: SetDose}.Merges())
}

func TestLookComparesAndWarns(t *testing.T) {
	shelf := bench()
	c := cupOf(t, "1 cup", DripOf("magenta-dye", 10), DripOf("carbon-black", 90))
	c.Target = &Target{Name: "Belly", Lab: colour.Lab{L: 60, A: 30}, ThicknessMM: 4, Ground: optics.White}
	m, err := Stir(&c, shelf)
	require.NoError(t, err)
	l, err := LookAt(&c, m, shelf, over(4))
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
	assertFault(t, err, "ground", "white, dark")
	_, err = LookAt(&c, m, shelf, Condition{ThicknessMM: 4, Ground: optics.White, Light: "candle"})
	assertFault(t, err, "light", "D65")

	clear := cupOf(t, "1 cup")
	m, err = Stir(&clear, shelf)
	require.NoError(t, err)
	l, err = LookAt(&clear, m, shelf, over(1))
	require.NoError(t, err)
	assert.Greater(t, l.SeeThrough, 0.88)
	assert.Nil(t, l.Against)
	assert.Empty(t, l.Watch)
}

func TestGoesAreSummed(t *testing.T) {
	b := Batch{
		PouredOn: "2026-11-20", Volume: volume(t, "1 cup"), RestedHours: 48,
		Goes: []Addition{
			{Doses: []Dose{DripOf("clear-red", 5), DripOf("carbon-black", 1)}},
			{Doses: []Dose{DripOf("clear-red", 3)}},
			{Doses: []Dose{DripOf("clear-blue", 1), DripOf("clear-red", 1)}},
		},
	}
	require.NoError(t, b.Check("medium-plastisol", bench()))
	assert.Equal(t, []Dose{DripOf("clear-red", 9), DripOf("carbon-black", 1), DripOf("clear-blue", 1)}, Sum(b.Goes, bench()))
	was := cupOf(t, "1 cup", DripOf("clear-red", 9), DripOf("carbon-black", 1))
	is := b.Cup("medium-plastisol", bench())
	d, err := Drift(&is, &was, bench(), over(4))
	require.NoError(t, err)
	assert.Greater(t, d.DeltaE00, 2.0, "a drop of strong blue that the recipe does not have")
	same, err := Drift(&was, &was, bench(), over(4))
	require.NoError(t, err)
	assert.Zero(t, same.DeltaE00)

	for field, spoil := range map[string]func(*Batch){
		"pouredOn":    func(b *Batch) { b.PouredOn = "yesterday" },
		"volume":      func(b *Batch) { b.Volume.ML = 0 },
		"goes":        func(b *Batch) { b.Goes = make([]Addition, 31) },
		"goes[0]":     func(b *Batch) { b.Goes = []Addition{{}} },
		"verdict":     func(b *Batch) { b.Verdict = strings.Repeat("x", 1001) },
		"restedHours": func(b *Batch) { b.RestedHours = -1 },
		"goes[1].doses[0]": func(b *Batch) {
			b.Goes = []Addition{{Doses: []Dose{DripOf("clear-red", 1)}}, {Doses: []Dose{DripOf("clear-red", -1)}}}
		},
		"doses[0]": func(b *Batch) {
			b.Goes = []Addition{{Doses: []Dose{DripOf("clear-red", 499)}}, {Doses: []Dose{DripOf("clear-red", 499)}}}
		},
	} {
		spoilt := b
		spoil(&spoilt)
		var f *measure.Fault
		require.True(t, errors.As(spoilt.Check("medium-plastisol", bench()), &f), field)
		assert.Equal(t, field, f.Field)
	}
}
