package store

import (
	"context"
	"database/sql"

	"cloudburst/core/measure"
	"cloudburst/core/recipe"
)

// SavedReading is what was read of a part of a test batch.
type SavedReading struct {
	UID string `json:"uid"`
	recipe.PartReading
}

// AddReading keeps a reading of a batch.
func (sh *Shop) AddReading(ctx context.Context, batch string, r recipe.PartReading) (SavedBatch, error) {
	if err := r.Check(); err != nil {
		return SavedBatch{}, err
	}
	doc, err := batchReadingForm.write(r)
	if err != nil {
		return SavedBatch{}, err
	}
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return SavedBatch{}, err
	}
	if _, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		if n, err := countOf(ctx, tx, sh.id, batch, "batch_reading"); err != nil {
			return "", err
		} else if n >= recipe.MaxReadings {
			return "", measure.Faulty("name", "a batch has up to %d readings; take one out first", recipe.MaxReadings)
		}
		uid := newUID()
		if _, err := tx.ExecContext(
			ctx, "INSERT INTO batch_reading (shop_id, uid, batch_uid, reading) VALUES (?, ?, ?, ?)", sh.id, uid, batch,
			doc,
		); err != nil {
			return "", err
		}
		return uid, sh.taughtAnew(ctx, tx, shelf)
	}); err != nil {
		return SavedBatch{}, err
	}
	return sh.Batch(ctx, batch)
}

// countOf holds a batch, and says how many rows of a table are its own.
func countOf(ctx context.Context, tx *sql.Tx, shop int64, batch, table string) (n int, err error) {
	err = tx.QueryRowContext(
		ctx, "SELECT 1 FROM batch WHERE shop_id = ? AND uid = ? AND kept <> 'deleted' FOR UPDATE", shop, batch,
	).Scan(&n)
	if err != nil {
		return 0, notFound(err)
	}
	// The table's name is one of this file's own.
	err = tx.QueryRowContext(
		ctx, "SELECT COUNT(*) FROM "+table+" WHERE shop_id = ? AND batch_uid = ?", shop, batch,
	).Scan(&n)
	return n, err
}

// RemoveReading takes a reading out: what it taught goes with it.
func (sh *Shop) RemoveReading(ctx context.Context, batch, uid string) (SavedBatch, error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return SavedBatch{}, err
	}
	if err := sh.change(ctx, func(tx *sql.Tx) error {
		return inTurn(
			func() error {
				return setOne(
					ctx, tx, "DELETE FROM batch_reading WHERE shop_id = ? AND batch_uid = ? AND uid = ?", sh.id, batch,
					uid,
				)
			},
			func() error { return sh.taughtAnew(ctx, tx, shelf) },
		)
	}); err != nil {
		return SavedBatch{}, err
	}
	return sh.Batch(ctx, batch)
}

// addReadings puts the readings of batches to them, in the order in which they were taken.
func (sh *Shop) addReadings(ctx context.Context, list []SavedBatch) error {
	at := map[string]*SavedBatch{}
	args := []any{sh.id}
	for i := range list {
		list[i].Readings = []SavedReading{}
		at[list[i].UID] = &list[i]
		args = append(args, list[i].UID)
	}
	return sh.eachRow(ctx, "SELECT batch_uid, uid, reading FROM batch_reading WHERE shop_id = ? AND batch_uid IN ("+
		marks(len(list))+") ORDER BY uid", args,
		func(row *sql.Rows) error {
			var batch string
			var doc []byte
			var r SavedReading
			if err := row.Scan(&batch, &r.UID, &doc); err != nil {
				return err
			}
			if err := batchReadingForm.read(doc, &r.PartReading); err != nil {
				return err
			}
			if b, there := at[batch]; there {
				b.Readings = append(b.Readings, r)
			}
			return nil
		})
}

// AddBatchPhoto adds a photo to a batch that was recorded before; one that it has already stays there once.
func (sh *Shop) AddBatchPhoto(ctx context.Context, batch, photo string) (SavedBatch, error) {
	if _, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		if n, err := countOf(ctx, tx, sh.id, batch, "batch_photo"); err != nil {
			return "", err
		} else if n >= recipe.MaxPhotos {
			return "", measure.Faulty("photo", "a batch has up to %d photos; take one out first", recipe.MaxPhotos)
		}
		_, err := tx.ExecContext(
			ctx,
			"INSERT INTO batch_photo (shop_id, batch_uid, photo_uid) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE photo_uid = photo_uid",
			sh.id, batch, photo,
		)
		return photo, err
	}); err != nil {
		return SavedBatch{}, err
	}
	return sh.Batch(ctx, batch)
}

// RemoveBatchPhoto takes a photo out of a batch.
func (sh *Shop) RemoveBatchPhoto(ctx context.Context, batch, photo string) (SavedBatch, error) {
	if err := sh.change(ctx, func(tx *sql.Tx) error {
		return setOne(
			ctx, tx, "DELETE FROM batch_photo WHERE shop_id = ? AND batch_uid = ? AND photo_uid = ?", sh.id, batch,
			photo,
		)
	}); err != nil {
		return SavedBatch{}, err
	}
	return sh.Batch(ctx, batch)
}

// addPhotos puts the later photos of batches to them, the oldest first; the one that a batch was recorded with comes
// before them.
func (sh *Shop) addPhotos(ctx context.Context, list []SavedBatch) error {
	at := map[string]*SavedBatch{}
	args := []any{sh.id}
	for i := range list {
		list[i].Photos = []string{}
		if list[i].Photo != "" {
			list[i].Photos = append(list[i].Photos, list[i].Photo)
		}
		at[list[i].UID] = &list[i]
		args = append(args, list[i].UID)
	}
	return sh.eachRow(ctx, "SELECT batch_uid, photo_uid FROM batch_photo WHERE shop_id = ? AND batch_uid IN ("+
		marks(len(list))+") ORDER BY added_at, photo_uid", args,
		func(row *sql.Rows) error {
			var batch, photo string
			if err := row.Scan(&batch, &photo); err != nil {
				return err
			}
			if b, there := at[batch]; there && photo != b.Photo {
				b.Photos = append(b.Photos, photo)
			}
			return nil
		})
}

// mostLearnedFrom is how many batches are learned from, the latest that were read: what is worked out from them takes a
// second, not a minute.
const mostLearnedFrom = 80

// ReadBatches are the batches that were read, the latest first.
func (sh *Shop) ReadBatches(ctx context.Context) ([]SavedBatch, error) {
	return sh.batches(ctx, ` AND b.kept <> 'deleted' AND EXISTS (SELECT 1 FROM batch_reading g WHERE g.shop_id = b.shop_id AND g.batch_uid = b.uid)
		ORDER BY b.poured_on DESC, b.recorded_at DESC, b.uid DESC LIMIT ?`, mostLearnedFrom)
}
