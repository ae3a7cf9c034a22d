package project_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/learn"
	"cloudburst/core/match"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/photo"
	. "cloudburst/core/project"
	"cloudburst/core/recipe"
	"cloudburst/core/reference"
	. "cloudburst/testkit"
)

func pinOf(name string, sample int, mm float64, lab colour.Lab) reference.Pin {
	return reference.Pin{
		Name: name, Sample: sample, ThicknessMM: mm, Ground: optics.White,
		Reading: photo.Reading{Lab: lab, Error: 1, From: photo.Typed},
	}
}

func TestPinsOfOneNameAreAPart(t *testing.T) {
	odd := pinOf("Back", 4, 8, colour.Lab{L: 90})
	odd.Aside = true
	parts := PartsOf("Net", "net", []reference.Pin{
		pinOf("Back", 1, 8, colour.Lab{L: 30}), pinOf("Belly", 1, 8, colour.Lab{L: 80}),
		pinOf(
			"back ", 2, 8.2, colour.Lab{L: 32},
		), pinOf("Back", 3, 8, colour.Lab{L: 34}), odd, pinOf("Back", 1, 2, colour.Lab{L: 60}),
	})
	require.Len(t, parts, 2)
	require.Len(t, parts[0].Targets, 2, "three baits read alike are one target; the thin place is another")
	assert.InDelta(t, 32, parts[0].Targets[0].Lab.L, 1e-12)
	assert.Greater(t, parts[0].Stop(), 0.5)
	assert.True(t, parts[0].OfBag())
	assert.InDelta(t, SameBag, parts[1].Stop(), 1e-12, "nobody knows how far bellies differ")
}

// open is a project after one hidden cup, seen thick and thin.
func open(t *testing.T, hidden cup.Cup) (Project, *mix.Mix) {
	m := Stirred(t, hidden)
	p := Project{Name: "P", Volume: hidden.Volume, Plastisol: hidden.Plastisol, Most: 3}
	p.Parts = PartsOf(
		"R", "r", []reference.Pin{pinOf("Body", 0, 8, m.Colour(Over(8))), pinOf("Body", 0, 2, m.Colour(Over(2)))},
	)
	require.NoError(t, p.Check(Bench()))
	return p, m
}

func reading(mm float64, lab colour.Lab, state cup.State) recipe.PartReading {
	return recipe.PartReading{
		Name: "Body", Lab: lab, ThicknessMM: mm, Ground: optics.White, State: state, How: recipe.ByInstrument,
	}
}

func TestABatchIsJudgedAsTheReferenceWasRead(t *testing.T) {
	p, hidden := open(t, CupOf(t, "1 cup", cup.DripOf("clear-brown", 6), cup.DripOf("grey-tint", 4)))
	other := Stirred(t, CupOf(t, "1 cup", cup.DripOf("clear-brown", 3)))
	part := &p.Parts[0]

	none := Judge(part, nil, other)
	assert.Equal(t, ByModel, none.By)
	assert.False(t, none.Enough)
	assert.Greater(t, none.DeltaE00, 2.0)

	// Read as the reference was, what the model says of it does not count.
	both := []recipe.PartReading{
		reading(8, hidden.Colour(Over(8)), cup.Rested), reading(2.1, hidden.Colour(Over(2)), cup.Rested),
	}
	read := Judge(part, both, other)
	assert.Equal(t, ByReading, read.By)
	assert.InDelta(t, 0, read.DeltaE00, 1e-9)
	assert.True(t, read.Enough)

	// Read at another thickness, or while it was still hot, it is moved by what is predicted, and says so. Where the
	// cup is the hidden one itself, that brings it to the target exactly.
	for _, r := range []recipe.PartReading{
		reading(5, hidden.Colour(Over(5)), cup.Rested),
		reading(
			8, hidden.Colour(mix.Condition{
				ThicknessMM: 8, Ground: optics.White, Light: colour.D65, State: cup.Hot,
			}), cup.Hot,
		),
	} {
		moved := Judge(part, []recipe.PartReading{r}, hidden)
		assert.Equal(t, ByMove, moved.By)
		assert.InDelta(t, 0, moved.DeltaE00, 1e-6)
		assert.Contains(t, moved.Judged[1].Says, "moved by what is predicted")
	}
	assert.Equal(t, 1, Best([]Standing{none, read}))
	assert.Equal(t, -1, Best([]Standing{none}))
}

func owned(shelf cup.Shelf, uids ...string) (out []match.Owned) {
	for _, uid := range uids {
		m := shelf[uid]
		out = append(out, match.Owned{Material: &m, Stock: &material.Stock{}})
	}
	return out
}

