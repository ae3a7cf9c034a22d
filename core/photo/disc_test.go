package photo_test

import (
	"image"
	"image/color"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	. "cloudburst/core/photo"
	"cloudburst/testkit/shots"
)

// shot paints an even colour with camera noise, and lets the caller spoil it.
func shot(c colour.SRGB8, noise float64, spoil func(x, y int) (colour.SRGB8, bool)) *image.NRGBA {
	r := rand.New(rand.NewPCG(7, 11))
	img := image.NewNRGBA(image.Rect(0, 0, 200, 160))
	for y := range 160 {
		for x := range 200 {
			p := c
			if q, spoilt := spoil(x, y); spoilt {
				p = q
			}
			n := func(v uint8) uint8 { return uint8(min(255, max(0, math.Round(float64(v)+noise*r.NormFloat64())))) }
			img.SetNRGBA(x, y, color.NRGBA{R: n(p.R), G: n(p.G), B: n(p.B), A: 255})
		}
	}
	return img
}

func clean(int, int) (colour.SRGB8, bool) { return colour.SRGB8{}, false }

func labOf(c colour.SRGB8) colour.Lab {
	return colour.RGB{
		R: colour.Decode(float64(c.R) / 255), G: colour.Decode(float64(c.G) / 255),
		B: colour.Decode(float64(c.B) / 255),
	}.Lab()
}

var middle = Disc{X: 100, Y: 80, Radius: 30}

func TestAnEvenSpotReadsAsItself(t *testing.T) {
	for _, c := range []colour.SRGB8{
		{R: 200, G: 60, B: 40},
		{R: 40, G: 90, B: 60},
		{R: 230, G: 220, B: 120},
		{R: 120, G: 120, B: 120},
		{R: 60, G: 20, B: 90},
	} {
		r, err := Sample(Take(shot(c, 2, clean)), middle, nil)
		require.NoError(t, err)
		assert.Less(t, colour.DeltaE00(labOf(c), r.Lab), 0.4, "%v → %v", c, r.Lab)
		assert.Greater(t, r.Kept, 0.95)
		assert.Less(t, r.Glare, 0.05)
		assert.Empty(t, r.Warning)
	}
}

func TestGlareIsLeftOut(t *testing.T) {
	c := colour.SRGB8{R: 70, G: 110, B: 60}
	white := colour.SRGB8{R: 255, G: 255, B: 255}
	half := func(x, y int) (colour.SRGB8, bool) { return white, x > 104 }
	soft := func(x, y int) (colour.SRGB8, bool) { // a streak that fades into the colour, nowhere quite white
		far := math.Abs(float64(y-80)) / 14
		if far >= 1 {
			return c, false
		}
		add := func(v uint8) uint8 { return v + uint8((1-far)*float64(235-v)) }
		return colour.SRGB8{R: add(c.R), G: add(c.G), B: add(c.B)}, true
	}
	for name, spoil := range map[string]func(int, int) (colour.SRGB8, bool){
		"half the disc": half, "a soft streak": soft,
	} {
		r, err := Sample(Take(shot(c, 2, spoil)), middle, nil)
		require.NoError(t, err)
		assert.Less(t, colour.DeltaE00(labOf(c), r.Lab), 0.8, "%s: %v", name, r)
		assert.Greater(t, r.Glare, 0.2, name)
	}
}

// Base between flake: soft-edged pieces of another colour at any depth, over up to two fifths of a disc that is
// brighter on one side than on the other. The pin tells the base.
func TestTheBaseBetweenFlake(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 5))
	var off []float64
	for range 60 {
		base := colour.SRGB8{R: uint8(30 + r.IntN(170)), G: uint8(30 + r.IntN(170)), B: uint8(30 + r.IntN(170))}
		flake := colour.SRGB8{R: uint8(20 + r.IntN(220)), G: uint8(20 + r.IntN(220)), B: uint8(20 + r.IntN(220))}
		size := 1.5 + 4*r.Float64() // half a piece's width, px
		cover := 0.05 + 0.35*r.Float64()
		type piece struct{ x, y, turn, shade, clear float64 }
		var pieces []piece
		for range int(cover * 80 * 80 / (4 * size * size)) {
			pieces = append(
				pieces,
				piece{
					60 + 80*r.Float64(), 40 + 80*r.Float64(), math.Pi * r.Float64(), 0.5 + 0.7*r.Float64(),
					0.25 + 0.75*r.Float64(),
				},
			)
		}
		slope := 0.004 * r.Float64() // of brightness, per px
		img := Take(shot(base, 2, func(x, y int) (colour.SRGB8, bool) {
			if math.Hypot(float64(x)-100, float64(y)-80) > 34 {
				return base, true
			}
			share, shade := 0.0, 1.0
			for _, p := range pieces {
				dx, dy := float64(x)-p.x, float64(y)-p.y
				u, v := math.Abs(dx*math.Cos(p.turn)+
					dy*math.Sin(p.turn)), math.Abs(dy*math.Cos(p.turn)-dx*math.Sin(p.turn))
				// edges as soft as a lens leaves them
				if s := p.clear * min(1, max(0, size+0.7-max(u, v))/1.4); s > share {
					share, shade = s, p.shade
				}
			}
			mix := func(b, f uint8) uint8 {
				return uint8(math.Round(min(
					255, float64(b)*(1+slope*float64(x-100)),
				)*(1-share) + share*min(255, shade*float64(f))))
			}
			return colour.SRGB8{R: mix(base.R, flake.R), G: mix(base.G, flake.G), B: mix(base.B, flake.B)}, true
		}))
		got, err := Sample(img, Disc{X: 100, Y: 80, Radius: 30}, nil)
		require.NoError(t, err)
		off = append(off, colour.DeltaE00(labOf(base), got.Lab))
	}
	t.Logf(
		"median %.2f, 90th percentile %.2f, most %.2f", shots.Quantile(off, 0.5), shots.Quantile(off, 0.9),
		shots.Quantile(off, 1),
	)
	assert.Less(t, shots.Quantile(off, 0.5), 2.0)
	assert.Less(t, shots.Quantile(off, 0.9), 3.5)
}

