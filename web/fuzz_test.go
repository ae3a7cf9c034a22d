package web_test

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"maps"
	"math/rand/v2"
	"net/http/httptest"
	"net/url"
	"os"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"cloudburst/web"
)

var (
	fuzzFor  = flag.Duration("fuzz-for", 15*time.Second, "how long the API is fuzzed")
	fuzzSeed = flag.Uint64("fuzz-seed", 0, "seed of the API's fuzz; 0 for one of the day")
)

// The API is asked everything its own description allows, and much that it does not: wrong types, missing and extra
// fields, figures that are none or huge, long strings, ids of another kind and of another alphabet, cut-off bodies, and
// valid requests in any order. Nothing of it is a mistake of ours (5xx), whatever was stored can be read again, and
// what is said is fit for a maker.
func TestTheAPIIsFuzzed(t *testing.T) {
	t.Parallel()
	seed := cmp.Or(*fuzzSeed, uint64(time.Now().Unix()/86_400))
	t.Logf("seed %d: go test ./web -run Fuzzed -args -fuzz-for 10m -fuzz-seed %d", seed, seed)
	raw, err := web.OpenAPI()
	require.NoError(t, err)
	f := &fuzzer{
		server: serve(t, true), rng: rand.New(rand.NewPCG(seed, 1)), ids: map[string][]string{},
		seen:  map[string]float64{},
		tally: map[int]int{},
	}
	require.NoError(t, json.Unmarshal(raw, &f.doc))
	f.photo, err = os.ReadFile("../e2e/testdata/bait.jpg")
	require.NoError(t, err)
	for path, item := range f.doc.Paths {
		for method, o := range item {
			o.method, o.path = strings.ToUpper(method), path
			f.ops = append(f.ops, o)
		}
	}
	slices.SortFunc(f.ops, func(a, b *operation) int { return cmp.Compare(a.path+a.method, b.path+b.method) })
	f.readAll()
	n := 0
	for until := time.Now().Add(*fuzzFor); time.Now().Before(until) && f.wrongs < 12; n++ {
		f.one(f.ops[f.rng.IntN(len(f.ops))])
		if n%400 == 399 {
			f.readAll()
		}
	}
	f.readAll()
	t.Logf("%d requests: %v; %d ids", n, f.tally, len(f.seen))
	require.Greater(t, f.tally[200], n/12, "many valid ones were among them")
	require.Greater(t, f.tally[422], n/12, "and many that were not")
}

type schema struct {
	Ref                  string `json:"$ref"`
	Type                 any
	Format, Pattern      string
	Enum                 []any
	Minimum, Maximum     *float64
	MinItems, MaxItems   *int
	MinLength, MaxLength *int
	Properties           map[string]*schema
	Required             []string
	Items                *schema
}

func (s *schema) kind() string {
	switch t := s.Type.(type) {
	case string:
		return t
	case []any:
		k, _ := t[0].(string)
		return k
	}
	return ""
}

type operation struct {
	method, path string
	Parameters   []struct {
		Name, In string
		Required bool
		Schema   *schema
	}
	RequestBody *struct {
		Content map[string]struct{ Schema *schema }
	}
}

type fuzzer struct {
	*server
	rng *rand.Rand
	doc struct {
		Paths      map[string]map[string]*operation
		Components struct{ Schemas map[string]*schema }
	}
	ops    []*operation
	ids    map[string][]string // by kind
	seen   map[string]float64  // head or revision by uid
	photo  []byte
	tally  map[int]int
	wrongs int
	tame   bool // asks validly, as far as it knows
}

// kinds of ids, by where they come from.
var kindOfList = map[string]string{
	"/cups": "cup", "/baits": "bait", "/recipes": "recipe", "/references": "reference", "/batches": "batch",
	"/molds": "mold", "/materials": "material", "/projects": "project", "/pours": "pour", "/leftovers": "leftover",
	"/log": "entry", "/packs": "pack", "/supplies": "supply",
}

func (f *fuzzer) pick(list []string) string {
	if len(list) == 0 {
		return ""
	}
	return list[f.rng.IntN(len(list))]
}

