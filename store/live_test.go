package store_test

import (
	"context"
	"fmt"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/recipe"
	. "cloudburst/store"
	"cloudburst/store/storetest"
)

func TestSplitAndMergeCanBeTakenBack(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	a, err := sh.NewCup(ctx, cup.Live{Cup: reddish(t)}, nil)
	require.NoError(t, err)
	whole := a.Cup
	second, err := sh.Split(Once(ctx, "split-01", "split", "a-tablet"), a.UID, 0, 0.25)
	require.NoError(t, err)
	again, err := sh.Split(Once(ctx, "split-01", "split", "a-tablet"), a.UID, 0, 0.25)
	require.NoError(t, err)
	a, err = sh.Cup(ctx, a.UID)
	require.NoError(t, err)
	assert.Equal(t, second, again, "sent twice, it is one split")
	b, err := sh.Cup(ctx, second)
	require.NoError(t, err)
	assert.InDelta(t, whole.Volume.ML/4, b.Cup.Volume.ML, 1e-9)
	assert.InDelta(t, 9, a.Cup.Doses[0].Amount.Value, 1e-9)

	// Undone while nobody has touched the second cup, done again, and no longer once somebody has.
	a, err = sh.Rewind(ctx, a.UID, a.Head, -1)
	require.NoError(t, err)
	assert.Equal(t, whole, a.Cup)
	_, err = sh.Cup(ctx, second)
	assert.ErrorIs(t, err, ErrNotFound)
	a, err = sh.Rewind(ctx, a.UID, a.Head, 1)
	require.NoError(t, err)
	b, err = sh.Step(ctx, second, 0, drip("clear-red", 1))
	require.NoError(t, err)
	_, err = sh.Rewind(ctx, a.UID, a.Head, -1)
	assert.ErrorIs(t, err, ErrWorkedOn)

	// Poured back together, and apart again.
	a, err = sh.Merge(ctx, a.UID, a.Head, second, 1)
	require.NoError(t, err)
	assert.InDelta(t, 13, a.Cup.Doses[0].Amount.Value, 1e-9)
	assert.InDelta(t, whole.Volume.ML, a.Cup.Volume.ML, 1e-9)
	_, err = sh.Cup(ctx, second)
	assert.ErrorIs(t, err, ErrNotFound)
	cups, err := sh.Cups(ctx, Page{Most: 10})
	require.NoError(t, err)
	assert.Len(t, cups.Items, 1)
	a, err = sh.Rewind(ctx, a.UID, a.Head, -1)
	require.NoError(t, err)
	back, err := sh.Cup(ctx, second)
	require.NoError(t, err)
	assert.Equal(t, b.Cup, back.Cup)
	var f *measure.Fault
	_, err = sh.Merge(ctx, a.UID, a.Head, a.UID, 1)
	assert.ErrorAs(t, err, &f)
	_, err = sh.Split(ctx, a.UID, a.Head, 1)
	assert.ErrorAs(t, err, &f)
	_, err = sh.Merge(ctx, a.UID, 99, second, 1)
	assert.ErrorIs(t, err, ErrStale)
}

// Cups that are worked on at once get into each other's way inside the database, which then breaks off a change and
// lets the rest of it through by itself if one goes on. Nothing of such a change may stay.
func TestManyHandsLeaveNoHalfSteps(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	var hands sync.WaitGroup
	for hand := range 8 {
		hands.Go(func() {
			for round := range 12 {
				a, err := sh.NewCup(ctx, cup.Live{Cup: reddish(t)}, nil)
				if !assert.NoError(t, err) {
					return
				}
				key := func(what string) context.Context {
					return Once(ctx, fmt.Sprintf("%s-%d-%d", what, hand, round), what, "a-tablet")
				}
				other, err := sh.Split(key("split"), a.UID, 0, 0.25)
				assert.NoError(t, err, "split")
				a, err = sh.Merge(key("merge"), a.UID, 1, other, 1)
				if !assert.NoError(t, err, "merge") {
					return
				}
				_, steps, err := sh.Steps(ctx, a.UID)
				assert.NoError(t, err)
				assert.Len(t, steps, 2)
				assert.Equal(t, 2, a.Head)
				assert.InDelta(t, reddish(t).Volume.ML, a.Cup.Volume.ML, 1e-9)
			}
		})
	}
	hands.Wait()
}

func TestStepsAreReadBackInOrder(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	b, err := sh.NewCup(ctx, cup.Live{Cup: reddish(t)}, nil)
	require.NoError(t, err)
	for i, ms := range []int64{1_000, 2_000, 90_000} {
		s := drip("clear-blue", i+1)
		s.AtMS = ms
		b, err = sh.Step(ctx, b.UID, b.Head, s)
		require.NoError(t, err)
	}
	start, steps, err := sh.Steps(ctx, b.UID)
	require.NoError(t, err)
	goes := cup.Additions(start.Cup, steps)
	require.Len(t, goes, 2, "a pause splits them")
	assert.Equal(t, "3 drops", goes[0].Doses[0].Typed)
	_, err = sh.Rewind(ctx, b.UID, b.Head, -1)
	require.NoError(t, err)
	_, steps, err = sh.Steps(ctx, b.UID)
	require.NoError(t, err)
	assert.Len(t, steps, 2, "what was undone is left out")

	// The same undo sent twice, as after a broken connection, is one undo.
	for range 2 {
		b, err = sh.Rewind(Once(ctx, "the-same-undo", "undo", "a-tablet"), b.UID, 2, -1)
		require.NoError(t, err)
		assert.Equal(t, 1, b.Head)
	}
}

