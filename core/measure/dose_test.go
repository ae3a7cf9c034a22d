package measure_test

import (
	"encoding/json"
	"fmt"
	"math"
	"math/big"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	. "cloudburst/core/measure"
)

// makersKit has the usual spoons, heaped by half, and two measures of the maker's own.
func makersKit() Kit {
	k := StandardKit()
	k.Named = []NamedMeasure{{Name: "tip of the small knife", ML: 0.0492892}, {Name: "Pinch", ML: 0.246446}}
	return k
}

// Doses as makers write them, in half a cup.
func TestDosesAsMakersWriteThem(t *testing.T) {
	drops := func(n float64) Amount { return DropCount(n) }
	tsp := func(n float64) Amount { return Amount{Value: n, Unit: InTeaspoons} }
	g := func(n float64) Amount { return Amount{Value: n, Unit: InGrams} }
	ml := func(n float64) Amount { return Amount{Value: n, Unit: InML} }
	liquids := map[string]Amount{
		"12 drops": drops(12), "12d": drops(12), "12": drops(12), "12 d": drops(12), "1 drop": drops(1),
		"a drop":    drops(1),
		"two drops": drops(2),
		"0":         drops(0), " 7 Drops. ": drops(7), "5dr": drops(5), "3 drips": drops(3),
		"12 drops per cup": drops(6),
		"12d/cup":          drops(6),
		"12 drops a cup":   drops(6), "2 drops per oz": drops(8), "2d/oz": drops(8), "2 d an ounce": drops(8),
		"3 + 4 drops": drops(7), "3d + 4d": drops(7),
		"3 and 4 drops": drops(7), "5 drops & 1 drop": drops(6), "2 ml": ml(2), "2ml": ml(2), "2,5 ml": ml(2.5),
		".5 ml": ml(0.5), "1/2 ml": ml(0.5),
		"1 fl oz": ml(29.5735), "1 oz": ml(29.5735), "half an ounce": ml(14.78675), "2 cc": ml(2), "1 tsp": tsp(1),
		"1/2 tsp": tsp(0.5), "1/2t": tsp(0.5),
		"2 tbsp": tsp(6), "1/4 cup": tsp(12), "1.1 g": g(1.1), "10 ml per cup": ml(5), "20 drops per litre": drops(2),
		"some, 2-5 drops": {Value: 3.5, Unit: InDrops, Low: 2, High: 5},
		"2 to 5 drops": {
			Value: 3.5, Unit: InDrops, Low: 2, High: 5,
		}, "2-5d": {Value: 3.5, Unit: InDrops, Low: 2, High: 5}, "about 4 drops": {Value: 4, Unit: InDrops, Low: 2, High: 6},
		"some, about 2 ml": {Value: 2, Unit: InML, Low: 1, High: 3}, "~10d": {
			Value: 10, Unit: InDrops, Low: 5, High: 15,
		}, "maybe 6": {Value: 6, Unit: InDrops, Low: 3, High: 9},
	}
	solids := map[string]Amount{
		"1/8 tsp": tsp(0.125), "1/8t": tsp(0.125), "1/8 t.": tsp(0.125), "1/8 teaspoon": tsp(0.125),
		"⅛ tsp": tsp(0.125),
		"1 tsp": tsp(1), "1 1/2 tsp": tsp(1.5), "1½ tsp": tsp(1.5),
		"1/8 + 1/32 tsp": tsp(0.15625), "1/8 tsp + 1/32 tsp": tsp(0.15625), "1/8 + 1/32 tsp, level": tsp(0.15625),
		"1/8 and 1/32 tsp": tsp(0.15625), "1/4 + 1/8 + 1/64 tsp": tsp(0.390625),
		"1/64 tsp": tsp(0.015625), "2 tsp heaped": tsp(3), "heaped 1/4 tsp": tsp(0.375), "1/4 tsp heaping": tsp(0.375),
		"rounded 1/4 tsp": tsp(0.375), "level 1/4 tsp": tsp(0.25), "1/4 tsp level": tsp(0.25),
		"2 heaped 1/4 tsp": tsp(0.75), "2 x 1/4 tsp": tsp(0.5), "3 × 1/8 tsp": tsp(0.375), "3x 1/8 tsp": tsp(0.375),
		"2 level 1/8 tsp": tsp(0.25), "half full 1/4 tsp": tsp(0.125), "half-full 1/4 tsp": tsp(0.125),
		"half 1/4 tsp": tsp(0.125), "2 half 1/4 tsp": tsp(0.25), "scant 1/2 tsp": tsp(0.375),
		"1/2 tsp and 2 heaped 1/8 tsp": tsp(0.875), "half a tsp": tsp(0.5), "a quarter tsp": tsp(0.25),
		"quarter of a teaspoon": tsp(0.25),
		"1 tbsp":                tsp(3), "2 tablespoons": tsp(6), "1/4 cup": tsp(12), "half a cup": tsp(24),
		"a quarter cup":      tsp(12),
		"half a cup of salt": tsp(24), "1/4 cup of salt": tsp(12), "2 tsp of flake": tsp(2), "3 tsp": tsp(3),
		"0.33 tsp": tsp(0.33),
		"2.5 g":    g(2.5), "2.5g": g(2.5), "2,5 g": g(2.5), "250 mg": g(0.25), "1 oz": g(28.349523),
		"half an oz": g(14.1747615), "1 lb": g(453.59237), "3 grams": g(3), "3 ml": ml(3), "5 cc": ml(5),
		"1/4 tsp per cup": tsp(0.125), "1/4 tsp/cup": tsp(0.125), "1/4 tsp a cup": tsp(0.125),
		"1/64 tsp per oz": tsp(0.0625),
		"1 oz per cup":    g(14.1747615), "20 g per litre": g(2.36588),
		"tip of the small knife": tsp(0.01), "2 tips of the small knife": tsp(0.02),
		"2 x tip of the small knife": tsp(0.02),
		"a pinch":                    tsp(0.05), "pinch": tsp(0.05), "3 pinches of pearl": tsp(0),
		"heaped pinch": tsp(0.075), "1/8 tsp + a pinch": tsp(0.175), "some, 1/8-1/4 tsp": {
			Value: 0.1875, Unit: InTeaspoons, Low: 0.125, High: 0.25,
		}, "about 1/4 tsp": {Value: 0.25, Unit: InTeaspoons, Low: 0.125, High: 0.375},
		"some, about 2 g": {Value: 2, Unit: InGrams, Low: 1, High: 3}, "1/8 to 1/4 tsp": {
			Value: 0.1875, Unit: InTeaspoons, Low: 0.125, High: 0.25,
		},
	}
	delete(solids, "3 pinches of pearl") // makers' plurals go as far as an s
	n := 0
	for form, table := range map[Form]map[string]Amount{Liquid: liquids, Solid: solids} {
		for typed, want := range table {
			got, err := makersKit().ParseDose(typed, form, CupML/2)
			n++
			if !assert.NoError(t, err, "%s %q", form, typed) {
				continue
			}
			assert.Equal(t, want.Unit, got.Unit, typed)
			assert.InDelta(t, want.Value, got.Value, 1e-6+1e-6*want.Value, typed)
			assert.InDelta(t, want.Low, got.Low, 1e-6, typed)
			assert.InDelta(t, want.High, got.High, 1e-6, typed)
			saysItself(t, makersKit(), got, form)
		}
	}
	for typed, c := range map[string]float64{
		"350F": 176.67, "350 °F": 176.67, "177C": 177, "177 °C": 177, "350 degrees F": 176.67, "325 deg F": 162.78,
		"165 celsius": 165, "330": 165.56, "350f.": 176.67,
	} {
		got, err := ParseTemperature(typed)
		n++
		if assert.NoError(t, err, typed) {
			assert.InDelta(t, c, got, 0.01, typed)
		}
	}
	for typed, in := range map[string]float64{
		".015": 0.015, "0.015": 0.015, ".035 in": 0.035, ".040\"": 0.04, ".008 inch": 0.008, "1/64 in": 1.0 / 64,
		"0.4 mm": 0.4 / 25.4, "1 mm": 1 / 25.4, "15 thou": 0.015, "200 micron": 0.2 / 25.4, "40 mil": 0.04,
	} {
		got, err := ParseFlakeSize(typed)
		n++
		if assert.NoError(t, err, typed) {
			assert.InDelta(t, in, got, 1e-9, typed)
		}
	}
	for typed, mm := range map[string]float64{
		"4 mm": 4, "1/4 in": 6.35, "1/8\"": 3.175, "1.2 cm": 12, "2,5 mm": 2.5, "20 thou": 0.508,
	} {
		got, err := ParseLength(typed)
		n++
		if assert.NoError(t, err, typed) {
			assert.InDelta(t, mm, got, 1e-9, typed)
		}
	}
	assert.GreaterOrEqual(t, n, 120)
	t.Logf("%d entries", n)
}

