package demo

import (
	"context"
	"fmt"
	"time"

	"cloudburst/core/material"
	"cloudburst/core/pour"
	"cloudburst/store"
)

// equip puts the shop's bench together: one microwave that was tried, two single injectors and a dual one, a vacuum
// pot, a plate for four molds.
func equip(ctx context.Context, sh *store.Shop) error {
	e := pour.Usual()
	e.Heaters[0].Name, e.Heaters[0].Efficiency, e.Heaters[0].CoolPerS = "The white one", 0.49, 0.00083
	e.Heaters[0].Found = "237 ml for 95 s: 262 °F (128 °C), then 240 °F (116 °C)"
	e.Injectors = []pour.Injector{
		{Name: "Twin, 4 oz", ML: 118, Barrels: 2, Count: 1, PlugML: 7, PurgeML: 2},
		{Name: "Single, 6 oz", ML: 175, Barrels: 1, Count: 2, PlugML: 6, PurgeML: 2},
	}
	e.Vacuum, e.PlatePlaces, e.Hands = true, 4, 2
	return sh.SetEquipment(ctx, e, 1)
}

// addPours are a plan, and a run that is over.
func addPours(ctx context.Context, sh *store.Shop, shelf map[string]material.Material) error {
	baits, err := sh.Baits(ctx, store.Page{Most: 10})
	if err != nil {
		return err
	}
	orderOf := func(name string, count, copies int) (pour.Order, error) {
		for _, b := range baits.Items {
			if b.Name != name {
				continue
			}
			o := pour.Order{
				Name: name, Bait: b.UID, Structure: b.Structure, Degas: pour.NoDegas, SparePercent: 5,
				Molds: []pour.Asked{{Mold: b.Mold, Count: count, Copies: copies}},
			}
			for _, c := range b.Cups {
				is, err := sh.Cup(ctx, c.Cup)
				if err != nil {
					return o, err
				}
				r, err := sh.RecipeAt(ctx, is.RecipeUID, is.RecipeRevision)
				if err != nil {
					return o, err
				}
				o.Cups = append(
					o.Cups,
					pour.Poured{
						Name: r.Name, Cup: is.Cup.Cup.Filled(), PourC: c.PourC, From: c.Cup, Recipe: r.UID,
						Revision: r.Revision,
					},
				)
			}
			return o, nil
		}
		return pour.Order{}, fmt.Errorf("demo: no bait %s", name)
	}
	weed, err := orderOf("Weed that turns", 24, 2)
	if err != nil {
		return err
	}
	weed.PackOf = 6
	if err := pourAll(ctx, sh, shelf, weed, time.Date(2026, 11, 5, 9, 30, 0, 0, time.UTC)); err != nil {
		return err
	}
	herring, err := orderOf("Harbour herring", 40, 2)
	if err != nil {
		return err
	}
	herring.PackOf = 4
	_, err = sh.AddPour(ctx, herring)
	return err
}

// pourAll pours an order as it is planned, and writes down what came of it.
func pourAll(
	ctx context.Context, sh *store.Shop, shelf map[string]material.Material, o pour.Order, at time.Time,
) error {
	saved, err := sh.AddPour(ctx, o)
	if err != nil {
		return err
	}
	e, _, err := sh.Equipment(ctx)
	if err != nil {
		return err
	}
	kit, _, err := sh.Kit(ctx)
	if err != nil {
		return err
	}
	b := &pour.Bench{Equipment: e, Kit: kit, Shelf: shelf, Molds: pour.Molds{}, Stock: map[string]material.Stock{}}
	for _, m := range o.Molds {
		is, err := sh.Mold(ctx, m.Mold)
		if err != nil {
			return err
		}
		b.Molds[m.Mold] = &is.Mold
	}
	p, err := o.Figure(b)
	if err != nil {
		return err
	}
	if p.Timeline == nil {
		return fmt.Errorf("demo: %s can't be poured: %v", o.Name, p.Impossible)
	}
	r := pour.Run{Order: o, Planned: *p, StartedMS: at.UnixMilli(), Shrink: e.Shrink}
	if err := sh.StartRun(ctx, saved.UID, saved.Revision, r); err != nil {
		return err
	}
	for _, s := range p.Timeline.Steps {
		done := at.Add(time.Duration(float64(s.Start+s.Ticks) * pour.TickS * float64(time.Second)))
		if err := sh.Happen(
			ctx, saved.UID, pour.Event{Kind: pour.Done, Step: s.Key, BurstS: s.BurstS, AtMS: done.UnixMilli()},
		); err != nil {
			return fmt.Errorf("demo: %s: %s: %w", o.Name, s.Key, err)
		}
	}
	end := at.Add(time.Duration(float64(p.Timeline.Ticks) * pour.TickS * float64(time.Second)))
	return sh.EndRun(ctx, saved.UID, pour.Outcome{
		Good: 23, Spoiled: []pour.Spoiled{{Why: "Bubbles", Count: 2}}, LeftML: []float64{6},
		Note: "The last load came out a touch cool; the tails are fine.", AtMS: end.UnixMilli(),
	}, []float64{14})
}
