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
	SavedAt  time.Time `json:"savedAt"`
}

const recipeColumns = `r.recipe_uid, r.revision, r.name, r.notes, r.volume_typed, r.volume_ml, r.plastisol_uid, r.target, r.saved_at`

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
		var target []byte
		if err := rows.Scan(&r.UID, &r.Revision, &r.Name, &r.Notes, &r.Volume.Typed, &r.Volume.ML, &r.Plastisol, &target, &r.SavedAt); err != nil {
			return nil, err
		}
		if err := fromJSON(target, &r.Target); err != nil {
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
	query, args := `SELECT recipe_uid, revision, material_uid, typed, drops FROM recipe_dose WHERE shop_id = ?`, []any{sh.id}
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
		if err := rows.Scan(&uid, &revision, &d.Material, &d.Typed, &d.Drops); err != nil {
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
func (sh *Shop) SaveRecipe(ctx context.Context, r recipe.Recipe, base int) (SavedRecipe, error) {
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
		return saveRevision(ctx, tx, sh.id, r, base, shelf)
	})
	if err != nil {
		return SavedRecipe{}, err
	}
	return sh.Recipe(ctx, r.UID)
}

func saveRevision(ctx context.Context, tx *sql.Tx, shop int64, r recipe.Recipe, base int, shelf recipe.Shelf) error {
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
	if _, err := tx.ExecContext(ctx, `INSERT INTO recipe_revision
		(shop_id, recipe_uid, revision, name, notes, volume_typed, volume_ml, plastisol_uid, target) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
		shop, r.UID, next, r.Name, r.Notes, r.Volume.Typed, r.Volume.ML, r.Plastisol, target); err != nil {
		return err
	}
	for i, d := range r.Doses {
		if _, err := tx.ExecContext(ctx, `INSERT INTO recipe_dose
			(shop_id, recipe_uid, revision, position, material_uid, typed, drops, ml) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
			shop, r.UID, next, i, d.Material, d.Typed, d.Drops, d.Drops*shelf[d.Material].Colourant.DropML.Value); err != nil {
			return err
		}
	}
	_, err = tx.ExecContext(ctx, "UPDATE recipe SET revision = ? WHERE shop_id = ? AND uid = ?", next, shop, r.UID)
	return err
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
		return saveRevision(ctx, tx, sh.id, r, 0, shelf)
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
