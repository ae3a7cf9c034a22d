package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"time"

	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/recipe"
	"cloudburst/format"
)

// SavedRecipe is a recipe with its place in the history of its saves.
type SavedRecipe struct {
	recipe.Recipe
	Revision int       `json:"revision" doc:"Counts the saves; send it back with the next one"`
	Note     string    `json:"note,omitempty" doc:"Why this version"`
	SavedAt  time.Time `json:"savedAt"`
	Kept     Kept      `json:"kept" enum:"here,away,deleted"`
	seen     *Seen
}

const recipeColumns = `r.recipe_uid, r.revision, r.name, r.notes, r.volume_typed, r.volume_ml, r.plastisol_uid, r.work_c, r.target, r.tags, r.credit, r.own_use, r.fork_of, r.note, r.saved_at, r.seen,
	(SELECT k.kept FROM recipe k WHERE k.shop_id = r.shop_id AND k.uid = r.recipe_uid)`

const newestRecipes = ` FROM recipe JOIN recipe_revision r ON r.shop_id = recipe.shop_id AND r.recipe_uid = recipe.uid AND r.revision = recipe.revision
	WHERE recipe.shop_id = ?`

// Recipes lists recipes at their newest revision, last saved first: those in which all the words sought are somewhere.
func (sh *Shop) Recipes(ctx context.Context, find string, page Page) (Listed[SavedRecipe], error) {
	where, args, err := sh.mentions(ctx, find)
	if err != nil {
		return Listed[SavedRecipe]{}, err
	}
	after, more, err := page.older("recipe.saved_at", "recipe.uid")
	if err != nil {
		return Listed[SavedRecipe]{}, err
	}
	args = append(append(append([]any{sh.id}, args...), more...), page.Most+1)
	list, err := sh.recipes(
		ctx,
		`SELECT `+recipeColumns+newestRecipes+page.kept("recipe")+where+after+
			` ORDER BY recipe.saved_at DESC, recipe.uid DESC LIMIT ?`,
		args...,
	)
	return cut(list, page.Most, func(r *SavedRecipe) string { return cursorOf(stamped(r.SavedAt), r.UID) }), err
}

// RecipesNamed are recipes at their newest revision, in the order of the uids.
func (sh *Shop) RecipesNamed(ctx context.Context, uids []string) ([]SavedRecipe, error) {
	if len(uids) == 0 {
		return []SavedRecipe{}, nil
	}
	list, err := sh.recipes(
		ctx, `SELECT `+recipeColumns+newestRecipes+` AND recipe.uid IN (`+marks(len(uids))+`)`,
		append([]any{sh.id}, anys(uids)...)...,
	)
	slices.SortFunc(list, func(a, b SavedRecipe) int { return slices.Index(uids, a.UID) - slices.Index(uids, b.UID) })
	return list, err
}

// mentions is the SQL for recipes in which all the words are somewhere: in the name, notes, tags, credit, or the names
// of what is in them.
func (sh *Shop) mentions(ctx context.Context, words string) (where string, args []any, err error) {
	list := strings.Fields(words)
	if len(list) == 0 {
		return "", nil, nil
	}
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return "", nil, err
	}
	const most = 8 // more words than that find nothing more exactly
	for _, w := range list[:min(len(list), most)] {
		like := "%" + strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(w) + "%"
		where += ` AND (r.name LIKE ? OR r.notes LIKE ? OR r.credit LIKE ? OR r.tags COLLATE utf8mb4_unicode_520_ci LIKE ?`
		args = append(args, like, like, like, like)
		var uids []any
		for uid, m := range shelf {
			if strings.Contains(strings.ToLower(m.Name), strings.ToLower(w)) {
				uids = append(uids, uid)
			}
		}
		if len(uids) > 0 {
			where += ` OR r.plastisol_uid IN (` + marks(len(uids)) + `) OR EXISTS (SELECT 1 FROM recipe_dose d
				WHERE d.shop_id = r.shop_id AND d.recipe_uid = r.recipe_uid AND d.revision = r.revision AND d.material_uid IN (` + marks(len(uids)) + `))`
			args = append(append(args, uids...), uids...)
		}
		where += `)`
	}
	return where, args, nil
}

// Recipe is one recipe at its newest revision.
func (sh *Shop) Recipe(ctx context.Context, uid string) (SavedRecipe, error) {
	return sh.oneRecipe(ctx, `SELECT `+recipeColumns+` FROM recipe JOIN recipe_revision r
		ON r.shop_id = recipe.shop_id AND r.recipe_uid = recipe.uid AND r.revision = recipe.revision
		WHERE recipe.shop_id = ? AND recipe.uid = ?`, sh.id, uid)
}

