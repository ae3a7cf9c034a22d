package flake_test

import (
	"math"
	"slices"
	"testing"

	. "cloudburst/core/flake"
	"cloudburst/testkit"
	"cloudburst/testkit/shots"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The second set of simulated photos judges; no constant is chosen by it.
const judged = "../photo/testdata/judged/"

// judge is how a count of flake stands to what there is in a photo.
type judge struct {
	// kinds there are, found by size and density, and of the others those that are said to be unsure
	kinds, found, doubted int
	other                 int       // kinds found for none that there is
	off                   []float64 // density
}

func (j *judge) add(t *testing.T, id string, truth shots.FlakeTruth, got *Found) {
	taken := map[int]bool{}
	for _, want := range truth.Flake.Classes {
		j.kinds++
		best, near := -1, 0.25
		for i, c := range got.Classes {
			// Of two of one size, the one whose number is nearer.
			off := math.Abs(math.Log(c.SizeIN*25.4/want.Flats)) + 0.1*math.Abs(math.Log(c.PerCM2/want.Seen))
			if !taken[i] && off < near {
				best, near = i, off
			}
		}
		if best < 0 {
			if o := got.Other; o != nil {
				for _, c := range o.Classes {
					if math.Abs(math.Log(c.SizeIN*25.4/want.Flats)) < 0.25 &&
						math.Abs(math.Log(c.PerCM2/want.Seen)) < 0.5 {
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
		t.Logf(
			"%s: %s of %.3f in: found %.3f, %.1f per cm² for %.1f (%+.0f %%)", id, want.Color, want.Flats/25.4,
			got.Classes[best].SizeIN, got.Classes[best].PerCM2, want.Seen, 100*(got.Classes[best].PerCM2/want.Seen-1),
		)
		j.found++
		j.off = append(j.off, off)
	}
	j.other += len(got.Classes) - len(taken)
}

func TestFlakeOnPhotosThatNothingWasChosenBy(t *testing.T) {
	var j judge
	tried := 0
	for s, truth := range shots.Flakes(t, judged) {
		if tried++; tried > testkit.Tried(14, 2) {
			break
		}
		r := truth.Flake.Region
		got, err := Count(t.Context(), s.Picture, Rect{X0: r[0], Y0: r[1], X1: r[2], Y1: r[3]}, truth.Scale.Px)
		require.NoError(t, err)
		j.add(t, s.ID, truth, got)
	}
	slices.Sort(j.off)
	t.Logf(
		"%d of %d kinds found, %d of the others said to be unsure, %d for none that there is; density off by %.3f in the median, %.3f in nine of ten",
		j.found, j.kinds, j.doubted, j.other, shots.Quantile(j.off, 0.5), shots.Quantile(j.off, 0.9),
	)
	if *testkit.Thorough {
		assert.GreaterOrEqual(t, j.found+j.doubted, 32)
		assert.Less(t, shots.Quantile(j.off, 0.5), 0.1)
	}
	assert.LessOrEqual(t, j.other, 1)
	assert.Less(t, shots.Quantile(j.off, 0.5), 0.15)
}
