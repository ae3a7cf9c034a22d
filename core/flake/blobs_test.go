package flake

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// How solid shapes of pixels are, counted by hand.
func TestSolidity(t *testing.T) {
	for _, s := range []struct {
		rows []string
		want float64
	}{
		{[]string{"###", "###"}, 1},
		{[]string{"#", "#", "#"}, 1},
		{[]string{"##..", ".##.", "..##"}, 1},         // a slanting line
		{[]string{"#...", ".#..", "..#.", "...#"}, 1}, // and a thin one
		{[]string{".##.", "####", ".##."}, 1},
		{[]string{"#..", "#..", "###"}, 5.0 / 6},                     // the hull holds the slope's middle
		{[]string{"#.#", "#.#", "###"}, 7.0 / 9},                     // a hollow
		{[]string{"##.....##", "####.####", "##.....##"}, 16.0 / 27}, // two that touch nowhere
		{[]string{"..#..", ".###.", "#####", ".###.", "..#.."}, 1},
	} {
		c := &area{w: 9, h: len(s.rows)}
		var at []int32
		for y, row := range s.rows {
			for x, p := range row {
				if p == '#' {
					at = append(at, int32(y*c.w+x))
				}
			}
		}
		assert.InDelta(t, s.want, c.solidity(at), 1e-9, "%v", s.rows)
	}
}

// The usual area is that of the pieces, whatever number of specks lies between them.
func TestSpecksDoNotMakeTheUsualArea(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var areas []float64
		for range rapid.IntRange(5, 60).Draw(t, "pieces") {
			areas = append(areas, rapid.Float64Range(60, 140).Draw(t, "piece"))
		}
		for range rapid.IntRange(0, 3*len(areas)).Draw(t, "specks") {
			areas = append(areas, rapid.Float64Range(6, 7).Draw(t, "speck"))
		}
		if got := usualOf(areas); got < 60 || got > 140 {
			t.Fatalf("%.0f", got)
		}
	})
}

// Two heaps are parted between them, and one is not, even of few pieces.
func TestAGapBetweenHeaps(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 1))
	heap := func(n int, mid float64) (v []float64) {
		for range n {
			v = append(v, mid+0.1*rng.NormFloat64())
		}
		return v
	}
	const times = 1000
	for _, c := range []struct{ of, wrongly, missed, missedAlike int }{
		{30, 40, 350, 980}, {80, 5, 60, 700}, {300, 0, 1, 400},
	} {
		wrongly, missed, missedAlike := 0, 0, 0
		for range times {
			if gap(heap(c.of, 0), 5).filled < mostBetween {
				wrongly++
			}
			g := gap(append(heap(c.of*3/4, 0), heap(c.of/4, 0.6)...), 5)
			switch {
			case g.filled >= mostBetween:
				missed++
			case math.Abs(g.line-0.3) > 0.15:
				t.Errorf("parted at %.2f", g.line)
			}
			if g.filled >= mostBetweenAlike {
				missedAlike++
			}
		}
		t.Logf(
			"of %d: one heap parted in %d of %d, two not in %d, nor strictly in %d", c.of, wrongly, times, missed,
			missedAlike,
		)
		assert.LessOrEqual(t, wrongly, c.wrongly)
		assert.LessOrEqual(t, missed, c.missed)
		assert.LessOrEqual(t, missedAlike, c.missedAlike)
	}
	filled := gap([]float64{1, 2, 3}, 5).filled
	assert.True(t, math.IsInf(filled, 1), "too few to tell")
}

// Pieces of two kinds that overlap in size and in hue, so that neither parts them, are parted by both; those of one,
// whose larger ones differ in hue as well, are not.
func TestPartedBySizeAndHueTogether(t *testing.T) {
	parted := func(seed uint64, apart, along float64) int {
		rng := rand.New(rand.NewPCG(seed, 2))
		c := &area{weight: [3]float64{1, 1, 1}}
		var k kind
		for i := range 1000 {
			other := 0.0
			if i%4 == 0 {
				other = apart
			}
			off := rng.NormFloat64()
			turn := 0.2*other + 0.05*(along*off+math.Sqrt(1-along*along)*rng.NormFloat64())
			c.parts = append(c.parts, blob{
				solid: 1, at: make([]int32, 3*least), sizeMM: math.Exp(0.47*other + 0.11*off), mean: [3]float64{
					-math.Cos(turn), -0.5, -0.5 + 1.5*turn,
				},
			})
			k.members = append(k.members, i)
		}
		return len(c.parted(k, 40))
	}
	two, one := 0, 0
	const times = 200
	for seed := range uint64(times) {
		if parted(seed, 1, 0) == 2 {
			two++
		}
		if parted(seed, 0, 0.6) == 1 {
			one++
		}
	}
	t.Logf("of %d: two parted in %d, one left in %d", times, two, one)
	assert.GreaterOrEqual(t, two, times*9/10) // by either alone 4
	assert.Equal(t, times, one)
}
