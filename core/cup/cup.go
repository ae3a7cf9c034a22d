package cup

import (
	"fmt"
	"maps"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
)

// Cup is what stands on the bench: a volume of plastisol and what went into it.
type Cup struct {
	Volume    measure.Volume `json:"volume"`
	Plastisol string         `json:"plastisol" maxLength:"64" format:"uid" doc:"uid of the plastisol"`
	Doses     []Dose         `json:"doses" nullable:"false" maxItems:"60"`
	WorkC     float64        `json:"workC,omitempty" minimum:"0" maximum:"260" doc:"Working temperature, °C; 0 for the usual 350 °F"`
	Target    *Target        `json:"target,omitempty" doc:"The colour it is to become"`
}

// UsualWorkC is the temperature at which plastisol is worked unless the maker says otherwise: 350 °F.
const UsualWorkC = 176.7

// WorkingC is the temperature at which the cup is worked.
func (c *Cup) WorkingC() float64 {
	if c.WorkC > 0 {
		return c.WorkC
	}
	return UsualWorkC
}

// Dose is one material in a cup: as typed, and as an amount for this cup.
type Dose struct {
	Material string         `json:"material" maxLength:"64" format:"uid" doc:"uid of the material"`
	Typed    string         `json:"typed" maxLength:"60" doc:"As the maker wrote it" example:"12 drops"`
	Amount   measure.Amount `json:"amount"`
}

// DripOf is a dose of drops.
func DripOf(material string, drops float64) Dose {
	return Dose{material, measure.Drops(drops), measure.DropCount(drops)}
}

// Target is a colour to reach: where it was read, how thick the bait was there and how it was seen.
type Target struct {
	Name        string        `json:"name" minLength:"1" maxLength:"80"`
	Lab         colour.Lab    `json:"lab"`
	ThicknessMM float64       `json:"thicknessMM" minimum:"0.05" maximum:"100"`
	Ground      optics.Ground `json:"ground" enum:"white,dark,grey,against,metal,hand"`
	Reference   string        `json:"reference,omitempty" maxLength:"64" format:"uid" doc:"uid of the reference it was pinned on"`
	State       State         `json:"state,omitempty" enum:"hot,fresh,rested" doc:"How old the plastic was; rested where nobody said"`
	GoodEnough  float64       `json:"goodEnough,omitempty" minimum:"0" maximum:"50" doc:"ΔE00 by which the baits of its own bag differ; 0 where only one is known"`
	Error       float64       `json:"error,omitempty" minimum:"0" maximum:"50" doc:"ΔE00 by which the reading itself is expected to be off; 0 where nothing can be claimed"`
	Exact       bool          `json:"exact,omitempty" doc:"It is the prediction of a cup: off by nothing"`
	Device      string        `json:"device,omitempty" enum:"photo,instrument" doc:"What read it; all that it reads is off together. Empty where it stands alone"`
}

// Unclaimed is what a reading is taken to be off by, ΔE00, where nothing can be claimed.
const Unclaimed = 3.0

// Off is how far off a reading is taken to be, ΔE00.
func Off(stated float64, exact bool) float64 {
	switch {
	case exact:
		return 0
	case stated <= 0:
		return Unclaimed
	}
	return stated
}

// Shelf finds materials by uid.
type Shelf map[string]material.Material

// Limits of a cup. Beyond MaxDropsPerCup a typed dose is a slip: the strongest use of the weakest bottle is far below.
const (
	MaxDropsPerCup = 500
	maxDoses       = 60
	MinThicknessMM = 0.05
	MaxThicknessMM = 100
)

// CheckName says what is wrong with the name of a recipe, a reference or a batch.
func CheckName(name string) error {
	return measure.CheckName("name", "it", name, mostName)
}

const mostName = 80 // letters

// ShortName cuts a name that was put together to what is kept of one.
func ShortName(name string) string {
	letters := []rune(name)
	return string(letters[:min(mostName, len(letters))])
}

