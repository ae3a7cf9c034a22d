package web_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"net/http"
	"net/http/httptest"
	"os"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/store"
	"cloudburst/web"
)

// The rest of a cup is kept, mixed with another, taken out again; what there is adds up, and nothing is used twice.
func TestLeftoversAddUp(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	assert.NotEmpty(t, list[web.LeftoverCard](s, "/leftovers"), "the demo's run left some")
	olive := get[web.LeftoverPage](
		s, "POST", "/leftovers", anything{"recipe": "wet-rope", "volume": "130 ml", "heats": 2, "name": "Olive"},
	)
	assert.InDelta(t, 130, olive.Volume, 1e-6)
	assert.Contains(t, olive.From, "Wet rope")
	assert.Equal(t, 2.0, olive.HeatsMost)
	require.Len(t, olive.Ages, 3)
	assert.Less(t, olive.Ages[0].Differs.DeltaE00, olive.Ages[2].Differs.DeltaE00)
	cup := get[bench](s, "POST", "/cups", anything{"recipe": "gull-belly", "volume": "1/2 cup"})
	cream := get[web.LeftoverPage](s, "POST", "/leftovers", anything{"cup": cup.UID})
	assert.NotEqual(t, olive.Look.Hex, cream.Look.Hex)
	status, _, says := s.refused("POST", "/leftovers", anything{"cup": cup.UID})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, says, "no longer on the bench")

	both := get[web.LeftoverCard](
		s, "POST", "/leftovers/"+olive.UID+"/mixed", anything{
			"seen": olive.Revision, "with": cream.UID, "volume": "40 ml",
		},
	)
	assert.InDelta(t, 170, both.Volume, 1e-6)
	assert.InDelta(t, 130, get[web.LeftoverPage](s, "GET", "/leftovers/"+olive.UID, nil).Volume, 1e-6, "only looked at")
	mixed := get[web.LeftoverPage](
		s, "POST", "/leftovers/"+olive.UID+"/mix", anything{
			"seen": olive.Revision, "with": cream.UID, "volume": "40 ml",
		},
	)
	assert.InDelta(t, 170, mixed.Volume, 1e-6)
	assert.Equal(t, both.Look.Hex, mixed.Look.Hex, "as it was shown before")
	assert.InDelta(t, cream.Volume-40, get[web.LeftoverPage](s, "GET", "/leftovers/"+cream.UID, nil).Volume, 1e-6)

	for _, c := range []struct {
		path  string
		body  anything
		field string
	}{
		{"/use", anything{"volume": "900 ml"}, "body.ml"},
		{"/use", anything{"volume": "-3 ml"}, "body.volume"},
		{"/use", anything{"volume": "much"}, "body.volume"},
		{"/mix", anything{"with": olive.UID}, "body.with"},
		{"/mix", anything{"with": cream.UID, "volume": "5 litres"}, "body.ml"},
	} {
		c.body["seen"] = mixed.Revision
		status, field, says := s.refused("POST", "/leftovers/"+olive.UID+c.path, c.body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, says)
		assert.Equal(t, c.field, field)
	}
	for _, bad := range []string{"-5 ml", "0 ml", "some"} {
		status, field, _ := s.refused("PATCH", "/leftovers/"+olive.UID, anything{"seen": mixed.Revision, "volume": bad})
		assert.Equal(t, http.StatusUnprocessableEntity, status)
		assert.Equal(t, "body.volume", field)
	}

	// Two devices take all of it at once: one gets it.
	var both2 sync.WaitGroup
	codes := make([]int, 2)
	for i := range codes {
		both2.Go(func() {
			codes[i] = s.ask(
				"POST", "/api/v1/leftovers/"+olive.UID+"/use", anything{"seen": mixed.Revision, "volume": ""},
			).Code
		})
	}
	both2.Wait()
	assert.ElementsMatch(
		t, []int{200, 409}, []int{min(codes[0], codes[1]), min(409, max(codes[0], codes[1]))}, "%v", codes,
	)
	gone := get[web.LeftoverPage](s, "GET", "/leftovers/"+olive.UID, nil)
	assert.Equal(t, store.Away, gone.Kept, "used up")
	code := s.ask("GET", "/api/v1/leftovers/"+cream.UID+"/code?at=http://bench.local:8080", nil)
	assert.Equal(t, http.StatusOK, code.Code)
	assert.True(t, bytes.HasPrefix(code.Body.Bytes(), []byte("\x89PNG")))
}

