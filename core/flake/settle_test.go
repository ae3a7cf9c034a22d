package flake

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cloudburst/core/colour"
	"cloudburst/core/photo"
)

// scene is an even base on which pieces are laid in cells, as light.
type scene struct {
	light []colour.RGB
	cols  int
	next  int
	rng   *rand.Rand
}

const square, rows = 48, 10 // px

func newScene(base colour.RGB, cells int) *scene {
	s := &scene{cols: (cells + rows - 1) / rows, rng: rand.New(rand.NewPCG(3, 4))}
	s.light = make([]colour.RGB, square*s.cols*square*rows)
	for i := range s.light {
		s.light[i] = base
	}
	return s
}

// cell is the middle of the next one.
func (s *scene) cell() (x, y float64) {
	x, y = square*(float64(s.next/rows)+0.5)+s.rng.Float64(), square*(float64(s.next%rows)+0.5)+s.rng.Float64()
	s.next++
	return x, y
}

// lay lays a disc, through which nothing shows.
func (s *scene) lay(x, y, across float64, c colour.RGB) {
	w := square * s.cols
	for v := int(y - across); v < int(y+across); v++ {
		for u := int(x - across); u < int(x+across); u++ {
			if u < 0 || v < 0 || u >= w || v >= square*rows {
				continue
			}
			covered := min(1, max(0, across/2+0.5-math.Hypot(float64(u)+0.5-x, float64(v)+0.5-y)))
			p := &s.light[v*w+u]
			p.R, p.G, p.B = p.R+(c.R-p.R)*covered, p.G+(c.G-p.G)*covered, p.B+(c.B-p.B)*covered
		}
	}
}

// count is what is found on a shot of it, whose noise is so many encoded steps, by size from the smallest.
func (s *scene) count(t *testing.T, noise float64) *Found {
	t.Helper()
	return countAll(t, s.shot(noise))
}

func countAll(t *testing.T, img image.Image) *Found {
	t.Helper()
	got, err := Count(
		t.Context(), photo.Take(img), Rect{X1: float64(img.Bounds().Dx()), Y1: float64(img.Bounds().Dy())}, 20,
	)
	require.NoError(t, err)
	return got
}

// shot is a picture of it, whose noise is so many encoded steps.
func (s *scene) shot(noise float64) image.Image {
	w := square * s.cols
	img := image.NewRGBA(image.Rect(0, 0, w, square*rows))
	step := func(v float64) uint8 {
		return uint8(min(255, max(0, math.Round(255*colour.Encode(v)+noise*s.rng.NormFloat64()))))
	}
	for i, p := range s.light {
		img.SetRGBA(i%w, i/w, color.RGBA{R: step(p.R), G: step(p.G), B: step(p.B), A: 255})
	}
	return img
}

// of is the number of the kind that has about a size.
func (f *Found) of(sizePX float64) int {
	for _, k := range f.Classes {
		if size := k.SizeIN * 25.4 * 20; math.Abs(size/sizePX-1) < 0.15 {
			return k.Count
		}
	}
	return 0
}

var pale, darkRed, black = colour.RGB{R: 0.6, G: 0.6, B: 0.6}, colour.RGB{R: 0.5, G: 0.05, B: 0.05}, colour.RGB{R: 0.03, G: 0.03, B: 0.03}

// A piece that another kind's piece half hides is one, and so is that.
func TestHalfHiddenByAnotherKind(t *testing.T) {
	s := newScene(pale, 90)
	for n := range 40 {
		x, y := s.cell()
		s.lay(x, y, 24, darkRed)
		if n < 20 {
			sin, cos := math.Sincos(float64(n))
			s.lay(x+9*cos, y+9*sin, 14, black)
		}
	}
	for range 50 {
		x, y := s.cell()
		s.lay(x, y, 14, black)
	}
	got := s.count(t, 1)
	require.Len(t, got.Classes, 2)
	assert.InDelta(t, 40, got.of(24), 1, "red")
	assert.InDelta(t, 70, got.of(14), 1, "black")
}

// Two that touch are as long as one of a coarser kind, but have their own kind's hue: they are two of it.
func TestTwoThatTouchAreNoCoarserOne(t *testing.T) {
	s := newScene(pale, 120)
	for range 40 {
		x, y := s.cell()
		s.lay(x, y, 24, darkRed)
	}
	for n := range 80 {
		x, y := s.cell()
		s.lay(x, y, 14, black)
		if n < 10 {
			sin, cos := math.Sincos(float64(n))
			apart := 3 + 0.9*float64(n)
			s.lay(x+apart*cos, y+apart*sin, 14, black)
		}
	}
	got := s.count(t, 1)
	require.Len(t, got.Classes, 2)
	assert.InDelta(t, 40, got.of(24), 1, "red")
	assert.InDelta(t, 90, got.of(14), 2, "black")
}

