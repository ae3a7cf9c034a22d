package optics_test

import (
	"encoding/json"
	"math"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cloudburst/core/colour"
	. "cloudburst/core/optics"
)

type state struct {
	ID     string
	Layers []struct {
		K, S colour.Spectrum
		X    float64 `json:"x_mm"`
	}
	View     string
	Surfaces bool
	Ground   float64
	Expect   struct {
		R, T     []float64
		Lab      []float64 `json:"Lab_D65_2deg"`
		Internal *struct {
			R0     colour.Spectrum
			R0Back colour.Spectrum `json:"R0_back"`
			T0     colour.Spectrum
		}
	}
}

func (s *state) see() (Stack, colour.Spectrum) {
	var layers []Layer
	for _, l := range s.Layers {
		layers = append(layers, Layer{K: l.K, S: l.S, ThicknessMM: l.X})
	}
	st := Pile(layers...)
	var surface Surface
	if s.Surfaces {
		surface = InAir
	}
	ground := colour.Flat(s.Ground)
	switch s.View {
	case "transmission":
		piece := surface.Enclose(&st)
		return st, piece.Through
	case "gap":
		piece := surface.Enclose(&st)
		return st, piece.Over(&ground)
	default:
		return st, surface.Joined(&st, &ground)
	}
}

func load(t *testing.T, file string, into any) {
	t.Helper()
	raw, err := os.ReadFile("testdata/" + file)
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(raw, into))
}

func checkState(t *testing.T, s *state) colour.Spectrum {
	t.Helper()
	st, seen := s.see()
	want := s.Expect.R
	if s.View == "transmission" {
		want = s.Expect.T
	}
	require.Len(t, want, colour.Bands, s.ID)
	assert.InDeltaSlice(t, want, seen[:], 1e-9, s.ID)
	if in := s.Expect.Internal; in != nil {
		assert.InDeltaSlice(t, in.R0[:], st.R[:], 1e-9, "%s R0", s.ID)
		assert.InDeltaSlice(t, in.R0Back[:], st.RBack[:], 1e-9, "%s R0 from behind", s.ID)
		assert.InDeltaSlice(t, in.T0[:], st.T[:], 1e-9, "%s T0", s.ID)
	}
	lab := colour.Lab{L: s.Expect.Lab[0], A: s.Expect.Lab[1], B: s.Expect.Lab[2]}
	// The vectors' Lab is a plain 10 nm sum, so only near to the folded weights.
	assert.Less(t, colour.DeltaE00(colour.D65.Lab(&seen), lab), 0.1, s.ID)
	return seen
}

func TestSlabsAndStacksAgainstIndependentSolution(t *testing.T) {
	for file, count := range map[string]int{"slabs.json": 40, "stacks.json": 20} {
		var vectors struct{ Cases []state }
		load(t, file, &vectors)
		require.Len(t, vectors.Cases, count)
		for i := range vectors.Cases {
			checkState(t, &vectors.Cases[i])
		}
	}
}

func TestBehavioursOfLightInPlastic(t *testing.T) {
	var file struct {
		Behaviours []struct {
			ID     string
			Text   string
			States []state
			Checks []struct {
				Metric string
				Of     []string
				Op     string
				Bound  float64
				Oracle float64 `json:"oracle_value"`
			}
		}
	}
	load(t, "behaviours.json", &file)
	for _, b := range file.Behaviours {
		t.Run(b.ID, func(t *testing.T) {
			seen := map[string]colour.Spectrum{}
			for i := range b.States {
				seen[b.States[i].ID] = checkState(t, &b.States[i])
			}
			for _, c := range b.Checks {
				if c.Metric == "number" { // about flake, which this package does not know yet
					continue
				}
				one := seen[c.Of[0]]
				two := one
				if len(c.Of) > 1 {
					two = seen[c.Of[1]]
				}
				p, q := colour.D65.Lab(&one), colour.D65.Lab(&two)
				var got float64
				switch c.Metric {
				case "L_diff":
					got = p.L - q.L
				case "C_diff":
					got = p.Chroma() - q.Chroma()
				case "C":
					got = p.Chroma()
				case "h":
					got = p.HueDeg()
				case "h_distance":
					got = math.Abs(math.Remainder(p.HueDeg()-q.HueDeg(), 360))
				case "dE00":
					got = colour.DeltaE00(p, q)
				case "Y":
					got = colour.D65.Luminous(&one)
				case "Y_ratio":
					got = colour.D65.Luminous(&one) / colour.D65.Luminous(&two)
				default:
					t.Fatalf("no way to measure %s", c.Metric)
				}
				if c.Op == ">" {
					assert.Greater(t, got, c.Bound, "%s: %s %v", b.Text, c.Metric, c.Of)
				} else {
					assert.Less(t, got, c.Bound, "%s: %s %v", b.Text, c.Metric, c.Of)
				}
				assert.InDelta(t, c.Oracle, got, 0.02+0.01*math.Abs(c.Oracle), "%s %v", c.Metric, c.Of)
			}
		})
	}
}

