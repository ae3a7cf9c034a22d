package camera_test

import (
	"bytes"
	"image"
	"image/jpeg"
	"math/rand/v2"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/photo"
	. "cloudburst/stand/camera"
	"cloudburst/testkit"
)

// anyMix is a cup of one to three colourants at sane doses.
func anyMix(t testing.TB, rng *rand.Rand) *mix.Mix {
	t.Helper()
	shelf := cup.Shelf{}
	base, _ := material.FindFamily("medium-plastisol")
	shelf["base"] = base.New("base", "Base")
	c := cup.Cup{Volume: measure.Volume{Typed: "1 cup", ML: measure.CupML}, Plastisol: "base"}
	colours := []string{
		"clear-red", "clear-orange", "clear-yellow", "clear-green", "clear-blue", "clear-violet", "clear-brown",
		"solid-yellow", "titanium-white", "grey-tint",
	}
	for n := range 2 + rng.IntN(2) { // as makers do: something that dulls or clouds it, and a hue or two
		key := colours[rng.IntN(len(colours))]
		if n == 0 {
			key = []string{"clear-brown", "titanium-white", "grey-tint"}[rng.IntN(3)]
		}
		if _, in := shelf[key]; in {
			continue
		}
		f, ok := material.FindFamily(key)
		require.True(t, ok, key)
		shelf[key] = f.New(key, f.Name)
		c.Doses = append(c.Doses, cup.DripOf(key, float64(1+rng.IntN(5))))
	}
	m, err := mix.Stir(&c, shelf)
	require.NoError(t, err)
	return m
}

func anyStudio(t testing.TB, rng *rand.Rand, light colour.Light) Studio {
	balance := Balance(rng.IntN(3))
	if balance == DaylightBalance && (light == colour.A || light == colour.LED) {
		balance = AutoBalance // what a camera does that nobody has told otherwise
	}
	return Studio{
		Back: anyMix(t, rng), Belly: anyMix(t, rng), Light: light, Paper: 0.88, White: true, Grey: true,
		Balance: balance, EV: -0.8 * rng.Float64(), Tone: 0.14 * rng.Float64(), Veil: 0.002 + 0.006*rng.Float64(),
		Vignette: 0.1 + 0.05*rng.Float64(), Gradient: 0.16 * rng.Float64(), Noise: 1.5, Seed: rng.Uint64(),
	}
}

// kept is a shot as it comes out of the camera's file.
func kept(t testing.TB, img image.Image) *photo.Picture {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, img, &jpeg.Options{Quality: 88}))
	got, err := jpeg.Decode(&b)
	require.NoError(t, err)
	return photo.Take(got)
}

func quantile(v []float64, share float64) float64 {
	v = slices.Clone(v)
	slices.Sort(v)
	return v[min(len(v)-1, int(share*float64(len(v))))]
}

type read struct{ off, said float64 }

