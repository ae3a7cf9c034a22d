package photo

import (
	"image"
	"image/color"

	"cloudburst/core/colour"
)

// Picture is an upright photo as it is read: encoded RGB, three bytes a pixel.
type Picture struct {
	Width, Height int
	CoarseTint    bool // tint is kept in half as many pixels as light, across or both ways
	pix           []uint8
}

// Take reads an image into a Picture.
func Take(img image.Image) *Picture {
	b := img.Bounds()
	p := &Picture{Width: b.Dx(), Height: b.Dy(), pix: make([]uint8, 3*b.Dx()*b.Dy())}
	switch src := img.(type) {
	case *image.RGBA:
		for y := range p.Height {
			row := src.Pix[src.PixOffset(b.Min.X, b.Min.Y+y):]
			for x := range p.Width {
				copy(p.pix[3*(y*p.Width+x):], row[4*x:4*x+3])
			}
		}
	case *image.YCbCr:
		p.CoarseTint = src.SubsampleRatio != image.YCbCrSubsampleRatio444
		i := 0
		for y := b.Min.Y; y < b.Max.Y; y++ {
			for x := b.Min.X; x < b.Max.X; x++ {
				k := src.COffset(x, y)
				p.pix[i], p.pix[i+1], p.pix[i+2] = color.YCbCrToRGB(src.Y[src.YOffset(x, y)], src.Cb[k], src.Cr[k])
				i += 3
			}
		}
	default:
		i := 0
		for y := b.Min.Y; y < b.Max.Y; y++ {
			for x := b.Min.X; x < b.Max.X; x++ {
				r, g, bl, _ := img.At(x, y).RGBA()
				p.pix[i], p.pix[i+1], p.pix[i+2] = uint8(r>>8), uint8(g>>8), uint8(bl>>8)
				i += 3
			}
		}
	}
	return p
}

// At is a pixel.
func (p *Picture) At(x, y int) [3]uint8 {
	i := 3 * (y*p.Width + x)
	return [3]uint8(p.pix[i : i+3])
}

// table takes encoded values to linear light.
type table [256]float64

var plainTable = func() (t table) {
	for i := range t {
		t[i] = colour.Decode(float64(i) / 255)
	}
	return t
}()

// Lit is the picture under a light, at most so many pixels wide.
func (p *Picture) Lit(l *Light, width int) *image.RGBA {
	step := max(1, (p.Width+width-1)/width)
	out := image.NewRGBA(image.Rect(0, 0, p.Width/step, p.Height/step))
	t := l.table()
	for y := range p.Height / step {
		for x := range p.Width / step {
			q := p.At(x*step, y*step)
			c := l.colour(colour.RGB{R: t[q[0]], G: t[q[1]], B: t[q[2]]}, float64(x*step), float64(y*step))
			o := out.PixOffset(x, y)
			for ch, v := range [3]float64{c.R, c.G, c.B} {
				out.Pix[o+ch] = uint8(255*colour.Encode(min(1, max(0, v))) + 0.5)
			}
			out.Pix[o+3] = 255
		}
	}
	return out
}
