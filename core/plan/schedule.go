package plan

import (
	"cmp"
	"slices"
	"strings"

	"cloudburst/core/measure"
)

// Work is what has to be done at the bench, and by what. Time goes in whole ticks, of what length the caller says;
// nothing is broken off.
type Work struct {
	Tasks     []Task
	Follows   []Follow
	Windows   []Window
	Resources map[string]int // units of each: microwaves, hands, pots, molds
}

// Task is one thing to do. It takes a unit of each resource it uses for all of its time.
type Task struct {
	Name      string
	Ticks     int
	Uses      []string
	NotBefore int  // the tick at which it may start
	Fixed     bool // it starts just then: it was done, or is being done
}

// Follow says that one task begins so many ticks after another's end, or later.
type Follow struct {
	First, Then string
	GapTicks    int
}

// Window bounds the time between two tasks: from an edge of one to an edge of the other.
type Window struct {
	Name           string
	From, To       string
	FromEnd, ToEnd bool // of it; else its start
	Least, Most    *int // ticks; nil for no bound
}

// Schedule is when each task starts.
type Schedule struct {
	Starts   []int // by task
	Makespan int
	Proven   bool // no schedule is shorter
}

// Clash says which windows cannot be kept together: each set can, once one of it is dropped.
type Clash struct{ Sets [][]string }

func (c *Clash) Error() string {
	var said []string
	for _, set := range c.Sets {
		said = append(said, strings.Join(set, " and "))
	}
	if len(said) == 0 {
		return "this can't be done in any order: one thing has to come both before and after another"
	}
	return "these can't be kept together: " + strings.Join(said, "; or ")
}

// Limits of a schedule.
const (
	maxTasks  = 200
	maxTicks  = 20_000
	mostNodes = 60_000 // of the search, until the best so far has to do
	mostClash = 12     // windows of which clashing sets are looked for
)

// edge says that task to starts at least so many minutes after task from does.
type edge struct{ to, ticks int }

// net is the work in numbers: tasks by their place, and who must wait for whom.
type net struct {
	ticks   []int
	uses    [][]int // by resource: the tasks that use it
	from    []int   // no start before
	fixed   []bool
	units   []int
	after   [][]edge // by task
	horizon int      // beyond which no start lies in any schedule that is worth having
}

func (w *Work) check() error {
	if len(w.Tasks) == 0 || len(w.Tasks) > maxTasks {
		return measure.Faulty("tasks", "from 1 to %d things are planned at once", maxTasks)
	}
	at := map[string]bool{}
	for _, t := range w.Tasks {
		if at[t.Name] {
			return measure.Faulty("tasks", "%s is there twice", t.Name)
		}
		at[t.Name] = true
		if t.Ticks < 0 || t.Ticks > maxTicks || t.NotBefore < 0 || t.NotBefore > maxTicks {
			return measure.Faulty("tasks", "%s takes from no time to a day", t.Name)
		}
		for _, r := range t.Uses {
			if w.Resources[r] < 1 {
				return measure.Faulty(
					"resources", "%s wants a %s, and there is none on this bench", t.Name,
					strings.ReplaceAll(r, "_", " "),
				)
			}
		}
	}
	for _, f := range w.Follows {
		if !at[f.First] || !at[f.Then] || f.GapTicks < 0 || f.GapTicks > maxTicks {
			return measure.Faulty("follows", "%s after %s: one of them is not there", f.Then, f.First)
		}
	}
	for _, v := range w.Windows {
		if !at[v.From] || !at[v.To] {
			return measure.Faulty("windows", "%s: one of its tasks is not there", v.Name)
		}
	}
	return nil
}

