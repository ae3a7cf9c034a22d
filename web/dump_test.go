package web_test

import (
	"bytes"
	"cmp"
	"compress/gzip"
	"database/sql"
	"encoding/json"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/store"
	"cloudburst/store/storetest"
	"cloudburst/web"
)

// unzipped reads a file of testdata.
func unzipped(t *testing.T, name string) []byte {
	t.Helper()
	raw, err := os.ReadFile(name)
	require.NoError(t, err)
	z, err := gzip.NewReader(bytes.NewReader(raw))
	require.NoError(t, err)
	out, err := io.ReadAll(z)
	require.NoError(t, err)
	return out
}

// calledNow are fields of the API that have another name today.
var calledNow = map[string]string{"goes": "additions"}

// within says whether everything that was told before is told now: a document may say more than it did, never less or
// anything else.
func within(was, is any) (string, bool) {
	switch was := was.(type) {
	case map[string]any:
		now, ok := is.(map[string]any)
		if !ok {
			return "", false
		}
		for k, v := range was {
			if v == nil || k == "v" {
				continue
			}
			if at, ok := within(v, now[cmp.Or(calledNow[k], k)]); !ok {
				return "." + k + at, false
			}
		}
		return "", true
	case []any:
		now, ok := is.([]any)
		if !ok || len(now) != len(was) {
			return "", false
		}
		for i := range was {
			if at, ok := within(was[i], now[i]); !ok {
				return "[]" + at, false
			}
		}
		return "", true
	}
	return "", assert.ObjectsAreEqual(was, is)
}

// A database that an earlier program wrote is read by this one, and nothing of it is lost or says anything else. The
// dumps are of the demo shop with a cup that was dripped into, heated, poured, split and undone; their photos are left
// out.
func TestWhatAnEarlierProgramWrote(t *testing.T) {
	t.Parallel()
	dumps, err := filepath.Glob("testdata/dumps/*.sql.gz")
	require.NoError(t, err)
	require.NotEmpty(t, dumps)
	for _, file := range dumps {
		t.Run(filepath.Base(file), func(t *testing.T) {
			dsn := storetest.DSN(t)
			db, err := sql.Open("mysql", dsn+"?multiStatements=true")
			require.NoError(t, err)
			_, err = db.ExecContext(t.Context(), "SET foreign_key_checks = 0;\n"+string(unzipped(t, file)))
			require.NoError(t, err)
			require.NoError(t, db.Close())
			st, err := store.Open(t.Context(), dsn)
			require.NoError(t, err)
			t.Cleanup(func() { st.Close() })
			require.NoError(t, st.Migrate(t.Context()))
			shop, err := st.FirstShop(t.Context())
			require.NoError(t, err)
			s := &server{
				t, st, shop, "", web.New(web.Config{
					Store: st, Shops: web.Only(shop), Log: slog.New(slog.DiscardHandler),
				}),
			}

			var was map[string]json.RawMessage
			require.NoError(t, json.Unmarshal(unzipped(t, strings.Replace(file, ".sql.gz", ".json.gz", 1)), &was))
			plain := func(raw []byte) (v any) {
				require.NoError(t, json.Unmarshal(raw, &v))
				return v
			}
			get := func(path string) any {
				w := s.ask("GET", "/api/v1"+path, nil)
				require.Equal(t, 200, w.Code, "%s: %s", path, w.Body)
				return plain(w.Body.Bytes())
			}
			same := func(what string, was, is any) {
				at, ok := within(was, is)
				assert.True(t, ok, "%s%s is not what it was", what, at)
			}
			list := func(path string) map[string]any {
				out := map[string]any{}
				items := get(path)
				if page, ok := items.(map[string]any); ok {
					items = page["items"]
				}
				for _, one := range items.([]any) {
					out[one.(map[string]any)["uid"].(string)] = one
				}
				return out
			}
			for uid, doc := range plain(was["exports"]).(map[string]any) {
				same("export of "+uid, doc, get("/recipes/"+uid+"/export"))
			}
			shelf := list("/materials")
			for uid, doc := range plain(was["shelf"]).(map[string]any) {
				same(uid, doc, shelf[uid])
			}
			for kind, path := range map[string]string{
				"references": "/references", "baits": "/baits", "batches": "/batches", "molds": "/molds",
			} {
				now := list(path)
				all := plain(was[kind]).([]any)
				assert.Len(t, now, len(all), kind)
				for _, doc := range all {
					uid := doc.(map[string]any)["uid"].(string)
					same(kind+" "+uid, doc, now[uid])
				}
			}
			for uid, doc := range plain(was["cups"]).(map[string]any) {
				same("cup "+uid, doc, get("/cups/" + uid).(map[string]any)["cup"])
			}
			same("kit", plain(was["kit"]), get("/kit"))

			// It can be worked on: a tap, and a bottle that is refined.
			uid := get("/cups/latest").(map[string]any)["cup"].(string)
			head := get("/cups/" + uid).(map[string]any)["head"]
			w := s.ask(
				"POST", "/api/v1/cups/"+uid+"/steps",
				anything{
					"seen": head, "steps": []any{anything{"kind": "drip", "material": "bottle-green", "drops": 2}},
				},
			)
			require.Equal(t, 200, w.Code, w.Body)
		})
	}
}
