package match_test

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	. "cloudburst/core/match"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	. "cloudburst/testkit"
)

func amountIn(c cup.Cup, uid string) float64 {
	for _, d := range c.Doses {
		if d.Material == uid {
			return d.Amount.Value
		}
	}
	return 0
}

// Whatever is in the cup: nothing comes out of it, steps are whole, and the way out that comes first is no worse than
// leaving it.
func TestACorrectionOnlyAdds(t *testing.T) {
	shelf, uids := rack(2, 24)
	rng := rand.New(rand.NewPCG(5, 5))
	helped, kinds := 0, map[string]int{}
	n := Tried(40, 16)
	for range n {
		want, is := hidden(rng, shelf, uids, "1 cup"), hidden(rng, shelf, uids, "1 cup")
		if rng.IntN(2) == 0 { // nearly right: one dose too much or too little
			is = want
			is.Doses = append([]cup.Dose{}, want.Doses...)
			d := &is.Doses[0].Amount
			d.Value *= []float64{0.5, 2, 3}[rng.IntN(3)]
			if d.Unit == measure.InDrops {
				d.Value = math.Ceil(d.Value)
			}
		}
		w := &Wish{Cup: is, Readings: readingsOf(t, want, shelf, threeLooks...), Allowed: uids, Most: 4}
		c, err := Correct(context.Background(), w, shelf, spoonKit)
		require.NoError(t, err)
		first := c.Options[0]
		assert.LessOrEqual(t, first.DeltaE00, c.Now.DeltaE00)
		assert.Equal(t, "leave", c.Options[len(c.Options)-1].Kind)
		kinds[first.Kind]++
		if first.DeltaE00 < c.Now.DeltaE00/2 {
			helped++
		}
		for _, o := range c.Options {
			assert.LessOrEqual(t, o.DeltaE00, c.Now.DeltaE00, o.Says)
			for _, d := range o.Adds {
				m := shelf[d.Material]
				assert.Positive(t, d.Amount.Value)
				assert.InDelta(t, 0, measurable(&m, d.Amount), 1e-9, o.Says)
			}
			if o.Kind == "fresh" {
				continue
			}
			for _, d := range is.Doses {
				assert.GreaterOrEqual(t, amountIn(o.Cup, d.Material), d.Amount.Value-1e-9, o.Says)
			}
			assert.GreaterOrEqual(t, o.Cup.Volume.ML, is.Volume.ML-1e-9)
			assert.LessOrEqual(t, o.ClearML, 2*is.Volume.ML+6)
		}
	}
	t.Logf("%d of %d brought to less than half of the difference; first: %v", helped, n, kinds)
	assert.Greater(t, helped, n*3/4)
}

// By hand: a cup that lacks 4 of 12 drops. Half of it was poured, so that half of 8 drops is left, and 2 drops are
// lacking.
func TestHalfPouredIsCorrectedForWhatIsLeft(t *testing.T) {
	shelf, _ := rack(2, 24)
	allowed := []string{"clear-red-0", "carbon-black-0"}
	want := cupOf("240 ml", cup.DripOf("clear-red-0", 12), cup.DripOf("carbon-black-0", 2))
	readings := readingsOf(t, want, shelf, threeLooks...)
	v := cup.Live{Cup: cupOf("240 ml", cup.DripOf("clear-red-0", 8), cup.DripOf("carbon-black-0", 2))}
	for _, c := range []struct {
		pour  string
		drops float64
	}{{"", 4}, {"half", 2}, {"3/4", 1}} {
		filled := v
		if c.pour != "" {
			var err error
			filled, err = (cup.Step{Kind: cup.PourOut, Typed: c.pour}).Apply(v, shelf, spoonKit)
			require.NoError(t, err)
		}
		got, err := Correct(
			context.Background(), &Wish{
				Cup: filled.Cup, Readings: readings, Allowed: allowed, Most: 2,
			}, shelf, spoonKit,
		)
		require.NoError(t, err)
		first := got.Options[0]
		require.Equal(t, "add", first.Kind, first.Says)
		require.Len(t, first.Adds, 1, first.Says)
		assert.Equal(t, "clear-red-0", first.Adds[0].Material)
		assert.InDelta(t, c.drops, first.Adds[0].Amount.Value, 1e-9)
		assert.Less(t, first.DeltaE00, 0.1)
	}
}

