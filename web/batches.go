package web

import (
	"context"
	"fmt"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/recipe"
	"cloudburst/store"
)

// BatchCard is a test batch with its sums.
type BatchCard struct {
	store.SavedBatch
	Read   []ReadCard        `json:"read" nullable:"false" doc:"Its readings beside what is predicted"`
	Rested string            `json:"rested" doc:"How long it had rested, in words"`
	Sum    []cup.Dose        `json:"sum" nullable:"false" doc:"All goes together"`
	Drift  colour.Difference `json:"drift" doc:"How far what really went in is predicted to lie from the recipe"`
}

// ReadCard is a reading of a batch beside what is predicted of it, with the bottles as they were known when it was written down.
type ReadCard struct {
	UID       string            `json:"uid"`
	Name      string            `json:"name"`
	Where     string            `json:"where" doc:"How thick it was, what lay behind it and how it was read, in words"`
	Is        mix.Swatch        `json:"is"`
	Predicted mix.Swatch        `json:"predicted"`
	Differs   colour.Difference `json:"differs" doc:"How the reading lies to what was predicted"`
}

func readCards(b *store.SavedBatch, is *mix.Mix) []ReadCard {
	out := []ReadCard{}
	for _, r := range b.Readings {
		predicted := is.Colour(r.At())
		out = append(out, ReadCard{
			UID: r.UID, Name: r.Name, Where: fmt.Sprintf("%s mm %s, %s", measure.Number(r.ThicknessMM, 1), r.Ground.Name(), r.How.Name()),
			Is: mix.NewSwatch(r.Lab), Predicted: mix.NewSwatch(predicted), Differs: colour.Compare(r.Lab, predicted),
		})
	}
	return out
}

func (a *api) batchRoutes() {
	get(a, "listBatches", "/batches", a.listBatches)
	post(a, "recordBatch", "/batches", a.recordBatch)
	post(a, "addReading", "/batches/{batch}/readings", a.addReading)
	remove(a, "removeReading", "/batches/{batch}/readings/{reading}", a.removeReading)
	get(a, "showLearned", "/materials/{material}/learned", a.showLearned)
	huma.Register(a.huma, huma.Operation{
		OperationID: "previewBatch", Method: http.MethodPost, Path: "/batches/preview",
		Summary: "The same checks and sums; nothing is stored", Metadata: map[string]any{"asks": true},
	}, a.previewBatch)
}

// BatchInput is a test batch as it is typed.
type BatchInput struct {
	Recipe   string    `json:"recipe" maxLength:"64" format:"uid"`
	Revision int       `json:"revision"`
	PouredOn string    `json:"pouredOn" maxLength:"40" doc:"YYYY-MM-DD"`
	Volume   string    `json:"volume" maxLength:"200" doc:"As typed"`
	Goes     []GoInput `json:"goes" nullable:"false" maxItems:"30"`
	Verdict  string    `json:"verdict" maxLength:"4000"`
	Rested   string    `json:"rested" maxLength:"40" doc:"How long it had rested when it was judged, as typed: 24 h, 3 days"`
	Photo    string    `json:"photo,omitempty" maxLength:"64" format:"uid"`
}

// GoInput is one go of drops as it is typed.
type GoInput struct {
	Doses []cup.Typed `json:"doses" nullable:"false" maxItems:"60"`
}

type batchAnswer struct{ Body BatchCard }

// batchOf reads a batch as typed and checks it against its recipe and the shelf.
func (a *api) batchOf(ctx context.Context, in *BatchInput) (recipe.Batch, error) {
	b := recipe.Batch{PouredOn: in.PouredOn, Goes: []cup.Addition{}, Verdict: in.Verdict, Photo: in.Photo}
	var err error
	if b.Volume, err = measure.ParseVolume(in.Volume); err != nil {
		return b, &measure.Fault{Field: "volume", Says: err.Error()}
	}
	if b.RestedHours, err = measure.ParseRest(in.Rested); err != nil {
		return b, &measure.Fault{Field: "rested", Says: err.Error()}
	}
	shelf, err := a.shop.Shelf(ctx)
	if err != nil {
		return b, err
	}
	kit, _, err := a.shop.Kit(ctx)
	if err != nil {
		return b, err
	}
	rounds := make([][]cup.Typed, len(in.Goes))
	for i, g := range in.Goes {
		rounds[i] = g.Doses
	}
	if b.Goes, err = cup.ReadAdditions(rounds, b.Volume.ML, shelf, kit); err != nil {
		return b, err
	}
	if b.Photo != "" {
		if err := a.shop.HasPhoto(ctx, b.Photo); err != nil {
			return b, err
		}
	}
	r, err := a.shop.RecipeAt(ctx, in.Recipe, in.Revision)
	if err != nil {
		return b, err
	}
	return b, b.Check(r.Plastisol, shelf)
}

