package web_test

import (
	"bytes"
	"cmp"
	crand "crypto/rand"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"maps"
	"net/http"
	"net/http/httptest"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/demo"
	"cloudburst/format"
	"cloudburst/stand/camera"
	"cloudburst/stand/scale"
	"cloudburst/store"
	"cloudburst/store/storetest"
	"cloudburst/web"
)

func TestMain(m *testing.M) { storetest.Main(m) }

// server is a shop over HTTP, on a database of its own.
type server struct {
	t     testing.TB
	store *store.Store
	shop  *store.Shop
	key   string // of the next actions; a new one for each where empty
	http.Handler
}

func serve(t testing.TB, withDemo bool) *server {
	t.Helper()
	st := storetest.Open(t)
	shop, err := st.NewShop(t.Context(), "Test", withDemo)
	require.NoError(t, err)
	if withDemo {
		require.NoError(t, demo.Load(t.Context(), shop))
	}
	return &server{t, st, shop, "", web.New(web.Config{
		Store: st, Shops: web.Only(shop), Log: slog.New(slog.DiscardHandler), Tools: web.Tools{
			Scale: scale.New(1), Card: camera.Card(),
		},
	})}
}

// ask sends a request; a body that is not bytes is sent as JSON.
func (s *server) ask(method, path string, body any) *httptest.ResponseRecorder {
	s.t.Helper()
	var in io.Reader
	kind := "application/json"
	switch b := body.(type) {
	case nil:
	case []byte:
		in, kind = bytes.NewReader(b), "application/octet-stream"
	case anything:
		b = maps.Clone(b)
		s.seen(method, path, b)
		raw, err := json.Marshal(b)
		require.NoError(s.t, err)
		in = bytes.NewReader(raw)
	default:
		raw, err := json.Marshal(b)
		require.NoError(s.t, err)
		in = bytes.NewReader(raw)
	}
	r := httptest.NewRequestWithContext(s.t.Context(), method, path, in)
	r.Host = "127.0.0.1:8080"
	r.Header.Set("Content-Type", kind)
	r.Header.Set("Idempotency-Key", cmp.Or(s.key, crand.Text()))
	w := httptest.NewRecorder()
	s.ServeHTTP(w, r)
	return w
}

var changesAReference = regexp.MustCompile(`^(/api/v1/references/[^/]+)/(light|scale|flake|flake/pieces|flake/reading|aside|pins/[^/]+/mine)$`)

// seen fills in that a reference was seen as it is, where a test does not say otherwise.
func (s *server) seen(method, path string, body anything) {
	of := changesAReference.FindStringSubmatch(path)
	if _, said := body["seen"]; said || method != "POST" || of == nil {
		return
	}
	var now struct{ Revision int }
	if w := s.ask("GET", of[1], nil); w.Code == http.StatusOK {
		require.NoError(s.t, json.Unmarshal(w.Body.Bytes(), &now))
	}
	body["seen"] = max(1, now.Revision)
}

// get asks and decodes; the status must be 2xx.
func get[T any](s *server, method, path string, body any) T {
	s.t.Helper()
	w := s.ask(method, "/api/v1"+path, body)
	require.Less(s.t, w.Code, 300, "%s %s: %s", method, path, w.Body)
	var v T
	require.NoError(s.t, json.Unmarshal(w.Body.Bytes(), &v))
	return v
}

// list asks for the first part of a list.
func list[T any](s *server, path string) []T {
	s.t.Helper()
	return get[struct{ Items []T }](s, "GET", path, nil).Items
}

type anything = map[string]any

// refused asks for something that must be refused, and gives status, field and sentence.
func (s *server) refused(method, path string, body any) (status int, field, says string) {
	s.t.Helper()
	w := s.ask(method, "/api/v1"+path, body)
	require.GreaterOrEqual(s.t, w.Code, 400, w.Body.String())
	assert.Equal(s.t, "application/problem+json", w.Header().Get("Content-Type"))
	var p struct {
		Detail string
		Errors []struct{ Location, Message string }
	}
	require.NoError(s.t, json.Unmarshal(w.Body.Bytes(), &p), w.Body.String())
	if len(p.Errors) > 0 {
		return w.Code, p.Errors[0].Location, p.Errors[0].Message
	}
	return w.Code, "", p.Detail
}

