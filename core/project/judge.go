package project

import (
	"cmp"
	"fmt"
	"math"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/match"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/recipe"
)

// By says where the colour of a batch comes from, the surest first.
type By string

// The ways.
const (
	ByReading By = "read"      // as the reference was: as thick, over the same ground, as old
	ByMove    By = "moved"     // read otherwise, and moved by what the model says of the difference
	ByModel   By = "predicted" // nobody read it yet
)

// alikeMM is how far two thicknesses may differ and still be compared as they are.
const alikeMM = 1.15

// Judged is how a batch stands to one colour that is sought.
type Judged struct {
	Name    string            `json:"name"`
	By      By                `json:"by" enum:"read,moved,predicted"`
	Wanted  mix.Swatch        `json:"wanted"`
	Is      mix.Swatch        `json:"is"`
	Differs colour.Difference `json:"differs"`
	Says    string            `json:"says,omitempty" doc:"Why it can't be compared as it was read, where it can't"`
}

// Standing is how a batch stands to a part.
type Standing struct {
	DeltaE00 float64  `json:"deltaE00" doc:"Over its readings, root of the mean square"`
	By       By       `json:"by" enum:"read,moved,predicted" doc:"The least sure of its readings"`
	Enough   bool     `json:"enough" doc:"Read, and inside the line"`
	Judged   []Judged `json:"judged" nullable:"false"`
}

// Judge compares a batch with a part: what was read of it, and its mix for what was not; nil where nobody knows what
// went in.
func Judge(p *Sought, readings []recipe.PartReading, m *mix.Mix) Standing {
	v := Standing{By: ByReading, Judged: []Judged{}}
	sum := 0.0
	for i := range p.Targets {
		j := judge(&p.Targets[i], readings, m)
		sum += j.Differs.DeltaE00 * j.Differs.DeltaE00
		if rank(j.By) > rank(v.By) {
			v.By = j.By
		}
		v.Judged = append(v.Judged, j)
	}
	v.DeltaE00 = math.Sqrt(sum / float64(len(p.Targets)))
	v.Enough = v.By != ByModel && v.DeltaE00 <= p.Stop()
	return v
}

func rank(by By) int { return map[By]int{ByReading: 0, ByMove: 1, ByModel: 2}[by] }

func judge(t *cup.Target, readings []recipe.PartReading, m *mix.Mix) Judged {
	at := match.Targets(t).At
	var predicted colour.Lab
	if m != nil {
		predicted = m.Colour(at)
	}
	is, by, says := predicted, ByModel, ""
	var same []colour.Lab
	nearest := math.Inf(1)
	for i := range readings {
		r := &readings[i]
		apart := math.Abs(math.Log(r.ThicknessMM / at.ThicknessMM))
		if alike(r.ThicknessMM, at.ThicknessMM) && r.Ground == at.Ground && r.State == at.State {
			same = append(same, r.Lab)
			continue
		}
		// The one that has to be moved least: another ground or age counts as much as half the thickness.
		if r.Ground != at.Ground {
			apart += math.Ln2
		}
		if r.State != at.State {
			apart += math.Ln2
		}
		if apart < nearest && m != nil {
			nearest = apart
			was := m.Colour(r.At())
			by, is = ByMove, colour.Lab{
				L: predicted.L + r.Lab.L - was.L, A: predicted.A + r.Lab.A - was.A, B: predicted.B + r.Lab.B - was.B,
			}
			says = why(r, &at)
		}
	}
	if len(same) > 0 {
		by, is, says = ByReading, colour.Lab{}, ""
		for _, l := range same {
			n := float64(len(same))
			is.L, is.A, is.B = is.L+l.L/n, is.A+l.A/n, is.B+l.B/n
		}
	}
	if by == ByModel && m == nil {
		is, says = t.Lab, "Nobody knows what went in, and it was not read as the reference was."
	}
	is.L = max(0, is.L)
	return Judged{
		Name: t.Name, By: by, Wanted: mix.NewSwatch(t.Lab), Is: mix.NewSwatch(is), Differs: colour.Compare(is, t.Lab),
		Says: says,
	}
}

// why says in what a reading differs from the reference's.
func why(r *recipe.PartReading, at *mix.Condition) string {
	var read, wanted string
	switch {
	case r.State != at.State:
		read, wanted = cmp.Or(r.State, cup.Rested).Name(), cmp.Or(at.State, cup.Rested).Name()
	case r.Ground != at.Ground:
		read, wanted = r.Ground.Name(), at.Ground.Name()
	default:
		read, wanted = measure.Number(r.ThicknessMM, 1)+" mm", measure.Number(at.ThicknessMM, 1)+" mm"
	}
	return fmt.Sprintf("%s was read %s, the reference %s: moved by what is predicted of that.", r.Name, read, wanted)
}

// Best is the batch that came nearest of those that were read; -1 for none.
func Best(all []Standing) int {
	best := -1
	for i := range all {
		if all[i].By != ByModel && (best < 0 || all[i].DeltaE00 < all[best].DeltaE00) {
			best = i
		}
	}
	return best
}
