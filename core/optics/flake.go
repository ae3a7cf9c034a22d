package optics

import (
	"math"

	"cloudburst/core/colour"
)

// Shape is the outline of a piece of flake.
type Shape string

// The shapes.
const (
	Hex       Shape = "hex"
	Square    Shape = "square"
	Irregular Shape = "irregular"
)

// AreaMM2 is the area of one face of a piece, f mm across the flats; cv is the spread of sizes about it.
func (s Shape) AreaMM2(f, cv float64) float64 {
	share := map[Shape]float64{Hex: math.Sqrt(3) / 2, Square: 1, Irregular: 0.75}[s]
	return share * f * f * (1 + cv*cv)
}

// TeaspoonMM3 is a US teaspoon.
const TeaspoonMM3 = 4928.92

// PiecesPerTSP is how many pieces lie in a level teaspoon.
func PiecesPerTSP(areaMM2, thicknessMM, packing float64) float64 {
	return TeaspoonMM3 * packing / (areaMM2 * thicknessMM)
}

// Add gives what n pieces per mm³ of area A, randomly turned and opaque, of colour rho do to light:
// K = n·A·(1−ρ), S = β·n·A·ρ, β = ½ for a mirror, ⅔ for a matte face.
func AddFlake(nA, beta float64, rho *colour.Spectrum) (k, s colour.Spectrum) {
	for b, r := range rho {
		k[b], s[b] = nA*(1-r), beta*nA*r
	}
	return k, s
}

// SeenPerCM2 is the optical weight of the flake seen from the front of x mm: 100·n·(1−e^(−bx))/b, as the eye weighs
// the bands. b is what dims a piece by its depth: 2(K+S) of the body without this flake, and ½nA for the pieces that
// hide each other.
func SeenPerCM2(n, nA float64, k, s *colour.Spectrum, xMM float64) float64 {
	var seen colour.Spectrum
	for b := range seen {
		seen[b] = seenTo(n, 2*(k[b]+s[b])+nA/2, xMM)
	}
	return colour.EyeMean(&seen)
}

func seenTo(n, b, xMM float64) float64 {
	if b*xMM < 1e-9 {
		return 100 * n * xMM
	}
	return 100 * n * -math.Expm1(-b*xMM) / b
}

// CountPerCM2 is how many pieces one can tell apart per cm²: 0.87·100·n·∫e^(−az)dz down to the depth at which a
// piece's own contrast has sunk below what the eye sees; a = 0.42·ΣnA is how much of them other pieces hide.
func CountPerCM2(n, sumNA, depthMM float64) float64 {
	return 0.87 * seenTo(n, 0.42*sumNA, depthMM)
}

// LeastContrast is the log ratio below which a piece is not told from its base.
const LeastContrast = 0.13
