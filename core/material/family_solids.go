package material

import (
	"cloudburst/core/measure"
	"cloudburst/core/optics"
)

// Indices of the thin films.
const (
	titania = 2.45
	mica    = 1.58
)

func powders() []Family {
	return []Family{
		powder(
			"pearl-silver", "White pearl", "A silver sheen; greys a dark colour, milks a clear one.", Pearl,
			optics.Film{Index: titania, BackIndex: mica, ThicknessNM: 55},
		),
		powder(
			"pearl-fine", "Fine satin pearl", "Softer sheen, hides more.", Pearl,
			optics.Film{Index: titania, BackIndex: mica, ThicknessNM: 48},
		),
		tinted(
			"pearl-gold", "Gold pearl", "A gold sheen of its own colour.",
			optics.Film{Index: titania, BackIndex: mica, ThicknessNM: 75}, []Band{{410, 60, 0.10}, {480, 40, 0.03}},
		),
		tinted(
			"pearl-bronze", "Bronze pearl", "Brown gold, half opaque.",
			optics.Film{Index: titania, BackIndex: mica, ThicknessNM: 60}, []Band{{415, 80, 0.42}, {520, 50, 0.16}},
		),
		tinted(
			"pearl-copper", "Copper pearl", "Red gold, half opaque.",
			optics.Film{Index: titania, BackIndex: mica, ThicknessNM: 60}, []Band{{430, 85, 0.40}, {540, 40, 0.28}},
		),
		powder(
			"interference-gold", "Interference gold", "Gold over dark, bluish through.", Interference,
			optics.Film{Index: titania, BackIndex: mica, ThicknessNM: 192},
		),
		powder(
			"interference-red", "Interference red", "Red over dark, green through.", Interference,
			optics.Film{Index: titania, BackIndex: mica, ThicknessNM: 214},
		),
		powder(
			"interference-violet", "Interference violet", "Violet over dark, yellow through.", Interference,
			optics.Film{Index: titania, BackIndex: mica, ThicknessNM: 120},
		),
		powder(
			"interference-blue", "Interference blue", "Blue over dark, yellow through.", Interference,
			optics.Film{Index: titania, BackIndex: mica, ThicknessNM: 138},
		),
		powder(
			"interference-green", "Interference green", "Green over dark, pink through.", Interference,
			optics.Film{Index: titania, BackIndex: mica, ThicknessNM: 166},
		),
		shifter(
			"shift-green-violet", "Colour-shift green to violet", "Changes with the tilt; lets nothing through.", 455,
		),
		shifter(
			"shift-copper-green", "Colour-shift copper to green", "Changes with the tilt; lets nothing through.", 330,
		),
		shifter(
			"shift-blue-violet", "Colour-shift blue to violet", "Changes with the tilt; lets nothing through.", 222,
		),
	}
}

func powder(key, name, about string, kind PowderType, film optics.Film) Family {
	return Family{key, name, KindPowder, about, Material{Heat: &HeatLimit{MaxC: 232, Origin: Typical}, Powder: &Powder{
		Type: kind, BulkGML: Value{Value: 0.3, Origin: Typical}, DensityGML: Value{Value: 3.0, Origin: Typical},
		UsualTSP: [2]float64{1.0 / 32, 0.5},
		Optics: PowderOptics{
			Origin: Typical, Film: film, StrengthPerMM: 0.9, Glint: 6, GlintWidthDeg: 16, Absorbs: []Band{},
		},
	}}}
}

func tinted(key, name, about string, film optics.Film, absorbs []Band) Family {
	f := powder(key, name, about, Pearl, film)
	f.template.Powder.Optics.Absorbs = absorbs
	return f
}

// shifter has a metal core and a thick film of low index: strong amplitudes, nothing through.
func shifter(key, name, about string, nm float64) Family {
	f := powder(
		key, name, about, ColourShift, optics.Film{Index: 1.46, BackIndex: 1.46, ThicknessNM: nm, R1: 0.52, R2: -0.58},
	)
	f.template.Powder.Optics.MetalCore = true
	f.template.Powder.UsualTSP = [2]float64{1.0 / 64, 1.0 / 8}
	f.template.Heat = &HeatLimit{MaxC: 204, Origin: Typical}
	return f
}

