package pour

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"cloudburst/core/cup"
	"cloudburst/core/leftover"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/plan"
	"cloudburst/core/recipe"
)

// Bench is what an order is planned with.
type Bench struct {
	Equipment
	Kit   measure.Kit
	Shelf cup.Shelf
	Molds Molds
	Stock map[string]material.Stock // by material
}

// Planned is an order worked out.
type Planned struct {
	Shots      []PlannedShot `json:"shots" nullable:"false" doc:"One after the other"`
	Cooks      []Cook        `json:"cooks" nullable:"false" doc:"Cups that are cooked at once, A first"`
	Heats      []Heat        `json:"heats" nullable:"false" doc:"By cup of the order"`
	Molds      []Filled      `json:"molds" nullable:"false"`
	Made       int           `json:"made" doc:"Baits, with spares"`
	Packs      int           `json:"packs"`
	Goes       []Goes        `json:"goes" nullable:"false" doc:"Where all of it goes, ml cold"`
	InML       float64       `json:"inML" doc:"All of it, cold"`
	LeftML     float64       `json:"leftML" doc:"Of that, what can be melted again"`
	Needs      []Need        `json:"needs" nullable:"false"`
	Cost       float64       `json:"cost" doc:"As far as prices are known"`
	PerBait    float64       `json:"perBait"`
	PerPack    float64       `json:"perPack"`
	BaitG      float64       `json:"baitG" doc:"What a bait of the first mold weighs"`
	BaitSays   string        `json:"baitSays" doc:"Whether it floats"`
	Watch      []string      `json:"watch" nullable:"false" doc:"What to know before"`
	Timeline   *Timeline     `json:"timeline,omitempty"`
	Impossible *Impossible   `json:"impossible,omitempty" doc:"Where the heats or the times clash"`
}

// PlannedShot is a shot as it is planned.
type PlannedShot struct {
	Way   Way    `json:"way" enum:"hand,shot,laid,tails,rods"`
	Name  string `json:"name"`
	Rig   string `json:"rig,omitempty" doc:"What it is shot with"`
	Loads []Load `json:"loads" nullable:"false"`
	Cups  []int  `json:"cups" nullable:"false" doc:"Of the order, all hot at once"`
}

// Load is what is drawn at once, or poured by hand.
type Load struct {
	Cooks []int      `json:"cooks" nullable:"false" doc:"Of each of the shot's cups"`
	HotML []float64  `json:"hotML" nullable:"false" doc:"Drawn of each"`
	Fills []MoldFill `json:"fills" nullable:"false"`
}

// MoldFill is one fill of a mold.
type MoldFill struct {
	Mold     string `json:"mold"`
	Name     string `json:"name"`
	Cavities int    `json:"cavities"`
}

// Cook is a cup that is cooked at once.
type Cook struct {
	Letter     string     `json:"letter"`
	Of         int        `json:"of" doc:"Which cup of the order it is"`
	Name       string     `json:"name"`
	MeasuredML float64    `json:"measuredML" doc:"Finished, cold"`
	NeededML   float64    `json:"neededML" doc:"Of that, what the fills and losses take"`
	RestML     float64    `json:"restML" doc:"Of that, what nobody needs: left over"`
	RestWorth  bool       `json:"restWorth" doc:"Enough is left over to ask what it is good for"`
	Cup        cup.Cup    `json:"cup" doc:"What goes in fresh: plastisol and whole doses"`
	LeftML     float64    `json:"leftML,omitempty" doc:"What goes in first, left of an earlier run"`
	Doses      []CookDose `json:"doses" nullable:"false"`
	DeltaE00   float64    `json:"deltaE00" doc:"By which the whole doses miss the recipe"`
	Nearness   string     `json:"nearness"`
	GML        float64    `json:"gML" doc:"Its density"`
	Price      float64    `json:"price"`
	LostML     float64    `json:"lostML" doc:"Counted for what stays in the cup, cold"`
	Even       string     `json:"even,omitempty" doc:"A larger volume near by at which every line is whole"`
}

// CookDose is a dose of a cook, and when it goes in.
type CookDose struct {
	Material string         `json:"material"`
	Name     string         `json:"name"`
	When     When           `json:"when" enum:"cold,colour,flake"`
	Says     string         `json:"says" doc:"As it is measured"`
	Scoops   measure.Scoops `json:"scoops" doc:"Which spoons, how often; none for what is not spooned"`
	Grams    float64        `json:"grams"`
	MaxC     float64        `json:"maxC,omitempty" doc:"Its heat limit; 0 where there is none"`
}

