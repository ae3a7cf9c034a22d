package leftover

import (
	"maps"
	"math"

	"cloudburst/core/measure"
)

// Densities gives the true density of a solid by its uid, g/ml; 0 for a liquid, which is counted in ml.
type Densities func(uid string) float64

// Tub is an amount of plastic.
type Tub struct {
	In map[string]float64 `json:"in" nullable:"false" doc:"ml of a liquid, g of a solid, by uid; plastisol is one of them"`
	History
}

// History is the heat that plastic has taken: in the mean over its volume, and at most over what is in it. Fresh
// plastic that is added lowers the mean and never the most: a scorched half stays scorched.
type History struct {
	HeatsMean float64 `json:"heatsMean"`
	HeatsMost float64 `json:"heatsMost"`
	DoseMean  float64 `json:"doseMean" doc:"Minutes at 350 °F"`
	DoseMost  float64 `json:"doseMost"`
}

// ML is its volume.
func (t *Tub) ML(of Densities) float64 {
	sum := 0.0
	for uid, n := range t.In {
		sum += volume(uid, n, of)
	}
	return sum
}

func volume(uid string, n float64, of Densities) float64 {
	if d := of(uid); d > 0 {
		return n / d
	}
	return n
}

// PerLitre is what is in a litre of it; nil of an empty one.
func (t *Tub) PerLitre(of Densities) map[string]float64 {
	ml := t.ML(of)
	if ml <= 0 {
		return nil
	}
	out := make(map[string]float64, len(t.In))
	for uid, n := range t.In {
		out[uid] = 1000 * n / ml
	}
	return out
}

// Empty says whether nothing is in it.
func (t *Tub) Empty() bool { return len(t.In) == 0 }

// Heat heats it once more.
func (t *Tub) Heat(doseMin float64) {
	if t.Empty() {
		return
	}
	t.HeatsMean, t.HeatsMost = t.HeatsMean+1, t.HeatsMost+1
	t.DoseMean, t.DoseMost = t.DoseMean+doseMin, t.DoseMost+doseMin
}

// Put puts another amount to it.
func (t *Tub) Put(o Tub, of Densities) {
	if o.Empty() {
		return
	}
	a, b := t.ML(of), o.ML(of)
	if t.In == nil {
		t.In = map[string]float64{}
	}
	for uid, n := range o.In {
		t.In[uid] += n
	}
	mean := func(x, y float64) float64 {
		if a+b <= 0 {
			return max(x, y)
		}
		return (a*x + b*y) / (a + b)
	}
	t.History = History{
		mean(t.HeatsMean, o.HeatsMean), max(t.HeatsMost, o.HeatsMost),
		mean(t.DoseMean, o.DoseMean), max(t.DoseMost, o.DoseMost),
	}
}

// Add puts fresh things to it, that were never heated.
func (t *Tub) Add(fresh map[string]float64, of Densities) {
	in := maps.Clone(fresh)
	maps.DeleteFunc(in, func(_ string, n float64) bool { return n <= 0 })
	t.Put(Tub{In: in}, of)
}

// sameML is within what two volumes count as the same: what is left of a tub below that is nothing.
const sameML = 1e-9

// Take takes so much out of it.
func (t *Tub) Take(ml float64, of Densities) (Tub, error) {
	whole := t.ML(of)
	switch {
	case !(ml > 0) || math.IsInf(ml, 0):
		return Tub{}, measure.Faulty("ml", "how much is taken out of it?")
	case ml > whole+sameML:
		return Tub{}, measure.Faulty(
			"ml", "%s ml is more than the %s ml that are left of it", measure.Number(ml, 1), measure.Number(whole, 1),
		)
	case ml > whole-sameML:
		return t.TakeAll(), nil
	}
	out := Tub{In: make(map[string]float64, len(t.In)), History: t.History}
	for uid, n := range t.In {
		out.In[uid] = n * ml / whole
		t.In[uid] = n * (1 - ml/whole)
	}
	return out, nil
}

// TakeAll takes all of it: an empty tub has no history.
func (t *Tub) TakeAll() Tub {
	out := *t
	*t = Tub{}
	return out
}

// Of is so much of a mix by what is in a litre of it; what is not named is the base.
func Of(ml float64, perLitre map[string]float64, base string, h History, of Densities) Tub {
	t := Tub{In: map[string]float64{}, History: h}
	rest := ml
	for uid, n := range perLitre {
		in := n * ml / 1000
		t.In[uid] = in
		rest -= volume(uid, in, of)
	}
	t.In[base] += rest
	return t
}
