package photo_test

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"image"
	_ "image/jpeg"
	"math"
	"os"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	_ "golang.org/x/image/webp"

	"cloudburst/core/colour"
	. "cloudburst/core/photo"
	"cloudburst/format"
)

// shotPhoto is one of the simulated photos, with its truth.
type shotPhoto struct {
	ID, Type, Light, Reference string
	MixedLight                 any `json:"mixed_light"`
	Regions                    []struct {
		Name, View string
		Center     [2]float64 `json:"center_px"`
		Radius     float64    `json:"radius_px"`
		Lab        [3]float64 `json:"lab_D65"`
		MM         float64    `json:"thickness_mm"`
		Spread     float64    `json:"spread_in_disc_dE00"`
	}
	Patches []struct {
		Kind   string
		Center [2]float64 `json:"center_px"`
		Radius float64    `json:"radius_px"`
		Lab    [3]float64 `json:"lab_D65"`
	}
	Card *struct {
		Corners [4][2]float64 `json:"corners_px"`
		Centres [][2]float64  `json:"patch_centers_px"`
	}
	Bare *struct {
		Center [2]float64 `json:"center_px"`
		Radius float64    `json:"radius_px"`
	} `json:"bare_light"`
	Picture *Picture
}

func lab(v [3]float64) colour.Lab { return colour.Lab{L: v[0], A: v[1], B: v[2]} }

func disc(c [2]float64, r float64) Disc { return Disc{X: c[0], Y: c[1], Radius: r} }

func shots(t testing.TB, kinds ...string) []shotPhoto { return shotsIn(t, "testdata/shots/", kinds...) }

func shotsIn(t testing.TB, folder string, kinds ...string) []shotPhoto {
	t.Helper()
	raw, err := os.ReadFile(folder + "index.json")
	require.NoError(t, err)
	var index struct {
		Photos []struct{ ID, File, Reference, Truth string }
	}
	require.NoError(t, json.Unmarshal(raw, &index))
	var out []shotPhoto
	for _, p := range index.Photos {
		if !slices.Contains(kinds, p.Reference) {
			continue
		}
		raw, err := os.ReadFile(folder + p.Truth)
		require.NoError(t, err)
		var s shotPhoto
		require.NoError(t, json.Unmarshal(raw, &s), p.ID)
		file, err := os.ReadFile(folder + p.File)
		require.NoError(t, err)
		taken, err := format.TakePhoto(t.Context(), bytes.NewReader(file), int64(len(file)))
		require.NoError(t, err)
		img, _, err := image.Decode(bytes.NewReader(taken.JPEG))
		require.NoError(t, err)
		s.Picture = Take(img)
		out = append(out, s)
	}
	return out
}

func quantile(v []float64, share float64) float64 {
	v = slices.Clone(v)
	slices.Sort(v)
	at := share * float64(len(v)-1)
	low := int(at)
	if low == len(v)-1 {
		return v[low]
	}
	return v[low] + (v[low+1]-v[low])*(at-float64(low))
}

func TestWhiteAndGreyOnTheShots(t *testing.T) {
	var off, warm []float64
	for _, s := range shots(t, "wg") {
		var white, grey Thing
		for _, p := range s.Patches {
			thing := Thing{disc(p.Center, p.Radius*0.8), lab(p.Lab)}
			if p.Kind == "white" {
				white = thing
			} else {
				grey = thing
			}
		}
		l, err := ByWhiteAndGrey(s.Picture, white, grey, colour.Light(s.Light))
		require.NoError(t, err, s.ID)
		t.Logf("%s %s: tone %.3f, even %.2f %v, residual %.1f, warmth %.2f %v", s.ID, s.Light, l.Tone, l.Even.Paper, l.Even.Fit, l.Residual, l.Warmth, l.Warnings)
		for _, r := range s.Regions {
			got, err := Sample(s.Picture, disc(r.Center, r.Radius), l)
			require.NoError(t, err)
			e := colour.DeltaE00(lab(r.Lab), got.Lab)
			t.Logf("   %-8s truth %v got %.1f %.1f %.1f: off %.2f, said %.1f %s", r.Name, r.Lab, got.Lab.L, got.Lab.A, got.Lab.B, e, got.Error, got.Warning)
			if s.Light == "A" || s.Light == "LED3000S" {
				warm = append(warm, e)
			} else {
				off = append(off, e)
			}
		}
	}
	t.Logf("daylight median %.2f of %d, warm median %.2f of %d", quantile(off, 0.5), len(off), quantile(warm, 0.5), len(warm))
	assert.Less(t, quantile(off, 0.5), 2.5)
	assert.Less(t, quantile(warm, 0.5), 3.5)
}

