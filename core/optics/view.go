package optics

import (
	"fmt"
	"math"

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
	Metal   Ground = "metal"
	Hand    Ground = "hand"
)

// Nothing throws no light back at all: what comes from a piece over it comes from inside.
const Nothing Ground = "nothing"

// Grounds lists every ground, in the order in which a maker tries them.
func Grounds() []Ground { return []Ground{White, Dark, Against, Grey, Metal, Hand} }

// Name says where the plastic lies, in a maker's words.
func (g Ground) Name() string {
	return map[Ground]string{
		White: "over white", Dark: "over dark", Grey: "over the grey bench", Against: "against the light",
		Metal: "on bare metal", Hand: "in the hand",
	}[g]
}

// ParseGround accepts a ground's name. The empty string is white paper.
func ParseGround(s string) (Ground, error) {
	switch g := Ground(s); g {
	case "":
		return White, nil
	case White, Dark, Grey, Against, Metal, Hand:
		return g, nil
	}
	return "", fmt.Errorf("no ground is called %q; use white, dark, grey, against, metal or hand", s)
}

// Reflectance of the ground in air. A hand is a made-up mean of skins: pale red with the two dips of blood.
func (g Ground) Reflectance() colour.Spectrum {
	switch g {
	case Dark:
		return colour.Flat(0.04)
	case Grey:
		return colour.Flat(0.2)
	case Metal:
		return colour.Flat(0.62)
	case Hand:
		var skin colour.Spectrum
		for b := range skin {
			nm := colour.NM(b)
			dip := func(at, width float64) float64 { z := (nm - at) / width; return math.Exp(-z * z / 2) }
			skin[b] = 0.18 + 0.34/(1+math.Exp(-(nm-590)/22)) +
				0.08*(nm-380)/350 - 0.045*dip(542, 12) - 0.05*dip(577, 9) - 0.06*dip(418, 18)
		}
		return skin
	case Against, Nothing:
		return colour.Spectrum{}
	default:
		return colour.Flat(0.88)
	}
}

// FromBehind is the light of a room that comes through a piece on the grey bench.
const FromBehind = 0.1

// See is the light that reaches the eye from a piece in air, over the ground or against the light.
func (g Ground) See(p *Piece) colour.Spectrum {
	if g == Against {
		return p.Through
	}
	behind := g.Reflectance()
	seen := p.Over(&behind)
	if g == Grey {
		for b := range seen {
			seen[b] += FromBehind * p.Through[b]
		}
	}
	return seen
}
