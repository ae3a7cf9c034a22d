package pour_test

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/bait"
	"cloudburst/core/cup"
	"cloudburst/core/heat"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	. "cloudburst/core/pour"
	"cloudburst/testkit"
)

// A laminate of two with one microwave: both cups are within 10 °F at every shot.
func TestLaminateWithOneMicrowave(t *testing.T) {
	b := bench()
	o := order(b, "lagoon", "laminate", 40)
	p, err := o.Figure(b)
	require.NoError(t, err)
	require.Nil(t, p.Impossible)
	require.Empty(t, checked(o, b, p))
	for _, s := range p.Timeline.Steps {
		if s.Kind != Shoot {
			continue
		}
		var at []float64
		for _, k := range s.Cooks {
			c := p.Timeline.Curves[k]
			at = append(at, c.C[s.Start-c.From])
		}
		require.Len(t, at, 2)
		assert.InDelta(t, at[0], at[1], 10/1.8, s.Key)
	}
}

// Spots that want a body of 365 °F, a flake that greys above 315 °F, one microwave, 16 baits.
func spotted(b *Bench) *Order {
	o := order(b, "lagoon", "spots", 16)
	b.BondC = measure.Celsius((365 + measure.Fahrenheit(b.RoomC)) / 2)
	holo := b.Shelf["flake-holo"]
	holo.Heat = &material.HeatLimit{MaxC: measure.Celsius(315), Origin: material.Maker}
	b.Shelf["flake-holo"] = holo
	o.Cups[0].Cup.Doses = append(slices.Clone(o.Cups[0].Cup.Doses), testkit.Tsp("flake-holo", 0.25))
	return o
}

func TestAnImpossibleHeatIsNamedWithWaysOut(t *testing.T) {
	b := bench()
	b.PlatePlaces = 6
	o := spotted(b)
	p, err := o.Figure(b)
	require.NoError(t, err)
	require.NotNil(t, p.Impossible)
	require.Nil(t, p.Timeline, "no silent plan")
	said := strings.Join(p.Impossible.Clash, " ")
	assert.Contains(t, said, "365 °F")
	assert.Contains(t, said, "315 °F")
	assert.Contains(t, said, "Holographic flake")
	ways := o.WaysOut(b)
	require.GreaterOrEqual(t, len(ways), 2)
	for _, w := range ways {
		assert.NotEmpty(t, w.Looks)
		again, err := w.Order.Figure(b)
		require.NoError(t, err, w.Says)
		require.Nil(t, again.Impossible, w.Says)
		assert.Empty(t, checked(&w.Order, b, again), w.Says)
		t.Log(w.Says, "|", w.Looks)
	}
}

func TestWhatCannotBePlannedIsSaid(t *testing.T) {
	for _, c := range []struct {
		name, field, says string
		change            func(*Order, *Bench)
	}{
		{"no baits", "molds.0.count", "how many baits", func(o *Order, _ *Bench) { o.Molds[0].Count = 0 }},
		{
			"a mold larger than any cup", "molds", "take a larger one", func(_ *Order, b *Bench) { b.CupML, b.LeastML = 30, 10 },
		},
		{"900 °F", "cups.0.pourC", "260 °C", func(o *Order, _ *Bench) { o.Cups[0].PourC = 482 }},
		{"nothing to pour", "cups", "choose what is poured", func(o *Order, _ *Bench) { o.Cups = nil }},
		{
			"too many colours for its injectors", "equipment", "blending block",
			func(_ *Order, b *Bench) { b.Blocks = 0 },
		},
		{"no microwave", "heaters", "heats with", func(_ *Order, b *Bench) { b.Heaters = nil }},
		{
			"open and shot", "molds", "apart",
			func(o *Order, _ *Bench) { o.Molds = append(o.Molds, Asked{Mold: "stick", Count: 3, Copies: 1}) },
		},
	} {
		b := bench()
		o := order(b, "lagoon", "laminate", 8)
		c.change(o, b)
		_, err := o.Figure(b)
		testkit.AssertFault(t, err, c.field, c.says)
	}
	// A stock that is too small is said, and planned all the same.
	b := bench()
	b.Stock["medium-plastisol"] = material.Stock{Typed: "100 ml", Left: 100}
	p, err := order(b, "lagoon", "single", 40).Figure(b)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(p.Watch, " "), "lacking")
	assert.Greater(t, p.Needs[0].ShortBy, 100.0)
}

