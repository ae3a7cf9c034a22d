package cup

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// Live is a cup on the bench: what is in it now, and what became of the rest. Its contents are a quantity. When part of
// it is poured, each thing in it gets less by the same share; every later dose is for what is left.
type Live struct {
	Cup
	Letter string    `json:"letter,omitempty" maxLength:"2" doc:"A, B, C… as written on the cup"`
	Part   string    `json:"part,omitempty" maxLength:"40" doc:"Which part of the bait it is for"`
	For    string    `json:"for,omitempty" maxLength:"64" format:"uid" doc:"uid of the project that it is a test cup of"`
	Heats  []Heat    `json:"heats,omitempty" maxItems:"200"`
	Out    []Portion `json:"out,omitempty" maxItems:"200" doc:"What left the cup"`
}

// Heat is one heating.
type Heat struct {
	TempC float64 `json:"tempC"`
	AtMS  int64   `json:"atMS" doc:"ms since 1970"`
}

// Portion is what left a cup at once. Doses are amounts.
type Portion struct {
	What      StepKind `json:"what" enum:"pour,lost"`
	ML        float64  `json:"ml" doc:"Plastisol"`
	Plastisol string   `json:"plastisol" maxLength:"64" format:"uid"`
	Doses     []Dose   `json:"doses" nullable:"false"`
	Share     float64  `json:"share" doc:"Of what was in the cup"`
	BackML    float64  `json:"backML,omitempty" doc:"Plastisol of it that came back, as sprues and plug"`
}

func (v Live) clone() Live {
	v.Doses = slices.Clone(v.Doses)
	v.Heats = slices.Clone(v.Heats)
	v.Out = slices.Clone(v.Out)
	return v
}

// Called is how a live cup is called: by its own name or its recipe's, by what it is where it has neither; in full with
// its letter and how much there is of it.
func (v *Live) Called(own, recipe string) (short, full string) {
	short = cmp.Or(own, recipe)
	switch {
	case short != "":
	case len(v.Doses) == 0:
		short = "Clear plastisol"
	default:
		short = "A cup of its own"
	}
	full = short
	if v.Letter != "" {
		full = "Cup " + v.Letter + ": " + full
	}
	return short, full + ", " + v.Volume.Typed
}

// parseShare reads "half", "1/3", "2 fl oz", "100 ml" as a share of what is in the cup.
func (v *Live) parseShare(typed string, shelf Shelf) (float64, error) {
	finishedML, err := v.FinishedML(shelf)
	if err != nil {
		return 0, err
	}
	const examples = "a share or a volume such as half, 1/3, 40 %, 2 fl oz or 100 ml"
	text := strings.ToLower(strings.TrimSpace(typed))
	if n, ok := strings.CutSuffix(text, "%"); ok {
		p, err := strconv.ParseFloat(strings.TrimSpace(n), 64)
		if err != nil || !(p > 0 && p <= 100) {
			return 0, measure.Faulty("typed", "%q is no share; type %s", typed, examples)
		}
		return p / 100, nil
	}
	switch text {
	case "half", "half of it", "1/2":
		return 0.5, nil
	case "all", "the rest", "everything":
		return 1, nil
	}
	if a, b, ok := strings.Cut(text, "/"); ok {
		x, err1 := strconv.ParseFloat(strings.TrimSpace(a), 64)
		y, err2 := strconv.ParseFloat(strings.TrimSpace(b), 64)
		if err1 == nil && err2 == nil {
			if !(x > 0 && y >= x) {
				return 0, measure.Faulty("typed", "%q is no share of a cup; type %s", typed, examples)
			}
			return x / y, nil
		}
	}
	part, err := measure.ParseVolume(typed)
	if err != nil {
		return 0, measure.Faulty("typed", "%q is no share of a cup; type %s", typed, examples)
	}
	if part.ML > finishedML+1e-9 {
		return 0, measure.Faulty(
			"typed", "%s is more than the %s ml that are in the cup; type %s", typed, measure.Number(finishedML, 0),
			examples,
		)
	}
	return part.ML / finishedML, nil
}

// least is what stays in a cup that was emptied: nobody gets out the last of it, and a cup without plastisol is none.
const least = 0.01

// pour takes a share out of the cup.
func (v *Live) pour(what StepKind, share float64) error {
	share = min(share, 1-least)
	p := Portion{
		What: what, ML: v.Volume.ML * share, Plastisol: v.Plastisol, Share: share, Doses: Times(v.Doses, share),
	}
	v.hold(v.Volume.ML-p.ML, Times(v.Doses, 1-share))
	v.Out = append(v.Out, p)
	return nil
}

