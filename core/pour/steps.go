package pour

import (
	"fmt"
	"math"

	"cloudburst/core/bait"
	"cloudburst/core/heat"
	"cloudburst/core/measure"
	"cloudburst/core/plan"
)

// Timeline says when to do what. Its time goes in ticks.
type Timeline struct {
	Steps  []Step  `json:"steps" nullable:"false" doc:"In the order in which they begin"`
	Ticks  int     `json:"ticks" doc:"Until all is done"`
	Proven bool    `json:"proven" doc:"No order of these steps is sooner, load by load"`
	Curves []Curve `json:"curves" nullable:"false" doc:"How warm each cook is"`
}

// TickS is a tick of a timeline, seconds.
const TickS = 15.0

// Step is one thing to do.
type Step struct {
	Key     string   `json:"key"`
	Kind    Kind     `json:"kind" enum:"warm,measure,degas,burst,stir,colour,ready,shoot,top,demould,tails"`
	Title   string   `json:"title"`
	Says    []string `json:"says" nullable:"false" doc:"What to do, line by line"`
	Caution string   `json:"caution,omitempty"`
	Cooks   []int    `json:"cooks" nullable:"false" doc:"Which it is done to"`
	Shot    int      `json:"shot" doc:"-1 where it belongs to none"`
	Load    int      `json:"load"`
	Uses    []string `json:"uses" nullable:"false" enum:"microwave,vacuum,plate,hands"`
	Start   int      `json:"start"`
	Ticks   int      `json:"ticks"`
	BurstS  float64  `json:"burstS,omitempty" doc:"How long the microwave runs"`
	ToC     float64  `json:"toC,omitempty" doc:"What the thermometer is to show after it"`
	FromC   float64  `json:"fromC,omitempty" doc:"What it shows before"`
	use     int      // which use of its cook it heats or stirs for
}

// Kind is what is done.
type Kind string

// The kinds of step.
const (
	Warm    Kind = "warm"
	Measure Kind = "measure"
	Air     Kind = "degas"
	Burst   Kind = "burst"
	Stir    Kind = "stir"
	Dose    Kind = "colour"
	Ready   Kind = "ready"
	Shoot   Kind = "shoot"
	Top     Kind = "top"
	Demould Kind = "demould"
	SetTail Kind = "tails"
)

// What is used: the names of a schedule's resources.
const (
	microwave = "microwave"
	vacuum    = "vacuum"
	plate     = "plate"
	hands     = "hands"
)

// How long things take, ticks. Starting values.
const (
	measureTicks = 6
	airTicks     = 12
	rawAirTicks  = 16
	warmTicks    = 40
	takeTicks    = 2 // until what was laid has taken
)

func ticksOf(seconds float64) int { return int(math.Ceil(seconds/TickS - 1e-9)) }

// laying is a timeline that is being laid out.
type laying struct {
	*Planned
	o        *Order
	b        *Bench
	steps    []Step
	at       map[string]int // a step's place, by its key
	group    []int          // by step: steps are laid load by load
	follows  []plan.Follow
	windows  []plan.Window
	holds    []hold              // windows that follow a cup's real heat in a run
	shootOf  map[string]string   // which shot a burst is for
	burstsOf map[string][]string // and the other way round
	proven   bool
	quick    bool           // nobody asks what clashes
	settles  map[string]int // after how many ticks a cup has to be stirred again, by its letter
}

func (l *laying) add(group int, s Step) string {
	if s.Cooks == nil {
		s.Cooks = []int{}
	}
	if s.Says == nil {
		s.Says = []string{}
	}
	l.at[s.Key] = len(l.steps)
	l.steps = append(l.steps, s)
	l.group = append(l.group, group)
	return s.Key
}

func (l *laying) then(first, next string, gap int) {
	if first != "" && next != "" {
		l.follows = append(l.follows, plan.Follow{First: first, Then: next, GapTicks: gap})
	}
}

// within says that next begins at least and at most so many ticks after first has ended.
func (l *laying) within(name, first, next string, least, most int, bounded bool) {
	w := plan.Window{Name: name, From: first, To: next, FromEnd: true, Least: &least}
	if bounded {
		w.Most = &most
	}
	l.windows = append(l.windows, w)
}

// hold is a window that comes from a cup's cooling: below a limit before something goes in, or above one until it is
// shot.
type hold struct {
	window  int // place in the windows
	cook    int
	limitC  float64
	atLeast bool // it has to have cooled
}

