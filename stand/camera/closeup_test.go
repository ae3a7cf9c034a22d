package camera_test

import (
	"context"
	"flag"
	"image"
	"math"
	"math/rand/v2"
	"slices"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/flake"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/photo"
	. "cloudburst/stand/camera"
	"cloudburst/testkit"
)

// flaked is a cup of a base with flake of a size in it, of which about so many pieces a cm² can be told apart.
func flaked(
	t testing.TB, base map[string]float64, flakes []string, sizes, perCM2 []float64, at mix.Condition,
) (*mix.Mix, cup.Shelf, []float64) {
	t.Helper()
	shelf := cup.Shelf{}
	c := cup.Cup{Volume: measure.Volume{Typed: "1 cup", ML: measure.CupML}, Plastisol: "medium-plastisol"}
	add := func(key string) material.Material {
		f, ok := material.FindFamily(key)
		require.True(t, ok, key)
		m := f.New(key, f.Name)
		shelf[key] = m
		return m
	}
	add("medium-plastisol")
	for key, n := range base {
		add(key)
		c.Doses = append(c.Doses, cup.DripOf(key, n))
	}
	mixed, err := mix.Stir(&c, shelf)
	require.NoError(t, err)
	var counted []mix.Counted
	for i, key := range flakes {
		m := add(key)
		f := *m.Flake
		f.SizeIn.Value = sizes[i]
		m.Flake = &f
		shelf[key] = m
		counted = append(counted, mix.Counted{Flake: &m, PerCM2: perCM2[i]})
	}
	doses, ok := mixed.DosesSeen(counted, at)
	require.True(t, ok)
	var tsp []float64
	for i, key := range flakes {
		c.Doses = append(c.Doses, cup.Dose{Material: key, Amount: doses[i]})
		tsp = append(tsp, doses[i].Value)
	}
	mixed, err = mix.Stir(&c, shelf)
	require.NoError(t, err)
	return mixed, shelf, tsp
}

// closeUp is a shot with what its census found beside the truth.
type closeUp struct {
	base          string
	px            float64
	kinds         []string
	sizes         []float64
	found, truth  []float64 // per cm²
	meant         []float64 // per cm², by the rule that doses are worked out with
	spoons, doses []float64 // tsp a cup
	right, told   int       // pieces found whose size class is that of the piece there
	other         int       // kinds found for one that there is, more or fewer
}

// bases are what the flake lies in, and flakes what shows in each.
var (
	bases = map[string]map[string]float64{
		"clear": {}, "tinted": {"clear-brown": 2, "clear-green": 1}, "milky": {"titanium-white": 2},
	}
	flakes = map[string][]string{
		"clear": {"flake-black", "flake-red", "flake-blue", "flake-green"}, "tinted": {
			"flake-black", "flake-silver", "flake-red", "flake-blue",
		},
		"milky": {"flake-black", "flake-red", "flake-blue", "flake-green"},
	}
)

// seeds is how many sets of close-ups are counted. One goes with every run of the tests; the constants were chosen by
// the first twelve, and what the eight after them show stands in docs/measured.md.
var seeds = flag.Int("seeds", 1, "sets of close-ups of flake")