func (f *fuzzer) learn(kind string, v any) {
	o, ok := v.(map[string]any)
	if !ok {
		return
	}
	uid, _ := o["uid"].(string)
	if uid == "" {
		return
	}
	if !slices.Contains(f.ids[kind], uid) {
		f.ids[kind] = append(f.ids[kind], uid)
	}
	for _, key := range []string{"head", "revision"} {
		if n, ok := o[key].(float64); ok {
			f.seen[uid] = n
		}
	}
	if p, ok := o["photo"].(map[string]any); ok {
		f.learn("photo", p)
	}
	for key, kind := range map[string]string{"pins": "pin", "readings": "reading"} {
		parts, _ := o[key].([]any)
		for _, p := range parts {
			f.learn(kind, p)
		}
	}
}

// readLists learns what there is.
func (f *fuzzer) readLists() {
	for path, kind := range kindOfList {
		after := ""
		for range 6 {
			query := ""
			if path != "/molds" && path != "/materials" {
				query = "?most=40&after=" + after
			}
			v := f.must("GET", path+query)
			items, _ := v.([]any)
			after = ""
			if page, ok := v.(map[string]any); ok {
				items, _ = page["items"].([]any)
				after, _ = page["next"].(string)
			}
			for _, it := range items {
				f.learn(kind, it)
			}
			if after == "" {
				break
			}
		}
	}
	for _, uid := range f.ids["cup"][max(0, len(f.ids["cup"])-8):] {
		var cup map[string]any
		if w := f.ask("GET", "/api/v1/cups/"+uid, nil); w.Code == 200 && json.Unmarshal(w.Body.Bytes(), &cup) == nil {
			f.learn("cup", cup)
		}
	}
	if kit, ok := f.must("GET", "/kit").(map[string]any); ok {
		f.seen["kit"], _ = kit["revision"].(float64)
	}
}

// readAll reads everything there is: what can't be read was stored by mistake.
func (f *fuzzer) readAll() {
	f.readLists()
	some := func(list []string) []string { return list[max(0, len(list)-12):] }
	for _, uid := range some(f.ids["cup"]) {
		if w := f.ask("GET", "/api/v1/cups/"+uid, nil); w.Code != 404 { // one that was poured into another is gone
			v := f.must("GET", "/cups/"+uid)
			require.Empty(f.t, v.(map[string]any)["trouble"], "a cup that can't be shown: %.2000v", v)
			f.must("GET", "/cups/"+uid+"/log")
		}
	}
	for _, uid := range some(f.ids["bait"]) {
		if w := f.ask("GET", "/api/v1/baits/"+uid+"?quick=true", nil); w.Code != 404 { // one that was put away is gone
			f.must("GET", "/baits/"+uid)
		}
	}
	for _, uid := range some(f.ids["recipe"]) {
		f.must("GET", "/recipes/"+uid+"/versions")
		f.must("GET", "/recipes/"+uid+"/export")
	}
	for _, kind := range []string{"reference", "mold"} {
		for _, uid := range some(f.ids[kind]) {
			f.must("GET", "/"+kind+"s/"+uid)
		}
	}
	for _, uid := range some(f.ids["material"]) {
		f.must("GET", "/materials/"+uid)
	}
}

func (f *fuzzer) must(method, path string) any {
	f.t.Helper()
	w := f.ask(method, "/api/v1"+path, nil)
	require.Equal(f.t, 200, w.Code, "%s %s: %.600s", method, path, w.Body)
	var v any
	require.NoError(f.t, json.Unmarshal(w.Body.Bytes(), &v))
	return v
}

func (f *fuzzer) chance(oneIn int) bool { return f.rng.IntN(oneIn) == 0 }

// odds is a chance to ask what is not valid.
func (f *fuzzer) odds(oneIn int) bool { return !f.tame && f.chance(oneIn) }

