package web

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"strconv"
	"strings"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/cores"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/recipe"
	"cloudburst/store"
)

// BaitImage is a bait as it is drawn.
type BaitImage struct {
	PNG      string  `json:"png" doc:"A data URL"`
	PxPerMM  float64 `json:"pxPerMM"`
	WidthPX  int     `json:"widthPX"`
	HeightPX int     `json:"heightPX"`
	NoseMM   float64 `json:"noseMM" doc:"Where the left edge lies: so far before the nose, below 0"`
	MiddleMM float64 `json:"middleMM" doc:"How high the picture's middle lies over the bait's axis"`
	Paper    string  `json:"paper" doc:"The ground beside the bait, as #rrggbb"`
}

// BaitCard is a design in a list.
type BaitCard struct {
	store.SavedBait
	MoldName string    `json:"moldName"`
	Picture  BaitImage `json:"picture"`
}

// BaitCup is a cup of a design.
type BaitCup struct {
	UID    string     `json:"uid"`
	Name   string     `json:"name"`
	Gone   bool       `json:"gone" doc:"To be chosen: the cup is no longer on the bench, or was never named"`
	Swatch mix.Swatch `json:"swatch"`
	Pour   bait.Field `json:"pour" doc:"How hot it goes in"`
	BaitML float64    `json:"baitML" doc:"What one bait takes of it"`
	ShotML float64    `json:"shotML" doc:"What one filling of the mold takes, sprue and plug shared out"`
}

// BaitPart is a part of a design with its measures.
type BaitPart struct {
	bait.PartFields
	ML     float64       `json:"ml" doc:"Of one cavity"`
	Shown  *recipe.Shown `json:"shown,omitempty" doc:"Bars and spots: how they show through the body"`
	CupKey string        `json:"cupKey" doc:"What Set takes for its cup"`
}

// BaitSay is something to know about a design, in words and as a figure.
type BaitSay struct {
	Says     string  `json:"says"`
	DeltaE00 float64 `json:"deltaE00,omitempty"`
}

// BaitPage is a design with its pictures and what is to be known of it.
type BaitPage struct {
	store.SavedBait
	Latest   int            `json:"latest" doc:"The newest version; older ones can be looked at and taken back"`
	MoldCard ShapeCard      `json:"moldCard"`
	Lies     string         `json:"lies"`
	Cavities int            `json:"cavities"`
	Cups     []BaitCup      `json:"cupCards" nullable:"false"`
	Parts    []BaitPart     `json:"parts" nullable:"false"`
	Main     BaitImage      `json:"main"`
	Views    []NamedPicture `json:"views" nullable:"false"`
	Apart    []BaitSay      `json:"apart" nullable:"false" doc:"Whether layers will be seen as two"`
	Through  []BaitSay      `json:"through" nullable:"false" doc:"What shows through what"`
	Room     []string       `json:"room" nullable:"false"`
	Order    []string       `json:"order" nullable:"false"`
	Fresh    bait.Balance   `json:"fresh"`
	Salt     bait.Balance   `json:"salt"`
	HookSet  []bait.Field   `json:"hookFields" nullable:"false"`
	Flakes   []FlakePassage `json:"flakes" nullable:"false"`
	Ways     []bait.Way     `json:"ways" nullable:"false"`
	Strip    bool           `json:"strip" doc:"There are bars or spots to be printed in true size"`
}

const defaultBait = "paddle-minnow"

// BaitQuery says in which bait a cup is shown, and from where.
type BaitQuery struct {
	Bait     string `query:"bait" maxLength:"64" format:"uid" doc:"Which bait it is shown in: a mold's uid or a shape's key; empty for the usual"`
	BaitView string `query:"baitView" maxLength:"60" pattern:"^(|main|side|back|belly|quarter|-?[0-9.]{1,12}(,-?[0-9.]{1,12}){3})$" doc:"How it is held: side, back, belly or quarter, or a turn as a quaternion w,x,y,z; empty for its main view"`
	Judge    bool   `query:"judge" doc:"Even colours to be judged; else as it looks in the hand"`
}

