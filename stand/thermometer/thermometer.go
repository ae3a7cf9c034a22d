// Package thermometer stands in for a thermometer in a cup: it follows what was done to the cup by constants of its
// own, which are not those that anything is planned with.
package thermometer

import (
	"math"
	"math/rand/v2"
	"sync"

	"cloudburst/core/heat"
)

// about is said wherever a reading is shown.
const about = "A stand-in: no thermometer is connected. It makes up a cup of its own that is heated as yours is."

// Burst is a burst that a cup had: how much power, how long, and when it began.
type Burst struct{ PowerW, Seconds, AtS float64 }

// Thermometer reads cups.
type Thermometer struct {
	mu  sync.Mutex
	rng *rand.Rand
}

// New is one with its own noise. The same seed makes up the same noise.
func New(seed uint64) *Thermometer { return &Thermometer{rng: rand.New(rand.NewPCG(seed, 23))} }

// About says that it is a stand-in.
func (*Thermometer) About() string { return about }

// What the made-up bench is like.
const (
	efficiency = 0.475
	coolPerS   = 0.00086 // of 240 ml
	noiseC     = 0.4
	resolution = 0.5
)

// Read is what it shows of so much plastic that was heated so, now.
func (t *Thermometer) Read(ml, gML, roomC, nowS float64, bursts []Burst) float64 {
	v := heat.NewCup(ml*gML, heat.UsualCpJgK, roomC, roomC, coolPerS*math.Cbrt(240/ml))
	at := 0.0
	for _, b := range bursts {
		if b.AtS > at {
			v.Rest(b.AtS - at)
			at = b.AtS
		}
		const parts = 20 // it loses heat meanwhile
		for range parts {
			v.Burst(b.PowerW, efficiency, b.Seconds/parts)
			v.Rest(b.Seconds / parts)
		}
		at += b.Seconds
	}
	v.Rest(max(0, nowS-at))
	t.mu.Lock()
	defer t.mu.Unlock()
	return math.Round((v.C+noiseC*t.rng.NormFloat64())/resolution) * resolution
}
