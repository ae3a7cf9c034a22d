package bait

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"cloudburst/core/measure"
)

// Design is a bait that is to be made: its mold, the cups it is poured from, and how they lie in it.
type Design struct {
	Name      string    `json:"name" maxLength:"80"`
	Mold      string    `json:"mold" maxLength:"64" format:"uid" doc:"uid of a mold, or the key of one of our shapes"`
	Cups      []Poured  `json:"cups" maxItems:"8" nullable:"false"`
	Structure Structure `json:"structure"`
	Hook      Weight    `json:"hook"`
}

// Poured is a cup that a design takes from the bench, and how hot it goes in.
type Poured struct {
	Cup   string  `json:"cup" maxLength:"64" format:"uid" doc:"uid of a cup on the bench; empty where it is still to be chosen"`
	PourC float64 `json:"pourC"`
}

// Weight is a hook or a jig head in the bait.
type Weight struct {
	Grams float64 `json:"grams"`
	AtMM  float64 `json:"atMM" doc:"From the nose"`
	UpMM  float64 `json:"upMM" doc:"From the bait's axis"`
}

// UsualPourC is how hot a cup goes in where nothing else was said: 330 °F.
const UsualPourC = 165.6

// NewDesign is a bait of one cup.
func NewDesign(name, mold, cup string) Design {
	return Design{Name: name, Mold: mold, Cups: []Poured{{cup, UsualPourC}}, Structure: Structure{Layers: []Layer{{Name: "all of it", Top: 1}}}}
}

// Begin turns the design into one of the ways; the cups that it then takes are there, some still to be chosen.
func (d *Design) Begin(way string, m *Mold) error {
	cup := min(len(d.Cups), MaxCups-1)
	if len(d.Cups) == 0 {
		cup = 0
	}
	if len(d.Cups) > 1 && (way == "core" || way == "skin" || way == "tail" || way == "bars" || way == "spots") {
		// What is laid onto a bait of several cups takes one that no layer takes, if there is one.
		for k := range d.Cups {
			free := true
			for _, l := range d.Structure.Layers {
				free = free && l.Cup != k
			}
			if free {
				cup = k
			}
		}
	}
	st, err := m.Begin(way, &d.Structure, cup)
	if err != nil {
		return err
	}
	d.Structure = st
	for len(d.Cups) < st.Cups() {
		d.Cups = append(d.Cups, Poured{PourC: UsualPourC})
	}
	d.soften(-1)
	return nil
}

// WayFor is how so many cups are laid into a bait where nobody says: alone, one over the other, three layers, poured one after the other.
func WayFor(cups int) string {
	ways := []string{"single", "laminate", "three", "pour"}
	return ways[max(1, min(cups, len(ways)))-1]
}

// FromTheBelly sorts parts by their names, from the belly up: what is called neither stays between, in its order.
func FromTheBelly[T any](parts []T, name func(T) string) []T {
	height := func(p T) int {
		n := strings.ToLower(name(p))
		switch {
		case strings.Contains(n, "belly"), strings.Contains(n, "bottom"):
			return 0
		case strings.Contains(n, "back"), strings.Contains(n, "top"):
			return 2
		}
		return 1
	}
	out := slices.Clone(parts)
	slices.SortStableFunc(out, func(a, b T) int { return height(a) - height(b) })
	return out
}

// soften works the boundaries of a cup out anew from how hot the cups go in; those of every cup for -1.
func (d *Design) soften(cup int) {
	layers := d.Structure.Layers
	for i := range layers[:len(layers)-1] {
		a, b := layers[i].Cup, layers[i+1].Cup
		if (cup < 0 || cup == a || cup == b) && a < len(d.Cups) && b < len(d.Cups) {
			layers[i].BlurMM = rounded(BlurMM(d.Cups[a].PourC, d.Cups[b].PourC), 10)
		}
	}
}

