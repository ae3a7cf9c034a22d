package leftover_test

import (
	"encoding/json"
	"maps"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	. "cloudburst/core/leftover"
	"cloudburst/testkit"
)

// The vectors were worked out independently, in exact fractions.
type tubOf struct {
	ML        float64            `json:"volume_ml"`
	Contents  map[string]float64 `json:"contents"`
	PerLitre  map[string]float64 `json:"per_litre"`
	HeatsMean *float64           `json:"heats_mean"`
	HeatsMax  *float64           `json:"heats_max"`
	DoseMean  *float64           `json:"dose_mean_min"`
	DoseMax   *float64           `json:"dose_max_min"`
}

type vectors struct {
	Meta struct {
		Ingredients map[string]struct {
			True *float64 `json:"true_g_ml"`
		}
	}
	Chains []struct {
		ID    string
		Steps []struct {
			Op       string
			To, From string
			Tub      string
			Add      map[string]float64
			Dose     float64         `json:"dose_min"`
			ML       json.RawMessage `json:"ml"`
			Sprue    float64         `json:"sprue_ml"`
			SprueTo  string          `json:"sprue_to"`
		}
		Expect struct {
			Final map[string]tubOf
			In    map[string]float64 `json:"total_in"`
		}
	}
	Remelt []struct {
		ID    string
		Parts []struct {
			ML        float64
			PerLitre  map[string]float64 `json:"per_litre"`
			HeatsMean float64            `json:"heats_mean"`
			HeatsMax  float64            `json:"heats_max"`
			DoseMean  float64            `json:"dose_mean_min"`
			DoseMax   float64            `json:"dose_max_min"`
		}
		Expect tubOf
	}
}

func read(t *testing.T) (v vectors, of Densities) {
	testkit.Read(t, "leftovers.json", &v)
	return v, func(uid string) float64 {
		if d := v.Meta.Ingredients[uid].True; d != nil {
			return *d
		}
		return 0
	}
}

func same(t *testing.T, want tubOf, got *Tub, of Densities, says string) {
	t.Helper()
	near := func(a, b float64, what string) {
		t.Helper()
		assert.InDelta(t, a, b, 1e-8*max(1, math.Abs(a)), "%s: %s", says, what)
	}
	near(want.ML, got.ML(of), "volume")
	require.Len(t, got.In, len(want.Contents), says)
	for uid, n := range want.Contents {
		near(n, got.In[uid], uid)
		near(want.PerLitre[uid], got.PerLitre(of)[uid], uid+" a litre")
	}
	if want.HeatsMean == nil {
		assert.Equal(t, History{}, got.History, says)
		return
	}
	near(*want.HeatsMean, got.HeatsMean, "heats")
	near(*want.DoseMean, got.DoseMean, "dose")
	assert.InDelta(t, *want.HeatsMax, got.HeatsMost, 1e-9, says)
	assert.InDelta(t, *want.DoseMax, got.DoseMost, 1e-9, says)
}

func TestChainsOfTheVectors(t *testing.T) {
	v, of := read(t)
	require.Len(t, v.Chains, 11)
	for _, c := range v.Chains {
		tubs := map[string]*Tub{}
		for name := range c.Expect.Final {
			tubs[name] = &Tub{}
		}
		for _, s := range c.Steps {
			take := func(from string) Tub {
				if string(s.ML) == `"all"` {
					return tubs[from].TakeAll()
				}
				var ml float64
				require.NoError(t, json.Unmarshal(s.ML, &ml))
				out, err := tubs[from].Take(ml, of)
				require.NoError(t, err, c.ID)
				return out
			}
			switch s.Op {
			case "cook", "topup":
				tubs[s.To].Add(s.Add, of)
			case "heat":
				tubs[s.Tub].Heat(s.Dose)
			case "pour":
				out := take(s.From)
				if s.Sprue > 0 {
					sprue, err := out.Take(s.Sprue, of)
					require.NoError(t, err, c.ID)
					tubs[s.SprueTo].Put(sprue, of)
				}
				tubs["baits"].Put(out, of)
			default:
				tubs[s.To].Put(take(s.From), of)
			}
		}
		total := map[string]float64{}
		for name, want := range c.Expect.Final {
			same(t, want, tubs[name], of, c.ID+" "+name)
			for uid, n := range tubs[name].In {
				total[uid] += n
			}
		}
		for uid, n := range c.Expect.In {
			assert.InEpsilon(t, n, total[uid], 1e-9, "%s: %s went in", c.ID, uid)
		}
	}
}

