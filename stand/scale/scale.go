// Package scale stands in for a bench scale: it weighs bottles that somebody drips from between two readings.
package scale

import (
	"hash/fnv"
	"math"
	"math/rand/v2"
	"sync"
)

// about is said wherever a reading is shown.
const about = "A stand-in: no scale is connected. It makes up the weight of a bottle that you drip from."

// Scale remembers what it made up for each bottle.
type Scale struct {
	mu   sync.Mutex
	left map[string]float64
	rng  *rand.Rand
}

// New is a scale with nothing on it. The same seed makes up the same drips.
func New(seed uint64) *Scale {
	return &Scale{left: map[string]float64{}, rng: rand.New(rand.NewPCG(seed, 11))}
}

// About says that it is a stand-in.
func (s *Scale) About() string { return about }

const (
	dropG      = 0.054
	resolution = 0.01
)

// Weigh gives the bottle's weight in grams. Between two readings 3 to 14 drops have left it.
func (s *Scale) Weigh(bottle string) float64 {
	s.mu.Lock()
	defer s.mu.Unlock()
	was, known := s.left[bottle]
	if !known {
		h := fnv.New32a()
		_, _ = h.Write([]byte(bottle))
		was = 60 + float64(h.Sum32()%6000)/100
	} else {
		was -= float64(3+s.rng.IntN(12)) * dropG
	}
	s.left[bottle] = was
	return math.Round((was+0.004*s.rng.NormFloat64())/resolution) * resolution
}
