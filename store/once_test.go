package store_test

import (
	"context"
	"errors"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/bait"
	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/logbook"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
	"cloudburst/core/photo"
	"cloudburst/core/recipe"
	"cloudburst/core/reference"
	"cloudburst/format"
	. "cloudburst/store"
	"cloudburst/store/storetest"
)

// A step that was undone, and then arrives once more after a broken connection, does not count again.
func TestALateRetryOfWhatWasUndoneDoesNotCount(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	b, err := sh.NewCup(ctx, cup.Live{Cup: reddish(t)}, nil)
	require.NoError(t, err)
	tap := Once(ctx, "the-late-tap", "tap", "a-tablet")
	b, err = sh.Step(tap, b.UID, 0, drip("clear-blue", 3))
	require.NoError(t, err)
	b, err = sh.Rewind(ctx, b.UID, b.Head, -1)
	require.NoError(t, err)
	b, err = sh.Step(ctx, b.UID, b.Head, drip("clear-red", 1)) // the undone step is given up
	require.NoError(t, err)
	late, err := sh.Step(Once(ctx, "the-late-tap", "tap", "a-tablet"), b.UID, 0, drip("clear-blue", 3))
	require.NoError(t, err)
	assert.Equal(t, b.Cup, late.Cup)
	_, err = sh.Step(Once(ctx, "the-late-tap", "something else", "a-tablet"), b.UID, 0, drip("clear-blue", 3))
	assert.ErrorIs(t, err, ErrKeyUsed)
}

// A merge of a part that is refused as stale leaves the other cup as it was.
func TestARefusedMergeChangesNothing(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	a, err := sh.NewCup(ctx, cup.Live{Cup: reddish(t)}, nil)
	require.NoError(t, err)
	other, err := sh.NewCup(ctx, cup.Live{Cup: reddish(t)}, nil)
	require.NoError(t, err)
	for range 3 {
		_, err = sh.Merge(ctx, a.UID, 7, other.UID, 0.5)
		assert.ErrorIs(t, err, ErrStale)
	}
	_, err = sh.Merge(ctx, "gone", 0, other.UID, 0.5)
	assert.ErrorIs(t, err, ErrNotFound)
	now, err := sh.Cup(ctx, other.UID)
	require.NoError(t, err)
	assert.Equal(t, other, now)
	cups, err := sh.Cups(ctx, Page{Most: 9})
	require.NoError(t, err)
	assert.Len(t, cups.Items, 2, "and no stray cup")

	a, err = sh.Merge(ctx, a.UID, 0, other.UID, 0.5)
	require.NoError(t, err)
	assert.InDelta(t, 18, a.Cup.Doses[0].Amount.Value, 1e-9)
	now, err = sh.Cup(ctx, other.UID)
	require.NoError(t, err)
	assert.InDelta(t, 6, now.Cup.Doses[0].Amount.Value, 1e-9)
}

// Several steps are one action: all are taken or none.
func TestStepsTogetherAreAllOrNone(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	b, err := sh.NewCup(ctx, cup.Live{Cup: reddish(t)}, nil)
	require.NoError(t, err)
	bad := cup.Step{Kind: cup.SetVolume, Typed: "lots"}
	_, err = sh.Step(ctx, b.UID, 0, drip("clear-blue", 1), drip("clear-red", 1), bad)
	assert.Error(t, err)
	now, err := sh.Cup(ctx, b.UID)
	require.NoError(t, err)
	assert.Equal(t, b, now)
	now, err = sh.Step(ctx, b.UID, 0, drip("clear-blue", 1), drip("clear-red", 1))
	require.NoError(t, err)
	assert.Equal(t, 2, now.Head, "each can be undone")

	_, err = sh.NewCups(
		ctx, []NamedCup{{Live: cup.Live{Cup: reddish(t)}}, {Live: cup.Live{Cup: cup.Cup{Plastisol: "gone"}}}}, nil,
	)
	assert.Error(t, err)
	_, err = sh.AddReference(ctx, "Bag", "", make([]reference.Pin, MaxPins+1)...)
	assert.ErrorIs(t, err, ErrTooMany)
	refs, err := sh.References(ctx, Page{Most: 9})
	require.NoError(t, err)
	assert.Empty(t, refs.Items, "no reference without its pins")
	cups, err := sh.Cups(ctx, Page{Most: 9})
	require.NoError(t, err)
	assert.Len(t, cups.Items, 1)
}

