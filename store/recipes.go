package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"reflect"
	"time"

	"cloudburst/core/material"
	"cloudburst/core/recipe"
	"cloudburst/format"
)

// SavedRecipe is a recipe with its place in the history of its saves.
type SavedRecipe struct {
	recipe.Recipe
	Revision int       `json:"revision" doc:"Counts the saves; send it back with the next one"`
	Note     string    `json:"note,omitempty" doc:"Why this version"`
	SavedAt  time.Time `json:"savedAt"`
}

const recipeColumns = `r.recipe_uid, r.revision, r.name, r.notes, r.volume_typed, r.volume_ml, r.plastisol_uid, r.work_c, r.target, r.tags, r.credit, r.own_use, r.fork_of, r.note, r.saved_at`

// Recipes lists every recipe at its newest revision, last saved first.
func (sh *Shop) Recipes(ctx context.Context) ([]SavedRecipe, error) {
	return sh.recipes(ctx, `SELECT `+recipeColumns+` FROM recipe JOIN recipe_revision r
		ON r.shop_id = recipe.shop_id AND r.recipe_uid = recipe.uid AND r.revision = recipe.revision
		WHERE recipe.shop_id = ? ORDER BY r.saved_at DESC, r.recipe_uid`, sh.id)
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
	at := map[string]int{}
	for rows.Next() {
		var r SavedRecipe
		var target, tags []byte
		if err := rows.Scan(&r.UID, &r.Revision, &r.Name, &r.Notes, &r.Volume.Typed, &r.Volume.ML, &r.Plastisol, &r.WorkC, &target,
			&tags, &r.Credit, &r.OwnUse, &r.ForkOf, &r.Note, &r.SavedAt); err != nil {
			return nil, err
		}
		if err := errors.Join(fromJSON(target, &r.Target), fromJSON(tags, &r.Tags)); err != nil {
			return nil, err
		}
		r.Doses = []recipe.Dose{}
		at[doseKey(r.UID, r.Revision)] = len(list)
		list = append(list, r)
	}
	if err := rows.Err(); err != nil || len(list) == 0 {
		return list, err
	}
	return list, sh.addDoses(ctx, list, at)
}

func doseKey(uid string, revision int) string { return fmt.Sprint(uid, "/", revision) }

func (sh *Shop) addDoses(ctx context.Context, list []SavedRecipe, at map[string]int) error {
	query, args := `SELECT recipe_uid, revision, material_uid, typed, amount, unit, low, high FROM recipe_dose WHERE shop_id = ?`, []any{sh.id}
	if len(list) == 1 {
		query, args = query+` AND recipe_uid = ? AND revision = ?`, append(args, list[0].UID, list[0].Revision)
	}
	rows, err := sh.db.QueryContext(ctx, query+` ORDER BY recipe_uid, revision, position`, args...)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		var uid string
		var revision int
		var d recipe.Dose
		if err := rows.Scan(append([]any{&uid, &revision}, doseTargets(&d)...)...); err != nil {
			return err
		}
		if i, wanted := at[doseKey(uid, revision)]; wanted {
			list[i].Doses = append(list[i].Doses, d)
		}
	}
	return rows.Err()
}

// SaveRecipe keeps a recipe. Without a uid it is a new one. Otherwise `base` is the revision it was changed
// from: if that is no longer the newest, nothing is stored and ErrStale is returned.
func (sh *Shop) SaveRecipe(ctx context.Context, r recipe.Recipe, base int, note string) (SavedRecipe, error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return SavedRecipe{}, err
	}
	isNew := r.UID == ""
	if isNew {
		r.UID, base = newUID(), 0
	}
	if err := r.Check(shelf); err != nil {
		return SavedRecipe{}, err
	}
	err = inTx(ctx, sh.db, func(tx *sql.Tx) error {
		if isNew {
			if _, err := tx.ExecContext(ctx, "INSERT INTO recipe (shop_id, uid, revision) VALUES (?, ?, 0)", sh.id, r.UID); err != nil {
				return err
			}
		}
		return saveRevision(ctx, tx, sh.id, r, base, note, shelf)
	})
	if err != nil {
		return SavedRecipe{}, err
	}
	return sh.Recipe(ctx, r.UID)
}