func countACloseUp(t *testing.T, n int, rng *rand.Rand, uneven float64) (c closeUp) {
	c.base = []string{"clear", "tinted", "milky"}[n%3]
	c.kinds = []string{flakes[c.base][rng.IntN(4)]}
	c.sizes = []float64{[]float64{0.015, 0.025, 0.040}[rng.IntN(3)]}
	many := []float64{(15 + 45*rng.Float64()) * math.Pow(0.025/c.sizes[0], 1.2)}
	// two, as they are mixed: a fine one and a coarser one
	if k := flakes[c.base][rng.IntN(4)]; n%2 == 1 && k != c.kinds[0] {
		c.kinds, c.sizes, many = append(c.kinds, k), append(c.sizes, c.sizes[0]*1.6), append(many, many[0]/3)
	}
	at := mix.Condition{ThicknessMM: 6 + 4*rng.Float64(), Ground: optics.White, Light: colour.D65, State: cup.Rested}
	m, shelf, doses := flaked(t, bases[c.base], c.kinds, c.sizes, many, at)
	c.px = (9 + 5*rng.Float64()) / (c.sizes[0] * measure.MMPerInch)
	img, seen := CloseUp{
		Mix: m, At: at, PxPerMM: c.px, EV: -0.5 * rng.Float64(), Vignette: 0.1 +
			0.05*rng.Float64(), Gradient: 0.15 * rng.Float64(),
		Blur: 0.5 + 0.5*rng.Float64(), Noise: 1.5, Seed: rng.Uint64(), Uneven: uneven,
	}.Shoot()
	const edge = 20
	region := flake.Rect{X0: edge, Y0: edge, X1: float64(img.Rect.Dx() - edge), Y1: float64(img.Rect.Dy() - edge)}
	got, err := flake.Count(t.Context(), kept(t, img), region, c.px)
	require.NoError(t, err)
	var kinds []mix.KindSeen
	for _, k := range got.Classes {
		lab, err := colour.ParseHex(k.Hex)
		require.NoError(t, err)
		kinds = append(kinds, mix.KindSeen{SizeIN: k.SizeIN, Lab: lab, PerCM2: k.PerCM2})
	}
	spoons := m.SpoonsPerCup(kinds, shelf, measure.Kit{SpoonsTSP: []float64{0.25, 0.125, 0.0625, 0.03125}}, at)
	c.other = len(got.Classes) - len(c.kinds)
	offSize := func(class int, size float64) float64 { return math.Abs(math.Log(got.Classes[class].SizeIN / size)) }
	for k, key := range c.kinds {
		flake := slices.IndexFunc(m.Flakes, func(f mix.FlakeIn) bool { return f.Material == key })
		truth := 0.0
		for _, p := range seen {
			if p.Flake == flake && p.X > region.X0 && p.X < region.X1 && p.Y > region.Y0 && p.Y < region.Y1 {
				truth++
			}
		}
		c.truth, c.meant, c.doses = append(c.truth, truth/got.AreaCM2), append(c.meant, many[k]), append(c.doses, doses[k])
		best := 0
		for i := range got.Classes {
			if offSize(i, c.sizes[k]) < offSize(best, c.sizes[k]) {
				best = i
			}
		}
		if len(got.Classes) == 0 || offSize(best, c.sizes[k]) > 0.2 { // it was not found
			c.found, c.spoons = append(c.found, 0), append(c.spoons, 0)
			continue
		}
		c.found, c.spoons = append(c.found, got.Classes[best].PerCM2), append(c.spoons, spoons[best].PerCup.Value)
	}
	for _, p := range got.Pieces {
		nearest, size := math.Inf(1), 0.0
		for _, q := range seen {
			if d := math.Hypot(p.X-q.X, p.Y-q.Y); d < nearest {
				nearest, size = d, c.sizes[slices.Index(c.kinds, m.Flakes[q.Flake].Material)]
			}
		}
		if nearest < 0.15*c.px {
			c.told++
			if offSize(p.Class, size) < 0.2 {
				c.right++
			}
		}
	}
	return c
}

// Flake counted in close-ups of clear, tinted and milky bases: how many, of which size, and how many spoons a cup that
// makes.
func TestFlakeOfCloseUps(t *testing.T) { flakeOfCloseUps(t, 8, 0, 1.0/50) }

// The same where pieces of one flake are cut to sizes that differ by a twentieth.
func TestFlakeCutUnevenly(t *testing.T) { flakeOfCloseUps(t, 8, 0.05, 1.0/20) }

