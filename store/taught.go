package store

import (
	"context"
	"database/sql"
	"fmt"
	"log/slog"
	"maps"
	"slices"
	"time"

	"cloudburst/core/cores"
	"cloudburst/core/cup"
	"cloudburst/core/learn"
	"cloudburst/core/recipe"
)

// Shelf is everything that recipes may name, retired bottles too, to look things up in; bottles of which the maker
// accepted what batches have taught are as those have it. Every tap needs it, so it is kept in memory for as long as
// nothing that it comes from changed; each change raises one of the sums below. The map is the caller's own; the
// materials in it are shared and must not be written to.
func (sh *Shop) Shelf(ctx context.Context) (cup.Shelf, error) {
	kept, err := sh.shelf(ctx)
	if err != nil {
		return nil, err
	}
	return maps.Clone(kept.shelf), nil
}

// ShelfMark names the state that the shelf is in, for what is kept in memory as long as nothing on it changes.
func (sh *Shop) ShelfMark(ctx context.Context) (string, error) {
	kept, err := sh.shelf(ctx)
	if err != nil {
		return "", err
	}
	return fmt.Sprint(kept.sums, kept.behind), nil
}

// Accepted is what batches have taught of the bottles of which the maker accepted it; nil for nothing.
func (sh *Shop) Accepted(ctx context.Context) (*learn.Learnt, error) {
	kept, err := sh.shelf(ctx)
	if err != nil {
		return nil, err
	}
	return kept.accepted, nil
}

// keptShelf is a shelf as it was read, with the sums that tell whether it still holds.
type keptShelf struct {
	sums     shelfSums
	plain    cup.Shelf // by the bottles' own figures
	uids     []string  // of the bottles of which what batches teach is accepted
	accepted *learn.Learnt
	shelf    cup.Shelf
	behind   bool     // what batches teach is still being worked out: meanwhile it is as it was before
	lessons  *Lessons // nil where nobody asked yet
}

// shelfSums tell one state of a shelf from any other: whatever comes or changes raises one of them.
type shelfSums struct{ Count, Changes, Taught int64 }

func sumsOf(ctx context.Context, db queryer, shop int64, lock string) (s shelfSums, err error) {
	err = db.QueryRowContext(ctx, `SELECT COUNT(*), COALESCE(SUM(revision), 0), (SELECT taught FROM shop WHERE id = ?) FROM material WHERE shop_id = ? `+lock,
		shop, shop).Scan(&s.Count, &s.Changes, &s.Taught)
	return s, err
}

// shelf is the shelf as it is. Where what batches teach has to be worked out anew, that goes on behind it: no tap waits
// for it.
func (sh *Shop) shelf(ctx context.Context) (*keptShelf, error) {
	sums, err := sumsOf(ctx, sh.db, sh.id, "")
	if err != nil {
		return nil, err
	}
	was := sh.kept.Load()
	if was != nil && was.sums == sums {
		return was, nil
	}
	list, err := sh.items(ctx, "")
	if err != nil {
		return nil, err
	}
	kept := &keptShelf{sums: shelfSums{Count: int64(len(list)), Taught: sums.Taught}, plain: cup.Shelf{}}
	for _, m := range list {
		kept.plain[m.UID] = m.Material
		kept.sums.Changes += int64(m.Revision)
		if m.Accepted {
			kept.uids = append(kept.uids, m.UID)
		}
	}
	kept.shelf = kept.plain
	if len(kept.uids) > 0 {
		kept.behind = true
		if was != nil && was.accepted != nil {
			kept.accepted = was.accepted.Of(kept.uids)
			kept.shelf = kept.accepted.Shelf(kept.plain)
		}
	}
	sh.kept.Store(kept)
	if kept.behind {
		var behind cores.Group // nobody waits for it
		behind.Go(func() error {
			ctx, done := context.WithTimeout(context.WithoutCancel(ctx), mostLearning)
			defer done()
			err := cores.Try(func() error {
				_, err := sh.Lessons(ctx)
				return err
			})
			if err != nil {
				slog.Warn("what batches teach can't be worked out", "err", err)
			}
			return nil
		})
	}
	return kept, nil
}

// mostLearning is how long it may take to learn from all batches.
const mostLearning = time.Minute

// Lessons are what the shop's batches teach, and the batches themselves, the latest first.
type Lessons struct {
	*learn.Learnt
	Batches []SavedBatch
	Poured  []learn.Batch
}

