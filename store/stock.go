package store

import (
	"context"
	"database/sql"
	"slices"
	"strconv"
	"time"

	"cloudburst/core/cup"
	"cloudburst/core/material"
)

// takeStock takes amounts off the shelf, in one order, so that two runs that end at once do not wait for each other.
func takeStock(
	ctx context.Context, tx *sql.Tx, shop int64, used map[string]float64, shelf cup.Shelf, pourUID string,
) error {
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
		if err := tx.QueryRowContext(
			ctx, "SELECT stock FROM material WHERE shop_id = ? AND uid = ? FOR UPDATE", shop, m,
		).Scan(&raw); err != nil {
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
				_, err := tx.ExecContext(
					ctx, "UPDATE material SET stock = ?, revision = revision + 1 WHERE shop_id = ? AND uid = ?", doc,
					shop, m,
				)
				return err
			},
			func() error {
				return moveStock(
					ctx, tx, shop, m, StockMove{Kind: "used", Amount: -used[m], Left: s.Left, Pour: pourUID},
				)
			},
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

// ChangeStock takes up what was bought, counted or weighed, and writes it down; price is that of what was bought at
// once, below 0 for as before.
func (sh *Shop) ChangeStock(
	ctx context.Context, uid string, seen int, c material.Change, price float64,
) (ShelfItem, error) {
	item, err := sh.Item(ctx, uid)
	if err != nil {
		return item, err
	}
	if err := sh.change(ctx, func(tx *sql.Tx) error {
		if err := holdItem(ctx, tx, sh.id, uid, seen); err != nil {
			return err
		}
		var raw []byte
		if err := tx.QueryRowContext(
			ctx, "SELECT stock FROM material WHERE shop_id = ? AND uid = ?", sh.id, uid,
		).Scan(&raw); err != nil {
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
				_, err := tx.ExecContext(
					ctx, "UPDATE material SET stock = ?, revision = revision + 1 WHERE shop_id = ? AND uid = ?", doc,
					sh.id, uid,
				)
				return err
			},
			func() error { return moveStock(ctx, tx, sh.id, uid, StockMove{Kind: kind, Amount: by, Left: s.Left}) },
		)
	}); err != nil {
		return ShelfItem{}, err
	}
	return sh.Item(ctx, uid)
}

func moveStock(ctx context.Context, tx *sql.Tx, shop int64, uid string, m StockMove) error {
	_, err := tx.ExecContext(ctx,
		"INSERT INTO stock_move (shop_id, uid, material_uid, kind, amount, left_after, pour_uid) VALUES (?, ?, ?, ?, ?, ?, ?)",
		shop, newUID(), uid, m.Kind, m.Amount, m.Left, sql.NullString{String: m.Pour, Valid: m.Pour != ""})
	return err
}

// Used is what runs have taken of a material so far, ml or g.
func (sh *Shop) Used(ctx context.Context, material string) (float64, error) {
	var sum sql.NullString
	err := sh.db.QueryRowContext(
		ctx, "SELECT -SUM(amount) FROM stock_move WHERE shop_id = ? AND material_uid = ? AND kind = 'used'", sh.id,
		material,
	).Scan(&sum)
	if err != nil || !sum.Valid {
		return 0, err
	}
	return strconv.ParseFloat(sum.String, 64)
}
