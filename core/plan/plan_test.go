package plan_test

import (
	"errors"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cloudburst/core/measure"
	. "cloudburst/core/plan"
	"cloudburst/testkit"
)

// The vectors were worked out independently, in exact fractions.
type job struct {
	ID, Why string
	Shrink  float64
	TopUp   float64 `json:"topup_share"`
	Spare   float64 `json:"spare_percent"`
	Last    string  `json:"last_fill"`
	Step    float64 `json:"measure_step_cold_ml"`
	Molds   []struct {
		Name     string
		Cavities int
		Sprue    float64 `json:"sprue_ml"`
		Count    *int
	}
	Shots []struct {
		Shot  string
		Parts []struct {
			Part      string
			Geometric map[string]float64 `json:"geometric_ml"`
			Kept      map[string]float64 `json:"kept_ml"`
			Sprue     float64            `json:"sprue_share"`
			Injector  *float64           `json:"injector_hot_ml"`
			Plug      float64            `json:"plug_hot_ml"`
			Purge     float64            `json:"purge_hot_ml"`
			CupLoss   float64            `json:"cup_loss_hot_ml"`
			Spill     float64            `json:"spill_hot_ml_per_cavity"`
			Largest   float64            `json:"largest_cup_cold_ml"`
			Microwave float64            `json:"microwave_max_cold_ml"`
			Recipe    struct {
				Per   float64 `json:"per_ml"`
				Drops []struct {
					Name  string
					Drops float64
				}
				Spoons []struct {
					Name string
					TSP  float64
					Bulk float64 `json:"bulk_g_ml"`
					True float64 `json:"true_g_ml"`
				}
			}
		}
	}
}

func (v *job) job() *Job {
	j := &Job{Shrink: v.Shrink, TopUp: v.TopUp, SparePercent: v.Spare, Partial: v.Last == "partial", StepColdML: v.Step}
	for _, m := range v.Molds {
		one := Mold{Name: m.Name, Cavities: m.Cavities, SprueHotML: m.Sprue}
		if m.Count != nil {
			one.Count = *m.Count
		}
		j.Molds = append(j.Molds, one)
	}
	for _, s := range v.Shots {
		shot := Shot{Name: s.Shot}
		for _, p := range s.Parts {
			part := Part{
				Name: p.Part, GeometricML: p.Geometric, KeptML: p.Kept, SprueShare: p.Sprue, PlugHotML: p.Plug,
				PurgeHotML:   p.Purge,
				CupLossHotML: p.CupLoss, SpillHotML: p.Spill, LargestColdML: p.Largest, MicrowaveColdML: p.Microwave,
				Recipe: Recipe{PerColdML: p.Recipe.Per},
			}
			if p.Injector != nil {
				part.InjectorHotML = *p.Injector
			}
			for _, d := range p.Recipe.Drops {
				part.Recipe.Drops = append(part.Recipe.Drops, Drops{d.Name, d.Drops, 0.05})
			}
			for _, s := range p.Recipe.Spoons {
				part.Recipe.Spoons = append(part.Recipe.Spoons, Spoons{s.Name, s.TSP, s.Bulk, s.True})
			}
			shot.Parts = append(shot.Parts, part)
		}
		j.Shots = append(j.Shots, shot)
	}
	return j
}

type planned struct {
	Error string
	Fill  float64 `json:"fill_hot_ml"`
	Most  float64 `json:"most_hot_ml"`
	Molds []struct {
		Pour     int   `json:"baits_to_pour"`
		Made     int   `json:"baits_made"`
		Cavities []int `json:"cavities_per_fill"`
	}
	Shots []struct {
		Fills []int `json:"fills_per_load"`
		Cooks int
		Parts []struct {
			Full      map[string]float64 `json:"one_full_fill_hot_ml"`
			Geometric float64            `json:"geometric_ml"`
			Cavities  float64            `json:"cavities_hot_ml"`
			TopUp     float64            `json:"topup_hot_ml"`
			Sprue     float64            `json:"sprue_hot_ml"`
			Spill     float64            `json:"spill_hot_ml"`
			Plug      float64            `json:"plug_hot_ml"`
			Purge     float64            `json:"purge_hot_ml"`
			CupLoss   float64            `json:"cup_loss_hot_ml"`
			Total     float64            `json:"total_hot_ml"`
			Cooks     []struct {
				Loads    *int
				Fills    int
				Needed   float64 `json:"needed_cold_ml"`
				Measured float64 `json:"measured_cold_ml"`
				Drops    []struct {
					Exact float64
					Whole float64
					Tie   bool
				}
				Spoons []struct {
					Exact float64 `json:"exact_tsp"`
					Sum   float64 `json:"sum_tsp"`
					Grams float64
				}
				Plastisol float64 `json:"plastisol_ml"`
			}
			Kept     float64 `json:"kept_in_baits_cold_ml"`
			CutOff   float64 `json:"cut_off_cold_ml"`
			Rest     float64 `json:"rest_in_cup_cold_ml"`
			Measured float64 `json:"measured_cold_ml"`
		}
	}
	Balance struct {
		In        float64
		Baits     float64
		Leftovers float64 `json:"leftovers_total"`
		Losses    float64 `json:"losses_total"`
	} `json:"balance_cold_ml"`
	Made int `json:"baits_made"`
}

