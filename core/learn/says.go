package learn

import (
	"fmt"
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/recipe"
)

// Of is a batch of which parts were read; named gives the uid of each reading. What was read with one device is off
// together, what was judged by eye is not.
func Of(uid string, c cup.Cup, named []string, list []recipe.PartReading) Batch {
	out := Batch{UID: uid, Cup: c}
	for i := range list {
		r := &list[i]
		device := string(r.How)
		if r.How == recipe.ByEye || r.How == recipe.ByWords {
			device = ""
		}
		out.Readings = append(
			out.Readings, Reading{UID: named[i], Lab: r.Lab, At: r.At(), Off: r.How.Off(), Device: device},
		)
	}
	return out
}

// Says is what was learned of a bottle's strength, in words.
func Says(l *material.Learned) string {
	if l == nil {
		return "Nothing was learned of it yet: read a batch that it is in."
	}
	by := "1 batch"
	if l.Batches > 1 {
		by = fmt.Sprintf("%d batches", l.Batches)
	}
	off := 100 * (math.Exp(l.StrengthSD) - 1)
	times := math.Exp(l.LnStrength)
	const same = 0.02
	what := fmt.Sprintf("%s %% stronger than its figures", measure.Number(100*(times-1), 0))
	switch {
	case math.Abs(times-1) < same:
		what = "as strong as its figures"
	case times < 1:
		what = fmt.Sprintf("%s %% weaker than its figures", measure.Number(100*(1-times), 0))
	}
	return fmt.Sprintf("By %s it is %s, give or take %s %%.", by, what, measure.Number(off, 0))
}

// Change is how a usual dose of a bottle looks by its own figures and by what was learned of it.
type Change struct {
	Before, After []colour.Lab // at ChangeMM
	Differs       colour.Difference
}

// ChangeMM are the thicknesses of a Change; the last one's difference is said.
var ChangeMM = []float64{1, 2, 4, mix.BodyMM}

// ChangeOf is what was learned of a bottle, to be looked at; false where it can't be shown.
func ChangeOf(m material.Material, l *material.Learned, shelf cup.Shelf) (c Change, ok bool) {
	taught := m.Taught(l)
	plain := m.Taught(nil)
	was, _ := mix.Alone(&plain, shelf, m.Middling())
	is, _ := mix.Alone(&taught, shelf, m.Middling())
	if was == nil || is == nil {
		return c, false
	}
	for _, mm := range ChangeMM {
		at := mix.Condition{ThicknessMM: mm, Ground: mix.BestGround(&m), Light: colour.D65, State: cup.Rested}
		c.Before, c.After = append(c.Before, was.Colour(at)), append(c.After, is.Colour(at))
	}
	last := len(ChangeMM) - 1
	c.Differs = colour.Compare(c.After[last], c.Before[last])
	return c, true
}

// Says says what may be wrong with a reading.
func (m Misfit) Says(name string) string {
	return fmt.Sprintf("%s lies ΔE00 %s off what the others make of it: a wrong bottle, another thickness, or bad light? It counts little.",
		name, measure.Number(m.DeltaE00, 0))
}

// SaysOf is how far the prediction of a cup can be trusted, in words; "" where nothing was learned of what is in it.
func (l *Learnt) SaysOf(c *cup.Cup, at mix.Condition) string {
	colours, taught := 0, 0
	for _, d := range c.Doses {
		m := l.p.shelf[d.Material]
		if m.Colourant == nil && m.Powder == nil {
			continue
		}
		colours++
		if l.Bottle(d.Material) != nil {
			taught++
		}
	}
	if taught == 0 {
		return ""
	}
	says := "Measured by your batches"
	if taught < colours {
		says = fmt.Sprintf("%d of %d measured by your batches", taught, colours)
	}
	if sure, err := l.Sure(c, []mix.Condition{at}); err == nil {
		says += fmt.Sprintf(": within ΔE00 %s in four pours of five", measure.Number(sure[0].R80, 1))
	}
	return says + "."
}

// Says is a dose that nobody counted, as the readings have it: with the range in which it lies in four cases of five.
func (u Uncounted) Says(name string, written measure.Amount) string {
	const four = 1.2816 // standard deviations either side of the middle
	value := func(times float64) string {
		a := measure.Amount{Value: written.Value * u.Times * times, Unit: written.Unit}
		if a.Unit == measure.InDrops {
			a.Value = math.Round(a.Value)
		}
		return a.String()
	}
	return fmt.Sprintf(
		"%s: by the readings %s, between %s and %s.", name, value(1), value(math.Exp(-four*u.SD)),
		value(math.Exp(four*u.SD)),
	)
}