// request makes something to ask of one operation.
func (f *fuzzer) request(o *operation) (address, kind string, body []byte) {
	path, query := o.path, url.Values{}
	main := ""  // the thing that the path names
	thing := "" // what kind of thing it is, where the path says so
	for _, p := range o.Parameters {
		switch p.In {
		case "path":
			var uid string
			switch p.Name {
			case "what":
				thing = f.pick([]string{"recipe", "reference", "batch", "bait", "cup"})
				uid = thing
			case "uid":
				uid = f.uid(thing)
			default:
				uid = f.uid(p.Name)
			}
			if f.odds(12) {
				uid = f.odd()
			}
			main = cmp.Or(main, uid)
			path = strings.ReplaceAll(path, "{"+p.Name+"}", url.PathEscape(cmp.Or(uid, "x")))
		case "query":
			if !p.Required && f.chance(2) {
				continue
			}
			switch v := f.value(p.Schema, p.Name, main, 0).(type) {
			case []any:
				for _, one := range v {
					query.Add(p.Name, text(one))
				}
			default:
				query.Set(p.Name, text(v))
			}
			if f.odds(25) {
				query.Set(p.Name, f.oddText())
			}
		}
	}
	if f.odds(40) {
		query.Set("more", "1")
	}
	kind = "application/json"
	if o.RequestBody != nil {
		for k, c := range o.RequestBody.Content {
			kind = k
			if k == "application/json" {
				v := f.value(c.Schema, "", main, 0)
				if f.odds(3) {
					v = f.spoil(v)
				}
				body = f.written(v)
			} else {
				body = f.file(path)
			}
		}
		if f.odds(30) && len(body) > 0 {
			body = body[:f.rng.IntN(len(body))]
		}
	}
	address = "/api/v1" + path
	if len(query) > 0 {
		address += "?" + query.Encode()
	}
	return address, kind, body
}

func (f *fuzzer) sendAs(
	ctx context.Context, method, address, kind, key string, body io.Reader,
) *httptest.ResponseRecorder {
	r := httptest.NewRequestWithContext(ctx, method, address, body)
	r.Host = "127.0.0.1:8080"
	r.Header.Set("Content-Type", kind)
	if key != "" {
		r.Header.Set("Idempotency-Key", key)
	}
	w := httptest.NewRecorder()
	f.ServeHTTP(w, r)
	return w
}

// one asks one operation something.
func (f *fuzzer) one(o *operation) {
	address, kind, body := f.request(o)
	ctx, cancel := context.WithTimeout(f.t.Context(), 4*time.Second)
	defer cancel()
	var in io.Reader = bytes.NewReader(body)
	if f.chance(60) { // cut off on its way
		in = io.MultiReader(bytes.NewReader(body[:len(body)/2]), broken{})
	}
	if f.chance(80) {
		kind = f.pick([]string{"text/plain", "application/xml", "", "multipart/form-data"})
	}
	key := fmt.Sprintf("fuzz-%d", f.rng.Uint64())
	if f.chance(100) {
		key = ""
	}
	w := f.sendAs(ctx, o.method, address, kind, key, in)
	f.tally[w.Code]++
	if w.Code == 503 && ctx.Err() != nil { // we did not wait any longer
		return
	}
	f.judge(o, address, body, w)
}

type broken struct{}

func (broken) Read([]byte) (int, error) { return 0, errors.New("gone") }

// notForMakers is what nobody at a bench should have to read.
var notForMakers = regexp.MustCompile(`\bexpected\b|invalid character|strconv|\b(?i:sql)\b|Error \d{4}|json: |runtime|\bnil\b|panic|goroutine|\bstruct\b|interface|unmarshal|\bregexp?\b|\buint|float64|index out|EOF|0x[0-9a-f]{6}|%!|\bNaN\b|[+-]Inf|schema|undefined|validation`)

