package store

import (
	"context"
	"database/sql"
	"errors"
	"slices"
	"strconv"
	"time"

	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
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
	if err := db.QueryRowContext(ctx, "SELECT equipment, equipment_revision FROM shop WHERE id = ? "+lock, shop).Scan(&raw, &revision); err != nil {
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
		if err := holdAt(ctx, tx, seen, "SELECT equipment_revision FROM shop WHERE id = ? FOR UPDATE", sh.id); err != nil {
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
	_, err = tx.ExecContext(ctx, "UPDATE shop SET equipment = ?, equipment_revision = equipment_revision + 1 WHERE id = ?", doc, shop)
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
	if err := row.Scan(&p.UID, &name, &asked, &p.Revision, &p.Kept, &p.State, &run, &outcome, &p.TouchedAt); err != nil {
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
		_, err := tx.ExecContext(ctx, "INSERT INTO pour (shop_id, uid, name, asked) VALUES (?, ?, ?, ?)", sh.id, uid, o.Name, doc)
		return uid, err
	})
	if err != nil {
		return SavedPour{}, err
	}
	return sh.Pour(ctx, uid)
}

// ErrBegun is returned where a plan is to be changed, or begun, that is being poured already; ErrOver where a run is over.
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
		if err := holdAt(ctx, tx, seen, "SELECT revision FROM pour WHERE shop_id = ? AND uid = ? FOR UPDATE", sh.id, uid); err != nil {
			return err
		}
		return inTurn(
			func() error { return inState(ctx, tx, sh.id, uid, PourPlanned) },
			func() error {
				_, err := tx.ExecContext(ctx, "UPDATE pour SET name = ?, asked = ?, revision = revision + 1, touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?",
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
	if err := tx.QueryRowContext(ctx, "SELECT state FROM pour WHERE shop_id = ? AND uid = ? FOR UPDATE", shop, uid).Scan(&is); err != nil {
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

// StartRun begins a plan: its cups are put on the bench, and it is poured as it stands from here on.
func (sh *Shop) StartRun(ctx context.Context, uid string, seen int, r pour.Run) error {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return err
	}
	cups, err := r.Cups(shelf)
	if err != nil {
		return err
	}
	doc, err := runForm.write(r)
	if err != nil {
		return err
	}
	return sh.change(ctx, func(tx *sql.Tx) error {
		if err := inTurn(
			func() error {
				return holdAt(ctx, tx, seen, "SELECT revision FROM pour WHERE shop_id = ? AND uid = ? FOR UPDATE", sh.id, uid)
			},
			func() error { return inState(ctx, tx, sh.id, uid, PourPlanned) },
		); err != nil {
			return err
		}
		for k := range cups {
			named := NamedCup{Live: cups[k], Name: cup.ShortName(r.Order.Cups[r.Planned.Cooks[k].Of].Name + ", " + r.Order.Name)}
			if err := named.check(shelf); err != nil {
				return err
			}
			var recipe, revision any
			if from := r.Order.Cups[r.Planned.Cooks[k].Of]; from.Recipe != "" {
				recipe, revision = from.Recipe, from.Revision
			}
			made, err := newCup(ctx, tx, sh.id, named, recipe, revision)
			if err != nil {
				return err
			}
			if _, err := tx.ExecContext(ctx, "INSERT INTO pour_cup (shop_id, pour_uid, cook, cup_uid) VALUES (?, ?, ?, ?)", sh.id, uid, k, made); err != nil {
				return err
			}
		}
		_, err := tx.ExecContext(ctx, "UPDATE pour SET state = 'running', run = ?, revision = revision + 1, touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?", doc, sh.id, uid)
		return err
	})
}

// CupsOfRun are the cups of a run on the bench, by cook.
func (sh *Shop) CupsOfRun(ctx context.Context, uid string) ([]BenchCup, error) {
	var uids []string
	if err := sh.eachRow(ctx, "SELECT cup_uid FROM pour_cup WHERE shop_id = ? AND pour_uid = ? ORDER BY cook", []any{sh.id, uid}, func(row *sql.Rows) error {
		var one string
		err := row.Scan(&one)
		uids = append(uids, one)
		return err
	}); err != nil {
		return nil, err
	}
	out := []BenchCup{}
	for _, one := range uids {
		c, err := sh.Cup(ctx, one)
		if err != nil {
			return nil, err
		}
		out = append(out, c)
	}
	return out, nil
}

// Events are what happened in a run and still counts, and the number of the last of them.
func (sh *Shop) Events(ctx context.Context, uid string) (list []pour.Event, last int, err error) {
	list = []pour.Event{}
	err = sh.eachRow(ctx, "SELECT n, event FROM pour_event WHERE shop_id = ? AND pour_uid = ? AND NOT undone ORDER BY n", []any{sh.id, uid}, func(row *sql.Rows) error {
		var doc []byte
		var e pour.Event
		if err := row.Scan(&last, &doc); err != nil {
			return err
		}
		err := eventForm.read(doc, &e)
		list = append(list, e)
		return err
	})
	return list, last, err
}

// movedCup is a cup that an event moved: from which head to which.
type movedCup struct {
	Cup string `json:"cup"`
	Was int    `json:"was"`
	Is  int    `json:"is"`
}

// mostEvents bounds what is written down of a run.
const mostEvents = 2000

// Happen writes down what happened in a run. What it does to its cups on the bench is done with it, or not at all.
func (sh *Shop) Happen(ctx context.Context, uid string, e pour.Event) error {
	p, err := sh.Pour(ctx, uid)
	if err != nil {
		return err
	}
	if p.Run == nil {
		return ErrNotFound
	}
	if err := e.Check(p.Run); err != nil {
		return err
	}
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return err
	}
	kit, _, err := sh.Kit(ctx)
	if err != nil {
		return err
	}
	cups, err := sh.CupsOfRun(ctx, uid)
	if err != nil {
		return err
	}
	doc, err := eventForm.write(e)
	if err != nil {
		return err
	}
	return sh.change(ctx, func(tx *sql.Tx) error {
		if err := inState(ctx, tx, sh.id, uid, PourRunning); err != nil {
			return err
		}
		var last int
		var twice bool
		if err := tx.QueryRowContext(ctx, `SELECT COALESCE(MAX(n), 0), COALESCE(MAX(NOT undone AND JSON_VALUE(event, '$.kind') = ? AND JSON_VALUE(event, '$.step') = ?), 0)
			FROM pour_event WHERE shop_id = ? AND pour_uid = ?`, e.Kind, e.Step, sh.id, uid).Scan(&last, &twice); err != nil {
			return err
		}
		if twice && e.Kind == pour.Begin {
			return nil // another device was quicker
		}
		if last >= mostEvents {
			return measure.Faulty("kind", "a run takes up to %d entries; end this one", mostEvents)
		}
		var moved []movedCup
		for k, c := range cups {
			if e.Kind == pour.Saw && e.Cook != k || c.Kept == Deleted {
				continue
			}
			h, err := takeHold(ctx, tx, sh.id, c.UID, -1)
			if err != nil {
				if errors.Is(err, ErrNotFound) { // poured into another cup on the bench
					continue
				}
				return err
			}
			steps := p.Run.OnBench(&e, k, &h.Cup, shelf)
			if len(steps) == 0 || twice && e.Kind == pour.Done && steps[0].Kind == cup.PourOut {
				continue
			}
			was := h.Head
			for _, s := range steps {
				after, err := s.Apply(h.Cup, shelf, kit)
				if err != nil {
					return err
				}
				if err := h.put(ctx, tx, s, after, nil, nil); err != nil {
					return err
				}
			}
			if err := h.letGo(ctx, tx); err != nil {
				return err
			}
			moved = append(moved, movedCup{c.UID, was, h.Head})
		}
		var kept any
		if len(moved) > 0 {
			if kept, err = listForm.write(moved); err != nil {
				return err
			}
		}
		return inTurn(
			func() error {
				_, err := tx.ExecContext(ctx, "INSERT INTO pour_event (shop_id, pour_uid, n, event, moved) VALUES (?, ?, ?, ?, ?)", sh.id, uid, last+1, doc, kept)
				return err
			},
			func() error {
				_, err := tx.ExecContext(ctx, "UPDATE pour SET touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?", sh.id, uid)
				return err
			},
		)
	})
}

// TakeBack takes back what happened last in a run, with what it did to its cups. seen is the number of that event.
func (sh *Shop) TakeBack(ctx context.Context, uid string, seen int) error {
	return sh.change(ctx, func(tx *sql.Tx) error {
		if err := inState(ctx, tx, sh.id, uid, PourRunning); err != nil {
			return err
		}
		var n int
		var raw []byte
		err := tx.QueryRowContext(ctx, "SELECT n, moved FROM pour_event WHERE shop_id = ? AND pour_uid = ? AND NOT undone ORDER BY n DESC LIMIT 1", sh.id, uid).Scan(&n, &raw)
		if errors.Is(err, sql.ErrNoRows) {
			return nil
		}
		if err != nil {
			return err
		}
		if n != seen {
			return ErrStale
		}
		var moved []movedCup
		if err := listForm.read(raw, &moved); err != nil {
			return err
		}
		for _, m := range moved {
			h, err := takeHold(ctx, tx, sh.id, m.Cup, m.Is)
			if err != nil {
				return err
			}
			if h.stale {
				return ErrWorkedOn
			}
			if err := moveHead(ctx, tx, sh.id, m.Cup, m.Was); err != nil {
				return err
			}
		}
		_, err = tx.ExecContext(ctx, "UPDATE pour_event SET undone = TRUE WHERE shop_id = ? AND pour_uid = ? AND n = ?", sh.id, uid, n)
		return err
	})
}

// EndRun ends a run: what it used goes off the shelf, its batches and a log entry are written down, what is left is kept, its cups leave the bench, and what it lost is learned. All of
// that, or nothing.
// doses are the heat doses that its cooks have taken.
func (sh *Shop) EndRun(ctx context.Context, uid string, u pour.Outcome, doses []float64) error {
	p, err := sh.Pour(ctx, uid)
	if err != nil {
		return err
	}
	if p.Run == nil {
		return ErrNotFound
	}
	if err := u.Check(p.Run); err != nil {
		return err
	}
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return err
	}
	recipes := map[string]bool{}
	for _, c := range p.Order.Cups {
		if c.Recipe != "" {
			_, err := sh.RecipeAt(ctx, c.Recipe, c.Revision)
			recipes[c.Recipe] = err == nil
		}
	}
	doc, err := runOutcomeForm.write(u)
	if err != nil {
		return err
	}
	cups, err := sh.CupsOfRun(ctx, uid)
	if err != nil {
		return err
	}
	return sh.change(ctx, func(tx *sql.Tx) error {
		if err := inState(ctx, tx, sh.id, uid, PourRunning); err != nil {
			return err
		}
		live := make([]cup.Live, len(cups))
		for k, c := range cups {
			now, err := readCup(ctx, tx, sh.id, c.UID, "FOR UPDATE")
			if err != nil {
				return err
			}
			live[k] = now.Cup
		}
		if err := takeStock(ctx, tx, sh.id, p.Run.Used(live, shelf), shelf, uid); err != nil {
			return err
		}
		for _, b := range p.Run.Batches(&u, live, shelf) {
			from := Origin{}
			if of := p.Order.Cups[b.Of]; recipes[of.Recipe] {
				from.Recipe, from.Revision = of.Recipe, of.Revision
			}
			if _, err := addBatch(ctx, tx, sh.id, from, &b.Batch, shelf); err != nil {
				return err
			}
		}
		e, _, err := equipmentOf(ctx, tx, sh.id, "FOR UPDATE")
		if err != nil {
			return err
		}
		if _, err := addEntry(ctx, tx, sh.id, p.Run.Entry(&u, shelf), uid); err != nil {
			return err
		}
		if !e.Throws {
			for _, l := range p.Run.Leftovers(&u, live, doses, shelf) {
				if _, err := addLeftover(ctx, tx, sh.id, l, uid); err != nil {
					return err
				}
			}
		}
		if learned := e.Learn(p.Run, &u); learned.LossRuns != e.LossRuns {
			if err := putEquipment(ctx, tx, sh.id, learned); err != nil {
				return err
			}
		}
		return inTurn(
			func() error {
				_, err := tx.ExecContext(ctx, `UPDATE cup c JOIN pour_cup p ON p.shop_id = c.shop_id AND p.cup_uid = c.uid SET c.kept = 'away'
					WHERE p.shop_id = ? AND p.pour_uid = ? AND c.kept = 'here'`, sh.id, uid)
				return err
			},
			func() error {
				_, err := tx.ExecContext(ctx, "UPDATE pour SET state = 'done', outcome = ?, revision = revision + 1, touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?",
					doc, sh.id, uid)
				return err
			},
		)
	})
}

// takeStock takes amounts off the shelf, in one order, so that two runs that end at once do not wait for each other.
func takeStock(ctx context.Context, tx *sql.Tx, shop int64, used map[string]float64, shelf cup.Shelf, pourUID string) error {
	uids := make([]string, 0, len(used))
	for m := range used {
		uids = append(uids, m)
	}
	slices.Sort(uids)
	for _, m := range uids {
		if used[m] <= 0 {
			continue
		}
		var raw []byte
		if err := tx.QueryRowContext(ctx, "SELECT stock FROM material WHERE shop_id = ? AND uid = ? FOR UPDATE", shop, m).Scan(&raw); err != nil {
			return notFound(err)
		}
		var s material.Stock
		if err := stockForm.read(raw, &s); err != nil {
			return err
		}
		of := shelf[m]
		s = of.Taken(s, used[m])
		doc, err := stockForm.write(s)
		if err != nil {
			return err
		}
		if err := inTurn(
			func() error {
				if s.Typed == "" {
					return nil
				}
				_, err := tx.ExecContext(ctx, "UPDATE material SET stock = ?, revision = revision + 1 WHERE shop_id = ? AND uid = ?", doc, shop, m)
				return err
			},
			func() error { return moveStock(ctx, tx, shop, m, "used", -used[m], s.Left, pourUID) },
		); err != nil {
			return err
		}
	}
	return nil
}

// StockMove is what came onto the shelf or was taken from it.
type StockMove struct {
	Kind   string    `json:"kind" enum:"used,bought,counted"`
	Amount float64   `json:"amount" doc:"What it changed by, ml of a liquid, g of a solid"`
	Left   float64   `json:"left" doc:"What was left then"`
	Pour   string    `json:"pour,omitempty" doc:"uid of the run that used it"`
	For    string    `json:"for,omitempty" doc:"What that run was called"`
	At     time.Time `json:"at"`
}

// mostMoves is how many moves of a stock are shown.
const mostMoves = 30

// StockMoves are the last moves of a material's stock, newest first.
func (sh *Shop) StockMoves(ctx context.Context, material string) ([]StockMove, error) {
	list := []StockMove{}
	err := sh.eachRow(ctx, `SELECT m.kind, m.amount, m.left_after, COALESCE(m.pour_uid, ''), COALESCE(p.name, ''), m.moved_at
		FROM stock_move m LEFT JOIN pour p ON p.shop_id = m.shop_id AND p.uid = m.pour_uid
		WHERE m.shop_id = ? AND m.material_uid = ? ORDER BY m.moved_at DESC, m.uid DESC LIMIT ?`, []any{sh.id, material, mostMoves}, func(row *sql.Rows) error {
		var m StockMove
		err := row.Scan(&m.Kind, &m.Amount, &m.Left, &m.Pour, &m.For, &m.At)
		list = append(list, m)
		return err
	})
	return list, err
}

// ChangeStock takes up what was bought, counted or weighed, and writes it down; price is that of what was bought at once, below 0 for as before.
func (sh *Shop) ChangeStock(ctx context.Context, uid string, seen int, c material.Change, price float64) (ShelfItem, error) {
	item, err := sh.Item(ctx, uid)
	if err != nil {
		return item, err
	}
	if err := sh.change(ctx, func(tx *sql.Tx) error {
		if err := holdItem(ctx, tx, sh.id, uid, seen); err != nil {
			return err
		}
		var raw []byte
		if err := tx.QueryRowContext(ctx, "SELECT stock FROM material WHERE shop_id = ? AND uid = ?", sh.id, uid).Scan(&raw); err != nil {
			return notFound(err)
		}
		var s material.Stock
		if err := stockForm.read(raw, &s); err != nil {
			return err
		}
		s, by, err := item.Changed(s, c)
		if err != nil {
			return err
		}
		if c.Kind == material.Bought && price >= 0 {
			of, err := item.Stocked(material.Stock{Bought: c.Typed})
			if err != nil {
				return err
			}
			s.Bought, s.Size, s.Price = c.Typed, of.Size, price
		}
		doc, err := stockForm.write(s)
		if err != nil {
			return err
		}
		kind := "counted"
		if c.Kind == material.Bought {
			kind = "bought"
		}
		return inTurn(
			func() error {
				_, err := tx.ExecContext(ctx, "UPDATE material SET stock = ?, revision = revision + 1 WHERE shop_id = ? AND uid = ?", doc, sh.id, uid)
				return err
			},
			func() error { return moveStock(ctx, tx, sh.id, uid, kind, by, s.Left, "") },
		)
	}); err != nil {
		return ShelfItem{}, err
	}
	return sh.Item(ctx, uid)
}

func moveStock(ctx context.Context, tx *sql.Tx, shop int64, uid, kind string, by, left float64, pourUID string) error {
	_, err := tx.ExecContext(ctx, "INSERT INTO stock_move (shop_id, uid, material_uid, kind, amount, left_after, pour_uid) VALUES (?, ?, ?, ?, ?, ?, ?)",
		shop, newUID(), uid, kind, by, left, sql.NullString{String: pourUID, Valid: pourUID != ""})
	return err
}

// Used is what runs have taken of a material so far, ml or g.
func (sh *Shop) Used(ctx context.Context, material string) (float64, error) {
	var sum sql.NullString
	err := sh.db.QueryRowContext(ctx, "SELECT -SUM(amount) FROM stock_move WHERE shop_id = ? AND material_uid = ? AND kind = 'used'", sh.id, material).Scan(&sum)
	if err != nil || !sum.Valid {
		return 0, err
	}
	return strconv.ParseFloat(sum.String, 64)
}
