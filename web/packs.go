package web

import (
	"context"
	"fmt"
	"strings"
	"time"

	"cloudburst/core/cup"
	"cloudburst/core/logbook"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/pack"
	"cloudburst/store"
)

// SupplyCard is a supply with what is to be known of it.
type SupplyCard struct {
	store.SavedSupply
	Says    string  `json:"says" doc:"What is left"`
	RunsLow bool    `json:"runsLow"`
	PerUnit float64 `json:"perUnit"`
}

// PackCard is a pack in a list.
type PackCard struct {
	store.SavedPack
	Count int       `json:"count" doc:"Baits in it"`
	Cost  pack.Cost `json:"cost"`
	Can   int       `json:"can" doc:"How many more what is at hand gives"`
	First string    `json:"first,omitempty" doc:"What of it runs out first"`
	Kinds []string  `json:"kinds" nullable:"false" doc:"Its baits, in words"`
}

// PackPage is one of them in full.
type PackPage struct {
	PackCard
	Lines    []PackBait `json:"lines" nullable:"false"`
	Currency string     `json:"currency"`
}

// PackBait is a kind of bait in a pack.
type PackBait struct {
	Bait    string    `json:"bait"`
	Name    string    `json:"name"`
	Count   int       `json:"count"`
	AtHand  int       `json:"atHand" doc:"Good ones of all runs that are not in bags; below 0 where more were packed than poured here"`
	PerBait float64   `json:"perBait" doc:"What its plastic costs"`
	Picture BaitImage `json:"picture"`
}

const (
	stalePack   = "This pack was changed from another window since you opened it. It is shown as it stands now; do it again if it still fits."
	staleSupply = "This was changed or used from another window since you opened it. It is shown as it stands now; do it again if it still fits."
)

// PackPath names a pack.
type PackPath struct {
	UID string `path:"pack" maxLength:"64" format:"uid"`
}

// SupplyPath names a supply.
type SupplyPath struct {
	UID string `path:"supply" maxLength:"64" format:"uid"`
}

type packAnswer struct {
	ContentEncoding string `header:"Content-Encoding"`
	Body            PackPage
}

type supplyAnswer struct{ Body SupplyCard }

func (a *api) packRoutes() {
	get(a, "listPacks", "/packs", a.listPacks)
	post(a, "addPack", "/packs", a.addPack)
	get(a, "showPack", "/packs/{pack}", a.showPack)
	put(a, "changePack", "/packs/{pack}", a.changePack)
	post(a, "makeUpPacks", "/packs/{pack}/made", a.makeUpPacks)
	post(a, "sellPacks", "/packs/{pack}/sold", a.sellPacks)
	get(a, "listSupplies", "/supplies", a.listSupplies)
	post(a, "addSupply", "/supplies", a.addSupply)
	patch(a, "changeSupply", "/supplies/{supply}", a.changeSupply)
}

func supplyCard(s store.SavedSupply) SupplyCard {
	card := SupplyCard{SavedSupply: s, Says: "not counted", RunsLow: s.RunsLow(), PerUnit: s.PerUnit()}
	if s.Counted {
		card.Says = s.Amount(s.Left) + " left"
	}
	return card
}

func (a *api) listSupplies(ctx context.Context, in *PageQuery) (*struct{ Body store.Listed[SupplyCard] }, error) {
	list, err := shopOf(ctx).Supplies(ctx, in.page())
	if err != nil {
		return nil, problem(err, "")
	}
	out, err := eachOf(list, func(s store.SavedSupply) (SupplyCard, error) { return supplyCard(s), nil })
	return &struct{ Body store.Listed[SupplyCard] }{out}, problem(err, "")
}

func (a *api) supply(s store.SavedSupply, err error) (*supplyAnswer, error) {
	if err != nil {
		return nil, problem(err, staleSupply)
	}
	return &supplyAnswer{supplyCard(s)}, nil
}

type addSupplyIn struct {
	Body struct {
		Name string    `json:"name" maxLength:"80"`
		Unit pack.Unit `json:"unit" enum:"pieces,ml,g"`
	}
}

