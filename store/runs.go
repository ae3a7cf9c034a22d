package store

import (
	"context"
	"database/sql"
	"errors"

	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/pour"
)

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
				return holdAt(
					ctx, tx, seen, "SELECT revision FROM pour WHERE shop_id = ? AND uid = ? FOR UPDATE", sh.id, uid,
				)
			},
			func() error { return inState(ctx, tx, sh.id, uid, PourPlanned) },
		); err != nil {
			return err
		}
		for k := range cups {
			named := NamedCup{
				Live: cups[k], Name: cup.ShortName(r.Order.Cups[r.Planned.Cooks[k].Of].Name + ", " + r.Order.Name),
			}
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
			if _, err := tx.ExecContext(
				ctx, "INSERT INTO pour_cup (shop_id, pour_uid, cook, cup_uid) VALUES (?, ?, ?, ?)", sh.id, uid, k, made,
			); err != nil {
				return err
			}
		}
		_, err := tx.ExecContext(
			ctx,
			"UPDATE pour SET state = 'running', run = ?, revision = revision + 1, touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?",
			doc, sh.id, uid,
		)
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

// underWay is a run, and what stands on the shelf and the bench for it.
type underWay struct {
	SavedPour
	shelf cup.Shelf
	cups  []BenchCup // by cook
}

func (sh *Shop) underWay(ctx context.Context, uid string) (r underWay, err error) {
	if r.SavedPour, err = sh.Pour(ctx, uid); err != nil {
		return r, err
	}
	if r.Run == nil {
		return r, ErrNotFound
	}
	if r.shelf, err = sh.Shelf(ctx); err != nil {
		return r, err
	}
	r.cups, err = sh.CupsOfRun(ctx, uid)
	return r, err
}

// Happen writes down what happened in a run. What it does to its cups on the bench is done with it, or not at all.
func (sh *Shop) Happen(ctx context.Context, uid string, e pour.Event) error {
	r, err := sh.underWay(ctx, uid)
	if err != nil {
		return err
	}
	if err := e.Check(r.Run); err != nil {
		return err
	}
	kit, _, err := sh.Kit(ctx)
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
		if err := tx.QueryRowContext(ctx, `SELECT COALESCE(MAX(n), 0),
				COALESCE(MAX(NOT undone AND JSON_VALUE(event, '$.kind') = ? AND JSON_VALUE(event, '$.step') = ?), 0)
			FROM pour_event WHERE shop_id = ? AND pour_uid = ?`, e.Kind, e.Step, sh.id, uid).Scan(&last, &twice); err != nil {
			return err
		}
		if twice && e.Kind == pour.Begin {
			return nil // another device was quicker
		}
		if last >= mostEvents {
			return measure.Faulty("kind", "a run takes up to %d entries; end this one", mostEvents)
		}
		moved, err := r.onBench(ctx, tx, sh.id, &e, twice, kit)
		if err != nil {
			return err
		}
		var kept any
		if len(moved) > 0 {
			if kept, err = listForm.write(moved); err != nil {
				return err
			}
		}
		return inTurn(
			func() error {
				_, err := tx.ExecContext(ctx, "INSERT INTO pour_event (shop_id, pour_uid, n, event, moved) VALUES (?, ?, ?, ?, ?)",
					sh.id, uid, last+1, doc, kept)
				return err
			},
			func() error {
				_, err := tx.ExecContext(
					ctx, "UPDATE pour SET touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?", sh.id, uid,
				)
				return err
			},
		)
	})
}

// onBench does to the run's cups what an event does, once: told twice, nothing is poured out again.
func (r *underWay) onBench(
	ctx context.Context, tx *sql.Tx, shop int64, e *pour.Event, twice bool, kit measure.Kit,
) (moved []movedCup, err error) {
	for k, c := range r.cups {
		if e.Kind == pour.Saw && e.Cook != k || c.Kept == Deleted {
			continue
		}
		h, err := takeHold(ctx, tx, shop, c.UID, -1)
		if err != nil {
			if errors.Is(err, ErrNotFound) { // poured into another cup on the bench
				continue
			}
			return nil, err
		}
		steps := r.Run.OnBench(e, k, &h.Cup, r.shelf)
		if len(steps) == 0 || twice && e.Kind == pour.Done && steps[0].Kind == cup.PourOut {
			continue
		}
		was := h.Head
		for _, s := range steps {
			after, err := s.Apply(h.Cup, r.shelf, kit)
			if err != nil {
				return nil, err
			}
			if err := h.put(ctx, tx, s, after, nil, nil); err != nil {
				return nil, err
			}
		}
		if err := h.letGo(ctx, tx); err != nil {
			return nil, err
		}
		moved = append(moved, movedCup{c.UID, was, h.Head})
	}
	return moved, nil
}