// A deep piece of a tinted base has its hue rather than its own, and so differs as the other kind's deep ones do: it
// goes by its size.
func TestDeepPiecesGoByTheirSize(t *testing.T) {
	olive := colour.RGB{R: 0.3, G: 0.35, B: 0.1}
	through := func(c colour.RGB, depth float64) colour.RGB { // what is left of a colour down there
		f := math.Exp(-depth)
		return colour.RGB{
			R: olive.R + (c.R-olive.R)*f, G: olive.G*0.75 + (c.G-olive.G*0.75)*f, B: olive.B*0.7 + (c.B-olive.B*0.7)*f,
		}
	}
	s := newScene(olive, 100)
	for n := range 50 {
		depth := float64(n) / 20
		x, y := s.cell()
		s.lay(x, y, 22, through(colour.RGB{R: 0.05, G: 0.1, B: 0.5}, depth))
		x, y = s.cell()
		s.lay(x, y, 13, through(colour.RGB{R: 0.5, G: 0.04, B: 0.04}, depth))
	}
	got := s.count(t, 1)
	require.Len(t, got.Classes, 2)
	assert.InDelta(t, 50, got.of(22), 2, "blue")
	assert.InDelta(t, 50, got.of(13), 2, "red")
}

// The noise of a dark base's darkest channel makes no pieces and no kinds.
func TestNoiseOfADarkChannelIsNoFlake(t *testing.T) {
	s := newScene(colour.RGB{R: 0.25, G: 0.3, B: 0.006}, 100)
	for range 60 {
		x, y := s.cell()
		s.lay(x, y, 12, colour.RGB{R: 0.02, G: 0.08, B: 0.02})
	}
	got := s.count(t, 2.5)
	require.Len(t, got.Classes, 1)
	assert.InDelta(t, 60, got.Classes[0].Count, 2)
}

// What compression leaves of strong colours beside them is no flake.
func TestWhatCompressionLeavesIsNoFlake(t *testing.T) {
	s := newScene(colour.RGB{R: 0.11, G: 0.2, B: 0.056}, 400)
	for n := range 400 {
		x, y := s.cell()
		if n%2 == 0 {
			s.lay(x, y, 22, colour.RGB{R: 0.4, G: 0.01, B: 0.01})
		} else {
			s.lay(x, y, 11, colour.RGB{R: 0.005, G: 0.06, B: 0.35})
		}
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, s.shot(1.5), &jpeg.Options{Quality: 80}))
	kept, err := jpeg.Decode(&b)
	require.NoError(t, err)
	got := countAll(t, kept)
	require.Len(t, got.Classes, 2)
	assert.InDelta(t, 200, got.of(22), 2, "red")
	assert.InDelta(t, 200, got.of(11), 2, "blue")
}

// The same of pieces that split the light, before anything is made of them: what compression leaves of all their hues is
// of every hue, too.
func TestWhatCompressionLeavesOfManyHuesIsNoPiece(t *testing.T) {
	s := newScene(colour.RGB{R: 0.2, G: 0.4, B: 0.06}, 400)
	for n := range 400 {
		x, y := s.cell()
		s.lay(x, y, 13, colour.Lab{L: 60, A: 90 * math.Cos(float64(n)), B: 90 * math.Sin(float64(n))}.Linear())
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, s.shot(2), &jpeg.Options{Quality: 60}))
	kept, err := jpeg.Decode(&b)
	require.NoError(t, err)
	c := &area{w: kept.Bounds().Dx(), h: kept.Bounds().Dy(), px: 20}
	c.read(photo.Take(kept), 0, 0, 1)
	c.base()
	c.differ()
	c.label()
	c.part()
	assert.InDelta(t, 400, len(c.parts), 6)
}

// A fine flake about as light as its base beside a coarse one that differs much is no rim of that: it lies apart.
func TestAFaintFlakeBesideAPlainOne(t *testing.T) {
	s := newScene(pale, 240)
	for n := range 240 {
		x, y := s.cell()
		if n%6 == 0 {
			s.lay(x, y, 30, colour.RGB{R: 0.6, G: 0.5, B: 0.01})
		} else {
			faint := 0.6 * (0.875 + 0.01*math.Sin(float64(n)))
			s.lay(x, y, 14, colour.RGB{R: faint, G: faint, B: faint})
		}
	}
	got := s.count(t, 1.5)
	require.Len(t, got.Classes, 2)
	assert.InDelta(t, 40, got.of(30), 2, "gold")
	assert.InDelta(t, 200, got.of(14), 10, "silver")
}

