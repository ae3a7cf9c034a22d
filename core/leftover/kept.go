package leftover

import (
	"maps"
	"math"
	"slices"
	"strings"

	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// Leftover is plastic that is kept: what is in it, where it came from, how tired it is.
type Leftover struct {
	Name string `json:"name" minLength:"1" maxLength:"80"`
	From string `json:"from,omitempty" maxLength:"200" doc:"Where it came from, in words"`
	Kind Kind   `json:"kind" enum:"cup,sprues,spoiled,mixed,guessed"`
	Note string `json:"note,omitempty" maxLength:"2000"`
	Day  string `json:"day" maxLength:"10" doc:"Since when, YYYY-MM-DD"`
	Tub
}

// Kind is what a leftover is.
type Kind string

// The kinds.
const (
	RestOfCup Kind = "cup"
	Sprues    Kind = "sprues"
	Spoiled   Kind = "spoiled"
	Mixed     Kind = "mixed"
	Guessed   Kind = "guessed"
)

// DensitiesOf are those of a shelf's solids.
func DensitiesOf(shelf cup.Shelf) Densities {
	return func(uid string) float64 {
		if m, ok := shelf[uid]; ok && m.Form() == measure.Solid {
			return m.DensityGML()
		}
		return 0
	}
}

// OfCup is all that is in a cup.
func OfCup(c *cup.Cup, h History, shelf cup.Shelf) Tub {
	in := InCups(shelf, c)
	maps.DeleteFunc(in, func(_ string, n float64) bool { return n <= 0 })
	return Tub{In: in, History: h}
}

// InCups adds up what is in cups, by the shelf's things: ml of a liquid, g of a solid.
func InCups(shelf cup.Shelf, cups ...*cup.Cup) map[string]float64 {
	out := map[string]float64{}
	for _, c := range cups {
		out[c.Plastisol] += c.Volume.ML
		for _, d := range c.Doses {
			m := shelf[d.Material]
			ml, g, err := m.Take(d.Amount)
			switch {
			case err != nil:
			case m.Form() == measure.Liquid:
				out[d.Material] += ml
			default:
				out[d.Material] += g
			}
		}
	}
	return out
}

// Cup is a tub as a cup: of the plastisol that it has most of, with all else as doses in ml and g.
func (t *Tub) Cup(shelf cup.Shelf) (cup.Cup, error) {
	c := cup.Cup{Doses: []cup.Dose{}}
	most := 0.0
	for uid, n := range t.In {
		if m := shelf[uid]; m.Plastisol != nil && (n > most || n == most && uid < c.Plastisol) {
			c.Plastisol, most = uid, n
		}
	}
	if most <= 0 {
		return c, measure.Faulty("in", "there is no plastisol in this leftover; say what it was made of")
	}
	c.Volume = measure.Volume{ML: most, Typed: measure.Number(most, 1) + " ml"}
	for _, uid := range slices.Sorted(maps.Keys(t.In)) {
		if uid == c.Plastisol || t.In[uid] <= 0 {
			continue
		}
		m, ok := shelf[uid]
		if !ok {
			return c, measure.Faulty("in", "one of the things in it is no longer on the shelf")
		}
		a := measure.Amount{Value: t.In[uid], Unit: measure.InML}
		if m.Form() == measure.Solid {
			a.Unit = measure.InGrams
		} else if drop := m.DropML(); drop > 0 && m.Colourant != nil && t.In[uid]/drop <= cup.MaxDropsPerCup*most/measure.CupML { // what was dripped is said in drops
			a = measure.Amount{Value: t.In[uid] / drop, Unit: measure.InDrops}
		}
		c.Doses = append(c.Doses, cup.Dose{Material: uid, Typed: a.String(), Amount: a})
	}
	return c, nil
}

// Check says what is wrong with a leftover.
func (l *Leftover) Check(shelf cup.Shelf) error {
	if err := measure.CheckName("name", "the leftover", l.Name, 80); err != nil {
		return err
	}
	if err := measure.CheckNote("note", l.Note); err != nil {
		return err
	}
	if len(l.Note) > 2000 || len(l.From) > 200 {
		return measure.Faulty("note", "a note has up to 2,000 letters")
	}
	if !slices.Contains([]Kind{RestOfCup, Sprues, Spoiled, Mixed, Guessed}, l.Kind) {
		return measure.Faulty("kind", "a leftover is the rest of a cup, sprues, spoiled baits, mixed or guessed")
	}
	if ml := l.ML(DensitiesOf(shelf)); !(ml >= 0.5 && ml <= 100_000) {
		return measure.Faulty("ml", "a leftover has from half a ml to 100 litres")
	}
	if h := l.History; !(h.HeatsMean >= 0 && h.HeatsMost <= 200 && h.DoseMean >= 0 && h.DoseMost <= 10_000) {
		return measure.Faulty("heats", "plastic is heated from never to 200 times")
	}
	_, err := l.Cup(shelf)
	return err
}

// Names are what is in it, most of it first.
func (t *Tub) Names(shelf cup.Shelf) string {
	uids := slices.SortedFunc(maps.Keys(t.In), func(a, b string) int {
		switch {
		case t.In[a] > t.In[b]:
			return -1
		case t.In[a] < t.In[b]:
			return 1
		}
		return strings.Compare(a, b)
	})
	var out []string
	for _, uid := range uids {
		out = append(out, shelf[uid].Name)
	}
	return strings.Join(out, ", ")
}

// UsualHeatMin is the heat dose of a heat, minutes at 350 °F, where nobody knows it. A starting value.
const UsualHeatMin = 4.0

// How tired plastic is by what heat has done to it, minutes at 350 °F. Starting values.
const (
	freshMin  = 8.0
	tiredMin  = 25.0
	spentMin  = 60.0
	yellowMin = 12.0 // after so long the base is twice as yellow
	greyMin   = 60.0 // and flake whose limit is 350 °F has lost this much of its shine
	greys     = 0.5
)

// Tired says how tired plastic is, and what it is still good for.
func (h History) Tired() string {
	switch {
	case h.DoseMost >= spentMin:
		return "Spent: brown, and weak. Throw it away by your local rules."
	case h.DoseMost >= tiredMin:
		return "Tired: its base has yellowed, flake has dulled. For dark and brown colours."
	case h.DoseMost >= freshMin || h.HeatsMost >= 3:
		return "A little yellow: good for all but white and clear baits."
	}
	return "As good as fresh."
}

// Aged is a shelf as the things in a cup are after such a heat dose: its plastisol yellowed, slower with stabiliser in
// it, sensitive flake dulled.
func Aged(shelf cup.Shelf, c *cup.Cup, doseMin float64) cup.Shelf {
	if doseMin <= 0 {
		return shelf
	}
	out := maps.Clone(shelf)
	slow := 1.0
	for _, d := range c.Doses {
		m := shelf[d.Material]
		if m.Additive != nil && m.Additive.Role == material.Stabiliser {
			if ml, _, err := m.Take(d.Amount); err == nil {
				usual := (m.Additive.Usual[0] + m.Additive.Usual[1]) / 2 * c.Volume.ML / measure.CupML
				slow = 1 + 1.5*min(2, ml/max(0.01, usual))
			}
		}
	}
	age := func(uid string) {
		m := out[uid]
		switch {
		case m.Plastisol != nil:
			p := *m.Plastisol
			p.Optics.YellowPerMM *= 1 + doseMin/slow/yellowMin
			m.Plastisol = &p
		case m.Flake != nil && m.Heat != nil && m.Heat.MaxC > 0 && m.Heat.Origin != material.NoneSaid:
			f := *m.Flake
			lost := 1 - greys*min(1, doseMin/greyMin*doubles(m.Heat.MaxC))
			f.Optics.Top *= lost
			f.Optics.Floor *= lost
			m.Flake = &f
		default:
			return
		}
		out[uid] = m
	}
	age(c.Plastisol)
	for _, d := range c.Doses {
		age(d.Material)
	}
	return out
}

// doubles is by how much more heat does to flake whose limit is lower than 350 °F: twice for each 18 °F, as
// everything by heat.
func doubles(maxC float64) float64 {
	return min(8, math.Exp2((limitC-maxC)/10))
}

const limitC = 176.7
