package web_test

import (
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

type keptThing struct{ UID, Name, Kept, Verdict, Own string }

// What can be made can be renamed, put away, deleted, and brought back from either; what names it stays whole.
func TestThingsAreRenamedPutAwayAndBroughtBack(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	for what, path := range map[string]string{
		"recipe": "/recipes", "reference": "/references", "batch": "/batches", "bait": "/baits", "cup": "/cups",
	} {
		uids := func(query string) []string {
			var out []string
			for _, k := range list[keptThing](s, path+query) {
				out = append(out, k.UID)
			}
			return out
		}
		all := uids("")
		require.NotEmpty(t, all, what)
		one := "/kept/" + what + "/" + all[0]
		for _, kept := range []string{"away", "deleted", "away", "here"} {
			assert.Equal(t, 204, s.ask("PUT", "/api/v1"+one, map[string]any{"kept": kept}).Code, what)
			assert.Equal(t, kept == "here", contains(uids(""), all[0]), "%s %s in its list", what, kept)
			assert.Equal(
				t, kept == "away", contains(uids("?away=true"), all[0]), "%s %s among those put away", what, kept,
			)
		}
		assert.Equal(
			t, 204, s.ask("PUT", "/api/v1"+one+"/name", map[string]any{"name": "Another name altogether"}).Code, what,
		)
		found := false
		for _, k := range list[keptThing](s, path) {
			found = found || k.UID == all[0] && (k.Name == "Another name altogether" ||
				k.Verdict == "Another name altogether" ||
				k.Own == "Another name altogether")
		}
		assert.True(t, found, what)
		if what != "batch" {
			s.refused("PUT", one+"/name", map[string]any{"name": " "})
		}
		s.refused("PUT", one+"/name", map[string]any{"name": "right\u202eto left"})
		s.refused("PUT", "/kept/"+what+"/no-such-thing", map[string]any{"kept": "away"})
	}
	s.refused("PUT", "/kept/shop/x", map[string]any{"kept": "away"})
	assert.Equal(
		t, 204, s.ask("PUT", "/api/v1/shop", map[string]any{"name": "Two at the Lagoon", "currency": "kr"}).Code,
	)
	assert.Equal(t, "Two at the Lagoon", get[struct{ Name string }](s, "GET", "/shop", nil).Name)
	s.refused("PUT", "/shop", map[string]any{"name": "", "currency": "kr"})
}

func contains(list []string, one string) bool {
	for _, v := range list {
		if v == one {
			return true
		}
	}
	return false
}

// Two photos of one bait are one reference: the pins of both stand together, and each photo keeps its own.
func TestTwoPhotosOfOneBait(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	type card struct {
		UID      string
		Revision int
		With     string
		Joined   []string
		Pins     []struct{ UID, Name, Of string }
	}
	get[card](s, "POST", "/references", map[string]any{"name": "Its belly", "photo": ""})
	refs := list[card](s, "/references")
	require.GreaterOrEqual(t, len(refs), 2)
	a, b := refs[0], refs[1]
	now := get[card](s, "PUT", "/references/"+b.UID+"/with", map[string]any{"seen": b.Revision, "with": a.UID})
	assert.Equal(t, a.UID, now.With)
	both := get[card](s, "GET", "/references/"+a.UID, nil)
	assert.Equal(t, []string{b.UID}, both.Joined)
	assert.Len(t, both.Pins, len(a.Pins)+len(b.Pins))
	of := 0
	for _, p := range both.Pins {
		if p.Of == b.UID {
			of++
		}
	}
	assert.Equal(t, len(b.Pins), of)
	for _, r := range list[card](s, "/references") {
		assert.NotEqual(t, b.UID, r.UID, "it stands with the other now")
	}
	assert.Len(t, get[card](s, "GET", "/references/"+b.UID, nil).Pins, len(b.Pins))
	s.refused("PUT", "/references/"+b.UID+"/with", map[string]any{"seen": b.Revision, "with": ""}) // stale
	s.refused("PUT", "/references/"+a.UID+"/with", map[string]any{"seen": both.Revision, "with": a.UID})
	s.refused("PUT", "/references/"+a.UID+"/with", map[string]any{"seen": both.Revision, "with": b.UID})
	apart := get[card](s, "PUT", "/references/"+b.UID+"/with", map[string]any{"seen": now.Revision, "with": ""})
	assert.Empty(t, apart.With)
	assert.Len(t, get[card](s, "GET", "/references/"+a.UID, nil).Pins, len(a.Pins))
}

// A bait takes a saved recipe as it takes a cup: one is poured for it.
func TestABaitTakesARecipe(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	type page struct {
		UID      string
		Revision int
		CupCards []struct{ UID, Name string }
	}
	one := get[page](s, "POST", "/baits", map[string]any{"way": "laminate", "mold": "paddle-minnow"})
	cups := len(list[keptThing](s, "/cups"))
	is := get[page](
		s, "PATCH", "/baits/"+one.UID,
		map[string]any{"field": "cups.1.cup", "typed": "", "recipe": "wet-rope", "seen": one.Revision},
	)
	assert.Contains(t, is.CupCards[1].Name, "Wet rope")
	assert.Len(t, list[keptThing](s, "/cups"), cups+1)
	s.refused(
		"PATCH", "/baits/"+one.UID,
		map[string]any{"field": "cups.9.cup", "typed": "", "recipe": "wet-rope", "seen": is.Revision},
	)
	s.refused(
		"PATCH", "/baits/"+one.UID,
		map[string]any{"field": "cups.1.cup", "typed": "", "recipe": "no-such", "seen": is.Revision},
	)
}

// Where a photo of flake can be read in two ways, both come with the count, and a hand takes one.
func TestACountThatIsUnsureIsDecided(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	raw, err := os.ReadFile("../core/photo/testdata/judged/q07.jpg")
	require.NoError(t, err)
	photo := get[struct{ UID string }](s, "POST", "/photos", raw)
	type class struct{ PerCM2 float64 }
	type card struct {
		UID   string
		Flake struct {
			Unsure  string
			Decided bool
			Classes []class
			Other   *struct{ Classes []class }
		}
	}
	r := get[card](s, "POST", "/references", map[string]any{"name": "Close-up", "photo": photo.UID})
	path := "/references/" + r.UID
	s.refused("POST", path+"/flake/reading", map[string]any{"other": true})
	get[card](
		s, "POST", path+"/scale", map[string]any{"a": []float64{100, 900}, "b": []float64{540, 900}, "length": "10 mm"},
	)
	r = get[card](s, "POST", path+"/flake", map[string]any{"x0": 100, "y0": 70, "x1": 1400, "y1": 850})
	require.NotNil(t, r.Flake.Other)
	assert.Len(t, r.Flake.Classes, 1)
	assert.Len(t, r.Flake.Other.Classes, 2)
	assert.Contains(t, r.Flake.Unsure, "two colours")
	r = get[card](s, "POST", path+"/flake/reading", map[string]any{"other": true})
	assert.True(t, r.Flake.Decided)
	assert.Len(t, r.Flake.Classes, 2)
	assert.Len(t, get[card](s, "GET", path, nil).Flake.Classes, 2, "and kept")
}
