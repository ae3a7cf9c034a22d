package store

import (
	"context"
	"database/sql"

	"cloudburst/core/bait"
)

// SavedBait is a bait's design as it is kept, at one of its versions.
type SavedBait struct {
	UID      string `json:"uid"`
	Revision int    `json:"revision"`
	bait.Design
}

const baitQuery = `SELECT b.uid, v.revision, v.doc FROM bait b JOIN bait_version v ON v.shop_id = b.shop_id AND v.bait_uid = b.uid
	WHERE b.shop_id = ? AND NOT b.retired`

// Baits lists the shop's designs, the one that was touched last first.
func (sh *Shop) Baits(ctx context.Context) ([]SavedBait, error) {
	rows, err := sh.db.QueryContext(ctx, baitQuery+" AND v.revision = b.revision ORDER BY b.touched_at DESC, b.uid", sh.id)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	list := []SavedBait{}
	for rows.Next() {
		b, err := scanBait(rows)
		if err != nil {
			return nil, err
		}
		list = append(list, b)
	}
	return list, rows.Err()
}

// Bait is one of them, at a revision, or as it stands for 0.
func (sh *Shop) Bait(ctx context.Context, uid string, revision int) (SavedBait, error) {
	query, args := baitQuery+" AND b.uid = ? AND v.revision = b.revision", []any{sh.id, uid}
	if revision > 0 {
		query, args = baitQuery+" AND b.uid = ? AND v.revision = ?", append(args, revision)
	}
	b, err := scanBait(sh.db.QueryRowContext(ctx, query, args...))
	return b, notFound(err)
}

func scanBait(row interface{ Scan(...any) error }) (SavedBait, error) {
	var b SavedBait
	var doc []byte
	if err := row.Scan(&b.UID, &b.Revision, &doc); err != nil {
		return b, err
	}
	return b, fromJSON(doc, &b.Design)
}

// AddBait keeps a new design.
func (sh *Shop) AddBait(ctx context.Context, d bait.Design) (SavedBait, error) {
	doc, err := asJSON(d)
	if err != nil {
		return SavedBait{}, err
	}
	if err := sh.room(ctx, "bait"); err != nil {
		return SavedBait{}, err
	}
	uid := newUID()
	err = inTx(ctx, sh.db, func(tx *sql.Tx) error {
		if _, err := tx.ExecContext(ctx, "INSERT INTO bait (shop_id, uid, name) VALUES (?, ?, ?)", sh.id, uid, d.Name); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "INSERT INTO bait_version (shop_id, bait_uid, revision, doc) VALUES (?, ?, 1, ?)", sh.id, uid, doc)
		return err
	})
	if err != nil {
		return SavedBait{}, err
	}
	return sh.Bait(ctx, uid, 0)
}

// SaveBait keeps a change as a version of its own, if nobody made another since.
func (sh *Shop) SaveBait(ctx context.Context, b SavedBait) (SavedBait, error) {
	doc, err := asJSON(b.Design)
	if err != nil {
		return b, err
	}
	err = inTx(ctx, sh.db, func(tx *sql.Tx) error {
		var now int
		if err := tx.QueryRowContext(ctx, "SELECT revision FROM bait WHERE shop_id = ? AND uid = ? AND NOT retired FOR UPDATE", sh.id, b.UID).Scan(&now); err != nil {
			return notFound(err)
		}
		if now != b.Revision {
			return ErrStale
		}
		if _, err := tx.ExecContext(ctx, "INSERT INTO bait_version (shop_id, bait_uid, revision, doc) VALUES (?, ?, ?, ?)", sh.id, b.UID, now+1, doc); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "UPDATE bait SET revision = ?, name = ?, touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?", now+1, b.Name, sh.id, b.UID)
		return err
	})
	if err != nil {
		return b, err
	}
	return sh.Bait(ctx, b.UID, 0)
}

// RemoveBait takes a design off the list; its versions stay.
func (sh *Shop) RemoveBait(ctx context.Context, uid string) error {
	res, err := sh.db.ExecContext(ctx, "UPDATE bait SET retired = TRUE WHERE shop_id = ? AND uid = ? AND NOT retired", sh.id, uid)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return errOr(err, ErrNotFound)
	}
	return nil
}
