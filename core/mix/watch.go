package mix

import (
	"fmt"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
)

// Viscosity of hot plastisol, Pa·s, for settling.
const hotViscosity = 0.3

// watch lists what a maker should know before going on.
func watch(c *cup.Cup, m *Mix, shelf cup.Shelf) []cup.Watch {
	out := []cup.Watch{}
	add := func(kind, uid, why, says string, args ...any) {
		out = append(out, cup.Watch{Kind: kind, Material: uid, Says: fmt.Sprintf(says, args...), Why: why})
	}
	hot := c.WorkingC()
	liquid := 0.0
	bleeders := 0
	for i, d := range c.Doses {
		b := shelf[d.Material]
		if d.Amount.Value == 0 {
			continue
		}
		if b.Form() == measure.Liquid && b.Plastisol == nil {
			liquid += m.Lines[i].ML
		}
		if cup.Slips(&b, d.Amount, c.Volume.ML) {
			_, usual := b.Usual()
			add("slip", b.UID, "A slip of the pen or of the hand, more often than not.", "%s: %s in %s is over ten times its usual %s a cup. Meant so?",
				b.Name, d.Amount, c.Volume, usual)
		}
		if h := b.Heat; !b.Stands(hot) {
			does := "it burns out or greys"
			if b.Flake != nil {
				does = "it curls or greys: let the cup cool below that, stir it in last, pour at once"
			}
			add("heat", b.UID, "Its heat limit: "+h.Words()+
				".", "%s goes in below %s; this cup is worked at %s, where %s.",
				b.Name, measure.Degrees(h.MaxC), measure.Degrees(hot), does)
		}
		if b.Runs() {
			bleeders++
			add(
				"bleeds", b.UID, "A dye moves through the plastic.",
				"%s bleeds: within days it evens out, and runs into any layer or bait beside it.", b.Name,
			)
		}
		if a := b.Additive; a != nil {
			out = append(out, watchAdditive(&b, a, d, c, m, m.Lines[i])...)
		}
	}
	if share := liquid / m.FinishedML; share > 0.05 {
		add(
			"liquid", "", "Liquids that are no plastisol do not set.",
			"%s %% of this cup is liquid that is no plastisol: it will come out softer and may not set well.",
			measure.Number(100*share, 0),
		)
	}
	if solids := m.share[material.Salt] + m.share[material.Glass] + m.share[material.Spheres]; solids > 0.25 {
		add(
			"carries", "", "Above a quarter of the volume the grains touch.",
			"%s %% of this cup is salt, glass or spheres: more than the plastisol carries. It gets thick, and weak.",
			measure.Number(100*solids, 0),
		)
	}
	if soft := m.share[material.Softener]; soft > 0.12 {
		add(
			"soft", "", "Softener loosens the plastic that holds the hook.",
			"%s %% softener: %s. Take a softer grade instead.",
			measure.Number(100*soft, 0), m.Feel().StrengthWords,
		)
	}
	out = append(out, watchGreys(c, m, shelf)...)
	for _, l := range m.Legibility(Condition{ThicknessMM: BodyMM, Ground: optics.White, Light: colour.D65}) {
		if l.Hidden != "" {
			add("hidden", l.Material, fmt.Sprintf(
				"Beside its base ΔE00 %s, and %s pieces per cm² can be told apart.", measure.Number(l.DeltaE00, 1),
				measure.Number(l.CountPerCM2, 1),
			),
				"%s hardly shows: %s.", shelf[l.Material].Name, l.Hidden)
		}
	}
	return out
}

