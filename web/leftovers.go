package web

import (
	"bytes"
	"cmp"
	"context"
	"fmt"
	"image/png"
	"slices"
	"strings"
	"time"

	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/qr"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/leftover"
	"cloudburst/core/match"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/store"
)

// LeftoverCard is a leftover with how it looks and how tired it is.
type LeftoverCard struct {
	store.SavedLeftover
	Volume  float64    `json:"volume" doc:"ml, finished and cold"`
	Look    mix.Swatch `json:"look" doc:"As a body over white, with what heat has done to it"`
	Fresh   mix.Swatch `json:"fresh" doc:"As it would be of fresh plastic"`
	Tired   string     `json:"tired"`
	Holds   string     `json:"holds" doc:"What is in it, most of it first"`
	Worth   float64    `json:"worth" doc:"What went into it cost, as far as prices are known"`
	Trouble string     `json:"trouble,omitempty" doc:"Why its colour can't be worked out"`
}

// LeftoverPage is one of them in full.
type LeftoverPage struct {
	LeftoverCard
	Lines    []LeftoverLine `json:"lines" nullable:"false"`
	Ages     []LeftoverAge  `json:"ages" nullable:"false" doc:"After more heats"`
	Bleeds   bool           `json:"bleeds" doc:"There is a dye in it, which runs"`
	Currency string         `json:"currency"`
}

// LeftoverLine is a thing in a leftover.
type LeftoverLine struct {
	Material string  `json:"material"`
	Name     string  `json:"name"`
	Says     string  `json:"says"`
	Share    float64 `json:"share" doc:"Of the volume"`
}

// LeftoverAge is a leftover after more heats.
type LeftoverAge struct {
	Heats   int               `json:"heats"`
	Look    mix.Swatch        `json:"look"`
	Picture BaitImage         `json:"picture"`
	Differs colour.Difference `json:"differs" doc:"From how it is now"`
	Tired   string            `json:"tired"`
}

// LeftoverFor is what a leftover is good for, for a colour that is sought.
type LeftoverFor struct {
	UID    string     `json:"uid"`
	Name   string     `json:"name"`
	Volume float64    `json:"volume"`
	Look   mix.Swatch `json:"look"`
	Now    float64    `json:"now" doc:"ΔE00 as it is"`
	Then   float64    `json:"then" doc:"ΔE00 after what goes in"`
	After  mix.Swatch `json:"after"`
	Adds   []string   `json:"adds" nullable:"false" doc:"What goes in, to all of it"`
	Says   string     `json:"says"`
	Tired  string     `json:"tired"`
}

const staleLeftover = "This leftover was used or changed from another window since you opened it. It is shown as it stands now; do it again if it still fits."

// LeftoverPath names a leftover.
type LeftoverPath struct {
	UID string `path:"leftover" maxLength:"64" format:"uid"`
}

type leftoverAnswer struct {
	ContentEncoding string `header:"Content-Encoding"`
	Body            LeftoverPage
}

func (a *api) leftoverRoutes() {
	get(a, "listLeftovers", "/leftovers", a.listLeftovers)
	post(a, "addLeftover", "/leftovers", a.addLeftover)
	get(a, "showLeftover", "/leftovers/{leftover}", a.showLeftover)
	patch(a, "changeLeftover", "/leftovers/{leftover}", a.changeLeftover)
	post(a, "useLeftover", "/leftovers/{leftover}/use", a.useLeftover)
	post(a, "mixLeftovers", "/leftovers/{leftover}/mix", a.mixLeftovers)
	post(a, "previewLeftoverMix", "/leftovers/{leftover}/mixed", a.previewLeftoverMix, asks)
	post(a, "suggestLeftovers", "/leftovers/for", a.suggestLeftovers, asks)
	file(
		a, "leftoverCode", "/leftovers/{leftover}/code", "image/png", "A QR code of its page, for its label",
		a.leftoverCode,
	)
}

// leftoverMix is a tub stirred, as it is by now.
func leftoverMix(t *leftover.Tub, shelf cup.Shelf, moreDose float64) (cup.Cup, *mix.Mix, error) {
	c, err := t.Cup(shelf)
	if err != nil {
		return c, nil, err
	}
	m, err := mix.Stir(&c, leftover.Aged(shelf, &c, t.DoseMean+moreDose))
	return c, m, err
}