// Pins on many shots of a camera that knows nothing of the program: how far they are off, and whether what is said of
// that can be trusted.
func TestReadingsAndTheirTrust(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 7))
	byKind := map[string][]float64{}
	var all []read
	lights := []colour.Light{colour.D65, colour.D50, colour.Shade, colour.A, colour.LED}
	unwarned := 0
	const shots = 30
	studios := make([]Studio, shots)
	for n := range studios {
		studios[n] = anyStudio(t, rng, lights[n%len(lights)])
		studios[n].Card = n%2 == 0
	}
	var pictures [shots]*photo.Picture
	var truths [shots][]Spot
	var taking sync.WaitGroup
	for half := range 2 { // two at once
		taking.Go(func() {
			for n := half; n < shots; n += 2 {
				img, spots := studios[n].Shoot()
				pictures[n], truths[n] = kept(t, img), spots
			}
		})
	}
	taking.Wait()
	for n, s := range studios {
		light, p, spots := s.Light, pictures[n], truths[n]
		var l *photo.Light
		var err error
		kind := "daylight"
		if s.Card {
			kind = "card"
			l, err = photo.ByCard(p, CardCorners(), Card())
		} else {
			if light == colour.A || light == colour.LED {
				kind = "warm"
			}
			l, err = photo.ByWhiteAndGrey(p, WhiteThing(), GreyThing(), light)
		}
		require.NoError(t, err, "%d %s", n, light)
		assert.Empty(t, l.Warnings, "no false alarm on a good shot: %d %s", n, light)
		for _, spot := range spots {
			r, err := photo.Sample(p, spot.Disc, l)
			require.NoError(t, err)
			e := colour.DeltaE00(spot.Lab, r.Lab)
			if r.Warning == "" || strings.Contains(r.Warning, "roughly") { // the others claim nothing
				byKind[kind] = append(byKind[kind], e)
			}
			all = append(all, read{e, r.Error})
			if e > 8 && r.Warning == "" {
				unwarned++
				t.Logf(
					"%d %s %s %s: truth %v got %v off %.1f, said %.1f", n, kind, light, spot.Name, spot.Lab, r.Lab, e,
					r.Error,
				)
			}
		}
	}
	for kind, v := range byKind {
		t.Logf("%s: median %.2f, 90th %.2f of %d", kind, quantile(v, 0.5), quantile(v, 0.9), len(v))
	}
	assert.Less(t, quantile(byKind["card"], 0.5), 1.5)
	assert.Less(t, quantile(byKind["card"], 0.9), 3.0)
	assert.Less(t, quantile(byKind["daylight"], 0.5), 2.5)
	assert.Less(t, quantile(byKind["warm"], 0.5), 3.5)
	assert.Zero(t, unwarned, "what is far off carries a warning")
	within := 0
	for _, r := range all {
		if r.off < 2*r.said {
			within++
		}
	}
	t.Logf("within twice the stated error: %.0f %% of %d", 100*float64(within)/float64(len(all)), len(all))
	assert.Greater(t, float64(within)/float64(len(all)), 0.88)
	slices.SortFunc(all, func(a, b read) int {
		if a.said < b.said {
			return -1
		}
		return 1
	})
	last := 0.0
	for bin := range 4 {
		var off []float64
		for _, r := range all[bin*len(all)/4 : (bin+1)*len(all)/4] {
			off = append(off, r.off)
		}
		mean := 0.0
		for _, v := range off {
			mean += v / float64(len(off))
		}
		t.Logf("bin %d, said about %.1f: mean %.2f", bin, all[(2*bin+1)*len(all)/8].said, mean)
		assert.Greater(t, mean, last, "the real error grows with the stated one")
		last = mean
	}
}

// Where little paper is in the photo, where the white is clipped, where nobody said which lamp it was: the readings
// stay near, and what is said of them holds.
func TestReadingsOfShotsThatLackSomething(t *testing.T) {
	rng := rand.New(rand.NewPCG(17, 4))
	lights := []colour.Light{colour.D65, colour.D50, colour.Shade, colour.A, colour.LED}
	for _, way := range []string{"little paper", "white clipped", "lamp not named", "lamp named"} {
		var off, lighter []float64
		within, n := 0, 0
		for i := range testkit.Tried(10, 5) {
			s := anyStudio(t, rng, lights[i%len(lights)])
			lamp := s.Light
			switch way {
			case "little paper":
				s.Table = true
			case "white clipped":
				s.EV, s.Paper = 0.45+0.5*rng.Float64(), 0.45
			case "lamp not named":
				s.Light = []colour.Light{colour.A, colour.LED}[i%2]
				lamp = ""
				if s.Balance == DaylightBalance {
					s.Balance = AutoBalance
				}
			}
			img, spots := s.Shoot()
			p := kept(t, img)
			l, err := photo.ByWhiteAndGrey(p, WhiteThing(), GreyThing(), lamp)
			require.NoError(t, err)
			for _, spot := range spots {
				r, err := photo.Sample(p, spot.Disc, l)
				require.NoError(t, err)
				e := colour.DeltaE00(spot.Lab, r.Lab)
				off, lighter = append(off, e), append(lighter, r.Lab.L-spot.Lab.L)
				n++
				if e <= 2*r.Error {
					within++
				}
			}
		}
		t.Logf(
			"%s: ΔE00 %.2f in the median, %.2f in nine of ten; read %.1f L lighter in the median; within twice the stated error %d of %d",
			way, quantile(off, 0.5), quantile(off, 0.9), quantile(lighter, 0.5), within, n,
		)
		assert.GreaterOrEqual(t, 10*within, 9*n, way)
	}
}