// takeBack brings sprues and plug of what was poured last back into the cup: a share of it.
func (v *Live) takeBack(typed string, shelf Shelf) error {
	for i := len(v.Out) - 1; i >= 0; i-- {
		p := &v.Out[i]
		if p.What != PourOut || p.BackML >= p.ML-1e-12 {
			continue
		}
		share := 0.0
		text := strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(typed), "%"))
		n, err := strconv.ParseFloat(text, 64)
		if err == nil && strings.HasSuffix(strings.TrimSpace(typed), "%") {
			share = n / 100
		} else if volume, err := measure.ParseVolume(typed); err == nil {
			share = volume.ML / p.ML
		}
		left := 1 - p.BackML/p.ML
		if !(share > 0 && share <= left+1e-9) {
			return measure.Faulty(
				"typed", "type how much of the last pour came back: up to %s %%, or %s ml", measure.Number(100*left, 0),
				measure.Number(left*p.ML, 0),
			)
		}
		share = min(share, left)
		doses := merge(v.Doses, append(Times(p.Doses, share), plastisolDose(p.Plastisol, p.ML*share)), shelf)
		v.hold(v.Volume.ML, doses)
		p.BackML += p.ML * share
		return nil
	}
	return measure.Faulty("typed", "nothing was poured from this cup that could come back")
}

// Split parts a cup in two: the share goes into a second cup, which inherits contents and heats.
func (v Live) Split(share float64) (rest, other Live, err error) {
	if !(share >= least && share <= 1-least) {
		return v, Live{}, measure.Faulty("typed", "a split leaves something in both cups: from 1 to 99 %% goes over")
	}
	rest, other = v.clone(), v.clone()
	other.Out, other.Letter, other.Part = nil, "", ""
	other.hold(v.Volume.ML*share, Times(v.Doses, share))
	rest.hold(v.Volume.ML*(1-share), Times(v.Doses, 1-share))
	if rest.Volume.Check() != nil || other.Volume.Check() != nil {
		return v, Live{}, measure.Faulty(
			"typed", "a split leaves at least 1 ml of plastisol in both cups; there is too little in this one",
		)
	}
	return rest, other, nil
}

// Merge pours all that is in another cup into this one. Another grade of plastisol comes in as a dose.
func (v Live) Merge(other Live, shelf Shelf) Live {
	sum := v.clone()
	sum.hold(
		v.Volume.ML,
		merge(sum.Doses, append(slices.Clone(other.Doses), plastisolDose(other.Plastisol, other.Volume.ML)), shelf),
	)
	for _, h := range other.Heats { // the older plastic brings its age
		if !slices.Contains(sum.Heats, h) {
			sum.Heats = append(sum.Heats, h)
		}
	}
	slices.SortFunc(sum.Heats, func(a, b Heat) int { return int(a.AtMS - b.AtMS) })
	return sum
}

// Second is the second cup of a split or a merge, as it stands.
type Second struct {
	Away     bool // off the bench
	WorkedOn bool // since that step
}

// Turn says whether the second cup of a step is off the bench once the step is done again, or undone: the child of a
// split is there only while the split is, and a cup that was poured in is away only while it is in. False where it
// can't be turned, since the second cup has been worked on.
func (k StepKind) Turn(again bool, second Second) (away, ok bool) {
	awayWhile := func(done bool) bool { return done == (k == MergeIn) }
	return awayWhile(again), !second.WorkedOn && second.Away == awayWhile(!again)
}

func plastisolDose(uid string, ml float64) Dose {
	a := measure.Amount{Value: ml, Unit: measure.InML}
	return Dose{uid, a.String(), a}
}

// hold sets what is in the cup by reckoning; what was typed no longer holds. More of the cup's own plastisol is volume.
func (v *Live) hold(ml float64, doses []Dose) {
	for _, d := range doses {
		if d.Material == v.Plastisol {
			ml += d.Amount.Value
		}
	}
	doses = slices.DeleteFunc(doses, func(d Dose) bool { return d.Material == v.Plastisol })
	v.Volume = measure.Volume{Typed: measure.Number(ml, 1) + " ml", ML: ml}
	v.Doses = doses
}

// Times is a share of doses, as amounts.
func Times(doses []Dose, share float64) []Dose {
	out := make([]Dose, len(doses))
	for i, d := range doses {
		a := d.Amount
		a.Value, a.Low, a.High = a.Value*share, a.Low*share, a.High*share
		out[i] = Dose{d.Material, a.String(), a}
	}
	return out
}

// merge adds doses up, material by material.
func merge(into, more []Dose, shelf Shelf) []Dose {
	out := slices.Clone(into)
	for _, d := range more {
		at := slices.IndexFunc(out, func(o Dose) bool { return o.Material == d.Material })
		if at < 0 {
			out = append(out, d)
			continue
		}
		m := shelf[d.Material]
		out[at].Amount = plus(out[at].Amount, d.Amount, &m)
		out[at].Typed = out[at].Amount.String()
	}
	return out
}

