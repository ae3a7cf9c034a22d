package store

import (
	"context"
	"database/sql"
	"slices"
	"strings"
	"time"

	"cloudburst/core/cup"
	"cloudburst/core/leftover"
	"cloudburst/core/measure"
)

// SavedLeftover is a leftover as it is kept.
type SavedLeftover struct {
	UID      string `json:"uid"`
	Revision int    `json:"revision" doc:"Counts the changes; send it back with the next one"`
	Kept     Kept   `json:"kept" enum:"here,away,deleted"`
	Pour     string `json:"pour,omitempty" doc:"uid of the run that left it"`
	leftover.Leftover
	touchedAt time.Time
}

const leftoverQuery = `SELECT uid, name, doc, revision, COALESCE(pour_uid, ''), kept, touched_at FROM leftover WHERE shop_id = ?`

func scanLeftover(row interface{ Scan(...any) error }) (SavedLeftover, error) {
	var l SavedLeftover
	var doc []byte
	var name string
	if err := row.Scan(&l.UID, &name, &doc, &l.Revision, &l.Pour, &l.Kept, &l.touchedAt); err != nil {
		return l, err
	}
	err := leftoverForm.read(doc, &l.Leftover)
	l.Name = name
	return l, err
}

// Leftovers lists them, the one that was touched last first.
func (sh *Shop) Leftovers(ctx context.Context, page Page) (Listed[SavedLeftover], error) {
	where, args, err := page.older("touched_at", "uid")
	if err != nil {
		return Listed[SavedLeftover]{}, err
	}
	list := []SavedLeftover{}
	err = sh.eachRow(ctx, leftoverQuery+page.kept("leftover")+where+" ORDER BY touched_at DESC, uid DESC LIMIT ?",
		append(append([]any{sh.id}, args...), page.Most+1), func(row *sql.Rows) error {
			l, err := scanLeftover(row)
			list = append(list, l)
			return err
		})
	return cut(list, page.Most, func(l *SavedLeftover) string { return cursorOf(stamped(l.touchedAt), l.UID) }), err
}

// Leftover is one of them.
func (sh *Shop) Leftover(ctx context.Context, uid string) (SavedLeftover, error) {
	l, err := scanLeftover(sh.db.QueryRowContext(ctx, leftoverQuery+" AND uid = ?", sh.id, uid))
	return l, notFound(err)
}

const roomForLeftovers = "SELECT COUNT(*) FROM leftover WHERE shop_id = ? AND kept = 'here' FOR UPDATE"

func addLeftover(ctx context.Context, tx *sql.Tx, shop int64, l leftover.Leftover, pourUID string) (string, error) {
	if err := room(ctx, tx, roomForLeftovers, shop); err != nil {
		return "", err
	}
	doc, err := leftoverForm.write(l)
	if err != nil {
		return "", err
	}
	uid := newUID()
	_, err = tx.ExecContext(ctx,
		"INSERT INTO leftover (shop_id, uid, name, doc, pour_uid) VALUES (?, ?, ?, ?, ?)", shop, uid, l.Name, doc,
		sql.NullString{String: pourUID, Valid: pourUID != ""})
	return uid, err
}

// AddLeftover keeps one.
func (sh *Shop) AddLeftover(ctx context.Context, l leftover.Leftover) (SavedLeftover, error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return SavedLeftover{}, err
	}
	if err := l.Check(shelf); err != nil {
		return SavedLeftover{}, err
	}
	uid, err := sh.write(ctx, func(tx *sql.Tx) (string, error) { return addLeftover(ctx, tx, sh.id, l, "") })
	if err != nil {
		return SavedLeftover{}, err
	}
	return sh.Leftover(ctx, uid)
}

// KeepCup keeps what is in a cup on the bench as a leftover; the cup leaves the bench.
func (sh *Shop) KeepCup(ctx context.Context, cupUID, name, day string, nowMS int64) (SavedLeftover, error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return SavedLeftover{}, err
	}
	uid, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		b, err := readCup(ctx, tx, sh.id, cupUID, "FOR UPDATE")
		if err != nil {
			return "", err
		}
		if b.Kept != Here {
			return "", measure.Faulty("cup", "this cup is no longer on the bench")
		}
		h := leftover.History{}
		if w := b.Cup.WarmthAt(nowMS); w != nil {
			h.HeatsMean, h.HeatsMost = float64(w.Heats), float64(w.Heats)
		}
		if strings.TrimSpace(name) == "" {
			name, _ = b.Cup.Called(b.Own, "")
		}
		l := leftover.Leftover{
			Name: cup.ShortName(strings.TrimSpace(name)), From: "from the bench", Kind: leftover.RestOfCup, Day: day,
			Tub: leftover.OfCup(&b.Cup.Cup, h, shelf),
		}
		if err := l.Check(shelf); err != nil {
			return "", err
		}
		made, err := addLeftover(ctx, tx, sh.id, l, "")
		if err != nil {
			return "", err
		}
		return made, setOne(ctx, tx, "UPDATE cup SET kept = 'away' WHERE shop_id = ? AND uid = ?", sh.id, cupUID)
	})
	if err != nil {
		return SavedLeftover{}, err
	}
	return sh.Leftover(ctx, uid)
}

