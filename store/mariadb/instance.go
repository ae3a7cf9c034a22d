// Package mariadb runs a private MariaDB server in a folder of its own: installs it, starts it on its own socket
// and a free loopback port, keeps it running and ends it. Nothing outside the folder is touched.
package mariadb

import (
	"bufio"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	"github.com/go-sql-driver/mysql"
)

// Options say where an instance lives and how careful it is.
type Options struct {
	Dir       string // its folder; made if missing
	Throwaway bool   // for tests: no network, and fast rather than safe against a crash
	Log       *slog.Logger
}

// Instance is a running server.
type Instance struct {
	Options
	port     int
	socket   string
	password string

	mu       sync.Mutex
	stdin    io.WriteCloser // the server ends when this closes, even by our sudden death
	exited   chan struct{}  // closed when the current server process has ended
	stopping bool
}

const (
	database = "cloudburst"
	user     = "cloudburst"
	patience = 2 * time.Minute // a start after a crash replays the log first
)

// Start runs the server in its folder, installing it on the first start, and waits until it answers. If the
// server dies later, it is started again.
func Start(ctx context.Context, o Options) (*Instance, error) {
	i := &Instance{Options: o}
	server, err := find("mariadbd")
	if err != nil {
		return nil, err
	}
	if err := os.MkdirAll(o.Dir, 0o700); err != nil {
		return nil, fmt.Errorf("the database's folder can't be made: %w", err)
	}
	if err := i.endOrphan(); err != nil {
		return nil, err
	}
	// Temporary tables in a folder of its own: in the machine's, another server would take them away when it starts.
	if err := os.MkdirAll(i.path("tmp"), 0o700); err != nil {
		return nil, fmt.Errorf("the database's folder can't be made: %w", err)
	}
	if err := i.install(ctx); err != nil {
		return nil, err
	}
	if i.password, err = secret(i.path("secret")); err != nil {
		return nil, err
	}
	if i.socket, err = socketPath(o.Dir); err != nil {
		return nil, err
	}
	if !o.Throwaway {
		if i.port, err = freePort(); err != nil {
			return nil, err
		}
	}
	if err := i.run(ctx, server); err != nil {
		return nil, err
	}
	go i.keepRunning(server)
	return i, nil
}

func (i *Instance) path(name string) string { return filepath.Join(i.Dir, name) }

// DSN is how the program reaches the named database; the empty name is the shop's own.
func (i *Instance) DSN(name string) string {
	if name == "" {
		name = database
	}
	cfg := mysql.NewConfig()
	cfg.User, cfg.Passwd, cfg.DBName = user, i.password, name
	cfg.Net, cfg.Addr = "unix", i.socket
	return cfg.FormatDSN()
}

// Port is the loopback port, for a database client of one's own; 0 where there is none.
func (i *Instance) Port() int { return i.port }

// find looks for a server program, also where Debian hides it from ordinary users.
func find(name string) (string, error) {
	if path, err := exec.LookPath(name); err == nil {
		return path, nil
	}
	for _, dir := range []string{"/usr/sbin", "/usr/local/sbin", "/usr/bin"} {
		if path := filepath.Join(dir, name); exec.Command("test", "-x", path).Run() == nil {
			return path, nil
		}
	}
	return "", fmt.Errorf("%s is not installed. On Debian: apt install mariadb-server; or set CLOUDBURST_DSN to a database server of your own", name)
}

// install makes the data files, in a folder beside their place that is renamed when it is complete.
func (i *Instance) install(ctx context.Context) error {
	if _, err := os.Stat(i.path("data")); err == nil {
		return nil
	}
	tool, err := find("mariadb-install-db")
	if err != nil {
		return err
	}
	half := i.path("data.unfinished")
	if err := os.RemoveAll(half); err != nil {
		return err
	}
	args := []string{
		"--no-defaults", "--datadir=" + half, "--auth-root-authentication-method=normal",
		"--skip-test-db", "--skip-name-resolve", "--innodb-log-file-size=8M",
	}
	cmd := exec.CommandContext(ctx, tool, append(args, asRoot()...)...)
	cmd.Env = append(os.Environ(), "TMPDIR="+i.path("tmp"))
	out, err := cmd.CombinedOutput()
	if err != nil {
		return fmt.Errorf("installing the database failed: %w: %s", err, lastLines(out, 3))
	}
	return os.Rename(half, i.path("data"))
}