// RecipeAt is one recipe as it was at a revision.
func (sh *Shop) RecipeAt(ctx context.Context, uid string, revision int) (SavedRecipe, error) {
	return sh.oneRecipe(ctx, `SELECT `+recipeColumns+` FROM recipe_revision r
		WHERE r.shop_id = ? AND r.recipe_uid = ? AND r.revision = ?`, sh.id, uid, revision)
}

// RecipesOf are the versions that batches were poured from, by batch.
func (sh *Shop) RecipesOf(ctx context.Context, list []SavedBatch) (map[string]SavedRecipe, error) {
	out := map[string]SavedRecipe{}
	if len(list) == 0 {
		return out, nil
	}
	args := []any{sh.id}
	for _, b := range list {
		args = append(args, b.RecipeUID, b.RecipeRevision)
	}
	either := strings.TrimSuffix(strings.Repeat("r.recipe_uid = ? AND r.revision = ? OR ", len(list)), " OR ")
	versions, err := sh.recipes(
		ctx, `SELECT `+recipeColumns+` FROM recipe_revision r WHERE r.shop_id = ? AND (`+either+`)`, args...,
	)
	if err != nil {
		return nil, err
	}
	at := map[versionKey]SavedRecipe{}
	for _, v := range versions {
		at[versionKey{v.UID, v.Revision}] = v
	}
	for _, b := range list {
		out[b.UID] = at[versionKey{b.RecipeUID, b.RecipeRevision}]
	}
	return out, nil
}

// Versions lists every revision of a recipe, newest first.
func (sh *Shop) Versions(ctx context.Context, uid string) ([]SavedRecipe, error) {
	list, err := sh.recipes(ctx, `SELECT `+recipeColumns+` FROM recipe_revision r
		WHERE r.shop_id = ? AND r.recipe_uid = ? ORDER BY r.revision DESC`, sh.id, uid)
	if err == nil && len(list) == 0 {
		return nil, ErrNotFound
	}
	return list, err
}

func (sh *Shop) oneRecipe(ctx context.Context, query string, args ...any) (SavedRecipe, error) {
	list, err := sh.recipes(ctx, query, args...)
	if err != nil {
		return SavedRecipe{}, err
	}
	if len(list) == 0 {
		return SavedRecipe{}, ErrNotFound
	}
	return list[0], nil
}

func (sh *Shop) recipes(ctx context.Context, query string, args ...any) ([]SavedRecipe, error) {
	rows, err := sh.db.QueryContext(ctx, query, args...)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	list := []SavedRecipe{}
	for rows.Next() {
		var r SavedRecipe
		var target, tags, seen []byte
		if err := rows.Scan(&r.UID, &r.Revision, &r.Name, &r.Notes, &r.Volume.Typed, &r.Volume.ML, &r.Plastisol, &r.WorkC, &target,
			&tags, &r.Credit, &r.OwnUse, &r.ForkOf, &r.Note, &r.SavedAt, &seen, &r.Kept); err != nil {
			return nil, err
		}
		if err := errors.Join(
			targetForm.read(target, &r.Target), listForm.read(tags, &r.Tags), seenForm.read(seen, &r.seen),
		); err != nil {
			return nil, err
		}
		r.Doses = []cup.Dose{}
		list = append(list, r)
	}
	if err := rows.Err(); err != nil {
		return nil, err
	}
	return list, sh.addDoses(ctx, list)
}

type versionKey struct {
	uid      string
	revision int
}

// someAtOnce bounds how many rows are named in one query.
const someAtOnce = 500

func (sh *Shop) addDoses(ctx context.Context, list []SavedRecipe) error {
	at := map[versionKey]*SavedRecipe{}
	for i := range list {
		at[versionKey{list[i].UID, list[i].Revision}] = &list[i]
	}
	for part := range slices.Chunk(list, someAtOnce) {
		args := []any{sh.id}
		for _, r := range part {
			args = append(args, r.UID, r.Revision)
		}
		either := strings.TrimSuffix(strings.Repeat("recipe_uid = ? AND revision = ? OR ", len(part)), " OR ")
		err := sh.eachRow(ctx, `SELECT recipe_uid, revision, material_uid, typed, amount, unit, low, high FROM recipe_dose
			WHERE shop_id = ? AND (`+either+`) ORDER BY recipe_uid, revision, position`, args, func(row *sql.Rows) error {
			var key versionKey
			var d cup.Dose
			if err := row.Scan(append([]any{&key.uid, &key.revision}, doseTargets(&d)...)...); err != nil {
				return err
			}
			if r, there := at[key]; there {
				r.Doses = append(r.Doses, d)
			}
			return nil
		})
		if err != nil {
			return err
		}
	}
	return nil
}

