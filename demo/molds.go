package demo

import (
	"context"
	"fmt"

	"cloudburst/core/bait"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/store"
)

// addMolds puts the shop's molds on their shelf.
func addMolds(ctx context.Context, sh *store.Shop) error {
	lagoon := bait.NewMold("Lagoon shad, four", "paddle-minnow")
	lagoon.Cavities, lagoon.SprueML, lagoon.PlugML, lagoon.GateMM = 4, 7, 9, 3.5
	lagoon.Slots = []bait.Slot{{FromMM: 22, ToMM: 50, DeepMM: 8, WideMM: 1.6}}
	lagoon.Split = bait.TypicalSplit(false, 4)
	worm := bait.NewMold("Reed stick, hand pour", "stick")
	worm.Cavities, worm.Material, worm.Poured, worm.Lies, worm.GateMM = 6, bait.Silicone, true, bait.BellyDown, 0
	worm.Split = bait.TypicalSplit(true, 6)
	worm.LengthMM, worm.HeightMM, worm.WidthMM = 127, 13, 11
	perch := bait.NewMold("Perch fin, eight", "drop-shot-minnow")
	perch.Cavities, perch.SprueML, perch.PlugML, perch.GateMM = 8, 5, 9, 1.6
	perch.Split = bait.TypicalSplit(false, 8)
	perch.BaitML, perch.BaitHow = 4.6/1.03, "weighed: 4.6 g at 1.03 g/ml"
	zander := bait.NewMold("Deep-water eel, cored", "finesse-worm")
	zander.Cavities, zander.SprueML, zander.PlugML, zander.RodMM = 2, 4, 9, 3
	zander.LengthMM, zander.HeightMM, zander.WidthMM = 150, 10, 9.5
	chip := bait.NewMold("Our step chip", bait.Chip)
	chip.StepsMM, chip.Material, chip.Poured, chip.Lies, chip.GateMM = []float64{1, 2, 3, 5, 8, 12}, bait.Composite, true, bait.BackDown, 0
	chip.Split = bait.TypicalSplit(true, 1)
	for _, m := range []struct {
		uid string
		bait.Mold
	}{{"lagoon-shad", lagoon}, {"reed-stick", worm}, {"perch-fin", perch}, {"deep-eel", zander}, {"our-chip", chip}} {
		if _, err := sh.AddMold(ctx, m.uid, m.Mold); err != nil {
			return fmt.Errorf("demo: %s: %w", m.Name, err)
		}
	}
	return nil
}

// addBaits pours some cups and puts them into baits.
func addBaits(ctx context.Context, sh *store.Shop) error {
	cups := map[string]string{}
	// A cup that was never saved: a dye for a throat, which runs into the belly that it is shot against.
	throat := cup.Cup{
		Volume: measure.Volume{ML: 100, Typed: "100 ml"}, Plastisol: "skerry-medium",
		Doses: []cup.Dose{d("sundew-dye", 6)},
	}
	c, err := sh.NewCup(ctx, cup.Live{Cup: throat, Part: "throat"}, nil)
	if err != nil {
		return err
	}
	cups["throat"] = c.UID
	for _, uid := range []string{"gull-belly", "wave-back", "peat-spot", "two-faced-weed"} {
		r, err := sh.Recipe(ctx, uid)
		if err != nil {
			return fmt.Errorf("demo: %s: %w", uid, err)
		}
		c, err := sh.NewCup(ctx, cup.Live{Cup: r.Cup}, &r)
		if err != nil {
			return err
		}
		cups[uid] = c.UID
	}
	for _, b := range []struct {
		name, mold string
		cups       []string
		changes    [][2]string
	}{
		{
			"Red throat, till Sunday", "lagoon-shad",
			[]string{"throat", "gull-belly"},
			[][2]string{{"way", "laminate"}, {"layers.0.top", "34 %"}},
		},
		{"Weed that turns", "lagoon-shad", []string{"two-faced-weed"}, nil},
		{
			"Layers for the narrows", "reed-stick",
			[]string{"gull-belly", "two-faced-weed", "wave-back"},
			[][2]string{{"way", "pour"}, {"layers.0.top", "45 %"}, {"layers.1.top", "55 %"}},
		},
		{"Harbour herring", "lagoon-shad", []string{"gull-belly", "wave-back", "peat-spot"}, [][2]string{
			{"way", "laminate"},
			{"layers.0.top", "58 %"},
			{"way", "spots"},
			{"spots.0.place", "22 3"},
			{"spots.1.place", "34 3"},
			{"spots.2.place", "46 2.5"},
			{"hook.grams", "5 g"},
		}},
	} {
		m, err := sh.Mold(ctx, b.mold)
		if err != nil {
			return err
		}
		d := bait.NewDesign(b.name, b.mold, cups[b.cups[0]])
		for _, uid := range b.cups[1:] {
			d.Cups = append(d.Cups, bait.Poured{Cup: cups[uid], PourC: bait.UsualPourC})
		}
		for _, c := range b.changes {
			if err := d.Set(c[0], c[1], &m.Mold); err != nil {
				return fmt.Errorf("demo: %s: %s: %w", b.name, c[0], err)
			}
		}
		if err := d.Check(&m.Mold); err != nil {
			return fmt.Errorf("demo: %s: %w", b.name, err)
		}
		if _, err := sh.AddBait(ctx, d); err != nil {
			return err
		}
	}
	return nil
}