// BaitLook says how a bait is looked at.
type BaitLook struct {
	View      string  `query:"view" maxLength:"60" pattern:"^(|main|side|back|belly|quarter|-?[0-9.]{1,12}(,-?[0-9.]{1,12}){3})$" doc:"How it is held: side, back, belly or quarter, or a turn as a quaternion w,x,y,z; empty for its main view"`
	Even      bool    `query:"even" doc:"Even colours to be judged; else as it looks in the hand"`
	Ground    string  `query:"ground" enum:"white,dark,grey,against,metal,hand" default:"white"`
	Light     string  `query:"light" enum:"D65,D50,D75,A,LED3000S,F2,F11" default:"D65"`
	TiltDeg   float64 `query:"tilt" minimum:"0" maximum:"60"`
	State     string  `query:"state" enum:"raw,hot,fresh,rested" default:"rested"`
	Water     string  `query:"water" enum:"clear,green,stained,muddy"`
	DepthM    float64 `query:"depth" minimum:"0" maximum:"50" default:"1"`
	DistanceM float64 `query:"distance" minimum:"0" maximum:"50" default:"0.5"`
	From      string  `query:"from" enum:"side,below,above" default:"side"`
	Cavity    int     `query:"cavity" minimum:"0" maximum:"200" doc:"0 for the typical one"`
	Quick     bool    `query:"quick" doc:"Only the main picture, while something is dragged or turned"`
}

func (q *BaitLook) at() mix.Condition {
	return mix.Condition{
		ThicknessMM: mix.BodyMM, Ground: optics.Ground(q.Ground), Light: colour.Light(q.Light),
		State:   cup.State(q.State),
		TiltDeg: q.TiltDeg,
		Water:   optics.Water(q.Water), DepthM: q.DepthM, DistanceM: q.DistanceM, From: optics.From(q.From),
	}
}

func (q *BaitLook) says() string {
	at := q.at()
	if at.Water != "" {
		return fmt.Sprintf(
			"%s, %s m down, %s, %s", at.Water.Name(), measure.Number(at.DepthM, 1), at.From.Name(), at.Light.Name(),
		)
	}
	return at.Ground.Name() + ", " + at.Light.Name()
}

const staleBait = "This bait was changed from another window since you opened it. It is shown as it stands now; enter yours again if it still fits."

// BaitPath names a design and says how it is looked at.
type BaitPath struct {
	UID string `path:"bait" maxLength:"64" format:"uid"`
	BaitLook
}

type baitAnswer struct {
	ContentEncoding string `header:"Content-Encoding"`
	Body            BaitPage
}

func (a *api) baitRoutes() {
	get(a, "listBaits", "/baits", a.listBaits)
	post(a, "addBait", "/baits", a.addBait)
	get(a, "showBait", "/baits/{bait}", a.showBait)
	remove(a, "deleteBait", "/baits/{bait}", a.deleteBait)
	patch(a, "changeBait", "/baits/{bait}", a.changeBait)
	post(a, "takeBackBaitVersion", "/baits/{bait}/back", a.takeBackBaitVersion)
	a.baitFiles()
}

// CupName is a cup on the bench that goes into a bait.
type CupName struct {
	Cup  string `json:"cup" maxLength:"64" format:"uid"`
	Part string `json:"part,omitempty" maxLength:"40" doc:"Which part of the bait it is for, such as back or belly"`
}

// baitFiles are what a bait is taken along as.
func (a *api) baitFiles() {
	file(
		a, "baitPicture", "/baits/{bait}/picture", "image/png", "The bait as a PNG that says what it shows",
		a.baitPicture,
	)
	file(a, "turnBait", "/baits/{bait}/turn", "image/jpeg", "The bait in a hurry, while it is turned", a.turnBait)
	file(a, "turnCup", "/cups/{cup}/turn", "image/jpeg", "A bait of a cup in a hurry, while it is turned", a.turnCup)
	file(
		a, "baitStrip", "/baits/{bait}/strip", "image/svg+xml", "Bars and spots in true size, to lay beside the mold",
		a.baitStrip,
	)
}

// somePictures are kept in memory, some 20 kB each.
const somePictures = 500

// baitCard is a bait in a list; mark names the state of the shelf.
func (a *api) baitCard(ctx context.Context, b store.SavedBait, mark string) (BaitCard, error) {
	h, err := a.hold(ctx, b, listBait, 0)
	if err != nil {
		return BaitCard{}, err
	}
	key := fmt.Sprint(b.UID, "@", b.Revision, " ", h.mold.key, " ", mark)
	for i := range h.vessels {
		if v := h.vessels[i]; v != nil {
			key += fmt.Sprint(" ", v.Volume.ML, v.Plastisol, v.Doses)
		}
	}
	key = ours(ctx, key)
	img, kept := a.cards.Get(key)
	if !kept {
		img, err = dear(ctx, a.budget, func(context.Context) (BaitImage, error) {
			h.picture.BaitPlan = a.plans.get(h.shape, h.mold.key, h.shape.Main(), listBait, false)
			return drawBait(&h.picture, bodyLook)
		})
		if err != nil {
			return BaitCard{}, err
		}
		a.cards.Add(key, img)
	}
	return BaitCard{b, h.mold.Name, img}, nil
}