func (a *api) addSupply(ctx context.Context, in *addSupplyIn) (*supplyAnswer, error) {
	if uid, done, err := shopOf(ctx).Done(ctx); done || err != nil {
		if err == nil {
			return a.supply(shopOf(ctx).Supply(ctx, uid))
		}
		return nil, problem(err, "")
	}
	return a.supply(shopOf(ctx).AddSupply(ctx, pack.Supply{Name: strings.TrimSpace(in.Body.Name), Unit: in.Body.Unit}))
}

type changeSupplyIn struct {
	SupplyPath
	Body struct {
		Seen   int     `json:"seen" doc:"The revision that was seen"`
		Left   *string `json:"left,omitempty" maxLength:"40" doc:"What is left, counted; empty: nobody counts it"`
		Low    *string `json:"low,omitempty" maxLength:"40" doc:"Buy more below this"`
		Bought *string `json:"bought,omitempty" maxLength:"40" doc:"So much was bought and comes to what is left"`
		Price  *string `json:"price,omitempty" maxLength:"40" doc:"For what is bought at once, such as 9,50"`
	}
}

// typedNumber reads a number with a point or a comma.
func typedNumber(field, typed string) (float64, error) {
	v, err := measure.ParseNumber(strings.TrimSpace(typed))
	if err != nil || !(v >= 0) {
		return 0, measure.Faulty(field, "%q is no number; type one such as 40 or 2,5", typed)
	}
	return v, nil
}

func (a *api) changeSupply(ctx context.Context, in *changeSupplyIn) (*supplyAnswer, error) {
	b := &in.Body
	return a.supply(shopOf(ctx).ChangeSupply(ctx, in.UID, b.Seen, func(s *pack.Supply) error {
		var err error
		if b.Left != nil {
			if s.Counted = strings.TrimSpace(*b.Left) != ""; !s.Counted {
				s.Left = 0
			} else if s.Left, err = typedNumber("left", *b.Left); err != nil {
				return err
			}
		}
		if b.Low != nil {
			if s.Low, err = typedNumber("low", "0"+*b.Low); err != nil {
				return err
			}
		}
		if b.Bought != nil {
			n, err := typedNumber("bought", *b.Bought)
			if err != nil {
				return err
			}
			s.Left, s.Size, s.Counted = s.Left+n, n, true
		}
		if b.Price != nil {
			s.Price, err = material.ParsePrice(*b.Price)
		}
		return err
	}))
}

// packing is what is needed to tell of packs.
type packing struct {
	atHand   map[string]store.AtHand
	supplies map[string]pack.Supply
	prices   func(*cup.Cup) float64
	baits    map[string]*holding
	failed   map[string]bool
}

func (a *api) packing(ctx context.Context) (*packing, error) {
	p := &packing{baits: map[string]*holding{}, failed: map[string]bool{}}
	var err error
	if p.atHand, err = shopOf(ctx).BaitsAtHand(ctx); err != nil {
		return nil, err
	}
	if p.supplies, err = shopOf(ctx).AllSupplies(ctx); err != nil {
		return nil, err
	}
	p.prices, err = a.prices(ctx)
	return p, err
}

// bait is one that is named in a pack; nil where it is gone.
func (a *api) packedBait(ctx context.Context, p *packing, uid string) *holding {
	if h, ok := p.baits[uid]; ok || p.failed[uid] {
		return h
	}
	b, err := shopOf(ctx).Bait(ctx, uid, 0)
	if err == nil {
		var h *holding
		if h, err = a.hold(ctx, b, smallBait, 0); err == nil {
			p.baits[uid] = h
			return h
		}
	}
	p.failed[uid] = true
	return nil
}

// perBait is what the plastic of a bait costs: as in its latest run, with what was lost there; else as it is designed.
func (p *packing) perBait(uid string, h *holding) float64 {
	if v := p.atHand[uid].PerBait; v > 0 || h == nil {
		return v
	}
	sum := 0.0
	_, byCup := h.mold.Takes(&h.saved.Structure, len(h.cups))
	for i, v := range h.vessels {
		if v == nil {
			continue
		}
		if m := h.mixes[i]; m != nil && m.FinishedML > 0 {
			sum += p.prices(v) * byCup[i].BaitML / m.FinishedML
		}
	}
	return sum
}

