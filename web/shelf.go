package web

import (
	"cmp"
	"context"
	"fmt"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/picture"
	"cloudburst/core/recipe"
	"cloudburst/store"
)

// Bottle is a material as the shelf shows it.
type Bottle struct {
	store.ShelfItem
	Swatch     mix.Swatch  `json:"swatch" doc:"A usual dose in a body, over the ground that suits it"`
	Tilted     *mix.Swatch `json:"tilted,omitempty" doc:"The same tilted, for powders"`
	Dose       string      `json:"dose" doc:"That usual dose, in words"`
	Ground     string      `json:"ground" doc:"That ground, in words"`
	Hue        string      `json:"hue" doc:"red, orange, yellow, green, blue, violet, pink, brown, white, grey or black"`
	SeeThrough float64     `json:"seeThrough" doc:"Share of light that a body with that dose lets through, 0..1"`
	Clarity    string      `json:"clarity" doc:"transparent, half or opaque"`
	HeatWords  string      `json:"heatWords"`
	StandsHeat bool        `json:"standsHeat" doc:"As far as is known, it stands the usual working temperature"`
	Step       string      `json:"step" doc:"What one tap adds"`
	Runs       bool        `json:"runs" doc:"Its colour moves through the plastic"`
	Solid      bool        `json:"solid" doc:"Spooned, not poured or dripped"`
	Colours    bool        `json:"colours" doc:"There for its look"`
	StockLow   bool        `json:"stockLow"`
}

// KitAnswer is what the shop measures with, and its revision.
type KitAnswer struct {
	measure.Kit
	Revision int `json:"revision" doc:"Counts the changes; send it back with the next one"`
}

// MaterialPage is all there is to know of a material.
type MaterialPage struct {
	Bottle
	Properties []material.Property `json:"properties" nullable:"false"`
	UsedIn     []string            `json:"usedIn" nullable:"false"`
	Wedge      WedgePicture        `json:"wedge"`
	CloseUp    *CloseUpPicture     `json:"closeUp,omitempty"`
	Faces      []Face              `json:"faces" nullable:"false" doc:"Powders and shifting flake, by tilt"`
	BestIn     []BestBase          `json:"bestIn" nullable:"false" doc:"Flake: those of the shop's latest recipes in which it leads, best first"`
	Replaced   string              `json:"replacedName,omitempty"`
}

// Face is a material seen at a tilt.
type Face struct {
	Name   string     `json:"name"`
	Swatch mix.Swatch `json:"swatch"`
}

// BestBase is a base and how a flake stands in it.
type BestBase struct {
	Recipe   string     `json:"recipe"`
	Base     mix.Swatch `json:"base"`
	DeltaE00 float64    `json:"deltaE00"`
	Words    string     `json:"words"`
}

const staleBottle = "This was changed from another window since you opened it. It is shown as it stands now; enter yours again if it still fits."

// BottlePath names a material.
type BottlePath struct {
	UID string `path:"material" maxLength:"64" format:"uid"`
}

func bottleOf(m store.ShelfItem, shelf cup.Shelf, kit measure.Kit) Bottle {
	if now, ok := shelf[m.UID]; ok { // with what batches have taught of it, where that is accepted
		m.Material = m.Taught(now.Learned())
	}
	swatch, dose := mix.Usual(&m.Material, shelf)
	b := Bottle{
		ShelfItem: m, Swatch: swatch, Dose: dose, Ground: mix.BestGround(&m.Material).Name(), Hue: swatch.Lab.HueName(),
		HeatWords: m.Heat.Words(), Step: cup.NextStep(&m.Material, kit).String(), Runs: m.Runs(),
		StandsHeat: m.Stands(cup.UsualWorkC), Solid: m.Form() == measure.Solid, Colours: m.Colours(),
		StockLow: m.Stock.RunsLow(),
	}
	if mixed, _ := mix.Alone(&m.Material, shelf, m.Middling()); mixed != nil {
		b.SeeThrough = mixed.SeeThrough(mix.BodyMM, cup.Rested)
		if m.Powder != nil {
			tilted := mix.NewSwatch(mixed.Colour(mix.Condition{
				ThicknessMM: mix.BodyMM, Ground: mix.BestGround(&m.Material), Light: colour.D50, TiltDeg: 45,
			}))
			b.Tilted = &tilted
		}
	}
	b.Clarity = recipe.Clarity(&m.Material, shelf)
	return b
}