// A mirror's pieces are brighter than their base, darker, or about as light: all are one kind.
func TestAMirrorIsOneKind(t *testing.T) {
	s := newScene(colour.RGB{R: 0.3, G: 0.35, B: 0.15}, 90)
	for n := range 90 {
		flash := 0.12 + 0.9*math.Pow(float64(n)/90, 2)
		x, y := s.cell()
		s.lay(x, y, 14, colour.RGB{R: flash, G: flash, B: flash})
	}
	got := s.count(t, 1)
	require.Len(t, got.Classes, 1)
	assert.InDelta(t, 90, got.Classes[0].Count, 3)
}

// A kind's sizes are spread as shares of a whole: most whole pieces have the kind's own, and of broken ones more are
// smaller than larger.
func TestHowAKindsSizesAreSpread(t *testing.T) {
	const size, steps = 1.0, 4000
	for _, broken := range []bool{false, true} {
		b := blob{solid: 1, at: make([]int32, 3*least)}
		if broken {
			b.solid = 0.8
		}
		all, own, smaller, larger := 0.0, 0.0, 0.0, 0.0
		for i := range steps {
			off := -2 + 4*(float64(i)+0.5)/steps
			b.sizeMM = size * math.Exp(off)
			p := b.sized(size) * 4 / steps
			all += p
			switch {
			case math.Abs(off) < 0.2:
				own += p
			case off < 0:
				smaller += p
			default:
				larger += p
			}
		}
		assert.InDelta(t, 1, all, 0.2, "broken: %v", broken)
		assert.Greater(t, smaller, larger)
		assert.Equal(t, broken, own < all/2, "broken: %v", broken)
	}
}

// A piece of a size that leaves no doubt stays with its kind; settling twice changes nothing more; and no piece is lost
// or gained.
func TestSettlingKeepsEveryPiece(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := &area{weight: [3]float64{1, 1, rapid.Float64Range(0.3, 1).Draw(t, "noise")}}
		dirs := [2][3]float64{{-0.8, -0.5, 0.3}, {0.3, -0.8, -0.5}}
		sizes := [2]float64{0.6, 1}
		kinds := make([]kind, 2)
		n := rapid.IntRange(20, 60).Draw(t, "pieces")
		for i := range 2 * n {
			k := i % 2
			b := blob{
				solid: 1, at: make([]int32, 3*least),
				sizeMM: sizes[k] * math.Exp(rapid.Float64Range(-0.05, 0.05).Draw(t, "off")),
			}
			strong := rapid.Float64Range(0.5, 1.5).Draw(t, "strong")
			for ch := range 3 {
				b.mean[ch] = dirs[k][ch]*strong + rapid.Float64Range(-0.02, 0.02).Draw(t, "hue")
			}
			c.parts = append(c.parts, b)
			to := k
			if i < 4 { // two of each were taken for the other kind
				to = 1 - k
			}
			kinds[to].members = append(kinds[to].members, i)
		}
		for k := range kinds {
			kinds[k].sizeMM = sizes[k]
		}
		c.settle(kinds)
		for k := range kinds {
			if len(kinds[k].members) != n {
				t.Fatalf("%d of %d", len(kinds[k].members), n)
			}
			for _, m := range kinds[k].members {
				if m%2 != k {
					t.Fatalf("piece %d lies with kind %d", m, k)
				}
			}
		}
		before := [][]int{slices.Clone(kinds[0].members), slices.Clone(kinds[1].members)}
		c.settle(kinds)
		for k := range kinds {
			if !slices.Equal(slices.Sorted(slices.Values(before[k])), slices.Sorted(slices.Values(kinds[k].members))) {
				t.Fatalf("settled again, kind %d is another", k)
			}
		}
	})
}

// Where the plastic is burnt out, flake about as light as it is lost, and the count says so.
func TestACountSaysThatThePhotoIsTooBright(t *testing.T) {
	for _, bright := range []float64{0.6, 1.3} {
		s := newScene(colour.RGB{R: bright, G: bright, B: bright}, 60)
		for range 60 {
			x, y := s.cell()
			s.lay(x, y, 20, darkRed)
		}
		got := s.count(t, 1)
		require.Len(t, got.Classes, 1)
		if bright > 1 {
			assert.Contains(t, got.Warning, "too bright")
		} else {
			assert.Empty(t, got.Warning)
		}
	}
}
