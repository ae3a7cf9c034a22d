package heat_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	. "cloudburst/core/heat"
	"cloudburst/core/measure"
	"cloudburst/testkit"
)

// The vectors were worked out independently, in °F.
type vectors struct {
	Bursts []struct {
		ID     string
		P      float64 `json:"power_W"`
		Eff    float64 `json:"efficiency"`
		Mass   float64 `json:"mass_g"`
		Cp     float64 `json:"cp_J_gK"`
		Room   float64 `json:"ambient_F"`
		K      float64 `json:"cool_per_s"`
		Start  float64 `json:"start_F"`
		Events []struct {
			Do   string
			S, G float64
			Cp   float64 `json:"cp_J_gK"`
			T    float64 `json:"T_F"`
		}
		Expect struct {
			After []float64 `json:"T_after_F"`
		}
	}
	Calibration []struct {
		ID        string
		P         float64 `json:"power_W"`
		Mass      float64 `json:"mass_g"`
		Cp        float64 `json:"cp_J_gK"`
		Room      float64 `json:"ambient_F"`
		Start     float64 `json:"start_F"`
		Burst     float64 `json:"burst_s"`
		R1        float64 `json:"reading1_F"`
		R2        float64 `json:"reading2_F"`
		S1        float64 `json:"reading1_after_s"`
		S2        float64 `json:"reading2_after_s"`
		ThenBurst float64 `json:"then_burst_s"`
		ThenRest  float64 `json:"then_rest_s"`
		Expect    struct {
			Eff   float64 `json:"efficiency"`
			K     float64 `json:"cool_per_s"`
			End   float64 `json:"T_at_burst_end_F"`
			Third float64 `json:"third_F"`
			Truth float64 `json:"truth_third_F"`
		}
	}
	Fall []struct {
		ID     string
		From   float64 `json:"from_F"`
		To     float64 `json:"to_F"`
		Room   float64 `json:"ambient_F"`
		K      float64 `json:"cool_per_s"`
		Expect struct {
			Seconds *float64
			Rate    float64 `json:"first_rate_K_per_min"`
		}
	}
	Dose []struct {
		ID     string
		Pieces []struct {
			Kind string
			From float64 `json:"from_F"`
			To   float64 `json:"to_F"`
			Room float64 `json:"ambient_F"`
			K    float64 `json:"cool_per_s"`
			Min  float64
		}
		Expect struct {
			Pieces []float64 `json:"piece_min_at_350F"`
			All    float64   `json:"dose_min_at_350F"`
		}
	}
	Mold []struct {
		ID      string
		Far     string    `json:"far_wall"`
		MM      float64   `json:"thickness_mm"`
		A       float64   `json:"diffusivity_mm2_s"`
		Start   float64   `json:"start_F"`
		Wall    float64   `json:"wall_F"`
		Times   []float64 `json:"times_s"`
		Set     float64   `json:"set_F"`
		Skin    []float64 `json:"skin_mm"`
		Demould float64   `json:"demould_F"`
		Flow    *float64  `json:"flow_stops_F"`
		Expect  struct {
			Centre  []float64  `json:"centre_F"`
			Mean    []float64  `json:"mean_F"`
			Skin    []*float64 `json:"skin_s"`
			Demould *float64   `json:"demould_s"`
			Flow    *float64   `json:"flow_stops_s"`
		}
	}
	Interface []struct {
		ID           string
		Lower, Upper struct {
			T  float64 `json:"T_F"`
			MM float64
			K  float64 `json:"k_W_mK"`
			D  float64 `json:"density_g_ml"`
			Cp float64 `json:"cp_J_gK"`
		}
		Bond   float64 `json:"bond_min_F"`
		Expect struct {
			Lower   float64 `json:"effusivity_lower"`
			Upper   float64 `json:"effusivity_upper"`
			Contact float64 `json:"contact_F"`
			Evened  float64 `json:"evened_F"`
			Bonds   bool
		}
	}
	Windows []struct {
		ID    string
		Lower struct {
			MM    float64 `json:"thickness_mm"`
			Start float64 `json:"start_F"`
			Wall  float64 `json:"wall_F"`
			A     float64 `json:"diffusivity_mm2_s"`
		}
		Upper  float64 `json:"upper_F"`
		Mix    float64 `json:"mix_above_F"`
		Bond   float64 `json:"bond_min_F"`
		Expect struct {
			Earliest float64  `json:"earliest_s"`
			Latest   *float64 `json:"latest_s"`
			Top      float64  `json:"lower_top_at_latest_F"`
			Feasible bool
		}
	} `json:"layer_window"`
	Settling []struct {
		ID     string
		MM     float64   `json:"grain_mm"`
		G      float64   `json:"grain_g_ml"`
		Fluid  float64   `json:"fluid_g_ml"`
		V280   float64   `json:"viscosity_280F_Pa_s"`
		V400   float64   `json:"viscosity_400F_Pa_s"`
		Start  float64   `json:"start_F"`
		Room   float64   `json:"ambient_F"`
		K      float64   `json:"cool_per_s"`
		Times  []float64 `json:"times_s"`
		Stir   float64   `json:"stir_after_mm"`
		Above  float64   `json:"fluid_above_F"`
		Expect struct {
			First float64   `json:"first_mm_s"`
			Sunk  []float64 `json:"sunk_mm"`
			Stir  *float64  `json:"stir_after_s"`
		}
	}
	Bleeding []struct {
		ID     string
		Kind   string
		D      float64   `json:"D_mm2_s"`
		Left   float64   `json:"left_c"`
		Right  float64   `json:"right_c"`
		LeftMM float64   `json:"left_mm"`
		RightM float64   `json:"right_mm"`
		X      []float64 `json:"x_mm"`
		Expect map[string]any
	}
}

