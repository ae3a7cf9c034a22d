package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"

	"cloudburst/core/recipe"
)

// BenchCup is a cup on the bench: its contents, where it stands in its own history, and the recipe it belongs to.
type BenchCup struct {
	UID            string     `json:"uid"`
	Cup            recipe.Cup `json:"cup"`
	Head           int        `json:"head" doc:"Counts the steps taken; send it with a step that sets something"`
	CanUndo        bool       `json:"canUndo"`
	CanRedo        bool       `json:"canRedo"`
	RecipeUID      string     `json:"recipeUID,omitempty"`
	RecipeRevision int        `json:"recipeRevision,omitempty"`
	Merged         bool       `json:"merged" doc:"Another device changed this cup since it was last seen here"`
}

// NewCup puts a cup on the bench, on its own or poured from a recipe.
func (sh *Shop) NewCup(ctx context.Context, c recipe.Cup, from *SavedRecipe) (BenchCup, error) {
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
	start, err := asJSON(c)
	if err != nil {
		return BenchCup{}, err
	}
	uid := newUID()
	var recipeUID, revision any
	if from != nil {
		recipeUID, revision = from.UID, from.Revision
	}
	_, err = sh.db.ExecContext(ctx, "INSERT INTO cup (shop_id, uid, start, recipe_uid, recipe_revision) VALUES (?, ?, ?, ?, ?)",
		sh.id, uid, start, recipeUID, revision)
	if err != nil {
		return BenchCup{}, err
	}
	return sh.Cup(ctx, uid)
}

// LatestCup is the cup that was touched last. ErrNotFound if the bench is empty.
func (sh *Shop) LatestCup(ctx context.Context) (string, error) {
	var uid string
	err := sh.db.QueryRowContext(ctx, "SELECT uid FROM cup WHERE shop_id = ? ORDER BY touched_at DESC LIMIT 1", sh.id).Scan(&uid)
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
		WHERE c.shop_id = ? AND c.uid = ? `+lock, shop, uid).Scan(&b.Head, &recipeUID, &revision, &doc, &last)
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
		after, err := step.Apply(b.Cup, shelf)
		if err != nil {
			return err
		}
		afterDoc, err := asJSON(after)
		if err != nil {
			return err
		}
		// What was undone is given up once something new is done.
		if _, err := tx.ExecContext(ctx, "DELETE FROM cup_step WHERE shop_id = ? AND cup_uid = ? AND n > ?", sh.id, uid, b.Head); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, "INSERT INTO cup_step (shop_id, cup_uid, n, step_uid, step, after) VALUES (?, ?, ?, ?, ?, ?)",
			sh.id, uid, b.Head+1, stepUID, stepDoc, afterDoc); err != nil {
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

// Undo and Redo move a cup along its own history; by is -1 or 1. At an end nothing happens. seen is the head
// that the device last saw, so that nobody undoes what somebody else has just done.
func (sh *Shop) Rewind(ctx context.Context, uid string, seen, by int) (BenchCup, error) {
	if by != 1 && by != -1 {
		return BenchCup{}, fmt.Errorf("rewinding by %d", by)
	}
	err := inTx(ctx, sh.db, func(tx *sql.Tx) error {
		b, err := readCup(ctx, tx, sh.id, uid, "FOR UPDATE")
		switch {
		case err != nil:
			return err
		case b.Head != seen:
			return ErrStale
		case by < 0 && !b.CanUndo, by > 0 && !b.CanRedo:
			return nil
		}
		return moveHead(ctx, tx, sh.id, uid, b.Head+by)
	})
	if err != nil {
		return BenchCup{}, err
	}
	return sh.Cup(ctx, uid)
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
