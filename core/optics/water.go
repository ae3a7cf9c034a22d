package optics

import (
	_ "embed"
	"encoding/csv"
	"math"
	"strconv"
	"strings"

	"cloudburst/core/colour"
)

// Pure water's absorption, 1/m, from 380 to 730 nm (after Pope and Fry 1997; good enough for a picture, not checked
// against a copy of theirs).
//
//go:embed water_absorption.csv
var waterCSV string

var pureWater = func() (out colour.Spectrum) {
	rows, err := csv.NewReader(strings.NewReader(waterCSV)).ReadAll()
	if err != nil || len(rows) != colour.Bands+1 {
		panic("optics: the table of water does not have its 36 bands")
	}
	for b := range out {
		if out[b], err = strconv.ParseFloat(rows[b+1][1], 64); err != nil {
			panic(err)
		}
	}
	return out
}()

// Water is a kind of water: what is dissolved in it, and what floats in it.
type Water string

// The waters.
const (
	Clear   Water = "clear"
	Green   Water = "green"
	Stained Water = "stained"
	Muddy   Water = "muddy"
)

// Waters lists every water, clearest first.
func Waters() []Water { return []Water{Clear, Green, Stained, Muddy} }

// Name says it in a maker's words.
func (w Water) Name() string {
	return map[Water]string{
		Clear: "clear water", Green: "green water, algae", Stained: "stained water, peat", Muddy: "muddy water",
	}[w]
}

// parts: dissolved organics a440 and chlorophyll-like absorption, 1/m, particles' scatter at 550 nm, 1/m.
func (w Water) parts() (a440, algae, scatter float64) {
	switch w {
	case Green:
		return 0.4, 0.25, 1.2
	case Stained:
		return 3.0, 0.05, 0.8
	case Muddy:
		return 1.6, 0.10, 8
	default:
		return 0.06, 0.01, 0.15
	}
}

// Coefficients are absorption and scatter by particles, 1/m: pure water, dissolved organics
// a440·exp(−0.014(λ−440)), algae (bands at 440 and 675 nm), particles as (550/λ).
func (w Water) Coefficients() (a, b colour.Spectrum) {
	a440, algae, scatter := w.parts()
	for i := range a {
		nm := colour.NM(i)
		bump := func(centre, width float64) float64 { z := (nm - centre) / width; return math.Exp(-z * z / 2) }
		a[i] = pureWater[i] + a440*math.Exp(-0.014*(nm-440)) + algae*(bump(440, 40)+0.6*bump(675, 12))
		b[i] = scatter * 550 / nm
	}
	return a, b
}

// backward is the share of particles' scatter that turns back.
const backward = 0.018

// From says from where a bait under water is seen.
type From string

// The places of the eye. From the side and from below it is a fish's, from above an angler's.
const (
	FromSide  From = "side"
	FromBelow From = "below"
	FromAbove From = "above"
)

// Froms lists them.
func Froms() []From { return []From{FromSide, FromBelow, FromAbove} }

// Name says it in words.
func (f From) Name() string {
	return map[From]string{
		FromSide: "as seen from the side", FromBelow: "as seen from below", FromAbove: "as the angler sees it",
	}[f]
}

// See is what an eye sees of a piece and of the open water beside it: `sends` is the share of light that the piece
// itself sends to the eye (reflected, or from below let through), in water. All are shares of the light at the surface.
//
// Light sinks to the depth with Kd = a + b_b (the mean path taken as straight down). On the way to the eye the piece
// fades with a + b, and scattered light fills in: from the side and from above the water's own, R∞ = b_b/(a+b_b)/2;
// from below the daylight that comes down all about, which itself fades with Kd only.
func (w Water) See(sends *colour.Spectrum, depthM, distanceM float64, from From) (piece, water colour.Spectrum) {
	a, b := w.Coefficients()
	for i := range piece {
		bb := backward * b[i]
		down := a[i] + bb
		lit := math.Exp(-down * depthM)
		own := 0.5 * bb / down
		switch from {
		case FromBelow:
			open := math.Exp(-down * distanceM)
			fade := math.Exp(-(a[i] + b[i]) * distanceM)
			water[i] = lit * open
			piece[i] = lit * (sends[i]*fade + open - fade)
		case FromAbove:
			fade := math.Exp(-(a[i] + b[i]) * depthM)
			water[i] = own
			piece[i] = lit*sends[i]*fade + own*(1-lit*fade)
		default:
			fade := math.Exp(-(a[i] + b[i]) * distanceM)
			water[i] = lit * own
			piece[i] = lit * (sends[i]*fade + own*(1-fade))
		}
	}
	return piece, water
}