// holdLeftover locks one that is here, if nobody changed it since it was seen.
func holdLeftover(ctx context.Context, tx *sql.Tx, shop int64, uid string, seen int) (SavedLeftover, error) {
	l, err := scanLeftover(tx.QueryRowContext(ctx, leftoverQuery+" AND uid = ? FOR UPDATE", shop, uid))
	switch {
	case err != nil:
		return l, notFound(err)
	case l.Kept != Here:
		return l, measure.Faulty("uid", "%s was used up or put away; look at the list again", l.Name)
	case seen > 0 && l.Revision != seen:
		return l, ErrStale
	}
	return l, nil
}

// putLeftover writes down what a leftover is now; one of which nothing is left is put away.
func putLeftover(ctx context.Context, tx *sql.Tx, shop int64, l *SavedLeftover, of leftover.Densities) error {
	kept := Here
	if l.Empty() || l.ML(of) < 0.5 {
		kept = Away
	}
	doc, err := leftoverForm.write(l.Leftover)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx,
		"UPDATE leftover SET name = ?, doc = ?, kept = ?, revision = revision + 1, touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?",
		l.Name, doc, kept, shop, l.UID)
	return err
}

// UseLeftover takes so much of a leftover onto the bench, as a cup of its own; all of it for 0. It gives the cup.
func (sh *Shop) UseLeftover(
	ctx context.Context, uid string, seen int, ml float64, target *cup.Target, nowMS int64,
) (cupUID string, err error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return "", err
	}
	of := leftover.DensitiesOf(shelf)
	return sh.write(ctx, func(tx *sql.Tx) (string, error) {
		l, err := holdLeftover(ctx, tx, sh.id, uid, seen)
		if err != nil {
			return "", err
		}
		if ml <= 0 {
			ml = l.ML(of)
		}
		out, err := l.Take(ml, of)
		if err != nil {
			return "", err
		}
		c, err := out.Cup(shelf)
		if err != nil {
			return "", err
		}
		c.Target = target
		live := NamedCup{Name: l.Name, Live: cup.Live{Cup: c}}
		for i := range int(out.HeatsMost + 0.5) { // it was hot so often before
			live.Heats = append(
				live.Heats, cup.Heat{TempC: cup.UsualWorkC, AtMS: nowMS - int64(int(out.HeatsMost)-i+1)*24*3600*1000},
			)
		}
		if err := live.check(shelf); err != nil {
			return "", err
		}
		made, err := newCup(ctx, tx, sh.id, live, nil, nil)
		if err != nil {
			return "", err
		}
		return made, putLeftover(ctx, tx, sh.id, &l, of)
	})
}

// MixLeftovers puts so much of one leftover to another, all of it for 0.
func (sh *Shop) MixLeftovers(
	ctx context.Context, uid string, seen int, with string, ml float64,
) (SavedLeftover, error) {
	if uid == with {
		return SavedLeftover{}, measure.Faulty("with", "choose another leftover than this one")
	}
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return SavedLeftover{}, err
	}
	of := leftover.DensitiesOf(shelf)
	if err := sh.change(ctx, func(tx *sql.Tx) error {
		both := []string{uid, with}
		slices.Sort(both) // in one order, so that two devices do not wait for each other
		held := map[string]SavedLeftover{}
		for _, one := range both {
			want := 0
			if one == uid {
				want = seen
			}
			l, err := holdLeftover(ctx, tx, sh.id, one, want)
			if err != nil {
				return err
			}
			held[one] = l
		}
		to, from := held[uid], held[with]
		if ml <= 0 {
			ml = from.ML(of)
		}
		out, err := from.Take(ml, of)
		if err != nil {
			return err
		}
		to.Put(out, of)
		to.Kind = leftover.Mixed
		return inTurn(
			func() error { return putLeftover(ctx, tx, sh.id, &to, of) },
			func() error { return putLeftover(ctx, tx, sh.id, &from, of) },
		)
	}); err != nil {
		return SavedLeftover{}, err
	}
	return sh.Leftover(ctx, uid)
}

// ChangeLeftover names one anew, notes something, or sets how much there is of it.
func (sh *Shop) ChangeLeftover(
	ctx context.Context, uid string, seen int, change func(l *leftover.Leftover) error,
) (SavedLeftover, error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return SavedLeftover{}, err
	}
	of := leftover.DensitiesOf(shelf)
	if err := sh.change(ctx, func(tx *sql.Tx) error {
		l, err := holdLeftover(ctx, tx, sh.id, uid, seen)
		if err != nil {
			return err
		}
		if err := change(&l.Leftover); err != nil {
			return err
		}
		if err := l.Check(shelf); err != nil {
			return err
		}
		return putLeftover(ctx, tx, sh.id, &l, of)
	}); err != nil {
		return SavedLeftover{}, err
	}
	return sh.Leftover(ctx, uid)
}