func (f *fuzzer) judge(o *operation, address string, body []byte, w *httptest.ResponseRecorder) {
	f.t.Helper()
	say := func(what string) {
		f.wrongs++
		f.t.Errorf("%s\n%s %s\n%.1500s\n→ %d %.800s", what, o.method, address, body, w.Code, w.Body)
	}
	if w.Code >= 500 {
		say("a mistake of ours")
		return
	}
	words := func(said string) { // what was typed is said back as it was
		if bad := notForMakers.FindString(said); bad != "" && !bytes.Contains(body, []byte(bad)) &&
			!strings.Contains(address, url.QueryEscape(bad)) {
			say("not a maker's words: " + bad)
		}
	}
	kind := w.Header().Get("Content-Type")
	switch {
	case w.Code >= 400 && w.Code != 403:
		var p struct {
			Detail string
			Errors []struct{ Location, Message string }
		}
		if err := json.Unmarshal(w.Body.Bytes(), &p); err != nil || p.Detail == "" {
			say("an answer without words")
			return
		}
		said := p.Detail
		for _, e := range p.Errors {
			said += "\n" + e.Message
		}
		words(said)
		if w.Body.Len() > 6000 {
			say("an answer that grows with what was sent")
		}
	case strings.Contains(kind, "ndjson"):
		lines := bytes.Split(bytes.TrimSpace(w.Body.Bytes()), []byte("\n"))
		var last struct {
			Error          string
			Answer, Layers any
		}
		if err := json.Unmarshal(lines[len(lines)-1], &last); err == nil {
			words(last.Error)
		}
	case strings.Contains(kind, "json"):
		var v any
		if err := json.Unmarshal(w.Body.Bytes(), &v); err != nil {
			say("an answer that can't be read: " + err.Error())
			return
		}
		if m, ok := v.(map[string]any); ok && strings.HasPrefix(o.path, "/cups") && m["trouble"] != nil {
			say("a cup that can't be shown")
		}
		f.learnFrom(o, v)
	}
}

// learnFrom remembers what an answer tells of ids and revisions.
func (f *fuzzer) learnFrom(o *operation, v any) {
	switch {
	case strings.HasPrefix(o.path, "/cups") && o.path != "/cups":
		f.learn("cup", v)
	case strings.HasPrefix(o.path, "/baits/"):
		f.learn("bait", v)
	case strings.HasPrefix(o.path, "/recipes/{"), o.path == "/recipes" && o.method == "POST":
		f.learn("recipe", v)
	case strings.HasPrefix(o.path, "/references/{"), o.path == "/references" && o.method == "POST":
		f.learn("reference", v)
	case strings.HasPrefix(o.path, "/molds/{"):
		f.learn("mold", v)
	case strings.HasPrefix(o.path, "/materials/{"):
		f.learn("material", v)
	case o.path == "/kit":
		if m, ok := v.(map[string]any); ok {
			f.seen["kit"], _ = m["revision"].(float64)
		}
	}
}

// uid is an id for a field of this name.
func (f *fuzzer) uid(name string) string {
	kind := map[string]string{
		"cup": "cup", "batch": "batch", "with": "reference", "bait": "bait", "mold": "mold", "from": "mold",
		"to":     "mold",
		"recipe": "recipe", "reference": "reference", "photo": "photo", "pin": "pin", "reading": "reading",
		"project":  "project",
		"material": "material", "plastisol": "material", "old": "material", "new": "material", "plus": "material",
		"flakes": "material", "not": "material",
		"flake": "reference", "one": "pin", "other": "cup",
	}[name]
	if f.odds(25) {
		for k := range f.ids {
			kind = k
		}
	}
	if name == "plastisol" && !f.chance(4) {
		return f.pick([]string{"skerry-medium", "skerry-soft"})
	}
	if kind == "mold" && f.chance(2) {
		return f.pick([]string{"paddle-minnow", "stick-worm", "curl-tail-grub"})
	}
	list := f.ids[kind]
	if kind == "cup" || kind == "bait" || kind == "recipe" { // the latest are worked on most
		list = list[max(0, len(list)-8):]
	}
	if uid := f.pick(list); uid != "" {
		return uid
	}
	return "nothing-here"
}

