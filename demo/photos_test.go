package demo

import (
	"bytes"
	"context"
	"flag"
	"image"
	"image/jpeg"
	"math"
	"math/rand/v2"
	"os"
	"testing"

	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/format"
	"cloudburst/stand/camera"
	"cloudburst/stand/maker"
)

var update = flag.Bool("update", false, "take the photos anew")

// shots are the scenes that were taken. The herring's bench has bottles that are not quite what their labels say.
func shots(t *testing.T) []camera.Studio {
	all, err := onShelf()
	require.NoError(t, err)
	shelf := shelfOf(all)
	bench := maker.New(shelf, maker.Truth{Strength: 0.15, Hue: 0.05, Noise: 0.4}, rand.New(rand.NewPCG(8, 3)))
	var out []camera.Studio
	pairs := [][2][]cup.Dose{{herringBack, herringBelly}}
	for _, try := range herringTries {
		belly := try.belly
		if belly == nil {
			belly = pairs[len(pairs)-1][1]
		}
		pairs = append(pairs, [2][]cup.Dose{try.back, belly})
	}
	for i, p := range pairs {
		back, err := bench.Pour(test(p[0]))
		require.NoError(t, err)
		belly, err := bench.Pour(test(p[1]))
		require.NoError(t, err)
		out = append(out, camera.Studio{
			Back: back, Belly: belly, Light: colour.Shade, Paper: 0.88, White: true, Grey: true,
			Balance: camera.AutoBalance,
			EV:      -0.1, Tone: 0.07, Veil: 0.004, Vignette: 0.1, Noise: 1.5, Seed: 40 + uint64(i),
		})
	}
	whole := func(doses ...cup.Dose) *mix.Mix {
		m, err := mix.Stir(
			&cup.Cup{
				Volume: measure.Volume{Typed: "1 cup", ML: measure.CupML}, Plastisol: "skerry-medium", Doses: doses,
			}, shelf,
		)
		require.NoError(t, err)
		return m
	}
	return append(out, camera.Studio{
		Back:  whole(d("tea-brown", 4), d("bottle-green", 1), d("drizzle-grey", 2)),
		Belly: whole(d("chalk-white", 3), d("broom-yellow", 4), d("tea-brown", 1)),
		Light: colour.Shade, Paper: 0.88, White: true, Grey: true, Card: true, Balance: camera.AutoBalance,
		EV: -0.2, Tone: 0.07, Veil: 0.004, Vignette: 0.12, Gradient: 0.06, Glare: true, Noise: 1.5, Seed: 3,
	})
}

// The photos that ship are what the camera takes of these scenes.
func TestPhotosAreOfTheirScenes(t *testing.T) {
	for i, scene := range shots(t) {
		img, _ := scene.Shoot()
		var raw bytes.Buffer
		require.NoError(t, jpeg.Encode(&raw, img, &jpeg.Options{Quality: 92}))
		shot, err := format.TakePhoto(context.Background(), bytes.NewReader(raw.Bytes()), int64(raw.Len()))
		require.NoError(t, err)
		if *update {
			require.NoError(t, os.WriteFile(photoFile(i), shot.JPEG, 0o644))
			continue
		}
		kept, err := photoFiles.ReadFile(photoFile(i))
		require.NoError(t, err)
		require.Less(t, apart(t, kept, shot.JPEG), 1.0, "photo %d: take it anew with -args -update", i)
	}
}

// apart is the mean difference of two photos, in 8-bit steps.
func apart(t *testing.T, a, b []byte) float64 {
	x, err := jpeg.Decode(bytes.NewReader(a))
	require.NoError(t, err)
	y, err := jpeg.Decode(bytes.NewReader(b))
	require.NoError(t, err)
	p, q := x.(*image.YCbCr), y.(*image.YCbCr)
	require.Equal(t, p.Bounds(), q.Bounds())
	sum := 0.0
	for i := range p.Y {
		sum += math.Abs(float64(p.Y[i]) - float64(q.Y[i]))
	}
	return sum / float64(len(p.Y))
}
