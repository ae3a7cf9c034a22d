package bait

import (
	"fmt"
	"strconv"
	"strings"

	"cloudburst/core/measure"
)

// Set changes one thing of a design as it was typed or dragged. Fields are named as in the design: layers.0.top,
// spots.1.at, core.wide, cups.0.pour; way begins a way of making, remove takes a part away, add adds a bar or a spot.
func (d *Design) Set(field, typed string, m *Mold) error {
	all := d.commands(m)
	if _, known := all[field]; known {
		return all.set(field, typed)
	}
	of, rest, _ := strings.Cut(field, ".")
	switch of {
	case "core", "skin", "tail":
		if _, there := all[of+".cup"]; !there {
			return measure.Faulty(field, "there is no %s in this bait", looseNames[of])
		}
	case "layers", "bars", "spots", "cups":
		place, _, _ := strings.Cut(rest, ".")
		if _, err := strconv.Atoi(place); err == nil && !all.begin(of+"."+place+".") {
			return measure.Faulty(field, "this part is gone; it may have been removed in another window")
		}
	}
	return measure.Faulty(field, "there is no such place in a bait")
}

// looseNames are what the parts that there is one of are called.
var looseNames = map[string]string{"core": "core", "skin": "head skin", "tail": "set-in tail"}

// commands are what can be typed or dragged of a design in its mold.
func (d *Design) commands(m *Mold) commands {
	s := m.Bait()
	all := commands{
		"name":       text(&d.Name),
		"way":        func(typed string) error { return d.Begin(typed, m) },
		"remove":     d.remove,
		"add":        func(typed string) error { return d.add(typed, m) },
		"cups.add":   d.addCup,
		"hook.grams": then(parsed(&d.Hook.Grams, grams), func() { d.hang(&s) }),
		"hook.at":    length(&d.Hook.AtMM),
		"hook.up":    signedLength(&d.Hook.UpMM),
	}
	part := func(name string, cup *int, more commands) {
		all[name+".cup"] = d.choose(cup)
		for key, set := range more {
			all[name+"."+key] = set
		}
	}
	for i := range d.Cups {
		c := &d.Cups[i]
		name := fmt.Sprintf("cups.%d.", i)
		all[name+"cup"] = func(typed string) error { c.Cup = typed; return nil }
		all[name+"pour"] = then(parsed(&c.PourC, measure.ParseTemperature), func() { d.soften(i) })
	}
	st := &d.Structure
	for i := range st.Layers {
		l := &st.Layers[i]
		part(fmt.Sprintf("layers.%d", i), &l.Cup, commands{
			"top": parsed(&l.Top, s.ParseFill), "blur": length(&l.BlurMM),
			"y": func(typed string) error { return d.dragLayer(i, typed, &s) },
		})
	}
	if c := st.Core; c != nil {
		part("core", &c.Cup, commands{"wide": length(&c.WideMM), "from": length(&c.FromMM), "to": length(&c.ToMM)})
	}
	if k := st.Skin; k != nil {
		part("skin", &k.Cup, commands{"deep": length(&k.DeepMM), "to": length(&k.ToMM)})
	}
	if t := st.Tail; t != nil {
		part("tail", &t.Cup, commands{"from": length(&t.FromMM)})
	}
	for i := range st.Bars {
		b := &st.Bars[i]
		part(fmt.Sprintf("bars.%d", i), &b.Cup, commands{
			"at": length(&b.AtMM), "wide": length(&b.WideMM), "deep": length(&b.DeepMM), "under": length(&b.UnderMM),
			"down": parsed(&b.Down, s.ParseFill),
		})
	}
	for i := range st.Spots {
		p := &st.Spots[i]
		part(fmt.Sprintf("spots.%d", i), &p.Cup, commands{
			"at": length(&p.AtMM), "up": signedLength(&p.UpMM), "across": length(&p.AcrossMM),
			"deep":  length(&p.DeepMM),
			"under": length(&p.UnderMM), "place": func(typed string) error { return p.drag(typed, &s) },
		})
	}
	return all
}