var c = measure.Celsius

func read(t *testing.T) (v vectors) {
	testkit.Read(t, "heat.json", &v)
	return v
}

// near is within a share of a temperature's scale, or of a figure.
func near(t *testing.T, want, got, share float64, says string) {
	t.Helper()
	assert.InDelta(t, want, got, share*max(1, math.Abs(want)), says)
}

func TestCupsOfTheVectors(t *testing.T) {
	v := read(t)
	require.NotEmpty(t, v.Bursts)
	for _, b := range v.Bursts {
		cup := NewCup(b.Mass, b.Cp, c(b.Start), c(b.Room), b.K)
		for i, e := range b.Events {
			switch e.Do {
			case "heat":
				cup.Burst(b.P, b.Eff, e.S)
			case "rest":
				cup.Rest(e.S)
			case "add":
				cup.Add(e.G, e.Cp, c(e.T))
			case "pour":
				cup.Pour(e.G, b.Cp)
			}
			near(t, b.Expect.After[i], measure.Fahrenheit(cup.C), 1e-7, b.ID)
		}
	}
	for _, k := range v.Calibration {
		trial := Trial{
			PowerW: k.P, MassG: k.Mass, CpJgK: k.Cp, AmbientC: c(k.Room), StartC: c(k.Start), BurstS: k.Burst,
			Reading1C: c(k.R1), Reading2C: c(k.R2), AfterS1: k.S1, AfterS2: k.S2,
		}
		found, err := trial.Calibrate()
		require.NoError(t, err, k.ID)
		near(t, k.Expect.Eff, found.Efficiency, 1e-7, k.ID)
		assert.InEpsilon(t, k.Expect.K, found.CoolPerS, 1e-7, k.ID)
		near(t, k.Expect.End, measure.Fahrenheit(found.EndC), 1e-7, k.ID)
		cup := NewCup(k.Mass, k.Cp, c(k.R2), c(k.Room), found.CoolPerS)
		cup.Burst(k.P, found.Efficiency, k.ThenBurst)
		cup.Rest(k.ThenRest)
		near(t, k.Expect.Third, measure.Fahrenheit(cup.C), 1e-7, k.ID)
		assert.InDelta(t, k.Expect.Truth, measure.Fahrenheit(cup.C), 8, "%s: what a thermometer would show", k.ID)
	}
	for _, f := range v.Fall {
		got, ever := FallS(c(f.From), c(f.To), c(f.Room), f.K)
		require.Equal(t, f.Expect.Seconds != nil, ever, f.ID)
		if ever {
			near(t, *f.Expect.Seconds, got, 1e-7, f.ID)
		}
		near(t, f.Expect.Rate, 60*f.K*(c(f.From)-c(f.Room)), 1e-7, f.ID)
	}
}

