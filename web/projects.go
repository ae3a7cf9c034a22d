package web

import (
	"context"
	"fmt"
	"strings"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/learn"
	"cloudburst/core/match"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/project"
	"cloudburst/core/recipe"
	"cloudburst/store"
)

// ProjectCard is a project with its trail.
type ProjectCard struct {
	store.SavedProject
	Photo    string      `json:"photo,omitempty" doc:"uid of the reference's photo"`
	Trail    []PartTrail `json:"trail" nullable:"false" doc:"Part by part"`
	SpentML  float64     `json:"spentML" doc:"Plastic that went into its batches"`
	Spent    float64     `json:"spent" doc:"What that cost, as far as prices are known"`
	Currency string      `json:"currency"`
	Teaches  []Taught    `json:"teaches" nullable:"false" doc:"What its batches say of the bottles in them"`
}

// PartTrail is a part with every batch that was poured for it.
type PartTrail struct {
	Name   string       `json:"name"`
	Stop   float64      `json:"stop" doc:"The line to get under, ΔE00"`
	OfBag  bool         `json:"ofBag" doc:"That line is how far the baits of its bag differ"`
	Wanted []mix.Swatch `json:"wanted" nullable:"false"`
	Tries  []Try        `json:"tries" nullable:"false" doc:"In the order in which they were poured"`
	Best   int          `json:"best" doc:"Which of them came nearest; -1 for none"`
	Enough bool         `json:"enough"`
}

// Try is a batch in a trail.
type Try struct {
	UID      string   `json:"uid"`
	PouredOn string   `json:"pouredOn"`
	Says     string   `json:"says" doc:"The maker's own words"`
	Photo    string   `json:"photo,omitempty"`
	Changed  []string `json:"changed" nullable:"false" doc:"Since the one before it"`
	Went     string   `json:"went" doc:"What went in, in a line"`
	ML       float64  `json:"ml"`
	Price    float64  `json:"price"`
	Misfits  []string `json:"misfits" nullable:"false" doc:"Readings that do not fit the others, in words"`
	project.Standing
}

// Taught is what batches say of a bottle, in short.
type Taught struct {
	UID      string            `json:"uid"`
	Name     string            `json:"name"`
	Says     string            `json:"says"`
	Accepted bool              `json:"accepted"`
	Revision int               `json:"revision"`
	Before   mix.Swatch        `json:"before"`
	After    mix.Swatch        `json:"after"`
	Differs  colour.Difference `json:"differs"`
}

// ProjectItem is a project in a list.
type ProjectItem struct {
	store.SavedProject
	Photo  string         `json:"photo,omitempty"`
	Wanted [][]mix.Swatch `json:"wanted" nullable:"false" doc:"Part by part"`
}

const staleProject = "This project was changed from another window since you opened it. It is shown as it stands now; do it again if it still fits."

// ProjectPath names a project.
type ProjectPath struct {
	UID string `path:"project" maxLength:"64" format:"uid"`
}

type projectAnswer struct{ Body ProjectCard }

func (a *api) projectRoutes() {
	get(a, "listProjects", "/projects", a.listProjects)
	post(a, "openProject", "/projects", a.openProject)
	get(a, "showProject", "/projects/{project}", a.showProject)
	patch(a, "changeProject", "/projects/{project}", a.changeProject)
	post(a, "nextStep", "/projects/{project}/next", a.nextStep, asks)
	post(a, "pourNext", "/projects/{project}/bench", a.pourNext)
}

func (a *api) listProjects(ctx context.Context, in *PageQuery) (*struct{ Body store.Listed[ProjectItem] }, error) {
	list, err := shopOf(ctx).Projects(ctx, in.page())
	if err != nil {
		return nil, problem(err, "")
	}
	out, err := eachOf(list, func(p store.SavedProject) (ProjectItem, error) {
		item := ProjectItem{SavedProject: p, Wanted: [][]mix.Swatch{}}
		for i := range p.Parts {
			item.Wanted = append(item.Wanted, wanted(&p.Parts[i]))
		}
		item.Photo = a.photoOf(ctx, p.Reference)
		return item, nil
	})
	return &struct{ Body store.Listed[ProjectItem] }{out}, problem(err, "")
}

