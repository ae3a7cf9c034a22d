package mix_test

import (
	"math"
	"testing"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	. "cloudburst/core/mix"
	"cloudburst/core/optics"
	. "cloudburst/testkit"

	"github.com/stretchr/testify/assert"
)

// What a picture shows of a piece sinks to what an eye just tells where the rule says that it does: the two are worked
// out apart.
func TestAPieceFadesInThePictureWhereTheRuleSaysSo(t *testing.T) {
	at := On(10, optics.White)
	most := func(a, b colour.Lab) float64 { // the largest log ratio of light, as an eye has it
		const floor = 0.02
		p, q := a.Linear(), b.Linear()
		ratio := func(x, y float64) float64 { return math.Abs(math.Log((max(0, x) + floor) / (max(0, y) + floor))) }
		return max(ratio(p.R, q.R), ratio(p.G, q.G), ratio(p.B, q.B))
	}
	for _, white := range []float64{1, 2, 4, 8} {
		for _, key := range []string{"flake-black", "flake-blue", "flake-red", "flake-green"} {
			m := Stirred(t, CupOf(t, "1 cup", cup.DripOf("titanium-white", white), Tsp(key, 0.25)))
			body, f := m.Body(), m.Flakes[0].Flake
			deep := body.LegibleDepth(f, at)
			assert.Greater(t, deep, 0.1, key)
			assert.Less(t, deep, at.ThicknessMM, "%s in %g drops of white", key, white)
			own := body.Colour(at)
			seen := func(depth float64) float64 { return most(body.PieceColours(f, at, depth, 1)[0][1], own) }
			assert.Greater(
				t, seen(0.8*deep), optics.LeastContrast, "%s in %g drops of white, short of %.1f mm", key, white, deep,
			)
			assert.Less(
				t, seen(1.25*deep), optics.LeastContrast, "%s in %g drops of white, past %.1f mm", key, white, deep,
			)
		}
	}
}

// The more white there is in a base, the less deep one sees a piece in it, and the fewer are told apart.
func TestAPieceShowsLessDeepInMoreWhite(t *testing.T) {
	at := On(10, optics.White)
	for _, key := range []string{"flake-black", "flake-blue", "flake-silver"} {
		last, lastSeen := math.Inf(1), math.Inf(1)
		for _, white := range []float64{0.5, 1, 2, 4, 8, 16} {
			m := Stirred(t, CupOf(t, "1 cup", cup.DripOf("titanium-white", white), Tsp(key, 0.25)))
			deep, seen := m.Body().LegibleDepth(m.Flakes[0].Flake, at), m.Legibility(at)[0].SeenPerCM2
			assert.LessOrEqual(t, deep, last, "%s in %g drops", key, white)
			assert.LessOrEqual(t, seen, lastSeen, "%s in %g drops", key, white)
			last, lastSeen = deep, seen
		}
	}
}

// How many spoons make so many pieces, and how many pieces those spoons make, undo each other, in any base.
func TestDosesSeenUndoWhatIsSeen(t *testing.T) {
	at := On(8, optics.White)
	for _, base := range []cup.Dose{
		cup.DripOf("clear-red", 0), cup.DripOf("clear-brown", 2), cup.DripOf("titanium-white", 2),
	} {
		for _, tspoons := range []float64{0.05, 0.2, 0.6} {
			c := CupOf(t, "1 cup", base, Tsp("flake-blue", tspoons))
			m := Stirred(t, c)
			flake := Bench()["flake-blue"]
			back, ok := m.DosesSeen([]Counted{{Flake: &flake, PerCM2: m.Legibility(at)[0].CountPerCM2}}, at)
			assert.True(t, ok)
			assert.InEpsilon(t, tspoons, back[0].Value, 0.02, "%s", base.Material)
		}
	}
}