func (a *api) baitPage(ctx context.Context, b store.SavedBait, err error, look *BaitLook) (*baitAnswer, error) {
	if err != nil {
		return nil, problem(err, staleBait)
	}
	h, err := a.hold(ctx, b, pageBait, look.Cavity)
	if err != nil {
		return nil, problem(err, "")
	}
	page := BaitPage{
		SavedBait: b, Latest: b.Revision, MoldCard: cardOfMold(
			b.Mold, &h.mold.Mold, h.mold.own,
		), Lies: h.mold.Lies.Words(), Cavities: h.mold.Cavities,
		Apart: []BaitSay{}, Through: []BaitSay{}, Room: []string{}, Flakes: []FlakePassage{}, Ways: bait.Ways(),
		Strip: len(b.Structure.Bars)+len(b.Structure.Spots) > 0,
	}
	if newest, err := shopOf(ctx).Bait(ctx, b.UID, 0); err == nil {
		page.Latest = newest.Revision
	}
	if look.Quick {
		p, err := a.held(h, look, look.View, pageBait)
		if err != nil {
			return nil, problem(err, "")
		}
		page.Main, err = drawBait(&p, look.at())
		page.Cups, page.Parts, page.Views, page.Order, page.HookSet = h.cups, []BaitPart{}, []NamedPicture{}, []string{}, []bait.Field{}
		return &baitAnswer{"identity", page}, problem(err, "")
	}
	var drawing cores.Group
	drawing.Go(func() (err error) {
		p, err := a.held(h, look, look.View, pageBait)
		if err != nil {
			return err
		}
		page.Main, err = drawBait(&p, look.at())
		return err
	})
	views := []Choice{
		{"side", "From the side"}, {"back", "From the back"}, {"belly", "From the belly"}, {"quarter", "Three-quarter"},
	}
	page.Views = make([]NamedPicture, len(views))
	for i, v := range views {
		drawing.Go(func() error {
			p, err := a.held(h, look, v.Key, smallBait)
			if err != nil {
				return err
			}
			img, err := drawBait(&p, look.at())
			page.Views[i] = NamedPicture{img, v.Name, v.Key}
			return err
		})
	}
	told := a.tellOf(ctx, &page, h)
	if err := errors.Join(drawing.Wait(), told); err != nil {
		return nil, problem(err, "")
	}
	return &baitAnswer{"identity", page}, nil
}

