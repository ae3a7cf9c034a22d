package photo_test

import (
	"encoding/csv"
	"encoding/json"
	"math"
	"os"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	. "cloudburst/core/photo"
)

// Pieces of flake on the simulated shots: how many, how large, of which colour, against what an eye can tell in them.
func TestTheCensusOnTheShots(t *testing.T) {
	var off []float64
	right, told := 0, 0
	for _, s := range shots(t, "wg") {
		if s.Type != "flake" {
			continue
		}
		raw, err := os.ReadFile("testdata/shots/" + s.ID + ".truth.json")
		require.NoError(t, err)
		var truth struct {
			Flake struct {
				Region  [4]float64 `json:"region_rect_px"`
				Classes []struct {
					Color string
					Flats float64 `json:"flats_mm"`
					Seen  float64 `json:"seen_per_cm2"`
				}
			}
			Scale struct {
				Px float64 `json:"px_per_mm"`
			}
		}
		require.NoError(t, json.Unmarshal(raw, &truth))
		r := truth.Flake.Region
		got, err := Census(s.Picture, Rect{X0: r[0], Y0: r[1], X1: r[2], Y1: r[3]}, truth.Scale.Px)
		require.NoError(t, err)
		assert.Empty(t, got.Warning)
		require.Len(t, got.Classes, len(truth.Flake.Classes), s.ID)
		for _, want := range truth.Flake.Classes {
			near := slices.MinFunc(got.Classes, func(a, b FlakeClass) int { // the class of that size
				d := func(c FlakeClass) float64 { return math.Abs(math.Log(c.SizeIN * 25.4 / want.Flats)) }
				if d(a) < d(b) {
					return -1
				}
				return 1
			})
			t.Logf("%s %s: %.3f in for %.3f, %.1f per cm² for %.1f", s.ID, want.Color, near.SizeIN, want.Flats/25.4, near.PerCM2, want.Seen)
			assert.InEpsilon(t, want.Flats/25.4, near.SizeIN, 0.12, "its size class")
			off = append(off, math.Abs(near.PerCM2/want.Seen-1))
		}
		// Found pieces against those that are there, and whether they were given the right class.
		file, err := os.Open("testdata/shots/" + s.ID + ".pieces.csv")
		require.NoError(t, err)
		rows, err := csv.NewReader(file).ReadAll()
		require.NoError(t, err)
		require.NoError(t, file.Close())
		for _, p := range got.Pieces {
			best, at := math.Inf(1), -1
			for _, row := range rows[1:] {
				x, _ := strconv.ParseFloat(row[0], 64)
				y, _ := strconv.ParseFloat(row[1], 64)
				if d := math.Hypot(x-p.X, y-p.Y); d < best && row[8] == "1" {
					best, at = d, int(row[2][0]-'0')
				}
			}
			if best > 0.2*truth.Scale.Px {
				continue
			}
			told++
			size := got.Classes[p.Class].SizeIN * 25.4
			if math.Abs(math.Log(size/truth.Flake.Classes[at].Flats)) < 0.2 {
				right++
			}
		}
	}
	slices.Sort(off)
	t.Logf("density off by %.2f; size class right in %d of %d", off, right, told)
	assert.Less(t, off[len(off)/2], 0.10)
	assert.Less(t, off[len(off)-1], 0.25)
	assert.Greater(t, float64(right)/float64(told), 0.95)
}

func TestACensusThatCannotBe(t *testing.T) {
	s := shots(t, "wg")[0]
	_, err := Census(s.Picture, Rect{X1: 500, Y1: 500}, 0)
	assert.ErrorContains(t, err, "two points")
	_, err = Census(s.Picture, Rect{X1: 5, Y1: 5}, 20)
	assert.ErrorContains(t, err, "larger region")
	_, err = Census(s.Picture, Rect{X0: math.NaN(), X1: 500, Y1: 500}, math.NaN())
	assert.Error(t, err)
	empty, err := Census(s.Picture, Rect{X0: 20, Y0: 20, X1: 300, Y1: 80}, 10) // bare paper
	require.NoError(t, err)
	assert.Empty(t, empty.Classes)
}

func BenchmarkCensus(b *testing.B) {
	for _, s := range shots(b, "wg") {
		if s.Type == "flake" {
			b.ReportAllocs()
			for b.Loop() {
				if _, err := Census(s.Picture, Rect{X0: 96, Y0: 90, X1: 1104, Y1: 576}, 40); err != nil {
					b.Fatal(err)
				}
			}
			return
		}
	}
}
