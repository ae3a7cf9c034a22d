// Package storetest gives tests a real MariaDB: one private server a test binary, one fresh database a test.
package storetest

import (
	"context"
	"database/sql"
	"fmt"
	"log/slog"
	"os"
	"sync/atomic"
	"testing"

	"cloudburst/store"
	"cloudburst/store/mariadb"
	"cloudburst/testkit"
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
	testkit.Outside()
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

// Open gives a fresh, migrated store.
func Open(t testing.TB) *store.Store {
	t.Helper()
	st, err := store.Open(t.Context(), DSN(t))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { st.Close() })
	if err := st.Migrate(t.Context()); err != nil {
		t.Fatal(err)
	}
	return st
}
