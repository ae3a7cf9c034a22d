package picture_test

import (
	"image"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	. "cloudburst/core/picture"
)

// heavy is a cup with a bit of everything: 4 colourants, 2 powders, 3 flakes, salt and softener.
func heavy(t testing.TB) *mix.Mix {
	t.Helper()
	shelf, c := heavyCup(t)
	m, err := mix.Stir(&c, shelf)
	require.NoError(t, err)
	return m
}

func heavyCup(t testing.TB) (cup.Shelf, cup.Cup) {
	t.Helper()
	shelf := cup.Shelf{}
	for _, f := range material.Families() {
		shelf[f.Key] = f.New(f.Key, f.Name)
	}
	fine := shelf["flake-gold"]
	gold := *fine.Flake
	gold.Resize(0.008, material.Measured)
	fine.Flake = &gold
	shelf["flake-gold"] = fine
	amount := func(uid string, v float64, u measure.Unit) cup.Dose {
		return cup.Dose{Material: uid, Amount: measure.Amount{Value: v, Unit: u}}
	}
	c := cup.Cup{Volume: measure.Volume{
		Typed: "1 cup", ML: measure.CupML,
	}, Plastisol: "medium-plastisol", Doses: []cup.Dose{
		cup.DripOf("clear-yellow", 9), cup.DripOf("clear-green", 1), cup.DripOf("glow-lime", 6),
		cup.DripOf("carbon-black", 1),
		amount("pearl-silver", 1.0/32, measure.InTeaspoons), amount("interference-green", 1.0/16, measure.InTeaspoons),
		amount(
			"flake-gold", 1.0/16, measure.InTeaspoons,
		), amount("flake-holo", 0.25, measure.InTeaspoons), amount("flake-black", 0.25, measure.InTeaspoons),
		amount("salt-fine", 3, measure.InTeaspoons), amount("softener", 5, measure.InML),
	}}
	return shelf, c
}

var benchLook = mix.Condition{ThicknessMM: 8, Ground: optics.White, Light: colour.D65}

func TestCloseUpShowsItsPieces(t *testing.T) {
	m := heavy(t)
	img := BenchCloseUp.Draw(m, benchLook)
	again := BenchCloseUp.Draw(m, benchLook)
	assert.Equal(t, img.Pix, again.Pix, "the same cup lays the same pieces")
	base := m.Body().Colour(benchLook).SRGB()
	assert.Greater(t, share(img, base), 0.02)
	plain := stirred(t, map[string]float64{"clear-red": 8})
	even := BenchCloseUp.Draw(plain, benchLook)
	assert.Zero(t, share(even, plain.Colour(benchLook).SRGB()), "no flake, no pieces")
	turned := benchLook
	turned.TiltDeg, turned.Light = 30, colour.D50
	assert.NotEqual(t, img.Pix, BenchCloseUp.Draw(m, turned).Pix, "it glitters by tilt and light")
}

// share of the pixels that differ from a colour.
func share(img *image.RGBA, c colour.SRGB8) float64 {
	n := 0
	for i := 0; i < len(img.Pix); i += 4 {
		if img.Pix[i] != c.R || img.Pix[i+1] != c.G || img.Pix[i+2] != c.B {
			n++
		}
	}
	return float64(n) / float64(len(img.Pix)/4)
}

// The pieces that can be seen are as many as the model says: drawn in clear plastic, thin enough that few overlap.
func TestCloseUpCoversWhatTheModelSays(t *testing.T) {
	shelf := cup.Shelf{}
	for _, key := range []string{"medium-plastisol", "flake-black"} {
		f, _ := material.FindFamily(key)
		shelf[key] = f.New(key, key)
	}
	c := cup.Cup{Volume: measure.Volume{
		Typed: "1 cup", ML: measure.CupML,
	}, Plastisol: "medium-plastisol", Doses: []cup.Dose{
		{Material: "flake-black", Amount: measure.Amount{Value: 0.25, Unit: measure.InTeaspoons}},
	}}
	m, err := mix.Stir(&c, shelf)
	require.NoError(t, err)
	at := mix.Condition{ThicknessMM: 2, Ground: optics.White, Light: colour.D65}
	f := m.Flakes[0]
	cover := share(CloseUp{Width: 1600, Height: 1200, PxPerMM: 40, Seed: 3}.Draw(m, at), m.Body().Colour(at).SRGB())
	want := f.PerMM3 * f.Flake.AreaMM2() * 2 * 0.56 // mean |cos| of the tilts drawn
	assert.InEpsilon(t, want, cover, 0.25)
}

func BenchmarkHeavyWedge(b *testing.B) {
	m := heavy(b)
	for b.Loop() {
		Wedge(m, benchLook, BenchWedge, optics.White, optics.Dark, optics.Against)
	}
}

func BenchmarkHeavyCloseUp(b *testing.B) {
	m := heavy(b)
	for b.Loop() {
		BenchCloseUp.Draw(m, benchLook)
	}
}
