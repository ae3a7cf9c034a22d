package match

import (
	"fmt"
	"maps"
	"math"
	"slices"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// bottle is a material in steps that can be measured.
type bottle struct {
	m        *material.Material
	step     measure.Amount // one step
	most     float64        // steps
	usual    float64        // steps
	glows    bool           // as the cup does not
	spots    []float64      // the steps that can be measured, ascending from 0; nil for whole ones
	share    float64        // volume of one step over that of the cup
	strength float64        // of a powder's mirrors, 1/mm a step; 0 for what does not glint
	price    float64        // of one step
}

// amount is a number of steps as a dose.
func (b *bottle) amount(steps float64) measure.Amount {
	return measure.Amount{Value: steps * b.step.Value, Unit: b.step.Unit}
}

// lens is what every material does to light in one state of the plastic, with or without the flake's own colour.
type lens struct {
	base Coefficients
	per  []Coefficients // by bottle: one step in the base's own volume
}

type lensKey struct {
	state   cup.State
	between bool
}

// sight is one reading, ready to be compared.
type sight struct {
	view   *View
	lens   int
	lab    colour.Lab
	form   colour.Form // ΔE00 about the target, times the root of the weight
	weight float64
	dark   bool // only lightness counts

	sheens    []*colour.Spectrum // by bottle; nil for what does not glint
	ownSheens []*colour.Spectrum // of the powders in the cup
}

// problem is a wish in numbers.
type problem struct {
	bands   int
	bottles []bottle
	lenses  []lens
	sights  []sight
	weights float64 // their sum
	off     float64 // how far off the readings themselves may be together, ΔE00

	cup      cup.Cup
	shelf    cup.Shelf
	kit      measure.Kit
	base     *mix.Mix  // of the cup
	keys     []lensKey // by lens
	readings []Reading // by sight
	priceOf  func(uid string) float64

	stacked   bool      // some reading is of a stack
	rough     *problem  // the same on few bands
	all       []int     // every bottle
	strengths []float64 // of the mirrors in the cup, 1/mm
}

// mostOver is how far beyond the most that is usual a dose is searched.
const mostOver = 1.5

// scoopsOfADose is how often a spoon is filled for a dose at most.
const scoopsOfADose = 4

func newProblem(w *Wish, shelf cup.Shelf, kit measure.Kit) (*problem, error) {
	if err := w.Check(shelf); err != nil {
		return nil, err
	}
	c := w.Cup
	c.Target = nil
	base, err := mix.Stir(&c, shelf)
	if err != nil {
		return nil, err
	}
	p := &problem{bands: colour.Bands}
	readings := w.Readings
	if s := w.SeeThrough; s != nil {
		at := mix.Condition{ThicknessMM: s.ThicknessMM, Ground: optics.Against, Light: colour.D65}
		wanted := colour.XYZ{X: s.Share, Y: s.Share, Z: s.Share}.Lab(colour.XYZ{X: 1, Y: 1, Z: 1})
		readings = append(
			slices.Clone(readings), Reading{
				Name: "see-through", Lab: wanted, At: at, Weight: seeThroughWeight, onlyDark: true,
			},
		)
	}
	lenses := map[lensKey]int{}
	var keys []lensKey
	var counted []Reading
	for _, r := range readings {
		if r.Weight == 0 {
			continue
		}
		k := lensKey{r.At.State, r.Between}
		if k.state == "" {
			k.state = cup.Rested
		}
		at, ok := lenses[k]
		if !ok {
			at = len(keys)
			lenses[k] = at
			keys = append(keys, k)
		}
		own := newSight(r, at)
		for _, m := range base.Mirrors {
			sheen := Sheen(m.Powder, r.At.Light, r.At.TiltDeg)
			own.ownSheens = append(own.ownSheens, &sheen)
		}
		p.sights = append(p.sights, own)
		counted = append(counted, r)
		p.weights += r.Weight
		p.stacked = p.stacked || r.exact != nil
	}
	for _, r := range counted {
		p.off += r.Weight * r.Off * r.Off
	}
	if p.weights > 0 {
		p.off = math.Sqrt(p.off / p.weights)
	}
	if len(p.sights) == 0 {
		return nil, measure.Faulty("readings", "every reading was left aside: let at least one count")
	}
	for _, m := range base.Mirrors {
		p.strengths = append(p.strengths, m.Powder.Mirrors()*m.GramsL)
	}
	p.lenses = make([]lens, len(keys))
	for i, k := range keys {
		p.lenses[i] = lens{base: through(base, k)}
	}
	p.cup, p.shelf, p.kit, p.base, p.keys, p.readings, p.priceOf = c, shelf, kit, base, keys, counted, w.PriceOf
	for _, uid := range w.Allowed {
		m := shelf[uid]
		if err := p.allow(&m); err != nil {
			return nil, err
		}
	}
	p.rough = p.coarse()
	return p, nil
}

// through is what a mix does to light in a lens.
func through(m *mix.Mix, k lensKey) Coefficients {
	if k.between {
		m = m.Body()
	}
	l := m.Layer(1, k.state)
	return Coefficients{l.K, l.S}
}

// few steps of a bottle are stirred in to learn what one does: volumes and coefficients add up.
const few = 4

// allow adds a bottle to those that may be used.
func (p *problem) allow(m *material.Material) error {
	b := bottle{m: m, step: cup.NextStep(m, p.kit)}
	_, usual := m.Usual()
	b.usual = m.Middling().Value * p.cup.Volume.ML / measure.CupML / b.step.Value
	b.most = max(math.Ceil(mostOver*usual.Value*p.cup.Volume.ML/measure.CupML/b.step.Value), 4)
	if b.step.Unit == measure.InDrops {
		b.most = min(b.most, math.Floor(cup.MaxDropsPerCup*p.cup.Volume.ML/measure.CupML+0.5))
	} else if b.step.Unit == measure.InTeaspoons {
		b.spots = spots(p.kit, b.step.Value, b.most)
		b.most = b.spots[len(b.spots)-1]
	}
	mix, err := p.stir([]*bottle{&b}, []float64{few})
	if err != nil {
		return err
	}
	b.share = (mix.FinishedML/p.base.FinishedML - 1) / few
	if p.priceOf != nil {
		b.price = p.priceOf(m.UID) * takes(m, b.step)
	}
	if m.Powder != nil {
		b.strength = m.Powder.Mirrors() * 1000 * takes(m, b.step) / p.base.FinishedML
	}
	b.glows = mix.Glows() && !p.base.Glows()
	for i, k := range p.keys {
		is, was := through(mix, k), &p.lenses[i].base
		var per Coefficients
		for n := range per.K {
			per.K[n] = max(0, (is.K[n]*(1+few*b.share)-was.K[n])/few)
			per.S[n] = max(0, (is.S[n]*(1+few*b.share)-was.S[n])/few)
		}
		p.lenses[i].per = append(p.lenses[i].per, per)
	}
	for i, r := range p.readings {
		var sheen *colour.Spectrum
		if b.strength > 0 {
			s := Sheen(m.Powder, r.At.Light, r.At.TiltDeg)
			sheen = &s
		}
		p.sights[i].sheens = append(p.sights[i].sheens, sheen)
	}
	p.all = append(p.all, len(p.bottles))
	p.bottles = append(p.bottles, b)
	return nil
}

// poured is the cup with so many steps of each bottle in it.
func (p *problem) poured(bottles []*bottle, x []float64) (cup.Cup, error) {
	c := p.cup
	c.Doses = slices.Clone(c.Doses)
	for j, b := range bottles {
		if x[j] == 0 {
			continue
		}
		a := b.amount(x[j])
		at := slices.IndexFunc(c.Doses, func(d cup.Dose) bool { return d.Material == b.m.UID })
		if at < 0 {
			c.Doses = append(c.Doses, cup.Dose{Material: b.m.UID, Typed: a.String(), Amount: a})
		} else if err := addAmount(&c.Doses[at], b.m, a); err != nil {
			return c, err
		}
	}
	return c, nil
}

// stir works such a cup out, exactly.
func (p *problem) stir(bottles []*bottle, x []float64) (*mix.Mix, error) {
	cup, err := p.poured(bottles, x)
	if err != nil {
		return nil, err
	}
	shelf := p.shelf
	for _, b := range bottles {
		if _, there := shelf[b.m.UID]; !there { // one that is only thought of
			shelf = maps.Clone(shelf)
			shelf[b.m.UID] = *b.m
		}
	}
	return mix.Stir(&cup, shelf)
}

// of are the bottles of a set.
func (p *problem) of(set []int) []*bottle {
	out := make([]*bottle, len(set))
	for j, i := range set {
		out[j] = &p.bottles[i]
	}
	return out
}

// glows says whether something in a mix of these bottles glows, or lies in a stack, which only the exact model knows.
func (p *problem) glows(set []int) bool {
	if p.base.Glows() || p.stacked {
		return true
	}
	for _, i := range set {
		if p.bottles[i].glows {
			return true
		}
	}
	return false
}

// seen is what a sight shows of a mix, exactly.
func (p *problem) seen(i int, mix *mix.Mix) colour.Lab {
	if p.readings[i].Between {
		mix = mix.Body()
	}
	if exact := p.readings[i].exact; exact != nil {
		return exact(mix)
	}
	return mix.Colour(p.readings[i].At)
}

// leftOut is by how much the exact colours differ from the plain model's, by sight.
func (s *solver) leftOut(set []int, x []float64) []colour.Lab {
	mix, err := s.p.stir(s.p.of(set), x)
	if err != nil {
		return nil
	}
	s.prepare(set, x)
	out := make([]colour.Lab, len(s.p.sights))
	for i := range s.p.sights {
		c := &s.p.sights[i]
		s.shine(c, set)
		exact, plain := s.p.seen(i, mix), c.view.Lab(&s.mixes[c.lens], s.mirrors)
		out[i] = colour.Lab{L: exact.L - plain.L, A: exact.A - plain.A, B: exact.B - plain.B}
	}
	return out
}

// takes is an amount in ml of a liquid, or g of a solid.
func takes(m *material.Material, a measure.Amount) float64 {
	ml, grams, err := m.Take(a)
	if err != nil {
		return 0
	}
	if m.Form() == measure.Solid {
		return grams
	}
	return ml
}

// addAmount puts more to a dose, in the unit in which it stands.
func addAmount(d *cup.Dose, m *material.Material, more measure.Amount) error {
	if more.Unit != d.Amount.Unit {
		_, grams, err := m.Take(more)
		if err != nil {
			return err
		}
		if more, err = m.In(d.Amount.Unit, grams); err != nil {
			return err
		}
	}
	sum, ok := d.Amount.Plus(more)
	if !ok {
		return fmt.Errorf("%s: %s and %s do not add up", m.Name, d.Amount, more)
	}
	d.Amount, d.Typed = sum, sum.String()
	return nil
}

// spots are the doses, in steps, that a few scoops of the spoons at hand come to.
func spots(kit measure.Kit, step, most float64) []float64 {
	spoons := kit.SpoonsTSP
	if len(spoons) == 0 {
		spoons = []float64{step}
	}
	sums := []float64{0}
	for range scoopsOfADose {
		next := slices.Clone(sums)
		for _, s := range sums {
			for _, spoon := range spoons {
				if v := s + spoon/step; v <= most+1e-9 {
					next = append(next, v)
				}
			}
		}
		slices.Sort(next)
		sums = slices.CompactFunc(next, func(a, b float64) bool { return math.Abs(a-b) < 1e-9 })
	}
	return sums
}

// seeThroughWeight is what a wished see-through counts beside a reading.
const seeThroughWeight = 0.5

func newSight(r Reading, lens int) sight {
	s := sight{
		view: NewView(
			r.At.ThicknessMM, r.At.Ground, r.At.Light,
		), lens: lens, lab: r.Lab, weight: r.Weight, dark: r.onlyDark,
	}
	root := math.Sqrt(r.Weight)
	if r.onlyDark {
		s.form = colour.Form{root}
		return s
	}
	s.form = colour.FormAt(r.Lab).Times(root)
	return s
}

// apart is how far a colour lies from a sight's target.
func (s *sight) apart(lab colour.Lab) float64 {
	if s.dark {
		return math.Abs(lab.L - s.lab.L)
	}
	return colour.DeltaE00(lab, s.lab)
}