// When is when a dose goes in.
type When string

// The times: before the first heat, into the hot cup, last.
const (
	Cold   When = "cold"
	Colour When = "colour"
	Flake  When = "flake"
)

// Filled is a mold's share.
type Filled struct {
	Mold  string `json:"mold"`
	Name  string `json:"name"`
	Pour  int    `json:"pour" doc:"Baits, with spares"`
	Made  int    `json:"made"`
	Fills int    `json:"fills"`
}

// Goes is where some of it goes.
type Goes struct {
	What string  `json:"what"`
	ML   float64 `json:"ml"`
	Left bool    `json:"left" doc:"It can be melted again"`
}

// Need is what an order takes of a bottle.
type Need struct {
	Material string  `json:"material"`
	Name     string  `json:"name"`
	Amount   float64 `json:"amount" doc:"ml of a liquid, g of a solid"`
	Unit     string  `json:"unit" enum:"ml,g"`
	Counted  bool    `json:"counted" doc:"Its stock is known"`
	Left     float64 `json:"left"`
	ShortBy  float64 `json:"shortBy" doc:"More than there is; 0 where it is enough, or nobody counts"`
}

// Figure works an order out: cooks, doses, needs and cost, and when to do what. Where its heats or times clash, that is
// said in it; an error is for what makes no plan at all.
func (o *Order) Figure(b *Bench) (*Planned, error) {
	if err := cmp.Or(b.Equipment.Check(), o.Check(b.Shelf)); err != nil {
		return nil, err
	}
	shots, err := o.shots(b.Molds)
	if err != nil {
		return nil, err
	}
	p := &Planned{Cooks: []Cook{}, Needs: []Need{}, Watch: []string{}}
	p.Heats = o.heats(shots, &b.Equipment, b.Shelf)
	job, made, rigs, err := o.rigged(b, shots, p.Heats)
	if err != nil {
		return nil, err
	}
	if err := p.lay(o, b, shots, job, made, rigs); err != nil {
		return nil, err
	}
	if o.ColourRaw {
		p.colourRaw(b)
	}
	p.balance(made, len(p.Cooks))
	p.needs(b)
	p.weigh(o, b)
	p.watch(o, b)
	if said := o.clash(p.Heats); len(said) > 0 {
		p.Impossible = &Impossible{Says: "The heats of this bait clash.", Clash: said}
	} else if err := p.time(o, b); err != nil {
		var clash *plan.Clash
		if !errors.As(err, &clash) {
			return nil, err
		}
		p.Impossible = &Impossible{Says: "These can't be kept together.", Clash: clashWords(clash)}
	}
	return p, nil
}

// rigged chooses what each shot is shot with: whatever takes the fewest loads, then the smallest.
func (o *Order) rigged(b *Bench, shots []shot, heats []Heat) (*plan.Job, *plan.Plan, []rig, error) {
	chosen, most := make([]rig, len(shots)), make([]int, len(shots))
	for i, s := range shots {
		if s.byHand() {
			continue
		}
		all := b.rigs(len(s.parts))
		if len(all) == 0 {
			if len(s.parts) == 1 || len(b.Injectors) == 0 {
				continue // from the cup
			}
			return nil, nil, nil, measure.Faulty(
				"equipment",
				"%d colours are shot at once here, and no injector of yours has as many barrels: take one that has, or single ones and a blending block",
				len(s.parts),
			)
		}
		best, fewest := -1, 0
		var failed error
		for k, r := range all {
			most[i] = mostFills
			for _, p := range s.parts {
				most[i] = min(most[i], b.fillsPerLoad(heats[p.cup].AimC, r.ml))
			}
			one := o.job(b.Molds, &b.Equipment, shots[i:i+1], []rig{r}, most[i:i+1])
			p, err := plan.Make(one, b.Kit)
			if err != nil {
				failed = err
				continue
			}
			if n := len(p.Shots[0].FillsPerLoad); best < 0 || n < fewest {
				best, fewest = k, n
			}
		}
		if best < 0 {
			return nil, nil, nil, o.tooLarge(failed)
		}
		chosen[i] = all[best]
	}
	job := o.job(b.Molds, &b.Equipment, shots, chosen, most)
	made, err := plan.Make(job, b.Kit)
	if err != nil {
		return nil, nil, nil, o.tooLarge(err)
	}
	// Shots into one mold go load by load: their loads have to take the same fills.
	for try := 0; !sameLoads(shots, made); try++ {
		least := 1
		if try == 0 {
			least = mostFills
			for i := range made.Shots {
				for _, n := range made.Shots[i].FillsPerLoad {
					least = min(least, n)
				}
			}
		}
		for i := range job.Shots {
			job.Shots[i].MostFills = least
		}
		if made, err = plan.Make(job, b.Kit); err != nil {
			return nil, nil, nil, o.tooLarge(err)
		}
	}
	return job, made, chosen, nil
}