// choose takes the place of one of the design's cups.
func (d *Design) choose(into *int) command {
	return func(typed string) error {
		v, err := strconv.Atoi(strings.TrimSpace(typed))
		if err != nil || v < 0 || v >= len(d.Cups) {
			return fmt.Errorf("choose one of the cups")
		}
		*into = v
		return nil
	}
}

func (d *Design) addCup(uid string) error {
	if len(d.Cups) >= MaxCups {
		return measure.Faulty("cups", "up to %d cups go into a bait", MaxCups)
	}
	d.Cups = append(d.Cups, Poured{uid, UsualPourC})
	return nil
}

// hang gives a hook that has no place yet a usual one.
func (d *Design) hang(s *Shape) {
	if d.Hook.AtMM == 0 {
		d.Hook.AtMM, d.Hook.UpMM = rounded(0.3*s.ToX, 1), 0
	}
}

// dragLayer moves the upper edge of a layer to a height from the axis, mm.
func (d *Design) dragLayer(i int, typed string, s *Shape) error {
	v, err := strconv.ParseFloat(typed, 64)
	if err != nil {
		return fmt.Errorf("a height in mm")
	}
	d.Structure.Layers[i].Top = s.ShareOfY(v)
	d.keepOrder(i)
	return nil
}

// drag moves a spot to mm from the nose and from the axis.
func (p *Spot) drag(typed string, s *Shape) error {
	var x, y float64
	if _, err := fmt.Sscanf(typed, "%g %g", &x, &y); err != nil {
		return fmt.Errorf("a place as mm from the nose and from the axis")
	}
	p.AtMM, p.UpMM = rounded(min(s.ToX, max(0, x)), 10), rounded(min(s.HalfY, max(-s.HalfY, y)), 10)
	return nil
}

// keepOrder keeps a dragged boundary between its neighbours.
func (d *Design) keepOrder(i int) {
	layers := d.Structure.Layers
	const apart = 0.04
	low, high := -1+apart, 1-apart
	if i > 0 {
		low = layers[i-1].Top + apart
	}
	if i+1 < len(layers)-1 {
		high = layers[i+1].Top - apart
	}
	layers[i].Top = rounded(min(high, max(low, layers[i].Top)), 1000)
}

func (d *Design) remove(what string) error {
	st := &d.Structure
	kind, place, _ := strings.Cut(what, ".")
	i, _ := strconv.Atoi(place)
	switch {
	case kind == "core":
		st.Core = nil
	case kind == "skin":
		st.Skin = nil
	case kind == "tail":
		st.Tail = nil
	case kind == "bars" && place == "":
		st.Bars = nil
	case kind == "spots" && place == "":
		st.Spots = nil
	case kind == "bars" && i < len(st.Bars):
		st.Bars = append(append([]Bar{}, st.Bars[:i]...), st.Bars[i+1:]...)
	case kind == "spots" && i < len(st.Spots):
		st.Spots = append(append([]Spot{}, st.Spots[:i]...), st.Spots[i+1:]...)
	default:
		return measure.Faulty("remove", "this part is gone already")
	}
	return nil
}

func (d *Design) add(what string, m *Mold) error {
	st := &d.Structure
	s := m.Bait()
	switch what {
	case "bars":
		if len(st.Bars) == 0 {
			return d.Begin("bars", m)
		}
		b := st.Bars[len(st.Bars)-1]
		b.AtMM = min(s.ToX, b.AtMM+2*b.WideMM)
		st.Bars = append(st.Bars, b)
	case "spots":
		if len(st.Spots) == 0 {
			return d.Begin("spots", m)
		}
		p := st.Spots[len(st.Spots)-1]
		p.AtMM = min(s.ToX, p.AtMM+2*p.AcrossMM)
		st.Spots = append(st.Spots, p)
	default:
		return measure.Faulty("add", "bars and spots can be added")
	}
	return nil
}