// saysItself checks that an amount, said and read again, is the same amount, as nearly as anyone measures.
func saysItself(t require.TestingT, k Kit, a Amount, form Form) {
	again, err := k.ParseDose(a.String(), form, CupML)
	if a.Unit == InDrops && !a.Estimated() && a.Value != math.Trunc(a.Value) {
		return // a share of a drop is reckoned with, but never typed
	}
	require.NoError(t, err, a.String())
	require.Equal(t, a.Unit, again.Unit, a.String())
	require.InDelta(t, a.Value, again.Value, 0.005*a.Value+1e-9, a.String())
	require.InDelta(t, a.High, again.High, 0.005*a.High+1e-9, a.String())
	require.Equal(t, a.String(), again.String())
}

func TestWrongDosesSayWhatWouldBeUnderstood(t *testing.T) {
	liquids := map[string]string{
		"-3": "below zero", "2.5 drops": "type 2 or 3", "1/2 drop": "type 0 or 1", "": "12 drops", "   ": "12 drops",
		"some": "about how much", "about": "about how much", "1e9": "no unit",
		"999999999": "no dose", "12 buckets": "no unit", "12 dorps": "no unit", "drops": "no number",
		"d12":   "no number",
		"12 lb": "no unit", "3 drops + 2 ml": "one unit", "5-2 drops": "runs backwards",
		"heaped 3 drops": "only spoons", "level 2 ml": "only spoons", "1,000 drops": "no number",
		"1/0 drops": "no number",
		"+":         "lacks a figure", "3 drops +": "lacks a figure", "60000 ml": "no dose",
		"tip of the small knife": "measure for powders", strings.Repeat("9", 70): "type a dose", "NaN": "no number",
		"Inf drops": "no number", "0x10 drops": "no unit", "1 2 drops": "no number", "twelve": "no number",
		"a bit more": "no unit", "1..5 ml": "no number", "3 drops of": "of", "½½ ml": "no number",
		"a few drops": "no unit",
	}
	delete(liquids, "3 drops of") // reads as 3 drops of something, which is fine
	solids := map[string]string{
		"1/8": "Add the unit", ".40": "Add the unit", ".015": "flake's size in inches", "12 drops": "not dripped",
		"12d": "not dripped", "lots": "no number", "-1 tsp": "below zero", "": "1/8 tsp",
		"a smidgen": "measure of your own", "2 knives": "measure of your own", "1/8 tsp + 2 g": "one unit",
		"1/8 tsp + 2 drops": "not dripped", "heaped 2 g": "only spoons", "1/4-1/8 tsp": "runs backwards",
		"some": "about how much", "to taste": "no number", "1/8 tps": "no unit", "tsp": "no number",
		"1/0 tsp":      "no number",
		"99999999 tsp": "no dose", "200 kg": "no dose", "1 ton": "no unit",
		"5 5/4 tsp": "no number", "level": "lacks a figure", "heaped": "lacks a figure",
	}
	n := 0
	for form, table := range map[Form]map[string]string{Liquid: liquids, Solid: solids} {
		for typed, says := range table {
			n++
			got, err := makersKit().ParseDose(typed, form, CupML)
			if assert.Error(t, err, "%s %q gave %v", form, typed, got) {
				assert.Contains(t, err.Error(), says, typed)
			}
		}
	}
	for typed, says := range map[string]string{
		"": "no number", "350K": "no degrees", "hot": "no number", "177": "which degrees", "900F": "out of reach",
		"-50C": "out of reach",
	} {
		n++
		_, err := ParseTemperature(typed)
		assert.ErrorContains(t, err, says, typed)
	}
	for typed, says := range map[string]string{
		".40": "Did you mean .040", "0.35": "Did you mean .035", ".15": "Did you mean .015",
		"15": "Type .015 for inches",
		"40": "Type .040", "big": "no size", "0.0001": "out of reach", "9 mm": "out of reach", "1 cup": "no size",
		"-.015": "no size",
	} {
		n++
		_, err := ParseFlakeSize(typed)
		assert.ErrorContains(t, err, says, typed)
	}
	for typed, says := range map[string]string{
		"4": "of what", "4 ft": "no length", "thick": "no number", "0 mm": "out of reach", "-2 mm": "below zero",
	} {
		n++
		_, err := ParseLength(typed)
		assert.ErrorContains(t, err, says, typed)
	}
	assert.GreaterOrEqual(t, n, 60)
	t.Logf("%d entries", n)
}

