package main

import (
	"bufio"
	"bytes"
	crand "crypto/rand"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"cloudburst/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var (
	killRounds = flag.Int("kill-rounds", 10, "how often program and database are killed")
	killSeed   = flag.Uint64("kill-seed", 1, "seed of the kill test")
)

// longestStart is how long any start may take, after whatever came before it.
const longestStart = 20 * time.Second

// Program and database are killed in the middle of work, one of them or both, and starts are broken off. Every edit is
// sent again under its key until it is answered. Afterwards each is there, once, and whole.
func TestNothingIsLostWhateverIsKilled(t *testing.T) {
	t.Parallel()
	k := &killed{
		t: t, dir: filepath.Join(t.TempDir(), "d"), rng: rand.New(rand.NewPCG(*killSeed, 7)), did: map[string]int{},
	}
	t.Cleanup(k.kill)
	k.start()
	k.prepare()
	for round := range *killRounds {
		k.round(round)
		if t.Failed() {
			return
		}
	}
	t.Logf(
		"%d rounds, %d edits answered, %v; the longest start took %v", *killRounds, k.answered, k.did,
		k.longest.Round(10*time.Millisecond),
	)
	require.NoError(t, k.cmd.Process.Signal(os.Interrupt))
	assert.NoError(t, k.wait(), "ended by Ctrl-C")
}

type killed struct {
	t       *testing.T
	dir     string
	cmd     *exec.Cmd
	ended   chan error
	address string
	rng     *rand.Rand

	mu       sync.Mutex
	answered int
	did      map[string]int
	longest  time.Duration

	cup, pair, mold, bait, reference string
	drops, n                         int
	kits                             int
	made                             map[string]int // how much of each kind there is to be
}