// newNet takes only the windows that keep says.
func (w *Work) newNet(keep func(i int) bool) *net {
	n := &net{after: make([][]edge, len(w.Tasks))}
	place := map[string]int{}
	latest := 0
	for i, t := range w.Tasks {
		place[t.Name] = i
		n.ticks = append(n.ticks, t.Ticks)
		n.horizon += t.Ticks
		n.from, n.fixed = append(n.from, t.NotBefore), append(n.fixed, t.Fixed)
		latest = max(latest, t.NotBefore)
	}
	n.horizon += latest
	names := make([]string, 0, len(w.Resources))
	for r := range w.Resources {
		names = append(names, r)
	}
	slices.Sort(names)
	for _, r := range names {
		var of []int
		for i, t := range w.Tasks {
			if slices.Contains(t.Uses, r) {
				of = append(of, i)
			}
		}
		if len(of) > w.Resources[r] {
			n.uses, n.units = append(n.uses, of), append(n.units, w.Resources[r])
		}
	}
	for _, f := range w.Follows {
		a, b := place[f.First], place[f.Then]
		n.after[a] = append(n.after[a], edge{b, n.ticks[a] + f.GapTicks})
		n.horizon += f.GapTicks
	}
	for i, v := range w.Windows {
		if !keep(i) {
			continue
		}
		a, b := place[v.From], place[v.To]
		shift := 0 // what start(to) − start(from) has more than the window's time
		if v.FromEnd {
			shift += n.ticks[a]
		}
		if v.ToEnd {
			shift -= n.ticks[b]
		}
		if v.Least != nil {
			n.after[a] = append(n.after[a], edge{b, *v.Least + shift})
			n.horizon += max(0, *v.Least)
		}
		if v.Most != nil {
			n.after[b] = append(n.after[b], edge{a, -(*v.Most + shift)})
		}
	}
	return n
}

// push moves starts up until everyone waits as long as they must; false where nobody ever could.
func (n *net) push(starts []int, queue ...int) bool {
	waiting := make([]bool, len(starts))
	for _, i := range queue {
		waiting[i] = true
	}
	for len(queue) > 0 {
		i := queue[0]
		queue, waiting[i] = queue[1:], false
		for _, e := range n.after[i] {
			if at := starts[i] + e.ticks; at > starts[e.to] {
				if at > n.horizon || n.fixed[e.to] {
					return false
				}
				starts[e.to] = at
				if !waiting[e.to] {
					queue, waiting[e.to] = append(queue, e.to), true
				}
			}
		}
	}
	return true
}

func (n *net) makespan(starts []int) int {
	last := 0
	for i, s := range starts {
		last = max(last, s+n.ticks[i])
	}
	return last
}

// crowd finds tasks that use one resource at one moment, one more than there are units of it; nil where there are none.
func (n *net) crowd(starts []int) []int {
	var first []int
	when := 0
	for r, of := range n.uses {
		for _, i := range of {
			if n.ticks[i] == 0 {
				continue
			}
			var at []int // those that are at it when i starts
			for _, k := range of {
				if n.ticks[k] > 0 && starts[k] <= starts[i] && starts[i] < starts[k]+n.ticks[k] {
					at = append(at, k)
				}
			}
			if len(at) > n.units[r] && (first == nil || starts[i] < when) && slices.ContainsFunc(
				at, func(k int) bool { return !n.fixed[k] },
			) {
				slices.SortFunc(at, func(a, b int) int {
					return cmp.Or(
						later(n.fixed[a], n.fixed[b]), cmp.Compare(
							starts[a]+n.ticks[a], starts[b]+n.ticks[b],
						), cmp.Compare(a, b),
					)
				})
				first, when = at[:n.units[r]+1], starts[i]
			}
		}
	}
	return first
}

// later sorts what is true behind.
func later(a, b bool) int {
	switch {
	case a == b:
		return 0
	case a:
		return 1
	}
	return -1
}

// search goes down: of a crowd, one has to be done before another is begun. It stops at the first schedule where any
// will do.
type search struct {
	*net
	best  []int
	span  int
	nodes int
	any   bool
}

func (s *search) down(starts []int) {
	s.nodes--
	if s.nodes < 0 || s.any && s.best != nil {
		return
	}
	span := s.makespan(starts)
	if s.best != nil && span >= s.span {
		return
	}
	crowd := s.crowd(starts)
	if crowd == nil {
		s.best, s.span = slices.Clone(starts), span
		return
	}
	type way struct {
		first, then, span int
		starts            []int
	}
	var ways []way
	for _, a := range crowd {
		for _, b := range crowd {
			if a == b {
				continue
			}
			s.after[a] = append(s.after[a], edge{b, s.ticks[a]})
			moved := slices.Clone(starts)
			if s.push(moved, a) {
				ways = append(ways, way{a, b, s.makespan(moved), moved})
			}
			s.after[a] = s.after[a][:len(s.after[a])-1]
		}
	}
	slices.SortStableFunc(ways, func(a, b way) int { return cmp.Compare(a.span, b.span) })
	for _, v := range ways {
		s.after[v.first] = append(s.after[v.first], edge{v.then, s.ticks[v.first]})
		s.down(v.starts)
		s.after[v.first] = s.after[v.first][:len(s.after[v.first])-1]
	}
}

