package bait_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	. "cloudburst/core/bait"
	"cloudburst/core/measure"
	"cloudburst/core/mesh"
)

// integral adds the main view's thickness up, ml.
func integral(s *Shape) float64 {
	const step = 0.4
	sum := 0.0
	for x := s.FromX - 1 + step/2; x < s.ToX+1; x += step {
		for u := -s.HalfY - 1; u < s.HalfY+1; u += step {
			sum += s.At(x, u) * step * step
		}
	}
	return sum / 1000
}

func TestVolumesAgreeWithTheirThickness(t *testing.T) {
	shapes := Shapes()
	require.Len(t, shapes, 12)
	shapes = append(shapes, Sized(90, 20, 14, 2), StepChip([]float64{1, 2, 4, 8}), shapes[0].With(Slot{
		FromMM: 20, ToMM: 50, DeepMM: 9, WideMM: 2,
	}),
		shapes[3].Scaled(120, 40, 22))
	for _, s := range shapes {
		v := s.VolumeML()
		assert.True(t, v > 0.5 && v < 60, "%s: %.1f ml", s.Key, v)
		assert.InEpsilon(t, v, integral(&s), 0.01, s.Key)
		assert.LessOrEqual(t, s.ThinnestMM(), s.ThickestMM(), s.Key)
	}
	_, err := Find("spoon")
	assert.ErrorContains(t, err, "no bait is called")
	paddle, _ := Find("paddle-minnow")
	assert.Less(t, paddle.At(48, 10.2), 0.3*paddle.At(25, 0), "a fin is thinner than its body")
	assert.InDelta(t, 13.0, paddle.At(25, 0), 0.2)
	one := paddle.VolumeML()
	assert.Equal(t, 2, (&Mold{Shape: "paddle-minnow", Cavities: 1}).Makes(2.9*one))
	// Four cavities, and half a bait's plastic in sprue and plug: a filling takes 4.5 baits. Ten baits' worth fills
	// twice; the bait that is left over makes none, since its sprue would take half of it.
	four := &Mold{Shape: "paddle-minnow", Cavities: 4, SprueML: 0.3 * one, PlugML: 0.2 * one}
	assert.Equal(t, 8, four.Makes(10*one))
	assert.Equal(t, 9, four.Makes(10.5*one+1e-6))
	assert.Equal(t, 0, four.Makes(1.4*one))
	slotted := paddle.With(Slot{FromMM: 20, ToMM: 50, DeepMM: 9, WideMM: 2})
	assert.InDelta(t, 2, paddle.At(30, -6)-slotted.At(30, -6), 1e-6, "a slot thins the wall")
	assert.InDelta(t, 30*9*2/1000.0, paddle.VolumeML()-slotted.VolumeML(), 0.06)
	tube, _ := Find("tube")
	assert.InDelta(t, 3.2, tube.At(40, 0), 0.35, "two walls")
	h, w := paddle.Size()
	big := paddle.Scaled(2*paddle.ToX, 2*h, 2*w)
	assert.InEpsilon(t, 8, big.VolumeML()/paddle.VolumeML(), 1e-6, "twice as large all round")
}

// What lists say of our shapes without making them is what they are.
func TestFactsAreTheShapes(t *testing.T) {
	for _, s := range Shapes() {
		f, ok := FactsOf(s.Key)
		require.True(t, ok, s.Key)
		assert.InEpsilon(t, s.VolumeML(), f.ML, 0.005, s.Key)
		assert.InDelta(t, s.ToX, f.LengthMM, 0.2, s.Key)
		assert.InDelta(t, s.ThinnestMM(), f.ThinMM, 0.1, s.Key)
		assert.InDelta(t, s.ThickestMM(), f.ThickMM, 0.1, s.Key)
		assert.Equal(t, s.Lying, f.Lying, s.Key)
	}
}

