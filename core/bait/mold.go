package bait

import (
	"errors"
	"fmt"
	"math"
	"strings"

	"cloudburst/core/measure"
	"cloudburst/core/mesh"
)

// Mold is a maker's own mold: the bait that comes out of it, and how it is filled.
type Mold struct {
	Name     string  `json:"name" minLength:"1" maxLength:"80"`
	Shape    string  `json:"shape" maxLength:"40" doc:"Key of one of our shapes, own for measures of its own, step-chip, or from-a-file"`
	Notes    string  `json:"notes,omitempty" maxLength:"4000"`
	LengthMM float64 `json:"lengthMM" doc:"0 for the shape's own" maximum:"400"`
	HeightMM float64 `json:"heightMM" maximum:"150"`
	WidthMM  float64 `json:"widthMM" maximum:"150" doc:"Side to side"`

	ThickestMM float64   `json:"thickestMM,omitempty" maximum:"100" doc:"Own measures: its thickest section"`
	ThinnestMM float64   `json:"thinnestMM,omitempty" maximum:"100" doc:"Own measures: its thinnest section"`
	StepsMM    []float64 `json:"stepsMM,omitempty" maxItems:"12" doc:"A step chip's thicknesses"`

	Cavities int      `json:"cavities"`
	BaitML   float64  `json:"baitML" doc:"0: as the shape says"`
	BaitHow  string   `json:"baitHow,omitempty" maxLength:"120" doc:"How the volume was found: typed, weighed or by displacement, as it was entered"`
	SprueML  float64  `json:"sprueML" doc:"Sprue and runner, of one mold"`
	PlugML   float64  `json:"plugML" doc:"What stays in the injector"`
	GateMM   float64  `json:"gateMM" doc:"Width of the gate; 0 where it is open"`
	Slots    []Slot   `json:"slots,omitempty" maxItems:"4"`
	RodMM    float64  `json:"rodMM,omitempty" doc:"Rods for a core: how thick; 0 for none"`
	Material Material `json:"material" enum:"aluminium,silicone,composite"`
	Poured   bool     `json:"poured" doc:"An open mold with a flat top; else it is shot"`
	Lies     Lie      `json:"lies" enum:"back-down,belly-down,back-left,back-right"`
	Split    Split    `json:"split"`
	// Passes holds a maker's own verdicts on flake, by the material's uid.
	Passes map[string]Grade `json:"passes,omitempty"`
	Body   *Body            `json:"body,omitempty" doc:"A bait from a file of the maker's own"`
	// Skin fetches that body's mesh; whoever reads a mold from where it is kept sets it.
	Skin func() (*mesh.Mesh, error) `json:"-"`
}

// Body says which mesh a bait is, and how it lies: the file does not tell which side is up.
type Body struct {
	UID      string `json:"uid" maxLength:"64"`
	Quarters int    `json:"quarters" minimum:"0" maximum:"3" doc:"Rolled about its length by so many quarter turns"`
	TailOn   bool   `json:"tailOn" doc:"Its other end is the nose"`
	Lying    bool   `json:"lying" doc:"A flat bait, looked at from above"`
}

// Material is what a mold is made of.
type Material string

// The materials.
const (
	Aluminium Material = "aluminium"
	Silicone  Material = "silicone"
	Composite Material = "composite"
)

// Lie says where a bait's back is in its mold.
type Lie string

// The lies: in an open mold, what lies at the bottom; in a shot one, at which injector the back is, seen from the gate.
const (
	BackDown  Lie = "back-down"
	BellyDown Lie = "belly-down"
	BackLeft  Lie = "back-left"
	BackRight Lie = "back-right"
)

// Words says it in a maker's words.
func (l Lie) Words() string {
	return map[Lie]string{
		BackDown: "the back lies at the bottom of the cavity", BellyDown: "the belly lies at the bottom of the cavity",
		BackLeft:  "the back is on the left, seen from the gate",
		BackRight: "the back is on the right, seen from the gate",
	}[l]
}

// Own is the key of a bait of its own measures, Chip that of a step chip, FromFile that of a maker's own mesh.
const (
	Own      = "own"
	Chip     = "step-chip"
	FromFile = "from-a-file"
)

