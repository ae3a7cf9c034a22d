package optics_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cloudburst/core/colour"
	. "cloudburst/core/optics"
)

func TestFilmAgainstVectors(t *testing.T) {
	var file struct {
		Cases []struct {
			ID, Mode string
			R1, R2   float64
			NFilm    float64 `json:"n_film"`
			NBack    float64 `json:"n_back"`
			NM       float64 `json:"d_nm"`
			Theta    float64 `json:"theta_host_deg"`
			Expect   struct {
				R colour.Spectrum `json:"R_f"`
			}
		}
	}
	load(t, "film.json", &file)
	require.Len(t, file.Cases, 12)
	for _, c := range file.Cases {
		f := Film{Index: c.NFilm, BackIndex: c.NBack, ThicknessNM: c.NM}
		if c.Mode == "amplitudes" {
			f.R1, f.R2, f.BackIndex = c.R1, c.R2, 1
		}
		got := f.Reflects(c.Theta)
		for b := range got {
			assert.InDelta(t, c.Expect.R[b], got[b], 1e-9, "%s band %d", c.ID, b)
		}
	}
}

func TestFilmKeepsToLight(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := Film{
			Index: rapid.Float64Range(1, 3).Draw(t, "n"), BackIndex: rapid.Float64Range(1, 3).Draw(t, "back"),
			ThicknessNM: rapid.Float64Range(0, 900).Draw(t, "nm"),
		}
		for _, r := range f.Reflects(rapid.Float64Range(0, 89).Draw(t, "angle")) {
			if !(r >= -1e-12 && r <= 1+1e-12) {
				t.Fatalf("%+v reflects %v", f, r)
			}
		}
	})
	assert.InDelta(t, 35.26, InsidePlastic(60), 0.01)
}

func TestFlakeAgainstVectors(t *testing.T) {
	var file struct {
		Cases []struct {
			ID       string
			Shape    Shape
			In       float64 `json:"size_in"`
			CV       float64 `json:"size_cv"`
			T        float64 `json:"t_mm"`
			Packing  float64
			TSP      float64
			VolumeML float64 `json:"finished_volume_ml"`
			Beta     float64
			Rho      colour.Spectrum
			K        colour.Spectrum `json:"background_K"`
			S        colour.Spectrum `json:"background_S"`
			X        float64         `json:"x_mm"`
			Expect   struct {
				A       float64         `json:"A_mm2"`
				PerTSP  float64         `json:"pieces_per_tsp"`
				N       float64         `json:"n_per_mm3"`
				K       colour.Spectrum `json:"K_add"`
				S       colour.Spectrum `json:"S_add"`
				Seen    float64         `json:"visible_per_cm2"`
				SeenHid float64         `json:"visible_per_cm2_with_occlusion"`
			}
		}
	}
	load(t, "flake.json", &file)
	require.Len(t, file.Cases, 12)
	for _, c := range file.Cases {
		area := c.Shape.AreaMM2(c.In*25.4, c.CV)
		assert.InEpsilon(t, c.Expect.A, area, 1e-9, c.ID)
		per := PiecesPerTSP(area, c.T, c.Packing)
		assert.InEpsilon(t, c.Expect.PerTSP, per, 1e-9, c.ID)
		n := per * c.TSP / (1000 * c.VolumeML)
		assert.InEpsilon(t, c.Expect.N, n, 1e-9, c.ID)
		k, s := AddFlake(n*area, c.Beta, &c.Rho)
		for b := range k {
			assert.InEpsilon(t, c.Expect.K[b], k[b], 1e-7, c.ID)
			assert.InEpsilon(t, c.Expect.S[b], s[b], 1e-7, c.ID)
		}
		assert.InEpsilon(t, c.Expect.SeenHid, SeenPerCM2(n, n*area, &c.K, &c.S, c.X), 1e-6, c.ID)
		assert.InEpsilon(t, c.Expect.Seen, SeenPerCM2(n, 0, &c.K, &c.S, c.X), 1e-6, c.ID)
	}
	// Salt hides the flake inside a 12 mm body, glass hardly (the worked case b22 of the behaviours).
	seen := func(haze float64) float64 {
		k, s := colour.Flat(0.002057056935635997), colour.Flat(0.004+haze)
		return SeenPerCM2(1, 0, &k, &s, 12)
	}
	assert.InDelta(t, 0.3240268894502395, seen(0.12634717677233506)/seen(0), 1e-9)
	assert.InDelta(t, 0.8419472369301959, seen(0.015161661212680207)/seen(0), 1e-9)
	assert.InDelta(t, 0.87*100*0.5*2, CountPerCM2(0.5, 0, 2), 1e-9)
	assert.Less(t, CountPerCM2(0.5, 1, 2), CountPerCM2(0.5, 0, 2), "pieces hide pieces")
}

