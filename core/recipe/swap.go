package recipe

import (
	"fmt"
	"maps"
	"slices"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// Swapped is a cup with one thing changed and its look kept as far as that goes.
type Swapped struct {
	Cup       cup.Cup     `json:"cup"`
	DeltaE00  float64     `json:"deltaE00" doc:"Mean over thin and thick, over white and dark, at arm's length"`
	Nearness  string      `json:"nearness"`
	Hold      string      `json:"hold,omitempty" doc:"Why the doses were left as they are, where that is the best"`
	Flake     []SwapFlake `json:"flake" nullable:"false" doc:"How each flake shows before and after"`
	FlakeSeen *float64    `json:"flakeSeen,omitempty" doc:"Share of the flake's pieces that can still be told apart; none where there was no flake"`
	Was       SwapFeel    `json:"was"`
	Is        SwapFeel    `json:"is"`
	Changes   []string    `json:"changes" nullable:"false" doc:"What changes in the cup, in words"`
	Lost      []string    `json:"lost" nullable:"false" doc:"What can't be kept"`
	Before    []SwapPatch `json:"before" nullable:"false"`
	After     []SwapPatch `json:"after" nullable:"false"`
}

// SwapPatch is the cup in one of the looks that are compared.
type SwapPatch struct {
	Name   string     `json:"name"`
	Swatch mix.Swatch `json:"swatch"`
}

// SwapFlake is a flake before and after a swap; none of it where its count is 0.
type SwapFlake struct {
	Was  FlakeShows `json:"was"`
	Is   FlakeShows `json:"is"`
	Says string     `json:"says" doc:"What changes of it, close up"`
}

// FlakeShows is how many pieces of a flake a bait has, and how many of them can be told apart.
type FlakeShows struct {
	Material    string  `json:"material,omitempty"`
	SizeIN      float64 `json:"sizeIN"`
	PerBait     float64 `json:"perBait" doc:"Pieces in the bait; in one of 6 ml where none is named"`
	CountPerCM2 float64 `json:"countPerCM2" doc:"That can be told apart"`
	CoverPerMM  float64 `json:"coverPerMM" doc:"mm² of flake per mm³ of plastic"`
}

// SwapFeel is what a cup is like in the hand.
type SwapFeel struct {
	mix.Feel
	LoadPercent float64 `json:"loadPercent" doc:"Salt, glass and spheres, % of the weight"`
}

// InPlace says what is put in place of what.
type InPlace struct {
	Old, New string
	Keep     Keep       // of a flake: its cover (the default) or its count
	Mold     *bait.Mold // the bait that it is for, where one is known
}

// kept is a look that is to be kept: how it was seen, and how it will be. Where free, it is only compared.
type kept struct {
	name    string
	was, is mix.Condition
	free    bool
}

func seenAt(mm float64, g optics.Ground) mix.Condition {
	return mix.Condition{ThicknessMM: mm, Ground: g, Light: colour.D65}
}

// looks are those in which a swap keeps a look: fin and body over white, body over dark and against the light.
func looks() []kept {
	var out []kept
	for _, l := range []struct {
		name string
		mm   float64
		on   optics.Ground
	}{
		{"fin over white", mix.FinMM, optics.White},
		{"body over white", mix.BodyMM, optics.White},
		{"body over dark", mix.BodyMM, optics.Dark},
		{"body against the light", mix.BodyMM, optics.Against},
	} {
		at := seenAt(l.mm, l.on)
		out = append(out, kept{name: l.name, was: at, is: at})
	}
	return out
}

// Thickness is that of a bait's body and of its fins.
type Thickness struct{ BodyMM, FinMM float64 }

// ThicknessOf is a shape's.
func ThicknessOf(s *bait.Shape) Thickness {
	return Thickness{BodyMM: s.ThickestMM(), FinMM: s.ThinnestMM()}
}

// Keep names what is kept.
type Keep string

// The parts of a bait, and what of a flake is kept: as much of it to see, or as many pieces.
const (
	KeepBody  Keep = "body"
	KeepFins  Keep = "fins"
	KeepCover Keep = "cover"
	KeepCount Keep = "count"
)

// InAnotherBait solves the colours so that the named part of a bait of another thickness looks as it did in this one;
// the other part is compared, since it can't be kept besides where the two baits' fins and bodies differ in their own
// ways.
func InAnotherBait(c *cup.Cup, from, to Thickness, keep Keep, shelf cup.Shelf, kit measure.Kit) (*Swapped, error) {
	for _, mm := range []float64{from.BodyMM, from.FinMM, to.BodyMM, to.FinMM} {
		if err := cup.CheckThickness("bait", mm); err != nil {
			return nil, err
		}
	}
	type part struct {
		name     string
		from, to float64
	}
	body, fins := part{"body", from.BodyMM, to.BodyMM}, part{"fins", from.FinMM, to.FinMM}
	main, other := body, fins
	if keep == KeepFins {
		main, other = fins, body
	}
	pairs := []kept{{
		name: other.name + " over white", was: seenAt(other.from, optics.White), is: seenAt(other.to, optics.White),
		free: true,
	}}
	for _, g := range []optics.Ground{optics.White, optics.Dark, optics.Against} {
		pairs = append(pairs, kept{name: main.name + " " + g.Name(), was: seenAt(main.from, g), is: seenAt(main.to, g)})
	}
	try := *c
	try.Doses = cup.Times(c.Doses, main.from/main.to) // half as thick takes about twice as much
	var free []int
	for i, d := range try.Doses {
		if b := shelf[d.Material]; b.Colours() {
			free = append(free, i)
		} else {
			try.Doses[i] = c.Doses[i] // salt and softener go by volume
		}
	}
	out, err := keepLook(c, &try, free, pairs, shelf, kit)
	if err != nil {
		return nil, err
	}
	return out, out.tell(c, nil, shelf)
}

// Replace swaps one line for another material, so that the cup looks as before. Another bottle's dose is solved and the
// others stay. Another flake keeps its cover or its count, and the base follows where that helps.
func Replace(c *cup.Cup, swap InPlace, shelf cup.Shelf, kit measure.Kit) (*Swapped, error) {
	at := slices.IndexFunc(c.Doses, func(d cup.Dose) bool { return d.Material == swap.Old })
	bottle, ok := shelf[swap.New]
	switch {
	case at < 0:
		return nil, measure.Faulty("old", "that is not in this cup")
	case !ok || !bottle.Colours():
		return nil, measure.Faulty("new", "choose a colourant, powder or flake from the shelf")
	case slices.IndexFunc(c.Doses, func(d cup.Dose) bool { return d.Material == swap.New }) >= 0:
		return nil, measure.Faulty("new", "%s is in this cup already; add to it instead", bottle.Name)
	}
	try := *c
	try.Doses = slices.Clone(c.Doses)
	try.Doses[at] = cup.Dose{
		Material: swap.New, Typed: "", Amount: bottle.Middling().Times(c.Volume.ML / measure.CupML),
	}
	old := shelf[swap.Old]
	if old.Flake == nil || bottle.Flake == nil {
		out, err := keepLook(c, &try, []int{at}, looks(), shelf, kit)
		if err != nil {
			return nil, err
		}
		return out, out.tell(c, swap.Mold, shelf)
	}
	dose, err := likeFlake(c.Doses[at].Amount, &old, &bottle, swap.Keep)
	if err != nil {
		return nil, err
	}
	try.Doses[at].Amount = dose
	measurable(&try, []int{at}, kit)
	out, err := keepLook(c, &try, colourants(&try, shelf), looks(), shelf, kit)
	if err != nil {
		return nil, err
	}
	return out, out.tell(c, swap.Mold, shelf)
}

// likeFlake is the dose of one flake that has the cover, or the count, of a dose of another.
func likeFlake(a measure.Amount, old, new *material.Material, keep Keep) (measure.Amount, error) {
	_, grams, err := old.Take(a)
	if err != nil {
		return a, measure.Faulty("old", "%s", err)
	}
	pieces := old.Flake.Pieces(grams)
	if keep != KeepCount {
		pieces *= old.Flake.AreaMM2() / new.Flake.AreaMM2()
	}
	unit := measure.InTeaspoons
	if a.Unit == measure.InGrams {
		unit = measure.InGrams
	}
	return new.In(unit, pieces/new.Flake.Pieces(1))
}

func colourants(c *cup.Cup, shelf cup.Shelf) []int {
	var free []int
	for i, d := range c.Doses {
		if b := shelf[d.Material]; b.Colourant != nil || b.Powder != nil {
			free = append(free, i)
		}
	}
	return free
}

// mostFlake is how many times its flake a cup is given to show as much of it through a load; above it, the loss is
// said.
const mostFlake = 2.0

// LookWith adds an amount of an additive, and lets the doses follow so that the cup looks as before: flake so that as
// many pieces show, then the colours. Where that comes no closer than the doses as they are, they are left.
func LookWith(c *cup.Cup, uid, typed string, shelf cup.Shelf, kit measure.Kit) (*Swapped, error) {
	m, ok := shelf[uid]
	if !ok || m.Additive == nil {
		return nil, measure.Faulty("material", "choose an additive from the shelf")
	}
	a, err := kit.ParseDose(typed, m.Form(), c.Volume.ML)
	if err != nil {
		return nil, &measure.Fault{Field: "typed", Says: err.Error()}
	}
	try := *c
	try.Doses = slices.DeleteFunc(slices.Clone(c.Doses), func(d cup.Dose) bool { return d.Material == uid })
	try.Doses = append(try.Doses, cup.Dose{Material: uid, Typed: typed, Amount: a})
	before, err := mix.Stir(c, shelf)
	if err != nil {
		return nil, err
	}
	after, err := mix.Stir(&try, shelf)
	if err != nil {
		return nil, err
	}
	at := seenAt(mix.BodyMM, optics.White)
	var counted []mix.Counted
	var lines []int
	for _, l := range before.Legibility(at) {
		flake := shelf[l.Material]
		if i := slices.IndexFunc(
			try.Doses, func(d cup.Dose) bool { return d.Material == l.Material },
		); l.CountPerCM2 > 0 && try.Doses[i].Amount.Unit == measure.InTeaspoons {
			counted, lines = append(counted, mix.Counted{Flake: &flake, PerCM2: l.CountPerCM2}), append(lines, i)
		}
	}
	doses, _ := after.DosesSeen(counted, at)
	for n, i := range lines {
		d := &try.Doses[i]
		d.Amount.Value = min(max(d.Amount.Value, doses[n].Value), mostFlake*d.Amount.Value)
		if d.Amount.Value > 1.02*c.AmountOf(d.Material).Value {
			measurable(&try, []int{i}, kit)
		}
	}
	out, err := keepLook(c, &try, colourants(&try, shelf), looks(), shelf, kit)
	if err != nil {
		return nil, err
	}
	return out, out.tell(c, nil, shelf)
}

// Loads are salt and glass side by side: the same amount of each that the shelf has, with the look kept as far as that
// goes.
func Loads(c *cup.Cup, typed string, shelf cup.Shelf, kit measure.Kit) ([]Load, error) {
	out := []Load{}
	for _, uid := range slices.Sorted(maps.Keys(shelf)) {
		m := shelf[uid]
		if m.Additive == nil || m.Additive.Role != material.Salt && m.Additive.Role != material.Glass {
			continue
		}
		s, err := LookWith(c, uid, typed, shelf, kit)
		if err != nil {
			return nil, err
		}
		out = append(out, Load{uid, m.Name, *s})
	}
	return out, nil
}

// Load is a cup with an amount of one salt or glass in it.
type Load struct {
	Material string  `json:"material"`
	Name     string  `json:"name"`
	Swapped  Swapped `json:"swapped"`
}

// tell adds what colour at arm's length does not say: how the flake shows close up, in this bait, and what the plastic
// is like.
func (s *Swapped) tell(was *cup.Cup, mold *bait.Mold, shelf cup.Shelf) error {
	var mixes [2]*mix.Mix
	var err error
	for i, c := range []*cup.Cup{was, &s.Cup} {
		if mixes[i], err = mix.Stir(c, shelf); err != nil {
			return err
		}
	}
	s.Was, s.Is = feels(mixes[0]), feels(mixes[1])
	ml := mix.UsualBaitML
	if mold != nil {
		ml = mold.VolumeML()
	}
	shows := [2][]FlakeShows{shows(mixes[0], ml, shelf), shows(mixes[1], ml, shelf)}
	add := func(f SwapFlake) {
		f.Says = f.says()
		s.Flake = append(s.Flake, f)
	}
	for _, was := range shows[0] {
		is := slices.IndexFunc(shows[1], func(o FlakeShows) bool { return o.Material == was.Material })
		if is < 0 { // the one that is new stands for the one that is gone
			is = slices.IndexFunc(shows[1], func(o FlakeShows) bool {
				return !slices.ContainsFunc(shows[0], func(w FlakeShows) bool { return w.Material == o.Material })
			})
		}
		f := SwapFlake{Was: was}
		if is >= 0 {
			f.Is = shows[1][is]
			shows[1] = slices.Delete(shows[1], is, is+1)
		}
		add(f)
	}
	for _, is := range shows[1] {
		if was.AmountOf(is.Material).Value == 0 {
			add(SwapFlake{Is: is})
		}
	}
	for _, f := range s.Flake {
		if f.Says != "" {
			s.Lost = append(s.Lost, f.Says)
			if s.DeltaE00 < 4 {
				s.Nearness += " at arm's length; close up the flake is another"
			}
			break
		}
	}
	if mold != nil {
		had := map[string]bool{}
		for _, w := range mold.Watch(mixes[0], shelf) {
			had[w.Says] = true
		}
		for _, w := range mold.Watch(mixes[1], shelf) {
			if !had[w.Says] {
				s.Lost = append(s.Lost, w.Says)
			}
		}
	}
	s.FlakeSeen = s.shareSeen()
	return nil
}

// How much of a count or a size may change before the eye sees it close up, as a factor.
const (
	sameCount = 1.4
	sameCut   = 1.25
)

func (f *SwapFlake) says() string {
	if f.Was.PerBait == 0 || f.Is.PerBait == 0 {
		return ""
	}
	count, size := f.Is.PerBait/f.Was.PerBait, f.Is.SizeIN/f.Was.SizeIN
	seen := 1.0
	if f.Was.CountPerCM2 > 0 {
		seen = f.Is.CountPerCM2 / f.Was.CountPerCM2
	}
	switch {
	case size > sameCut || size < 1/sameCut || count > sameCount || count < 1/sameCount:
		return fmt.Sprintf(
			"flake: about %s pieces a bait instead of %s, each with %s × the area", measure.Number(f.Is.PerBait, 0),
			measure.Number(f.Was.PerBait, 0), measure.Number(size*size, 2),
		)
	case seen < 0.85:
		return fmt.Sprintf("flake: %s %% of the pieces still show", measure.Number(100*seen, 0))
	}
	return ""
}

// shareSeen is the share of the flake's pieces that can still be told apart; none where no flake was in it.
func (s *Swapped) shareSeen() *float64 {
	was, is := 0.0, 0.0
	for _, f := range s.Flake {
		was, is = was+f.Was.CountPerCM2, is+f.Is.CountPerCM2
	}
	if was == 0 {
		return nil
	}
	share := min(1, is/was)
	return &share
}

func feels(m *mix.Mix) SwapFeel {
	f := SwapFeel{Feel: m.Feel()}
	f.LoadPercent = 100 * m.LoadG / m.MassG
	return f
}

// shows is how each flake of a mix shows in a bait of ml.
func shows(m *mix.Mix, ml float64, shelf cup.Shelf) []FlakeShows {
	var out []FlakeShows
	for _, l := range m.Legibility(seenAt(mix.BodyMM, optics.White)) {
		f := shelf[l.Material].Flake
		per := l.PiecesTotal / (1000 * m.FinishedML)
		out = append(out, FlakeShows{l.Material, f.SizeIn.Value, per * 1000 * ml, l.CountPerCM2, per * f.AreaMM2()})
	}
	return out
}