func sameLoads(shots []shot, made *plan.Plan) bool {
	var first []int
	for i := range made.Shots {
		sizes := made.Shots[i].FillsPerLoad
		if sizes == nil || shots[i].way == Tails {
			continue
		}
		if first != nil && !slices.Equal(first, sizes) {
			return false
		}
		first = sizes
	}
	return true
}

func (o *Order) tooLarge(err error) error {
	var large *plan.TooLarge
	if errors.As(err, &large) {
		return measure.Faulty("molds", "%s", large)
	}
	return err
}

// mostCooks is what is planned at once: more is a day's work, and two plans.
const mostCooks = 24

// use is what one cook of a shot's part takes.
type use struct{ shot, part, cook int }

// shared are the cooks by the cup that they are done in: what two shots take of one cup is cooked at once where it
// fits.
func shared(made *plan.Plan, cupOf func(use) int, mostML float64) (groups [][]use) {
	for i := range made.Shots {
		for k := range made.Shots[i].Parts {
			for c := range made.Shots[i].Parts[k].Cooks {
				groups = append(groups, []use{{i, k, c}})
			}
		}
	}
	part := func(u use) *plan.PartPlan { return &made.Shots[u.shot].Parts[u.part] }
	takes := func(u use) float64 { return part(u).Cooks[u.cook].NeededColdML }
	for i := 0; i < len(groups); i++ {
		for k := i + 1; k < len(groups); k++ {
			a, z := groups[i][0], groups[k][0]
			if cupOf(a) != cupOf(z) || slices.ContainsFunc(groups[i], func(u use) bool { return u.shot == z.shot }) {
				continue
			}
			sum := takes(z)
			for _, u := range groups[i] {
				sum += takes(u)
			}
			if sum <= mostML && len(part(z).Cooks) == 1 && len(part(a).Cooks) == 1 {
				groups[i] = append(groups[i], z)
				groups = slices.Delete(groups, k, k+1)
				k--
			}
		}
	}
	return groups
}

// lay turns the plan's cooks into cups. A cup that is used in several shots is cooked once where it fits: one cup with
// one history.
func (p *Planned) lay(o *Order, b *Bench, shots []shot, job *plan.Job, made *plan.Plan, rigs []rig) error {
	at := func(u use) *plan.Cook { return &made.Shots[u.shot].Parts[u.part].Cooks[u.cook] }
	cupOf := func(u use) int { return shots[u.shot].parts[u.part].cup }
	groups := shared(made, cupOf, b.mostCookML())
	if len(groups) > mostCooks {
		return measure.Faulty(
			"molds",
			"that takes %d cups, one after the other: more than one day's work. Plan fewer baits, or a larger cup",
			len(groups),
		)
	}
	where := map[use]int{}
	left := slices.Clone(o.LeftML)
	for i, g := range groups {
		of := cupOf(g[0])
		c := Cook{Letter: letter(i), Of: of, Name: o.Cups[of].Name}
		for _, u := range g {
			where[u] = i
			c.NeededML += at(u).NeededColdML
			c.LostML += b.CupLossML * b.Shrink
		}
		c.MeasuredML = c.NeededML
		if b.StepML > 0 {
			c.MeasuredML = b.StepML * math.Ceil(c.NeededML/b.StepML-1e-9)
		}
		c.MeasuredML = max(c.MeasuredML, min(b.LeastML, b.mostCookML()))
		c.RestML = c.MeasuredML - c.NeededML
		c.RestWorth = c.RestML >= worthML
		if of < len(left) {
			c.LeftML = max(0, min(left[of], c.MeasuredML-leastFreshML))
			left[of] -= c.LeftML
		}
		if err := c.dose(&o.Cups[of].Cup, b); err != nil {
			return err
		}
		p.Cooks = append(p.Cooks, c)
	}
	for i := range made.Shots {
		s := &made.Shots[i]
		out := PlannedShot{Way: shots[i].way, Name: shots[i].name, Rig: rigs[i].name}
		if rigs[i].ml == 0 && out.Way == Shot {
			out.Way = ByHand
		}
		for k := range s.Parts {
			out.Cups = append(out.Cups, shots[i].parts[k].cup)
		}
		out.Loads = p.loads(o, b, job, made, i, func(part, cook int) int { return where[use{i, part, cook}] })
		p.Shots = append(p.Shots, out)
	}
	for i, m := range made.Molds {
		p.Molds = append(p.Molds, Filled{m.Name, b.Molds[o.Molds[i].Mold].Name, m.Pour, m.Made, len(m.Cavities)})
	}
	p.Made = made.BaitsMade
	if o.PackOf > 0 {
		p.Packs = p.Made / o.PackOf
	}
	return nil
}

