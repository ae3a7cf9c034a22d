package pour

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"cloudburst/core/heat"
	"cloudburst/core/measure"
	"cloudburst/core/plan"
)

// Event is one thing that happened in a run.
type Event struct {
	Kind   EventKind `json:"kind" enum:"begin,done,read,note"`
	Step   string    `json:"step,omitempty" maxLength:"60" doc:"Key of a step (begin, done)"`
	Cook   int       `json:"cook,omitempty" minimum:"0" maximum:"60" doc:"(read)"`
	C      float64   `json:"c,omitempty" doc:"What the thermometer shows (read, done)"`
	BurstS float64   `json:"burstS,omitempty" minimum:"0" maximum:"3600" doc:"How long a burst really was (done); as planned where 0"`
	Note   string    `json:"note,omitempty" maxLength:"400" doc:"What was done otherwise (note)"`
	AtMS   int64     `json:"atMS" doc:"When, ms since 1970"`
}

// EventKind is what happened.
type EventKind string

// The kinds.
const (
	Begin EventKind = "begin"
	Done  EventKind = "done"
	Saw   EventKind = "read"
	Note  EventKind = "note"
)

// Run is an order that is being poured, by the plan that it was begun with.
type Run struct {
	Order     Order   `json:"order"`
	Planned   Planned `json:"planned"`
	StartedMS int64   `json:"startedMS"`
	Shrink    float64 `json:"shrink" doc:"Cold volume of a hot one, as it was planned with"`
}

// RunState is how far a run is, and what comes next.
type RunState struct {
	Steps    []RunStep `json:"steps" nullable:"false" doc:"What was done, then what is to come, timed anew"`
	Now      []string  `json:"now" nullable:"false" doc:"Keys of what can be done now, the most urgent first"`
	Timeline *Timeline `json:"timeline"`
	Notes    []Event   `json:"notes" nullable:"false" doc:"What was done otherwise"`
	Says     []string  `json:"says" nullable:"false" doc:"What went otherwise than planned, and what follows from it"`
	Cups     []CupNow  `json:"cups" nullable:"false"`
	Over     bool      `json:"over" doc:"Every step was done"`
	LastMS   int64     `json:"lastMS" doc:"When it last moved"`
}

// RunStep is a step of a run.
type RunStep struct {
	Step
	State   StepState `json:"state" enum:"done,begun,ready,waits"`
	BeganMS int64     `json:"beganMS,omitempty"`
	DoneMS  int64     `json:"doneMS,omitempty"`
	DueMS   int64     `json:"dueMS" doc:"When it is to begin; when it is over, for one that has begun"`
}

// StepState is where a step stands.
type StepState string

// The states.
const (
	IsDone  StepState = "done"
	IsBegun StepState = "begun"
	IsReady StepState = "ready"
	IsAhead StepState = "waits"
)

// CupNow is how warm a cook is by now.
type CupNow struct {
	There bool    `json:"there"`
	C     float64 `json:"c" doc:"As predicted at the last event"`
}

// Check says what is wrong with an event.
func (e *Event) Check(r *Run) error {
	switch e.Kind {
	case Begin, Done:
		if r.step(e.Step) == nil {
			return measure.Faulty(
				"step", "this run has no such step; it may have been timed anew. Look at it as it stands now",
			)
		}
		if !(e.BurstS >= 0 && e.BurstS <= 3600) {
			return measure.Faulty("burstS", "a burst lasts up to an hour")
		}
	case Saw:
		if e.Cook < 0 || e.Cook >= len(r.Planned.Cooks) {
			return measure.Faulty("cook", "this run has no such cup")
		}
	case Note:
		if err := measure.CheckNote("note", e.Note); err != nil {
			return err
		}
		if strings.TrimSpace(e.Note) == "" {
			return measure.Faulty("note", "what did you do otherwise? A word or two")
		}
	default:
		return measure.Faulty("kind", "begin, done, read or note is accepted")
	}
	if e.C != 0 && !(e.C > -10 && e.C <= measure.MaxC) {
		return measure.Faulty(
			"c", "%s is out of reach of any cup; type what the thermometer shows, such as 335F", measure.Degrees(e.C),
		)
	}
	if e.Kind == Saw && e.C == 0 {
		return measure.Faulty("c", "what does the thermometer show? Type it as 335F or 168C")
	}
	return nil
}

