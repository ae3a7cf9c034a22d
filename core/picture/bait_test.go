package picture_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"math"
	"os"
	"path/filepath"
	"slices"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	. "cloudburst/core/picture"
)

func plan(t testing.TB, shape string, view bait.View, w, h int) *BaitPlan {
	t.Helper()
	s, err := bait.Find(shape)
	require.NoError(t, err)
	return PlanBait(s, view, w, h)
}

func single(p *BaitPlan, m *mix.Mix) *BaitPicture {
	return &BaitPicture{BaitPlan: p, Structure: bait.Structure{Layers: []bait.Layer{{Name: "all", Top: 1}}}, Cups: []*mix.Mix{m}}
}

func laminate(at, blur float64) bait.Structure {
	return bait.Structure{Layers: []bait.Layer{{Name: "belly", Top: at, BlurMM: blur}, {Name: "back", Cup: 1, Top: 1}}}
}

// threeLayers is a poured bait of three cups, one of them full of flake.
func threeLayers(t testing.TB, p *BaitPlan) *BaitPicture {
	return &BaitPicture{BaitPlan: p, Cups: []*mix.Mix{heavy(t), stirred(t, map[string]float64{"clear-blue": 4}), stirred(t, map[string]float64{"titanium-white": 12})}, Structure: bait.Structure{Layers: []bait.Layer{
		{Name: "belly", Top: -0.1, BlurMM: 1.5}, {Name: "vein", Cup: 1, Top: 0.2, BlurMM: 1.5}, {Name: "back", Cup: 2, Top: 1},
	}}}
}

// Every shape and structure against a picture that was looked at. Where one differs, the test leaves the two and their
// difference side by side.
func TestGoldenBaits(t *testing.T) {
	changeable := stirred(t, map[string]float64{"clear-violet": 6, "clear-yellow": 16})
	pale, blue, black := stirred(t, map[string]float64{"titanium-white": 12}), stirred(t, map[string]float64{"clear-blue": 1}), stirred(t, map[string]float64{"carbon-black": 30})
	minnow := func(view bait.View) *BaitPlan { return plan(t, "paddle-minnow", view, 240, 100) }
	all := bait.Structure{
		Layers: laminate(0.1, 1).Layers, Core: &bait.Core{Cup: 2, WideMM: 5, FromMM: 8, ToMM: 70},
		Skin: &bait.Skin{Cup: 2, ToMM: 20, DeepMM: 1.5}, Tail: &bait.Tail{Cup: 2, FromMM: 88},
		Bars: []bait.Bar{{Cup: 2, AtMM: 50, WideMM: 5, DeepMM: 0.6}}, Spots: []bait.Spot{{Cup: 2, AtMM: 35, UpMM: 2, AcrossMM: 5, DeepMM: 0.8}},
	}
	pictures := map[string]*BaitPicture{
		"laminate":        {BaitPlan: minnow(bait.Side), Structure: laminate(0.1, 2), Cups: []*mix.Mix{pale, heavy(t)}},
		"laminate-back":   {BaitPlan: minnow(bait.Back), Structure: laminate(0.1, 0), Cups: []*mix.Mix{pale, blue}},
		"laminate-belly":  {BaitPlan: minnow(bait.Belly), Structure: laminate(0.1, 0), Cups: []*mix.Mix{pale, blue}},
		"laminate-tilt":   {BaitPlan: minnow(35), Structure: laminate(0.1, 2), Cups: []*mix.Mix{pale, blue}},
		"laminate-odd":    {BaitPlan: minnow(bait.Side), Structure: laminate(0, 2), Cups: []*mix.Mix{pale, blue}, Split: bait.Split{ReachPct: []float64{60}, WanderMM: 2}, Cavity: 3},
		"three-layers":    threeLayers(t, minnow(bait.Side)),
		"everything":      {BaitPlan: minnow(bait.Side), Structure: all, Cups: []*mix.Mix{pale, blue, black}},
		"everything-back": {BaitPlan: minnow(bait.Back), Structure: all, Cups: []*mix.Mix{pale, blue, black}},
		"core":            {BaitPlan: plan(t, "stick", bait.Side, 240, 60), Structure: bait.Structure{Layers: []bait.Layer{{Top: 1}}, Core: &bait.Core{Cup: 1, WideMM: 5, FromMM: 10, ToMM: 115}}, Cups: []*mix.Mix{blue, changeable}},
	}
	for _, s := range bait.Shapes() {
		pictures[s.Key] = single(PlanBait(s, s.Main(), 240, 120), changeable)
	}
	for name, p := range pictures {
		t.Run(name, func(t *testing.T) {
			golden(t, p, name, benchLook)
		})
	}
	for _, from := range optics.Froms() {
		t.Run("water-"+string(from), func(t *testing.T) {
			wet := benchLook
			wet.Water, wet.DepthM, wet.DistanceM, wet.From = optics.Green, 1, 0.6, from
			golden(t, threeLayers(t, minnow(bait.Side)), "water-"+string(from), wet)
		})
	}
}