// Check says what is wrong with a design in its mold.
func (d *Design) Check(m *Mold) error {
	if err := measure.CheckName("name", "the bait", d.Name, 80); err != nil {
		return err
	}
	s := m.Bait()
	if err := d.Structure.Check(&s); err != nil {
		return err
	}
	switch {
	case len(d.Cups) < d.Structure.Cups() || len(d.Cups) > MaxCups:
		return measure.Faulty("cups", "every part takes a cup, and up to %d cups go into a bait", MaxCups)
	case !(d.Hook.Grams >= 0 && d.Hook.Grams <= 200):
		return measure.Faulty("hook.grams", "a hook weighs 0 to 200 g")
	case !(d.Hook.AtMM >= 0 && d.Hook.AtMM <= s.ToX):
		return measure.Faulty("hook.at", "a hook hangs in the bait: 0 to %s mm from the nose", measure.Number(s.ToX, 0))
	case !(math.Abs(d.Hook.UpMM) <= s.HalfY):
		return measure.Faulty("hook.up", "a hook hangs in the bait: up to %s mm from its axis", measure.Number(s.HalfY, 0))
	}
	for i, c := range d.Cups {
		if !(c.PourC >= 0 && c.PourC <= 260) {
			return measure.Faulty(fmt.Sprintf("cups.%d.pour", i), "a cup goes in at up to 260 °C")
		}
	}
	return nil
}

// Set changes one thing of a design as it was typed or dragged. Fields are named as in the design: layers.0.top,
// spots.1.at, core.wide, cups.0.pour; way begins a way of making, remove takes a part away, add adds a bar or a spot.
func (d *Design) Set(field, typed string, m *Mold) error {
	s := m.Bait()
	path := strings.Split(field, ".")
	at := func(n int) (int, error) {
		if len(path) < 2 {
			return 0, measure.Faulty(field, "there is no such place in a bait")
		}
		i, err := strconv.Atoi(path[1])
		if err != nil || i < 0 || i >= n {
			return 0, measure.Faulty(field, "this part is gone; it may have been removed in another window")
		}
		return i, nil
	}
	last := path[len(path)-1]
	st := &d.Structure
	length := func(into *float64) error {
		mm, err := lengthOf(typed)
		if err != nil {
			return measure.Faulty(field, "%s", err)
		}
		*into = mm
		return nil
	}
	number := func(into *int, most int) error {
		v, err := strconv.Atoi(strings.TrimSpace(typed))
		if err != nil || v < 0 || v >= most {
			return measure.Faulty(field, "choose one of the cups")
		}
		*into = v
		return nil
	}
	fill := func(into *float64) error {
		v, err := s.ParseFill(typed)
		if err != nil {
			return measure.Faulty(field, "%s", err)
		}
		*into = v
		return nil
	}
	switch path[0] {
	case "name":
		d.Name = strings.TrimSpace(typed)
	case "way":
		return d.Begin(typed, m)
	case "remove":
		return d.remove(typed)
	case "add":
		return d.add(typed, m)
	case "cups":
		if last == "add" {
			if len(d.Cups) >= MaxCups {
				return measure.Faulty("cups", "up to %d cups go into a bait", MaxCups)
			}
			d.Cups = append(d.Cups, Poured{typed, UsualPourC})
			return nil
		}
		i, err := at(len(d.Cups))
		if err != nil {
			return err
		}
		if last == "pour" {
			c, err := measure.ParseTemperature(typed)
			if err != nil {
				return measure.Faulty(field, "%s", err)
			}
			d.Cups[i].PourC = c
			d.soften(i)
		} else {
			d.Cups[i].Cup = typed
		}
	case "layers":
		i, err := at(len(st.Layers))
		if err != nil {
			return err
		}
		l := &st.Layers[i]
		switch last {
		case "cup":
			err = number(&l.Cup, len(d.Cups))
		case "blur":
			err = length(&l.BlurMM)
		case "y": // dragged: mm from the axis
			v, numErr := strconv.ParseFloat(typed, 64)
			if numErr != nil {
				return measure.Faulty(field, "a height in mm")
			}
			l.Top = s.ShareOfY(v)
			d.keepOrder(i)
		default:
			err = fill(&l.Top)
		}
		if err != nil {
			return err
		}
	case "core":
		if st.Core == nil {
			return measure.Faulty(field, "there is no core in this bait")
		}
		return one(last, number, length, len(d.Cups), &st.Core.Cup, map[string]*float64{"wide": &st.Core.WideMM, "from": &st.Core.FromMM, "to": &st.Core.ToMM})
	case "skin":
		if st.Skin == nil {
			return measure.Faulty(field, "there is no head skin in this bait")
		}
		return one(last, number, length, len(d.Cups), &st.Skin.Cup, map[string]*float64{"deep": &st.Skin.DeepMM, "to": &st.Skin.ToMM})
	case "tail":
		if st.Tail == nil {
			return measure.Faulty(field, "there is no set-in tail in this bait")
		}
		return one(last, number, length, len(d.Cups), &st.Tail.Cup, map[string]*float64{"from": &st.Tail.FromMM})
	case "bars":
		i, err := at(len(st.Bars))
		if err != nil {
			return err
		}
		b := &st.Bars[i]
		if last == "down" {
			return fill(&b.Down)
		}
		return one(last, number, length, len(d.Cups), &b.Cup, map[string]*float64{"at": &b.AtMM, "wide": &b.WideMM, "deep": &b.DeepMM, "under": &b.UnderMM})
	case "spots":
		i, err := at(len(st.Spots))
		if err != nil {
			return err
		}
		p := &st.Spots[i]
		if last == "place" { // dragged: mm from the nose and from the axis
			var x, y float64
			if _, err := fmt.Sscanf(typed, "%g %g", &x, &y); err != nil {
				return measure.Faulty(field, "a place as mm from the nose and from the axis")
			}
			p.AtMM, p.UpMM = rounded(min(s.ToX, max(0, x)), 10), rounded(min(s.HalfY, max(-s.HalfY, y)), 10)
			return nil
		}
		if last == "up" && strings.HasPrefix(strings.TrimSpace(typed), "-") {
			typed = strings.TrimPrefix(strings.TrimSpace(typed), "-")
			if err := length(&p.UpMM); err != nil {
				return err
			}
			p.UpMM = -p.UpMM
			return nil
		}
		return one(last, number, length, len(d.Cups), &p.Cup, map[string]*float64{"at": &p.AtMM, "up": &p.UpMM, "across": &p.AcrossMM, "deep": &p.DeepMM, "under": &p.UnderMM})
	case "hook":
		if last == "grams" {
			v, err := grams(typed)
			if err != nil {
				return measure.Faulty(field, "%s", err)
			}
			d.Hook.Grams = v
			if d.Hook.AtMM == 0 {
				d.Hook.AtMM, d.Hook.UpMM = rounded(0.3*s.ToX, 1), 0
			}
			return nil
		}
		into := &d.Hook.AtMM
		if last == "up" {
			into = &d.Hook.UpMM
			if strings.HasPrefix(strings.TrimSpace(typed), "-") {
				typed = strings.TrimPrefix(strings.TrimSpace(typed), "-")
				defer func() { *into = -math.Abs(*into) }()
			}
		}
		return length(into)
	default:
		return measure.Faulty(field, "there is no such place in a bait")
	}
	return nil
}