// IsBurst says whether a step is a burst.
func (r *Run) IsBurst(key string) bool {
	s := r.step(key)
	return s != nil && s.Kind == Burst
}

func (r *Run) step(key string) *Step {
	if r.Planned.Timeline == nil {
		return nil
	}
	for i := range r.Planned.Timeline.Steps {
		if s := &r.Planned.Timeline.Steps[i]; s.Key == key {
			return s
		}
	}
	// A reheat that the plan did without.
	cook, what, ok := strings.Cut(key, ".heat")
	if !ok || what == "" {
		return nil
	}
	for i, c := range r.Planned.Cooks {
		if c.Letter == cook {
			return &Step{Key: key, Kind: Burst, Cooks: []int{i}, Shot: -1}
		}
	}
	return nil
}

// mark is what happened to a step.
type mark struct{ beganMS, doneMS int64 }

// following is a run that is being followed.
type following struct {
	*laying
	run    *Run
	marks  map[string]mark
	past   []past
	now    int // tick
	lastMS int64
	says   []string
}

func (f *following) tick(ms int64) float64 { return float64(ms-f.run.StartedMS) / 1000 / TickS }

// hotterC is by how much a cup has to be hotter than it stands for that to be said.
const hotterC = 6.0

// longestRunMS bounds a run: what was left for days is cold.
const longestRunMS = 3 * 24 * 3600 * 1000

// State works out how far a run is: what was done, how warm the cups are by it, and when the rest is to be done.
func (r *Run) State(b *Bench, events []Event) (*RunState, error) {
	p := r.Planned
	f := &following{laying: p.laying(&r.Order, b), run: r, marks: map[string]mark{}}
	f.quick = true
	// Bursts as long as they were planned, until they are worked out anew.
	for i := range f.steps {
		if was := r.step(f.steps[i].Key); was != nil {
			f.steps[i].Ticks, f.steps[i].BurstS, f.steps[i].Start = was.Ticks, was.BurstS, was.Start
		}
	}
	out := &RunState{
		Steps: []RunStep{}, Now: []string{}, Notes: []Event{}, Says: []string{}, Cups: []CupNow{}, LastMS: r.StartedMS,
	}
	for _, e := range events {
		e.AtMS = min(max(e.AtMS, r.StartedMS), r.StartedMS+longestRunMS)
		out.LastMS = max(out.LastMS, e.AtMS)
		f.take(e)
		f.lastMS = max(f.lastMS, e.AtMS)
		if e.Kind == Note {
			out.Notes = append(out.Notes, e)
		}
	}
	f.now = max(0, int(math.Ceil(f.tick(out.LastMS)-1e-9)))
	f.skipped()
	again := f.coldAgain()
	where := f.where(again)
	f.follow(where)
	done := func(key string) bool { return where[key].fixed && f.marks[key].doneMS > 0 }
	err := f.solve(where, f.now, f.past, done)
	if errors.Is(err, errClash) { // what was heated is heated again
		for key := range f.shootOf {
			if shoot := f.shootOf[key]; f.marks[shoot].beganMS == 0 && f.marks[shoot].doneMS == 0 &&
				f.marks[key].doneMS > 0 {
				again[key] = true
			}
		}
		where = f.where(again)
		f.anew()
		f.follow(where)
		err = f.solve(where, f.now, f.past, done)
	}
	if errors.Is(err, errClash) { // and what is too late cannot be mended
		f.windows = slices.DeleteFunc(f.windows, func(w plan.Window) bool {
			late := where[w.From].fixed
			if late {
				f.says = append(f.says, "Too late for this: "+w.Name+". Go on, and look at these baits well.")
			}
			return late
		})
		f.holds = nil
		err = f.solve(where, f.now, f.past, done)
	}
	if errors.Is(err, errClash) {
		f.windows, f.holds = nil, nil
		f.says = append(f.says, "No times keep everything from here; go on by the thermometer.")
		err = f.solve(where, f.now, f.past, done)
	}
	if err != nil {
		return nil, err
	}
	out.Timeline = f.timeline(f.past, done)
	for i := range f.Cooks {
		w := f.cupAt(i)
		out.Cups = append(out.Cups, CupNow{w.there, w.C})
		if most := f.Heats[f.Cooks[i].Of].MostC; w.there && w.C > max(most, f.Heats[f.Cooks[i].Of].WorkC)+hotterC {
			f.says = append(f.says, fmt.Sprintf("Cup %s, %s, is at about %s, hotter than it stands. Let it cool; if it smokes or yellows take it outside, and do not breathe it.",
				f.Cooks[i].Letter, f.Cooks[i].Name, measure.Degrees(w.C)))
		}
	}
	f.tell(out, where, again)
	out.Says = append(out.Says, f.says...)
	return out, nil
}