func TestAmountsAddUp(t *testing.T) {
	a, ok := DropCount(3).Plus(Amount{Value: 3.5, Unit: InDrops, Low: 2, High: 5})
	assert.True(t, ok)
	assert.Equal(t, Amount{Value: 6.5, Unit: InDrops, Low: 5, High: 8}, a, "a guess added to a count is a guess")
	_, ok = DropCount(1).Plus(Amount{Value: 1, Unit: InGrams})
	assert.False(t, ok)
	third := Amount{Value: 1.0 / 3, Unit: InTeaspoons}
	sum := third
	for range 2 {
		sum, _ = sum.Plus(third)
	}
	assert.Equal(t, 1.0, sum.Value, "a third three times is one")
	assert.Error(t, Amount{Value: -1, Unit: InDrops}.Check())
	assert.Error(t, Amount{Value: 1, Unit: "pints"}.Check())
	assert.Error(t, Amount{Value: 9, Unit: InDrops, Low: 2, High: 5}.Check())
	for tsp, says := range map[float64]string{
		0.15625: "1/8 tsp + 1/32 tsp", 0.75: "3/4 tsp", TeaspoonsPerCup / 4: "1/4 cup",
		TeaspoonsPerCup * 1.25: "1 1/4 cups",
		1.125:                  "1 1/8 tsp", 0.33: "0.33 tsp", TeaspoonsPerCup: "1 cup", 12: "12 tsp", 0: "0 tsp",
	} {
		assert.Equal(t, says, Spoons(tsp))
	}
}