func (a *api) leftoverCard(l store.SavedLeftover, shelf cup.Shelf, price func(*cup.Cup) float64) LeftoverCard {
	card := LeftoverCard{
		SavedLeftover: l, Volume: l.ML(leftover.DensitiesOf(shelf)), Tired: l.Tired(), Holds: l.Names(shelf),
	}
	card.Look, card.Fresh = mix.NewSwatch(fog.Colour(bodyLook)), mix.NewSwatch(fog.Colour(bodyLook))
	c, m, err := leftoverMix(&l.Tub, shelf, 0)
	if err != nil {
		card.Trouble = err.Error()
		return card
	}
	card.Look = mix.NewSwatch(m.Colour(bodyLook))
	if fresh, err := mix.Stir(&c, shelf); err == nil {
		card.Fresh = mix.NewSwatch(fresh.Colour(bodyLook))
	}
	card.Worth = price(&c)
	return card
}

// prices gives what is in a cup, as far as prices are known.
func (a *api) prices(ctx context.Context) (func(*cup.Cup) float64, error) {
	items, err := shopOf(ctx).AllMaterials(ctx)
	if err != nil {
		return nil, err
	}
	shelf := cup.Shelf{}
	per := map[string]float64{}
	for i := range items {
		shelf[items[i].UID], per[items[i].UID] = items[i].Material, items[i].Stock.PerUnit()
	}
	return func(c *cup.Cup) float64 {
		sum := 0.0
		for uid, n := range leftover.InCups(shelf, c) {
			sum += per[uid] * n
		}
		return sum
	}, nil
}

