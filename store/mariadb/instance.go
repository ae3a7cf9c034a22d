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
	"slices"
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
	stopping chan struct{}  // closed when it is to end for good
}

const (
	database = "cloudburst"
	user     = "cloudburst"
)

// Every wait has an end. Debian's server now and then hangs where it is asked to end while it starts; whatever it was
// doing then, it can be killed: its log brings back all that was promised.
const (
	askFor     = 5 * time.Second // a server that was asked to end is killed after this
	killFor    = 5 * time.Second // and given up after this
	connectFor = 2 * time.Second // for one try to reach it
	stopFor    = 20 * time.Second
)

// startFor is how long a server may take to answer, try by try; a start after a crash replays the log first.
var startFor = []time.Duration{12 * time.Second, 30 * time.Second, 2 * time.Minute}

// Start runs the server in its folder, installing it on the first start, and waits until it answers. If the
// server dies later, it is started again.
func Start(ctx context.Context, o Options) (*Instance, error) {
	i := &Instance{Options: o, stopping: make(chan struct{})}
	server, err := find("mariadbd")
	if err != nil {
		return nil, err
	}
	if err := os.MkdirAll(o.Dir, 0o700); err != nil {
		return nil, fmt.Errorf("the database's folder can't be made: %w", err)
	}
	if err := i.endOthers(); err != nil {
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
	for try, patience := range startFor {
		if err = i.run(ctx, server, patience); err == nil {
			go i.keepRunning(server)
			return i, nil
		}
		if ctx.Err() != nil || !errors.Is(err, errSilent) {
			break
		}
		i.Log.Warn("the database does not answer and is started anew", "try", try+1)
	}
	return nil, err
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
func (i *Instance) Port() int {
	i.mu.Lock()
	defer i.mu.Unlock()
	return i.port
}

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
	return "", fmt.Errorf(
		"%s is not installed. On Debian: apt install mariadb-server; or set CLOUDBURST_DSN to a database server of your own",
		name,
	)
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
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	// the script and the server that it runs
	cmd.Cancel = func() error { return syscall.Kill(-cmd.Process.Pid, syscall.SIGKILL) }
	cmd.WaitDelay = killFor
	out, err := cmd.CombinedOutput()
	if ctx.Err() != nil {
		return ctx.Err()
	}
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

// guard runs mariadbd and ends it when its own standard input closes, which happens however the parent dies: it asks,
// and kills what doesn't listen. (A parent-death signal would not reach mariadbd.)
const guard = `exec 3<&0; "$@" </dev/null 3<&- & p=$!
end() { kill -TERM $p; i=0; while kill -0 $p && [ $i -lt 50 ]; do sleep 0.1; i=$((i+1)); done; kill -KILL $p; } 2>/dev/null
trap 'end &' TERM; (cat <&3 >/dev/null; end) & w=$!; exec 3<&-
wait $p; wait $p; r=$?; kill $w 2>/dev/null; exit $r`

// run starts one server process and waits until it answers.
func (i *Instance) run(ctx context.Context, server string, patience time.Duration) error {
	if !i.Throwaway {
		port, err := freePort() // anew each time: somebody else may have taken the last one
		if err != nil {
			return err
		}
		i.mu.Lock()
		i.port = port
		i.mu.Unlock()
	}
	init, err := i.writeAccounts()
	if err != nil {
		return err
	}
	defer os.Remove(init)
	args := []string{
		server, "--no-defaults", "--datadir=" + i.path("data"), "--socket=" + i.socket, "--pid-file=" +
			i.path("pid"), "--tmpdir=" + i.path("tmp"),
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
	if err := i.waitUntilItAnswers(ctx, exited, patience); err != nil {
		i.end()
		select {
		case <-exited:
			return err
		case <-time.After(askFor + killFor):
		}
		return errors.Join(err, i.endOthers())
	}
	return nil
}

// errSilent is returned where a server runs but doesn't answer.
var errSilent = errors.New("the database does not answer")

func (i *Instance) waitUntilItAnswers(ctx context.Context, exited chan struct{}, patience time.Duration) error {
	connector, err := mysql.NewConnector(mustParse(i.DSN("")))
	if err != nil {
		return err
	}
	deadline := time.Now().Add(patience)
	for {
		try, cancel := context.WithTimeout(ctx, connectFor)
		conn, err := connector.Connect(try)
		cancel()
		if err == nil {
			return conn.Close()
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-exited:
			log, _ := os.ReadFile(i.path("err.log"))
			return fmt.Errorf(
				"the database ended at its start; its log %s says: %s", i.path("err.log"), lastLines(log, 3),
			)
		case <-time.After(20 * time.Millisecond):
		}
		if time.Now().After(deadline) {
			return fmt.Errorf(
				"%w: it was started and given %v (%w); see %s", errSilent, patience, err, i.path("err.log"),
			)
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

// keepRunning starts the server again when it dies. Where it dies over and over, as with a full disk, it goes on trying
// with growing pauses.
func (i *Instance) keepRunning(server string) {
	const longest, calm = 15 * time.Second, 10 * time.Second
	pause := time.Duration(0)
	for {
		i.mu.Lock()
		exited := i.exited
		i.mu.Unlock()
		since := time.Now()
		<-exited
		if time.Since(since) > calm {
			pause = 0
		}
		select {
		case <-i.stopping:
			return
		case <-time.After(pause):
		}
		if i.ends() { // both may have been ready
			return
		}
		i.Log.Warn("the database ended unexpectedly and is started again")
		i.end()                               // what is left of the last one
		if err := i.endOthers(); err != nil { // the guard may have died and left the server
			i.Log.Error("the database's remains can't be cleared", "err", err)
		}
		if err := i.run(context.Background(), server, startFor[len(startFor)-1]); err != nil {
			i.Log.Error(
				"the database could not be started again; it is tried again", "err", err, "log", i.path("err.log"),
			)
		}
		if i.ends() { // meanwhile
			i.end()
			return
		}
		pause = min(longest, max(time.Second/4, 2*pause))
	}
}

// ends says whether it is to end for good.
func (i *Instance) ends() bool {
	select {
	case <-i.stopping:
		return true
	default:
		return false
	}
}

// end asks the current server process to end; it is killed if it doesn't.
func (i *Instance) end() {
	i.mu.Lock()
	defer i.mu.Unlock()
	i.stdin.Close()
}

// Stop ends the server and waits until it has written everything down.
func (i *Instance) Stop() error {
	close(i.stopping)
	i.mu.Lock()
	exited := i.exited
	i.mu.Unlock()
	i.end()
	select {
	case <-exited:
		if i.Throwaway || !strings.HasPrefix(i.socket, i.Dir) {
			os.RemoveAll(filepath.Dir(i.socket))
		}
		return nil
	case <-time.After(stopFor):
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
	// Every other account goes, whatever a version of the server brings; mariadb.sys is locked and owns its views.
	w(
		"DELETE FROM mysql.global_priv WHERE NOT (User = '%s' AND Host IN ('localhost', '127.0.0.1')) AND NOT (User IN ('root', 'mariadb.sys') AND Host = 'localhost')",
		user,
	)
	w("ALTER USER IF EXISTS 'mariadb.sys'@'localhost' IDENTIFIED BY '%s' ACCOUNT LOCK", i.password)
	w("FLUSH PRIVILEGES")
	file := i.path("accounts.sql")
	return file, os.WriteFile(file, b.Bytes(), 0o600)
}

// endOthers ends every server that an earlier run left on this instance's data. It is found by its data folder, not by
// a file that it may never have written: asked first, then killed.
func (i *Instance) endOthers() error {
	for _, how := range []struct {
		signal syscall.Signal
		wait   time.Duration
	}{{syscall.SIGTERM, askFor}, {syscall.SIGKILL, killFor}} {
		pids := i.serversHere()
		for _, pid := range pids {
			if err := syscall.Kill(pid, how.signal); err != nil && !errors.Is(err, syscall.ESRCH) {
				return fmt.Errorf(
					"a database from an earlier start still runs (process %d) and can't be ended: %w", pid, err,
				)
			}
		}
		for deadline := time.Now().Add(how.wait); len(pids) > 0 && time.Now().Before(deadline); pids = i.serversHere() {
			time.Sleep(20 * time.Millisecond)
		}
		if len(pids) == 0 {
			return nil
		}
	}
	return fmt.Errorf(
		"a database from an earlier start still runs (processes %v); end it and start again", i.serversHere(),
	)
}

// serversHere are the processes of servers on this instance's data, half installed or whole.
func (i *Instance) serversHere() (pids []int) {
	dir, err := filepath.Abs(i.path("data"))
	if err != nil {
		return nil
	}
	list, _ := filepath.Glob("/proc/[0-9]*/cmdline")
	for _, file := range list {
		raw, err := os.ReadFile(file)
		if err != nil {
			continue // gone meanwhile
		}
		words := strings.Split(string(raw), "\x00")
		if name := filepath.Base(words[0]); name != "mariadbd" && name != "mysqld" {
			continue
		}
		pid, err := strconv.Atoi(filepath.Base(filepath.Dir(file)))
		if err == nil && slices.ContainsFunc(words, func(w string) bool {
			of, ok := strings.CutPrefix(w, "--datadir=")
			return ok && (sameFolder(of, dir, pid) || sameFolder(of, dir+".unfinished", pid))
		}) {
			pids = append(pids, pid)
		}
	}
	return pids
}

// sameFolder says whether a process means this folder; it may name it from where it stands.
func sameFolder(named, dir string, pid int) bool {
	if !filepath.IsAbs(named) {
		at, err := os.Readlink(fmt.Sprintf("/proc/%d/cwd", pid))
		if err != nil {
			return false
		}
		named = filepath.Join(at, named)
	}
	return filepath.Clean(named) == dir
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