var (
	texts = []string{
		"12 drops", "3", "1/8 tsp", "1/64 tsp", "2 g", "0", "-3", "1 cup", "1/2 cup", "2 ml", "10 ml", "8 fl oz",
		"350F",
		"177 C", "half", "1/3", "all", "20 %", ".015", "50 mm",
		"some, 2-5 drops", "heaped 1/8 tsp", "Reed shadow", "A name", "2026-11-20", "2026-02-30", "true", "yes",
		"laminate",
		"pour", "single", "core", "three", "name", "mold", "way", "add",
		"bar", "spot", "layers.0.top", "cups.0.pour", "cups.0.cup", "hook.grams", "hook.at", "cavities", "shape",
		"retired",
		"lengthMM", "strength", "drops", "dropML", "note", "heat", "#c0ffee",
		"dark dull olive", "paddle-minnow", "2026-11-21", "1 cup", "2 drops", "too dark", "clear-red", "carbon-black",
		"hex-flake", "silver-hex", "salt-fine", "50", "60", "L a b", "lengthMM,thickest", "zander", "1e3", "1,5",
		"2 tsp heaped", "5 gal",
	}
	oddTexts = []string{
		"", " ", "NaN", "Inf", "-Inf", "1e999", "1e308", "-1e308", "1e-320", "0x1p-2", "null", "größe", "日本",
		"\u202e gnol", "a\u200bb", "\x00", "'; DROP TABLE cup; --", "%", "_", "\\", "🐟", "../../etc",
		"١٢ drops", "½ cup", "1/0", "0/0", "99999999999999999999", "--", "+", "1 cup cup", "\n", "<b>", "\u2028",
		"1e1e1",
		"infinity cups", "nan drops",
	}
)

func (f *fuzzer) odd() string {
	return f.pick([]string{
		"größe", "日本", "A", "a b", "..", "x'y", "%00", "\u202e", strings.Repeat("x", 65),
		strings.Repeat("ü", 70), "-",
		"a_b", f.pick(f.ids["material"]), f.pick(f.ids["cup"]), f.pick(f.ids["pin"]),
	})
}

func (f *fuzzer) oddText() string {
	if f.chance(6) {
		return strings.Repeat(f.pick(oddTexts)+"x", 3000)
	}
	return f.pick(oddTexts)
}

// value is one that a schema allows, mostly.
func (f *fuzzer) value(s *schema, name, main string, deep int) any {
	for s.Ref != "" {
		s = f.doc.Components.Schemas[s.Ref[strings.LastIndex(s.Ref, "/")+1:]]
	}
	switch {
	case name == "seen" || name == "revision":
		if !f.odds(6) {
			if n, known := f.seen[main]; known {
				return n
			}
			return cmp.Or(f.seen["kit"], 1)
		}
	case len(s.Enum) > 0:
		return s.Enum[f.rng.IntN(len(s.Enum))]
	case s.Format == "uid":
		return f.uid(name)
	case name == "part" && f.chance(2): // of a project
		return f.pick([]string{"Back", "Belly", "Flank"})
	}
	switch s.kind() {
	case "object":
		o := map[string]any{}
		for _, key := range slices.Sorted(maps.Keys(s.Properties)) {
			if !slices.Contains(s.Required, key) && (f.chance(2) || deep > 3) {
				continue
			}
			o[key] = f.value(s.Properties[key], key, main, deep+1)
		}
		if uid, ok := o["recipe"].(string); ok && o["revision"] != nil {
			o["revision"] = cmp.Or(f.seen[uid], 1)
		}
		return o
	case "array":
		least, most := 0, 3
		if s.MinItems != nil {
			least = *s.MinItems
		}
		if s.MaxItems != nil {
			most = min(*s.MaxItems, least+3)
		}
		list := []any{}
		for range least + f.rng.IntN(max(1, most-least+1)) {
			list = append(list, f.value(s.Items, name, main, deep+1))
		}
		return list
	case "number", "integer":
		low, high := 0.0, 20.0
		if s.Minimum != nil {
			low, high = *s.Minimum, *s.Minimum+20
		}
		if s.Maximum != nil {
			high = *s.Maximum
		}
		v := low + f.rng.Float64()*(high-low)
		if f.chance(3) {
			v = []float64{low, high, (low + high) / 2, low + (high-low)*1e-9}[f.rng.IntN(4)]
		}
		if f.odds(8) {
			v = []float64{1e300, -1e300, 1.8e308 / 2, 5e-324, -1, 2.5e9}[f.rng.IntN(6)]
		}
		if s.kind() == "integer" {
			return float64(int64(max(-1e15, min(1e15, v))))
		}
		return v
	case "boolean":
		return f.chance(2)
	case "string":
		if s.Pattern != "" && strings.HasPrefix(s.Pattern, "^(#") {
			return f.pick([]string{"#c0a040", ""})
		}
		if fit := fitting[name]; fit != nil && f.chance(2) {
			return f.pick(fit)
		}
		return f.pick(texts)
	}
	return f.pick(texts)
}