type bottleAnswer struct{ Body Bottle }

func (a *api) shelfRoutes() {
	get(a, "listMaterials", "/materials", a.listMaterials)
	get(a, "listFamilies", "/families", a.listFamilies)
	post(a, "addMaterial", "/materials", a.addMaterial)
	post(a, "addStarterRack", "/materials/starter", a.addStarterRack)
	post(a, "addCut", "/materials/cuts", a.addCut)
	get(a, "showMaterial", "/materials/{material}", a.showMaterial)
	patch(a, "changeMaterial", "/materials/{material}", a.changeMaterial)
	put(a, "setStock", "/materials/{material}/stock", a.setStock)
	post(a, "changeStock", "/materials/{material}/stock/changes", a.changeStock)
	get(a, "stockMoves", "/materials/{material}/stock/changes", a.stockMoves)
	post(a, "nextBottle", "/materials/{material}/next", a.nextBottle)
	put(a, "retireMaterial", "/materials/{material}/retired", a.retireMaterial)
	get(a, "compareMaterials", "/comparisons/materials", a.compareMaterials)
	a.chipRoutes()
	a.kitRoutes()
}

func (a *api) kitRoutes() {
	const staleKit = "Your measures were changed from another window since you opened them. They are shown as they stand now; enter yours again if it still fits."
	kitNow := func(ctx context.Context, err error) (*struct{ Body KitAnswer }, error) {
		if err != nil {
			return nil, problem(err, staleKit)
		}
		kit, revision, err := shopOf(ctx).Kit(ctx)
		return &struct{ Body KitAnswer }{KitAnswer{kit, revision}}, problem(err, "")
	}
	get(
		a, "showKit", "/kit",
		func(ctx context.Context, _ *struct{}) (*struct{ Body KitAnswer }, error) { return kitNow(ctx, nil) },
	)
	type setKit struct {
		Body struct {
			measure.Kit
			Seen int `json:"seen" doc:"The revision that was seen"`
		}
	}
	put(a, "setKit", "/kit", func(ctx context.Context, in *setKit) (*struct{ Body KitAnswer }, error) {
		if err := in.Body.Check(); err != nil {
			return nil, fieldProblem("kit", err.Error())
		}
		return kitNow(ctx, shopOf(ctx).SetKit(ctx, in.Body.Kit, in.Body.Seen))
	})
	type calibrate struct {
		Body struct {
			Seen     int     `json:"seen" doc:"The revision of the measures that was seen"`
			Name     string  `json:"name" maxLength:"40"`
			Material string  `json:"material" maxLength:"64" format:"uid" doc:"What was weighed on it"`
			Grams    float64 `json:"grams" minimum:"0" maximum:"10000"`
			Times    float64 `json:"times" minimum:"1" maximum:"1000" doc:"How many of them were weighed together"`
		}
	}
	post(a, "addMeasure", "/kit/measures", func(ctx context.Context, in *calibrate) (*struct{ Body KitAnswer }, error) {
		if _, done, err := shopOf(ctx).Done(ctx); done || err != nil {
			return kitNow(ctx, err)
		}
		shelf, kit, err := a.tools(ctx)
		if err != nil {
			return nil, problem(err, "")
		}
		m, ok := shelf[in.Body.Material]
		if !ok || m.Form() != measure.Solid {
			return nil, fieldProblem("material", "choose the powder, flake or salt that you weighed")
		}
		n, err := measure.Calibrate(in.Body.Name, in.Body.Grams, in.Body.Times, m.BulkGML(), m.Name)
		if err != nil {
			return nil, fieldProblem("name", err.Error())
		}
		kit.Named = append(kit.Named, n)
		if err := kit.Check(); err != nil {
			return nil, fieldProblem("name", err.Error())
		}
		return kitNow(ctx, shopOf(ctx).SetKit(ctx, kit, in.Body.Seen))
	})
	get(a, "weighMaterial", "/materials/{material}/weight", a.weighMaterial)
}

