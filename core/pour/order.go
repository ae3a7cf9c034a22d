package pour

import (
	"cmp"
	"fmt"
	"slices"

	"cloudburst/core/bait"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/plan"
)

// Order is what is to be poured: what from, into which molds, how many.
type Order struct {
	Name         string         `json:"name" minLength:"1" maxLength:"80"`
	Bait         string         `json:"bait,omitempty" maxLength:"64" format:"uid" doc:"uid of the bait that it was made from"`
	Cups         []Poured       `json:"cups" nullable:"false" minItems:"1" maxItems:"8" doc:"What it is poured from, as it was then"`
	Structure    bait.Structure `json:"structure"`
	Molds        []Asked        `json:"molds" nullable:"false" minItems:"1" maxItems:"8"`
	SparePercent float64        `json:"sparePercent" minimum:"0" maximum:"100" doc:"Baits more than asked"`
	Whole        bool           `json:"whole" doc:"The last fill takes every cavity; else as many as are needed"`
	Warm         bool           `json:"warm" doc:"Molds are warmed first; else they are cold"`
	Degas        Degas          `json:"degas" enum:"none,raw,hot"`
	ColourRaw    bool           `json:"colourRaw,omitempty" doc:"Colour goes into the raw, milky cup; else into the hot, clear one"`
	Later        []Later        `json:"later,omitempty" maxItems:"60" doc:"Steps that were moved by hand"`
	LeftML       []float64      `json:"leftML,omitempty" maxItems:"8" doc:"Of each cup, what is left of an earlier run and goes in first"`
	PackOf       int            `json:"packOf" minimum:"0" maximum:"1000" doc:"Baits to a pack; 0 where they are not packed"`
}

// Later is a step that a hand moved: it does not begin before.
type Later struct {
	Step string `json:"step" maxLength:"60"`
	Tick int    `json:"tick" minimum:"0" maximum:"2000"`
}

// Degas says when air is drawn out of a cup.
type Degas string

// The schools: not at all, in the raw, milky cup, in the hot, clear one.
const (
	NoDegas  Degas = "none"
	RawDegas Degas = "raw"
	HotDegas Degas = "hot"
)

// Poured is one cup of it.
type Poured struct {
	Name     string  `json:"name" minLength:"1" maxLength:"80"`
	Cup      cup.Cup `json:"cup"`
	PourC    float64 `json:"pourC" minimum:"0" maximum:"260" doc:"How hot it is shot"`
	From     string  `json:"from,omitempty" maxLength:"64" format:"uid" doc:"uid of the cup on the bench that it was read from"`
	Recipe   string  `json:"recipe,omitempty" maxLength:"64" format:"uid"`
	Revision int     `json:"revision,omitempty"`
}

// Asked is a mold with how many baits of it are wanted.
type Asked struct {
	Mold   string `json:"mold" maxLength:"64" format:"uid" doc:"uid of a mold, or the key of a shape"`
	Count  int    `json:"count" minimum:"1" maximum:"5000"`
	Copies int    `json:"copies" minimum:"1" maximum:"24" doc:"How many of this mold are at hand"`
}

const mostAsked = 5000