// take takes an event into account.
func (f *following) take(e Event) {
	seconds := f.tick(e.AtMS) * TickS
	switch e.Kind {
	case Saw:
		f.past = append(f.past, past{cook: e.Cook, seconds: seconds, readC: e.C})
	case Begin:
		if m := f.marks[e.Step]; m.beganMS == 0 {
			f.marks[e.Step] = mark{beganMS: e.AtMS}
		}
	case Done:
		i, ok := f.at[e.Step]
		if !ok {
			return
		}
		s := &f.steps[i]
		m := f.marks[e.Step]
		if m.doneMS > 0 && s.Kind != Burst { // done twice is done
			return
		}
		began := m.beganMS
		if began == 0 || m.doneMS > 0 {
			began = max(f.run.StartedMS, e.AtMS-int64(float64(s.Ticks)*TickS*1000))
			// what was only told when it was over did not begin before what was told last
			began = min(e.AtMS, max(began, f.lastMS))
		}
		f.marks[e.Step] = mark{began, e.AtMS}
		over := float64(e.AtMS-began) / 1000
		for _, k := range s.Cooks {
			switch s.Kind {
			case Measure:
				f.past = append(f.past, past{cook: k, seconds: seconds, begin: true})
			case Burst:
				f.past = append(
					f.past, past{
						cook: k, seconds: f.tick(began) * TickS, burstS: max(cmp.Or(e.BurstS, s.BurstS), 0.1),
						over: over,
					},
				)
			}
		}
		if s.Kind == Shoot {
			load := &f.Shots[s.Shot].Loads[s.Load]
			for n, k := range load.Cooks {
				f.past = append(f.past, past{cook: k, seconds: seconds, pouredHot: load.HotML[n]})
			}
		}
		if e.C > 0 && len(s.Cooks) == 1 {
			f.past = append(f.past, past{cook: s.Cooks[0], seconds: seconds, readC: e.C})
		}
	}
}

// Given is a burst that a cook had.
type Given struct{ AtS, Seconds float64 }

// Bursts are those that a cook had.
func (r *Run) Bursts(cook int, events []Event) []Given {
	var out []Given
	for _, e := range events {
		s := r.step(e.Step)
		if e.Kind == Done && s != nil && s.Kind == Burst && s.Cooks[0] == cook {
			sec := cmp.Or(e.BurstS, s.BurstS)
			out = append(out, Given{float64(e.AtMS-r.StartedMS)/1000 - sec, sec})
		}
	}
	return out
}

