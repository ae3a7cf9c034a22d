package store

import (
	"context"
	"database/sql"
	"time"

	"cloudburst/core/logbook"
	"cloudburst/core/pack"
)

// SavedSupply is a supply as it is kept.
type SavedSupply struct {
	UID      string `json:"uid"`
	Revision int    `json:"revision" doc:"Counts the changes; send it back with the next one"`
	Kept     Kept   `json:"kept" enum:"here,away,deleted"`
	pack.Supply
	touchedAt time.Time
}

// SavedPack is a pack as it is kept.
type SavedPack struct {
	UID      string `json:"uid"`
	Revision int    `json:"revision" doc:"Counts the changes; send it back with the next one"`
	Kept     Kept   `json:"kept" enum:"here,away,deleted"`
	Ready    int    `json:"ready" doc:"Packs that are made up and not sold"`
	pack.Pack
	touchedAt time.Time
}

const (
	supplyQuery = `SELECT uid, name, doc, revision, kept, touched_at FROM supply WHERE shop_id = ?`
	packQuery   = `SELECT uid, name, doc, ready, revision, kept, touched_at FROM pack WHERE shop_id = ?`

	roomForSupplies = "SELECT COUNT(*) FROM supply WHERE shop_id = ? AND kept = 'here' FOR UPDATE"
	roomForPacks    = "SELECT COUNT(*) FROM pack WHERE shop_id = ? AND kept = 'here' FOR UPDATE"
)

func scanSupply(row interface{ Scan(...any) error }) (SavedSupply, error) {
	var s SavedSupply
	var doc []byte
	var name string
	if err := row.Scan(&s.UID, &name, &doc, &s.Revision, &s.Kept, &s.touchedAt); err != nil {
		return s, err
	}
	err := supplyForm.read(doc, &s.Supply)
	s.Name = name
	return s, err
}

func scanPack(row interface{ Scan(...any) error }) (SavedPack, error) {
	var p SavedPack
	var doc []byte
	var name string
	if err := row.Scan(&p.UID, &name, &doc, &p.Ready, &p.Revision, &p.Kept, &p.touchedAt); err != nil {
		return p, err
	}
	err := packForm.read(doc, &p.Pack)
	p.Name = name
	return p, err
}

// Supplies lists them, the one that was touched last first.
func (sh *Shop) Supplies(ctx context.Context, page Page) (Listed[SavedSupply], error) {
	where, args, err := page.older("touched_at", "uid")
	if err != nil {
		return Listed[SavedSupply]{}, err
	}
	list := []SavedSupply{}
	err = sh.eachRow(ctx, supplyQuery+page.kept("supply")+where+" ORDER BY touched_at DESC, uid DESC LIMIT ?",
		append(append([]any{sh.id}, args...), page.Most+1), func(row *sql.Rows) error {
			s, err := scanSupply(row)
			list = append(list, s)
			return err
		})
	return cut(list, page.Most, func(s *SavedSupply) string { return cursorOf(stamped(s.touchedAt), s.UID) }), err
}

// AllSupplies are those that a pack may name, put away or not, by uid.
func (sh *Shop) AllSupplies(ctx context.Context) (map[string]pack.Supply, error) {
	out := map[string]pack.Supply{}
	err := sh.eachRow(ctx, supplyQuery+" AND kept <> 'deleted'", []any{sh.id}, func(row *sql.Rows) error {
		s, err := scanSupply(row)
		out[s.UID] = s.Supply
		return err
	})
	return out, err
}

// Supply is one of them.
func (sh *Shop) Supply(ctx context.Context, uid string) (SavedSupply, error) {
	s, err := scanSupply(sh.db.QueryRowContext(ctx, supplyQuery+" AND uid = ?", sh.id, uid))
	return s, notFound(err)
}

// AddSupply keeps one.
func (sh *Shop) AddSupply(ctx context.Context, s pack.Supply) (SavedSupply, error) {
	if err := s.Check(); err != nil {
		return SavedSupply{}, err
	}
	doc, err := supplyForm.write(s)
	if err != nil {
		return SavedSupply{}, err
	}
	uid, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		if err := room(ctx, tx, roomForSupplies, sh.id); err != nil {
			return "", err
		}
		uid := newUID()
		_, err := tx.ExecContext(
			ctx, "INSERT INTO supply (shop_id, uid, name, doc) VALUES (?, ?, ?, ?)", sh.id, uid, s.Name, doc,
		)
		return uid, err
	})
	if err != nil {
		return SavedSupply{}, err
	}
	return sh.Supply(ctx, uid)
}

