package web_test

import (
	"encoding/json"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/store"
	"cloudburst/web"
)

// What is one shop's is nothing that another can get at, even where it was shown to its owner just before and is still
// at hand.
func TestAnotherShopSeesNothing(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	other, err := s.store.NewShop(t.Context(), "Other", false)
	require.NoError(t, err)
	asOther := false
	s.Handler = web.New(web.Config{
		Store: s.store, Log: slog.New(slog.DiscardHandler),
		Shops: func(*http.Request) (*store.Shop, error) {
			if asOther {
				return other, nil
			}
			return s.shop, nil
		},
	})
	raw, err := web.OpenAPI()
	require.NoError(t, err)
	var doc struct {
		Paths map[string]map[string]json.RawMessage
	}
	require.NoError(t, json.Unmarshal(raw, &doc))
	var shown []string
	for path, methods := range doc.Paths {
		if _, read := methods["get"]; !read || strings.Count(path, "{") != 1 {
			continue
		}
		before, after, _ := strings.Cut(path, "/{")
		_, after, _ = strings.Cut(after, "}")
		uid := s.first(before)
		if uid == "" {
			continue
		}
		asked := "/api/v1" + before + "/" + uid + after + "?view=0.9,0.3,0.1,0"
		asOther = false
		if s.ask("GET", asked, nil).Code != http.StatusOK {
			continue // it wants to be asked more exactly
		}
		shown = append(shown, path)
		asOther = true
		assert.Contains(
			t, []int{http.StatusNotFound, http.StatusUnprocessableEntity}, s.ask("GET", asked, nil).Code, asked,
		)
		asOther = false
	}
	t.Logf("%d pages of one shop", len(shown))
	assert.Greater(t, len(shown), 20)
	assert.Subset(
		t, shown, []string{
			"/photos/{photo}", "/baits/{bait}/turn", "/cups/{cup}/turn",
		}, "those are kept at hand for a while",
	)
	asOther = true
	for path := range kindOfList {
		assert.Empty(t, s.first(path), "an empty shop has something at %s", path)
	}
}

// first is a uid of a list; of the photos, that of a reference's.
func (s *server) first(of string) string {
	named := `"uid":"([^"]+)"`
	if of == "/photos" {
		of, named = "/references", `"photo":\{[^{}]*"uid":"([^"]+)"`
	}
	if _, has := kindOfList[of]; !has {
		return ""
	}
	w := s.ask("GET", "/api/v1"+of, nil)
	require.Equal(s.t, http.StatusOK, w.Code, of)
	uid := regexp.MustCompile(named).FindStringSubmatch(w.Body.String())
	if uid == nil {
		return ""
	}
	return uid[1]
}

// Who is nobody's is told so in words, and gets no further.
func TestARequestOfNobody(t *testing.T) {
	t.Parallel()
	s := serve(t, false)
	h := web.New(web.Config{
		Store: s.store, Log: slog.New(slog.DiscardHandler),
		Shops: func(*http.Request) (*store.Shop, error) { return nil, store.ErrNotFound },
	})
	r := httptest.NewRequestWithContext(t.Context(), "GET", "/api/v1/cups", nil)
	r.Host = "127.0.0.1:8080"
	w := httptest.NewRecorder()
	h.ServeHTTP(w, r)
	assert.Equal(t, http.StatusForbidden, w.Code)
	assert.Contains(t, w.Body.String(), "Sign in first")
}
