package web

import (
	"context"

	"cloudburst/core/colour"
	"cloudburst/core/logbook"
	"cloudburst/core/mix"
	"cloudburst/store"
)

// LogEntry is an entry of the logbook.
type LogEntry struct {
	store.SavedEntry
	Says string      `json:"says" doc:"What came of it, in a line"`
	Look *mix.Swatch `json:"look,omitempty"`
}

const staleEntry = "This entry was changed from another window since you opened it. It is shown as it stands now; enter yours again if it still fits."

// EntryPath names an entry.
type EntryPath struct {
	UID string `path:"entry" maxLength:"64" format:"uid"`
}

type entryAnswer struct{ Body LogEntry }

func (a *api) logRoutes() {
	get(a, "listLog", "/log", a.listLog)
	post(a, "addEntry", "/log", a.addEntry)
	get(a, "showYear", "/log/year", a.showYear)
	get(a, "showEntry", "/log/{entry}", a.showEntry)
	put(a, "changeEntry", "/log/{entry}", a.changeEntry)
}

func logEntry(e store.SavedEntry) LogEntry {
	out := LogEntry{SavedEntry: e, Says: e.Says()}
	if e.Colour != nil {
		s := mix.NewSwatch(*e.Colour)
		out.Look = &s
	}
	return out
}

type listLogIn struct {
	PageQuery
	Find   string `query:"find" maxLength:"200" doc:"Words, tags with a # before: all of them"`
	Season string `query:"season" enum:"spring,summer,autumn,winter"`
	Near   string `query:"near" maxLength:"60" doc:"A colour in words, such as dark olive"`
}

func (a *api) listLog(ctx context.Context, in *listLogIn) (*struct{ Body store.Listed[LogEntry] }, error) {
	q := store.EntriesAsked{Words: logbook.Sought(in.Find), Season: logbook.Season(in.Season), Page: in.page()}
	if in.Near != "" {
		lab, err := colour.FromWords(in.Near)
		if err != nil {
			return nil, fieldProblem("near", err.Error())
		}
		q.Near = &lab
	}
	list, err := shopOf(ctx).Entries(ctx, q)
	if err != nil {
		return nil, problem(err, "")
	}
	out, err := eachOf(list, func(e store.SavedEntry) (LogEntry, error) { return logEntry(e), nil })
	return &struct{ Body store.Listed[LogEntry] }{out}, problem(err, "")
}

// entryOf fills in the colour of the recipe that an entry names, and refuses a recipe or photo that is not there.
func (a *api) entryOf(ctx context.Context, e logbook.Entry) (logbook.Entry, error) {
	if e.Photo != "" {
		if _, err := shopOf(ctx).PhotoInfoOf(ctx, e.Photo); err != nil {
			return e, noneAt(err, "photo", "this photo is no longer there; take it once more")
		}
	}
	if e.Recipe == "" || e.Colour != nil {
		return e, nil
	}
	r, err := shopOf(ctx).Recipe(ctx, e.Recipe)
	if err != nil {
		return e, noneAt(err, "recipe", "this recipe is no longer there; choose another")
	}
	shelf, err := shopOf(ctx).Shelf(ctx)
	if err != nil {
		return e, err
	}
	if m, err := mix.Stir(&r.Cup, shelf); err == nil { // one that can't be worked out has no colour
		lab := m.Colour(mix.Compared)
		e.Colour = &lab
	}
	return e, nil
}

func (a *api) addEntry(ctx context.Context, in *struct{ Body logbook.Entry }) (*entryAnswer, error) {
	if uid, done, err := shopOf(ctx).Done(ctx); done || err != nil {
		e, err2 := shopOf(ctx).Entry(ctx, uid)
		if err == nil {
			err = err2
		}
		return &entryAnswer{logEntry(e)}, problem(err, "")
	}
	full, err := a.entryOf(ctx, in.Body)
	if err != nil {
		return nil, problem(err, "")
	}
	e, err := shopOf(ctx).AddEntry(ctx, full)
	return &entryAnswer{logEntry(e)}, problem(err, "")
}

func (a *api) showEntry(ctx context.Context, in *EntryPath) (*entryAnswer, error) {
	e, err := shopOf(ctx).Entry(ctx, in.UID)
	return &entryAnswer{logEntry(e)}, problem(err, "")
}

type changeEntryIn struct {
	EntryPath
	Body struct {
		logbook.Entry
		Seen int `json:"seen" doc:"The revision that was seen"`
	}
}

func (a *api) changeEntry(ctx context.Context, in *changeEntryIn) (*entryAnswer, error) {
	full, err := a.entryOf(ctx, in.Body.Entry)
	if err != nil {
		return nil, problem(err, "")
	}
	e, err := shopOf(ctx).ChangeEntry(ctx, in.UID, in.Body.Seen, full)
	return &entryAnswer{logEntry(e)}, problem(err, staleEntry)
}

func (a *api) showYear(ctx context.Context, _ *struct{}) (*struct {
	Body struct {
		Months []store.Month `json:"months" nullable:"false"`
	}
}, error,
) {
	out := &struct {
		Body struct {
			Months []store.Month `json:"months" nullable:"false"`
		}
	}{}
	var err error
	out.Body.Months, err = shopOf(ctx).Months(ctx)
	return out, problem(err, "")
}
