package pour

import (
	"cmp"
	"math"
	"slices"

	"cloudburst/core/heat"
)

// Curve is how warm a cook is predicted to be, tick by tick.
type Curve struct {
	Cook  int       `json:"cook"`
	From  int       `json:"from" doc:"The tick of the first figure"`
	C     []float64 `json:"c" nullable:"false"`
	Least float64   `json:"least" doc:"When it is shot"`
	Most  float64   `json:"most" doc:"Once everything is in it"`
	Reads []Read    `json:"reads" nullable:"false" doc:"What a thermometer showed"`
}

// Read is what a thermometer showed.
type Read struct {
	Cook int     `json:"cook"`
	Tick float64 `json:"tick"`
	C    float64 `json:"c"`
}

// warm is a cook as it warms and cools.
type warm struct {
	heat.Cup
	at    float64 // seconds to which it is known
	there bool
	curve Curve
	massG float64

	fullG, coolPerS float64 // when it was full
}

// to lets it cool until a time, and draws it tick by tick.
func (w *warm) to(seconds float64) {
	for w.there && w.at < seconds-1e-9 {
		next := min(seconds, (math.Floor(w.at/TickS+1e-9)+1)*TickS)
		w.Rest(next - w.at)
		w.at = next
		if math.Abs(next/TickS-math.Round(next/TickS)) < 1e-6 {
			w.curve.C = append(w.curve.C, math.Round(10*w.C)/10)
		}
	}
}

// begin is the moment at which it is measured.
func (w *warm) begin(seconds float64, c *Cook, e *Equipment, coolPerS float64) {
	w.massG = c.MeasuredML * c.GML
	w.fullG, w.coolPerS = w.massG, coolPerS
	w.Cup = heat.NewCup(w.massG, heat.UsualCpJgK, e.RoomC, e.RoomC, coolPerS)
	w.at, w.there = seconds, true
	w.curve.From = int(math.Ceil(seconds/TickS - 1e-9))
	w.curve.C = []float64{}
	if math.Abs(seconds/TickS-math.Round(seconds/TickS)) < 1e-6 {
		w.curve.C = append(w.curve.C, math.Round(10*w.C)/10)
	}
}

// leastLeft is what stays of a cup that was poured out, for its heat.
const leastLeft = 0.04

// pour takes so much out of it. What is left cools as a cup of its size does: with the glass that it wets, not with all
// of it.
func (w *warm) pour(grams float64) {
	left := max(leastLeft*w.fullG, w.massG-grams)
	w.Cup = heat.NewCup(left, heat.UsualCpJgK, w.C, w.AmbientC, w.coolPerS*math.Cbrt(w.fullG/left))
	w.massG = left
}

// past is what was really done to a cook.
type past struct {
	cook      int
	seconds   float64
	begin     bool
	burstS    float64 // over
	over      float64
	readC     float64
	pouredHot float64
}

// warmth follows every cook through what was done to it and what is still to come, and sets how long each burst that is
// to come has to be. It gives for each shot how warm its cooks are then.
func (l *laying) warmth(before []past, done func(key string) bool) (shotC map[string][]float64, curves []Curve) {
	cups := make([]warm, len(l.Cooks))
	for i := range cups {
		h := &l.Heats[l.Cooks[i].Of]
		cups[i].curve = Curve{Cook: i, C: []float64{}, Least: h.LeastC, Most: h.MostC, Reads: []Read{}}
	}
	for _, e := range before {
		w := &cups[e.cook]
		if e.begin {
			w.begin(e.seconds, &l.Cooks[e.cook], &l.b.Equipment, l.coolPerS(&l.Cooks[e.cook]))
			continue
		}
		l.happens(w, &e)
	}
	order := make([]int, 0, len(l.steps))
	for i := range l.steps {
		if !done(l.steps[i].Key) {
			order = append(order, i)
		}
	}
	// At one moment a burst is over before a shot begins.
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(l.steps[a].Start, l.steps[b].Start) })
	shotC = map[string][]float64{}
	for _, i := range order {
		s := &l.steps[i]
		from := float64(s.Start) * TickS
		for _, k := range s.Cooks {
			w := &cups[k]
			switch s.Kind {
			case Measure:
				w.begin(from+float64(s.Ticks)*TickS, &l.Cooks[k], &l.b.Equipment, l.coolPerS(&l.Cooks[k]))
			case Burst:
				w.to(from)
				l.burst(s, k, w, cups)
			case Shoot:
				w.to(from)
				shotC[s.Key] = append(shotC[s.Key], w.C)
				for n, c := range l.Shots[s.Shot].Loads[s.Load].Cooks {
					if c == k {
						w.pour(l.Shots[s.Shot].Loads[s.Load].HotML[n] * l.b.Shrink * l.Cooks[k].GML)
					}
				}
				w.to(from + float64(s.Ticks)*TickS)
			default:
				w.to(from + float64(s.Ticks)*TickS)
			}
		}
	}
	for i := range cups {
		curves = append(curves, cups[i].curve)
	}
	return shotC, curves
}

