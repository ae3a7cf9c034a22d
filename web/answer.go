package web

import (
	"bytes"
	"encoding/json"
	"io"
	"log/slog"
	"math"
	"net/http"
	"runtime/debug"
	"strconv"
	"strings"
	"sync"

	"github.com/danielgtaylor/huma/v2"
)

// An answer is written down in full before its status goes out, so that one that can't be written, or a panic on the
// way to it, is told as what it is: never a 200 that ends in the middle.

// lateWriter keeps the status back until the first byte of the body.
type lateWriter struct {
	http.ResponseWriter
	status int
	sent   bool
}

func (w *lateWriter) WriteHeader(status int) {
	if status < 200 { // such as 103: not the answer itself
		w.ResponseWriter.WriteHeader(status)
		return
	}
	w.status = status
}

func (w *lateWriter) send() {
	if !w.sent {
		w.sent = true
		if w.status != 0 {
			w.ResponseWriter.WriteHeader(w.status)
		}
	}
}

func (w *lateWriter) Write(b []byte) (int, error) {
	w.send()
	return w.ResponseWriter.Write(b)
}

// Flush sends what is there, for answers that come in lines.
func (w *lateWriter) Flush() {
	w.send()
	_ = http.NewResponseController(w.ResponseWriter).Flush() // one that can't flush sends it in the end
}

// Unwrap is for http.ResponseController.
func (w *lateWriter) Unwrap() http.ResponseWriter { return w.ResponseWriter }

// fail answers with a problem of ours, if nothing went out yet.
func (w *lateWriter) fail() {
	if w.sent {
		return
	}
	h := w.Header()
	for _, name := range []string{"Content-Length", "Content-Disposition", "Content-Encoding", "Cache-Control"} {
		h.Del(name)
	}
	h.Set("Content-Type", "application/problem+json")
	w.status = http.StatusInternalServerError
	body, _ := json.Marshal(huma.ErrorModel{Status: w.status, Title: http.StatusText(w.status), Detail: wentWrong})
	_, _ = w.Write(body)
}

// late is the innermost middleware of the API.
func late(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		l := &lateWriter{ResponseWriter: w}
		defer func() {
			if v := recover(); v != nil {
				if v == http.ErrAbortHandler {
					panic(v)
				}
				slog.Error("panic", "at", r.Method+" "+r.URL.Path, "panic", v, "stack", string(debug.Stack()))
				l.fail()
			}
			l.send()
		}()
		next.ServeHTTP(l, r)
	})
}

var buffers = sync.Pool{New: func() any { return new(bytes.Buffer) }}

// jsonFormat writes an answer in full, or says that it can't be written.
var jsonFormat = huma.Format{
	Marshal: func(w io.Writer, v any) error {
		b := buffers.Get().(*bytes.Buffer)
		defer func() {
			if b.Cap() <= 1<<20 {
				b.Reset()
				buffers.Put(b)
			}
		}()
		enc := json.NewEncoder(b)
		enc.SetEscapeHTML(false)
		if err := enc.Encode(v); err != nil {
			if l, ok := w.(*lateWriter); ok {
				slog.Error("an answer can't be written", "err", err)
				l.fail()
				return nil
			}
			return err
		}
		_, err := w.Write(b.Bytes())
		return err
	},
	Unmarshal: json.Unmarshal,
}

// finite refuses figures in an address that are not a number or without end, wherever a figure belongs. JSON has none.
func finite(api huma.API) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		u := ctx.URL()
		if u.RawQuery == "" {
			next(ctx)
			return
		}
		query := u.Query()
		for _, p := range ctx.Operation().Parameters {
			s := p.Schema
			if p.In != "query" || s == nil {
				continue
			}
			if s.Items != nil {
				s = s.Items
			}
			if s.Type != huma.TypeNumber {
				continue
			}
			for _, typed := range query[p.Name] {
				for _, one := range strings.Split(typed, ",") {
					if v, err := strconv.ParseFloat(one, 64); math.IsNaN(v) || math.IsInf(v, 0) {
						_ = err // out of range comes back as infinite, too
						_ = huma.WriteErr(api, ctx, http.StatusUnprocessableEntity, "validation failed",
							&huma.ErrorDetail{Location: "query." + p.Name, Message: "a number belongs here, such as 4 or 0.5"})
						return
					}
				}
			}
		}
		next(ctx)
	}
}
