package heat

import (
	"math"

	"cloudburst/core/measure"
)

// Usual figures where nobody measured any.
const (
	UsualCpJgK      = 1.7    // of plastisol
	UsualEfficiency = 0.5    // of a microwave: what of its power arrives in the cup
	UsualCoolPerS   = 0.0008 // of 240 ml in a glass measure: about 7 K a minute at first
)

// Cup is a cup of plastic that warms and cools. What it loses to the room goes with its glass, not with what is in it:
// after something was added or poured it cools slower or faster.
type Cup struct {
	C        float64
	AmbientC float64
	holdsJK  float64 // heat capacity of what is in it
	losesWK  float64 // to the room, per kelvin
}

// NewCup is a cup of so much plastic at a temperature, with how fast it cools when it holds that much.
func NewCup(massG, cpJgK, c, ambientC, coolPerS float64) Cup {
	holds := massG * cpJgK
	return Cup{c, ambientC, holds, coolPerS * holds}
}

// CoolPerS is how fast it cools now.
func (v *Cup) CoolPerS() float64 { return v.losesWK / v.holdsJK }

// Burst heats it by a microwave of so much power. What it loses meanwhile is counted with the rest after it.
func (v *Cup) Burst(powerW, efficiency, seconds float64) {
	v.C += powerW * efficiency * seconds / v.holdsJK
}

// BurstFor is how long a burst takes it to a temperature; 0 where it is that hot already.
func (v *Cup) BurstFor(toC, powerW, efficiency float64) float64 {
	return max(0, (toC-v.C)*v.holdsJK/(powerW*efficiency))
}

// Rest lets it cool.
func (v *Cup) Rest(seconds float64) {
	v.C = v.AmbientC + (v.C-v.AmbientC)*math.Exp(-v.CoolPerS()*seconds)
}

// Add puts something into it.
func (v *Cup) Add(massG, cpJgK, c float64) {
	more := massG * cpJgK
	v.C = (v.holdsJK*v.C + more*c) / (v.holdsJK + more)
	v.holdsJK += more
}

// Pour takes so much out of it.
func (v *Cup) Pour(massG, cpJgK float64) { v.holdsJK -= massG * cpJgK }

// FallS is how long it takes to cool from one temperature to another; false where it never does.
func FallS(fromC, toC, ambientC, coolPerS float64) (seconds float64, ever bool) {
	switch {
	case toC >= fromC:
		return 0, true
	case toC <= ambientC:
		return 0, false
	}
	return math.Log((fromC-ambientC)/(toC-ambientC)) / coolPerS, true
}

// Trial is one burst of a microwave with two readings of a thermometer after it.
type Trial struct {
	PowerW, MassG, CpJgK float64
	AmbientC, StartC     float64
	BurstS               float64
	Reading1C, Reading2C float64
	AfterS1, AfterS2     float64 // since the end of the burst
}

// Found is what a trial has found.
type Found struct {
	Efficiency, CoolPerS float64
	EndC                 float64 // at the end of the burst
}

// Calibrate finds what of a microwave's power arrives in a cup, and how fast that cools.
func (t *Trial) Calibrate() (Found, error) {
	switch {
	case !(t.AfterS2 > t.AfterS1 && t.AfterS1 >= 0):
		return Found{}, measure.Faulty(
			"reading2", "the second reading comes after the first: let it stand a minute or two between",
		)
	case !(t.Reading1C > t.Reading2C && t.Reading2C > t.AmbientC):
		return Found{}, measure.Faulty(
			"reading2", "the cup has to cool between the readings, and be warmer than the room: stir, and read again",
		)
	case !(t.BurstS > 0 && t.PowerW > 0 && t.MassG > 0 && t.CpJgK > 0):
		return Found{}, measure.Faulty("burst", "how long was the burst, at what power, of how much?")
	}
	f := Found{CoolPerS: math.Log((t.Reading1C-t.AmbientC)/(t.Reading2C-t.AmbientC)) / (t.AfterS2 - t.AfterS1)}
	f.EndC = t.AmbientC + (t.Reading1C-t.AmbientC)*math.Exp(f.CoolPerS*t.AfterS1)
	f.Efficiency = t.MassG * t.CpJgK * (f.EndC - t.StartC) / (t.PowerW * t.BurstS)
	if !(f.Efficiency > 0.02 && f.Efficiency <= 1.05) {
		return Found{}, measure.Faulty(
			"reading1",
			"that would be %s %% of the microwave's power: were the cup's volume, the power and the readings right?",
			measure.Number(100*f.Efficiency, 0),
		)
	}
	return f, nil
}