type card struct {
	UID, Name string
	Revision  int
}

func TestEveryDemoRecipeTravelsToTheSameBytes(t *testing.T) {
	t.Parallel()
	raw, err := os.ReadFile("../docs/formats/recipe.schema.json")
	require.NoError(t, err)
	schemaDoc, err := jsonschema.UnmarshalJSON(bytes.NewReader(raw))
	require.NoError(t, err)
	compiler := jsonschema.NewCompiler()
	require.NoError(t, compiler.AddResource("recipe.json", schemaDoc))
	schema, err := compiler.Compile("recipe.json")
	require.NoError(t, err)

	from, to := serve(t, true), serve(t, false)
	recipes := list[card](from, "/recipes")
	assert.GreaterOrEqual(t, len(recipes), 7)
	for _, r := range recipes {
		file := from.ask("GET", "/api/v1/recipes/"+r.UID+"/export", nil)
		assert.Contains(t, file.Header().Get("Content-Disposition"), ".cloudburst.json")
		doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(file.Body.Bytes()))
		require.NoError(t, err)
		assert.NoError(t, schema.Validate(doc), "the documented schema describes %s", r.Name)
		got := get[struct {
			Recipe card
		}](to, "POST", "/recipes/import", file.Body.Bytes())
		assert.Equal(t, r.UID, got.Recipe.UID)
		again := to.ask("GET", "/api/v1/recipes/"+r.UID+"/export", nil)
		assert.Equal(t, file.Body.String(), again.Body.String(), r.Name)
	}
	assert.Error(t, schema.Validate(anything{"format": "cloudburst-recipe"}), "and not just anything")
}

type bench struct {
	UID  string
	Head int
	Cup  struct {
		Doses []struct {
			Material string
			Amount   struct{ Value float64 }
		}
	}
	Saved bool
	Look  struct {
		ThicknessMM float64
		Ground      string
		Swatch      struct{ Hex string }
		Against     *struct{ DeltaE00 float64 }
	}
	TargetSwatch *struct{ Hex string }
	Wedge        struct{ PNG string }
}

func steps(seen int, step anything) anything {
	return anything{"seen": seen, "steps": []any{step}}
}

func drip(material string, seen, n int) anything {
	return steps(seen, anything{"kind": "drip", "material": material, "drops": n})
}

func TestTheBench(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	latest := get[struct{ Cup string }](s, "GET", "/cups/latest", nil)
	b := get[bench](s, "GET", "/cups/"+latest.Cup, nil)
	assert.True(t, b.Saved)
	assert.Equal(t, 8.0, b.Look.ThicknessMM, "as its target was read")
	assert.NotNil(t, b.Look.Against)
	assert.NotEmpty(t, b.TargetSwatch.Hex)
	thin := get[bench](s, "GET", "/cups/"+latest.Cup+"?thickness=0.5&ground=dark&light=A", nil)
	assert.Equal(t, "dark", thin.Look.Ground)
	assert.NotEqual(t, b.Look.Swatch.Hex, thin.Look.Swatch.Hex)
	after := get[bench](s, "POST", "/cups/"+b.UID+"/steps", drip("rowan-red", b.Head, 1))
	assert.False(t, after.Saved)
	assert.NotEqual(t, b.Wedge.PNG, after.Wedge.PNG)
	assert.True(t, strings.HasPrefix(after.Wedge.PNG, "data:image/png;base64,"))
	back := get[bench](s, "POST", "/cups/"+b.UID+"/rewind", anything{"seen": after.Head, "redo": false})
	assert.Equal(t, b.Cup, back.Cup)

	half := get[bench](s, "POST", "/cups", anything{"recipe": "storm-oilskin", "volume": "1/2 cup"})
	assert.Equal(t, 7.0, half.Cup.Doses[0].Amount.Value)
}

func TestSavesFromTwoWindows(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	one := get[bench](s, "POST", "/cups", anything{"recipe": "bog-lantern"})
	two := get[bench](s, "POST", "/cups", anything{"recipe": "bog-lantern"})
	save := func(b bench) anything { return anything{"cup": b.UID, "name": "Bog lantern", "seen": 1} }
	assert.Equal(t, 2, get[card](s, "PUT", "/recipes/bog-lantern", save(one)).Revision)
	status, _, says := s.refused("PUT", "/recipes/bog-lantern", save(two))
	assert.Equal(t, http.StatusConflict, status)
	assert.Contains(t, says, "Keep both")
	kept := get[card](s, "POST", "/recipes", anything{"cup": two.UID, "name": "Bog lantern, mine"})
	assert.Equal(t, 1, kept.Revision)
	assert.Equal(
		t, 2, get[card](s, "PUT", "/recipes/"+kept.UID, save(two)).Revision, "the cup belongs to the new one now",
	)
}

