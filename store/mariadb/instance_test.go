package mariadb_test

import (
	"context"
	"database/sql"
	"log/slog"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	_ "github.com/go-sql-driver/mysql"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/store/mariadb"
)

func start(t *testing.T, dir string) *mariadb.Instance {
	t.Helper()
	i, err := mariadb.Start(t.Context(), mariadb.Options{Dir: dir, Log: slog.New(slog.DiscardHandler)})
	require.NoError(t, err)
	return i
}

func exec(t *testing.T, i *mariadb.Instance, query string) {
	t.Helper()
	db, err := sql.Open("mysql", i.DSN(""))
	require.NoError(t, err)
	defer db.Close()
	_, err = db.Exec(query)
	require.NoError(t, err)
}

func count(t *testing.T, i *mariadb.Instance) (n int) {
	t.Helper()
	db, err := sql.Open("mysql", i.DSN(""))
	require.NoError(t, err)
	defer db.Close()
	require.Eventually(t, func() bool { return db.QueryRow("SELECT COUNT(*) FROM kept").Scan(&n) == nil }, 20*time.Second, 50*time.Millisecond)
	return n
}

func pid(t *testing.T, dir string) int {
	t.Helper()
	raw, err := os.ReadFile(filepath.Join(dir, "pid"))
	require.NoError(t, err)
	n, err := strconv.Atoi(strings.TrimSpace(string(raw)))
	require.NoError(t, err)
	return n
}

func TestWhatIsWrittenSurvivesStopAndCrash(t *testing.T) {
	dir, err := os.MkdirTemp("", "cb-inst-")
	require.NoError(t, err)
	defer os.RemoveAll(dir)

	i := start(t, dir)
	exec(t, i, "CREATE TABLE kept (n INT)")
	exec(t, i, "INSERT INTO kept VALUES (1)")
	require.NoError(t, i.Stop())
	info, err := os.Stat(filepath.Join(dir, "secret"))
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm(), "only the owner reads the password")
	assert.NoFileExists(t, filepath.Join(dir, "accounts.sql"))

	i = start(t, dir)
	assert.Equal(t, 1, count(t, i), "after a stop")
	exec(t, i, "INSERT INTO kept VALUES (2)")
	first := pid(t, dir)
	require.NoError(t, syscall.Kill(first, syscall.SIGKILL))
	assert.Equal(t, 2, count(t, i), "the server came back by itself after kill -9")
	assert.NotEqual(t, first, pid(t, dir))
	require.NoError(t, i.Stop())
	assert.Eventually(t, func() bool { return syscall.Kill(pid0(dir), 0) != nil }, 5*time.Second, 20*time.Millisecond, "no server is left")
}

func pid0(dir string) int {
	raw, _ := os.ReadFile(filepath.Join(dir, "pid"))
	n, err := strconv.Atoi(strings.TrimSpace(string(raw)))
	if err != nil {
		return 1 << 30
	}
	return n
}

func TestNobodyElseGetsIn(t *testing.T) {
	dir, err := os.MkdirTemp("", "cb-inst-")
	require.NoError(t, err)
	defer os.RemoveAll(dir)
	i := start(t, dir)
	defer i.Stop() //nolint:errcheck // the folder goes anyway
	for _, dsn := range []string{
		"root@unix(" + filepath.Join(dir, "socket") + ")/",
		"root@tcp(127.0.0.1:" + strconv.Itoa(i.Port()) + ")/",
		"cloudburst@tcp(127.0.0.1:" + strconv.Itoa(i.Port()) + ")/",
		"@unix(" + filepath.Join(dir, "socket") + ")/",
	} {
		db, err := sql.Open("mysql", dsn)
		require.NoError(t, err)
		assert.ErrorContains(t, db.PingContext(context.Background()), "1045", "no password, no entry: %s", dsn)
		db.Close()
	}
}

// Several are installed and run on one machine at once. (A server takes away all temporary tables that it finds in its folder for them.)
func TestSeveralAtOnce(t *testing.T) {
	var all sync.WaitGroup
	for range 6 {
		all.Go(func() {
			dir, err := os.MkdirTemp("", "cb-inst-")
			if !assert.NoError(t, err) {
				return
			}
			defer os.RemoveAll(dir)
			i, err := mariadb.Start(t.Context(), mariadb.Options{Dir: dir, Throwaway: true, Log: slog.New(slog.DiscardHandler)})
			if assert.NoError(t, err) {
				assert.NoError(t, i.Stop())
			}
		})
	}
	all.Wait()
}