// TakeBack takes back what happened last in a run, with what it did to its cups. seen is the number of that event.
func (sh *Shop) TakeBack(ctx context.Context, uid string, seen int) error {
	return sh.change(ctx, func(tx *sql.Tx) error {
		if err := inState(ctx, tx, sh.id, uid, PourRunning); err != nil {
			return err
		}
		var n int
		var raw []byte
		err := tx.QueryRowContext(
			ctx,
			"SELECT n, moved FROM pour_event WHERE shop_id = ? AND pour_uid = ? AND NOT undone ORDER BY n DESC LIMIT 1",
			sh.id, uid,
		).Scan(&n, &raw)
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
		_, err = tx.ExecContext(
			ctx, "UPDATE pour_event SET undone = TRUE WHERE shop_id = ? AND pour_uid = ? AND n = ?", sh.id, uid, n,
		)
		return err
	})
}

// EndRun ends a run: what it used goes off the shelf, its batches and a log entry are written down, what is left is
// kept, its cups leave the bench, and what it lost is learned. All of that, or nothing. doses are the heat doses that
// its cooks have taken.
func (sh *Shop) EndRun(ctx context.Context, uid string, u pour.Outcome, doses []float64) error {
	r, err := sh.underWay(ctx, uid)
	if err != nil {
		return err
	}
	if err := u.Check(r.Run); err != nil {
		return err
	}
	recipes := map[string]bool{}
	for _, c := range r.Order.Cups {
		if c.Recipe != "" {
			_, err := sh.RecipeAt(ctx, c.Recipe, c.Revision)
			recipes[c.Recipe] = err == nil
		}
	}
	doc, err := runOutcomeForm.write(u)
	if err != nil {
		return err
	}
	return sh.change(ctx, func(tx *sql.Tx) error {
		if err := inState(ctx, tx, sh.id, uid, PourRunning); err != nil {
			return err
		}
		live := make([]cup.Live, len(r.cups))
		for k, c := range r.cups {
			now, err := readCup(ctx, tx, sh.id, c.UID, "FOR UPDATE")
			if err != nil {
				return err
			}
			live[k] = now.Cup
		}
		return inTurn(
			func() error { return takeStock(ctx, tx, sh.id, r.Run.Used(live, r.shelf), r.shelf, uid) },
			func() error { return r.addBatches(ctx, tx, sh.id, &u, live, recipes) },
			func() error { return r.keepRest(ctx, tx, sh.id, &u, live, doses) },
			func() error {
				_, err := tx.ExecContext(ctx, `UPDATE cup c JOIN pour_cup p ON p.shop_id = c.shop_id AND p.cup_uid = c.uid SET c.kept = 'away'
					WHERE p.shop_id = ? AND p.pour_uid = ? AND c.kept = 'here'`, sh.id, uid)
				return err
			},
			func() error {
				_, err := tx.ExecContext(ctx, `UPDATE pour SET state = 'done', outcome = ?, revision = revision + 1,
					touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?`, doc, sh.id, uid)
				return err
			},
		)
	})
}

// addBatches writes down the run's batches, each with the recipe that it was poured of, where that is still there.
func (r *underWay) addBatches(
	ctx context.Context, tx *sql.Tx, shop int64, u *pour.Outcome, live []cup.Live, recipes map[string]bool,
) error {
	for _, b := range r.Run.Batches(u, live, r.shelf) {
		from := Origin{}
		if of := r.Order.Cups[b.Of]; recipes[of.Recipe] {
			from.Recipe, from.Revision = of.Recipe, of.Revision
		}
		if _, err := addBatch(ctx, tx, shop, from, &b.Batch, r.shelf); err != nil {
			return err
		}
	}
	return nil
}

// keepRest writes the run into the log, keeps what is left of it, where the shop keeps such, and learns what it lost.
func (r *underWay) keepRest(
	ctx context.Context, tx *sql.Tx, shop int64, u *pour.Outcome, live []cup.Live, doses []float64,
) error {
	e, _, err := equipmentOf(ctx, tx, shop, "FOR UPDATE")
	if err != nil {
		return err
	}
	if _, err := addEntry(ctx, tx, shop, r.Run.Entry(u, r.shelf), r.UID); err != nil {
		return err
	}
	if !e.Throws {
		for _, l := range r.Run.Leftovers(u, live, doses, r.shelf) {
			if _, err := addLeftover(ctx, tx, shop, l, r.UID); err != nil {
				return err
			}
		}
	}
	if learned := e.Learn(r.Run, u); learned.LossRuns != e.LossRuns {
		return putEquipment(ctx, tx, shop, learned)
	}
	return nil
}
