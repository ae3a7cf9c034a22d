package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"strings"
	"time"

	"cloudburst/core/cup"
	"cloudburst/core/measure"
)

// BenchCup is a cup on the bench: its contents, where it stands in its own history, and the recipe it belongs to.
type BenchCup struct {
	UID            string   `json:"uid"`
	Cup            cup.Live `json:"cup"`
	Head           int      `json:"head" doc:"Counts the steps taken; send it with a step that sets something"`
	CanUndo        bool     `json:"canUndo"`
	CanRedo        bool     `json:"canRedo"`
	RecipeUID      string   `json:"recipeUID,omitempty"`
	RecipeRevision int      `json:"recipeRevision,omitempty"`
	Own            string   `json:"own,omitempty" doc:"The name that it was given"`
	Kept           Kept     `json:"kept" enum:"here,away,deleted"`
	Merged         bool     `json:"merged" doc:"Another device changed this cup since it was last seen here"`
}

// NewCup puts a cup on the bench, on its own or poured from a recipe.
func (sh *Shop) NewCup(ctx context.Context, c cup.Live, from *SavedRecipe) (BenchCup, error) {
	uids, err := sh.NewCups(ctx, []NamedCup{{Live: c}}, from)
	if err != nil {
		return BenchCup{}, err
	}
	return sh.Cup(ctx, uids[0])
}

// NamedCup is a cup with the name that it goes by; empty where it goes by its recipe or contents.
type NamedCup struct {
	cup.Live
	Name string
}

func (c *NamedCup) check(shelf cup.Shelf) error {
	if c.Doses == nil {
		c.Doses = []cup.Dose{}
	}
	if c.Name != "" {
		if err := measure.CheckName("name", "the cup", c.Name, 80); err != nil {
			return err
		}
	}
	return c.Check(shelf)
}

// NewCups puts several cups on the bench, all or none, and gives their uids.
func (sh *Shop) NewCups(ctx context.Context, cups []NamedCup, from *SavedRecipe) ([]string, error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return nil, err
	}
	for i := range cups {
		if err := cups[i].check(shelf); err != nil {
			return nil, err
		}
	}
	var recipeUID, revision any
	if from != nil {
		recipeUID, revision = from.UID, from.Revision
	}
	made, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		var uids []string
		for _, c := range cups {
			uid, err := newCup(ctx, tx, sh.id, c, recipeUID, revision)
			if err != nil {
				return "", err
			}
			uids = append(uids, uid)
		}
		return strings.Join(uids, " "), nil
	})
	return strings.Fields(made), err
}

func newCup(ctx context.Context, tx *sql.Tx, shop int64, c NamedCup, recipeUID, revision any) (string, error) {
	start, err := liveForm.write(c.Live)
	if err != nil {
		return "", err
	}
	uid := newUID()
	_, err = tx.ExecContext(ctx,
		"INSERT INTO cup (shop_id, uid, start, recipe_uid, recipe_revision, name) VALUES (?, ?, ?, ?, ?, ?)",
		shop, uid, start, recipeUID, revision, c.Name)
	return uid, err
}

// CupLabel is a cup on the bench, in short.
type CupLabel struct {
	UID       string    `json:"uid"`
	Cup       cup.Live  `json:"cup"`
	Recipe    string    `json:"recipe,omitempty" doc:"Name of the recipe that it was poured from"`
	TouchedAt time.Time `json:"touchedAt"`
	Own       string    `json:"own,omitempty" doc:"The name that it was given"`
	Kept      Kept      `json:"kept" enum:"here,away,deleted"`
}

const cupLabels = `SELECT c.uid, COALESCE(s.after, c.start), COALESCE(r.name, ''), c.touched_at, c.name, c.kept
	FROM cup c LEFT JOIN recipe_revision r ON r.shop_id = c.shop_id AND r.recipe_uid = c.recipe_uid AND r.revision = c.recipe_revision
	LEFT JOIN cup_step s ON s.shop_id = c.shop_id AND s.cup_uid = c.uid AND s.n = c.head
	WHERE c.shop_id = ? AND NOT c.gone`