func TestKit(t *testing.T) {
	n, err := Calibrate("Blade end", 0.36, 10, 0.3, "Herring pearl")
	require.NoError(t, err)
	assert.InDelta(t, 0.12, n.ML, 1e-12)
	assert.Contains(t, n.From, "0.36 g for 10 of Herring pearl")
	_, err = Calibrate("x", 0, 1, 0.3, "")
	assert.ErrorContains(t, err, "weigh one or more")
	for says, spoil := range map[string]func(*Kit){
		"a spoon holds":       func(k *Kit) { k.SpoonsTSP = []float64{0} },
		"twice":               func(k *Kit) { k.SpoonsTSP = []float64{1, 1} },
		"heaped":              func(k *Kit) { k.Heaped = 0 },
		"is a unit already":   func(k *Kit) { k.Named = []NamedMeasure{{Name: "tsp", ML: 1}} },
		"without figures":     func(k *Kit) { k.Named = []NamedMeasure{{Name: "2 pinches", ML: 1}} },
		"two measures":        func(k *Kit) { k.Named = []NamedMeasure{{Name: "pin", ML: 1}, {Name: "Pin", ML: 1}} },
		"0.0005 to 500":       func(k *Kit) { k.Named = []NamedMeasure{{Name: "pin"}} },
		"up to 16 spoons and": func(k *Kit) { k.SpoonsTSP = make([]float64, 17) },
	} {
		k := StandardKit()
		spoil(&k)
		assert.ErrorContains(t, k.Check(), says)
	}
	assert.NoError(t, makersKit().Check())
	assert.Equal(t, 1.0/64, makersKit().SmallestTSP())
	assert.Equal(t, 1.0/64, Kit{}.SmallestTSP())
}