// Every change of a shop counts once however often it is sent, by many at once, too.
func TestEveryChangeSentAgainCountsOnce(t *testing.T) {
	st := storetest.Open(t)
	for what, change := range map[string]struct {
		do    func(ctx context.Context, sh *Shop) error
		count func(ctx context.Context, sh *Shop) (int, error)
	}{
		"cup": {func(ctx context.Context, sh *Shop) error {
			_, err := sh.NewCup(ctx, cup.Live{Cup: reddish(t)}, nil)
			return err
		}, countCups},
		"cups": {func(ctx context.Context, sh *Shop) error {
			_, err := sh.NewCups(ctx, []NamedCup{{Live: cup.Live{Cup: reddish(t)}}}, nil)
			return err
		}, countCups},
		"recipe": {func(ctx context.Context, sh *Shop) error {
			_, err := sh.SaveRecipe(ctx, recipe.Recipe{Name: "R", Cup: reddish(t)}, 0, "", "")
			return err
		}, countRecipes},
		"bait": {func(ctx context.Context, sh *Shop) error {
			_, err := sh.AddBait(ctx, bait.NewDesign("B", "paddle-minnow", ""))
			return err
		}, countBaits},
		"mold": {func(ctx context.Context, sh *Shop) error {
			_, err := sh.AddMold(ctx, "", bait.NewMold("M", "paddle-minnow"))
			return err
		}, countMolds},
		"reference": {func(ctx context.Context, sh *Shop) error {
			_, err := sh.AddReference(ctx, "R", "", reference.Pin{Name: "P", Ground: optics.White})
			return err
		}, countReferences},
		"photo": {func(ctx context.Context, sh *Shop) error {
			_, err := sh.AddPhoto(ctx, format.Photo{JPEG: []byte("x"), Width: 9, Height: 9})
			return err
		}, func(ctx context.Context, sh *Shop) (int, error) {
			n, err := sh.DropUnusedPhotos(ctx, time.Now().Add(time.Hour))
			return int(n), err
		}},
		"bottle": {func(ctx context.Context, sh *Shop) error {
			f := material.Families()[0]
			_, err := sh.AddMaterial(ctx, f.New("", "Another"))
			return err
		}, func(ctx context.Context, sh *Shop) (int, error) {
			l, err := sh.AllMaterials(ctx)
			return len(l) - len(material.Families()), err
		}},
	} {
		sh := stocked(t, st, "A")
		ctx := t.Context()
		var all sync.WaitGroup
		for range 6 {
			all.Go(func() { assert.NoError(t, change.do(Once(ctx, "key-of-"+what, what, "a-tablet"), sh), what) })
		}
		all.Wait()
		n, err := change.count(ctx, sh)
		require.NoError(t, err)
		assert.Equal(t, 1, n, what)
	}
}

func countCups(ctx context.Context, sh *Shop) (int, error) {
	l, err := sh.Cups(ctx, Page{Most: 9})
	return len(l.Items), err
}

func countRecipes(ctx context.Context, sh *Shop) (int, error) {
	l, err := sh.Recipes(ctx, "", Page{Most: 9})
	return len(l.Items), err
}

func countBaits(ctx context.Context, sh *Shop) (int, error) {
	l, err := sh.Baits(ctx, Page{Most: 9})
	return len(l.Items), err
}

func countMolds(ctx context.Context, sh *Shop) (int, error) {
	l, err := sh.Molds(ctx)
	return len(l), err
}

func countReferences(ctx context.Context, sh *Shop) (int, error) {
	l, err := sh.References(ctx, Page{Most: 9})
	return len(l.Items), err
}

// One request is one transaction; a second one under its key is a mistake of ours, and is not taken for a retry.
func TestOneActionIsOneTransaction(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := Once(t.Context(), "two-in-one", "two", "a-tablet")
	_, err := sh.NewCup(ctx, cup.Live{Cup: reddish(t)}, nil)
	require.NoError(t, err)
	_, err = sh.NewCup(ctx, cup.Live{Cup: reddish(t)}, nil)
	assert.ErrorContains(t, err, "two transactions")
}

