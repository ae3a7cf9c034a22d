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
	"cloudburst/testkit"
)

func start(t *testing.T, dir string) *mariadb.Instance {
	testkit.Outside()
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
	require.Eventually(
		t, func() bool { return db.QueryRow("SELECT COUNT(*) FROM kept").Scan(&n) == nil }, 20*time.Second,
		50*time.Millisecond,
	)
	return n
}

func pid(t *testing.T, dir string) int {
	t.Helper()
	var n int
	require.Eventually(t, func() bool { // a busy server writes it a little after it answers
		raw, err := os.ReadFile(filepath.Join(dir, "pid"))
		if err == nil {
			n, err = strconv.Atoi(strings.TrimSpace(string(raw)))
		}
		return err == nil
	}, 10*time.Second, 20*time.Millisecond)
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
	assert.Eventually(
		t, func() bool { return syscall.Kill(pid0(dir), 0) != nil }, 5*time.Second, 20*time.Millisecond,
		"no server is left",
	)
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

// Every account has a password, or is locked.
func TestNoAccountIsWithoutAPassword(t *testing.T) {
	t.Parallel()
	dir, err := os.MkdirTemp("", "cb-inst-")
	require.NoError(t, err)
	defer os.RemoveAll(dir)
	i := start(t, dir)
	defer i.Stop() //nolint:errcheck // the folder goes anyway
	password, err := os.ReadFile(filepath.Join(dir, "secret"))
	require.NoError(t, err)
	db, err := sql.Open("mysql", "root:"+string(password)+"@unix("+filepath.Join(dir, "socket")+")/mysql")
	require.NoError(t, err)
	defer db.Close()
	rows, err := db.Query("SELECT CONCAT(User, '@', Host), COALESCE(JSON_VALUE(Priv, '$.authentication_string'), '') FROM global_priv")
	require.NoError(t, err)
	defer rows.Close()
	n := 0
	for rows.Next() {
		var who, secret string
		require.NoError(t, rows.Scan(&who, &secret))
		assert.Len(t, secret, 41, "%s: a hashed password", who)
		n++
	}
	assert.Equal(t, 4, n, "ours twice, root, and the owner of the server's own views, which is locked")
}

// A server that hangs, and an earlier one that no file tells of, are killed where asking does not help.
func TestAServerThatHangsIsKilled(t *testing.T) {
	t.Parallel()
	dir, err := os.MkdirTemp("", "cb-inst-")
	require.NoError(t, err)
	defer os.RemoveAll(dir)
	i := start(t, dir)
	defer i.Stop() //nolint:errcheck // it is alive, and starts its server again when that is gone
	exec(t, i, "CREATE TABLE kept (n INT)")
	exec(t, i, "INSERT INTO kept VALUES (1)")
	hung := pid(t, dir)
	parent := parentOf(t, hung)
	require.NoError(t, syscall.Kill(hung, syscall.SIGSTOP))
	require.NoError(t, syscall.Kill(parent, syscall.SIGSTOP), "its guard hangs, too")
	require.NoError(t, os.Remove(filepath.Join(dir, "pid")))
	began := time.Now()
	again := start(t, dir)
	assert.Less(t, time.Since(began), 20*time.Second)
	assert.Equal(t, 1, count(t, again))
	require.NoError(t, syscall.Kill(parent, syscall.SIGKILL)) // it would bury its child, but hangs
	assert.Eventually(
		t, func() bool { return syscall.Kill(hung, 0) != nil }, 5*time.Second, 20*time.Millisecond,
		"nothing is left of it",
	)

	require.NoError(t, syscall.Kill(pid(t, dir), syscall.SIGSTOP))
	began = time.Now()
	assert.NoError(t, again.Stop())
	assert.Less(t, time.Since(began), 15*time.Second)
}

func parentOf(t *testing.T, pid int) int {
	t.Helper()
	raw, err := os.ReadFile("/proc/" + strconv.Itoa(pid) + "/stat")
	require.NoError(t, err)
	_, rest, _ := strings.Cut(string(raw), ") ")
	parent, err := strconv.Atoi(strings.Fields(rest)[1])
	require.NoError(t, err)
	return parent
}

// However often it dies, it comes back.
func TestAServerThatDiesOverAndOverComesBack(t *testing.T) {
	t.Parallel()
	dir, err := os.MkdirTemp("", "cb-inst-")
	require.NoError(t, err)
	defer os.RemoveAll(dir)
	i := start(t, dir)
	defer i.Stop() //nolint:errcheck // the folder goes anyway
	exec(t, i, "CREATE TABLE kept (n INT)")
	for range 7 {
		exec(t, i, "INSERT INTO kept VALUES (1)")
		require.NoError(t, syscall.Kill(pid(t, dir), syscall.SIGKILL))
		count(t, i)
	}
	assert.Equal(t, 7, count(t, i))
}

// A start that is broken off leaves nothing that the next one stumbles over.
func TestAStartThatIsBrokenOff(t *testing.T) {
	t.Parallel()
	dir, err := os.MkdirTemp("", "cb-inst-")
	require.NoError(t, err)
	defer os.RemoveAll(dir)
	for ms := 20; ms < 1200; ms += 130 {
		ctx, cancel := context.WithTimeout(t.Context(), time.Duration(ms)*time.Millisecond)
		i, err := mariadb.Start(ctx, mariadb.Options{Dir: dir, Log: slog.New(slog.DiscardHandler)})
		if err == nil {
			assert.NoError(t, i.Stop())
		}
		cancel()
	}
	began := time.Now()
	i := start(t, dir)
	assert.Less(t, time.Since(began), 20*time.Second)
	assert.NoError(t, i.Stop())
}

// A server that was stopped stays so: the one who keeps it running does not take it for a death.
func TestStoppedMeansStopped(t *testing.T) {
	t.Parallel()
	dir, err := os.MkdirTemp("", "cb-inst-")
	require.NoError(t, err)
	defer os.RemoveAll(dir)
	for range 8 {
		i := start(t, dir)
		was := pid(t, dir)
		require.NoError(t, i.Stop())
		time.Sleep(150 * time.Millisecond)
		assert.Error(t, syscall.Kill(was, 0))
		assert.Error(t, syscall.Kill(pid0(dir), 0), "no new one came")
	}
}

// Several are installed and run on one machine at once. (A server takes away all temporary tables that it finds in its
// folder for them.)
func TestSeveralAtOnce(t *testing.T) {
	var all sync.WaitGroup
	for range 6 {
		all.Go(func() {
			dir, err := os.MkdirTemp("", "cb-inst-")
			if !assert.NoError(t, err) {
				return
			}
			defer os.RemoveAll(dir)
			i, err := mariadb.Start(
				t.Context(), mariadb.Options{Dir: dir, Throwaway: true, Log: slog.New(slog.DiscardHandler)},
			)
			if assert.NoError(t, err) {
				assert.NoError(t, i.Stop())
			}
		})
	}
	all.Wait()
}
