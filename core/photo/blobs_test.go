package photo

import (
	"image"
	"image/color"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cloudburst/core/colour"
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
		c := &census{w: 9, h: len(s.rows)}
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
	for _, c := range []struct{ of, wrongly, missed, missedAlike int }{{30, 40, 350, 980}, {80, 5, 60, 700}, {300, 0, 1, 400}} {
		wrongly, missed, missedAlike := 0, 0, 0
		for range times {
			if _, filled := gap(heap(c.of, 0), 5); filled < mostBetween {
				wrongly++
			}
			line, filled := gap(append(heap(c.of*3/4, 0), heap(c.of/4, 0.6)...), 5)
			switch {
			case filled >= mostBetween:
				missed++
			case math.Abs(line-0.3) > 0.15:
				t.Errorf("parted at %.2f", line)
			}
			if filled >= mostBetweenAlike {
				missedAlike++
			}
		}
		t.Logf("of %d: one heap parted in %d of %d, two not in %d, nor strictly in %d", c.of, wrongly, times, missed, missedAlike)
		assert.LessOrEqual(t, wrongly, c.wrongly)
		assert.LessOrEqual(t, missed, c.missed)
		assert.LessOrEqual(t, missedAlike, c.missedAlike)
	}
	_, filled := gap([]float64{1, 2, 3}, 5)
	assert.True(t, math.IsInf(filled, 1), "too few to tell")
}

// Pieces of one size, tilted in rows, under a lens: those on edge are no pieces, those a little wider are.
func TestPiecesOnEdge(t *testing.T) {
	const size, apart = 14.0, 34 // px
	cosines := []float64{0.03, 0.06, 0.09, 0.25, 0.3, 0.5, 0.7, 1}
	img := image.NewRGBA(image.Rect(0, 0, apart*20, apart*len(cosines)))
	w, h := img.Rect.Dx(), img.Rect.Dy()
	dark := make([]float64, w*h) // how much of a pixel a piece covers
	rng := rand.New(rand.NewPCG(5, 5))
	for row, cos := range cosines {
		for col := range 20 {
			x0, y0, turn := apart*(float64(col)+0.5)+rng.Float64(), apart*(float64(row)+0.5)+rng.Float64(), 2*math.Pi*rng.Float64()
			sin, along := math.Sincos(turn)
			for range 30_000 { // by throwing dots at a tilted disc
				u, v := 2*rng.Float64()-1, 2*rng.Float64()-1
				if u*u+v*v > 1 {
					continue
				}
				x, y := size/2*u, size/2*v*cos
				px := x0 + x*along - y*sin + 0.7*rng.NormFloat64()
				py := y0 + x*sin + y*along + 0.7*rng.NormFloat64()
				dark[int(py)*w+int(px)] += size * size * cos / 30_000
			}
		}
	}
	for i, d := range dark {
		v := uint8(math.Round(255*colour.Encode(0.6*(1-0.8*min(1, d))) + rng.NormFloat64()))
		img.SetRGBA(i%w, i/w, color.RGBA{v, v, v, 255})
	}
	got, err := Census(t.Context(), Take(img), Rect{X1: float64(w), Y1: float64(h)}, 20)
	require.NoError(t, err)
	require.Len(t, got.Classes, 1)
	found := make([]int, len(cosines))
	for _, p := range got.Pieces {
		found[int(p.Y)/apart]++
	}
	for row, cos := range cosines {
		if cos < onEdge { // of the thinnest, bits are left that are too small to be measured
			assert.LessOrEqual(t, found[row], 6, "of 20 with a cosine of %.2f", cos)
		} else {
			assert.InDelta(t, 20, found[row], 1, "of 20 with a cosine of %.2f", cos)
		}
	}
}
