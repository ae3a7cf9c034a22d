package mix

import (
	"fmt"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
)

// Swatch is one colour with what a screen needs to show it.
type Swatch struct {
	Lab colour.Lab `json:"lab"`
	Hex string     `json:"hex" doc:"Nearest sRGB colour of the same hue and lightness"`
}

// NewSwatch makes a swatch of a Lab colour.
func NewSwatch(lab colour.Lab) Swatch { return Swatch{lab, lab.SRGB().Hex()} }

// Look is what a cup is predicted to look like at one thickness.
type Look struct {
	ThicknessMM float64            `json:"thicknessMM"`
	Ground      optics.Ground      `json:"ground" enum:"white,dark,grey,against,metal,hand"`
	Light       colour.Light       `json:"light"`
	State       cup.State          `json:"state" enum:"raw,hot,fresh,rested"`
	TiltDeg     float64            `json:"tiltDeg"`
	Water       optics.Water       `json:"water,omitempty"`
	DepthM      float64            `json:"depthM"`
	DistanceM   float64            `json:"distanceM"`
	Swatch      Swatch             `json:"swatch"`
	OpenWater   *Swatch            `json:"openWater,omitempty" doc:"The water beside it, where it is looked at under water"`
	InWater     *colour.Difference `json:"inWater,omitempty" doc:"How it stands out from that water"`
	InWaterSays string             `json:"inWaterSays,omitempty" doc:"The same in a word or two"`
	WorkSays    string             `json:"workSays" doc:"The temperature at which the cup is worked"`
	Tilted      *Swatch            `json:"tilted,omitempty" doc:"The same, tilted by 45 degrees, where that changes it"`
	SeeThrough  float64            `json:"seeThrough" doc:"Share of light that comes through, 0..1, as the eye weighs it"`
	Against     *colour.Difference `json:"against,omitempty" doc:"How it stands to the target, where there is one"`
	Enough      string             `json:"enough,omitempty" doc:"Where the difference to the target is one that does not matter: why"`
	Range       *float64           `json:"range,omitempty" doc:"ΔE00 between the ends of what was estimated"`
	Sure        string             `json:"sure" doc:"How far the figure can be trusted, and what would make it surer"`
	Watch       []cup.Watch        `json:"watch" nullable:"false" doc:"What to look out for"`
	FinishedML  float64            `json:"finishedML"`
	Lines       []Line             `json:"lines" nullable:"false"`
	Feel        Feel               `json:"feel"`
}

// tiltedDeg is the second look at what glints or shifts.
const tiltedDeg = 45

// LookAt predicts the cup's colour under a condition and compares it with the cup's target.
func LookAt(c *cup.Cup, m *Mix, shelf cup.Shelf, at Condition) (Look, error) {
	if err := at.Check(); err != nil {
		return Look{}, err
	}
	if at.State == "" {
		at.State = cup.Rested
	}
	lab := m.Colour(at)
	l := Look{
		ThicknessMM: at.ThicknessMM, Ground: at.Ground, Light: at.Light, State: at.State, TiltDeg: at.TiltDeg,
		Water: at.Water, DepthM: at.DepthM, DistanceM: at.DistanceM,
		Swatch: NewSwatch(lab), SeeThrough: m.SeeThrough(at.ThicknessMM, at.State), Sure: sure(c, shelf),
		Watch:      watch(c, m, shelf),
		FinishedML: m.FinishedML, Lines: m.Lines, Feel: m.Feel(), WorkSays: measure.Degrees(c.WorkingC()),
	}
	if at.Water != "" {
		open := Open(at)
		swatch, d := NewSwatch(open), colour.Compare(lab, open)
		l.OpenWater, l.InWater = &swatch, &d
		switch {
		case d.DeltaE00 >= 8:
			l.InWaterSays = "Stands out"
		case d.DeltaE00 >= 4:
			l.InWaterSays = "Quiet in the water"
		default:
			l.InWaterSays = "Melts into the water"
		}
	}
	if len(m.Mirrors) > 0 && at.TiltDeg == 0 && at.Ground != optics.Against {
		turned := at
		turned.TiltDeg = tiltedDeg
		s := NewSwatch(m.Colour(turned))
		l.Tilted = &s
	}
	if c.Target != nil {
		d := colour.Compare(lab, c.Target.Lab)
		l.Against, l.Enough = &d, c.Target.Enough(d.DeltaE00)
	}
	if spread, guessed, err := spread(c, shelf, at); err != nil {
		return l, err
	} else if guessed {
		l.Range = &spread
	}
	return l, nil
}

