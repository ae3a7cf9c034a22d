package picture_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/optics"
	. "cloudburst/core/picture"
	"cloudburst/core/recipe"
)

func plan(t testing.TB, shape string, view bait.View, w, h int) *BaitPlan {
	t.Helper()
	s, err := bait.Find(shape)
	require.NoError(t, err)
	return PlanBait(s, view, w, h)
}

func single(p *BaitPlan, m *recipe.Mix) *BaitPicture {
	return &BaitPicture{BaitPlan: p, Structure: bait.Structure{Kind: bait.Single}, First: m}
}

// Every shape and structure against a picture that was looked at. Where one differs, the test leaves the two and their
// difference side by side.
func TestGoldenBaits(t *testing.T) {
	changeable := stirred(t, map[string]float64{"clear-violet": 6, "clear-yellow": 16})
	pale, blue := stirred(t, map[string]float64{"titanium-white": 12}), stirred(t, map[string]float64{"clear-blue": 1})
	pictures := map[string]*BaitPicture{
		"laminate":      {BaitPlan: plan(t, "paddle-minnow", bait.Side, 240, 100), Structure: bait.Structure{Kind: bait.Laminate, BoundaryAt: 0.1, BlurMM: 2}, First: heavy(t), Second: pale},
		"laminate-back": {BaitPlan: plan(t, "paddle-minnow", bait.Back, 240, 100), Structure: bait.Structure{Kind: bait.Laminate, BoundaryAt: 0.1}, First: blue, Second: pale},
		"core":          {BaitPlan: plan(t, "stick", bait.Side, 240, 60), Structure: bait.Structure{Kind: bait.Core, CoreShare: 0.5}, First: blue, Second: changeable},
	}
	for _, s := range bait.Shapes() {
		pictures[s.Key] = single(plan(t, s.Key, bait.Side, 240, 120), changeable)
	}
	for name, p := range pictures {
		t.Run(name, func(t *testing.T) {
			img := p.Draw(benchLook)
			assert.Equal(t, img.Pix, p.Draw(benchLook).Pix, "the same input gives the same picture, byte for byte")
			file := "testdata/bait-" + name + ".png"
			if *update {
				var buf bytes.Buffer
				require.NoError(t, png.Encode(&buf, img))
				require.NoError(t, os.WriteFile(file, buf.Bytes(), 0o644))
			}
			raw, err := os.ReadFile(file)
			require.NoError(t, err)
			golden, err := png.Decode(bytes.NewReader(raw))
			require.NoError(t, err)
			if worst := furthest(img, golden); worst > 3 {
				t.Errorf("a channel is off by %d; see %s. If the formula changed on purpose, run with -update", worst, leaveDiff(t, img, golden))
			}
		})
	}
}

// leaveDiff writes what is, what was, and their difference made plain.
func leaveDiff(t *testing.T, is *image.RGBA, was image.Image) string {
	t.Helper()
	b := is.Bounds()
	out := image.NewRGBA(image.Rect(0, 0, b.Dx(), 3*b.Dy()))
	for y := range b.Dy() {
		for x := range b.Dx() {
			p, q := is.RGBAAt(x, y), color.RGBAModel.Convert(was.At(x, y)).(color.RGBA)
			out.Set(x, y, p)
			out.Set(x, y+b.Dy(), q)
			plain := func(a, b uint8) uint8 { return uint8(min(255, 8*max(int(a)-int(b), int(b)-int(a)))) }
			out.Set(x, y+2*b.Dy(), color.RGBA{plain(p.R, q.R), plain(p.G, q.G), plain(p.B, q.B), 255})
		}
	}
	file := filepath.Join(os.TempDir(), "diff-"+filepath.Base(t.Name())+".png")
	var buf bytes.Buffer
	require.NoError(t, png.Encode(&buf, out))
	require.NoError(t, os.WriteFile(file, buf.Bytes(), 0o600))
	return file
}

func TestABaitShowsItsThickness(t *testing.T) {
	m := stirred(t, map[string]float64{"clear-violet": 6, "clear-yellow": 16})
	p := single(plan(t, "paddle-minnow", bait.Side, 520, 176), m)
	img := p.Draw(benchLook)
	at := func(xMM, yMM float64) (colour.SRGB8, float64) {
		x0 := (520/p.PxPerMM - 100) / 2
		c := img.RGBAAt(int((xMM+x0)*p.PxPerMM), int(88-yMM*p.PxPerMM))
		return colour.SRGB8{R: c.R, G: c.G, B: c.B}, p.Shape.At(xMM, yMM, bait.Side).MM
	}
	for _, where := range []float64{30, 95} { // body and paddle
		got, mm := at(where, 0)
		look := benchLook
		look.ThicknessMM = mm
		want := m.Colour(look).SRGB()
		assert.InDelta(t, float64(want.R), float64(got.R), 12, "%v mm thick: %v, is %v", mm, want, got)
		assert.InDelta(t, float64(want.G), float64(got.G), 12)
		assert.InDelta(t, float64(want.B), float64(got.B), 12)
	}
	body, _ := at(30, 0)
	fin, _ := at(95, 0)
	assert.Greater(t, int(fin.G), int(body.G)+60, "a fin is another hue than its body")
	white := recipe.StackColour(nil, benchLook).SRGB()
	corner := img.RGBAAt(1, 1)
	assert.Equal(t, white, colour.SRGB8{R: corner.R, G: corner.G, B: corner.B})
	against := benchLook
	against.Ground = optics.Against
	assert.NotEqual(t, img.Pix, p.Draw(against).Pix)
}

// A picture of 960 × 480 of a laminate with thousands of pieces.
func BenchmarkBait(b *testing.B) {
	p := &BaitPicture{
		BaitPlan: plan(b, "paddle-minnow", bait.Side, 960, 480), Structure: bait.Structure{Kind: bait.Laminate, BlurMM: 2},
		First: heavy(b), Second: stirred(b, map[string]float64{"titanium-white": 12}),
	}
	b.ReportAllocs()
	for b.Loop() {
		p.Draw(benchLook)
	}
}

func BenchmarkPlanBait(b *testing.B) {
	s, _ := bait.Find("paddle-minnow")
	for b.Loop() {
		PlanBait(s, bait.Side, 960, 480)
	}
}
