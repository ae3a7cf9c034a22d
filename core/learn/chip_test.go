package learn_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	. "cloudburst/core/learn"
	"cloudburst/core/match"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/stand/maker"
)

// chipsOf pours a guided chip of a bottle: two loads, four thicknesses, over white and over dark.
func (b bench) chipsOf(t testing.TB, uid string, noise float64) []Chip {
	m := b.shelf[uid]
	_, most := m.Usual()
	var out []Chip
	for _, share := range []float64{0.25, 1} {
		c := cupOf(dose(uid, max(1, most.Value*share)))
		made, err := b.Pour(c)
		require.NoError(t, err)
		for _, mm := range []float64{0.5, 1.5, 4, 12} {
			for _, ground := range []optics.Ground{optics.White, optics.Dark} {
				at := mix.Condition{ThicknessMM: mm, Ground: ground, Light: colour.D65, State: cup.Rested}
				out = append(
					out, Chip{PerLitre: made.Lines[0].PerLitre, Lab: b.Read(b.See(made, at)), At: at, Off: noise},
				)
			}
		}
	}
	return out
}

// Mixes that were never poured, of three bottles that were measured by chips.
func TestChipsForetellUnseenMixes(t *testing.T) {
	const noise = 1.0
	for _, c := range []struct {
		says   string
		family bool
		most   float64
	}{{"without a family", false, 0.8}, {"within one", true, 0.6}} {
		var offs []float64
		for seed := range uint64(8) {
			b := newBench(300+seed, noise)
			rng := rand.New(rand.NewPCG(seed, 3))
			base := b.shelf[maker.Base]
			curves := map[string]*Curves{}
			var of []string
			for _, i := range rng.Perm(len(b.uids))[:3] {
				uid := b.uids[i]
				var family *match.Coefficients
				if c.family {
					k, s := b.shelf[uid].Colourant.Coefficients()
					family = &match.Coefficients{K: k, S: s}
				}
				got, err := Calibrate(base.Plastisol, b.chipsOf(t, uid, noise), family)
				require.NoError(t, err)
				curves[uid] = got
				of = append(of, uid)
			}
			for range 6 {
				var doses []cup.Dose
				for _, uid := range of {
					m := b.shelf[uid]
					_, most := m.Usual()
					doses = append(doses, dose(uid, max(1, float64(int(most.Value*rng.Float64())))))
				}
				made, err := b.Pour(cupOf(doses...))
				require.NoError(t, err)
				k, s := base.Plastisol.Coefficients()
				sum := match.Coefficients{}
				share := made.PlastisolML / made.FinishedML
				for band := range k {
					sum.K[band], sum.S[band] = share*k[band], share*s[band]
					for i, uid := range of {
						sum.K[band] += made.Lines[i].PerLitre * curves[uid].K[band]
						sum.S[band] += made.Lines[i].PerLitre * curves[uid].S[band]
					}
				}
				for _, at := range maker.Looks {
					offs = append(
						offs, colour.DeltaE00(
							match.NewView(at.ThicknessMM, at.Ground, at.Light).Lab(&sum, nil), b.See(made, at),
						),
					)
				}
			}
		}
		mean := 0.0
		for _, v := range offs {
			mean += v / float64(len(offs))
		}
		slices.Sort(offs)
		t.Logf("%s: ΔE00 %.2f in the mean, %.2f in nine of ten", c.says, mean, offs[len(offs)*9/10])
		assert.Less(t, mean, c.most, c.says)
	}
}

// The family of another colour is noticed, and dropped; the right one never is.
func TestAWrongFamilyIsDropped(t *testing.T) {
	dropped, kept, n := 0, 0, 0
	for seed := range uint64(6) {
		b := newBench(400+seed, 1)
		base := b.shelf[maker.Base]
		for i, uid := range b.uids[:6] {
			n++
			list := b.chipsOf(t, uid, 1)
			for right, of := range map[bool]string{true: uid, false: b.uids[(i+5)%len(b.uids)]} {
				k, s := b.shelf[of].Colourant.Coefficients()
				got, err := Calibrate(base.Plastisol, list, &match.Coefficients{K: k, S: s})
				require.NoError(t, err)
				if right && got.Family {
					kept++
				}
				if !right && got.Dropped {
					dropped++
				}
			}
		}
	}
	t.Logf("the right family was kept %d times of %d, a wrong one dropped %d", kept, n, dropped)
	assert.GreaterOrEqual(t, kept, n*9/10)
	assert.GreaterOrEqual(t, dropped, n*9/10)
}

func TestChipsThatCannotBe(t *testing.T) {
	b := newBench(1, 1)
	base := b.shelf[maker.Base]
	good := b.chipsOf(t, b.uids[0], 1)
	_, err := Calibrate(base.Plastisol, good[:2], nil)
	assert.ErrorContains(t, err, "two loads at four thicknesses")
	for says, spoil := range map[string]func(*Chip){
		"load":                       func(c *Chip) { c.PerLitre = 0 },
		"thickness":                  func(c *Chip) { c.At.ThicknessMM = 0 },
		"no plastic has this colour": func(c *Chip) { c.Lab.L = 900 },
	} {
		list := slices.Clone(good)
		spoil(&list[3])
		_, err := Calibrate(base.Plastisol, list, nil)
		var f *measure.Fault
		require.ErrorAs(t, err, &f, says)
		assert.ErrorContains(t, err, says)
	}
	// Black that is as black everywhere, and nothing at all: no curve explodes.
	for _, l := range []float64{0.5, 96} {
		list := slices.Clone(good)
		for i := range list {
			list[i].Lab = colour.Lab{L: l}
		}
		got, err := Calibrate(base.Plastisol, list, nil)
		require.NoError(t, err)
		for band, k := range got.K {
			assert.False(t, k < 0 || k > 500 || got.S[band] < 0, fmt.Sprint(l, band, k))
		}
	}
}