// SaveRecipe keeps a recipe. Without a uid it is a new one. Otherwise `base` is the revision it was changed
// from: if that is no longer the newest, nothing is stored and ErrStale is returned. A cup that is named belongs to the
// recipe from now on, so that the next save goes there.
func (sh *Shop) SaveRecipe(ctx context.Context, r recipe.Recipe, base int, note, cup string) (SavedRecipe, error) {
	kept, err := sh.shelf(ctx)
	if err != nil {
		return SavedRecipe{}, err
	}
	isNew := r.UID == ""
	if isNew {
		r.UID, base = newUID(), 0
	}
	if err := r.Check(kept.shelf); err != nil {
		return SavedRecipe{}, err
	}
	if err := measure.CheckLine("note", note); err != nil {
		return SavedRecipe{}, err
	}
	uid, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		if isNew {
			if err := addRecipe(ctx, tx, sh.id, r.UID); err != nil {
				return "", err
			}
		}
		if err := saveRevision(ctx, tx, sh.id, r, base, note, kept); err != nil {
			return "", err
		}
		if cup == "" {
			return r.UID, nil
		}
		_, err := tx.ExecContext(
			ctx, "UPDATE cup SET recipe_uid = ?, recipe_revision = ? WHERE shop_id = ? AND uid = ?", r.UID, base+1,
			sh.id, cup,
		)
		return r.UID, err
	})
	if err != nil {
		return SavedRecipe{}, err
	}
	return sh.Recipe(ctx, uid)
}

func addRecipe(ctx context.Context, tx *sql.Tx, shop int64, uid string) error {
	_, err := tx.ExecContext(ctx, "INSERT INTO recipe (shop_id, uid, revision) VALUES (?, ?, 0)", shop, uid)
	return err
}

