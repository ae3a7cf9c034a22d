// Package demo holds the made-up shop that the program ships with: Skerry Lane Softbaits, two people on a cold
// brackish lagoon who pour for sea trout, zander and perch. Nothing in it is real.
package demo

import (
	"context"
	"fmt"
	"math/rand/v2"

	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
	"cloudburst/core/recipe"
	"cloudburst/core/reference"
	"cloudburst/format"
	"cloudburst/stand/maker"
	"cloudburst/store"
)

// ShopName is the demo shop's name.
const ShopName = "Skerry Lane Softbaits"

// Load fills an empty shop.
func Load(ctx context.Context, sh *store.Shop) error {
	if err := stock(ctx, sh); err != nil {
		return err
	}
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return err
	}
	if err := addHerring(ctx, sh); err != nil {
		return err
	}
	if err := addPerch(ctx, sh, shelf); err != nil {
		return err
	}
	target, err := addReference(ctx, sh)
	if err != nil {
		return err
	}
	for _, s := range recipes {
		r, err := s.recipe()
		if err != nil {
			return err
		}
		if s.uid == "wet-rope" {
			r.Target = target
		}
		doc, err := format.NewDocument(r, shelf)
		if err != nil {
			return fmt.Errorf("demo: %s: %w", s.name, err)
		}
		if _, err := sh.Import(ctx, doc); err != nil {
			return err
		}
	}
	goby, err := openProject(
		ctx, sh, target.Reference, "Goby of the old pier", "Clear water, spring. The tail has to let light through.",
	)
	if err != nil {
		return err
	}
	if err := addBatches(ctx, sh, shelf, goby.UID); err != nil {
		return err
	}
	if err := addMolds(ctx, sh); err != nil {
		return err
	}
	if err := addBaits(ctx, sh); err != nil {
		return err
	}
	if err := equip(ctx, sh); err != nil {
		return err
	}
	if err := addTubs(ctx, sh, shelf); err != nil {
		return err
	}
	if err := addPours(ctx, sh, shelf); err != nil {
		return err
	}
	if err := addDays(ctx, sh, shelf); err != nil {
		return err
	}
	if err := addPacks(ctx, sh); err != nil {
		return err
	}
	saved, err := sh.Recipe(ctx, "wet-rope")
	if err != nil {
		return err
	}
	_, err = sh.NewCup(ctx, cup.Live{Cup: saved.Cup}, &saved)
	return err
}

// addReference keeps a made-up photo of a bait whose recipe nobody in the shop has, pins it, and gives one pin
// as a target.
func addReference(ctx context.Context, sh *store.Shop) (*cup.Target, error) {
	kept, err := readPhotos()
	if err != nil {
		return nil, err
	}
	goby := kept[gobyPhoto]
	info, err := sh.AddPhoto(ctx, goby.Photo)
	if err != nil {
		return nil, err
	}
	ref, err := sh.AddReference(ctx, "Goby from the old pier", info.UID)
	if err != nil {
		return nil, err
	}
	if err := sh.SetLight(ctx, ref.UID, ref.Revision, goby.light, nil); err != nil {
		return nil, err
	}
	var target *cup.Target
	for i, p := range []reference.Pin{
		{Name: "Back", Disc: backAt, ThicknessMM: 8}, {
			Name: "Belly", Disc: bellyAt, ThicknessMM: 8,
		}, {Name: "Tail", Disc: tailAt, ThicknessMM: 1.8},
	} {
		p.Ground, p.Reading = optics.White, goby.read[i]
		if err := sh.AddPins(ctx, ref.UID, p); err != nil {
			return nil, err
		}
		if target == nil {
			target = &cup.Target{
				Name: ref.Name + ": " + p.Name, Lab: p.Reading.Lab, ThicknessMM: p.ThicknessMM, Ground: p.Ground,
				Reference: ref.UID,
			}
		}
	}
	return target, nil
}

func addBatches(ctx context.Context, sh *store.Shop, shelf cup.Shelf, goby string) error {
	bench := maker.New(shelf, maker.Truth{Strength: 0.15, Hue: 0.05, Noise: 0.4}, rand.New(rand.NewPCG(3, 3)))
	for _, b := range []struct {
		recipe, day, volume, verdict string
		rested                       float64
		additions                    [][]cup.Dose
	}{
		{
			"wet-rope", "2026-11-07", "1 cup",
			"Too thin in the tail, and too brown. Next time the green goes in first.", 30,
			[][]cup.Dose{{d("tea-brown", 3), d("drizzle-grey", 2)}},
		},
		{
			"wet-rope", "2026-11-14", "1 cup", "Close. A touch too pale beside the goby's back.", 48,
			[][]cup.Dose{{d("bottle-green", 1), d("tea-brown", 2)}, {d("tea-brown", 1), d("drizzle-grey", 2)}},
		},
		{
			"bog-lantern", "2026-10-18", "1 cup", "Right first time. Glows in the window.", 72,
			[][]cup.Dose{{d("tea-brown", 9), d("ember-orange", 5)}, {d("peat-black", 1)}},
		},
	} {
		v, err := measure.ParseVolume(b.volume)
		if err != nil {
			return err
		}
		batch := recipe.Batch{PouredOn: b.day, Volume: v, Verdict: b.verdict, RestedHours: b.rested}
		for _, g := range b.additions {
			batch.Additions = append(batch.Additions, cup.Addition{Doses: g})
		}
		from := store.Origin{Recipe: b.recipe, Revision: 1}
		if b.recipe == "wet-rope" {
			from.Project, from.Part = goby, "Back"
		}
		saved, err := sh.AddBatch(ctx, from, batch)
		if err != nil {
			return fmt.Errorf("demo: batch of %s: %w", b.recipe, err)
		}
		if err := readBatch(ctx, sh, &saved, bench); err != nil {
			return fmt.Errorf("demo: readings of %s: %w", b.recipe, err)
		}
	}
	return nil
}

// readBatch reads a batch as the stand-in maker does, whose bottles are not quite what their labels say.
func readBatch(ctx context.Context, sh *store.Shop, b *store.SavedBatch, bench *maker.Maker) error {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return err
	}
	made, err := bench.Pour(b.Cup(shelf))
	if err != nil {
		return err
	}
	for _, g := range []recipe.PartReading{
		{Name: "Body", ThicknessMM: 8, Ground: optics.White}, {
			Name: "Body, over dark", ThicknessMM: 8, Ground: optics.Dark,
		}, {Name: "Fin", ThicknessMM: 1.5, Ground: optics.White},
	} {
		g.State, g.How = cup.Rested, recipe.ByInstrument
		g.Lab = bench.Read(bench.See(made, g.At()))
		if _, err := sh.AddReading(ctx, b.UID, g); err != nil {
			return err
		}
	}
	return nil
}