// flakeOfCloseUps counts close-ups, on a usual run so many, whose pieces' sizes are spread by so much, as a logarithm;
// in at most a share of them another number of kinds may be found than there is.
func flakeOfCloseUps(t *testing.T, usually int, uneven, mostOther float64) {
	shots := make([]closeUp, testkit.Tried(24, usually)**seeds)
	var work sync.WaitGroup
	for half := range 2 { // one a core
		work.Go(func() {
			for n := half; n < len(shots); n += 2 {
				shots[n] = countACloseUp(t, n%24, rand.New(rand.NewPCG(11+uint64(n/24), uint64(n%24))), uneven)
			}
		})
	}
	work.Wait()
	var density, spoons, lain []float64
	in := map[string][]float64{} // pieces laid for one meant, by base
	right, told, near, spooned, other := 0, 0, 0, 0, 0
	for _, c := range shots {
		if c.other != 0 {
			other++
		}
		right, told = right+c.right, told+c.told
		for k := range c.kinds {
			t.Logf(
				"%s at %.0f px/mm, %s %.3f in: %.1f a cm² for %.1f; %.3f tsp for %.3f", c.base, c.px, c.kinds[k],
				c.sizes[k],
				c.found[k], c.truth[k], c.spoons[k], c.doses[k],
			)
			lain = append(lain, c.truth[k]/c.meant[k])
			in[c.base] = append(in[c.base], c.truth[k]/c.meant[k])
			density = append(density, math.Abs(c.found[k]/c.truth[k]-1))
			spoons = append(spoons, math.Abs(c.spoons[k]/c.doses[k]-1))
			if density[len(density)-1] < 0.15 {
				near++
			}
			if spoons[len(spoons)-1] < 0.25 {
				spooned++
			}
		}
	}
	t.Logf(
		"density off by %.3f in the median, %.3f in nine of ten, %.3f at most, %d of %d within 15 %%",
		quantile(density, 0.5),
		quantile(density, 0.9), quantile(density, 1), near, len(density),
	)
	t.Logf(
		"spoons off by %.3f in the median, %.3f in nine of ten, %.3f at most, %d of %d within 25 %%",
		quantile(spoons, 0.5),
		quantile(spoons, 0.9), quantile(spoons, 1), spooned, len(spoons),
	)
	t.Logf("size class right in %d of %d", right, told)
	t.Logf(
		"pieces laid for one meant: %.3f in the median, %.3f to %.3f", quantile(lain, 0.5), quantile(lain, 0.1),
		quantile(lain, 0.9),
	)
	t.Logf("another number of kinds in %d of %d", other, len(shots))
	for base, v := range in {
		assert.InDelta(
			t, 1, quantile(v, 0.5), 0.05,
			"a picture of a %s base shows as many pieces as the rule says that one can tell", base,
		)
	}
	assert.LessOrEqual(t, float64(other), max(1, mostOther*float64(len(shots))))
	assert.Less(t, quantile(density, 0.5), 0.10)
	assert.Less(t, quantile(density, 1), 0.25)
	assert.GreaterOrEqual(t, 10*near, 9*len(density), "within 15 %")
	assert.Less(t, quantile(spoons, 0.5), 0.15)
	assert.Less(t, quantile(spoons, 1), 0.25)
	assert.Greater(t, float64(right)/float64(told), 0.95)
}

// Pieces too small in the photo are said to be, not counted as if they could be told apart.
func TestFlakeTooSmallInThePhoto(t *testing.T) {
	at := mix.Condition{ThicknessMM: 8, Ground: optics.White, Light: colour.D65, State: cup.Rested}
	for size, small := range map[float64]bool{
		0.008: true, 0.012: true, 0.015: true, 0.017: true, 0.021: false, 0.025: false, 0.040: false,
	} {
		mix, _, _ := flaked(t, bases["clear"], []string{"flake-black"}, []float64{size}, []float64{30}, at)
		// 1.6 to 8 px across
		img, _ := CloseUp{Mix: mix, At: at, PxPerMM: 8, EV: -0.3, Blur: 0.6, Noise: 1.5, Seed: 5}.Shoot()
		got, err := flake.Count(t.Context(), kept(t, img), flake.Rect{X0: 20, Y0: 20, X1: 620, Y1: 420}, 8)
		require.NoError(t, err)
		assert.Equal(t, small, got.Warning != "", "%.3f in: %q, %v", size, got.Warning, got.Classes)
	}
}

// A count is stopped where nobody waits for it any more.
func TestACensusIsStopped(t *testing.T) {
	ctx, stop := context.WithCancel(t.Context())
	stop()
	_, err := flake.Count(ctx, photo.Take(image.NewRGBA(image.Rect(0, 0, 300, 300))), flake.Rect{X1: 300, Y1: 300}, 20)
	assert.ErrorIs(t, err, context.Canceled)
}
