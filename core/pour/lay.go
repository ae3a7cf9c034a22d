package pour

import (
	"cmp"
	"errors"
	"slices"
	"strings"

	"cloudburst/core/plan"
)

// held is where a step stands in a run, or was moved by hand.
type held struct {
	start, ticks int
	fixed        bool // done, or begun
}

// time puts the order's work into an order in time.
func (p *Planned) time(o *Order, b *Bench) error {
	moved := map[string]held{}
	for _, m := range o.Later {
		moved[m.Step] = held{start: m.Tick}
	}
	l := p.laying(o, b)
	if err := l.solve(moved, 0, nil, func(string) bool { return false }); err != nil {
		return err
	}
	p.Timeline = l.timeline(nil, func(string) bool { return false })
	return nil
}

func (p *Planned) laying(o *Order, b *Bench) *laying {
	l := &laying{
		Planned: p, o: o, b: b, at: map[string]int{}, shootOf: map[string]string{}, burstsOf: map[string][]string{},
		proven: true, settles: map[string]int{},
	}
	l.layOut()
	return l
}

// rounds is how often a group is laid out anew with the bursts that the last time came to.
const rounds = 8

// solve finds when each step begins: load by load, what was laid before stays. Each load is laid out soonest; then its
// bursts are worked out from how warm its cups are by then, and it is laid out again until both agree.
func (l *laying) solve(where map[string]held, now int, before []past, done func(string) bool) error {
	last := 0
	for _, g := range l.group {
		last = max(last, g)
	}
	fixed := map[int]bool{}
	for g := 0; g <= last; g++ {
		var in []int
		for i := range l.steps {
			if l.group[i] <= g {
				in = append(in, i)
			}
		}
		longest := map[string]int{}
		for round := range rounds + 1 {
			w := l.work(in, fixed, where, now)
			s, err := w.Soonest()
			if err == nil && s == nil {
				if err = errClash; !l.quick {
					_, err = w.Plan() // which says what clashes
				}
			}
			if err != nil {
				return err
			}
			l.proven = l.proven && s.Proven
			for n, i := range in {
				l.steps[i].Start = s.Starts[n]
				if at := where[l.steps[i].Key]; at.fixed {
					l.steps[i].Ticks = at.ticks
				}
			}
			l.late(w, in, fixed, where)
			l.warmth(before, func(key string) bool { return done(key) || l.group[l.at[key]] > g })
			same := true
			for _, i := range in {
				st := &l.steps[i]
				if st.Kind != Burst || fixed[i] || where[st.Key].fixed {
					continue
				}
				want := ticksOf(st.BurstS)
				if round >= rounds/2 { // it goes to and fro: rather too long than too short
					want = max(want, longest[st.Key])
				}
				longest[st.Key] = max(longest[st.Key], want)
				if want != st.Ticks && round < rounds {
					same = false
					st.Ticks = want
				}
			}
			if same || round == rounds {
				break
			}
		}
		for _, i := range in {
			fixed[i] = true
		}
	}
	return nil
}

// late moves what only makes ready to as late as it can be without anything else being later: plastic that waits hot
// yellows.
func (l *laying) late(w *plan.Work, in []int, fixed map[int]bool, where map[string]held) {
	at := map[string]int{}
	for n, t := range w.Tasks {
		at[t.Name] = n
	}
	start := func(n int) int { return l.steps[in[n]].Start }
	order := make([]int, 0, len(in))
	for n, i := range in {
		s := &l.steps[i]
		if !fixed[i] && !where[s.Key].fixed && s.Kind != Shoot && s.Kind != Top && s.Kind != Demould &&
			s.Kind != SetTail {
			order = append(order, n)
		}
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(start(b), start(a)) })
	for _, n := range order {
		t := &w.Tasks[n]
		latest := -1
		bound := func(v int) {
			if latest < 0 || v < latest {
				latest = max(v, start(n))
			}
		}
		for _, f := range w.Follows {
			if f.First == t.Name {
				bound(start(at[f.Then]) - f.GapTicks - t.Ticks)
			}
		}
		for _, v := range w.Windows {
			end := func(n int, of bool) int {
				if of {
					return w.Tasks[n].Ticks
				}
				return 0
			}
			a, b := at[v.From], at[v.To]
			switch {
			case v.From == t.Name && v.Least != nil:
				bound(start(b) + end(b, v.ToEnd) - *v.Least - end(a, v.FromEnd))
			case v.To == t.Name && v.Most != nil:
				bound(start(a) + end(a, v.FromEnd) + *v.Most - end(b, v.ToEnd))
			}
		}
		for when := latest; when > start(n); when-- {
			if l.free(w, n, when, start) {
				l.steps[in[n]].Start = when
				break
			}
		}
	}
}