// loads are a shot's loads, each with what it draws of which cook.
func (p *Planned) loads(
	o *Order, b *Bench, job *plan.Job, made *plan.Plan, shot int, cookOf func(part, cook int) int,
) []Load {
	s := &made.Shots[shot]
	var fills []MoldFill
	var sprues []float64
	for i, m := range made.Molds {
		for _, n := range m.Cavities {
			fills = append(fills, MoldFill{m.Name, b.Molds[o.Molds[i].Mold].Name, n})
			sprues = append(sprues, job.Molds[i].SprueHotML)
		}
	}
	sizes := s.FillsPerLoad
	if sizes == nil {
		for range fills {
			sizes = append(sizes, 1)
		}
	}
	up := 1 + job.TopUp*(1/job.Shrink-1)
	var out []Load
	cook, inCook := 0, 0
	for _, n := range sizes {
		of := &s.Parts[0].Cooks[cook]
		if inCook+n > of.Fills {
			cook, inCook = cook+1, 0
		}
		l := Load{Fills: fills[:n]}
		for k := range s.Parts {
			jp := &job.Shots[shot].Parts[k]
			hot := 0.0
			if jp.InjectorHotML > 0 {
				hot = jp.PlugHotML + jp.PurgeHotML
			}
			for f, fill := range fills[:n] {
				hot += float64(fill.Cavities)*(jp.GeometricML[fill.Mold]*up+jp.SpillHotML) + sprues[f]*jp.SprueShare
			}
			l.Cooks, l.HotML = append(l.Cooks, cookOf(k, cook)), append(l.HotML, hot)
		}
		fills, sprues = fills[n:], sprues[n:]
		inCook += n
		out = append(out, l)
	}
	return out
}

// leastFreshML is what goes fresh into a cup of leftovers at least: a line without any could not be measured.
const leastFreshML = 10.0

// letter names a cup: A to Z, then AA.
func letter(i int) string {
	if i >= 26 {
		return letter(i/26-1) + letter(i%26)
	}
	return string(rune('A' + i))
}