// Check says what is wrong with a mold, at its field.
func (m *Mold) Check() error {
	if err := measure.CheckName("name", "the mold", m.Name, 80); err != nil {
		return err
	}
	if err := measure.CheckNote("notes", m.Notes); err != nil {
		return err
	}
	if len(m.Notes) > 4000 {
		return measure.Faulty("notes", "notes have up to 4,000 letters")
	}
	if err := m.checkSize(); err != nil {
		return err
	}
	switch {
	case m.Shape == Own && m.ThickestMM > max(m.WidthMM, m.HeightMM):
		return measure.Faulty(
			"thickestMM", "a section is not thicker than the bait itself, %s mm",
			measure.Number(max(m.WidthMM, m.HeightMM), 1),
		)
	case m.Cavities < 1 || m.Cavities > 200:
		return measure.Faulty("cavities", "a mold has 1 to 200 cavities")
	case !(m.BaitML >= 0 && m.BaitML <= 500):
		return measure.Faulty("baitML", "a bait has more than 0 and up to 500 ml")
	case !(m.SprueML >= 0 && m.SprueML <= 500):
		return measure.Faulty("sprueML", "a sprue takes 0 to 500 ml")
	case !(m.PlugML >= 0 && m.PlugML <= 500):
		return measure.Faulty("plugML", "a plug takes 0 to 500 ml")
	case !(m.GateMM >= 0 && m.GateMM <= 60):
		return measure.Faulty("gateMM", "a gate is 0 (open) to 60 mm wide")
	case m.Material != Aluminium && m.Material != Silicone && m.Material != Composite:
		return measure.Faulty("material", "a mold is of aluminium, silicone or composite")
	case m.Poured != (m.Lies == BackDown || m.Lies == BellyDown) || m.Lies.Words() == "":
		return measure.Faulty(
			"lies", "say where the back lies: at the bottom or top of an open mold, left or right in one that is shot",
		)
	}
	if err := m.Split.Check(); err != nil {
		return err
	}
	if err := m.checkSlots(); err != nil {
		return err
	}
	for uid, g := range m.Passes {
		if len(uid) > 64 || g.Words() == "" || len(m.Passes) > 300 {
			return measure.Faulty("passes", "flake fits, folds through, or blocks")
		}
	}
	return nil
}

// checkSize says what is wrong with a mold's measures: rather named here than found out by a picture.
func (m *Mold) checkSize() error {
	size := func(field, what string, v, most float64, may0 bool) error {
		switch {
		case may0 && v == 0:
			return nil
		case !(v > 0):
			return measure.Faulty(field, "%s is more than 0 mm", what)
		case v > most:
			return measure.Faulty(field, "%s of more than %s mm is not a bait's", what, measure.Number(most, 0))
		}
		return nil
	}
	own := m.Shape == Own
	switch m.Shape {
	case Chip:
		if len(m.StepsMM) < 2 {
			return measure.Faulty("stepsMM", "a step chip has two steps or more; write them as 1, 2, 4, 8")
		}
		if len(m.StepsMM) > 12 {
			return measure.Faulty("stepsMM", "up to twelve steps are taken")
		}
		for _, v := range m.StepsMM {
			if err := size("stepsMM", "a step", v, 60, false); err != nil {
				return err
			}
		}
	case Own:
		if err := size("thickestMM", "the thickest section", m.ThickestMM, 100, false); err != nil {
			return err
		}
		if err := size("thinnestMM", "the thinnest section", m.ThinnestMM, 100, false); err != nil {
			return err
		}
		if m.ThinnestMM > m.ThickestMM {
			return measure.Faulty(
				"thinnestMM", "the thinnest section is not thicker than the thickest, %s mm",
				measure.Number(m.ThickestMM, 1),
			)
		}
	case FromFile:
		if m.Body == nil || m.Body.UID == "" || m.Body.Quarters < 0 || m.Body.Quarters > 3 {
			return measure.Faulty("shape", "bring in the bait's file first: an STL or an OBJ")
		}
		if err := size("lengthMM", "the length", m.LengthMM, 400, false); err != nil {
			return err
		}
	default:
		if _, known := NameOf(m.Shape); !known {
			return measure.Faulty("shape", "no shape is called %q; choose one of the list", m.Shape)
		}
	}
	if m.Shape != Chip {
		for _, f := range []struct {
			field, what string
			v, most     float64
		}{{"lengthMM", "the length", m.LengthMM, 400}, {"heightMM", "the height", m.HeightMM, 150}, {"widthMM", "the width", m.WidthMM, 150}} {
			if err := size(f.field, f.what, f.v, f.most, !own); err != nil {
				return err
			}
		}
	}
	return nil
}

