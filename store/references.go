package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"cloudburst/core/cup"
	"cloudburst/core/flake"
	"cloudburst/core/measure"
	"cloudburst/core/photo"
	"cloudburst/core/reference"
	"cloudburst/format"
)

// Reference is something to match: readings of its parts, pinned on a photo or told without one.
type Reference struct {
	UID       string          `json:"uid"`
	Revision  int             `json:"revision" doc:"Counts the changes; send it back with one that sets something"`
	Name      string          `json:"name"`
	Photo     *PhotoInfo      `json:"photo,omitempty" doc:"None where it was told, not photographed"`
	Pins      []reference.Pin `json:"pins" nullable:"false"`
	PxPerMM   float64         `json:"pxPerMM" doc:"Scale of the photo; 0 where nobody said"`
	Light     *photo.Light    `json:"light,omitempty" doc:"How the photo's light is undone"`
	Flake     *flake.Found    `json:"flake,omitempty" doc:"The flake that was found in it; not in lists"`
	CreatedAt time.Time       `json:"createdAt"`
	Kept      Kept            `json:"kept" enum:"here,away,deleted"`
	With      string          `json:"with,omitempty" doc:"uid of the reference of the same bait that this photo was joined to"`
	Joined    []string        `json:"joined,omitempty" doc:"uids of the references whose photos were joined to this one; their pins stand among its own"`
}

// PhotoInfo names a kept photo and its size.
type PhotoInfo struct {
	UID      string `json:"uid"`
	WidthPX  int    `json:"widthPX"`
	HeightPX int    `json:"heightPX"`
}

// AddPhoto keeps a photo.
func (sh *Shop) AddPhoto(ctx context.Context, p format.Photo) (PhotoInfo, error) {
	uid, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		uid := newUID()
		_, err := tx.ExecContext(
			ctx, "INSERT INTO photo (shop_id, uid, width_px, height_px, jpeg) VALUES (?, ?, ?, ?, ?)", sh.id, uid,
			p.Width,
			p.Height, p.JPEG,
		)
		return uid, err
	})
	return PhotoInfo{uid, p.Width, p.Height}, err
}

// Photo gives a photo's JPEG bytes.
func (sh *Shop) Photo(ctx context.Context, uid string) ([]byte, error) {
	var raw []byte
	err := sh.db.QueryRowContext(ctx, "SELECT jpeg FROM photo WHERE shop_id = ? AND uid = ?", sh.id, uid).Scan(&raw)
	return raw, notFound(err)
}

// HasPhoto says whether a photo is there.
func (sh *Shop) HasPhoto(ctx context.Context, uid string) error {
	var one int
	return notFound(sh.db.QueryRowContext(
		ctx, "SELECT 1 FROM photo WHERE shop_id = ? AND uid = ?", sh.id, uid,
	).Scan(&one))
}

// PhotoInfoOf is a kept photo's size.
func (sh *Shop) PhotoInfoOf(ctx context.Context, uid string) (PhotoInfo, error) {
	p := PhotoInfo{UID: uid}
	err := sh.db.QueryRowContext(
		ctx, "SELECT width_px, height_px FROM photo WHERE shop_id = ? AND uid = ?", sh.id, uid,
	).Scan(&p.WidthPX, &p.HeightPX)
	return p, notFound(err)
}

// DropUnusedPhotos throws away photos that were taken in before a time and that nothing shows: a reference or a batch
// that was begun and not kept. It says how many went.
func (sh *Shop) DropUnusedPhotos(ctx context.Context, before time.Time) (int64, error) {
	res, err := sh.db.ExecContext(ctx, `DELETE FROM photo WHERE shop_id = ? AND created_at < ?
		AND NOT EXISTS (SELECT 1 FROM reference r WHERE r.shop_id = photo.shop_id AND r.photo_uid = photo.uid)
		AND NOT EXISTS (SELECT 1 FROM batch b WHERE b.shop_id = photo.shop_id AND b.photo_uid = photo.uid)
		AND NOT EXISTS (SELECT 1 FROM batch_photo b WHERE b.shop_id = photo.shop_id AND b.photo_uid = photo.uid)
		AND uid NOT IN (SELECT JSON_VALUE(entry, '$.photo') FROM log_entry WHERE shop_id = ? AND JSON_VALUE(entry, '$.photo') IS NOT NULL)`,
		sh.id, before.UTC(), sh.id)
	if err != nil {
		return 0, err
	}
	return res.RowsAffected()
}