// launch starts the program without waiting for it.
func (k *killed) launch() *bufio.Reader {
	testkit.Outside()
	k.cmd = exec.Command(binary, "demo")
	k.cmd.Env = append(os.Environ(), "CLOUDBURST_ADDR=127.0.0.1:0", "CLOUDBURST_DATA="+k.dir)
	k.cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	log, err := os.OpenFile(k.dir+".log", os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	require.NoError(k.t, err)
	k.cmd.Stderr = log
	out, err := k.cmd.StdoutPipe()
	require.NoError(k.t, err)
	require.NoError(k.t, k.cmd.Start())
	log.Close()
	k.ended = make(chan error, 1)
	r := bufio.NewReader(out)
	cmd, ended := k.cmd, k.ended
	go func() { ended <- cmd.Wait() }()
	return r
}

func (k *killed) start() {
	k.t.Helper()
	began := time.Now()
	out := k.launch()
	line := make(chan string, 1)
	go func() {
		s, _ := out.ReadString('\n')
		line <- s
		_, _ = io.Copy(io.Discard, out)
	}()
	select {
	case s := <-line:
		_, address, ok := strings.Cut(strings.TrimSpace(s), "http://")
		if !ok {
			log, _ := os.ReadFile(k.dir + ".log")
			k.t.Fatalf("it did not start: %q\n%s", s, log[max(0, len(log)-2000):])
		}
		k.mu.Lock()
		k.address = "http://" + address
		k.mu.Unlock()
	case <-time.After(longestStart):
		log, _ := os.ReadFile(k.dir + ".log")
		k.t.Fatalf("no start within %v\n%s", longestStart, log[max(0, len(log)-2000):])
	}
	k.longest = max(k.longest, time.Since(began))
}

func (k *killed) wait() error {
	select {
	case err := <-k.ended:
		k.ended <- err // for whoever asks next
		return err
	case <-time.After(longestStart):
		k.t.Error("it does not end")
		return fmt.Errorf("it does not end")
	}
}

func (k *killed) kill() {
	_ = k.cmd.Process.Kill()
	<-k.ended
	k.ended <- nil
}

func (k *killed) killDatabase() {
	raw, err := os.ReadFile(filepath.Join(k.dir, "mariadb", "pid"))
	if err != nil {
		return
	}
	if pid, err := strconv.Atoi(strings.TrimSpace(string(raw))); err == nil {
		_ = syscall.Kill(pid, syscall.SIGKILL)
	}
}

func (k *killed) url() string {
	k.mu.Lock()
	defer k.mu.Unlock()
	return k.address
}

// ask sends an action under one key until it is answered.
func (k *killed) ask(method, path string, body any) map[string]any {
	key := crand.Text()
	raw, err := json.Marshal(body)
	require.NoError(k.t, err)
	for until := time.Now().Add(time.Minute); time.Now().Before(until); time.Sleep(30 * time.Millisecond) {
		r, err := http.NewRequestWithContext(k.t.Context(), method, k.url()+"/api/v1"+path, bytes.NewReader(raw))
		require.NoError(k.t, err)
		r.Header.Set("Content-Type", "application/json")
		r.Header.Set("Idempotency-Key", key)
		client := http.Client{Timeout: 5 * time.Second, Transport: &http.Transport{DisableKeepAlives: true}}
		w, err := client.Do(r)
		if err != nil {
			continue
		}
		answer, err := io.ReadAll(w.Body)
		w.Body.Close()
		if err != nil || w.StatusCode == http.StatusServiceUnavailable {
			continue
		}
		if !assert.Less(k.t, w.StatusCode, 300, "%s %s %s: %s", method, path, raw, answer) {
			return nil
		}
		var v map[string]any
		if len(answer) > 0 {
			require.NoError(k.t, json.Unmarshal(answer, &v))
		}
		if method != "GET" {
			k.mu.Lock()
			k.answered++
			k.mu.Unlock()
		}
		return v
	}
	k.t.Errorf("%s %s was never answered", method, path)
	return nil
}

func (k *killed) all(path string) (list []map[string]any) {
	for after := ""; ; {
		v := k.ask("GET", path+"?most=60&after="+after, nil)
		items, _ := v["items"].([]any)
		for _, it := range items {
			list = append(list, it.(map[string]any))
		}
		if after, _ = v["next"].(string); after == "" {
			return list
		}
	}
}

func uidOf(v map[string]any) string { s, _ := v["uid"].(string); return s }

func (k *killed) prepare() {
	k.cup = uidOf(k.ask("POST", "/cups", map[string]any{}))
	k.pair = uidOf(k.ask("POST", "/cups", map[string]any{"volume": "2 cups"}))
	k.mold = uidOf(k.ask("POST", "/molds", map[string]any{"name": "Ours", "shape": "paddle-minnow"}))
	k.bait = uidOf(k.ask("POST", "/baits", map[string]any{"name": "Ours", "cup": k.cup, "way": "single"}))
	k.reference = uidOf(k.ask("POST", "/references", map[string]any{"name": "Ours", "photo": ""}))
	k.made = map[string]int{}
	for _, path := range []string{"/cups", "/recipes", "/batches", "/references", "/baits"} {
		k.made[path] = len(k.all(path))
	}
	v := k.ask("GET", "/kit", nil)
	k.kits = int(v["revision"].(float64))
}

func number(v map[string]any, key string) int { n, _ := v[key].(float64); return int(n) }

// work does edits of every kind until it is told to stop; each worker has things of its own, so that what is to be
// there is known.
func (k *killed) work(stop chan struct{}, workers *sync.WaitGroup) {
	each := func(edit func()) {
		workers.Go(func() {
			for {
				select {
				case <-stop:
					return
				default:
					edit()
				}
			}
		})
	}
	more := func(kind string, n int) {
		k.mu.Lock()
		k.made[kind] += n
		k.n++
		k.mu.Unlock()
	}
	each(func() { // taps
		k.ask(
			"POST", "/cups/"+k.cup+"/steps",
			map[string]any{
				"seen": 0, "steps": []any{map[string]any{"kind": "drip", "material": "rowan-red", "drops": 1}},
			},
		)
		k.mu.Lock()
		k.drops++
		k.mu.Unlock()
		if k.drops%40 == 39 { // and back to none, under the limit of a cup
			now := k.ask("GET", "/cups/"+k.cup, nil)
			k.ask("POST", "/cups/"+k.cup+"/steps", map[string]any{"seen": number(now, "head"), "steps": []any{
				map[string]any{"kind": "empty"}, map[string]any{
					"kind": "drip", "material": "tea-brown", "drops": 1,
				}, map[string]any{"kind": "volume", "typed": "1 cup"},
			}})
			k.mu.Lock()
			k.drops = 0
			k.mu.Unlock()
		}
	})
	each(func() { // a split, and poured together again
		now := k.ask("GET", "/cups/"+k.pair, nil)
		v := k.ask("POST", "/cups/"+k.pair+"/split", map[string]any{"seen": number(now, "head"), "share": 0.25})
		other, ok := v["other"].(string)
		if !assert.True(k.t, ok, "a cup that was shown as %.300v can't be split: %v", now, v) {
			return
		}
		k.ask("POST", "/cups/"+k.pair+"/merge", map[string]any{"seen": number(now, "head") + 1, "other": other})
	})
	each(func() { // a save, with its cup
		cup := uidOf(k.ask("POST", "/cups", map[string]any{}))
		more("/cups", 1)
		r := uidOf(k.ask("POST", "/recipes", map[string]any{"cup": cup, "name": "Killed " + cup[:8]}))
		more("/recipes", 1)
		k.ask("POST", "/batches", map[string]any{
			"recipe": r, "revision": 1, "pouredOn": "2026-11-20", "volume": "1 cup", "verdict": "fine", "rested": "1 h",
			"additions": []any{
				map[string]any{"doses": []any{map[string]any{"material": "rowan-red", "typed": "3"}}},
				map[string]any{"doses": []any{map[string]any{"material": "tea-brown", "typed": "2"}}},
			},
		})
		more("/batches", 1)
	})
	each(func() { // four cups of a match; a point of a cup as a reference with its pin
		cup := map[string]any{
			"volume": map[string]any{"typed": "1 cup", "ml": 236.588}, "plastisol": "skerry-medium", "doses": []any{},
		}
		four := []any{}
		for _, l := range []string{"A", "B", "C", "D"} {
			four = append(four, map[string]any{"cup": cup, "letter": l, "part": "of four"})
		}
		k.ask("POST", "/match/bench", map[string]any{"cups": four})
		more("/cups", 4)
		k.ask("POST", "/cups/"+k.cup+"/reference", map[string]any{"name": "A point"})
		more("/references", 1)
	})
	each(func() { // designs, molds and measures
		v := k.ask("GET", "/baits/"+k.bait+"?quick=true", nil)
		k.ask(
			"PATCH", "/baits/"+k.bait,
			map[string]any{
				"field": "hook.grams", "typed": strconv.Itoa(number(v, "revision") % 9), "seen": number(v, "revision"),
			},
		)
		m := k.ask("GET", "/molds/"+k.mold, nil)
		k.ask(
			"PATCH", "/molds/"+k.mold,
			map[string]any{"field": "notes", "typed": fmt.Sprint(number(m, "revision")), "seen": number(m, "revision")},
		)
		kit := k.ask("GET", "/kit", nil)
		kit["seen"] = kit["revision"]
		delete(kit, "revision")
		k.ask("PUT", "/kit", kit)
		k.mu.Lock()
		k.kits++
		k.mu.Unlock()
	})
}

// round works, kills something in the middle of it, starts what was killed, and looks.
func (k *killed) round(round int) {
	stop := make(chan struct{})
	var workers sync.WaitGroup
	k.work(stop, &workers)
	time.Sleep(time.Duration(200+k.rng.IntN(500)) * time.Millisecond)
	what := []string{"program", "database", "both", "Ctrl-C, and a start broken off"}[round%4]
	k.did[what]++
	switch what {
	case "program":
		k.kill()
	case "database":
		k.killDatabase()
	case "both":
		if k.rng.IntN(2) == 0 {
			k.killDatabase()
		}
		k.kill()
		k.killDatabase()
	default:
		require.NoError(k.t, k.cmd.Process.Signal(os.Interrupt))
		_ = k.wait()
		k.launch()
		time.Sleep(time.Duration(k.rng.IntN(900)) * time.Millisecond)
		_ = k.cmd.Process.Signal(os.Interrupt)
		_ = k.wait()
	}
	if what != "database" {
		k.start()
	}
	time.Sleep(200 * time.Millisecond)
	close(stop)
	workers.Wait()
	if !k.t.Failed() {
		k.look(what)
	}
}

// look compares what is there with what was answered.
func (k *killed) look(after string) {
	t := k.t
	for path, n := range k.made {
		list := k.all(path)
		assert.Len(t, list, n, "%s after %s", path, after)
		for _, it := range list {
			switch path {
			case "/batches":
				if it["verdict"] == "fine" {
					assert.Len(t, it["additions"], 2, "a half batch after %s", after)
				}
			case "/references":
				if it["name"] == "A point" {
					assert.Len(t, it["pins"], 1, "a reference without its pin after %s", after)
				}
			case "/recipes":
				if name, _ := it["name"].(string); strings.HasPrefix(name, "Killed ") && k.rng.IntN(8) == 0 {
					cups := k.ask("GET", "/recipes/"+uidOf(it), nil)
					assert.Equal(t, 1, number(cups, "revision"))
				}
			}
		}
	}
	fours := 0
	for _, c := range k.all("/cups") {
		if v, _ := c["cup"].(map[string]any); v["part"] == "of four" {
			fours++
		}
	}
	assert.Zero(t, fours%4, "three of four cups after %s", after)
	cup := k.ask("GET", "/cups/"+k.cup, nil)
	drops := 0.0
	for _, d := range cup["cup"].(map[string]any)["doses"].([]any) {
		if d := d.(map[string]any); d["material"] == "rowan-red" {
			drops = d["amount"].(map[string]any)["value"].(float64)
		}
	}
	assert.EqualValues(t, k.drops, drops, "drops after %s", after)
	pair := k.ask("GET", "/cups/"+k.pair, nil)
	assert.InDelta(
		t, 473.176, pair["cup"].(map[string]any)["volume"].(map[string]any)["ml"], 1e-6, "plastic after %s", after,
	)
	assert.Equal(t, k.kits, number(k.ask("GET", "/kit", nil), "revision"), "changes of the measures after %s", after)
}
