package store

import (
	"context"
	"database/sql"
	"time"

	"cloudburst/core/cup"
	"cloudburst/core/recipe"
)

// SavedBatch is a test batch with the recipe it was poured from, as that was then.
type SavedBatch struct {
	UID            string `json:"uid"`
	RecipeUID      string `json:"recipeUID"`
	RecipeRevision int    `json:"recipeRevision"`
	RecipeName     string `json:"recipeName"`
	recipe.Batch
	Readings   []SavedReading `json:"readings" nullable:"false" doc:"What was read of it, part by part"`
	RecordedAt time.Time      `json:"recordedAt"`
	Kept       Kept           `json:"kept" enum:"here,away,deleted"`
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
	made, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		uid := newUID()
		if _, err := tx.ExecContext(ctx, `INSERT INTO batch
			(shop_id, uid, recipe_uid, recipe_revision, poured_on, volume_typed, volume_ml, rested_hours, verdict, photo_uid)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, sh.id, uid, recipeUID, revision, b.PouredOn, b.Volume.Typed, b.Volume.ML,
			b.RestedHours, b.Verdict, sql.NullString{String: b.Photo, Valid: b.Photo != ""}); err != nil {
			return "", err
		}
		for g, round := range b.Goes {
			for i, d := range round.Doses {
				row, err := doseValues(d, shelf)
				if err != nil {
					return "", err
				}
				if _, err := tx.ExecContext(ctx, `INSERT INTO batch_dose (shop_id, batch_uid, go_number, position, `+doseColumns+`)
					VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, append([]any{sh.id, uid, g + 1, i}, row...)...); err != nil {
					return "", err
				}
			}
		}
		return uid, nil
	})
	if err != nil {
		return SavedBatch{}, err
	}
	return sh.Batch(ctx, made)
}

// Batch is one of them.
func (sh *Shop) Batch(ctx context.Context, uid string) (SavedBatch, error) {
	list, err := sh.batches(ctx, " AND b.uid = ?", uid)
	if err != nil || len(list) == 0 {
		return SavedBatch{}, errOr(err, ErrNotFound)
	}
	return list[0], nil
}

// Batches lists the test batches of one recipe, or of all when uid is empty, newest pour first.
func (sh *Shop) Batches(ctx context.Context, recipeUID string, page Page) (Listed[SavedBatch], error) {
	where, args, err := page.older("b.poured_on", "b.recorded_at", "b.uid")
	if err != nil {
		return Listed[SavedBatch]{}, err
	}
	if recipeUID != "" {
		where, args = " AND b.recipe_uid = ?"+where, append([]any{recipeUID}, args...)
	}
	list, err := sh.batches(ctx, page.kept("b")+where+" ORDER BY b.poured_on DESC, b.recorded_at DESC, b.uid DESC LIMIT ?", append(args, page.Most+1)...)
	return cut(list, page.Most, func(b *SavedBatch) string {
		return cursorOf(b.PouredOn+" 00:00:00.000000", stamped(b.RecordedAt), b.UID)
	}), err
}

func (sh *Shop) batches(ctx context.Context, where string, args ...any) ([]SavedBatch, error) {
	list := []SavedBatch{}
	err := sh.eachRow(ctx, `SELECT b.uid, b.recipe_uid, b.recipe_revision, r.name, b.poured_on, b.volume_typed, b.volume_ml,
			b.rested_hours, b.verdict, COALESCE(b.photo_uid, ''), b.recorded_at, b.kept
		FROM batch b JOIN recipe_revision r ON r.shop_id = b.shop_id AND r.recipe_uid = b.recipe_uid AND r.revision = b.recipe_revision
		WHERE b.shop_id = ?`+where, append([]any{sh.id}, args...), func(row *sql.Rows) error {
		var b SavedBatch
		var day time.Time
		if err := row.Scan(&b.UID, &b.RecipeUID, &b.RecipeRevision, &b.RecipeName, &day, &b.Volume.Typed, &b.Volume.ML,
			&b.RestedHours, &b.Verdict, &b.Photo, &b.RecordedAt, &b.Kept); err != nil {
			return err
		}
		b.PouredOn, b.Goes, b.Readings = day.Format(time.DateOnly), []cup.Addition{}, []SavedReading{}
		list = append(list, b)
		return nil
	})
	if err != nil || len(list) == 0 {
		return list, err
	}
	if err := sh.addReadings(ctx, list); err != nil {
		return nil, err
	}
	return list, sh.addGoes(ctx, list)
}

func (sh *Shop) addGoes(ctx context.Context, list []SavedBatch) error {
	at := map[string]*SavedBatch{}
	args := []any{sh.id}
	for i := range list {
		at[list[i].UID] = &list[i]
		args = append(args, list[i].UID)
	}
	return sh.eachRow(ctx, `SELECT batch_uid, go_number, material_uid, typed, amount, unit, low, high FROM batch_dose
		WHERE shop_id = ? AND batch_uid IN (`+marks(len(list))+`) ORDER BY batch_uid, go_number, position`, args, func(row *sql.Rows) error {
		var uid string
		var number int
		var d cup.Dose
		if err := row.Scan(append([]any{&uid, &number}, doseTargets(&d)...)...); err != nil {
			return err
		}
		b, there := at[uid]
		if !there {
			return nil
		}
		for len(b.Goes) < number {
			b.Goes = append(b.Goes, cup.Addition{Doses: []cup.Dose{}})
		}
		b.Goes[number-1].Doses = append(b.Goes[number-1].Doses, d)
		return nil
	})
}
