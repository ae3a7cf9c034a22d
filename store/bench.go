package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"time"

	"cloudburst/core/recipe"
)

// BenchCup is a cup on the bench: its contents, where it stands in its own history, and the recipe it belongs to.
type BenchCup struct {
	UID            string        `json:"uid"`
	Cup            recipe.Vessel `json:"cup"`
	Head           int           `json:"head" doc:"Counts the steps taken; send it with a step that sets something"`
	CanUndo        bool          `json:"canUndo"`
	CanRedo        bool          `json:"canRedo"`
	RecipeUID      string        `json:"recipeUID,omitempty"`
	RecipeRevision int           `json:"recipeRevision,omitempty"`
	Merged         bool          `json:"merged" doc:"Another device changed this cup since it was last seen here"`
}

// NewCup puts a cup on the bench, on its own or poured from a recipe.
func (sh *Shop) NewCup(ctx context.Context, c recipe.Vessel, from *SavedRecipe) (BenchCup, error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return BenchCup{}, err
	}
	if c.Doses == nil {
		c.Doses = []recipe.Dose{}
	}
	if err := c.Check(shelf); err != nil {
		return BenchCup{}, err
	}
	var recipeUID, revision any
	if from != nil {
		recipeUID, revision = from.UID, from.Revision
	}
	uid, err := newCup(ctx, sh.db, sh.id, c, recipeUID, revision)
	if err != nil {
		return BenchCup{}, err
	}
	return sh.Cup(ctx, uid)
}

func newCup(ctx context.Context, db execer, shop int64, c recipe.Vessel, recipeUID, revision any) (string, error) {
	start, err := asJSON(c)
	if err != nil {
		return "", err
	}
	uid := newUID()
	_, err = db.ExecContext(ctx, "INSERT INTO cup (shop_id, uid, start, recipe_uid, recipe_revision) VALUES (?, ?, ?, ?, ?)",
		shop, uid, start, recipeUID, revision)
	return uid, err
}

// CupLabel is a cup on the bench, in short.
type CupLabel struct {
	UID       string        `json:"uid"`
	Cup       recipe.Vessel `json:"cup"`
	Recipe    string        `json:"recipe,omitempty" doc:"Name of the recipe that it was poured from"`
	TouchedAt time.Time     `json:"touchedAt"`
}

// Cups lists the cups that were touched last, at most `most` of them.
func (sh *Shop) Cups(ctx context.Context, most int) ([]CupLabel, error) {
	rows, err := sh.db.QueryContext(ctx, `SELECT c.uid, COALESCE(s.after, c.start), COALESCE(r.name, ''), c.touched_at
		FROM cup c LEFT JOIN recipe_revision r ON r.shop_id = c.shop_id AND r.recipe_uid = c.recipe_uid AND r.revision = c.recipe_revision
		LEFT JOIN cup_step s ON s.shop_id = c.shop_id AND s.cup_uid = c.uid AND s.n = c.head
		WHERE c.shop_id = ? AND NOT c.gone ORDER BY c.touched_at DESC LIMIT ?`, sh.id, most)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	list := []CupLabel{}
	for rows.Next() {
		var l CupLabel
		var doc []byte
		if err := rows.Scan(&l.UID, &doc, &l.Recipe, &l.TouchedAt); err != nil {
			return nil, err
		}
		if err := fromJSON(doc, &l.Cup); err != nil {
			return nil, err
		}
		list = append(list, l)
	}
	return list, rows.Err()
}

