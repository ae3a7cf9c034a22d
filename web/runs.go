package web

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/pour"
	"cloudburst/format"
	"cloudburst/store"
)

// RunPage is a run as it stands.
type RunPage struct {
	UID         string          `json:"uid"`
	Name        string          `json:"name"`
	Run         store.PourState `json:"run" enum:"planned,running,done"`
	State       *pour.RunState  `json:"state"`
	Cooks       []pour.Cook     `json:"cooks" nullable:"false"`
	Heats       []pour.Heat     `json:"heats" nullable:"false" doc:"By cup of the order"`
	Cups        []RunCup        `json:"cups" nullable:"false" doc:"On the bench, by cook"`
	Last        int             `json:"last" doc:"Number of what happened last; send it to take that back"`
	LastSays    string          `json:"lastSays" doc:"What that was"`
	StartedMS   int64           `json:"startedMS"`
	TickS       float64         `json:"tickS"`
	Made        int             `json:"made" doc:"Baits that the molds give"`
	Asked       int             `json:"asked"`
	Outcome     *pour.Outcome   `json:"outcome,omitempty"`
	Short       int             `json:"short" doc:"Baits that are lacking, once it is over"`
	Thermometer bool            `json:"thermometer" doc:"One is connected"`
	Whys        []Choice        `json:"whys" nullable:"false" doc:"Why baits are spoiled"`
}

// RunCup is a cup of a run on the bench.
type RunCup struct {
	UID   string     `json:"uid"`
	Head  int        `json:"head"`
	Lines []RunLine  `json:"lines" nullable:"false"`
	Has   string     `json:"has" doc:"How much plastic is in it"`
	Look  mix.Swatch `json:"look" doc:"As a body over white, once all of it is in"`
}

// RunLine is a dose that goes in, and how much of it is in.
type RunLine struct {
	Material string    `json:"material"`
	Name     string    `json:"name"`
	When     pour.When `json:"when" enum:"cold,colour,flake"`
	Wants    string    `json:"wants"`
	Spoons   []float64 `json:"spoons" nullable:"false" doc:"tsp, each as often as it is filled"`
	Is       string    `json:"is"`
	Whole    float64   `json:"whole" doc:"What it wants, in its unit"`
	In       float64   `json:"in" doc:"What is in, in that unit"`
	Drops    bool      `json:"drops" doc:"It is counted drop by drop"`
	MaxSays  string    `json:"maxSays,omitempty"`
}

type runAnswer struct{ Body RunPage }

func (a *api) runRoutes() {
	post(a, "startRun", "/pours/{pour}/run", a.startRun)
	get(a, "showRun", "/pours/{pour}/run", a.showRun)
	post(a, "tellRun", "/pours/{pour}/run/events", a.tellRun)
	post(a, "takeBackInRun", "/pours/{pour}/run/back", a.takeBackInRun)
	post(a, "endRun", "/pours/{pour}/run/end", a.endRun)
	post(a, "planRest", "/pours/{pour}/rest", a.planRest)
	get(a, "readThermometer", "/pours/{pour}/run/cooks/{cook}/temperature", a.readThermometer)
	file(
		a, "runSheet", "/pours/{pour}/sheet", "application/pdf",
		"The run for the wall: a page a cup, with boxes to tick",
		a.runSheet,
	)
}

type startRunIn struct {
	PourPath
	Body struct {
		Seen int   `json:"seen" doc:"The revision of the plan that was seen"`
		AtMS int64 `json:"atMS,omitempty" doc:"When, by the device's clock; now where 0"`
	}
}

func (a *api) startRun(ctx context.Context, in *startRunIn) (*runAnswer, error) {
	p, err := shopOf(ctx).Pour(ctx, in.UID)
	if _, done, again := shopOf(ctx).Done(ctx); done || again != nil || err != nil {
		return a.run(ctx, in.UID, errors.Join(err, again))
	}
	if p.State != store.PourPlanned {
		return nil, pourProblem(store.ErrBegun, "")
	}
	b, err := a.pourBench(ctx, &p.Order)
	if err != nil {
		return nil, problem(err, "")
	}
	planned, err := dear(ctx, a.budget, func(context.Context) (*pour.Planned, error) { return p.Order.Figure(b) })
	if err != nil {
		return nil, problem(err, "")
	}
	if planned.Impossible != nil {
		return nil, problem(measure.Faulty("plan", "%s Take one of the ways out first.", planned.Impossible.Says), "")
	}
	r := pour.Run{Order: p.Order, Planned: *planned, StartedMS: atMS(in.Body.AtMS), Shrink: b.Shrink}
	return a.run(ctx, in.UID, shopOf(ctx).StartRun(ctx, in.UID, in.Body.Seen, r))
}

