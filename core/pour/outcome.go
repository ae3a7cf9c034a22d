package pour

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"cloudburst/core/cup"
	"cloudburst/core/heat"
	"cloudburst/core/leftover"
	"cloudburst/core/logbook"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/recipe"
)

// Cups are a run's cooks as they stand on the bench when it begins: their plastisol, and what was left and goes in
// first.
func (r *Run) Cups(shelf cup.Shelf) ([]cup.Live, error) {
	var out []cup.Live
	for i := range r.Planned.Cooks {
		c := &r.Planned.Cooks[i]
		part := []rune(c.Name)
		v := cup.Live{
			Cup: cup.Cup{
				Volume: c.Cup.Volume, Plastisol: c.Cup.Plastisol, Doses: []cup.Dose{}, WorkC: c.Cup.WorkC,
				Target: c.Cup.Target,
			},
			Letter: c.Letter, Part: string(part[:min(40, len(part))]),
		}
		if c.LeftML > 0 {
			from := &r.Order.Cups[c.Of].Cup
			finished, err := from.FinishedML(shelf)
			if err != nil {
				return nil, err
			}
			share := c.LeftML / finished
			v.Volume.ML += from.Volume.ML * share
			v.Volume.Typed = measure.Number(v.Volume.ML, 0) + " ml"
			v.Doses = cup.Times(from.Doses, share)
		}
		out = append(out, v)
	}
	return out, nil
}

// OnBench is what a step that is done does to the cup of a cook on the bench, as it stands there. What a hand counted
// in stays as it was counted; what nobody counted went in as planned.
func (r *Run) OnBench(e *Event, cook int, v *cup.Live, shelf cup.Shelf) []cup.Step {
	s := r.step(e.Step)
	if e.Kind == Saw {
		return []cup.Step{{Kind: cup.HeatUp, Typed: celsius(e.C), AtMS: e.AtMS, Sure: true}}
	}
	if e.Kind != Done || s == nil || !slices.Contains(s.Cooks, cook) {
		return nil
	}
	c := &r.Planned.Cooks[cook]
	var out []cup.Step
	switch s.Kind {
	case Measure, Dose, Ready:
		when := map[Kind]When{Measure: Cold, Dose: Colour, Ready: Flake}[s.Kind]
		if s.Kind == Ready && !strings.HasSuffix(s.Key, ".ready1") {
			return nil
		}
		for i, d := range c.Doses {
			if d.When != when {
				continue
			}
			planned := c.Cup.Doses[i].Amount
			before := 0.0 // what came with the leftovers
			if c.LeftML > 0 {
				before = r.cameWith(c, d.Material, shelf)
			}
			if v.AmountOf(d.Material).Value > before+1e-9 {
				continue
			}
			out = append(
				out, cup.Step{Kind: cup.Add, Material: d.Material, Typed: planned.String(), AtMS: e.AtMS, Sure: true},
			)
		}
	case Burst:
		to := e.C
		if to == 0 && strings.Contains(s.Key, ".heat") {
			to = cmp.Or(s.ToC, r.Planned.Heats[c.Of].AimC)
		}
		if to > 0 {
			out = append(out, cup.Step{Kind: cup.HeatUp, Typed: celsius(to), AtMS: e.AtMS, Sure: true})
		}
	case Shoot:
		load := &r.Planned.Shots[s.Shot].Loads[s.Load]
		for n, k := range load.Cooks {
			if k != cook {
				continue
			}
			typed := "all"
			if is, err := v.FinishedML(shelf); err == nil && load.HotML[n]*r.Shrink < is-0.01 {
				typed = fmt.Sprintf("%.7f %%", 100*load.HotML[n]*r.Shrink/is)
			}
			out = append(out, cup.Step{Kind: cup.PourOut, Typed: typed, AtMS: e.AtMS})
		}
	}
	return out
}

func celsius(c float64) string { return measure.Number(c, 1) + " C" }

// cameWith is how much of a material came with what was left.
func (r *Run) cameWith(c *Cook, uid string, shelf cup.Shelf) float64 {
	from := &r.Order.Cups[c.Of].Cup
	finished, err := from.FinishedML(shelf)
	if err != nil {
		return 0
	}
	return from.AmountOf(uid).Value * c.LeftML / finished
}

// InAll is everything that went into a cup on the bench, with what has left it.
func InAll(v *cup.Live) []*cup.Cup {
	out := []*cup.Cup{&v.Cup}
	for i := range v.Out {
		p := &v.Out[i]
		out = append(out, &cup.Cup{Volume: measure.Volume{ML: p.ML}, Plastisol: p.Plastisol, Doses: p.Doses})
	}
	return out
}