// checkSlots says what is wrong with its hook slots and its rod.
func (m *Mold) checkSlots() error {
	s := m.bare()
	_, width := s.Size()
	for i, t := range m.Slots {
		field := fmt.Sprintf("slots.%d.", i)
		body := s.bodyHeight()
		switch {
		case !(t.FromMM >= 0 && t.ToMM > t.FromMM && t.ToMM <= s.bodyTo):
			return measure.Faulty(
				field+"toMM", "a hook's slot lies in the body: from 0 to %s mm", measure.Number(s.bodyTo, 0),
			)
		case !(t.DeepMM > 0 && t.DeepMM < body.length()):
			return measure.Faulty(
				field+"deepMM", "a slot is deeper than 0 and less deep than the body, %s mm",
				measure.Number(body.length(), 1),
			)
		case !(t.WideMM > 0 && t.WideMM < width):
			return measure.Faulty(
				field+"wideMM", "a slot is wider than 0 and narrower than the bait, %s mm", measure.Number(width, 1),
			)
		}
	}
	if most := 2 * s.bodyHalfWidth(); m.RodMM != 0 && !(m.RodMM > 0 && m.RodMM < most) {
		return measure.Faulty(
			"rodMM", "a rod goes into the bait: thicker than 0 and thinner than %s mm", measure.Number(most, 1),
		)
	}
	return nil
}

// fromFile is the maker's own mesh as it lies; a smoky stand-in of its length where it can't be read.
func (m *Mold) fromFile() Shape {
	b := m.Body
	key := keyOf("file "+b.UID, m.LengthMM, float64(b.Quarters), flag(b.TailOn), flag(b.Lying))
	solid, err := solidOr(key, func() (*Solid, error) {
		if m.Skin == nil {
			return nil, errNoSkin
		}
		skin, err := m.Skin()
		if err != nil {
			return nil, err
		}
		for range b.Quarters {
			skin.Quarter()
		}
		if b.TailOn {
			skin.Half(1)
		}
		skin.Centre()
		skin.FitLength(m.LengthMM)
		return NewSolid(skin, b.Lying, 0), nil
	})
	if err != nil {
		return Sized(m.LengthMM, 0.2*m.LengthMM, 0.14*m.LengthMM, 0.02*m.LengthMM)
	}
	return shaped(FromFile, m.Name, "From a file of your own.", solid)
}

var errNoSkin = errors.New("bait: the mold was not read from where its body is kept")

func flag(on bool) float64 {
	if on {
		return 1
	}
	return 0
}

func (m *Mold) bare() Shape {
	var s Shape
	switch m.Shape {
	case Chip:
		s = StepChip(m.StepsMM)
	case Own:
		s = Sized(m.LengthMM, m.HeightMM, m.ThickestMM, m.ThinnestMM)
	default:
		if m.Shape == FromFile {
			s = m.fromFile()
		} else {
			s, _ = Find(m.Shape) // checked before
		}
		height, width := s.Size()
		given := func(v, usual float64) float64 {
			if v > 0 {
				return v
			}
			return usual
		}
		if (m.LengthMM > 0 && m.Shape != FromFile) || m.HeightMM > 0 || m.WidthMM > 0 {
			s = s.Scaled(given(m.LengthMM, s.ToX), given(m.HeightMM, height), given(m.WidthMM, width))
		}
	}
	s.Name = m.Name
	return s
}

// Bait is the shape that comes out of the mold.
func (m *Mold) Bait() Shape {
	s := m.bare()
	if len(m.Slots) > 0 {
		s = s.With(m.Slots...)
	}
	return s
}

// VolumeML is what one bait takes: as it was measured, else as its shape says.
func (m *Mold) VolumeML() float64 {
	if m.BaitML > 0 {
		return m.BaitML
	}
	s := m.Bait()
	return s.VolumeML()
}

// Makes is how many baits so much plastic is good for: every filling takes its sprue and plug with it, the last one
// with fewer baits, too.
func (m *Mold) Makes(ml float64) int {
	shot := m.ShotML()
	whole := math.Floor(ml/shot + 1e-9)
	left := ml - whole*shot - m.SprueML - m.PlugML
	baits := int(whole) * m.Cavities
	if left > 0 {
		baits += min(m.Cavities, int(left/m.VolumeML()+1e-9))
	}
	return baits
}

// ShotML is what one filling of the mold takes, sprue and plug with it.
func (m *Mold) ShotML() float64 { return float64(m.Cavities)*m.VolumeML() + m.SprueML + m.PlugML }

// Way is how this mold splits layers.
func (m *Mold) Way() Split {
	s := m.Split
	s.Cavities = m.Cavities
	return s
}

// plainGML is plain plastisol, cured, g/ml: what an uncoloured bait is weighed as.
const plainGML = 1.03