// Steps lists what was done to a cup so far, with its contents at the start. What was undone is left out.
func (sh *Shop) Steps(ctx context.Context, uid string) (start recipe.Vessel, steps []recipe.Timed, err error) {
	var doc []byte
	var head int
	if err = sh.db.QueryRowContext(ctx, "SELECT start, head FROM cup WHERE shop_id = ? AND uid = ?", sh.id, uid).Scan(&doc, &head); err != nil {
		return start, nil, notFound(err)
	}
	if err = fromJSON(doc, &start); err != nil {
		return start, nil, err
	}
	rows, err := sh.db.QueryContext(ctx, "SELECT step, after, taken_at FROM cup_step WHERE shop_id = ? AND cup_uid = ? AND n <= ? ORDER BY n", sh.id, uid, head)
	if err != nil {
		return start, nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var step, after []byte
		var t recipe.Timed
		var taken time.Time
		var v recipe.Vessel
		if err := rows.Scan(&step, &after, &taken); err != nil {
			return start, nil, err
		}
		if err := errors.Join(fromJSON(step, &t.Step), fromJSON(after, &v)); err != nil {
			return start, nil, err
		}
		t.After, t.AtMS = v.Cup, t.Step.AtMS
		if t.AtMS == 0 {
			t.AtMS = taken.UnixMilli()
		}
		steps = append(steps, t)
	}
	return start, steps, rows.Err()
}

// LatestCup is the cup that was touched last. ErrNotFound if the bench is empty.
func (sh *Shop) LatestCup(ctx context.Context) (string, error) {
	var uid string
	err := sh.db.QueryRowContext(ctx, "SELECT uid FROM cup WHERE shop_id = ? AND NOT gone ORDER BY touched_at DESC LIMIT 1", sh.id).Scan(&uid)
	return uid, notFound(err)
}

// Cup is one cup as it stands.
func (sh *Shop) Cup(ctx context.Context, uid string) (BenchCup, error) {
	return readCup(ctx, sh.db, sh.id, uid, "")
}

type queryer interface {
	QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row
}

func readCup(ctx context.Context, db queryer, shop int64, uid, lock string) (BenchCup, error) {
	b := BenchCup{UID: uid}
	var doc []byte
	var last int
	var recipeUID sql.NullString
	var revision sql.NullInt64
	err := db.QueryRowContext(ctx, `SELECT c.head, c.recipe_uid, c.recipe_revision, COALESCE(s.after, c.start),
			(SELECT COALESCE(MAX(n), 0) FROM cup_step WHERE shop_id = c.shop_id AND cup_uid = c.uid)
		FROM cup c LEFT JOIN cup_step s ON s.shop_id = c.shop_id AND s.cup_uid = c.uid AND s.n = c.head
		WHERE c.shop_id = ? AND c.uid = ? AND NOT c.gone `+lock, shop, uid).Scan(&b.Head, &recipeUID, &revision, &doc, &last)
	if err != nil {
		return b, notFound(err)
	}
	b.CanUndo, b.CanRedo = b.Head > 0, b.Head < last
	b.RecipeUID, b.RecipeRevision = recipeUID.String, int(revision.Int64)
	return b, fromJSON(doc, &b.Cup)
}

// Step takes one step on a cup and keeps it at once. stepUID is made by the device: sent twice, it counts once.
// seen is the head that the device last saw. If others changed the cup since, a step that only adds is merged,
// and one that sets something is refused with ErrStale.
func (sh *Shop) Step(ctx context.Context, uid, stepUID string, seen int, step recipe.Step) (BenchCup, error) {
	kit, err := sh.Kit(ctx)
	if err != nil {
		return BenchCup{}, err
	}
	return sh.step(ctx, uid, stepUID, seen, step, func(_ *sql.Tx, v recipe.Vessel, shelf recipe.Shelf) (taken, error) {
		after, err := step.Apply(v, shelf, kit)
		return taken{after: after}, err
	})
}

// taken is what a step came to: the cup after it, and the second cup that it concerns.
type taken struct {
	after     recipe.Vessel
	other     any // uid, or NULL
	otherHead any
}