// tools are what most answers need: everything that recipes may name, and what it is measured with.
func (a *api) tools(ctx context.Context) (cup.Shelf, measure.Kit, error) {
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, measure.Kit{}, err
	}
	kit, _, err := shopOf(ctx).Kit(ctx)
	return shelf, kit, err
}

func (a *api) bottle(ctx context.Context, item store.ShelfItem, err error) (*bottleAnswer, error) {
	if err != nil {
		return nil, problem(err, staleBottle)
	}
	shelf, kit, err := a.tools(ctx)
	return &bottleAnswer{bottleOf(item, shelf, kit)}, problem(err, "")
}

func (a *api) page(ctx context.Context, item store.ShelfItem) (MaterialPage, error) {
	shelf, kit, err := a.tools(ctx)
	if err != nil {
		return MaterialPage{}, err
	}
	m := item.Material
	p := MaterialPage{
		Bottle: bottleOf(item, shelf, kit), Properties: m.Properties(), Faces: []Face{}, BestIn: []BestBase{},
	}
	if p.Properties == nil {
		p.Properties = []material.Property{}
	}
	if old, ok := shelf[m.Replaces]; ok {
		p.Replaced = old.Name
	}
	if p.UsedIn, err = shopOf(ctx).UsedIn(ctx, m.UID); err != nil {
		return p, err
	}
	mixed, _ := mix.Alone(&m, shelf, m.Middling())
	if mixed == nil {
		return p, fmt.Errorf("a usual dose of %s can't be stirred", m.UID)
	}
	if p.Wedge, err = drawWedge(mixed, mix.Condition{Light: colour.D65}); err != nil {
		return p, err
	}
	ground := mix.BestGround(&m)
	if p.CloseUp, err = drawCloseUp(
		mixed, mix.Condition{ThicknessMM: 4, Ground: ground, Light: colour.D65}, picture.PageCloseUp,
	); err != nil {
		return p, err
	}
	if m.Powder != nil {
		for _, tilt := range []float64{0, 20, 40, 60} {
			at := mix.Condition{ThicknessMM: mix.BodyMM, Ground: ground, Light: colour.D50, TiltDeg: tilt}
			p.Faces = append(p.Faces, Face{tiltName(tilt), mix.NewSwatch(mixed.Colour(at))})
		}
	}
	if f := m.Flake; f != nil && (f.Optics.Film != nil || f.Finish == material.Holographic) {
		for i := range material.HoloHues {
			face, name := f.Face(optics.InsidePlastic(float64(10*i))), tiltName(float64(10*i))
			if f.Finish == material.Holographic {
				face, name = f.Hue(i), "one of its hues"
			}
			p.Faces = append(p.Faces, Face{name, mix.NewSwatch(colour.D65.Lab(&face))})
		}
	}
	if m.Flake != nil {
		p.BestIn, err = a.bestBases(ctx, &m, shelf)
	}
	return p, err
}

func tiltName(deg float64) string {
	if deg == 0 {
		return "face-on"
	}
	return fmt.Sprintf("tilted %.0f°", deg)
}

// The best so many of the latest so many.
const (
	bestShown  = 5
	basesTried = 60
)

// bestBases are the shop's recipes in which a flake stands out most.
func (a *api) bestBases(ctx context.Context, flake *material.Material, shelf cup.Shelf) ([]BestBase, error) {
	list, err := shopOf(ctx).Recipes(ctx, "", store.Page{Most: basesTried})
	if err != nil {
		return nil, err
	}
	var cups []recipe.NamedCup
	for _, r := range list.Items {
		cups = append(cups, recipe.NamedCup{Name: r.Name, Cup: r.Cup})
	}
	out := []BestBase{}
	for _, b := range recipe.BestBases(flake, cups, shelf, bestShown) {
		out = append(out, BestBase{b.Name, b.Base, b.DeltaE00, b.Words})
	}
	return out, nil
}

