package web

import (
	"math"

	lru "github.com/hashicorp/golang-lru/v2"

	"cloudburst/core/bait"
	"cloudburst/core/picture"
)

// planCache keeps the plans of the baits that are being looked at.
type planCache struct {
	*lru.Cache[planKey, *picture.BaitPlan]
}

type planKey struct {
	shape string
	view  bait.View
	sized
}

func newPlanCache() *planCache {
	const some = 40 // a few MB each at most
	c, err := lru.New[planKey, *picture.BaitPlan](some)
	if err != nil {
		panic(err) // only a size below one is refused
	}
	return &planCache{c}
}

// get lays a shape out; key tells shapes apart, a mold's by its revision.
func (c *planCache) get(s bait.Shape, key string, view bait.View, size sized) *picture.BaitPlan {
	view = bait.View(math.Round(10*float64(view)) / 10) // nobody turns a bait more exactly, and what isn't a number never is a key
	if math.IsNaN(float64(view)) {
		view = s.Main()
	}
	k := planKey{key, view, size}
	if p, ok := c.Get(k); ok {
		return p
	}
	p := picture.PlanBait(s, view, size.width, size.height)
	c.Add(k, p)
	return p
}
