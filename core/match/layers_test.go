package match_test

import (
	"context"
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

// threeLayers is a made-up bait of back, flank and belly, with readings from the side and, of the back and the flank,
// from above through what lies under them.
func threeLayers(t testing.TB, rng *rand.Rand, shelf cup.Shelf, uids []string) *LayersWish {
	w := &LayersWish{}
	var mixes []*mix.Mix
	for _, name := range []string{"back", "flank", "belly"} {
		truth := hidden(rng, shelf, uids, "1/2 cup")
		mix, err := mix.Stir(&truth, shelf)
		require.NoError(t, err)
		mixes = append(mixes, mix)
		w.Parts = append(w.Parts, LayerPart{Name: name, Cup: cupOf("1/2 cup"), Allowed: uids, Most: 3})
	}
	read := func(part int, name string, mm float64, behind ...LayerSlice) {
		at := seen(mm, optics.White)
		stack := []mix.Slice{{Mix: mixes[part], MM: mm}}
		for _, b := range behind {
			stack = append(stack, mix.Slice{Mix: mixes[b.Part], MM: b.MM})
		}
		w.Parts[part].Readings = append(w.Parts[part].Readings, LayerReading{
			Reading: Reading{Name: name, Lab: mix.StackColour(stack, at), At: at, Weight: 1}, Behind: behind,
		})
	}
	read(0, "back from above", 3, LayerSlice{Part: 1, MM: 4}, LayerSlice{Part: 2, MM: 4})
	read(0, "back from the side", 6, LayerSlice{Part: 2, MM: 1})
	read(1, "flank from the side", 5, LayerSlice{Part: 2, MM: 2})
	read(1, "flank, tail", 2)
	read(2, "belly from the side", 6)
	read(2, "belly, fin", 1.5)
	return w
}

func TestLayersAreMatchedTogether(t *testing.T) {
	shelf, uids := rack(3, 20)
	n, best, times := Tried(20, 1), Tried(60, 12), Tried(4, 2)
	rng := rand.New(rand.NewPCG(8, 3))
	worst, gained := 0.0, 0
	var off, alone, took []float64
	for range n {
		w := threeLayers(t, rng, shelf, uids)
		start := time.Now()
		r, err := Layers(context.Background(), w, shelf, spoonKit, nil)
		require.NoError(t, err)
		took = append(took, time.Since(start).Seconds())
		for _, p := range r.Parts {
			assert.LessOrEqual(t, p.DeltaE00, p.Alone+0.006, p.Name)
			assert.LessOrEqual(t, p.Bottles, 3)
			for _, d := range p.Cup.Doses {
				m := shelf[d.Material]
				assert.InDelta(t, 0, measurable(&m, d.Amount), 1e-9)
			}
		}
		if r.DeltaE00 < r.Alone-0.2 {
			gained++
		}
		off, alone = append(off, r.DeltaE00), append(alone, r.Alone)
		long, err := LongLayers(w, shelf, spoonKit, best, times)
		require.NoError(t, err)
		if by := r.DeltaE00 - long.DeltaE00; by > worst {
			worst = by
			t.Logf("%.2f worse than the long search's %.2f", by, long.DeltaE00)
		}
	}
	t.Logf(
		"%d baits, %.1f s in the median: ΔE00 %.2f in the mean together, %.2f one by one; at most %.2f worse than the long search; better by more than 0.2 in %d",
		n, quantile(took, 0.5), mean(off), mean(alone), worst, gained,
	)
	assert.LessOrEqual(t, worst, 0.3)
	assert.Less(t, mean(off), mean(alone))
}

func TestWhatTiesTwoLayers(t *testing.T) {
	shelf, uids := rack(3, 20)
	for _, key := range []string{"flake-black", "flake-silver", "flake-holo"} {
		if f, ok := material.FindFamily(key); ok {
			shelf[key] = f.New(key, key)
		}
	}
	w := threeLayers(t, rand.New(rand.NewPCG(8, 3)), shelf, uids)
	r, err := Layers(context.Background(), w, shelf, spoonKit, nil)
	require.NoError(t, err)
	require.NotEmpty(t, r.Ties)
	for _, tie := range r.Ties {
		assert.LessOrEqual(t, tie.Costs, 1.5)
		assert.Contains(t, tie.Says, "in both")
	}

	w.Parts = w.Parts[:1]
	_, err = Layers(context.Background(), w, shelf, spoonKit, nil)
	assert.ErrorContains(t, err, "two to")
	w = threeLayers(t, rand.New(rand.NewPCG(8, 3)), shelf, uids)
	w.Parts[1].Readings = nil
	_, err = Layers(context.Background(), w, shelf, spoonKit, nil)
	assert.ErrorContains(t, err, "flank has nothing to match yet")
}

// A fin of one hue against the light, a body of another over grey: either there are recipes that do it, or the family
// is named that would.
func TestTwoHuesInOneCup(t *testing.T) {
	shelf, uids := rack(1, 48)
	fin, body := seen(1.5, optics.Against), seen(10, optics.Grey)
	wish := func(allowed []string) *Wish {
		truth := cupOf(
			"1 cup", cup.DripOf("clear-yellow-0", 2),
			cup.Dose{
				Material: "interference-blue-0", Amount: measure.Amount{Value: 1.0 / 8, Unit: measure.InTeaspoons},
			},
		)
		return &Wish{Cup: cupOf("1 cup"), Readings: readingsOf(t, truth, shelf, fin, body), Allowed: allowed, Most: 3}
	}
	r, err := Search(context.Background(), wish(uids), shelf, spoonKit, nil)
	require.NoError(t, err)
	require.GreaterOrEqual(t, len(r.Candidates), 2)
	assert.Less(t, r.Candidates[1].DeltaE00, 2.0)
	assert.True(t, differ(r.Candidates[0].Cup, r.Candidates[1].Cup))
	assert.Greater(
		t, colour.DeltaE00(r.Candidates[0].Readings[0].Is.Lab, r.Candidates[0].Readings[1].Is.Lab), 15.0, "two hues",
	)

	var plain []string
	for _, u := range uids {
		if m := shelf[u]; m.Powder == nil && m.Family != "highlight-silver" && m.Family != "ultramarine" &&
			m.Family != "titanium-white" {
			plain = append(plain, u)
		}
	}
	r, err = Search(context.Background(), wish(plain), shelf, spoonKit, nil)
	require.NoError(t, err)
	if assert.NotNil(t, r.Limit) {
		t.Log(r.Limit.Says)
		assert.NotEmpty(t, r.Limit.Families)
	}
}