// By hand: twice the dose in a cup is the dose in two cups. The least clear plastisol is as much again; a fresh cup
// gives up as much.
func TestAnOvershootIsDiluted(t *testing.T) {
	shelf, _ := rack(2, 24)
	want := cupOf("200 ml", cup.DripOf("clear-red-0", 10))
	is := cupOf("200 ml", cup.DripOf("clear-red-0", 15))
	got, err := Correct(
		context.Background(),
		&Wish{
			Cup: is, Readings: readingsOf(t, want, shelf, threeLooks...), Allowed: []string{"clear-red-0"}, Most: 1,
		}, shelf,
		spoonKit,
	)
	require.NoError(t, err)
	first := got.Options[0]
	require.Equal(t, "clear", first.Kind, first.Says)
	assert.InDelta(t, 100, first.ClearML, 10, first.Says) // within what nobody sees
	assert.Less(t, first.DeltaE00, 0.5)
	var kinds []string
	for _, o := range got.Options {
		kinds = append(kinds, o.Kind)
	}
	assert.Contains(t, kinds, "fresh")
	assert.Equal(t, "leave", kinds[len(kinds)-1])

	// Four times too much: diluting would make four cups, more than is allowed; a fresh cup it is.
	is.Doses[0] = cup.DripOf("clear-red-0", 40)
	got, err = Correct(
		context.Background(),
		&Wish{
			Cup: is, Readings: readingsOf(t, want, shelf, threeLooks...), Allowed: []string{"clear-red-0"}, Most: 1,
		}, shelf,
		spoonKit,
	)
	require.NoError(t, err)
	assert.Equal(t, "fresh", got.Options[0].Kind, got.Options[0].Says)
	assert.InDelta(t, 10, got.Options[0].Adds[0].Amount.Value, 1e-9)
}

// "Too dark" is answered as a maker would: with little, or with clear, and never with a heap of dye before that.
func TestTooDarkIsNotAnsweredWithAHeapOfDye(t *testing.T) {
	shelf, uids := rack(2, 24)
	clears := 0
	for _, c := range []cup.Cup{
		cupOf(
			"1 cup", cup.DripOf("clear-green-0", 10), cup.DripOf("clear-yellow-0", 10), cup.DripOf("carbon-black-0", 3),
		),
		cupOf("1/2 cup", cup.DripOf("clear-red-0", 20), cup.DripOf("clear-brown-0", 6)),
		cupOf("1 cup", cup.DripOf("carbon-black-0", 6)),
		cupOf("1 cup", cup.DripOf("clear-blue-0", 25), cup.DripOf("clear-violet-0", 12)),
	} {
		mix, err := mix.Stir(&c, shelf)
		require.NoError(t, err)
		at := seen(8, optics.White)
		for _, much := range HowMuches() {
			s, err := Say(mix, at, []Move{{What: "too dark", Much: much}})
			require.NoError(t, err)
			got, err := Correct(
				context.Background(),
				&Wish{
					Cup: c, Readings: []Reading{{
						Name: "as said", Lab: s.Lab, At: at, Weight: 1, Off: s.Off,
					}}, Allowed: uids, Most: 3,
				},
				shelf, spoonKit,
			)
			require.NoError(t, err)
			for i, o := range got.Options {
				if o.Kind == "clear" {
					clears++
				}
				for _, d := range o.Adds {
					m := shelf[d.Material]
					over := cup.OverUsual(&m, doseIn(o.Cup, d.Material), o.Cup.Volume.ML)
					if over > 1.001 {
						assert.Positive(t, i, "%s much: %s", much, o.Says)
						assert.Contains(t, o.Why, "Beyond the usual", o.Says)
					}
				}
			}
			first := got.Options[0]
			assert.LessOrEqual(t, len(first.Adds), 2, "%s: %s", much, first.Says)
			assert.Less(t, first.DeltaE00, got.Now.DeltaE00)
		}
	}
	assert.Greater(t, clears, 8, "clear plastisol is among the ways out of 12 cups that are too dark")
}

func doseIn(c cup.Cup, uid string) measure.Amount {
	for _, d := range c.Doses {
		if d.Material == uid {
			return d.Amount
		}
	}
	return measure.Amount{}
}

