package flake_test

import (
	"cmp"
	"encoding/csv"
	"image"
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	. "cloudburst/core/flake"
	"cloudburst/core/optics"
	"cloudburst/core/photo"
	"cloudburst/testkit"
	"cloudburst/testkit/shots"
)

var counted = map[string]*Found{} // a count takes a second, and two tests look at each

func countOnce(t *testing.T, s shots.Shot, region Rect, pxPerMM float64) *Found {
	t.Helper()
	if counted[s.ID] == nil {
		found, err := Count(t.Context(), s.Picture, region, pxPerMM)
		require.NoError(t, err)
		counted[s.ID] = found
	}
	return counted[s.ID]
}

// Pieces of flake on the simulated shots: how many, how large, of which colour, against what an eye can tell in them.
func TestFlakeOnTheShots(t *testing.T) {
	var off []float64
	right, told := 0, 0
	for s, truth := range shots.Flakes(t, "../photo/testdata/shots/") {
		r := truth.Flake.Region
		got := countOnce(t, s, Rect{X0: r[0], Y0: r[1], X1: r[2], Y1: r[3]}, truth.Scale.Px)
		assert.Empty(t, got.Warning)
		require.Len(t, got.Classes, len(truth.Flake.Classes), s.ID)
		for _, want := range truth.Flake.Classes {
			near := slices.MinFunc(got.Classes, func(a, b Class) int { // the class of that size
				d := func(c Class) float64 { return math.Abs(math.Log(c.SizeIN * 25.4 / want.Flats)) }
				if d(a) < d(b) {
					return -1
				}
				return 1
			})
			t.Logf(
				"%s %s: %.3f in for %.3f, %.1f per cm² for %.1f", s.ID, want.Color, near.SizeIN, want.Flats/25.4,
				near.PerCM2,
				want.Seen,
			)
			assert.InEpsilon(t, want.Flats/25.4, near.SizeIN, 0.12, "its size class")
			shown, err := colour.ParseHex(near.Hex)
			require.NoError(t, err)
			if really := shots.Lab(want.Lab); really.Chroma() > 20 { // as the camera wrote it, light and all
				turn := math.Abs(math.Remainder(shown.HueDeg()-really.HueDeg(), 360))
				assert.Less(t, turn, 40.0, "%s for %s", near.Hex, want.Color)
			}
			assert.Equal(t, want.Color == "silver", near.Alike != "", "%s: it has a hue, or it could be white", want.Color)
			off = append(off, math.Abs(near.PerCM2/want.Seen-1))
		}
		// Found pieces against those that are there, and whether they were given the right class.
		file, err := os.Open("../photo/testdata/shots/" + s.ID + ".pieces.csv")
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

// From the pieces counted on the shots back to how many are in a mm³, and so to spoons: through the depth to which
// each base lets one see, clear, tinted or milky.
func TestSpoonsOfTheShots(t *testing.T) {
	thirds := func(c colour.RGB) (s colour.Spectrum) { // a channel's light in its third of the bands
		for b := range s {
			s[b] = max(0, []float64{c.B, c.G, c.R}[min(2, max(0, int((colour.NM(b)-410)/90)))])
		}
		return s
	}
	for s, truth := range shots.Flakes(t, "../photo/testdata/shots/") {
		r := truth.Flake.Region
		got := countOnce(t, s, Rect{X0: r[0], Y0: r[1], X1: r[2], Y1: r[3]}, truth.Scale.Px)
		k, sc := colour.Flat(truth.Flake.K), colour.Flat(truth.Flake.S)
		own := thirds(shots.Lab(truth.Regions[0].Lab).Linear())
		var per, areas, depths []float64
		for _, c := range truth.Flake.Classes {
			near := slices.MinFunc(got.Classes, func(a, b Class) int {
				return cmp.Compare(math.Abs(math.Log(a.SizeIN*25.4/c.Flats)), math.Abs(math.Log(b.SizeIN*25.4/c.Flats)))
			})
			face := thirds(shots.Lab(c.Lab).Linear())
			per = append(per, near.PerCM2)
			areas = append(areas, math.Sqrt(3)/2*c.Flats*c.Flats)
			depths = append(depths, optics.LegibleDepth(&k, &sc, &face, &own, truth.Flake.MM))
		}
		perMM3, ok := optics.PerMM3(per, areas, depths)
		assert.True(t, ok)
		for i, c := range truth.Flake.Classes {
			really := c.Pieces / (100 * truth.Flake.Area * truth.Flake.MM)
			t.Logf(
				"%s %s in %s: %.4f per mm³ for %.4f (seen to %.1f mm)", s.ID, c.Color, truth.Flake.Base, perMM3[i],
				really,
				depths[i],
			)
			assert.InEpsilon(t, really, perMM3[i], 0.25)
		}
	}
}

// Whichever even part of a photo somebody marks, there are as many kinds in it.
func TestKindsInOtherRegions(t *testing.T) {
	wrong, all := 0, 0
	for s, truth := range shots.Flakes(t, "../photo/testdata/shots/") {
		r := truth.Flake.Region
		rng := rand.New(rand.NewPCG(1, 2))
		within := func(from, to float64) float64 { return from + (to-from)*rng.Float64()/4 }
		for range testkit.Tried(8, 2) {
			region := Rect{
				X0: within(r[0], r[2]), Y0: within(r[1], r[3]), X1: within(r[2], r[0]), Y1: within(r[3], r[1]),
			}
			got, err := Count(t.Context(), s.Picture, region, truth.Scale.Px)
			require.NoError(t, err)
			all++
			if len(got.Classes) != len(truth.Flake.Classes) {
				wrong++
				t.Logf("%s %v: %v", s.ID, region, got.Classes)
			}
		}
	}
	t.Logf("another number of kinds in %d of %d regions", wrong, all)
	assert.LessOrEqual(t, wrong, 2)
}

func TestACountThatCannotBe(t *testing.T) {
	s := shots.In(t, "../photo/testdata/shots/", "wg")[0]
	_, err := Count(t.Context(), s.Picture, Rect{X1: 500, Y1: 500}, 0)
	assert.ErrorContains(t, err, "two points")
	_, err = Count(t.Context(), s.Picture, Rect{X1: 5, Y1: 5}, 20)
	assert.ErrorContains(t, err, "larger region")
	_, err = Count(t.Context(), s.Picture, Rect{X0: math.NaN(), X1: 500, Y1: 500}, math.NaN())
	assert.Error(t, err)
	empty, err := Count(t.Context(), s.Picture, Rect{X0: 20, Y0: 20, X1: 300, Y1: 80}, 10) // bare paper
	require.NoError(t, err)
	assert.Empty(t, empty.Classes)
}

func BenchmarkCount(b *testing.B) {
	for _, s := range shots.In(b, "../photo/testdata/shots/", "wg") {
		if s.Type == "flake" {
			b.ReportAllocs()
			for b.Loop() {
				if _, err := Count(b.Context(), s.Picture, Rect{X0: 96, Y0: 90, X1: 1104, Y1: 576}, 40); err != nil {
					b.Fatal(err)
				}
			}
			return
		}
	}
}

// A whole photo as it is kept of twelve megapixels, flake all over.
func BenchmarkCountOfAWholePhoto(b *testing.B) {
	file, err := os.Open("../photo/testdata/shots/p09.jpg")
	require.NoError(b, err)
	defer file.Close()
	small, _, err := image.Decode(file)
	require.NoError(b, err)
	img := image.NewRGBA(image.Rect(0, 0, 2560, 1920))
	for y := range 1920 {
		for x := range 2560 {
			img.Set(x, y, small.At(96+x%1000, 100+y%470))
		}
	}
	p := photo.Take(img)
	b.ReportAllocs()
	for b.Loop() {
		if _, err := Count(b.Context(), p, Rect{X1: 2560, Y1: 1920}, 40); err != nil {
			b.Fatal(err)
		}
	}
}