// What a leftover will do for: by what goes in alone, in whole drops; and where it can't be mended, that is said.
func TestWhatALeftoverWillDoFor(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	type found struct {
		Name string
		List []web.LeftoverFor
	}
	olive := get[web.LeftoverPage](
		s, "POST", "/leftovers", anything{"recipe": "wet-rope", "volume": "130 ml", "heats": 2, "name": "Olive"},
	)
	cream := get[web.LeftoverPage](
		s, "POST", "/leftovers", anything{"recipe": "gull-belly", "volume": "45 ml", "heats": 1, "name": "Cream"},
	)
	dark := get[found](s, "POST", "/leftovers/for", anything{"recipe": "wave-back"})
	by := map[string]web.LeftoverFor{}
	for _, f := range dark.List {
		by[f.UID] = f
		assert.LessOrEqual(t, f.Then, f.Now)
		assert.NotEmpty(t, f.Says)
	}
	require.Contains(t, by, olive.UID)
	assert.NotEmpty(t, by[olive.UID].Adds)
	assert.Less(t, by[olive.UID].Then, by[olive.UID].Now-3)
	// One that nobody knows: its colour was read, and what is in it is guessed from the shelf.
	refs := list[struct {
		UID  string
		Pins []struct{ Name string }
	}](s, "/references")
	read := get[web.LeftoverPage](
		s, "POST", "/leftovers",
		anything{"reference": refs[0].UID, "part": refs[0].Pins[0].Name, "volume": "90 ml", "heats": 3},
	)
	assert.InDelta(t, 90, read.Volume, 1e-6)
	assert.Contains(t, read.From, "guessed by its colour")
	assert.NotEmpty(t, read.Lines)
	status0, _, _ := s.refused(
		"POST", "/leftovers", anything{"reference": refs[0].UID, "part": "Nose of it", "volume": "90 ml"},
	)
	assert.Equal(t, http.StatusUnprocessableEntity, status0)
	// A black one is never a pale belly again.
	black := get[web.LeftoverPage](
		s, "POST", "/leftovers", anything{"recipe": "peat-spot", "volume": "60 ml", "heats": 1, "name": "Black"},
	)
	pale := get[found](s, "POST", "/leftovers/for", anything{"recipe": "gull-belly"})
	for _, f := range pale.List {
		switch f.UID {
		case cream.UID:
			assert.Contains(t, f.Says, "as it is")
		case black.UID:
			assert.Contains(t, f.Says, "can't become that")
		}
	}
	used := get[struct{ Cup string }](
		s, "POST", "/leftovers/"+olive.UID+"/use",
		anything{"seen": olive.Revision, "volume": "60 ml", "for": anything{"recipe": "wave-back"}},
	)
	b := get[anything](s, "GET", "/cups/"+used.Cup, nil)
	assert.NotNil(t, b["cup"].(anything)["target"])
	finished := 0.0
	for _, l := range get[web.LeftoverPage](s, "GET", "/leftovers/"+olive.UID, nil).Lines {
		finished += l.Share
	}
	assert.InDelta(t, 1, finished, 1e-9)
	status, _, says := s.refused("POST", "/leftovers/for", anything{})
	assert.Equal(t, http.StatusUnprocessableEntity, status, fmt.Sprint(says))
}

// What changes a leftover or the log counts once, however often it is sent.
func TestEveryChangeOfLeftoversAndLogCountsOnce(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	n := 0
	thrice := func(method, path string, body anything) anything {
		n++
		raw, err := json.Marshal(body)
		require.NoError(t, err)
		var v anything
		for range 3 {
			r := httptest.NewRequestWithContext(t.Context(), method, "/api/v1"+path, bytes.NewReader(raw))
			r.Host = "127.0.0.1:8080"
			r.Header.Set("Content-Type", "application/json")
			r.Header.Set("Idempotency-Key", fmt.Sprint("leftover-once-", n))
			w := httptest.NewRecorder()
			s.ServeHTTP(w, r)
			require.Less(t, w.Code, 300, "%s %s: %s", method, path, w.Body)
			require.NoError(t, json.Unmarshal(w.Body.Bytes(), &v))
		}
		return v
	}
	before := len(list[web.LeftoverCard](s, "/leftovers"))
	a := thrice("POST", "/leftovers", anything{"recipe": "wet-rope", "volume": "100 ml"})
	b := thrice("POST", "/leftovers", anything{"recipe": "gull-belly", "volume": "50 ml"})
	assert.Len(t, list[web.LeftoverCard](s, "/leftovers"), before+2)
	at := fmt.Sprint("/leftovers/", a["uid"])
	volume := func() float64 { return get[web.LeftoverPage](s, "GET", at, nil).Volume }
	thrice("POST", at+"/mix", anything{"seen": 1, "with": b["uid"], "volume": "20 ml"})
	assert.InDelta(t, 120, volume(), 1e-6)
	thrice("POST", at+"/use", anything{"seen": 2, "volume": "30 ml"})
	assert.InDelta(t, 90, volume(), 1e-6)
	thrice("PATCH", at, anything{"seen": 3, "volume": "80 ml", "note": "weighed"})
	assert.InDelta(t, 80, volume(), 1e-6)
	entries := len(list[web.LogEntry](s, "/log"))
	e := thrice(
		"POST", "/log",
		anything{
			"title": "At the pier", "day": "2026-11-20", "tags": []string{"Perch"}, "caught": 3, "good": 0,
			"spoiled": 0,
			"sold":    0,
		},
	)
	assert.Len(t, list[web.LogEntry](s, "/log"), entries+1)
	changed := thrice(
		"PUT", fmt.Sprint("/log/", e["uid"]),
		anything{
			"seen": 1, "title": "At the pier", "day": "2026-11-20", "tags": []string{"perch", "pier"}, "caught": 4,
			"good":    0,
			"spoiled": 0, "sold": 0,
		},
	)
	assert.Equal(t, 2.0, changed["revision"])
}

