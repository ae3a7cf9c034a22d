package web

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/match"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/recipe"
	"cloudburst/store"
)

// BatchCard is a test batch with its sums.
type BatchCard struct {
	store.SavedBatch
	Read   []ReadCard         `json:"read" nullable:"false" doc:"Its readings beside what is predicted"`
	Again  string             `json:"again,omitempty" doc:"Which looks are worth reading again, and what that gives"`
	Rested string             `json:"rested" doc:"How long it had rested, in words"`
	Sum    []cup.Dose         `json:"sum" nullable:"false" doc:"All additions together"`
	Drift  *colour.Difference `json:"drift,omitempty" doc:"How far what really went in is predicted to lie from the recipe, where it was poured from one"`
	Came   string             `json:"came" doc:"How it was poured and what came of it, in a line"`
	Why    []DefectCard       `json:"why" nullable:"false" doc:"What went wrong, and what may have caused it"`
	Solved []string           `json:"solved" nullable:"false" doc:"Doses that nobody counted, as the readings have them"`
}

// DefectCard is what went wrong with a batch.
type DefectCard struct {
	Defect recipe.Defect  `json:"defect" enum:"short,dents,bubbles,flash,swapped,blended,faded,curled"`
	Name   string         `json:"name"`
	Causes []recipe.Cause `json:"causes" nullable:"false" doc:"The likeliest first"`
}

// ReadCard is a reading of a batch beside what is predicted of it, with the bottles as they were known when it was
// written down.
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
			UID: r.UID, Name: r.Name, Where: fmt.Sprintf(
				"%s mm %s, %s", measure.Number(r.ThicknessMM, 1), r.Ground.Name(), r.How.Name(),
			),
			Is: mix.NewSwatch(r.Lab), Predicted: mix.NewSwatch(predicted), Differs: colour.Compare(r.Lab, predicted),
		})
	}
	return out
}

func againOf(all []store.SavedReading) string {
	read := make([]recipe.PartReading, len(all))
	for i := range all {
		read[i] = all[i].PartReading
	}
	return recipe.Again(read)
}

func (a *api) batchRoutes() {
	get(a, "listBatches", "/batches", a.listBatches)
	post(a, "recordBatch", "/batches", a.recordBatch)
	post(a, "addReading", "/batches/{batch}/readings", a.addReading)
	post(a, "addBatchPhoto", "/batches/{batch}/photos", a.addBatchPhoto)
	remove(a, "removeBatchPhoto", "/batches/{batch}/photos/{photo}", a.removeBatchPhoto)
	post(a, "sayReading", "/batches/{batch}/readings/said", a.sayReading)
	remove(a, "removeReading", "/batches/{batch}/readings/{reading}", a.removeReading)
	put(a, "setOutcome", "/batches/{batch}/outcome", a.setOutcome)
	post(a, "batchToRecipe", "/batches/{batch}/recipe", a.batchToRecipe)
	post(a, "recordCup", "/cups/{cup}/batch", a.recordCup)
	file(a, "batchPicture", "/batches/{batch}/picture", "image/png", "A usual bait of a batch", a.batchPicture)
	get(a, "showLearned", "/materials/{material}/learned", a.showLearned)
	put(a, "acceptLearned", "/materials/{material}/learned", a.acceptLearned)
	huma.Register(a.huma, huma.Operation{
		OperationID: "previewBatch", Method: http.MethodPost, Path: "/batches/preview",
		Summary: "The same checks and sums; nothing is stored", Metadata: map[string]any{"asks": true},
	}, a.previewBatch)
}

