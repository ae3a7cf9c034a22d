package bait

import (
	"fmt"
	"slices"

	"cloudburst/core/measure"
)

// Order says what goes into the mold when, and on which side: the mistake that people make. cup names a cup.
func (m *Mold) Order(st *Structure, cup func(int) string) []string {
	var out []string
	if st.Skin != nil {
		out = append(out, fmt.Sprintf("Lay the head skin onto the mold, from %s, and let it take.", cup(st.Skin.Cup)))
	}
	var bars, spots []int
	for _, b := range st.Bars {
		bars = append(bars, b.Cup)
	}
	for _, p := range st.Spots {
		spots = append(spots, p.Cup)
	}
	for _, kind := range []struct {
		one  string
		cups []int
	}{{"bar", bars}, {"spot", spots}} {
		for c := range MaxCups { // all of one cup in one go
			n := 0
			for _, of := range kind.cups {
				if of == c {
					n++
				}
			}
			what := "the " + kind.one
			if n > 1 {
				what = fmt.Sprintf("the %d %ss", n, kind.one)
			}
			if n > 0 {
				out = append(out, fmt.Sprintf("Lay %s onto the mold, from %s, and let them take.", what, cup(c)))
			}
		}
	}
	if st.Tail != nil {
		out = append(
			out, fmt.Sprintf(
				"Set the tail of %s into the mold, cut %.0f mm from the nose.", cup(st.Tail.Cup), st.Tail.FromMM,
			),
		)
	}
	out = append(out, m.orderOfLayers(st, cup)...)
	if st.Core != nil {
		out = append(
			out, fmt.Sprintf("Draw the rods while it still gives, and fill the core with %s.", cup(st.Core.Cup)),
		)
	}
	return out
}

// orderOfLayers says how the body goes in: at once, layer on layer, or by injectors side by side.
func (m *Mold) orderOfLayers(st *Structure, cup func(int) string) (out []string) {
	layers := slices.Clone(st.Layers)
	switch {
	case len(layers) == 1:
		out = append(out, fmt.Sprintf("Fill with %s.", cup(layers[0].Cup)))
	case m.Poured:
		if m.Lies == BackDown {
			slices.Reverse(layers)
		}
		for i, l := range layers {
			word := "Then"
			if i == 0 {
				word = "First"
			}
			out = append(out, fmt.Sprintf("%s the %s, from %s.", word, l.Name, cup(l.Cup)))
		}
		out = append(
			out,
			"Each layer goes in while the one before still bonds; top off while it shrinks. "+upper(m.Lies.Words())+".",
		)
	case len(layers) == 2:
		left, right := layers[0], layers[1] // belly, back
		if m.Lies == BackLeft {
			left, right = right, left
		}
		out = append(out, fmt.Sprintf("Left injector, seen from the gate: %s, from %s. Right injector: %s, from %s. Both are pressed together.",
			left.Name, cup(left.Cup), right.Name, cup(right.Cup)))
	default:
		side := "left to right"
		if m.Lies == BackLeft {
			slices.Reverse(layers)
		}
		words := ""
		for i, l := range layers {
			if i > 0 {
				words += ", "
			}
			words += l.Name + " from " + cup(l.Cup)
		}
		out = append(out, fmt.Sprintf("Injectors, %s seen from the gate: %s. All are pressed together.", side, words))
	}
	return out
}

func upper(s string) string {
	if s == "" {
		return s
	}
	return string(s[0]-'a'+'A') + s[1:]
}

// Way is a structure that is made in two taps: the way, and the cup.
type Way struct {
	Key   string `json:"key"`
	Name  string `json:"name"`
	About string `json:"about"`
	Cups  int    `json:"cups" doc:"How many cups it takes"`
}

// Ways lists them.
func Ways() []Way {
	return []Way{
		{"single", "One colour", "All of it from one cup.", 1},
		{"laminate", "Back and belly", "Two colours, shot together.", 2},
		{"three", "Three colours", "Back, middle and belly, shot together.", 3},
		{"pour", "Hand-poured layers", "Belly, vein and back, by fill height.", 3},
		{"core", "A core", "A rod of a second colour down the middle.", 2},
		{"skin", "Head skin", "A thin cap in the head, before the rest.", 2},
		{"tail", "Set-in tail", "Cut from a first shot, and laid back in.", 2},
		{"bars", "Bars", "Stripes from the back down.", 2},
		{"spots", "Spots", "Dotted into the mold before the body.", 2},
	}
}

// Begin makes the structure of a way for a mold; what is laid onto another structure keeps what is there. The new part
// takes the cup.
func (m *Mold) Begin(way string, was *Structure, cup int) (Structure, error) {
	s := m.Bait()
	out := Structure{Layers: []Layer{{Name: "all of it", Cup: 0, Top: 1}}}
	if was != nil && len(was.Layers) > 0 {
		out = *was
	}
	long := s.ToX
	body := s.bodyTo
	thin := min(2*s.bodyHalfWidth(), s.bodyHeight().length())
	layers := func(names ...string) {
		out.Layers = nil
		for i, n := range names {
			out.Layers = append(
				out.Layers, Layer{
					Name: n, Cup: i, Top: -1 + 2*float64(i+1)/float64(len(names)), BlurMM: BlurMM(165, 165),
				},
			)
		}
		out.Layers[len(names)-1].BlurMM = 0
	}
	switch way {
	case "single":
		out = Structure{Layers: []Layer{{Name: "all of it", Top: 1}}}
	case "laminate":
		layers("belly", "back")
	case "three":
		layers("belly", "middle", "back")
	case "pour":
		layers("belly", "vein", "back")
		out.Layers[0].Top, out.Layers[1].Top = 0.05, 0.2
	case "core":
		wide := m.RodMM
		if wide == 0 {
			wide = 0.45 * thin
		}
		out.Core = &Core{Cup: cup, WideMM: rounded(wide, 2), FromMM: rounded(0.1*body, 1), ToMM: rounded(0.9*body, 1)}
	case "skin":
		out.Skin = &Skin{Cup: cup, ToMM: rounded(0.22*long, 1), DeepMM: 1}
	case "tail":
		from := body
		if body > 0.9*long {
			from = 0.75 * long
		}
		out.Tail = &Tail{Cup: cup, FromMM: rounded(from, 1)}
	case "bars":
		out.Bars = nil
		for i := range 4 {
			out.Bars = append(
				out.Bars,
				Bar{
					Cup: cup, AtMM: rounded(body*(0.25+0.17*float64(i)), 1), WideMM: rounded(max(2, 0.04*long), 2),
					DeepMM: rounded(min(0.8, thin/8), 10), Down: -0.1,
				},
			)
		}
	case "spots":
		out.Spots = nil
		for i := range 3 {
			out.Spots = append(
				out.Spots,
				Spot{
					Cup: cup, AtMM: rounded(body*(0.25+0.2*float64(i)), 1), UpMM: 0,
					AcrossMM: rounded(max(2, 0.03*long), 2),
					DeepMM:   rounded(min(1, thin/8), 10),
				},
			)
		}
	default:
		return out, measure.Faulty("way", "no way of making is called %q", way)
	}
	return out, out.Check(&s)
}
