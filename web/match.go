package web

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"log/slog"
	"net/http"
	"reflect"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"cloudburst/core/colour"
	"cloudburst/core/cores"
	"cloudburst/core/cup"
	"cloudburst/core/match"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/store"
)

// MatchReading is a colour to meet.
type MatchReading struct {
	Name        string             `json:"name" minLength:"1" maxLength:"80"`
	Lab         colour.Lab         `json:"lab"`
	ThicknessMM float64            `json:"thicknessMM" minimum:"0.05" maximum:"100"`
	Ground      optics.Ground      `json:"ground" enum:"white,dark,grey,against,metal,hand"`
	State       cup.State          `json:"state,omitempty" enum:"hot,fresh,rested"`
	Weight      *float64           `json:"weight,omitempty" minimum:"0" maximum:"100" doc:"1 where nobody says; 0 leaves it aside"`
	Between     bool               `json:"between,omitempty" doc:"Read between the pieces of flake, as a spot on a photo is"`
	GoodEnough  float64            `json:"goodEnough,omitempty" minimum:"0" maximum:"50"`
	Error       float64            `json:"error,omitempty" minimum:"0" maximum:"50" doc:"ΔE00 by which it may be off; 0 where nothing can be claimed"`
	Exact       bool               `json:"exact,omitempty" doc:"The prediction of a cup: off by nothing"`
	Behind      []match.LayerSlice `json:"behind,omitempty" maxItems:"4" doc:"Of a layered bait: what lies behind, front to back"`
}

func (r *MatchReading) reading() match.Reading {
	weight := 1.0
	if r.Weight != nil {
		weight = *r.Weight
	}
	return match.Reading{
		Name: r.Name, Lab: r.Lab, Weight: weight, Between: r.Between, Enough: r.GoodEnough,
		Off: cup.Off(r.Error, r.Exact),
		At: mix.Condition{
			ThicknessMM: r.ThicknessMM, Ground: r.Ground, Light: colour.D65, State: cmp.Or(r.State, cup.Rested),
		},
	}
}

// MatchAsk is what a match is to find.
type MatchAsk struct {
	Readings   []MatchReading    `json:"readings" nullable:"false" maxItems:"24"`
	Volume     string            `json:"volume" maxLength:"60" doc:"As typed; 1 cup where empty"`
	Plastisol  string            `json:"plastisol,omitempty" maxLength:"64" format:"uid" doc:"uid; the first of the shelf where empty"`
	Held       []cup.Dose        `json:"held,omitempty" maxItems:"60" doc:"What goes in anyway: additives, flake, a colour that is settled"`
	Allow      match.Allow       `json:"allow,omitempty"`
	Most       int               `json:"most" minimum:"1" maximum:"6" doc:"Bottles, besides those that are held"`
	SeeThrough *match.SeeThrough `json:"seeThrough,omitempty"`
	Flake      string            `json:"flake,omitempty" maxLength:"64" format:"uid" doc:"uid of a reference whose counted flake is to be in it"`
}

// MatchAnswer is what a match found.
type MatchAnswer struct {
	match.Result
	Flake        []match.KindMatched `json:"flake,omitempty" doc:"Where flake was to be in it: which, and what else could stand for it"`
	Allowed      int                 `json:"allowed" doc:"Bottles that were allowed"`
	Milliseconds float64             `json:"milliseconds"`
}

// MatchLine is one line of a long search as it goes on: progress, and in the end the answer.
type MatchLine struct {
	Done   float64             `json:"done" doc:"0..1"`
	Before int                 `json:"before,omitempty" doc:"It waits its turn: so many searches are before it"`
	Best   []match.Candidate   `json:"best,omitempty"`
	Answer *MatchAnswer        `json:"answer,omitempty" doc:"In the last line"`
	Layers *match.LayersResult `json:"layers,omitempty" doc:"In the last line, of a layered bait"`
	Error  string              `json:"error,omitempty" doc:"In the last line, where it failed"`
}