// ChangeSupply changes one, if nobody else did since it was seen.
func (sh *Shop) ChangeSupply(
	ctx context.Context, uid string, seen int, change func(*pack.Supply) error,
) (SavedSupply, error) {
	if err := sh.change(ctx, func(tx *sql.Tx) error {
		s, err := scanSupply(tx.QueryRowContext(ctx, supplyQuery+" AND uid = ? FOR UPDATE", sh.id, uid))
		switch {
		case err != nil:
			return notFound(err)
		case s.Revision != seen:
			return ErrStale
		}
		if err := inTurn(func() error { return change(&s.Supply) }, s.Supply.Check); err != nil {
			return err
		}
		return setSupply(ctx, tx, sh.id, uid, s.Supply)
	}); err != nil {
		return SavedSupply{}, err
	}
	return sh.Supply(ctx, uid)
}

func setSupply(ctx context.Context, tx *sql.Tx, shop int64, uid string, s pack.Supply) error {
	doc, err := supplyForm.write(s)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(
		ctx,
		"UPDATE supply SET name = ?, doc = ?, revision = revision + 1, touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?",
		s.Name, doc, shop, uid,
	)
	return err
}

// Packs lists them, the one that was touched last first.
func (sh *Shop) Packs(ctx context.Context, page Page) (Listed[SavedPack], error) {
	where, args, err := page.older("touched_at", "uid")
	if err != nil {
		return Listed[SavedPack]{}, err
	}
	list := []SavedPack{}
	err = sh.eachRow(ctx, packQuery+page.kept("pack")+where+" ORDER BY touched_at DESC, uid DESC LIMIT ?",
		append(append([]any{sh.id}, args...), page.Most+1), func(row *sql.Rows) error {
			p, err := scanPack(row)
			list = append(list, p)
			return err
		})
	return cut(list, page.Most, func(p *SavedPack) string { return cursorOf(stamped(p.touchedAt), p.UID) }), err
}

// Pack is one of them.
func (sh *Shop) Pack(ctx context.Context, uid string) (SavedPack, error) {
	p, err := scanPack(sh.db.QueryRowContext(ctx, packQuery+" AND uid = ?", sh.id, uid))
	return p, notFound(err)
}

// AddPack keeps one.
func (sh *Shop) AddPack(ctx context.Context, p pack.Pack) (SavedPack, error) {
	if err := p.Check(); err != nil {
		return SavedPack{}, err
	}
	doc, err := packForm.write(p)
	if err != nil {
		return SavedPack{}, err
	}
	uid, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		if err := room(ctx, tx, roomForPacks, sh.id); err != nil {
			return "", err
		}
		uid := newUID()
		_, err := tx.ExecContext(
			ctx, "INSERT INTO pack (shop_id, uid, name, doc) VALUES (?, ?, ?, ?)", sh.id, uid, p.Name, doc,
		)
		return uid, err
	})
	if err != nil {
		return SavedPack{}, err
	}
	return sh.Pack(ctx, uid)
}

// heldPack is a pack that nobody else changes until all is done.
func heldPack(ctx context.Context, tx *sql.Tx, shop int64, uid string, seen int) (SavedPack, error) {
	p, err := scanPack(tx.QueryRowContext(ctx, packQuery+" AND uid = ? FOR UPDATE", shop, uid))
	switch {
	case err != nil:
		return p, notFound(err)
	case p.Revision != seen:
		return p, ErrStale
	}
	return p, nil
}

// ChangePack keeps another content of one, if nobody else changed it since it was seen.
func (sh *Shop) ChangePack(ctx context.Context, uid string, seen int, now pack.Pack) (SavedPack, error) {
	if err := now.Check(); err != nil {
		return SavedPack{}, err
	}
	doc, err := packForm.write(now)
	if err != nil {
		return SavedPack{}, err
	}
	if err := sh.change(ctx, func(tx *sql.Tx) error {
		if _, err := heldPack(ctx, tx, sh.id, uid, seen); err != nil {
			return err
		}
		_, err := tx.ExecContext(
			ctx,
			"UPDATE pack SET name = ?, doc = ?, revision = revision + 1, touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?",
			now.Name, doc, sh.id, uid,
		)
		return err
	}); err != nil {
		return SavedPack{}, err
	}
	return sh.Pack(ctx, uid)
}