// holdsBy notes that the window just added is one.
func (l *laying) holdsBy(cook int, limitC float64, atLeast bool) {
	l.holds = append(l.holds, hold{len(l.windows) - 1, cook, limitC, atLeast})
}

// pass is a set of shots that fill a mold before it is opened.
type pass struct{ shots []int }

func (p *Planned) passes() []pass {
	var out []pass
	var rest pass
	for i, s := range p.Shots {
		if s.Way == Tails {
			out = append(out, pass{[]int{i}})
			continue
		}
		rest.shots = append(rest.shots, i)
	}
	return append(out, rest)
}

// span is the fills that a load takes, in the order's own count.
type spanOf struct{ from, to int }

func spans(loads []Load) []spanOf {
	out := make([]spanOf, len(loads))
	at := 0
	for i, l := range loads {
		out[i] = spanOf{at, at + len(l.Fills)}
		at += len(l.Fills)
	}
	return out
}

func loadOf(all []spanOf, fill int) int {
	for i, s := range all {
		if fill >= s.from && fill < s.to {
			return i
		}
	}
	return len(all) - 1
}

// longBurst is the share of the way that the first burst goes.
const longBurst = 0.65

// potCoolPerS is a cup in a hot pot: it hardly cools.
const potCoolPerS = 0.00005

// Viscosity of hot plastisol, for settling. A starting value.
var hot = heat.Viscosity{At280F: 0.6, At400F: 0.2}

// settledMM is how far grains may sink before the cup is stirred again.
const settledMM = 5.0

// sections are what the timeline needs of the bait in a mold.
func (l *laying) thick() (mm, high float64) {
	m := l.o.first(l.b.Molds)
	s := m.Bait()
	height, _ := s.Size()
	return s.ThickestMM(), height
}

// coolTicks is how long a bait stays in its mold.
func (l *laying) coolTicks(aimC float64) int {
	thick, high := l.thick()
	m := l.o.first(l.b.Molds)
	open := m.Poured
	mm := thick
	if open {
		mm = high
	}
	sec, ever := l.section(mm, aimC, open)
	if !ever {
		sec = 3600
	}
	if m.Material != bait.Aluminium { // its walls warm up; a starting value
		sec *= slowMold
	}
	return max(1, ticksOf(sec))
}

// slowMold is by how much longer a mold that is not of aluminium takes.
const slowMold = 2.5

func (l *laying) section(mm, aimC float64, open bool) (float64, bool) {
	s := l.o.section(mm, aimC, &l.b.Equipment, open)
	return s.CentreWhen(max(demouldC, l.o.wallC(&l.b.Equipment)+8))
}

// Cautions, where the hand is.
const (
	cautionHot    = "Gloves, sleeves, eyes. It burns and sticks; tools have to be dry. Ventilate. What scorches goes outside: do not breathe it."
	cautionVacuum = "Hot plastic rises fast under vacuum. Let the air back in slowly."
	cautionDust   = "Do not breathe the dust."
	cautionShoot  = "Gloves on before the pour. Clamp evenly; open with the sprue away from you."
)

// layOut lists everything that has to be done, with what has to come before what.
func (l *laying) layOut() {
	cooks := make([]*cookState, len(l.Cooks))
	group := 0
	warmed := ""
	if l.o.Warm && l.b.PlatePlaces > 0 {
		warmed = l.add(0, Step{
			Key: "molds.warm", Kind: Warm, Title: "Warm the molds", Shot: -1, Uses: []string{plate}, Ticks: warmTicks,
			Says: []string{"On the hot plate, to " + measure.Degrees(l.b.PlateC) +
				"."}, Caution: "The plate is kept for this work, never for food.",
		})
	}
	opened := "" // the last time that molds were opened, in the pass before
	for _, pass := range l.passes() {
		group, opened = l.layPass(pass, cooks, group, warmed, opened)
	}
}

