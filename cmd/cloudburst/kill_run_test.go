package main

import (
	"math/rand/v2"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Program or database is killed at every step of a run, while that step is being told. It goes on where it was; no
// addition is lost or doubled; and the shelf has gone down by what went into the cups, once.
func TestARunOutlivesAKillAtEveryStep(t *testing.T) {
	t.Parallel()
	k := &killed{
		t: t, dir: filepath.Join(t.TempDir(), "d"), rng: rand.New(rand.NewPCG(*killSeed, 19)), did: map[string]int{},
	}
	t.Cleanup(k.kill)
	k.start()
	left := func(uid string) float64 {
		v := k.ask("GET", "/materials/"+uid, nil)
		stock, _ := v["stock"].(map[string]any)
		n, ok := stock["left"].(float64)
		require.True(t, ok, "%v", v)
		return n
	}
	planned := k.ask(
		"POST", "/pours", map[string]any{"recipe": "wet-rope", "mold": "lagoon-shad", "count": 8, "copies": 2},
	)
	uid := uidOf(planned)
	cook := planned["planned"].(map[string]any)["cooks"].([]any)[0].(map[string]any)
	before := map[string]float64{}
	for _, n := range planned["planned"].(map[string]any)["needs"].([]any) {
		m := n.(map[string]any)["material"].(string)
		before[m] = left(m)
	}
	run := k.ask("POST", "/pours/"+uid+"/run", map[string]any{"seen": number(planned, "revision")})
	kills := 0
	during := func(tell func()) {
		var told sync.WaitGroup
		told.Go(tell)
		time.Sleep(time.Duration(k.rng.IntN(40)) * time.Millisecond)
		if kills++; kills%2 == 0 {
			k.killDatabase()
		} else {
			k.kill()
			k.start()
		}
		told.Wait()
	}
	drops := 0
	done := map[string]int{}
	for range 60 {
		run = k.ask("GET", "/pours/"+uid+"/run", nil)
		state := run["state"].(map[string]any)
		if state["over"] == true {
			break
		}
		step := state["now"].([]any)[0].(string)
		done[step]++
		if step == "A.colour" { // one drop by hand, and the rest as it is planned
			bottle := cook["doses"].([]any)[0].(map[string]any)["material"].(string)
			cup := run["cups"].([]any)[0].(map[string]any)
			for range int(cook["cup"].(map[string]any)["doses"].([]any)[0].(map[string]any)["amount"].(map[string]any)["value"].(float64)) {
				during(func() {
					k.ask(
						"POST", "/cups/"+cup["uid"].(string)+"/steps",
						map[string]any{
							"seen": 0, "steps": []any{map[string]any{"kind": "drip", "material": bottle, "drops": 1}},
						},
					)
				})
				drops++
			}
		}
		during(func() {
			k.ask(
				"POST", "/pours/"+uid+"/run/events", map[string]any{
					"kind": "done", "step": step, "atMS": time.Now().UnixMilli(),
				},
			)
		})
	}
	for step, n := range done {
		assert.Equal(t, 1, n, "%s had to be done again", step)
	}
	assert.Positive(t, drops)
	for _, line := range run["cups"].([]any)[0].(map[string]any)["lines"].([]any) {
		l := line.(map[string]any)
		assert.InDelta(t, l["whole"], l["in"], 1e-6, "%v", l["name"])
	}
	during(func() {
		k.ask(
			"POST", "/pours/"+uid+"/run/end",
			map[string]any{
				"good": 7, "spoiled": []any{map[string]any{"why": "Bubbles", "count": 1}}, "left": []any{"5 ml"},
			},
		)
	})
	for _, n := range planned["planned"].(map[string]any)["needs"].([]any) {
		need := n.(map[string]any)
		m := need["material"].(string)
		assert.InDelta(t, before[m]-need["amount"].(float64), left(m), 1e-6*(1+before[m]), "%s: what is left", m)
	}
	made := 0
	for _, b := range k.all("/batches") {
		if v, _ := b["verdict"].(string); len(v) > 8 &&
			v[:8] == planned["order"].(map[string]any)["name"].(string)[:8] {
			made++
		}
	}
	assert.Equal(t, 1, made, "one batch of it")
	end := k.ask("GET", "/pours/"+uid+"/run", nil)
	assert.Equal(t, "done", end["run"])
	kept := k.of("/leftovers", "pour", uid)
	require.Len(t, kept, 3, "the rest of the cup, sprues, a spoiled bait: each once")
	entries := k.of("/log", "pour", uid)
	require.Len(t, entries, 1, "one entry of it")
	assert.Equal(t, 7, number(entries[0], "good"))

	// Two of them are put together, and all of it goes onto the bench and back: nothing is lost, and nothing used
	// twice.
	volume := func(list []map[string]any) (sum float64) {
		for _, l := range list {
			sum += l["volume"].(float64)
		}
		return sum
	}
	all := volume(kept)
	one, two := uidOf(kept[0]), uidOf(kept[1])
	during(func() {
		k.ask("POST", "/leftovers/"+one+"/mix", map[string]any{"seen": number(kept[0], "revision"), "with": two})
	})
	rest := k.of("/leftovers", "pour", uid)
	require.Len(t, rest, 2, "what was used up is put away")
	assert.InDelta(t, all, volume(rest), 1e-6)
	cups := len(k.all("/cups"))
	mixed := k.ask("GET", "/leftovers/"+one, nil)
	var taken map[string]any
	during(func() {
		taken = k.ask("POST", "/leftovers/"+one+"/use", map[string]any{"seen": number(mixed, "revision")})
	})
	assert.Len(t, k.all("/cups"), cups+1)
	assert.Len(t, k.of("/leftovers", "pour", uid), 1)
	var back map[string]any
	during(func() { back = k.ask("POST", "/leftovers", map[string]any{"cup": taken["cup"]}) })
	assert.InDelta(t, mixed["volume"], back["volume"], 1e-6)
	assert.Len(t, k.all("/cups"), cups, "it is no longer on the bench")

	// Packs are made up and sold: supplies, packs and log agree.
	supply := func(name string) map[string]any { return k.of("/supplies", "name", name)[0] }
	const bags = "Bags, clear, with a slider"
	hadBags := supply(bags)["left"].(float64)
	pack := k.of("/packs", "name", "Weed that turns, six")[0]
	ready := number(pack, "ready")
	during(func() {
		pack = k.ask(
			"POST", "/packs/"+uidOf(pack)+"/made", map[string]any{
				"seen": number(pack, "revision"), "count": 3, "sure": true,
			},
		)
	})
	assert.Equal(t, ready+3, number(pack, "ready"))
	assert.InDelta(t, hadBags-3, supply(bags)["left"], 1e-9)
	during(func() {
		pack = k.ask(
			"POST", "/packs/"+uidOf(pack)+"/sold",
			map[string]any{"seen": number(pack, "revision"), "count": 2, "words": "In the dark"},
		)
	})
	assert.Equal(t, ready+1, number(pack, "ready"))
	assert.Len(t, k.of("/log", "words", "In the dark"), 1)
	t.Logf("%d kills", kills)
}

// of are those of a list of which a field is this.
func (k *killed) of(path, field string, is any) []map[string]any {
	k.t.Helper()
	var out []map[string]any
	for _, v := range k.all(path) {
		if v[field] == is {
			out = append(out, v)
		}
	}
	return out
}
