package reference

import (
	"errors"
	"slices"
	"strings"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
	"cloudburst/core/photo"
)

// Pin is a part of a bait that was read: on a photo, by an instrument, or in words.
type Pin struct {
	UID         string        `json:"uid"`
	Name        string        `json:"name"`
	Disc        photo.Disc    `json:"disc"`
	ThicknessMM float64       `json:"thicknessMM"`
	Ground      optics.Ground `json:"ground" enum:"white,dark,grey,against,metal,hand"`
	Reading     photo.Reading `json:"reading"`
	Sample      int           `json:"sample" doc:"Which bait of a bag; 0 where it is the only one"`
	Aside       bool          `json:"aside" doc:"Of a bait that was set aside as not typical"`
	State       cup.State     `json:"state" enum:"hot,fresh,rested" doc:"How old the plastic was when it was read"`
	Of          string        `json:"of,omitempty" doc:"uid of the reference whose photo it is pinned on, where that was joined to this one"`
	Mine        bool          `json:"mine" doc:"Differs on purpose, so it stays out of what is scored"`
}

// Check says what is wrong with a pin, under the field's own name.
func (p *Pin) Check() error {
	t := cup.Target{Name: p.Name, Lab: p.Reading.Lab, ThicknessMM: p.ThicknessMM, Ground: p.Ground}
	var f *measure.Fault
	if err := t.Check(); errors.As(err, &f) {
		return measure.Faulty(strings.TrimPrefix(f.Field, "target."), "%s", f.Says)
	}
	return nil
}

// OnPhoto says whether it was read off the reference's own photo, so that another light changes it.
func (p *Pin) OnPhoto() bool { return p.Reading.From == "" && p.Of == "" }

// device is what read it: what is off there is off in a batch that is read with it, too.
func (p *Pin) device() string {
	switch p.Reading.From {
	case "":
		return "photo"
	case photo.Typed, photo.Spectrum:
		return "instrument"
	}
	return ""
}

// part is what pins of one part of several baits have in common.
func (p *Pin) part() string { return strings.ToLower(p.Name) }

// mostDelta is the largest difference that a target keeps, ΔE00.
const mostDelta = 50

// Targets are the pins of a reference as colours to reach, each good enough where its bag's own baits differ by as
// much; and the bag, where there is one. Baits that were set aside, and what differs on purpose, are no part of it.
func Targets(name, uid string, pins []Pin) ([]cup.Target, *Bag) {
	var all []cup.Target
	var sampled []Sampled
	for i := range pins {
		p := &pins[i]
		all = append(all, cup.Target{
			Name: cup.ShortName(name + ": " + p.Name), Lab: p.Reading.Lab, ThicknessMM: p.ThicknessMM, Ground: p.Ground,
			Reference: uid,
			State:     p.State, Error: min(mostDelta, p.Reading.Error), Exact: p.Reading.From == photo.FromCup,
			Device: p.device(),
		})
		if p.Sample > 0 && !p.Aside && !p.Mine {
			sampled = append(sampled, Sampled{Sample: p.Sample, Part: p.part(), Lab: p.Reading.Lab})
		}
	}
	if len(sampled) == 0 {
		return all, nil
	}
	bag := SpreadOf(sampled)
	for i := range all {
		at := slices.IndexFunc(bag.Parts, func(s Spread) bool { return s.Part == pins[i].part() })
		if at >= 0 && bag.Parts[at].Samples > 1 {
			all[i].GoodEnough = min(mostDelta, bag.Parts[at].DeltaE00)
		}
	}
	return all, &bag
}

// TintOf compares two pins of one bait: tinted through, or clear over something. bare says of which of them nothing
// lies behind but the ground.
func TintOf(pins []Pin, one, other string, oneBare, otherBare bool) (Verdict, error) {
	var looks [2]Look
	for i, want := range []struct {
		uid  string
		bare bool
	}{{one, oneBare}, {other, otherBare}} {
		at := slices.IndexFunc(pins, func(p Pin) bool { return p.UID == want.uid })
		if at < 0 {
			return Verdict{}, measure.Faulty("one", "choose two of the pins")
		}
		p := &pins[at]
		if p.Reading.Unlit {
			return Verdict{}, measure.Faulty(
				"one",
				"the light of this photo is not undone, so that its colours say too little; put something white and something grey beside the bait",
			)
		}
		ground := p.Ground.Reflectance()
		looks[i] = Look{
			Lab: p.Reading.Lab, MM: p.ThicknessMM, Ground: colour.EyeMean(&ground), Backed: !want.bare,
			Error: p.Reading.Error,
		}
	}
	return ThroughOrThere(looks[0], looks[1])
}