// BatchInput is a test batch as it is typed.
type BatchInput struct {
	Recipe    string `json:"recipe,omitempty" maxLength:"64" format:"uid" doc:"That it was poured from, where it was"`
	Revision  int    `json:"revision,omitempty"`
	Plastisol string `json:"plastisol,omitempty" maxLength:"64" format:"uid" doc:"The recipe's where empty"`
	JoinInput
	PouredOn  string          `json:"pouredOn" maxLength:"40" doc:"YYYY-MM-DD"`
	Volume    string          `json:"volume" maxLength:"200" doc:"As typed"`
	Additions []AdditionInput `json:"additions" nullable:"false" maxItems:"30"`
	Verdict   string          `json:"verdict" maxLength:"4000"`
	Rested    string          `json:"rested" maxLength:"40" doc:"How long it had rested when it was judged, as typed: 24 h, 3 days"`
	Photo     string          `json:"photo,omitempty" maxLength:"64" format:"uid"`
	Unknown   bool            `json:"unknown,omitempty" doc:"Nobody knows what went in; additions are left empty"`
}

// JoinInput says for which part of which project a batch was poured.
type JoinInput struct {
	Project string `json:"project,omitempty" maxLength:"64" format:"uid"`
	Part    string `json:"part,omitempty" maxLength:"40"`
}

// AdditionInput is one addition as it is typed.
type AdditionInput struct {
	Doses []cup.Typed `json:"doses" nullable:"false" maxItems:"60"`
}

type batchAnswer struct{ Body BatchCard }

// batchOf reads a batch as typed and checks it against its recipe and the shelf.
func (a *api) batchOf(ctx context.Context, in *BatchInput) (recipe.Batch, error) {
	b := recipe.Batch{
		PouredOn: in.PouredOn, Additions: []cup.Addition{}, Verdict: in.Verdict, Photo: in.Photo,
		Outcome: recipe.Outcome{Unknown: in.Unknown},
	}
	if in.Unknown && len(in.Additions) > 0 {
		return b, measure.Faulty(
			"additions",
			"nobody knows what went in, and yet something is written down: leave it out, or say that it is known",
		)
	}
	var err error
	if b.Volume, err = measure.ParseVolume(in.Volume); err != nil {
		return b, &measure.Fault{Field: "volume", Says: err.Error()}
	}
	if b.RestedHours, err = measure.ParseRest(in.Rested); err != nil {
		return b, &measure.Fault{Field: "rested", Says: err.Error()}
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return b, err
	}
	kit, _, err := shopOf(ctx).Kit(ctx)
	if err != nil {
		return b, err
	}
	rounds := make([][]cup.Typed, len(in.Additions))
	for i, g := range in.Additions {
		rounds[i] = g.Doses
	}
	if b.Additions, err = cup.ReadAdditions(rounds, b.Volume.ML, shelf, kit); err != nil {
		return b, err
	}
	if b.Photo != "" {
		if err := shopOf(ctx).HasPhoto(ctx, b.Photo); err != nil {
			return b, err
		}
	}
	b.Plastisol = in.Plastisol
	if in.Recipe != "" {
		r, err := shopOf(ctx).RecipeAt(ctx, in.Recipe, in.Revision)
		if err != nil {
			return b, err
		}
		b.Plastisol = r.Plastisol
	}
	return b, b.Check(shelf)
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
	shelves, err := shopOf(ctx).Shelves(ctx)
	if err != nil {
		return nil, err
	}
	recipes, err := shopOf(ctx).RecipesOf(ctx, list)
	if err != nil {
		return nil, err
	}
	for _, b := range list {
		recorded := b.RecordedAt
		if recorded.IsZero() { // a preview
			recorded = time.Now()
		}
		shelf := b.KnownThen(shelves.At(recorded)) // what was known of the bottles when it was written down
		card := BatchCard{SavedBatch: b, Rested: measure.Rest(b.RestedHours), Came: b.Outcome.Says()}
		if card.Sum = cup.Sum(b.Additions, shelf); card.Sum == nil {
			card.Sum = []cup.Dose{}
		}
		is := b.Cup(shelf)
		mixed, err := mix.Stir(&is, shelf)
		if err != nil {
			return nil, err
		}
		card.Read, card.Again = readCards(&card.SavedBatch, mixed), againOf(b.Readings)
		if r, ok := recipes[b.UID]; ok && b.RecipeUID != "" && !b.Outcome.Unknown {
			drift, err := recipe.Drift(&is, &r.Cup, shelf, ViewQuery{}.at(&r.Cup))
			if err != nil {
				return nil, err
			}
			card.Drift = &drift
		}
		if card.Why, err = a.why(ctx, &b, &is, mixed, shelf); err != nil {
			return nil, err
		}
		if card.Solved, err = a.solved(ctx, &b, shelf); err != nil {
			return nil, err
		}
		out = append(out, card)
	}
	return out, nil
}

