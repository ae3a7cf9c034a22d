package web

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"cloudburst/core/bait"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/picture"
	"cloudburst/core/plan"
	"cloudburst/core/pour"
	"cloudburst/store"
)

// PourPage is a pour with everything that is worked out of it.
type PourPage struct {
	store.SavedPour
	Planned  *pour.Planned `json:"planned,omitempty" doc:"None where it can't be planned as it is"`
	Fault    string        `json:"fault,omitempty" doc:"Why it can't, and what to do"`
	Picture  BaitImage     `json:"picture"`
	Cups     []mix.Swatch  `json:"cups" nullable:"false" doc:"Of the order, as bodies over white"`
	Molds    []PourMold    `json:"molds" nullable:"false" doc:"Of the order"`
	Currency string        `json:"currency"`
	TickS    float64       `json:"tickS" doc:"A tick of the timeline, seconds"`
}

// PourMold is a mold that is poured into.
type PourMold struct {
	Key      string `json:"key"`
	Name     string `json:"name"`
	Cavities int    `json:"cavities"`
	Poured   bool   `json:"poured"`
}

// PourItem is a pour in a list.
type PourItem struct {
	store.SavedPour
	Asked int          `json:"asked" doc:"Baits"`
	Cups  []mix.Swatch `json:"cups" nullable:"false"`
}

// PourWay is a way out of what can't be poured, with the bait as it would be.
type PourWay struct {
	pour.WayOut
	Picture BaitImage `json:"picture"`
}

// HowMany is what so much plastic gives of a mold.
type HowMany struct {
	Mold  string  `json:"mold"`
	Name  string  `json:"name"`
	Baits int     `json:"baits"`
	InML  float64 `json:"inML" doc:"What that takes in all"`
	Says  string  `json:"says,omitempty" doc:"Why none"`
}

const (
	stalePour = "This plan was changed from another window since you opened it. It is shown as it stands now; do it again if it still fits."
	begunPour = "This is being poured already, by the plan as it was then. Make a new plan for something else."
	overPour  = "This run is over. What came of it is written down; plan another one from it."
)

// PourPath names a pour.
type PourPath struct {
	UID string `path:"pour" maxLength:"64" format:"uid"`
}

type pourAnswer struct {
	ContentEncoding string `header:"Content-Encoding"`
	Body            PourPage
}

func (a *api) pourRoutes() {
	get(a, "listPours", "/pours", a.listPours)
	post(a, "planPour", "/pours", a.planPour)
	get(a, "showPour", "/pours/{pour}", a.showPour)
	patch(a, "changePour", "/pours/{pour}", a.changePour)
	post(a, "waysOut", "/pours/{pour}/ways", a.waysOut, asks)
	post(a, "howMany", "/pours/how-many", a.howMany, asks)
}

// pourProblem says what is in the way of a pour.
func pourProblem(err error, stale string) error {
	switch {
	case errors.Is(err, store.ErrBegun):
		return coded("in-the-way", huma.Error409Conflict(begunPour))
	case errors.Is(err, store.ErrOver):
		return coded("in-the-way", huma.Error409Conflict(overPour))
	}
	return problem(err, stale)
}

// pourBench is what the shop plans with.
func (a *api) pourBench(ctx context.Context, o *pour.Order) (*pour.Bench, error) {
	b := &pour.Bench{Molds: pour.Molds{}, Stock: map[string]material.Stock{}}
	var err error
	if b.Equipment, _, err = shopOf(ctx).Equipment(ctx); err != nil {
		return nil, err
	}
	if b.Shelf, b.Kit, err = a.tools(ctx); err != nil {
		return nil, err
	}
	items, err := shopOf(ctx).AllMaterials(ctx)
	if err != nil {
		return nil, err
	}
	for i := range items {
		b.Stock[items[i].UID] = items[i].Stock
	}
	for _, m := range o.Molds {
		one, err := a.mold(ctx, m.Mold)
		if err := noMold(err, "one of its molds is no longer there; choose another"); err != nil {
			return nil, err
		}
		b.Molds[m.Mold] = &one.Mold
	}
	return b, nil
}