// A sphere and a cylinder of known size, as a maker's file would give them.
func TestThicknessOfKnownBodies(t *testing.T) {
	const r = 8.0
	for name, f := range map[string]mesh.Field{
		"sphere":   func(p Vec) float64 { return math.Hypot(math.Hypot(p[0]-r, p[1]), p[2]) - r },
		"cylinder": func(p Vec) float64 { return max(math.Hypot(p[1], p[2])-r, math.Abs(p[0]-20)-20) },
	} {
		m, err := mesh.Over(t.Context(), f, Vec{-2, -r - 2, -r - 2}, Vec{42, r + 2, r + 2}, 0.34)
		require.NoError(t, err)
		s := Imported("own", m, false)
		for u := -0.9 * r; u < 0.9*r; u += 0.7 {
			x := r
			want := 2 * math.Sqrt(r*r-u*u)
			assert.InEpsilon(t, want, s.At(x, u), 0.01, "%s at %v", name, u)
		}
		want := 4 * math.Pi / 3 * r * r * r / 1000
		if name == "cylinder" {
			want = math.Pi * r * r * 40 / 1000
		}
		assert.InEpsilon(t, want, s.VolumeML(), 0.005, name)
	}
}

func anyStructure(t *rapid.T, s *Shape) Structure {
	st := Structure{}
	tops := []float64{-0.4, 0.3}[:rapid.IntRange(0, 2).Draw(t, "boundaries")]
	for i, top := range tops {
		st.Layers = append(
			st.Layers,
			Layer{
				Name: "layer", Cup: i, Top: top + rapid.Float64Range(-0.2, 0.2).Draw(t, "top"),
				BlurMM: rapid.Float64Range(0, 5).Draw(t, "blur"),
			},
		)
	}
	st.Layers = append(st.Layers, Layer{Name: "back", Cup: len(tops), Top: 1})
	if rapid.Bool().Draw(t, "core") {
		st.Core = &Core{Cup: 3, WideMM: 2, FromMM: 5, ToMM: s.ToX / 2}
	}
	if rapid.Bool().Draw(t, "skin") {
		st.Skin = &Skin{Cup: 4, ToMM: s.ToX / 4, DeepMM: 0.5}
	}
	if rapid.Bool().Draw(t, "tail") {
		st.Tail = &Tail{Cup: 5, FromMM: s.ToX * 0.8}
	}
	if rapid.Bool().Draw(t, "spots") {
		st.Spots = []Spot{{Cup: 6, AtMM: s.ToX / 3, AcrossMM: 4, DeepMM: 0.6, UnderMM: 0.2}}
		st.Bars = []Bar{{Cup: 7, AtMM: s.ToX / 2, WideMM: 5, DeepMM: 0.4, Down: -0.3}}
	}
	return st
}

func TestRunsFillTheRay(t *testing.T) {
	shapes := []string{"paddle-minnow", "grub", "craw"}
	rapid.Check(t, func(t *rapid.T) {
		s, _ := Find(rapid.SampledFrom(shapes).Draw(t, "shape"))
		st := anyStructure(t, &s)
		if err := st.Check(&s); err != nil {
			t.Fatal(err)
		}
		// From any side.
		way := Vec{
			rapid.Float64Range(-1, 1).Draw(t, "x"), rapid.Float64Range(-1, 1).Draw(t, "y"),
			rapid.Float64Range(-1, 1).Draw(t, "z"),
		}
		if way.Long() < 0.1 {
			t.Skip("no way")
		}
		r := Ray{
			From: Vec{rapid.Float64Range(s.FromX, s.ToX).Draw(t, "at"), rapid.Float64Range(-9, 9).Draw(t, "up"), 0},
			Way:  way.Times(1 / way.Long()),
		}
		p := Stretch{
			In: rapid.Float64Range(-10, 0).Draw(t, "in"), Out: rapid.Float64Range(0.01, 15).Draw(t, "out"),
			InCos: rapid.Float64Range(0, 1).Draw(t, "steep"), OutCos: 0.7,
		}
		c := NewCutter(
			&s, &st, Split{ReachPct: []float64{60}, DriftMM: 3, WanderMM: 1}, rapid.IntRange(0, 5).Draw(t, "cavity"),
		)
		sum, parts := 0.0, len(st.Parts())
		for _, r := range c.Cut(&r, p) {
			sum += r.MM
			if r.MM < 0 || r.Part < 0 || r.Part >= parts || r.Other >= parts || r.Share < 0 || r.Share > 1 {
				t.Fatalf("%+v", r)
			}
		}
		if math.Abs(sum-p.Length()) > 5e-3 { // runs too thin to be seen are left out
			t.Fatalf("%s: runs of %v mm in %v mm", s.Key, sum, p.Length())
		}
	})
}