func (a *api) packCard(ctx context.Context, of *packing, s store.SavedPack) PackCard {
	card := PackCard{SavedPack: s, Count: s.Pack.Count(), Kinds: []string{}}
	each, hand := map[string]float64{}, map[string]int{}
	name := func(uid string) string {
		if h := a.packedBait(ctx, of, uid); h != nil {
			return h.saved.Name
		}
		return "a bait that is gone"
	}
	for _, b := range s.Baits {
		each[b.Bait] = of.perBait(b.Bait, a.packedBait(ctx, of, b.Bait))
		hand[b.Bait] = of.atHand[b.Bait].Baits
		card.Kinds = append(card.Kinds, fmt.Sprintf("%d %s", b.Count, name(b.Bait)))
	}
	card.Cost = s.Costs(each, of.supplies)
	card.Can, card.First = s.Can(hand, of.supplies, name)
	return card
}

func (a *api) listPacks(ctx context.Context, in *PageQuery) (*struct{ Body store.Listed[PackCard] }, error) {
	list, err := shopOf(ctx).Packs(ctx, in.page())
	if err != nil {
		return nil, problem(err, "")
	}
	of, err := a.packing(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	out, err := eachOf(list, func(s store.SavedPack) (PackCard, error) { return a.packCard(ctx, of, s), nil })
	return &struct{ Body store.Listed[PackCard] }{out}, problem(err, "")
}

func (a *api) packPage(ctx context.Context, s store.SavedPack, err error) (*packAnswer, error) {
	if err != nil {
		return nil, problem(err, stalePack)
	}
	of, err := a.packing(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	page := PackPage{PackCard: a.packCard(ctx, of, s), Lines: []PackBait{}}
	if _, page.Currency, err = shopOf(ctx).About(ctx); err != nil {
		return nil, problem(err, "")
	}
	for _, b := range s.Baits {
		line := PackBait{Bait: b.Bait, Name: "a bait that is gone", Count: b.Count, AtHand: of.atHand[b.Bait].Baits}
		if h := a.packedBait(ctx, of, b.Bait); h != nil {
			line.Name, line.PerBait = h.saved.Name, of.perBait(b.Bait, h)
			line.Picture, err = dear(ctx, a.budget, func(context.Context) (BaitImage, error) {
				h.picture.BaitPlan = a.plans.get(h.shape, h.mold.key, h.shape.Main(), smallBait, false)
				return drawBait(&h.picture, bodyLook)
			})
			if err != nil {
				return nil, problem(err, "")
			}
		}
		page.Lines = append(page.Lines, line)
	}
	return &packAnswer{"identity", page}, nil
}

func (a *api) showPack(ctx context.Context, in *PackPath) (*packAnswer, error) {
	s, err := shopOf(ctx).Pack(ctx, in.UID)
	return a.packPage(ctx, s, err)
}

// known refuses a pack that names what is not there.
func (a *api) known(ctx context.Context, p *pack.Pack) error {
	supplies, err := shopOf(ctx).AllSupplies(ctx)
	if err != nil {
		return err
	}
	for i, b := range p.Baits {
		if _, err := shopOf(ctx).Bait(ctx, b.Bait, 0); err != nil {
			return noneAt(err, fmt.Sprintf("baits.%d.bait", i), "this bait is no longer there; choose another")
		}
	}
	for field, uses := range map[string][]pack.Use{"each": p.Each, "bag": p.Bag} {
		for i, u := range uses {
			if _, ok := supplies[u.Supply]; !ok {
				return measure.Faulty(fmt.Sprintf("%s.%d.supply", field, i), "this is no longer there; choose another")
			}
		}
	}
	return nil
}

func tidied(p pack.Pack) pack.Pack {
	p.Name, p.Note = strings.TrimSpace(p.Name), strings.TrimSpace(p.Note)
	if p.Each == nil {
		p.Each = []pack.Use{}
	}
	if p.Bag == nil {
		p.Bag = []pack.Use{}
	}
	return p
}

func (a *api) addPack(ctx context.Context, in *struct{ Body pack.Pack }) (*packAnswer, error) {
	if uid, done, err := shopOf(ctx).Done(ctx); done || err != nil {
		if err != nil {
			return nil, problem(err, "")
		}
		s, err := shopOf(ctx).Pack(ctx, uid)
		return a.packPage(ctx, s, err)
	}
	p := tidied(in.Body)
	if err := a.known(ctx, &p); err != nil {
		return nil, problem(err, "")
	}
	s, err := shopOf(ctx).AddPack(ctx, p)
	return a.packPage(ctx, s, err)
}

type changePackIn struct {
	PackPath
	Body struct {
		pack.Pack
		Seen int `json:"seen" doc:"The revision that was seen"`
	}
}

func (a *api) changePack(ctx context.Context, in *changePackIn) (*packAnswer, error) {
	p := tidied(in.Body.Pack)
	if err := a.known(ctx, &p); err != nil {
		return nil, problem(err, "")
	}
	s, err := shopOf(ctx).ChangePack(ctx, in.UID, in.Body.Seen, p)
	return a.packPage(ctx, s, err)
}

type makeUpIn struct {
	PackPath
	Body struct {
		Seen  int  `json:"seen" doc:"The revision that was seen"`
		Count int  `json:"count" doc:"Packs"`
		Sure  bool `json:"sure,omitempty" doc:"There are more baits than runs say"`
	}
}

func (a *api) makeUpPacks(ctx context.Context, in *makeUpIn) (*packAnswer, error) {
	if _, done, err := shopOf(ctx).Done(ctx); !done && err == nil && !in.Body.Sure {
		s, err := shopOf(ctx).Pack(ctx, in.UID)
		if err != nil {
			return nil, problem(err, "")
		}
		hand, err := shopOf(ctx).BaitsAtHand(ctx)
		if err != nil {
			return nil, problem(err, "")
		}
		for _, b := range s.Baits {
			if n := in.Body.Count * b.Count; n > hand[b.Bait].Baits && in.Body.Count > 0 {
				name := "a bait"
				if it, err := shopOf(ctx).Bait(ctx, b.Bait, 0); err == nil {
					name = it.Name
				}
				return nil, problem(
					&measure.Fault{
						Field: "count", Ask: true,
						Says: fmt.Sprintf(
							"%d of %s go into them, and runs here say that %d are at hand. Meant so? Make them up once more to keep it.", n,
							name, max(0, hand[b.Bait].Baits),
						),
					},
					"",
				)
			}
		}
	}
	s, err := shopOf(ctx).MakeUp(ctx, in.UID, in.Body.Seen, in.Body.Count)
	return a.packPage(ctx, s, err)
}

type sellIn struct {
	PackPath
	Body struct {
		Seen  int    `json:"seen" doc:"The revision that was seen"`
		Count int    `json:"count" doc:"Packs"`
		Day   string `json:"day,omitempty" maxLength:"10" doc:"YYYY-MM-DD; today where empty"`
		Words string `json:"words,omitempty" maxLength:"2000" doc:"Where, to whom"`
	}
}

func (a *api) sellPacks(ctx context.Context, in *sellIn) (*packAnswer, error) {
	s, err := shopOf(ctx).Pack(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	e := logbook.Entry{
		Title: cup.ShortName("Sold: " + s.Name), Day: in.Body.Day, Words: strings.TrimSpace(in.Body.Words),
		Tags: []string{"sold"}, Sold: max(0, in.Body.Count),
	}
	if e.Day == "" {
		e.Day = time.Now().UTC().Format(time.DateOnly)
	}
	of, err := a.packing(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	if h := a.packedBait(ctx, of, s.Baits[0].Bait); h != nil {
		lab := h.mixes[0].Colour(mix.Compared)
		e.Colour = &lab
	}
	s, err = shopOf(ctx).Sell(ctx, in.UID, in.Body.Seen, in.Body.Count, e)
	return a.packPage(ctx, s, err)
}
