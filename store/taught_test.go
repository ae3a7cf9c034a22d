package store_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
	"cloudburst/core/recipe"
	. "cloudburst/store"
	"cloudburst/store/storetest"
)

// What batches teach changes nothing until the maker accepts it for a bottle; then the shelf and the lists are as the
// batches have it, and a batch that was written down before keeps what was known then. Taking the reading out restores
// all of it to the last bit.
func TestAcceptedBottlesArePredictedAsBatchesHaveThem(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ctx := t.Context()
	r, err := sh.SaveRecipe(ctx, recipe.Recipe{Name: "R", Cup: reddish(t)}, 0, "", "")
	require.NoError(t, err)
	bottle := r.Doses[0].Material
	v, err := measure.ParseVolume("1 cup")
	require.NoError(t, err)
	batch := recipe.Batch{PouredOn: "2026-11-01", Volume: v, Additions: []cup.Addition{{Doses: r.Doses}}}
	before, err := sh.AddBatch(ctx, Origin{Recipe: r.UID, Revision: 1}, batch)
	require.NoError(t, err)
	seen := func() Seen {
		now, err := sh.Recipe(ctx, r.UID)
		require.NoError(t, err)
		list, err := sh.SeenOf(ctx, []SavedRecipe{now})
		require.NoError(t, err)
		return list[0]
	}
	plain := seen()
	read := func(l float64) string {
		got, err := sh.AddReading(ctx, before.UID, recipe.PartReading{
			Name: "Body", Lab: colour.Lab{L: l, A: 30, B: 15}, ThicknessMM: 4, Ground: optics.White, State: cup.Rested,
			How: recipe.ByInstrument,
		})
		require.NoError(t, err)
		return got.Readings[len(got.Readings)-1].UID
	}
	first := read(60)
	learned := func() any {
		shelf, err := sh.Shelf(ctx)
		require.NoError(t, err)
		m := shelf[bottle]
		if l := m.Learned(); l != nil {
			return *l
		}
		return nil
	}
	assert.Nil(t, learned(), "nobody accepted it yet")
	assert.Equal(t, plain, seen())

	item, err := sh.Item(ctx, bottle)
	require.NoError(t, err)
	_, err = sh.Accept(ctx, bottle, item.Revision+1, true)
	assert.ErrorIs(t, err, ErrStale)
	item, err = sh.Accept(ctx, bottle, item.Revision, true)
	require.NoError(t, err)
	assert.True(t, item.Accepted)
	one := learned()
	require.NotNil(t, one)
	assert.NotEqual(t, plain.Near, seen().Near, "lists follow")

	after, err := sh.AddBatch(ctx, Origin{Recipe: r.UID, Revision: 1}, batch)
	require.NoError(t, err)
	old, err := sh.Batch(ctx, before.UID)
	require.NoError(t, err)
	shelves, err := sh.Shelves(ctx)
	require.NoError(t, err)
	then := func(b *SavedBatch) bool {
		m := b.KnownThen(shelves.At(b.RecordedAt))[bottle]
		return m.Learned() != nil
	}
	assert.False(t, then(&old), "nothing was known of it then")
	assert.True(t, then(&after))

	// A second reading is learned from behind the shelf; taking it out brings back what was.
	second := read(40)
	_, err = sh.Lessons(ctx)
	require.NoError(t, err)
	assert.NotEqual(t, one, learned())
	_, err = sh.RemoveReading(ctx, before.UID, second)
	require.NoError(t, err)
	_, err = sh.Lessons(ctx)
	require.NoError(t, err)
	assert.Equal(t, one, learned())

	// So does deleting the batch, and bringing it back.
	require.NoError(t, sh.Keep(ctx, Batches, before.UID, Deleted))
	_, err = sh.Lessons(ctx)
	require.NoError(t, err)
	assert.Nil(t, learned())
	assert.Equal(t, plain, seen())
	require.NoError(t, sh.Keep(ctx, Batches, before.UID, Here))
	_, err = sh.Lessons(ctx)
	require.NoError(t, err)
	assert.Equal(t, one, learned())

	item, err = sh.Accept(ctx, bottle, item.Revision, false)
	require.NoError(t, err)
	assert.Nil(t, learned(), "refused")
	_, err = sh.RemoveReading(ctx, before.UID, first)
	require.NoError(t, err)
	_, err = sh.Accept(ctx, bottle, item.Revision, true)
	require.NoError(t, err)
	assert.Nil(t, learned(), "nothing to learn from")
	assert.Equal(t, plain, seen())
}