// Warmth is how a cup stands to its last heat.
type Warmth struct {
	MinutesSince float64 `json:"minutesSince"`
	TempC        float64 `json:"tempC" doc:"Estimated now"`
	Says         string  `json:"says"`
	Reheat       bool    `json:"reheat" doc:"Too cold to shoot, or nearly"`
	Heats        int     `json:"heats"`
	InMinutes    float64 `json:"inMinutes" doc:"Minutes until it should be heated again"`
}

// ShootableC is what plastisol is shot above: 300 °F.
const ShootableC = 149.0

// How a cup cools: Newton's law with a time constant that grows with the cup, so that 240 ml in a glass measure lose
// about 7 K a minute at first.
const (
	roomC          = 20.0
	scorchC        = 190.0 // 375 °F; a maker of plastisol may state less
	warmer         = 15.0  // K that a reading lies above what it should have cooled to, where it was heated
	coldMinutes    = 45.0  // after so long a cup that is hot again was heated again
	coolMinutes240 = 21.0
)

// coolsTo is what a cup of this size has cooled to, °C.
func (v *Live) coolsTo(fromC, minutes float64) float64 {
	return roomC + (fromC-roomC)*math.Exp(-minutes/(coolMinutes240*math.Cbrt(v.Volume.ML/240)))
}

// heats counts how often the cup was heated. Several entries are one heat as long as it did not get too cold to shoot
// in between: makers heat in bursts, and write down what the thermometer says as it cools.
func (v *Live) heats() int {
	n, hottest := 0, 0.0
	for i, h := range v.Heats {
		again := i == 0
		if i > 0 {
			since := float64(h.AtMS-v.Heats[i-1].AtMS) / 60_000
			cooled := v.coolsTo(v.Heats[i-1].TempC, since)
			again = since > coldMinutes || hottest >= ShootableC && cooled < ShootableC && h.TempC > cooled+warmer
		}
		if again {
			n, hottest = n+1, 0
		}
		hottest = max(hottest, h.TempC)
	}
	return n
}

// Watch is one thing to look out for, with its reason.
type Watch struct {
	Kind     string `json:"kind" doc:"Names the rule"`
	Material string `json:"material,omitempty" doc:"uid of the material that it is about"`
	Says     string `json:"says"`
	Why      string `json:"why"`
}

// HeatWatch says where a cup was or is hotter than its plastisol stands.
func (v *Live) HeatWatch(shelf Shelf) []Watch {
	limit, says := scorchC, "Most plastisol scorches there; its maker's own limit counts."
	m := shelf[v.Plastisol]
	if h := m.Heat; h != nil && h.MaxC > 0 && h.Origin != material.NoneSaid {
		limit, says = h.MaxC, "Its heat limit: "+h.Words()+"."
	}
	hottest := 0.0
	for _, h := range v.Heats {
		hottest = max(hottest, h.TempC)
	}
	if hottest <= limit+0.5 {
		return nil
	}
	return []Watch{{"scorch", v.Plastisol, fmt.Sprintf("%s is more than %s stands (%s): it yellows and gives off irritant gas. Take it outside, let it cool, do not breathe it.",
		measure.Degrees(hottest), m.Name, measure.Degrees(limit)), says}}
}

// WarmthAt says how warm the cup is estimated to be at a time; nil if it was never heated.
func (v *Live) WarmthAt(nowMS int64) *Warmth {
	if len(v.Heats) == 0 {
		return nil
	}
	last := v.Heats[len(v.Heats)-1]
	since := max(0, float64(nowMS-last.AtMS)/60_000)
	tau := coolMinutes240 * math.Cbrt(v.Volume.ML/240)
	w := &Warmth{MinutesSince: since, TempC: roomC + (last.TempC-roomC)*math.Exp(-since/tau), Heats: v.heats()}
	if last.TempC > ShootableC {
		w.InMinutes = max(0, tau*math.Log((last.TempC-roomC)/(ShootableC-roomC))-since)
	}
	w.Reheat = w.InMinutes < 1
	switch {
	case w.TempC > scorchC:
		w.Says = fmt.Sprintf(
			"About %s: too hot. It yellows and gives off irritant gas: take it outside and let it cool.",
			measure.Degrees(w.TempC),
		)
	case w.TempC < 60:
		w.Says = fmt.Sprintf("Cold: heated %s min ago.", measure.Number(since, 0))
	case w.InMinutes == 0:
		w.Says = fmt.Sprintf("About %s: too cold to shoot. Reheat.", measure.Degrees(w.TempC))
	case w.Reheat:
		w.Says = fmt.Sprintf("About %s: reheat soon.", measure.Degrees(w.TempC))
	default:
		w.Says = fmt.Sprintf(
			"About %s; some %s min until it is too cold to shoot.", measure.Degrees(w.TempC),
			measure.Number(w.InMinutes, 0),
		)
	}
	return w
}