// ParseBaitVolume reads how much a bait takes: a volume ("8.5 ml"), a weight ("9 g", of a bait in plain plastisol), or
// what it displaces ("8.6 g water"). It says how it was understood.
func ParseBaitVolume(typed string) (ml float64, how string, err error) {
	text := strings.ToLower(strings.TrimSpace(typed))
	water := strings.Contains(text, "water")
	bare := strings.TrimSpace(strings.NewReplacer("of water", "", "water", "", "displaced", "").Replace(text))
	bad := func() error {
		return measure.Faulty(
			"baitML",
			"%q can't be read; write a volume (8.5 ml), a bait's weight (9 g), or what it displaces (8.6 g water)",
			typed,
		)
	}
	if grams, found := strings.CutSuffix(bare, "g"); found {
		v, numErr := measure.ParseNumber(strings.TrimSpace(grams))
		if numErr != nil || !(v > 0 && v <= 500) {
			return 0, "", bad()
		}
		if water {
			return v / 0.998, fmt.Sprintf("by displacement: %s g of water", measure.Number(v, 2)), nil
		}
		return v / plainGML, fmt.Sprintf(
			"weighed: %s g at %s g/ml", measure.Number(v, 2), measure.Number(plainGML, 2),
		), nil
	}
	v, volErr := measure.ParseVolume(bare)
	if volErr != nil || !(v.ML > 0 && v.ML <= 500) {
		return 0, "", bad()
	}
	if water {
		return v.ML, fmt.Sprintf("by displacement: %s ml of water", measure.Number(v.ML, 2)), nil
	}
	return v.ML, "typed: " + v.String(), nil
}

// ParseFill reads to where a layer is filled: "40 %", "8 mm" from the lowest point of the body, "half", "to the slot",
// "to the top". It gives the height as -1 (lowest) to 1 (highest).
func (s *Shape) ParseFill(typed string) (float64, error) {
	body := s.bodyHeight()
	share := func(of float64) (float64, error) {
		if !(of > 0 && of <= 1) {
			return 0, measure.Faulty(
				"top", "a layer ends inside the bait: above 0 and up to 100 %%, or %s mm",
				measure.Number(body.length(), 1),
			)
		}
		return 2*of - 1, nil
	}
	text := strings.TrimPrefix(strings.ToLower(strings.TrimSpace(typed)), "to ")
	text = strings.TrimPrefix(text, "the ")
	switch text {
	case "top", "back", "full":
		return 1, nil
	case "half", "middle", "half way":
		return 0, nil
	case "slot":
		if len(s.slots) == 0 {
			return 0, measure.Faulty("top", "this mold has no hook slot; write a height, as 40 %% or 8 mm")
		}
		t := s.slots[0]
		if t.InBack {
			return share((body.length() - t.DeepMM) / body.length())
		}
		return share(t.DeepMM / body.length())
	}
	if pct, found := strings.CutSuffix(text, "%"); found {
		if v, err := measure.ParseNumber(strings.TrimSpace(pct)); err == nil {
			return share(v / 100)
		}
	} else if mm, err := measure.ParseLength(text); err == nil {
		return share(mm / body.length())
	}
	return 0, measure.Faulty(
		"top", "%q can't be read; write to where it is filled: 40 %%, 8 mm, half, to the slot", typed,
	)
}

// FillMM is the height of a share of the body above its lowest point.
func (s *Shape) FillMM(top float64) float64 { return (top + 1) / 2 * s.bodyHeight().length() }

// ShareOfMM is the share of the body at a height above its lowest point.
func (s *Shape) ShareOfMM(mm float64) float64 { return 2*mm/s.bodyHeight().length() - 1 }

// AxisMM is how far the axis lies above the lowest point of the body.
func (s *Shape) AxisMM() float64 { return -s.bodyHeight().from }

// ShareOfY is the share of the body at a height from the axis, kept inside the body.
func (s *Shape) ShareOfY(y float64) float64 {
	body := s.bodyHeight()
	return min(0.95, max(-0.95, 2*(y-body.from)/body.length()-1))
}

// BlurMM is how far two plastics run into each other when poured at so many °C: twice as far for each 14 °C above
// 150, and further where one is hotter than the other. Starting values, until shots are fitted.
func BlurMM(belowC, aboveC float64) float64 {
	mean, apart := (belowC+aboveC)/2, math.Abs(belowC-aboveC)
	return min(12, max(0.2, 0.9*math.Exp2((mean-150)/14)*(1+apart/22)))
}

// Says is what a mold is, in a line.
func (m *Mold) Says() string {
	way, cavities := "shot", "one cavity"
	if m.Poured {
		way = "open pour"
	}
	if m.Cavities > 1 {
		cavities = fmt.Sprintf("%d cavities", m.Cavities)
	}
	return fmt.Sprintf("%s, %s, %s; %s", m.Material, way, cavities, m.Lies.Words())
}

// LieChoices are the ways in which its baits can lie: back left or right of a shot one, back or belly down of a poured
// one.
func (m *Mold) LieChoices() []Lie {
	if m.Poured {
		return []Lie{BackDown, BellyDown}
	}
	return []Lie{BackLeft, BackRight}
}
