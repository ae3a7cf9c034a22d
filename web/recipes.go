package web

import (
	"bytes"
	"context"
	"fmt"
	"net/http"
	"regexp"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/recipe"
	"cloudburst/format"
	"cloudburst/store"
)

// RecipeCard is a saved recipe with its colour.
type RecipeCard struct {
	store.SavedRecipe
	Look mix.Look `json:"look" doc:"As its target was read, or 4 mm over white"`
}

// RecipeItem is a recipe in a list.
type RecipeItem struct {
	store.SavedRecipe
	Seen     store.Seen `json:"seen"`
	DeltaE00 *float64   `json:"deltaE00,omitempty" doc:"How far it is from the colour that is sought"`
}

func (a *api) recipeList(ctx context.Context, find, near string, page store.Page) (store.Listed[RecipeItem], error) {
	out := store.Listed[RecipeItem]{}
	var list []store.SavedRecipe
	var nearest []store.NearRecipe
	if near != "" {
		wanted, err := colour.ParseHex(near)
		if err != nil {
			return out, &measure.Fault{Field: "near", Says: err.Error()}
		}
		found, err := dear(ctx, a.budget, func(ctx context.Context) (store.Listed[store.NearRecipe], error) {
			return shopOf(ctx).RecipesNear(ctx, wanted, find, page)
		})
		if err != nil {
			return out, err
		}
		nearest, out.Next = found.Items, found.Next
		var uids []string
		for _, n := range nearest {
			uids = append(uids, n.UID)
		}
		if list, err = shopOf(ctx).RecipesNamed(ctx, uids); err != nil {
			return out, err
		}
	} else {
		found, err := shopOf(ctx).Recipes(ctx, find, page)
		if err != nil {
			return out, err
		}
		list, out.Next = found.Items, found.Next
	}
	seen, err := shopOf(ctx).SeenOf(ctx, list)
	out.Items = make([]RecipeItem, len(list))
	for i := range list {
		if err != nil {
			return out, err
		}
		out.Items[i] = RecipeItem{SavedRecipe: list[i], Seen: seen[i]}
		if i < len(nearest) {
			out.Items[i].DeltaE00 = &nearest[i].DeltaE00
		}
	}
	return out, err
}

// VersionCard is one version with what changed in it.
type VersionCard struct {
	RecipeCard
	Changed []string `json:"changed" nullable:"false" doc:"Since the version before"`
}

// RecipesBeside are two recipes, or two versions of one, side by side.
type RecipesBeside struct {
	One        BesideRecipe      `json:"one"`
	Other      BesideRecipe      `json:"other"`
	Changed    []string          `json:"changed" nullable:"false" doc:"From the first to the other"`
	Difference colour.Difference `json:"difference" doc:"How the other leans from the first"`
}

// BesideRecipe is one of the two.
type BesideRecipe struct {
	store.SavedRecipe
	Swatch mix.Swatch   `json:"swatch"`
	Wedge  WedgePicture `json:"wedge"`
}

const staleRecipe = "This recipe was saved from another window since you opened it. Keep both: save yours beside it under a name of its own. Or open theirs from the recipes."

// RecipePath names a recipe.
type RecipePath struct {
	UID string `path:"recipe" maxLength:"64" format:"uid"`
}

// SaveInput is what a save sends: the cup on the bench that it is made from.
type SaveInput struct {
	Cup   string `json:"cup" maxLength:"64" format:"uid" doc:"uid of the cup on the bench"`
	Name  string `json:"name" maxLength:"200"`
	Notes string `json:"notes,omitempty" maxLength:"4000"`
	Note  string `json:"note,omitempty" maxLength:"400" doc:"Why this version"`
}

func (a *api) recipeRoutes() {
	get(a, "listRecipes", "/recipes", a.listRecipes)
	get(a, "recipeVersions", "/recipes/{recipe}/versions", a.recipeVersions)
	get(a, "compareRecipes", "/comparisons/recipes", a.compareRecipes)
	post(a, "forkRecipe", "/recipes/{recipe}/fork", a.forkRecipe)
	patch(a, "describeRecipe", "/recipes/{recipe}", a.describeRecipe)
	get(a, "showRecipe", "/recipes/{recipe}", a.showRecipe)
	post(a, "saveRecipe", "/recipes", a.saveRecipe)
	put(a, "saveRecipeVersion", "/recipes/{recipe}", a.saveRecipeVersion)
	file(a, "recipePicture", "/recipes/{recipe}/picture", "image/png", "A usual bait of a recipe", a.showRecipePicture)
	get(a, "scaleRecipe", "/recipes/{recipe}/scale", a.scaleRecipe)
	file(
		a, "exportRecipe", "/recipes/{recipe}/export", "application/json", "The recipe with its materials as one file",
		a.exportRecipe,
	)
	huma.Register(a.huma, huma.Operation{
		OperationID: "importRecipe", Method: http.MethodPost, Path: "/recipes/import", MaxBodyBytes: format.MaxRecipeBytes +
			1024,
		Summary: "Keep a recipe file",
	}, a.importRecipe)
}

