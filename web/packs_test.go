package web_test

import (
	"fmt"
	"net/http"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/web"
)

// herringPacks are a pack of two variants with eyes and bags that are counted, and the way to ask for it.
func herringPacks(s *server) (pack web.PackPage, eyes, bags web.SupplyCard) {
	supply := func(name, unit, bought, price string) web.SupplyCard {
		made := get[web.SupplyCard](s, "POST", "/supplies", anything{"name": name, "unit": unit})
		return get[web.SupplyCard](
			s, "PATCH", "/supplies/"+made.UID, anything{"seen": made.Revision, "bought": bought, "price": price},
		)
	}
	eyes, bags = supply("Eyes of amber", "pieces", "200", "6,00"), supply("Bags, small", "pieces", "40", "4")
	baits := map[string]string{}
	for _, b := range list[baitPage](s, "/baits") {
		baits[b.Name] = b.UID
	}
	pack = get[web.PackPage](s, "POST", "/packs", anything{
		"name": "Weed and herring", "price": 7.5, "baits": []anything{
			{"bait": baits["Weed that turns"], "count": 4}, {"bait": baits["Harbour herring"], "count": 2},
		},
		"each": []anything{{"supply": eyes.UID, "amount": 2}}, "bag": []anything{{"supply": bags.UID, "amount": 1}},
	})
	return pack, eyes, bags
}

// A pack is priced, made up from what is at hand, and sold into the log.
func TestPacksFromBaitsToTheMarket(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	pack, eyes, bags := herringPacks(s)
	assert.InDelta(t, 0.03, eyes.PerUnit, 1e-9)
	assert.Equal(t, 6, pack.Count)
	require.Len(t, pack.Lines, 2)
	assert.Equal(t, 23-12, pack.Lines[0].AtHand, "the good ones of the demo's run, less those in its packs")
	assert.Positive(t, pack.Lines[0].PerBait)
	assert.Positive(t, pack.Lines[1].PerBait, "never poured: as it is designed")
	assert.InDelta(t, 4*pack.Lines[0].PerBait+2*pack.Lines[1].PerBait+12*0.03+0.1, pack.Cost.All, 1e-9)
	assert.InDelta(t, 7.5-pack.Cost.All, pack.Cost.Leaves, 1e-9)
	assert.Zero(t, pack.Can, "no herring was poured")
	assert.Equal(t, "Harbour herring", pack.First)

	made := func(n int, sure bool) anything { return anything{"seen": pack.Revision, "count": n, "sure": sure} }
	status, _, says := s.refused("POST", "/packs/"+pack.UID+"/made", made(2, false))
	assert.Equal(t, http.StatusConflict, status)
	assert.Contains(t, says, "4 of Harbour herring go into them, and runs here say that 0 are at hand")
	status, _, says = s.refused("POST", "/packs/"+pack.UID+"/made", made(30, true))
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, says, "Eyes of amber, and 200 are left")
	pack = get[web.PackPage](s, "POST", "/packs/"+pack.UID+"/made", made(2, true))
	assert.Equal(t, 2, pack.Ready)
	assert.Equal(t, 23-12-8, pack.Lines[0].AtHand)
	left := func(uid string) float64 {
		for _, l := range list[web.SupplyCard](s, "/supplies") {
			if l.UID == uid {
				return l.Left
			}
		}
		return -1
	}
	assert.Equal(t, 200.0-24, left(eyes.UID))
	assert.Equal(t, 38.0, left(bags.UID))

	status, _, says = s.refused("POST", "/packs/"+pack.UID+"/sold", anything{"seen": pack.Revision, "count": 4})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, says, "2 packs are ready")
	pack = get[web.PackPage](
		s, "POST", "/packs/"+pack.UID+"/sold",
		anything{"seen": pack.Revision, "count": 1, "words": "To the man with the grey boat", "day": "2026-11-21"},
	)
	assert.Equal(t, 1, pack.Ready)
	entries := list[web.LogEntry](s, "/log?find=grey+boat")
	require.Len(t, entries, 1)
	assert.Equal(t, 1, entries[0].Sold)
	assert.NotNil(t, entries[0].Colour)

	for _, bad := range []anything{
		{"name": "", "baits": []anything{}},
		{"name": "x", "baits": []anything{{"bait": "nobody", "count": 2}}},
		{"name": "x", "baits": []anything{{"bait": pack.Lines[0].Bait, "count": -2}}},
		{
			"name": "x", "baits": []anything{{"bait": pack.Lines[0].Bait, "count": 2}},
			"each": []anything{{"supply": "nothing", "amount": 1}},
		},
	} {
		status, _, says := s.refused("POST", "/packs", bad)
		assert.Equal(t, http.StatusUnprocessableEntity, status, "%v", bad)
		assert.NotEmpty(t, says)
	}
	for field, typed := range map[string]string{"left": "-3", "low": "few", "bought": "", "price": "cheap"} {
		e := get[struct{ Items []web.SupplyCard }](s, "GET", "/supplies", nil).Items[0]
		status, at, says := s.refused("PATCH", "/supplies/"+e.UID, anything{"seen": e.Revision, field: typed})
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Equal(t, "body."+field, at)
		assert.NotEmpty(t, says)
	}
}