// dose scales the order's cup to a cook, in whole drops and owned spoons.
func (c *Cook) dose(from *cup.Cup, b *Bench) error {
	finished, err := from.FinishedML(b.Shelf)
	if err != nil {
		return err
	}
	ml := (c.MeasuredML - c.LeftML) * from.Volume.ML / finished
	to := measure.Volume{ML: ml, Typed: measure.Number(ml, 0) + " ml"}
	s, err := recipe.Scale(from, b.Shelf, b.Kit, to, mix.UsualLook(from))
	if err != nil {
		return err
	}
	c.Cup = *s.By(recipe.RoundTogether)
	c.DeltaE00, c.Nearness = s.DeltaE00, s.Nearness
	if s.Together != nil {
		c.DeltaE00, c.Nearness = s.Together.DeltaE00, s.Together.Nearness
	}
	for _, e := range s.Even {
		if c.Even == "" && e.Volume.ML > ml {
			c.Even = e.Says
		}
	}
	mixed, err := mix.Stir(&c.Cup, b.Shelf)
	if err != nil {
		return err
	}
	c.GML = mixed.MassG / mixed.FinishedML
	base := b.Stock[c.Cup.Plastisol]
	c.Price = base.PerUnit() * c.Cup.Volume.ML
	c.Doses = []CookDose{}
	for _, d := range c.Cup.Doses {
		m := b.Shelf[d.Material]
		ml, g, err := m.Take(d.Amount)
		if err != nil {
			return err
		}
		stock := b.Stock[d.Material]
		if m.Form() == measure.Liquid {
			c.Price += stock.PerUnit() * ml
		} else {
			c.Price += stock.PerUnit() * g
		}
		one := CookDose{
			Material: d.Material, Name: m.Name, When: whenOf(&m), Says: d.Amount.String(), Grams: g,
			Scoops: measure.Scoops{Counts: []measure.ScoopCount{}},
		}
		if d.Amount.Unit == measure.InTeaspoons {
			one.Scoops, _ = b.Kit.Round(d.Amount.Value)
			one.Says = one.Scoops.String()
			if one.Scoops.Scoops == 0 || math.Abs(one.Scoops.ErrorTSP) > 0.05*d.Amount.Value {
				one.Says = d.Amount.String()
			}
		}
		if l := m.Heat; l != nil && l.Origin != material.NoneSaid {
			one.MaxC = l.MaxC
		}
		c.Doses = append(c.Doses, one)
	}
	return nil
}

// colourRaw has colour go in before the first heat, but for what that heat would harm, and for grains, which would lie
// on the ground by then.
func (p *Planned) colourRaw(b *Bench) {
	for i := range p.Cooks {
		c := &p.Cooks[i]
		for k := range c.Doses {
			d := &c.Doses[k]
			if d.When == Colour && (d.MaxC == 0 || d.MaxC >= p.Heats[c.Of].WorkC) && b.grainMM(d.Material) == 0 {
				d.When = Cold
			}
		}
	}
}

func whenOf(m *material.Material) When {
	switch {
	case m.Flake != nil:
		return Flake
	case m.Additive != nil && (m.Additive.Role == material.Stabiliser || m.Additive.Role == material.Softener ||
		m.Additive.Role == material.Hardener), m.Plastisol != nil:
		return Cold
	}
	return Colour
}

// Where it goes, by the names that are asked for again.
const (
	goesBaits = "Baits"
	goesRest  = "Rest in the cups"
)

func (p *Planned) balance(made *plan.Plan, cooks int) {
	b := made.Balance
	in := 0.0
	for _, c := range p.Cooks {
		in += c.MeasuredML
	}
	rest := b.RestInCupsML + in - b.InML // cups cooked at once are measured at once
	p.InML, p.LeftML = in, b.SpruesML+b.PlugsML+b.CutOffsML+rest
	p.Goes = []Goes{
		{goesBaits, b.BaitsML, false},
		{"Sprues", b.SpruesML, true},
		{"Plugs", b.PlugsML, true},
		{"Cut off", b.CutOffsML, true},
		{goesRest, rest, true},
		{"Pushed out before a load", b.PurgeML, false},
		{"Stays in the cups", b.CupML, false},
		{"Spilled", b.SpillML, false},
	}
	p.Goes = slices.DeleteFunc(p.Goes, func(g Goes) bool { return math.Abs(g.ML) < 0.005 })
}

func (p *Planned) needs(b *Bench) {
	var cups []*cup.Cup
	for i := range p.Cooks {
		cups = append(cups, &p.Cooks[i].Cup)
		p.Cost += p.Cooks[i].Price
	}
	uses := leftover.InCups(b.Shelf, cups...)
	for uid, amount := range uses {
		m := b.Shelf[uid]
		n := Need{Material: uid, Name: m.Name, Amount: amount, Unit: "g"}
		if m.Form() == measure.Liquid {
			n.Unit = "ml"
		}
		if s, ok := b.Stock[uid]; ok && s.Typed != "" {
			n.Counted, n.Left, n.ShortBy = true, s.Left, max(0, amount-s.Left)
		}
		p.Needs = append(p.Needs, n)
	}
	slices.SortFunc(p.Needs, func(x, y Need) int {
		base := func(n Need) int {
			if m := b.Shelf[n.Material]; m.Plastisol != nil {
				return 0
			}
			return 1
		}
		return cmp.Or(cmp.Compare(base(x), base(y)), cmp.Compare(x.Name, y.Name))
	})
	if p.Made > 0 {
		p.PerBait = p.Cost / float64(p.Made)
	}
	if p.Packs > 0 {
		p.PerPack = p.Cost / float64(p.Packs)
	}
}

