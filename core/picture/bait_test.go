package picture_test

import (
	"bytes"
	"context"
	"flag"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"math"
	"os"
	"path/filepath"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/mesh"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	. "cloudburst/core/picture"
)

var sheetFile = flag.String("sheet", "", "write every shape in three looks to this PNG")

func plan(t testing.TB, shape string, view bait.View, w, h int) *BaitPlan {
	t.Helper()
	s, err := bait.Find(shape)
	require.NoError(t, err)
	return PlanBait(s, view, w, h, false)
}

var allOfIt = bait.Structure{Layers: []bait.Layer{{Name: "all", Top: 1}}}

func single(p *BaitPlan, m *mix.Mix) *BaitPicture {
	return &BaitPicture{BaitPlan: p, Structure: allOfIt, Cups: []*mix.Mix{m}}
}

func laminate(at, blur float64) bait.Structure {
	return bait.Structure{Layers: []bait.Layer{{Name: "belly", Top: at, BlurMM: blur}, {Name: "back", Cup: 1, Top: 1}}}
}

// threeLayers is a poured bait of three cups, one of them full of flake.
func threeLayers(t testing.TB, p *BaitPlan) *BaitPicture {
	return &BaitPicture{BaitPlan: p, Cups: []*mix.Mix{
		heavy(t), stirred(t, map[string]float64{"clear-blue": 4}), stirred(t, map[string]float64{"titanium-white": 12}),
	}, Structure: bait.Structure{Layers: []bait.Layer{
		{Name: "belly", Top: -0.1, BlurMM: 1.5}, {
			Name: "vein", Cup: 1, Top: 0.2, BlurMM: 1.5,
		}, {Name: "back", Cup: 2, Top: 1},
	}}}
}

// Every shape in three looks on one sheet, to be looked at.
func TestSheetOfBaits(t *testing.T) {
	if *sheetFile == "" {
		t.Skip("no sheet is asked for")
	}
	flaky := heavy(t)
	back, belly, deep := stirred(t, map[string]float64{"clear-blue": 14, "carbon-black": 1}), stirred(
		t, map[string]float64{"titanium-white": 30},
	), stirred(t, map[string]float64{"clear-violet": 12, "clear-red": 8})
	const w, h = 380, 200
	shapes := bait.Shapes()
	sheet := image.NewRGBA(image.Rect(0, 0, 3*w, len(shapes)*h))
	for i, s := range shapes {
		p := PlanBait(s, s.Main(), w, h, false)
		at := benchLook
		grey := at
		grey.Ground = optics.Grey
		for k, img := range []*image.RGBA{
			single(p, flaky).Draw(at),
			(&BaitPicture{BaitPlan: p, Structure: laminate(0.1, 2), Cups: []*mix.Mix{belly, back}}).Draw(grey),
			single(p, deep).Draw(at),
		} {
			draw.Draw(sheet, image.Rect(k*w, i*h, (k+1)*w, (i+1)*h), img, image.Point{}, draw.Src)
		}
	}
	f, err := os.Create(*sheetFile)
	require.NoError(t, err)
	require.NoError(t, png.Encode(f, sheet))
	require.NoError(t, f.Close())
}