// A maker whose brown is half again as strong as its label: the first cup comes out too dark, and once the bottle is
// known the next step brings it inside the line. What is left of a cup is put right in it.
func TestTheNextStepComesNearer(t *testing.T) {
	shelf := Bench()
	truth := Bench()
	truth["clear-brown"] = shelf["clear-brown"].Taught(&material.Learned{LnStrength: math.Log(1.5)})
	pour := func(c cup.Cup) *mix.Mix {
		m, err := mix.Stir(&c, truth)
		require.NoError(t, err)
		return m
	}
	hidden := CupOf(t, "1 cup", cup.DripOf("clear-brown", 6), cup.DripOf("grey-tint", 6))
	seen := pour(hidden)
	p := Project{Name: "P", Volume: hidden.Volume, Plastisol: hidden.Plastisol, Most: 2}
	p.Parts = PartsOf(
		"R", "r", []reference.Pin{pinOf("Body", 0, 8, seen.Colour(Over(8))), pinOf("Body", 0, 2, seen.Colour(Over(2)))},
	)
	part, stock, kit := &p.Parts[0], owned(
		shelf, "medium-plastisol", "clear-brown", "grey-tint", "clear-green",
	), measure.StandardKit()

	var batches []learn.Batch
	var tried []Attempt
	near := math.Inf(1)
	for i := range 3 {
		l, err := learn.From(shelf, batches)
		require.NoError(t, err)
		advice, err := p.Next(t.Context(), part, tried, &AtHand{l, stock, shelf, kit})
		require.NoError(t, err)
		if advice.Enough {
			assert.Contains(t, advice.Says, "inside the line")
			break
		}
		require.NotEmpty(t, advice.Steps, advice.Says)
		step := advice.Steps[0]
		assert.Equal(t, "fresh", step.Kind, "nothing is left to put right")
		assert.Positive(t, step.R80)
		made := pour(step.Cup)
		read := []recipe.PartReading{
			reading(8, made.Colour(Over(8)), cup.Rested), reading(2, made.Colour(Over(2)), cup.Rested),
		}
		taught, err := mix.Stir(&step.Cup, shelf)
		require.NoError(t, err)
		tried = append(
			tried, Attempt{Cup: step.Cup, Standing: Judge(part, read, taught), Called: "batch " + string(rune('1'+i))},
		)
		near = min(near, tried[i].Standing.DeltaE00)
		batches = append(batches, learn.Of("b"+string(rune('1'+i)), step.Cup, []string{"thick", "thin"}, read))
	}
	assert.Less(t, near, SameBag)
	assert.LessOrEqual(t, len(tried), 2)

	// Too pale, with most of it left: drops go into what is there, and nothing is taken out.
	pale := CupOf(t, "1 cup", cup.DripOf("clear-brown", 3), cup.DripOf("grey-tint", 3))
	l, err := learn.From(shelf, nil)
	require.NoError(t, err)
	all, err := pale.FinishedML(shelf)
	require.NoError(t, err)
	left := []Attempt{{Cup: pale, LeftML: all / 2, Standing: Judge(part, nil, Stirred(t, pale)), Called: "batch 1"}}
	advice, err := p.Next(t.Context(), part, left, &AtHand{l, stock, shelf, kit})
	require.NoError(t, err)
	assert.Contains(t, advice.Says, "read it first")
	adds := false
	for _, s := range advice.Steps {
		if s.Kind == "add" {
			adds = true
			assert.InDelta(t, pale.Volume.ML/2, s.Cup.Volume.ML, 0.01)
			assert.GreaterOrEqual(t, s.Cup.AmountOf("clear-brown").Value, 1.5)
		}
	}
	assert.True(t, adds)
}

// What is no colour goes into every cup after, at its own volume: softener, salt, flake.
func TestAFreshCupKeepsWhatIsNoColour(t *testing.T) {
	p, _ := open(t, CupOf(t, "1/2 cup", cup.DripOf("clear-brown", 4)))
	soft := cup.Dose{Material: "softener", Amount: measure.Amount{Value: 10, Unit: measure.InML}}
	tried := CupOf(t, "1 cup", cup.DripOf("clear-brown", 5), soft)
	all, err := tried.FinishedML(Bench())
	require.NoError(t, err)
	l, err := learn.From(Bench(), nil)
	require.NoError(t, err)
	for _, left := range []float64{0, all / 4} {
		advice, err := p.Next(t.Context(), &p.Parts[0], []Attempt{{
			Cup: tried, LeftML: left, Standing: Judge(&p.Parts[0], nil, Stirred(t, tried)), Called: "batch 1",
		}},
			&AtHand{l, owned(Bench(), "medium-plastisol", "clear-brown", "grey-tint"), Bench(), measure.StandardKit()})
		require.NoError(t, err)
		fresh := 0
		for _, s := range advice.Steps {
			if s.Kind == "fresh" {
				fresh++
				assert.InDelta(t, 5, s.Cup.AmountOf("softener").Value, 0.05, "half as much plastic")
			}
		}
		assert.Positive(t, fresh)
	}
}

