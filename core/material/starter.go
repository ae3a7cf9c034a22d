package material

// Starter is a rack to begin with: what most makers own first, as typical families under plain names. Each bottle can
// be renamed, measured, weakened or taken off later. The materials have no uid yet.
func Starter() []Material {
	out := make([]Material, 0, len(starter))
	for _, s := range starter {
		f, ok := FindFamily(s.family)
		if !ok {
			panic("material: no family " + s.family)
		}
		m := f.New("", s.name)
		if s.sizeIN > 0 {
			m.Flake.Resize(s.sizeIN, Typical)
		}
		out = append(out, m)
	}
	return out
}

var starter = []struct {
	family, name string
	sizeIN       float64
}{
	{"medium-plastisol", "Medium plastisol", 0},
	{"carbon-black", "Strong black", 0},
	{"grey-tint", "Weak grey", 0},
	{"titanium-white", "Solid white", 0},
	{"clear-red", "Strong transparent red", 0},
	{"clear-orange", "Transparent orange", 0},
	{"clear-yellow", "Transparent yellow", 0},
	{"solid-yellow", "Solid lemon yellow", 0},
	{"clear-green", "Very strong transparent green", 0},
	{"clear-blue", "Very strong transparent blue", 0},
	{"clear-violet", "Strong transparent violet", 0},
	{"clear-brown", "Transparent tea brown", 0},
	{"glow-lime", "Glowing yellow-green", 0},
	{"pearl-silver", "White pearl powder", 0},
	{"interference-blue", "Blue-glint powder", 0},
	{"flake-black", "Black flake .015", 0.015},
	{"flake-silver", "Fine silver flake .008", 0.008},
	{"flake-gold", "Gold flake .035", 0.035},
	{"flake-holo", "Rainbow flake .015", 0.015},
}
