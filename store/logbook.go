package store

import (
	"context"
	"database/sql"
	"strings"
	"time"

	"cloudburst/core/colour"
	"cloudburst/core/logbook"
)

// SavedEntry is a log entry as it is kept.
type SavedEntry struct {
	UID      string         `json:"uid"`
	Revision int            `json:"revision" doc:"Counts the changes; send it back with the next one"`
	Kept     Kept           `json:"kept" enum:"here,away,deleted"`
	Pour     string         `json:"pour,omitempty" doc:"uid of the run that it is of"`
	Season   logbook.Season `json:"season" enum:"spring,summer,autumn,winter"`
	logbook.Entry
	day time.Time
}

const entryQuery = `SELECT uid, name, day, entry, season, revision, kept, COALESCE(pour_uid, '') FROM log_entry WHERE shop_id = ?`

func scanEntry(row interface{ Scan(...any) error }) (SavedEntry, error) {
	var e SavedEntry
	var doc []byte
	var name string
	if err := row.Scan(&e.UID, &name, &e.day, &doc, &e.Season, &e.Revision, &e.Kept, &e.Pour); err != nil {
		return e, err
	}
	err := entryForm.read(doc, &e.Entry)
	e.Title = name
	return e, err
}

// EntriesAsked say which entries are wanted.
type EntriesAsked struct {
	Words  []string // all of them
	Season logbook.Season
	Near   *colour.Lab // within nearBy of it
	Page
}

// nearBy is how far, in Lab, a colour may be that is called near.
const nearBy = 18.0

// Entries lists the log, newest day first.
func (sh *Shop) Entries(ctx context.Context, q EntriesAsked) (Listed[SavedEntry], error) {
	where, args, err := q.older("day", "uid")
	if err != nil {
		return Listed[SavedEntry]{}, err
	}
	all := []any{sh.id}
	cond := q.kept("log_entry")
	for _, w := range q.Words {
		cond += " AND words LIKE ?"
		all = append(all, "%"+likely.Replace(w)+"%")
	}
	if q.Season != "" {
		cond += " AND season = ?"
		all = append(all, q.Season)
	}
	if q.Near != nil {
		cond += " AND lab_l BETWEEN ? AND ? AND lab_a BETWEEN ? AND ? AND lab_b BETWEEN ? AND ? AND POW(lab_l - ?, 2) + POW(lab_a - ?, 2) + POW(lab_b - ?, 2) < ?"
		for _, v := range []float64{q.Near.L, q.Near.A, q.Near.B} {
			all = append(all, v-nearBy, v+nearBy)
		}
		all = append(all, q.Near.L, q.Near.A, q.Near.B, nearBy*nearBy)
	}
	query := entryQuery
	if len(q.Words) > 0 || q.Near != nil { // all rows in their own order are read sooner than by day, one by one
		query = strings.Replace(query, "FROM log_entry", "FROM log_entry IGNORE INDEX (by_day)", 1)
	}
	list := []SavedEntry{}
	err = sh.eachRow(ctx, query+cond+where+" ORDER BY day DESC, uid DESC LIMIT ?", append(
		append(all, args...), q.Most+1,
	), func(row *sql.Rows) error {
		e, err := scanEntry(row)
		list = append(list, e)
		return err
	})
	return cut(list, q.Most, func(e *SavedEntry) string { return cursorOf(stamped(e.day), e.UID) }), err
}

// likely makes what means something in a LIKE mean itself.
var likely = strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`)

// Entry is one of them.
func (sh *Shop) Entry(ctx context.Context, uid string) (SavedEntry, error) {
	e, err := scanEntry(sh.db.QueryRowContext(ctx, entryQuery+" AND uid = ?", sh.id, uid))
	return e, notFound(err)
}

// entryColumns are an entry's, in the order of the statements below.
func entryColumns(e *logbook.Entry) ([]any, error) {
	doc, err := entryForm.write(e)
	if err != nil {
		return nil, err
	}
	var l, a, b sql.NullFloat64
	if c := e.Colour; c != nil {
		l, a, b = sql.NullFloat64{Float64: c.L, Valid: true}, sql.NullFloat64{Float64: c.A, Valid: true}, sql.NullFloat64{Float64: c.B, Valid: true}
	}
	return []any{e.Day, e.Title, doc, e.Text(), e.Season(), l, a, b, e.Good, e.Spoiled, e.Caught, e.Sold}, nil
}

func addEntry(ctx context.Context, tx *sql.Tx, shop int64, e logbook.Entry, pourUID string) (string, error) {
	columns, err := entryColumns(&e)
	if err != nil {
		return "", err
	}
	uid := newUID()
	_, err = tx.ExecContext(ctx, `INSERT INTO log_entry (day, name, entry, words, season, lab_l, lab_a, lab_b, good, spoiled, caught, sold, shop_id, uid, pour_uid)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, append(columns, shop, uid, sql.NullString{String: pourUID, Valid: pourUID != ""})...)
	return uid, err
}

// AddEntry writes one down.
func (sh *Shop) AddEntry(ctx context.Context, e logbook.Entry) (SavedEntry, error) {
	e.Tidy()
	if err := e.Check(); err != nil {
		return SavedEntry{}, err
	}
	uid, err := sh.write(ctx, func(tx *sql.Tx) (string, error) { return addEntry(ctx, tx, sh.id, e, "") })
	if err != nil {
		return SavedEntry{}, err
	}
	return sh.Entry(ctx, uid)
}

// ChangeEntry keeps another text of one, if nobody changed it since it was seen.
func (sh *Shop) ChangeEntry(ctx context.Context, uid string, seen int, e logbook.Entry) (SavedEntry, error) {
	e.Tidy()
	if err := e.Check(); err != nil {
		return SavedEntry{}, err
	}
	columns, err := entryColumns(&e)
	if err != nil {
		return SavedEntry{}, err
	}
	if err := sh.change(ctx, func(tx *sql.Tx) error {
		if err := holdAt(
			ctx, tx, seen, "SELECT revision FROM log_entry WHERE shop_id = ? AND uid = ? FOR UPDATE", sh.id, uid,
		); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, `UPDATE log_entry SET day = ?, name = ?, entry = ?, words = ?, season = ?, lab_l = ?, lab_a = ?, lab_b = ?, good = ?, spoiled = ?, caught = ?, sold = ?,
			revision = revision + 1 WHERE shop_id = ? AND uid = ?`, append(columns, sh.id, uid)...)
		return err
	}); err != nil {
		return SavedEntry{}, err
	}
	return sh.Entry(ctx, uid)
}

// Month is what a month of the log comes to.
type Month struct {
	Month   string `json:"month" doc:"YYYY-MM"`
	Good    int    `json:"good"`
	Spoiled int    `json:"spoiled"`
	Caught  int    `json:"caught"`
	Sold    int    `json:"sold"`
}

// Months are the last twelve of which there is something, oldest first.
func (sh *Shop) Months(ctx context.Context) ([]Month, error) {
	list := []Month{}
	err := sh.eachRow(ctx, `SELECT * FROM (SELECT DATE_FORMAT(day, '%Y-%m') month, SUM(good), SUM(spoiled), SUM(caught), SUM(sold) FROM log_entry
		WHERE shop_id = ? AND kept = 'here' GROUP BY month ORDER BY month DESC LIMIT 12) m ORDER BY month`, []any{sh.id}, func(row *sql.Rows) error {
		var m Month
		err := row.Scan(&m.Month, &m.Good, &m.Spoiled, &m.Caught, &m.Sold)
		list = append(list, m)
		return err
	})
	return list, err
}