func (a *api) listLeftovers(ctx context.Context, in *PageQuery) (*struct{ Body store.Listed[LeftoverCard] }, error) {
	list, err := shopOf(ctx).Leftovers(ctx, in.page())
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	price, err := a.prices(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	out, err := eachOf(
		list, func(l store.SavedLeftover) (LeftoverCard, error) { return a.leftoverCard(l, shelf, price), nil },
	)
	return &struct{ Body store.Listed[LeftoverCard] }{out}, problem(err, "")
}

// moreHeats are the heats after which plastic is shown.
var moreHeats = []int{1, 3, 6}

func (a *api) leftoverPage(ctx context.Context, l store.SavedLeftover, err error) (*leftoverAnswer, error) {
	if err != nil {
		return nil, problem(err, staleLeftover)
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	price, err := a.prices(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	page := LeftoverPage{LeftoverCard: a.leftoverCard(l, shelf, price), Lines: []LeftoverLine{}, Ages: []LeftoverAge{}}
	if _, page.Currency, err = shopOf(ctx).About(ctx); err != nil {
		return nil, problem(err, "")
	}
	of := leftover.DensitiesOf(shelf)
	for uid, n := range l.In {
		m := shelf[uid]
		unit, ml := "ml", n
		if d := of(uid); d > 0 {
			unit, ml = "g", n/d
		}
		page.Lines = append(page.Lines, LeftoverLine{uid, m.Name, measure.Figures(n) + " " + unit, ml / page.Volume})
		page.Bleeds = page.Bleeds || m.Runs()
	}
	slices.SortFunc(
		page.Lines, func(x, y LeftoverLine) int {
			return cmp.Or(
				cmp.Compare(y.Share, x.Share), cmp.Compare(x.Name, y.Name),
			)
		},
	)
	if page.Trouble == "" {
		each := leftover.UsualHeatMin
		if l.HeatsMean > 0 && l.DoseMean > 0 {
			each = l.DoseMean / l.HeatsMean
		}
		for _, n := range moreHeats {
			age, err := a.leftoverAge(ctx, &l, shelf, n, each)
			if err != nil {
				return nil, problem(err, "")
			}
			page.Ages = append(page.Ages, age)
		}
	}
	return &leftoverAnswer{"identity", page}, nil
}

// leftoverAge is a leftover after so many more heats, as a usual bait.
func (a *api) leftoverAge(
	ctx context.Context, l *store.SavedLeftover, shelf cup.Shelf, n int, each float64,
) (LeftoverAge, error) {
	_, now, err := leftoverMix(&l.Tub, shelf, 0)
	if err != nil {
		return LeftoverAge{}, err
	}
	_, then, err := leftoverMix(&l.Tub, shelf, float64(n)*each)
	if err != nil {
		return LeftoverAge{}, err
	}
	h := l.History
	h.HeatsMost, h.DoseMost = h.HeatsMost+float64(n), h.DoseMost+float64(n)*each
	out := LeftoverAge{
		Heats: n, Look: mix.NewSwatch(then.Colour(bodyLook)),
		Differs: colour.Compare(then.Colour(bodyLook), now.Colour(bodyLook)), Tired: h.Tired(),
	}
	out.Picture, err = a.mixPicture(ctx, then, smallBait)
	return out, err
}

func (a *api) showLeftover(ctx context.Context, in *LeftoverPath) (*leftoverAnswer, error) {
	l, err := shopOf(ctx).Leftover(ctx, in.UID)
	return a.leftoverPage(ctx, l, err)
}

type addLeftoverIn struct {
	Body struct {
		Name   string `json:"name,omitempty" maxLength:"200"`
		Cup    string `json:"cup,omitempty" maxLength:"64" format:"uid" doc:"uid of a cup on the bench, all of which is kept; or"`
		Recipe string `json:"recipe,omitempty" maxLength:"64" format:"uid" doc:"uid of a recipe that it is taken to be of; or"`
		Read   string `json:"reference,omitempty" maxLength:"64" format:"uid" doc:"uid of a reference on which its colour was read: what is in it is guessed from the shelf"`
		Part   string `json:"part,omitempty" maxLength:"80" doc:"Name of the pin on it"`
		Volume string `json:"volume,omitempty" maxLength:"60" doc:"How much of it, as typed"`
		Heats  int    `json:"heats,omitempty" minimum:"0" maximum:"100" doc:"How often it was hot, as far as one remembers"`
	}
}

// addLeftover keeps a cup on the bench, or so much of what is taken to be of a recipe.
func (a *api) addLeftover(ctx context.Context, in *addLeftoverIn) (*leftoverAnswer, error) {
	b := &in.Body
	now := time.Now()
	if b.Cup != "" {
		l, err := shopOf(ctx).KeepCup(ctx, b.Cup, b.Name, now.UTC().Format(time.DateOnly), now.UnixMilli())
		return a.leftoverPage(ctx, l, err)
	}
	if b.Recipe == "" && b.Read == "" {
		return nil, fieldProblem(
			"cup",
			"what is kept? Choose a cup on the bench, the recipe that it is of, or a target on which its colour was read",
		)
	}
	v, err := measure.ParseVolume(b.Volume)
	if err != nil {
		return nil, fieldProblem("volume", err.Error())
	}
	of, from, name, err := a.taken(ctx, LeftoverAim{Recipe: b.Recipe, Reference: b.Read, Part: b.Part})
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	heats := float64(b.Heats)
	t := leftover.OfCup(
		&of,
		leftover.History{
			HeatsMean: heats, HeatsMost: heats, DoseMean: heats * leftover.UsualHeatMin,
			DoseMost: heats * leftover.UsualHeatMin,
		},
		shelf,
	)
	has := t.ML(leftover.DensitiesOf(shelf))
	for uid := range t.In {
		t.In[uid] *= v.ML / has
	}
	l, err := shopOf(ctx).AddLeftover(ctx, leftover.Leftover{
		Name: cup.ShortName(cmp.Or(
			strings.TrimSpace(b.Name), name,
		)), From: from, Kind: leftover.Guessed, Day: now.UTC().Format(time.DateOnly), Tub: t,
	})
	return a.leftoverPage(ctx, l, err)
}

// taken is the cup that a leftover of unknown content is taken to be of: a recipe, or what from the shelf comes nearest
// to a reading of it.
func (a *api) taken(ctx context.Context, of LeftoverAim) (c cup.Cup, from, name string, err error) {
	if of.Recipe != "" {
		r, err := shopOf(ctx).Recipe(ctx, of.Recipe)
		return r.Cup, "taken to be of " + r.Name, r.Name, err
	}
	target, err := a.aimedAt(ctx, of)
	if err != nil {
		return c, "", "", err
	}
	w, shelf, kit, err := a.wish(ctx, &MatchAsk{Most: 3})
	if err != nil {
		return c, "", "", err
	}
	w.Readings, w.Plain = []match.Reading{match.Targets(target)}, true
	got, err := dear(
		ctx, a.budget,
		func(ctx context.Context) (*match.Result, error) { return match.Search(ctx, w, shelf, kit, nil) },
	)
	if err != nil {
		return c, "", "", err
	}
	if len(got.Candidates) == 0 {
		return c, "", "", measure.Faulty(
			"reference", "nothing on your shelf comes near to this colour, so nothing can be guessed of what is in it",
		)
	}
	best := &got.Candidates[0]
	from = fmt.Sprintf("guessed by its colour (%s), within ΔE00 %s", target.Name, measure.Number(best.DeltaE00, 1))
	return best.Cup, cup.ShortName(from), target.Name, nil
}

type changeLeftoverIn struct {
	LeftoverPath
	Body struct {
		Seen   int     `json:"seen" doc:"The revision that was seen"`
		Note   *string `json:"note,omitempty" maxLength:"4000"`
		Volume *string `json:"volume,omitempty" maxLength:"60" doc:"How much there is, counted or weighed anew, as typed"`
	}
}

func (a *api) changeLeftover(ctx context.Context, in *changeLeftoverIn) (*leftoverAnswer, error) {
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	l, err := shopOf(ctx).ChangeLeftover(ctx, in.UID, in.Body.Seen, func(l *leftover.Leftover) error {
		set(&l.Note, in.Body.Note)
		if in.Body.Volume == nil {
			return nil
		}
		v, err := measure.ParseVolume(*in.Body.Volume)
		if err != nil {
			return measure.Faulty("volume", "%s", err)
		}
		has := l.ML(leftover.DensitiesOf(shelf))
		for uid := range l.In {
			l.In[uid] *= v.ML / has
		}
		return nil
	})
	return a.leftoverPage(ctx, l, err)
}

// mlOf reads a volume; empty is all of it.
func mlOf(field, typed string) (float64, error) {
	text := strings.TrimSpace(typed)
	if text == "" || text == "all" {
		return 0, nil
	}
	v, err := measure.ParseVolume(text)
	if err != nil {
		return 0, fieldProblem(field, err.Error())
	}
	return v.ML, nil
}

type useLeftoverIn struct {
	LeftoverPath
	Body struct {
		Seen   int         `json:"seen" doc:"The revision that was seen"`
		Volume string      `json:"volume,omitempty" maxLength:"60" doc:"How much of it, as typed; all of it where empty"`
		For    LeftoverAim `json:"for,omitempty" doc:"What it is to become"`
	}
}

// LeftoverAim is a colour that is sought: a recipe's, or a part of a reference.
type LeftoverAim struct {
	Recipe    string `json:"recipe,omitempty" maxLength:"64" format:"uid"`
	Reference string `json:"reference,omitempty" maxLength:"64" format:"uid"`
	Part      string `json:"part,omitempty" maxLength:"80" doc:"Name of one of its pins; the first where empty"`
}

// aimedAt is the target that an aim stands for; nil for none.
func (a *api) aimedAt(ctx context.Context, aim LeftoverAim) (*cup.Target, error) {
	switch {
	case aim.Recipe != "":
		r, err := shopOf(ctx).Recipe(ctx, aim.Recipe)
		if err != nil {
			return nil, err
		}
		if r.Target != nil {
			return r.Target, nil
		}
		shelf, err := shopOf(ctx).Shelf(ctx)
		if err != nil {
			return nil, err
		}
		m, err := mix.Stir(&r.Cup, shelf)
		if err != nil {
			return nil, err
		}
		at := mix.UsualLook(&r.Cup)
		return &cup.Target{
			Name: r.Name, Lab: m.Colour(at), ThicknessMM: at.ThicknessMM, Ground: at.Ground, State: at.State,
			Exact: true,
		}, nil
	case aim.Reference != "":
		r, err := shopOf(ctx).Reference(ctx, aim.Reference)
		if err != nil {
			return nil, err
		}
		for _, p := range r.Pins {
			if aim.Part == "" || strings.EqualFold(p.Name, aim.Part) {
				return &cup.Target{
					Name: cup.ShortName(r.Name + ": " + p.Name), Lab: p.Reading.Lab, ThicknessMM: p.ThicknessMM,
					Ground:    p.Ground,
					Reference: r.UID, Error: p.Reading.Error,
				}, nil
			}
		}
		return nil, measure.Faulty("for", "nothing is pinned on this target under that name")
	}
	return nil, nil
}

func (a *api) useLeftover(ctx context.Context, in *useLeftoverIn) (*struct {
	Body struct {
		Cup string `json:"cup" doc:"uid of the cup on the bench"`
	}
}, error,
) {
	out := &struct {
		Body struct {
			Cup string `json:"cup" doc:"uid of the cup on the bench"`
		}
	}{}
	ml, err := mlOf("volume", in.Body.Volume)
	if err != nil {
		return nil, err
	}
	target, err := a.aimedAt(ctx, in.Body.For)
	if err != nil {
		return nil, problem(err, "")
	}
	out.Body.Cup, err = shopOf(ctx).UseLeftover(ctx, in.UID, in.Body.Seen, ml, target, time.Now().UnixMilli())
	return out, problem(err, staleLeftover)
}

type mixLeftoversIn struct {
	LeftoverPath
	Body struct {
		Seen   int    `json:"seen" doc:"The revision that was seen"`
		With   string `json:"with" maxLength:"64" format:"uid" doc:"uid of another leftover"`
		Volume string `json:"volume,omitempty" maxLength:"60" doc:"How much of that goes in, as typed; all of it where empty"`
	}
}

func (a *api) mixLeftovers(ctx context.Context, in *mixLeftoversIn) (*leftoverAnswer, error) {
	ml, err := mlOf("volume", in.Body.Volume)
	if err != nil {
		return nil, err
	}
	l, err := shopOf(ctx).MixLeftovers(ctx, in.UID, in.Body.Seen, in.Body.With, ml)
	return a.leftoverPage(ctx, l, err)
}

// previewLeftoverMix shows what two leftovers would be together, before it is done.
func (a *api) previewLeftoverMix(ctx context.Context, in *mixLeftoversIn) (*struct{ Body LeftoverCard }, error) {
	ml, err := mlOf("volume", in.Body.Volume)
	if err != nil {
		return nil, err
	}
	l, err := shopOf(ctx).Leftover(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	o, err := shopOf(ctx).Leftover(ctx, in.Body.With)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	of := leftover.DensitiesOf(shelf)
	if ml <= 0 {
		ml = o.ML(of)
	}
	out, err := o.Take(ml, of)
	if err != nil {
		return nil, problem(err, "")
	}
	l.Put(out, of)
	price, err := a.prices(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	return &struct{ Body LeftoverCard }{a.leftoverCard(l, shelf, price)}, nil
}

// mostLooked is how many leftovers are looked through for a colour, those touched last first.
const mostLooked = 60

func (a *api) suggestLeftovers(ctx context.Context, in *struct{ Body LeftoverAim }) (*struct {
	Body struct {
		Target mix.Swatch    `json:"target"`
		Name   string        `json:"name"`
		List   []LeftoverFor `json:"list" nullable:"false"`
	}
}, error,
) {
	out := &struct {
		Body struct {
			Target mix.Swatch    `json:"target"`
			Name   string        `json:"name"`
			List   []LeftoverFor `json:"list" nullable:"false"`
		}
	}{}
	out.Body.List = []LeftoverFor{}
	target, err := a.aimedAt(ctx, in.Body)
	if err != nil {
		return nil, problem(err, "")
	}
	if target == nil {
		return nil, fieldProblem("for", "what is it to become? Choose a recipe or a target")
	}
	out.Body.Target, out.Body.Name = mix.NewSwatch(target.Lab), target.Name
	list, err := shopOf(ctx).Leftovers(ctx, store.Page{Most: mostLooked})
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, kit, err := a.tools(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	tubs := make([]leftover.Tub, len(list.Items))
	for i := range list.Items {
		tubs[i] = list.Items[i].Tub
	}
	found, err := dear(ctx, a.budget, func(ctx context.Context) ([]match.Reused, error) {
		return match.Reuse(ctx, tubs, target, func(c cup.Cup) (*match.Wish, error) {
			w := &match.Wish{Cup: c}
			return w, a.allow(ctx, w, &match.Allow{}, true)
		}, shelf, kit)
	})
	if err != nil {
		return nil, problem(err, "")
	}
	of := leftover.DensitiesOf(shelf)
	for _, r := range found {
		l := &list.Items[r.Place]
		out.Body.List = append(out.Body.List, LeftoverFor{
			UID: l.UID, Name: l.Name, Volume: l.ML(of), Look: mix.NewSwatch(r.Look), Now: r.Now, Then: r.Then,
			After: mix.NewSwatch(r.After), Adds: r.Adds, Says: r.Says, Tired: l.Tired(),
		})
	}
	return out, nil
}

type leftoverCodeIn struct {
	LeftoverPath
	At string `query:"at" maxLength:"200" doc:"Where this program is reached: http://address:port"`
}

// leftoverCode is a QR code of a leftover's page.
func (a *api) leftoverCode(ctx context.Context, in *leftoverCodeIn) (*fileAnswer, error) {
	l, err := shopOf(ctx).Leftover(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	if in.At != "" && !strings.HasPrefix(in.At, "http://") && !strings.HasPrefix(in.At, "https://") {
		return nil, fieldProblem("at", "an address begins with http:// or https://")
	}
	code, err := qr.Encode(strings.TrimSuffix(in.At, "/")+"/leftovers/"+l.UID, qr.M, qr.Auto)
	if err != nil {
		return nil, fieldProblem("at", "this address is too long for a code")
	}
	const px = 320
	scaled, err := barcode.Scale(code, px, px)
	if err != nil {
		return nil, problem(err, "")
	}
	var raw bytes.Buffer
	err = png.Encode(&raw, scaled)
	return &fileAnswer{"image/png", "inline", raw.Bytes()}, problem(err, "")
}
