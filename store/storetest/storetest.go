// Package storetest gives tests a real MariaDB: one private server a test binary, and a database to itself for every
// test.
package storetest

import (
	"context"
	"database/sql"
	"fmt"
	"log/slog"
	"os"
	"sync"
	"sync/atomic"
	"testing"

	"cloudburst/store"
	"cloudburst/store/mariadb"
)

var (
	server *mariadb.Instance
	count  atomic.Int64
)

// Main runs a package's tests with a server: func TestMain(m *testing.M) { storetest.Main(m) }
func Main(m *testing.M) {
	store.Strict = true                      // a renamed field must not go unnoticed
	dir, err := os.MkdirTemp("", "cb-test-") // short: a socket's path has 107 bytes at most
	if err != nil {
		panic(err)
	}
	server, err = mariadb.Start(context.Background(), mariadb.Options{Dir: dir, Throwaway: true, Log: slog.Default()})
	if err != nil {
		panic(err)
	}
	code := m.Run()
	if err := server.Stop(); err != nil {
		fmt.Fprintln(os.Stderr, err)
	}
	os.RemoveAll(dir)
	os.Exit(code)
}

// DSN names a fresh, empty database.
func DSN(t testing.TB) string {
	_ = os.Getenv("CLOUDBURST_TESTED_WITH") // see testkit.Outside
	t.Helper()
	name := fmt.Sprintf("test_%d", count.Add(1))
	db, err := sql.Open("mysql", server.DSN(""))
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	if _, err := db.Exec("CREATE DATABASE " + name); err != nil {
		t.Fatal(err)
	}
	return server.DSN(name)
}

// Open gives a store as it is once migrated: on a database that a test before it is done with, emptied, or on a new
// one. Laying out the tables takes longer than most tests.
func Open(t testing.TB) *store.Store {
	t.Helper()
	dsn := done.take()
	if dsn == "" || empty(dsn) != nil {
		dsn = migrated(t)
	}
	st, err := store.Open(t.Context(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		st.Close()
		if !t.Failed() {
			done.add(dsn)
		}
	})
	return st
}

// migrated lays a database out.
func migrated(t testing.TB) string {
	t.Helper()
	dsn := DSN(t)
	st, err := store.Open(t.Context(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	if err := st.Migrate(t.Context()); err != nil {
		t.Fatal(err)
	}
	return dsn
}

// shelved are databases that tests are done with.
type shelved struct {
	mu   sync.Mutex
	dsns []string
}

var done shelved

func (s *shelved) add(dsn string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.dsns = append(s.dsns, dsn)
}

// take takes one of them; "" for none.
func (s *shelved) take() (dsn string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if n := len(s.dsns); n > 0 {
		dsn, s.dsns = s.dsns[n-1], s.dsns[:n-1]
	}
	return dsn
}

// empty takes everything out of a database but the versions of its tables, which is all that a new one holds.
func empty(dsn string) error {
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		return err
	}
	defer db.Close()
	ctx := context.Background()
	c, err := db.Conn(ctx)
	if err != nil {
		return err
	}
	defer c.Close()
	// What somebody still holds is not waited for: there are other databases.
	if _, err := c.ExecContext(ctx, "SET foreign_key_checks = 0, innodb_lock_wait_timeout = 1"); err != nil {
		return err
	}
	rows, err := c.QueryContext(ctx, "SHOW TABLES")
	if err != nil {
		return err
	}
	defer rows.Close()
	var tables []string
	for rows.Next() {
		var name string
		if err := rows.Scan(&name); err != nil {
			return err
		}
		if name != "goose_db_version" {
			tables = append(tables, name)
		}
	}
	if err := rows.Err(); err != nil {
		return err
	}
	for _, name := range tables {
		if _, err := c.ExecContext(ctx, "DELETE FROM `"+name+"`"); err != nil {
			return err
		}
	}
	return nil
}