// Check says what is wrong with an order.
func (o *Order) Check(shelf cup.Shelf) error {
	if err := measure.CheckName("name", "what is poured", o.Name, 80); err != nil {
		return err
	}
	if len(o.Cups) == 0 || len(o.Cups) > bait.MaxCups {
		return measure.Faulty("cups", "choose what is poured: a recipe, or a bait whose cups are all chosen")
	}
	for i := range o.Cups {
		c := &o.Cups[i]
		if !(c.PourC >= 0 && c.PourC <= measure.MaxC) {
			return measure.Faulty(fmt.Sprintf("cups.%d.pourC", i), "a cup is shot at up to 260 °C (500 °F)")
		}
		if err := c.Cup.Check(shelf); err != nil {
			return measure.Faulty(fmt.Sprintf("cups.%d", i), "%s: %s", c.Name, err)
		}
	}
	if len(o.Molds) == 0 || len(o.Molds) > 8 {
		return measure.Faulty("molds", "choose one to eight molds")
	}
	seen := map[string]bool{}
	for i, m := range o.Molds {
		field := fmt.Sprintf("molds.%d.", i)
		switch {
		case m.Count < 1 || m.Count > mostAsked:
			return measure.Faulty(field+"count", "how many baits? From 1 to %d are planned at once", mostAsked)
		case m.Copies < 1 || m.Copies > 24:
			return measure.Faulty(field+"copies", "how many of this mold are there? From 1 to 24")
		case seen[m.Mold]:
			return measure.Faulty(field+"mold", "this mold is there twice; give its baits in one line")
		}
		seen[m.Mold] = true
	}
	switch {
	case !(o.SparePercent >= 0 && o.SparePercent <= 100):
		return measure.Faulty("sparePercent", "spares: from none to as many again (100 %%)")
	case !slices.Contains([]Degas{NoDegas, RawDegas, HotDegas}, o.Degas):
		return measure.Faulty("degas", "air is drawn out not at all, raw, or hot")
	case len(o.LeftML) > len(o.Cups) || slices.ContainsFunc(
		o.LeftML, func(ml float64) bool { return !(ml >= 0 && ml <= 10_000) },
	):
		return measure.Faulty("leftML", "what is left of a cup is 0 to 10,000 ml")
	case o.PackOf < 0 || o.PackOf > 1000:
		return measure.Faulty("packOf", "a pack holds up to 1,000 baits")
	}
	if st := o.Structure.Cups(); st > len(o.Cups) {
		return measure.Faulty("cups", "this bait takes %d cups, and only %d are chosen", st, len(o.Cups))
	}
	return nil
}

// Way is how a shot gets into the mold.
type Way string

// The ways.
const (
	ByHand Way = "hand"  // from the cup
	Shot   Way = "shot"  // by an injector
	Laid   Way = "laid"  // dotted or laid on the mold, before the rest
	Tails  Way = "tails" // shot whole, of which a tail is cut off and laid back in
	Rods   Way = "rods"  // into the hole that rods leave
)

// shot is a shot of an order: which of its parts go in at once.
type shot struct {
	way   Way
	name  string
	parts []part
}

// part is what one cup gives to a shot, ml of one cavity by mold.
type part struct {
	cup         int
	fills, kept map[string]float64
}

func (p *part) add(mold string, fills, kept float64) {
	p.fills[mold] += fills
	p.kept[mold] += kept
}

// of finds a cup's part in a shot, and makes it where there is none.
func (s *shot) of(cup int) *part {
	for i := range s.parts {
		if s.parts[i].cup == cup {
			return &s.parts[i]
		}
	}
	s.parts = append(s.parts, part{cup, map[string]float64{}, map[string]float64{}})
	return &s.parts[len(s.parts)-1]
}

// Molds finds molds by uid.
type Molds map[string]*bait.Mold

// first is the mold that decides how a bait is made: open or shot.
func (o *Order) first(molds Molds) *bait.Mold { return molds[o.Molds[0].Mold] }

// fitted is the structure as it lies in a mold; of several molds, what was laid out for the first is kept inside the
// others.
func (o *Order) fitted(m *bait.Mold) bait.Structure {
	st := o.Structure
	st.Layers = slices.Clone(st.Layers)
	st.Bars, st.Spots = slices.Clone(st.Bars), slices.Clone(st.Spots)
	if st.Core != nil {
		c := *st.Core
		st.Core = &c
	}
	if st.Skin != nil {
		k := *st.Skin
		st.Skin = &k
	}
	if st.Tail != nil {
		t := *st.Tail
		st.Tail = &t
	}
	s := m.Bait()
	if st.Check(&s) != nil {
		st.Refit(m)
	}
	return st
}

