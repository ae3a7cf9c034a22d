package optics

import (
	"fmt"

	"cloudburst/core/colour"
)

// Ground names what is behind the plastic when it is looked at.
type Ground string

// The grounds of the bench. Paper, dark and grey lie behind the plastic with air between.
const (
	White   Ground = "white"
	Dark    Ground = "dark"
	Grey    Ground = "grey"
	Against Ground = "against"
)

// Grounds lists every ground, in the order in which a maker tries them.
func Grounds() []Ground { return []Ground{White, Dark, Against, Grey} }

// Name says where the plastic lies, in a maker's words.
func (g Ground) Name() string {
	return map[Ground]string{
		White: "over white", Dark: "over dark", Grey: "over the grey bench", Against: "against the light",
	}[g]
}

// ParseGround accepts a ground's name. The empty string is white paper.
func ParseGround(s string) (Ground, error) {
	switch g := Ground(s); g {
	case "":
		return White, nil
	case White, Dark, Grey, Against:
		return g, nil
	}
	return "", fmt.Errorf("no ground is called %q; use white, dark, grey or against", s)
}

// reflectance of the ground in air, the same in every band.
func (g Ground) reflectance() float64 {
	switch g {
	case Dark:
		return 0.04
	case Grey:
		return 0.2
	default:
		return 0.88
	}
}

// See is the light that reaches the eye from a piece in air, over the ground or against the light.
func (g Ground) See(p *Piece) colour.Spectrum {
	if g == Against {
		return p.Through
	}
	behind := colour.Flat(g.reflectance())
	return p.Over(&behind)
}