// one sets one of a part's fields.
func one(name string, number func(*int, int) error, length func(*float64) error, cups int, cup *int, lengths map[string]*float64) error {
	if name == "cup" {
		return number(cup, cups)
	}
	into, ok := lengths[name]
	if !ok {
		return measure.Faulty(name, "there is no such place in a bait")
	}
	return length(into)
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

// lengthOf reads a length; a bare number is mm here, where every size is one. Nought is taken.
func lengthOf(typed string) (float64, error) {
	text := strings.TrimSpace(typed)
	if v, err := strconv.ParseFloat(text, 64); err == nil {
		switch {
		case math.IsNaN(v) || v > 1000:
			return 0, fmt.Errorf("%q is out of reach; type a length such as 4 mm or 1/4 in", typed)
		case v < 0:
			return 0, fmt.Errorf("%q is below zero; type a length such as 4 mm or 1/4 in", typed)
		}
		return v, nil
	}
	if strings.TrimSpace(strings.TrimSuffix(text, "mm")) == "0" {
		return 0, nil
	}
	return measure.ParseLength(text)
}

// grams reads a weight: "3 g", "1/4 oz", or a bare number of grams.
func grams(typed string) (float64, error) {
	text := strings.ToLower(strings.TrimSpace(typed))
	times := 1.0
	switch {
	case strings.HasSuffix(text, "oz"):
		text, times = strings.TrimSuffix(text, "oz"), 28.3495
	case strings.HasSuffix(text, "g"):
		text = strings.TrimSuffix(text, "g")
	}
	text = strings.TrimSpace(text)
	if text == "0" || text == "" && typed != "" {
		return 0, nil
	}
	v, err := measure.ParseNumber(text)
	if err != nil || !(v >= 0 && v*times <= 200) {
		return 0, fmt.Errorf("%q can't be read; type a hook's weight, such as 3 g or 1/8 oz", typed)
	}
	return v * times, nil
}