type vectors struct {
	Runs []struct {
		job
		Expect planned
	}
	HowMany []struct {
		job
		Available float64 `json:"available_cold_ml"`
		Expect    struct {
			Baits, Fills, Loads int
			Used                float64 `json:"used_cold_ml"`
		}
	} `json:"how_many"`
	HalfShot []struct {
		ID       string
		Cup      float64   `json:"cup_floz"`
		Shot     float64   `json:"shot_floz"`
		Returned float64   `json:"sprues_returned_floz"`
		Corrects []float64 `json:"correction_per_full_cup_drops"`
		Expect   struct {
			In    float64   `json:"in_cup_ml"`
			Share float64   `json:"share"`
			Whole []float64 `json:"correction_whole"`
			Off   []float64 `json:"error_drops"`
			Out   float64   `json:"out_of_it_ml"`
		}
	} `json:"half_shot"`
	ShortFilled []struct {
		job
		Short int     `json:"short_filled"`
		Share float64 `json:"short_share"`
		Again struct {
			Last  string  `json:"last_fill"`
			Spare float64 `json:"spare_percent"`
			Use   bool    `json:"use_leftovers"`
		}
		Expect struct {
			Good     int     `json:"good_baits"`
			Short    int     `json:"shortfall"`
			Spoiled  float64 `json:"spoiled_baits_cold_ml"`
			NotShot  float64 `json:"not_shot_cold_ml"`
			Leftover float64 `json:"leftover_cold_ml"`
			Again    *struct {
				Need  float64 `json:"need_cold_ml"`
				From  float64 `json:"from_leftover_cold_ml"`
				Fresh float64 `json:"fresh_cold_ml"`
				Made  int     `json:"baits_made"`
			}
		}
	} `json:"short_filled"`
}

var kit = measure.Kit{SpoonsTSP: []float64{1.0 / 4, 1.0 / 8, 1.0 / 16, 1.0 / 32}}

func read(t *testing.T) (v vectors) {
	testkit.Read(t, "pour.json", &v)
	return v
}

func near(t *testing.T, want, got float64, says string) {
	t.Helper()
	assert.InDelta(t, want, got, 1e-9*max(1, math.Abs(want)), says) // the vectors have ten digits
}

func TestRunsOfTheVectors(t *testing.T) {
	all := read(t).Runs
	require.Len(t, all, 28)
	for _, r := range all {
		says := r.ID + ": " + r.Why
		p, err := Make(r.job.job(), kit)
		switch r.Expect.Error {
		case "count_not_positive":
			testkit.AssertFault(t, err, "count", "how many baits")
			continue
		case "fill_exceeds_cup_or_injector":
			var large *TooLarge
			require.True(t, errors.As(err, &large), says)
			near(t, r.Expect.Fill, large.FillHotML, says)
			near(t, r.Expect.Most, large.MostHotML, says)
			assert.Contains(t, err.Error(), "fewer cavities")
			continue
		}
		require.NoError(t, err, says)
		assert.Equal(t, r.Expect.Made, p.BaitsMade, says)
		for i, m := range r.Expect.Molds {
			assert.Equal(t, m.Pour, p.Molds[i].Pour, says)
			assert.Equal(t, m.Made, p.Molds[i].Made, says)
			assert.Equal(t, m.Cavities, p.Molds[i].Cavities, says)
		}
		for i, s := range r.Expect.Shots {
			assert.Equal(t, s.Fills, p.Shots[i].FillsPerLoad, says)
			assert.Equal(t, s.Cooks, p.Shots[i].Cooks, says)
			for k, want := range s.Parts {
				got := p.Shots[i].Parts[k]
				for mold, ml := range want.Full {
					near(t, ml, got.FullFillHotML[mold], says)
				}
				for n, pair := range [][2]float64{
					{want.Geometric, got.GeometricML},
					{want.Cavities, got.CavitiesHotML},
					{want.TopUp, got.TopUpHotML},
					{want.Sprue, got.SprueHotML},
					{want.Spill, got.SpillHotML},
					{want.Plug, got.PlugHotML},
					{want.Purge, got.PurgeHotML},
					{want.CupLoss, got.CupLossHotML},
					{want.Total, got.TotalHotML},
					{want.Kept, got.KeptColdML},
					{want.CutOff, got.CutOffColdML},
					{want.Rest, got.RestColdML},
					{want.Measured, got.MeasuredColdML},
				} {
					assert.InDelta(t, pair[0], pair[1], 1e-6, "%s, figure %d", says, n)
				}
				require.Len(t, got.Cooks, len(want.Cooks), says)
				for n, c := range want.Cooks {
					is := got.Cooks[n]
					if c.Loads != nil {
						assert.Equal(t, *c.Loads, is.Loads, says)
					}
					assert.Equal(t, c.Fills, is.Fills, says)
					assert.InDelta(t, c.Needed, is.NeededColdML, 1e-6, says)
					assert.InDelta(t, c.Measured, is.MeasuredColdML, 1e-6, says)
					assert.InDelta(t, c.Plastisol, is.PlastisolML, 1e-6, says)
					for d, drip := range c.Drops {
						assert.InDelta(t, drip.Exact, is.Drops[d].Exact, 1e-6, says)
						assert.Equal(t, drip.Whole, is.Drops[d].Whole, says)
						assert.Equal(t, drip.Tie, is.Drops[d].Tie, says)
					}
					for d, scoop := range c.Spoons {
						assert.InDelta(t, scoop.Exact, is.Spoons[d].ExactTSP, 1e-6, says)
						assert.InDelta(t, scoop.Sum, is.Spoons[d].Scoops.TSP, 1e-12, says)
						assert.InDelta(t, scoop.Grams, is.Spoons[d].Grams, 1e-6, says)
					}
				}
			}
		}
		assert.InDelta(t, r.Expect.Balance.In, p.Balance.InML, 1e-6, says)
		assert.InDelta(t, r.Expect.Balance.Baits, p.Balance.BaitsML, 1e-6, says)
		assert.InDelta(t, r.Expect.Balance.Leftovers, p.Balance.LeftoversML(), 1e-6, says)
		assert.InDelta(t, r.Expect.Balance.Losses, p.Balance.LossesML(), 1e-6, says)
		assert.InDelta(t, 0, p.Balance.DifferenceML(), 1e-9, says)
	}
}

