package recipe_test

import (
	"math"
	"testing"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	. "cloudburst/core/recipe"
	. "cloudburst/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestScalingAgainstVectors(t *testing.T) {
	var file struct {
		Cases []struct {
			ID    string
			From  float64 `json:"from_finished_ml"`
			To    float64 `json:"to_finished_ml"`
			Drops []struct {
				Name  string
				Drops float64
			}
			Expect struct {
				VolumeRatio float64 `json:"volume_ratio"`
				DoseRatio   float64 `json:"dose_ratio"`
				Drops       []struct {
					Exact, Whole float64
					Tie          bool
				}
			}
		}
	}
	Read(t, "scale.json", &file)
	require.Len(t, file.Cases, 16)
	for _, c := range file.Cases {
		for i, want := range c.Expect.Drops {
			whole, half := measure.WholeDrops(c.Drops[i].Drops * c.Expect.DoseRatio)
			assert.Equal(t, want.Whole, whole, "%s %s", c.ID, c.Drops[i].Name)
			assert.Equal(t, want.Tie, half, "%s %s", c.ID, c.Drops[i].Name)
		}
		if c.Expect.DoseRatio != c.Expect.VolumeRatio || len(c.Drops) == 0 { // a thickness ratio comes with the baits
			continue
		}
		keys := []string{"carbon-black", "clear-red", "clear-yellow", "clear-blue", "clear-green", "solid-red"}
		filled := cup.Cup{Volume: measure.Volume{Typed: "from", ML: c.From}, Plastisol: "medium-plastisol"}
		for i, d := range c.Drops {
			filled.Doses = append(filled.Doses, cup.DripOf(keys[i], d.Drops))
		}
		s, err := Scale(&filled, Bench(), measure.StandardKit(), measure.Volume{Typed: "to", ML: c.To}, Over(4))
		require.NoError(t, err, c.ID)
		for i, want := range c.Expect.Drops {
			assert.InDelta(t, want.Exact, s.Lines[i].Exact.Value, 1e-6, c.ID)
			if s.Lines[i].Take.Value != want.Whole { // only the eye may overrule the nearest drop
				assert.Greater(t, math.Abs(s.Lines[i].Up.DeltaE00-s.Lines[i].Down.DeltaE00), 1.0, c.ID)
			}
		}
	}
}

func TestScaleTakesTheBetterSide(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := CupOf(t, "1 cup",
			cup.DripOf("clear-yellow", float64(rapid.IntRange(0, 40).Draw(t, "yellow"))),
			cup.DripOf("carbon-black", float64(rapid.IntRange(0, 8).Draw(t, "black"))))
		to := measure.Volume{Typed: "some ml", ML: rapid.Float64Range(20, 4000).Draw(t, "to")}
		s, err := Scale(&c, Bench(), measure.StandardKit(), to, Over(4))
		require.NoError(t, err)
		for _, l := range s.Lines {
			if l.Take.Value != math.Trunc(l.Take.Value) || math.Abs(l.Take.Value-l.Exact.Value) >= 1 {
				t.Fatalf("takes %v of %v", l.Take, l.Exact)
			}
			taken, other := l.Down, l.Up
			if l.Take == l.Up.Amount {
				taken, other = l.Up, l.Down
			}
			if taken.DeltaE00 > other.DeltaE00+1 {
				t.Fatalf("takes the worse side: %+v", l)
			}
			if l.Down.Amount == l.Up.Amount && l.Down.DeltaE00 > 1e-9 {
				t.Fatalf("an even dose has no error: %+v", l)
			}
		}
	})
}

func TestScaleRefusesAndWarns(t *testing.T) {
	c := CupOf(t, "1 cup", cup.DripOf("carbon-black", 1))
	_, err := Scale(&c, Bench(), measure.StandardKit(), measure.Volume{Typed: "0 ml"}, Over(4))
	AssertFault(t, err, "volume", "needs some plastisol")
	_, err = Scale(&c, Bench(), measure.StandardKit(), Volume(t, "1 cup"), Over(0))
	AssertFault(t, err, "thickness", "0.05 to 100")
	s, err := Scale(
		&c, Bench(), measure.StandardKit(), Volume(t, "50 ml"),
		mix.Condition{ThicknessMM: 1, Ground: optics.Against, Light: colour.D65},
	)
	require.NoError(t, err)
	assert.Equal(t, 0.0, s.Lines[0].Take.Value)
	assert.Contains(t, s.Lines[0].Why, "too small")
	assert.Equal(t, "1 drop × 50 ml ÷ 1 cup (236.6 ml) = 0.21 drops", s.Lines[0].Working)
}
