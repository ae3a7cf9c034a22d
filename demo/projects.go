package demo

import (
	"context"
	"fmt"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/match"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/photo"
	"cloudburst/core/project"
	"cloudburst/core/recipe"
	"cloudburst/core/reference"
	"cloudburst/store"
)

// The herring that was poured after until it was there: what it was made of, and what the shop tried. Its photos are
// the camera stand-in's.
var (
	herringBack  = []cup.Dose{d("sound-blue", 3), d("drizzle-grey", 8), d("tea-brown", 1)}
	herringBelly = []cup.Dose{d("chalk-white", 6), d("drizzle-grey", 2), d("broom-yellow", 1)}
	herringTries = []herringTry{
		{
			day: "2026-10-03", back: []cup.Dose{
				d("sound-blue", 2), d("drizzle-grey", 8), d("heather-violet", 1),
			}, belly: []cup.Dose{d("chalk-white", 8), d("drizzle-grey", 1)},
			says: [2]string{
				"Violet, as if it were bruised. Heather out.", "Too white, and cold.",
			}, defects: []recipe.Defect{recipe.Bubbles}, heatC: 172,
		},
		{
			day: "2026-10-10", back: []cup.Dose{d("sound-blue", 3), d("drizzle-grey", 10)}, belly: []cup.Dose{
				d("chalk-white", 6), d("drizzle-grey", 2), d("broom-yellow", 1),
			},
			says: [2]string{"Nearly. The net's ones are a little dirtier.", "That is the belly."}, heatC: 176,
		},
		{
			day: "2026-10-17", back: []cup.Dose{d("sound-blue", 3), d("drizzle-grey", 8), d("tea-brown", 1)},
			says: [2]string{"Beside the net's nobody at the kitchen table could tell.", ""}, heatC: 177,
		},
	}
)

type herringTry struct {
	day         string
	back, belly []cup.Dose
	says        [2]string
	defects     []recipe.Defect
	heatC       float64
}

// half is the usual test cup.
var half = measure.Volume{Typed: "1/2 cup", ML: measure.CupML / 2}

func test(doses []cup.Dose) cup.Cup {
	return cup.Cup{Volume: half, Plastisol: "skerry-medium", Doses: doses}
}

// addHerring is the finished project.
func addHerring(ctx context.Context, sh *store.Shop) error {
	shots, err := readPhotos()
	if err != nil {
		return err
	}
	var infos []store.PhotoInfo
	for _, s := range shots {
		info, err := sh.AddPhoto(ctx, s.Photo)
		if err != nil {
			return err
		}
		infos = append(infos, info)
	}
	read, light := shots[0].read, shots[0].light
	ref, err := sh.AddReference(ctx, "Herring from the net", infos[0].UID)
	if err != nil {
		return err
	}
	if err := sh.SetLight(ctx, ref.UID, ref.Revision, light, nil); err != nil {
		return err
	}
	pins := []reference.Pin{
		{Name: "Back", Disc: backAt, ThicknessMM: 8, Ground: optics.White, Reading: read[0], Sample: 1},
		{Name: "Belly", Disc: bellyAt, ThicknessMM: 8, Ground: optics.White, Reading: read[1], Sample: 1},
	}
	// Three more from the same net, by an instrument.
	for i, off := range []colour.Lab{
		{L: 2.6, A: 0.7, B: -0.6}, {L: -1.7, A: 0.9, B: 1.4}, {L: -0.9, A: -1.6, B: -0.8},
	} {
		for k, name := range []string{"Back", "Belly"} {
			l := read[k].Lab
			l = colour.Lab{L: l.L + off.L, A: l.A + off.A, B: l.B + off.B}
			pins = append(
				pins,
				reference.Pin{
					Name: name, ThicknessMM: 8, Ground: optics.White, Sample: 2 + i,
					Reading: photo.Reading{Lab: l, Error: 0.7, From: photo.Typed},
				},
			)
		}
	}
	if err := sh.AddPins(ctx, ref.UID, pins...); err != nil {
		return err
	}
	p, err := openProject(
		ctx, sh, ref.UID, "Herring back and belly", "For the laminate. The line is what four from one net differ by.",
	)
	if err != nil {
		return err
	}
	for i, t := range herringTries {
		for k, doses := range [][]cup.Dose{t.back, t.belly} {
			if doses == nil {
				continue
			}
			name := []string{"Back", "Belly"}[k]
			b := recipe.Batch{
				PouredOn: t.day, Volume: half, Plastisol: "skerry-medium", Additions: []cup.Addition{{Doses: doses}},
				Verdict: t.says[k], RestedHours: 30, Photo: infos[1+i].UID,
				Outcome: recipe.Outcome{
					HeatsC: []float64{t.heatC}, PouredML: 55, LeftML: 60, Defects: t.defects, Droop: "right",
					Float: "sinks",
					Fate:  "keep",
				},
			}
			saved, err := sh.AddBatch(ctx, store.Origin{Project: p.UID, Part: name}, b)
			if err != nil {
				return err
			}
			r := recipe.PartReading{
				Name: name, Lab: shots[1+i].read[k].Lab, ThicknessMM: 8, Ground: optics.White, State: cup.Rested,
				How: recipe.ByPhoto,
			}
			if _, err := sh.AddReading(ctx, saved.UID, r); err != nil {
				return err
			}
		}
	}
	return nil
}