func TestBackwardsOfTheVectors(t *testing.T) {
	v := read(t)
	for _, h := range v.HowMany {
		p, err := Most(h.job.job(), h.Available, kit)
		require.NoError(t, err, h.ID)
		if h.Expect.Baits == 0 {
			assert.Nil(t, p, h.ID)
			continue
		}
		require.NotNil(t, p, h.ID)
		assert.Equal(t, h.Expect.Baits, p.BaitsMade, h.ID)
		assert.Len(t, p.Molds[0].Cavities, h.Expect.Fills, h.ID)
		assert.Len(t, p.Shots[0].FillsPerLoad, h.Expect.Loads, h.ID)
		assert.InDelta(t, h.Expect.Used, p.Balance.InML, 1e-6, h.ID)
	}
	for _, h := range v.HalfShot {
		const oz = measure.FluidOunceML
		got := AfterShot(h.Cup*oz, h.Shot*oz, h.Returned*oz)
		assert.InDelta(t, h.Expect.In, got.InCupML, 1e-6, h.ID)
		assert.InDelta(t, h.Expect.Share, got.Share, 1e-9, h.ID)
		assert.InDelta(t, h.Expect.Out, got.OutML, 1e-6, h.ID)
		for i, drops := range h.Corrects {
			whole, off := got.Correction(drops)
			assert.Equal(t, h.Expect.Whole[i], whole, h.ID)
			assert.InDelta(t, h.Expect.Off[i], off, 1e-8, h.ID)
		}
	}
	for _, s := range v.ShortFilled {
		j := s.job.job()
		first, err := Make(j, kit)
		require.NoError(t, err, s.ID)
		again := *j
		again.SparePercent, again.Partial = s.Again.Spare, s.Again.Last == "partial"
		got, err := first.After(j, s.Short, s.Share, again, s.Again.Use, kit)
		require.NoError(t, err, s.ID)
		assert.Equal(t, s.Expect.Good, got.Good, s.ID)
		assert.Equal(t, s.Expect.Short, got.Short, s.ID)
		assert.InDelta(t, s.Expect.Spoiled, got.SpoiledML, 1e-6, s.ID)
		assert.InDelta(t, s.Expect.NotShot, got.NotShotML, 1e-6, s.ID)
		assert.InDelta(t, s.Expect.Leftover, got.LeftoverML, 1e-6, s.ID)
		if s.Expect.Again == nil || s.Expect.Short == 0 {
			assert.Nil(t, got.Again, s.ID)
			continue
		}
		assert.InDelta(t, s.Expect.Again.Need, got.Again.Balance.InML, 1e-6, s.ID)
		assert.InDelta(t, s.Expect.Again.From, got.FromLeftoverML, 1e-6, s.ID)
		assert.InDelta(t, s.Expect.Again.Fresh, got.FreshML, 1e-6, s.ID)
		assert.Equal(t, s.Expect.Again.Made, got.Again.BaitsMade, s.ID)
	}
}