func TestAShelfIsRefinedAndRestocked(t *testing.T) {
	st := storetest.Open(t)
	sh, other := stocked(t, st, "A"), stocked(t, st, "B")
	ctx := t.Context()
	item, err := sh.Item(ctx, "clear-red")
	require.NoError(t, err)
	m := item.Material
	m.Name, m.Heat = "Rowan", &material.HeatLimit{MaxC: 180, Origin: material.Survived, Heats: 3}
	changed, err := sh.ChangeMaterial(ctx, m, item.Revision)
	require.NoError(t, err)
	assert.Equal(t, m, changed.Material)
	_, err = sh.ChangeMaterial(ctx, m, item.Revision)
	assert.ErrorIs(t, err, ErrStale)
	m.Colourant.DropML.Value = 9
	_, err = sh.ChangeMaterial(ctx, m, changed.Revision)
	assert.ErrorContains(t, err, "dropML")
	theirs, err := other.Item(ctx, "clear-red")
	require.NoError(t, err)
	assert.NotEqual(t, "Rowan", theirs.Name, "another shop's bottle is another bottle")

	stocked, err := sh.SetStock(
		ctx, "clear-red", changed.Revision,
		material.Stock{Typed: "1 fl oz", Left: 29.57, Bought: "4 fl oz", Size: 118.3, Price: 9.5},
	)
	require.NoError(t, err)
	saved, err := sh.SaveRecipe(ctx, recipe.Recipe{Name: "Old", Cup: reddish(t)}, 0, "first try", "")
	require.NoError(t, err)
	assert.Equal(t, "first try", saved.Note)
	next, err := sh.NextBottle(ctx, "clear-red", stocked.Revision)
	require.NoError(t, err)
	assert.Equal(t, "clear-red", next.Replaces)
	assert.Equal(t, 118.3, next.Stock.Left, "a full bottle")
	onShelf, err := sh.Materials(ctx)
	require.NoError(t, err)
	for _, m := range onShelf {
		assert.NotEqual(t, "clear-red", m.UID, "the old bottle is off the shelf")
	}
	old, err := sh.Recipe(ctx, saved.UID)
	require.NoError(t, err)
	assert.Equal(t, "clear-red", old.Doses[0].Material, "and the recipe still on it")
	used, err := sh.UsedIn(ctx, "clear-red")
	require.NoError(t, err)
	assert.Equal(t, []string{"Old"}, used)
	base, err := sh.UsedIn(ctx, "medium-plastisol")
	require.NoError(t, err)
	assert.Equal(t, []string{"Old"}, base)
}

func TestAKitAndVersions(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	kit, revision, err := sh.Kit(ctx)
	require.NoError(t, err)
	assert.Equal(t, measure.StandardKit(), kit)
	kit.Named = append(kit.Named, measure.NamedMeasure{Name: "blade end", ML: 0.1})
	kit.SpoonsTSP = []float64{0.25}
	require.NoError(t, sh.SetKit(ctx, kit, revision))
	back, _, err := sh.Kit(ctx)
	require.NoError(t, err)
	assert.Equal(t, kit, back)
	assert.ErrorIs(t, sh.SetKit(ctx, kit, revision), ErrStale, "two devices don't overwrite each other in silence")
	kit.Heaped = 9
	assert.Error(t, sh.SetKit(ctx, kit, revision+1))

	b, err := sh.NewCup(ctx, cup.Live{Cup: reddish(t)}, nil)
	require.NoError(t, err)
	_, err = sh.Step(ctx, b.UID, 0, cup.Step{Kind: cup.SetDose, Material: "pearl-silver", Typed: "2 knives"})
	assert.Error(t, err)
	b, err = sh.Step(ctx, b.UID, 0, cup.Step{Kind: cup.SetDose, Material: "pearl-silver", Typed: "2 x blade end"})
	require.NoError(t, err)
	assert.Equal(t, "2 x blade end", b.Cup.Doses[2].Typed)

	r, err := sh.SaveRecipe(
		ctx, recipe.Recipe{
			Name: "V", Tags: []string{"zander", "dusk"}, Credit: "A.", OwnUse: true, Cup: reddish(t),
		}, 0, "",
		"",
	)
	require.NoError(t, err)
	r.Recipe.Name = "V2"
	_, err = sh.SaveRecipe(ctx, r.Recipe, 1, "less red", "")
	require.NoError(t, err)
	versions, err := sh.Versions(ctx, r.UID)
	require.NoError(t, err)
	require.Len(t, versions, 2)
	assert.Equal(t, "less red", versions[0].Note)
	assert.Equal(t, []string{"zander", "dusk"}, versions[1].Tags)
	assert.True(t, versions[1].OwnUse)
	_, err = sh.Versions(ctx, "gone")
	assert.ErrorIs(t, err, ErrNotFound)
}