// LayerAsk is one part of a layered bait.
type LayerAsk struct {
	Name     string         `json:"name" minLength:"1" maxLength:"40"`
	Readings []MatchReading `json:"readings" nullable:"false" maxItems:"24"`
}

// LayersAsk is a layered bait whose parts are matched together.
type LayersAsk struct {
	Parts     []LayerAsk  `json:"parts" nullable:"false" minItems:"1" maxItems:"4"`
	Volume    string      `json:"volume" maxLength:"60" doc:"Of each cup"`
	Plastisol string      `json:"plastisol,omitempty" maxLength:"64" format:"uid"`
	Allow     match.Allow `json:"allow,omitempty"`
	Most      int         `json:"most" minimum:"1" maximum:"6"`
}

// MatchLook is a cup as it would meet the readings, with a bait of it.
type MatchLook struct {
	match.Candidate
	Bait BaitImage `json:"bait"`
}

func (a *api) matchRoutes() {
	post(a, "matchReadings", "/match", a.matchReadings, asks)
	stream(a, "/match/harder", "matchHarder", a.matchHarder)
	stream(a, "/match/layers", "matchLayers", a.matchLayers)
	post(a, "lookAtMatch", "/match/look", a.lookAtMatch, asks)
	post(a, "pourMatches", "/match/bench", a.pourMatches)
	a.correctRoutes()
}

// MatchPour is a cup that goes to the bench.
type MatchPour struct {
	Cup    cup.Cup `json:"cup"`
	Letter string  `json:"letter,omitempty" maxLength:"2"`
	Part   string  `json:"part,omitempty" maxLength:"40"`
	Name   string  `json:"name,omitempty" maxLength:"80" doc:"What the cup is called"`
}

// plainBait draws a bait of one mix.
func (a *api) plainBait(ctx context.Context, m *mix.Mix, q BaitQuery) (BaitImage, error) {
	mold, err := a.mold(ctx, q.Bait)
	if err != nil {
		return BaitImage{}, err
	}
	at := mix.Condition{ThicknessMM: mix.BodyMM, Ground: optics.White, Light: colour.D65, State: cup.Rested}
	p, err := a.plan(&mold, q, at, benchBait)
	if err != nil {
		return BaitImage{}, err
	}
	p.Cups = []*mix.Mix{m}
	return drawBait(p, at)
}

// wish makes a wish of what was asked, from the shelf as it is.
func (a *api) wish(ctx context.Context, ask *MatchAsk) (*match.Wish, cup.Shelf, measure.Kit, error) {
	none := func(err error) (*match.Wish, cup.Shelf, measure.Kit, error) {
		return nil, nil, measure.Kit{}, problem(err, "")
	}
	volume, err := measure.ParseVolume(cmp.Or(strings.TrimSpace(ask.Volume), "1 cup"))
	if err != nil {
		return none(&measure.Fault{Field: "volume", Says: err.Error()})
	}
	w := &match.Wish{
		Cup: cup.Cup{
			Volume: volume, Plastisol: ask.Plastisol, Doses: ask.Held,
		}, Most: ask.Most, SeeThrough: ask.SeeThrough,
	}
	for i := range ask.Readings {
		w.Readings = append(w.Readings, ask.Readings[i].reading())
	}
	shelf, kit, err := a.tools(ctx)
	if err != nil {
		return none(err)
	}
	return w, shelf, kit, a.allow(ctx, w, &ask.Allow, false)
}

// allow fills in what of the shelf may be used, and what it costs; inCup lets in what is in the cup already.
func (a *api) allow(ctx context.Context, w *match.Wish, by *match.Allow, inCup bool) error {
	items, err := shopOf(ctx).Materials(ctx)
	if err != nil {
		return problem(err, "")
	}
	owned := make([]match.Owned, len(items))
	for i := range items {
		owned[i] = match.Owned{Material: &items[i].Material, Stock: &items[i].Stock}
	}
	taught, err := shopOf(ctx).Accepted(ctx)
	if err != nil {
		return problem(err, "")
	}
	if taught != nil {
		w.Unsure = taught.Unsure
	}
	return problem(w.From(owned, by, inCup), "")
}