// A base cup that is used twice in one bait is one cup with one history.
func TestACupThatIsUsedTwiceIsOneCup(t *testing.T) {
	b := bench()
	o := order(b, "lagoon", "core", 8)
	o.Structure.Core.Cup = 0 // the core from the body's own cup
	o.Cups = o.Cups[:1]
	p, err := o.Figure(b)
	require.NoError(t, err)
	require.Nil(t, p.Impossible)
	assert.Len(t, p.Cooks, 1)
	assert.Empty(t, checked(o, b, p))
}

func running(t *testing.T, b *Bench, o *Order) *Run {
	p, err := o.Figure(b)
	require.NoError(t, err)
	require.Nil(t, p.Impossible)
	return &Run{Order: *o, Planned: *p, StartedMS: 1_700_000_000_000, Shrink: b.Shrink}
}

// follow does a run step by step, each when it is due, with late added to some.
func follow(t *testing.T, r *Run, b *Bench, late func(s *RunStep) int64) ([]Event, *RunState) {
	var events []Event
	s, err := r.State(b, events)
	require.NoError(t, err)
	for range 400 {
		if s.Over {
			return events, s
		}
		require.NotEmpty(t, s.Now, "nothing can be done")
		i := slices.IndexFunc(s.Steps, func(x RunStep) bool { return x.Key == s.Now[0] })
		step := &s.Steps[i]
		from := max(s.LastMS, step.DueMS) + late(step)
		events = append(events, Event{Kind: Begin, Step: step.Key, AtMS: from})
		events = append(
			events, Event{
				Kind: Done, Step: step.Key, BurstS: step.BurstS, AtMS: from + int64(float64(step.Ticks)*TickS*1000),
			},
		)
		s, err = r.State(b, events)
		require.NoError(t, err, "after %s", step.Key)
	}
	t.Fatal("it never ends")
	return nil, nil
}

func TestARunByThePlanKeepsToIt(t *testing.T) {
	b := bench()
	b.Hands = 2
	r := running(t, b, order(b, "lagoon", "single", 16))
	events, s := follow(t, r, b, func(*RunStep) int64 { return 0 })
	took := float64(events[len(events)-1].AtMS-r.StartedMS) / 1000 / TickS
	assert.LessOrEqual(
		t, took, float64(r.Planned.Timeline.Ticks)*1.25, "one after the other, where the plan does some at once",
	)
	assert.Empty(t, s.Says)
	for _, step := range s.Steps {
		assert.Equal(t, IsDone, step.State)
	}
}

// A cup that waited too long is heated again before it is shot, whatever the plan said.
func TestALateRunHeatsAgain(t *testing.T) {
	b := bench()
	o := order(b, "lagoon", "laminate", 8)
	r := running(t, b, o)
	waited := false
	events, s := follow(t, r, b, func(x *RunStep) int64 {
		if x.Kind == Shoot && !waited {
			waited = true
			return 15 * 60_000
		}
		return 0
	})
	require.True(t, s.Over)
	// It came to that step late and began it all the same: the cup was cold then. The one who looks first is told.
	at := slices.IndexFunc(events, func(e Event) bool { return e.Kind == Begin && e.Step == "body.1" })
	before := append(slices.Clone(events[:at]), Event{Kind: Note, Note: "the phone rang", AtMS: events[at].AtMS})
	told, err := r.State(b, before)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(told.Says, " "), "Heat it again")
	assert.NotContains(t, told.Now, "body.1")
	assert.Contains(t, strings.Join(told.Now, " "), "heat1")
}