// Cups lists the cups on the bench, the one that was touched last first.
func (sh *Shop) Cups(ctx context.Context, page Page) (Listed[CupLabel], error) {
	where, args, err := page.older("c.touched_at", "c.uid")
	if err != nil {
		return Listed[CupLabel]{}, err
	}
	list, err := sh.cupLabels(
		ctx, page.kept("c")+where+" ORDER BY c.touched_at DESC, c.uid DESC LIMIT ?", append(args, page.Most+1)...,
	)
	return cut(list, page.Most, func(l *CupLabel) string { return cursorOf(stamped(l.TouchedAt), l.UID) }), err
}

// CupsNamed are the cups of these uids that are on the bench.
func (sh *Shop) CupsNamed(ctx context.Context, uids []string) ([]CupLabel, error) {
	if len(uids) == 0 {
		return nil, nil
	}
	return sh.cupLabels(ctx, " AND c.uid IN ("+marks(len(uids))+")", anys(uids)...)
}

func (sh *Shop) cupLabels(ctx context.Context, where string, args ...any) ([]CupLabel, error) {
	rows, err := sh.db.QueryContext(ctx, cupLabels+where, append([]any{sh.id}, args...)...)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	list := []CupLabel{}
	for rows.Next() {
		var l CupLabel
		var doc []byte
		if err := rows.Scan(&l.UID, &doc, &l.Recipe, &l.TouchedAt, &l.Own, &l.Kept); err != nil {
			return nil, err
		}
		if err := liveForm.read(doc, &l.Cup); err != nil {
			return nil, err
		}
		list = append(list, l)
	}
	return list, rows.Err()
}