// A place belongs to one part, from whichever side a ray comes to it.
func TestAPlaceIsOfOnePartFromEverySide(t *testing.T) {
	s, _ := Find("paddle-minnow")
	st := Structure{
		Layers: []Layer{{Name: "belly", Top: 0.1}, {Name: "back", Cup: 1, Top: 1}},
		Core:   &Core{Cup: 2, WideMM: 5, FromMM: 10, ToMM: 70}, Tail: &Tail{Cup: 3, FromMM: 80},
	}
	c := NewCutter(&s, &st, Split{DriftMM: 4}, 0)
	rapid.Check(t, func(t *rapid.T) {
		at := Vec{
			rapid.Float64Range(5, 95).Draw(t, "x"), rapid.Float64Range(-6, 6).Draw(t, "y"),
			rapid.Float64Range(-4, 4).Draw(t, "z"),
		}
		parts := map[int]bool{}
		for range 3 {
			way := Vec{
				rapid.Float64Range(-1, 1).Draw(t, "x"), rapid.Float64Range(-1, 1).Draw(t, "y"),
				rapid.Float64Range(-1, 1).Draw(t, "z"),
			}
			if way.Long() < 0.1 {
				t.Skip("no way")
			}
			const reach = 0.002
			runs := c.Cut(
				&Ray{From: at, Way: way.Times(1 / way.Long())}, Stretch{In: -reach, Out: reach, InCos: 1, OutCos: 1},
			)
			if len(runs) != 1 {
				t.Skip("on a boundary")
			}
			parts[runs[0].Part] = true
		}
		if len(parts) != 1 {
			t.Fatalf("%v is of parts %v", at, parts)
		}
	})
}

func TestPartsFillTheBait(t *testing.T) {
	for _, s := range Shapes() {
		half := Structure{Layers: []Layer{{Name: "belly", Top: 0}, {Name: "back", Cup: 1, Top: 1}}}
		low := half
		low.Layers = []Layer{{Name: "belly", Top: -0.5}, {Name: "back", Cup: 1, Top: 1}}
		a, b := s.Volumes(&half, Split{}), s.Volumes(&low, Split{})
		assert.Less(t, b[0].ML, a[0].ML, "%s: a lower boundary leaves the belly less", s.Key)
		assert.InDelta(t, s.VolumeML(), a[0].ML+a[1].ML, 1e-9, s.Key)
		assert.Less(t, a[0].Y, a[1].Y, "%s: the back lies above", s.Key)
		full := Structure{
			Layers: low.Layers, Core: &Core{
				Cup: 2, WideMM: 3, FromMM: 5, ToMM: 40,
			}, Tail: &Tail{Cup: 3, FromMM: 0.8 * s.ToX},
			Spots: []Spot{{Cup: 4, AtMM: 30, AcrossMM: 5, DeepMM: 1}}, Bars: []Bar{{
				Cup: 5, AtMM: 20, WideMM: 4, DeepMM: 0.5, Down: 0,
			}}, Skin: &Skin{Cup: 6, ToMM: 10, DeepMM: 0.5},
		}
		require.NoError(t, full.Check(&s), s.Key)
		sum := 0.0
		for _, ml := range ByCup(s.Volumes(&full, Split{}), full.Cups()) {
			sum += ml
		}
		assert.InDelta(t, s.VolumeML(), sum, 1e-9, s.Key)
	}
	stick, _ := Find("stick")
	core := stick.Volumes(
		&Structure{Layers: []Layer{{Top: 1}}, Core: &Core{Cup: 1, WideMM: 4, FromMM: 20, ToMM: 70}}, Split{},
	)
	assert.InEpsilon(t, math.Pi*4*50/1000, core[1].ML, 0.03, "a rod of 4 mm, 50 mm long")
}