func TestBadInputIsRefusedAtItsField(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := get[bench](s, "POST", "/cups", anything{})
	photo := get[struct{ UID string }](s, "POST", "/photos", readFile(t, "../format/testdata/p02.jpg"))
	ref := get[struct{ UID string }](s, "POST", "/references", anything{"name": "Ref", "photo": photo.UID})
	step := func(step anything) anything {
		return steps(0, step)
	}
	pin := func(disc anything, name string, mm float64) anything {
		return anything{"name": name, "disc": disc, "thicknessMM": mm, "ground": "white"}
	}
	spot := anything{"x": 400, "y": 300, "radius": 9}
	batch := func(change anything) anything {
		in := anything{"recipe": "wet-rope", "revision": 1, "pouredOn": "2026-11-20", "volume": "1 cup", "verdict": "", "rested": "1 h", "additions": []any{
			anything{"doses": []any{anything{"material": "tea-brown", "typed": "3"}}},
		}}
		for k, v := range change {
			in[k] = v
		}
		return in
	}
	for name, c := range map[string]struct {
		method, path string
		body         any
		status       int
		field, says  string
	}{
		"unknown unit": {
			"POST", "/cups/" + b.UID + "/steps", step(anything{
				"kind": "volume", "typed": "3 buckets",
			}), 422, "body.typed",
			"use cup, fl oz, ml",
		},
		"negative dose": {
			"POST", "/cups/" + b.UID + "/steps", step(anything{
				"kind": "dose", "material": "rowan-red", "typed": "-3",
			}), 422,
			"body.typed", "below zero",
		},
		"absurd dose": {
			"POST", "/cups/" + b.UID + "/steps", step(anything{
				"kind": "dose", "material": "rowan-red", "typed": "501",
			}), 422,
			"body.typed", "up to 500 drops",
		},
		"unknown bottle": {
			"POST", "/cups/" + b.UID + "/steps", step(anything{"kind": "dose", "material": "gone", "typed": "5"}), 422,
			"body.material", "nothing on the shelf",
		},
		"unknown step": {
			"POST", "/cups/" + b.UID + "/steps", step(anything{"kind": "shake"}), 422, "body.steps[0].kind", "one of",
		},
		"unknown field": {"POST", "/cups", anything{"size": 3}, 422, "body.size", "not known here"},
		"unknown cup":   {"GET", "/cups/nope", nil, 404, "", "not here"},
		"bad thickness": {"GET", "/cups/" + b.UID + "?thickness=0.001", nil, 422, "body.thickness", "0.05 to 100"},
		"bad ground":    {"GET", "/cups/" + b.UID + "?ground=moon", nil, 422, "query.ground", "one of"},
		"set over another": {
			"POST", "/cups/" + b.UID + "/steps", steps(
				7, anything{"kind": "dose", "material": "rowan-red", "typed": "5"},
			), 409,
			"", "Another device",
		},
		"empty name": {"POST", "/recipes", anything{"cup": b.UID, "name": "   "}, 422, "body.name", "1 to 80"},
		"no cup":     {"POST", "/recipes", anything{"cup": "nope", "name": "X"}, 404, "", "not here"},
		"scale to nothing": {
			"GET", "/recipes/wet-rope/scale?volume=0+cups", nil, 422, "body.volume", "needs some plastisol",
		},
		"scale to words": {"GET", "/recipes/wet-rope/scale?volume=lots", nil, 422, "body.volume", "type a volume"},
		"no recipe":      {"GET", "/recipes/nope/export", nil, 404, "", "not here"},
		"not JSON":       {"POST", "/recipes/import", []byte("hello"), 422, "body.file", "no complete JSON"},
		"newer file": {
			"POST", "/recipes/import", []byte(`{"format":"cloudburst-recipe","version":9}`), 422, "body.file",
			"newer Cloudburst",
		},
		"huge file": {
			"POST", "/recipes/import", bytes.Repeat(
				[]byte(" "), format.MaxRecipeBytes+2000,
			), 413, "", "taken here: 1 MB",
		},
		"no image":    {"POST", "/photos", []byte("hello"), 422, "body.photo", "JPEG, PNG and WebP"},
		"huge photo":  {"POST", "/photos", make([]byte, format.MaxPhotoBytes+2000), 413, "", "taken here: 20 MB"},
		"no photo":    {"POST", "/references", anything{"name": "R", "photo": "nope"}, 404, "", "not here"},
		"unnamed ref": {"POST", "/references", anything{"name": "", "photo": photo.UID}, 422, "body.name", "1 to 80"},
		"pin outside": {
			"POST", "/references/" + ref.UID + "/pins", pin(anything{"x": 5000, "y": 1, "radius": 9}, "Back", 4), 422,
			"body.disc", "outside the picture",
		},
		"unnamed pin": {"POST", "/references/" + ref.UID + "/pins", pin(spot, "", 4), 422, "body.name", "1 to 80"},
		"pin of no depth": {
			"POST", "/references/" + ref.UID + "/pins", pin(spot, "Back", 0), 422, "body.thicknessMM", "0.05 to 100",
		},
		"sample outside": {
			"POST", "/references/" + ref.UID + "/sample",
			anything{"x": -1, "y": 0, "radius": 5},
			422, "body.disc",
			"outside",
		},
		"batch drops": {
			"POST", "/batches",
			batch(anything{"additions": []any{anything{"doses": []any{anything{"material": "tea-brown", "typed": "a lot"}}}}}),
			422, "body.additions[0].doses[0]", "12d",
		},
		"batch day": {"POST", "/batches", batch(anything{"pouredOn": "2026-13-01"}), 422, "body.pouredOn", "no day"},
		"batch volume": {
			"POST", "/batches/preview", batch(anything{"volume": "-1 cup"}), 422, "body.volume", "below zero",
		},
		"batch rest": {
			"POST", "/batches", batch(anything{"rested": "-2"}), 422, "body.rested", "type it as 24 hours",
		},
		"batch revision": {"POST", "/batches", batch(anything{"revision": 77}), 404, "", "not here"},
		"batch photo":    {"POST", "/batches", batch(anything{"photo": "nope"}), 404, "", "not here"},
		"no family": {
			"POST", "/materials", anything{"family": "nope", "name": "X"}, 422, "body.family", "families",
		},
		"unnamed bottle": {
			"POST", "/materials", anything{"family": "clear-red", "name": ""}, 422, "body.name", "1 to 80",
		},
		"nothing there": {"GET", "/nothing", nil, 404, "", "nothing at this address"},
	} {
		status, field, says := s.refused(c.method, c.path, c.body)
		assert.Equal(t, c.status, status, "%s: %s", name, says)
		assert.Equal(t, c.field, field, name)
		assert.Contains(t, says, c.says, name)
	}
	assert.Equal(t, b.Cup, get[bench](s, "GET", "/cups/"+b.UID, nil).Cup, "nothing of it was stored")
	assert.Len(t, list[card](s, "/recipes"), 12)
	assert.Len(t, list[anything](s, "/batches"), 10)
	assert.Empty(t, get[struct{ Pins []anything }](s, "GET", "/references/"+ref.UID, nil).Pins)
}