// skipped counts as done what must have been, as what comes after it was: nobody colours a cup that was never measured.
func (f *following) skipped() {
	for changed := true; changed; {
		changed = false
		for _, l := range f.follows {
			first, next := f.marks[l.First], f.marks[l.Then]
			at := cmp.Or(next.beganMS, next.doneMS)
			if at > 0 && first.doneMS == 0 {
				f.marks[l.First] = mark{cmp.Or(first.beganMS, at), at}
				s := &f.steps[f.at[l.First]]
				for _, k := range s.Cooks {
					switch s.Kind {
					case Measure:
						f.past = append(f.past, past{cook: k, seconds: f.tick(at) * TickS, begin: true})
					case Burst:
						// one that only warms it up again was not needed, or was told by the thermometer
						if s.use == 0 {
							f.past = append(
								f.past, past{cook: k, seconds: f.tick(at) * TickS, burstS: max(s.BurstS, 0.1)},
							)
						}
					}
				}
				changed = true
			}
		}
	}
	// A cup was measured before anything was done to it, whatever was told first.
	for i := range f.past {
		if e := &f.past[i]; e.begin {
			for _, o := range f.past {
				if o.cook == e.cook {
					e.seconds = min(e.seconds, o.seconds)
				}
			}
		}
	}
	slices.SortStableFunc(f.past, func(a, b past) int {
		return cmp.Or(cmp.Compare(a.seconds, b.seconds), cmp.Compare(flag(b.begin), flag(a.begin)))
	})
}

// flag sorts what is true behind.
func flag(is bool) int {
	if is {
		return 1
	}
	return 0
}

// cupAt follows one cup to now.
func (f *following) cupAt(k int) warm {
	w := warm{}
	for _, e := range f.past {
		if e.cook != k {
			continue
		}
		if e.begin {
			w.begin(e.seconds, &f.Cooks[k], &f.b.Equipment, f.coolPerS(&f.Cooks[k]))
			continue
		}
		f.happens(&w, &e)
	}
	w.to(float64(f.now) * TickS)
	return w
}

// coldAgain are the bursts that have to be given again, as their cup has waited too long for its shot.
func (f *following) coldAgain() map[string]bool {
	out := map[string]bool{}
	for burst, shoot := range f.shootOf {
		s := &f.steps[f.at[burst]]
		if f.marks[burst].doneMS == 0 || f.marks[shoot].beganMS > 0 || f.marks[shoot].doneMS > 0 {
			continue
		}
		if w := f.cupAt(s.Cooks[0]); w.there && w.C < f.Heats[f.Cooks[s.Cooks[0]].Of].LeastC {
			out[burst] = true
		}
	}
	return out
}

// where says which steps are done, or begun, and where they stand; those that have to be done again are not.
func (f *following) where(again map[string]bool) map[string]held {
	out := map[string]held{}
	for key, m := range f.marks {
		i, ok := f.at[key]
		if !ok || again[key] {
			continue
		}
		s := &f.steps[i]
		if s.Kind == Ready && slices.ContainsFunc(f.burstsFor(s), func(b string) bool { return again[b] }) {
			continue // and stirred again
		}
		from := int(math.Floor(f.tick(cmp.Or(m.beganMS, m.doneMS)) + 1e-9))
		h := held{start: max(0, from), ticks: s.Ticks, fixed: true}
		if m.doneMS > 0 {
			h.ticks = max(0, int(math.Ceil(f.tick(m.doneMS)-1e-9))-h.start)
		} else {
			h.ticks = max(h.ticks, f.now-h.start)
		}
		out[key] = h
	}
	return out
}

// burstsFor are the bursts after which a cup was made ready.
func (f *following) burstsFor(ready *Step) []string {
	return []string{fmt.Sprintf("%s.heat%d", f.Cooks[ready.Cooks[0]].Letter, ready.use)}
}

// anew takes the windows back to what they were before a run moved them.
func (f *following) anew() {
	fresh := f.Planned.laying(f.o, f.b)
	f.windows, f.holds = fresh.windows, fresh.holds
}