// layPass lays out a pass, load by load. Molds are free again when their baits are out.
func (l *laying) layPass(ps pass, cooks []*cookState, group int, warmed, opened string) (int, string) {
	all := make([][]spanOf, len(ps.shots))
	coarse := 0
	for i, s := range ps.shots {
		all[i] = spans(l.Shots[s].Loads)
		if len(all[i]) < len(all[coarse]) {
			coarse = i
		}
	}
	lastShot := len(ps.shots) - 1
	type at struct{ shot, load int }
	shoots := map[at]string{}
	demoulds := make([]string, len(all[lastShot]))
	last := opened
	for g, span := range all[coarse] {
		for i, si := range ps.shots {
			s := &l.Shots[si]
			for n, sp := range all[i] {
				if sp.from < span.from || sp.from >= span.to {
					continue
				}
				key := fmt.Sprintf("%s.%d", s.Name, n+1)
				load := &s.Loads[n]
				for _, k := range load.Cooks {
					if cooks[k] == nil {
						cooks[k] = l.prepare(k, group+g)
					}
				}
				l.add(group+g, l.shootStep(key, si, n))
				shoots[at{i, n}] = key
				for i, k := range load.Cooks {
					l.heatUp(cooks[k], k, group+g, key)
					cooks[k].drawnHot += load.HotML[i]
				}
				l.then(warmed, key, 0)
				if i > 0 { // into what lies there
					for f := sp.from; f < sp.to; f++ {
						if below := loadOf(all[i-1], f); f == sp.from || below != loadOf(all[i-1], f-1) {
							l.onto(ps.shots[i-1], si, shoots[at{i - 1, below}], key)
						}
					}
				} else {
					l.then(opened, key, 0)
					for f := sp.from; f < sp.to; f++ {
						if before := l.before(s.Loads, f); before >= 0 {
							l.then(demoulds[loadOf(all[lastShot], before)], key, 0)
						}
					}
				}
				if n > 0 {
					l.then(shoots[at{i, n - 1}], key, 0)
				}
				if i == lastShot {
					demoulds[n] = l.finish(key, si, n, group+g)
					last = demoulds[n]
				}
			}
		}
	}
	return group + len(all[coarse]), last
}

// before is the fill after which a fill's mold is free; -1 where one stands ready.
func (l *laying) before(loads []Load, fill int) int {
	var molds []string
	for _, ld := range loads {
		for _, f := range ld.Fills {
			molds = append(molds, f.Mold)
		}
	}
	copies := 1
	for _, m := range l.o.Molds {
		if m.Mold == molds[fill] {
			copies = m.Copies
		}
	}
	for f := fill - 1; f >= 0; f-- {
		if molds[f] == molds[fill] {
			if copies--; copies == 0 {
				return f
			}
		}
	}
	return -1
}

// onto says when a shot may go onto the one before it, in the same mold.
func (l *laying) onto(below, above int, first, next string) {
	b, a := &l.Shots[below], &l.Shots[above]
	l.then(first, next, 0)
	upperC := l.Heats[a.Cups[0]].AimC
	lowerC := l.Heats[b.Cups[0]].AimC
	thick, high := l.thick()
	var s heat.Section
	switch {
	case b.Way == Laid:
		l.within("what was laid has taken", first, next, takeTicks, 0, false)
		return
	case a.Way == Rods || a.Name == "core":
		mm := thick
		if c := l.o.Structure.Core; c != nil {
			mm = max(1, (thick-c.WideMM)/2)
		}
		s = l.o.section(mm, lowerC, &l.b.Equipment, false)
	default:
		from, to := -1.0, 1.0
		for i, y := range l.o.Structure.Layers {
			if y.Name == b.Name {
				to = y.Top
				if i > 0 {
					from = l.o.Structure.Layers[i-1].Top
				}
			}
		}
		s = l.o.section(max(0.5, high*(to-from)/2), lowerC, &l.b.Equipment, true)
	}
	w, ever := s.NextLayer(upperC, mixAboveC, l.b.bond())
	if !ever {
		return
	}
	least, most := ticksOf(w.EarliestS), int(w.LatestS/TickS+1e-9)
	if w.Feasible() && !w.NeverLate && most < least { // narrower than a tick: as near as can be said
		least = int(math.Round((w.EarliestS + w.LatestS) / 2 / TickS))
		most = least
	}
	l.within(
		fmt.Sprintf(
			"%s onto %s: set, and still warm enough to bond", a.Name, b.Name,
		), first, next, least, most, !w.NeverLate,
	)
}

