// Package web serves a shop over HTTP: the API under /api/v1, the built UI for everything else. It asks core
// and store, and computes nothing of the job itself.
package web

import (
	"context"
	"encoding/json"
	"log/slog"
	"net/http"
	"reflect"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/go-chi/httplog/v3"
	lru "github.com/hashicorp/golang-lru/v2"

	"cloudburst/core/photo"
	"cloudburst/store"
)

// Config is what a server needs.
type Config struct {
	Store *store.Store
	Shops Shops
	Log   *slog.Logger
	Hosts []string // host names, beside localhost and plain addresses, under which it may be reached
	Tools Tools
}

// Tools are the devices that are connected, and what comes with them. Stand-ins are chosen by the caller, for the demo
// shop and in tests; a real shop never meets one.
type Tools struct {
	Scale       Scale        // nil where none is connected
	Thermometer Thermometer  // nil where none is connected
	Card        *photo.Chart // the card whose values are known without a file; nil for none
}

// Thermometer reads how warm a cup is. told is what was done to it so far: a real one need not be told.
type Thermometer interface {
	Read(cup string, told Told) (celsius float64)
	About() string // said wherever a reading is shown
}

// Told is what a stand-in for a thermometer is told of a cup.
type Told struct {
	ML, GML, RoomC float64
	Bursts         []ToldBurst
	NowS           float64
}

// ToldBurst is a burst that a cup had: how much power, how long, and when it began.
type ToldBurst struct{ PowerW, Seconds, AtS float64 }

// Scale weighs a bottle.
type Scale interface {
	Weigh(bottle string) (grams float64)
	About() string // said wherever a reading is shown
}

// How long an answer may take: any, one that comes in lines, and one whose file has far to come.
const (
	longestAnswer = 30 * time.Second
	longestSearch = 4 * time.Minute
)

// New wires the whole server.
func New(cfg Config) http.Handler {
	r := chi.NewRouter()
	r.Use(
		middleware.RequestID,
		httplog.RequestLogger(
			cfg.Log, &httplog.Options{
				Level: slog.LevelInfo, Schema: httplog.SchemaECS.Concise(true), RecoverPanics: true,
			},
		),
		knownHost(cfg.Hosts),
		http.NewCrossOriginProtection().Handler,
		headers,
		middleware.Compress(1, "application/json", "application/problem+json"),
	)
	r.Get("/healthz", health(cfg.Store))
	r.Route("/api/v1", func(r chi.Router) {
		r.Use(ownPages, byClient, late, inShop(cfg.Shops))
		a := newAPI(r, cfg)
		r.NotFound(func(w http.ResponseWriter, req *http.Request) {
			_ = huma.WriteErr(
				a.huma, humachi.NewContext(&huma.Operation{}, req, w), http.StatusNotFound,
				"There is nothing at this address.",
			)
		})
		r.MethodNotAllowed(func(w http.ResponseWriter, req *http.Request) {
			_ = huma.WriteErr(
				a.huma, humachi.NewContext(&huma.Operation{}, req, w), http.StatusMethodNotAllowed,
				"This can't be done at this address.",
			)
		})
	})
	r.NotFound(serveUI)
	return r
}

// api answers for the shop that a request is for.
type api struct {
	huma     huma.API
	photos   *photoCache
	tooled   Tools
	plans    *planCache
	hands    *hands
	cards    *lru.Cache[string, BaitImage]
	pictures *lru.Cache[string, []byte]
	budget   *budget
}

func newAPI(r chi.Router, cfg Config) *api {
	h := humachi.New(r, humaConfig())
	h.UseMiddleware(timed, finite(h), once(h))
	a := &api{
		huma: h, photos: newPhotoCache(), tooled: cfg.Tools, plans: newPlanCache(), hands: newHands(),
		cards: newCache[BaitImage](somePictures), pictures: newCache[[]byte](somePictures), budget: newBudget(),
	}
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
	a.projectRoutes()
	a.equipmentRoutes()
	a.pourRoutes()
	a.runRoutes()
	a.leftoverRoutes()
	a.logRoutes()
	a.packRoutes()
	for _, s := range h.OpenAPI().Components.Schemas.Map() {
		for _, p := range s.Properties {
			uidSchema(p)
		}
	}
	return a
}

