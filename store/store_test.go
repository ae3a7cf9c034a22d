package store_test

import (
	"database/sql"
	"errors"
	"strconv"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
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

func TestMain(m *testing.M) { storetest.Main(m) }

// stocked opens a shop with one bottle of every family, named after it.
func stocked(t *testing.T, st *Store, name string) *Shop {
	t.Helper()
	sh, err := st.NewShop(t.Context(), name, false)
	require.NoError(t, err)
	for _, f := range material.Families() {
		_, err := sh.AddMaterial(t.Context(), f.New(f.Key, f.Name))
		require.NoError(t, err)
	}
	return sh
}

func reddish(t *testing.T) cup.Cup {
	v, err := measure.ParseVolume("1/3 cup")
	require.NoError(t, err)
	return cup.Cup{
		Volume: v, Plastisol: "medium-plastisol",
		Doses: []cup.Dose{
			{Material: "clear-red", Typed: "12d", Amount: measure.DropCount(12)}, cup.DripOf("carbon-black", 1),
		},
		Target: &cup.Target{
			Name: "Belly", Lab: colour.Lab{L: 50.123456789, A: 1.0 / 3}, ThicknessMM: 4, Ground: optics.White,
		},
	}
}

func TestARecipeComesBackAsItWasSaved(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	saved, err := sh.SaveRecipe(
		t.Context(), recipe.Recipe{Name: "Reed shadow", Notes: "äöü 🐟", Cup: reddish(t)}, 0, "", "",
	)
	require.NoError(t, err)
	assert.Equal(t, 1, saved.Revision)
	assert.Equal(t, reddish(t), saved.Cup, "to the last digit")
	assert.NotEmpty(t, saved.UID)

	changed := saved.Recipe
	changed.Name, changed.Doses = "Reed shadow, paler", changed.Doses[:1]
	second, err := sh.SaveRecipe(t.Context(), changed, 1, "", "")
	require.NoError(t, err)
	assert.Equal(t, 2, second.Revision)

	_, err = sh.SaveRecipe(t.Context(), saved.Recipe, 1, "", "")
	assert.ErrorIs(t, err, ErrStale, "a save from what is no longer the newest")
	now, err := sh.Recipe(t.Context(), saved.UID)
	require.NoError(t, err)
	assert.Equal(t, "Reed shadow, paler", now.Name, "nothing was overwritten")
	then, err := sh.RecipeAt(t.Context(), saved.UID, 1)
	require.NoError(t, err)
	assert.Equal(t, saved, then, "old revisions stay")
	list, err := sh.Recipes(t.Context(), "", Page{Most: 9})
	require.NoError(t, err)
	assert.Equal(t, []SavedRecipe{now}, list.Items)
}

func TestOnlyOneOfManySavesAtOnceWins(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	saved, err := sh.SaveRecipe(t.Context(), recipe.Recipe{Name: "R", Cup: reddish(t)}, 0, "", "")
	require.NoError(t, err)
	var wg sync.WaitGroup
	results := make([]error, 8)
	for i := range results {
		wg.Go(func() { _, results[i] = sh.SaveRecipe(t.Context(), saved.Recipe, 1, "", "") })
	}
	wg.Wait()
	won := 0
	for _, err := range results {
		if err == nil {
			won++
		} else {
			assert.ErrorIs(t, err, ErrStale)
		}
	}
	assert.Equal(t, 1, won)
}

func TestBadRecipesAreNotStored(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	for _, spoil := range []func(*recipe.Recipe){
		func(r *recipe.Recipe) { r.Name = "" },
		func(r *recipe.Recipe) { r.Doses[0].Amount.Value = 1e6 },
		func(r *recipe.Recipe) { r.Plastisol = "gone" },
	} {
		r := recipe.Recipe{Name: "R", Cup: reddish(t)}
		spoil(&r)
		_, err := sh.SaveRecipe(t.Context(), r, 0, "", "")
		var f *measure.Fault
		assert.True(t, errors.As(err, &f), "%v", err)
	}
	list, err := sh.Recipes(t.Context(), "", Page{Most: 9})
	require.NoError(t, err)
	assert.Empty(t, list.Items)
}

func drip(material string, n int) cup.Step {
	return cup.Step{Kind: cup.Drip, Material: material, Drops: n}
}

func TestACupRemembersEveryStep(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	b, err := sh.NewCup(t.Context(), cup.Live{Cup: reddish(t)}, nil)
	require.NoError(t, err)
	assert.Equal(t, reddish(t), b.Cup.Cup)
	assert.False(t, b.CanUndo || b.CanRedo)
	for i := range 5 {
		b, err = sh.Step(
			Once(t.Context(), "tap"+strconv.Itoa(i), "tap", "a-tablet"), b.UID, b.Head, drip("clear-blue", 1),
		)
		require.NoError(t, err)
	}
	assert.Equal(t, 5.0, b.Cup.Doses[2].Amount.Value)
	again, err := sh.Step(Once(t.Context(), "tap4", "tap", "a-tablet"), b.UID, b.Head, drip("clear-blue", 1))
	require.NoError(t, err)
	assert.Equal(t, 5.0, again.Cup.Doses[2].Amount.Value, "the same tap sent twice is one drop")

	for range 7 { // further back than it goes
		b, err = sh.Rewind(t.Context(), b.UID, b.Head, -1)
		require.NoError(t, err)
	}
	assert.Equal(t, reddish(t), b.Cup.Cup)
	assert.True(t, b.CanRedo)
	for range 7 {
		b, err = sh.Rewind(t.Context(), b.UID, b.Head, 1)
		require.NoError(t, err)
	}
	assert.Equal(t, again.Cup, b.Cup, "undone and redone")
	b, err = sh.Rewind(t.Context(), b.UID, b.Head, -1)
	require.NoError(t, err)
	b, err = sh.Step(t.Context(), b.UID, b.Head, cup.Step{Kind: cup.SetVolume, Typed: "2 cups"})
	require.NoError(t, err)
	assert.False(t, b.CanRedo, "something new gives up what was undone")
	_, err = sh.Step(t.Context(), b.UID, b.Head, cup.Step{Kind: cup.SetVolume, Typed: "lots"})
	assert.Error(t, err)
	same, err := sh.Cup(t.Context(), b.UID)
	require.NoError(t, err)
	assert.Equal(t, b, same, "a refused step leaves no trace")
	latest, err := sh.LatestCup(t.Context())
	require.NoError(t, err)
	assert.Equal(t, b.UID, latest)
}

func TestTwoDevicesOnOneCup(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	b, err := sh.NewCup(t.Context(), cup.Live{Cup: reddish(t)}, nil)
	require.NoError(t, err)
	var wg sync.WaitGroup
	for range 4 {
		wg.Go(func() {
			for range 10 {
				_, err := sh.Step(t.Context(), b.UID, 0, drip("clear-blue", 1))
				assert.NoError(t, err)
			}
		})
	}
	wg.Wait()
	now, err := sh.Cup(t.Context(), b.UID)
	require.NoError(t, err)
	assert.Equal(t, 40.0, now.Cup.Doses[2].Amount.Value, "every drop of both hands counts")
	_, err = sh.Step(t.Context(), b.UID, 3, cup.Step{Kind: cup.SetDose, Material: "clear-red", Typed: "2"})
	assert.ErrorIs(t, err, ErrStale, "setting over what one has not seen is refused")
	_, err = sh.Rewind(t.Context(), b.UID, 3, -1)
	assert.ErrorIs(t, err, ErrStale, "and so is undoing it")
	merged, err := sh.Step(t.Context(), b.UID, 3, drip("clear-red", 1))
	require.NoError(t, err)
	assert.True(t, merged.Merged, "and it is told")
}

func TestBatchesKeepWhatReallyWentIn(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	r, err := sh.SaveRecipe(t.Context(), recipe.Recipe{Name: "R", Cup: reddish(t)}, 0, "", "")
	require.NoError(t, err)
	ph, err := sh.AddPhoto(t.Context(), format.Photo{JPEG: []byte("jpeg"), Width: 10, Height: 10})
	require.NoError(t, err)
	b := recipe.Batch{
		PouredOn: "2026-02-29", Volume: r.Volume, Verdict: "a touch too dark", RestedHours: 36.5, Photo: ph.UID,
		Additions: []cup.Addition{
			{Doses: []cup.Dose{{Material: "clear-red", Typed: "8d", Amount: measure.DropCount(8)}}},
			{Doses: []cup.Dose{
				{Material: "clear-red", Typed: "4", Amount: measure.DropCount(4)},
				{Material: "carbon-black", Typed: "1", Amount: measure.DropCount(1)},
			}},
		},
	}
	_, err = sh.AddBatch(t.Context(), Origin{Recipe: r.UID, Revision: 1}, b)
	assert.ErrorContains(t, err, "no day", "2026 has no 29 February")
	b.PouredOn = "2026-02-28"
	saved, err := sh.AddBatch(t.Context(), Origin{Recipe: r.UID, Revision: 1}, b)
	require.NoError(t, err)
	b.Plastisol = r.Plastisol
	assert.Equal(t, b, saved.Batch)
	assert.Equal(t, "R", saved.RecipeName)
	_, err = sh.AddBatch(t.Context(), Origin{Recipe: r.UID, Revision: 9}, b)
	assert.ErrorIs(t, err, ErrNotFound)
	b.Additions, b.Photo, b.PouredOn = []cup.Addition{}, "", "2026-03-01"
	clear, err := sh.AddBatch(t.Context(), Origin{Recipe: r.UID, Revision: 1}, b)
	require.NoError(t, err)
	all, err := sh.Batches(t.Context(), "", "", Page{Most: 9})
	require.NoError(t, err)
	assert.Equal(t, []SavedBatch{clear, saved}, all.Items, "newest pour first")
	ours, err := sh.Batches(t.Context(), r.UID, "", Page{Most: 9})
	require.NoError(t, err)
	assert.Equal(t, all, ours)
}

func TestReferencesAndPins(t *testing.T) {
	sh := stocked(t, storetest.Open(t), "A")
	ph, err := sh.AddPhoto(t.Context(), format.Photo{JPEG: []byte("jpeg"), Width: 640, Height: 480})
	require.NoError(t, err)
	ref, err := sh.AddReference(t.Context(), "Perch fry", ph.UID)
	require.NoError(t, err)
	pin := reference.Pin{
		Name: "Back", Disc: photo.Disc{X: 1.5, Y: 2, Radius: 9}, ThicknessMM: 8, Ground: optics.White,
		Reading: photo.Reading{Lab: colour.Lab{L: 1.0 / 3}, Kept: 1},
	}
	require.NoError(t, sh.AddPins(t.Context(), ref.UID, pin))
	got, err := sh.Reference(t.Context(), ref.UID)
	require.NoError(t, err)
	require.Len(t, got.Pins, 1)
	pin.UID, pin.State = got.Pins[0].UID, cup.Rested
	assert.Equal(t, []reference.Pin{pin}, got.Pins)
	list, err := sh.References(t.Context(), Page{Most: 9})
	require.NoError(t, err)
	assert.Equal(t, []Reference{got}, list.Items)
	require.NoError(t, sh.RemovePin(t.Context(), ref.UID, pin.UID))
	assert.ErrorIs(t, sh.RemovePin(t.Context(), ref.UID, pin.UID), ErrNotFound)
	many := make([]reference.Pin, MaxPins)
	for i := range many {
		many[i] = pin
	}
	require.NoError(t, sh.AddPins(t.Context(), ref.UID, many[1:]...))
	assert.ErrorIs(t, sh.AddPins(t.Context(), ref.UID, pin, pin), ErrTooMany, "all or none")
	require.NoError(t, sh.AddPins(t.Context(), ref.UID, pin))
	assert.ErrorIs(t, sh.AddPins(t.Context(), ref.UID, pin), ErrTooMany)
}

func TestOneShopNeverSeesAnothers(t *testing.T) {
	st := storetest.Open(t)
	ours, theirs := stocked(t, st, "Ours"), stocked(t, st, "Theirs")
	ctx := t.Context()
	r, err := ours.SaveRecipe(ctx, recipe.Recipe{Name: "Secret", Cup: reddish(t)}, 0, "", "")
	require.NoError(t, err)
	c, err := ours.NewCup(ctx, cup.Live{Cup: reddish(t)}, &r)
	require.NoError(t, err)
	ph, err := ours.AddPhoto(ctx, format.Photo{JPEG: []byte("x"), Width: 9, Height: 9})
	require.NoError(t, err)
	ref, err := ours.AddReference(ctx, "Ref", ph.UID)
	require.NoError(t, err)
	require.NoError(t, ours.AddPins(ctx, ref.UID, reference.Pin{Name: "P", Ground: optics.White}))
	ref, err = ours.Reference(ctx, ref.UID)
	require.NoError(t, err)
	batch := recipe.Batch{PouredOn: "2026-01-01", Volume: r.Volume, Additions: []cup.Addition{}}
	_, err = ours.AddBatch(ctx, Origin{Recipe: r.UID, Revision: 1}, batch)
	require.NoError(t, err)

	_, errs := 0, map[string]error{}
	_, errs["recipe"] = theirs.Recipe(ctx, r.UID)
	_, errs["revision"] = theirs.RecipeAt(ctx, r.UID, 1)
	_, errs["save"] = theirs.SaveRecipe(ctx, r.Recipe, 1, "", "")
	_, errs["cup"] = theirs.Cup(ctx, c.UID)
	_, errs["step"] = theirs.Step(ctx, c.UID, 0, drip("clear-red", 1))
	_, errs["undo"] = theirs.Rewind(ctx, c.UID, 0, -1)
	_, errs["latest"] = theirs.LatestCup(ctx)
	_, errs["photo"] = theirs.Photo(ctx, ph.UID)
	errs["has photo"] = theirs.HasPhoto(ctx, ph.UID)
	_, errs["reference"] = theirs.Reference(ctx, ref.UID)
	errs["unpin"] = theirs.RemovePin(ctx, ref.UID, ref.Pins[0].UID)
	_, errs["batch"] = theirs.AddBatch(ctx, Origin{Recipe: r.UID, Revision: 1}, batch)
	for what, err := range errs {
		assert.ErrorIs(t, err, ErrNotFound, what)
	}
	assert.Error(
		t, theirs.AddPins(
			ctx, ref.UID, reference.Pin{Name: "P", Ground: optics.White},
		), "a pin on another shop's reference",
	)
	_, err = theirs.AddReference(ctx, "Ref", ph.UID)
	assert.Error(t, err, "a reference on another shop's photo")
	for what, count := range map[string]func() (int, error){
		"recipes":    func() (int, error) { l, err := theirs.Recipes(ctx, "", Page{Most: 9}); return len(l.Items), err },
		"references": func() (int, error) { l, err := theirs.References(ctx, Page{Most: 9}); return len(l.Items), err },
		"batches":    func() (int, error) { l, err := theirs.Batches(ctx, r.UID, "", Page{Most: 9}); return len(l.Items), err },
	} {
		n, err := count()
		require.NoError(t, err)
		assert.Zero(t, n, what)
	}
}

func TestImportLeavesWhatIsThere(t *testing.T) {
	st := storetest.Open(t)
	from := stocked(t, st, "From")
	r, err := from.SaveRecipe(t.Context(), recipe.Recipe{Name: "R", Cup: reddish(t)}, 0, "", "")
	require.NoError(t, err)
	shelf, err := from.Shelf(t.Context())
	require.NoError(t, err)
	doc, err := format.NewDocument(r.Recipe, shelf)
	require.NoError(t, err)

	empty, err := st.NewShop(t.Context(), "Empty", false)
	require.NoError(t, err)
	got, err := empty.Import(t.Context(), doc)
	require.NoError(t, err)
	assert.Equal(t, 3, got.NewMaterials)
	assert.Equal(t, r.Recipe, got.Recipe.Recipe)
	again, err := empty.Import(t.Context(), doc)
	require.NoError(t, err)
	assert.True(t, again.AlreadyThere)

	// The same uids with other contents: both are kept, and the old recipe still means the old bottle.
	other := doc
	other.Materials = append([]material.Material{}, doc.Materials...)
	red := *other.Materials[1].Colourant
	red.DropML.Value = 0.04
	other.Materials[1].Colourant = &red
	beside, err := empty.Import(t.Context(), other)
	require.NoError(t, err)
	assert.True(t, beside.Renamed)
	assert.Equal(t, 1, beside.NewMaterials)
	assert.NotEqual(t, "clear-red", beside.Recipe.Doses[0].Material)
	old, err := empty.Recipe(t.Context(), r.UID)
	require.NoError(t, err)
	assert.Equal(t, r.Recipe, old.Recipe)
	now, err := empty.Shelf(t.Context())
	require.NoError(t, err)
	assert.Equal(t, 0.05, now["clear-red"].Colourant.DropML.Value)
}

func TestMigrations(t *testing.T) {
	dsn := storetest.DSN(t)
	var wg sync.WaitGroup
	for range 4 { // several programs starting at once on one database
		wg.Go(func() {
			st, err := Open(t.Context(), dsn)
			if assert.NoError(t, err) {
				defer st.Close()
				assert.NoError(t, st.Migrate(t.Context()))
			}
		})
	}
	wg.Wait()
	db, err := sql.Open("mysql", dsn)
	require.NoError(t, err)
	defer db.Close()
	_, err = db.Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)")
	require.NoError(t, err)
	st, err := Open(t.Context(), dsn)
	require.NoError(t, err)
	defer st.Close()
	err = st.Migrate(t.Context())
	assert.ErrorIs(t, err, ErrNewer)
	assert.ErrorContains(t, err, "update Cloudburst")
	_, err = Open(t.Context(), "this is no dsn")
	assert.ErrorContains(t, err, "user:password@tcp")
}