func TestBadStructuresAreNamed(t *testing.T) {
	s, _ := Find("paddle-minnow")
	layers := []Layer{{Name: "belly", Top: 0}, {Name: "back", Cup: 1, Top: 1}}
	for says, st := range map[string]Structure{
		"one to 4 layers":                   {},
		"come to more than the bait":        {Layers: []Layer{{Top: 1.4}, {Top: 1}}},
		"must end above":                    {Layers: []Layer{{Top: 0.5}, {Name: "vein", Top: 0.2}, {Top: 1}}},
		"fills what is left":                {Layers: []Layer{{Top: 0.5}}},
		"0 to 20 mm":                        {Layers: []Layer{{Top: 0, BlurMM: -1}, {Top: 1}}},
		"outside it":                        {Layers: []Layer{{Top: math.NaN()}, {Top: 1}}},
		"wider than its bait":               {Layers: layers, Core: &Core{WideMM: 15, ToMM: 50}},
		"wider than 0":                      {Layers: layers, Core: &Core{WideMM: 0, ToMM: 50}},
		"lies inside the bait":              {Layers: layers, Core: &Core{WideMM: 5, ToMM: 500}},
		"set-in tail begins":                {Layers: layers, Tail: &Tail{FromMM: 130}},
		"bar lies on the bait":              {Layers: layers, Bars: []Bar{{AtMM: -4, WideMM: 3, DeepMM: 1}}},
		"spot is more than 0":               {Layers: layers, Spots: []Spot{{AtMM: 20, AcrossMM: 0, DeepMM: 1}}},
		"more than the bait, which is 15.6": {Layers: layers, Spots: []Spot{{AtMM: 20, AcrossMM: 3, DeepMM: 9}}},
		"has no cup":                        {Layers: []Layer{{Cup: 9, Top: 1}}},
	} {
		assert.ErrorContains(t, st.Check(&s), says)
	}
	thick := Structure{
		Layers: layers,
		Spots: []Spot{
			{Cup: 1, AtMM: 86, UpMM: 2, AcrossMM: 3, DeepMM: 1.4}, {Cup: 1, AtMM: 30, AcrossMM: 3, DeepMM: 1},
		},
	}
	room := s.Room(&thick)
	require.Len(t, room, 1, "only the one in the thin wrist")
	assert.Contains(t, room[0], "Spot 1 leaves")
}

func TestAFloatingBaitTurnsItsLightSideUp(t *testing.T) {
	s, _ := Find("paddle-minnow")
	filled := s.Volumes(&Structure{Layers: []Layer{{Name: "belly", Top: 0}, {Name: "back", Cup: 1, Top: 1}}}, Split{})
	right := Floats(filled, []float64{1.15, 0.9}, 0.998, Hook{})
	assert.Contains(t, right.Says, "back up")
	over := Floats(filled, []float64{0.9, 1.15}, 0.998, Hook{})
	assert.Contains(t, over.Says, "belly up")
	assert.InDelta(t, -right.RightingMM, over.RightingMM, 0.5)
	light := Floats(filled, []float64{0.9, 0.9}, 0.998, Hook{})
	assert.True(t, light.Floats)
	assert.InDelta(t, s.VolumeML()*0.9, light.MassG, 1e-9)
	assert.InDelta(t, 0, light.RightingMM, 1e-9)
	hooked := Floats(filled, []float64{0.9, 0.9}, 0.998, Hook{Grams: 3, X: 20, Y: -5})
	assert.False(t, hooked.Floats)
	assert.Contains(t, hooked.Says, "back up, nose down")
}