// A clear layer without surfaces or ground sends η·½·k_c/(K_ex+K_em)·(1−e^(−(K_ex+K_em)x)) to the front.
func TestGlowOfAClearLayer(t *testing.T) {
	const ex, em = 6, 14
	for _, x := range []float64{0.3, 2, 12, 60} {
		l := Layer{ThicknessMM: x}
		g := Glow{Yield: 0.6}
		l.K[ex], l.K[em] = 0.3, 0.02
		g.Takes[ex], g.Gives[em] = 0.25, 1
		even := colour.Flat(1)
		var dark colour.Spectrum
		front, back := Surface{}.Glows(&l, &g, &even).Over(&dark)
		want := 0.6 / 2 * 0.25 / 0.32 * (1 - math.Exp(-0.32*x))
		assert.InEpsilon(t, want, front[em], 2e-3, "%v mm", x)
		wantBack := 0.6 / 2 * 0.25 * (math.Exp(-0.02*x) - math.Exp(-0.3*x)) / (0.3 - 0.02)
		assert.InDelta(t, wantBack, back[em], 2e-3*wantBack+1e-4, "%v mm", x)
		assert.Zero(t, front[ex])
		white := colour.Flat(0.88)
		over, _ := InAir.Glows(&l, &g, &even).Over(&white)
		bare, _ := InAir.Glows(&l, &g, &even).Over(&dark)
		if x < 12 {
			assert.Greater(t, over[em], bare[em], "white paper sends it back")
		}
		lamp := even
		lamp[ex] = 0.2
		less, _ := InAir.Glows(&l, &g, &lamp).Over(&white)
		assert.InEpsilon(t, 0.2*over[em], less[em], 1e-9, "a light that excites less makes it glow less")
	}
	l := Layer{K: colour.Flat(0.01), S: colour.Flat(0.01), ThicknessMM: 3}
	white := colour.Flat(0.88)
	front, back := InAir.Glows(&l, &Glow{Yield: 1}, &white).Over(&white)
	assert.Zero(t, front)
	assert.Zero(t, back)
}

// What glows never gives out more than it took.
func TestGlowKeepsToItsYield(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := anyLayer(t, "l")
		l.ThicknessMM = rapid.Float64Range(0.05, 60).Draw(t, "mm")
		var g Glow
		g.Yield = 1
		g.Takes[5] = rapid.Float64Range(0, 1).Draw(t, "share") * l.K[5]
		g.Gives[20] = 1
		even, dark := colour.Flat(1), colour.Spectrum{}
		front, back := InAir.Glows(&l, &g, &even).Over(&dark)
		if sum := front[20] + back[20]; !(sum >= 0 && sum <= 1) {
			t.Fatalf("gives %v back", sum)
		}
	})
}

func TestWater(t *testing.T) {
	pale := colour.Flat(0.6)
	near, _ := Clear.See(&pale, 0, 0, FromSide)
	assert.InDelta(t, 0.6, near[20], 1e-12)
	for _, w := range Waters() {
		near, _ := w.See(&pale, 0.5, 0.3, FromSide)
		far, water := w.See(&pale, 0.5, 8, FromSide)
		deep, _ := w.See(&pale, 6, 0.3, FromSide)
		assert.Greater(t, near[18], deep[18], w)
		assert.Greater(
			t, math.Abs(near[18]-water[18]), math.Abs(far[18]-water[18]), "%s: it fades into the water with distance",
			w,
		)
		assert.NotEmpty(t, w.Name())
	}
	clear, _ := Clear.See(&pale, 5, 0.5, FromSide)
	assert.Greater(t, clear[10], clear[28], "red goes first in clear water")
	stained, _ := Stained.See(&pale, 2, 0.5, FromSide)
	assert.Greater(t, stained[20], stained[5], "blue goes first in stained water")
}

func TestGroundsOfTheBench(t *testing.T) {
	hand := Hand.Reflectance()
	skin := colour.D65.Lab(&hand)
	assert.InDelta(t, 65, skin.L, 15)
	assert.Greater(t, skin.A, 5.0)
	assert.Greater(t, skin.B, 8.0)
	st := Pile(Layer{ThicknessMM: 4})
	p := InAir.Enclose(&st)
	grey := Grey.See(&p)
	bench := colour.Flat(0.2)
	assert.Greater(t, grey[10], p.Over(&bench)[10], "some light comes from behind")
}