// An exact point stays where it is, a reading that claims nothing gives way to words.
func TestExactIsNotUnclaimed(t *testing.T) {
	a, b := colour.Lab{L: 50}, colour.Lab{L: 60}
	lab, off := Combine(a, cup.Off(0, true), b, 3)
	assert.Less(t, lab.L, 50.2)
	assert.Less(t, off, 0.31)
	lab, _ = Combine(a, cup.Off(0, false), b, 3)
	assert.InDelta(t, 55, lab.L, 1e-9)
}

// Beside a target that may itself be off by 6, a cup of one usual bottle at ΔE00 2 is as good as one of three at 0.3;
// beside a sure one it is not.
func TestWithinTheTargetsErrorTheSimplerCupComesFirst(t *testing.T) {
	shelf, uids := rack(2, 24)
	truth := cupOf(
		"1 cup", cup.DripOf("clear-brown-0", 9), cup.DripOf("clear-green-0", 3), cup.DripOf("grey-tint-0", 1),
	)
	var bottles [2]int
	var off [2]float64
	for i, unsure := range []float64{0, 6} {
		r := readingsOf(t, truth, shelf, threeLooks...)
		for j := range r {
			r[j].Off = unsure
		}
		got, err := Search(
			context.Background(), &Wish{Cup: cupOf("1 cup"), Readings: r, Allowed: uids, Most: 4}, shelf, spoonKit, nil,
		)
		require.NoError(t, err)
		bottles[i], off[i] = got.Candidates[0].Bottles, got.Candidates[0].DeltaE00
		assert.Zero(t, got.Candidates[0].Over)
	}
	assert.Less(t, off[0], 0.2)
	assert.Less(t, bottles[1], bottles[0], "%v", off)
	assert.Less(t, off[1], 3.0)
}

func TestWordsMoveTheTarget(t *testing.T) {
	shelf, uids := rack(2, 24)
	filled := cupOf("1 cup", cup.DripOf("clear-green-0", 3), cup.DripOf("clear-yellow-0", 10))
	mix, err := mix.Stir(&filled, shelf)
	require.NoError(t, err)
	at := seen(8, optics.White)
	is := mix.Colour(at)
	for _, c := range []struct {
		what MoveKind
		goes func(l colour.Lab) float64
	}{
		{"too dark", func(l colour.Lab) float64 { return l.L - is.L }},
		{"too pale", func(l colour.Lab) float64 { return is.L - l.L }},
		{"more red", func(l colour.Lab) float64 { return l.A - is.A }},
		{"more green", func(l colour.Lab) float64 { return is.A - l.A }},
		{"more yellow", func(l colour.Lab) float64 { return l.B - is.B }},
		{"more blue", func(l colour.Lab) float64 { return is.B - l.B }},
		{"cleaner", func(l colour.Lab) float64 { return l.Chroma() - is.Chroma() }},
		{"dirtier", func(l colour.Lab) float64 { return is.Chroma() - l.Chroma() }},
	} {
		last := 0.0
		for _, much := range HowMuches() {
			s, err := Say(mix, at, []Move{{What: c.what, Much: much}})
			require.NoError(t, err)
			assert.Greater(t, c.goes(s.Lab), 0.0, c.what)
			d := colour.DeltaE00(is, s.Lab)
			assert.Greater(t, d, last, "%s %s", much, c.what)
			last = d
			assert.Greater(t, s.Off, 1.0)
		}
	}
	// What was said is what the next addition does.
	s, err := Say(mix, at, []Move{{What: "too pale", Much: "some"}, {What: "more green", Much: "slight"}})
	require.NoError(t, err)
	got, err := Correct(
		context.Background(),
		&Wish{
			Cup: filled, Readings: []Reading{{
				Name: "as said", Lab: s.Lab, At: at, Weight: 1, Off: s.Off,
			}}, Allowed: uids,
			Most: 2,
		},
		shelf, spoonKit,
	)
	require.NoError(t, err)
	require.Equal(t, "add", got.Options[0].Kind)
	after := got.Options[0].Readings[0].Is.Lab
	assert.Less(t, after.L, is.L)
	assert.Less(t, after.A, is.A)

	s, err = Say(mix, at, []Move{{What: "too see-through", Much: "some"}})
	require.NoError(t, err)
	assert.Less(t, s.SeeThrough.Share, mix.SeeThrough(8, cup.Rested))

	_, err = Say(mix, at, []Move{{What: "too dark", Much: "some"}, {What: "too pale", Much: "lot"}})
	assert.ErrorContains(t, err, "contradict")
	_, err = Say(mix, at, nil)
	assert.ErrorContains(t, err, "say what is wrong")
	_, err = Say(mix, at, []Move{{What: "more sparkle", Much: "some"}})
	assert.ErrorContains(t, err, "not known")
	_, err = Say(mix, at, []Move{{What: "too dark", Much: "very"}})
	assert.Error(t, err)

	half, err := Between(colour.Lab{L: 40, A: 10}, colour.Lab{L: 60, A: -10}, 0.5)
	require.NoError(t, err)
	assert.Equal(t, colour.Lab{L: 50}, half.Lab)
	_, err = Between(colour.Lab{}, colour.Lab{}, 2)
	assert.Error(t, err)
	assert.Equal(
		t, "slightly too dark, a lot redder",
		InWords([]Move{{What: "too dark", Much: "slight"}, {What: "more red", Much: "lot"}}),
	)
}

