// Package colour turns spectra into what an eye sees: bands, lights, the standard observer, CIELAB, colour differences
// and the sRGB values of a screen. It knows nothing of plastic.
//
// Read light.go (from a spectrum to XYZ and Lab), lab.go (Lab and ΔE00), srgb.go, then words.go and said.go
// (differences in words, and back).
//
// Units: a spectrum has 36 bands, 380 to 730 nm in steps of 10 nm. XYZ values are scaled so that the perfect reflector
// has Y = 100; Lab is relative to the white of the light it was seen in.
//
// Source: CIE 15 (observer and lights), Sharma, Wu and Dalal 2005 (ΔE00), IEC 61966-2-1 (sRGB).
package colour

// Bands is the number of spectral bands, FirstNM the wavelength of the first, StepNM their distance.
const (
	Bands   = 36
	FirstNM = 380
	StepNM  = 10
)

// Spectrum holds one value a band: a reflectance or transmittance (0..1), or a coefficient in 1/mm.
type Spectrum [Bands]float64

// Flat is a spectrum of one value everywhere.
func Flat(v float64) Spectrum {
	var s Spectrum
	for i := range s {
		s[i] = v
	}
	return s
}

// NM is the wavelength of a band in nanometres.
func NM(band int) float64 { return FirstNM + StepNM*float64(band) }