func testMold() Mold {
	return Mold{
		Name: "Four of ours", Shape: "paddle-minnow", Cavities: 4, SprueML: 6, PlugML: 9, GateMM: 4,
		Material: Aluminium,
		Lies:     BackRight, Split: TypicalSplit(false, 4),
	}
}

func TestBadMoldsAreNamed(t *testing.T) {
	good := testMold()
	require.NoError(t, good.Check())
	s, _ := Find("paddle-minnow")
	assert.InDelta(t, 4*s.VolumeML()+15, good.ShotML(), 1e-9)
	for says, change := range map[string]func(*Mold){
		"give the mold a name":     func(m *Mold) { m.Name = " " },
		"no shape is called":       func(m *Mold) { m.Shape = "spoon" },
		"1 to 200 cavities":        func(m *Mold) { m.Cavities = 0 },
		"up to 500 ml":             func(m *Mold) { m.BaitML = -2 },
		"length is more than 0":    func(m *Mold) { m.Shape, m.ThickestMM, m.ThinnestMM = Own, 9, 2 },
		"width is more than 0 mm":  func(m *Mold) { m.WidthMM = -3 },
		"not thicker than":         func(m *Mold) { m.Shape, m.ThickestMM, m.ThinnestMM = Own, 2, 9 },
		"more than 400 mm":         func(m *Mold) { m.LengthMM = 900 },
		"thicker than the bait":    func(m *Mold) { *m = own(*m); m.ThickestMM = 40 },
		"0 (open) to 60":           func(m *Mold) { m.GateMM = -1 },
		"where the back lies":      func(m *Mold) { m.Lies = BackDown },
		"aluminium, silicone":      func(m *Mold) { m.Material = "wood" },
		"lies in the body":         func(m *Mold) { m.Slots = []Slot{{FromMM: 50, ToMM: 40, DeepMM: 3, WideMM: 1}} },
		"less deep than the body":  func(m *Mold) { m.Slots = []Slot{{FromMM: 20, ToMM: 40, DeepMM: 40, WideMM: 1}} },
		"narrower than the bait":   func(m *Mold) { m.Slots = []Slot{{FromMM: 20, ToMM: 40, DeepMM: 4, WideMM: 20}} },
		"thinner than 13":          func(m *Mold) { m.RodMM = 15 },
		"two steps or more":        func(m *Mold) { m.Shape, m.StepsMM = Chip, []float64{2} },
		"a step is more than 0 mm": func(m *Mold) { m.Shape, m.StepsMM = Chip, []float64{2, 0} },
		"drifts by up to":          func(m *Mold) { m.Split.DriftMM = math.NaN() },
		"10 to 100":                func(m *Mold) { m.Split.ReachPct = []float64{0} },
	} {
		m := testMold()
		change(&m)
		assert.ErrorContains(t, m.Check(), says)
	}
}

func own(m Mold) Mold {
	m.Shape, m.LengthMM, m.HeightMM, m.WidthMM, m.ThickestMM, m.ThinnestMM = Own, 90, 20, 14, 14, 2
	return m
}

func TestABaitsVolumeIsReadAsTyped(t *testing.T) {
	for typed, want := range map[string]float64{
		"8.5 ml": 8.5, "9 g": 9 / 1.03, "8.6 g water": 8.6 / 0.998, "8 ml of water": 8,
		"1/4 fl oz": measure.FluidOunceML / 4,
	} {
		ml, how, err := ParseBaitVolume(typed)
		require.NoError(t, err, typed)
		assert.InDelta(t, want, ml, 1e-9, typed)
		assert.NotEmpty(t, how)
	}
	for _, typed := range []string{"", "0", "-3 g", "a lot", "900 ml", "g"} {
		_, _, err := ParseBaitVolume(typed)
		assert.ErrorContains(t, err, "can't be read", typed)
	}
}