func (a *api) listBatches(ctx context.Context, in *struct {
	Recipe  string `query:"recipe" maxLength:"64" format:"uid" doc:"uid of a recipe; empty for all"`
	Project string `query:"project" maxLength:"64" format:"uid" doc:"uid of a project; empty for all"`
	PageQuery
}) (*struct{ Body store.Listed[BatchCard] }, error,
) {
	list, err := shopOf(ctx).Batches(ctx, in.Recipe, in.Project, in.page())
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
	saved, err := shopOf(ctx).AddBatch(
		ctx, store.Origin{
			Recipe: in.Body.Recipe, Revision: in.Body.Revision, Project: in.Body.Project, Part: in.Body.Part,
		},
		b,
	)
	return a.batchAnswer(ctx, saved, err)
}

func (a *api) previewBatch(ctx context.Context, in *struct{ Body BatchInput }) (*batchAnswer, error) {
	b, err := a.batchOf(ctx, &in.Body)
	return a.batchAnswer(
		ctx, store.SavedBatch{RecipeUID: in.Body.Recipe, RecipeRevision: in.Body.Revision, Batch: b}, err,
	)
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
	saved, err := shopOf(ctx).AddReading(ctx, in.UID, in.Body)
	return a.batchAnswer(ctx, saved, err)
}

type addBatchPhotoIn struct {
	BatchPath
	Body struct {
		Photo string `json:"photo" minLength:"1" maxLength:"64" format:"uid"`
	}
}

func (a *api) addBatchPhoto(ctx context.Context, in *addBatchPhotoIn) (*batchAnswer, error) {
	if err := shopOf(ctx).HasPhoto(ctx, in.Body.Photo); err != nil {
		return nil, problem(noneAt(err, "photo", "this photo is no longer there; take it once more"), "")
	}
	saved, err := shopOf(ctx).AddBatchPhoto(ctx, in.UID, in.Body.Photo)
	return a.batchAnswer(ctx, saved, err)
}

type removeBatchPhotoIn struct {
	BatchPath
	Photo string `path:"photo" maxLength:"64" format:"uid"`
}

func (a *api) removeBatchPhoto(ctx context.Context, in *removeBatchPhotoIn) (*batchAnswer, error) {
	saved, err := shopOf(ctx).RemoveBatchPhoto(ctx, in.UID, in.Photo)
	return a.batchAnswer(ctx, saved, err)
}

type removeReadingIn struct {
	BatchPath
	Reading string `path:"reading" maxLength:"64" format:"uid"`
}

func (a *api) removeReading(ctx context.Context, in *removeReadingIn) (*batchAnswer, error) {
	saved, err := shopOf(ctx).RemoveReading(ctx, in.UID, in.Reading)
	return a.batchAnswer(ctx, saved, err)
}

// why says what may have caused what went wrong with a batch.
func (a *api) why(
	ctx context.Context, b *store.SavedBatch, is *cup.Cup, m *mix.Mix, shelf cup.Shelf,
) ([]DefectCard, error) {
	out := []DefectCard{}
	if len(b.Outcome.Defects) == 0 {
		return out, nil
	}
	thin, shot := 0.0, 0.0
	if b.Outcome.Mold != "" {
		mold, err := a.mold(ctx, b.Outcome.Mold)
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return nil, err
		}
		if err == nil {
			thin, shot = mold.ThinnestMM, mold.ShotML()
		}
	}
	facts := recipe.FactsOf(&b.Batch, is, m, shelf, thin, shot)
	for _, d := range b.Outcome.Defects {
		out = append(out, DefectCard{d, d.Name(), recipe.Why(d, &facts)})
	}
	return out, nil
}

