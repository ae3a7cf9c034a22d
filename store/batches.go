package store

import (
	"context"
	"database/sql"
	"time"

	"cloudburst/core/recipe"
)

// SavedBatch is a test batch with the recipe it was poured from, as that was then.
type SavedBatch struct {
	UID            string `json:"uid"`
	RecipeUID      string `json:"recipeUID"`
	RecipeRevision int    `json:"recipeRevision"`
	RecipeName     string `json:"recipeName"`
	recipe.Batch
	RecordedAt time.Time `json:"recordedAt"`
}

// AddBatch records a batch of a recipe's revision.
func (sh *Shop) AddBatch(ctx context.Context, recipeUID string, revision int, b recipe.Batch) (SavedBatch, error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return SavedBatch{}, err
	}
	r, err := sh.RecipeAt(ctx, recipeUID, revision)
	if err != nil {
		return SavedBatch{}, err
	}
	if err := b.Check(r.Plastisol, shelf); err != nil {
		return SavedBatch{}, err
	}
	uid := newUID()
	err = inTx(ctx, sh.db, func(tx *sql.Tx) error {
		if _, err := tx.ExecContext(ctx, `INSERT INTO batch
			(shop_id, uid, recipe_uid, recipe_revision, poured_on, volume_typed, volume_ml, rested_hours, verdict, photo_uid)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, sh.id, uid, recipeUID, revision, b.PouredOn, b.Volume.Typed, b.Volume.ML,
			b.RestedHours, b.Verdict, sql.NullString{String: b.Photo, Valid: b.Photo != ""}); err != nil {
			return err
		}
		for g, round := range b.Goes {
			for i, d := range round.Doses {
				row, err := doseValues(d, shelf)
				if err != nil {
					return err
				}
				if _, err := tx.ExecContext(ctx, `INSERT INTO batch_dose (shop_id, batch_uid, go_number, position, `+doseColumns+`)
					VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, append([]any{sh.id, uid, g + 1, i}, row...)...); err != nil {
					return err
				}
			}
		}
		return nil
	})
	if err != nil {
		return SavedBatch{}, err
	}
	list, err := sh.batches(ctx, "AND b.uid = ?", uid)
	if err != nil || len(list) == 0 {
		return SavedBatch{}, errOr(err, ErrNotFound)
	}
	return list[0], nil
}

// Batches lists the test batches of one recipe, or of all when uid is empty, newest pour first.
func (sh *Shop) Batches(ctx context.Context, recipeUID string) ([]SavedBatch, error) {
	if recipeUID == "" {
		return sh.batches(ctx, "")
	}
	return sh.batches(ctx, "AND b.recipe_uid = ?", recipeUID)
}

func (sh *Shop) batches(ctx context.Context, where string, args ...any) ([]SavedBatch, error) {
	args = append([]any{sh.id}, args...)
	rows, err := sh.db.QueryContext(ctx, `SELECT b.uid, b.recipe_uid, b.recipe_revision, r.name, b.poured_on, b.volume_typed, b.volume_ml,
			b.rested_hours, b.verdict, COALESCE(b.photo_uid, ''), b.recorded_at
		FROM batch b JOIN recipe_revision r ON r.shop_id = b.shop_id AND r.recipe_uid = b.recipe_uid AND r.revision = b.recipe_revision
		WHERE b.shop_id = ? `+where+` ORDER BY b.poured_on DESC, b.recorded_at DESC`, args...)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	list := []SavedBatch{}
	at := map[string]int{}
	for rows.Next() {
		var b SavedBatch
		var day time.Time
		if err := rows.Scan(&b.UID, &b.RecipeUID, &b.RecipeRevision, &b.RecipeName, &day, &b.Volume.Typed, &b.Volume.ML,
			&b.RestedHours, &b.Verdict, &b.Photo, &b.RecordedAt); err != nil {
			return nil, err
		}
		b.PouredOn, b.Goes = day.Format(time.DateOnly), []recipe.Go{}
		at[b.UID] = len(list)
		list = append(list, b)
	}
	if err := rows.Err(); err != nil || len(list) == 0 {
		return list, err
	}
	return list, sh.addGoes(ctx, list, at, where, args)
}

func (sh *Shop) addGoes(ctx context.Context, list []SavedBatch, at map[string]int, where string, args []any) error {
	rows, err := sh.db.QueryContext(ctx, `SELECT d.batch_uid, d.go_number, d.material_uid, d.typed, d.amount, d.unit, d.low, d.high
		FROM batch_dose d JOIN batch b ON b.shop_id = d.shop_id AND b.uid = d.batch_uid
		WHERE b.shop_id = ? `+where+` ORDER BY d.batch_uid, d.go_number, d.position`, args...)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		var uid string
		var number int
		var d recipe.Dose
		if err := rows.Scan(append([]any{&uid, &number}, doseTargets(&d)...)...); err != nil {
			return err
		}
		b := &list[at[uid]]
		for len(b.Goes) < number {
			b.Goes = append(b.Goes, recipe.Go{Doses: []recipe.Dose{}})
		}
		b.Goes[number-1].Doses = append(b.Goes[number-1].Doses, d)
	}
	return rows.Err()
}