// addPerch is the project that was just opened: its colours were told by an instrument, and one cup was poured that
// nobody read yet.
func addPerch(ctx context.Context, sh *store.Shop, shelf cup.Shelf) error {
	flank, err := mix.Stir(
		&cup.Cup{
			Volume: half, Plastisol: "skerry-medium",
			Doses: []cup.Dose{d("broom-yellow", 6), d("bottle-green", 1), d("mud-brown", 2)},
		},
		shelf,
	)
	if err != nil {
		return err
	}
	var pins []reference.Pin
	for _, at := range []struct {
		name string
		mm   float64
	}{{"Flank", 8}, {"Flank", 2}} {
		lab := flank.Colour(mix.Condition{
			ThicknessMM: at.mm, Ground: optics.White, Light: colour.D65, State: cup.Rested,
		})
		pins = append(
			pins,
			reference.Pin{
				Name: at.name, ThicknessMM: at.mm, Ground: optics.White,
				Reading: photo.Reading{Lab: lab, Error: 0.7, From: photo.Typed},
			},
		)
	}
	ref, err := sh.AddReference(ctx, "Perch of the reed edge", "", pins...)
	if err != nil {
		return err
	}
	p, err := openProject(ctx, sh, ref.UID, "Perch flank", "Olive where it is thick, straw in the fin.")
	if err != nil {
		return err
	}
	_, err = sh.AddBatch(ctx, store.Origin{Project: p.UID, Part: "Flank"}, recipe.Batch{
		PouredOn: "2026-11-12", Volume: half, Plastisol: "skerry-medium",
		Verdict:     "Still warm; it goes darker overnight.",
		RestedHours: 1,
		Additions: []cup.Addition{{Doses: []cup.Dose{
			d("broom-yellow", 5), d("bottle-green", 1), estimated("mud-brown", 3, 1, 6),
		}}},
		Outcome: recipe.Outcome{HeatsC: []float64{174}, LeftML: 80},
	})
	return err
}

// estimated are drops that nobody counted to the end.
func estimated(material string, drops, low, high float64) cup.Dose {
	dose := d(material, drops)
	dose.Amount.Low, dose.Amount.High = low, high
	dose.Typed = dose.Amount.String()
	return dose
}

// openProject opens one on a reference, as the screen does.
func openProject(ctx context.Context, sh *store.Shop, ref, name, notes string) (store.SavedProject, error) {
	r, err := sh.Reference(ctx, ref)
	if err != nil {
		return store.SavedProject{}, err
	}
	p := project.Project{
		Name: name, Notes: notes, Reference: ref, Volume: half, Plastisol: "skerry-medium", Most: 4,
		Allow: match.Allow{NoBleeding: true},
	}
	p.Parts = project.PartsOf(r.Name, ref, r.Pins)
	saved, err := sh.AddProject(ctx, p)
	if err != nil {
		return saved, fmt.Errorf("demo: %s: %w", name, err)
	}
	return saved, nil
}