// Every word with every degree is a phrase that one says.
func TestEveryMoveIsSaidAsOneSpeaks(t *testing.T) {
	for _, what := range Moves() {
		for _, much := range HowMuches() {
			says := InWords([]Move{{What: what, Much: much}})
			assert.NotRegexp(t, `(?i)a lot too|more more|much more|slight |  |^ | $`, says)
			assert.Regexp(
				t,
				`^(slightly |a lot |much )?(too (dark|pale|see-through|solid)|redder|yellower|greener|bluer|warmer|cooler|cleaner|dirtier)$`,
				says,
			)
		}
	}
}

// Of two readings the surer one counts more, and both together are surer than each.
func TestCombine(t *testing.T) {
	lab, off := Combine(colour.Lab{L: 50}, 1, colour.Lab{L: 60}, 3)
	assert.InDelta(t, 51, lab.L, 1e-9)
	assert.InDelta(t, 1/math.Sqrt(1+1.0/9), off, 1e-9)
}

func TestWishesThatCanNotBeMet(t *testing.T) {
	shelf, uids := rack(2, 24)
	base := cupOf("1 cup")
	read := func(l float64, at mix.Condition) Reading {
		return Reading{Name: "spot", Lab: colour.Lab{L: l}, At: at, Weight: 1}
	}
	white := seen(8, optics.White)
	flaked := cup.Shelf{}
	for k, v := range shelf {
		flaked[k] = v
	}
	f, _ := material.FindFamily("flake-black")
	flaked["glitter"] = f.New("glitter", "Glitter")
	for name, c := range map[string]struct {
		w    Wish
		says string
	}{
		"no readings": {Wish{Cup: base, Allowed: uids, Most: 3}, "nothing to match yet"},
		"empty shelf": {Wish{Cup: base, Readings: []Reading{read(50, white)}, Most: 3}, "no bottle is allowed"},
		"two on one spot": {
			Wish{Cup: base, Readings: []Reading{read(20, white), read(80, white)}, Allowed: uids, Most: 3},
			"one plastic can't be both",
		},
		"see-through": {
			Wish{
				Cup: base, Readings: []Reading{read(90, seen(8, optics.Against))}, Allowed: uids, Most: 3,
				SeeThrough: &SeeThrough{Share: 0.02, ThicknessMM: 4},
			},
			"contradicts it",
		},
		"all aside": {
			Wish{Cup: base, Readings: []Reading{{Name: "spot", At: white}}, Allowed: uids, Most: 3}, "left aside",
		},
		"no such bottle": {
			Wish{
				Cup: base, Readings: []Reading{read(50, white)}, Allowed: []string{"gone"}, Most: 3,
			}, "nothing on the shelf",
		},
		"flake as colourant": {
			Wish{Cup: base, Readings: []Reading{read(50, white)}, Allowed: []string{"glitter"}, Most: 3},
			"no colourant and no powder",
		},
		"too many": {
			Wish{Cup: base, Readings: []Reading{read(50, white)}, Allowed: uids, Most: 9}, "bottles in a recipe",
		},
		"no plastisol": {Wish{Readings: []Reading{read(50, white)}, Allowed: uids, Most: 3}, "ml"},
		"share out of bounds": {
			Wish{
				Cup: base, Readings: []Reading{read(50, white)}, Allowed: uids, Most: 3,
				SeeThrough: &SeeThrough{Share: 2, ThicknessMM: 4},
			},
			"a share from 0",
		},
		"not a number": {
			Wish{Cup: base, Readings: []Reading{read(math.NaN(), white)}, Allowed: uids, Most: 3}, "accepted",
		},
	} {
		_, err := Search(context.Background(), &c.w, flaked, spoonKit, nil)
		assert.ErrorContains(t, err, c.says, name)
	}
	// A cup with nothing in it is one that may be corrected: everything has still to go in.
	got, err := Correct(
		context.Background(), &Wish{
			Cup: base, Readings: []Reading{read(50, white)}, Allowed: uids, Most: 3,
		}, shelf, spoonKit,
	)
	require.NoError(t, err)
	assert.Equal(t, "add", got.Options[0].Kind)
}