// What the thermometer shows counts more than what was predicted, and what follows is timed by it.
func TestAReadingTimesTheRestAnew(t *testing.T) {
	b := bench()
	r := running(t, b, order(b, "lagoon", "single", 8))
	var events []Event
	ms := r.StartedMS
	for _, key := range []string{"A.measure", "A.first", "A.stir", "A.fuse"} {
		ms += 90_000
		events = append(events, Event{Kind: Done, Step: key, AtMS: ms})
	}
	was, err := r.State(b, events)
	require.NoError(t, err)
	is, err := r.State(b, append(slices.Clone(events), Event{Kind: Saw, Cook: 0, C: 140, AtMS: ms}))
	require.NoError(t, err)
	assert.InDelta(t, 140, is.Cups[0].C, 4)
	heat := func(s *RunState) float64 {
		for _, x := range s.Steps {
			if x.Key == "A.heat1" {
				return x.BurstS
			}
		}
		return 0
	}
	assert.Greater(t, heat(is), heat(was)+5, "it is colder than predicted: the next burst is longer")
	assert.Len(t, is.Timeline.Curves[0].Reads, 1)
}

func TestARunTakesWhatAHandDoes(t *testing.T) {
	b := bench()
	r := running(t, b, order(b, "lagoon", "laminate", 8))
	at := r.StartedMS
	// Done twice, the wrong order, undone, nothing at all.
	for _, events := range [][]Event{
		nil,
		{{Kind: Done, Step: "A.measure", AtMS: at + 5}, {Kind: Done, Step: "A.measure", AtMS: at + 9}},
		{{Kind: Done, Step: "A.colour", AtMS: at + 5000}},
		{{Kind: Done, Step: "A.colour", AtMS: at + 5000}, {Kind: Done, Step: "A.measure", AtMS: at + 9000}},
		{{Kind: Done, Step: "body.1", AtMS: at + 5000}},
		{{Kind: Begin, Step: "A.first", AtMS: at + 5000}, {Kind: Begin, Step: "A.first", AtMS: at + 7000}},
		{{Kind: Done, Step: "A.fuse", AtMS: at - 90_000}},
		{{Kind: Done, Step: "A.fuse", AtMS: at + 86_400_000*3}},
	} {
		s, err := r.State(b, events)
		require.NoError(t, err, "%v", events)
		require.NotEmpty(t, s.Now, "%v", events)
	}
	for _, bad := range []Event{
		{Kind: Done, Step: "Z.nothing"},
		{Kind: Saw, Cook: 9, C: 150},
		{Kind: Saw, C: 482},
		{Kind: Saw},
		{Kind: Note, Note: " "},
		{Kind: "else"},
		{Kind: Done, Step: "A.first", BurstS: math.NaN()},
	} {
		assert.Error(t, bad.Check(r), "%v", bad)
	}
}

