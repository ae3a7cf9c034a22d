package measure_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"cloudburst/core/measure"
)

func TestNamesCanBeSeen(t *testing.T) {
	for _, fine := range []string{
		"Bog tea", "Grüner Hering", "Ørret №3", "黄色", "salt & pepper 🐟", "日本語", "عربي",
		"it's “so”",
	} {
		assert.NoError(t, measure.CheckName("name", "it", fine, 80), fine)
	}
	for _, bad := range []string{
		"", "  ", "\t", "a\x00b", "a\nb", "a\u200bb", "\u200b", "a\u202eb", "a\u2066b", "\ufeffa", "a\u00adb",
		"a\u2028b",
		"a\u007fb",
		"a\u0085b", "a\U000E0041b", "a\u3164b", "\u2800", "a\xffb", "a\ue000b",
	} {
		assert.Error(t, measure.CheckName("name", "it", bad, 80), "%q", bad)
	}
	assert.NoError(t, measure.CheckNote("note", "one\n\ttwo\r\n"))
	assert.Error(t, measure.CheckNote("note", "one\u202etwo"))
}

func TestNotFinite(t *testing.T) {
	type inner struct{ F []float64 }
	type outer struct {
		P *inner
		M map[string]any
		S string
	}
	assert.Empty(t, measure.NotFinite(outer{P: &inner{[]float64{1, 2}}, M: map[string]any{"a": 3.0}}))
	assert.Equal(t, ".P.F[1] = NaN", measure.NotFinite(&outer{P: &inner{[]float64{1, math.NaN()}}}))
	assert.Equal(t, ".M[a] = +Inf", measure.NotFinite(outer{M: map[string]any{"a": math.Inf(1)}}))
}
