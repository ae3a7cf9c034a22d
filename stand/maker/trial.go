package maker

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"cloudburst/core/colour"
	"cloudburst/core/cores"
	"cloudburst/core/cup"
	"cloudburst/core/learn"
	"cloudburst/core/match"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/recipe"
)

// Trial is how a number of makers come to their colours.
type Trial struct {
	Truth
	Targets    int
	Learning   bool
	Calibrated bool // every bottle was measured by chips beforehand
	Reads      int  // how often each look is read; as often as is worth it where 0
	Seed       uint64
}

// Outcome is what a trial came to.
type Outcome struct {
	Targets   int        `json:"targets"`
	Median    float64    `json:"median" doc:"Test batches until the true colour is within ΔE00 2 in the mean"`
	Within1   float64    `json:"within1" doc:"Share that is there with the first"`
	Within2   float64    `json:"within2"`
	Within3   float64    `json:"within3"`
	Covered80 float64    `json:"covered80" doc:"Share of predictions in whose 80 % range the true colour lies"`
	CoveredBy [2]float64 `json:"coveredBy" doc:"The same of the first batches, and of those after"`
	First     float64    `json:"firstDeltaE00" doc:"True ΔE00 of the first batch, median"`
	Last      float64    `json:"worstDeltaE00" doc:"Nearest batch of the target that fared worst"`
	Seconds   float64    `json:"seconds"`
}

// Near is the true ΔE00, in the mean of the looks, at which a maker is there.
const Near = 2.0

// mostBatches is when a maker gives up.
const mostBatches = 5

// Looks are a fin against the light, a body on paper and a body over dark.
var Looks = []mix.Condition{
	{ThicknessMM: 1.5, Ground: optics.Against, Light: colour.D65, State: cup.Rested},
	{ThicknessMM: 8, Ground: optics.White, Light: colour.D65, State: cup.Rested},
	{ThicknessMM: 8, Ground: optics.Dark, Light: colour.D65, State: cup.Rested},
}

// Kit are the spoons of a trial.
var Kit = measure.Kit{SpoonsTSP: []float64{1.0 / 64, 1.0 / 32, 1.0 / 16, 1.0 / 8, 1.0 / 4, 1.0 / 2, 1}, Heaped: 1.4}

// bottles is how long the shelf of a trial is.
const bottles = 48

type one struct {
	batches  int // poured until it was there; 0 for never
	first    float64
	nearest  float64
	covered  [2]int // by the first batch, and by those after it
	foretold [2]int
}

// Run tries it.
func (t Trial) Run(ctx context.Context) (*Outcome, error) {
	began := time.Now()
	all := make([]one, t.Targets)
	if t.Reads == 0 {
		t.Reads = recipe.Times(t.Noise)
	}
	if err := cores.Each(ctx, t.Targets, func(i int) (err error) {
		if all[i], err = t.target(ctx, i); err != nil {
			return fmt.Errorf("target %d: %w", i, err)
		}
		return nil
	}); err != nil {
		return nil, err
	}
	out := &Outcome{Targets: t.Targets}
	var counts, firsts []float64
	var covered, foretold [2]int
	for _, o := range all {
		n := float64(o.batches)
		if o.batches == 0 {
			n = mostBatches + 1
		}
		counts, firsts = append(counts, n), append(firsts, o.first)
		for k := range covered {
			covered[k], foretold[k] = covered[k]+o.covered[k], foretold[k]+o.foretold[k]
		}
		out.Last = max(out.Last, o.nearest)
	}
	slices.Sort(counts)
	slices.Sort(firsts)
	within := func(most float64) float64 {
		i, _ := slices.BinarySearch(counts, most+0.5)
		return float64(i) / float64(t.Targets)
	}
	out.Within1, out.Within2, out.Within3 = within(1), within(2), within(3)
	out.Median, out.First = counts[len(counts)/2], firsts[len(firsts)/2]
	out.Covered80 = float64(covered[0]+covered[1]) / float64(max(1, foretold[0]+foretold[1]))
	for k := range covered {
		out.CoveredBy[k] = float64(covered[k]) / float64(max(1, foretold[k]))
	}
	out.Seconds = time.Since(began).Seconds()
	return out, nil
}