// Check says what is wrong with a cup: unknown bottles, doses that no one pours, more liquid than plastisol.
func (c *Cup) Check(shelf Shelf) error {
	if err := c.Volume.Check(); err != nil {
		return &measure.Fault{Field: "volume", Says: err.Error()}
	}
	if base, ok := shelf[c.Plastisol]; !ok || base.Plastisol == nil {
		return measure.Faulty("plastisol", "this cup needs a plastisol from the shelf to begin with")
	}
	if !(c.WorkC >= 0 && c.WorkC <= 260) {
		return measure.Faulty(
			"workC", "a working temperature up to 260 °C (500 °F) is accepted; plastisol scorches long before",
		)
	}
	if len(c.Doses) > maxDoses {
		return measure.Faulty("doses", "%d materials in one cup; at most %d are kept", len(c.Doses), maxDoses)
	}
	liquidML, solidML := 0.0, 0.0
	seen := map[string]bool{}
	for i, d := range c.Doses {
		field := fmt.Sprintf("doses[%d]", i)
		m, ok := shelf[d.Material]
		if !ok {
			return measure.Faulty(field, "nothing on the shelf has the uid %q", d.Material)
		}
		if seen[d.Material] {
			return measure.Faulty(field, "%s is in the cup twice; give it in one line", m.Name)
		}
		seen[d.Material] = true
		ml, _, err := m.Take(d.Amount)
		if err != nil {
			return measure.Faulty(field, "%s", err)
		}
		if most := MaxDropsPerCup * c.Volume.ML / measure.CupML; d.Amount.Unit == measure.InDrops &&
			d.Amount.Value > most+
				0.5 {
			return measure.Faulty(field, "%s of %s in %s is more than any cup takes; up to %s drops (%d a cup) are accepted",
				d.Amount, m.Name, c.Volume, measure.Number(math.Floor(most+0.5), 0), MaxDropsPerCup)
		}
		if m.Colourant != nil {
			for _, p := range m.Colourant.Contains {
				if part, there := shelf[p.Material]; !there || part.Colourant == nil ||
					len(part.Colourant.Contains) > 0 {
					return measure.Faulty(field, "%s is a dilution of a bottle that is not on the shelf", m.Name)
				}
			}
		}
		switch {
		case m.Form() == measure.Solid:
			solidML += ml
		case m.Plastisol == nil:
			liquidML += ml
		}
	}
	if liquidML > c.Volume.ML {
		return measure.Faulty("doses", "%s ml of liquids in %s: more liquid than plastisol. Take some out or pour a bigger cup",
			measure.Number(liquidML, 0), c.Volume)
	}
	if solidML > 2*c.Volume.ML {
		return measure.Faulty("doses", "%s ml of solids in %s: more than the plastisol can wet. Take some out or pour a bigger cup",
			measure.Number(solidML, 0), c.Volume)
	}
	if c.Target != nil {
		return c.Target.Check()
	}
	return nil
}

// FinishedML is the volume with everything in it: plastisol, liquids and the true volume of solids together.
func (c *Cup) FinishedML(shelf Shelf) (float64, error) {
	if err := c.Check(shelf); err != nil {
		return 0, err
	}
	sum := c.Volume.ML
	for _, d := range c.Doses {
		m := shelf[d.Material]
		ml, _, err := m.Take(d.Amount)
		if err != nil {
			return 0, err
		}
		sum += ml
	}
	return sum, nil
}

// Check says what is wrong with a target.
func (t *Target) Check() error {
	if err := CheckName(t.Name); err != nil {
		return &measure.Fault{Field: "target.name", Says: err.Error()}
	}
	if _, err := optics.ParseGround(string(t.Ground)); err != nil {
		return &measure.Fault{Field: "target.ground", Says: err.Error()}
	}
	if !(t.Lab.L >= 0 && t.Lab.L <= 200) || !(math.Abs(t.Lab.A) <= 200) || !(math.Abs(t.Lab.B) <= 200) {
		return measure.Faulty("target.lab", "L from 0 to 200, a and b from -200 to 200 are accepted")
	}
	if t.State != "" && !slices.Contains(States()[1:], t.State) {
		return measure.Faulty("target.state", "hot, fresh or rested is accepted")
	}
	if !slices.Contains([]string{"", "photo", "instrument"}, t.Device) {
		return measure.Faulty("target.device", "photo or instrument is accepted, or nothing")
	}
	if !(t.GoodEnough >= 0 && t.GoodEnough <= 50) || !(t.Error >= 0 && t.Error <= 50) {
		return measure.Faulty("target.goodEnough", "a colour difference from 0 to 50 is accepted")
	}
	return CheckThickness("target.thicknessMM", t.ThicknessMM)
}

