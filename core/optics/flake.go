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

// SeenPerCM2 is the optical weight of the flake seen from the front of x mm: 100·n·(1−e^(−bx))/b, as the eye
// weighs the bands. b is what dims a piece by its depth: 2(K+S) of the body without this flake, and ½nA for the pieces
// that hide each other.
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

// eyeFloor is the light, as a share of white, beneath which the eye tells nothing in a bait.
const eyeFloor = 0.02

// LegibleDepth is the depth, up to thickMM, to which a piece of the given face can be told from the body around it,
// whose own light is own. Its light comes through the layer of K and S (per mm) over it, which veils it; the scatter in
// that layer blurs it on top of that, by e^(−2Sz).
func LegibleDepth(k, s, face, own *colour.Spectrum, thickMM float64) float64 {
	blur := 2 * colour.EyeMean(s)
	told := func(z float64) bool {
		st := Pile(Layer{ThicknessMM: z, K: *k, S: *s})
		seen := InAir.Joined(&st, face)
		sharp := math.Exp(-blur * z)
		most := 0.0
		for b := range seen {
			blurred := own[b] + (seen[b]-own[b])*sharp
			most = max(most, math.Abs(math.Log((blurred+eyeFloor)/(own[b]+eyeFloor))))
		}
		return most >= LeastContrast
	}
	const steps, least = 16, 1e-3
	if !told(least) {
		return 0
	}
	low := least
	for i := 1; i <= steps; i++ { // a bright piece can fade and come back darker than its base: the first fading counts
		z := least * math.Pow(thickMM/least, float64(i)/steps)
		if told(z) {
			low = z
			continue
		}
		for high := z; high-low > 0.01*high; {
			if mid := (low + high) / 2; told(mid) {
				low = mid
			} else {
				high = mid
			}
		}
		return low
	}
	return thickMM
}

// mostPerMM3 is past any sane dose of flake.
const mostPerMM3 = 4.9

// PerMM3 undoes CountPerCM2: how many pieces a mm³ holds of each flake, of the given area and legible depth, where so
// many per cm² are told apart. ok is false where no sane number shows so many.
func PerMM3(perCM2, areaMM2, depthMM []float64) (n []float64, ok bool) {
	n = make([]float64, len(perCM2))
	ok = true
	for range 200 {
		sumNA, moved := 0.0, 0.0
		for i := range n {
			sumNA += n[i] * areaMM2[i]
		}
		for i := range n {
			one := CountPerCM2(1, sumNA, depthMM[i])
			to := mostPerMM3
			if one > 0 {
				to = min(mostPerMM3, perCM2[i]/one)
			}
			to = (n[i] + to) / 2 // halfway, so that it does not swing
			moved = max(moved, math.Abs(to-n[i])/max(1e-9, to))
			n[i] = to
		}
		if moved < 1e-9 {
			break
		}
	}
	for i := range n {
		ok = ok && depthMM[i] > 0 && n[i] < 0.999*mostPerMM3
	}
	return n, ok
}