// solved are the doses of a batch that nobody counted, as its readings have them.
func (a *api) solved(ctx context.Context, b *store.SavedBatch, shelf cup.Shelf) ([]string, error) {
	out := []string{}
	sum := cup.Sum(b.Additions, shelf)
	if len(b.Readings) == 0 || !slices.ContainsFunc(sum, func(d cup.Dose) bool { return d.Amount.Estimated() }) {
		return out, nil
	}
	l, err := a.lessons(ctx)
	if err != nil {
		return nil, err
	}
	for _, u := range l.Uncounted() {
		if l.Batches[u.Batch].UID == b.UID && u.Line < len(sum) {
			m := shelf[sum[u.Line].Material]
			out = append(out, u.Says(m.Name, sum[u.Line].Amount))
		}
	}
	return out, nil
}

type setOutcomeIn struct {
	BatchPath
	Body OutcomeInput
}

// OutcomeInput is how a batch came out, with what is typed.
type OutcomeInput struct {
	recipe.Outcome
	Heat string `json:"heat,omitempty" maxLength:"40" doc:"How hot it was poured, as typed, instead of the last of its heats"`
	Left string `json:"left,omitempty" maxLength:"60" doc:"What is left in the cup, as typed"`
}

func (a *api) setOutcome(ctx context.Context, in *setOutcomeIn) (*batchAnswer, error) {
	o := &in.Body.Outcome
	if typed := strings.TrimSpace(in.Body.Heat); typed != "" {
		c, err := measure.ParseTemperature(typed)
		if err != nil {
			return nil, fieldProblem("heat", err.Error())
		}
		o.HeatsC = append(slices.Clone(o.HeatsC[:max(0, len(o.HeatsC)-1)]), c)
	}
	if typed := strings.TrimSpace(in.Body.Left); typed != "" {
		v, err := measure.ParseVolume(typed)
		if err != nil {
			return nil, fieldProblem("left", err.Error())
		}
		o.LeftML = v.ML
	}
	if in.Body.Mold != "" {
		if _, err := a.mold(ctx, in.Body.Mold); err != nil {
			return nil, problem(err, "")
		}
	}
	saved, err := shopOf(ctx).SetOutcome(ctx, in.UID, *o)
	return a.batchAnswer(ctx, saved, err)
}

type batchToRecipeIn struct {
	BatchPath
	Body struct {
		Name string `json:"name" maxLength:"200"`
	}
}

