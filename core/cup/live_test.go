package cup_test

import (
	"math"
	"strings"
	"testing"

	"cloudburst/core/colour"
	. "cloudburst/core/cup"
	"cloudburst/core/measure"
	. "cloudburst/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// Contents close: over any history of cups (add, pour, lose, return, split, merge, reheat) every ingredient is
// accounted for.
func TestContentsClose(t *testing.T) {
	shelf := Bench()
	uids := []string{"clear-red", "carbon-black", "pearl-silver", "flake-gold", "salt-fine", "softener"}
	steps := 0
	histories := 0
	history := func(t *rapid.T) {
		histories++
		in := map[string]float64{} // grams that ever went in
		grams := func(doses []Dose, into map[string]float64) {
			for _, d := range doses {
				m := shelf[d.Material]
				_, g, err := m.Take(d.Amount)
				if err != nil {
					t.Fatal(err)
				}
				into[d.Material] += g
			}
		}
		bases := []string{"soft-plastisol", "medium-plastisol"}
		var cups []Live
		for i := range rapid.IntRange(1, 3).Draw(t, "cups") {
			v := Live{Cup: CupOf(t, rapid.SampledFrom([]string{"1/2 cup", "1 cup", "300 ml"}).Draw(t, "volume"))}
			v.Plastisol = bases[i%2]
			in[v.Plastisol] += v.Volume.ML * plastisolDensity(shelf, v.Plastisol)
			cups = append(cups, v)
		}
		do := func(i int, s Step) {
			steps++
			got, err := s.Apply(cups[i], shelf, Kit)
			if err != nil {
				return // refused: the cup is as it was
			}
			before, after := map[string]float64{}, map[string]float64{}
			grams(cups[i].Doses, before)
			grams(got.Doses, after)
			if s.Kind == Drip || s.Kind == Add {
				in[s.Material] += after[s.Material] - before[s.Material]
			}
			cups[i] = got
		}
		for range rapid.IntRange(1, 25).Draw(t, "steps") {
			i := rapid.IntRange(0, len(cups)-1).Draw(t, "cup")
			uid := rapid.SampledFrom(uids).Draw(t, "uid")
			switch rapid.SampledFrom([]string{
				"drip", "add", "pour", "lost", "return", "split", "merge", "heat",
			}).Draw(t, "what") {
			case "drip":
				do(i, Step{Kind: Drip, Material: uid, Drops: rapid.IntRange(1, 9).Draw(t, "n")})
			case "add":
				do(
					i,
					Step{
						Kind: Add, Material: uid,
						Typed: rapid.SampledFrom([]string{"2 ml", "0.3 g", "1/3 ml", "1/8 tsp"}).Draw(t, "typed"),
					},
				)
			case "pour":
				do(
					i,
					Step{
						Kind:  PourOut,
						Typed: rapid.SampledFrom([]string{"half", "1/3", "40 %", "50 ml"}).Draw(t, "typed"),
					},
				)
			case "lost":
				do(i, Step{Kind: Lost, Typed: rapid.SampledFrom([]string{"5 %", "10 ml"}).Draw(t, "typed")})
			case "return":
				do(i, Step{Kind: Return, Typed: rapid.SampledFrom([]string{"30 %", "100 %", "20 ml"}).Draw(t, "typed")})
			case "heat":
				do(i, Step{Kind: HeatUp, Typed: "350F", AtMS: int64(steps)})
			case "split":
				rest, other, err := cups[i].Split(rapid.Float64Range(0.05, 0.95).Draw(t, "share"))
				if err == nil && len(cups) < 6 {
					if len(other.Heats) != len(rest.Heats) {
						t.Fatal("the second cup inherits the heats")
					}
					cups[i] = rest
					cups = append(cups, other)
				}
			case "merge":
				if j := rapid.IntRange(0, len(cups)-1).Draw(t, "other"); j != i && len(cups) > 1 {
					// What was poured from the other cup stays poured from it.
					cups[i] = cups[i].Merge(cups[j], shelf)
					cups[i].Out = append(cups[i].Out, cups[j].Out...)
					cups = append(cups[:j:j], cups[j+1:]...)
				}
			}
		}
		is := map[string]float64{}
		for _, v := range cups {
			is[v.Plastisol] += v.Volume.ML * plastisolDensity(shelf, v.Plastisol)
			grams(v.Doses, is)
			for _, p := range v.Out {
				left := 1 - p.BackML/p.ML
				base := p.Plastisol
				is[base] += p.ML * left * plastisolDensity(shelf, base)
				for _, d := range p.Doses {
					m := shelf[d.Material]
					_, g, _ := m.Take(d.Amount)
					is[d.Material] += g * left
				}
			}
		}
		for uid, want := range in {
			if math.Abs(is[uid]-want) > 1e-9*max(1, want) {
				t.Fatalf("%s: %v g went in, %v are accounted for", uid, want, is[uid])
			}
		}
	}
	for histories < 1000 {
		rapid.Check(t, history)
	}
	t.Logf("%d histories, %d steps", histories, steps)
}

func plastisolDensity(shelf Shelf, uid string) float64 { m := shelf[uid]; return m.DensityGML() }

func TestLiveCup(t *testing.T) {
	v := Live{Cup: CupOf(t, "1 cup", DripOf("clear-red", 12))}
	full := Stirred(t, v.Cup)
	do := func(s Step) {
		t.Helper()
		got, err := s.Apply(v, Bench(), Kit)
		require.NoError(t, err)
		v = got
	}
	do(Step{Kind: PourOut, Typed: "half"})
	assert.InDelta(t, 6, v.Doses[0].Amount.Value, 1e-9)
	assert.InDelta(t, measure.CupML/2, v.Volume.ML, 1e-9)
	assert.Less(
		t, colour.DeltaE00(full.Colour(Over(8)), Stirred(t, v.Cup).Colour(Over(8))), 1e-9, "pouring changes no colour",
	)
	do(Step{Kind: Drip, Material: "clear-red", Drops: 6})
	assert.Greater(
		t, colour.DeltaE00(
			full.Colour(Over(8)), Stirred(t, v.Cup).Colour(Over(8)),
		), 2.0, "a later drop is for what is left",
	)
	do(Step{Kind: Return, Typed: "50 %"})
	assert.InDelta(t, 15, v.Doses[0].Amount.Value, 1e-9)
	_, err := Step{Kind: Return, Typed: "80 %"}.Apply(v, Bench(), Kit)
	AssertFault(t, err, "typed", "up to 50 %")
	_, err = Step{Kind: PourOut, Typed: "2 gal"}.Apply(v, Bench(), Kit)
	AssertFault(t, err, "typed", "more than the")
	_, err = Step{Kind: PourOut, Typed: "a bit"}.Apply(v, Bench(), Kit)
	AssertFault(t, err, "typed", "type a share or a volume")
	do(Step{Kind: HeatUp, Typed: "350F", AtMS: 1_000_000})
	do(Step{Kind: SetName, Letter: "B", Part: "belly"})
	_, other, err := v.Split(0.5)
	require.NoError(t, err)
	assert.Len(t, other.Heats, 1)
	fresh := v.WarmthAt(1_000_000)
	assert.InDelta(t, 176.7, fresh.TempC, 0.1)
	w := Live{Cup: CupOf(t, "240 ml"), Heats: []Heat{{TempC: 165, AtMS: 0}}}
	assert.InDelta(t, 7, 165-w.WarmthAt(60_000).TempC, 0.5, "240 ml lose about 7 K in the first minute")
	assert.True(t, w.WarmthAt(20*60_000).Reheat)
	assert.False(t, w.WarmthAt(0).Reheat)
	assert.Contains(t, w.WarmthAt(300*60_000).Says, "Cold")
	assert.Nil(t, (&Live{}).WarmthAt(0))
}

func TestGoesAreReadFromTheClock(t *testing.T) {
	at := func(sec int64, s Step) Timed { return Timed{Step: s, AtMS: 1000 * sec} }
	drip := func(uid string, n int) Step { return Step{Kind: Drip, Material: uid, Drops: n} }
	steps := []Timed{
		at(0, drip("clear-red", 1)), at(1, drip("clear-red", 10)), at(3, drip("carbon-black", 1)),
		at(4, drip("carbon-black", -1)),
		at(60, drip("clear-red", 5)), at(
			62, Step{Kind: SetDose, Material: "clear-blue", Typed: "3d"},
		), at(70, Step{Kind: SetWork, Typed: "340F"}),
		at(71, drip("clear-red", 1)), at(72, Step{Kind: SetDose, Material: "clear-red", Typed: "20d"}),
	}
	v := Live{Cup: CupOf(t, "1 cup")}
	for i := range steps {
		next, err := steps[i].Step.Apply(v, Bench(), Kit)
		require.NoError(t, err)
		v, steps[i].After = next, next.Cup
	}
	additions := Additions(CupOf(t, "1 cup"), steps)
	var says []string
	for _, g := range additions {
		for _, d := range g.Doses {
			says = append(says, d.Material+" "+d.Typed)
		}
		says = append(says, "/")
	}
	assert.Equal(
		t, "clear-red 11 drops / clear-red 5 drops clear-blue 3 drops / clear-red 4 drops /", strings.Join(says, " "),
	)
}

// Bursts of one heating, and readings as it cools, are one heat; a cup that got too cold to shoot was heated again. Too
// hot is said.
func TestHeatsAreCountedAsAMakerWould(t *testing.T) {
	at := func(entries ...[2]float64) Live { // minutes, °F
		v := Live{Cup: CupOf(t, "1 cup")}
		for _, e := range entries {
			v.Heats = append(v.Heats, Heat{TempC: measure.Celsius(e[1]), AtMS: int64(e[0] * 60_000)})
		}
		return v
	}
	for name, c := range map[string]struct {
		v     Live
		heats int
	}{
		"in bursts":        {at([2]float64{0, 200}, [2]float64{2, 280}, [2]float64{4, 350}), 1},
		"read as it cools": {at([2]float64{0, 350}, [2]float64{1, 340}, [2]float64{3, 325}), 1},
		"told twice":       {at([2]float64{0, 350}, [2]float64{0.2, 350}), 1},
		"too cold, again":  {at([2]float64{0, 350}, [2]float64{15, 340}), 2},
		"next day":         {at([2]float64{0, 350}, [2]float64{1440, 350}), 2},
	} {
		last := c.v.Heats[len(c.v.Heats)-1].AtMS
		assert.Equal(t, c.heats, c.v.WarmthAt(last).Heats, name)
		assert.Empty(t, c.v.HeatWatch(Bench()), name)
	}
	hot := at([2]float64{0, 500})
	assert.Contains(t, hot.WarmthAt(0).Says, "too hot")
	require.Len(t, hot.HeatWatch(Bench()), 1)
	assert.Contains(t, hot.HeatWatch(Bench())[0].Says, "irritant gas")
}

// A split's child is there while the split is; a cup that was poured in is away while it is in; neither is turned once
// it was worked on.
func TestTheSecondCupOfAStepTurnsWithIt(t *testing.T) {
	for _, c := range []struct {
		kind           StepKind
		again          bool
		second         Second
		wantAway, okay bool
	}{
		{SplitOff, false, Second{Away: false}, true, true},
		{SplitOff, true, Second{Away: true}, false, true},
		{MergeIn, false, Second{Away: true}, false, true},
		{MergeIn, true, Second{Away: false}, true, true},
		{MergeIn, true, Second{Away: true}, true, false},
		{SplitOff, false, Second{WorkedOn: true}, true, false},
	} {
		away, ok := c.kind.Turn(c.again, c.second)
		assert.Equal(t, c.okay, ok, "%v", c)
		if ok {
			assert.Equal(t, c.wantAway, away, "%v", c)
		}
	}
}

// A batch that is recorded of a live cup needs nothing typed again: the additions as they were counted; after a pour,
// what was in it.
func TestABatchIsReadFromTheCup(t *testing.T) {
	shelf, kit := Bench(), measure.StandardKit()
	start := CupOf(t, "1 cup", DripOf("clear-brown", 4))
	v := Live{Cup: start}
	var steps []Timed
	take := func(atMS int64, s Step) {
		after, err := s.Apply(v, shelf, kit)
		require.NoError(t, err)
		v = after
		steps = append(steps, Timed{Step: s, AtMS: atMS, After: v.Cup})
	}
	take(1_000, Step{Kind: HeatUp, Typed: "350F", AtMS: 1_000})
	take(2_000, Step{Kind: Drip, Material: "clear-red", Drops: 3})
	take(60_000, Step{Kind: Drip, Material: "clear-red", Drops: 1})
	gone, err := v.AsPoured(start, steps, shelf)
	require.NoError(t, err)
	require.Len(t, gone.Additions, 3, "what it came with, and two additions")
	assert.Equal(t, []Dose{DripOf("clear-brown", 4), DripOf("clear-red", 4)}, Sum(gone.Additions, shelf))
	assert.Len(t, gone.HeatsC, 1)
	finished, err := v.FinishedML(shelf)
	require.NoError(t, err)
	assert.InDelta(t, finished, gone.LeftML, 1e-9)

	take(90_000, Step{Kind: PourOut, Typed: "half"})
	gone, err = v.AsPoured(start, steps, shelf)
	require.NoError(t, err)
	assert.InDelta(t, start.Volume.ML, gone.Volume.ML, 1e-6, "as much as there was before the pour")
	sum := Sum(gone.Additions, shelf)
	require.Len(t, sum, 2)
	assert.InDelta(t, 4, sum[1].Amount.Value, 1e-9)
	assert.InDelta(t, finished/2, gone.PouredML, 1e-6)
	assert.InDelta(t, finished/2, gone.LeftML, 1e-6)

	take(99_000, Step{Kind: Remove, Material: "clear-red"})
	gone, err = v.AsPoured(start, steps, shelf)
	require.NoError(t, err)
	assert.Len(t, Sum(gone.Additions, shelf), 1, "what was taken out was not poured")
}
