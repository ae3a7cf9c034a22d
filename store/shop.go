package store

import (
	"context"
	"database/sql"
)

// Shop is one shop's view of the store: everything below hangs on it and sees nothing else.
type Shop struct {
	db   *sql.DB
	id   int64
	Name string
	Demo bool
}

// NewShop adds a shop.
func (s *Store) NewShop(ctx context.Context, name string, demo bool) (*Shop, error) {
	res, err := s.db.ExecContext(ctx, "INSERT INTO shop (name, demo) VALUES (?, ?)", name, demo)
	if err != nil {
		return nil, err
	}
	id, err := res.LastInsertId()
	return &Shop{s.db, id, name, demo}, err
}

// FirstShop is the shop that was there first. ErrNotFound if the store is new.
func (s *Store) FirstShop(ctx context.Context) (*Shop, error) {
	sh := &Shop{db: s.db}
	err := s.db.QueryRowContext(ctx, "SELECT id, name, demo FROM shop ORDER BY id LIMIT 1").Scan(&sh.id, &sh.Name, &sh.Demo)
	return sh, notFound(err)
}