// Two hands make up packs at once: one of them is told that the other was faster, and what is taken is what is in bags.
func TestTwoMakeUpPacksAtOnce(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	pack, eyes, _ := herringPacks(s)
	var wg sync.WaitGroup
	codes := make([]int, 6)
	for i := range codes {
		wg.Go(func() {
			codes[i] = s.ask(
				"POST", "/api/v1/packs/"+pack.UID+"/made", anything{"seen": pack.Revision, "count": 1, "sure": true},
			).Code
		})
	}
	wg.Wait()
	done := 0
	for _, c := range codes {
		if c == http.StatusOK {
			done++
		} else {
			assert.Equal(t, http.StatusConflict, c)
		}
	}
	assert.Equal(t, 1, done, "all had seen the same: %v", codes)
	for _, l := range list[web.SupplyCard](s, "/supplies") {
		if l.UID == eyes.UID {
			assert.Equal(t, 200.0-12*float64(done), l.Left)
		}
	}
}

func TestEveryChangeOfAPackCountsOnce(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	twice := s.counting()
	supply := twice("POST", "/supplies", anything{"name": "Worm oil", "unit": "ml"})
	twice(
		"PATCH", fmt.Sprint("/supplies/", supply["uid"]), anything{
			"seen": supply["revision"], "bought": "250", "price": "9",
		},
	)
	oil := list[web.SupplyCard](s, "/supplies")[0]
	assert.Equal(t, 250.0, oil.Left)
	bait := list[baitPage](s, "/baits")[0].UID
	content := anything{
		"name": "By the dozen", "baits": []anything{{"bait": bait, "count": 12}},
		"bag": []anything{{"supply": oil.UID, "amount": 3}}, "each": []anything{}, "price": 0,
	}
	packs := len(list[web.PackCard](s, "/packs"))
	p := twice("POST", "/packs", content)
	assert.Len(t, list[web.PackCard](s, "/packs"), packs+1)
	content["seen"], content["note"] = p["revision"], "For the kiosk."
	p = twice("PUT", fmt.Sprint("/packs/", p["uid"]), content)
	p = twice(
		"POST", fmt.Sprint("/packs/", p["uid"], "/made"), anything{"seen": p["revision"], "count": 5, "sure": true},
	)
	assert.Equal(t, 5.0, p["ready"])
	assert.Equal(t, 235.0, list[web.SupplyCard](s, "/supplies")[0].Left)
	entries := len(list[web.LogEntry](s, "/log"))
	p = twice("POST", fmt.Sprint("/packs/", p["uid"], "/sold"), anything{"seen": p["revision"], "count": 2})
	assert.Equal(t, 3.0, p["ready"])
	assert.Len(t, list[web.LogEntry](s, "/log"), entries+1)
}
