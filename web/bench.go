package web

import (
	"bytes"
	"cmp"
	"context"
	"encoding/base64"
	"errors"
	"image"
	"log/slog"
	"slices"
	"time"

	"cloudburst/core/cores"
	"cloudburst/core/cup"
	"cloudburst/core/learn"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/picture"
	"cloudburst/core/recipe"
	"cloudburst/store"
)

// BenchState is a cup with everything the bench shows of it.
type BenchState struct {
	store.BenchCup
	RecipeName string          `json:"recipeName,omitempty"`
	Saved      bool            `json:"saved" doc:"The cup is as its recipe was last saved"`
	Look       mix.Look        `json:"look"`
	Target     *mix.Swatch     `json:"targetSwatch,omitempty"`
	Wedge      WedgePicture    `json:"wedge"`
	Bait       BaitImage       `json:"bait" doc:"A bait of it alone, in the shape that was asked for"`
	Baits      int             `json:"baits" doc:"How many such baits the cup is good for, sprues not counted"`
	CloseUp    *CloseUpPicture `json:"closeUp,omitempty" doc:"Where there is flake in it"`
	Flakes     []mix.Legible   `json:"flakes" nullable:"false"`
	OneMore    []mix.OneMore   `json:"oneMore" nullable:"false" doc:"What the next step of each line would do"`
	Warmth     *cup.Warmth     `json:"warmth,omitempty" doc:"Where the cup was heated"`
	Trouble    string          `json:"trouble,omitempty" doc:"Why the cup can't be shown. It is as it says, and can be changed and undone"`
}

// CloseUpPicture is a piece of the mix in true scale.
type CloseUpPicture struct {
	PNG      string  `json:"png" doc:"A data URL"`
	WidthMM  float64 `json:"widthMM"`
	HeightMM float64 `json:"heightMM"`
}

// WedgePicture is the cup from film to depth, one strip a ground.
type WedgePicture struct {
	PNG    string   `json:"png" doc:"A data URL. One row of pixels a strip, to be stretched"`
	Strips []Choice `json:"strips" nullable:"false" doc:"The grounds, top to bottom"`
}

const staleCup = "Another device has changed this cup. It is shown as it stands now; enter it again if it still fits."

// CupPath names a cup and says how it is looked at.
type CupPath struct {
	UID string `path:"cup" maxLength:"64" format:"uid"`
	ViewQuery
}

// A bench's answer is mostly pictures, which are packed already: packing it again would cost a tap more than it saves.
type benchAnswer struct {
	ContentEncoding string `header:"Content-Encoding"`
	Body            BenchState
}

func (a *api) benchRoutes() {
	get(a, "latestCup", "/cups/latest", a.latestCup)
	post(a, "pourCup", "/cups", a.pourCup)
	get(a, "showCup", "/cups/{cup}", a.showCup)
	post(a, "takeSteps", "/cups/{cup}/steps", a.takeSteps)
	post(a, "rewindCup", "/cups/{cup}/rewind", a.rewindCup)
}

// pour makes the contents of a new cup: a recipe's, in its own or another volume, or clear plastisol.
func (a *api) pour(
	ctx context.Context, recipeUID, volume string, by recipe.Rounds, q ViewQuery,
) (cup.Cup, *store.SavedRecipe, error) {
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return cup.Cup{}, nil, err
	}
	if recipeUID != "" {
		r, err := shopOf(ctx).Recipe(ctx, recipeUID)
		if err != nil || volume == "" {
			return r.Cup, &r, err
		}
		to, err := measure.ParseVolume(volume)
		if err != nil {
			return cup.Cup{}, nil, &measure.Fault{Field: "volume", Says: err.Error()}
		}
		kit, _, err := shopOf(ctx).Kit(ctx)
		if err != nil {
			return cup.Cup{}, nil, err
		}
		s, err := recipe.Scale(&r.Cup, shelf, kit, to, q.at(&r.Cup))
		if err != nil {
			return cup.Cup{}, nil, err
		}
		return *s.By(by), &r, nil
	}
	if volume == "" {
		volume = "1 cup"
	}
	v, err := measure.ParseVolume(volume)
	if err != nil {
		return cup.Cup{}, nil, &measure.Fault{Field: "volume", Says: err.Error()}
	}
	list, err := shopOf(ctx).Materials(ctx)
	if err != nil {
		return cup.Cup{}, nil, err
	}
	if len(list) == 0 || list[0].Plastisol == nil {
		return cup.Cup{}, nil, &measure.Fault{
			Field: "plastisol",
			Says:  "There is no plastisol on the shelf yet. Add one there first, or bring a recipe in from a file.",
		}
	}
	return cup.Cup{Volume: v, Plastisol: list[0].UID, Doses: []cup.Dose{}}, nil, nil
}