// spread is how far apart the colours lie if all estimates were at their least, and all at their most.
func spread(c *cup.Cup, shelf cup.Shelf, at Condition) (deltaE00 float64, guessed bool, err error) {
	low, high := *c, *c
	low.Doses, high.Doses = slices.Clone(c.Doses), slices.Clone(c.Doses)
	for i, d := range c.Doses {
		guessed = guessed || d.Amount.Estimated()
		low.Doses[i].Amount, high.Doses[i].Amount = d.Amount.AtLeast(), d.Amount.AtMost()
	}
	if !guessed {
		return 0, false, nil
	}
	// Where no cup could take that much, the guess ends at what was put down.
	end := func(at *cup.Cup) (*Mix, error) {
		m, err := Stir(at, shelf)
		if err != nil {
			return Stir(c, shelf)
		}
		return m, nil
	}
	m1, err := end(&low)
	if err != nil {
		return 0, true, err
	}
	m2, err := end(&high)
	if err != nil {
		return 0, true, err
	}
	return colour.DeltaE00(m1.Colour(at), m2.Colour(at)), true, nil
}

func sure(c *cup.Cup, shelf cup.Shelf) string {
	typical, guessed := 0, 0
	for _, d := range c.Doses {
		m := shelf[d.Material]
		if m.OpticsOrigin() == material.Typical {
			typical++
		}
		if d.Amount.Estimated() {
			guessed++
		}
	}
	says := fmt.Sprintf("An estimate: %d of %d have typical values only.", typical, len(c.Doses))
	switch {
	case typical == 0 && len(c.Doses) > 0:
		says = "From what was measured."
	case typical == len(c.Doses):
		says = "An estimate: typical values, nothing measured yet."
	}
	if guessed > 0 {
		says += fmt.Sprintf(" %d went in by guess; narrow it once you know.", guessed)
	}
	return says
}

// Usual is what a material looks like by itself: a usual dose in a cup of typical plastisol, as a body over white
// (powders that need a dark ground: over dark).
func Usual(m *material.Material, shelf cup.Shelf) (Swatch, string) {
	mix, dose := Alone(m, shelf, m.Middling())
	if mix == nil { // a stored material is sound; a usual dose of it fits a cup
		return Swatch{}, ""
	}
	return NewSwatch(mix.Colour(Condition{ThicknessMM: BodyMM, Ground: BestGround(m), Light: colour.D65})), dose
}

// BestGround is where a material shows what it does.
func BestGround(m *material.Material) optics.Ground {
	if (m.Powder != nil && m.Powder.Type != material.Pearl) || (m.Flake != nil && m.Flake.SeesThrough()) {
		return optics.Dark
	}
	return optics.White
}

// Alone is a dose of one material in a cup of typical plastisol, and that dose in words.
func Alone(m *material.Material, shelf cup.Shelf, dose measure.Amount) (*Mix, string) {
	const base = "base"
	own := cup.Shelf{
		m.UID: *m,
		base: {
			Name: "plain",
			Plastisol: &material.Plastisol{
				Grade: "medium", DensityGML: material.Value{Value: 1.03}, Optics: material.TypicalBase,
			},
		},
	}
	c := cup.Cup{
		Volume: measure.Volume{Typed: "1 cup", ML: measure.CupML}, Plastisol: base,
		Doses: []cup.Dose{{Material: m.UID, Typed: "", Amount: dose}},
	}
	words := dose.String() + " a cup"
	if m.Plastisol != nil {
		c.Plastisol, c.Doses, words = m.UID, nil, "clear"
	}
	if m.Colourant != nil {
		for _, p := range m.Colourant.Contains {
			own[p.Material] = shelf[p.Material]
		}
	}
	mix, err := Stir(&c, own)
	if err != nil {
		return nil, ""
	}
	return mix, words
}

// BodyMM is the thickness of an ordinary bait's body, FinMM of its fin.
const (
	BodyMM = 8.0
	FinMM  = 1.5
)