func readFile(t *testing.T, name string) []byte {
	raw, err := os.ReadFile(name)
	require.NoError(t, err)
	return raw
}

func TestShelfReferencesAndBatches(t *testing.T) {
	t.Parallel()
	s := serve(t, false)
	assert.Empty(t, get[[]anything](s, "GET", "/materials", nil))
	_, field, says := s.refused("POST", "/cups", anything{})
	assert.Equal(t, "body.plastisol", field)
	assert.Contains(t, says, "Add one there first")
	families := get[[]struct{ Key string }](s, "GET", "/families", nil)
	for _, f := range families {
		b := get[struct {
			UID    string
			Swatch struct{ Hex string }
			Dose   string
		}](s, "POST", "/materials", anything{"family": f.Key, "name": "My " + f.Key})
		assert.NotEmpty(t, b.UID)
		assert.Len(t, b.Swatch.Hex, 7)
		assert.NotEmpty(t, b.Dose)
	}
	assert.Len(t, get[[]anything](s, "GET", "/materials", nil), len(families))

	photo := get[struct{ UID string }](s, "POST", "/photos", readFile(t, "../format/testdata/p02.jpg"))
	shown := s.ask("GET", "/api/v1/photos/"+photo.UID, nil)
	assert.Equal(t, "image/jpeg", shown.Header().Get("Content-Type"))
	assert.NotContains(t, shown.Body.String(), "Exif", "no position, no camera")
	ref := get[struct{ UID string }](s, "POST", "/references", anything{"name": "Ref", "photo": photo.UID})
	sample := get[struct{ Swatch struct{ Hex string } }](
		s, "POST", "/references/"+ref.UID+"/sample", anything{"x": 400, "y": 300, "radius": 9},
	)
	type pinned struct {
		Pins []struct {
			UID    string
			Swatch struct{ Hex string }
			Target anything
		}
	}
	got := get[pinned](s, "POST", "/references/"+ref.UID+"/pins", anything{
		"name": "Back", "disc": anything{"x": 400, "y": 300, "radius": 9}, "thicknessMM": 6, "ground": "white",
	})
	assert.Equal(t, sample.Swatch.Hex, got.Pins[0].Swatch.Hex)
	b := get[bench](s, "POST", "/cups", anything{"volume": "1/2 cup"})
	aimed := get[bench](
		s, "POST", "/cups/"+b.UID+"/steps", steps(0, anything{"kind": "target", "target": got.Pins[0].Target}),
	)
	assert.Equal(t, sample.Swatch.Hex, aimed.TargetSwatch.Hex)
	assert.Empty(t, get[pinned](s, "DELETE", "/references/"+ref.UID+"/pins/"+got.Pins[0].UID, nil).Pins)

	r := get[card](s, "POST", "/recipes", anything{"cup": b.UID, "name": "Clear"})
	batch := get[struct {
		Sum   []anything
		Drift struct{ DeltaE00 float64 }
	}](s, "POST", "/batches", anything{
		"recipe": r.UID, "revision": 1, "pouredOn": "2026-11-20", "volume": "1 cup", "verdict": "Clear as rain.",
		"rested": "2 h", "additions": []any{},
	})
	assert.Empty(t, batch.Sum)
	assert.Zero(t, batch.Drift.DeltaE00)
}