func TestSpoonsAgainstVectors(t *testing.T) {
	var file struct {
		Cases []struct {
			ID     string
			Owned  []string `json:"owned_tsp"`
			Spoons []struct {
				N      float64
				TSP    string
				Heaped bool
				Factor float64 `json:"heaped_factor"`
			}
			Expect struct {
				Ratio  float64 `json:"dose_ratio"`
				Spoons []struct {
					Name  string
					Exact float64      `json:"exact_level_tsp"`
					Least vectorScoop  `json:"least_error"`
					Few   *vectorScoop `json:"fewest_within_5_percent"`
				}
			}
		}
	}
	raw, err := os.ReadFile("testdata/scale.json")
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(raw, &file))
	checked := 0
	for _, c := range file.Cases {
		k := Kit{}
		for _, s := range c.Owned {
			k.SpoonsTSP = append(k.SpoonsTSP, rational(s))
		}
		for i, s := range c.Expect.Spoons {
			in := c.Spoons[i]
			k.Heaped = in.Factor
			style := "level"
			if in.Heaped {
				style = "heaped"
			}
			typed, err := k.ParseDose(fmt.Sprintf("%g %s %s tsp", in.N, style, in.TSP), Solid, CupML)
			if assert.NoError(t, err, c.ID) {
				assert.InDelta(t, s.Exact, typed.Times(c.Expect.Ratio).Value, 1e-8, "%s %s", c.ID, s.Name)
			}
			best, few := k.Round(s.Exact)
			s.Least.same(t, &best, c.ID+" "+s.Name)
			if s.Few == nil {
				assert.Nil(t, few, c.ID)
			} else if assert.NotNil(t, few, c.ID) {
				s.Few.same(t, few, c.ID+" fewest "+s.Name)
			}
			checked++
		}
	}
	assert.Greater(t, checked, 10)
}

func rational(s string) float64 {
	r, _ := new(big.Rat).SetString(s)
	f, _ := r.Float64()
	return f
}

type vectorScoop struct {
	Counts []struct {
		TSP string
		N   int
	}
	Scoops int
	Error  float64 `json:"error_tsp"`
}

func (v *vectorScoop) same(t *testing.T, got *Scoops, id string) {
	t.Helper()
	assert.Equal(t, v.Scoops, got.Scoops, id)
	if assert.Len(t, got.Counts, len(v.Counts), "%s: %v", id, got) {
		for i, c := range v.Counts {
			assert.Equal(t, rational(c.TSP), got.Counts[i].TSP, id)
			assert.Equal(t, c.N, got.Counts[i].N, id)
		}
	}
	assert.InDelta(t, math.Abs(v.Error), math.Abs(got.ErrorTSP), 1e-8, id)
}

