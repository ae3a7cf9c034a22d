package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// Key names one action of a device. Sent again, after an answer that was lost, the action counts once: its first result
// is given again. It lives as long as one request.
type Key struct {
	uid, what string
	device    string
	used      bool
}

type keyOfAction struct{}

// Once makes what is done under this context one action of a device: uid is made by it, what says which action it is.
func Once(ctx context.Context, uid, what, device string) context.Context {
	return context.WithValue(ctx, keyOfAction{}, &Key{uid: uid, what: what, device: device})
}

var (
	// ErrKeyUsed is returned where a key names another action already.
	ErrKeyUsed = errors.New("this key belongs to another action")
	// errTwice is a mistake of ours: one action is one transaction.
	errTwice = errors.New("store: one action in two transactions")
)

func keyOf(ctx context.Context) *Key {
	k, _ := ctx.Value(keyOfAction{}).(*Key)
	return k
}

// Done gives the result of the action that the context names, if it was done before.
func (sh *Shop) Done(ctx context.Context) (result string, done bool, err error) {
	k := keyOf(ctx)
	if k == nil {
		return "", false, nil
	}
	result, err = resultOf(ctx, sh.db, sh.id, k)
	if errors.Is(err, sql.ErrNoRows) {
		return "", false, nil
	}
	return result, err == nil, err
}

func resultOf(ctx context.Context, db queryer, shop int64, k *Key) (string, error) {
	var what, result string
	err := db.QueryRowContext(
		ctx, "SELECT what, result FROM once WHERE shop_id = ? AND uid = ?", shop, k.uid,
	).Scan(&what, &result)
	if err == nil && what != "" && what != k.what {
		err = ErrKeyUsed
	}
	return result, err
}

// write does one action in one transaction, with its key in it. Every change of a shop goes through here. f gives the
// uids of what it made, with spaces between; done before, f is not called and the first result is given.
func (sh *Shop) write(ctx context.Context, f func(tx *sql.Tx) (string, error)) (result string, err error) {
	k := keyOf(ctx)
	if k == nil { // nobody waits who could send it again: the demo's things, tests
		err = inTx(ctx, sh.db, func(tx *sql.Tx) error {
			result, err = f(tx)
			return err
		})
		return result, err
	}
	if k.used {
		return "", errTwice
	}
	k.used = true
	err = inTx(ctx, sh.db, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(
			ctx, "INSERT INTO once (shop_id, uid, what, device) VALUES (?, ?, ?, ?)", sh.id, k.uid, k.what, k.device,
		)
		if isDuplicate(err) {
			result, err = resultOf(ctx, tx, sh.id, k)
			return err
		}
		if err != nil {
			return err
		}
		if result, err = f(tx); err != nil || result == "" {
			return err
		}
		_, err = tx.ExecContext(ctx, "UPDATE once SET result = ? WHERE shop_id = ? AND uid = ?", result, sh.id, k.uid)
		return err
	})
	return result, err
}

// DropOldKeys forgets actions that were done before a time; nobody sends them again.
func (sh *Shop) DropOldKeys(ctx context.Context, before time.Time) error {
	_, err := sh.db.ExecContext(ctx, "DELETE FROM once WHERE shop_id = ? AND done_at < ?", sh.id, before.UTC())
	return err
}

// change is write for what makes nothing new.
func (sh *Shop) change(ctx context.Context, f func(tx *sql.Tx) error) error {
	_, err := sh.write(ctx, func(tx *sql.Tx) (string, error) { return "", f(tx) })
	return err
}

// setOne changes one row, of which nothing but ErrNotFound is told where it is not there.
func setOne(ctx context.Context, tx *sql.Tx, query string, args ...any) error {
	res, err := tx.ExecContext(ctx, query, args...)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return errOr(err, ErrNotFound)
	}
	return nil
}