func TestWarnings(t *testing.T) {
	full, err := Sample(Take(shot(colour.SRGB8{R: 255, G: 255, B: 255}, 0, clean)), middle, nil)
	require.NoError(t, err)
	assert.Contains(t, full.Warning, "darker shot")
	dark, err := Sample(Take(shot(colour.SRGB8{R: 6, G: 5, B: 7}, 1, clean)), middle, nil)
	require.NoError(t, err)
	assert.Contains(t, dark.Warning, "brighter shot")
	patchwork, err := Sample(Take(shot(colour.SRGB8{}, 0, func(x, y int) (colour.SRGB8, bool) {
		palette := []colour.SRGB8{
			{R: 200, G: 30, B: 30}, {R: 30, G: 200, B: 30}, {R: 30, G: 30, B: 200}, {R: 200, G: 200, B: 30},
		}
		return palette[(x/10+y/10)%4], true
	})), middle, nil)
	require.NoError(t, err)
	assert.Contains(t, patchwork.Warning, "Several colours")
}

// A painted area reads what lies under the brush and nothing beside it.
func TestAPaintedArea(t *testing.T) {
	c, other := colour.SRGB8{R: 120, G: 90, B: 40}, colour.SRGB8{R: 40, G: 60, B: 120}
	// a slanting band
	vein := func(x, y int) (colour.SRGB8, bool) { return other, math.Abs(float64(y)-40-0.3*float64(x)) > 5 }
	img := Take(shot(c, 2, vein))
	d := Disc{X: 20, Y: 46, Radius: 4}
	for x := 24.0; x < 180; x += 4 {
		d.Stroke = append(d.Stroke, [2]float64{x, 40 + 0.3*x})
	}
	r, err := Sample(img, d, nil)
	require.NoError(t, err)
	assert.Less(t, colour.DeltaE00(labOf(c), r.Lab), 0.4)
	assert.Greater(t, r.Kept, 0.9)
	assert.Greater(t, r.Pixels, 1000)
	round, err := Sample(img, Disc{X: 100, Y: 70, Radius: 40}, nil)
	require.NoError(t, err)
	assert.Less(t, colour.DeltaE00(labOf(other), round.Lab), 0.4, "a disc over it reads what lies around it")
	d.Stroke = append(d.Stroke, [2]float64{400, 5})
	_, err = Sample(img, d, nil)
	assert.ErrorContains(t, err, "outside the picture")
}

func TestPinsOutsideAreRefused(t *testing.T) {
	img := Take(shot(colour.SRGB8{R: 90, G: 90, B: 90}, 0, clean))
	for _, d := range []Disc{
		{X: -1, Y: 5, Radius: 5},
		{X: 200, Y: 5, Radius: 5},
		{X: 5, Y: math.NaN(), Radius: 5},
		{X: 5, Y: 5, Radius: 0},
		{X: 5, Y: 5, Radius: 1e9},
	} {
		_, err := Sample(img, d, nil)
		assert.Error(t, err, "%+v", d)
	}
	corner, err := Sample(img, Disc{X: 0, Y: 0, Radius: 20}, nil)
	assert.NoError(t, err, "a pin may hang over the edge")
	assert.InDelta(t, labOf(colour.SRGB8{R: 90, G: 90, B: 90}).L, corner.Lab.L, 0.01)
}

func BenchmarkSample(b *testing.B) {
	img := Take(shot(colour.SRGB8{R: 70, G: 110, B: 60}, 2, clean))
	for b.Loop() {
		if _, err := Sample(img, Disc{X: 100, Y: 80, Radius: 70}, nil); err != nil {
			b.Fatal(err)
		}
	}
}