// fitting are texts that fit fields of a name.
var fitting = map[string][]string{
	"pouredOn": {"2026-11-20"}, "volume": {"1 cup", "300 ml"}, "typed": {"3", "1/8 tsp", "2 g"}, "length": {"50 mm"},
}

// spoil breaks a value somewhere.
func (f *fuzzer) spoil(v any) any {
	if f.chance(3) {
		return f.wrong()
	}
	switch v := v.(type) {
	case map[string]any:
		keys := slices.Sorted(maps.Keys(v))
		if len(keys) == 0 || f.chance(6) {
			v[f.pick([]string{"more", "uid", "größe", "__proto__", ""})] = f.wrong()
			return v
		}
		key := f.pick(keys)
		if f.chance(5) {
			delete(v, key)
		} else {
			v[key] = f.spoil(v[key])
		}
		return v
	case []any:
		if len(v) == 0 || f.chance(4) {
			return slices.Repeat(append(v, f.wrong()), 1+f.rng.IntN(300))
		}
		i := f.rng.IntN(len(v))
		v[i] = f.spoil(v[i])
		return v
	}
	return f.wrong()
}

func (f *fuzzer) wrong() any {
	switch f.rng.IntN(9) {
	case 0:
		return nil
	case 1:
		return []any{[]any{map[string]any{}}, 1.0}
	case 2:
		return map[string]any{"a": 1.0}
	case 3:
		return rawNumber(f.pick([]string{
			"1e308", "-1e308", "1e400", "-1e400", "NaN", "Infinity", "1e-400", "0.1e1000000",
			"123456789012345678901234567890",
			"-0",
		}))
	case 4, 5:
		return f.oddText()
	case 6:
		return f.chance(2)
	case 7:
		return f.odd()
	}
	return float64(f.rng.IntN(2000)) - 1000
}

// rawNumber is written as it is, whether it is a number in JSON or not.
type rawNumber string

func (f *fuzzer) written(v any) []byte {
	const mark = "\uE000number:"
	var swap func(v any) any
	swap = func(v any) any {
		switch v := v.(type) {
		case rawNumber:
			return mark + string(v)
		case map[string]any:
			for k := range v {
				v[k] = swap(v[k])
			}
		case []any:
			for i := range v {
				v[i] = swap(v[i])
			}
		}
		return v
	}
	raw, err := json.Marshal(swap(v))
	require.NoError(f.t, err)
	return regexp.MustCompile(`"`+mark+`([^"]*)"`).ReplaceAll(raw, []byte("$1"))
}

// file is something to bring in: a photo, a recipe of the shop, or a bait that was drawn, whole or spoiled.
func (f *fuzzer) file(path string) []byte {
	raw := slices.Clone(f.photo)
	if strings.HasSuffix(path, "from-file") {
		raw = []byte(box(40+80*f.rng.Float64(), 20, 12))
	}
	if strings.Contains(path, "import") {
		raw = f.ask("GET", "/api/v1/recipes/"+f.uid("recipe")+"/export", nil).Body.Bytes()
		if f.odds(2) {
			var v any
			if json.Unmarshal(raw, &v) == nil {
				raw = f.written(f.spoil(v))
			}
		}
	}
	for f.odds(2) && len(raw) > 0 {
		raw[f.rng.IntN(len(raw))] ^= byte(1 << f.rng.IntN(8))
	}
	return raw
}

func text(v any) string {
	switch v := v.(type) {
	case float64:
		return strconv.FormatFloat(v, 'g', -1, 64)
	case nil:
		return ""
	}
	return fmt.Sprint(v)
}