// Every kind of structure, light and view against a picture that was looked at. Where one differs, the test leaves the
// two and their difference side by side.
func TestGoldenBaits(t *testing.T) {
	changeable := stirred(t, map[string]float64{"clear-violet": 6, "clear-yellow": 16})
	pale, blue, black := stirred(
		t, map[string]float64{"titanium-white": 12},
	), stirred(t, map[string]float64{"clear-blue": 1}), stirred(t, map[string]float64{"carbon-black": 30})
	minnow := func(view bait.View) *BaitPlan { return plan(t, "paddle-minnow", view, 240, 100) }
	all := bait.Structure{
		Layers: laminate(0.1, 1).Layers, Core: &bait.Core{Cup: 2, WideMM: 5, FromMM: 8, ToMM: 70},
		Skin: &bait.Skin{Cup: 2, ToMM: 20, DeepMM: 1.5}, Tail: &bait.Tail{Cup: 2, FromMM: 88},
		Bars: []bait.Bar{{Cup: 2, AtMM: 50, WideMM: 5, DeepMM: 0.6}}, Spots: []bait.Spot{{
			Cup: 2, AtMM: 35, UpMM: 2, AcrossMM: 5, DeepMM: 0.8,
		}},
	}
	pictures := map[string]*BaitPicture{
		"laminate":        {BaitPlan: minnow(bait.Side), Structure: laminate(0.1, 2), Cups: []*mix.Mix{pale, heavy(t)}},
		"laminate-back":   {BaitPlan: minnow(bait.Back), Structure: laminate(0.1, 0), Cups: []*mix.Mix{pale, blue}},
		"laminate-belly":  {BaitPlan: minnow(bait.Belly), Structure: laminate(0.1, 0), Cups: []*mix.Mix{pale, blue}},
		"laminate-turned": {BaitPlan: minnow(bait.Quarter), Structure: laminate(0.1, 2), Cups: []*mix.Mix{pale, blue}},
		"laminate-odd": {
			BaitPlan: minnow(bait.Side), Structure: laminate(0, 2), Cups: []*mix.Mix{pale, blue},
			Split: bait.Split{ReachPct: []float64{60}, WanderMM: 2}, Cavity: 3,
		},
		"three-layers":    threeLayers(t, minnow(bait.Side)),
		"everything":      {BaitPlan: minnow(bait.Side), Structure: all, Cups: []*mix.Mix{pale, blue, black}},
		"everything-back": {BaitPlan: minnow(bait.Back), Structure: all, Cups: []*mix.Mix{pale, blue, black}},
		"core": {
			BaitPlan: plan(t, "stick", bait.Side, 240, 60),
			Structure: bait.Structure{
				Layers: []bait.Layer{{Top: 1}}, Core: &bait.Core{Cup: 1, WideMM: 5, FromMM: 10, ToMM: 115},
			},
			Cups: []*mix.Mix{blue, changeable},
		},
		"judged": {
			BaitPlan: minnow(bait.Side), Structure: laminate(0.1, 2), Cups: []*mix.Mix{pale, blue}, Judge: true,
		},
	}
	for _, key := range []string{"grub", "craw", "tube"} {
		s, err := bait.Find(key)
		require.NoError(t, err)
		pictures[key] = single(PlanBait(s, s.Main(), 240, 120, false), changeable)
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
			s, _ := bait.Find("paddle-minnow")
			golden(t, threeLayers(t, PlanBait(s, bait.Side, 240, 100, true)), "water-"+string(from), wet)
		})
	}
	lamp := benchLook
	lamp.Light = colour.LED
	golden(t, single(plan(t, "grub", bait.Side, 240, 120), changeable), "grub-under-a-lamp", lamp)
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
		t.Errorf(
			"a channel is off by %d; see %s. If the formula changed on purpose, run with -update", worst,
			leaveDiff(t, img, was),
		)
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
			out.Set(x, y+2*b.Dy(), color.RGBA{R: plain(p.R, q.R), G: plain(p.G, q.G), B: plain(p.B, q.B), A: 255})
		}
	}
	file := filepath.Join(os.TempDir(), "diff-"+filepath.Base(t.Name())+".png")
	var buf bytes.Buffer
	require.NoError(t, png.Encode(&buf, out))
	require.NoError(t, os.WriteFile(file, buf.Bytes(), 0o600))
	return file
}

