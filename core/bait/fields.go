package bait

import (
	"fmt"
	"strings"

	"cloudburst/core/measure"
)

// Field is a measure as a maker reads and types it.
type Field struct {
	Key   string `json:"key" doc:"What Set takes"`
	Label string `json:"label"`
	Value string `json:"value"`
	About string `json:"about,omitempty"`
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
				{key + ".top", "Filled to", fmt.Sprintf("%s %%", measure.Number(50*(l.Top+1), 0)), mm(s.FillMM(l.Top)) + " up"},
				{key + ".blur", "Runs into the next by", mm(l.BlurMM), "Worked out from how hot both go in, until you type it"},
			}
		}
		out = append(out, p)
	}
	if c := st.Core; c != nil {
		out = append(out, PartFields{Key: "core", Name: "core", Cup: c.Cup, Loose: true, Fields: []Field{
			{"core.wide", "Thick", mm(c.WideMM), ""}, {"core.from", "From", mm(c.FromMM), "From the nose"}, {"core.to", "To", mm(c.ToMM), ""},
		}})
	}
	if k := st.Skin; k != nil {
		out = append(out, PartFields{Key: "skin", Name: "head skin", Cup: k.Cup, Loose: true, Fields: []Field{
			{"skin.to", "Back to", mm(k.ToMM), "From the nose"}, {"skin.deep", "Thick", mm(k.DeepMM), ""},
		}})
	}
	if t := st.Tail; t != nil {
		out = append(out, PartFields{Key: "tail", Name: "set-in tail", Cup: t.Cup, Loose: true, Fields: []Field{{"tail.from", "From", mm(t.FromMM), "From the nose"}}})
	}
	for i, b := range st.Bars {
		key := fmt.Sprintf("bars.%d", i)
		out = append(out, PartFields{
			Key: key, Name: fmt.Sprintf("bar %d", i+1), Cup: b.Cup, Loose: true, Dragged: "bar", AtMM: b.AtMM, SizeMM: b.WideMM,
			Fields: []Field{
				{key + ".at", "At", mm(b.AtMM), "Its middle, from the nose"},
				{key + ".wide", "Wide", mm(b.WideMM), ""},
				{key + ".deep", "Thick", mm(b.DeepMM), ""},
				{key + ".down", "Down to", fmt.Sprintf("%s %%", measure.Number(50*(b.Down+1), 0)), "Of the height, from the belly"},
				{key + ".under", "Body over it", mm(b.UnderMM), "0 where it lies on the mold"},
			},
		})
	}
	for i, p := range st.Spots {
		key := fmt.Sprintf("spots.%d", i)
		out = append(out, PartFields{
			Key: key, Name: fmt.Sprintf("spot %d", i+1), Cup: p.Cup, Loose: true, Dragged: "spot", AtMM: p.AtMM, UpMM: p.UpMM, SizeMM: p.AcrossMM,
			Fields: []Field{
				{key + ".at", "At", mm(p.AtMM), "From the nose"},
				{key + ".up", "Up", mm(p.UpMM), "From the axis"},
				{key + ".across", "Across", mm(p.AcrossMM), ""},
				{key + ".deep", "Thick", mm(p.DeepMM), ""},
				{key + ".under", "Body over it", mm(p.UnderMM), "0 where it lies on the mold"},
			},
		})
	}
	return out
}

// Group is a few measures of a mold that belong together.
type Group struct {
	Name   string  `json:"name"`
	Fields []Field `json:"fields" nullable:"false"`
}

// Fields lists the measures of a mold that are typed.
func (m *Mold) Fields() []Group {
	s := m.Bait()
	height, width := s.Size()
	volume := Field{"baitML", "A bait takes", measure.Number(m.VolumeML(), 2) + " ml", "As the shape says. Type what you measured: 8.5 ml, 9 g weighed, or 8.6 g water displaced"}
	if m.BaitHow != "" {
		volume.About = strings.ToUpper(m.BaitHow[:1]) + m.BaitHow[1:] + ". The shape says " + measure.Number(s.VolumeML(), 2) + " ml. Empty for the shape's own"
	}
	var size []Field
	if m.Shape == Chip {
		var steps []string
		for _, v := range m.StepsMM {
			steps = append(steps, measure.Number(v, 2))
		}
		size = []Field{{"stepsMM", "Steps, mm", strings.Join(steps, ", "), "From thin to thick"}}
	} else {
		size = []Field{{"lengthMM", "Long", mm(s.ToX), ""}, {"heightMM", "High", mm(height), "Back to belly"}, {"widthMM", "Wide", mm(width), "Side to side"}}
	}
	if m.Shape == Own {
		size = append(size, Field{"thickestMM", "Thickest section", mm(m.ThickestMM), ""}, Field{"thinnestMM", "Thinnest section", mm(m.ThinnestMM), ""})
	}
	gate := "open"
	if m.GateMM > 0 {
		gate = mm(m.GateMM)
	}
	rod := "none"
	if m.RodMM > 0 {
		rod = mm(m.RodMM)
	}
	reach := "all the way"
	if len(m.Split.ReachPct) > 0 {
		var parts []string
		for _, v := range m.Split.ReachPct {
			parts = append(parts, measure.Number(v, 0))
		}
		reach = strings.Join(parts, ", ") + " %"
	}
	out := []Group{
		{"Size", size},
		{"Filling", []Field{
			volume,
			{"cavities", "Cavities", fmt.Sprint(m.Cavities), ""},
			{"sprueML", "Sprue and runner", measure.Number(m.SprueML, 1) + " ml", "Of the whole mold"},
			{"plugML", "Plug", measure.Number(m.PlugML, 1) + " ml", "Stays in the injector"},
			{"gateMM", "Gate", gate, "Its width; 0 where it is open"},
			{"rodMM", "Rods", rod, "For a core: how thick; 0 for none"},
		}},
	}
	if len(m.Slots) > 0 {
		t := m.Slots[0]
		out = append(out, Group{"Hook slot", []Field{
			{"slots.0.fromMM", "From", mm(t.FromMM), "From the nose"}, {"slots.0.toMM", "To", mm(t.ToMM), ""}, {"slots.0.deepMM", "Deep", mm(t.DeepMM), ""}, {"slots.0.wideMM", "Wide", mm(t.WideMM), ""},
		}})
	}
	return append(out, Group{"How it splits layers", []Field{
		{"split.reachPct", "Layers reach", reach, "How far back each gets, from the belly up: 80, 100"},
		{"split.driftMM", "Drifts by", mm(m.Split.DriftMM), "The boundary at the tail over that at the nose"},
		{"split.wanderMM", "Wanders by", mm(m.Split.WanderMM), "From cavity to cavity"},
		{"split.oddCount", "Odd cavities", fmt.Sprint(m.Split.OddCount), "At the runner's end"},
		{"split.oddMM", "Those are off by", mm(m.Split.OddMM), ""},
	}})
}