// Steps lists what was done to a cup so far, with its contents at the start. What was undone is left out.
func (sh *Shop) Steps(ctx context.Context, uid string) (start cup.Live, steps []cup.Timed, err error) {
	var doc []byte
	var head int
	if err = sh.db.QueryRowContext(
		ctx, "SELECT start, head FROM cup WHERE shop_id = ? AND uid = ?", sh.id, uid,
	).Scan(&doc, &head); err != nil {
		return start, nil, notFound(err)
	}
	if err = liveForm.read(doc, &start); err != nil {
		return start, nil, err
	}
	rows, err := sh.db.QueryContext(
		ctx, "SELECT step, after, taken_at FROM cup_step WHERE shop_id = ? AND cup_uid = ? AND n <= ? ORDER BY n",
		sh.id, uid,
		head,
	)
	if err != nil {
		return start, nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var step, after []byte
		var t cup.Timed
		var taken time.Time
		var v cup.Live
		if err := rows.Scan(&step, &after, &taken); err != nil {
			return start, nil, err
		}
		if err := errors.Join(stepForm.read(step, &t.Step), liveForm.read(after, &v)); err != nil {
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
	err := sh.db.QueryRowContext(
		ctx, "SELECT uid FROM cup WHERE shop_id = ? AND NOT gone AND kept = 'here' ORDER BY touched_at DESC LIMIT 1",
		sh.id,
	).Scan(&uid)
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
	err := db.QueryRowContext(ctx, `SELECT c.head, c.recipe_uid, c.recipe_revision, c.name, c.kept, COALESCE(s.after, c.start),
			(SELECT COALESCE(MAX(n), 0) FROM cup_step WHERE shop_id = c.shop_id AND cup_uid = c.uid)
		FROM cup c LEFT JOIN cup_step s ON s.shop_id = c.shop_id AND s.cup_uid = c.uid AND s.n = c.head
		WHERE c.shop_id = ? AND c.uid = ? AND NOT c.gone `+lock, shop, uid).Scan(&b.Head, &recipeUID, &revision, &b.Own, &b.Kept, &doc, &last)
	if err != nil {
		return b, notFound(err)
	}
	b.CanUndo, b.CanRedo = b.Head > 0, b.Head < last
	b.RecipeUID, b.RecipeRevision = recipeUID.String, int(revision.Int64)
	return b, liveForm.read(doc, &b.Cup)
}

// Step takes steps on a cup, all or none, and keeps them at once. seen is the head that the device last saw. If others
// changed the cup since, steps that only add are merged, and one that sets something is refused with ErrStale.
func (sh *Shop) Step(ctx context.Context, uid string, seen int, steps ...cup.Step) (BenchCup, error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return BenchCup{}, err
	}
	kit, _, err := sh.Kit(ctx)
	if err != nil {
		return BenchCup{}, err
	}
	merged := false
	err = sh.change(ctx, func(tx *sql.Tx) error {
		h, err := takeHold(ctx, tx, sh.id, uid, seen)
		if err != nil {
			return err
		}
		for _, step := range steps {
			if merged = h.stale; merged && !step.Merges() {
				return ErrStale
			}
			after, err := step.Apply(h.Cup, shelf, kit)
			if err != nil {
				return err
			}
			if err := h.put(ctx, tx, step, after, nil, nil); err != nil {
				return err
			}
		}
		return h.letGo(ctx, tx)
	})
	if err != nil {
		return BenchCup{}, err
	}
	b, err := sh.Cup(ctx, uid)
	b.Merged = merged
	return b, err
}

// held is a cup that nobody else can change until the transaction ends.
type held struct {
	BenchCup
	shop  int64
	stale bool // others changed it since it was seen
}

func takeHold(ctx context.Context, tx *sql.Tx, shop int64, uid string, seen int) (*held, error) {
	b, err := readCup(ctx, tx, shop, uid, "FOR UPDATE")
	return &held{b, shop, b.Head != seen}, err
}

// put writes a step down. What was undone is given up once something new is done.
func (h *held) put(ctx context.Context, tx *sql.Tx, step cup.Step, after cup.Live, other, otherHead any) error {
	stepDoc, err := stepForm.write(step)
	if err != nil {
		return err
	}
	afterDoc, err := liveForm.write(after)
	if err != nil {
		return err
	}
	if h.CanRedo { // only then: deleting what isn't there locks the gap after it, and hands wait for each other
		if _, err := tx.ExecContext(
			ctx, "DELETE FROM cup_step WHERE shop_id = ? AND cup_uid = ? AND n > ?", h.shop, h.UID, h.Head,
		); err != nil {
			return err
		}
		h.CanRedo = false
	}
	h.Head++
	h.Cup = after
	_, err = tx.ExecContext(ctx,
		"INSERT INTO cup_step (shop_id, cup_uid, n, step, after, other_cup, other_head) VALUES (?, ?, ?, ?, ?, ?, ?)",
		h.shop, h.UID, h.Head, stepDoc, afterDoc, other, otherHead)
	return err
}

func (h *held) letGo(ctx context.Context, tx *sql.Tx) error {
	return moveHead(ctx, tx, h.shop, h.UID, h.Head)
}

// split parts a cup that is held; the second cup's uid is returned.
func (h *held) split(ctx context.Context, tx *sql.Tx, share float64) (string, error) {
	rest, second, err := h.Cup.Split(share)
	if err != nil {
		return "", err
	}
	var recipeUID, revision any
	if h.RecipeUID != "" {
		recipeUID, revision = h.RecipeUID, h.RecipeRevision
	}
	other, err := newCup(ctx, tx, h.shop, NamedCup{second, h.Own}, recipeUID, revision)
	if err != nil {
		return "", err
	}
	step := cup.Step{Kind: cup.SplitOff, Typed: fmt.Sprintf("%.6g %%", 100*share)}
	return other, inTurn(
		func() error { return h.put(ctx, tx, step, rest, other, 0) },
		func() error { return h.letGo(ctx, tx) },
	)
}

// Split parts a cup in two. The second cup belongs to the same recipe; its uid is returned.
func (sh *Shop) Split(ctx context.Context, uid string, seen int, share float64) (other string, err error) {
	return sh.write(ctx, func(tx *sql.Tx) (string, error) {
		h, err := takeHold(ctx, tx, sh.id, uid, seen)
		if err != nil {
			return "", err
		}
		if h.stale {
			return "", ErrStale
		}
		return h.split(ctx, tx, share)
	})
}

// Merge pours a share of another cup into this one, all of it for 1; then the other leaves the bench.
func (sh *Shop) Merge(ctx context.Context, uid string, seen int, from string, share float64) (BenchCup, error) {
	if from == uid {
		return BenchCup{}, &measure.Fault{
			Field: "other", Says: "A cup can't be poured into itself; choose another one.",
		}
	}
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return BenchCup{}, err
	}
	err = sh.change(ctx, func(tx *sql.Tx) error {
		if err := holdBoth(ctx, tx, sh.id, uid, from); err != nil {
			return err
		}
		h, err := takeHold(ctx, tx, sh.id, uid, seen)
		if err != nil {
			return err
		}
		if h.stale {
			return ErrStale
		}
		other, err := takeHold(ctx, tx, sh.id, from, -1)
		if err != nil {
			return err
		}
		in := other.BenchCup
		if share < 1 { // some of it: that much is a cup of its own first
			second, err := other.split(ctx, tx, share)
			if err != nil {
				return err
			}
			if in, err = readCup(ctx, tx, sh.id, second, "FOR UPDATE"); err != nil {
				return err
			}
		}
		sum := h.Cup.Merge(in.Cup, shelf)
		if err := sum.Check(shelf); err != nil {
			return err
		}
		return inTurn(
			func() error { return setGone(ctx, tx, sh.id, in.UID, true) },
			func() error { return h.put(ctx, tx, cup.Step{Kind: cup.MergeIn}, sum, in.UID, in.Head) },
			func() error { return h.letGo(ctx, tx) },
		)
	})
	if err != nil {
		return BenchCup{}, err
	}
	return sh.Cup(ctx, uid)
}

