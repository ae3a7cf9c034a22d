package store

import (
	"context"
	"database/sql"
	"strconv"
	"sync/atomic"

	"golang.org/x/sync/singleflight"
)

// Shop is one shop's view of the store: everything below hangs on it and sees nothing else.
type Shop struct {
	db   *sql.DB
	id   int64
	Name string
	Demo bool
	kept atomic.Pointer[keptShelf]
	work singleflight.Group // what batches teach, worked out once at a time
}

// Key tells its things apart from another shop's, in a cache.
func (sh *Shop) Key() string { return strconv.FormatInt(sh.id, 10) }

// NewShop adds an empty shop.
func (s *Store) NewShop(ctx context.Context, name string, demo bool) (*Shop, error) {
	return s.NewShopWith(ctx, name, demo, func(context.Context, *Shop) error { return nil })
}

// NewShopWith adds a shop and fills it. It counts as there only when it is full: what a failure or a crash
// leaves behind is never served.
func (s *Store) NewShopWith(
	ctx context.Context, name string, demo bool, fill func(context.Context, *Shop) error,
) (*Shop, error) {
	res, err := s.db.ExecContext(ctx, "INSERT INTO shop (name, demo, ready) VALUES (?, ?, FALSE)", name, demo)
	if err != nil {
		return nil, err
	}
	id, err := res.LastInsertId()
	if err != nil {
		return nil, err
	}
	sh := &Shop{db: s.db, id: id, Name: name, Demo: demo}
	if err := fill(ctx, sh); err != nil {
		return nil, err
	}
	_, err = s.db.ExecContext(ctx, "UPDATE shop SET ready = TRUE WHERE id = ?", id)
	return sh, err
}

// FirstShop is the shop that was there first. ErrNotFound if the store is new.
func (s *Store) FirstShop(ctx context.Context) (*Shop, error) {
	sh := &Shop{db: s.db}
	err := s.db.QueryRowContext(
		ctx, "SELECT id, name, demo FROM shop WHERE ready ORDER BY id LIMIT 1",
	).Scan(&sh.id, &sh.Name, &sh.Demo)
	return sh, notFound(err)
}