// Used is what a run took of the shelf, ml of a liquid and g of a solid: all that went into its cups, less what was
// left of an earlier run.
func (r *Run) Used(cups []cup.Live, shelf cup.Shelf) map[string]float64 {
	var all []*cup.Cup
	for i := range cups {
		all = append(all, InAll(&cups[i])...)
	}
	out := leftover.InCups(shelf, all...)
	for i := range r.Planned.Cooks {
		c := &r.Planned.Cooks[i]
		if c.LeftML <= 0 {
			continue
		}
		from := &r.Order.Cups[c.Of].Cup
		finished, err := from.FinishedML(shelf)
		if err != nil {
			continue
		}
		was := *from
		was.Volume.ML *= c.LeftML / finished
		was.Doses = cup.Times(from.Doses, c.LeftML/finished)
		for uid, amount := range leftover.InCups(shelf, &was) {
			out[uid] = max(0, out[uid]-amount)
		}
	}
	return out
}

// MadeBatch is a batch that a run made of one of its order's cups.
type MadeBatch struct {
	Of int
	recipe.Batch
}

// Batches are what a run writes down of its cups: what really went in, how hot it was, and how many baits came of it.
func (r *Run) Batches(u *Outcome, cups []cup.Live, shelf cup.Shelf) []MadeBatch {
	var out []MadeBatch
	day := time.UnixMilli(u.AtMS).UTC().Format(time.DateOnly)
	for of := range r.Order.Cups {
		b := recipe.Batch{PouredOn: day, Verdict: u.Says(r)}
		var goes []cup.Dose
		left := 0.0
		for i := range r.Planned.Cooks {
			if r.Planned.Cooks[i].Of != of || i >= len(cups) {
				continue
			}
			for _, c := range InAll(&cups[i]) {
				b.Volume.ML += c.Volume.ML
				b.Plastisol = c.Plastisol
				goes = append(goes, c.Doses...)
			}
			for _, h := range cups[i].Heats {
				b.Outcome.HeatsC = append(b.Outcome.HeatsC, h.TempC)
			}
			if i < len(u.LeftML) && u.LeftML[i] > 0 {
				left += u.LeftML[i]
			}
			b.Outcome.PouredML += r.Planned.Cooks[i].NeededML - r.Planned.Cooks[i].LostML
		}
		if b.Volume.ML < 1 {
			continue
		}
		b.Volume.Typed = measure.Number(b.Volume.ML, 0) + " ml"
		b.Outcome.LeftML, b.Outcome.Mold, b.Outcome.Fate = left, r.Order.Molds[0].Mold, "keep"
		if n := len(b.Outcome.HeatsC); n > 40 {
			b.Outcome.HeatsC = b.Outcome.HeatsC[n-40:]
		}
		for _, s := range u.Spoiled {
			for _, d := range recipe.Defects() {
				if (s.Why == string(d) || strings.EqualFold(s.Why, d.Name())) &&
					!slices.Contains(b.Outcome.Defects, d) {
					b.Outcome.Defects = append(b.Outcome.Defects, d)
				}
			}
		}
		all := []cup.Addition{}
		if len(goes) > 0 {
			all = []cup.Addition{{Doses: cup.Sum([]cup.Addition{{Doses: goes}}, shelf)}}
			all[0].Doses = slices.DeleteFunc(all[0].Doses, func(d cup.Dose) bool { return d.Amount.Value <= 0 })
			if len(all[0].Doses) == 0 {
				all = []cup.Addition{}
			}
		}
		b.Additions = all
		out = append(out, MadeBatch{of, b})
	}
	return out
}

// Entry is what a run writes into the logbook.
func (r *Run) Entry(u *Outcome, shelf cup.Shelf) logbook.Entry {
	e := logbook.Entry{
		Title: r.Order.Name, Day: time.UnixMilli(u.AtMS).UTC().Format(time.DateOnly), Words: u.Note, Tags: []string{},
		Good: u.Good,
	}
	for _, s := range u.Spoiled {
		e.Spoiled += s.Count
	}
	for i := range r.Order.Cups {
		if name := r.Order.Cups[i].Name; name != r.Order.Name && len(e.Tags) < 6 {
			letters := []rune(name)
			e.Tags = append(e.Tags, string(letters[:min(20, len(letters))]))
		}
	}
	last := &r.Order.Cups[min(1, len(r.Order.Cups)-1)].Cup // of a laminate, its back
	if m, err := mix.Stir(last, shelf); err == nil {
		lab := m.Colour(mix.Compared)
		e.Colour, e.Recipe = &lab, r.Order.Cups[min(1, len(r.Order.Cups)-1)].Recipe
	}
	e.Tidy()
	return e
}