func TestTheDoor(t *testing.T) {
	t.Parallel()
	s := serve(t, false)
	assert.Equal(t, "ok\n", s.ask("GET", "/healthz", nil).Body.String())
	ask := func(host, origin string) int {
		r := httptest.NewRequestWithContext(
			t.Context(), "POST", "/api/v1/materials", strings.NewReader(`{"family":"clear-red","name":"X"}`),
		)
		r.Host = host
		if origin != "" {
			r.Header.Set("Origin", origin)
		}
		r.Header.Set("Content-Type", "application/json")
		r.Header.Set("Idempotency-Key", crand.Text())
		w := httptest.NewRecorder()
		s.ServeHTTP(w, r)
		return w.Code
	}
	from := func(site, path string) *httptest.ResponseRecorder {
		r := httptest.NewRequestWithContext(t.Context(), "GET", path, nil)
		r.Host = "127.0.0.1:8080"
		r.Header.Set("Sec-Fetch-Site", site)
		w := httptest.NewRecorder()
		s.ServeHTTP(w, r)
		return w
	}
	for site, code := range map[string]int{
		"cross-site": 403, "same-site": 403, "same-origin": 200, "none": 200, "": 200,
	} {
		assert.Equal(t, code, from(site, "/api/v1/materials").Code, "a question, from %s", site)
	}
	own := from("same-origin", "/api/v1/materials").Header()
	assert.Equal(t, "no-store", own.Get("Cache-Control"))
	assert.Equal(t, "same-origin", own.Get("Cross-Origin-Resource-Policy"))
	assert.Equal(t, 200, ask("127.0.0.1:8080", ""))
	assert.Equal(t, 200, ask("localhost:8080", "http://localhost:8080"))
	assert.Equal(t, 200, ask("[::1]:8080", ""))
	assert.Equal(t, 403, ask("127.0.0.1:8080", "http://elsewhere.example"), "another site's page")
	assert.Equal(
		t, 421, ask("elsewhere.example:8080", "http://elsewhere.example:8080"), "a foreign name that points here",
	)

	page := s.ask("GET", "/recipes/any", nil)
	assert.Contains(t, page.Header().Get("Content-Security-Policy"), "default-src 'self'")
	assert.Equal(t, "nosniff", page.Header().Get("X-Content-Type-Options"))
	assert.Equal(t, 404, s.ask("GET", "/assets/gone.js", nil).Code)
	assert.Equal(t, 405, s.ask("POST", "/recipes", nil).Code)
	if page.Code == http.StatusOK { // the screens are built
		assert.Equal(t, "no-cache", page.Header().Get("Cache-Control"))
		_, name, found := strings.Cut(page.Body.String(), `src="/`)
		require.True(t, found)
		name, _, _ = strings.Cut(name, `"`)
		asset := s.ask("GET", "/"+name, nil)
		assert.Contains(t, asset.Header().Get("Cache-Control"), "immutable")
		assert.Contains(t, asset.Header().Get("Content-Type"), "javascript")
		assert.NotContains(t, page.Body.String(), "http", "nothing is fetched from elsewhere")
	}
}