// timed ends an answer that takes longer than anyone waits for; a search that tells how far it is may take longer.
func timed(ctx huma.Context, next func(huma.Context)) {
	longest, ok := ctx.Operation().Metadata["longest"].(time.Duration)
	if !ok {
		longest = longestAnswer
	}
	// The server's own deadline is for answers that come at once.
	_, w := humachi.Unwrap(ctx)
	_ = http.NewResponseController(w).SetWriteDeadline(time.Now().Add(longest + longestAnswer))
	c, cancel := context.WithTimeout(ctx.Context(), longest)
	defer cancel()
	next(huma.WithContext(ctx, c))
}

func humaConfig() huma.Config {
	c := huma.DefaultConfig("Cloudburst", "1")
	c.Servers = []*huma.Server{{URL: "/api/v1"}}
	c.DocsPath, c.OpenAPIPath, c.SchemasPath = "", "", ""
	c.CreateHooks = nil // no $schema fields in answers
	c.Components.Schemas = huma.NewMapRegistry("#/components/schemas/", schemaName)
	c.Formats = map[string]huma.Format{"application/json": jsonFormat, "json": jsonFormat}
	c.OnAddOperation = append(c.OnAddOperation, describe)
	return c
}

// schemaName names a type in the description of the API. A run has steps, heats and outcomes of its own, as a cup and a
// batch have.
func schemaName(t reflect.Type, hint string) string {
	name := huma.DefaultSchemaNamer(t, hint)
	for t.Kind() == reflect.Pointer || t.Kind() == reflect.Slice {
		t = t.Elem()
	}
	if strings.HasSuffix(t.PkgPath(), "core/pour") {
		return "Pour" + name
	}
	return name
}

// OpenAPI describes the API, made from the Go types.
func OpenAPI() ([]byte, error) {
	a := newAPI(chi.NewRouter(), Config{})
	return json.MarshalIndent(a.huma.OpenAPI(), "", " ")
}

func health(st *store.Store) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		ctx, cancel := context.WithTimeout(r.Context(), 2*time.Second)
		defer cancel()
		w.Header().Set("Cache-Control", "no-store")
		if err := st.Ping(ctx); err != nil {
			refuse(w, http.StatusServiceUnavailable, "no-database", noAnswer)
			return
		}
		_, _ = w.Write([]byte("ok\n"))
	}
}

// get, post, put, patch and remove add an operation under a name of its own.
func get[I, O any](a *api, name, path string, do func(context.Context, *I) (*O, error), also ...func(*huma.Operation)) {
	operation(a, http.MethodGet, name, path, do, also)
}

func post[I, O any](
	a *api, name, path string, do func(context.Context, *I) (*O, error), also ...func(*huma.Operation),
) {
	operation(a, http.MethodPost, name, path, do, also)
}

func put[I, O any](a *api, name, path string, do func(context.Context, *I) (*O, error), also ...func(*huma.Operation)) {
	operation(a, http.MethodPut, name, path, do, also)
}

func patch[I, O any](
	a *api, name, path string, do func(context.Context, *I) (*O, error), also ...func(*huma.Operation),
) {
	operation(a, http.MethodPatch, name, path, do, also)
}

func remove[I, O any](
	a *api, name, path string, do func(context.Context, *I) (*O, error), also ...func(*huma.Operation),
) {
	operation(a, http.MethodDelete, name, path, do, also)
}

// file adds one that answers with a file of a kind.
func file[I, O any](a *api, name, path, kind, summary string, do func(context.Context, *I) (*O, error)) {
	get(a, name, path, do, func(o *huma.Operation) {
		o.Summary = summary
		o.Responses = map[string]*huma.Response{"200": {Content: map[string]*huma.MediaType{kind: {}}}}
	})
}

func operation[I, O any](
	a *api, method, name, path string, do func(context.Context, *I) (*O, error), also []func(*huma.Operation),
) {
	o := huma.Operation{OperationID: name, Method: method, Path: path}
	for _, f := range also {
		f(&o)
	}
	huma.Register(a.huma, o, do)
}