// AddReference makes a reference of a photo, or of none, with the pins that it begins with.
func (sh *Shop) AddReference(ctx context.Context, name, photoUID string, pins ...reference.Pin) (Reference, error) {
	uid, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		uid := newUID()
		if _, err := tx.ExecContext(
			ctx, "INSERT INTO reference (shop_id, uid, name, photo_uid) VALUES (?, ?, ?, NULLIF(?, ''))", sh.id, uid,
			name,
			photoUID,
		); err != nil {
			return "", err
		}
		return uid, addPins(ctx, tx, sh.id, uid, pins)
	})
	if err != nil {
		return Reference{}, err
	}
	return sh.Reference(ctx, uid)
}

const referenceQuery = `SELECT r.uid, r.name, r.created_at, r.light, r.flake, r.px_per_mm, r.revision, p.uid, p.width_px, p.height_px, r.kept, COALESCE(r.with_uid, '')
	FROM reference r LEFT JOIN photo p ON p.shop_id = r.shop_id AND p.uid = r.photo_uid WHERE r.shop_id = ?`

// References lists references, newest first, with their pins.
func (sh *Shop) References(ctx context.Context, page Page) (Listed[Reference], error) {
	none := Listed[Reference]{}
	where, args, err := page.older("r.created_at", "r.uid")
	if err != nil {
		return none, err
	}
	list := []Reference{}
	err = sh.eachRow(ctx, referenceQuery+page.kept("r")+" AND r.with_uid IS NULL"+where+
		" ORDER BY r.created_at DESC, r.uid DESC LIMIT ?", append(
		append([]any{sh.id}, args...), page.Most+1,
	), func(row *sql.Rows) error {
		r, err := scanReference(row)
		r.Flake = nil
		list = append(list, r)
		return err
	})
	if err != nil {
		return none, err
	}
	out := cut(list, page.Most, func(r *Reference) string { return cursorOf(stamped(r.CreatedAt), r.UID) })
	return out, sh.addPinsTo(ctx, out.Items)
}

// addPinsTo reads the pins of references.
func (sh *Shop) addPinsTo(ctx context.Context, list []Reference) error {
	if len(list) == 0 {
		return nil
	}
	at := map[string]*Reference{}
	var uids []string
	for i := range list {
		list[i].Pins = []reference.Pin{}
		at[list[i].UID] = &list[i]
		uids = append(uids, list[i].UID)
	}
	joinedTo := map[string]*Reference{}
	err := sh.eachRow(ctx, "SELECT uid, with_uid FROM reference WHERE shop_id = ? AND kept <> 'deleted' AND with_uid IN ("+
		marks(len(list))+") ORDER BY created_at, uid",
		append([]any{sh.id}, anys(uids)...), func(row *sql.Rows) error {
			var uid, with string
			if err := row.Scan(&uid, &with); err != nil {
				return err
			}
			joinedTo[uid] = at[with]
			at[with].Joined = append(at[with].Joined, uid)
			uids = append(uids, uid)
			return nil
		})
	if err != nil {
		return err
	}
	args := append([]any{sh.id}, anys(uids)...)
	return sh.eachRow(ctx, `SELECT reference_uid, uid, name, x_px, y_px, radius_px, thickness_mm, ground, reading, sample, aside, state, mine, stroke FROM pin
		WHERE shop_id = ? AND reference_uid IN (`+marks(len(uids))+`) ORDER BY created_at, uid`, args, func(row *sql.Rows) error {
		var of string
		var p reference.Pin
		var reading, stroke []byte
		if err := row.Scan(
			&of, &p.UID, &p.Name, &p.Disc.X, &p.Disc.Y, &p.Disc.Radius, &p.ThicknessMM, &p.Ground, &reading, &p.Sample,
			&p.Aside,
			&p.State, &p.Mine, &stroke,
		); err != nil {
			return err
		}
		if err := errors.Join(
			readingForm.read(reading, &p.Reading), listForm.read(stroke, &p.Disc.Stroke),
		); err != nil {
			return err
		}
		if r, there := at[of]; there {
			r.Pins = append(r.Pins, p)
		}
		if r, joined := joinedTo[of]; joined {
			p.Of = of
			r.Pins = append(r.Pins, p)
		}
		return nil
	})
}

