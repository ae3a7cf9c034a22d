package material

import "slices"

// Family is a class of colourant or plastisol with typical values, to start a bottle from. The figures are
// ours: absorption bands placed where that class of pigment or dye is known to absorb, heights chosen so that
// a usual dose gives a usual bait. Calibration replaces them.
type Family struct {
	Key      string `json:"key"`
	Name     string `json:"name"`
	Kind     Kind   `json:"kind" enum:"plastisol,colourant,powder,flake,additive"`
	About    string `json:"about" doc:"What to expect of it, in a sentence"`
	template Material
}

// New makes a bottle of the family under the maker's own name. It shares nothing with the family.
func (f Family) New(uid, name string) Material {
	m := f.template.clone()
	m.UID, m.Name, m.Family, m.Kind = uid, name, f.Key, f.Kind
	return m
}

// clone copies a material with everything that it points to.
func (m Material) clone() Material {
	m.Heat = again(m.Heat)
	if p := m.part(); p != nil {
		p.copyTo(&m)
	}
	return m
}

// FindFamily looks a family up by its key.
func FindFamily(key string) (Family, bool) {
	for _, f := range Families() {
		if f.Key == key {
			return f, true
		}
	}
	return Family{}, false
}

// Families lists every family that ships, plastisols first.
func Families() []Family {
	return slices.Concat(liquids(), powders(), flakes(), additives())
}

func liquids() []Family {
	return []Family{
		base("soft-plastisol", "Soft plastisol", "Flows well, tears sooner.", "soft", 1.01),
		base("medium-plastisol", "Medium plastisol", "The everyday grade.", "medium", 1.03),
		base("firm-plastisol", "Firm plastisol", "Holds on the hook, moves less.", "firm", 1.06),

		pigment("carbon-black", "Carbon black", "Darkens every hue alike; single drops count.", 1, 8,
			0.28, 0.004, 1, nil),
		pigment("grey-tint", "Weak grey tint", "A tenth of black: darkens by small steps.", 2, 30,
			0.028, 0.0006, 1, nil),
		pigment("titanium-white", "Titanium white", "Opaque. Makes pale and solid at once.", 2, 30,
			0.0002, 0.85, 1.2, []Band{{375, 14, 0.30}}),
		pigment("clear-red", "Transparent red (quinacridone class)", "Bluish red that lets light through.", 3, 30,
			0.0003, 0.004, 1.5, []Band{{505, 36, 0.20}, {556, 16, 0.17}, {415, 45, 0.075}}),
		pigment("solid-red", "Opaque red (iron oxide class)", "Brick red, solid at a few drops.", 2, 20,
			0.002, 0.10, 0.6, []Band{{440, 75, 0.30}, {535, 28, 0.17}}),
		pigment("clear-orange", "Transparent orange (pyrrole class)", "Warm, clean orange.", 3, 30,
			0.0003, 0.006, 1.5, []Band{{470, 42, 0.21}, {520, 20, 0.12}}),
		pigment("clear-yellow", "Transparent yellow (azo class)", "Greenish when thin, golden when thick.", 4, 40,
			0.0002, 0.003, 1.5, []Band{{420, 36, 0.20}, {462, 18, 0.08}}),
		pigment("solid-yellow", "Opaque yellow (vanadate class)", "Lemon yellow that hides what lies behind.", 3, 30,
			0.0004, 0.16, 0.8, []Band{{400, 44, 0.24}, {460, 20, 0.13}}),
		pigment("clear-green", "Transparent green (phthalo class)", "Very strong, bluish green.", 1, 15,
			0.0008, 0.004, 2, []Band{{640, 50, 0.34}, {400, 38, 0.26}, {700, 40, 0.12}}),
		pigment("clear-blue", "Transparent blue (phthalo class)", "Very strong, greenish blue.", 1, 12,
			0.0008, 0.004, 2, []Band{{618, 44, 0.36}, {695, 34, 0.26}, {380, 26, 0.12}}),
		pigment("ultramarine", "Ultramarine blue", "Soft reddish blue, half opaque.", 4, 40,
			0.0005, 0.02, 1, []Band{{600, 44, 0.13}, {535, 32, 0.035}}),
		pigment("clear-violet", "Transparent violet (dioxazine class)", "Strong; a drop turns a whole cup.", 1, 10,
			0.001, 0.004, 2, []Band{{540, 30, 0.30}, {595, 26, 0.32}, {640, 26, 0.06}}),
		pigment("clear-brown", "Transparent brown (fine oxide class)", "Tea to chestnut with thickness.", 3, 30,
			0.008, 0.008, 2, []Band{{390, 85, 0.25}, {530, 75, 0.035}}),
		pigment("solid-brown", "Opaque brown (oxide class)", "Earth brown, solid.", 2, 20,
			0.03, 0.07, 0.6, []Band{{420, 90, 0.22}, {540, 50, 0.06}}),
		dye("yellow-dye", "Yellow dye", "Brilliant and clear; runs within days.", 2, 25,
			[]Band{{435, 30, 0.26}}),
		dye("magenta-dye", "Magenta dye", "Brilliant and clear; runs within days.", 2, 25,
			[]Band{{548, 24, 0.26}, {515, 22, 0.12}}),
		dye("cyan-dye", "Cyan dye", "Brilliant and clear; runs within days.", 2, 25,
			[]Band{{655, 34, 0.26}, {605, 26, 0.10}}),
		dye("red-dye", "Red dye", "Deep and clear; runs within days.", 2, 25,
			[]Band{{500, 38, 0.24}, {545, 18, 0.16}}),
		dye("black-dye", "Black dye", "Violet when thin; runs within days.", 2, 25,
			[]Band{{450, 70, 0.16}, {570, 55, 0.20}, {650, 35, 0.14}}),
		glowing("glow-lime", "Fluorescent yellow-green", "Lights up in daylight, less under a warm lamp.",
			[]Band{{440, 34, 0.16}}, Fluorescence{445, 30, 520, 22, 0.75, 0.15}),
		glowing("glow-orange", "Fluorescent orange", "Lights up in daylight; fades in the sun over a season.",
			[]Band{{500, 38, 0.17}}, Fluorescence{505, 34, 595, 22, 0.65, 0.15}),
		glowing("glow-pink", "Fluorescent pink", "Lights up in daylight; fades in the sun over a season.",
			[]Band{{540, 30, 0.17}, {505, 24, 0.06}}, Fluorescence{540, 30, 605, 22, 0.6, 0.15}),
		pigment("highlight-silver", "Highlight liquid, silver", "Fine pearl already stirred in; shake the bottle.", 4, 40,
			0.002, 0.09, 0.4, nil),
	}
}

