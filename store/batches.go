package store

import (
	"context"
	"database/sql"
	"maps"
	"time"

	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/recipe"
)

// SavedBatch is a test batch with the recipe it was poured from, as that was then.
type SavedBatch struct {
	UID            string `json:"uid"`
	RecipeUID      string `json:"recipeUID,omitempty" doc:"Of the recipe that it was poured from, where it was"`
	RecipeRevision int    `json:"recipeRevision,omitempty"`
	RecipeName     string `json:"recipeName,omitempty"`
	ProjectUID     string `json:"projectUID,omitempty" doc:"Of the project that it was poured for"`
	ProjectName    string `json:"projectName,omitempty"`
	Part           string `json:"part,omitempty" doc:"Of that project"`
	recipe.Batch
	Photos     []string       `json:"photos" nullable:"false" doc:"uids of all photos of it, the first one first"`
	Readings   []SavedReading `json:"readings" nullable:"false" doc:"What was read of it, part by part"`
	RecordedAt time.Time      `json:"recordedAt"`
	Kept       Kept           `json:"kept" enum:"here,away,deleted"`
	known      knownBottles
}

// knownBottles are what batches had taught of some bottles.
type knownBottles struct {
	Bottles map[string]*material.Learned `json:"bottles"` // by uid
}

// KnownThen is a shelf with what batches had taught of the bottles in a batch when it was written down.
func (b *SavedBatch) KnownThen(shelf cup.Shelf) cup.Shelf {
	if len(b.known.Bottles) == 0 {
		return shelf
	}
	shelf = maps.Clone(shelf)
	for uid, l := range b.known.Bottles {
		if m, ok := shelf[uid]; ok {
			shelf[uid] = m.Taught(l)
		}
	}
	return shelf
}

// Origin says what a batch was poured from and what for; each may be left empty.
type Origin struct {
	Recipe        string // uid
	Revision      int
	Project, Part string
}

// AddBatch records a batch. One that was poured from a recipe is of that recipe's plastisol.
func (sh *Shop) AddBatch(ctx context.Context, from Origin, b recipe.Batch) (SavedBatch, error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return SavedBatch{}, err
	}
	if from.Recipe != "" {
		r, err := sh.RecipeAt(ctx, from.Recipe, from.Revision)
		if err != nil {
			return SavedBatch{}, err
		}
		b.Plastisol = r.Plastisol
	}
	if from.Project != "" {
		p, err := sh.Project(ctx, from.Project)
		if err != nil {
			return SavedBatch{}, err
		}
		part, ok := p.Part(from.Part)
		if !ok {
			return SavedBatch{}, measure.Faulty("part", "choose which part of %s it was poured for", p.Name)
		}
		from.Part = part.Name
	}
	made, err := sh.write(ctx, func(tx *sql.Tx) (string, error) { return addBatch(ctx, tx, sh.id, from, &b, shelf) })
	if err != nil {
		return SavedBatch{}, err
	}
	return sh.Batch(ctx, made)
}

func addBatch(
	ctx context.Context, tx *sql.Tx, shop int64, from Origin, b *recipe.Batch, shelf cup.Shelf,
) (uid string, err error) {
	if err := b.Check(shelf); err != nil {
		return "", err
	}
	is := b.Cup(shelf)
	known, outcome, err := batchDocs(&is, &b.Outcome, shelf)
	if err != nil {
		return "", err
	}
	orNone := func(s string) sql.NullString { return sql.NullString{String: s, Valid: s != ""} }
	uid = newUID()
	if _, err := tx.ExecContext(ctx, `INSERT INTO batch
		(shop_id, uid, recipe_uid, recipe_revision, poured_on, volume_typed, volume_ml, rested_hours, verdict, photo_uid,
		plastisol_uid, known, outcome, project_uid, part)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, shop, uid, orNone(from.Recipe), sql.NullInt64{Int64: int64(from.Revision), Valid: from.Recipe != ""},
		b.PouredOn, b.Volume.Typed, b.Volume.ML, b.RestedHours, b.Verdict, orNone(b.Photo),
		b.Plastisol, known, outcome, orNone(from.Project), from.Part); err != nil {
		return "", err
	}
	for g, round := range b.Additions {
		for i, d := range round.Doses {
			row, err := doseValues(d, shelf)
			if err != nil {
				return "", err
			}
			if _, err := tx.ExecContext(ctx, `INSERT INTO batch_dose (shop_id, batch_uid, go_number, position, `+doseColumns+`)
				VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, append([]any{shop, uid, g + 1, i}, row...)...); err != nil {
				return "", err
			}
		}
	}
	return uid, nil
}

// batchDocs are what is known of a batch's bottles, and what came of it, as they are kept.
func batchDocs(is *cup.Cup, o *recipe.Outcome, shelf cup.Shelf) (known, outcome any, err error) {
	of := map[string]*material.Learned{}
	for _, uid := range takesUp(is, shelf) {
		m := shelf[uid]
		if l := m.Learned(); l != nil {
			of[uid] = l
		}
	}
	if len(of) > 0 {
		if known, err = knownForm.write(knownBottles{of}); err != nil {
			return nil, nil, err
		}
	}
	outcome, err = outcomeForm.write(o)
	return known, outcome, err
}