// Nobody waits for a search that was stopped.
func TestASearchCanBeStopped(t *testing.T) {
	targets(t, 1, func(w *Wish, shelf cup.Shelf, _ cup.Cup) {
		ctx, stop := context.WithCancel(context.Background())
		told := 0
		_, err := Harder(ctx, w, shelf, spoonKit, func(p Progress) {
			assert.NotEmpty(t, p.Best)
			if told++; told == 2 {
				stop()
			}
		})
		assert.ErrorIs(t, err, context.Canceled)
		assert.Equal(t, 2, told)
	})
}

// What glows is left out by the fast model, and still met: the target is a glowing recipe.
func TestGlowingRecipesAreMet(t *testing.T) {
	shelf, uids := rack(1, 16)
	for _, key := range []string{"glow-lime", "glow-orange", "glow-pink"} {
		f, _ := material.FindFamily(key)
		shelf[key] = f.New(key, key)
		uids = append(uids, key)
	}
	rng := rand.New(rand.NewPCG(4, 4))
	var off []float64
	for range 9 {
		truth := cupOf(
			"1 cup", cup.DripOf(
				[]string{"glow-lime", "glow-orange", "glow-pink"}[rng.IntN(3)], float64(8+rng.IntN(20)),
			),
		)
		for _, i := range rng.Perm(12)[:1+rng.IntN(2)] {
			m := shelf[uids[i]]
			truth.Doses = append(truth.Doses, cup.Dose{Material: m.UID, Amount: m.Middling()})
		}
		r, err := Search(
			context.Background(),
			&Wish{
				Cup: cupOf("1 cup"), Readings: readingsOf(t, truth, shelf, threeLooks...), Allowed: uids, Most: 4,
			}, shelf,
			spoonKit, nil,
		)
		require.NoError(t, err)
		off = append(off, r.Candidates[0].DeltaE00)
	}
	t.Logf("ΔE00 %.2f in the median, %.2f at most", quantile(off, 0.5), quantile(off, 1))
	assert.Less(t, quantile(off, 0.5), 0.5)
}

// The long search ends with an answer on the longest shelf, too: sets of three grow with its cube.
func TestTheLongSearchIsBounded(t *testing.T) {
	if !*Thorough {
		t.Skip("a quarter of a minute: ./test --thorough")
	}
	shelf, uids := rack(3, MaxAllowed)
	truth := cupOf("1 cup")
	for _, i := range []int{3, 50, 120} {
		m := shelf[uids[i]]
		truth.Doses = append(truth.Doses, cup.Dose{Material: m.UID, Amount: m.Middling()})
	}
	w := &Wish{Cup: cupOf("1 cup"), Readings: readingsOf(t, truth, shelf, threeLooks...), Allowed: uids, Most: 3}
	last, began := 0.0, time.Now()
	r, err := Harder(context.Background(), w, shelf, spoonKit, func(p Progress) { last = p.Done })
	require.NoError(t, err)
	t.Logf(
		"%d bottles: %d sets in %v, ΔE00 %.2f", len(uids), r.Tried, time.Since(began).Round(time.Millisecond),
		r.Candidates[0].DeltaE00,
	)
	assert.Equal(t, 80, r.Likeliest)
	assert.Less(t, r.Tried, 110_000, "a whole shelf has 1.3 million")
	assert.Greater(t, last, 0.85)
	assert.Less(t, r.Candidates[0].DeltaE00, 0.3)
}