// weigh works out a bait of the first mold: its parts by the density of their cups.
func (p *Planned) weigh(o *Order, b *Bench) {
	m := o.first(b.Molds)
	st := o.fitted(m)
	parts, _ := m.Takes(&st, len(o.Cups))
	ml := 0.0
	for _, f := range parts {
		for _, c := range p.Cooks {
			if c.Of == f.Cup {
				p.BaitG += f.ML * c.GML
				ml += f.ML
				break
			}
		}
	}
	gml := p.BaitG / ml
	word := "sinks"
	switch {
	case gml < mix.FreshGML:
		word = "floats"
	case gml < mix.SaltGML:
		word = "sinks in fresh water and floats in the sea"
	}
	p.BaitSays = fmt.Sprintf("%s g; %s by itself.", measure.Number(p.BaitG, 1), word)
}

// watch says what is worth knowing before.
func (p *Planned) watch(o *Order, b *Bench) {
	for _, c := range p.Cooks {
		if c.DeltaE00 > 1 {
			closer := "A weaker cut of its strongest bottle comes closer."
			if c.Even != "" {
				closer = c.Even + ": plan more baits, or keep the rest. A weaker cut of its strongest bottle comes closer, too."
			}
			p.Watch = append(p.Watch, fmt.Sprintf("Cup %s, %s: whole drops and your spoons miss the recipe by ΔE00 %s at this volume (%s). %s",
				c.Letter, c.Name, measure.Number(c.DeltaE00, 1), c.Nearness, closer))
		}
		if c.MeasuredML > c.NeededML+max(b.StepML, 1) {
			p.Watch = append(p.Watch, fmt.Sprintf("Cup %s, %s: only %s ml are needed, and less than %s ml does not heat evenly. The rest is left over.",
				c.Letter, c.Name, measure.Number(c.NeededML, 0), measure.Number(b.LeastML, 0)))
		}
	}
	for i, h := range p.Heats {
		c := &o.Cups[i]
		if math.Abs(h.AimC-c.PourC) > 0.6 {
			why := h.Most
			if h.AimC > c.PourC {
				why = h.Least
			}
			p.Watch = append(
				p.Watch,
				fmt.Sprintf(
					"%s is shot at %s, not at %s. %s", c.Name, measure.Degrees(h.AimC), measure.Degrees(c.PourC), why,
				),
			)
		}
	}
	short := []string{}
	for _, n := range p.Needs {
		if n.ShortBy > 0 {
			short = append(short, fmt.Sprintf("%s %s of %s", measure.Number(n.ShortBy, 1), n.Unit, n.Name))
		}
	}
	if len(short) > 0 {
		p.Watch = append(p.Watch, "More than there is: "+strings.Join(short, ", ")+" lacking.")
	}
	if o.Degas != NoDegas && !b.Vacuum {
		p.Watch = append(
			p.Watch,
			"There is no vacuum chamber in your kit: nothing is degassed. Let the cup stand a minute instead, and pour it down the wall.",
		)
	}
	if o.Warm && b.PlatePlaces == 0 {
		p.Watch = append(
			p.Watch,
			"There is no hot plate in your kit: warm the molds by shooting them twice first, or in an oven that is kept for this.",
		)
	}
}

// Most is the plan for the most baits of an order's first mold that so much plastic gives, cooked at once; nil where it
// is not enough for one.
func (o *Order) Most(b *Bench, availableColdML float64) (*plan.Plan, error) {
	if err := cmp.Or(b.Equipment.Check(), o.Check(b.Shelf)); err != nil {
		return nil, err
	}
	shots, err := o.shots(b.Molds)
	if err != nil {
		return nil, err
	}
	job, _, _, err := o.rigged(b, shots, o.heats(shots, &b.Equipment, b.Shelf))
	if err != nil {
		return nil, err
	}
	for i := range job.Shots { // what is too little to heat evenly is no reason to pour less
		for k := range job.Shots[i].Parts {
			job.Shots[i].Parts[k].LeastColdML = 0
		}
	}
	return plan.Most(job, availableColdML, b.Kit)
}
