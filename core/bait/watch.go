package bait

import (
	"fmt"

	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// Watch says what the flake of a mix does in a mold: at its gate, and in its thin sections.
func (mold *Mold) Watch(m *mix.Mix, shelf cup.Shelf) []cup.Watch {
	var out []cup.Watch
	for _, f := range m.Flakes {
		p := mold.Passage(f.Material, f.Flake.SizeMM())
		name := shelf[f.Material].Name
		why := fmt.Sprintf(
			"Pieces of %s mm; three must pass a gate of %s mm side by side.", measure.Number(f.Flake.SizeMM(), 1),
			measure.Number(mold.GateMM, 1),
		)
		if p.Own {
			why = "So you said of this mold."
		}
		switch p.Grade {
		case Folds:
			out = append(
				out,
				cup.Watch{
					Kind: "gate", Material: f.Material,
					Says: name + " is large for this gate: it folds through, and may block an injector.", Why: why,
				},
			)
		case Block:
			out = append(
				out,
				cup.Watch{
					Kind: "gate", Material: f.Material,
					Says: name + " will block this gate. Pour it open, or shoot through a wider gate.", Why: why,
				},
			)
		}
		if p.Section != "" {
			out = append(
				out,
				cup.Watch{
					Kind: "thin", Material: f.Material, Says: name + ": " + p.Section + ".",
					Why: "A piece goes where the plastic is thicker than it is wide.",
				},
			)
		}
	}
	return out
}