// Lessons works out what batches teach, unless that is known already. After it, the shelf is as they have it.
func (sh *Shop) Lessons(ctx context.Context) (*Lessons, error) {
	kept, err := sh.shelf(ctx)
	if err != nil {
		return nil, err
	}
	if kept.lessons != nil {
		return kept.lessons, nil
	}
	is, err, _ := sh.work.Do(fmt.Sprint(kept.sums), func() (any, error) {
		lessons, err := sh.learn(context.WithoutCancel(ctx), kept.plain)
		if err != nil {
			return nil, err
		}
		settled := *kept
		settled.lessons, settled.behind, settled.accepted, settled.shelf = lessons, false, nil, kept.plain
		if len(kept.uids) > 0 {
			settled.accepted = lessons.Of(kept.uids)
			settled.shelf = settled.accepted.Shelf(kept.plain)
		}
		if now := sh.kept.Load(); now == nil || now.sums == kept.sums { // unless something changed meanwhile
			sh.kept.Store(&settled)
		}
		return lessons, nil
	})
	if err != nil {
		return nil, err
	}
	return is.(*Lessons), nil
}

func (sh *Shop) learn(ctx context.Context, plain cup.Shelf) (*Lessons, error) {
	list, err := sh.ReadBatches(ctx)
	if err != nil {
		return nil, err
	}
	l := &Lessons{Batches: list, Poured: make([]learn.Batch, len(list))}
	list = slices.DeleteFunc(list, func(b SavedBatch) bool { return b.Outcome.Unknown })
	l.Batches, l.Poured = list, l.Poured[:len(list)]
	for i := range list {
		b := &list[i]
		uids, read := make([]string, len(b.Readings)), make([]recipe.PartReading, len(b.Readings))
		for k, r := range b.Readings {
			uids[k], read[k] = r.UID, r.PartReading
		}
		l.Poured[i] = learn.Of(b.UID, b.Cup(plain), uids, read)
	}
	l.Learnt, err = learn.From(plain, l.Poured)
	return l, err
}

// taughtAnew notes that what batches teach has changed. The shelf is read before the transaction begins, which has the
// one connection.
func (sh *Shop) taughtAnew(ctx context.Context, tx *sql.Tx, shelf cup.Shelf) error {
	if _, err := tx.ExecContext(ctx, "UPDATE shop SET taught = taught + 1 WHERE id = ?", sh.id); err != nil {
		return err
	}
	return unseeTaught(ctx, tx, sh.id, shelf)
}

// unseeTaught forgets the colours of every recipe with a bottle in it that is predicted as batches have it.
func unseeTaught(ctx context.Context, tx *sql.Tx, shop int64, shelf cup.Shelf) error {
	var uids []string
	rows, err := tx.QueryContext(ctx, "SELECT uid FROM material WHERE shop_id = ? AND accepted", shop)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		var uid string
		if err := rows.Scan(&uid); err != nil {
			return err
		}
		uids = append(uids, uid)
	}
	if err := rows.Err(); err != nil {
		return err
	}
	rows.Close()
	for _, uid := range uids {
		if err := unsee(ctx, tx, shop, uid, shelf); err != nil {
			return err
		}
	}
	return nil
}

// Accept takes what batches have taught of a bottle into its predictions, or leaves it out of them. Either way the
// shelf is settled after it.
func (sh *Shop) Accept(ctx context.Context, uid string, seen int, accepted bool) (ShelfItem, error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return ShelfItem{}, err
	}
	also := func(tx *sql.Tx) error { return unsee(ctx, tx, sh.id, uid, shelf) }
	item, err := sh.changeItem(ctx, uid, seen, also, "accepted = ?", accepted)
	if err != nil {
		return item, err
	}
	if _, err := sh.Lessons(ctx); err != nil {
		slog.Warn("what batches teach can't be worked out", "err", err)
	}
	return item, nil
}

// takesUp are the bottles of a cup and what their dilutions are of.
func takesUp(c *cup.Cup, shelf cup.Shelf) (uids []string) {
	for _, d := range c.Doses {
		uids = append(uids, d.Material)
		if m := shelf[d.Material]; m.Colourant != nil {
			for _, p := range m.Colourant.Contains {
				uids = append(uids, p.Material)
			}
		}
	}
	slices.Sort(uids)
	return slices.Compact(uids)
}