// holdBoth locks two cups in one order, so that two devices that pour them into each other don't wait for each other.
func holdBoth(ctx context.Context, tx *sql.Tx, shop int64, one, other string) error {
	rows, err := tx.QueryContext(
		ctx, "SELECT uid FROM cup WHERE shop_id = ? AND uid IN (?, ?) ORDER BY uid FOR UPDATE", shop, one, other,
	)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() { // a deadlock is told with the rows, not with the query
	}
	return rows.Err()
}

func setGone(ctx context.Context, tx *sql.Tx, shop int64, uid string, gone bool) error {
	_, err := tx.ExecContext(ctx, "UPDATE cup SET gone = ? WHERE shop_id = ? AND uid = ?", gone, shop, uid)
	return err
}

// ErrWorkedOn is returned where a step can't be taken back because the second cup has been worked on since.
var ErrWorkedOn = errors.New("the second cup has been worked on since")

// Rewind moves a cup along its own history; by is -1 (undo) or 1 (redo). At an end nothing happens. seen is the head
// that the device last saw, so that nobody undoes what somebody else has just done.
func (sh *Shop) Rewind(ctx context.Context, uid string, seen, by int) (BenchCup, error) {
	if by != 1 && by != -1 {
		return BenchCup{}, fmt.Errorf("rewinding by %d", by)
	}
	err := sh.change(ctx, func(tx *sql.Tx) error {
		b, err := readCup(ctx, tx, sh.id, uid, "FOR UPDATE")
		if err != nil {
			return err
		}
		switch {
		case b.Head != seen:
			return ErrStale
		case by < 0 && !b.CanUndo, by > 0 && !b.CanRedo:
			return nil
		}
		if err := turnOther(ctx, tx, sh.id, uid, max(b.Head, b.Head+by), by); err != nil {
			return err
		}
		return moveHead(ctx, tx, sh.id, uid, b.Head+by)
	})
	if err != nil {
		return BenchCup{}, err
	}
	return sh.Cup(ctx, uid)
}

// turnOther puts the second cup of step n where it belongs when that step is undone or done again.
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
	if err := tx.QueryRowContext(
		ctx, "SELECT head, gone FROM cup WHERE shop_id = ? AND uid = ? FOR UPDATE", shop, other.String,
	).Scan(&now, &gone); err != nil {
		return err
	}
	away, ok := cup.StepKind(kind.String).Turn(by > 0, cup.Second{Away: gone, WorkedOn: now != int(head.Int64)})
	if !ok {
		return ErrWorkedOn
	}
	return setGone(ctx, tx, shop, other.String, away)
}

func moveHead(ctx context.Context, tx *sql.Tx, shop int64, uid string, head int) error {
	_, err := tx.ExecContext(
		ctx, "UPDATE cup SET head = ?, touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?", head, shop,
		uid,
	)
	return err
}
