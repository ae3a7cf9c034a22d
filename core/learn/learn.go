package learn

import (
	"math"

	"gonum.org/v1/gonum/mat"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/fit"
	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// Learnt is what batches have taught.
type Learnt struct {
	p       *problem
	x       []float64
	cov     *mat.SymDense // of x, if all is off as far as is likeliest; nil where there is nothing
	beliefs []belief
	at      map[string]int // by bottle
	uids    []readingOf    // by reading
	taught  []int          // how many batches each bottle was in
}

type readingOf struct{ batch, reading string }

// Readings that don't fit count less: as if errors were Student's t of so many degrees of freedom.
const (
	freedom  = 8.0
	rounds   = 12  // of weighing anew
	doubtful = 0.3 // weight below which a reading is one that doesn't fit
)

// From learns from batches. The shelf is taken by its bottles' own figures, whatever was learned of them before.
func From(shelf cup.Shelf, batches []Batch) (*Learnt, error) {
	readings := 0
	for i := range batches {
		readings += len(batches[i].Readings)
	}
	if readings > MaxReadings {
		return nil, measure.Faulty(
			"readings", "up to %d readings are learned from at once; these are %d. Leave old batches out", MaxReadings,
			readings,
		)
	}
	p, err := newProblem(shelf, batches)
	if err != nil {
		return nil, err
	}
	l := &Learnt{
		p: p, x: make([]float64, p.size()), at: map[string]int{}, taught: make([]int, len(p.bottles)),
		uids: make([]readingOf, 0, readings),
	}
	for i, uid := range p.bottles {
		l.at[uid] = i
	}
	for i := range batches {
		for _, r := range batches[i].Readings {
			l.uids = append(l.uids, readingOf{batches[i].UID, r.UID})
		}
	}
	for i := range p.pours {
		seen := map[int]bool{}
		for _, t := range p.pours[i].parts {
			if !seen[t.bottle] {
				seen[t.bottle] = true
				l.taught[t.bottle]++
			}
		}
	}
	if len(p.sights) == 0 {
		l.beliefs = unread()
		return l, nil
	}
	least := fit.Least{Rounds: 12, Gain: 1e-5}
	residuals := 3*len(p.sights) + len(l.x)
	for range rounds {
		l.glow()
		p.drops(l.x)
		least.Find(p, l.x, residuals)
		changed := p.weighAnew(l.x)
		if err := l.spread(&least, residuals); err != nil {
			return nil, err
		}
		if max(changed, l.model(), l.device()) < 0.02 {
			break
		}
	}
	l.believe(&least, residuals)
	return l, nil
}

// spread works out how sure the parameters are: the inverse of the normal equations at where they are.
func (l *Learnt) spread(least *fit.Least, residuals int) error {
	a, _ := l.normal(least, residuals)
	var chol mat.Cholesky
	l.cov = mat.NewSymDense(len(l.x), nil)
	if !chol.Factorize(a) || chol.InverseTo(l.cov) != nil {
		return measure.Faulty(
			"readings", "these readings can't be learned from together; leave out those that look wrong",
		)
	}
	return nil
}

// model weighs anew how far the model itself is off, by what the readings leave over, and says by how much that
// changed. Each parameter takes up as much of the readings as they have told of it (MacKay 1992). Readings of one look
// are off by the model together, so that their mean is what counts.
func (l *Learnt) model() float64 {
	p := l.p
	means := make([]struct{ weight, l, a, b, off float64 }, len(p.looks))
	var r [3]float64
	for i := range p.sights {
		s := &p.sights[i]
		p.off(s, l.x, r[:])
		sd, w, m := p.sd(s), s.weight*s.weight, &means[s.look]
		m.weight += w
		m.l, m.a, m.b = m.l+w*sd*r[0], m.a+w*sd*r[1], m.b+w*sd*r[2]
		m.off += w * w * (s.off*s.off + p.looks[s.look]*s.uneven)
	}
	over, count, off := 0.0, 0.0, 0.0
	for i, m := range means {
		w := m.weight / p.looks[i]
		over += w * (m.l*m.l + m.a*m.a + m.b*m.b) / (m.weight * m.weight)
		off += w * 3 * m.off / (m.weight * m.weight)
		count += 3 * w
	}
	told := 0.0
	for j := range l.x {
		sd := p.priorSD(j)
		told += 1 - l.cov.At(j, j)/(sd*sd)
	}
	free := max(0, count-told)
	more := 0.0
	if free > 0 {
		more = max(0, over-off*free/count)
	}
	was := p.model
	p.model = math.Sqrt((modelWorth*usualModel*usualModel + more) / (modelWorth + free))
	return math.Abs(p.model - was)
}

// device weighs anew how far each device is off, in the same way.
func (l *Learnt) device() (most float64) {
	p := l.p
	for i := range p.devices {
		was := p.device[i]
		square, told := 0.0, 0.0
		for j := p.deviceAt(i); j < p.deviceAt(i)+3; j++ {
			square += l.x[j] * l.x[j]
			told += 1 - l.cov.At(j, j)/(was*was)
		}
		p.device[i] = math.Sqrt((deviceWorth*usualDevice*usualDevice + square) / (deviceWorth + told))
		most = max(most, math.Abs(p.device[i]-was))
	}
	return most
}

// glow works out what the plain model leaves out of what glows.
func (l *Learnt) glow() {
	for i := range l.p.pours {
		one := &l.p.pours[i]
		if !one.mix.Glows() {
			continue
		}
		exact := l.exactly(one)
		for k := range l.p.sights {
			s := &l.p.sights[k]
			if s.batch != i || exact == nil {
				continue
			}
			s.glow = colour.Lab{}
			fast, _ := l.p.predict(s, l.x, false)
			is := exact(s)
			s.glow = colour.Lab{L: is.L - fast.L, A: is.A - fast.A, B: is.B - fast.B}
		}
	}
}

// weighAnew lets readings that don't fit count less, and says by how much at most a weight changed.
func (p *problem) weighAnew(x []float64) (most float64) {
	var r [3]float64
	for i := range p.sights {
		s := &p.sights[i]
		p.off(s, x, r[:])
		w := math.Sqrt((freedom + 3) / (freedom + r[0]*r[0] + r[1]*r[1] + r[2]*r[2]))
		w = min(1, w)
		most = max(most, math.Abs(w-s.weight))
		s.weight = w
	}
	return most
}

// off puts how far a reading lies from what is predicted into r, in its own standard deviations.
func (p *problem) off(s *sight, x, r []float64) {
	lab, _ := p.predict(s, x, false)
	if s.device >= 0 {
		at := x[p.deviceAt(s.device):]
		lab = plus(lab, colour.Lab{L: at[0], A: at[1], B: at[2]})
	}
	sd := p.sd(s)
	r[0], r[1], r[2] = (lab.L-s.lab.L)/sd, (lab.A-s.lab.A)/sd, (lab.B-s.lab.B)/sd
}

// Bottle is what was learned of a bottle; nil for nothing.
func (l *Learnt) Bottle(uid string) *material.Learned {
	i, ok := l.at[uid]
	if !ok || l.cov == nil {
		return nil
	}
	at := perBottle * i
	out := &material.Learned{
		LnStrength: l.x[at], ShiftNM: l.x[at+atShift], StrengthSD: math.Sqrt(l.cov.At(at, at)), Batches: l.taught[i],
	}
	copy(out.LnHue[:], l.x[at+1:at+atShift])
	return out
}

// Of is what was learned of some bottles only: the others count as if nothing were known of them.
func (l *Learnt) Of(uids []string) *Learnt {
	some := *l
	some.at = map[string]int{}
	for _, uid := range uids {
		if at, ok := l.at[uid]; ok {
			some.at[uid] = at
		}
	}
	return &some
}

// Shelf is a shelf with what was learned of its bottles.
func (l *Learnt) Shelf(shelf cup.Shelf) cup.Shelf {
	out := make(cup.Shelf, len(shelf))
	for uid, m := range shelf {
		out[uid] = m.Taught(l.Bottle(uid))
	}
	return out
}

// Misfit is a reading that doesn't fit the others: a wrong bottle, another thickness, bad light.
type Misfit struct {
	Batch, Reading string
	DeltaE00       float64 // between it and what is predicted now
}

// Misfits are the readings that don't fit. They have counted little.
func (l *Learnt) Misfits() (out []Misfit) {
	for i := range l.p.sights {
		s := &l.p.sights[i]
		if s.weight*s.weight >= doubtful {
			continue
		}
		lab, _ := l.p.predict(s, l.x, false)
		out = append(
			out, Misfit{l.uids[i].batch, l.uids[i].reading, colour.DeltaE00(plus(lab, l.offset(s.device)), s.lab)},
		)
	}
	return out
}

func (l *Learnt) offset(device int) colour.Lab {
	if device < 0 {
		return colour.Lab{}
	}
	at := l.x[l.p.deviceAt(device):]
	return colour.Lab{L: at[0], A: at[1], B: at[2]}
}

// Offset is what a device adds to all it reads, as far as that shows.
func (l *Learnt) Offset(device string) colour.Lab {
	for i, d := range l.p.devices {
		if d == device {
			return l.offset(i)
		}
	}
	return colour.Lab{}
}

// Uncounted is a dose that nobody counted, as the readings have it.
type Uncounted struct {
	Batch, Line int // of those with readings, and of its doses
	Times       float64
	SD          float64 // of the logarithm
}

// Uncounted are the doses that nobody counted.
func (l *Learnt) Uncounted() (out []Uncounted) {
	for i, d := range l.p.doses {
		at := l.p.doseAt(i)
		out = append(out, Uncounted{d.batch, d.line, math.Exp(l.x[at]), math.Sqrt(l.cov.At(at, at))})
	}
	return out
}

// exactly is the exact colour of a batch that glows, with what was learned so far; nil where it can't be worked out.
func (l *Learnt) exactly(one *poured) func(s *sight) colour.Lab {
	shelf := cup.Shelf{}
	for uid, m := range l.p.shelf {
		if i, ok := l.at[uid]; ok {
			t := &material.Learned{LnStrength: l.x[perBottle*i], ShiftNM: l.x[perBottle*i+atShift]}
			copy(t.LnHue[:], l.x[perBottle*i+1:])
			m = m.Taught(t)
		}
		shelf[uid] = m
	}
	m, err := one.stir(shelf)
	if err != nil {
		return nil
	}
	return func(s *sight) colour.Lab { return m.Colour(s.at) }
}