// bench answers with a cup as it stands: its colour, its wedge, and where it lies from its target and its recipe.
func (a *api) bench(ctx context.Context, b store.BenchCup, err error, q ViewQuery) (*benchAnswer, error) {
	if err != nil {
		return nil, problem(err, staleCup)
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	taught, err := shopOf(ctx).Accepted(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	kit, _, err := shopOf(ctx).Kit(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	left, low, err := shopOf(ctx).Left(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	mold, err := a.mold(ctx, q.Bait)
	if err != nil {
		return nil, problem(err, "")
	}
	state := BenchState{BenchCup: b}
	c := &b.Cup.Cup
	if err := q.at(c).Check(); err != nil {
		return nil, problem(err, "")
	}
	if b.RecipeUID != "" {
		r, err := shopOf(ctx).RecipeAt(ctx, b.RecipeUID, b.RecipeRevision)
		if err != nil {
			return nil, problem(err, "")
		}
		state.RecipeName, state.Saved = r.Name, c.Same(&r.Cup)
	}
	if t := b.Cup.Target; t != nil {
		s := mix.NewSwatch(t.Lab)
		state.Target = &s
	}
	state.Warmth = b.Cup.WarmthAt(time.Now().UnixMilli())
	shown := state
	err = cores.Try(func() error { return a.show(&shown, &shownWith{taught, shelf, kit, left, low, mold}, q) })
	if err == nil {
		if said := measure.NotFinite(&shown); said != "" {
			err = errors.New(said)
		}
	}
	if err != nil { // a cup that can't be drawn can still be opened, changed and undone
		slog.Error("a cup can't be shown", "cup", b.UID, "err", err)
		shown = state
		shown.Trouble = "This cup can't be worked out as it is. Undo the last step, or change what is in it; nothing of it was lost."
		var f *measure.Fault
		if errors.As(err, &f) {
			shown.Trouble = "This cup can't be worked out as it is: " + f.Says
		}
		shown.Look = mix.Look{Watch: []cup.Watch{}, Lines: []mix.Line{}}
		shown.Wedge.Strips, shown.Flakes, shown.OneMore = []Choice{}, []mix.Legible{}, []mix.OneMore{}
	}
	return &benchAnswer{"identity", shown}, nil
}

// shownWith is what a cup is shown with.
type shownWith struct {
	taught    *learn.Learnt
	shelf     cup.Shelf
	kit       measure.Kit
	left, low map[string]float64 // of the stock, by material
	mold      shaped
}

// show fills in what a cup looks like.
func (a *api) show(state *BenchState, with *shownWith, q ViewQuery) error {
	cup := &state.Cup.Cup
	m, err := mix.Stir(cup, with.shelf)
	if err != nil {
		return err
	}
	at := q.at(cup)
	if state.Look, err = mix.LookAt(cup, m, with.shelf, at); err != nil {
		return err
	}
	if with.taught != nil {
		state.Look.Sure = cmp.Or(with.taught.SaysOf(cup, at), state.Look.Sure)
	}
	state.Look.Watch = slices.Insert(state.Look.Watch, 0, state.Cup.HeatWatch(with.shelf)...)
	state.Look.Watch = append(state.Look.Watch, mix.StockWatch(cup, m, with.shelf, with.left, with.low)...)
	state.Look.Watch = append(state.Look.Watch, with.mold.Watch(m, with.shelf)...)
	state.Baits = with.mold.Makes(m.FinishedML)
	var drawing cores.Group // the pictures at once; a tap waits for all of them
	drawing.Go(func() (err error) {
		state.CloseUp, err = drawCloseUp(m, at, picture.BenchCloseUp)
		return err
	})
	drawing.Go(func() (err error) {
		p, err := a.plan(&with.mold, q.BaitQuery, at, benchBait)
		if err != nil {
			return err
		}
		p.Cups = []*mix.Mix{m}
		state.Bait, err = drawBait(p, at)
		return err
	})
	drawing.Go(func() (err error) {
		state.Wedge, err = drawWedge(m, at)
		return err
	})
	state.Flakes = m.Legibility(at)
	state.OneMore, err = mix.More(cup, m, with.shelf, with.kit, at)
	return errors.Join(drawing.Wait(), err)
}

var wedgeGrounds = []optics.Ground{optics.White, optics.Dark, optics.Against}

func drawWedge(mix *mix.Mix, at mix.Condition) (WedgePicture, error) {
	png, err := dataURL(picture.Wedge(mix, at, picture.BenchWedge, wedgeGrounds...))
	w := WedgePicture{PNG: png}
	for _, g := range wedgeGrounds {
		w.Strips = append(w.Strips, Choice{string(g), g.Name()})
	}
	return w, err
}

func drawCloseUp(mix *mix.Mix, at mix.Condition, size picture.CloseUp) (*CloseUpPicture, error) {
	if len(mix.Flakes) == 0 {
		return nil, nil
	}
	png, err := dataURL(size.Draw(mix, at))
	return &CloseUpPicture{png, float64(size.Width) / size.PxPerMM, float64(size.Height) / size.PxPerMM}, err
}

func dataURL(img image.Image) (string, error) {
	var png bytes.Buffer
	err := picture.EncodePNG(&png, img)
	return "data:image/png;base64," + base64.StdEncoding.EncodeToString(png.Bytes()), err
}

func (a *api) latestCup(ctx context.Context, _ *struct{}) (*struct {
	Body struct {
		Cup string `json:"cup,omitempty" doc:"uid of the cup that was touched last; empty on an empty bench"`
	}
}, error,
) {
	out := &struct {
		Body struct {
			Cup string `json:"cup,omitempty" doc:"uid of the cup that was touched last; empty on an empty bench"`
		}
	}{}
	uid, err := shopOf(ctx).LatestCup(ctx)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return nil, problem(err, "")
	}
	out.Body.Cup = uid
	return out, nil
}

type pourCupIn struct {
	ViewQuery
	Body struct {
		Volume   string        `json:"volume,omitempty" maxLength:"200" doc:"As typed; empty for the recipe's own, or 1 cup"`
		Recipe   string        `json:"recipe,omitempty" maxLength:"64" format:"uid" doc:"uid of a recipe to pour; empty for clear plastisol"`
		Rounding recipe.Rounds `json:"rounding,omitempty" enum:"lines,together,weaker" doc:"How the lines of a recipe in another volume are rounded; empty for together, where that comes closer"`
	}
}

func (a *api) pourCup(ctx context.Context, in *pourCupIn) (*benchAnswer, error) {
	c, from, err := a.pour(ctx, in.Body.Recipe, in.Body.Volume, in.Body.Rounding, in.ViewQuery)
	if err != nil {
		return nil, problem(err, "")
	}
	b, err := shopOf(ctx).NewCup(ctx, cup.Live{Cup: c}, from)
	return a.bench(ctx, b, err, in.ViewQuery)
}

type showCupIn struct {
	CupPath
	Plus string `query:"plus" maxLength:"64" format:"uid" doc:"uid of a material: the cup as it would be with one more step of it. Nothing is stored"`
}

func (a *api) showCup(ctx context.Context, in *showCupIn) (*benchAnswer, error) {
	b, err := shopOf(ctx).Cup(ctx, in.UID)
	if err == nil && in.Plus != "" {
		shelf, kit, err := a.tools(ctx)
		if err != nil {
			return nil, problem(err, "")
		}
		if b.Cup.Cup, _, err = b.Cup.With(in.Plus, 1, shelf, kit); err != nil {
			return nil, problem(err, "")
		}
	}
	return a.bench(ctx, b, err, in.ViewQuery)
}

type takeStepsIn struct {
	CupPath
	Body struct {
		Seen  int        `json:"seen" doc:"The head that the device last saw"`
		Steps []cup.Step `json:"steps" nullable:"false" minItems:"1" maxItems:"12" doc:"All are taken, or none"`
	}
}

func (a *api) takeSteps(ctx context.Context, in *takeStepsIn) (*benchAnswer, error) {
	b, err := shopOf(ctx).Step(ctx, in.UID, in.Body.Seen, in.Body.Steps...)
	return a.bench(ctx, b, err, in.ViewQuery)
}

type rewindCupIn struct {
	CupPath
	Body struct {
		Seen int  `json:"seen" doc:"The head that the device last saw"`
		Redo bool `json:"redo"`
	}
}

func (a *api) rewindCup(ctx context.Context, in *rewindCupIn) (*benchAnswer, error) {
	by := -1
	if in.Body.Redo {
		by = 1
	}
	b, err := shopOf(ctx).Rewind(ctx, in.UID, in.Body.Seen, by)
	return a.bench(ctx, b, err, in.ViewQuery)
}