// Reference is one reference with its pins.
func (sh *Shop) Reference(ctx context.Context, uid string) (Reference, error) {
	r, err := scanReference(sh.db.QueryRowContext(ctx, referenceQuery+" AND r.uid = ?", sh.id, uid))
	if err != nil {
		return r, notFound(err)
	}
	list := []Reference{r}
	err = sh.addPinsTo(ctx, list)
	return list[0], err
}

func scanReference(row interface{ Scan(...any) error }) (Reference, error) {
	var r Reference
	var light, counted []byte
	var photoUID sql.NullString
	var width, height sql.NullInt64
	if err := row.Scan(
		&r.UID, &r.Name, &r.CreatedAt, &light, &counted, &r.PxPerMM, &r.Revision, &photoUID, &width, &height, &r.Kept,
		&r.With,
	); err != nil {
		return r, err
	}
	if photoUID.Valid {
		r.Photo = &PhotoInfo{photoUID.String, int(width.Int64), int(height.Int64)}
	}
	if err := countForm.read(counted, &r.Flake); err != nil {
		return r, err
	}
	return r, lightForm.read(light, &r.Light)
}

// changeReference changes a reference, if nobody changed it since it was seen; seen 0 is for what only adds.
func (sh *Shop) changeReference(ctx context.Context, reference string, seen int, f func(tx *sql.Tx) error) error {
	return sh.change(ctx, func(tx *sql.Tx) error {
		var now int
		if err := tx.QueryRowContext(
			ctx, "SELECT revision FROM reference WHERE shop_id = ? AND uid = ? FOR UPDATE", sh.id, reference,
		).Scan(&now); err != nil {
			return notFound(err)
		}
		if seen > 0 && now != seen {
			return ErrStale
		}
		if err := f(tx); err != nil {
			return err
		}
		_, err := tx.ExecContext(
			ctx, "UPDATE reference SET revision = revision + 1 WHERE shop_id = ? AND uid = ?", sh.id, reference,
		)
		return err
	})
}

// orNull is a value as JSON, or NULL for none.
func orNull[T any](f form, v *T) (any, error) {
	if v == nil {
		return nil, nil
	}
	return f.write(v)
}

// SetLight keeps how a reference's light is undone, and what its pins read under it.
func (sh *Shop) SetLight(
	ctx context.Context, reference string, seen int, light *photo.Light, pins []reference.Pin,
) error {
	doc, err := orNull(lightForm, light)
	if err != nil {
		return err
	}
	return sh.changeReference(ctx, reference, seen, func(tx *sql.Tx) error {
		if _, err := tx.ExecContext(
			ctx, "UPDATE reference SET light = ? WHERE shop_id = ? AND uid = ?", doc, sh.id, reference,
		); err != nil {
			return err
		}
		for _, p := range pins {
			reading, err := readingForm.write(p.Reading)
			if err != nil {
				return err
			}
			if _, err := tx.ExecContext(
				ctx, "UPDATE pin SET reading = ? WHERE shop_id = ? AND reference_uid = ? AND uid = ?", reading, sh.id,
				reference,
				p.UID,
			); err != nil {
				return err
			}
		}
		return nil
	})
}

// MaxPins bounds the pins of one reference.
const MaxPins = 100

// AddPins keeps pins on a reference, all or none.
func (sh *Shop) AddPins(ctx context.Context, reference string, pins ...reference.Pin) error {
	return sh.changeReference(
		ctx, reference, 0, func(tx *sql.Tx) error { return addPins(ctx, tx, sh.id, reference, pins) },
	)
}