func TestInnerTroubleIsNotTold(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	require.NoError(t, s.store.Close())
	status, _, says := s.refused("GET", "/recipes", nil)
	assert.Equal(t, 503, status, "a database that is away is told apart from a mistake")
	assert.Contains(t, says, "Nothing was lost")
	assert.NotContains(t, says, "sql")
	assert.Equal(t, 503, s.ask("GET", "/healthz", nil).Code)
}

// The description that docs/openapi.json and the UI's types are made from lists what the server answers.
func TestOpenAPI(t *testing.T) {
	t.Parallel()
	raw, err := web.OpenAPI()
	require.NoError(t, err)
	var doc struct {
		Paths map[string]anything
	}
	require.NoError(t, json.Unmarshal(raw, &doc))
	for _, path := range []string{
		"/cups/{cup}/steps", "/recipes/{recipe}/scale", "/references/{reference}/pins", "/batches", "/materials",
		"/photos",
	} {
		assert.Contains(t, doc.Paths, path)
	}
	committed, err := os.ReadFile("../docs/openapi.json")
	require.NoError(t, err)
	assert.True(
		t, bytes.Equal(
			committed, slices.Concat(raw, []byte("\n")),
		), "docs/openapi.json is out of date: run scripts/generate",
	)
}

// A tap as the server sees it: stored, worked out, drawn.
func BenchmarkTap(b *testing.B) {
	for _, from := range []string{"wet-rope", "everything-pot"} {
		b.Run(from, func(b *testing.B) {
			s := serve(b, true)
			cup := get[bench](s, "POST", "/cups", anything{"recipe": from})
			n := 0
			for b.Loop() {
				n++
				s.ask("POST", "/api/v1/cups/"+cup.UID+"/steps", drip("rowan-red", n-1, 1-2*(n%2)))
			}
		})
	}
}

// counting gives a way to send a change three times under one key: it counts once.
func (s *server) counting() func(method, path string, body anything) anything {
	s.t.Helper()
	n := 0
	return func(method, path string, body anything) anything {
		n++
		raw, err := json.Marshal(body)
		require.NoError(s.t, err)
		var answers []string
		for range 3 {
			r := httptest.NewRequestWithContext(s.t.Context(), method, "/api/v1"+path, bytes.NewReader(raw))
			r.Host = "127.0.0.1:8080"
			r.Header.Set("Content-Type", "application/json")
			r.Header.Set("Idempotency-Key", fmt.Sprint("only-once-", n))
			w := httptest.NewRecorder()
			s.ServeHTTP(w, r)
			require.Less(s.t, w.Code, 300, "%s %s: %s", method, path, w.Body)
			answers = append(answers, w.Body.String())
		}
		var v, again anything
		require.NoError(s.t, json.Unmarshal([]byte(answers[0]), &v))
		require.NoError(s.t, json.Unmarshal([]byte(answers[2]), &again))
		for _, key := range []string{"uid", "revision", "last", "lossRuns"} {
			assert.Equal(s.t, v[key], again[key], "%s %s: %s", method, path, key)
		}
		return v
	}
}