// A pin that lies half on glare, beside the same shot without it.
func TestAPinHalfOnGlare(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 9))
	for n := range 4 {
		s := anyStudio(t, rng, colour.D65)
		plain, _ := s.Shoot()
		s.Glare = true
		shiny, _ := s.Shoot()
		pin := photo.Disc{X: 470, Y: 334, Radius: 16}
		// the half beside the glare
		want, err := photo.Sample(photo.Take(plain), photo.Disc{X: 470, Y: 343, Radius: 5}, nil)
		require.NoError(t, err)
		if want.Lab.L < 10 { // nearly black: one step of the file is more than what is asked
			continue
		}
		got, err := photo.Sample(kept(t, shiny), pin, nil)
		require.NoError(t, err)
		assert.Less(
			t, colour.DeltaE00(want.Lab, got.Lab), 1.0, "%d: glare %.2f, %v for %v", n, got.Glare, got.Lab, want.Lab,
		)
		assert.Greater(t, got.Glare, 0.15)
	}
}

// What is wrong with a shot is found.
func TestBadLightIsSaid(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 5))
	for n := range 4 {
		s := anyStudio(t, rng, colour.D65)
		s.Other = colour.A
		img, _ := s.Shoot()
		l, err := photo.ByWhiteAndGrey(kept(t, img), WhiteThing(), GreyThing(), colour.D65)
		require.NoError(t, err)
		assert.Contains(t, strings.Join(l.Warnings, " "), "Two kinds of light", "%d", n)

		s.Other, s.EV = "", 0.9
		img, spots := s.Shoot()
		p := kept(t, img)
		l, err = photo.ByWhiteAndGrey(p, WhiteThing(), GreyThing(), colour.D65)
		require.NoError(t, err)
		assert.Contains(t, strings.Join(l.Warnings, " "), "The white is too bright", "%d", n)
		off, count := 0.0, 0.0
		for _, spot := range spots {
			if r, err := photo.Sample(p, spot.Disc, l); err == nil && r.Warning == "" {
				off += colour.DeltaE00(spot.Lab, r.Lab)
				count++
			}
		}
		assert.Less(t, off/max(1, count), 4.0, "grey alone still does")

		s.EV = -7
		img, spots = s.Shoot()
		p = kept(t, img)
		r, err := photo.Sample(p, spots[0].Disc, nil)
		require.NoError(t, err)
		assert.NotEmpty(t, r.Warning, "%d: far too dark", n)
	}
}

// Held against the light, thin parts, with the bare lamp as white; and a lamp that is clipped is refused.
func TestHeldAgainstTheLight(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 2))
	var off []float64
	for n := range 8 {
		s := anyStudio(t, rng, []colour.Light{colour.D65, colour.D50}[n%2])
		s.Against, s.White, s.Grey, s.Vignette, s.Gradient = true, false, false, 0.1, 0.03
		img, spots := s.Shoot()
		p := kept(t, img)
		l, err := photo.ByBareLight(p, BareLight(), s.Light)
		require.NoError(t, err)
		for _, spot := range spots {
			if spot.MM > 5 {
				continue
			}
			r, err := photo.Sample(p, spot.Disc, l)
			require.NoError(t, err)
			if r.Warning == "" {
				off = append(off, colour.DeltaE00(spot.Lab, r.Lab))
			}
		}
		s.EV = 1.2
		img, _ = s.Shoot()
		_, err = photo.ByBareLight(kept(t, img), BareLight(), s.Light)
		assert.ErrorContains(t, err, "Take a darker shot")
	}
	t.Logf("median %.2f of %d", quantile(off, 0.5), len(off))
	assert.Less(t, quantile(off, 0.5), 1.5)
}
