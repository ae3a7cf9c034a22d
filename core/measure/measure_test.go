package measure_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	. "cloudburst/core/measure"
)

func TestVolumesAsMakersWriteThem(t *testing.T) {
	for typed, ml := range map[string]float64{
		"1 cup": 236.588, "1/2 cup": 118.294, "2 cups": 473.176, "1c": 236.588, "half a cup": 118.294,
		"Half Cup":      118.294,
		"a quarter cup": 59.147, "quarter of a cup": 59.147, "1 1/2 cups": 354.882, "1½ cups": 354.882,
		"½ cup":  118.294,
		"3/4 c.": 177.441, "8 fl oz": 236.588, "8 fl. oz.": 236.588, "8oz": 236.588, "12 ounces": 354.882,
		"300 ml": 300,
		"300ml":  300, "300 ML": 300, "0.3 l": 300, "0,3 l": 300, ".5 l": 500, "1 gal": 3785.408, "a gallon": 3785.408,
		"1 pint": 473.176, "1 pt": 473.176, "2 quarts": 946.352 * 2, "1 qt": 946.352, "  2   cups ": 473.176,
		"150 cc":   150,
		"two cups": 473.176, "1 / 2 cup": 118.294, "2.5 cups": 591.47, "5 gallons": 5 * 3785.408,
	} {
		v, err := ParseVolume(typed)
		if assert.NoError(t, err, typed) {
			assert.InDelta(t, ml, v.ML, 0.01, typed)
			assert.Equal(t, strings.TrimSpace(typed), v.Typed, "kept as typed")
			again, err := ParseVolume(v.Typed)
			assert.NoError(t, err)
			assert.Equal(t, v, again)
		}
	}
}

func TestWrongVolumesSayWhatWouldBeUnderstood(t *testing.T) {
	for typed, says := range map[string]string{
		"": "type a volume such as 1 cup", "cup of": "no number", "12": "Add the unit",
		"12 buckets": "no unit of volume",
		"-1 cup":     "below zero", "0 cups": "needs some plastisol", "0.001 ml": "too little", "1/0 cup": "no number",
		"500 gal": "over 100 litres", "1,000 ml": "no number", "1e3 ml": "no unit", "1 2 cups": "no number",
		"NaN ml":   "no number",
		"Inf cups": "no number", "5 5/4 cups": "no number", "3 drops": "no unit of volume",
		strings.Repeat("9", 50): "type a volume",
		"9999999999999999 l":    "over 100 litres", "1..5 cup": "no number", "0x10 ml": "no unit",
		"½½ cup": "no number",
	} {
		_, err := ParseVolume(typed)
		if assert.Error(t, err, typed) {
			assert.Contains(t, err.Error(), says, typed)
		}
	}
}

func TestWholeDropsRoundAHalfDown(t *testing.T) {
	for exact, want := range map[float64]float64{2.5: 2, 2.51: 3, 2.49: 2, 0.5: 0, 0: 0, 7: 7, 2.5000000000001: 2} {
		got, _ := WholeDrops(exact)
		assert.Equal(t, want, got, "%v", exact)
	}
}

func TestSayingBack(t *testing.T) {
	v, err := ParseVolume("1/2 cup")
	require.NoError(t, err)
	assert.Equal(t, "1/2 cup (118.3 ml)", v.String())
	v.Typed = "300 ml"
	assert.Equal(t, "300 ml", v.String())
	assert.Equal(t, "0", Number(-0.001, 2))
	assert.Equal(t, "1.25", Number(1.25, 3))
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{
		"1 1/2 cups", "½ c", "300ml", "12d", "half a cup", "1,5 l", "-1", "1/0 cup", "٣ cups", "some, 2-5 drops",
		"2 heaped 1/4 tsp + 1/32 tsp", "3 d per oz", ".015", "350F", "1/4 in",
	} {
		f.Add(s)
	}
	kit := makersKit()
	f.Fuzz(func(t *testing.T, typed string) {
		if v, err := ParseVolume(typed); err == nil {
			require.True(t, v.ML >= 1 && v.ML <= 100_000, "%q gave %v ml", typed, v.ML)
			again, err := ParseVolume(v.Typed)
			require.NoError(t, err)
			require.Equal(t, v, again)
		}
		for _, form := range []Form{Liquid, Solid} {
			if a, err := kit.ParseDose(typed, form, CupML); err == nil {
				require.NoError(t, a.Check(), "%q", typed)
				saysItself(t, kit, a, form)
			}
		}
		if c, err := ParseTemperature(typed); err == nil {
			require.True(t, c >= 0 && c <= 260, "%q gave %v °C", typed, c)
		}
		if in, err := ParseFlakeSize(typed); err == nil {
			require.True(t, in >= 0.002 && in <= 0.25, "%q gave %v in", typed, in)
		}
		if mm, err := ParseLength(typed); err == nil {
			require.True(t, mm > 0 && mm <= 1000, "%q gave %v mm", typed, mm)
		}
	})
}

func TestFiguresAreWhatAnyoneMeasures(t *testing.T) {
	for v, says := range map[float64]string{
		147.8675: "147.9", 26.42: "26.4", 8.7449: "8.74", 0.0313: "0.0313", 0.5: "0.5", 0: "0", 300: "300",
		1e-9:       "1e-09",
		0.00012345: "0.000123",
	} {
		assert.Equal(t, says, Figures(v))
	}
	for s, says := range map[float64]string{
		0.2: "1 second", 45.4: "45 seconds", 89.9: "90 seconds", 217: "3.5 minutes", 60 * 12: "12 minutes",
		91: "1.5 minutes",
	} {
		assert.Equal(t, says, Seconds(s))
	}
}
