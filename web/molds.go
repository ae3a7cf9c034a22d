package web

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"math"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"cloudburst/core/bait"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mesh"
	"cloudburst/core/mix"
	"cloudburst/core/picture"
	"cloudburst/store"
)

// ShapeCard is what a bait can be chosen from: a mold of one's own, or one of our shapes.
type ShapeCard struct {
	Key        string  `json:"key" doc:"uid of a mold, or the key of a shape"`
	Name       string  `json:"name"`
	About      string  `json:"about"`
	Own        bool    `json:"own" doc:"A mold of one's own"`
	LengthMM   float64 `json:"lengthMM"`
	VolumeML   float64 `json:"volumeML"`
	ThinnestMM float64 `json:"thinnestMM"`
	ThickestMM float64 `json:"thickestMM"`
	MainView   string  `json:"mainView" enum:"side,back" doc:"How it is looked at"`
}

// MoldCard is a mold in a list.
type MoldCard struct {
	store.SavedMold
	Card    ShapeCard `json:"card"`
	ShotML  float64   `json:"shotML"`
	Picture BaitImage `json:"picture"`
	Says    string    `json:"says" doc:"What it is, in a line"`
}

// MoldPage is everything about a mold.
type MoldPage struct {
	MoldCard
	Views           []NamedPicture `json:"views" nullable:"false"`
	Groups          []bait.Group   `json:"groups" nullable:"false"`
	LieChoices      []Choice       `json:"lieChoices" nullable:"false"`
	MaterialChoices []Choice       `json:"materialChoices" nullable:"false"`
	ShapeChoices    []Choice       `json:"shapeChoices" nullable:"false"`
	Flakes          []FlakePassage `json:"flakes" nullable:"false"`
}

// NamedPicture is a picture with what it shows.
type NamedPicture struct {
	BaitImage
	Name string `json:"name"`
	Key  string `json:"key,omitempty"`
}

// FlakePassage is what a flake of the shelf does in a mold.
type FlakePassage struct {
	bait.Passage
	Material string `json:"material"`
	Name     string `json:"name"`
}

// shaped is a mold with the key under which it is chosen.
type shaped struct {
	key string
	bait.Mold
	own bool
}

// mold finds a mold by its uid, or one of our shapes by its key; empty for the usual.
func (a *api) mold(ctx context.Context, key string) (shaped, error) {
	if key == "" {
		key = defaultBait
	}
	if name, known := bait.NameOf(key); known {
		return shaped{key, bait.NewMold(name, key), false}, nil
	}
	m, err := shopOf(ctx).Mold(ctx, key)
	if errors.Is(err, store.ErrNotFound) {
		_, err = bait.Find(key)
		return shaped{}, err
	}
	return shapedMold(m), err
}

func shapedMold(m store.SavedMold) shaped {
	return shaped{fmt.Sprintf("%s@%d", m.UID, m.Revision), m.Mold, true}
}

// usualMold is what a recipe is looked at with where no mold was chosen.
var usualMold = bait.NewMold("A usual mold", defaultBait)

func cardOfMold(key string, m *bait.Mold, own bool) ShapeCard {
	s := m.Bait()
	c := ShapeCard{
		Key: key, Name: m.Name, About: s.About, Own: own, LengthMM: s.ToX, VolumeML: m.VolumeML(),
		ThinnestMM: s.ThinnestMM(),
		ThickestMM: s.ThickestMM(), MainView: "side",
	}
	if s.Lying {
		c.MainView = "back"
	}
	return c
}

// cardOfShape is the card of one of our shapes in its usual size, which needs not be made for it.
func cardOfShape(key, name string) ShapeCard {
	f, _ := bait.FactsOf(key)
	c := ShapeCard{
		Key: key, Name: name, About: f.About, LengthMM: f.LengthMM, VolumeML: f.ML, ThinnestMM: f.ThinMM,
		ThickestMM: f.ThickMM, MainView: "side",
	}
	if f.Lying {
		c.MainView = "back"
	}
	return c
}

const staleMold = "This mold was changed from another window since you opened it. It is shown as it stands now; enter yours again if it still fits."

// MoldPath names a mold.
type MoldPath struct {
	UID string `path:"mold" maxLength:"64" format:"uid"`
}

type moldAnswer struct{ Body MoldPage }

func (a *api) moldRoutes() {
	get(a, "listShapes", "/shapes", a.listShapes)
	get(a, "listMolds", "/molds", a.listMolds)
	post(a, "addMold", "/molds", a.addMold)
	post(
		a, "addMoldFromFile", "/molds/from-file", a.addMoldFromFile,
		func(o *huma.Operation) { o.MaxBodyBytes = mesh.MaxBytes + 1024 },
	)
	get(a, "showMold", "/molds/{mold}", a.showMold)
	file(a, "moldSTL", "/molds/{mold}/stl", "model/stl", "The bait as an STL, mm; without the hook's slot", a.moldSTL)
	patch(a, "changeMold", "/molds/{mold}", a.setOnMold)
	post(a, "fitMold", "/molds/{mold}/fit", a.fitMold)
}

