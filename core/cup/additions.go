package cup

import (
	"fmt"
	"slices"
	"strings"

	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// Timed is a step with the time at which it was taken, and the cup after it.
type Timed struct {
	Step  Step  `json:"step"`
	AtMS  int64 `json:"atMS"`
	After Cup   `json:"after"`
}

// Addition is one round of dripping: some drops of some bottles, then a look.
type Addition struct {
	Doses []Dose `json:"doses" nullable:"false" maxItems:"60"`
}

// Sum adds additions up, bottle by bottle, in the order in which each first went in. What was dosed in two units is
// summed in the first.
func Sum(additions []Addition, shelf Shelf) []Dose {
	var sum []Dose
	for _, g := range additions {
		for _, d := range g.Doses {
			at := slices.IndexFunc(sum, func(s Dose) bool { return s.Material == d.Material })
			if at < 0 {
				sum = append(sum, d)
				continue
			}
			m := shelf[d.Material]
			sum[at].Amount = plus(sum[at].Amount, d.Amount, &m)
		}
	}
	for i := range sum {
		sum[i].Typed = sum[i].Amount.String()
	}
	return sum
}

// plus adds two amounts of a material, in the unit of the first.
func plus(a, b measure.Amount, m *material.Material) measure.Amount {
	if sum, ok := a.Plus(b); ok {
		return sum
	}
	convert := func(v float64) float64 {
		_, g, err := m.Take(measure.Amount{Value: v, Unit: b.Unit})
		if err != nil {
			return 0
		}
		in, err := m.In(a.Unit, g)
		if err != nil {
			return 0
		}
		return in.Value
	}
	sum, _ := a.Plus(measure.Amount{Value: convert(b.Value), Unit: a.Unit, Low: convert(b.Low), High: convert(b.High)})
	return sum
}

// PauseMS is how long nothing is added before the next addition begins.
const PauseMS = 20_000

// Additions are what went into a cup, those without a pause between them as one: a pause, or anything else that is
// done, ends it. What was typed as a dose is the difference to what was there. before is the cup before the first step.
func Additions(before Cup, steps []Timed) []Addition {
	var additions []Addition
	var open *Addition
	var last int64
	was := before
	for _, t := range steps {
		earlier := was
		was = t.After
		if t.Step.Kind != Drip && t.Step.Kind != Add && t.Step.Kind != SetDose {
			open = nil
			continue
		}
		now, then := was.AmountOf(t.Step.Material), earlier.AmountOf(t.Step.Material)
		if now.Unit != then.Unit {
			then = measure.Amount{Unit: now.Unit}
		}
		more := measure.Amount{Value: now.Value - then.Value, Unit: now.Unit}
		if now.Estimated() {
			more.Low, more.High = max(0, now.Low-then.Value), now.High-then.Value
		}
		if open == nil || t.AtMS-last > PauseMS {
			additions = append(additions, Addition{})
			open = &additions[len(additions)-1]
		}
		last = t.AtMS
		open.add(t.Step.Material, more)
	}
	out := []Addition{}
	for _, g := range additions {
		if g.tidy(); len(g.Doses) > 0 {
			out = append(out, g)
		}
	}
	return out
}

func (g *Addition) add(uid string, a measure.Amount) {
	for i := range g.Doses {
		if g.Doses[i].Material == uid {
			if sum, ok := g.Doses[i].Amount.Plus(a); ok {
				g.Doses[i].Amount = sum
			}
			return
		}
	}
	g.Doses = append(g.Doses, Dose{Material: uid, Amount: a})
}

// tidy drops what was taken back within the addition, and words the rest.
func (g *Addition) tidy() {
	var kept []Dose
	for _, d := range g.Doses {
		if d.Amount.Value > 0 {
			d.Typed = d.Amount.String()
			kept = append(kept, d)
		}
	}
	g.Doses = kept
}

// Typed is one dose as it is typed.
type Typed struct {
	Material string `json:"material" maxLength:"64" format:"uid"`
	Typed    string `json:"typed" maxLength:"200" doc:"12 drops, 1/8 tsp, 2 g"`
}

// ReadAdditions reads what went into a cup, round by round.
func ReadAdditions(rounds [][]Typed, volumeML float64, shelf Shelf, kit measure.Kit) ([]Addition, error) {
	out := []Addition{}
	for i, round := range rounds {
		a := Addition{Doses: []Dose{}}
		for j, d := range round {
			m := shelf[d.Material]
			amount, err := kit.ParseDose(d.Typed, m.Form(), volumeML)
			if err != nil {
				return nil, measure.Faulty(fmt.Sprintf("additions[%d].doses[%d]", i, j), "%s", err)
			}
			a.Doses = append(a.Doses, Dose{Material: d.Material, Typed: strings.TrimSpace(d.Typed), Amount: amount})
		}
		out = append(out, a)
	}
	return out, nil
}

// Gone is what a live cup was poured as: what went in, addition by addition, of how much plastic.
type Gone struct {
	Volume    measure.Volume
	Additions []Addition
	PouredML  float64 // of plastic, last
	LeftML    float64 // of plastic, in the cup
	HeatsC    []float64
}

// AsPoured says what a batch that was poured of a cup had in it. start is the cup as it came to the bench, steps what
// was done to it since. Where each thing that is in it went in by an addition, those are kept; where something was
// poured, swapped or taken out in between, what counts is what is in it, as one addition, in as much as there was
// before the last pour.
func (v *Live) AsPoured(start Cup, steps []Timed, shelf Shelf) (Gone, error) {
	finished, err := v.FinishedML(shelf)
	if err != nil {
		return Gone{}, err
	}
	out := Gone{Volume: v.Volume, LeftML: finished}
	for _, h := range v.Heats {
		out.HeatsC = append(out.HeatsC, h.TempC)
	}
	if len(v.Out) == 0 {
		if len(start.Doses) > 0 {
			out.Additions = append(out.Additions, Addition{Doses: start.Doses})
		}
		out.Additions = append(out.Additions, Additions(start, steps)...)
		is, was := v.Cup, v.Filled()
		if is.Doses = Sum(out.Additions, shelf); is.Same(&was) {
			return out, nil
		}
	}
	times := 1.0
	if n := len(v.Out); n > 0 {
		last := v.Out[n-1]
		times = 1 / (1 - last.Share)
		out.PouredML = finished * last.Share * times
		out.Volume.ML *= times
		out.Volume.Typed = measure.Number(out.Volume.ML, 0) + " ml"
	}
	out.Additions = []Addition{}
	if whole := (Cup{Doses: Times(v.Doses, times)}).Filled(); len(whole.Doses) > 0 {
		out.Additions = append(out.Additions, Addition{Doses: whole.Doses})
	}
	return out, nil
}
