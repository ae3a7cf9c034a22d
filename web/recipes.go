package web

import (
	"bytes"
	"context"
	"fmt"
	"net/http"
	"regexp"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"cloudburst/core/measure"
	"cloudburst/core/recipe"
	"cloudburst/format"
	"cloudburst/store"
)

// RecipeCard is a saved recipe with its colour.
type RecipeCard struct {
	store.SavedRecipe
	Look recipe.Look `json:"look" doc:"As its target was read, or 4 mm over white"`
}

const staleRecipe = "This recipe was saved from another window since you opened it. Keep both: save yours beside it under a name of its own. Or open theirs from the recipes."

// RecipePath names a recipe.
type RecipePath struct {
	UID string `path:"recipe" maxLength:"64"`
}

// SaveInput is what a save sends: the cup on the bench that it is made from.
type SaveInput struct {
	Cup   string `json:"cup" maxLength:"64" doc:"uid of the cup on the bench"`
	Name  string `json:"name" maxLength:"200"`
	Notes string `json:"notes,omitempty" maxLength:"4000"`
}

func (a *api) recipeRoutes() {
	huma.Get(a.huma, "/recipes", func(ctx context.Context, _ *struct{}) (*struct {
		Body []RecipeCard `nullable:"false"`
	}, error,
	) {
		list, err := a.shop.Recipes(ctx)
		if err != nil {
			return nil, problem(err, "")
		}
		out := &struct {
			Body []RecipeCard `nullable:"false"`
		}{[]RecipeCard{}}
		shelf, err := a.shop.Shelf(ctx)
		for _, r := range list {
			card, err := cardOf(r, shelf)
			if err != nil {
				return nil, problem(err, "")
			}
			out.Body = append(out.Body, card)
		}
		return out, problem(err, "")
	})
	huma.Get(a.huma, "/recipes/{recipe}", func(ctx context.Context, in *RecipePath) (*struct{ Body RecipeCard }, error) {
		r, err := a.shop.Recipe(ctx, in.UID)
		return a.card(ctx, r, err)
	})

	huma.Post(a.huma, "/recipes", func(ctx context.Context, in *struct{ Body SaveInput }) (*struct{ Body RecipeCard }, error) {
		return a.save(ctx, in.Body, "", 0)
	})
	type resave struct {
		RecipePath
		Body struct {
			SaveInput
			Revision int `json:"revision" doc:"The revision that the cup was poured from"`
		}
	}
	huma.Put(a.huma, "/recipes/{recipe}", func(ctx context.Context, in *resave) (*struct{ Body RecipeCard }, error) {
		return a.save(ctx, in.Body.SaveInput, in.UID, in.Body.Revision)
	})

	type scale struct {
		RecipePath
		ViewQuery
		Volume string `query:"volume" required:"true" maxLength:"200" doc:"As typed"`
	}
	huma.Get(a.huma, "/recipes/{recipe}/scale", func(ctx context.Context, in *scale) (*struct{ Body recipe.Scaled }, error) {
		r, err := a.shop.Recipe(ctx, in.UID)
		if err != nil {
			return nil, problem(err, "")
		}
		shelf, err := a.shop.Shelf(ctx)
		if err != nil {
			return nil, problem(err, "")
		}
		to, err := measure.ParseVolume(in.Volume)
		if err != nil {
			return nil, fieldProblem("volume", err.Error())
		}
		s, err := recipe.Scale(&r.Cup, shelf, to, in.at(&r.Cup))
		if err != nil {
			return nil, problem(err, "")
		}
		return &struct{ Body recipe.Scaled }{*s}, nil
	})

	huma.Register(a.huma, huma.Operation{
		OperationID: "export-recipe", Method: http.MethodGet, Path: "/recipes/{recipe}/export",
		Summary: "The recipe with its materials as one file", Responses: map[string]*huma.Response{"200": {Content: map[string]*huma.MediaType{"application/json": {}}}},
	}, func(ctx context.Context, in *RecipePath) (*fileAnswer, error) {
		r, err := a.shop.Recipe(ctx, in.UID)
		if err != nil {
			return nil, problem(err, "")
		}
		shelf, err := a.shop.Shelf(ctx)
		if err != nil {
			return nil, problem(err, "")
		}
		doc, err := format.NewDocument(r.Recipe, shelf)
		if err != nil {
			return nil, problem(err, "")
		}
		var b bytes.Buffer
		err = doc.Write(&b)
		return &fileAnswer{"application/json", fmt.Sprintf("attachment; filename=%q", fileName(r.Name)), b.Bytes()}, problem(err, "")
	})
	huma.Register(a.huma, huma.Operation{
		OperationID: "import-recipe", Method: http.MethodPost, Path: "/recipes/import", MaxBodyBytes: format.MaxRecipeBytes + 1024,
		Summary: "Keep a recipe file",
	}, func(ctx context.Context, in *struct {
		RawBody []byte `contentType:"application/octet-stream"`
	},
	) (*struct{ Body store.Imported }, error) {
		doc, err := format.ReadRecipe(bytes.NewReader(in.RawBody))
		if err != nil {
			return nil, fieldProblem("file", err.Error())
		}
		got, err := a.shop.Import(ctx, doc)
		return &struct{ Body store.Imported }{got}, problem(err, "")
	})
}

type fileAnswer struct {
	ContentType        string `header:"Content-Type"`
	ContentDisposition string `header:"Content-Disposition"`
	Body               []byte
}

var notInFileNames = regexp.MustCompile(`[^a-z0-9]+`)

func fileName(name string) string {
	plain := strings.Trim(notInFileNames.ReplaceAllString(strings.ToLower(name), "-"), "-")
	if plain == "" {
		plain = "recipe"
	}
	return plain + ".cloudburst.json"
}

func (a *api) save(ctx context.Context, in SaveInput, uid string, base int) (*struct{ Body RecipeCard }, error) {
	cup, err := a.shop.Cup(ctx, in.Cup)
	if err != nil {
		return nil, problem(err, "")
	}
	r := recipe.Recipe{UID: uid, Name: strings.TrimSpace(in.Name), Notes: in.Notes, Cup: cup.Cup}
	if err := recipe.CheckName(r.Name); err != nil {
		return nil, problem(err, "")
	}
	saved, err := a.shop.SaveRecipe(ctx, r, base)
	if err == nil {
		err = a.shop.Bind(ctx, in.Cup, saved)
	}
	return a.card(ctx, saved, err)
}

func (a *api) card(ctx context.Context, r store.SavedRecipe, err error) (*struct{ Body RecipeCard }, error) {
	if err != nil {
		return nil, problem(err, staleRecipe)
	}
	shelf, err := a.shop.Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	card, err := cardOf(r, shelf)
	return &struct{ Body RecipeCard }{card}, problem(err, "")
}

func cardOf(r store.SavedRecipe, shelf recipe.Shelf) (RecipeCard, error) {
	mix, err := recipe.Stir(&r.Cup, shelf)
	if err != nil {
		return RecipeCard{}, err
	}
	look, err := recipe.LookAt(&r.Cup, mix, shelf, ViewQuery{}.at(&r.Cup))
	return RecipeCard{r, look}, err
}
