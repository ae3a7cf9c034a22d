package bait

import (
	"fmt"
	"strings"

	"cloudburst/core/measure"
)

// Field is a measure as a maker reads and types it. What it is called is the screen's.
type Field struct {
	Key   string `json:"key" doc:"What Set takes"`
	Value string `json:"value"`
	Note  string `json:"note,omitempty" doc:"What follows from it, or where it comes from"`
}

// PartFields are the measures of one part of a design.
type PartFields struct {
	Key     string  `json:"key" doc:"layers.0, core, spots.2; what remove takes"`
	Name    string  `json:"name"`
	Cup     int     `json:"cup"`
	Loose   bool    `json:"loose" doc:"It can be taken away"`
	Fields  []Field `json:"fields" nullable:"false"`
	TopMM   float64 `json:"topMM" doc:"Layers: height of the upper edge from the axis, for dragging"`
	HasTop  bool    `json:"hasTop"`
	AtMM    float64 `json:"atMM" doc:"Bars and spots: middle from the nose, for dragging"`
	UpMM    float64 `json:"upMM"`
	SizeMM  float64 `json:"sizeMM"`
	Dragged string  `json:"dragged,omitempty" enum:"layer,bar,spot"`
}

func mm(v float64) string { return measure.Number(v, 2) + " mm" }

// of is a length.
func of(key string, lengthMM float64) Field { return Field{Key: key, Value: mm(lengthMM)} }

// Fields lists the measures of every part, as Parts lists them.
func (d *Design) Fields(m *Mold) []PartFields {
	s := m.Bait()
	st := &d.Structure
	var out []PartFields
	cutter := NewCutter(&s, st, Split{}, 0)
	for i, l := range st.Layers {
		key := fmt.Sprintf("layers.%d", i)
		p := PartFields{Key: key, Name: l.Name, Cup: l.Cup, Fields: []Field{}}
		if i < len(st.Layers)-1 {
			p.HasTop, p.TopMM, p.Dragged = true, cutter.YOf(l.Top), "layer"
			p.Fields = []Field{
				{key + ".top", fmt.Sprintf("%s %%", measure.Number(50*(l.Top+1), 0)), mm(s.FillMM(l.Top)) + " up"},
				of(key+".blur", l.BlurMM),
			}
		}
		out = append(out, p)
	}
	if c := st.Core; c != nil {
		out = append(out, PartFields{Key: "core", Name: "core", Cup: c.Cup, Loose: true, Fields: []Field{
			of("core.wide", c.WideMM), of("core.from", c.FromMM), of("core.to", c.ToMM),
		}})
	}
	if k := st.Skin; k != nil {
		out = append(out, PartFields{Key: "skin", Name: "head skin", Cup: k.Cup, Loose: true, Fields: []Field{
			of("skin.to", k.ToMM), of("skin.deep", k.DeepMM),
		}})
	}
	if t := st.Tail; t != nil {
		out = append(
			out,
			PartFields{
				Key: "tail", Name: "set-in tail", Cup: t.Cup, Loose: true, Fields: []Field{of("tail.from", t.FromMM)},
			},
		)
	}
	for i, b := range st.Bars {
		key := fmt.Sprintf("bars.%d", i)
		out = append(out, PartFields{
			Key: key, Name: fmt.Sprintf("bar %d", i+1), Cup: b.Cup, Loose: true, Dragged: "bar", AtMM: b.AtMM,
			SizeMM: b.WideMM,
			Fields: []Field{
				of(key+".at", b.AtMM), of(key+".wide", b.WideMM), of(key+".deep", b.DeepMM),
				{Key: key + ".down", Value: fmt.Sprintf("%s %%", measure.Number(50*(b.Down+1), 0))},
				of(key+".under", b.UnderMM),
			},
		})
	}
	for i, p := range st.Spots {
		key := fmt.Sprintf("spots.%d", i)
		out = append(out, PartFields{
			Key: key, Name: fmt.Sprintf("spot %d", i+
				1), Cup: p.Cup, Loose: true, Dragged: "spot", AtMM: p.AtMM, UpMM: p.UpMM, SizeMM: p.AcrossMM,
			Fields: []Field{
				of(key+".at", p.AtMM), of(key+".up", p.UpMM), of(key+".across", p.AcrossMM),
				of(key+".deep", p.DeepMM), of(key+".under", p.UnderMM),
			},
		})
	}
	return out
}

// Group is a few measures of a mold that belong together.
type Group struct {
	Key    string  `json:"key" enum:"size,filling,slot,split"`
	Fields []Field `json:"fields" nullable:"false"`
}

// Fields lists the measures of a mold that are typed.
func (m *Mold) Fields() []Group {
	s := m.Bait()
	out := []Group{
		{"size", m.sizes(&s)},
		{"filling", []Field{
			{"baitML", measure.Number(m.VolumeML(), 2) + " ml", m.saysVolume(&s)},
			{Key: "cavities", Value: fmt.Sprint(m.Cavities)},
			{Key: "sprueML", Value: measure.Number(m.SprueML, 1) + " ml"},
			{Key: "plugML", Value: measure.Number(m.PlugML, 1) + " ml"},
			orWord("gateMM", m.GateMM, "open"),
			orWord("rodMM", m.RodMM, "none"),
		}},
	}
	if len(m.Slots) > 0 {
		t := m.Slots[0]
		out = append(out, Group{"slot", []Field{
			of("slots.0.fromMM", t.FromMM), of("slots.0.toMM", t.ToMM), of("slots.0.deepMM", t.DeepMM),
			of("slots.0.wideMM", t.WideMM),
		}})
	}
	reach := "all the way"
	if len(m.Split.ReachPct) > 0 {
		reach = listed(m.Split.ReachPct, 0) + " %"
	}
	return append(out, Group{"split", []Field{
		{Key: "split.reachPct", Value: reach},
		of("split.driftMM", m.Split.DriftMM),
		of("split.wanderMM", m.Split.WanderMM),
		{Key: "split.oddCount", Value: fmt.Sprint(m.Split.OddCount)},
		of("split.oddMM", m.Split.OddMM),
	}})
}

// sizes are the measures of its bait.
func (m *Mold) sizes(s *Shape) []Field {
	if m.Shape == Chip {
		return []Field{{Key: "stepsMM", Value: listed(m.StepsMM, 2)}}
	}
	height, width := s.Size()
	out := []Field{of("lengthMM", s.ToX), of("heightMM", height), of("widthMM", width)}
	if m.Shape == Own {
		out = append(out, of("thickestMM", m.ThickestMM), of("thinnestMM", m.ThinnestMM))
	}
	return out
}

// saysVolume says where what a bait takes comes from.
func (m *Mold) saysVolume(s *Shape) string {
	if m.BaitHow == "" {
		return ""
	}
	return strings.ToUpper(m.BaitHow[:1]) + m.BaitHow[1:] + ". The shape says " + measure.Number(s.VolumeML(), 2) +
		" ml. Empty for the shape's own"
}

// orWord is a length, or a word where there is none.
func orWord(key string, lengthMM float64, none string) Field {
	if lengthMM > 0 {
		return of(key, lengthMM)
	}
	return Field{Key: key, Value: none}
}

func listed(all []float64, decimals int) string {
	var parts []string
	for _, v := range all {
		parts = append(parts, measure.Number(v, decimals))
	}
	return strings.Join(parts, ", ")
}