// Says is an outcome in a line.
func (u *Outcome) Says(r *Run) string {
	says := fmt.Sprintf("%s: %d good", r.Order.Name, u.Good)
	for _, s := range u.Spoiled {
		says += fmt.Sprintf(", %d %s", s.Count, s.Why)
	}
	if u.Note != "" {
		says += ". " + u.Note
	}
	letters := []rune(says)
	return string(letters[:min(900, len(letters))])
}

// Outcome is what came of a run.
type Outcome struct {
	Good    int       `json:"good" minimum:"0" maximum:"5000"`
	Spoiled []Spoiled `json:"spoiled" nullable:"false" maxItems:"20"`
	LeftML  []float64 `json:"leftML" nullable:"false" maxItems:"60" doc:"Of each cook, finished and cold; below 0 where nobody looked"`
	Note    string    `json:"note,omitempty" maxLength:"2000"`
	AtMS    int64     `json:"atMS"`
}

// Spoiled are baits that did not come out, and why.
type Spoiled struct {
	Why   string `json:"why" minLength:"1" maxLength:"60"`
	Count int    `json:"count" minimum:"1" maximum:"5000"`
}

// Check says what is wrong with an outcome.
func (u *Outcome) Check(r *Run) error {
	all := u.Good
	for i, s := range u.Spoiled {
		if s.Count < 1 || s.Count > mostAsked || strings.TrimSpace(s.Why) == "" {
			return measure.Faulty(fmt.Sprintf("spoiled.%d", i), "how many were spoiled, and why?")
		}
		all += s.Count
	}
	made := r.Planned.Made
	switch {
	case u.Good < 0 || u.Good > mostAsked:
		return measure.Faulty("good", "from none to %d baits", mostAsked)
	case all > made+made/4+12:
		return measure.Faulty("good", "%d good and spoiled ones are more than the %d that the molds gave", all, made)
	case len(u.LeftML) > len(r.Planned.Cooks):
		return measure.Faulty("leftML", "this run had %d cups", len(r.Planned.Cooks))
	}
	for i, ml := range u.LeftML {
		if most := r.Planned.Cooks[i].MeasuredML; !(ml <= 1.05*most) {
			return measure.Faulty(
				fmt.Sprintf("leftML.%d", i), "%s ml are more than the %s ml that were in cup %s", measure.Number(ml, 0),
				measure.Number(most, 0), r.Planned.Cooks[i].Letter,
			)
		}
	}
	return measure.CheckNote("note", u.Note)
}

// Doubt is Check, and asks back where more came out than was filled: it may be so, by a fill more than planned, or be a
// slip of the finger.
func (u *Outcome) Doubt(r *Run) error {
	if err := u.Check(r); err != nil {
		return err
	}
	all := u.Good
	for _, s := range u.Spoiled {
		all += s.Count
	}
	if made := r.Planned.Made; all > made {
		return &measure.Fault{
			Field: "good", Ask: true,
			Says: fmt.Sprintf(
				"%d good and spoiled ones are more than the %d that were filled. Meant so? End it once more to keep it.", all, made,
			),
		}
	}
	return nil
}

// Short is how many baits are lacking.
func (u *Outcome) Short(r *Run) int {
	asked := 0
	for _, m := range r.Order.Molds {
		asked += m.Count
	}
	return max(0, asked-u.Good)
}

// Again is the order for what is lacking, with what is left of its cups; of several molds, each gets its share.
func (u *Outcome) Again(r *Run) (Order, bool) {
	short := u.Short(r)
	if short == 0 {
		return Order{}, false
	}
	o := r.Order
	asked := 0
	for _, m := range o.Molds {
		asked += m.Count
	}
	o.Molds = nil
	left := short
	for i, m := range r.Order.Molds {
		n := min(left, int(math.Ceil(float64(short*m.Count)/float64(asked))))
		if i == len(r.Order.Molds)-1 {
			n = left
		}
		if n > 0 {
			m.Count = n
			o.Molds = append(o.Molds, m)
			left -= n
		}
	}
	o.Later = nil
	name := []rune(r.Order.Name + ", the rest")
	o.Name = string(name[:min(80, len(name))])
	o.LeftML = make([]float64, len(o.Cups))
	for i, ml := range u.LeftML {
		o.LeftML[r.Planned.Cooks[i].Of] += max(0, ml)
	}
	return o, true
}