// Every table but the list of shops carries its shop and has it in its primary key.
func TestEveryRowBelongsToAShop(t *testing.T) {
	dsn := storetest.DSN(t)
	st, err := Open(t.Context(), dsn)
	require.NoError(t, err)
	defer st.Close()
	require.NoError(t, st.Migrate(t.Context()))
	db, err := sql.Open("mysql", dsn)
	require.NoError(t, err)
	defer db.Close()
	rows, err := db.Query(`SELECT t.table_name, COALESCE(GROUP_CONCAT(k.column_name ORDER BY k.ordinal_position), '')
		FROM information_schema.tables t LEFT JOIN information_schema.key_column_usage k
		ON k.table_schema = t.table_schema AND k.table_name = t.table_name AND k.constraint_name = 'PRIMARY'
		WHERE t.table_schema = DATABASE() GROUP BY t.table_name`)
	require.NoError(t, err)
	defer rows.Close()
	tables := 0
	for rows.Next() {
		var table, key string
		require.NoError(t, rows.Scan(&table, &key))
		if table == "shop" || strings.HasPrefix(table, "goose_") {
			continue
		}
		tables++
		assert.True(t, strings.HasPrefix(key, "shop_id,"), "%s has the primary key (%s)", table, key)
	}
	assert.GreaterOrEqual(t, tables, 11)
}