// counted is the flake that was counted on a reference.
func (a *api) counted(ctx context.Context, uid string) ([]mix.KindSeen, []material.Finish, error) {
	r, err := shopOf(ctx).Reference(ctx, uid)
	if err != nil {
		return nil, nil, problem(err, "")
	}
	seen, err := match.Seen(r.Flake)
	return seen, nil, problem(err, "")
}

// stream answers with lines of JSON as work goes on, in its turn among the long ones. It ends with the connection, so
// that going away stops it, and its last line is an answer or an error.
func stream[Ask any](a *api, path, id string, work func(ctx context.Context, ask *Ask, tell func(MatchLine)) error) {
	r := a.huma.OpenAPI().Components.Schemas
	huma.Register(a.huma, huma.Operation{
		OperationID: id, Method: http.MethodPost, Path: path, Metadata: map[string]any{
			"asks": true, "longest": longestSearch,
		},
		Responses: map[string]*huma.Response{"200": {
			Description: "Lines of JSON as the search goes on; the last holds the answer. Closing the connection stops it.",
			Content: map[string]*huma.MediaType{"application/x-ndjson": {Schema: r.Schema(
				reflect.TypeFor[MatchLine](), true, "",
			)}},
		}},
	}, func(ctx context.Context, in *struct{ Body Ask }) (*huma.StreamResponse, error) {
		return &huma.StreamResponse{Body: func(hc huma.Context) {
			ctx := hc.Context()
			hc.SetHeader("Content-Type", "application/x-ndjson")
			hc.SetHeader("Content-Encoding", "identity")
			tell := func(l MatchLine) {
				line, err := json.Marshal(l)
				if err != nil { // a figure that can't be written: the next line may be
					slog.Error("a line can't be written", "err", err)
					if l.Done < 1 {
						return
					}
					line, _ = json.Marshal(MatchLine{Error: wentWrong})
				}
				_, _ = hc.BodyWriter().Write(append(line, '\n')) // nobody there any more: the context ends the work
				if f, ok := hc.BodyWriter().(http.Flusher); ok {
					f.Flush()
				}
			}
			leave, err := a.budget.long.enter(ctx, func(before int) { tell(MatchLine{Before: before}) })
			if err == nil {
				defer leave()
				err = cores.Try(func() error { return work(cores.Politely(ctx), &in.Body, tell) })
			}
			switch {
			case err == nil, errors.Is(hc.Context().Err(), context.Canceled): // nobody reads it
			case errors.Is(err, context.DeadlineExceeded):
				tell(MatchLine{Error: "This took too long and was stopped. Allow fewer bottles, or fewer in a cup, and try again."})
			default:
				tell(MatchLine{Error: problem(err, "").Error()})
			}
		}}, nil
	})
}

func (a *api) matchReadings(ctx context.Context, in *struct{ Body MatchAsk }) (*struct{ Body MatchAnswer }, error) {
	start := time.Now()
	w, shelf, kit, err := a.wish(ctx, &in.Body)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body MatchAnswer }{MatchAnswer{Allowed: len(w.Allowed)}}
	r, err := dear(ctx, a.budget, func(ctx context.Context) (r *match.Result, err error) {
		if in.Body.Flake == "" {
			return match.Search(ctx, w, shelf, kit, nil)
		}
		seen, finish, err := a.counted(ctx, in.Body.Flake)
		if err != nil {
			return nil, err
		}
		r, out.Body.Flake, err = match.WithFlake(ctx, w, seen, finish, shelf, kit)
		return r, err
	})
	if err != nil {
		return nil, problem(err, "")
	}
	out.Body.Result, out.Body.Milliseconds = *r, float64(time.Since(start).Microseconds())/1000
	return out, nil
}