// Enough says whether a difference from the target is one that matters; "" where it does, or where nothing is known.
func (t *Target) Enough(deltaE00 float64) string {
	switch {
	case t.GoodEnough > 0 && deltaE00 <= t.GoodEnough:
		return "Good enough: the baits of its own bag differ by ΔE00 " + measure.Number(t.GoodEnough, 1) + "."
	case t.Error > 0 && deltaE00 <= t.Error:
		return "Nearer than the reading is sure: it may be off by ΔE00 " + measure.Number(t.Error, 1) + "."
	}
	return ""
}

// CheckThickness says what is wrong with a thickness.
func CheckThickness(field string, mm float64) error {
	if !(mm >= MinThicknessMM && mm <= MaxThicknessMM) {
		return measure.Faulty(
			field, "a thickness from %g to %g mm is accepted", MinThicknessMM, float64(MaxThicknessMM),
		)
	}
	return nil
}

// Filled is the cup without lines of which nothing is in it, as when a drop was tapped in and out again: they stay on
// the bench, so that nothing moves under the hand, and are no part of a recipe.
func (c Cup) Filled() Cup {
	doses := []Dose{}
	for _, d := range c.Doses {
		if d.Amount.Value > 0 || d.Amount.High > 0 {
			doses = append(doses, d)
		}
	}
	c.Doses = doses
	return c
}

// Same says whether two cups hold the same, whatever way it was typed. An empty dose is no dose.
func (c *Cup) Same(o *Cup) bool {
	amounts := func(c *Cup) map[string]measure.Amount {
		m := map[string]measure.Amount{}
		for _, d := range c.Doses {
			if d.Amount.Value > 0 {
				m[d.Material] = d.Amount
			}
		}
		return m
	}
	sameTarget := c.Target == o.Target || (c.Target != nil && o.Target != nil && *c.Target == *o.Target)
	return c.Volume.ML == o.Volume.ML && c.Plastisol == o.Plastisol && c.WorkC == o.WorkC && sameTarget &&
		maps.Equal(amounts(c), amounts(o))
}

// AmountOf is how much of a material is in the cup.
func (c *Cup) AmountOf(uid string) measure.Amount {
	for _, d := range c.Doses {
		if d.Material == uid {
			return d.Amount
		}
	}
	return measure.Amount{}
}

// With is the cup with n more steps of a material in it.
func (c *Cup) With(uid string, n int, shelf Shelf, kit measure.Kit) (Cup, measure.Amount, error) {
	bottle := shelf[uid]
	v, err := Step{Kind: Drip, Material: uid, Drops: n}.Apply(Live{Cup: *c}, shelf, kit)
	return v.Cup, NextStep(&bottle, kit), err
}

// Changed says in a maker's words what differs from one cup to another: "Bog tea 3 → 4 drops".
func Changed(was, is *Cup, shelf Shelf) []string {
	out := []string{}
	if was.Plastisol != is.Plastisol {
		out = append(out, "plastisol "+shelf[was.Plastisol].Name+" → "+shelf[is.Plastisol].Name)
	}
	if was.Volume.ML != is.Volume.ML {
		out = append(out, "volume "+was.Volume.Typed+" → "+is.Volume.Typed)
	}
	if was.WorkingC() != is.WorkingC() {
		out = append(out, "worked at "+measure.Degrees(was.WorkingC())+" → "+measure.Degrees(is.WorkingC()))
	}
	uids := []string{}
	for _, d := range slices.Concat(was.Doses, is.Doses) {
		if !slices.Contains(uids, d.Material) {
			uids = append(uids, d.Material)
		}
	}
	for _, uid := range uids {
		a, b := was.AmountOf(uid), is.AmountOf(uid)
		switch {
		case a == b:
		case a.Value == 0:
			out = append(out, shelf[uid].Name+" new: "+b.String())
		case b.Value == 0:
			out = append(out, shelf[uid].Name+" left out (was "+a.String()+")")
		default:
			out = append(out, shelf[uid].Name+" "+a.String()+" → "+b.String())
		}
	}
	return out
}
