package recipe

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// PartReading is the colour of a part of a batch's bait or chip, as it was read.
type PartReading struct {
	Name        string        `json:"name" minLength:"1" maxLength:"80" example:"back"`
	Lab         colour.Lab    `json:"lab"`
	ThicknessMM float64       `json:"thicknessMM" minimum:"0.05" maximum:"100"`
	Ground      optics.Ground `json:"ground" enum:"white,dark,grey,against,metal,hand" doc:"What lay behind it"`
	State       cup.State     `json:"state" enum:"hot,fresh,rested" doc:"How old the plastic was"`
	How         How           `json:"how" enum:"instrument,photo,eye,words" doc:"How it was read"`
}

// MaxPhotos is how many photos are added to a batch after it was recorded.
const MaxPhotos = 12

// MaxReadings is how many readings a batch has at most.
const MaxReadings = 24

// How says how a colour was read.
type How string

// The ways to read a colour.
const (
	ByInstrument How = "instrument"
	ByPhoto      How = "photo"
	ByEye        How = "eye"
	ByWords      How = "words"
)

// Hows lists them, the surest first.
func Hows() []How { return []How{ByInstrument, ByPhoto, ByEye, ByWords} }

// Name says it in words.
func (h How) Name() string {
	return map[How]string{
		ByInstrument: "by an instrument", ByPhoto: "off a photo", ByEye: "by eye, beside a chart",
		ByWords: "in words, beside what was sought",
	}[h]
}

// Off is by how much such a reading is usually off, on each axis of Lab: one standard deviation. A photo's is that of
// one with a white and a grey in it. Ours.
func (h How) Off() float64 {
	return map[How]float64{ByInstrument: 0.5, ByPhoto: 1.5, ByEye: 3, ByWords: 3}[h]
}

// To so much on each axis of Lab, some ΔE00 0.5, the mean of readings is known well enough; and no look is worth more
// of them: the next batch teaches more than a fourth reading.
const (
	knownTo   = 0.4
	mostTimes = 3
)

// Times is how often a look is worth reading, at another spot each time, where one reading is off by so much.
func Times(off float64) int {
	return int(min(mostTimes, max(1, math.Ceil(off*off/(knownTo*knownTo)-1e-9))))
}

// Times is how often a look is worth reading like this. What is said in words is no better for being said again.
func (h How) Times() int {
	if h == ByWords {
		return 1
	}
	return Times(h.Off())
}

// Again says which looks of a batch are worth reading again, and what that gives; empty where each was read as often
// as is worth it.
func Again(all []PartReading) string {
	type look struct {
		name string
		mm   float64
		over optics.Ground
		old  cup.State
		how  How
	}
	var looks []look
	read := map[look]int{}
	for _, r := range all {
		l := look{strings.ToLower(r.Name), r.ThicknessMM, r.Ground, r.State, r.How}
		if read[l]++; read[l] == 1 {
			looks = append(looks, l)
		}
	}
	var lacking []string
	var how How
	for _, l := range looks {
		if read[l] < l.how.Times() && !slices.Contains(lacking, l.name) {
			lacking, how = append(lacking, l.name), l.how
		}
	}
	if len(lacking) == 0 || len(all) >= MaxReadings {
		return ""
	}
	n := how.Times()
	return fmt.Sprintf(
		"Worth reading again at another spot: %s. One reading %s is off by some %s, the mean of %d by %s.",
		strings.Join(lacking, "; "), how.Name(), measure.Number(how.Off(), 1), n,
		measure.Number(how.Off()/math.Sqrt(float64(n)), 1),
	)
}

// At is how it was looked at.
func (r *PartReading) At() mix.Condition {
	return mix.Condition{ThicknessMM: r.ThicknessMM, Ground: r.Ground, Light: colour.D65, State: r.State}
}

// Check says what is wrong with a reading.
func (r *PartReading) Check() error {
	if err := measure.CheckName("name", "a reading", r.Name, 80); err != nil {
		return err
	}
	if err := r.At().Check(); err != nil {
		return err
	}
	if !(r.Lab.L >= 0 && r.Lab.L <= 120 && r.Lab.A >= -160 && r.Lab.A <= 160 && r.Lab.B >= -160 && r.Lab.B <= 160) {
		return measure.Faulty(
			"lab", "no plastic has this colour: L from 0 to 120, a and b from -160 to 160 are accepted",
		)
	}
	if !slices.Contains(Hows(), r.How) {
		return measure.Faulty("how", "say how it was read: by an instrument, off a photo, by eye or in words")
	}
	return nil
}