// The log is found by words, tag, season and colour, and pages by keys; a run writes its own entry.
func TestTheLogIsFoundAgain(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	all := list[web.LogEntry](s, "/log")
	require.NotEmpty(t, all)
	ran := false
	for _, e := range all {
		ran = ran || e.Pour != "" && e.Good == 23
	}
	assert.True(t, ran, "the demo's run")
	add := func(title, day, words string, tags ...string) {
		get[anything](
			s, "POST", "/log",
			anything{
				"title": title, "day": day, "words": words, "water": "stained", "tags": tags, "caught": 2, "good": 0,
				"spoiled": 0,
				"sold":    0, "colour": anything{"L": 40, "a": -6, "b": 30},
			},
		)
	}
	add(
		"Olive eel by the sluice", "2026-04-02", "Slow along the bottom; 100 % of the fish on the fall.", "zander",
		"sluice",
	)
	add("Same eel, no fish", "2026-07-02", "Too warm.", "zander")
	find := func(query string) (titles []string) {
		for _, e := range list[web.LogEntry](s, "/log"+query) {
			titles = append(titles, e.Title)
		}
		return titles
	}
	assert.Equal(t, []string{"Olive eel by the sluice"}, find("?find=what+worked+in+stained+water+in+spring%3F+eel"))
	assert.Equal(t, []string{"Olive eel by the sluice"}, find("?find=%23sluice"))
	assert.Equal(t, []string{"Olive eel by the sluice"}, find("?find=100+%25"), "a per cent sign means itself")
	assert.Contains(t, find("?season=summer"), "Same eel, no fish")
	assert.NotContains(t, find("?season=summer"), "Olive eel by the sluice")
	assert.Contains(t, find("?near=olive"), "Olive eel by the sluice")
	status, _, _ := s.refused("GET", "/log?near=qwertz", nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	for _, bad := range []anything{
		{"title": "x", "day": "soon"}, {"title": "", "day": "2026-01-01"}, {
			"title": "x", "day": "2026-01-01", "caught": -2,
		},
	} {
		for _, k := range []string{"good", "spoiled", "sold", "caught"} {
			if bad[k] == nil {
				bad[k] = 0
			}
		}
		bad["tags"] = []string{}
		status, _, says := s.refused("POST", "/log", bad)
		assert.Equal(t, http.StatusUnprocessableEntity, status, says)
	}
	year := get[struct{ Months []store.Month }](s, "GET", "/log/year", nil)
	assert.NotEmpty(t, year.Months)
}

// An entry knows its colour by its recipe, keeps a photo, and says what of it is gone.
func TestAnEntryLeadsBackToItsColour(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	raw, err := os.ReadFile("../e2e/testdata/bait.jpg")
	require.NoError(t, err)
	photo := get[struct{ UID string }](s, "POST", "/photos", raw)
	day := anything{
		"title": "Lantern, dusk", "day": "2026-11-20", "tags": []string{}, "recipe": "bog-lantern", "photo": photo.UID,
		"good": 0, "spoiled": 0, "caught": 2, "sold": 0,
	}
	e := get[web.LogEntry](s, "POST", "/log", day)
	require.NotNil(t, e.Look, "as its recipe looks")
	assert.Equal(t, photo.UID, e.Photo)
	assert.Equal(t, "bog-lantern", e.Recipe)
	for field, bad := range map[string]string{"recipe": "nobody", "photo": "nothing"} {
		wrong := maps.Clone(day)
		wrong[field] = bad
		status, at, says := s.refused("POST", "/log", wrong)
		assert.Equal(t, http.StatusUnprocessableEntity, status)
		assert.Equal(t, "body."+field, at)
		assert.Contains(t, says, "no longer there")
	}
	day["recipe"], day["seen"] = "gull-belly", e.Revision
	now := get[web.LogEntry](s, "PUT", "/log/"+e.UID, day)
	assert.NotEqual(t, e.Look.Hex, now.Look.Hex, "another recipe, another colour")
}
