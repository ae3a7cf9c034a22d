package store

import (
	"context"

	"cloudburst/core/bait"
)

// SavedMold is a mold as it is kept.
type SavedMold struct {
	UID      string `json:"uid"`
	Revision int    `json:"revision"`
	Retired  bool   `json:"retired"`
	bait.Mold
}

// Molds lists the shop's molds by name.
func (sh *Shop) Molds(ctx context.Context) ([]SavedMold, error) {
	rows, err := sh.db.QueryContext(ctx, "SELECT uid, revision, retired, doc FROM mold WHERE shop_id = ? ORDER BY retired, name, uid", sh.id)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	list := []SavedMold{}
	for rows.Next() {
		m, err := scanMold(rows)
		if err != nil {
			return nil, err
		}
		list = append(list, m)
	}
	return list, rows.Err()
}

// Mold is one of them.
func (sh *Shop) Mold(ctx context.Context, uid string) (SavedMold, error) {
	m, err := scanMold(sh.db.QueryRowContext(ctx, "SELECT uid, revision, retired, doc FROM mold WHERE shop_id = ? AND uid = ?", sh.id, uid))
	return m, notFound(err)
}

func scanMold(row interface{ Scan(...any) error }) (SavedMold, error) {
	var m SavedMold
	var doc []byte
	if err := row.Scan(&m.UID, &m.Revision, &m.Retired, &doc); err != nil {
		return m, err
	}
	return m, fromJSON(doc, &m.Mold)
}

// maxMolds bounds a shop's molds and baits.
const maxMolds = 500

// AddMold keeps a new mold; the uid may be given, for a shop that is filled.
func (sh *Shop) AddMold(ctx context.Context, uid string, m bait.Mold) (SavedMold, error) {
	if err := m.Check(); err != nil {
		return SavedMold{}, err
	}
	if uid == "" {
		uid = newUID()
	}
	doc, err := asJSON(m)
	if err != nil {
		return SavedMold{}, err
	}
	if err := sh.room(ctx, "mold"); err != nil {
		return SavedMold{}, err
	}
	if _, err := sh.db.ExecContext(ctx, "INSERT INTO mold (shop_id, uid, name, doc) VALUES (?, ?, ?, ?)", sh.id, uid, m.Name, doc); err != nil {
		return SavedMold{}, err
	}
	return sh.Mold(ctx, uid)
}

// room says whether there is room for another; table is one of ours.
func (sh *Shop) room(ctx context.Context, table string) error {
	query := map[string]string{"mold": "SELECT COUNT(*) FROM mold WHERE shop_id = ?", "bait": "SELECT COUNT(*) FROM bait WHERE shop_id = ?"}[table]
	n := 0
	if err := sh.db.QueryRowContext(ctx, query, sh.id).Scan(&n); err != nil {
		return err
	}
	if n >= maxMolds {
		return ErrTooMany
	}
	return nil
}

// SaveMold keeps a change of a mold, if nobody changed it since.
func (sh *Shop) SaveMold(ctx context.Context, m SavedMold) (SavedMold, error) {
	if err := m.Check(); err != nil {
		return m, err
	}
	doc, err := asJSON(m.Mold)
	if err != nil {
		return m, err
	}
	res, err := sh.db.ExecContext(ctx, `UPDATE mold SET revision = revision + 1, name = ?, doc = ?, retired = ?, touched_at = CURRENT_TIMESTAMP(6)
		WHERE shop_id = ? AND uid = ? AND revision = ?`, m.Name, doc, m.Retired, sh.id, m.UID, m.Revision)
	if err != nil {
		return m, err
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		if _, gone := sh.Mold(ctx, m.UID); gone != nil {
			return m, gone
		}
		return m, errOr(err, ErrStale)
	}
	return sh.Mold(ctx, m.UID)
}