func golden(t *testing.T, p *BaitPicture, name string, at mix.Condition) {
	t.Helper()
	img := p.Draw(at)
	assert.Equal(t, img.Pix, p.Draw(at).Pix, "the same input gives the same picture, byte for byte")
	file := "testdata/bait-" + name + ".png"
	if *update {
		var buf bytes.Buffer
		require.NoError(t, png.Encode(&buf, img))
		require.NoError(t, os.WriteFile(file, buf.Bytes(), 0o644))
	}
	raw, err := os.ReadFile(file)
	require.NoError(t, err)
	was, err := png.Decode(bytes.NewReader(raw))
	require.NoError(t, err)
	if worst := furthest(img, was); worst > 3 {
		t.Errorf("a channel is off by %d; see %s. If the formula changed on purpose, run with -update", worst, leaveDiff(t, img, was))
	}
}

// The tables, and what is drawn between worked-out pixels, against the stack itself. Layers keep within what a screen
// shows; a bait with a core, a spot and layers across each other, of which the deepest are joined, is looser.
func TestTablesAgreeWithTheStack(t *testing.T) {
	for name, view := range map[string]bait.View{"side": bait.Side, "tilted": 40, "belly": bait.Belly} {
		t.Run(name, func(t *testing.T) {
			p := threeLayers(t, plan(t, "paddle-minnow", view, 400, 160))
			agrees(t, p, 1.3, 8)
			p.Structure.Spots = []bait.Spot{{Cup: 2, AtMM: 35, AcrossMM: 9, DeepMM: 0.5}}
			p.Structure.Core = &bait.Core{Cup: 1, WideMM: 4, FromMM: 5, ToMM: 70}
			agrees(t, p, 1.5, 10)
		})
	}
}

func agrees(t *testing.T, p *BaitPicture, meanOff, nearlyAll float64) {
	t.Helper()
	for _, m := range p.Cups {
		m.Flakes = nil
	}
	img := p.Draw(benchLook)
	cutter := bait.NewCutter(&p.Shape, &p.Structure, p.Split, 0)
	parts := p.Structure.Parts()
	var col bait.Column
	var offs []float64
	sum := 0.0
	for px := 3; px < p.Width; px += 7 {
		for py := 2; py < p.Height; py += 5 {
			x, u := p.Place(float64(px), float64(py))
			p.Shape.Column(x, p.View, &col)
			under := col.At(u)
			if under.Round < 0.5 || x > p.Shape.ToX-1 { // edges are softened
				continue
			}
			var stack []mix.Slice
			for _, r := range cutter.Cut(&col, u, &under) {
				stack = append(stack, mix.Slice{Mix: mix.Blend(p.Cups[parts[r.Part].Cup], p.Cups[parts[r.Other].Cup], r.Share), MM: r.MM})
			}
			want := mix.StackColour(stack, benchLook).SRGB()
			shade := 0.9 + 0.1*under.Round
			got := img.RGBAAt(px, py)
			for _, c := range [3][2]uint8{{want.R, got.R}, {want.G, got.G}, {want.B, got.B}} {
				e := math.Abs(255*colour.Encode(shade*colour.Decode(float64(c[0])/255)) - float64(c[1]))
				sum += e
				offs = append(offs, e)
			}
		}
	}
	require.Greater(t, len(offs), 500)
	slices.Sort(offs)
	mean, most := sum/float64(len(offs)), offs[len(offs)*98/100]
	t.Logf("%d channels, mean %.2f, 98 %% within %.1f of 255", len(offs), mean, most)
	assert.LessOrEqual(t, mean, meanOff)
	assert.LessOrEqual(t, most, nearlyAll)
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
			out.Set(x, y+2*b.Dy(), color.RGBA{R: plain(p.R, q.R), G: plain(p.G, q.G), B: plain(p.B, q.B), A: 255})
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
	white := mix.StackColour(nil, benchLook).SRGB()
	corner := img.RGBAAt(1, 1)
	assert.Equal(t, white, colour.SRGB8{R: corner.R, G: corner.G, B: corner.B})
	against := benchLook
	against.Ground = optics.Against
	assert.NotEqual(t, img.Pix, p.Draw(against).Pix)
}

// A picture of 960 × 480 of three layers with thousands of pieces; then three views of it.
func BenchmarkBait(b *testing.B) {
	p := threeLayers(b, plan(b, "paddle-minnow", bait.Side, 960, 480))
	b.ReportAllocs()
	for b.Loop() {
		p.Draw(benchLook)
	}
}

// As the program draws them: at once, on the cores there are.
func BenchmarkThreeViews(b *testing.B) {
	var views []*BaitPicture
	for _, v := range []bait.View{bait.Side, bait.Back, bait.Belly} {
		views = append(views, threeLayers(b, plan(b, "paddle-minnow", v, 960, 480)))
	}
	for b.Loop() {
		var drawing sync.WaitGroup
		for _, p := range views {
			drawing.Go(func() { p.Draw(benchLook) })
		}
		drawing.Wait()
	}
}

func BenchmarkPlanBait(b *testing.B) {
	s, _ := bait.Find("paddle-minnow")
	for b.Loop() {
		PlanBait(s, 30, 960, 480)
	}
}