// What is bought by volume counts by it, what is bought by weight by that; what nobody priced costs nothing.
func TestACupCostsWhatIsInIt(t *testing.T) {
	stock := owned(Bench(), "medium-plastisol", "clear-brown", "salt-fine", "clear-red")
	stock[0].Stock = &material.Stock{Size: 1000, Price: 10}
	stock[1].Stock = &material.Stock{Size: 50, Price: 20}
	stock[2].Stock = &material.Stock{Size: 100, Price: 1}
	salt := cup.Dose{Material: "salt-fine", Amount: measure.Amount{Value: 10, Unit: measure.InGrams}}
	c := CupOf(t, "1 cup", cup.DripOf("clear-brown", 20), cup.DripOf("clear-red", 9), salt)
	assert.InDelta(t, c.Volume.ML*0.01+20*0.05*0.4+10*0.01, Price(&c, stock), 1e-9)
}

func TestProjectsThatNobodyCanPourAreRefused(t *testing.T) {
	good, _ := open(t, CupOf(t, "1 cup", cup.DripOf("clear-brown", 6)))
	for field, spoil := range map[string]func(*Project){
		"name":      func(p *Project) { p.Name = "" },
		"volume":    func(p *Project) { p.Volume.ML = 0 },
		"plastisol": func(p *Project) { p.Plastisol = "clear-brown" },
		"most":      func(p *Project) { p.Most = 7 },
		"reference": func(p *Project) { p.Parts = nil },
		"parts":     func(p *Project) { p.Parts = make([]Sought, 7) },
		"parts[0]":  func(p *Project) { p.Parts = []Sought{{Name: "Body"}} },
		"notes":     func(p *Project) { p.Notes = "a\x00b" },
	} {
		bad := good
		spoil(&bad)
		AssertFault(t, bad.Check(Bench()), field, "")
	}
}

// The next step on a shelf of every family, after two batches.
func BenchmarkNext(b *testing.B) {
	shelf := Bench()
	var stock []match.Owned
	for uid := range shelf {
		stock = append(stock, owned(shelf, uid)...)
	}
	first, second := CupOf(
		b, "1/2 cup", cup.DripOf("clear-brown", 4), cup.DripOf("grey-tint", 2),
	), CupOf(b, "1/2 cup", cup.DripOf("clear-brown", 5), cup.DripOf("grey-tint", 3))
	p := Project{Name: "P", Volume: first.Volume, Plastisol: first.Plastisol, Most: 4}
	p.Parts = PartsOf(
		"R", "r",
		[]reference.Pin{
			pinOf("Body", 0, 8, colour.Lab{L: 35, A: 6, B: 20}), pinOf("Body", 0, 2, colour.Lab{L: 65, A: 3, B: 22}),
		},
	)
	part := &p.Parts[0]
	l, err := learn.From(shelf, nil)
	require.NoError(b, err)
	tried := []Attempt{
		{Cup: first, Standing: Judge(part, nil, Stirred(b, first)), Called: "batch 1"},
		{Cup: second, LeftML: 60, Standing: Judge(part, nil, Stirred(b, second)), Called: "batch 2"},
	}
	for b.Loop() {
		_, err := p.Next(b.Context(), part, tried, &AtHand{l, stock, shelf, measure.StandardKit()})
		require.NoError(b, err)
	}
}

// A step that stands before a nearer one says why; one that does not, doesn't.
func TestAStepBeforeANearerOneSaysWhy(t *testing.T) {
	step := func(away, r80 float64, says string) Onward {
		return Onward{Correction: match.Correction{Says: says, Candidate: match.Candidate{DeltaE00: away}}, R80: r80}
	}
	steps := []Onward{step(2.3, 1.5, "Of bottles you know."), step(2.6, 4, ""), step(0.7, 4, ""), step(0.6, 6, "")}
	SayOrder(steps)
	assert.Equal(t, "Of bottles you know. Surer than the nearer ones below: likely the better bet.", steps[0].Says)
	assert.Contains(t, steps[1].Says, "Surer")
	assert.Empty(t, steps[2].Says)
	assert.Empty(t, steps[3].Says)
}