// changeMold changes a mold as it stands, if nobody else did since.
func (a *api) changeMold(
	ctx context.Context, uid string, seen int, field string, change func(*store.SavedMold) error,
) (*moldAnswer, error) {
	m, err := shopOf(ctx).Mold(ctx, uid)
	if err != nil {
		return nil, problem(err, "")
	}
	m.Revision = seen
	if err := change(&m); err != nil {
		return nil, problem(err, "")
	}
	if err := m.Check(); err != nil { // a measure that fits by itself, but not with the others: said at what was typed
		var f *measure.Fault
		if errors.As(err, &f) {
			return nil, fieldProblem(field, f.Says)
		}
		return nil, problem(err, "")
	}
	m, err = shopOf(ctx).SaveMold(ctx, m)
	return a.moldPage(ctx, m, err)
}

func (a *api) moldCard(m store.SavedMold) (MoldCard, error) {
	c := MoldCard{SavedMold: m, Card: cardOfMold(m.UID, &m.Mold, true), ShotML: m.ShotML()}
	s := m.Bait()
	p := a.inFog(s, fmt.Sprintf("%s@%d", m.UID, m.Revision), s.Main(), listBait)
	var err error
	c.Picture, err = drawBait(p, bodyLook)
	c.Says = m.Says()
	return c, err
}