// asRoot is what mariadbd wants to hear before it runs as root.
func asRoot() []string {
	if os.Geteuid() == 0 {
		return []string{"--user=root"}
	}
	return nil
}

// guard runs mariadbd and ends it when its own standard input closes, which happens however the parent dies.
// (A parent-death signal would not reach mariadbd.)
const guard = `exec 3<&0; "$@" </dev/null 3<&- & p=$!
trap 'kill -TERM $p' TERM; (cat <&3 >/dev/null; kill -TERM $p) & w=$!; exec 3<&-
wait $p; wait $p; r=$?; kill $w 2>/dev/null; exit $r`

// run starts one server process and waits until it answers.
func (i *Instance) run(ctx context.Context, server string) error {
	init, err := i.writeAccounts()
	if err != nil {
		return err
	}
	defer os.Remove(init)
	args := []string{
		server, "--no-defaults", "--datadir=" + i.path("data"), "--socket=" + i.socket, "--pid-file=" + i.path("pid"), "--tmpdir=" + i.path("tmp"),
		"--log-error=" + i.path("err.log"), "--init-file=" + init, "--skip-name-resolve", "--skip-log-bin",
		"--innodb-log-file-size=8M", "--character-set-server=utf8mb4", "--collation-server=utf8mb4_unicode_520_ci",
		"--default-time-zone=+00:00", "--max-allowed-packet=64M",
	}
	if i.Throwaway {
		args = append(args, "--skip-networking", "--innodb-flush-log-at-trx-commit=0", "--skip-innodb-doublewrite",
			"--innodb-fast-shutdown=2", "--innodb-buffer-pool-size=64M", "--performance-schema=OFF")
	} else {
		args = append(args, "--bind-address=127.0.0.1", "--port="+strconv.Itoa(i.port))
	}
	args = append(args, asRoot()...)
	cmd := exec.Command("sh", append([]string{"-c", guard, "sh"}, args...)...)
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true} // Ctrl-C reaches us alone; we end the server in our own time
	stdin, err := cmd.StdinPipe()
	if err != nil {
		return err
	}
	if err := cmd.Start(); err != nil {
		return fmt.Errorf("starting the database: %w", err)
	}
	exited := make(chan struct{})
	go func() {
		_ = cmd.Wait() // how it ended stands in its own log
		close(exited)
	}()
	i.mu.Lock()
	i.stdin, i.exited = stdin, exited
	i.mu.Unlock()
	return i.waitUntilItAnswers(ctx, exited)
}

func (i *Instance) waitUntilItAnswers(ctx context.Context, exited chan struct{}) error {
	connector, err := mysql.NewConnector(mustParse(i.DSN("")))
	if err != nil {
		return err
	}
	deadline := time.Now().Add(patience)
	for {
		conn, err := connector.Connect(ctx)
		if err == nil {
			return conn.Close()
		}
		select {
		case <-ctx.Done():
			i.end()
			return ctx.Err()
		case <-exited:
			log, _ := os.ReadFile(i.path("err.log"))
			return fmt.Errorf("the database ended at its start; its log %s says: %s", i.path("err.log"), lastLines(log, 3))
		case <-time.After(20 * time.Millisecond):
		}
		if time.Now().After(deadline) {
			i.end()
			return fmt.Errorf("the database did not answer within %v (%w); see %s", patience, err, i.path("err.log"))
		}
	}
}

func mustParse(dsn string) *mysql.Config {
	cfg, err := mysql.ParseDSN(dsn)
	if err != nil {
		panic("mariadb: own DSN does not parse: " + err.Error())
	}
	return cfg
}

