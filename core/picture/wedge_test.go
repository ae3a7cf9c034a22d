package picture_test

import (
	"bytes"
	"flag"
	"image"
	"image/png"
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
	. "cloudburst/core/picture"
)

var update = flag.Bool("update", false, "write the golden pictures anew")

func stirred(t testing.TB, drops map[string]float64) *mix.Mix {
	t.Helper()
	f, _ := material.FindFamily("medium-plastisol")
	shelf := cup.Shelf{"base": f.New("base", "Base")}
	c := cup.Cup{Volume: measure.Volume{Typed: "1 cup", ML: measure.CupML}, Plastisol: "base"}
	for key, n := range drops {
		f, ok := material.FindFamily(key)
		require.True(t, ok, key)
		shelf[key] = f.New(key, f.Name)
		c.Doses = append(c.Doses, cup.DripOf(key, n))
	}
	m, err := mix.Stir(&c, shelf)
	require.NoError(t, err)
	return m
}

var size = WedgeSize{Width: 480, Strip: 20}

func TestGoldenWedges(t *testing.T) {
	for name, drops := range map[string]map[string]float64{
		"plain":      {},
		"grey":       {"grey-tint": 12},
		"amber":      {"clear-yellow": 14, "clear-brown": 5},
		"solid-lime": {"solid-yellow": 12, "clear-green": 1},
		"changeable": {"clear-violet": 2, "clear-yellow": 30},
	} {
		t.Run(name, func(t *testing.T) {
			img := Wedge(
				stirred(t, drops), mix.Condition{Light: colour.D65}, size, optics.White, optics.Dark, optics.Against,
			)
			file := "testdata/wedge-" + name + ".png"
			if *update {
				var buf bytes.Buffer
				require.NoError(t, png.Encode(&buf, img))
				require.NoError(t, os.WriteFile(file, buf.Bytes(), 0o644))
			}
			raw, err := os.ReadFile(file)
			require.NoError(t, err)
			golden, err := png.Decode(bytes.NewReader(raw))
			require.NoError(t, err)
			assert.LessOrEqual(
				t, furthest(img, golden), 2,
				"a channel is off: if the formula changed on purpose, run with -update and look at the pictures",
			)
		})
	}
}

// furthest is the largest difference of a channel between two pictures.
func furthest(p, q image.Image) int {
	if p.Bounds() != q.Bounds() {
		return 255
	}
	worst := 0
	for y := range p.Bounds().Dy() {
		for x := range p.Bounds().Dx() {
			r1, g1, b1, _ := p.At(x, y).RGBA()
			r2, g2, b2, _ := q.At(x, y).RGBA()
			for _, d := range []int{int(r1>>8) - int(r2>>8), int(g1>>8) - int(g2>>8), int(b1>>8) - int(b2>>8)} {
				worst = max(worst, d, -d)
			}
		}
	}
	return worst
}

func TestWedgeShowsTheMixAtItsThickness(t *testing.T) {
	m := stirred(t, map[string]float64{"clear-red": 8})
	img := Wedge(m, mix.Condition{Light: colour.D65}, size, optics.White, optics.Against)
	for _, x := range []int{0, 133, 479} {
		mm := WedgeMM((float64(x) + 0.5) / 480)
		for strip, ground := range []optics.Ground{optics.White, optics.Against} {
			want := m.Colour(mix.Condition{ThicknessMM: mm, Ground: ground, Light: colour.D65}).SRGB()
			got := img.RGBAAt(x, strip*20+7)
			assert.InDelta(t, want.R, got.R, 1)
			assert.InDelta(t, want.G, got.G, 1)
			assert.InDelta(t, want.B, got.B, 1)
		}
	}
	for _, mark := range Marks() {
		assert.True(t, mark.MM >= WedgeFromMM && mark.MM <= WedgeToMM, mark.Name)
	}
	assert.InDelta(t, WedgeFromMM, WedgeMM(0), 1e-12)
	assert.InDelta(t, WedgeToMM, WedgeMM(1), 1e-9)
}

// The picture behind every tap of the bench: five colourants, three strips, at the size the bench asks for.
func BenchmarkWedge(b *testing.B) {
	m := stirred(
		b, map[string]float64{
			"clear-red": 8, "carbon-black": 2, "titanium-white": 4, "clear-blue": 1, "clear-yellow": 9,
		},
	)
	b.ReportAllocs()
	for b.Loop() {
		img := Wedge(m, mix.Condition{Light: colour.D65}, BenchWedge, optics.White, optics.Dark, optics.Against)
		if err := EncodePNG(&bytes.Buffer{}, img); err != nil {
			b.Fatal(err)
		}
	}
}
