package photo_test

import (
	"encoding/json"
	"math"
	"os"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	. "cloudburst/core/photo"
)

// The second set of simulated photos judges what the first and our own close-ups chose; no constant is chosen by it.
const judged = "testdata/judged/"

// judge is how a count of flake stands to what there is in a photo.
type judge struct {
	kinds, found, doubted int       // kinds there are, found by size and density, and of the others those that are said to be unsure
	other                 int       // kinds found for none that there is
	off                   []float64 // density
}

func (j *judge) add(t *testing.T, id string, truth flakeTruth, got *Found) {
	taken := map[int]bool{}
	for _, want := range truth.Flake.Classes {
		j.kinds++
		best, near := -1, 0.25
		for i, c := range got.Classes {
			if off := math.Abs(math.Log(c.SizeIN * 25.4 / want.Flats)); !taken[i] && off < near {
				best, near = i, off
			}
		}
		if best < 0 {
			if o := got.Other; o != nil {
				for _, c := range o.Classes {
					if math.Abs(math.Log(c.SizeIN*25.4/want.Flats)) < 0.25 && math.Abs(math.Log(c.PerCM2/want.Seen)) < 0.5 {
						j.doubted++
						break
					}
				}
				t.Logf("%s: unsure: %s %v", id, got.Unsure, o.Classes)
			}
			t.Logf("%s: %s of %.3f in is not found: %v", id, want.Color, want.Flats/25.4, got.Classes)
			continue
		}
		taken[best] = true
		off := math.Abs(got.Classes[best].PerCM2/want.Seen - 1)
		t.Logf("%s: %s of %.3f in: found %.3f, %.1f per cm² for %.1f (%+.0f %%)", id, want.Color, want.Flats/25.4, got.Classes[best].SizeIN, got.Classes[best].PerCM2, want.Seen, 100*(got.Classes[best].PerCM2/want.Seen-1))
		j.found++
		j.off = append(j.off, off)
	}
	j.other += len(got.Classes) - len(taken)
}

func judgedFlake(t *testing.T, each func(s shotPhoto, truth flakeTruth)) {
	for _, s := range shotsIn(t, judged, "wg") {
		if s.Type != "flake" {
			continue
		}
		raw, err := os.ReadFile(judged + s.ID + ".truth.json")
		require.NoError(t, err)
		var truth flakeTruth
		require.NoError(t, json.Unmarshal(raw, &truth))
		each(s, truth)
	}
}

func TestFlakeOnPhotosThatNothingWasChosenBy(t *testing.T) {
	t.Parallel()
	var j judge
	judgedFlake(t, func(s shotPhoto, truth flakeTruth) {
		r := truth.Flake.Region
		got, err := Census(t.Context(), s.Picture, Rect{X0: r[0], Y0: r[1], X1: r[2], Y1: r[3]}, truth.Scale.Px)
		require.NoError(t, err)
		j.add(t, s.ID, truth, got)
	})
	slices.Sort(j.off)
	t.Logf("%d of %d kinds found, %d of the others said to be unsure, %d for none that there is; density off by %.3f in the median, %.3f in nine of ten", j.found, j.kinds, j.doubted, j.other, quantile(j.off, 0.5), quantile(j.off, 0.9))
	assert.GreaterOrEqual(t, j.found+j.doubted, 30)
	assert.LessOrEqual(t, j.other, 1)
	assert.Less(t, quantile(j.off, 0.5), 0.15)
}

// The light of photos that nothing was chosen by, undone by white and grey and by the card, the lamp named and not.
func TestLightOfPhotosThatNothingWasChosenBy(t *testing.T) {
	t.Parallel()
	chart := simulatedCard(t)
	for _, way := range []string{"lamp named", "nobody said which lamp", "card"} {
		var off []float64
		within := 0
		for _, s := range shotsIn(t, judged, "wg", "card") {
			if s.Type == "flake" || (way == "card") != (s.Reference == "card") {
				continue
			}
			var l *Light
			var err error
			switch {
			case way == "card":
				l, err = ByCard(s.Picture, s.Card.Corners, chart)
			default:
				var white, grey Thing
				for _, p := range s.Patches {
					thing := Thing{disc(p.Center, p.Radius*0.8), lab(p.Lab)}
					if p.Kind == "white" {
						white = thing
					} else {
						grey = thing
					}
				}
				lamp := colour.Light(s.Light)
				if way != "lamp named" {
					lamp = ""
				}
				l, err = ByWhiteAndGrey(s.Picture, white, grey, lamp)
			}
			require.NoError(t, err, s.ID)
			for _, r := range s.Regions {
				got, err := Sample(s.Picture, disc(r.Center, r.Radius), l)
				require.NoError(t, err)
				e := colour.DeltaE00(lab(r.Lab), got.Lab)
				t.Logf("%s %s %-10s paper %.2f warmth %.2f: truth %v got %.1f %.1f %.1f: off %.2f, said %.1f %s %v", s.ID, s.Light, r.Name, l.Even.Paper, l.Warmth, r.Lab, got.Lab.L, got.Lab.A, got.Lab.B, e, got.Error, got.Warning, l.Warnings)
				off = append(off, e)
				if e <= 2*got.Error {
					within++
				}
			}
		}
		t.Logf("%s: ΔE00 %.2f in the median, %.2f in nine of ten; within twice the stated error %d of %d", way, quantile(off, 0.5), quantile(off, 0.9), within, len(off))
		assert.GreaterOrEqual(t, 10*within, 9*len(off), way)
		if most := map[string]float64{"lamp named": 2, "card": 1}[way]; most > 0 {
			assert.LessOrEqual(t, quantile(off, 0.5), most, way)
		}
	}
}