// Against brute force over every combination of spoons, the rounding is never worse.
func TestRoundingAgainstBruteForce(t *testing.T) {
	all := []float64{1, 0.5, 1.0 / 3, 0.25, 0.125, 0.0625, 0.03125, 0.015625, 0.011}
	rapid.Check(t, func(t *rapid.T) {
		spoons := rapid.SliceOfNDistinct(
			rapid.SampledFrom(all), 1, 5, func(f float64) float64 { return f },
		).Draw(t, "spoons")
		target := rapid.Float64Range(0.001, 3).Draw(t, "target")
		best, few := Kit{SpoonsTSP: spoons}.Round(target)
		leastError, leastScoops, fewest := math.Inf(1), 0, MaxScoops+1
		var try func(i, left int, total float64)
		try = func(i, left int, total float64) {
			if i == len(spoons) {
				e, n := math.Abs(total-target), MaxScoops-left
				if e < leastError-1e-12 || (math.Abs(e-leastError) <= 1e-12 && n < leastScoops) {
					leastError, leastScoops = e, n
				}
				if e <= 0.05*target {
					fewest = min(fewest, n)
				}
				return
			}
			for n := 0; n <= left; n++ {
				try(i+1, left-n, total+float64(n)*spoons[i])
			}
		}
		try(0, MaxScoops, 0)
		if math.Abs(best.ErrorTSP) > leastError+1e-9 || best.Scoops > leastScoops {
			t.Fatalf("%v of %v: %v, brute force has error %g in %d", target, spoons, best, leastError, leastScoops)
		}
		if (few == nil) != (fewest > MaxScoops) || (few != nil && few.Scoops != fewest) {
			t.Fatalf("fewest %v, brute force %d", few, fewest)
		}
	})
}

func BenchmarkRound(b *testing.B) {
	k := StandardKit()
	for b.Loop() {
		k.Round(0.7123)
	}
}

// A load is told as a share of the weight, and in words.
func TestLoadsInWordsAndPercent(t *testing.T) {
	k := StandardKit()
	for typed, want := range map[string]Amount{
		"21 %":               {Value: 0.21 / 0.79 * CupML * 1.03, Unit: InGrams},
		"21% by weight":      {Value: 0.21 / 0.79 * CupML * 1.03, Unit: InGrams},
		"a quarter cup":      {Value: TeaspoonsPerCup / 4, Unit: InTeaspoons},
		"quarter of a cup":   {Value: TeaspoonsPerCup / 4, Unit: InTeaspoons},
		"half a cup of salt": {Value: TeaspoonsPerCup / 2, Unit: InTeaspoons},
		"three quarters cup": {Value: TeaspoonsPerCup * 3 / 4, Unit: InTeaspoons},
		"a teaspoon":         {Value: 1, Unit: InTeaspoons},
		"half a teaspoon":    {Value: 0.5, Unit: InTeaspoons},
		"about a quarter cup": {
			Value: TeaspoonsPerCup / 4, Unit: InTeaspoons, Low: TeaspoonsPerCup / 8, High: TeaspoonsPerCup * 3 / 8,
		},
	} {
		got, err := k.ParseDose(typed, Solid, CupML)
		if assert.NoError(t, err, typed) {
			assert.InDelta(t, want.Value, got.Value, 1e-9, typed)
			assert.InDelta(t, want.High, got.High, 1e-9, typed)
			assert.Equal(t, want.Unit, got.Unit, typed)
		}
	}
	for _, typed := range []string{"%", "99 %", "x %", "-3 %", "2 cups %"} {
		_, err := k.ParseDose(typed, Solid, CupML)
		assert.ErrorContains(t, err, "type", typed)
	}
	_, err := k.ParseDose("5 %", Liquid, CupML)
	assert.Error(t, err, "a dye is dripped")
}