func (a *api) batchAnswer(ctx context.Context, b store.SavedBatch, err error) (*batchAnswer, error) {
	if err != nil {
		return nil, problem(err, "")
	}
	cards, err := a.batchCards(ctx, []store.SavedBatch{b})
	if err != nil {
		return nil, problem(err, "")
	}
	return &batchAnswer{cards[0]}, nil
}

func (a *api) batchCards(ctx context.Context, list []store.SavedBatch) ([]BatchCard, error) {
	out := []BatchCard{}
	shelves, err := a.shop.Shelves(ctx)
	if err != nil {
		return nil, err
	}
	recipes, err := a.shop.RecipesOf(ctx, list)
	if err != nil {
		return nil, err
	}
	for _, b := range list {
		recorded := b.RecordedAt
		if recorded.IsZero() { // a preview
			recorded = time.Now()
		}
		shelf := shelves.At(recorded) // what was known of the bottles when it was written down
		card := BatchCard{SavedBatch: b, Rested: measure.Rest(b.RestedHours)}
		if card.Sum = cup.Sum(b.Goes, shelf); card.Sum == nil {
			card.Sum = []cup.Dose{}
		}
		r := recipes[b.UID]
		is := b.Cup(r.Plastisol, shelf)
		mixed, err := mix.Stir(&is, shelf)
		if err != nil {
			return nil, err
		}
		card.Read = readCards(&card.SavedBatch, mixed)
		if card.Drift, err = recipe.Drift(&is, &r.Cup, shelf, ViewQuery{}.at(&r.Cup)); err != nil {
			return nil, err
		}
		out = append(out, card)
	}
	return out, nil
}

func (a *api) listBatches(ctx context.Context, in *struct {
	Recipe string `query:"recipe" maxLength:"64" format:"uid" doc:"uid of a recipe; empty for all"`
	PageQuery
}) (*struct{ Body store.Listed[BatchCard] }, error,
) {
	list, err := a.shop.Batches(ctx, in.Recipe, in.page())
	if err != nil {
		return nil, problem(err, "")
	}
	cards, err := a.batchCards(ctx, list.Items)
	return &struct{ Body store.Listed[BatchCard] }{store.Listed[BatchCard]{Items: cards, Next: list.Next}}, problem(err, "")
}

func (a *api) recordBatch(ctx context.Context, in *struct{ Body BatchInput }) (*batchAnswer, error) {
	b, err := a.batchOf(ctx, &in.Body)
	if err != nil {
		return nil, problem(err, "")
	}
	saved, err := a.shop.AddBatch(ctx, in.Body.Recipe, in.Body.Revision, b)
	return a.batchAnswer(ctx, saved, err)
}

func (a *api) previewBatch(ctx context.Context, in *struct{ Body BatchInput }) (*batchAnswer, error) {
	b, err := a.batchOf(ctx, &in.Body)
	return a.batchAnswer(ctx, store.SavedBatch{RecipeUID: in.Body.Recipe, RecipeRevision: in.Body.Revision, Batch: b}, err)
}

// BatchPath names a test batch.
type BatchPath struct {
	UID string `path:"batch" maxLength:"64" format:"uid"`
}

type addReadingIn struct {
	BatchPath
	Body recipe.PartReading
}

func (a *api) addReading(ctx context.Context, in *addReadingIn) (*batchAnswer, error) {
	saved, err := a.shop.AddReading(ctx, in.UID, in.Body)
	return a.batchAnswer(ctx, saved, err)
}

type removeReadingIn struct {
	BatchPath
	Reading string `path:"reading" maxLength:"64" format:"uid"`
}

func (a *api) removeReading(ctx context.Context, in *removeReadingIn) (*batchAnswer, error) {
	saved, err := a.shop.RemoveReading(ctx, in.UID, in.Reading)
	return a.batchAnswer(ctx, saved, err)
}