// atMS is when something happened: as the device says, or now.
func atMS(told int64) int64 {
	if told > 0 {
		return told
	}
	return time.Now().UnixMilli()
}

func (a *api) showRun(ctx context.Context, in *PourPath) (*runAnswer, error) {
	return a.run(ctx, in.UID, nil)
}

// running is a run with all that its state is worked out of.
type running struct {
	store.SavedPour
	bench  *pour.Bench
	events []pour.Event
	last   int
	state  *pour.RunState
}

func (a *api) running(ctx context.Context, uid string) (*running, error) {
	p, err := shopOf(ctx).Pour(ctx, uid)
	if err != nil {
		return nil, err
	}
	if p.Run == nil {
		return nil, measure.Faulty("pour", "this plan was not begun yet; begin it first")
	}
	r := &running{SavedPour: p}
	if r.bench, err = a.pourBench(ctx, &p.Run.Order); err != nil {
		return nil, err
	}
	if r.events, r.last, err = shopOf(ctx).Events(ctx, uid); err != nil {
		return nil, err
	}
	r.state, err = dear(
		ctx, a.budget, func(context.Context) (*pour.RunState, error) { return p.Run.State(r.bench, r.events) },
	)
	return r, err
}

func (a *api) run(ctx context.Context, uid string, err error) (*runAnswer, error) {
	if err != nil {
		return nil, pourProblem(err, stalePour)
	}
	r, err := a.running(ctx, uid)
	if err != nil {
		return nil, problem(err, "")
	}
	page := RunPage{
		UID: uid, Name: r.Order.Name, Run: r.SavedPour.State, State: r.state, Cooks: r.Run.Planned.Cooks,
		Heats: r.Run.Planned.Heats, Cups: []RunCup{}, Last: r.last,
		StartedMS: r.Run.StartedMS, TickS: pour.TickS, Made: r.Run.Planned.Made, Outcome: r.Outcome,
		Thermometer: a.tooled.Thermometer != nil, Whys: defectChoices(),
	}
	for _, m := range r.Order.Molds {
		page.Asked += m.Count
	}
	if r.Outcome != nil {
		page.Short = r.Outcome.Short(r.Run)
	}
	if n := len(r.events); n > 0 {
		page.LastSays = saysEvent(r.Run, &r.events[n-1])
	}
	cups, err := shopOf(ctx).CupsOfRun(ctx, uid)
	if err != nil {
		return nil, problem(err, "")
	}
	for k := range cups {
		page.Cups = append(page.Cups, runCup(&page.Cooks[k], &cups[k], r.bench.Shelf))
	}
	return &runAnswer{page}, nil
}

func runCup(c *pour.Cook, b *store.BenchCup, shelf cup.Shelf) RunCup {
	out := RunCup{UID: b.UID, Head: b.Head, Lines: []RunLine{}}
	if ml, err := b.Cup.FinishedML(shelf); err == nil {
		out.Has = measure.Number(ml, 0) + " ml"
	}
	if m, err := mix.Stir(&c.Cup, shelf); err == nil {
		out.Look = mix.NewSwatch(m.Colour(bodyLook))
	}
	for i, d := range c.Doses {
		whole, m := c.Cup.Doses[i].Amount, shelf[d.Material]
		is := b.Cup.AmountOf(d.Material)
		for _, p := range b.Cup.Out { // what was poured was in it, too
			for _, o := range p.Doses {
				if o.Material == d.Material {
					if sum, ok := is.Plus(o.Amount); ok {
						is = sum
					}
				}
			}
		}
		line := RunLine{
			Material: d.Material, Name: d.Name, When: d.When, Wants: d.Says, Spoons: []float64{}, Is: is.String(),
			Whole: whole.Value,
			Drops: whole.Unit == measure.InDrops,
		}
		if is.Unit == whole.Unit {
			line.In = is.Value
		} else if is.Value == 0 {
			line.Is = "none yet"
		}
		for _, s := range d.Scoops.Counts {
			for range s.N {
				line.Spoons = append(line.Spoons, s.TSP)
			}
		}
		if d.MaxC > 0 {
			line.MaxSays = m.Heat.Words()
		}
		out.Lines = append(out.Lines, line)
	}
	return out
}

