package reference_test

import (
	"encoding/json"
	"math/rand/v2"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/photo"
	. "cloudburst/core/reference"
	"cloudburst/testkit/shots"
)

// The simulated pairs, read off their photos.
func TestTintedOrClearOnTheShots(t *testing.T) {
	for _, s := range shots.In(t, "../photo/testdata/shots/", "wg") {
		if s.Type != "pair" {
			continue
		}
		raw, err := os.ReadFile("../photo/testdata/shots/" + s.ID + ".truth.json")
		require.NoError(t, err)
		var truth struct {
			See struct {
				Fair   string `json:"fair_answer"`
				Behind []string
				Y      []float64 `json:"ground_Y"`
			} `json:"see_through"`
		}
		require.NoError(t, json.Unmarshal(raw, &truth))
		var white, grey photo.Thing
		for _, p := range s.Patches {
			if p.Kind == "white" {
				white = photo.Thing{Disc: shots.Disc(p.Center, p.Radius*0.8), Lab: shots.Lab(p.Lab)}
			} else {
				grey = photo.Thing{Disc: shots.Disc(p.Center, p.Radius*0.8), Lab: shots.Lab(p.Lab)}
			}
		}
		l, err := photo.ByWhiteAndGrey(s.Picture, white, grey, colour.Light(s.Light))
		require.NoError(t, err)
		var looks []Look
		for i, r := range s.Regions {
			got, err := photo.Sample(s.Picture, shots.Disc(r.Center, r.Radius), l)
			require.NoError(t, err)
			looks = append(
				looks,
				Look{
					Lab: got.Lab, MM: r.MM, Ground: truth.See.Y[i], Backed: truth.See.Behind[i] == "back",
					Error: got.Error,
				},
			)
		}
		v, err := ThroughOrThere(looks[0], looks[1])
		require.NoError(t, err)
		want := map[string]string{
			"tinted": Tinted, "clear with the back showing": ClearOver, "cannot tell": CannotTell,
		}[truth.See.Fair]
		assert.Equal(t, want, v.Answer, "%s: %s", s.ID, v.Says)
	}
}

// Pairs made by the core, which has bands and families where the verdict has three channels: never a wrong one, and
// where only the paper changes, none.
func TestTintedOrClearIsNeverWrong(t *testing.T) {
	rng := rand.New(rand.NewPCG(8, 8))
	mixed := func(doses ...cup.Dose) *mix.Mix {
		shelf := cup.Shelf{}
		for _, key := range []string{
			"medium-plastisol", "clear-red", "clear-yellow", "clear-green", "clear-blue", "clear-brown",
			"titanium-white",
			"carbon-black",
		} {
			f, _ := material.FindFamily(key)
			shelf[key] = f.New(key, f.Name)
		}
		m, err := mix.Stir(
			&cup.Cup{
				Volume: measure.Volume{Typed: "1 cup", ML: measure.CupML}, Plastisol: "medium-plastisol", Doses: doses,
			},
			shelf,
		)
		require.NoError(t, err)
		return m
	}
	hues := []string{"clear-red", "clear-yellow", "clear-green", "clear-blue", "clear-brown"}
	told, n := 0, 0
	for range 60 {
		tint := mixed(cup.DripOf(hues[rng.IntN(5)], 1+4*rng.Float64()), cup.DripOf("titanium-white", 0.3*rng.Float64()))
		clear := mixed(cup.DripOf("titanium-white", 0.1*rng.Float64()))
		back := mixed(
			cup.DripOf(hues[rng.IntN(5)], 6+6*rng.Float64()), cup.DripOf("titanium-white", 6*rng.Float64()),
			cup.DripOf("carbon-black", 2*rng.Float64()),
		)
		x1 := 2.5 + 3*rng.Float64()
		x2 := x1 / (1.5 + 2*rng.Float64())
		noise := func(l colour.Lab) colour.Lab {
			return colour.Lab{
				L: l.L + 0.8*rng.NormFloat64(), A: l.A + 0.8*rng.NormFloat64(), B: l.B + 0.8*rng.NormFloat64(),
			}
		}
		at := mix.Condition{Ground: optics.White, Light: colour.D65}
		tinted := func(mm float64) colour.Lab { c := at; c.ThicknessMM = mm; return noise(tint.Colour(c)) }
		over := func(mm float64, backed bool) colour.Lab {
			stack := []mix.Slice{{Mix: clear, MM: mm}}
			if backed {
				stack = append(stack, mix.Slice{Mix: back, MM: 6})
			}
			return noise(mix.StackColour(stack, at))
		}
		for _, nothing := range []bool{false, true} { // the second spot thinner, or with nothing behind
			for answer, pair := range map[string][2]Look{
				Tinted: {
					{Lab: tinted(x1), MM: x1, Ground: 0.88, Backed: true, Error: 1.5},
					{Lab: tinted(x2), MM: x2, Ground: 0.88, Backed: !nothing, Error: 1.5},
				},
				ClearOver: {
					{Lab: over(x1, true), MM: x1, Ground: 0.88, Backed: true, Error: 1.5},
					{Lab: over(x2, !nothing), MM: x2, Ground: 0.88, Backed: !nothing, Error: 1.5},
				},
			} {
				v, err := ThroughOrThere(pair[0], pair[1])
				require.NoError(t, err)
				n++
				if v.Answer == answer {
					told++
				}
				assert.Contains(t, []string{answer, CannotTell}, v.Answer, "%s; %v and %v", v.Says, pair[0], pair[1])
			}
		}
		paper, err := ThroughOrThere(
			Look{Lab: tinted(x1), MM: x1, Ground: 0.88, Backed: true, Error: 1.5},
			Look{Lab: tinted(x1), MM: x1, Ground: 0.04, Backed: true, Error: 1.5},
		)
		require.NoError(t, err)
		assert.Equal(t, CannotTell, paper.Answer)
		assert.Contains(t, paper.Next, "nothing behind")
	}
	// A pale yellow and a deep blue: no tint and no clear plastic makes one of the other.
	v, err := ThroughOrThere(
		Look{Lab: colour.Lab{L: 85, A: -5, B: 60}, MM: 8, Ground: 0.88, Backed: true, Error: 1.5},
		Look{Lab: colour.Lab{L: 25, A: 10, B: -45}, MM: 3, Ground: 0.88, Backed: true, Error: 1.5},
	)
	require.NoError(t, err)
	assert.Equal(t, Neither, v.Answer, v.Says)
	assert.Contains(t, v.Says, "Neither fits")
	t.Logf("told in %d of %d", told, n)
	assert.Greater(t, float64(told)/float64(n), 0.6, "and it does tell")
	_, err = ThroughOrThere(Look{MM: 0}, Look{MM: 1})
	assert.ErrorContains(t, err, "how thick")
}