// follow moves windows that come from a cup's cooling to how warm it really is.
func (f *following) follow(where map[string]held) {
	for _, h := range f.holds {
		w := &f.windows[h.window]
		from, ok := where[w.From]
		if !ok || !from.fixed || f.marks[w.From].doneMS == 0 {
			continue
		}
		is := f.cupAt(h.cook)
		if !is.there {
			continue
		}
		since := f.now - from.start
		if w.FromEnd {
			since -= from.ticks
		}
		sec, ever := heat.FallS(is.C, h.limitC, f.b.RoomC, is.CoolPerS())
		switch {
		case h.atLeast:
			least := since
			if ever {
				least += ticksOf(sec)
			}
			if is.C <= h.limitC {
				least = 0
			}
			w.Least = &least
		case ever:
			most := since + int(sec/TickS+1e-9)
			w.Most = &most
		}
	}
}

// ifNow is how long a burst would have to be now, and to what: as hot as it may get, if its shot is still far.
func (f *following) ifNow(s *Step) (seconds, toC float64) {
	k := s.Cooks[0]
	h := &f.Heats[f.Cooks[k].Of]
	w := f.cupAt(k)
	if !w.there {
		return s.BurstS, s.ToC
	}
	wait := 0.0
	if shoot, ok := f.at[f.shootOf[s.Key]]; ok {
		wait = float64(max(0, f.steps[shoot].Start-f.now)) * TickS
	}
	if toC = s.ToC; s.use > 0 {
		toC = min(h.MostC, f.b.RoomC+(h.AimC-f.b.RoomC)*math.Exp(w.CoolPerS()*wait))
	}
	heater := f.b.heater()
	return max(0.1, math.Floor(10*w.BurstFor(toC, heater.PowerW, heater.Efficiency))/10), toC
}

// tell puts the steps together as they stand.
func (f *following) tell(out *RunState, where map[string]held, again map[string]bool) {
	shown := map[string]bool{}
	for _, s := range out.Timeline.Steps {
		shown[s.Key] = true
	}
	before := map[string][]string{}
	for _, l := range f.follows {
		before[l.Then] = append(before[l.Then], l.First)
	}
	var blocked func(key string) bool
	blocked = func(key string) bool {
		return slices.ContainsFunc(before[key], func(first string) bool {
			if !shown[first] { // a burst that it can do without
				return blocked(first)
			}
			return f.marks[first].doneMS == 0 || again[first] || !where[first].fixed
		})
	}
	ms := func(tick int) int64 { return f.run.StartedMS + int64(float64(tick)*TickS*1000) }
	out.Over = true
	for _, s := range out.Timeline.Steps {
		one := RunStep{Step: s, State: IsAhead, DueMS: ms(s.Start)}
		m, fixed := f.marks[s.Key], where[s.Key].fixed
		switch {
		case fixed && m.doneMS > 0:
			one.State, one.BeganMS, one.DoneMS = IsDone, m.beganMS, m.doneMS
		case fixed:
			one.State, one.BeganMS = IsBegun, m.beganMS
			one.DueMS = m.beganMS + int64(max(s.BurstS, float64(s.Ticks)*TickS)*1000)
			if s.BurstS > 0 {
				one.DueMS = m.beganMS + int64(s.BurstS*1000)
			}
		case !blocked(s.Key):
			one.State = IsReady
			if s.Kind == Burst { // as long as it has to be if it is given now
				early := s.use > 0 && s.Start > f.now+1
				one.BurstS, one.ToC = f.ifNow(&s)
				if early && one.BurstS < 1 {
					one.State = IsAhead
				}
			}
		}
		if one.State != IsDone {
			out.Over = false
		}
		if one.State == IsBegun || one.State == IsReady {
			out.Now = append(out.Now, s.Key)
		}
		out.Steps = append(out.Steps, one)
	}
	for i := 0; len(out.Now) == 0 && i < len(out.Steps); i++ { // whoever will not wait goes on
		if s := &out.Steps[i]; s.State == IsAhead && !blocked(s.Key) {
			s.State = IsReady
			out.Now = append(out.Now, s.Key)
		}
	}
	for burst := range again {
		c := &f.Cooks[f.steps[f.at[burst]].Cooks[0]]
		f.says = append(
			f.says, fmt.Sprintf(
				"Cup %s, %s, has waited too long: it is too cold to shoot. Heat it again.", c.Letter, c.Name,
			),
		)
	}
	slices.Sort(f.says)
}
