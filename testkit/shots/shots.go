// Package shots reads the simulated photos with their truth, for tests.
package shots

import (
	"bytes"
	"encoding/json"
	"image"
	_ "image/jpeg"
	"iter"
	"os"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"
	_ "golang.org/x/image/webp"

	"cloudburst/core/colour"
	"cloudburst/core/photo"
	"cloudburst/format"
)

// Shot is one of the simulated photos, with its truth.
type Shot struct {
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
	Picture *photo.Picture
}

// Lab is three figures as a colour.
func Lab(v [3]float64) colour.Lab { return colour.Lab{L: v[0], A: v[1], B: v[2]} }

// Disc is a pin.
func Disc(c [2]float64, r float64) photo.Disc { return photo.Disc{X: c[0], Y: c[1], Radius: r} }

// In are the shots of a folder that have one of the references.
func In(t testing.TB, folder string, kinds ...string) []Shot {
	t.Helper()
	reading.Lock()
	defer reading.Unlock()
	key := folder + strings.Join(kinds, " ")
	if read[key] == nil {
		read[key] = readIn(t, folder, kinds)
	}
	return read[key]
}

// The photos take longer to read than most tests do: once is enough.
var (
	reading sync.Mutex
	read    = map[string][]Shot{}
)

func readIn(t testing.TB, folder string, kinds []string) []Shot {
	t.Helper()
	raw, err := os.ReadFile(folder + "index.json")
	require.NoError(t, err)
	var index struct {
		Photos []struct{ ID, File, Reference, Truth string }
	}
	require.NoError(t, json.Unmarshal(raw, &index))
	var out []Shot
	for _, p := range index.Photos {
		if !slices.Contains(kinds, p.Reference) {
			continue
		}
		raw, err := os.ReadFile(folder + p.Truth)
		require.NoError(t, err)
		var s Shot
		require.NoError(t, json.Unmarshal(raw, &s), p.ID)
		file, err := os.ReadFile(folder + p.File)
		require.NoError(t, err)
		taken, err := format.TakePhoto(t.Context(), bytes.NewReader(file), int64(len(file)))
		require.NoError(t, err)
		img, _, err := image.Decode(bytes.NewReader(taken.JPEG))
		require.NoError(t, err)
		s.Picture = photo.Take(img)
		out = append(out, s)
	}
	return out
}

// Quantile is the figure under which a share of all lies.
func Quantile(v []float64, share float64) float64 {
	v = slices.Clone(v)
	slices.Sort(v)
	at := share * float64(len(v)-1)
	low := int(at)
	if low == len(v)-1 {
		return v[low]
	}
	return v[low] + (v[low+1]-v[low])*(at-float64(low))
}

// FlakeTruth is what really lies in a shot of flake.
type FlakeTruth struct {
	Regions []struct {
		Lab [3]float64 `json:"lab_D65"`
	}
	Flake struct {
		Base    string
		Region  [4]float64 `json:"region_rect_px"`
		MM      float64    `json:"thickness_mm"`
		Area    float64    `json:"area_cm2"`
		K       float64    `json:"K_mean"`
		S       float64    `json:"S_mean"`
		Classes []struct {
			Color  string
			Lab    [3]float64 `json:"color_lab_D65"`
			Flats  float64    `json:"flats_mm"`
			Seen   float64    `json:"seen_per_cm2"`
			Pieces float64    `json:"pieces_in_region"`
		}
	}
	Scale struct {
		Px float64 `json:"px_per_mm"`
	}
}

// Flakes are those of flake, each with its truth.
func Flakes(t testing.TB, folder string) iter.Seq2[Shot, FlakeTruth] {
	return func(each func(Shot, FlakeTruth) bool) {
		for _, s := range In(t, folder, "wg") {
			if s.Type != "flake" {
				continue
			}
			raw, err := os.ReadFile(folder + s.ID + ".truth.json")
			require.NoError(t, err)
			var truth FlakeTruth
			require.NoError(t, json.Unmarshal(raw, &truth))
			if !each(s, truth) {
				return
			}
		}
	}
}