func flakes() []Family {
	const hot, warm, cool = 177, 171, 163 // °C: plain, metallic, films
	return []Family{
		flake("flake-black", "Black flake", "Darkens like a pigment.", Plain, hot, 0.04, 0.04, nil),
		flake(
			"flake-white", "White flake", "Pale, matte; shows in anything dark.", Plain, hot, 0.05, 0.85,
			[]Band{{375, 14, 3}},
		),
		flake(
			"flake-red", "Red flake", "A red mirror.", Metallic, warm, 0.05, 0.85, []Band{{450, 60, 4}, {545, 30, 3}},
		),
		flake(
			"flake-orange", "Orange flake", "An orange mirror.", Metallic, warm, 0.05, 0.85,
			[]Band{{440, 55, 4}, {515, 24, 2.6}},
		),
		flake(
			"flake-gold", "Gold flake", "A gold mirror.", Metallic, warm, 0.08, 0.86,
			[]Band{{420, 45, 3}, {475, 22, 1.3}},
		),
		flake(
			"flake-copper", "Copper flake", "A copper mirror.", Metallic, warm, 0.08, 0.82,
			[]Band{{440, 60, 2.6}, {530, 34, 1.3}},
		),
		flake(
			"flake-green", "Green flake", "A green mirror.", Metallic, warm, 0.05, 0.80,
			[]Band{{640, 55, 3.5}, {420, 34, 3}},
		),
		flake(
			"flake-blue", "Blue flake", "A blue mirror.", Metallic, warm, 0.05, 0.80,
			[]Band{{625, 55, 4}, {705, 45, 3}},
		),
		flake(
			"flake-purple", "Purple flake", "A violet mirror.", Metallic, warm, 0.05, 0.78,
			[]Band{{550, 45, 3.6}, {600, 30, 1.5}},
		),
		flake(
			"flake-silver", "Silver flake", "A plain mirror: takes the colour of its base.", Metallic, warm, 0.85, 0.88,
			nil,
		),
		flake(
			"flake-holo", "Holographic flake", "Every piece another hue by tilt.", Holographic, cool, 0.80, 0.86, nil,
		),
		bleeding(flake(
			"flake-red-bleeding", "Red flake, runs", "Its dye runs into the plastic around it.", Plain, warm, 0.05,
			0.80,
			[]Band{{450, 60, 4}, {545, 30, 3}},
		)),
		filmFlake(
			"flake-clear-blue", "Clear blue-glint flake", "Pale in the cup; needs a dark ground.", ClearFilm,
			optics.Film{Index: 2.0, BackIndex: 1.5, ThicknessNM: 155, R1: -0.5, R2: 0.5},
		),
		filmFlake(
			"flake-clear-green", "Clear green-glint flake", "Pale in the cup; needs a dark ground.", ClearFilm,
			optics.Film{Index: 2.0, BackIndex: 1.5, ThicknessNM: 315, R1: -0.5, R2: 0.5},
		),
		filmFlake(
			"flake-clear-red", "Clear red-glint flake", "Pale in the cup; needs a dark ground.", ClearFilm,
			optics.Film{Index: 2.0, BackIndex: 1.5, ThicknessNM: 258, R1: -0.5, R2: 0.5},
		),
		filmFlake(
			"flake-shift-green", "Colour-shift flake green to violet", "A mirror that turns violet when tilted.",
			ShiftFilm,
			optics.Film{Index: 1.46, BackIndex: 1.46, ThicknessNM: 455, R1: 0.55, R2: -0.6},
		),
		filmFlake(
			"flake-shift-copper", "Colour-shift flake copper to green", "A mirror that turns green when tilted.",
			ShiftFilm,
			optics.Film{Index: 1.46, BackIndex: 1.46, ThicknessNM: 330, R1: 0.55, R2: -0.6},
		),
	}
}

// defaultFlakeIn is the size of a family's flake until the maker says theirs.
const defaultFlakeIn = 0.035

