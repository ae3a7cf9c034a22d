package flake

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// However near or deep a piece lies and however much it flashes, its bearing stays.
func TestABearingStays(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var base, own [3]float64
		for ch := range 3 {
			base[ch] = rapid.Float64Range(0.05, 1).Draw(t, "base")
			own[ch] = rapid.Float64Range(0.05, 1).Draw(t, "flake")
		}
		seen := func() tone {
			through, flash := rapid.Float64Range(0.1, 1).Draw(t, "through"), rapid.Float64Range(0.3, 3).Draw(t, "flash")
			var b blob
			for ch := range 3 {
				b.mean[ch] = 3 * (math.Cbrt(1+through*(flash*own[ch]/base[ch]-1)) - 1) // as differ gives it
			}
			return b.tone()
		}
		one, other := seen(), seen()
		if min(one.tint, other.tint) > 1e-3 {
			assert.InDelta(t, 0, turnBetween(one.bearing, other.bearing), 1e-6)
		}
	})
}

func TestBearingsOfOneFlakeAndOfSeveral(t *testing.T) {
	heap := func(n int, bearing float64) (out []tone) {
		for i := range n {
			out = append(out, tone{neutral: -0.4, tint: 0.3, bearing: bearing + 0.1*(float64(i)/float64(n-1)-0.5)})
		}
		return out
	}
	around := func(n int) (out []tone) {
		for i := range n {
			out = append(out, tone{neutral: -0.2, tint: 0.3, bearing: 2 * math.Pi * float64(i) / float64(n)})
		}
		return out
	}
	three := func(strays int, bearings ...float64) []tone {
		out := around(strays)
		for _, b := range bearings {
			out = append(out, heap(30, b)...)
		}
		return out
	}
	for _, c := range []struct {
		says  string
		tones []tone
		want  int
	}{
		{"none", nil, 0},
		{"one", heap(60, 1), 1},
		{"two, 16 degrees apart", append(heap(60, 1), heap(40, 1.28)...), 2},
		{"two on either side of where the angle starts anew", append(heap(60, 3.1), heap(40, -2.8)...), 2},
		{"three", three(0, 0, 2, 4), 3},
		{"a few strays", append(heap(60, 1), heap(3, 2)...), 1},
		{"one that splits the light", around(90), 1},
		{"one that does so unevenly", three(40, 0, 2, 4), 1},
		{"three on one side, and some strays", three(20, 0, 1, 2), 3},
	} {
		assert.Len(t, bearingsOf(c.tones, 4, surely), c.want, c.says)
	}
}

// Of two sizes that were each parted by brightness, each has its own twin.
func TestTwinsAreOfOneSize(t *testing.T) {
	kinds := []kind{
		{sizeMM: 0.38, byBrightness: true},
		{sizeMM: 0.9, byBrightness: true},
		{sizeMM: 0.9},
		{sizeMM: 0.92, byBrightness: true},
		{sizeMM: 0.39, byBrightness: true},
	}
	for i, want := range []int{4, 3, -1, 1, 0} {
		assert.Equal(t, want, kinds[i].twin(kinds, i), "of number %d", i)
	}
}
