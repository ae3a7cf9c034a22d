package main

import (
	"bytes"
	crand "crypto/rand"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"net/http"
	"path/filepath"
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/recipe"
	"cloudburst/demo"
	"cloudburst/store"
	"cloudburst/store/mariadb"
)

var (
	loadThings  = flag.Int("load-things", 150, "recipes, and batches, in the shop of the load test")
	loadClients = flag.Int("load-clients", 10, "clients at once")
	loadFor     = flag.Duration("load-for", 3*time.Second, "how long they work")
)

// Many clients on a large shop: each taps once a second, and reads a list now and then. Nothing fails; how long it
// takes is printed, and measured with: go test ./cmd/cloudburst -run ManyClients -v -args -load-things 10000
// -load-clients 100 -load-for 60s
func TestManyClients(t *testing.T) {
	dir := t.TempDir()
	db, err := mariadb.Start(
		t.Context(), mariadb.Options{Dir: filepath.Join(dir, "db"), Log: slog.New(slog.DiscardHandler)},
	)
	require.NoError(t, err)
	defer db.Stop() //nolint:errcheck // the folder goes anyway
	fillShop(t, db.DSN(""), *loadThings)

	k := &killed{t: t, dir: filepath.Join(dir, "d")}
	t.Setenv("CLOUDBURST_DSN", db.DSN(""))
	t.Cleanup(k.kill)
	k.start()
	cups := make([]string, *loadClients)
	for i := range cups {
		cups[i] = uidOf(k.ask("POST", "/cups", map[string]any{"recipe": "wet-rope"}))
	}
	client := &http.Client{Transport: &http.Transport{MaxIdleConnsPerHost: *loadClients}, Timeout: 30 * time.Second}
	send := func(method, path string, body any) (time.Duration, int) {
		raw, _ := json.Marshal(body)
		r, err := http.NewRequestWithContext(t.Context(), method, k.url()+"/api/v1"+path, bytes.NewReader(raw))
		require.NoError(t, err)
		r.Header.Set("Content-Type", "application/json")
		r.Header.Set("Idempotency-Key", crand.Text())
		began := time.Now()
		w, err := client.Do(r)
		if err != nil {
			return 0, 0
		}
		defer w.Body.Close()
		_, _ = io.Copy(io.Discard, w.Body)
		return time.Since(began), w.StatusCode
	}
	lists := []string{
		"/recipes", "/batches", "/references", "/baits", "/cups", "/recipes?find=tide+peat", "/recipes?near=%23c0a040",
	}
	for _, l := range lists { // pictures and colours that are kept are made once
		_, code := send("GET", l, nil)
		require.Equal(t, 200, code, l)
	}
	quiet := map[string][]time.Duration{}
	for range 9 {
		for _, l := range lists {
			took, _ := send("GET", l, nil)
			quiet[l] = append(quiet[l], took)
		}
	}
	for _, l := range lists {
		t.Logf("first page of %s, quiet: %v in the median", l, middle(quiet[l], 0.5))
	}

	var mu sync.Mutex
	took := map[string][]time.Duration{}
	var all sync.WaitGroup
	end := time.Now().Add(*loadFor)
	for i, cup := range cups {
		rng := rand.New(rand.NewPCG(uint64(i), 9))
		all.Go(func() {
			time.Sleep(time.Duration(rng.Float64() * float64(time.Second)))
			for next := time.Now(); next.Before(end); next = next.Add(time.Second) {
				time.Sleep(time.Until(next))
				what, method, path := "tap", "POST", "/cups/"+cup+"/steps"
				var body any = map[string]any{
					"seen": 0, "steps": []any{map[string]any{
						"kind": "drip", "material": "rowan-red", "drops": 1 - 2*rng.IntN(2),
					}},
				}
				if rng.IntN(20) == 0 {
					what, method, path, body = "list", "GET", lists[rng.IntN(5)], nil
				}
				d, code := send(method, path, body)
				assert.Equal(t, 200, code, "%s %s", method, path)
				mu.Lock()
				took[what] = append(took[what], d)
				mu.Unlock()
			}
		})
	}
	all.Wait()
	for what, list := range took {
		t.Logf(
			"%d clients on %d recipes and batches: %d × %s, %v in the median, %v at 95 %%, %v at most", *loadClients,
			*loadThings, len(list), what, middle(list, 0.5), middle(list, 0.95), middle(list, 1),
		)
	}
	require.NotEmpty(t, took["tap"])
}

func middle(list []time.Duration, share float64) time.Duration {
	list = slices.Clone(list)
	slices.Sort(list)
	return list[min(len(list)-1, int(share*float64(len(list))))].Round(100 * time.Microsecond)
}

// fillShop makes the demo shop with so many recipes and batches more.
func fillShop(t *testing.T, dsn string, n int) {
	st, err := store.Open(t.Context(), dsn)
	require.NoError(t, err)
	defer st.Close()
	require.NoError(t, st.Migrate(t.Context()))
	shop, err := st.NewShopWith(t.Context(), demo.ShopName, true, demo.Load)
	require.NoError(t, err)
	rng := rand.New(rand.NewPCG(1, 2))
	words := []string{"Tide", "Peat", "Fog", "Reed", "Pier", "Slate", "Amber", "Gull", "Silt", "Storm"}
	colours := []string{
		"rowan-red", "tea-brown", "broom-yellow", "bottle-green", "drizzle-grey", "peat-black", "ember-orange",
		"chalk-white",
	}
	work := make(chan int)
	var all sync.WaitGroup
	for w := range 6 {
		own := rand.New(rand.NewPCG(uint64(w), rng.Uint64()))
		all.Go(func() {
			for i := range work {
				r := recipe.Recipe{Name: fmt.Sprintf(
					"%s %s %d", words[own.IntN(10)], words[own.IntN(10)], i,
				), Tags: []string{words[own.IntN(10)]}, Cup: cup.Cup{
					Volume: measure.Volume{Typed: "1 cup", ML: measure.CupML}, Plastisol: "skerry-medium",
				}}
				for _, at := range own.Perm(len(colours))[:1+own.IntN(4)] {
					r.Doses = append(r.Doses, cup.DripOf(colours[at], float64(1+own.IntN(20))))
				}
				saved, err := shop.SaveRecipe(t.Context(), r, 0, "", "")
				if !assert.NoError(t, err) {
					return
				}
				_, err = shop.AddBatch(t.Context(), store.Origin{Recipe: saved.UID, Revision: 1}, recipe.Batch{
					PouredOn: fmt.Sprintf(
						"2026-%02d-%02d", 1+own.IntN(11), 1+own.IntN(28),
					), Volume: r.Volume, Verdict: "poured", RestedHours: 24, Additions: []cup.Addition{{Doses: r.Doses}},
				})
				assert.NoError(t, err)
			}
		})
	}
	for i := range n {
		work <- i
	}
	close(work)
	all.Wait()
}