// photoOf is the photo of a reference; none where that is gone.
func (a *api) photoOf(ctx context.Context, uid string) string {
	if uid == "" {
		return ""
	}
	if r, err := shopOf(ctx).Reference(ctx, uid); err == nil && r.Photo != nil {
		return r.Photo.UID
	}
	return ""
}

func wanted(p *project.Sought) []mix.Swatch {
	out := []mix.Swatch{}
	for _, t := range p.Targets {
		out = append(out, mix.NewSwatch(t.Lab))
	}
	return out
}

type openProjectIn struct {
	Body struct {
		Name      string `json:"name" maxLength:"200"`
		Reference string `json:"reference" maxLength:"64" format:"uid" doc:"uid of what it is to look like; each part that is pinned there becomes one of the project's"`
		Volume    string `json:"volume,omitempty" maxLength:"60" doc:"Of a test cup, as typed; half a cup where empty"`
		Plastisol string `json:"plastisol,omitempty" maxLength:"64" format:"uid" doc:"The first of the shelf where empty"`
	}
}

func (a *api) openProject(ctx context.Context, in *openProjectIn) (*projectAnswer, error) {
	r, err := shopOf(ctx).Reference(ctx, in.Body.Reference)
	if err != nil {
		return nil, problem(err, "")
	}
	p := project.Project{Name: strings.TrimSpace(in.Body.Name), Reference: r.UID, Plastisol: in.Body.Plastisol, Most: 4}
	if p.Name == "" {
		p.Name = r.Name
	}
	typed := in.Body.Volume
	if strings.TrimSpace(typed) == "" {
		typed = "1/2 cup"
	}
	if p.Volume, err = measure.ParseVolume(typed); err != nil {
		return nil, problem(&measure.Fault{Field: "volume", Says: err.Error()}, "")
	}
	if p.Plastisol == "" {
		items, err := shopOf(ctx).Materials(ctx)
		if err != nil {
			return nil, problem(err, "")
		}
		if len(items) > 0 && items[0].Plastisol != nil {
			p.Plastisol = items[0].UID
		}
	}
	p.Parts = project.PartsOf(r.Name, r.UID, r.Pins)
	saved, err := shopOf(ctx).AddProject(ctx, p)
	return a.project(ctx, saved, err)
}

func (a *api) showProject(ctx context.Context, in *ProjectPath) (*projectAnswer, error) {
	p, err := shopOf(ctx).Project(ctx, in.UID)
	return a.project(ctx, p, err)
}

type changeProjectIn struct {
	ProjectPath
	Body struct {
		Seen   int          `json:"seen" doc:"The revision that was seen"`
		Name   *string      `json:"name,omitempty" maxLength:"200"`
		Notes  *string      `json:"notes,omitempty" maxLength:"4000"`
		Volume *string      `json:"volume,omitempty" maxLength:"60" doc:"As typed"`
		Allow  *match.Allow `json:"allow,omitempty"`
		Most   int          `json:"most,omitempty" minimum:"0" maximum:"6" doc:"As before where 0"`
	}
}