// happens does to a cup what was done to it.
func (l *laying) happens(w *warm, e *past) {
	w.to(e.seconds)
	switch {
	case !w.there:
	case e.burstS > 0:
		h := l.b.heater()
		n := max(1, math.Ceil(e.over/TickS))
		for i := range int(n) {
			w.Burst(h.PowerW, h.Efficiency, e.burstS/n)
			w.to(e.seconds + e.over*float64(i+1)/n)
		}
	case e.readC > 0:
		w.C = e.readC
		w.curve.Reads = append(w.curve.Reads, Read{e.cook, e.seconds / TickS, e.readC})
	case e.pouredHot > 0:
		w.pour(e.pouredHot * l.b.Shrink * l.Cooks[e.cook].GML)
	}
}

// burst heats a cook as its step asks: to a temperature, or so that it is right when it is shot. What it loses
// meanwhile goes on.
func (l *laying) burst(s *Step, k int, w *warm, cups []warm) {
	if !w.there {
		return
	}
	h := l.b.heater()
	s.FromC = w.C
	target := s.ToC
	if s.use > 0 {
		target = l.aimAt(s, k, w, cups)
	}
	n := max(1, s.Ticks)
	each := TickS
	s.BurstS = 0
	if target > w.C+leastKelvin {
		s.BurstS = math.Floor(10*w.BurstFor(target, h.PowerW, h.Efficiency)) / 10
	}
	start := w.at
	for i := range n {
		w.Burst(h.PowerW, h.Efficiency, s.BurstS/float64(n))
		w.to(start + each*float64(i+1))
	}
	if s.use > 0 {
		s.ToC = w.C
	}
}

// leastKelvin is by how much a cup has to be too cold for a burst to be worth the walk.
const leastKelvin = 1.5

// aimAt is what a cook has to be heated to now so that it is right when its load is shot. The cups of a shot keep their
// heats to each other: where one cannot get as hot, as it waits for the other, both are shot a little cooler.
func (l *laying) aimAt(s *Step, k int, w *warm, cups []warm) float64 {
	shoot := l.shootOf[s.Key]
	at := &l.steps[l.at[shoot]]
	hottest := func(k int, w *warm, wait float64) float64 { // when it is shot
		h := &l.Heats[l.Cooks[k].Of]
		return l.b.RoomC + (h.MostC-l.b.RoomC)*math.Exp(-w.CoolPerS()*wait)
	}
	lower := 0.0
	for _, burst := range l.burstsOf[shoot] {
		b := &l.steps[l.at[burst]]
		o := b.Cooks[0]
		if other := &cups[o]; other.there {
			lower = min(lower, hottest(o, other, float64(at.Start-b.Start)*TickS)-l.Heats[l.Cooks[o].Of].AimC)
		}
	}
	h := &l.Heats[l.Cooks[k].Of]
	wait := float64(at.Start-s.Start) * TickS
	aim := max(h.LeastC, h.AimC+lower)
	return min(h.MostC, l.b.RoomC+(aim-l.b.RoomC)*math.Exp(w.CoolPerS()*wait))
}
