package store

import (
	"context"
	"database/sql"
	"errors"

	"cloudburst/core/material"
	"cloudburst/core/recipe"
)

// Materials lists the shelf, plastisols first, in the order in which the bottles came.
func (sh *Shop) Materials(ctx context.Context) ([]material.Material, error) {
	rows, err := sh.db.QueryContext(ctx,
		"SELECT properties FROM material WHERE shop_id = ? ORDER BY kind <> 'plastisol', created_at, uid", sh.id)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	list := []material.Material{}
	for rows.Next() {
		var raw []byte
		var m material.Material
		if err := rows.Scan(&raw); err != nil {
			return nil, err
		}
		if err := fromJSON(raw, &m); err != nil {
			return nil, err
		}
		list = append(list, m)
	}
	return list, rows.Err()
}

// Shelf is the same, to look things up in.
func (sh *Shop) Shelf(ctx context.Context) (recipe.Shelf, error) {
	list, err := sh.Materials(ctx)
	shelf := recipe.Shelf{}
	for _, m := range list {
		shelf[m.UID] = m
	}
	return shelf, err
}

// AddMaterial puts a bottle on the shelf; without a uid it gets one.
func (sh *Shop) AddMaterial(ctx context.Context, m material.Material) (material.Material, error) {
	if m.UID == "" {
		m.UID = newUID()
	}
	if err := m.Check(); err != nil {
		return m, err
	}
	return m, addMaterial(ctx, sh.db, sh.id, m)
}

type execer interface {
	ExecContext(ctx context.Context, query string, args ...any) (sql.Result, error)
}

var errTaken = errors.New("this uid is taken")

func addMaterial(ctx context.Context, db execer, shop int64, m material.Material) error {
	doc, err := asJSON(m)
	if err != nil {
		return err
	}
	_, err = db.ExecContext(ctx, "INSERT INTO material (shop_id, uid, kind, name, properties) VALUES (?, ?, ?, ?, ?)",
		shop, m.UID, m.Kind, m.Name, doc)
	if isDuplicate(err) {
		return errTaken
	}
	return err
}
