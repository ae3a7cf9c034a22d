package mix

import (
	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/fit"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
)

// BenchTest is one of the quick looks that makers take at a hot cup, as it is predicted for this one.
type BenchTest struct {
	Key     string   `json:"key"`
	Name    string   `json:"name"`
	About   string   `json:"about"`
	Swatch  []Swatch `json:"swatch" nullable:"false"`
	Labels  []string `json:"labels" nullable:"false" doc:"One a swatch"`
	DepthMM float64  `json:"depthMM,omitempty" doc:"Where a depth is what is looked for"`
	Says    string   `json:"says"`
}

// Dimensions of the things that plastic is seen on and in, mm.
const (
	drizzleMM = 0.6
	dripMM    = 2.0
	tipMM     = 3.0
	runnerMM  = 6.0
	stickMM   = 250 // as deep as any cup
)

var chipMM = []float64{1, 2, 4, 8}

// BenchTests predicts them all, in a light. The cup is hot except where the plastic has been let go cold.
func (m *Mix) BenchTests(light colour.Light) []BenchTest {
	look := func(mm float64, g optics.Ground, s cup.State) Swatch {
		return NewSwatch(m.Colour(Condition{ThicknessMM: mm, Ground: g, Light: light, State: s}))
	}
	joined := func(mm float64, g optics.Ground, s cup.State) Swatch {
		l := m.Layer(mm, s)
		st := optics.Pile(l)
		rg := g.Reflectance()
		seen := optics.InAir.Joined(&st, &rg)
		return NewSwatch(light.Lab(&seen))
	}
	depth := m.StickDepth(cup.Hot)
	stick := BenchTest{
		Key: "stirrer", Name: "Stirrer", About: "How far down a white stick stays visible in the hot cup.",
		DepthMM: depth,
		Swatch:  []Swatch{look(60, optics.White, cup.Hot)}, Labels: []string{"the cup from above"},
	}
	switch {
	case depth >= stickMM:
		stick.Says = "visible to the bottom of any cup"
	default:
		stick.Says = "gone at " + measure.Number(depth, depthPlaces(depth)) + " mm (" +
			measure.Number(depth/measure.MMPerInch, 2) + " in)"
	}
	chip := BenchTest{
		Key: "chip", Name: "Step chip", About: "Four thicknesses side by side on white paper.",
		Says:   "1, 2, 4 and 8 mm",
		Swatch: []Swatch{}, Labels: []string{},
	}
	for _, mm := range chipMM {
		chip.Swatch = append(chip.Swatch, look(mm, optics.White, cup.Fresh))
		chip.Labels = append(chip.Labels, measure.Number(mm, 0)+" mm")
	}
	through := m.SeeThrough(BodyMM, cup.Fresh)
	return []BenchTest{
		stick,
		{
			"drizzle", "Drizzle", "A thread let run on a grey table.",
			[]Swatch{joined(drizzleMM, optics.Grey, cup.Fresh)},
			[]string{"0.6 mm film"},
			0, "the thinnest look at the hue",
		},
		{
			"drip", "Drip on metal", "A drop on the bare mold.",
			[]Swatch{joined(dripMM, optics.Metal, cup.Fresh)},
			[]string{"2 mm on metal"},
			0, "bright behind, so cleaner than a bait",
		},
		{
			"tip", "Injector tip", "What hangs at the tip, against the light.",
			[]Swatch{look(tipMM, optics.Against, cup.Hot)},
			[]string{"3 mm"},
			0, "hot, and lit from behind",
		},
		{
			"runner", "Runner and sprue", "The waste of a shot, on white paper.",
			[]Swatch{look(runnerMM, optics.White, cup.Fresh)},
			[]string{"6 mm"},
			0, "about a bait's body",
		},
		{
			"held", "Held to the light", "A body held to a window.",
			[]Swatch{look(BodyMM, optics.Against, cup.Fresh)},
			[]string{"8 mm"},
			0,
			measure.Number(100*through, 0) + " % comes through",
		},
		chip,
	}
}

func depthPlaces(mm float64) int {
	if mm < 10 {
		return 1
	}
	return 0
}

// stickWhite is the reflectance of a clean white stirrer, and leastStick the ΔE00 at which its end is lost.
const (
	stickWhite = 0.8
	leastStick = 2.5
)

// StickDepth is how deep in the cup a white stick can still be told from the plastic around it.
func (m *Mix) StickDepth(s cup.State) float64 {
	l := m.Layer(stickMM, s)
	all := optics.Pile(l)
	var dark colour.Spectrum
	deep := optics.InAir.Joined(&all, &dark)
	around := colour.D65.Lab(&deep)
	white := colour.Flat(stickWhite)
	shows := func(mm float64) bool {
		l.ThicknessMM = mm
		st := optics.Pile(l)
		seen := optics.InAir.Joined(&st, &white)
		return colour.DeltaE00(colour.D65.Lab(&seen), around) > leastStick
	}
	if shows(stickMM) {
		return stickMM
	}
	deepest, _ := fit.Between(0, stickMM, 30, func(mm float64) bool { return !shows(mm) })
	return deepest
}