// batchToRecipe keeps a happy accident: what really went in becomes a recipe of its own.
func (a *api) batchToRecipe(ctx context.Context, in *batchToRecipeIn) (*struct{ Body RecipeCard }, error) {
	b, err := shopOf(ctx).Batch(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	r := recipe.Of(b.Cup(shelf), in.Body.Name, b.Verdict, nil, b.RecipeUID)
	if err := cup.CheckName(r.Name); err != nil {
		return nil, problem(err, "")
	}
	saved, err := shopOf(ctx).SaveRecipe(ctx, r, 0, "Poured on "+b.PouredOn, "")
	return a.card(ctx, saved, err)
}

type recordCupIn struct {
	UID  string `path:"cup" maxLength:"64" format:"uid"`
	Body struct {
		JoinInput
		PouredOn string `json:"pouredOn" maxLength:"40" doc:"YYYY-MM-DD"`
		Verdict  string `json:"verdict" maxLength:"4000"`
		Rested   string `json:"rested" maxLength:"40" doc:"How long it had rested when it was judged, as typed"`
		Mold     string `json:"mold,omitempty" maxLength:"64" format:"uid"`
		Photo    string `json:"photo,omitempty" maxLength:"64" format:"uid"`
	}
}

// recordCup records a test batch of a cup on the bench: what went into it and how hot it was is known there already.
func (a *api) recordCup(ctx context.Context, in *recordCupIn) (*batchAnswer, error) {
	c, err := shopOf(ctx).Cup(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	start, steps, err := shopOf(ctx).Steps(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	gone, err := c.Cup.AsPoured(start.Cup, steps, shelf)
	if err != nil {
		return nil, problem(err, "")
	}
	b := recipe.Batch{
		PouredOn: in.Body.PouredOn, Volume: gone.Volume, Additions: gone.Additions, Verdict: in.Body.Verdict,
		Photo: in.Body.Photo, Plastisol: c.Cup.Plastisol,
		Outcome: recipe.Outcome{Mold: in.Body.Mold, HeatsC: gone.HeatsC, PouredML: gone.PouredML, LeftML: gone.LeftML},
	}
	if b.RestedHours, err = measure.ParseRest(in.Body.Rested); err != nil {
		return nil, problem(&measure.Fault{Field: "rested", Says: err.Error()}, "")
	}
	if b.Photo != "" {
		if err := shopOf(ctx).HasPhoto(ctx, b.Photo); err != nil {
			return nil, problem(err, "")
		}
	}
	if b.Outcome.Mold != "" {
		if _, err := a.mold(ctx, b.Outcome.Mold); err != nil {
			return nil, problem(err, "")
		}
	}
	from := store.Origin{Recipe: c.RecipeUID, Revision: c.RecipeRevision, Project: in.Body.Project, Part: in.Body.Part}
	if from.Recipe != "" { // of another plastisol it is no batch of that recipe
		r, err := shopOf(ctx).RecipeAt(ctx, from.Recipe, from.Revision)
		if err != nil {
			return nil, problem(err, "")
		}
		if r.Plastisol != b.Plastisol {
			from.Recipe, from.Revision = "", 0
		}
	}
	saved, err := shopOf(ctx).AddBatch(ctx, from, b)
	return a.batchAnswer(ctx, saved, err)
}

func (a *api) batchPicture(ctx context.Context, in *BatchPath) (*pngAnswer, error) {
	b, err := shopOf(ctx).Batch(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	is := b.Cup(shelf)
	raw, err := a.cupPicture(ctx, b.UID, &is)
	return &pngAnswer{"image/png", raw}, problem(err, "")
}

type sayReadingIn struct {
	BatchPath
	Body struct {
		Moves []match.Move `json:"moves" nullable:"false" maxItems:"12" doc:"What it lacks beside what was sought; empty where it is just that"`
	}
}

// sayReading keeps what is said of a batch beside what was sought with it, as a reading of it: a rough one.
func (a *api) sayReading(ctx context.Context, in *sayReadingIn) (*batchAnswer, error) {
	b, err := shopOf(ctx).Batch(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	t, err := a.sought(ctx, &b)
	if err != nil {
		return nil, problem(err, "")
	}
	lab, err := match.Beside(t.Lab, in.Body.Moves)
	if err != nil {
		return nil, problem(err, "")
	}
	name := "Said: just right"
	if len(in.Body.Moves) > 0 {
		name = cup.ShortName("Said: " + match.InWords(in.Body.Moves))
	}
	saved, err := shopOf(ctx).AddReading(ctx, in.UID, recipe.PartReading{
		Name: name, Lab: lab, ThicknessMM: t.ThicknessMM, Ground: t.Ground, State: cmp.Or(t.State, cup.Rested),
		How: recipe.ByWords,
	})
	return a.batchAnswer(ctx, saved, err)
}

// sought is the colour that a batch was poured after.
func (a *api) sought(ctx context.Context, b *store.SavedBatch) (*cup.Target, error) {
	if b.ProjectUID != "" {
		p, err := shopOf(ctx).Project(ctx, b.ProjectUID)
		if err != nil {
			return nil, err
		}
		if part, ok := p.Part(b.Part); ok {
			return &part.Targets[0], nil
		}
	}
	if b.RecipeUID != "" {
		r, err := shopOf(ctx).RecipeAt(ctx, b.RecipeUID, b.RecipeRevision)
		if err != nil {
			return nil, err
		}
		if r.Target != nil {
			return r.Target, nil
		}
	}
	return nil, measure.Faulty(
		"moves",
		"nothing was sought with this batch that it could stand beside: type its colour, or pour it for a project",
	)
}
