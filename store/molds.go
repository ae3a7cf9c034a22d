package store

import (
	"context"
	"database/sql"
	"time"

	"cloudburst/core/bait"
	"cloudburst/core/mesh"
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
	rows, err := sh.db.QueryContext(
		ctx, "SELECT uid, revision, retired, doc FROM mold WHERE shop_id = ? ORDER BY retired, name, uid", sh.id,
	)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	list := []SavedMold{}
	for rows.Next() {
		m, err := sh.scanMold(rows)
		if err != nil {
			return nil, err
		}
		list = append(list, m)
	}
	return list, rows.Err()
}

// Mold is one of them.
func (sh *Shop) Mold(ctx context.Context, uid string) (SavedMold, error) {
	m, err := sh.scanMold(sh.db.QueryRowContext(
		ctx, "SELECT uid, revision, retired, doc FROM mold WHERE shop_id = ? AND uid = ?", sh.id, uid,
	))
	return m, notFound(err)
}

func (sh *Shop) scanMold(row interface{ Scan(...any) error }) (SavedMold, error) {
	var m SavedMold
	var doc []byte
	if err := row.Scan(&m.UID, &m.Revision, &m.Retired, &doc); err != nil {
		return m, err
	}
	err := moldForm.read(doc, &m.Mold)
	if b := m.Body; b != nil {
		m.Skin = func() (*mesh.Mesh, error) { return sh.skin(b.UID) }
	}
	return m, err
}

// skin is the mesh of a bait from a file. It is read when the bait is first looked at, which may be well after the
// request that found its mold.
func (sh *Shop) skin(uid string) (*mesh.Mesh, error) {
	const patience = 20 * time.Second
	ctx, done := context.WithTimeout(context.Background(), patience)
	defer done()
	var raw []byte
	if err := sh.db.QueryRowContext(
		ctx, "SELECT skin FROM body WHERE shop_id = ? AND uid = ?", sh.id, uid,
	).Scan(&raw); err != nil {
		return nil, notFound(err)
	}
	return mesh.Unpack(raw)
}

// AddBody keeps a maker's own bait, and a mold of it.
func (sh *Shop) AddBody(ctx context.Context, skin *mesh.Mesh, m bait.Mold) (SavedMold, error) {
	uid := newUID()
	m.Shape, m.Body = bait.FromFile, &bait.Body{UID: uid}
	m.Skin = func() (*mesh.Mesh, error) { return skin, nil }
	if err := m.Check(); err != nil {
		return SavedMold{}, err
	}
	raw, err := skin.Pack()
	if err != nil {
		return SavedMold{}, err
	}
	doc, err := moldForm.write(m)
	if err != nil {
		return SavedMold{}, err
	}
	made, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		if err := room(ctx, tx, roomForMolds, sh.id); err != nil {
			return "", err
		}
		if _, err := tx.ExecContext(
			ctx, "INSERT INTO body (shop_id, uid, skin) VALUES (?, ?, ?)", sh.id, uid, raw,
		); err != nil {
			return "", err
		}
		_, err := tx.ExecContext(
			ctx, "INSERT INTO mold (shop_id, uid, name, doc) VALUES (?, ?, ?, ?)", sh.id, uid, m.Name, doc,
		)
		return uid, err
	})
	if err != nil {
		return SavedMold{}, err
	}
	return sh.Mold(ctx, made)
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
	doc, err := moldForm.write(m)
	if err != nil {
		return SavedMold{}, err
	}
	made, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		if err := room(ctx, tx, roomForMolds, sh.id); err != nil {
			return "", err
		}
		_, err := tx.ExecContext(
			ctx, "INSERT INTO mold (shop_id, uid, name, doc) VALUES (?, ?, ?, ?)", sh.id, uid, m.Name, doc,
		)
		return uid, err
	})
	if err != nil {
		return SavedMold{}, err
	}
	return sh.Mold(ctx, made)
}

const roomForMolds = "SELECT COUNT(*) FROM mold WHERE shop_id = ? AND NOT retired FOR UPDATE"

// room says whether there is room for another; count is the query that counts those in use. What was put away doesn't
// count.
func room(ctx context.Context, tx *sql.Tx, count string, shop int64) error {
	n := 0
	if err := tx.QueryRowContext(ctx, count, shop).Scan(&n); err != nil {
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
	doc, err := moldForm.write(m.Mold)
	if err != nil {
		return m, err
	}
	err = sh.change(ctx, func(tx *sql.Tx) error {
		if err := holdAt(
			ctx, tx, m.Revision, "SELECT revision FROM mold WHERE shop_id = ? AND uid = ? FOR UPDATE", sh.id, m.UID,
		); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `UPDATE mold SET revision = revision + 1, name = ?, doc = ?, retired = ?, touched_at = CURRENT_TIMESTAMP(6)
			WHERE shop_id = ? AND uid = ?`, m.Name, doc, m.Retired, sh.id, m.UID); err != nil {
			return err
		}
		if m.Retired {
			return nil
		}
		var n int // one that was put away may have come back
		if err := tx.QueryRowContext(ctx, roomForMolds, sh.id).Scan(&n); err != nil || n <= maxMolds {
			return err
		}
		return ErrTooMany
	})
	if err != nil {
		return m, err
	}
	return sh.Mold(ctx, m.UID)
}