// Two devices never overwrite each other in silence.
func TestLightScaleAndFlakeAreNotOverwritten(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	ref, err := sh.AddReference(ctx, "R", "")
	require.NoError(t, err)
	require.NoError(t, sh.SetScale(ctx, ref.UID, ref.Revision, 20))
	for what, err := range map[string]error{
		"light": sh.SetLight(ctx, ref.UID, ref.Revision, &photo.Light{}, nil),
		"scale": sh.SetScale(ctx, ref.UID, ref.Revision, 30),
		"flake": sh.SetFlake(ctx, ref.UID, ref.Revision, nil),
		"aside": sh.SetAside(ctx, ref.UID, ref.Revision, 1, true),
		"mine":  sh.SetMine(ctx, ref.UID, ref.Revision, "pin", true),
	} {
		assert.ErrorIs(t, err, ErrStale, what)
	}
	now, err := sh.Reference(ctx, ref.UID)
	require.NoError(t, err)
	assert.Equal(t, 20.0, now.PxPerMM)
	require.NoError(
		t, sh.AddPins(ctx, ref.UID, reference.Pin{Name: "P", Ground: optics.White}), "what only adds is merged",
	)
}

// Lists are read in parts that neither repeat nor leave out anything, whatever comes in between.
func TestListsAreReadInParts(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	v, err := measure.ParseVolume("1 cup")
	require.NoError(t, err)
	var of string
	for i := range 25 {
		r, err := sh.SaveRecipe(ctx, recipe.Recipe{Name: "R" + strconv.Itoa(i), Cup: reddish(t)}, 0, "", "")
		require.NoError(t, err)
		of = r.UID
		_, err = sh.NewCup(ctx, cup.Live{Cup: reddish(t)}, &r)
		require.NoError(t, err)
		_, err = sh.AddBatch(
			ctx, Origin{Recipe: r.UID, Revision: 1},
			recipe.Batch{
				PouredOn: "2026-01-0" + strconv.Itoa(1+i%3), Volume: v, Additions: []cup.Addition{{Doses: r.Doses}},
			},
		)
		require.NoError(t, err)
		_, err = sh.AddReference(ctx, "Ref", "", reference.Pin{Name: "P" + strconv.Itoa(i), Ground: optics.White})
		require.NoError(t, err)
		_, err = sh.AddBait(ctx, bait.NewDesign("B", "paddle-minnow", ""))
		require.NoError(t, err)
	}
	for what, read := range map[string]func(Page) ([]string, string, error){
		"recipes": func(p Page) ([]string, string, error) {
			l, err := sh.Recipes(ctx, "", p)
			for _, r := range l.Items {
				assert.Len(t, r.Doses, 2)
			}
			return uids(l.Items, func(r SavedRecipe) string { return r.UID }), l.Next, err
		},
		"found": func(p Page) ([]string, string, error) {
			l, err := sh.Recipes(ctx, "r carb", p)
			return uids(l.Items, func(r SavedRecipe) string { return r.UID }), l.Next, err
		},
		"near": func(p Page) ([]string, string, error) {
			l, err := sh.RecipesNear(ctx, colour.Lab{L: 40, A: 50}, "", p)
			return uids(l.Items, func(r NearRecipe) string { return r.UID }), l.Next, err
		},
		"cups": func(p Page) ([]string, string, error) {
			l, err := sh.Cups(ctx, p)
			return uids(l.Items, func(c CupLabel) string { return c.UID }), l.Next, err
		},
		"batches": func(p Page) ([]string, string, error) {
			l, err := sh.Batches(ctx, "", "", p)
			for i, b := range l.Items {
				require.Len(t, b.Additions, 1)
				assert.Len(t, b.Additions[0].Doses, 2, "each with its own drops")
				assert.True(t, i == 0 || l.Items[i-1].PouredOn >= b.PouredOn)
			}
			return uids(l.Items, func(b SavedBatch) string { return b.UID }), l.Next, err
		},
		"references": func(p Page) ([]string, string, error) {
			l, err := sh.References(ctx, p)
			for _, r := range l.Items {
				assert.Len(t, r.Pins, 1)
			}
			return uids(l.Items, func(r Reference) string { return r.UID }), l.Next, err
		},
		"baits": func(p Page) ([]string, string, error) {
			l, err := sh.Baits(ctx, p)
			return uids(l.Items, func(b SavedBait) string { return b.UID }), l.Next, err
		},
	} {
		seen := map[string]bool{}
		p := Page{Most: 7}
		for part := 0; ; part++ {
			require.Less(t, part, 5, what)
			got, next, err := read(p)
			require.NoError(t, err, what)
			for _, uid := range got {
				assert.False(t, seen[uid], "%s: twice", what)
				seen[uid] = true
			}
			if p.After = next; next == "" {
				break
			}
		}
		assert.Len(t, seen, 25, what)
		for _, bad := range []string{"x", "!!!!", "AAAA", strings.Repeat("A", 300)} {
			_, _, err := read(Page{Most: 7, After: bad})
			var f *measure.Fault
			assert.True(t, errors.As(err, &f), "%s: %q gives %v", what, bad, err)
		}
	}
	ours, err := sh.Batches(ctx, of, "", Page{Most: 9})
	require.NoError(t, err)
	assert.Len(t, ours.Items, 1)
}