// SetOutcome keeps how a batch was poured and what came of it.
func (sh *Shop) SetOutcome(ctx context.Context, uid string, o recipe.Outcome) (SavedBatch, error) {
	if err := o.Check(); err != nil {
		return SavedBatch{}, err
	}
	doc, err := outcomeForm.write(o)
	if err != nil {
		return SavedBatch{}, err
	}
	if err := sh.change(ctx, func(tx *sql.Tx) error {
		return setOne(
			ctx, tx, "UPDATE batch SET outcome = ? WHERE shop_id = ? AND uid = ? AND kept <> 'deleted'", doc, sh.id,
			uid,
		)
	}); err != nil {
		return SavedBatch{}, err
	}
	return sh.Batch(ctx, uid)
}

// Batch is one of them.
func (sh *Shop) Batch(ctx context.Context, uid string) (SavedBatch, error) {
	list, err := sh.batches(ctx, " AND b.uid = ?", uid)
	if err != nil || len(list) == 0 {
		return SavedBatch{}, errOr(err, ErrNotFound)
	}
	return list[0], nil
}

// Batches lists the test batches of one recipe, of one project, or of all where both are empty, newest pour first.
func (sh *Shop) Batches(ctx context.Context, recipeUID, projectUID string, page Page) (Listed[SavedBatch], error) {
	where, args, err := page.older("b.poured_on", "b.recorded_at", "b.uid")
	if err != nil {
		return Listed[SavedBatch]{}, err
	}
	if recipeUID != "" {
		where, args = " AND b.recipe_uid = ?"+where, append([]any{recipeUID}, args...)
	}
	if projectUID != "" {
		where, args = " AND b.project_uid = ?"+where, append([]any{projectUID}, args...)
	}
	list, err := sh.batches(
		ctx, page.kept("b")+where+" ORDER BY b.poured_on DESC, b.recorded_at DESC, b.uid DESC LIMIT ?",
		append(args, page.Most+1)...,
	)
	return cut(list, page.Most, func(b *SavedBatch) string {
		return cursorOf(b.PouredOn+" 00:00:00.000000", stamped(b.RecordedAt), b.UID)
	}), err
}

func (sh *Shop) batches(ctx context.Context, where string, args ...any) ([]SavedBatch, error) {
	list := []SavedBatch{}
	err := sh.eachRow(ctx, `SELECT b.uid, COALESCE(b.recipe_uid, ''), COALESCE(b.recipe_revision, 0), COALESCE(r.name, ''), b.poured_on, b.volume_typed, b.volume_ml,
			b.rested_hours, b.verdict, COALESCE(b.photo_uid, ''), b.recorded_at, b.kept,
			b.plastisol_uid, b.known, b.outcome, COALESCE(b.project_uid, ''), COALESCE(p.name, ''), b.part
		FROM batch b LEFT JOIN recipe_revision r ON r.shop_id = b.shop_id AND r.recipe_uid = b.recipe_uid AND r.revision = b.recipe_revision
		LEFT JOIN project p ON p.shop_id = b.shop_id AND p.uid = b.project_uid
		WHERE b.shop_id = ?`+where, append([]any{sh.id}, args...), func(row *sql.Rows) error {
		var b SavedBatch
		var day time.Time
		var known, outcome []byte
		if err := row.Scan(&b.UID, &b.RecipeUID, &b.RecipeRevision, &b.RecipeName, &day, &b.Volume.Typed, &b.Volume.ML,
			&b.RestedHours, &b.Verdict, &b.Photo, &b.RecordedAt, &b.Kept,
			&b.Plastisol, &known, &outcome, &b.ProjectUID, &b.ProjectName, &b.Part); err != nil {
			return err
		}
		if err := inTurn(
			func() error { return knownForm.read(known, &b.known) },
			func() error { return outcomeForm.read(outcome, &b.Outcome) },
		); err != nil {
			return err
		}
		b.PouredOn, b.Additions, b.Readings = day.Format(time.DateOnly), []cup.Addition{}, []SavedReading{}
		list = append(list, b)
		return nil
	})
	if err != nil || len(list) == 0 {
		return list, err
	}
	if err := sh.addReadings(ctx, list); err != nil {
		return nil, err
	}
	if err := sh.addPhotos(ctx, list); err != nil {
		return nil, err
	}
	return list, sh.addAdditions(ctx, list)
}

func (sh *Shop) addAdditions(ctx context.Context, list []SavedBatch) error {
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
		for len(b.Additions) < number {
			b.Additions = append(b.Additions, cup.Addition{Doses: []cup.Dose{}})
		}
		b.Additions[number-1].Doses = append(b.Additions[number-1].Doses, d)
		return nil
	})
}