func (a *api) listMaterials(ctx context.Context, _ *struct{}) (*struct {
	Body []Bottle `nullable:"false"`
}, error,
) {
	list, err := shopOf(ctx).AllMaterials(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, kit, err := a.tools(ctx)
	out := []Bottle{}
	for _, m := range list {
		out = append(out, bottleOf(m, shelf, kit))
	}
	return &struct {
		Body []Bottle `nullable:"false"`
	}{out}, problem(err, "")
}

func (a *api) listFamilies(context.Context, *struct{}) (*struct {
	Body []material.Family `nullable:"false"`
}, error,
) {
	return &struct {
		Body []material.Family `nullable:"false"`
	}{material.Families()}, nil
}

type addMaterialIn struct {
	Body struct {
		Family string `json:"family" maxLength:"80"`
		Name   string `json:"name" maxLength:"200" doc:"The maker's own name for it"`
		Size   string `json:"size,omitempty" maxLength:"40" doc:"Flake: its size as typed, such as .015"`
		Shape  string `json:"shape,omitempty" enum:"hex,square,irregular"`
	}
}

func (a *api) addMaterial(ctx context.Context, in *addMaterialIn) (*bottleAnswer, error) {
	family, ok := material.FindFamily(in.Body.Family)
	if !ok {
		return nil, fieldProblem("family", "choose one of the families that are offered")
	}
	if err := cup.CheckName(in.Body.Name); err != nil {
		return nil, problem(err, "")
	}
	m, err := family.Sized(in.Body.Name, in.Body.Size, in.Body.Shape)
	if err != nil {
		return nil, problem(err, "")
	}
	item, err := shopOf(ctx).AddMaterial(ctx, m)
	return a.bottle(ctx, item, err)
}

func (a *api) addStarterRack(ctx context.Context, _ *struct{}) (*struct{}, error) {
	return nil, problem(shopOf(ctx).AddStarter(ctx, material.Starter()), "")
}

type addCutIn struct {
	Body struct {
		Name  string          `json:"name" maxLength:"200"`
		Parts []material.Part `json:"parts" nullable:"false" maxItems:"8" doc:"Bottles with their parts, in any measure"`
		Clear float64         `json:"clear" minimum:"0" maximum:"1000" doc:"Parts of clear"`
	}
}

func (a *api) addCut(ctx context.Context, in *addCutIn) (*bottleAnswer, error) {
	if err := cup.CheckName(in.Body.Name); err != nil {
		return nil, problem(err, "")
	}
	shelf, _, err := a.tools(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	m, err := recipe.Premix("new", strings.TrimSpace(in.Body.Name), in.Body.Parts, in.Body.Clear, shelf)
	if err != nil {
		return nil, problem(err, "")
	}
	m.UID = ""
	item, err := shopOf(ctx).AddMaterial(ctx, m)
	return a.bottle(ctx, item, err)
}

func (a *api) showMaterial(ctx context.Context, in *BottlePath) (*struct{ Body MaterialPage }, error) {
	item, err := shopOf(ctx).Item(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	page, err := a.page(ctx, item)
	return &struct{ Body MaterialPage }{page}, problem(err, "")
}

type changeMaterialIn struct {
	BottlePath
	Body struct {
		Seen   int     `json:"seen" doc:"The revision that was seen"`
		Key    string  `json:"key" maxLength:"40" doc:"name, note, runs (yes or no), heat, strength, drops, or the key of a property"`
		Typed  string  `json:"typed" maxLength:"2000"`
		Origin string  `json:"origin,omitempty" enum:"typical,maker,measured,none,survived"`
		Count  float64 `json:"count,omitempty" minimum:"0" maximum:"1000" doc:"Drops counted, or heats survived"`
	}
}

func (a *api) changeMaterial(ctx context.Context, in *changeMaterialIn) (*bottleAnswer, error) {
	item, err := shopOf(ctx).Item(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	origin := cmp.Or(material.Origin(in.Body.Origin), material.Measured)
	m, err := item.Material.Typed(in.Body.Key, in.Body.Typed, origin, in.Body.Count)
	if err != nil {
		return nil, problem(err, "")
	}
	item, err = shopOf(ctx).ChangeMaterial(ctx, m, in.Body.Seen)
	return a.bottle(ctx, item, err)
}

type setStockIn struct {
	BottlePath
	Body struct {
		Seen    int    `json:"seen"`
		Left    string `json:"left" maxLength:"40" doc:"As typed: 2 fl oz, 30 g, 1/4 cup"`
		Bought  string `json:"bought" maxLength:"40"`
		Price   string `json:"price,omitempty" maxLength:"40" doc:"As typed: 9.50, or 9,50"`
		Reorder string `json:"reorder" maxLength:"40"`
	}
}

func (a *api) setStock(ctx context.Context, in *setStockIn) (*bottleAnswer, error) {
	item, err := shopOf(ctx).Item(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	price, err := material.ParsePrice(in.Body.Price)
	if err != nil {
		return nil, problem(err, "")
	}
	s, err := item.Stocked(material.Stock{
		Typed: in.Body.Left, Bought: in.Body.Bought, Price: price, Reorder: in.Body.Reorder,
	})
	if err != nil {
		return nil, problem(err, "")
	}
	item, err = shopOf(ctx).SetStock(ctx, in.UID, in.Body.Seen, s)
	return a.bottle(ctx, item, err)
}

type changeStockIn struct {
	BottlePath
	Body struct {
		Seen int `json:"seen"`
		material.Change
		Price string `json:"price,omitempty" maxLength:"40" doc:"Of what was bought, as typed; as before where empty"`
	}
}

// changeStock takes up what was bought, counted or weighed.
func (a *api) changeStock(ctx context.Context, in *changeStockIn) (*bottleAnswer, error) {
	price := -1.0
	if strings.TrimSpace(in.Body.Price) != "" {
		var err error
		if price, err = material.ParsePrice(in.Body.Price); err != nil {
			return nil, problem(err, "")
		}
	}
	item, err := shopOf(ctx).ChangeStock(ctx, in.UID, in.Body.Seen, in.Body.Change, price)
	return a.bottle(ctx, item, err)
}

func (a *api) stockMoves(ctx context.Context, in *BottlePath) (*struct {
	Body struct {
		Unit  string            `json:"unit" enum:"ml,g"`
		Moves []store.StockMove `json:"moves" nullable:"false"`
	}
}, error,
) {
	out := &struct {
		Body struct {
			Unit  string            `json:"unit" enum:"ml,g"`
			Moves []store.StockMove `json:"moves" nullable:"false"`
		}
	}{}
	item, err := shopOf(ctx).Item(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	if out.Body.Unit = "g"; item.Form() == measure.Liquid {
		out.Body.Unit = "ml"
	}
	out.Body.Moves, err = shopOf(ctx).StockMoves(ctx, in.UID)
	return out, problem(err, "")
}

type nextBottleIn struct {
	BottlePath
	Body struct {
		Seen    int  `json:"seen"`
		Retired bool `json:"retired,omitempty"`
	}
}

func (a *api) nextBottle(ctx context.Context, in *nextBottleIn) (*bottleAnswer, error) {
	item, err := shopOf(ctx).NextBottle(ctx, in.UID, in.Body.Seen)
	return a.bottle(ctx, item, err)
}

func (a *api) retireMaterial(ctx context.Context, in *nextBottleIn) (*bottleAnswer, error) {
	item, err := shopOf(ctx).Retire(ctx, in.UID, in.Body.Seen, in.Body.Retired)
	return a.bottle(ctx, item, err)
}

func (a *api) compareMaterials(ctx context.Context, in *struct {
	One   string `query:"one" maxLength:"64" format:"uid" required:"true"`
	Other string `query:"other" maxLength:"64" format:"uid" required:"true"`
},
) (*struct{ Body recipe.Beside }, error) {
	shelf, _, err := a.tools(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	b, err := recipe.SideBySide(in.One, in.Other, shelf)
	return &struct{ Body recipe.Beside }{b}, problem(err, "")
}

func (a *api) weighMaterial(ctx context.Context, in *BottlePath) (*struct {
	Body struct {
		Grams float64 `json:"grams"`
		About string  `json:"about"`
	}
}, error,
) {
	out := &struct {
		Body struct {
			Grams float64 `json:"grams"`
			About string  `json:"about"`
		}
	}{}
	if a.tooled.Scale == nil {
		return nil, huma.Error404NotFound("No scale is connected. Count the drops, or type what went in.")
	}
	if _, err := shopOf(ctx).Item(ctx, in.UID); err != nil {
		return nil, problem(err, "")
	}
	out.Body.Grams, out.Body.About = a.tooled.Scale.Weigh(in.UID), a.tooled.Scale.About()
	return out, nil
}
