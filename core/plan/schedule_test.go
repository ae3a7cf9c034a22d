package plan_test

import (
	"errors"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	. "cloudburst/core/plan"
	"cloudburst/testkit"
)

type scheduled struct {
	ID, Why   string
	Resources []struct {
		ID    string
		Count int
	}
	Tasks []struct {
		ID   string
		Min  int
		Uses []string
	}
	Precedences []struct {
		First, Then string
		Gap         int `json:"gap_min"`
	}
	Windows []struct {
		Name, From, To string
		FromEdge       string `json:"from_edge"`
		ToEdge         string `json:"to_edge"`
		Min            *int   `json:"min_min"`
		Max            *int   `json:"max_min"`
	}
	Expect struct {
		Makespan int        `json:"makespan_min"`
		Clashing [][]string `json:"clashing_windows"`
	}
}

func (v *scheduled) work() *Work {
	w := &Work{Resources: map[string]int{}}
	for _, r := range v.Resources {
		w.Resources[r.ID] = r.Count
	}
	for _, t := range v.Tasks {
		w.Tasks = append(w.Tasks, Task{Name: t.ID, Ticks: t.Min, Uses: t.Uses})
	}
	for _, p := range v.Precedences {
		w.Follows = append(w.Follows, Follow{p.First, p.Then, p.Gap})
	}
	for _, x := range v.Windows {
		w.Windows = append(
			w.Windows, Window{x.Name, x.From, x.To, x.FromEdge == "end", x.ToEdge == "end", x.Min, x.Max},
		)
	}
	return w
}

// broken says what of the work a schedule does not keep. It knows nothing of how that was found.
func broken(w *Work, starts []int) string {
	at := func(name string) int {
		return slices.IndexFunc(w.Tasks, func(t Task) bool { return t.Name == name })
	}
	for _, s := range starts {
		if s < 0 {
			return "begins before the beginning"
		}
	}
	for _, f := range w.Follows {
		a, b := at(f.First), at(f.Then)
		if starts[b] < starts[a]+w.Tasks[a].Ticks+f.GapTicks {
			return f.Then + " comes too early"
		}
	}
	for _, v := range w.Windows {
		from, to := starts[at(v.From)], starts[at(v.To)]
		if v.FromEnd {
			from += w.Tasks[at(v.From)].Ticks
		}
		if v.ToEnd {
			to += w.Tasks[at(v.To)].Ticks
		}
		if v.Least != nil && to-from < *v.Least || v.Most != nil && to-from > *v.Most {
			return v.Name
		}
	}
	for r, units := range w.Resources {
		for minute := range 600 {
			busy := 0
			for i, t := range w.Tasks {
				if slices.Contains(t.Uses, r) && starts[i] <= minute && minute < starts[i]+t.Ticks {
					busy++
				}
			}
			if busy > units {
				return "too few of " + r
			}
		}
	}
	return ""
}

func makespan(w *Work, starts []int) (last int) {
	for i, s := range starts {
		last = max(last, s+w.Tasks[i].Ticks)
	}
	return last
}

func TestSchedulesOfTheVectors(t *testing.T) {
	var v struct{ Schedules, Infeasible []scheduled }
	testkit.Read(t, "pour.json", &v)
	require.Len(t, v.Schedules, 12)
	for _, s := range v.Schedules {
		w := s.work()
		got, err := w.Plan()
		require.NoError(t, err, s.ID)
		assert.Equal(t, s.Expect.Makespan, got.Makespan, "%s: %s", s.ID, s.Why)
		assert.True(t, got.Proven, s.ID)
		assert.Empty(t, broken(w, got.Starts), s.ID)
		assert.Equal(t, got.Makespan, makespan(w, got.Starts), s.ID)
	}
	require.Len(t, v.Infeasible, 4)
	for _, s := range v.Infeasible {
		_, err := s.work().Plan()
		var clash *Clash
		require.True(t, errors.As(err, &clash), "%s: %v", s.ID, err)
		require.Len(t, clash.Sets, len(s.Expect.Clashing), s.ID)
		for i, set := range s.Expect.Clashing {
			assert.ElementsMatch(t, set, clash.Sets[i], s.ID)
		}
	}
}