func saveRevision(
	ctx context.Context, tx *sql.Tx, shop int64, r recipe.Recipe, base int, note string, of *keptShelf,
) error {
	var now int
	err := tx.QueryRowContext(
		ctx, "SELECT revision FROM recipe WHERE shop_id = ? AND uid = ? FOR UPDATE", shop, r.UID,
	).Scan(&now)
	if err != nil {
		return notFound(err)
	}
	if now != base {
		return ErrStale
	}
	var target any // NULL where there is none
	if r.Target != nil {
		if target, err = targetForm.write(r.Target); err != nil {
			return err
		}
	}
	next := now + 1
	var tags any
	if len(r.Tags) > 0 {
		if tags, err = listForm.write(r.Tags); err != nil {
			return err
		}
	}
	// Its colours are kept with it, unless a material came or changed since the shelf was read.
	var seenDoc any
	near := []any{nil, nil, nil}
	sums, err := sumsOf(ctx, tx, shop, "LOCK IN SHARE MODE")
	if err != nil {
		return err
	}
	if sums == of.sums && !of.behind {
		s, err := see(&SavedRecipe{Recipe: r}, of.shelf)
		if err != nil {
			return err
		}
		if seenDoc, err = seenForm.write(s); err != nil {
			return err
		}
		near = s.near()
	}
	if _, err := tx.ExecContext(ctx, `INSERT INTO recipe_revision
		(shop_id, recipe_uid, revision, name, notes, volume_typed, volume_ml, plastisol_uid, work_c, target, tags, credit, own_use, fork_of, note, seen)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
		shop, r.UID, next, r.Name, r.Notes, r.Volume.Typed, r.Volume.ML, r.Plastisol, r.WorkC, target, tags, r.Credit, r.OwnUse, r.ForkOf, note, seenDoc); err != nil {
		return err
	}
	for i, d := range r.Doses {
		row, err := doseValues(d, of.shelf)
		if err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO recipe_dose (shop_id, recipe_uid, revision, position, `+doseColumns+`)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, append([]any{shop, r.UID, next, i}, row...)...); err != nil {
			return err
		}
	}
	_, err = tx.ExecContext(ctx, `UPDATE recipe r JOIN recipe_revision v ON v.shop_id = r.shop_id AND v.recipe_uid = r.uid AND v.revision = ?
		SET r.revision = v.revision, r.saved_at = v.saved_at, r.near_l = ?, r.near_a = ?, r.near_b = ? WHERE r.shop_id = ? AND r.uid = ?`,
		append(append([]any{next}, near...), shop, r.UID)...)
	return err
}

// doseColumns hold a dose twice: as typed and entered, and as true volume and mass.
const doseColumns = "material_uid, typed, amount, unit, low, high, ml, grams"

func doseValues(d cup.Dose, shelf cup.Shelf) ([]any, error) {
	m := shelf[d.Material]
	ml, grams, err := m.Take(d.Amount)
	return []any{d.Material, d.Typed, d.Amount.Value, d.Amount.Unit, d.Amount.Low, d.Amount.High, ml, grams}, err
}

// doseTargets are where a row of material, typed, amount, unit, low and high is scanned to.
func doseTargets(d *cup.Dose) []any {
	a := &d.Amount
	return []any{&d.Material, &d.Typed, &a.Value, &a.Unit, &a.Low, &a.High}
}

// Imported says what an import did.
type Imported struct {
	Recipe       SavedRecipe `json:"recipe"`
	NewMaterials int         `json:"newMaterials" doc:"Bottles that came with the file and were not on the shelf"`
	Renamed      bool        `json:"renamed" doc:"A recipe of this uid was there already, with other contents; this one was kept beside it"`
	AlreadyThere bool        `json:"alreadyThere" doc:"The very same recipe was there; nothing was stored"`
}

// Import keeps a recipe file's recipe and the materials it brings, all or nothing. What is there already stays
// as it is: a bottle or recipe of the same uid but other contents comes in beside it under a new uid.
func (sh *Shop) Import(ctx context.Context, doc format.Document) (Imported, error) {
	var out Imported
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return out, err
	}
	r := doc.Recipe
	var bring []material.Material
	for _, m := range doc.Materials {
		have, there := shelf[m.UID]
		switch {
		case there && reflect.DeepEqual(have, m):
			continue
		case there:
			old := m.UID
			m.UID = newUID()
			r.Cup = renameMaterial(r.Cup, old, m.UID)
			for i := range doc.Materials { // a dilution follows the bottle that it was cut from
				if c := doc.Materials[i].Colourant; c != nil {
					for j := range c.Contains {
						if c.Contains[j].Material == old {
							c.Contains[j].Material = m.UID
						}
					}
				}
			}
		}
		shelf[m.UID] = m
		bring = append(bring, m)
	}
	if have, err := sh.Recipe(ctx, r.UID); err == nil {
		if reflect.DeepEqual(have.Recipe, r) {
			uid, err := sh.write(ctx, func(*sql.Tx) (string, error) { return "there " + have.UID, nil })
			return sh.imported(ctx, uid, err)
		}
		out.Renamed = true
		r.UID = newUID()
	} else if !errors.Is(err, ErrNotFound) {
		return out, err
	}
	made, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		for _, m := range bring {
			if err := addMaterial(ctx, tx, sh.id, m); err != nil {
				return "", err
			}
		}
		if err := addRecipe(ctx, tx, sh.id, r.UID); err != nil {
			return "", err
		}
		return fmt.Sprintf("%d %t %s", len(bring), out.Renamed, r.UID), saveRevision(
			ctx, tx, sh.id, r, 0, "", &keptShelf{shelf: shelf},
		)
	})
	return sh.imported(ctx, made, err)
}

// imported reads what an import did from the result of its action.
func (sh *Shop) imported(ctx context.Context, did string, err error) (Imported, error) {
	var out Imported
	if err != nil {
		return out, err
	}
	words := strings.Fields(did)
	if len(words) == 3 {
		out.NewMaterials, _ = strconv.Atoi(words[0])
		out.Renamed = words[1] == "true"
	} else {
		out.AlreadyThere = true
	}
	out.Recipe, err = sh.Recipe(ctx, words[len(words)-1])
	return out, err
}

func renameMaterial(c cup.Cup, old, now string) cup.Cup {
	if c.Plastisol == old {
		c.Plastisol = now
	}
	doses := append([]cup.Dose{}, c.Doses...)
	for i := range doses {
		if doses[i].Material == old {
			doses[i].Material = now
		}
	}
	c.Doses = doses
	return c
}