// A chip is flat: judged face on, each of its steps is the colour that is predicted for it, whatever is in the cup.
func TestJudgedColoursAreThePredictedOnes(t *testing.T) {
	steps := []float64{1, 2, 4, 8, 12}
	p := PlanBait(bait.StepChip(steps), bait.Side, 480, 160, false)
	mixes := []map[string]float64{
		{"clear-violet": 6, "clear-yellow": 16},
		{"titanium-white": 12},
		{"clear-blue": 1},
		{"carbon-black": 30},
		{"clear-red": 4},
		{"clear-red": 40},
		{"clear-yellow": 2},
		{"clear-yellow": 30},
		{"clear-blue": 14, "carbon-black": 1},
		{"clear-violet": 20, "clear-red": 8},
		{"titanium-white": 1},
		{"titanium-white": 3, "clear-red": 9},
		{"titanium-white": 6, "clear-blue": 3},
		{"carbon-black": 1},
		{"carbon-black": 3, "clear-yellow": 9},
		{"clear-yellow": 12, "clear-blue": 2},
		{"clear-yellow": 12, "clear-red": 2},
		{"clear-violet": 1},
		{"clear-violet": 40},
		{},
	}
	worst := 0.0
	for _, drops := range mixes {
		m := stirred(t, drops)
		pic := single(p, m)
		pic.Judge = true
		for _, ground := range []optics.Ground{optics.White, optics.Dark, optics.Against} {
			at := benchLook
			at.Ground = ground
			light := pic.Light(at)
			for i, mm := range steps {
				at.ThicknessMM = mm
				px := int((float64(i*18)+9-p.Shape.ToX/2)*p.PxPerMM) + 240
				got := light(px, 80)
				want := m.Colour(at).Shown()
				off := colour.DeltaE00(got.Lab(), want.Lab())
				worst = max(worst, off)
				assert.LessOrEqual(t, off, 0.5, "%v, %v mm %s: %v for %v", drops, mm, ground, got, want)
			}
		}
	}
	t.Logf("ΔE00 %.2f at worst", worst)
}

// The tables against the stack itself, for layers across each other and what is laid over them: three looks, judged.
func TestTablesAgreeWithTheStack(t *testing.T) {
	for name, view := range map[string]bait.View{
		"side": bait.Side, "tilted": bait.Rolled(40), "belly": bait.Belly, "quarter": bait.Quarter,
	} {
		t.Run(name, func(t *testing.T) {
			p := threeLayers(t, plan(t, "paddle-minnow", view, 400, 160))
			p.Judge = true
			for _, m := range p.Cups {
				m.Flakes = nil
			}
			agrees(t, p, 0.5, 2.5)
			p.Structure.Spots = []bait.Spot{{Cup: 2, AtMM: 35, AcrossMM: 9, DeepMM: 0.5}}
			p.Structure.Core = &bait.Core{Cup: 1, WideMM: 4, FromMM: 5, ToMM: 70}
			agrees(t, p, 0.6, 3)
		})
	}
}

func agrees(t *testing.T, p *BaitPicture, meanOff, nearlyAll float64) {
	t.Helper()
	var offs []float64
	sum := 0.0
	p.Sharp(benchLook, func(got, want colour.RGB) {
		off := colour.DeltaE00(got.Lab(), want.Lab())
		offs = append(offs, off)
		sum += off
	})
	require.Greater(t, len(offs), 500)
	slices.Sort(offs)
	mean, most := sum/float64(len(offs)), offs[len(offs)*98/100]
	t.Logf("%d places, ΔE00 %.2f in the mean, 98 %% within %.1f", len(offs), mean, most)
	assert.LessOrEqual(t, mean, meanOff)
	assert.LessOrEqual(t, most, nearlyAll)
}

// What light goes through in a ball is as long as geometry says: the bent way through a sphere is 2·r·cos β.
func TestLightIsBentThroughABall(t *testing.T) {
	p := PlanBait(ball(t, 9), bait.Side, 400, 400, false)
	offs := []float64{}
	for _, c := range p.Cells() {
		d := math.Hypot(c.X, c.Y) / 9
		if d > 0.97 {
			continue
		}
		offs = append(offs, math.Abs(c.MM-18*math.Sqrt(1-d*d/2.25)))
	}
	slices.Sort(offs)
	require.Greater(t, len(offs), 10_000)
	t.Logf("half within %.3f mm, 99 %% within %.3f", offs[len(offs)/2], offs[len(offs)*99/100])
	assert.Less(t, offs[len(offs)*99/100], 0.1)
}

// The pieces and what lies between them come to what is seen at arm's length.
func TestFlakeIsNotCountedTwice(t *testing.T) {
	m := heavy(t)
	p := single(PlanBait(bait.StepChip([]float64{8, 8, 8}), bait.Side, 480, 240, false), m)
	p.Judge = true
	img := p.Draw(benchLook)
	var sum colour.RGB
	n := 0.0
	for y := 60; y < 180; y++ {
		for x := 60; x < 420; x++ {
			c := img.RGBAAt(x, y)
			sum.R, sum.G, sum.B = sum.R+colour.Decode(float64(c.R)/255), sum.G+colour.Decode(float64(c.G)/255), sum.B+
				colour.Decode(float64(c.B)/255)
			n++
		}
	}
	off := colour.DeltaE00(colour.RGB{R: sum.R / n, G: sum.G / n, B: sum.B / n}.Lab(), m.Colour(benchLook))
	t.Logf("ΔE00 %.2f from arm's length", off)
	assert.Less(t, off, 4.0)
}

