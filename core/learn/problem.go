package learn

import (
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/match"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// perBottle are the parameters of a bottle: the logarithm of its strength, then of its hue, then where its absorption
// lies.
const perBottle = 1 + material.HueModes + 1

// atShift is the last of them.
const atShift = perBottle - 1

// unevenDrop is how far the volume of one drop lies from the usual one, of 1: one standard deviation. Many even out.
const unevenDrop = 0.03

// How far a device is off all over, by L, a and b, and how far the model itself is off on each axis of Lab, whatever is
// known of the bottles: one standard deviation. Each is weighed anew: as what was found, beside the usual, which is
// worth so many axes of it. A device is taken to be far off at first: beginning narrow lays on its bottles what it is
// off.
const (
	usualDevice, firstDevice, deviceWorth = 0.2, 2.0, 1.0
	usualModel, modelWorth                = 0.05, 2.0
)

// part is what one bottle adds to a batch.
type part struct {
	bottle  int                // in problem.bottles
	dose    int                // the unknown dose that it is of; -1 where it was measured
	is      match.Coefficients // by the bottle's own figures, 1/mm
	steep   colour.Spectrum    // of its absorption
	uneven  float64            // how far the volume of its counted drops may be off, of 1, squared
	mirrors float64            // of a powder, 1/mm; 0 for what does not glint
}

// poured is a batch in numbers.
type poured struct {
	rest  match.Coefficients // what nothing is learned of: plastisol, flake, additives
	parts []part
	mix   *mix.Mix
	cup   cup.Cup
}

func (o *poured) stir(shelf cup.Shelf) (*mix.Mix, error) { return mix.Stir(&o.cup, shelf) }

// sight is a reading in numbers.
type sight struct {
	batch, device int // device -1 for none
	view          *match.View
	haze          float64
	sheens        []*colour.Spectrum // by part that mirrors
	lab           colour.Lab
	off           float64    // of the reading, on each axis of Lab
	uneven        float64    // what uneven drops add to that, squared
	look          int        // in problem.looks
	weight        float64    // root of how much it counts
	glow          colour.Lab // what the plain model leaves out
	at            mix.Condition
}

// problem is what there is to learn from.
type problem struct {
	shelf   cup.Shelf // by its own figures
	bottles []string
	spread  []Spreads
	model   float64 // how far the model is off, on each axis of Lab
	doses   []dose
	devices []string
	device  []float64 // how far each is off, on each axis of Lab: one standard deviation
	pours   []poured
	sights  []sight
	looks   []float64 // how many readings each look at a batch has: what is off in all of them does not even out
	slopes  []match.Gradient
	shine   []match.Gradient
	parts   []*match.Coefficients
	store   []match.Coefficients
	mirrors []match.Mirror
}

// dose is one that was not counted.
type dose struct {
	batch, line int
	spread      float64 // of its logarithm, about the amount that stands in the cup
}

func (p *problem) size() int {
	return perBottle*len(p.bottles) + len(p.doses) + 3*len(p.devices)
}

func (p *problem) doseAt(i int) int   { return perBottle*len(p.bottles) + i }
func (p *problem) deviceAt(i int) int { return perBottle*len(p.bottles) + len(p.doses) + 3*i }

// newProblem puts batches into numbers. Bottles are named in the order in which they occur.
func newProblem(shelf cup.Shelf, batches []Batch) (*problem, error) {
	p := &problem{shelf: plain(shelf), model: usualModel}
	known, devices, looks := map[string]int{}, map[string]int{}, map[mix.Condition]int{}
	for n := range batches {
		b := &batches[n]
		if len(b.Readings) == 0 {
			continue
		}
		if err := b.Check(p.shelf); err != nil {
			return nil, err
		}
		one, err := p.pour(&b.Cup, known, len(p.pours))
		if err != nil {
			return nil, err
		}
		p.pours = append(p.pours, one)
		clear(looks)
		for _, r := range b.Readings {
			device := -1
			if r.Device != "" {
				at, ok := devices[r.Device]
				if !ok {
					at = len(p.devices)
					devices[r.Device] = at
					p.devices, p.device = append(p.devices, r.Device), append(p.device, firstDevice)
				}
				device = at
			}
			s := p.look(len(p.pours)-1, r.At)
			s.device, s.lab, s.weight = device, r.Lab, 1
			s.off = max(leastOff, r.Off)
			if _, ok := looks[r.At]; !ok {
				looks[r.At] = len(p.looks)
				p.looks = append(p.looks, 0)
			}
			s.look = looks[r.At]
			p.looks[s.look]++
			p.sights = append(p.sights, s)
		}
	}
	return p, nil
}

// plain is a shelf by its bottles' own figures.
func plain(shelf cup.Shelf) cup.Shelf {
	out := make(cup.Shelf, len(shelf))
	for uid, m := range shelf {
		out[uid] = m.Taught(nil)
	}
	return out
}

// pour takes a cup apart into what its bottles do.
func (p *problem) pour(c *cup.Cup, known map[string]int, batch int) (poured, error) {
	m, err := mix.Stir(c, p.shelf)
	if err != nil {
		return poured{}, err
	}
	one := poured{rest: match.Coefficients{K: m.K, S: m.S}, mix: m, cup: *c}
	for i, line := range m.Lines {
		unknown := -1
		if a := c.Doses[i].Amount; a.Estimated() && a.Value > 0 {
			unknown = len(p.doses)
			p.doses = append(p.doses, dose{batch, i, spreadOf(a.AtLeast().Value, a.AtMost().Value, a.Value)})
		}
		uneven := 0.0
		if a := c.Doses[i].Amount; a.Unit == measure.InDrops && unknown < 0 {
			uneven = unevenDrop * unevenDrop / max(1, a.Value)
		}
		bottle := p.shelf[line.Material]
		add := func(uid string, k, s colour.Spectrum, per, mirrors float64) {
			at, ok := known[uid]
			if !ok {
				at = len(p.bottles)
				known[uid] = at
				of := p.shelf[uid]
				p.bottles, p.spread = append(p.bottles, uid), append(p.spread, SpreadOf(&of))
			}
			t := part{bottle: at, dose: unknown, uneven: uneven, mirrors: mirrors}
			if mirrors == 0 { // a mirror's hue is its film's
				t.steep = material.Steepness(&k)
			}
			for b := range k {
				t.is.K[b], t.is.S[b] = per*k[b], per*s[b]
				one.rest.K[b] -= t.is.K[b]
				one.rest.S[b] -= t.is.S[b]
			}
			one.parts = append(one.parts, t)
		}
		switch {
		case bottle.Colourant != nil && len(bottle.Colourant.Contains) > 0:
			for _, c := range bottle.Colourant.Contains {
				of := p.shelf[c.Material]
				k, s := of.Colourant.Coefficients()
				add(c.Material, k, s, line.PerLitre*c.Share, 0)
			}
		case bottle.Colourant != nil:
			k, s := bottle.Colourant.Coefficients()
			add(line.Material, k, s, line.PerLitre, 0)
		case bottle.Powder != nil:
			k, s := bottle.Powder.Coefficients()
			add(line.Material, k, s, line.PerLitre, bottle.Powder.Mirrors()*line.PerLitre)
		}
	}
	return one, nil
}

// spreadOf is the standard deviation of a dose's logarithm, of which four in five lie within the bounds.
func spreadOf(low, high, value float64) float64 {
	const inFourOfFive = 1.2816
	low, high = max(low, value/20), max(high, value*1.01)
	return max(0.02, math.Log(high/low)/(2*inFourOfFive))
}

// look prepares to look at a batch.
func (p *problem) look(batch int, at mix.Condition) sight {
	one := &p.pours[batch]
	l := one.mix.Layer(1, at.State)
	s := sight{
		batch: batch, device: -1, view: match.NewView(at.ThicknessMM, at.Ground, at.Light), haze: l.S[0] - one.mix.S[0],
		at: at, weight: 1,
	}
	for i := range one.parts {
		if one.parts[i].mirrors > 0 {
			m := p.shelf[p.bottles[one.parts[i].bottle]]
			sheen := match.Sheen(m.Powder, at.Light, at.TiltDeg)
			s.sheens = append(s.sheens, &sheen)
		}
	}
	return s
}

// predict is what a reading would be, with its slope by each parameter of the batch's parts: into by, where it is
// given, at the part's place, perBottle each.
func (p *problem) predict(s *sight, x []float64, slope bool) (colour.Lab, []match.Gradient) {
	one := &p.pours[s.batch]
	sum := one.rest
	for b := range sum.S {
		sum.S[b] += s.haze
	}
	need := len(one.parts) * perBottle
	for len(p.store) < need {
		p.store = append(p.store, match.Coefficients{})
		p.slopes = append(p.slopes, match.Gradient{})
		p.parts = append(p.parts, nil)
	}
	p.mirrors = p.mirrors[:0]
	for i := range one.parts {
		t := &one.parts[i]
		at := x[perBottle*t.bottle:]
		strong := at[0]
		if t.dose >= 0 {
			strong += x[p.doseAt(t.dose)]
		}
		strength := math.Exp(strong)
		by := p.store[i*perBottle : (i+1)*perBottle]
		for b := range sum.K {
			hue := -at[atShift] * t.steep[b]
			for h := range material.HueModes {
				hue += at[1+h] * material.Hat(h)[b]
			}
			k, sc := t.is.K[b]*strength*math.Exp(hue), t.is.S[b]*strength
			by[0].K[b], by[0].S[b] = k, sc
			sum.K[b] += k
			sum.S[b] += sc
			if slope {
				for h := range material.HueModes {
					by[1+h].K[b] = k * material.Hat(h)[b]
				}
				by[atShift].K[b] = -k * t.steep[b]
			}
		}
		if t.mirrors > 0 {
			p.mirrors = append(p.mirrors, match.Mirror{Sheen: s.sheens[len(p.mirrors)], Strength: t.mirrors * strength})
		}
	}
	for b := range sum.K {
		sum.K[b], sum.S[b] = max(0, sum.K[b]), max(0, sum.S[b])
	}
	if !slope {
		return plus(s.view.Lab(&sum, p.mirrors), s.glow), nil
	}
	for len(p.shine) < len(p.mirrors) {
		p.shine = append(p.shine, match.Gradient{})
	}
	for i := range need {
		p.parts[i] = &p.store[i]
	}
	lab := s.view.Slope(&sum, p.parts[:need], p.slopes[:need], p.mirrors, p.shine[:len(p.mirrors)])
	n := 0
	for i := range one.parts {
		if one.parts[i].mirrors > 0 {
			for ch := range 3 {
				p.slopes[i*perBottle][ch] += p.shine[n][ch] * p.mirrors[n].Strength
			}
			n++
		}
	}
	return plus(lab, s.glow), p.slopes[:need]
}

func plus(a, b colour.Lab) colour.Lab { return colour.Lab{L: a.L + b.L, A: a.A + b.A, B: a.B + b.B} }

// sd is how far a reading may lie from what is predicted, with the bottles known. What the model and the drops are off
// by is the same in all readings of a look: it counts as if each had so many times as much.
func (p *problem) sd(s *sight) float64 {
	return math.Sqrt(s.off*s.off + p.looks[s.look]*(p.model*p.model+s.uneven))
}

// drops works out what uneven drops add to each reading.
func (p *problem) drops(x []float64) {
	for i := range p.sights {
		s := &p.sights[i]
		_, slopes := p.predict(s, x, true)
		s.uneven = 0
		for n, t := range p.pours[s.batch].parts {
			of := slopes[n*perBottle]
			s.uneven += t.uneven * (of[0]*of[0] + of[1]*of[1] + of[2]*of[2]) / 3
		}
	}
}

// Look is fit.Model's: the readings' residuals, then how far each parameter is from what was thought before.
func (p *problem) Look(x, r []float64, by [][]float64) bool {
	for j := range by {
		clear(by[j])
	}
	for i := range p.sights {
		s := &p.sights[i]
		lab, slopes := p.predict(s, x, by != nil)
		if s.device >= 0 {
			at := x[p.deviceAt(s.device):]
			lab = plus(lab, colour.Lab{L: at[0], A: at[1], B: at[2]})
		}
		w := s.weight / p.sd(s)
		r[3*i], r[3*i+1], r[3*i+2] = w*(lab.L-s.lab.L), w*(lab.A-s.lab.A), w*(lab.B-s.lab.B)
		if by == nil {
			continue
		}
		put := func(j int, slope match.Gradient) {
			for ch := range 3 {
				by[j][3*i+ch] += w * slope[ch]
			}
		}
		for n := range p.pours[s.batch].parts {
			t := &p.pours[s.batch].parts[n]
			for k := range perBottle {
				put(perBottle*t.bottle+k, slopes[n*perBottle+k])
			}
			if t.dose >= 0 {
				put(p.doseAt(t.dose), slopes[n*perBottle])
			}
		}
		if s.device >= 0 {
			for ch := range 3 {
				var one match.Gradient
				one[ch] = 1
				put(p.deviceAt(s.device)+ch, one)
			}
		}
	}
	prior := r[3*len(p.sights):]
	for j, v := range x {
		sd := p.priorSD(j)
		prior[j] = v / sd
		if by != nil {
			by[j][3*len(p.sights)+j] = 1 / sd
		}
	}
	return true
}

// priorSD is how far a parameter may be from nothing.
func (p *problem) priorSD(j int) float64 {
	switch {
	case j >= p.deviceAt(0):
		return p.device[(j-p.deviceAt(0))/3]
	case j >= p.doseAt(0):
		return p.doses[j-p.doseAt(0)].spread
	case j%perBottle == 0:
		return p.spread[j/perBottle].Strength
	case j%perBottle == atShift:
		return p.spread[j/perBottle].ShiftNM
	}
	return p.spread[j/perBottle].Hue
}
