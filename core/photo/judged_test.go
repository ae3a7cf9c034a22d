package photo_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	. "cloudburst/core/photo"
	"cloudburst/testkit/shots"
)

// The second set of simulated photos judges what the first and our own close-ups chose; no constant is chosen by it.
const judged = "testdata/judged/"

// The light of photos that nothing was chosen by, undone by white and grey and by the card, the lamp named and not.
func TestLightOfPhotosThatNothingWasChosenBy(t *testing.T) {
	t.Parallel()
	chart := simulatedCard(t)
	for _, way := range []string{"lamp named", "nobody said which lamp", "card"} {
		var off []float64
		within := 0
		for _, s := range shots.In(t, judged, "wg", "card") {
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
					thing := Thing{Disc: shots.Disc(p.Center, p.Radius*0.8), Lab: shots.Lab(p.Lab)}
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
				got, err := Sample(s.Picture, shots.Disc(r.Center, r.Radius), l)
				require.NoError(t, err)
				e := colour.DeltaE00(shots.Lab(r.Lab), got.Lab)
				t.Logf(
					"%s %s %-10s paper %.2f warmth %.2f: truth %v got %.1f %.1f %.1f: off %.2f, said %.1f %s %v", s.ID,
					s.Light,
					r.Name, l.Even.Paper, l.Warmth, r.Lab, got.Lab.L, got.Lab.A, got.Lab.B, e, got.Error, got.Warning,
					l.Warnings,
				)
				off = append(off, e)
				if e <= 2*got.Error {
					within++
				}
			}
		}
		t.Logf(
			"%s: ΔE00 %.2f in the median, %.2f in nine of ten; within twice the stated error %d of %d", way,
			shots.Quantile(off, 0.5), shots.Quantile(off, 0.9), within, len(off),
		)
		assert.GreaterOrEqual(t, 10*within, 9*len(off), way)
		if most := map[string]float64{"lamp named": 2, "card": 1}[way]; most > 0 {
			assert.LessOrEqual(t, shots.Quantile(off, 0.5), most, way)
		}
	}
}