// MakeUp makes up packs: their supplies are taken, their baits are in bags, the packs are ready. All of that, or
// nothing.
func (sh *Shop) MakeUp(ctx context.Context, uid string, seen, packs int) (SavedPack, error) {
	if err := sh.change(ctx, func(tx *sql.Tx) error {
		p, err := heldPack(ctx, tx, sh.id, uid, seen)
		if err != nil {
			return err
		}
		supplies, err := heldSupplies(ctx, tx, sh.id)
		if err != nil {
			return err
		}
		taken, err := p.Take(packs, supplies)
		if err != nil {
			return err
		}
		for of, s := range taken {
			if err := setSupply(ctx, tx, sh.id, of, s); err != nil {
				return err
			}
		}
		for _, b := range p.Baits {
			if _, err := tx.ExecContext(
				ctx, "INSERT INTO packed (shop_id, uid, pack_uid, bait_uid, count) VALUES (?, ?, ?, ?, ?)", sh.id,
				newUID(), uid,
				b.Bait, packs*b.Count,
			); err != nil {
				return err
			}
		}
		_, err = tx.ExecContext(
			ctx,
			"UPDATE pack SET ready = ready + ?, revision = revision + 1, touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?",
			packs, sh.id, uid,
		)
		return err
	}); err != nil {
		return SavedPack{}, err
	}
	return sh.Pack(ctx, uid)
}

// heldSupplies locks the shop's supplies, always in one order.
func heldSupplies(ctx context.Context, tx *sql.Tx, shop int64) (map[string]pack.Supply, error) {
	rows, err := tx.QueryContext(ctx, supplyQuery+" AND kept <> 'deleted' ORDER BY uid FOR UPDATE", shop)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	out := map[string]pack.Supply{}
	for rows.Next() {
		s, err := scanSupply(rows)
		if err != nil {
			return nil, err
		}
		out[s.UID] = s.Supply
	}
	return out, rows.Err()
}

// Sell takes packs out of those that are ready and writes it into the log.
func (sh *Shop) Sell(ctx context.Context, uid string, seen, packs int, entry logbook.Entry) (SavedPack, error) {
	entry.Tidy()
	if err := entry.Check(); err != nil {
		return SavedPack{}, err
	}
	if err := sh.change(ctx, func(tx *sql.Tx) error {
		p, err := heldPack(ctx, tx, sh.id, uid, seen)
		if err != nil {
			return err
		}
		if err := p.Sellable(packs, p.Ready); err != nil {
			return err
		}
		if _, err := addEntry(ctx, tx, sh.id, entry, ""); err != nil {
			return err
		}
		_, err = tx.ExecContext(
			ctx,
			"UPDATE pack SET ready = ready - ?, revision = revision + 1, touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?",
			packs, sh.id, uid,
		)
		return err
	}); err != nil {
		return SavedPack{}, err
	}
	return sh.Pack(ctx, uid)
}

// AtHand is what is known of the baits of a design that were poured.
type AtHand struct {
	Baits   int     `json:"baits" doc:"Good ones of all runs, less those that went into packs"`
	PerBait float64 `json:"perBait" doc:"What one cost in its latest run; 0 where there was none"`
}

// BaitsAtHand are the good baits of all runs, less those that went into packs, by the bait that they were poured from.
func (sh *Shop) BaitsAtHand(ctx context.Context) (map[string]AtHand, error) {
	out := map[string]AtHand{}
	if err := sh.eachRow(ctx, `SELECT JSON_VALUE(asked, '$.bait'), COALESCE(JSON_VALUE(outcome, '$.good'), '0'), COALESCE(JSON_VALUE(run, '$.planned.perBait'), '0') FROM pour
		WHERE shop_id = ? AND state = 'done' AND kept <> 'deleted' AND JSON_VALUE(asked, '$.bait') IS NOT NULL ORDER BY touched_at`, []any{sh.id}, func(row *sql.Rows) error {
		var uid string
		var good int
		var each float64
		err := row.Scan(&uid, &good, &each)
		out[uid] = AtHand{out[uid].Baits + good, each}
		return err
	}); err != nil {
		return nil, err
	}
	return out, sh.eachRow(ctx, "SELECT bait_uid, CAST(SUM(count) AS SIGNED) FROM packed WHERE shop_id = ? GROUP BY bait_uid", []any{sh.id}, func(row *sql.Rows) error {
		var uid string
		var n int
		err := row.Scan(&uid, &n)
		h := out[uid]
		h.Baits -= n
		out[uid] = h
		return err
	})
}