// What is lacking is planned from what is left, and what a run lost is learned.
func TestAShortfallIsPlannedFromWhatIsLeft(t *testing.T) {
	b := bench()
	r := running(t, b, order(b, "lagoon", "laminate", 40))
	u := Outcome{Good: 33, Spoiled: []Spoiled{{"short fill", 5}, {"bubbles", 2}}, LeftML: []float64{40, 12}}
	require.NoError(t, u.Check(r))
	again, ok := u.Again(r)
	require.True(t, ok)
	assert.Equal(t, 7, again.Molds[0].Count)
	p, err := again.Figure(b)
	require.NoError(t, err)
	require.Len(t, p.Cooks, 2)
	plain := again
	plain.LeftML = nil
	fresh, err := plain.Figure(b)
	require.NoError(t, err)
	assert.InDelta(t, 40, p.Cooks[0].LeftML, 1e-9)
	assert.InDelta(t, fresh.Cooks[0].MeasuredML, p.Cooks[0].MeasuredML, 1e-9)
	assert.Less(t, p.Cost, fresh.Cost+1e-9)
	assert.Less(t, p.Cooks[0].Cup.Volume.ML, fresh.Cooks[0].Cup.Volume.ML-30)

	learned := b.Equipment.Learn(r, &Outcome{LeftML: []float64{0, -1}})
	assert.Equal(t, 1, learned.LossRuns, "nobody looked into the second")
	assert.Greater(t, learned.CupLossML, b.CupLossML)
	for _, bad := range []Outcome{
		{Good: -1},
		{Good: 400},
		{Good: 3, Spoiled: []Spoiled{{"", 2}}},
		{Good: 3, LeftML: []float64{9000}},
		{LeftML: []float64{1, 1, 1}},
	} {
		assert.Error(t, bad.Check(r), "%v", bad)
	}
	_, none := (&Outcome{Good: 44}).Again(r)
	assert.False(t, none)
}

// All that a run took of the shelf is in its cups: what was poured, what is left, and nothing twice.
func TestWhatARunUsedIsWhatWentIn(t *testing.T) {
	b := bench()
	o := order(b, "lagoon", "laminate", 20)
	o.Cups[0].Cup.Doses = append(slices.Clone(o.Cups[0].Cup.Doses), testkit.Tsp("flake-silver", 0.5))
	for _, left := range [][]float64{nil, {30, 20}} {
		o.LeftML = left
		r := running(t, b, o)
		cups, err := r.Cups(b.Shelf)
		require.NoError(t, err)
		events, _ := follow(t, r, b, func(*RunStep) int64 { return 0 })
		for _, e := range events {
			for k := range cups {
				for _, s := range r.OnBench(&e, k, &cups[k], b.Shelf) {
					cups[k], err = s.Apply(cups[k], b.Shelf, b.Kit)
					require.NoError(t, err, "%+v", s)
				}
			}
		}
		used := r.Used(cups, b.Shelf)
		for _, n := range r.Planned.Needs {
			assert.InEpsilon(t, n.Amount, used[n.Material], 1e-6, n.Name)
		}
		made := r.Batches(
			&Outcome{
				Good: 18, Spoiled: []Spoiled{{"bubbles", 2}}, LeftML: []float64{10, 10}, AtMS: r.StartedMS,
			}, cups, b.Shelf,
		)
		require.Len(t, made, 2)
		for _, m := range made {
			require.NoError(t, m.Check(b.Shelf))
			assert.NotEmpty(t, m.Outcome.HeatsC)
		}
		assert.Contains(t, made[0].Verdict, "18 good, 2 bubbles")
	}
}

func TestAHeaterIsFoundByTwoReadings(t *testing.T) {
	h := Usual().Heaters[0]
	truth := heat.NewCup(240*1.03, heat.UsualCpJgK, 21, 21, 0.0009)
	truth.Burst(h.PowerW, 0.58, 100)
	truth.Rest(10)
	one := truth.C
	truth.Rest(110)
	found, err := h.ByTrial(
		Trial{ML: 240, StartC: 21, BurstS: 100, Reading1C: one, AfterS1: 10, Reading2C: truth.C, AfterS2: 120}, 21,
	)
	require.NoError(t, err)
	assert.InDelta(t, 0.58, found.Efficiency, 1e-9)
	assert.InDelta(t, 0.0009, found.CoolPerS, 1e-9)
	assert.NotEmpty(t, found.Found)
	_, err = h.ByTrial(
		Trial{ML: 240, StartC: 21, BurstS: 100, Reading1C: 100, AfterS1: 10, Reading2C: 140, AfterS2: 120}, 21,
	)
	assert.Error(t, err)
}