func (a *api) listBaits(ctx context.Context, in *PageQuery) (*struct{ Body store.Listed[BaitCard] }, error) {
	list, err := shopOf(ctx).Baits(ctx, in.page())
	if err != nil {
		return nil, problem(err, "")
	}
	mark, err := shopOf(ctx).ShelfMark(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	out, err := eachOf(list, func(b store.SavedBait) (BaitCard, error) { return a.baitCard(ctx, b, mark) })
	return &struct{ Body store.Listed[BaitCard] }{out}, problem(err, "")
}

func (a *api) addBait(ctx context.Context, in *struct {
	BaitLook
	Body struct {
		Name string    `json:"name,omitempty" maxLength:"200"`
		Mold string    `json:"mold,omitempty" maxLength:"64" format:"uid" doc:"uid of a mold, or a shape's key"`
		Cup  string    `json:"cup,omitempty" maxLength:"64" format:"uid" doc:"uid of a cup on the bench"`
		Cups []CupName `json:"cups,omitempty" maxItems:"8" doc:"Cups on the bench instead of one; where parts are named, they are laid from the belly up"`
		Way  string    `json:"way,omitempty" maxLength:"20"`
	}
},
) (*baitAnswer, error) {
	m, err := a.mold(ctx, in.Body.Mold)
	if err != nil {
		return nil, problem(err, "")
	}
	name := strings.TrimSpace(in.Body.Name)
	if uid, done, err := shopOf(ctx).Done(ctx); done || err != nil {
		b, err2 := shopOf(ctx).Bait(ctx, uid, 0)
		return a.baitPage(ctx, b, errors.Join(err, err2), &in.BaitLook)
	}
	if name == "" {
		names, err := a.namesOf(ctx, in.Body.Cup)
		if err != nil {
			return nil, problem(err, "")
		}
		name = cup.ShortName(cmp.Or(names.of(in.Body.Cup).short, m.Name))
	}
	mold := in.Body.Mold
	if mold == "" {
		mold = defaultBait
	}
	d := bait.NewDesign(name, mold, in.Body.Cup)
	for i, c := range bait.FromTheBelly(in.Body.Cups, func(c CupName) string { return c.Part }) {
		if i == 0 {
			d.Cups = nil
		}
		d.Cups = append(d.Cups, bait.Poured{Cup: c.Cup, PourC: bait.UsualPourC})
	}
	way := in.Body.Way
	if way == "" && len(in.Body.Cups) > 1 {
		way = bait.WayFor(len(in.Body.Cups))
	}
	if way != "" {
		if err := d.Begin(way, &m.Mold); err != nil {
			return nil, problem(err, "")
		}
		if err := a.fill(ctx, &d); err != nil {
			return nil, problem(err, "")
		}
	}
	if err := d.Check(&m.Mold); err != nil {
		return nil, problem(err, "")
	}
	b, err := shopOf(ctx).AddBait(ctx, d)
	return a.baitPage(ctx, b, err, &in.BaitLook)
}

type showBaitIn struct {
	BaitPath
	Revision int `query:"revision" minimum:"0" doc:"A version; 0 for the newest"`
}

func (a *api) showBait(ctx context.Context, in *showBaitIn) (*baitAnswer, error) {
	b, err := shopOf(ctx).Bait(ctx, in.UID, in.Revision)
	return a.baitPage(ctx, b, err, &in.BaitLook)
}

func (a *api) deleteBait(ctx context.Context, in *BaitPath) (*struct{}, error) {
	return nil, problem(shopOf(ctx).Keep(ctx, store.Baits, in.UID, store.Deleted), "")
}

type changeBaitIn struct {
	BaitPath
	Body struct {
		Field  string `json:"field" maxLength:"60"`
		Typed  string `json:"typed" maxLength:"200"`
		Recipe string `json:"recipe,omitempty" maxLength:"64" format:"uid" doc:"Of the field cups.N.cup: a recipe to pour a new cup of, instead of one on the bench"`
		Seen   int    `json:"seen" doc:"The revision that the device last saw"`
		Try    bool   `json:"try,omitempty" doc:"Only shown, not kept: while something is dragged"`
	}
}

func (a *api) changeBait(ctx context.Context, in *changeBaitIn) (*baitAnswer, error) {
	b, err := shopOf(ctx).Bait(ctx, in.UID, 0)
	if _, done, again := shopOf(ctx).Done(ctx); done || again != nil || err != nil {
		return a.baitPage(ctx, b, errors.Join(err, again), &in.BaitLook)
	}
	if b.Revision != in.Body.Seen && !in.Body.Try {
		return nil, problem(store.ErrStale, staleBait)
	}
	mold, typed := b.Mold, in.Body.Typed
	if in.Body.Field == "mold" {
		mold = typed
	}
	m, err := a.mold(ctx, mold)
	if err != nil {
		return nil, problem(err, "")
	}
	if in.Body.Field == "mold" {
		b.Mold = typed
		b.Structure.Refit(&m.Mold)
	} else if err = b.Set(in.Body.Field, typed, &m.Mold); err != nil {
		return nil, problem(err, "")
	}
	if in.Body.Field == "way" {
		if err := a.fill(ctx, &b.Design); err != nil {
			return nil, problem(err, "")
		}
	}
	if err := b.Check(&m.Mold); err != nil {
		return nil, problem(err, "")
	}
	var pours []store.Pour
	if in.Body.Recipe != "" {
		r, err := shopOf(ctx).Recipe(ctx, in.Body.Recipe)
		if err != nil {
			return nil, problem(err, "")
		}
		at, err := strconv.Atoi(strings.TrimSuffix(strings.TrimPrefix(in.Body.Field, "cups."), ".cup"))
		if err != nil || at < 0 || at >= len(b.Cups) {
			return nil, fieldProblem("field", "a recipe is poured into one of the bait's cups")
		}
		pours = append(pours, store.Pour{At: at, Cup: r.Cup, From: r})
	}
	if !in.Body.Try {
		b, err = shopOf(ctx).SaveBait(ctx, b, pours...)
	}
	return a.baitPage(ctx, b, err, &in.BaitLook)
}

type takeBackBaitVersionIn struct {
	BaitPath
	Body struct {
		Revision int `json:"revision" doc:"The version that is to count again"`
		Seen     int `json:"seen"`
	}
}

func (a *api) takeBackBaitVersion(ctx context.Context, in *takeBackBaitVersionIn) (*baitAnswer, error) {
	b, err := shopOf(ctx).Bait(ctx, in.UID, in.Body.Revision)
	if err != nil {
		return nil, problem(err, "")
	}
	b.Revision = in.Body.Seen
	b, err = shopOf(ctx).SaveBait(ctx, b)
	return a.baitPage(ctx, b, err, &in.BaitLook)
}