func flake(key, name, about string, finish Finish, maxC, floor, top float64, absorbs []Band) Family {
	if absorbs == nil {
		absorbs = []Band{}
	}
	k := &Flake{
		Shape: optics.Hex, Finish: finish, DensityGML: Value{Value: 1.38, Origin: Typical}, Movement: Stays,
		Optics: FlakeOptics{Origin: Typical, Floor: floor, Top: top, Absorbs: absorbs},
	}
	k.Resize(defaultFlakeIn, Typical)
	return Family{key, name, KindFlake, about, Material{Heat: &HeatLimit{MaxC: maxC, Origin: Typical}, Flake: k}}
}

// Resize gives the flake a size, with the thickness, packing and usual dose that go with it: fine flake is cut from
// thinner film, packs closer and goes further.
func (f *Flake) Resize(in float64, origin Origin) {
	f.SizeIn = Value{Value: in, Origin: origin}
	thickness, packing, usual := 0.04, 0.40, [2]float64{0.25, 1.5}
	switch {
	case in <= 0.010:
		thickness, packing, usual = 0.025, 0.44, [2]float64{1.0 / 32, 0.5}
	case in <= 0.020:
		thickness, packing, usual = 0.025, 0.42, [2]float64{1.0 / 16, 0.75}
	case in > 0.045:
		usual = [2]float64{0.5, 2}
	}
	f.ThicknessMM, f.Packing, f.UsualTSP = Value{
		Value: thickness, Origin: Typical,
	}, Value{Value: packing, Origin: Typical}, usual
}

func bleeding(f Family) Family {
	f.template.Flake.Movement = Bleeds
	return f
}

func filmFlake(key, name, about string, finish Finish, film optics.Film) Family {
	f := flake(key, name, about, finish, 163, 0.02, 0.9, nil)
	f.template.Flake.Optics.Film = &film
	return f
}

func additives() []Family {
	return []Family{
		pour("softener", "Softener", "Softer and floats a little higher; weakens.", Softener, 0.98, 2, 40),
		pour("hardener", "Hardener", "Firmer; less action.", Hardener, 1.05, 2, 40),
		pour(
			"stabiliser", "Heat stabiliser", "Slows the yellowing; smells, so little is enough.", Stabiliser, 1.0, 0.2,
			2,
		),
		pour("scent-oil", "Scent oil", "Softens as it smells; too much weeps out.", Scent, 0.95, 0.5, 6),
		grain(
			"salt-fine", "Fine salt", "Weight and a cloud; weakens, settles, brings bubbles.", Salt, 1.2, 2.16, 0.15,
			0.05, 3,
			24,
		),
		grain(
			"salt-coarse", "Coarse salt", "Weight with less of a cloud; settles faster.", Salt, 1.2, 2.16, 0.4, 0.05, 3,
			24,
		),
		grain(
			"glass-beads", "Glass beads", "Weight nearly without a cloud, and stronger.", Glass, 1.5, 2.5, 0.25, 0.006,
			3, 24,
		),
		grain(
			"floating-spheres", "Floating spheres", "Hollow and light: floats, and whitens.", Spheres, 0.12, 0.2, 0.06,
			0.3, 3,
			24,
		),
	}
}

func pour(key, name, about string, role Role, density, from, to float64) Family {
	return Family{key, name, KindAdditive, about, Material{Additive: &Additive{
		Role: role, Form: measure.Liquid, DropML: Value{
			Value: DefaultDropML, Origin: Typical,
		}, DensityGML: Value{Value: density, Origin: Typical}, Usual: [2]float64{from, to},
		BulkGML: Value{Origin: Typical}, GrainMM: Value{Origin: Typical}, Hiding: Value{Origin: Typical},
	}}}
}

func grain(key, name, about string, role Role, bulk, density, grainMM, hiding, from, to float64) Family {
	return Family{key, name, KindAdditive, about, Material{Additive: &Additive{
		Role: role, Form: measure.Solid, BulkGML: Value{Value: bulk, Origin: Typical}, DensityGML: Value{
			Value: density, Origin: Typical,
		}, GrainMM: Value{Value: grainMM, Origin: Typical},
		Hiding: Value{Value: hiding, Origin: Typical}, DropML: Value{Origin: Typical}, Usual: [2]float64{from, to},
	}}}
}