func (l *laying) shootStep(key string, si, n int) Step {
	s := &l.Shots[si]
	load := &s.Loads[n]
	st := Step{
		Key: key, Kind: Shoot, Cooks: load.Cooks, Shot: si, Load: n, Uses: []string{hands}, Caution: cautionShoot,
	}
	cavities := 0
	for _, f := range load.Fills {
		cavities += f.Cavities
	}
	word := map[Way]string{
		ByHand: "Pour", Shot: "Shoot", Laid: "Lay", Tails: "Shoot", Rods: "Draw the rods, fill",
	}[s.Way]
	st.Title = fmt.Sprintf("%s %s, load %d of %d", word, s.Name, n+1, len(s.Loads))
	switch s.Way {
	case ByHand, Laid:
		st.Title = fmt.Sprintf("%s %s, fill %d of %d", word, s.Name, n+1, len(s.Loads))
		st.Ticks = max(1, ticksOf(fillS+cavityS*float64(cavities)))
	default:
		st.Ticks = max(1, ticksOf(drawS+fillS*float64(len(load.Fills))))
	}
	for i, k := range load.Cooks {
		c, takes := &l.Cooks[k], measure.Number(load.HotML[i], 0)
		if load.HotML[i] < 10 { // spots take drops
			takes = measure.Number(max(0.1, load.HotML[i]), 1)
		}
		if s.Way == ByHand || s.Way == Laid {
			st.Says = append(
				st.Says, fmt.Sprintf("About %s ml from cup %s, %s.", takes, c.Letter, c.Name),
			)
		} else {
			st.Says = append(
				st.Says, fmt.Sprintf("Draw %s ml from cup %s, %s.", takes, c.Letter, c.Name),
			)
		}
	}
	for i := 0; i < len(load.Fills); {
		k := i
		for k < len(load.Fills) && load.Fills[k] == load.Fills[i] {
			k++
		}
		f := load.Fills[i]
		times := ""
		if k-i > 1 {
			times = fmt.Sprintf("%d × ", k-i)
		}
		st.Says = append(st.Says, fmt.Sprintf("%s%s, %s.", times, f.Name, counted(f.Cavities, "cavity", "cavities")))
		i = k
	}
	m := l.o.first(l.b.Molds)
	name := func(i int) string { return l.o.Cups[i].Name }
	switch {
	case s.Way == Laid:
		st.Says = append(st.Says, "Onto the wall of the mold, before anything else. Let it take.")
	case s.Way == Rods:
		st.Says = append(st.Says, "While the body still gives. Fill until it stands in the gate.")
	case len(s.Cups) > 1:
		fitted := bait.Structure{Layers: l.o.Structure.Layers}
		st.Says = append(st.Says, m.Order(&fitted, name)...)
		st.Says = append(
			st.Says, "Push a little out first until both streams move, then press evenly and hold while it takes.",
		)
	case s.Way == Shot || s.Way == Tails:
		st.Says = append(st.Says, "Press evenly, and hold the pressure while it takes.")
	default:
		st.Says = append(st.Says, "One cavity here, one there, so that none overflows while you look away.")
	}
	return st
}

func counted(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// finish lays out what follows the last shot of a load: topping off, cooling, opening. It gives the step after which
// its molds are free.
func (l *laying) finish(shoot string, si, n, group int) string {
	s := &l.Shots[si]
	fills := len(s.Loads[n].Fills)
	last := shoot
	if l.b.TopUp > 0 {
		top := l.add(group, Step{
			Key: shoot + ".top", Kind: Top, Title: fmt.Sprintf("Top off %s %d", s.Name, n+
				1), Shot: si, Load: n, Uses: []string{hands}, Ticks: 1,
			Says: []string{"Fill the sprue again while it shrinks."},
		})
		l.within("topped off while it shrinks", shoot, top, 0, 8, true)
		l.then(shoot, top, 0)
		last = top
	}
	cool := l.coolTicks(l.Heats[s.Cups[0]].AimC)
	open := l.add(group, Step{
		Key: shoot + ".open", Kind: Demould, Title: fmt.Sprintf("Open %s %d", s.Name, n+
			1), Shot: si, Load: n, Uses: []string{hands}, Ticks: 1 + fills,
		Says: []string{
			fmt.Sprintf(
				"After %s min in the mold. Into the water bath, flat.", measure.Number(float64(cool)*TickS/60, 1),
			),
			"Look at each: short, dented, bubbles, layers the wrong way round. Oil the mold again where they stick.",
		},
		Caution: "Open with the sprue away from you.",
	})
	l.then(last, open, 0)
	l.then(shoot, open, cool)
	if s.Way != Tails {
		return open
	}
	cut := l.add(group, Step{
		Key: shoot + ".cut", Kind: SetTail, Title: fmt.Sprintf("Cut and set tails %d", n+
			1), Shot: si, Load: n, Uses: []string{hands}, Ticks: 4 * fills,
		Says: []string{"Cut each where its tail begins, lay the tails back into the mold; the rest is left over."},
	})
	l.then(open, cut, 0)
	return cut
}
