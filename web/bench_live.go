package web

import (
	"context"
	"time"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/recipe"
	"cloudburst/store"
)

// CupCard is a cup on the bench, in short.
type CupCard struct {
	store.CupLabel
	Name   string      `json:"name"`
	Swatch mix.Swatch  `json:"swatch" doc:"As a body over white"`
	Warmth *cup.Warmth `json:"warmth,omitempty"`
}

// CountLog is what went into a cup, addition by addition.
type CountLog struct {
	Additions []cup.Addition `json:"additions" nullable:"false"`
	Sum       []cup.Dose     `json:"sum" nullable:"false"`
	Log       []cup.Timed    `json:"log" nullable:"false" doc:"Every step that still counts, oldest first"`
}

// liveRoutes are the bench's dealings with a cup as a quantity: two cups at once, its log, its tests, and swaps.
func (a *api) liveRoutes() {
	get(a, "listCups", "/cups", a.listCups)
	post(a, "splitCup", "/cups/{cup}/split", a.splitCup)
	post(a, "mergeCups", "/cups/{cup}/merge", a.mergeCups)
	get(a, "cupLog", "/cups/{cup}/log", a.cupLog)
	get(a, "cupTests", "/cups/{cup}/tests", a.cupTests)
	get(a, "previewSwap", "/cups/{cup}/swap", a.previewSwap)
	get(a, "previewLoad", "/cups/{cup}/with", a.previewLoad)
	get(a, "compareLoads", "/cups/{cup}/loads", a.compareLoads)
	get(a, "previewInAnotherBait", "/cups/{cup}/in-another-bait", a.previewInAnotherBait)
	get(a, "flakeDose", "/cups/{cup}/wish", a.flakeDose)
}

type swapAnswer struct{ Body recipe.Swapped }