func (a *api) listPours(ctx context.Context, in *PageQuery) (*struct{ Body store.Listed[PourItem] }, error) {
	list, err := shopOf(ctx).Pours(ctx, in.page())
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	out, err := eachOf(list, func(p store.SavedPour) (PourItem, error) {
		item := PourItem{SavedPour: p, Cups: swatchesOf(&p.Order, shelf)}
		for _, m := range p.Order.Molds {
			item.Asked += m.Count
		}
		return item, nil
	})
	return &struct{ Body store.Listed[PourItem] }{out}, problem(err, "")
}

// stirAll stirs the cups of an order; one that can't be worked out is stood in for by smoke.
func stirAll(o *pour.Order, shelf cup.Shelf) []*mix.Mix {
	out := make([]*mix.Mix, len(o.Cups))
	for i := range o.Cups {
		out[i] = fog
		if m, err := mix.Stir(&o.Cups[i].Cup, shelf); err == nil {
			out[i] = m
		}
	}
	return out
}

func swatchesOf(o *pour.Order, shelf cup.Shelf) []mix.Swatch {
	out := []mix.Swatch{}
	for _, m := range stirAll(o, shelf) {
		out = append(out, mix.NewSwatch(m.Colour(bodyLook)))
	}
	return out
}

// pourPicture draws the bait of an order in its first mold.
func (a *api) pourPicture(ctx context.Context, o *pour.Order, shelf cup.Shelf, size sized) (BaitImage, error) {
	m, err := a.mold(ctx, o.Molds[0].Mold)
	if err != nil {
		return BaitImage{}, err
	}
	return dear(ctx, a.budget, func(context.Context) (BaitImage, error) {
		s := m.Bait()
		p := picture.BaitPicture{
			BaitPlan: a.plans.get(s, m.key, s.Main(), size, false), Structure: o.Structure, Cups: stirAll(o, shelf),
			Split: m.Way(),
		}
		if p.Structure.Check(&s) != nil {
			p.Structure.Refit(&m.Mold)
		}
		p.Laid = a.plans.laid(&p)
		return drawBait(&p, bodyLook)
	})
}