func base(key, name, about, grade string, density float64) Family {
	return Family{key, name, KindPlastisol, about, Material{Plastisol: &Plastisol{
		Grade: grade, DensityGML: Value{density, Typical}, Optics: TypicalBase,
	}}}
}

func pigment(key, name, about string, from, to, flat, scatter, power float64, absorbs []Band) Family {
	if absorbs == nil {
		absorbs = []Band{}
	}
	return Family{key, name, KindColourant, about, Material{Colourant: &Colourant{
		DropML: Value{DefaultDropML, Typical}, DensityGML: Value{1.1, Typical}, Movement: Stays,
		UsualDrops: [2]float64{from, to},
		Optics: ColourantOptics{
			Origin: Typical, FlatPerMM: flat, Absorbs: absorbs, ScatterPerMM: scatter, ScatterPower: power,
		},
	}}}
}

func dye(key, name, about string, from, to float64, absorbs []Band) Family {
	f := pigment(key, name, about, from, to, 0.0001, 0.0005, 0, absorbs)
	f.template.Colourant.Movement = Bleeds
	return f
}

func glowing(key, name, about string, absorbs []Band, glows Fluorescence) Family {
	f := pigment(key, name, about, 4, 40, 0.0002, 0.01, 0.5, absorbs)
	f.template.Colourant.Glows = &glows
	f.template.Heat = &HeatLimit{MaxC: 190, Origin: Typical}
	return f
}