func (a *api) swapped(
	ctx context.Context, cup string, work func(*cup.Cup, cup.Shelf, measure.Kit) (*recipe.Swapped, error),
) (*swapAnswer, error) {
	b, err := shopOf(ctx).Cup(ctx, cup)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, kit, err := a.tools(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	s, err := dear(
		ctx, a.budget, func(context.Context) (*recipe.Swapped, error) { return work(&b.Cup.Cup, shelf, kit) },
	)
	if err != nil {
		return nil, problem(err, "")
	}
	return &swapAnswer{*s}, nil
}

// stirred is a cup on the bench, worked out.
func (a *api) stirred(ctx context.Context, uid string) (store.BenchCup, *mix.Mix, cup.Shelf, error) {
	b, err := shopOf(ctx).Cup(ctx, uid)
	if err != nil {
		return b, nil, nil, err
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return b, nil, nil, err
	}
	mix, err := mix.Stir(&b.Cup.Cup, shelf)
	return b, mix, shelf, err
}

// bodyLook is how a cup is shown where nothing else is asked: as a body over white.
var bodyLook = mix.Condition{ThicknessMM: mix.BodyMM, Ground: "white", Light: colour.D65}

func (a *api) listCups(ctx context.Context, in *PageQuery) (*struct{ Body store.Listed[CupCard] }, error) {
	list, err := shopOf(ctx).Cups(ctx, in.page())
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	out, err := eachOf(list, func(c store.CupLabel) (CupCard, error) {
		card := CupCard{CupLabel: c, Name: nameOfCup(&c).long, Warmth: c.Cup.WarmthAt(time.Now().UnixMilli())}
		mixed, err := mix.Stir(&c.Cup.Cup, shelf)
		if err == nil {
			card.Swatch = mix.NewSwatch(mixed.Colour(bodyLook))
		}
		return card, nil // one that can't be worked out is listed all the same
	})
	return &struct{ Body store.Listed[CupCard] }{out}, problem(err, "")
}

type splitCupIn struct {
	CupPath
	Body struct {
		Seen  int     `json:"seen"`
		Share float64 `json:"share" minimum:"0" maximum:"1" doc:"What goes into the second cup"`
	}
}

func (a *api) splitCup(ctx context.Context, in *splitCupIn) (*struct {
	Body struct {
		Other string `json:"other" doc:"uid of the second cup"`
	}
}, error,
) {
	out := &struct {
		Body struct {
			Other string `json:"other" doc:"uid of the second cup"`
		}
	}{}
	other, err := shopOf(ctx).Split(ctx, in.UID, in.Body.Seen, in.Body.Share)
	out.Body.Other = other
	return out, problem(err, staleCup)
}

type mergeCupsIn struct {
	CupPath
	Body struct {
		Seen  int     `json:"seen"`
		Other string  `json:"other" maxLength:"64" format:"uid" doc:"uid of the cup that is poured in"`
		Share float64 `json:"share,omitempty" minimum:"0" maximum:"1" doc:"Only so much of it; 0 for all"`
	}
}

func (a *api) mergeCups(ctx context.Context, in *mergeCupsIn) (*benchAnswer, error) {
	share := in.Body.Share
	if share == 0 {
		share = 1
	}
	b, err := shopOf(ctx).Merge(ctx, in.UID, in.Body.Seen, in.Body.Other, share)
	return a.bench(ctx, b, err, in.ViewQuery)
}

func (a *api) cupLog(ctx context.Context, in *CupPath) (*struct{ Body CountLog }, error) {
	start, steps, err := shopOf(ctx).Steps(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	log := CountLog{Additions: cup.Additions(start.Cup, steps), Log: steps}
	if log.Sum = cup.Sum(log.Additions, shelf); log.Sum == nil {
		log.Sum = []cup.Dose{}
	}
	if log.Log == nil {
		log.Log = []cup.Timed{}
	}
	return &struct{ Body CountLog }{log}, nil
}

func (a *api) cupTests(ctx context.Context, in *CupPath) (*struct {
	Body []mix.BenchTest `nullable:"false"`
}, error,
) {
	_, mixed, _, err := a.stirred(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	return &struct {
		Body []mix.BenchTest `nullable:"false"`
	}{mixed.BenchTests(colour.Light(in.Light))}, nil
}

type previewSwapIn struct {
	CupPath
	Old  string      `query:"old" maxLength:"64" format:"uid" required:"true"`
	New  string      `query:"new" maxLength:"64" format:"uid" required:"true"`
	Keep recipe.Keep `query:"keep" enum:"cover,count" default:"cover" doc:"Of a flake: as much of it to see, or as many pieces"`
	For  string      `query:"for" maxLength:"64" format:"uid" doc:"The bait that it is for: its pieces are counted, its gate and thin sections looked at"`
}

func (a *api) previewSwap(ctx context.Context, in *previewSwapIn) (*swapAnswer, error) {
	swap := recipe.InPlace{Old: in.Old, New: in.New, Keep: in.Keep}
	if in.For != "" {
		m, err := a.mold(ctx, in.For)
		if err != nil {
			return nil, fieldProblem("for", err.Error())
		}
		swap.Mold = &m.Mold
	}
	return a.swapped(ctx, in.UID, func(c *cup.Cup, shelf cup.Shelf, kit measure.Kit) (*recipe.Swapped, error) {
		return recipe.Replace(c, swap, shelf, kit)
	})
}

type previewLoadIn struct {
	CupPath
	Material string `query:"material" maxLength:"64" format:"uid" required:"true"`
	Typed    string `query:"typed" maxLength:"200" required:"true"`
}

func (a *api) previewLoad(ctx context.Context, in *previewLoadIn) (*swapAnswer, error) {
	return a.swapped(ctx, in.UID, func(c *cup.Cup, shelf cup.Shelf, kit measure.Kit) (*recipe.Swapped, error) {
		return recipe.LookWith(c, in.Material, in.Typed, shelf, kit)
	})
}

type compareLoadsIn struct {
	CupPath
	Typed string `query:"typed" maxLength:"200" required:"true" doc:"A quarter cup, 21 %, 50 g"`
}

func (a *api) compareLoads(ctx context.Context, in *compareLoadsIn) (*struct {
	Body []recipe.Load `nullable:"false"`
}, error,
) {
	b, err := shopOf(ctx).Cup(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	shelf, kit, err := a.tools(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	list, err := dear(
		ctx, a.budget, func(context.Context) ([]recipe.Load, error) {
			return recipe.Loads(
				&b.Cup.Cup, in.Typed, shelf, kit,
			)
		},
	)
	if err != nil {
		return nil, problem(err, "")
	}
	return &struct {
		Body []recipe.Load `nullable:"false"`
	}{list}, nil
}

type previewInAnotherBaitIn struct {
	CupPath
	From string `query:"from" maxLength:"64" format:"uid" required:"true" doc:"The bait that it was made for"`
	To   string `query:"to" maxLength:"64" format:"uid" required:"true" doc:"The bait that it is to look the same in"`
	Keep string `query:"keep" enum:"body,fins" default:"body" doc:"The part whose look is kept"`
}

func (a *api) previewInAnotherBait(ctx context.Context, in *previewInAnotherBaitIn) (*swapAnswer, error) {
	var thick [2]recipe.Thickness
	for i, key := range []string{in.From, in.To} {
		m, err := a.mold(ctx, key)
		if err != nil {
			return nil, fieldProblem("to", err.Error())
		}
		s := m.Bait()
		thick[i] = recipe.ThicknessOf(&s)
	}
	return a.swapped(ctx, in.UID, func(c *cup.Cup, shelf cup.Shelf, kit measure.Kit) (*recipe.Swapped, error) {
		return recipe.InAnotherBait(c, thick[0], thick[1], recipe.Keep(in.Keep), shelf, kit)
	})
}

type flakeDoseIn struct {
	CupPath
	Material string `query:"material" maxLength:"64" format:"uid" required:"true"`
	Wish     string `query:"wish" enum:"sparse,medium,heavy" required:"true"`
}

func (a *api) flakeDose(ctx context.Context, in *flakeDoseIn) (*struct {
	Body struct {
		Typed string `json:"typed" doc:"The dose, as it can be measured"`
	}
}, error,
) {
	out := &struct {
		Body struct {
			Typed string `json:"typed" doc:"The dose, as it can be measured"`
		}
	}{}
	b, mix, shelf, err := a.stirred(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	flake, ok := shelf[in.Material]
	if !ok || flake.Flake == nil {
		return nil, fieldProblem("material", "choose a flake")
	}
	kit, _, err := shopOf(ctx).Kit(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	dose, err := mix.Measured(&flake, in.Wish, kit, in.at(&b.Cup.Cup))
	out.Body.Typed = dose.String()
	return out, problem(err, "")
}