func TestABaitShowsItsThickness(t *testing.T) {
	m := stirred(t, map[string]float64{"clear-violet": 6, "clear-yellow": 16})
	p := single(plan(t, "paddle-minnow", bait.Side, 520, 176), m)
	p.Judge = true
	img := p.Draw(benchLook)
	at := func(xMM, uMM float64) color.RGBA {
		x0, u0 := p.Place(0, 0)
		return img.RGBAAt(int((xMM-x0)*p.PxPerMM), int((u0-uMM)*p.PxPerMM))
	}
	body, fin := at(30, 0), at(49, 10.4)
	assert.Greater(t, int(fin.G), int(body.G)+60, "a fin is another hue than its body")
	white := mix.StackColour(nil, benchLook).SRGB()
	corner := img.RGBAAt(1, 1)
	assert.Equal(t, white, colour.SRGB8{R: corner.R, G: corner.G, B: corner.B})
	against := benchLook
	against.Ground = optics.Against
	assert.NotEqual(t, img.Pix, p.Draw(against).Pix)
}

// A bait with a hook's slot shows it.
func TestASlotIsSeen(t *testing.T) {
	s, _ := bait.Find("paddle-minnow")
	m := stirred(t, map[string]float64{"clear-blue": 6})
	whole := single(PlanBait(s, bait.Belly, 400, 120, false), m).Draw(benchLook)
	slotted := single(
		PlanBait(s.With(bait.Slot{FromMM: 22, ToMM: 50, DeepMM: 8, WideMM: 1.6}), bait.Belly, 400, 120, false), m,
	).Draw(benchLook)
	assert.Greater(t, furthest(slotted, whole), 30)
}

func BenchmarkPlan(b *testing.B) {
	for _, key := range []string{"paddle-minnow", "toad", "tube"} {
		b.Run(key, func(b *testing.B) {
			s, _ := bait.Find(key)
			for b.Loop() {
				PlanBait(s, bait.Quarter, 960, 480, false)
			}
		})
	}
}

func BenchmarkRecolour(b *testing.B) {
	for name, p := range map[string]*BaitPicture{
		"one-cup": single(
			plan(b, "paddle-minnow", bait.Side, 960, 480), stirred(b, map[string]float64{"clear-blue": 6}),
		),
		"flake":  single(plan(b, "paddle-minnow", bait.Side, 960, 480), heavy(b)),
		"layers": threeLayers(b, plan(b, "paddle-minnow", bait.Side, 960, 480)),
	} {
		b.Run(name, func(b *testing.B) {
			p.Laid = Lay(p.BaitPlan, &p.Structure, p.Split, 0)
			b.ReportAllocs()
			for b.Loop() {
				p.Draw(benchLook)
			}
		})
	}
}

func BenchmarkLay(b *testing.B) {
	p := threeLayers(b, plan(b, "paddle-minnow", bait.Side, 960, 480))
	for b.Loop() {
		Lay(p.BaitPlan, &p.Structure, p.Split, 0)
	}
}

// BenchmarkTurn is a picture while a bait is turned, half as large.
func BenchmarkTurn(b *testing.B) {
	p := threeLayers(b, nil)
	s, _ := bait.Find("paddle-minnow")
	p.Palette = NewPalette(p.Cups, benchLook)
	for b.Loop() {
		p.BaitPlan, p.Laid = GlanceAtBait(s, bait.Quarter, 480, 240, false), nil
		p.Draw(benchLook)
	}
}

func ball(t testing.TB, r float64) bait.Shape {
	t.Helper()
	m, err := meshOfBall(r)
	require.NoError(t, err)
	return bait.Imported("ball", m, false)
}

func meshOfBall(r float64) (*mesh.Mesh, error) {
	return mesh.Over(
		context.Background(), mesh.Field(func(p bait.Vec) float64 { return p.Long() - r }),
		bait.Vec{-r - 2, -r - 2, -r - 2},
		bait.Vec{r + 2, r + 2, r + 2}, 0.34,
	)
}