func TestDosesOfTheVectors(t *testing.T) {
	for _, d := range read(t).Dose {
		all := 0.0
		for i, p := range d.Pieces {
			got := DoseWarmed(c(p.From), c(p.To), p.Min)
			if p.Kind == "newton" {
				got = DoseCooled(c(p.From), c(p.Room), p.K, p.Min)
			}
			near(t, d.Expect.Pieces[i], got, 1e-7, d.ID)
			all += got
		}
		near(t, d.Expect.All, all, 1e-7, d.ID)
	}
	assert.InDelta(t, 2, DoseRate(c(329))/DoseRate(c(311)), 0.1, "near 320 °F it doubles each 18 °F")
}

func TestMoldsOfTheVectors(t *testing.T) {
	v := read(t)
	when := func(id string, want *float64, got float64, ever bool) {
		t.Helper()
		require.Equal(t, want != nil, ever, id)
		if ever && *want > 0 {
			assert.InEpsilon(t, *want, got, 1e-4, id)
		}
	}
	for _, m := range v.Mold {
		s := Section{
			ThicknessMM: m.MM, Diffusivity: m.A, StartC: c(m.Start), WallC: c(m.Wall), Open: m.Far == "insulated",
		}
		for i, at := range m.Times {
			assert.InDelta(t, m.Expect.Centre[i], measure.Fahrenheit(s.Centre(at)), 0.01, m.ID)
			assert.InDelta(t, m.Expect.Mean[i], measure.Fahrenheit(s.Mean(at)), 0.01, m.ID)
		}
		for i, mm := range m.Skin {
			got, ever := s.When(mm, c(m.Set))
			when(m.ID, m.Expect.Skin[i], got, ever)
		}
		got, ever := s.CentreWhen(c(m.Demould))
		when(m.ID, m.Expect.Demould, got, ever)
		if m.Flow != nil {
			got, ever := s.CentreWhen(c(*m.Flow))
			when(m.ID, m.Expect.Flow, got, ever)
		}
	}
	for _, f := range v.Interface {
		lower := Layer{c(f.Lower.T), f.Lower.MM, f.Lower.K, f.Lower.D, f.Lower.Cp}
		upper := Layer{c(f.Upper.T), f.Upper.MM, f.Upper.K, f.Upper.D, f.Upper.Cp}
		near(t, f.Expect.Lower, lower.Effusivity(), 1e-7, f.ID)
		near(t, f.Expect.Upper, upper.Effusivity(), 1e-7, f.ID)
		contact := measure.Fahrenheit(ContactC(&lower, &upper))
		near(t, f.Expect.Contact, contact, 1e-7, f.ID)
		near(t, f.Expect.Evened, measure.Fahrenheit(EvenedC(&lower, &upper)), 1e-7, f.ID)
		assert.Equal(t, f.Expect.Bonds, contact >= f.Bond-1e-9, f.ID)
	}
	for _, w := range v.Windows {
		s := Section{
			ThicknessMM: w.Lower.MM, Diffusivity: w.Lower.A, StartC: c(w.Lower.Start), WallC: c(w.Lower.Wall),
			Open: true,
		}
		got, ever := s.NextLayer(c(w.Upper), c(w.Mix), c(w.Bond))
		require.True(t, ever, w.ID)
		assert.InEpsilon(t, w.Expect.Earliest, got.EarliestS, 1e-4, w.ID)
		when(w.ID, w.Expect.Latest, got.LatestS, !got.NeverLate)
		near(t, w.Expect.Top, measure.Fahrenheit(got.TopC), 1e-7, w.ID)
		assert.Equal(t, w.Expect.Feasible, got.Feasible(), w.ID)
	}
}

func TestSettlingOfTheVectors(t *testing.T) {
	for _, s := range read(t).Settling {
		g := Grains{
			MM: s.MM, GML: s.G, FluidGML: s.Fluid, Fluid: Viscosity{s.V280, s.V400}, StartC: c(s.Start),
			AmbientC: c(s.Room),
			CoolPerS: s.K,
		}
		assert.InEpsilon(t, s.Expect.First, g.Speed(0), 1e-7, s.ID)
		for i, at := range s.Times {
			assert.InEpsilon(t, s.Expect.Sunk[i], g.Sunk(at), 1e-7, s.ID)
		}
		got, ever := g.StirAfter(s.Stir, c(s.Above))
		require.Equal(t, s.Expect.Stir != nil, ever, s.ID)
		if ever {
			assert.InEpsilon(t, *s.Expect.Stir, got, 1e-7, s.ID)
		}
	}
}