// free says whether a task could begin at a tick: every resource that it uses has a unit left for all of its time.
func (l *laying) free(w *plan.Work, n, when int, start func(int) int) bool {
	t := &w.Tasks[n]
	for _, r := range t.Uses {
		for tick := when; tick < when+t.Ticks; tick++ {
			used := 1
			for k := range w.Tasks {
				if o := &w.Tasks[k]; k != n && start(k) <= tick && tick < start(k)+o.Ticks &&
					slices.Contains(o.Uses, r) {
					used++
				}
			}
			if used > w.Resources[r] {
				return false
			}
		}
	}
	return true
}

// work is what a schedule is made of: the steps of these groups, of which the earlier ones stay where they are.
func (l *laying) work(in []int, fixed map[int]bool, where map[string]held, now int) *plan.Work {
	w := &plan.Work{Resources: map[string]int{
		microwave: len(l.b.Heaters), hands: l.b.Hands, plate: max(1, l.b.PlatePlaces),
	}}
	if l.b.Vacuum {
		w.Resources[vacuum] = 1
	}
	there := map[string]bool{}
	for _, i := range in {
		s := &l.steps[i]
		t := plan.Task{Name: s.Key, Ticks: s.Ticks, Uses: s.Uses, NotBefore: now}
		switch at, ok := where[s.Key]; {
		case ok && at.fixed:
			t.NotBefore, t.Ticks, t.Fixed = at.start, at.ticks, true
		case fixed[i]:
			t.NotBefore, t.Fixed = s.Start, true
		case ok:
			t.NotBefore = max(now, at.start)
		}
		there[s.Key] = true
		w.Tasks = append(w.Tasks, t)
	}
	begun := func(key string) bool { return where[key].fixed }
	for _, f := range l.follows {
		if there[f.First] && there[f.Then] && !begun(f.Then) {
			w.Follows = append(w.Follows, f)
		}
	}
	for _, v := range l.windows {
		if there[v.From] && there[v.To] && !begun(v.To) {
			w.Windows = append(w.Windows, v)
		}
	}
	return w
}

// timeline is what was laid out, as it is shown.
func (l *laying) timeline(before []past, done func(string) bool) *Timeline {
	_, curves := l.warmth(before, done)
	t := &Timeline{Steps: slices.Clone(l.steps), Curves: curves, Proven: l.proven}
	for _, s := range t.Steps {
		t.Ticks = max(t.Ticks, s.Start+s.Ticks)
	}
	slices.SortStableFunc(t.Steps, func(a, b Step) int { return cmp.Compare(a.Start, b.Start) })
	// A burst of no length is none.
	t.Steps = slices.DeleteFunc(t.Steps, func(s Step) bool { return s.Kind == Burst && s.BurstS == 0 && !done(s.Key) })
	return t
}

// Impossible says why an order can't be poured as it is, and what can be done.
type Impossible struct {
	Says  string   `json:"says"`
	Clash []string `json:"clash" nullable:"false" doc:"What can't be kept together"`
}

func clashWords(c *plan.Clash) []string {
	var out []string
	for _, set := range c.Sets {
		out = append(out, strings.ToUpper(set[0][:1])+strings.Join(set, "; ")[1:]+".")
	}
	if len(out) == 0 {
		out = []string{"No order was found in which every cup is hot when it is shot and nothing in it too hot."}
	}
	return out
}

// errClash is that windows can't be kept together, where nobody asks which.
var errClash = errors.New("windows clash")