// shots lays an order out as shots, one after the other: tails first, as they are cut and laid back in; then what is
// dotted onto the mold; the body, all at once or layer by layer; a core last.
func (o *Order) shots(molds Molds) ([]shot, error) {
	poured := o.first(molds).Poured
	var tails, laid, rods shot
	tails.way, tails.name = Tails, "tails"
	laid.way, laid.name = Laid, laidWords(o)
	rods.way, rods.name = Rods, "core"
	body := []shot{{way: Shot, name: "body"}}
	if poured {
		body = nil
		for _, l := range o.Structure.Layers {
			body = append(body, shot{way: ByHand, name: l.Name})
		}
	}
	for _, asked := range o.Molds {
		m := molds[asked.Mold]
		if m == nil {
			return nil, measure.Faulty("molds", "one of the molds is no longer there; choose another")
		}
		if m.Poured != poured {
			return nil, measure.Faulty(
				"molds", "%s is %s; plan open molds and shot ones apart", m.Name,
				map[bool]string{true: "poured open", false: "shot"}[m.Poured],
			)
		}
		st := o.fitted(m)
		parts, _ := m.Takes(&st, len(o.Cups))
		for i, p := range parts {
			switch {
			case i < len(st.Layers):
				b := &body[0]
				if poured {
					b = &body[i]
				}
				b.of(p.Cup).add(asked.Mold, p.ML, p.ML)
			case p.Name == "core":
				rods.of(p.Cup).add(asked.Mold, p.ML, p.ML)
			case p.Name == "set-in tail":
				tails.of(p.Cup).add(asked.Mold, m.VolumeML(), p.ML)
			default:
				laid.of(p.Cup).add(asked.Mold, p.ML, p.ML)
			}
		}
	}
	if poured && o.first(molds).Lies == bait.BackDown {
		slices.Reverse(body)
	}
	if poured {
		tails.way, rods.way = ByHand, ByHand
	}
	var out []shot
	for _, s := range append(append([]shot{tails, laid}, body...), rods) {
		s.parts = slices.DeleteFunc(s.parts, func(p part) bool {
			sum := 0.0
			for _, ml := range p.fills {
				sum += ml
			}
			return sum <= 0
		})
		if len(s.parts) > 0 {
			out = append(out, s)
		}
	}
	if len(out) == 0 {
		return nil, measure.Faulty("structure", "this bait takes no plastic; look at its layers")
	}
	return out, nil
}

// byHand says whether a shot goes without an injector.
func (s *shot) byHand() bool { return s.way == ByHand || s.way == Laid }

// rig is what shoots a shot: an injector with a barrel for each part, or as many single ones and a block to join them.
type rig struct {
	name              string
	ml, plugML, purge float64
}

// rigs lists what could shoot so many parts at once.
func (e *Equipment) rigs(parts int) []rig {
	var out []rig
	for _, j := range e.Injectors {
		switch {
		case j.Barrels == parts:
			out = append(out, rig{j.Name, j.ML, j.PlugML, j.PurgeML})
		case j.Barrels == 1 && j.Count >= parts && e.Blocks > 0:
			out = append(
				out, rig{fmt.Sprintf("%d × %s on a blending block", parts, j.Name), j.ML, j.PlugML, j.PurgeML},
			)
		case j.Barrels > parts: // one of its barrels, or two, stay empty
			out = append(out, rig{j.Name, j.ML, j.PlugML, j.PurgeML})
		}
	}
	slices.SortStableFunc(out, func(a, b rig) int { return cmp.Compare(a.ml, b.ml) })
	return out
}

// job is the order in numbers, with the rig that each shot is shot with and how many fills a load of it is good for.
func (o *Order) job(molds Molds, e *Equipment, shots []shot, rigs []rig, mostFills []int) *plan.Job {
	j := &plan.Job{
		Shrink: e.Shrink, TopUp: e.TopUp, SparePercent: o.SparePercent, Partial: !o.Whole, StepColdML: e.StepML,
	}
	for _, a := range o.Molds {
		m := molds[a.Mold]
		j.Molds = append(
			j.Molds, plan.Mold{
				Name: a.Mold, Cavities: m.Cavities, SprueHotML: m.SprueML, Count: a.Count, Copies: a.Copies,
			},
		)
	}
	for i, s := range shots {
		all := 0.0
		sums := make([]float64, len(s.parts))
		for k, p := range s.parts {
			for _, ml := range p.fills {
				sums[k] += ml
				all += ml
			}
		}
		ps := plan.Shot{Name: s.name, MostFills: mostFills[i]}
		for k, p := range s.parts {
			one := plan.Part{
				Name: o.Cups[p.cup].Name, GeometricML: p.fills, KeptML: p.kept, SprueShare: sums[k] / all,
				CupLossHotML:  e.CupLossML,
				LargestColdML: e.CupML, MicrowaveColdML: e.heater().MostML, LeastColdML: e.LeastML,
			}
			if s.way == Laid || s.way == Rods {
				one.SprueShare = 0
			}
			if r := rigs[i]; r.ml > 0 {
				one.InjectorHotML, one.PlugHotML, one.PurgeHotML = r.ml, r.plugML, r.purge
			}
			ps.Parts = append(ps.Parts, one)
		}
		j.Shots = append(j.Shots, ps)
	}
	return j
}
