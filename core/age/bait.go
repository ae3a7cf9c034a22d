package age

import (
	"fmt"
	"math"
	"slices"

	"cloudburst/core/bait"
	"cloudburst/core/cup"
	"cloudburst/core/heat"
	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// Bait is a bait as it is poured: how its plastics lie in it, and what is in them.
type Bait struct {
	Shape     *bait.Shape
	Structure bait.Structure
	Cups      []cup.Cup
}

// Aged is a bait some days after.
type Aged struct {
	Structure bait.Structure // with its layers in slices where a dye has moved
	Cups      []cup.Cup      // the bait's own, then those of the slices
	Parts     []cup.Cup      // what is in each part by now, in its mean
}

// dye is a bottle that runs.
type dye struct {
	uid      string
	diffuses float64
}

// pot is a cup, and how much of each dye is in it: ml per ml.
type pot struct {
	cup      cup.Cup
	finished float64
	has      []float64
}

// with is the plastic of a pot with so much of each dye in it.
func (p *pot) with(dyes []dye, has []float64) cup.Cup {
	c := p.cup
	c.Doses = slices.DeleteFunc(slices.Clone(c.Doses), func(d cup.Dose) bool {
		return slices.ContainsFunc(dyes, func(y dye) bool { return y.uid == d.Material })
	})
	for i, y := range dyes {
		if ml := has[i] * p.finished; ml > 1e-7*p.finished {
			a := measure.Amount{Value: ml, Unit: measure.InML}
			c.Doses = append(c.Doses, cup.Dose{Material: y.uid, Typed: a.String(), Amount: a})
		}
	}
	return c
}

// Dyes are the bottles of a bait that run, by uid.
func (b *Bait) Dyes(shelf cup.Shelf) []string {
	var out []string
	for _, d := range b.dyes(shelf) {
		out = append(out, d.uid)
	}
	return out
}

func (b *Bait) dyes(shelf cup.Shelf) []dye {
	var out []dye
	for _, p := range b.Structure.Parts() {
		if p.Cup >= len(b.Cups) {
			continue
		}
		for _, d := range b.Cups[p.Cup].Doses {
			m := shelf[d.Material]
			known := slices.ContainsFunc(out, func(y dye) bool { return y.uid == d.Material })
			if m.Colourant != nil && m.Colourant.Movement == material.Bleeds && d.Amount.Value > 0 && !known {
				out = append(out, dye{d.Material, m.Colourant.DiffusesMM2S()})
			}
		}
	}
	return out
}

func (b *Bait) pots(dyes []dye, shelf cup.Shelf) ([]pot, error) {
	out := make([]pot, len(b.Cups))
	for i := range b.Cups {
		p := &out[i]
		p.cup, p.has = b.Cups[i], make([]float64, len(dyes))
		var err error
		if p.finished, err = p.cup.FinishedML(shelf); err != nil {
			return nil, err
		}
		for k, y := range dyes {
			m := shelf[y.uid]
			if a := p.cup.AmountOf(y.uid); a.Value > 0 {
				ml, _, err := m.Take(a)
				if err != nil {
					return nil, err
				}
				p.has[k] = ml / p.finished
			}
		}
	}
	return out, nil
}

// ageing is a bait while it ages.
type ageing struct {
	*Bait
	dyes    []dye
	pots    []pot
	seconds float64
	out     Aged
}

// After is the bait so many days after the pour.
func (b *Bait) After(days float64, shelf cup.Shelf) (*Aged, error) {
	a := &ageing{Bait: b, dyes: b.dyes(shelf), seconds: days * heat.DayS}
	var err error
	if a.pots, err = b.pots(a.dyes, shelf); err != nil {
		return nil, err
	}
	a.out.Structure = b.Structure
	a.out.Cups = slices.Clone(b.Cups)
	a.spreadLayers()
	a.laid()
	return &a.out, nil
}

// layerMM is how high a layer is.
func (b *Bait) layerMM(i int) float64 {
	from := 0.0
	if i > 0 {
		from = b.Shape.FillMM(b.Structure.Layers[i-1].Top)
	}
	return b.Shape.FillMM(b.Structure.Layers[i].Top) - from
}

// Where a layer is cut into slices: at these shares of the reach from each boundary; fewer where there are more layers.
var (
	fineCuts   = []float64{0.25, 0.55, 0.9, 1.35, 1.9, 2.7}
	coarseCuts = []float64{0.5, 1.1, 1.9}
)

// leastMM is the thinnest slice.
const leastMM = 0.02

// spreadLayers lets the dyes move between the layers. Each layer is cut into slices, the finer the nearer to a
// boundary.
func (a *ageing) spreadLayers() {
	layers := a.Structure.Layers
	n := len(layers)
	profiles := make([]*heat.Profile, len(a.dyes))
	for k, y := range a.dyes {
		s := heat.Spread{Diffuses: y.diffuses}
		for i, l := range layers {
			s.Layers = append(s.Layers, heat.Layered{MM: a.layerMM(i), PerL: a.pots[l.Cup].has[k]})
		}
		profiles[k] = s.After(a.seconds)
	}
	has := func(from, to float64) []float64 {
		out := make([]float64, len(a.dyes))
		for k := range a.dyes {
			out[k] = profiles[k].Mean(from, to)
		}
		return out
	}
	cuts := fineCuts
	if n > 2 {
		cuts = coarseCuts
	}
	reach := 0.0
	for _, y := range a.dyes {
		reach = max(reach, math.Sqrt(y.diffuses*a.seconds))
	}
	a.out.Structure.Layers = nil
	low := 0.0
	for i, l := range layers {
		high := low + a.layerMM(i)
		mean := has(low, high)
		a.out.Parts = append(a.out.Parts, a.pots[l.Cup].with(a.dyes, mean))
		edges := []float64{high}
		for _, c := range cuts {
			d := c * min(reach, (high-low)/3.2)
			if i > 0 && d > 2*leastMM && low+d < high-leastMM {
				edges = append(edges, low+d)
			}
			if i < n-1 && d > 2*leastMM && high-d > low+leastMM {
				edges = append(edges, high-d)
			}
		}
		slices.Sort(edges)
		if n == 1 || !a.moved(l.Cup, has(low, low+0.05), mean, has(high-0.05, high)) {
			a.out.Structure.Layers = append(a.out.Structure.Layers, l)
			low = high
			continue
		}
		at := low
		for _, e := range edges {
			if e-at < leastMM && e != high {
				continue
			}
			s := bait.Layer{Name: l.Name, Top: a.Shape.ShareOfMM(e)}
			if e == high { // what else ran there when it was hot is still there
				s.Top, s.BlurMM = l.Top, l.BlurMM
			}
			s.Cup = a.add(a.pots[l.Cup].with(a.dyes, has(at, e)))
			a.out.Structure.Layers = append(a.out.Structure.Layers, s)
			at = e
		}
		low = high
	}
}

// add adds a cup, and gives its place.
func (a *ageing) add(c cup.Cup) int {
	a.out.Cups = append(a.out.Cups, c)
	return len(a.out.Cups) - 1
}

// moved says whether any of these have more or less of a dye than the cup that was poured.
func (a *ageing) moved(of int, all ...[]float64) bool {
	for k := range a.dyes {
		most := 0.0
		for i := range a.pots {
			most = max(most, a.pots[i].has[k])
		}
		for _, has := range all {
			if math.Abs(has[k]-a.pots[of].has[k]) > 0.003*most {
				return true
			}
		}
	}
	return false
}

// between is what is in a part by now, in its mean, that is so thick against so much of another, flat or a rod in it.
func (a *ageing) between(k int, mm, restMM, is, rest float64, round bool) float64 {
	s := heat.Spread{
		Diffuses: a.dyes[k].diffuses, Round: round,
		Layers: []heat.Layered{{MM: mm, PerL: is}, {MM: max(0.05, restMM), PerL: rest}},
	}
	return s.After(a.seconds).Mean(0, mm)
}

// laid lets the dyes move between what lies in the layers and the layer that it lies in.
func (a *ageing) laid() {
	st := &a.Structure
	wide := a.Shape.ThickestMM()
	axis := a.layerAt(a.Shape.AxisMM())
	if c := st.Core; c != nil {
		core := *c
		core.Cup = a.part(c.Cup, axis, func(k int, is, rest float64) float64 {
			return a.between(k, c.WideMM/2, (wide-c.WideMM)/2, is, rest, true)
		})
		a.out.Structure.Core = &core
	}
	if s := st.Skin; s != nil {
		skin := *s
		skin.Cup = a.part(s.Cup, axis, func(k int, is, rest float64) float64 {
			return a.between(k, s.DeepMM, wide/2-s.DeepMM, is, rest, false)
		})
		a.out.Structure.Skin = &skin
	}
	if t := st.Tail; t != nil {
		tail := *t
		tail.Cup = a.part(t.Cup, axis, func(k int, is, rest float64) float64 {
			return a.between(k, a.Shape.ToX-t.FromMM, t.FromMM, is, rest, false)
		})
		a.out.Structure.Tail = &tail
	}
	a.bars()
	a.spots()
}

// part ages a part that lies in a layer, by what is left in it of each dye; it gives its cup by now.
func (a *ageing) part(of, layer int, mean func(k int, is, rest float64) float64) int {
	has := make([]float64, len(a.dyes))
	for k := range a.dyes {
		has[k] = mean(k, a.pots[of].has[k], a.pots[a.Structure.Layers[layer].Cup].has[k])
	}
	c := a.pots[of].with(a.dyes, has)
	a.out.Parts = append(a.out.Parts, c)
	if !a.moved(of, has) {
		return of
	}
	return a.add(c)
}

// layerAt is the layer at a height over the lowest of the body.
func (a *ageing) layerAt(mm float64) int {
	for i, l := range a.Structure.Layers {
		if mm < a.Shape.FillMM(l.Top) {
			return i
		}
	}
	return len(a.Structure.Layers) - 1
}

// ring is what lies around a bar or spot: so much of what it lost, in so much more plastic.
type ring struct {
	layer       int
	reach       float64
	share       float64 // of its plastic to the part's
	part, outer int     // cups
}

// lying ages a part of some depth and width that lies at the skin, and what is around it. lateral is what stays within
// its width of a dye that is only there; rings is the plastic around it, of its own, within a reach.
func (a *ageing) lying(of int, p bait.Place, lateral func(k int) float64, rings func(reach float64) float64) ring {
	r := ring{layer: p.Layer, part: of, outer: -1}
	for _, y := range a.dyes { // beyond twice as far there is hardly any
		r.reach = max(r.reach, 2*math.Sqrt(y.diffuses*a.seconds))
	}
	r.share = rings(r.reach)
	around := a.pots[a.Structure.Layers[p.Layer].Cup]
	outer := slices.Clone(around.has)
	r.part = a.part(of, p.Layer, func(k int, is, rest float64) float64 {
		deep := a.between(k, p.DeepMM, p.BodyMM/2-p.DeepMM, is, rest, false)
		if r.reach <= 0 {
			return deep
		}
		stays := lateral(k)
		outer[k] = rest + (deep-rest)*(1-stays)/r.share
		return rest + (deep-rest)*stays
	})
	if r.part != of {
		r.outer = a.add(around.with(a.dyes, outer))
	}
	return r
}

func (a *ageing) bars() {
	a.out.Structure.Bars = nil
	for i, b := range a.Structure.Bars {
		p, _ := a.Structure.LieOf(fmt.Sprintf("bars.%d", i), a.Shape)
		r := a.lying(b.Cup, p, func(k int) float64 {
			return a.between(k, b.WideMM/2, 6*b.WideMM+10, 1, 0, false)
		}, func(reach float64) float64 { return 2 * reach / b.WideMM })
		if r.outer >= 0 {
			around := b
			around.Cup, around.WideMM = r.outer, b.WideMM+2*r.reach
			a.out.Structure.Bars = append(a.out.Structure.Bars, around)
		}
		b.Cup = r.part
		a.out.Structure.Bars = append(a.out.Structure.Bars, b)
	}
}

func (a *ageing) spots() {
	a.out.Structure.Spots = nil
	for i, s := range a.Structure.Spots {
		p, _ := a.Structure.LieOf(fmt.Sprintf("spots.%d", i), a.Shape)
		r := a.lying(s.Cup, p, func(k int) float64 {
			return a.between(k, s.AcrossMM/2, 6*s.AcrossMM+10, 1, 0, true)
		}, func(reach float64) float64 {
			v := 1 + 2*reach/s.AcrossMM
			return v*v - 1
		})
		if r.outer >= 0 {
			around := s
			around.Cup, around.AcrossMM = r.outer, s.AcrossMM+2*r.reach
			a.out.Structure.Spots = append(a.out.Structure.Spots, around)
		}
		s.Cup = r.part
		a.out.Structure.Spots = append(a.out.Structure.Spots, s)
	}
}
