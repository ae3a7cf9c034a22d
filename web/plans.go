package web

import (
	"encoding/json"

	lru "github.com/hashicorp/golang-lru/v2"

	"cloudburst/core/bait"
	"cloudburst/core/picture"
)

// planCache keeps the plans of the baits that are being looked at, and the structures that were laid into them.
type planCache struct {
	plans *lru.Cache[planKey, *picture.BaitPlan]
	lays  *lru.Cache[layKey, *picture.Laid]
}

type planKey struct {
	shape string
	view  bait.View
	wet   bool
	sized
}

type layKey struct {
	plan      *picture.BaitPlan
	structure string
	cavity    int
}

func newPlanCache() *planCache {
	const some = 14 // some 15 MB each at most
	plans, err := lru.New[planKey, *picture.BaitPlan](some)
	if err != nil {
		panic(err) // only a size below one is refused
	}
	lays, err := lru.New[layKey, *picture.Laid](some)
	if err != nil {
		panic(err)
	}
	return &planCache{plans, lays}
}

// get lays a shape out; key tells shapes apart, a mold's by its revision.
func (c *planCache) get(s bait.Shape, key string, view bait.View, size sized, wet bool) *picture.BaitPlan {
	k := planKey{key, view, wet, size}
	if p, ok := c.plans.Get(k); ok {
		return p
	}
	p := picture.PlanBait(s, view, size.width, size.height, wet)
	c.plans.Add(k, p)
	return p
}

// laid lays a bait's structure into its plan.
func (c *planCache) laid(p *picture.BaitPicture) *picture.Laid {
	said, err := json.Marshal([]any{p.Structure, p.Split})
	k := layKey{p.BaitPlan, string(said), p.Cavity}
	if l, ok := c.lays.Get(k); ok && err == nil {
		return l
	}
	l := picture.Lay(p.BaitPlan, &p.Structure, p.Split, p.Cavity)
	c.lays.Add(k, l)
	return l
}
