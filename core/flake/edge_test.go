package flake

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/photo"
)

// discs lie in rows of twenty, each row tilted alike, under a lens that spreads a point by so many px.
type discs struct {
	size        float64 // px
	lens        float64
	base, piece [3]float64 // linear
}

var greyDiscs = discs{size: 14, base: [3]float64{0.6, 0.6, 0.6}, piece: [3]float64{0.12, 0.12, 0.12}}

func (d discs) apart() int { return int(2.43 * d.size) }

func (d discs) tilted(cosines []float64) *image.RGBA {
	apart := d.apart()
	img := image.NewRGBA(image.Rect(0, 0, apart*20, apart*len(cosines)))
	w, h := img.Rect.Dx(), img.Rect.Dy()
	cover := make([]float64, w*h) // how much of a pixel a piece covers
	rng := rand.New(rand.NewPCG(5, 5))
	dots := int(510 * d.size * d.size)
	for row, cos := range cosines {
		for col := range 20 {
			x0, y0, turn := float64(apart)*(float64(col)+0.5)+rng.Float64(), float64(apart)*(float64(row)+0.5)+
				rng.Float64(), 2*math.Pi*rng.Float64()
			sin, along := math.Sincos(turn)
			for range dots { // by throwing dots at a tilted disc
				u, v := 2*rng.Float64()-1, 2*rng.Float64()-1
				if u*u+v*v > 1 {
					continue
				}
				x, y := d.size/2*u, d.size/2*v*cos
				px := x0 + x*along - y*sin + d.lens*rng.NormFloat64()
				py := y0 + x*sin + y*along + d.lens*rng.NormFloat64()
				cover[int(py)*w+int(px)] += d.size * d.size * cos / float64(dots)
			}
		}
	}
	for i, share := range cover {
		share = min(1, share)
		grain := rng.NormFloat64()
		var c [3]uint8
		for ch := range c {
			c[ch] = uint8(math.Round(255*colour.Encode(d.base[ch]+share*(d.piece[ch]-d.base[ch])) + grain))
		}
		img.SetRGBA(i%w, i/w, color.RGBA{R: c[0], G: c[1], B: c[2], A: 255})
	}
	return img
}

// counted is how many pieces are found in each row.
func (d discs) counted(t *testing.T, cosines []float64, p *photo.Picture) []int {
	got, err := Count(t.Context(), p, Rect{X1: float64(p.Width), Y1: float64(p.Height)}, 20)
	require.NoError(t, err)
	require.Len(t, got.Classes, 1)
	found := make([]int, len(cosines))
	for _, p := range got.Pieces {
		found[int(p.Y)/d.apart()]++
	}
	return found
}

// What a lens adds to a piece is told by the pieces' own edges.
func TestTheLensByEdges(t *testing.T) {
	for _, blur := range []float64{0.5, 0.8, 1.1, 1.4} {
		d := greyDiscs
		d.lens = blur
		img := d.tilted([]float64{0.5, 0.8, 1})
		c := &area{w: img.Rect.Dx(), h: img.Rect.Dy(), px: 20}
		c.read(photo.Take(img), 0, 0, 1)
		c.base()
		c.differ()
		c.label()
		c.part()
		const pixels, smoothing = 1.0 / 12, 2.0 / 3 // px²
		want, got := blur*blur+pixels+smoothing, c.lens()
		t.Logf("blurred by %.1f px: %.2f px² for %.2f", blur, got, want)
		assert.InEpsilon(t, want, got, 0.2)
	}
}

// Pieces of one size, tilted in rows, under a lens: those on edge are no pieces, those a little wider are. Of large ones
// the lens leaves more to be told.
func TestPiecesOnEdge(t *testing.T) {
	for size, cosines := range map[float64][]float64{
		14: {0.03, 0.06, 0.09, 0.25, 0.3, 0.5, 0.7, 1},
		35: {0.06, 0.18, 0.22, 0.26, 1},
	} {
		d := greyDiscs
		d.size, d.lens = size, 0.7
		found := d.counted(t, cosines, photo.Take(d.tilted(cosines)))
		for row, cos := range cosines {
			if cos < onEdge { // of the thinnest, bits are left that are too small to be measured
				assert.LessOrEqual(t, found[row], 6, "of 20 of %g px with a cosine of %.2f", size, cos)
			} else {
				assert.InDelta(t, 20, found[row], 1, "of 20 of %g px with a cosine of %.2f", size, cos)
			}
		}
	}
}

// A yellow as light as its base shows in tint only, which a compressed photo keeps in half as many pixels.
func TestPiecesOnEdgeThatDifferInTint(t *testing.T) {
	cosines := []float64{0.12, 0.13, 0.14, 0.35, 0.5, 0.7, 1} // thinner ones are too faint to be measured
	yellow := greyDiscs
	yellow.lens = 0.7
	for ch, v := range [3]float64{218, 218, 60} {
		yellow.base[ch], yellow.piece[ch] = colour.Decode(200.0/255), colour.Decode(v/255)
	}
	var file bytes.Buffer
	require.NoError(t, jpeg.Encode(&file, yellow.tilted(cosines), &jpeg.Options{Quality: 92}))
	img, err := jpeg.Decode(&file)
	require.NoError(t, err)
	found := yellow.counted(t, cosines, photo.Take(img))
	for row, cos := range cosines {
		if cos < onEdge {
			assert.LessOrEqual(t, found[row], 12, "of 20 with a cosine of %.2f", cos)
		} else {
			assert.InDelta(t, 20, found[row], 2, "of 20 with a cosine of %.2f", cos)
		}
	}
}