func saveRevision(ctx context.Context, tx *sql.Tx, shop int64, r recipe.Recipe, base int, note string, shelf recipe.Shelf) error {
	var now int
	err := tx.QueryRowContext(ctx, "SELECT revision FROM recipe WHERE shop_id = ? AND uid = ? FOR UPDATE", shop, r.UID).Scan(&now)
	if err != nil {
		return notFound(err)
	}
	if now != base {
		return ErrStale
	}
	var target any // NULL where there is none
	if r.Target != nil {
		if target, err = asJSON(r.Target); err != nil {
			return err
		}
	}
	next := now + 1
	var tags any
	if len(r.Tags) > 0 {
		if tags, err = asJSON(r.Tags); err != nil {
			return err
		}
	}
	if _, err := tx.ExecContext(ctx, `INSERT INTO recipe_revision
		(shop_id, recipe_uid, revision, name, notes, volume_typed, volume_ml, plastisol_uid, work_c, target, tags, credit, own_use, fork_of, note)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
		shop, r.UID, next, r.Name, r.Notes, r.Volume.Typed, r.Volume.ML, r.Plastisol, r.WorkC, target, tags, r.Credit, r.OwnUse, r.ForkOf, note); err != nil {
		return err
	}
	for i, d := range r.Doses {
		row, err := doseValues(d, shelf)
		if err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO recipe_dose (shop_id, recipe_uid, revision, position, `+doseColumns+`)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, append([]any{shop, r.UID, next, i}, row...)...); err != nil {
			return err
		}
	}
	_, err = tx.ExecContext(ctx, "UPDATE recipe SET revision = ? WHERE shop_id = ? AND uid = ?", next, shop, r.UID)
	return err
}

// doseColumns hold a dose twice: as typed and entered, and as true volume and mass.
const doseColumns = "material_uid, typed, amount, unit, low, high, ml, grams"

func doseValues(d recipe.Dose, shelf recipe.Shelf) ([]any, error) {
	m := shelf[d.Material]
	ml, grams, err := m.Take(d.Amount)
	return []any{d.Material, d.Typed, d.Amount.Value, d.Amount.Unit, d.Amount.Low, d.Amount.High, ml, grams}, err
}

// doseTargets are where a row of material, typed, amount, unit, low and high is scanned to.
func doseTargets(d *recipe.Dose) []any {
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
			return Imported{Recipe: have, AlreadyThere: true}, nil
		}
		out.Renamed = true
		r.UID = newUID()
	} else if !errors.Is(err, ErrNotFound) {
		return out, err
	}
	err = inTx(ctx, sh.db, func(tx *sql.Tx) error {
		for _, m := range bring {
			if err := addMaterial(ctx, tx, sh.id, m); err != nil {
				return err
			}
		}
		if _, err := tx.ExecContext(ctx, "INSERT INTO recipe (shop_id, uid, revision) VALUES (?, ?, 0)", sh.id, r.UID); err != nil {
			return err
		}
		return saveRevision(ctx, tx, sh.id, r, 0, "", shelf)
	})
	if err != nil {
		return out, err
	}
	out.NewMaterials = len(bring)
	out.Recipe, err = sh.Recipe(ctx, r.UID)
	return out, err
}

func renameMaterial(c recipe.Cup, old, now string) recipe.Cup {
	if c.Plastisol == old {
		c.Plastisol = now
	}
	doses := append([]recipe.Dose{}, c.Doses...)
	for i := range doses {
		if doses[i].Material == old {
			doses[i].Material = now
		}
	}
	c.Doses = doses
	return c
}
