package colour

import (
	"fmt"
	"math"
	"strings"

	"cloudburst/core/fit"
)

// RGB are linear-light sRGB values, 0..1 inside the gamut.
type RGB struct{ R, G, B float64 }

// RGBOf makes one of three channels.
func RGBOf(c [3]float64) RGB { return RGB{c[0], c[1], c[2]} }

// SRGB8 is an encoded sRGB colour as a screen takes it.
type SRGB8 struct{ R, G, B uint8 }

// Hex is the usual six-digit notation with a leading #.
func (c SRGB8) Hex() string { return fmt.Sprintf("#%02x%02x%02x", c.R, c.G, c.B) }

// The four-decimal matrices of IEC 61966-2-1.
func linearFromXYZ(t XYZ) RGB {
	x, y, z := t.X/100, t.Y/100, t.Z/100
	return RGB{
		3.2406*x - 1.5372*y - 0.4986*z,
		-0.9689*x + 1.8758*y + 0.0415*z,
		0.0557*x - 0.2040*y + 1.0570*z,
	}
}

// XYZ of linear sRGB (D65).
func (c RGB) XYZ() XYZ {
	return XYZ{
		100 * (0.4124*c.R + 0.3576*c.G + 0.1805*c.B),
		100 * (0.2126*c.R + 0.7152*c.G + 0.0722*c.B),
		100 * (0.0193*c.R + 0.1192*c.G + 0.9505*c.B),
	}
}

// Lab of linear sRGB, relative to the white of the screen (R = G = B = 1), so that greys are exactly neutral.
func (c RGB) Lab() Lab { return c.XYZ().Lab(RGB{1, 1, 1}.XYZ()) }

// ParseHex reads #rrggbb as the colour that a screen shows.
func ParseHex(hex string) (Lab, error) {
	var c SRGB8
	if n, err := fmt.Sscanf(
		strings.ToLower(hex), "#%02x%02x%02x", &c.R, &c.G, &c.B,
	); err != nil || n != 3 || len(hex) != 7 {
		return Lab{}, fmt.Errorf("%q is no colour; write it as #rrggbb", hex)
	}
	return RGB{Decode(float64(c.R) / 255), Decode(float64(c.G) / 255), Decode(float64(c.B) / 255)}.Lab(), nil
}

// Decode turns an encoded channel value (0..1) into linear light.
func Decode(v float64) float64 {
	if v <= 0.04045 {
		return v / 12.92
	}
	return math.Pow((v+0.055)/1.055, 2.4)
}

// Encode turns linear light (0..1) into an encoded channel value.
func Encode(v float64) float64 {
	if v <= 0.0031308 {
		return 12.92 * v
	}
	return 1.055*math.Pow(v, 1/2.4) - 0.055
}

// SRGB is the nearest screen colour of the same hue and lightness: out of gamut, chroma alone gives way.
// A Lab colour seen under another light is shown as it would look to an eye used to that light.
func (c Lab) SRGB() SRGB8 {
	lin := c.Shown()
	return SRGB8{encode8(lin.R), encode8(lin.G), encode8(lin.B)}
}

// Shown is the same in linear light, before it is rounded to steps of a screen.
func (c Lab) Shown() RGB {
	lin, ok := c.linear()
	if !ok {
		inside := Lab{L: min(max(c.L, 0), 100)}
		// 1/4096 of the chroma: far below one step of a channel
		share, _ := fit.Between(0, 1, 12, func(share float64) bool {
			_, in := (Lab{inside.L, c.A * share, c.B * share}).linear()
			return !in
		})
		lin, _ = Lab{inside.L, c.A * share, c.B * share}.linear()
	}
	return lin
}

// Linear is the colour in linear sRGB, in or out of gamut.
func (c Lab) Linear() RGB { return linearFromXYZ(c.XYZ(screenWhite)) }

func (c Lab) linear() (RGB, bool) {
	const slack = 0.0005 // half a step near white; keeps pure white from being "out of gamut"
	lin := linearFromXYZ(c.XYZ(screenWhite))
	in := func(v float64) bool { return v >= -slack && v <= 1+slack }
	return lin, in(lin.R) && in(lin.G) && in(lin.B)
}

var screenWhite = RGB{1, 1, 1}.XYZ()

func encode8(v float64) uint8 { return uint8(math.Round(255 * Encode(min(max(v, 0), 1)))) }