func saysEvent(r *pour.Run, e *pour.Event) string {
	title := e.Step
	for _, s := range r.Planned.Timeline.Steps {
		if s.Key == e.Step {
			title = s.Title
		}
	}
	switch e.Kind {
	case pour.Begin:
		return "Begun: " + title
	case pour.Done:
		return "Done: " + title
	case pour.Saw:
		return fmt.Sprintf("Cup %s read at %s", r.Planned.Cooks[e.Cook].Letter, measure.Degrees(e.C))
	}
	return "Noted: " + e.Note
}

type tellRunIn struct {
	PourPath
	Body struct {
		Kind   pour.EventKind `json:"kind" enum:"begin,done,read,note"`
		Step   string         `json:"step,omitempty" maxLength:"60"`
		Cook   int            `json:"cook,omitempty" minimum:"0" maximum:"60"`
		Typed  string         `json:"typed,omitempty" maxLength:"60" doc:"What the thermometer shows, as typed"`
		BurstS float64        `json:"burstS,omitempty" minimum:"0" maximum:"3600"`
		Note   string         `json:"note,omitempty" maxLength:"400"`
		AtMS   int64          `json:"atMS,omitempty" doc:"When, by the device's clock; now where 0"`
	}
}

func (a *api) tellRun(ctx context.Context, in *tellRunIn) (*runAnswer, error) {
	if _, done, err := shopOf(ctx).Done(ctx); done || err != nil {
		return a.run(ctx, in.UID, err)
	}
	b := &in.Body
	e := pour.Event{
		Kind: b.Kind, Step: b.Step, Cook: b.Cook, BurstS: b.BurstS, Note: strings.TrimSpace(b.Note), AtMS: atMS(b.AtMS),
	}
	if strings.TrimSpace(b.Typed) != "" {
		c, err := measure.ParseTemperature(b.Typed)
		if err != nil {
			return nil, fieldProblem("typed", err.Error())
		}
		e.C = c
	}
	p, err := shopOf(ctx).Pour(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	// a burst was as long as it was said to be
	if e.Kind == pour.Done && e.BurstS == 0 && p.Run != nil && p.Run.IsBurst(e.Step) {
		r, err := a.running(ctx, in.UID)
		if err != nil {
			return nil, problem(err, "")
		}
		for _, s := range r.state.Steps {
			if s.Key == e.Step {
				e.BurstS = s.BurstS
			}
		}
	}
	return a.run(ctx, in.UID, shopOf(ctx).Happen(ctx, in.UID, e))
}

type takeBackInRunIn struct {
	PourPath
	Body struct {
		Seen int `json:"seen" doc:"Number of what happened last, as it was seen"`
	}
}

func (a *api) takeBackInRun(ctx context.Context, in *takeBackInRunIn) (*runAnswer, error) {
	err := shopOf(ctx).TakeBack(ctx, in.UID, in.Body.Seen)
	if errors.Is(err, store.ErrWorkedOn) {
		return nil, coded(
			"in-the-way",
			huma.Error409Conflict("The cup was worked on since, so this can't be taken back by itself. Take those drops back first."),
		)
	}
	if errors.Is(err, store.ErrStale) {
		return nil, coded(
			"stale",
			huma.Error409Conflict("Something else happened in this run since. It is shown as it stands now; look again before you take it back."),
		)
	}
	return a.run(ctx, in.UID, err)
}

type endRunIn struct {
	PourPath
	Body struct {
		Good    int            `json:"good"`
		Sure    bool           `json:"sure,omitempty" doc:"Keeps more baits than were filled"`
		Spoiled []pour.Spoiled `json:"spoiled,omitempty" maxItems:"20"`
		Left    []string       `json:"left,omitempty" maxItems:"60" doc:"Of each cup, as typed; empty where nobody looked"`
		Note    string         `json:"note,omitempty" maxLength:"2000"`
		AtMS    int64          `json:"atMS,omitempty"`
	}
}

func (a *api) endRun(ctx context.Context, in *endRunIn) (*runAnswer, error) {
	if _, done, err := shopOf(ctx).Done(ctx); done || err != nil {
		return a.run(ctx, in.UID, err)
	}
	u := pour.Outcome{
		Good: in.Body.Good, Spoiled: in.Body.Spoiled, LeftML: []float64{}, Note: strings.TrimSpace(in.Body.Note),
		AtMS: atMS(in.Body.AtMS),
	}
	if u.Spoiled == nil {
		u.Spoiled = []pour.Spoiled{}
	}
	for i, typed := range in.Body.Left {
		ml := -1.0
		switch text := strings.TrimSpace(typed); text {
		case "":
		case "0", "none", "nothing", "0 ml":
			ml = 0
		default:
			v, err := measure.ParseVolume(text)
			if err != nil {
				return nil, fieldProblem(fmt.Sprintf("left.%d", i), err.Error())
			}
			ml = v.ML
		}
		u.LeftML = append(u.LeftML, ml)
	}
	r, err := a.running(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	if !in.Body.Sure {
		if err := u.Doubt(r.Run); err != nil {
			return nil, problem(err, "")
		}
	}
	return a.run(ctx, in.UID, shopOf(ctx).EndRun(ctx, in.UID, u, r.state.HeatDoses()))
}

// planRest plans what is lacking, from what is left.
func (a *api) planRest(ctx context.Context, in *PourPath) (*pourAnswer, error) {
	if uid, done, err := shopOf(ctx).Done(ctx); done || err != nil {
		p, err2 := shopOf(ctx).Pour(ctx, uid)
		return a.pourPage(ctx, p, errors.Join(err, err2))
	}
	p, err := shopOf(ctx).Pour(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	if p.Outcome == nil {
		return nil, fieldProblem("pour", "end this run first: then it is known what is lacking")
	}
	o, short := p.Outcome.Again(p.Run)
	if !short {
		return nil, fieldProblem("pour", "nothing is lacking: as many came out as were asked")
	}
	made, err := shopOf(ctx).AddPour(ctx, o)
	return a.pourPage(ctx, made, err)
}

type readThermometerIn struct {
	PourPath
	Cook int `path:"cook" minimum:"0" maximum:"60"`
}

func (a *api) readThermometer(ctx context.Context, in *readThermometerIn) (*struct {
	Body struct {
		C     float64 `json:"c"`
		Says  string  `json:"says"`
		About string  `json:"about"`
	}
}, error,
) {
	if a.tooled.Thermometer == nil {
		return nil, huma.Error404NotFound("No thermometer is connected. Type what yours shows.")
	}
	r, err := a.running(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	if in.Cook >= len(r.Run.Planned.Cooks) {
		return nil, fieldProblem("cook", "this run has no such cup")
	}
	out := &struct {
		Body struct {
			C     float64 `json:"c"`
			Says  string  `json:"says"`
			About string  `json:"about"`
		}
	}{}
	c := &r.Run.Planned.Cooks[in.Cook]
	told := Told{
		ML: c.MeasuredML, GML: c.GML, RoomC: r.bench.RoomC, NowS: float64(r.state.LastMS-r.Run.StartedMS) / 1000,
	}
	for _, b := range r.Run.Bursts(in.Cook, r.events) {
		told.Bursts = append(told.Bursts, ToldBurst{r.bench.Heaters[0].PowerW, b.Seconds, b.AtS})
	}
	out.Body.C = a.tooled.Thermometer.Read(fmt.Sprint(in.UID, " ", in.Cook), told)
	out.Body.Says, out.Body.About = measure.Degrees(out.Body.C), a.tooled.Thermometer.About()
	return out, nil
}

func (a *api) runSheet(ctx context.Context, in *PourPath) (*fileAnswer, error) {
	p, err := shopOf(ctx).Pour(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	planned := &pour.Planned{}
	if p.Run != nil {
		planned = &p.Run.Planned
	} else {
		b, err := a.pourBench(ctx, &p.Order)
		if err != nil {
			return nil, problem(err, "")
		}
		if planned, err = dear(
			ctx, a.budget, func(context.Context) (*pour.Planned, error) { return p.Order.Figure(b) },
		); err != nil {
			return nil, problem(err, "")
		}
	}
	if planned.Timeline == nil {
		return nil, fieldProblem(
			"pour", "this plan can't be poured as it is, so there is no sheet of it: take one of the ways out first",
		)
	}
	pdf, err := format.RunSheet(&p.Order, planned)
	return &fileAnswer{
		"application/pdf", fmt.Sprintf("attachment; filename=%q", plainName(p.Order.Name)+".pdf"), pdf,
	}, problem(err, "")
}