// small is any work of a few tasks.
func small(t *rapid.T, most int) *Work {
	w := &Work{Resources: map[string]int{"microwave": rapid.IntRange(1, 2).Draw(t, "microwaves"), "hands": 1}}
	n := rapid.IntRange(2, most).Draw(t, "tasks")
	for i := range n {
		uses := rapid.SampledFrom([][]string{
			{"microwave"}, {"hands"}, {"hands"}, {"microwave", "hands"}, {},
		}).Draw(t, "uses")
		w.Tasks = append(
			w.Tasks, Task{Name: string(rune('a' + i)), Ticks: rapid.IntRange(1, 3).Draw(t, "minutes"), Uses: uses},
		)
	}
	for i := 1; i < n; i++ {
		if rapid.Bool().Draw(t, "follows") {
			w.Follows = append(
				w.Follows,
				Follow{
					w.Tasks[rapid.IntRange(0, i-1).Draw(t, "first")].Name, w.Tasks[i].Name,
					rapid.IntRange(0, 1).Draw(t, "gap"),
				},
			)
		}
	}
	for i := range rapid.IntRange(0, 2).Draw(t, "windows") {
		a := rapid.IntRange(0, n-2).Draw(t, "from")
		b := rapid.IntRange(a+1, n-1).Draw(t, "to")
		v := Window{Name: string(rune('1' + i)), From: w.Tasks[a].Name, To: w.Tasks[b].Name, FromEnd: true}
		most := rapid.IntRange(0, 4).Draw(t, "most")
		v.Most = &most
		if rapid.Bool().Draw(t, "least") {
			least := rapid.IntRange(0, most).Draw(t, "leastMinutes")
			v.Least = &least
		}
		w.Windows = append(w.Windows, v)
	}
	return w
}

// exhaustive tries every start of every task up to a time; -1 where nothing goes.
func exhaustive(w *Work, until int) int {
	best := -1
	starts := make([]int, len(w.Tasks))
	var try func(i int)
	try = func(i int) {
		if i == len(starts) {
			if m := makespan(w, starts); (best < 0 || m < best) && broken(w, starts) == "" {
				best = m
			}
			return
		}
		for starts[i] = 0; starts[i]+w.Tasks[i].Ticks <= until; starts[i]++ {
			try(i + 1)
		}
	}
	try(0)
	return best
}

func TestSmallSchedulesAreTheShortest(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		w := small(t, 4)
		until := 0
		for _, task := range w.Tasks {
			until += task.Ticks + 1
		}
		until = min(until, 13)
		want := exhaustive(w, until)
		got, err := w.Plan()
		if err != nil {
			var clash *Clash
			if !errors.As(err, &clash) {
				t.Fatal(err)
			}
			if want >= 0 {
				t.Fatalf("%d minutes would do: %v", want, err)
			}
			if len(clash.Sets) == 0 {
				t.Fatal("nothing clashes")
			}
			return
		}
		if said := broken(w, got.Starts); said != "" {
			t.Fatal(said)
		}
		if want >= 0 && got.Makespan != want || want < 0 && got.Makespan <= until {
			t.Fatalf("%d minutes, %d would do", got.Makespan, want)
		}
	})
}

// An order of many cups keeps every window that can be kept.
func TestLongJobsKeepTheirWindows(t *testing.T) {
	soon := 4
	for cups := 2; cups <= testkit.Tried(16, 10); cups += 2 {
		w := &Work{Resources: map[string]int{"microwave": 1 + cups%3, "hands": 1, "vacuum_pot": 1}}
		for i := range cups {
			id := func(s string) string { return s + " " + string(rune('A'+i)) }
			w.Tasks = append(
				w.Tasks, Task{Name: id("heat"), Ticks: 3, Uses: []string{"microwave"}},
				Task{Name: id("degas"), Ticks: 2, Uses: []string{"vacuum_pot"}},
				Task{Name: id("flake"), Ticks: 1, Uses: []string{"hands"}},
				Task{Name: id("shoot"), Ticks: 2, Uses: []string{"hands"}},
			)
			w.Follows = append(
				w.Follows, Follow{id("heat"), id("degas"), 0}, Follow{id("degas"), id("flake"), 0},
				Follow{id("flake"), id("shoot"), 0},
			)
			w.Windows = append(w.Windows, Window{id("hot enough"), id("degas"), id("shoot"), true, false, nil, &soon})
		}
		got, err := w.Plan()
		require.NoError(t, err)
		assert.Empty(t, broken(w, got.Starts))
		least := 3*cups + 3 // hands alone
		assert.LessOrEqual(t, got.Makespan, least+least/5+4, "%d cups", cups)
	}
}

func TestWorkThatIsNone(t *testing.T) {
	w := &Work{}
	_, err := w.Plan()
	testkit.AssertFault(t, err, "tasks", "from 1")
	w.Tasks = []Task{{Name: "degas", Ticks: 2, Uses: []string{"vacuum_pot"}}}
	_, err = w.Plan()
	testkit.AssertFault(t, err, "resources", "wants a vacuum pot")
	w.Resources = map[string]int{"vacuum_pot": 1}
	w.Follows = []Follow{{"heat", "degas", 0}}
	_, err = w.Plan()
	testkit.AssertFault(t, err, "follows", "not there")
	w.Tasks = append(w.Tasks, Task{Name: "degas", Ticks: 1, Uses: nil})
	_, err = w.Plan()
	testkit.AssertFault(t, err, "tasks", "twice")
	circle := &Work{
		Tasks:   []Task{{Name: "a", Ticks: 1, Uses: nil}, {Name: "b", Ticks: 1, Uses: nil}},
		Follows: []Follow{{"a", "b", 0}, {"b", "a", 0}},
	}
	_, err = circle.Plan()
	assert.ErrorContains(t, err, "both before and after")
}
