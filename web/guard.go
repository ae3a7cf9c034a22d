package web

import (
	"net"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"cloudburst/core/material"
	"cloudburst/store"
)

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
				refuse(
					w, http.StatusMisdirectedRequest, "foreign-name",
					"Cloudburst is not known under this name. Add it to CLOUDBURST_HOSTS if it should be.",
				)
				return
			}
			next.ServeHTTP(w, r)
		})
	}
}

func headers(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set(
			"Content-Security-Policy",
			"default-src 'self'; img-src 'self' data: blob:; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'",
		)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "no-referrer")
		h.Set("Cross-Origin-Resource-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		next.ServeHTTP(w, r)
	})
}

// ownPages lets only this shop's own pages ask the API, also for what changes nothing: an answer is dear, and private.
func ownPages(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Cache-Control", "no-store")
		switch r.Header.Get("Sec-Fetch-Site") {
		case "", "same-origin", "none": // no browser, this page, or typed in by hand
			next.ServeHTTP(w, r)
		default:
			refuse(w, http.StatusForbidden, "foreign-page", "Only Cloudburst's own pages are answered here.")
		}
	})
}

// uidFormat marks, in a struct's tags, what names a row. What such a name may look like is said here alone; it may be
// empty where it may be left out.
const uidFormat = "uid"

func uidSchema(s *huma.Schema) {
	if s == nil {
		return
	}
	if s.Items != nil {
		uidSchema(s.Items)
	}
	if s.Format == uidFormat && s.Pattern == "" {
		s.Pattern, s.PatternDescription = material.UIDPattern(true), "the name of a thing that is here"
		s.PrecomputeMessages()
	}
}

// keyHeader carries the key under which a device sends one action.
const keyHeader = "Idempotency-Key"

// deviceHeader carries the name that a device made for itself, kept with everything that it does.
const deviceHeader = "Device"

// named says whether a device may have made up such a name.
func named(s string, least int) bool {
	return len(s) >= least && len(s) <= 64 && !strings.ContainsFunc(s, func(r rune) bool {
		return (r < 'a' || r > 'z') && (r < 'A' || r > 'Z') && (r < '0' || r > '9') && r != '-'
	})
}

// asks marks an operation that changes nothing although it is a POST.
func asks(o *huma.Operation) {
	if o.Metadata == nil {
		o.Metadata = map[string]any{}
	}
	o.Metadata["asks"] = true
}

func changes(o *huma.Operation) bool {
	return o.Method != http.MethodGet && o.Method != http.MethodHead && o.Metadata["asks"] == nil
}

// smallBody is the most that is read where an operation does not say otherwise.
const smallBody = 64 << 10

// describe gives every operation what all have: a limit of its own, and the key of an action.
func describe(_ *huma.OpenAPI, o *huma.Operation) {
	const byDefault = 1 << 20 // huma's
	if o.MaxBodyBytes == byDefault {
		o.MaxBodyBytes = smallBody
	}
	o.BodyReadTimeout = 20 * time.Second // a phone in the far corner of the shop
	for _, p := range o.Parameters {
		uidSchema(p.Schema)
	}
	if changes(o) {
		least, most := 8, 64
		o.Parameters = append(o.Parameters, &huma.Param{
			Name: keyHeader, In: "header", Required: true,
			Description: "Made by the device for one action. Sent again, after an answer that was lost, the action counts once.",
			Schema: &huma.Schema{
				Type: huma.TypeString, MinLength: &least, MaxLength: &most, Pattern: "^[A-Za-z0-9-]*$",
			},
		}, &huma.Param{
			Name: deviceHeader, In: "header",
			Description: "The name that the device made for itself, kept with what it does.",
			Schema:      &huma.Schema{Type: huma.TypeString, MaxLength: &most, Pattern: "^[A-Za-z0-9-]*$"},
		})
	}
}

// once makes every operation that changes something one action, under the key that the device sent with it.
func once(api huma.API) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		o := ctx.Operation()
		if !changes(o) {
			next(ctx)
			return
		}
		key := ctx.Header(keyHeader)
		if !named(key, 8) {
			_ = huma.WriteErr(api, ctx, http.StatusBadRequest, "Send a key of your own making with every action, 8 to 64 letters and figures, so that one that is sent twice counts once.",
				&huma.ErrorDetail{Location: "header." + keyHeader, Message: "this is missing"})
			return
		}
		u := ctx.URL()
		what := o.Method + " " + u.EscapedPath()
		device := ctx.Header(deviceHeader)
		if !named(device, 0) {
			device = ""
		}
		next(huma.WithContext(ctx, store.Once(ctx.Context(), key, what[:min(len(what), 200)], device)))
	}
}