func watchAdditive(b *material.Material, a *material.Additive, d cup.Dose, c *cup.Cup, m *Mix, l Line) []cup.Watch {
	var out []cup.Watch
	add := func(kind, why, says string, args ...any) {
		out = append(out, cup.Watch{Kind: kind, Material: b.UID, Says: fmt.Sprintf(says, args...), Why: why})
	}
	_, usual := b.Usual()
	switch a.Role {
	case material.Salt, material.Glass:
		// Stokes: v = Δρ·g·d²/(18·η); a stir is due when the grains have sunk a centimetre.
		grain := a.GrainMM.Value / 1000
		v := 1000 * (a.DensityGML.Value - 1.03) * 9.81 * grain * grain / (18 * hotViscosity)
		add("settles", fmt.Sprintf(
			"Grains of %s mm sink %s mm/s in hot plastisol.", measure.Number(a.GrainMM.Value, 2),
			measure.Number(1000*v, 2),
		),
			"%s settles: stir at least every %s until it is poured.", b.Name, measure.Seconds(0.01/v))
		if a.Role == material.Salt {
			add(
				"bubbles", "Air and damp come in between the grains.",
				"%s brings bubbles: dry it, and degas after it is in.",
				b.Name,
			)
			if haze := a.Scatters(l.ML / m.FinishedML); haze > 0.01 {
				add(
					"whitens",
					fmt.Sprintf(
						"It scatters %s/mm; plain plastic %s/mm.", measure.Number(haze, 3), measure.Number(m.baseS, 3),
					),
					"%s clouds the colour and hides flake below the skin.", b.Name,
				)
			}
		}
	case material.Spheres:
		if haze := a.Scatters(l.ML / m.FinishedML); haze > 0.02 {
			add(
				"whitens",
				fmt.Sprintf(
					"It scatters %s/mm; plain plastic %s/mm.", measure.Number(haze, 3), measure.Number(m.baseS, 3),
				),
				"%s whitens: the colour comes out paler and solid. Its dust is not for breathing.", b.Name,
			)
		}
	case material.Stabiliser:
		if cup.OverUsual(b, d.Amount, c.Volume.ML) > 1 {
			add("smell", "Usual is up to "+usual.String()+" a cup.", "%s: that much smells for weeks.", b.Name)
		}
	}
	return out
}

// StockWatch says where a cup takes more than is left of a material, or leaves less than the shop buys more below. left
// and low are ml of a liquid or g of a solid, by uid; what is not in them is not counted.
func StockWatch(c *cup.Cup, m *Mix, shelf cup.Shelf, left, low map[string]float64) []cup.Watch {
	var out []cup.Watch
	check := func(uid string, ml, grams float64) {
		have, known := left[uid]
		if !known {
			return
		}
		b := shelf[uid]
		takes, unit := ml, "ml"
		if b.Form() == measure.Solid {
			takes, unit = grams, "g"
		}
		why := fmt.Sprintf(
			"This cup takes %s %s; %s %s are left.", measure.Number(takes, 1), unit, measure.Number(have, 1), unit,
		)
		switch {
		case takes > have:
			out = append(
				out, cup.Watch{Kind: "stock", Material: uid, Says: b.Name + ": there is not enough of it.", Why: why},
			)
		case have-takes < low[uid]:
			out = append(out, cup.Watch{Kind: "stock", Material: uid, Says: b.Name + " runs low: buy more.", Why: why})
		}
	}
	check(c.Plastisol, c.Volume.ML, 0)
	for _, l := range m.Lines {
		check(l.Material, l.ML, l.Grams)
	}
	return out
}

// greysOut is the share of their own chroma below which two colours are said to cancel.
const greysOut = 0.45

// watchGreys finds pairs of colourants that cancel each other.
func watchGreys(c *cup.Cup, m *Mix, shelf cup.Shelf) []cup.Watch {
	type one struct {
		name string
		dose cup.Dose
		lab  colour.Lab
	}
	at := Condition{ThicknessMM: BodyMM, Ground: optics.White, Light: colour.D65}
	alone := func(doses ...cup.Dose) (colour.Lab, bool) {
		part := cup.Cup{Volume: c.Volume, Plastisol: c.Plastisol, Doses: doses}
		mix, err := Stir(&part, shelf)
		if err != nil {
			return colour.Lab{}, false
		}
		return mix.Colour(at), true
	}
	var all []one
	for _, d := range c.Doses {
		if b := shelf[d.Material]; b.Colourant != nil && d.Amount.Value > 0 {
			if lab, ok := alone(d); ok && lab.Chroma() > 20 {
				all = append(all, one{b.Name, d, lab})
			}
		}
	}
	var out []cup.Watch
	for i, p := range all {
		for _, q := range all[i+1:] {
			both, ok := alone(p.dose, q.dose)
			if least := min(p.lab.Chroma(), q.lab.Chroma()); ok && both.Chroma() < greysOut*least {
				out = append(out, cup.Watch{
					Kind: "greys", Material: q.dose.Material, Says: fmt.Sprintf(
						"%s and %s grey each other out.", p.name, q.name,
					),
					Why: fmt.Sprintf(
						"Chroma %s and %s alone, %s together.", measure.Number(p.lab.Chroma(), 0),
						measure.Number(q.lab.Chroma(), 0),
						measure.Number(both.Chroma(), 0),
					),
				})
			}
		}
	}
	return out
}