func TestFillHeightsAreReadAsTyped(t *testing.T) {
	s, _ := Find("paddle-minnow")
	s = s.With(Slot{FromMM: 20, ToMM: 50, DeepMM: 8, WideMM: 2})
	high := s.FillMM(1) // of the body, without its fins
	assert.InDelta(t, 17.5, high, 0.3)
	for typed, want := range map[string]float64{
		"40 %": -0.2, "half": 0, "to the top": 1, "11mm": 2*11/high - 1, "to the slot": 2*8/high - 1,
	} {
		got, err := s.ParseFill(typed)
		require.NoError(t, err, typed)
		assert.InDelta(t, want, got, 0.01, typed)
	}
	for _, typed := range []string{"", "140 %", "0%", "-4 mm", "40 mm", "up"} {
		_, err := s.ParseFill(typed)
		assert.Error(t, err, typed)
	}
	plain, _ := Find("stick")
	_, err := plain.ParseFill("to the slot")
	assert.ErrorContains(t, err, "no hook slot")
	assert.InDelta(t, high/2, s.FillMM(0), 0.01)
}

func TestFlakeAgainstAGate(t *testing.T) {
	m := testMold()
	m.GateMM = 2
	assert.Equal(t, Fits, m.Passage("fine", 0.4).Grade)
	assert.Equal(t, Folds, m.Passage("middling", 1.5).Grade)
	assert.Equal(t, Block, m.Passage("large", 2.4).Grade)
	assert.Contains(t, m.Passage("large", 2.4).Section, "larger than the thinnest section")
	m.Passes = map[string]Grade{"large": Folds}
	got := m.Passage("large", 2.4)
	assert.Equal(t, Folds, got.Grade)
	assert.True(t, got.Own)
	m.GateMM = 0
	assert.Equal(t, Fits, m.Passage("other", 2.4).Grade, "an open mold has no gate")
}

// A mold's own way is found again from where its boundary was seen.
func TestASplitIsFittedFromAShot(t *testing.T) {
	s, _ := Find("stick")
	rapid.Check(t, func(t *rapid.T) {
		at, drift := rapid.Float64Range(-2, 2).Draw(t, "at"), rapid.Float64Range(-2, 2).Draw(t, "drift")
		ends := rapid.Float64Range(0.5, 0.9).Draw(t, "ends")
		var seen []Seen
		for k := range 20 {
			along := (float64(k) + 0.5) / 20
			up := at + drift*(along-0.5)
			if along > ends {
				up = -s.FillMM(1) / 2
			}
			seen = append(seen, Seen{Along: along, UpMM: up})
		}
		got, top, err := FitSplit(&s, [][]Seen{seen}, TypicalSplit(false, 4))
		if err != nil {
			t.Fatal(err)
		}
		if math.Abs(got.DriftMM-drift) > 0.06 || math.Abs(got.ReachPct[0]-100*ends) > 3.5 ||
			math.Abs(s.FillMM(top)-s.FillMM(1)/2-at) > 0.05 || got.WanderMM > 0.1 || got.Origin != Fitted {
			t.Fatalf("%+v, top %v from at %v, drift %v, ends %v", got, top, at, drift, ends)
		}
	})
	_, _, err := FitSplit(&s, [][]Seen{{{Along: 0.1, UpMM: 0}}}, Split{})
	assert.ErrorContains(t, err, "five places")
}