func anyLayer(t *rapid.T, name string) Layer {
	// Strengths and thicknesses over the whole range of the craft, and well past it.
	power := func(part string, lo, hi float64) float64 {
		return math.Pow(10, rapid.Float64Range(lo, hi).Draw(t, name+part))
	}
	return Layer{
		K: colour.Flat(power("K", -7, 3)), S: colour.Flat(power("S", -7, 3)), ThicknessMM: power("x", -3, 3),
	}
}

func TestLightIsNeverMadeNorNegative(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		st := Pile(anyLayer(t, "a"), anyLayer(t, "b"))
		piece := InAir.Enclose(&st)
		through := piece.Through
		// No ground throws back all of the light; towards one that did, passing the light of a beam back and forth as
		// diffuse light makes up to 3 in 10,000 too much.
		ground := colour.Flat(rapid.Float64Range(0, 0.97).Draw(t, "ground"))
		over, joined := piece.Over(&ground), InAir.Joined(&st, &ground)
		for name, v := range map[string]float64{
			"R": st.R[0], "R behind": st.RBack[0], "T": st.T[0], "R+T": st.R[0] + st.T[0],
			"through": through[0], "over": over[0], "joined": joined[0],
		} {
			if !(v >= 0 && v <= 1+1e-12) {
				t.Fatalf("%s = %v", name, v)
			}
		}
	})
}

func TestSplittingALayerChangesNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		whole := anyLayer(t, "l")
		part, rest := whole, whole
		share := rapid.Float64Range(0.01, 0.99).Draw(t, "share")
		part.ThicknessMM *= share
		rest.ThicknessMM *= 1 - share
		one, two := Pile(whole), Pile(part, rest)
		for _, d := range []float64{one.R[0] - two.R[0], one.T[0] - two.T[0], one.Cone[0] - two.Cone[0]} {
			if math.Abs(d) > 1e-9 {
				t.Fatalf("cut at %v: off by %g", share, d)
			}
		}
	})
}

func TestClearPlasticPassesWhatItShould(t *testing.T) {
	st := Pile(Layer{ThicknessMM: 4})
	assert.InDelta(t, 0.92, InAir.Enclose(&st).Through[10], 0.005, "two faces at 4 %")
	assert.Equal(t, Pile(), Pile(Layer{}), "no thickness is nothing")
}

func TestGroundNames(t *testing.T) {
	for _, g := range Grounds() {
		got, err := ParseGround(string(g))
		assert.NoError(t, err)
		assert.Equal(t, g, got)
		assert.NotEmpty(t, g.Name())
	}
	_, err := ParseGround("table")
	assert.ErrorContains(t, err, "white, dark, grey, against, metal or hand")
}

func BenchmarkSeeOneThickness(b *testing.B) {
	l := Layer{K: colour.Flat(0.1), S: colour.Flat(0.05), ThicknessMM: 4}
	for b.Loop() {
		st := Pile(l)
		p := InAir.Enclose(&st)
		White.See(&p)
	}
}