// keepRunning starts the server again when it dies, unless it dies over and over.
func (i *Instance) keepRunning(server string) {
	deaths := 0
	for {
		i.mu.Lock()
		exited := i.exited
		i.mu.Unlock()
		since := time.Now()
		<-exited
		i.mu.Lock()
		stopping := i.stopping
		i.mu.Unlock()
		if stopping {
			return
		}
		if deaths++; time.Since(since) > time.Minute {
			deaths = 1
		}
		if deaths > 5 {
			i.Log.Error("the database keeps dying; end Cloudburst and look at its log", "log", i.path("err.log"))
			return
		}
		i.Log.Warn("the database ended unexpectedly and is started again")
		if err := i.endOrphan(); err != nil { // the guard may have died and left the server
			i.Log.Error("the database's remains can't be cleared", "err", err)
		}
		if err := i.run(context.Background(), server); err != nil {
			i.Log.Error("the database could not be started again", "err", err)
		}
	}
}

// end asks the current server process to end.
func (i *Instance) end() {
	i.mu.Lock()
	defer i.mu.Unlock()
	i.stdin.Close()
}

// Stop ends the server and waits until it has written everything down.
func (i *Instance) Stop() error {
	i.mu.Lock()
	i.stopping = true
	exited := i.exited
	i.mu.Unlock()
	i.end()
	select {
	case <-exited:
		if i.Throwaway || !strings.HasPrefix(i.socket, i.Dir) {
			os.RemoveAll(filepath.Dir(i.socket))
		}
		return nil
	case <-time.After(patience):
		return errors.New("the database did not end in time; it will recover at the next start")
	}
}

// writeAccounts writes what the server does before it lets anyone in: make our database and account, give root
// our password and take away every other way in.
func (i *Instance) writeAccounts() (string, error) {
	var b bytes.Buffer
	w := func(format string, args ...any) { fmt.Fprintf(&b, format+";\n", args...) }
	w("CREATE DATABASE IF NOT EXISTS %s CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci", database)
	for _, host := range []string{"localhost", "127.0.0.1"} {
		w("CREATE USER IF NOT EXISTS '%s'@'%s'", user, host)
		w("ALTER USER '%s'@'%s' IDENTIFIED BY '%s'", user, host, i.password)
		w("GRANT ALL ON `%s`.* TO '%s'@'%s'", database, user, host)
		if i.Throwaway { // a database for each test
			w("GRANT ALL ON `test\\_%%`.* TO '%s'@'%s'", user, host)
		}
	}
	w("ALTER USER 'root'@'localhost' IDENTIFIED BY '%s'", i.password)
	for _, host := range []string{"127.0.0.1", "::1", "%"} {
		w("DROP USER IF EXISTS 'root'@'%s'", host)
	}
	w("DROP USER IF EXISTS ''@'localhost'")
	file := i.path("accounts.sql")
	return file, os.WriteFile(file, b.Bytes(), 0o600)
}

// endOrphan ends a server that an earlier run left in this folder.
func (i *Instance) endOrphan() error {
	raw, err := os.ReadFile(i.path("pid"))
	if err != nil {
		return nil //nolint:nilerr // no file, no server
	}
	pid, err := strconv.Atoi(strings.TrimSpace(string(raw)))
	if err != nil || !i.runsHere(pid) {
		return nil //nolint:nilerr // the number belongs to somebody else by now
	}
	if err := syscall.Kill(pid, syscall.SIGTERM); err != nil {
		return fmt.Errorf("a database from an earlier start still runs (process %d) and can't be ended: %w", pid, err)
	}
	for deadline := time.Now().Add(patience); i.runsHere(pid); time.Sleep(20 * time.Millisecond) {
		if time.Now().After(deadline) {
			return fmt.Errorf("a database from an earlier start still runs (process %d); end it and start again", pid)
		}
	}
	return nil
}

// runsHere says whether a process is a server on this instance's data.
func (i *Instance) runsHere(pid int) bool {
	raw, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
	return err == nil && bytes.Contains(raw, []byte("--datadir="+i.path("data")+"\x00"))
}

func lastLines(text []byte, n int) string {
	var lines []string
	for s := bufio.NewScanner(bytes.NewReader(text)); s.Scan(); {
		lines = append(lines, strings.TrimSpace(s.Text()))
	}
	return strings.Join(lines[max(0, len(lines)-n):], " / ")
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, fmt.Errorf("no free port on loopback: %w", err)
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}
