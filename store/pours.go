package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"cloudburst/core/pour"
)

// Equipment is what the bench heats, holds and shoots with, and its revision; the usual where nobody has said.
func (sh *Shop) Equipment(ctx context.Context) (pour.Equipment, int, error) {
	return equipmentOf(ctx, sh.db, sh.id, "")
}

func equipmentOf(ctx context.Context, db queryer, shop int64, lock string) (pour.Equipment, int, error) {
	var raw []byte
	var revision int
	e := pour.Usual()
	if err := db.QueryRowContext(
		ctx, "SELECT equipment, equipment_revision FROM shop WHERE id = ? "+lock, shop,
	).Scan(&raw, &revision); err != nil {
		return e, 0, notFound(err)
	}
	if len(raw) > 0 {
		e = pour.Equipment{}
	}
	return e, revision, equipmentForm.read(raw, &e)
}

// SetEquipment keeps it, if nobody changed it since it was seen.
func (sh *Shop) SetEquipment(ctx context.Context, e pour.Equipment, seen int) error {
	if err := e.Check(); err != nil {
		return err
	}
	return sh.change(ctx, func(tx *sql.Tx) error {
		if err := holdAt(
			ctx, tx, seen, "SELECT equipment_revision FROM shop WHERE id = ? FOR UPDATE", sh.id,
		); err != nil {
			return err
		}
		return putEquipment(ctx, tx, sh.id, e)
	})
}

func putEquipment(ctx context.Context, tx *sql.Tx, shop int64, e pour.Equipment) error {
	doc, err := equipmentForm.write(e)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(
		ctx, "UPDATE shop SET equipment = ?, equipment_revision = equipment_revision + 1 WHERE id = ?", doc, shop,
	)
	return err
}

// PourState says how far a pour is.
type PourState string

// The states.
const (
	PourPlanned PourState = "planned"
	PourRunning PourState = "running"
	PourDone    PourState = "done"
)

// SavedPour is a pour as it is kept: what is asked, and, once it was begun, the run and what came of it.
type SavedPour struct {
	UID       string        `json:"uid"`
	Revision  int           `json:"revision" doc:"Counts the changes; send it back with the next one"`
	Kept      Kept          `json:"kept" enum:"here,away,deleted"`
	State     PourState     `json:"state" enum:"planned,running,done"`
	Order     pour.Order    `json:"order"`
	Run       *pour.Run     `json:"-"`
	Outcome   *pour.Outcome `json:"outcome,omitempty"`
	TouchedAt time.Time     `json:"touchedAt"`
}

const pourQuery = `SELECT uid, name, asked, revision, kept, state, run, outcome, touched_at FROM pour WHERE shop_id = ?`

func scanPour(row interface{ Scan(...any) error }) (SavedPour, error) {
	var p SavedPour
	var asked, run, outcome []byte
	var name string
	if err := row.Scan(
		&p.UID, &name, &asked, &p.Revision, &p.Kept, &p.State, &run, &outcome, &p.TouchedAt,
	); err != nil {
		return p, err
	}
	if len(run) > 0 {
		p.Run = &pour.Run{}
	}
	if len(outcome) > 0 {
		p.Outcome = &pour.Outcome{}
	}
	err := inTurn(
		func() error { return orderForm.read(asked, &p.Order) },
		func() error { return runForm.read(run, p.Run) },
		func() error { return runOutcomeForm.read(outcome, p.Outcome) },
	)
	p.Order.Name = name
	return p, err
}

// Pours lists them, the one that was touched last first.
func (sh *Shop) Pours(ctx context.Context, page Page) (Listed[SavedPour], error) {
	where, args, err := page.older("touched_at", "uid")
	if err != nil {
		return Listed[SavedPour]{}, err
	}
	list := []SavedPour{}
	err = sh.eachRow(ctx, pourQuery+page.kept("pour")+where+" ORDER BY touched_at DESC, uid DESC LIMIT ?",
		append(append([]any{sh.id}, args...), page.Most+1), func(row *sql.Rows) error {
			p, err := scanPour(row)
			list = append(list, p)
			return err
		})
	return cut(list, page.Most, func(p *SavedPour) string { return cursorOf(stamped(p.TouchedAt), p.UID) }), err
}

// Pour is one of them.
func (sh *Shop) Pour(ctx context.Context, uid string) (SavedPour, error) {
	p, err := scanPour(sh.db.QueryRowContext(ctx, pourQuery+" AND uid = ?", sh.id, uid))
	return p, notFound(err)
}

const roomForPours = "SELECT COUNT(*) FROM pour WHERE shop_id = ? AND kept = 'here' FOR UPDATE"

// AddPour keeps a new plan.
func (sh *Shop) AddPour(ctx context.Context, o pour.Order) (SavedPour, error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return SavedPour{}, err
	}
	if err := o.Check(shelf); err != nil {
		return SavedPour{}, err
	}
	doc, err := orderForm.write(o)
	if err != nil {
		return SavedPour{}, err
	}
	uid, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		if err := room(ctx, tx, roomForPours, sh.id); err != nil {
			return "", err
		}
		uid := newUID()
		_, err := tx.ExecContext(
			ctx, "INSERT INTO pour (shop_id, uid, name, asked) VALUES (?, ?, ?, ?)", sh.id, uid, o.Name, doc,
		)
		return uid, err
	})
	if err != nil {
		return SavedPour{}, err
	}
	return sh.Pour(ctx, uid)
}

// ErrBegun is returned where a plan is to be changed, or begun, that is being poured already; ErrOver where a run is
// over.
var (
	ErrBegun = errors.New("this pour was begun")
	ErrOver  = errors.New("this run is over")
)

// ChangePour keeps another order, if nobody changed it since it was seen and it was not begun.
func (sh *Shop) ChangePour(ctx context.Context, uid string, seen int, o pour.Order) (SavedPour, error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return SavedPour{}, err
	}
	if err := o.Check(shelf); err != nil {
		return SavedPour{}, err
	}
	doc, err := orderForm.write(o)
	if err != nil {
		return SavedPour{}, err
	}
	if err := sh.change(ctx, func(tx *sql.Tx) error {
		if err := holdAt(
			ctx, tx, seen, "SELECT revision FROM pour WHERE shop_id = ? AND uid = ? FOR UPDATE", sh.id, uid,
		); err != nil {
			return err
		}
		return inTurn(
			func() error { return inState(ctx, tx, sh.id, uid, PourPlanned) },
			func() error {
				_, err := tx.ExecContext(ctx,
					"UPDATE pour SET name = ?, asked = ?, revision = revision + 1, touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?",
					o.Name, doc, sh.id, uid)
				return err
			},
		)
	}); err != nil {
		return SavedPour{}, err
	}
	return sh.Pour(ctx, uid)
}

// inState holds a pour that is in a state.
func inState(ctx context.Context, tx *sql.Tx, shop int64, uid string, want PourState) error {
	var is PourState
	if err := tx.QueryRowContext(
		ctx, "SELECT state FROM pour WHERE shop_id = ? AND uid = ? FOR UPDATE", shop, uid,
	).Scan(&is); err != nil {
		return notFound(err)
	}
	switch {
	case is == want:
		return nil
	case want == PourPlanned:
		return ErrBegun
	}
	return ErrOver
}