func (a *api) pourPage(ctx context.Context, p store.SavedPour, err error) (*pourAnswer, error) {
	if err != nil {
		return nil, pourProblem(err, stalePour)
	}
	page := PourPage{SavedPour: p, Molds: []PourMold{}, TickS: pour.TickS}
	if _, page.Currency, err = shopOf(ctx).About(ctx); err != nil {
		return nil, problem(err, "")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	page.Cups = swatchesOf(&p.Order, shelf)
	if page.Picture, err = a.pourPicture(ctx, &p.Order, shelf, pageBait); err != nil {
		page.Picture = BaitImage{}
	}
	b, err := a.pourBench(ctx, &p.Order)
	if err == nil {
		for _, m := range p.Order.Molds {
			one := b.Molds[m.Mold]
			page.Molds = append(page.Molds, PourMold{m.Mold, one.Name, one.Cavities, one.Poured})
		}
		if p.Run != nil {
			page.Planned = &p.Run.Planned
		} else {
			page.Planned, err = dear(
				ctx, a.budget, func(context.Context) (*pour.Planned, error) { return p.Order.Figure(b) },
			)
		}
	}
	var fault *measure.Fault
	switch {
	case errors.As(err, &fault): // said on the page, where it can be mended
		page.Fault = fault.Says
	case err != nil:
		return nil, problem(err, "")
	}
	return &pourAnswer{"identity", page}, nil
}

type planPourIn struct {
	Body struct {
		Name   string `json:"name,omitempty" maxLength:"200"`
		Bait   string `json:"bait,omitempty" maxLength:"64" format:"uid" doc:"uid of a bait, with its cups; or"`
		Recipe string `json:"recipe,omitempty" maxLength:"64" format:"uid" doc:"uid of a recipe for one colour; or"`
		Cup    string `json:"cup,omitempty" maxLength:"64" format:"uid" doc:"uid of a cup on the bench"`
		Mold   string `json:"mold,omitempty" maxLength:"64" format:"uid" doc:"uid of a mold or a shape's key; the bait's own where empty"`
		Count  int    `json:"count" doc:"Baits"`
		Copies int    `json:"copies,omitempty" minimum:"0" maximum:"24" doc:"How many of the mold there are; one where 0"`
	}
}

func (a *api) planPour(ctx context.Context, in *planPourIn) (*pourAnswer, error) {
	if uid, done, err := shopOf(ctx).Done(ctx); done || err != nil {
		p, err2 := shopOf(ctx).Pour(ctx, uid)
		return a.pourPage(ctx, p, errors.Join(err, err2))
	}
	b := &in.Body
	o, err := a.orderOf(ctx, b.Bait, b.Recipe, b.Cup, b.Mold)
	if err != nil {
		return nil, problem(err, "")
	}
	if name := strings.TrimSpace(b.Name); name != "" {
		o.Name = name
	}
	o.Molds[0].Count, o.Molds[0].Copies = b.Count, max(1, b.Copies)
	p, err := shopOf(ctx).AddPour(ctx, *o)
	return a.pourPage(ctx, p, err)
}

// orderOf is what there is to pour of a bait, a recipe or a cup on the bench: read now, and kept as it was.
func (a *api) orderOf(ctx context.Context, baitUID, recipeUID, cupUID, mold string) (*pour.Order, error) {
	o := &pour.Order{Degas: pour.NoDegas, Structure: plainStructure}
	switch {
	case baitUID != "":
		d, err := shopOf(ctx).Bait(ctx, baitUID, 0)
		if err != nil {
			return nil, err
		}
		labels, _, err := a.cupsOf(ctx, &d.Design)
		if err != nil {
			return nil, err
		}
		o.Name, o.Bait, o.Structure = d.Name, d.UID, d.Structure
		if mold == "" {
			mold = d.Mold
		}
		for i, c := range d.Cups {
			if i >= d.Structure.Cups() {
				break // chosen, and in no part
			}
			label, there := labels[c.Cup]
			if !there {
				return nil, measure.Faulty(
					"bait", "%s: one of its cups is still to be chosen. Choose it on the bait's page first", d.Name,
				)
			}
			one, err := a.pouredOf(ctx, &label)
			if err != nil {
				return nil, err
			}
			one.PourC = c.PourC
			o.Cups = append(o.Cups, one)
		}
	case recipeUID != "":
		r, err := shopOf(ctx).Recipe(ctx, recipeUID)
		if err != nil {
			return nil, err
		}
		o.Name = r.Name
		o.Cups = []pour.Poured{{
			Name: r.Name, Cup: r.Cup.Filled(), PourC: bait.UsualPourC, Recipe: r.UID, Revision: r.Revision,
		}}
	case cupUID != "":
		list, err := shopOf(ctx).CupsNamed(ctx, []string{cupUID})
		if err != nil {
			return nil, err
		}
		if len(list) == 0 {
			return nil, store.ErrNotFound
		}
		one, err := a.pouredOf(ctx, &list[0])
		if err != nil {
			return nil, err
		}
		one.PourC = bait.UsualPourC
		o.Name, o.Cups = one.Name, []pour.Poured{one}
	default:
		return nil, measure.Faulty("bait", "what is to be poured? Choose a bait, a recipe or a cup on the bench")
	}
	if mold == "" {
		mold = defaultBait
	}
	if err := a.moldsThere(ctx, []pour.Asked{{Mold: mold}}); err != nil {
		return nil, err
	}
	o.Name = cup.ShortName(o.Name)
	o.Molds = []pour.Asked{{Mold: mold, Count: 1, Copies: 1}}
	return o, nil
}

// moldsThere says whether each mold is one of the shop's, or of our shapes.
func (a *api) moldsThere(ctx context.Context, molds []pour.Asked) error {
	for _, m := range molds {
		_, err := a.mold(ctx, m.Mold)
		if err := noMold(err, "this mold is not among yours; choose another"); err != nil {
			return err
		}
	}
	return nil
}

// noMold says in words that a mold is not there; any other error stays what it is.
func noMold(err error, says string) error { return noneAt(err, "molds", says) }

// noneAt says in words, at its field, that something that is named is not there.
func noneAt(err error, field, says string) error {
	var f *measure.Fault
	if errors.As(err, &f) || errors.Is(err, store.ErrNotFound) {
		return measure.Faulty(field, "%s", says)
	}
	return err
}

// pouredOf reads a cup on the bench.
func (a *api) pouredOf(ctx context.Context, label *store.CupLabel) (pour.Poured, error) {
	b, err := shopOf(ctx).Cup(ctx, label.UID)
	if err != nil {
		return pour.Poured{}, err
	}
	short, _ := label.Cup.Called(label.Own, label.Recipe)
	if label.Cup.Part != "" {
		short = label.Cup.Part
	}
	return pour.Poured{
		Name: cup.ShortName(short), Cup: b.Cup.Cup.Filled(), From: b.UID, Recipe: b.RecipeUID,
		Revision: b.RecipeRevision,
	}, nil
}

func (a *api) showPour(ctx context.Context, in *PourPath) (*pourAnswer, error) {
	p, err := shopOf(ctx).Pour(ctx, in.UID)
	return a.pourPage(ctx, p, err)
}

type changePourIn struct {
	PourPath
	Body struct {
		Seen         int          `json:"seen" doc:"The revision that was seen"`
		Name         *string      `json:"name,omitempty" maxLength:"200"`
		Molds        []pour.Asked `json:"molds,omitempty" maxItems:"8"`
		SparePercent *float64     `json:"sparePercent,omitempty"`
		Whole        *bool        `json:"whole,omitempty"`
		Warm         *bool        `json:"warm,omitempty"`
		Degas        *pour.Degas  `json:"degas,omitempty" enum:"none,raw,hot"`
		ColourRaw    *bool        `json:"colourRaw,omitempty"`
		PackOf       *int         `json:"packOf,omitempty"`
		Cup          *int         `json:"cup,omitempty" minimum:"0" maximum:"7" doc:"Of which cup pourC is"`
		PourC        *string      `json:"pourC,omitempty" maxLength:"60" doc:"As typed: 335F"`
		Later        []pour.Later `json:"later,omitempty" maxItems:"60" doc:"Steps moved by hand"`
		Unmove       bool         `json:"unmove,omitempty" doc:"Puts the steps back where they were planned"`
		Again        bool         `json:"again,omitempty" doc:"Reads its bait and cups anew, as they are now"`
		Order        *pour.Order  `json:"order,omitempty" doc:"All of it: a way out that is taken"`
	}
}

func (a *api) changePour(ctx context.Context, in *changePourIn) (*pourAnswer, error) {
	p, err := shopOf(ctx).Pour(ctx, in.UID)
	if _, done, again := shopOf(ctx).Done(ctx); done || again != nil || err != nil {
		return a.pourPage(ctx, p, errors.Join(err, again))
	}
	b, o := &in.Body, p.Order
	if b.Order != nil {
		o = *b.Order
	}
	set(&o.SparePercent, b.SparePercent)
	set(&o.Whole, b.Whole)
	set(&o.Warm, b.Warm)
	set(&o.Degas, b.Degas)
	set(&o.ColourRaw, b.ColourRaw)
	set(&o.PackOf, b.PackOf)
	if b.Name != nil {
		o.Name = strings.TrimSpace(*b.Name)
	}
	if b.Molds != nil {
		o.Molds = b.Molds
	}
	if err := a.moldsThere(ctx, o.Molds); err != nil {
		return nil, problem(err, "")
	}
	if b.Later != nil {
		o.Later = b.Later
	}
	if b.Unmove {
		o.Later = nil
	}
	if b.Cup != nil && b.PourC != nil {
		if *b.Cup >= len(o.Cups) {
			return nil, fieldProblem("cup", "this cup is gone; it may have been changed in another window")
		}
		c, err := measure.ParseTemperature(*b.PourC)
		if err != nil {
			return nil, fieldProblem(fmt.Sprintf("cups.%d.pourC", *b.Cup), err.Error())
		}
		o.Cups[*b.Cup].PourC = c
	}
	if b.Again {
		if o, err = a.readAgain(ctx, o); err != nil {
			return nil, problem(err, "")
		}
	}
	saved, err := shopOf(ctx).ChangePour(ctx, in.UID, b.Seen, o)
	return a.pourPage(ctx, saved, err)
}

func set[T any](to, from *T) {
	if from != nil {
		*to = *from
	}
}

// readAgain reads an order's bait, recipe or cup as they are now; how many, and how, stays.
func (a *api) readAgain(ctx context.Context, o pour.Order) (pour.Order, error) {
	first := &o.Cups[0]
	recipe, from := first.Recipe, first.From
	if from != "" {
		recipe = ""
	}
	now, err := a.orderOf(ctx, o.Bait, recipe, from, o.Molds[0].Mold)
	if err != nil {
		return o, err
	}
	o.Cups, o.Structure, o.Later = now.Cups, now.Structure, nil
	return o, nil
}

func (a *api) waysOut(ctx context.Context, in *PourPath) (*struct {
	ContentEncoding string `header:"Content-Encoding"`
	Body            struct {
		Now  BaitImage `json:"now"`
		Ways []PourWay `json:"ways" nullable:"false"`
	}
}, error,
) {
	p, err := shopOf(ctx).Pour(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	b, err := a.pourBench(ctx, &p.Order)
	if err != nil {
		return nil, problem(err, "")
	}
	out := &struct {
		ContentEncoding string `header:"Content-Encoding"`
		Body            struct {
			Now  BaitImage `json:"now"`
			Ways []PourWay `json:"ways" nullable:"false"`
		}
	}{ContentEncoding: "identity"}
	out.Body.Ways = []PourWay{}
	if out.Body.Now, err = a.pourPicture(ctx, &p.Order, b.Shelf, smallBait); err != nil {
		return nil, problem(err, "")
	}
	ways, err := dear(ctx, a.budget, func(context.Context) ([]pour.WayOut, error) { return p.Order.WaysOut(b), nil })
	if err != nil {
		return nil, problem(err, "")
	}
	for _, w := range ways {
		img, err := a.pourPicture(ctx, &w.Order, b.Shelf, smallBait)
		if err != nil {
			return nil, problem(err, "")
		}
		out.Body.Ways = append(out.Body.Ways, PourWay{w, img})
	}
	return out, nil
}

type howManyIn struct {
	Body struct {
		Bait   string `json:"bait,omitempty" maxLength:"64" format:"uid"`
		Recipe string `json:"recipe,omitempty" maxLength:"64" format:"uid"`
		Cup    string `json:"cup,omitempty" maxLength:"64" format:"uid"`
		Volume string `json:"volume" maxLength:"60" doc:"So much plastic, as typed"`
		Copies int    `json:"copies,omitempty" minimum:"0" maximum:"24"`
	}
}

type howManyAnswer struct {
	Body struct {
		Molds []HowMany `json:"molds" nullable:"false"`
		Says  string    `json:"says" doc:"What so much plastic is good for"`
	}
}

// howMany says what so much plastic gives of each mold of the shop.
func (a *api) howMany(ctx context.Context, in *howManyIn) (*howManyAnswer, error) {
	v, err := measure.ParseVolume(in.Body.Volume)
	if err != nil {
		return nil, fieldProblem("volume", err.Error())
	}
	o, err := a.orderOf(ctx, in.Body.Bait, in.Body.Recipe, in.Body.Cup, "")
	if err != nil {
		return nil, problem(err, "")
	}
	molds, err := shopOf(ctx).Molds(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	out := &howManyAnswer{}
	out.Body.Molds = []HowMany{}
	var gives []pour.Gives
	for _, m := range molds {
		if m.Retired || len(out.Body.Molds) >= mostMolds {
			continue
		}
		one := HowMany{Mold: m.UID, Name: m.Name}
		o.Molds = []pour.Asked{{Mold: m.UID, Count: 1, Copies: max(1, in.Body.Copies)}}
		b, err := a.pourBench(ctx, o)
		if err != nil {
			return nil, problem(err, "")
		}
		made, err := dear(ctx, a.budget, func(context.Context) (*plan.Plan, error) { return o.Most(b, v.ML) })
		var fault *measure.Fault
		switch {
		case errors.As(err, &fault):
			one.Says = fault.Says
		case err != nil:
			return nil, problem(err, "")
		case made == nil:
			one.Says = "Too little for one bait with its sprue and plug."
		default:
			one.Baits, one.InML = made.BaitsMade, made.Balance.InML
		}
		out.Body.Molds = append(out.Body.Molds, one)
		gives = append(gives, pour.Gives{Mold: one.Name, Baits: one.Baits, InML: one.InML})
	}
	out.Body.Says = pour.SaysGives(gives)
	return out, nil
}