type fileAnswer struct {
	ContentType        string `header:"Content-Type"`
	ContentDisposition string `header:"Content-Disposition"`
	Body               []byte
}

var notInFileNames = regexp.MustCompile(`[^a-z0-9]+`)

// plainName is a name as a file can have it.
func plainName(name string) string {
	if plain := strings.Trim(notInFileNames.ReplaceAllString(strings.ToLower(name), "-"), "-"); plain != "" {
		return plain
	}
	return "recipe"
}

func (a *api) save(ctx context.Context, in SaveInput, uid string, base int) (*struct{ Body RecipeCard }, error) {
	c, err := shopOf(ctx).Cup(ctx, in.Cup)
	if err != nil {
		return nil, problem(err, "")
	}
	var was *recipe.Recipe
	if uid != "" {
		old, err := shopOf(ctx).Recipe(ctx, uid)
		if err != nil {
			return nil, problem(err, "")
		}
		was = &old.Recipe
	}
	r := recipe.Of(c.Cup.Cup, in.Name, in.Notes, was, c.RecipeUID)
	if err := cup.CheckName(r.Name); err != nil {
		return nil, problem(err, "")
	}
	saved, err := shopOf(ctx).SaveRecipe(ctx, r, base, strings.TrimSpace(in.Note), in.Cup)
	return a.card(ctx, saved, err)
}