// simulatedCard is the card that lies in the simulated photos.
func simulatedCard(t testing.TB) *Chart {
	t.Helper()
	raw, err := os.ReadFile("testdata/shots/card24.csv")
	require.NoError(t, err)
	rows, err := csv.NewReader(bytes.NewReader(raw)).ReadAll()
	require.NoError(t, err)
	c := &Chart{Name: "24 patches", Rows: 4, Columns: 6, Border: 0.09}
	for _, r := range rows[1:] {
		var v [3]float64
		for i := range v {
			v[i], err = strconv.ParseFloat(r[3+i], 64)
			require.NoError(t, err)
		}
		c.Patches = append(c.Patches, lab(v))
	}
	return c
}

func TestTheCardOnTheShots(t *testing.T) {
	chart := simulatedCard(t)
	var off []float64
	for _, s := range shots(t, "card") {
		for i, d := range chart.Spots(s.Card.Corners) {
			c := s.Card.Centres[i]
			assert.Less(t, math.Hypot(d.X-c[0], d.Y-c[1]), 4.0, "%s: patch %d is found", s.ID, i)
		}
		l, err := ByCard(s.Picture, s.Card.Corners, chart)
		require.NoError(t, err, s.ID)
		t.Logf("%s %s: tone %.3f veil %.4f even %.2f, residual %.1f, warmth %.2f %v, matrix %.2f", s.ID, s.Light, l.Tone, l.Veil, l.Even.Paper, l.Residual, l.Warmth, l.Warnings, l.Matrix)
		for _, r := range s.Regions {
			got, err := Sample(s.Picture, disc(r.Center, r.Radius), l)
			require.NoError(t, err)
			e := colour.DeltaE00(lab(r.Lab), got.Lab)
			t.Logf("   %-8s truth %v got %.1f %.1f %.1f: off %.2f, said %.1f %s", r.Name, r.Lab, got.Lab.L, got.Lab.A, got.Lab.B, e, got.Error, got.Warning)
			off = append(off, e)
		}
	}
	t.Logf("median %.2f, 90th %.2f of %d", quantile(off, 0.5), quantile(off, 0.9), len(off))
	assert.Less(t, quantile(off, 0.5), 1.5)
	assert.Less(t, quantile(off, 0.9), 3.0)
}

func TestAgainstTheLightOnTheShots(t *testing.T) {
	var off []float64
	for _, s := range shots(t, "bare light") {
		l, err := ByBareLight(s.Picture, disc(s.Bare.Center, s.Bare.Radius), colour.Light(s.Light))
		require.NoError(t, err)
		for _, r := range s.Regions {
			got, err := Sample(s.Picture, disc(r.Center, r.Radius), l)
			require.NoError(t, err)
			e := colour.DeltaE00(lab(r.Lab), got.Lab)
			t.Logf("%s %-8s truth %v got %.1f %.1f %.1f: off %.2f, said %.1f %s", s.ID, r.Name, r.Lab, got.Lab.L, got.Lab.A, got.Lab.B, e, got.Error, got.Warning)
			if r.MM < 5 {
				off = append(off, e)
			}
		}
	}
	assert.Less(t, quantile(off, 0.5), 1.5)
}
