// Package store keeps a shop's things in MariaDB. SQL and transactions live here and nowhere else; the rules of
// the job live in core. Rows are reached through a Shop only, which binds every query to itself.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"time"

	"github.com/go-sql-driver/mysql"
	"github.com/google/uuid"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
)

//go:embed migrations/*.sql
var migrations embed.FS

// SchemaVersion is the newest migration that this program knows.
const SchemaVersion = 19

// What can go wrong that a maker can do something about.
var (
	ErrNotFound = errors.New("not found")
	ErrStale    = errors.New("changed by someone else since it was read")
	ErrNewer    = errors.New("written by a newer version")
	ErrTooMany  = errors.New("no room for more")
)

// Store is the database of one or more shops.
type Store struct{ db *sql.DB }

// Open connects to the database that the DSN names (the form of github.com/go-sql-driver/mysql).
func Open(ctx context.Context, dsn string) (*Store, error) {
	cfg, err := mysql.ParseDSN(dsn)
	if err != nil {
		return nil, fmt.Errorf(
			"the database setting can't be read (a DSN looks like user:password@tcp(127.0.0.1:3306)/cloudburst): %w",
			err,
		)
	}
	cfg.ParseTime, cfg.Loc = true, time.UTC
	cfg.ClientFoundRows = true // an UPDATE that changes nothing still found its row
	cfg.Collation = "utf8mb4_unicode_520_ci"
	cfg.Params = map[string]string{"time_zone": "'+00:00'"}
	connector, err := mysql.NewConnector(cfg)
	if err != nil {
		return nil, err
	}
	db := sql.OpenDB(connector)
	db.SetMaxOpenConns(8)
	db.SetMaxIdleConns(8)
	db.SetConnMaxLifetime(5 * time.Minute)
	if err := db.PingContext(ctx); err != nil {
		db.Close()
		return nil, fmt.Errorf("the database does not answer: %w", err)
	}
	return &Store{db}, nil
}

// Close ends the connections.
func (s *Store) Close() error { return s.db.Close() }

// Ping asks whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return s.db.PingContext(ctx) }

// Migrate brings the tables up to this program's version. A newer database is refused and left as it is.
func (s *Store) Migrate(ctx context.Context) error {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	locker, err := lock.NewMySQLTableLocker()
	if err != nil {
		return err
	}
	p, err := goose.NewProvider(goose.DialectMySQL, s.db, files, goose.WithLocker(locker))
	if err != nil {
		return err
	}
	have, err := p.GetDBVersion(ctx)
	if err != nil {
		return fmt.Errorf("reading the version of the tables: %w", err)
	}
	if have > SchemaVersion {
		return fmt.Errorf(
			"%w: its tables are of version %d and this Cloudburst knows up to %d; update Cloudburst, or use another database",
			ErrNewer, have, SchemaVersion,
		)
	}
	_, err = p.Up(ctx)
	return err
}

// inTx runs f in a transaction, again if the server broke it off to resolve a deadlock.
func inTx(ctx context.Context, db *sql.DB, f func(tx *sql.Tx) error) error {
	for try := 0; ; try++ {
		err := func() error {
			// Rows are locked, not the gaps between them: hands that work on different things do not wait for each
			// other.
			tx, err := db.BeginTx(ctx, &sql.TxOptions{Isolation: sql.LevelReadCommitted})
			if err != nil {
				return err
			}
			defer tx.Rollback() //nolint:errcheck // a rollback after a commit does nothing
			if err := f(tx); err != nil {
				return err
			}
			return tx.Commit()
		}()
		var broken *mysql.MySQLError
		if errors.As(err, &broken) && (broken.Number == 1213 || broken.Number == 1205) && try < 4 {
			continue
		}
		return err
	}
}

// inTurn takes the parts of a change one after the other, up to the first that fails. To go on after that would be
// wrong: where the database broke the transaction off because of a deadlock, what came next would be kept, without what
// came before.
func inTurn(parts ...func() error) error {
	for _, part := range parts {
		if err := part(); err != nil {
			return err
		}
	}
	return nil
}

// newUID names a row for good; names come in the order in which rows are made.
func newUID() string { return uuid.Must(uuid.NewV7()).String() }

func isDuplicate(err error) bool {
	var e *mysql.MySQLError
	return errors.As(err, &e) && e.Number == 1062
}

func notFound(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNotFound
	}
	return err
}