// priorCooks is how many cooks the usual loss counts for.
const priorCooks = 3.0

// Learn is the bench with what a run taught of what stays in a cup: what was measured, less what was drawn and what was
// left.
func (e Equipment) Learn(r *Run, u *Outcome) Equipment {
	drawn := make([]float64, len(r.Planned.Cooks))
	for _, s := range r.Planned.Shots {
		for _, l := range s.Loads {
			for i, k := range l.Cooks {
				drawn[k] += l.HotML[i] * e.Shrink
			}
		}
	}
	for i, ml := range u.LeftML {
		if ml < 0 {
			continue
		}
		lost := (r.Planned.Cooks[i].MeasuredML - drawn[i] - ml) / e.Shrink
		if lost < -0.1*r.Planned.Cooks[i].MeasuredML || lost > 100 {
			continue // somebody measured wrong
		}
		n := priorCooks + float64(e.LossRuns)
		e.CupLossML = max(0, min(100, (e.CupLossML*n+lost)/(n+1)))
		e.LossRuns++
	}
	return e
}

// leastKeptML is less than anybody keeps.
const leastKeptML = 2.0

// Leftovers are what a run leaves: the rest of each cup, its sprues and plugs together, its spoiled baits. doses are
// the heat doses of its cooks.
func (r *Run) Leftovers(u *Outcome, cups []cup.Live, doses []float64, shelf cup.Shelf) []leftover.Leftover {
	of := leftover.DensitiesOf(shelf)
	day := time.UnixMilli(u.AtMS).UTC().Format(time.DateOnly)
	var out []leftover.Leftover
	add := func(name string, kind leftover.Kind, t leftover.Tub) {
		if t.ML(of) < leastKeptML {
			return
		}
		letters := []rune(name)
		out = append(
			out,
			leftover.Leftover{
				Name: string(letters[:min(80, len(letters))]), From: r.Order.Name, Kind: kind, Day: day, Tub: t,
			},
		)
	}
	// So much of a cook, as it was.
	some := func(k int, ml float64) leftover.Tub {
		c := &cups[k].Cup
		h := leftover.History{HeatsMean: 1, HeatsMost: 1}
		if w := cups[k].WarmthAt(u.AtMS); w != nil {
			h.HeatsMean, h.HeatsMost = float64(max(1, w.Heats)), float64(max(1, w.Heats))
		}
		if k < len(doses) {
			h.DoseMean, h.DoseMost = doses[k], doses[k]
		}
		t := leftover.OfCup(c, h, shelf)
		has := t.ML(of)
		for uid := range t.In {
			t.In[uid] *= ml / has
		}
		return t
	}
	for k := range cups {
		if k < len(u.LeftML) && u.LeftML[k] > 0 {
			add(r.Planned.Cooks[k].Name, leftover.RestOfCup, some(k, u.LeftML[k]))
		}
	}
	drawn, all := make([]float64, len(cups)), 0.0
	for _, s := range r.Planned.Shots {
		for _, l := range s.Loads {
			for i, k := range l.Cooks {
				if k < len(drawn) {
					drawn[k] += l.HotML[i]
					all += l.HotML[i]
				}
			}
		}
	}
	mix := func(ml float64) leftover.Tub {
		var t leftover.Tub
		for k := range drawn {
			if all > 0 && drawn[k] > 0 {
				t.Put(some(k, ml*drawn[k]/all), of)
			}
		}
		return t
	}
	sprues, baits := 0.0, 0.0
	for _, g := range r.Planned.Goes {
		switch {
		case g.What == goesBaits:
			baits = g.ML
		case g.Left && g.What != goesRest:
			sprues += g.ML
		}
	}
	add("Sprues of "+r.Order.Name, leftover.Sprues, mix(sprues))
	spoiled := 0
	for _, s := range u.Spoiled {
		spoiled += s.Count
	}
	if r.Planned.Made > 0 && spoiled > 0 {
		add("Spoiled baits of "+r.Order.Name, leftover.Spoiled, mix(baits*float64(spoiled)/float64(r.Planned.Made)))
	}
	return out
}

// HeatDoses are the heat doses that a run's cooks have taken, minutes at 350 °F, along their curves.
func (s *RunState) HeatDoses() []float64 {
	out := make([]float64, len(s.Timeline.Curves))
	for i, c := range s.Timeline.Curves {
		for _, v := range c.C {
			out[i] += heat.DoseRate(v) * TickS / 60
		}
	}
	return out
}