// Whatever is asked: nothing is lost from the balance, no injector or cup is ever too full, and enough baits come of
// it.
func TestPlansClose(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		j := &Job{
			Shrink: rapid.Float64Range(0.85, 1).Draw(t, "shrink"), TopUp: rapid.Float64Range(0, 1).Draw(t, "topup"),
			SparePercent: rapid.Float64Range(0, 30).Draw(t, "spare"), Partial: rapid.Bool().Draw(t, "partial"),
			StepColdML: rapid.SampledFrom([]float64{0, 5, 10}).Draw(t, "step"),
		}
		for i := range rapid.IntRange(1, 3).Draw(t, "molds") {
			j.Molds = append(
				j.Molds,
				Mold{
					string(rune('A' + i)), rapid.IntRange(1, 12).Draw(t, "cavities"),
					rapid.Float64Range(0, 8).Draw(t, "sprue"),
					rapid.IntRange(1, 60).Draw(t, "count"), 0,
				},
			)
		}
		for range rapid.IntRange(1, 2).Draw(t, "shots") {
			var s Shot
			hand := rapid.Bool().Draw(t, "hand")
			for range rapid.IntRange(1, 3).Draw(t, "parts") {
				p := Part{
					GeometricML: map[string]float64{}, KeptML: map[string]float64{}, SprueShare: 0.5,
					LargestColdML:   470,
					MicrowaveColdML: 400,
					CupLossHotML:    rapid.Float64Range(0, 6).Draw(t, "cup"),
					SpillHotML:      rapid.Float64Range(0, 0.4).Draw(t, "spill"),
				}
				if !hand {
					p.InjectorHotML, p.PlugHotML, p.PurgeHotML = rapid.Float64Range(60, 200).Draw(t, "injector"), 6, 4
				}
				for _, m := range j.Molds {
					p.GeometricML[m.Name] = rapid.Float64Range(0.5, 12).Draw(t, "ml")
					p.KeptML[m.Name] = p.GeometricML[m.Name] * rapid.Float64Range(0.5, 1).Draw(t, "kept")
				}
				s.Parts = append(s.Parts, p)
			}
			j.Shots = append(j.Shots, s)
		}
		p, err := Make(j, kit)
		var large *TooLarge
		if errors.As(err, &large) {
			if large.FillHotML <= large.MostHotML {
				t.Fatalf("%v", large)
			}
			return
		}
		if err != nil {
			t.Fatal(err)
		}
		if d := math.Abs(p.Balance.DifferenceML()); d > 1e-6*p.Balance.InML {
			t.Fatalf("%g ml are missing", d)
		}
		for i, m := range p.Molds {
			if m.Made < m.Pour || m.Pour < j.Molds[i].Count {
				t.Fatal("too few baits")
			}
		}
		for i, s := range p.Shots {
			for k, part := range s.Parts {
				is := &j.Shots[i].Parts[k]
				for _, c := range part.Cooks {
					if c.NeededHotML > min(is.LargestColdML, is.MicrowaveColdML)/j.Shrink+1e-6 {
						t.Fatal("a cup runs over")
					}
					if c.MeasuredColdML < c.NeededColdML-1e-9 {
						t.Fatal("measured short")
					}
				}
			}
		}
	})
}

func TestJobsThatNobodyCanPour(t *testing.T) {
	good := read(t).Runs[0].job.job()
	for field, spoil := range map[string]func(*Job){
		"shrink": func(j *Job) { j.Shrink = 1.2 },
		"job":    func(j *Job) { j.SparePercent = 500 },
		"count":  func(j *Job) { j.Molds = []Mold{{Name: "A", Cavities: 6, Count: 0}} },
		"molds":  func(j *Job) { j.Molds = nil },
		"shots":  func(j *Job) { j.Shots = []Shot{{Name: "body"}} },
		"cups": func(j *Job) {
			s := j.Shots[0]
			s.Parts = append([]Part{}, s.Parts...)
			s.Parts[0].LargestColdML = 0
			j.Shots = []Shot{s}
		},
		"parts": func(j *Job) {
			s := j.Shots[0]
			s.Parts = append([]Part{}, s.Parts...)
			s.Parts[0].GeometricML = nil
			s.Parts[0].KeptML = nil
			j.Shots = []Shot{s}
		},
	} {
		bad := *good
		spoil(&bad)
		_, err := Make(&bad, kit)
		testkit.AssertFault(t, err, field, "")
	}
	p, err := Make(good, kit)
	require.NoError(t, err)
	_, err = p.After(good, 900, 0.5, *good, true, kit)
	testkit.AssertFault(t, err, "spoiled", "can be spoiled")
}