func (sh *Shop) step(ctx context.Context, uid, stepUID string, seen int, step recipe.Step, do func(*sql.Tx, recipe.Vessel, recipe.Shelf) (taken, error)) (BenchCup, error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return BenchCup{}, err
	}
	stepDoc, err := asJSON(step)
	if err != nil {
		return BenchCup{}, err
	}
	merged := false
	err = inTx(ctx, sh.db, func(tx *sql.Tx) error {
		b, err := readCup(ctx, tx, sh.id, uid, "FOR UPDATE")
		if err != nil {
			return err
		}
		var done int
		err = tx.QueryRowContext(ctx, "SELECT n FROM cup_step WHERE shop_id = ? AND cup_uid = ? AND step_uid = ?", sh.id, uid, stepUID).Scan(&done)
		if err == nil || !errors.Is(err, sql.ErrNoRows) {
			return err // taken already, or an error
		}
		if merged = seen != b.Head; merged && !step.Merges() {
			return ErrStale
		}
		got, err := do(tx, b.Cup, shelf)
		if err != nil {
			return err
		}
		afterDoc, err := asJSON(got.after)
		if err != nil {
			return err
		}
		// What was undone is given up once something new is done.
		if _, err := tx.ExecContext(ctx, "DELETE FROM cup_step WHERE shop_id = ? AND cup_uid = ? AND n > ?", sh.id, uid, b.Head); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO cup_step (shop_id, cup_uid, n, step_uid, step, after, other_cup, other_head)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?)`, sh.id, uid, b.Head+1, stepUID, stepDoc, afterDoc, got.other, got.otherHead); err != nil {
			return err
		}
		return moveHead(ctx, tx, sh.id, uid, b.Head+1)
	})
	if err != nil {
		return BenchCup{}, err
	}
	b, err := sh.Cup(ctx, uid)
	b.Merged = merged
	return b, err
}

// Split parts a cup in two. The second cup belongs to the same recipe; its uid is returned.
func (sh *Shop) Split(ctx context.Context, uid, stepUID string, seen int, share float64) (b BenchCup, other string, err error) {
	step := recipe.Step{Kind: recipe.SplitOff, Typed: fmt.Sprintf("%.6g %%", 100*share)}
	b, err = sh.step(ctx, uid, stepUID, seen, step, func(tx *sql.Tx, v recipe.Vessel, _ recipe.Shelf) (taken, error) {
		rest, second, err := v.Split(share)
		if err != nil {
			return taken{}, err
		}
		var recipeUID sql.NullString
		var revision sql.NullInt64
		if err := tx.QueryRowContext(ctx, "SELECT recipe_uid, recipe_revision FROM cup WHERE shop_id = ? AND uid = ?", sh.id, uid).Scan(&recipeUID, &revision); err != nil {
			return taken{}, err
		}
		other, err = newCup(ctx, tx, sh.id, second, recipeUID, revision)
		return taken{rest, other, 0}, err
	})
	if err == nil && other == "" { // sent twice: the second cup is there already
		err = sh.db.QueryRowContext(ctx, "SELECT other_cup FROM cup_step WHERE shop_id = ? AND cup_uid = ? AND step_uid = ?", sh.id, uid, stepUID).Scan(&other)
	}
	return b, other, err
}

// Merge pours all of another cup into this one; the other leaves the bench.
func (sh *Shop) Merge(ctx context.Context, uid, stepUID string, seen int, from string) (BenchCup, error) {
	if from == uid {
		return BenchCup{}, &recipe.Fault{Field: "other", Says: "A cup can't be poured into itself; choose another one."}
	}
	return sh.step(ctx, uid, stepUID, seen, recipe.Step{Kind: recipe.MergeIn}, func(tx *sql.Tx, v recipe.Vessel, shelf recipe.Shelf) (taken, error) {
		other, err := readCup(ctx, tx, sh.id, from, "FOR UPDATE")
		if err != nil {
			return taken{}, err
		}
		sum := v.Merge(other.Cup, shelf)
		if err := sum.Check(shelf); err != nil {
			return taken{}, err
		}
		return taken{sum, from, other.Head}, setGone(ctx, tx, sh.id, from, true)
	})
}

func setGone(ctx context.Context, tx *sql.Tx, shop int64, uid string, gone bool) error {
	_, err := tx.ExecContext(ctx, "UPDATE cup SET gone = ? WHERE shop_id = ? AND uid = ?", gone, shop, uid)
	return err
}

// ErrWorkedOn is returned where a step can't be taken back because the second cup has been worked on since.
var ErrWorkedOn = errors.New("the second cup has been worked on since")

// Rewind moves a cup along its own history; by is -1 (undo) or 1 (redo). At an end nothing happens. seen is the head
// that the device last saw, so that nobody undoes what somebody else has just done. rewindUID is made by the device:
// sent twice in a row, it counts once.
func (sh *Shop) Rewind(ctx context.Context, uid, rewindUID string, seen, by int) (BenchCup, error) {
	if by != 1 && by != -1 {
		return BenchCup{}, fmt.Errorf("rewinding by %d", by)
	}
	err := inTx(ctx, sh.db, func(tx *sql.Tx) error {
		b, err := readCup(ctx, tx, sh.id, uid, "FOR UPDATE")
		if err != nil {
			return err
		}
		var last string
		if err := tx.QueryRowContext(ctx, "SELECT rewind_uid FROM cup WHERE shop_id = ? AND uid = ?", sh.id, uid).Scan(&last); err != nil {
			return err
		}
		switch {
		case last == rewindUID:
			return nil
		case b.Head != seen:
			return ErrStale
		case by < 0 && !b.CanUndo, by > 0 && !b.CanRedo:
			return nil
		}
		if err := turnOther(ctx, tx, sh.id, uid, max(b.Head, b.Head+by), by); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, "UPDATE cup SET rewind_uid = ? WHERE shop_id = ? AND uid = ?", rewindUID, sh.id, uid); err != nil {
			return err
		}
		return moveHead(ctx, tx, sh.id, uid, b.Head+by)
	})
	if err != nil {
		return BenchCup{}, err
	}
	return sh.Cup(ctx, uid)
}

// turnOther puts the second cup of step n where it belongs when that step is undone or done again: the child of a split
// is there only while the split is, and a cup that was poured in is gone only while it is in.
func turnOther(ctx context.Context, tx *sql.Tx, shop int64, uid string, n, by int) error {
	var other, kind sql.NullString
	var head sql.NullInt64
	err := tx.QueryRowContext(ctx, "SELECT other_cup, other_head, JSON_VALUE(step, '$.kind') FROM cup_step WHERE shop_id = ? AND cup_uid = ? AND n = ?",
		shop, uid, n).Scan(&other, &head, &kind)
	if err != nil || !other.Valid {
		return err
	}
	var now int
	var gone bool
	if err := tx.QueryRowContext(ctx, "SELECT head, gone FROM cup WHERE shop_id = ? AND uid = ? FOR UPDATE", shop, other.String).Scan(&now, &gone); err != nil {
		return err
	}
	wasGone := (kind.String == string(recipe.SplitOff)) == (by > 0) // before this move
	if now != int(head.Int64) || gone != wasGone {
		return ErrWorkedOn
	}
	return setGone(ctx, tx, shop, other.String, !wasGone)
}

func moveHead(ctx context.Context, tx *sql.Tx, shop int64, uid string, head int) error {
	_, err := tx.ExecContext(ctx, "UPDATE cup SET head = ?, touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?", head, shop, uid)
	return err
}

// Bind makes a cup belong to a saved recipe, so that the next save goes there.
func (sh *Shop) Bind(ctx context.Context, uid string, r SavedRecipe) error {
	_, err := sh.db.ExecContext(ctx, "UPDATE cup SET recipe_uid = ?, recipe_revision = ? WHERE shop_id = ? AND uid = ?", r.UID, r.Revision, sh.id, uid)
	return err
}
