package web

import (
	"context"
	"net/http"

	"cloudburst/store"
)

// Shops says whose request it is.
type Shops func(*http.Request) (*store.Shop, error)

// Only is the one shop that there is until sign-in comes.
func Only(shop *store.Shop) Shops {
	return func(*http.Request) (*store.Shop, error) { return shop, nil }
}

type shopKey struct{}

// inShop finds the shop of a request. Handlers get at rows through it alone, so that none sees another shop's.
func inShop(shops Shops) func(http.Handler) http.Handler {
	return func(next http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			shop, err := shops(r)
			if err != nil || shop == nil {
				refuse(w, http.StatusForbidden, "no-shop", "This is nobody's shop here. Sign in first.")
				return
			}
			next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), shopKey{}, shop)))
		})
	}
}

// shopOf is the shop that a request is for.
func shopOf(ctx context.Context) *store.Shop { return ctx.Value(shopKey{}).(*store.Shop) }

// ours makes a key of a cache one of the request's shop.
func ours(ctx context.Context, key string) string { return shopOf(ctx).Key() + " " + key }