// solve looks for the shortest schedule, or for any.
func (n *net) solve(nodes int, anyWill bool) (starts []int, span, rest int) {
	s := &search{net: n, nodes: nodes, any: anyWill}
	at := slices.Clone(n.from)
	all := make([]int, len(n.ticks))
	for i := range all {
		all[i] = i
	}
	if n.push(at, all...) {
		n.forget(at)
		s.down(at)
	}
	return s.best, s.span, s.nodes
}

// any looks for any schedule; proven says that there is none where it finds none.
func (n *net) any(nodes int) (starts []int, rest int, proven bool) {
	starts, _, rest = n.solve(nodes, true)
	return starts, rest, rest >= 0
}

// forget leaves out of the crowds what was begun and is over before anything else can start.
func (n *net) forget(starts []int) {
	first := n.horizon
	for i, s := range starts {
		if !n.fixed[i] {
			first = min(first, s)
		}
	}
	for r := range n.uses {
		n.uses[r] = slices.DeleteFunc(
			n.uses[r], func(i int) bool { return n.fixed[i] && starts[i]+n.ticks[i] <= first },
		)
	}
}

// Plan says when to do what, so that all is done soonest. Where no order keeps all windows, the error is a Clash.
func (w *Work) Plan() (*Schedule, error) {
	s, err := w.Soonest()
	if err == nil && s == nil {
		err = &Clash{w.clashes()}
	}
	return s, err
}

// Soonest is the same for one who need not know what clashes: nil where no order keeps all windows.
func (w *Work) Soonest() (*Schedule, error) {
	if err := w.check(); err != nil {
		return nil, err
	}
	starts, span, rest := w.newNet(func(int) bool { return true }).solve(mostNodes, false)
	if starts == nil {
		return nil, nil
	}
	return &Schedule{starts, span, rest >= 0}, nil
}

// clashes finds least sets of windows that cannot be kept together: all of them, small ones first, where there are few
// windows; else one.
func (w *Work) clashes() (sets [][]string) {
	var open []int // windows between what was begun already are what they are
	fixed := map[string]bool{}
	for _, t := range w.Tasks {
		fixed[t.Name] = t.Fixed
	}
	for i, v := range w.Windows {
		if !fixed[v.From] || !fixed[v.To] {
			open = append(open, i)
		}
	}
	left := mostNodes
	never := func(keep func(i int) bool) bool {
		if left <= 0 {
			return false
		}
		nodes := min(left, mostNodes/6)
		starts, rest, proven := w.newNet(keep).any(nodes)
		left -= nodes - rest
		return starts == nil && proven
	}
	if len(open) > mostClash {
		return w.oneClash(open, never)
	}
	var found []uint
	for size := range len(open) + 1 {
		for set := range uint(1) << len(open) {
			if bits(set) != size || slices.ContainsFunc(found, func(f uint) bool { return f&set == f }) {
				continue
			}
			in := func(i int) bool {
				at := slices.Index(open, i)
				return at < 0 || set>>at&1 == 1
			}
			if !never(in) {
				continue
			}
			found = append(found, set)
			names := []string{}
			for at, i := range open {
				if set>>at&1 == 1 {
					names = append(names, w.Windows[i].Name)
				}
			}
			if len(names) > 0 {
				sets = append(sets, names)
			}
		}
	}
	return sets
}

// oneClash drops one window after the other, as long as the rest can't be kept either.
func (w *Work) oneClash(open []int, never func(func(i int) bool) bool) [][]string {
	out := map[int]bool{}
	for _, i := range open {
		out[i] = true
		if !never(func(k int) bool { return !out[k] }) {
			delete(out, i)
		}
	}
	var names []string
	for _, i := range open {
		if !out[i] {
			names = append(names, w.Windows[i].Name)
		}
	}
	if len(names) == 0 {
		return nil
	}
	return [][]string{names}
}

func bits(set uint) (n int) {
	for ; set > 0; set &= set - 1 {
		n++
	}
	return n
}