func TestASplitMovesTheLayers(t *testing.T) {
	s, _ := Find("stick")
	st := Structure{Layers: []Layer{{Name: "belly", Top: 0}, {Name: "back", Cup: 1, Top: 1}}}
	belly := func(split Split, cavity int, x float64) float64 {
		c := NewCutter(&s, &st, split, cavity)
		mm := 0.0
		// down from the back
		for _, r := range c.Cut(
			&Ray{From: Vec{x, 5.6, 0}, Way: Vec{0, -1, 0}}, Stretch{Out: 11.2, InCos: 1, OutCos: 1},
		) {
			if r.Part == 0 {
				mm += r.MM
			}
		}
		return mm
	}
	assert.InDelta(t, 5.6, belly(Split{}, 0, 60), 0.05)
	assert.Less(t, belly(Split{DriftMM: 4}, 0, 20), belly(Split{DriftMM: 4}, 0, 110), "it rises to the tail")
	assert.Zero(t, belly(Split{ReachPct: []float64{50}}, 0, 100), "beyond its reach there is none")
	assert.NotEqual(t, belly(Split{WanderMM: 1}, 1, 60), belly(Split{WanderMM: 1}, 2, 60))
	odd := Split{OddCount: 1, OddMM: 3, Cavities: 4}
	assert.Greater(t, belly(odd, 4, 60), belly(odd, 3, 60)+2)
}

func TestWhatGoesInFirst(t *testing.T) {
	m := testMold()
	cup := func(i int) string { return []string{"cup A", "cup B", "cup C"}[i] }
	st, err := m.Begin("laminate", nil, 0)
	require.NoError(t, err)
	assert.Contains(
		t, m.Order(&st, cup)[0],
		"Left injector, seen from the gate: belly, from cup A. Right injector: back, from cup B",
	)
	m.Lies = BackLeft
	assert.Contains(t, m.Order(&st, cup)[0], "Left injector, seen from the gate: back, from cup B")
	m.Poured, m.Lies = true, BackDown
	st, err = m.Begin("pour", nil, 0)
	require.NoError(t, err)
	order := m.Order(&st, cup)
	assert.Contains(t, order[0], "First the back, from cup C")
	assert.Contains(t, order[2], "Then the belly, from cup A")
	require.NoError(t, func() error { st, err = m.Begin("spots", &st, 1); return err }())
	assert.Contains(t, m.Order(&st, cup)[0], "Lay the 3 spots onto the mold, from cup B")
	for _, w := range Ways() {
		_, err := m.Begin(w.Key, nil, min(1, w.Cups-1))
		assert.NoError(t, err, w.Key)
		for _, s := range Shapes() {
			own := m
			own.Shape = s.Key
			_, err := own.Begin(w.Key, &st, 1)
			assert.NoError(t, err, "%s in a %s", w.Key, s.Key)
		}
	}
	assert.Less(t, BlurMM(150, 150), BlurMM(170, 170), "hotter cups run into each other")
	assert.Less(t, BlurMM(160, 160), BlurMM(150, 170), "unequal ones more than equal ones")
}

// What the fields show, typed back, changes nothing; and every field says what is wrong with nonsense.
func TestFieldsAreReadBack(t *testing.T) {
	m := testMold()
	d := NewDesign("Try", "paddle-minnow", "a")
	for _, way := range []string{"pour", "core", "skin", "tail", "bars", "spots"} {
		require.NoError(t, d.Set("way", way, &m), way)
	}
	require.NoError(t, d.Check(&m))
	n := 0
	for _, p := range d.Fields(&m) {
		for _, f := range p.Fields {
			before := texts(&d, &m)
			require.NoError(t, d.Set(f.Key, f.Value, &m), f.Key)
			assert.Equal(t, before, texts(&d, &m), f.Key)
			for _, bad := range []string{"a lot", "-3 parsecs", "1/0", ""} {
				assert.Error(t, d.Set(f.Key, bad, &m), "%s: %q", f.Key, bad)
			}
			n++
		}
	}
	assert.Greater(t, n, 40)
	for _, g := range m.Fields() {
		for _, f := range g.Fields {
			if f.Key == "split.reachPct" || f.Key == "baitML" {
				continue
			}
			before := m.Fields()
			require.NoError(t, m.Set(f.Key, f.Value), f.Key)
			assert.Equal(t, before, m.Fields(), f.Key)
			assert.Error(t, m.Set(f.Key, "a lot"), f.Key)
		}
	}
}

