package learn

import (
	"cmp"
	"fmt"
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// Batch is a cup that was poured, with what was read of it.
type Batch struct {
	UID      string
	Cup      cup.Cup // what really went in; a dose that is an estimate is known within its bounds only
	Readings []Reading
}

// Reading is a colour of an even piece of a batch.
type Reading struct {
	UID    string
	Lab    colour.Lab
	At     mix.Condition
	Off    float64 // by which it may be off, on each axis of Lab: one standard deviation
	Device string  // readings of one device are off together; empty where each stands alone
}

// Limits of what is learned from.
const (
	leastOff    = 0.2
	mostOff     = 30
	MaxReadings = 2000
)

// Check says what is wrong with a batch.
func (b *Batch) Check(shelf cup.Shelf) error {
	if err := b.Cup.Check(shelf); err != nil {
		return err
	}
	return b.checkReadings()
}

func (b *Batch) checkReadings() error {
	for i, r := range b.Readings {
		field := fmt.Sprintf("readings[%d]", i)
		if err := r.At.Check(); err != nil {
			return err
		}
		if r.At.Water != "" {
			return measure.Faulty(field, "a reading is taken in air")
		}
		if !(r.Lab.L >= 0 && r.Lab.L <= 120 && math.Abs(r.Lab.A) <= 160 && math.Abs(r.Lab.B) <= 160) {
			return measure.Faulty(
				field, "no plastic has this colour: L from 0 to 120, a and b from -160 to 160 are accepted",
			)
		}
		if !(r.Off >= 0 && r.Off <= mostOff) {
			return measure.Faulty(field, "a reading that is off by up to %d is accepted", mostOff)
		}
	}
	return nil
}

// Spreads are how far a bottle may lie from its figures before anything was read: one standard deviation of the
// logarithms. Pigments of one family have their bands some nanometres apart.
type Spreads struct {
	Strength, Hue float64
	ShiftNM       float64 // of where the absorption lies
}

// spreads go by where the figures come from.
var spreads = map[material.Origin]Spreads{
	material.Typical:  {0.30, 0.10, 5},
	material.Maker:    {0.20, 0.08, 3.5},
	material.Measured: {0.05, 0.03, 0.5},
}

// SpreadOf is how far a material may lie from its figures.
func SpreadOf(m *material.Material) Spreads {
	return spreads[cmp.Or(m.OpticsOrigin(), material.Typical)]
}
