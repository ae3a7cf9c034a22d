package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"time"

	"cloudburst/core/bait"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// SavedBait is a bait's design as it is kept, at one of its versions.
type SavedBait struct {
	UID      string `json:"uid"`
	Revision int    `json:"revision"`
	Kept     Kept   `json:"kept" enum:"here,away,deleted"`
	bait.Design
	touchedAt time.Time
}

const baitQuery = `SELECT b.uid, v.revision, v.doc, b.touched_at, b.kept FROM bait b JOIN bait_version v ON v.shop_id = b.shop_id AND v.bait_uid = b.uid
	WHERE b.shop_id = ?`

// Baits lists the shop's designs, the one that was touched last first.
func (sh *Shop) Baits(ctx context.Context, page Page) (Listed[SavedBait], error) {
	where, args, err := page.older("b.touched_at", "b.uid")
	if err != nil {
		return Listed[SavedBait]{}, err
	}
	list := []SavedBait{}
	err = sh.eachRow(ctx, baitQuery+" AND v.revision = b.revision"+page.kept("b")+where+
		" ORDER BY b.touched_at DESC, b.uid DESC LIMIT ?",
		append(append([]any{sh.id}, args...), page.Most+1), func(row *sql.Rows) error {
			b, err := scanBait(row)
			list = append(list, b)
			return err
		})
	return cut(list, page.Most, func(b *SavedBait) string { return cursorOf(stamped(b.touchedAt), b.UID) }), err
}

// Bait is one of them, at a revision, or as it stands for 0.
func (sh *Shop) Bait(ctx context.Context, uid string, revision int) (SavedBait, error) {
	query, args := baitQuery+" AND b.uid = ? AND v.revision = b.revision", []any{sh.id, uid}
	if revision > 0 {
		query, args = baitQuery+" AND b.uid = ? AND v.revision = ?", append(args, revision)
	}
	b, err := scanBait(sh.db.QueryRowContext(ctx, query, args...))
	return b, notFound(err)
}

func scanBait(row interface{ Scan(...any) error }) (SavedBait, error) {
	var b SavedBait
	var doc []byte
	if err := row.Scan(&b.UID, &b.Revision, &doc, &b.touchedAt, &b.Kept); err != nil {
		return b, err
	}
	return b, designForm.read(doc, &b.Design)
}

const roomForBaits = "SELECT COUNT(*) FROM bait WHERE shop_id = ? AND kept = 'here' FOR UPDATE"

// AddBait keeps a new design.
func (sh *Shop) AddBait(ctx context.Context, d bait.Design) (SavedBait, error) {
	doc, err := designForm.write(d)
	if err != nil {
		return SavedBait{}, err
	}
	uid, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		if err := room(ctx, tx, roomForBaits, sh.id); err != nil {
			return "", err
		}
		if err := cupsThere(ctx, tx, sh.id, &d, nil); err != nil {
			return "", err
		}
		uid := newUID()
		if _, err := tx.ExecContext(
			ctx, "INSERT INTO bait (shop_id, uid, name) VALUES (?, ?, ?)", sh.id, uid, d.Name,
		); err != nil {
			return "", err
		}
		_, err := tx.ExecContext(
			ctx, "INSERT INTO bait_version (shop_id, bait_uid, revision, doc) VALUES (?, ?, 1, ?)", sh.id, uid, doc,
		)
		return uid, err
	})
	if err != nil {
		return SavedBait{}, err
	}
	return sh.Bait(ctx, uid, 0)
}

// cupsThere says whether every cup that a design names is or was on the bench; those of before may stay.
func cupsThere(ctx context.Context, tx *sql.Tx, shop int64, d, before *bait.Design) error {
	for i, c := range d.Cups {
		if c.Cup == "" || before != nil && slices.ContainsFunc(
			before.Cups, func(o bait.Poured) bool { return o.Cup == c.Cup },
		) {
			continue
		}
		var one int
		err := errNoUID
		if material.ValidUID(c.Cup) {
			err = tx.QueryRowContext(ctx, "SELECT 1 FROM cup WHERE shop_id = ? AND uid = ?", shop, c.Cup).Scan(&one)
		}
		if errors.Is(err, sql.ErrNoRows) || errors.Is(err, errNoUID) {
			return measure.Faulty(fmt.Sprintf("cups.%d", i), "this cup is not on the bench; choose one that is")
		}
		if err != nil {
			return err
		}
	}
	return nil
}

var errNoUID = errors.New("no uid")

// Pour is a cup that is put on the bench for a bait, poured from a recipe: the design's cup number At.
type Pour struct {
	At   int
	Cup  cup.Cup
	From SavedRecipe
}

// SaveBait keeps a change as a version of its own, if nobody made another since, together with a cup that is poured for
// it, if any.
func (sh *Shop) SaveBait(ctx context.Context, b SavedBait, pours ...Pour) (SavedBait, error) {
	err := sh.change(ctx, func(tx *sql.Tx) error {
		for _, p := range pours {
			uid, err := newCup(ctx, tx, sh.id, NamedCup{Live: cup.Live{Cup: p.Cup}}, p.From.UID, p.From.Revision)
			if err != nil {
				return err
			}
			b.Cups = slices.Clone(b.Cups)
			b.Cups[p.At].Cup = uid
		}
		doc, err := designForm.write(b.Design)
		if err != nil {
			return err
		}
		if err := holdAt(
			ctx, tx, b.Revision, "SELECT revision FROM bait WHERE shop_id = ? AND uid = ? FOR UPDATE", sh.id, b.UID,
		); err != nil {
			return err
		}
		var before bait.Design
		var was []byte
		if err := tx.QueryRowContext(
			ctx, "SELECT doc FROM bait_version WHERE shop_id = ? AND bait_uid = ? AND revision = ?", sh.id, b.UID,
			b.Revision,
		).Scan(&was); err != nil {
			return err
		}
		if err := errors.Join(
			designForm.read(was, &before), cupsThere(ctx, tx, sh.id, &b.Design, &before),
		); err != nil {
			return err
		}
		if _, err := tx.ExecContext(
			ctx, "INSERT INTO bait_version (shop_id, bait_uid, revision, doc) VALUES (?, ?, ?, ?)", sh.id, b.UID,
			b.Revision+1,
			doc,
		); err != nil {
			return err
		}
		_, err = tx.ExecContext(
			ctx,
			"UPDATE bait SET revision = ?, name = ?, touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?",
			b.Revision+1, b.Name, sh.id, b.UID,
		)
		return err
	})
	if err != nil {
		return b, err
	}
	return sh.Bait(ctx, b.UID, 0)
}