func texts(d *Design, m *Mold) (out []string) {
	for _, p := range d.Fields(m) {
		for _, f := range p.Fields {
			out = append(out, f.Key+" "+f.Value)
		}
	}
	return out
}

func TestADesignIsChangedByHand(t *testing.T) {
	m := testMold()
	d := NewDesign("Try", "paddle-minnow", "a")
	require.NoError(t, d.Set("way", "laminate", &m))
	require.Len(t, d.Cups, 2)
	assert.Empty(t, d.Cups[1].Cup, "still to be chosen")
	require.NoError(t, d.Set("cups.1.cup", "b", &m))
	soft := d.Structure.Layers[0].BlurMM
	require.NoError(t, d.Set("cups.1.pour", "350F", &m))
	assert.Greater(t, d.Structure.Layers[0].BlurMM, soft, "hotter runs further")
	require.NoError(t, d.Set("layers.0.y", "50", &m))
	assert.InDelta(t, 0.95, d.Structure.Layers[0].Top, 0.02, "dragging stops inside the bait")
	require.NoError(t, d.Set("way", "spots", &m))
	assert.Equal(t, 2, d.Structure.Spots[0].Cup, "spots take a cup of their own")
	require.NoError(t, d.Set("spots.1.place", "33.3 -2.5", &m))
	assert.Equal(
		t, Spot{Cup: 2, AtMM: 33.3, UpMM: -2.5, AcrossMM: 3, DeepMM: d.Structure.Spots[1].DeepMM}, d.Structure.Spots[1],
	)
	require.NoError(t, d.Set("add", "spots", &m))
	require.NoError(t, d.Set("remove", "spots.0", &m))
	assert.Len(t, d.Structure.Spots, 3)
	assert.Equal(t, 33.3, d.Structure.Spots[0].AtMM)
	require.NoError(t, d.Set("hook.grams", "1/8 oz", &m))
	assert.InDelta(t, 3.54, d.Hook.Grams, 0.01)
	require.NoError(t, d.Set("spots.0.across", "0 mm", &m))
	assert.ErrorContains(t, d.Check(&m), "more than 0")
	for field, says := range map[string]string{
		"spots.9.at": "is gone", "core.wide": "no core", "wings": "no such place",
		"layers.0.cup": "choose one of the cups",
	} {
		assert.ErrorContains(t, d.Set(field, "77", &m), says, field)
	}
}

func TestPlacesAreReadOffAPhoto(t *testing.T) {
	s, _ := Find("stick") // 127 mm
	got, err := SeenOn(&s, [2]float64{100, 200}, [2]float64{100 + 254, 200}, [][2]float64{{227, 196}, {354, 204}})
	require.NoError(t, err)
	assert.InDelta(t, 0.5, got[0].Along, 1e-9)
	assert.InDelta(t, 2, got[0].UpMM, 1e-3, "2 px a mm, and y goes down in a photo")
	assert.InDelta(t, -2, got[1].UpMM, 1e-3)
	back, err := SeenOn(&s, [2]float64{354, 200}, [2]float64{100, 200}, [][2]float64{{227, 196}})
	require.NoError(t, err)
	assert.InDelta(t, 2, back[0].UpMM, 1e-3, "nose to the right")
	_, err = SeenOn(&s, [2]float64{0, 0}, [2]float64{3, 0}, nil)
	assert.ErrorContains(t, err, "too close")
	_, err = SeenOn(&s, [2]float64{0, 0}, [2]float64{200, 0}, [][2]float64{{900, 0}})
	assert.ErrorContains(t, err, "beside the bait")
}

func TestCupsAreLaidFromTheBelly(t *testing.T) {
	is := func(s string) string { return s }
	assert.Equal(
		t, []string{"White belly", "side", "eye", "Dark back"},
		FromTheBelly([]string{"Dark back", "side", "White belly", "eye"}, is),
	)
	assert.Equal(t, "single", WayFor(1))
	assert.Equal(t, "laminate", WayFor(2))
	assert.Equal(t, "pour", WayFor(9))
}