func (a *api) card(ctx context.Context, r store.SavedRecipe, err error) (*struct{ Body RecipeCard }, error) {
	if err != nil {
		return nil, problem(err, staleRecipe)
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	card, err := cardOf(r, shelf)
	return &struct{ Body RecipeCard }{card}, problem(err, "")
}

func cardOf(r store.SavedRecipe, shelf cup.Shelf) (RecipeCard, error) {
	m, err := mix.Stir(&r.Cup, shelf)
	if err != nil {
		return RecipeCard{}, err
	}
	look, err := mix.LookAt(&r.Cup, m, shelf, ViewQuery{}.at(&r.Cup))
	look.Watch = append(look.Watch, usualMold.Watch(m, shelf)...)
	return RecipeCard{SavedRecipe: r, Look: look}, err
}

func (a *api) listRecipes(ctx context.Context, in *struct {
	Find string `query:"find" maxLength:"200" doc:"In names, notes, tags, credits and the names of what is in them"`
	Near string `query:"near" pattern:"^(#[0-9a-fA-F]{6})?$" doc:"A colour to be near to at 5 mm over white, as #rrggbb"`
	PageQuery
},
) (*struct{ Body store.Listed[RecipeItem] }, error,
) {
	out, err := a.recipeList(ctx, in.Find, in.Near, in.page())
	return &struct{ Body store.Listed[RecipeItem] }{out}, problem(err, "")
}

func (a *api) recipeVersions(ctx context.Context, in *RecipePath) (*struct {
	Body []VersionCard `nullable:"false"`
}, error,
) {
	list, err := shopOf(ctx).Versions(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	out := []VersionCard{}
	for i, r := range list {
		card, err := cardOf(r, shelf)
		if err != nil {
			return nil, problem(err, "")
		}
		v := VersionCard{RecipeCard: card, Changed: []string{}}
		if i+1 < len(list) {
			v.Changed = cup.Changed(&list[i+1].Cup, &r.Cup, shelf)
		}
		out = append(out, v)
	}
	return &struct {
		Body []VersionCard `nullable:"false"`
	}{out}, nil
}

type compareRecipesIn struct {
	One     string `query:"one" maxLength:"64" format:"uid" required:"true"`
	OneAt   int    `query:"oneAt" doc:"revision; 0 for the newest"`
	Other   string `query:"other" maxLength:"64" format:"uid" required:"true"`
	OtherAt int    `query:"otherAt"`
	ViewQuery
}

func (a *api) compareRecipes(ctx context.Context, in *compareRecipesIn) (*struct{ Body RecipesBeside }, error) {
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	var out RecipesBeside
	var labs [2]colour.Lab
	for i, side := range []struct {
		uid string
		at  int
		to  *BesideRecipe
	}{{in.One, in.OneAt, &out.One}, {in.Other, in.OtherAt, &out.Other}} {
		r, err := shopOf(ctx).Recipe(ctx, side.uid)
		if err == nil && side.at > 0 {
			r, err = shopOf(ctx).RecipeAt(ctx, side.uid, side.at)
		}
		if err != nil {
			return nil, problem(err, "")
		}
		m, err := mix.Stir(&r.Cup, shelf)
		if err != nil {
			return nil, problem(err, "")
		}
		at := in.at(&cup.Cup{})
		side.to.SavedRecipe = r
		labs[i] = m.Colour(at)
		side.to.Swatch = mix.NewSwatch(labs[i])
		if side.to.Wedge, err = drawWedge(m, at); err != nil {
			return nil, problem(err, "")
		}
	}
	out.Changed = cup.Changed(&out.One.Cup, &out.Other.Cup, shelf)
	out.Difference = colour.Compare(labs[1], labs[0])
	return &struct{ Body RecipesBeside }{out}, nil
}

type forkRecipeIn struct {
	RecipePath
	Body struct {
		Name string `json:"name" maxLength:"200"`
	}
}

func (a *api) forkRecipe(ctx context.Context, in *forkRecipeIn) (*struct{ Body RecipeCard }, error) {
	r, err := shopOf(ctx).Recipe(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	mine := r.Fork(in.Body.Name)
	if err := cup.CheckName(mine.Name); err != nil {
		return nil, problem(err, "")
	}
	saved, err := shopOf(ctx).SaveRecipe(ctx, mine, 0, "from "+r.Name, "")
	return a.card(ctx, saved, err)
}

type describeRecipeIn struct {
	RecipePath
	Body struct {
		Seen   int      `json:"seen" doc:"The revision that was seen"`
		Name   string   `json:"name" maxLength:"200"`
		Notes  string   `json:"notes" maxLength:"4000"`
		Tags   []string `json:"tags" nullable:"false" maxItems:"20"`
		Credit string   `json:"credit" maxLength:"120"`
		OwnUse bool     `json:"ownUse"`
	}
}

func (a *api) describeRecipe(ctx context.Context, in *describeRecipeIn) (*struct{ Body RecipeCard }, error) {
	r, err := shopOf(ctx).Recipe(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	b := in.Body
	mine := r.Tagged(b.Tags)
	mine.Name, mine.Notes, mine.Credit, mine.OwnUse = strings.TrimSpace(b.Name), b.Notes, strings.TrimSpace(b.Credit), b.OwnUse
	if err := cup.CheckName(mine.Name); err != nil {
		return nil, problem(err, "")
	}
	saved, err := shopOf(ctx).SaveRecipe(ctx, mine, b.Seen, "", "")
	return a.card(ctx, saved, err)
}

func (a *api) showRecipe(ctx context.Context, in *RecipePath) (*struct{ Body RecipeCard }, error) {
	r, err := shopOf(ctx).Recipe(ctx, in.UID)
	return a.card(ctx, r, err)
}

func (a *api) saveRecipe(ctx context.Context, in *struct{ Body SaveInput }) (*struct{ Body RecipeCard }, error) {
	return a.save(ctx, in.Body, "", 0)
}

type saveRecipeVersionIn struct {
	RecipePath
	Body struct {
		SaveInput
		Seen int `json:"seen" doc:"The revision that the cup was poured from"`
	}
}

func (a *api) saveRecipeVersion(ctx context.Context, in *saveRecipeVersionIn) (*struct{ Body RecipeCard }, error) {
	return a.save(ctx, in.Body.SaveInput, in.UID, in.Body.Seen)
}

type scaleRecipeIn struct {
	RecipePath
	ViewQuery
	Volume string `query:"volume" required:"true" maxLength:"200" doc:"As typed"`
}

func (a *api) scaleRecipe(ctx context.Context, in *scaleRecipeIn) (*struct{ Body recipe.Scaled }, error) {
	r, err := shopOf(ctx).Recipe(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	to, err := measure.ParseVolume(in.Volume)
	if err != nil {
		return nil, fieldProblem("volume", err.Error())
	}
	kit, _, err := shopOf(ctx).Kit(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	s, err := recipe.Scale(&r.Cup, shelf, kit, to, in.at(&r.Cup))
	if err != nil {
		return nil, problem(err, "")
	}
	return &struct{ Body recipe.Scaled }{*s}, nil
}

type recipePictureIn struct {
	RecipePath
	Revision int `query:"revision" minimum:"0" doc:"A version; 0 for the newest"`
}

func (a *api) showRecipePicture(ctx context.Context, in *recipePictureIn) (*pngAnswer, error) {
	r, err := shopOf(ctx).Recipe(ctx, in.UID)
	if err == nil && in.Revision > 0 {
		r, err = shopOf(ctx).RecipeAt(ctx, in.UID, in.Revision)
	}
	if err != nil {
		return nil, problem(err, "")
	}
	raw, err := a.recipePicture(ctx, &r)
	return &pngAnswer{"image/png", raw}, problem(err, "")
}

func (a *api) exportRecipe(ctx context.Context, in *RecipePath) (*fileAnswer, error) {
	r, err := shopOf(ctx).Recipe(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	doc, err := format.NewDocument(r.Recipe, shelf)
	if err != nil {
		return nil, problem(err, "")
	}
	var b bytes.Buffer
	err = doc.Write(&b)
	return &fileAnswer{
		"application/json", fmt.Sprintf("attachment; filename=%q", plainName(r.Name)+".cloudburst.json"), b.Bytes(),
	}, problem(err, "")
}

func (a *api) importRecipe(ctx context.Context, in *struct {
	RawBody []byte `contentType:"application/octet-stream"`
},
) (*struct{ Body store.Imported }, error) {
	doc, err := format.ReadRecipe(bytes.NewReader(in.RawBody))
	if err != nil {
		return nil, fieldProblem("file", err.Error())
	}
	got, err := shopOf(ctx).Import(ctx, doc)
	return &struct{ Body store.Imported }{got}, problem(err, "")
}