func TestBleedingOfTheVectors(t *testing.T) {
	for _, b := range read(t).Bleeding {
		thin := Thin{Boundary{b.D, b.Left, b.Right}, b.LeftMM, b.RightM}
		tolerance := 1e-6 * max(b.Left, b.Right)
		for _, day := range []float64{2, 14} {
			want := b.Expect[fmt.Sprintf("day%g", day)].(map[string]any)
			assert.InEpsilon(t, want["reach_mm"], thin.Reach(day*DayS), 1e-9, b.ID)
			for i, x := range b.X {
				got := thin.Thick(x, day*DayS)
				if b.Kind == "thin" {
					got = thin.At(x, day*DayS)
				}
				assert.InDelta(t, want["profile"].([]any)[i], got, tolerance, b.ID)
			}
			if b.Kind == "thin" {
				left, right := thin.Means(day * DayS)
				assert.InDelta(t, want["mean_left"], left, tolerance, b.ID)
				assert.InDelta(t, want["mean_right"], right, tolerance, b.ID)
				assert.InDelta(
					t, thin.Mixed(), (left*b.LeftMM+right*b.RightM)/(b.LeftMM+b.RightM), 1e-9, "nothing is lost",
				)
			}
		}
	}
}

// The orders of magnitude of docs/model.md.
func TestOrdersOfMagnitude(t *testing.T) {
	cup := NewCup(252, UsualCpJgK, 168, 22, UsualCoolPerS)
	was := cup.C
	cup.Rest(60)
	assert.InDelta(t, 7, was-cup.C, 0.5, "240 ml in a glass measure loses about 7 K a minute at first")
	salt := Grains{
		MM: 0.25, GML: 2.16, FluidGML: 1.05, Fluid: Viscosity{0.3, 0.3}, StartC: 165, AmbientC: 22,
		CoolPerS: UsualCoolPerS,
	}
	assert.InDelta(t, 0.1, salt.Speed(0), 0.05)
	section := Section{ThicknessMM: 10, Diffusivity: UsualDiffusivity, StartC: 165, WallC: 30}
	out, ever := section.CentreWhen(50)
	assert.True(t, ever)
	assert.InDelta(
		t, 3.5*60, out, 0.5*60, "a 10 mm section in aluminium at 30 °C is down to 50 °C in three to four minutes",
	)
	open := Section{ThicknessMM: 20, Diffusivity: UsualDiffusivity, StartC: 165, WallC: 30, Open: true}
	out, ever = open.CentreWhen(50)
	assert.True(t, ever)
	assert.InDelta(t, 60*60, out, 20*60, "a thick open pour takes an hour")
	cold := NewCup(249, UsualCpJgK, 22, 22, UsualCoolPerS)
	assert.InDelta(t, 150, cold.BurstFor(177, 1000, UsualEfficiency), 30, "two to three minutes at 1,000 W")
	hot := cold
	hot.C = 180
	assert.Zero(t, hot.BurstFor(177, 1000, UsualEfficiency))
}

func TestTrialsThatCannotBe(t *testing.T) {
	good := Trial{
		PowerW: 1000, MassG: 250, CpJgK: UsualCpJgK, AmbientC: 22, StartC: 22, BurstS: 120, Reading1C: 150,
		Reading2C: 140,
		AfterS1:   5, AfterS2: 100,
	}
	_, err := good.Calibrate()
	require.NoError(t, err)
	for field, spoil := range map[string]func(*Trial){
		"reading2": func(v *Trial) { v.Reading2C = 160 },
		"burst":    func(v *Trial) { v.BurstS = 0 },
		"reading1": func(v *Trial) { v.BurstS = 10 },
	} {
		bad := good
		spoil(&bad)
		_, err := bad.Calibrate()
		testkit.AssertFault(t, err, field, "")
	}
	bad := good
	bad.AfterS2 = 5
	_, err = bad.Calibrate()
	testkit.AssertFault(t, err, "reading2", "after the first")
}