// The steps are moved by a hand, and the rest follows.
func TestAStepIsMovedByHand(t *testing.T) {
	b := bench()
	o := order(b, "lagoon", "single", 8)
	was, err := o.Figure(b)
	require.NoError(t, err)
	o.Later = []Later{{"A.fuse", 20}}
	is, err := o.Figure(b)
	require.NoError(t, err)
	require.Nil(t, is.Impossible)
	at := slices.IndexFunc(is.Timeline.Steps, func(s Step) bool { return s.Key == "A.fuse" })
	assert.GreaterOrEqual(t, is.Timeline.Steps[at].Start, 20)
	assert.Greater(t, is.Timeline.Ticks, was.Timeline.Ticks)
	assert.Empty(t, checked(o, b, is))
}

func ExampleOrder_Figure() {
	b := bench()
	o := &Order{
		Name: "Brown shads", Degas: NoDegas, Molds: []Asked{{Mold: "lagoon", Count: 8, Copies: 2}},
		Cups: []Poured{{
			Name: "Brown",
			Cup: cup.Cup{
				Volume: testkit.MustVolume("1 cup"), Plastisol: "medium-plastisol",
				Doses: []cup.Dose{cup.DripOf("clear-brown", 8)},
			},
			PourC: 168,
		}},
		Structure: bait.NewDesign("", "lagoon", "").Structure,
	}
	p, err := o.Figure(b)
	if err != nil {
		panic(err)
	}
	c := p.Cooks[0]
	fmt.Printf(
		"%s ml of plastisol, %s, %d baits in %d loads\n", measure.Number(c.Cup.Volume.ML, 0), c.Doses[0].Says, p.Made,
		len(p.Shots[0].Loads),
	)
	// Output: 105 ml of plastisol, 4 drops, 8 baits in 1 loads
}

// Each step told two seconds after the other, whatever its time: the cups are hotter than planned, and are waited for.
func TestARunInAHurry(t *testing.T) {
	for _, of := range []struct {
		mold, way string
		n         int
	}{{"lagoon", "laminate", 16}, {"lagoon", "core", 8}, {"lagoon", "tail", 8}, {"lagoon", "spots", 12}, {"stick", "pour", 12}} {
		for _, flake := range []bool{false, true} {
			b := bench()
			b.Vacuum = true
			o := order(b, of.mold, of.way, of.n)
			if flake {
				m := b.Shelf["flake-silver"]
				m.Heat = &material.HeatLimit{MaxC: 173, Origin: material.Maker}
				b.Shelf["flake-silver"] = m
				o.Cups[0].Cup.Doses = append(
					slices.Clone(o.Cups[0].Cup.Doses), testkit.Tsp("flake-silver", 0.25), testkit.Tsp("salt-fine", 4),
				)
			}
			r := running(t, b, o)
			var events []Event
			for i := range 400 {
				s, err := r.State(b, events)
				require.NoError(t, err)
				for _, says := range s.Says {
					if !assert.NotContains(
						t, says, "Too late", "%v flake %v after %d: %v", of, flake, i, events[len(events)-1],
					) || !assert.NotContains(t, says, "No times keep", "%v", of) {
						return
					}
				}
				for k, c := range s.Cups {
					require.Less(t, c.C, 192.0, "%v: cup %d after %d", of, k, i)
				}
				if s.Over {
					break
				}
				if i%7 == 5 && s.Cups[0].There { // and the thermometer is asked
					events = append(
						events, Event{Kind: Saw, Cook: 0, C: s.Cups[0].C - 1, AtMS: r.StartedMS + int64(i)*2000 + 1000},
					)
				}
				step := s.Steps[slices.IndexFunc(s.Steps, func(x RunStep) bool { return x.Key == s.Now[0] })]
				events = append(
					events, Event{Kind: Done, Step: step.Key, BurstS: step.BurstS, AtMS: r.StartedMS + int64(i+1)*2000},
				)
			}
		}
	}
}