func (a *api) moldPage(ctx context.Context, m store.SavedMold, err error) (*moldAnswer, error) {
	if err != nil {
		return nil, problem(err, staleMold)
	}
	page := MoldPage{Groups: m.Fields(), Flakes: []FlakePassage{}}
	if page.MoldCard, err = a.moldCard(m); err != nil {
		return nil, problem(err, "")
	}
	s := m.Bait()
	for _, v := range []struct {
		name string
		view bait.View
	}{{"From the side", bait.Side}, {"From the back", bait.Back}, {"From the belly", bait.Belly}, {"Three-quarter", bait.Quarter}} {
		size := smallBait
		if v.view == s.Main() {
			size = pageBait
		}
		img, err := drawBait(a.inFog(s, fmt.Sprintf("%s@%d", m.UID, m.Revision), v.view, size), bodyLook)
		if err != nil {
			return nil, problem(err, "")
		}
		page.Views = append(page.Views, NamedPicture{img, v.name, v.name})
	}
	for _, l := range m.LieChoices() {
		page.LieChoices = append(page.LieChoices, Choice{string(l), l.Words()})
	}
	for _, mat := range []bait.Material{bait.Aluminium, bait.Silicone, bait.Composite} {
		page.MaterialChoices = append(page.MaterialChoices, Choice{string(mat), string(mat)})
	}
	for _, sh := range bait.Names() {
		page.ShapeChoices = append(page.ShapeChoices, Choice{sh[0], sh[1]})
	}
	if m.Body != nil {
		page.ShapeChoices = append(page.ShapeChoices, Choice{bait.FromFile, "From a file of your own"})
	}
	page.ShapeChoices = append(
		page.ShapeChoices, Choice{bait.Own, "Measures of its own"}, Choice{bait.Chip, "Step chip"},
	)
	list, err := shopOf(ctx).Materials(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	for _, it := range list {
		if it.Flake != nil && !it.Retired {
			page.Flakes = append(page.Flakes, FlakePassage{m.Passage(it.UID, it.Flake.SizeMM()), it.UID, it.Name})
		}
	}
	return &moldAnswer{page}, nil
}

// fog is a plain smoky plastic, in which a shape shows how thick it is.
var fog = func() *mix.Mix {
	shelf := cup.Shelf{}
	for _, key := range []string{"medium-plastisol", "grey-tint", "titanium-white"} {
		f, ok := material.FindFamily(key)
		if !ok {
			panic("web: no family " + key)
		}
		shelf[key] = f.New(key, f.Name)
	}
	m, err := mix.Stir(&cup.Cup{
		Volume: measure.Volume{Typed: "1 cup", ML: measure.CupML}, Plastisol: "medium-plastisol",
		Doses: []cup.Dose{cup.DripOf("grey-tint", 30), cup.DripOf("titanium-white", 1)},
	}, shelf)
	if err != nil {
		panic(err)
	}
	return m
}()

func (a *api) inFog(s bait.Shape, key string, view bait.View, size sized) *picture.BaitPicture {
	return &picture.BaitPicture{
		BaitPlan: a.plans.get(s, key, view, size, false), Structure: plainStructure, Cups: []*mix.Mix{fog},
	}
}

// plainStructure is all of one cup.
var plainStructure = bait.Structure{Layers: []bait.Layer{{Name: "all of it", Top: 1}}}

func (a *api) listShapes(ctx context.Context, _ *struct{}) (*struct {
	Body []ShapeCard `nullable:"false"`
}, error,
) {
	out := &struct {
		Body []ShapeCard `nullable:"false"`
	}{[]ShapeCard{}}
	molds, err := shopOf(ctx).Molds(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	for _, m := range molds {
		if !m.Retired {
			out.Body = append(out.Body, cardOfMold(m.UID, &m.Mold, true))
		}
	}
	for _, s := range bait.Names() {
		out.Body = append(out.Body, cardOfShape(s[0], s[1]))
	}
	return out, nil
}

func (a *api) listMolds(ctx context.Context, _ *struct{}) (*struct {
	Body []MoldCard `nullable:"false"`
}, error,
) {
	out := &struct {
		Body []MoldCard `nullable:"false"`
	}{[]MoldCard{}}
	molds, err := shopOf(ctx).Molds(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	for _, m := range molds {
		card, err := a.moldCard(m)
		if err != nil {
			return nil, problem(err, "")
		}
		out.Body = append(out.Body, card)
	}
	return out, nil
}

func (a *api) addMold(ctx context.Context, in *struct {
	Body struct {
		Name  string `json:"name" maxLength:"200"`
		Shape string `json:"shape" maxLength:"40" doc:"Key of a shape, own, or step-chip"`
	}
},
) (*moldAnswer, error) {
	m := bait.NewMold("", "")
	err := errors.Join(m.Set("shape", in.Body.Shape), m.Set("name", in.Body.Name))
	if err == nil {
		var saved store.SavedMold
		if saved, err = shopOf(ctx).AddMold(ctx, "", m); err == nil {
			return a.moldPage(ctx, saved, nil)
		}
	}
	return nil, problem(err, "")
}

type addMoldFromFileIn struct {
	Name     string `query:"name" maxLength:"200"`
	LengthMM string `query:"length" maxLength:"40" doc:"As typed: 100 mm, 4 in; empty for the file's own millimetres"`
	RawBody  []byte `contentType:"application/octet-stream"`
}

// addMoldFromFile takes a maker's own bait in: an STL or an OBJ, mended, turned upright and brought to a length.
func (a *api) addMoldFromFile(ctx context.Context, in *addMoldFromFileIn) (*moldAnswer, error) {
	if uid, done, err := shopOf(ctx).Done(ctx); done || err != nil {
		m, err2 := shopOf(ctx).Mold(ctx, uid)
		return a.moldPage(ctx, m, errors.Join(err, err2))
	}
	m := bait.NewMold(strings.TrimSpace(in.Name), bait.Own)
	m.Notes = ""
	saved, err := dear(ctx, a.budget, func(ctx context.Context) (store.SavedMold, error) {
		skin, mended, err := mesh.Read(bytes.NewReader(in.RawBody))
		if err != nil {
			return store.SavedMold{}, err
		}
		skin.Upright()
		from, to := skin.Bounds()
		m.LengthMM = math.Round(10*(to[0]-from[0])) / 10
		if in.LengthMM != "" {
			if m.LengthMM, err = measure.ParseLength(in.LengthMM); err != nil {
				return store.SavedMold{}, measure.Faulty("length", "%s", err)
			}
		}
		m.HeightMM, m.WidthMM, m.ThickestMM, m.ThinnestMM = 0, 0, 0, 0
		m.Notes = "From a file of your own."
		if mended != "" {
			m.Notes += " " + mended
		}
		return shopOf(ctx).AddBody(ctx, skin, m)
	})
	if err != nil {
		return nil, problem(err, "")
	}
	return a.moldPage(ctx, saved, nil)
}

func (a *api) moldSTL(ctx context.Context, in *MoldPath) (*fileAnswer, error) {
	m, err := a.mold(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	s := m.Bait()
	var out bytes.Buffer
	err = s.Mesh().WriteSTL(&out)
	return &fileAnswer{
		"model/stl", fmt.Sprintf("attachment; filename=%q", plainName(m.Name)+".stl"), out.Bytes(),
	}, problem(err, "")
}

func (a *api) showMold(ctx context.Context, in *MoldPath) (*moldAnswer, error) {
	m, err := shopOf(ctx).Mold(ctx, in.UID)
	return a.moldPage(ctx, m, err)
}

type changeMoldIn struct {
	MoldPath
	Body struct {
		Field string `json:"field" maxLength:"100"`
		Typed string `json:"typed" maxLength:"4100"`
		Seen  int    `json:"seen" doc:"The revision that the device last saw"`
	}
}

func (a *api) setOnMold(ctx context.Context, in *changeMoldIn) (*moldAnswer, error) {
	return a.changeMold(ctx, in.UID, in.Body.Seen, in.Body.Field, func(m *store.SavedMold) error {
		if in.Body.Field == "retired" {
			m.Retired = in.Body.Typed == "true"
			return nil
		}
		return m.Set(in.Body.Field, in.Body.Typed)
	})
}

type fitMoldIn struct {
	MoldPath
	Body struct {
		Seen  int           `json:"seen"`
		Baits []bait.Marked `json:"baits" maxItems:"20" nullable:"false" doc:"Places marked on a photo of a shot, in pixels"`
	}
}

func (a *api) fitMold(ctx context.Context, in *fitMoldIn) (*moldAnswer, error) {
	return a.changeMold(ctx, in.UID, in.Body.Seen, "places", func(m *store.SavedMold) error {
		return m.FitTo(in.Body.Baits)
	})
}