func (a *api) changeProject(ctx context.Context, in *changeProjectIn) (*projectAnswer, error) {
	p, err := shopOf(ctx).Project(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	b := &in.Body
	if b.Name != nil {
		p.Name = strings.TrimSpace(*b.Name)
	}
	if b.Notes != nil {
		p.Notes = *b.Notes
	}
	if b.Volume != nil {
		if p.Volume, err = measure.ParseVolume(*b.Volume); err != nil {
			return nil, problem(&measure.Fault{Field: "volume", Says: err.Error()}, "")
		}
	}
	if b.Allow != nil {
		p.Allow = *b.Allow
	}
	if b.Most > 0 {
		p.Most = b.Most
	}
	saved, err := shopOf(ctx).ChangeProject(ctx, in.UID, b.Seen, p.Project)
	return a.project(ctx, saved, err)
}

// trail is a project with everything that was poured for it.
type trail struct {
	p       store.SavedProject
	batches []store.SavedBatch
	lessons *store.Lessons
	taught  *learn.Learnt // of the bottles of which it is accepted
	plain   cup.Shelf
	shelf   cup.Shelf
	owned   []match.Owned // retired ones, too: they have their price
	usable  []match.Owned
	items   []store.ShelfItem
}

func (a *api) trail(ctx context.Context, p store.SavedProject) (*trail, error) {
	t := &trail{p: p}
	var err error
	if t.batches, err = shopOf(ctx).BatchesFor(ctx, p.UID); err != nil {
		return nil, err
	}
	if t.lessons, err = a.lessons(ctx); err != nil {
		return nil, err
	}
	if t.shelf, err = shopOf(ctx).Shelf(ctx); err != nil {
		return nil, err
	}
	if t.items, err = shopOf(ctx).AllMaterials(ctx); err != nil {
		return nil, err
	}
	t.plain = cup.Shelf{}
	var accepted []string
	for i := range t.items {
		m := &t.items[i]
		t.plain[m.UID] = m.Material
		if m.Accepted {
			accepted = append(accepted, m.UID)
		}
		one := match.Owned{Material: &m.Material, Stock: &m.Stock}
		t.owned = append(t.owned, one)
		if !m.Retired {
			t.usable = append(t.usable, one)
		}
	}
	t.taught = t.lessons.Of(accepted)
	return t, nil
}

// tries are the batches of a part with how each stands to it.
func (t *trail) tries(part *project.Sought) ([]Try, []project.Attempt, error) {
	tries, tried := []Try{}, []project.Attempt{}
	for i := range t.batches {
		b := &t.batches[i]
		if !strings.EqualFold(b.Part, part.Name) {
			continue
		}
		is := b.Cup(t.shelf)
		mixed, err := mix.Stir(&is, t.shelf)
		if err != nil {
			return nil, nil, err
		}
		m := mixed
		if b.Outcome.Unknown {
			m = nil
		}
		read := make([]recipe.PartReading, len(b.Readings))
		for k, r := range b.Readings {
			read[k] = r.PartReading
		}
		v := project.Judge(part, read, m)
		one := Try{
			UID: b.UID, PouredOn: b.PouredOn, Says: b.Verdict, Photo: b.Photo, Changed: []string{}, Went: t.went(&is),
			ML: mixed.FinishedML, Price: project.Price(&is, t.owned),
			Misfits: misfitsOf(t.lessons, b), Standing: v,
		}
		if b.Outcome.Unknown {
			one.Went, one.Price = "Nobody knows what went in.", 0
		} else if was := project.LastKnown(tried); was != nil {
			one.Changed = cup.Changed(&was.Cup, &is, t.shelf)
		}
		tries = append(tries, one)
		tried = append(
			tried,
			project.Attempt{
				Cup: is, Unknown: b.Outcome.Unknown, LeftML: b.Outcome.LeftML, Standing: v,
				Called: fmt.Sprintf("batch %d", len(tried)+1),
			},
		)
	}
	return tries, tried, nil
}

func (t *trail) went(c *cup.Cup) string {
	var said []string
	for _, d := range c.Doses {
		m := t.shelf[d.Material]
		said = append(said, d.Amount.String()+" "+m.Name)
	}
	if len(said) == 0 {
		return "Clear plastisol."
	}
	return strings.Join(said, ", ") + " in " + c.Volume.Typed + "."
}

func (a *api) project(ctx context.Context, p store.SavedProject, err error) (*projectAnswer, error) {
	if err != nil {
		return nil, problem(err, staleProject)
	}
	t, err := a.trail(ctx, p)
	if err != nil {
		return nil, problem(err, "")
	}
	card := ProjectCard{SavedProject: p, Photo: a.photoOf(ctx, p.Reference), Trail: []PartTrail{}, Teaches: []Taught{}}
	if _, card.Currency, err = shopOf(ctx).About(ctx); err != nil {
		return nil, problem(err, "")
	}
	for i := range p.Parts {
		part := &p.Parts[i]
		tries, tried, err := t.tries(part)
		if err != nil {
			return nil, problem(err, "")
		}
		standings := make([]project.Standing, len(tried))
		for k := range tried {
			standings[k] = tried[k].Standing
			card.SpentML, card.Spent = card.SpentML+tries[k].ML, card.Spent+tries[k].Price
		}
		best := project.Best(standings)
		card.Trail = append(card.Trail, PartTrail{
			Name: part.Name, Stop: part.Stop(), OfBag: part.OfBag(), Wanted: wanted(part), Tries: tries, Best: best,
			Enough: best >= 0 && standings[best].Enough,
		})
	}
	card.Teaches = t.teaches()
	return &projectAnswer{card}, nil
}

// teaches is what batches say of the bottles that are in the project's.
func (t *trail) teaches() []Taught {
	out := []Taught{}
	in := map[string]bool{}
	for i := range t.batches {
		for _, g := range t.batches[i].Additions {
			for _, d := range g.Doses {
				in[d.Material] = true
			}
		}
	}
	for i := range t.items {
		m := &t.items[i]
		l := t.lessons.Bottle(m.UID)
		if !in[m.UID] || l == nil {
			continue
		}
		change, ok := learn.ChangeOf(m.Material, l, t.shelf)
		if !ok {
			continue
		}
		last := len(change.Before) - 1
		out = append(out, Taught{
			m.UID, m.Name, learn.Says(l), m.Accepted, m.Revision,
			mix.NewSwatch(change.Before[last]), mix.NewSwatch(change.After[last]), change.Differs,
		})
	}
	return out
}

type nextStepIn struct {
	ProjectPath
	Body struct {
		Part string `json:"part" maxLength:"40"`
	}
}

func (a *api) nextStep(ctx context.Context, in *nextStepIn) (*struct{ Body project.Advice }, error) {
	p, err := shopOf(ctx).Project(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	part, ok := p.Part(in.Body.Part)
	if !ok {
		return nil, fieldProblem("part", "This project has no part of that name; choose one of its own.")
	}
	t, err := a.trail(ctx, p)
	if err != nil {
		return nil, problem(err, "")
	}
	_, tried, err := t.tries(part)
	if err != nil {
		return nil, problem(err, "")
	}
	kit, _, err := shopOf(ctx).Kit(ctx)
	if err != nil {
		return nil, problem(err, "")
	}
	advice, err := dear(ctx, a.budget, func(ctx context.Context) (*project.Advice, error) {
		return p.Next(ctx, part, tried, &project.AtHand{Learnt: t.taught, Owned: t.usable, Shelf: t.plain, Kit: kit})
	})
	if err != nil {
		return nil, problem(err, "")
	}
	return &struct{ Body project.Advice }{*advice}, nil
}

type pourNextIn struct {
	ProjectPath
	Body struct {
		Part string  `json:"part" maxLength:"40"`
		Cup  cup.Cup `json:"cup" doc:"As the next step has it"`
	}
}

// pourNext puts a next step on the bench, as a cup that knows what it is for.
func (a *api) pourNext(ctx context.Context, in *pourNextIn) (*struct {
	Body struct {
		Cup string `json:"cup" doc:"uid of the new cup on the bench"`
	}
}, error,
) {
	p, err := shopOf(ctx).Project(ctx, in.UID)
	if err != nil {
		return nil, problem(err, "")
	}
	part, ok := p.Part(in.Body.Part)
	if !ok {
		return nil, fieldProblem("part", "This project has no part of that name; choose one of its own.")
	}
	live := cup.Live{Cup: in.Body.Cup, Part: part.Name, For: p.UID}
	live.Target = &part.Targets[0]
	made, err := shopOf(ctx).NewCups(
		ctx, []store.NamedCup{{Name: cup.ShortName(p.Name + ": " + part.Name), Live: live}}, nil,
	)
	if err != nil {
		return nil, problem(err, "")
	}
	out := &struct {
		Body struct {
			Cup string `json:"cup" doc:"uid of the new cup on the bench"`
		}
	}{}
	out.Body.Cup = made[0]
	return out, nil
}