type lookAtMatchIn struct {
	BaitQuery
	Body struct {
		Ask      MatchAsk `json:"ask"`
		Cup      cup.Cup  `json:"cup"`
		Material string   `json:"material,omitempty" maxLength:"64" format:"uid" doc:"uid of what gets steps more, or fewer"`
		Steps    int      `json:"steps,omitempty" minimum:"-1000" maximum:"1000" doc:"Drops of a bottle, spoons of a powder"`
	}
}

func (a *api) lookAtMatch(ctx context.Context, in *lookAtMatchIn) (*struct{ Body MatchLook }, error) {
	w, shelf, kit, err := a.wish(ctx, &in.Body.Ask)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body MatchLook }{}
	if in.Body.Material != "" {
		if in.Body.Cup, _, err = in.Body.Cup.With(in.Body.Material, in.Body.Steps, shelf, kit); err != nil {
			return nil, problem(err, "")
		}
	}
	c, err := match.Judge(w, &in.Body.Cup, shelf, kit)
	if err != nil {
		return nil, problem(err, "")
	}
	out.Body.Candidate = *c
	mix, err := mix.Stir(&c.Cup, shelf)
	if err != nil {
		return nil, problem(err, "")
	}
	out.Body.Bait, err = a.plainBait(ctx, mix, in.BaitQuery)
	return out, problem(err, "")
}

type pourMatchesIn2 struct {
	Body struct {
		Cups []MatchPour `json:"cups" nullable:"false" minItems:"1" maxItems:"4"`
	}
}

type pourMatchesIn struct {
	Body struct {
		Cups []string `json:"cups" nullable:"false" doc:"uids of the new cups on the bench"`
	}
}

func (a *api) pourMatches(ctx context.Context, in *pourMatchesIn2) (*pourMatchesIn, error) {
	var cups []store.NamedCup
	for _, c := range in.Body.Cups {
		cups = append(
			cups,
			store.NamedCup{
				Name: c.Name, Live: cup.Live{
					Cup: c.Cup, Letter: strings.TrimSpace(c.Letter), Part: strings.TrimSpace(c.Part),
				},
			},
		)
	}
	out := &pourMatchesIn{}
	var err error
	out.Body.Cups, err = shopOf(ctx).NewCups(ctx, cups, nil)
	return out, problem(err, "")
}

func (a *api) matchHarder(ctx context.Context, ask *MatchAsk, tell func(MatchLine)) error {
	start := time.Now()
	w, shelf, kit, err := a.wish(ctx, ask)
	if err != nil {
		return err
	}
	r, err := match.Harder(ctx, w, shelf, kit, func(p match.Progress) { tell(MatchLine{Done: p.Done, Best: p.Best}) })
	if err != nil {
		return err
	}
	tell(MatchLine{
		Done: 1,
		Answer: &MatchAnswer{
			Result: *r, Allowed: len(w.Allowed), Milliseconds: float64(time.Since(start).Microseconds()) / 1000,
		},
	})
	return nil
}

func (a *api) matchLayers(ctx context.Context, ask *LayersAsk, tell func(MatchLine)) error {
	w := &match.LayersWish{}
	var shelf cup.Shelf
	var kit measure.Kit
	for _, part := range ask.Parts {
		one, s, k, err := a.wish(
			ctx, &MatchAsk{Volume: ask.Volume, Plastisol: ask.Plastisol, Allow: ask.Allow, Most: ask.Most},
		)
		if err != nil {
			return err
		}
		shelf, kit, w.PriceOf = s, k, one.PriceOf
		p := match.LayerPart{Name: part.Name, Cup: one.Cup, Allowed: one.Allowed, Most: one.Most}
		for i := range part.Readings {
			p.Readings = append(
				p.Readings, match.LayerReading{Reading: part.Readings[i].reading(), Behind: part.Readings[i].Behind},
			)
		}
		w.Parts = append(w.Parts, p)
	}
	r, err := match.Layers(ctx, w, shelf, kit, func(p match.Progress) { tell(MatchLine{Done: p.Done}) })
	if err != nil {
		return err
	}
	tell(MatchLine{Done: 1, Layers: r})
	return nil
}