func uids[T any](list []T, of func(T) string) (out []string) {
	for _, t := range list {
		out = append(out, of(t))
	}
	return out
}

func TestWordsFindRecipes(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	for _, r := range []recipe.Recipe{
		{
			Name: "Reed shadow", Notes: "for dusk, 100 % sure", Tags: []string{"Zander", "höst"}, Cup: reddish(t),
		}, {Name: "Plain", Credit: "A_B", Cup: reddish(t)},
	} {
		if r.Name == "Plain" {
			r.Doses = r.Doses[:1]
		}
		_, err := sh.SaveRecipe(ctx, r, 0, "", "")
		require.NoError(t, err)
	}
	for words, n := range map[string]int{
		"": 2, "reed": 1, "REED dusk": 1, "zander": 1, "carbon": 1, "plastisol": 2, "reed plain": 0, "100 %": 1,
		"a_b": 1,
		"%":   1, "_": 1, "Höst": 1, `\`: 0, "'": 0, "🐟": 0,
	} {
		l, err := sh.Recipes(ctx, words, Page{Most: 9})
		require.NoError(t, err, words)
		assert.Len(t, l.Items, n, "%q", words)
	}
}

// What a list shows of a colour is kept with the version, and follows when a material changes, within a dilution, too.
func TestColoursInListsFollowTheirMaterials(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	shelf, err := sh.Shelf(ctx)
	require.NoError(t, err)
	cut, err := recipe.Premix("cut", "Cut", []material.Part{{Material: "clear-red", Share: 1}}, 1, shelf)
	require.NoError(t, err)
	_, err = sh.AddMaterial(ctx, cut)
	require.NoError(t, err)
	c := reddish(t)
	c.Doses[0].Material = "cut"
	_, err = sh.SaveRecipe(ctx, recipe.Recipe{Name: "R", Cup: c}, 0, "", "")
	require.NoError(t, err)
	look := func() Seen {
		l, err := sh.Recipes(ctx, "", Page{Most: 9})
		require.NoError(t, err)
		seen, err := sh.SeenOf(ctx, l.Items)
		require.NoError(t, err)
		return seen[0]
	}
	was := look()
	assert.Equal(t, was, look(), "kept")
	item, err := sh.Item(ctx, "clear-red")
	require.NoError(t, err)
	m, err := item.Material.Stronger(4, material.Measured)
	require.NoError(t, err)
	_, err = sh.ChangeMaterial(ctx, m, item.Revision)
	require.NoError(t, err)
	assert.Greater(t, colour.DeltaE00(was.Swatch.Lab, look().Swatch.Lab), 1.0)
	assert.Equal(t, look(), look())
}

func TestUnusedPhotosAreThrownAway(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	used, err := sh.AddPhoto(ctx, format.Photo{JPEG: []byte("x"), Width: 9, Height: 9})
	require.NoError(t, err)
	_, err = sh.AddReference(ctx, "R", used.UID)
	require.NoError(t, err)
	logged, err := sh.AddPhoto(ctx, format.Photo{JPEG: []byte("x"), Width: 9, Height: 9})
	require.NoError(t, err)
	_, err = sh.AddEntry(
		ctx, logbook.Entry{Title: "At the pier", Day: "2026-11-20", Tags: []string{}, Photo: logged.UID},
	)
	require.NoError(t, err)
	later, err := sh.AddPhoto(ctx, format.Photo{JPEG: []byte("x"), Width: 9, Height: 9})
	require.NoError(t, err)
	v, err := measure.ParseVolume("1 cup")
	require.NoError(t, err)
	batch, err := sh.AddBatch(
		ctx, Origin{},
		recipe.Batch{
			PouredOn: "2026-11-20", Volume: v, Plastisol: "medium-plastisol",
			Additions: []cup.Addition{{Doses: []cup.Dose{cup.DripOf("clear-red", 3)}}},
		},
	)
	require.NoError(t, err)
	batch, err = sh.AddBatchPhoto(ctx, batch.UID, later.UID)
	require.NoError(t, err)
	batch, err = sh.AddBatchPhoto(ctx, batch.UID, later.UID)
	require.NoError(t, err)
	assert.Equal(t, []string{later.UID}, batch.Photos, "once")
	lost, err := sh.AddPhoto(ctx, format.Photo{JPEG: []byte("x"), Width: 9, Height: 9})
	require.NoError(t, err)
	n, err := sh.DropUnusedPhotos(ctx, time.Now().Add(-time.Hour))
	require.NoError(t, err)
	assert.Zero(t, n, "one that was only just taken in may still be on its way to a reference")
	n, err = sh.DropUnusedPhotos(ctx, time.Now().Add(time.Hour))
	require.NoError(t, err)
	assert.EqualValues(t, 1, n)
	for _, p := range []PhotoInfo{used, logged, later} {
		assert.NoError(t, sh.HasPhoto(ctx, p.UID))
	}
	batch, err = sh.RemoveBatchPhoto(ctx, batch.UID, later.UID)
	require.NoError(t, err)
	assert.Empty(t, batch.Photos)
	assert.ErrorIs(t, sh.HasPhoto(ctx, lost.UID), ErrNotFound)
}

// A design keeps cups that were there; one that never was is refused.
func TestABaitNamesOnlyCupsThatAreThere(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	for _, uid := range []string{"nope", "größe", "a\x00", strings.Repeat("x", 70)} {
		_, err := sh.AddBait(ctx, bait.NewDesign("B", "paddle-minnow", uid))
		var f *measure.Fault
		assert.ErrorAs(t, err, &f, "%q", uid)
	}
	cup, err := sh.NewCup(ctx, cup.Live{Cup: reddish(t)}, nil)
	require.NoError(t, err)
	b, err := sh.AddBait(ctx, bait.NewDesign("B", "paddle-minnow", cup.UID))
	require.NoError(t, err)
	b.Name = "Renamed"
	b, err = sh.SaveBait(ctx, b)
	require.NoError(t, err)
	b.Cups[0].Cup = "größe"
	_, err = sh.SaveBait(ctx, b)
	assert.Error(t, err)
}

// What was put away makes room.
func TestRoomIsForWhatIsInUse(t *testing.T) {
	if testing.Short() {
		t.Skip("fills a shop")
	}
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	var last SavedBait
	for range 500 {
		b, err := sh.AddBait(ctx, bait.NewDesign("B", "paddle-minnow", ""))
		require.NoError(t, err)
		last = b
	}
	_, err := sh.AddBait(ctx, bait.NewDesign("B", "paddle-minnow", ""))
	require.ErrorIs(t, err, ErrTooMany)
	require.NoError(t, sh.Keep(ctx, Baits, last.UID, Deleted))
	_, err = sh.AddBait(ctx, bait.NewDesign("B", "paddle-minnow", ""))
	assert.NoError(t, err)
}

// A batch that is recorded while the list is read shows its own drops, or is not in it yet.
func TestBatchesRecordedWhileTheListIsRead(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	r, err := sh.SaveRecipe(ctx, recipe.Recipe{Name: "R", Cup: reddish(t)}, 0, "", "")
	require.NoError(t, err)
	var all sync.WaitGroup
	done := make(chan struct{})
	all.Go(func() {
		defer close(done)
		for i := range 60 {
			drops := float64(1 + i%9)
			_, err := sh.AddBatch(ctx, Origin{Recipe: r.UID, Revision: 1}, recipe.Batch{
				PouredOn: "2026-01-01", Volume: r.Volume, Verdict: strconv.Itoa(1 +
					i%9), Additions: []cup.Addition{{Doses: []cup.Dose{cup.DripOf("clear-red", drops)}}},
			})
			assert.NoError(t, err)
		}
	})
	for reading := true; reading; {
		select {
		case <-done:
			reading = false
		default:
		}
		l, err := sh.Batches(ctx, "", "", Page{Most: 60})
		require.NoError(t, err)
		for _, b := range l.Items {
			require.Len(t, b.Additions, 1)
			require.Len(t, b.Additions[0].Doses, 1)
			assert.Equal(t, b.Verdict, strconv.Itoa(int(b.Additions[0].Doses[0].Amount.Value)))
		}
	}
	all.Wait()
}
