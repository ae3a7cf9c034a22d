package web

import (
	"context"
	"errors"

	"cloudburst/store"
)

// KeptPath names a thing that is kept: what it is, and which.
type KeptPath struct {
	What store.Thing `path:"what" enum:"recipe,reference,batch,bait,cup,project,pour,leftover,log,pack,supply"`
	UID  string      `path:"uid" maxLength:"64" format:"uid"`
}

// keepingRoutes name, put away, delete and bring back what a maker makes.
func (a *api) keepingRoutes() {
	put(a, "keep", "/kept/{what}/{uid}", a.keep)
	put(a, "rename", "/kept/{what}/{uid}/name", a.rename)
	put(a, "setShop", "/shop", a.setShop)
	put(a, "joinReference", "/references/{reference}/with", a.joinReference)
}

type keepIn struct {
	KeptPath
	Body struct {
		Kept store.Kept `json:"kept" enum:"here,away,deleted" doc:"Away: out of its list; deleted: out of sight. Here brings it back from either"`
	}
}

func (a *api) keep(ctx context.Context, in *keepIn) (*struct{}, error) {
	return nil, problem(shopOf(ctx).Keep(ctx, in.What, in.UID, in.Body.Kept), "")
}

type renameIn struct {
	KeptPath
	Body struct {
		Name string `json:"name" maxLength:"1000" doc:"Of a batch: its verdict"`
	}
}

func (a *api) rename(ctx context.Context, in *renameIn) (*struct{}, error) {
	if in.What != store.Baits {
		return nil, problem(shopOf(ctx).Rename(ctx, in.What, in.UID, in.Body.Name), "")
	}
	b, err := shopOf(ctx).Bait(ctx, in.UID, 0)
	if _, done, again := shopOf(ctx).Done(ctx); err != nil || again != nil || done {
		return nil, problem(errors.Join(err, again), "")
	}
	m, err := a.mold(ctx, b.Mold)
	if err != nil {
		return nil, problem(err, "")
	}
	if err := b.Set("name", in.Body.Name, &m.Mold); err != nil {
		return nil, problem(err, "")
	}
	if err := b.Check(&m.Mold); err != nil {
		return nil, problem(err, "")
	}
	_, err = shopOf(ctx).SaveBait(ctx, b)
	return nil, problem(err, staleBait)
}

func (a *api) setShop(ctx context.Context, in *struct {
	Body struct {
		Name     string `json:"name" maxLength:"200"`
		Currency string `json:"currency" maxLength:"40" example:"€"`
	}
},
) (*struct{}, error) {
	return nil, problem(shopOf(ctx).SetAbout(ctx, in.Body.Name, in.Body.Currency), "")
}

type joinReferenceIn struct {
	ReferencePath
	Body struct {
		Seen int    `json:"seen" doc:"The revision that the device last saw"`
		With string `json:"with" maxLength:"64" format:"uid" doc:"uid of the reference that this photo is joined to; empty to take them apart"`
	}
}

func (a *api) joinReference(ctx context.Context, in *joinReferenceIn) (*referenceAnswer, error) {
	return a.reference(ctx, in.UID, shopOf(ctx).JoinPhoto(ctx, in.UID, in.Body.Seen, in.Body.With))
}