func TestRemeltsOfTheVectors(t *testing.T) {
	v, of := read(t)
	for _, r := range v.Remelt {
		var all Tub
		for _, p := range r.Parts {
			all.Put(Of(p.ML, p.PerLitre, "plastisol", History{p.HeatsMean, p.HeatsMax, p.DoseMean, p.DoseMax}, of), of)
		}
		same(t, r.Expect, &all, of, r.ID)
	}
}

// Whatever is poured, split, put together and brought back, 1,000 times: what went in is there.
func TestNothingIsLost(t *testing.T) {
	of := func(uid string) float64 { return map[string]float64{"salt": 2.16, "flake": 1.38}[uid] }
	rapid.Check(t, func(t *rapid.T) {
		tubs := make([]Tub, 4)
		in := map[string]float64{}
		for range 1000 {
			a, b := rapid.IntRange(0, 3).Draw(t, "from"), rapid.IntRange(0, 3).Draw(t, "to")
			if tubs[a].Empty() || rapid.IntRange(0, 9).Draw(t, "fresh") == 0 {
				fresh := map[string]float64{
					"plastisol": rapid.Float64Range(1, 200).Draw(t, "plastisol"),
					"dye":       rapid.Float64Range(0, 2).Draw(t, "dye"),
					"salt":      rapid.Float64Range(0, 30).Draw(t, "salt"),
				}
				tubs[a].Add(maps.Clone(fresh), of)
				for uid, n := range fresh {
					in[uid] += n
				}
				continue
			}
			if a == b {
				tubs[a].Heat(1)
				continue
			}
			out, err := tubs[a].Take(tubs[a].ML(of)*rapid.Float64Range(0.01, 1).Draw(t, "share"), of)
			if err != nil {
				t.Fatal(err)
			}
			tubs[b].Put(out, of)
		}
		for uid, n := range in {
			sum := 0.0
			for i := range tubs {
				sum += tubs[i].In[uid]
			}
			if math.Abs(sum-n) > 1e-9*max(1, n) {
				t.Fatalf("%s: %g went in, %g are there", uid, n, sum)
			}
		}
		for i := range tubs {
			if tubs[i].HeatsMean > tubs[i].HeatsMost+1e-9 {
				t.Fatal("heated more in the mean than at most")
			}
		}
	})
}

func TestMoreThanThereIs(t *testing.T) {
	of := func(string) float64 { return 0 }
	tub := Tub{}
	tub.Add(map[string]float64{"plastisol": 100, "dye": 0}, of)
	assert.Len(t, tub.In, 1)
	_, err := tub.Take(120, of)
	testkit.AssertFault(t, err, "ml", "more than the 100 ml")
	_, err = tub.Take(math.NaN(), of)
	testkit.AssertFault(t, err, "ml", "how much")
	_, err = tub.Take(-3, of)
	testkit.AssertFault(t, err, "ml", "how much")
	out, err := tub.Take(100, of)
	require.NoError(t, err)
	assert.InDelta(t, 100, out.ML(of), 1e-12)
	assert.True(t, tub.Empty())
	tub.Heat(5)
	assert.Equal(t, History{}, tub.History, "nothing was heated")
	assert.Nil(t, tub.PerLitre(of))
}
