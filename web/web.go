// Package web serves a shop over HTTP: the API under /api/v1, the built UI for everything else. It asks core
// and store, and computes nothing of the job itself.
package web

import (
	"context"
	"encoding/json"
	"log/slog"
	"net"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/go-chi/httplog/v3"

	"cloudburst/stand/scale"
	"cloudburst/store"
)

// Config is what a server needs.
type Config struct {
	Store *store.Store
	Shop  *store.Shop // the one shop there is until sign-in comes
	Log   *slog.Logger
	Hosts []string // host names, beside localhost and plain addresses, under which it may be reached
}

// New wires the whole server.
func New(cfg Config) http.Handler {
	r := chi.NewRouter()
	r.Use(
		middleware.RequestID,
		httplog.RequestLogger(cfg.Log, &httplog.Options{Level: slog.LevelInfo, Schema: httplog.SchemaECS.Concise(true), RecoverPanics: true}),
		knownHost(cfg.Hosts),
		http.NewCrossOriginProtection().Handler,
		headers,
		middleware.Compress(1, "application/json", "application/problem+json"),
	)
	r.Get("/healthz", health(cfg.Store))
	r.Route("/api/v1", func(r chi.Router) {
		r.Use(middleware.Timeout(30 * time.Second))
		a := newAPI(r, cfg)
		r.NotFound(func(w http.ResponseWriter, req *http.Request) {
			_ = huma.WriteErr(a.huma, humachi.NewContext(&huma.Operation{}, req, w), http.StatusNotFound, "there is nothing at this address")
		})
	})
	r.NotFound(serveUI)
	return r
}

// api answers for one shop.
type api struct {
	huma   huma.API
	shop   *store.Shop
	photos *photoCache
	scale  *scale.Scale
	plans  *planCache
}

func newAPI(r chi.Router, cfg Config) *api {
	h := humachi.New(r, humaConfig())
	a := &api{huma: h, shop: cfg.Shop, photos: newPhotoCache(), scale: scale.New(1), plans: newPlanCache()}
	a.shopRoutes()
	a.shelfRoutes()
	a.benchRoutes()
	a.liveRoutes()
	a.moldRoutes()
	a.baitRoutes()
	a.sheetRoutes()
	a.recipeRoutes()
	a.referenceRoutes()
	a.matchRoutes()
	a.batchRoutes()
	return a
}

func humaConfig() huma.Config {
	c := huma.DefaultConfig("Cloudburst", "1")
	c.Servers = []*huma.Server{{URL: "/api/v1"}}
	c.DocsPath, c.OpenAPIPath, c.SchemasPath = "", "", ""
	c.CreateHooks = nil // no $schema fields in answers
	return c
}

// OpenAPI describes the API, made from the Go types.
func OpenAPI() ([]byte, error) {
	a := newAPI(chi.NewRouter(), Config{})
	return json.MarshalIndent(a.huma.OpenAPI(), "", " ")
}

// knownHost refuses requests for names that are not ours: a foreign page whose name was pointed at this machine
// (DNS rebinding) would otherwise be let in. A plain address cannot be made to do that.
func knownHost(names []string) func(http.Handler) http.Handler {
	return func(next http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			host := r.Host
			if name, _, err := net.SplitHostPort(host); err == nil {
				host = name
			}
			host = strings.ToLower(strings.Trim(host, "[]"))
			if net.ParseIP(host) == nil && host != "localhost" && !slices.Contains(names, host) {
				http.Error(w, "Cloudburst is not known under this name. Add it to CLOUDBURST_HOSTS if it should be.", http.StatusMisdirectedRequest)
				return
			}
			next.ServeHTTP(w, r)
		})
	}
}

func headers(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy", "default-src 'self'; img-src 'self' data: blob:; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'")
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "no-referrer")
		next.ServeHTTP(w, r)
	})
}

func health(st *store.Store) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		ctx, cancel := context.WithTimeout(r.Context(), 2*time.Second)
		defer cancel()
		w.Header().Set("Cache-Control", "no-store")
		if err := st.Ping(ctx); err != nil {
			http.Error(w, "the database does not answer", http.StatusServiceUnavailable)
			return
		}
		_, _ = w.Write([]byte("ok\n"))
	}
}