// target is one maker after one colour.
func (t Trial) target(ctx context.Context, n int) (o one, err error) {
	rng := rand.New(rand.NewPCG(t.Seed, uint64(n)))
	shelf, uids, truth := t.rack()
	m := New(shelf, truth, rng)
	made, err := mix.Stir(ptr(hidden(rng, m.bottle, uids)), m.bottle)
	if err != nil {
		return o, err
	}
	w := match.Wish{
		Cup: cup.Cup{
			Volume: measure.Volume{ML: measure.CupML, Typed: "1 cup"}, Plastisol: Base,
		}, Allowed: uids, Most: 4,
	}
	truly, read := make([]colour.Lab, len(Looks)), make([]colour.Lab, len(Looks))
	for i, at := range Looks {
		truly[i] = m.See(made, at)
	}
	var batches []learn.Batch
	var tried []cup.Cup
	o.nearest = math.Inf(1)
	for pour := 1; pour <= mostBatches; pour++ {
		known := batches
		if !t.Learning {
			known = nil
		}
		l, err := learn.From(shelf, known)
		if err != nil {
			return o, err
		}
		// The reference is read again beside each batch, and the mean counts.
		w.Readings = nil
		for i, at := range Looks {
			read[i] = toward(read[i], t.read(m, truly[i]), float64(pour))
			w.Readings = append(
				w.Readings, match.Reading{
					Name: fmt.Sprintf("look %d", i+1), At: at, Weight: 1, Lab: read[i], Device: device,
				},
			)
		}
		steps, err := l.Next(ctx, w, shelf, Kit, tried, w.Cup.Volume)
		if err != nil {
			return o, err
		}
		at := slices.IndexFunc(steps, func(c match.Correction) bool { return c.Kind != "leave" })
		if at < 0 {
			return o, nil
		}
		w.Cup = steps[at].Cup
		tried = append(tried, w.Cup)
		made, err := m.Pour(w.Cup)
		if err != nil {
			return o, err
		}
		sure, err := l.Sure(&w.Cup, Looks)
		if err != nil {
			return o, err
		}
		taught, err := mix.Stir(&w.Cup, l.Shelf(shelf))
		if err != nil {
			return o, err
		}
		b := learn.Batch{UID: fmt.Sprint(pour), Cup: w.Cup}
		mean := 0.0
		for i, at := range Looks {
			is := m.See(made, at)
			mean += colour.DeltaE00(is, truly[i]) / float64(len(Looks))
			o.foretold[min(pour, 2)-1]++
			if colour.DeltaE00(is, taught.Colour(at)) <= sure[i].R80 {
				o.covered[min(pour, 2)-1]++
			}
			b.Readings = append(b.Readings, t.readings(m, is, at, fmt.Sprint(pour, i))...)
		}
		batches = append(batches, b)
		if pour == 1 {
			o.first = mean
		}
		o.nearest = min(o.nearest, mean)
		if mean < Near {
			o.batches = pour
			return o, nil
		}
	}
	return o, nil
}

// rack is the shelf, as it is thought to be, and how far the truth may lie from that.
func (t Trial) rack() (cup.Shelf, []string, Truth) {
	shelf, uids := Rack(t.Seed+1000, bottles)
	truth := t.Truth
	if t.Calibrated {
		truth.Strength, truth.Hue = calibratedStrength, calibratedHue
		for uid, m := range shelf {
			shelf[uid] = m.Measured()
		}
	}
	return shelf, uids, truth
}

// toward is the mean of n readings, whose first n - 1 have the mean was.
func toward(was, now colour.Lab, n float64) colour.Lab {
	return colour.Lab{L: was.L + (now.L-was.L)/n, A: was.A + (now.A-was.A)/n, B: was.B + (now.B-was.B)/n}
}

// readings are those of a look of a batch.
func (t Trial) readings(m *Maker, is colour.Lab, at mix.Condition, uid string) (out []learn.Reading) {
	for n := range t.Reads {
		out = append(
			out, learn.Reading{UID: fmt.Sprint(uid, " ", n), Lab: m.Read(is), At: at, Off: t.Noise, Device: device},
		)
	}
	return out
}

// read is the mean of so many readings of a look.
func (t Trial) read(m *Maker, truly colour.Lab) colour.Lab {
	var sum colour.Lab
	n := float64(t.Reads)
	for range t.Reads {
		one := m.Read(truly)
		sum.L, sum.A, sum.B = sum.L+one.L/n, sum.A+one.A/n, sum.B+one.B/n
	}
	return sum
}

// device reads the reference and the batches.
const device = "the maker's"

// A bottle that was measured by chips is known so well.
const calibratedStrength, calibratedHue = 0.05, 0.03

// hidden is a recipe of 2 to 4 bottles at usual doses, in whole steps.
func hidden(rng *rand.Rand, shelf cup.Shelf, uids []string) cup.Cup {
	c := cup.Cup{Volume: measure.Volume{ML: measure.CupML, Typed: "1 cup"}, Plastisol: Base}
	for _, i := range rng.Perm(len(uids))[:2+rng.IntN(3)] {
		m := shelf[uids[i]]
		from, to := m.Usual()
		step := cup.NextStep(&m, Kit)
		least := max(from.Value, to.Value/12)
		n := math.Round(least * math.Pow(to.Value/least, rng.Float64()) / step.Value)
		if step.Unit == measure.InTeaspoons {
			best, _ := Kit.Round(max(n, 1) * step.Value)
			if n = best.TSP / step.Value; best.Scoops > 3 {
				n = 2
			}
		}
		c.Doses = append(
			c.Doses, cup.Dose{Material: m.UID, Amount: measure.Amount{Value: max(n, 1) * step.Value, Unit: step.Unit}},
		)
	}
	return c
}

func ptr[T any](v T) *T { return &v }