func addPins(ctx context.Context, tx *sql.Tx, shop int64, reference string, pins []reference.Pin) error {
	var n int
	if err := tx.QueryRowContext(
		ctx, "SELECT COUNT(*) FROM pin WHERE shop_id = ? AND reference_uid = ?", shop, reference,
	).Scan(&n); err != nil {
		return err
	}
	if n+len(pins) > MaxPins {
		return ErrTooMany
	}
	for _, p := range pins {
		if p.State == "" {
			p.State = cup.Rested
		}
		reading, err := readingForm.write(p.Reading)
		if err != nil {
			return err
		}
		var stroke any
		if len(p.Disc.Stroke) > 0 {
			if stroke, err = listForm.write(p.Disc.Stroke); err != nil {
				return err
			}
		}
		if _, err = tx.ExecContext(ctx, `INSERT INTO pin
			(shop_id, reference_uid, uid, name, x_px, y_px, radius_px, thickness_mm, ground, reading, sample, state, stroke) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
			shop, reference, newUID(), p.Name, p.Disc.X, p.Disc.Y, p.Disc.Radius, p.ThicknessMM, p.Ground, reading, p.Sample, p.State, stroke); err != nil {
			return err
		}
	}
	return nil
}

// SetScale keeps how many pixels of a reference's photo are a millimetre. What was counted to another scale is gone.
func (sh *Shop) SetScale(ctx context.Context, reference string, seen int, pxPerMM float64) error {
	return sh.changeReference(ctx, reference, seen, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(
			ctx, "UPDATE reference SET px_per_mm = ?, flake = NULL WHERE shop_id = ? AND uid = ?", pxPerMM, sh.id,
			reference,
		)
		return err
	})
}

// SetFlake keeps the flake that was found in a reference's photo; nil takes it away.
func (sh *Shop) SetFlake(ctx context.Context, reference string, seen int, found *flake.Found) error {
	doc, err := orNull(countForm, found)
	if err != nil {
		return err
	}
	return sh.changeReference(ctx, reference, seen, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(
			ctx, "UPDATE reference SET flake = ? WHERE shop_id = ? AND uid = ?", doc, sh.id, reference,
		)
		return err
	})
}

// SetAside marks every pin of a bait of a bag as not typical, or takes that back.
func (sh *Shop) SetAside(ctx context.Context, reference string, seen, sample int, aside bool) error {
	return sh.changeReference(ctx, reference, seen, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(
			ctx, "UPDATE pin SET aside = ? WHERE shop_id = ? AND reference_uid = ? AND sample = ?", aside, sh.id,
			reference,
			sample,
		)
		return err
	})
}

// JoinPhoto joins the photo of a reference, with its pins, to another of the same bait; with is empty to take them
// apart again.
func (sh *Shop) JoinPhoto(ctx context.Context, reference string, seen int, with string) error {
	return sh.changeReference(ctx, reference, seen, func(tx *sql.Tx) error {
		if with != "" {
			var other sql.NullString
			if err := tx.QueryRowContext(
				ctx, "SELECT with_uid FROM reference WHERE shop_id = ? AND uid = ? FOR UPDATE", sh.id, with,
			).Scan(&other); err != nil {
				return notFound(err)
			}
			var joined int
			if err := tx.QueryRowContext(
				ctx, "SELECT COUNT(*) FROM reference WHERE shop_id = ? AND with_uid = ?", sh.id, reference,
			).Scan(&joined); err != nil {
				return err
			}
			switch {
			case with == reference:
				return measure.Faulty("with", "choose another reference: this is the one itself")
			case other.Valid:
				return measure.Faulty(
					"with", "that one is a second photo itself; choose the reference that it was joined to",
				)
			case joined > 0:
				return measure.Faulty("with", "other photos were joined to this one; join it the other way round")
			}
		}
		return setOne(
			ctx, tx,
			"UPDATE reference SET with_uid = NULLIF(?, ''), revision = revision + 1 WHERE shop_id = ? AND uid = ?",
			with, sh.id, reference,
		)
	})
}

// SetMine marks a pin as differing on purpose, or takes that back.
func (sh *Shop) SetMine(ctx context.Context, reference string, seen int, pin string, mine bool) error {
	return sh.changeReference(ctx, reference, seen, func(tx *sql.Tx) error {
		return setOne(
			ctx, tx, "UPDATE pin SET mine = ? WHERE shop_id = ? AND reference_uid = ? AND uid = ?", mine, sh.id,
			reference, pin,
		)
	})
}

// RemovePin takes a pin off.
func (sh *Shop) RemovePin(ctx context.Context, reference string, uid string) error {
	return sh.changeReference(ctx, reference, 0, func(tx *sql.Tx) error {
		return setOne(
			ctx, tx, "DELETE FROM pin WHERE shop_id = ? AND reference_uid = ? AND uid = ?", sh.id, reference, uid,
		)
	})
}

func errOr(err, other error) error {
	if err != nil {
		return err
	}
	return other
}
