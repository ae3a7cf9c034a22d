package match_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	. "cloudburst/core/match"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/stand/maker"
)

var spoonKit = measure.Kit{
	SpoonsTSP: []float64{1.0 / 64, 1.0 / 32, 1.0 / 16, 1.0 / 8, 1.0 / 4, 1.0 / 2, 1}, Heaped: 1.4,
}

// rack is a made-up shelf of n bottles.
func rack(seed uint64, n int) (cup.Shelf, []string) { return maker.Rack(seed, n) }

func cupOf(volume string, doses ...cup.Dose) cup.Cup {
	v, err := measure.ParseVolume(volume)
	if err != nil {
		panic(err)
	}
	return cup.Cup{Volume: v, Plastisol: maker.Base, Doses: doses}
}

func seen(mm float64, ground optics.Ground) mix.Condition {
	return mix.Condition{ThicknessMM: mm, Ground: ground, Light: colour.D65, State: cup.Rested}
}

// threeLooks are a fin against the light, a body on paper, and a body over dark.
var threeLooks = []mix.Condition{seen(1.5, optics.Against), seen(8, optics.White), seen(8, optics.Dark)}

// hidden pours a recipe of 2 to 4 bottles at usual doses, in whole steps.
func hidden(rng *rand.Rand, shelf cup.Shelf, uids []string, volume string) cup.Cup {
	c := cupOf(volume)
	for _, i := range rng.Perm(len(uids))[:2+rng.IntN(3)] {
		m := shelf[uids[i]]
		from, to := m.Usual()
		step := cup.NextStep(&m, spoonKit)
		n := math.Round(math.Exp(math.Log(max(from.Value, to.Value/12))+
			rng.Float64()*math.Log(to.Value/max(from.Value, to.Value/12))) * c.Volume.ML / measure.CupML / step.Value)
		if step.Unit == measure.InTeaspoons {
			best, _ := spoonKit.Round(max(n, 1) * step.Value)
			n = best.TSP / step.Value
			if best.Scoops > 3 {
				n = 2
			}
		}
		c.Doses = append(
			c.Doses, cup.Dose{Material: m.UID, Amount: measure.Amount{Value: max(n, 1) * step.Value, Unit: step.Unit}},
		)
	}
	return c
}

// readingsOf are what a cup shows.
func readingsOf(t testing.TB, cup cup.Cup, shelf cup.Shelf, looks ...mix.Condition) []Reading {
	mix, err := mix.Stir(&cup, shelf)
	require.NoError(t, err)
	var out []Reading
	for i, at := range looks {
		out = append(out, Reading{Name: fmt.Sprintf("look %d", i+1), Lab: mix.Colour(at), At: at, Weight: 1})
	}
	return out
}

// differ says whether two cups share at most half of the bottles of the smaller.
func differ(a, b cup.Cup) bool {
	shared := 0
	for _, d := range a.Doses {
		if slices.ContainsFunc(b.Doses, func(e cup.Dose) bool { return e.Material == d.Material }) {
			shared++
		}
	}
	return 2*shared <= min(len(a.Doses), len(b.Doses))
}

// measurable is how far an amount lies from what drops and spoons come to.
func measurable(m *material.Material, a measure.Amount) float64 {
	if a.Unit == measure.InTeaspoons {
		best, _ := spoonKit.Round(a.Value)
		return best.ErrorTSP
	}
	return a.Value - math.Round(a.Value)
}
