package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"cloudburst/core/optics"
	"cloudburst/core/photo"
	"cloudburst/core/recipe"
	"cloudburst/format"
)

// Reference is something to match: readings of its parts, pinned on a photo or told without one.
type Reference struct {
	UID       string       `json:"uid"`
	Name      string       `json:"name"`
	Photo     *PhotoInfo   `json:"photo,omitempty" doc:"None where it was told, not photographed"`
	Pins      []Pin        `json:"pins" nullable:"false"`
	PxPerMM   float64      `json:"pxPerMM" doc:"Scale of the photo; 0 where nobody said"`
	Light     *photo.Light `json:"light,omitempty" doc:"How the photo's light is undone"`
	Census    *photo.Found `json:"census,omitempty" doc:"The flake that was found in it; not in lists"`
	CreatedAt time.Time    `json:"createdAt"`
}

// PhotoInfo names a kept photo and its size.
type PhotoInfo struct {
	UID      string `json:"uid"`
	WidthPX  int    `json:"widthPX"`
	HeightPX int    `json:"heightPX"`
}

// Pin is a spot on a reference's photo with what was read there.
type Pin struct {
	UID         string        `json:"uid"`
	Name        string        `json:"name"`
	Disc        photo.Disc    `json:"disc"`
	ThicknessMM float64       `json:"thicknessMM"`
	Ground      optics.Ground `json:"ground" enum:"white,dark,grey,against,metal,hand"`
	Reading     photo.Reading `json:"reading"`
	Sample      int           `json:"sample" doc:"Which bait of a bag; 0 where it is the only one"`
	Aside       bool          `json:"aside" doc:"Of a bait that was set aside as not typical"`
	State       recipe.State  `json:"state" enum:"hot,fresh,rested" doc:"How old the plastic was when it was read"`
	Mine        bool          `json:"mine" doc:"Differs on purpose, so it stays out of what is scored"`
}

// AddPhoto keeps a photo.
func (sh *Shop) AddPhoto(ctx context.Context, p format.Photo) (PhotoInfo, error) {
	info := PhotoInfo{newUID(), p.Width, p.Height}
	_, err := sh.db.ExecContext(ctx, "INSERT INTO photo (shop_id, uid, width_px, height_px, jpeg) VALUES (?, ?, ?, ?, ?)",
		sh.id, info.UID, p.Width, p.Height, p.JPEG)
	return info, err
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
	return notFound(sh.db.QueryRowContext(ctx, "SELECT 1 FROM photo WHERE shop_id = ? AND uid = ?", sh.id, uid).Scan(&one))
}

// AddReference makes a reference of a photo, or of none.
func (sh *Shop) AddReference(ctx context.Context, name, photoUID string) (Reference, error) {
	uid := newUID()
	_, err := sh.db.ExecContext(ctx, "INSERT INTO reference (shop_id, uid, name, photo_uid) VALUES (?, ?, ?, NULLIF(?, ''))", sh.id, uid, name, photoUID)
	if err != nil {
		return Reference{}, err
	}
	return sh.Reference(ctx, uid)
}

const referenceQuery = `SELECT r.uid, r.name, r.created_at, r.light, r.census, r.px_per_mm, p.uid, p.width_px, p.height_px
	FROM reference r LEFT JOIN photo p ON p.shop_id = r.shop_id AND p.uid = r.photo_uid WHERE r.shop_id = ?`

// References lists every reference, newest first, with its pins.
func (sh *Shop) References(ctx context.Context) ([]Reference, error) {
	rows, err := sh.db.QueryContext(ctx, referenceQuery+" ORDER BY r.created_at DESC, r.uid", sh.id)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	list := []Reference{}
	for rows.Next() {
		r, err := scanReference(rows)
		if err != nil {
			return nil, err
		}
		list = append(list, r)
	}
	if err := rows.Err(); err != nil {
		return nil, err
	}
	for i := range list {
		list[i].Census = nil
		if list[i].Pins, err = sh.pins(ctx, list[i].UID); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// Reference is one reference with its pins.
func (sh *Shop) Reference(ctx context.Context, uid string) (Reference, error) {
	r, err := scanReference(sh.db.QueryRowContext(ctx, referenceQuery+" AND r.uid = ?", sh.id, uid))
	if err != nil {
		return r, notFound(err)
	}
	r.Pins, err = sh.pins(ctx, uid)
	return r, err
}

func scanReference(row interface{ Scan(...any) error }) (Reference, error) {
	var r Reference
	var light, census []byte
	var photoUID sql.NullString
	var width, height sql.NullInt64
	if err := row.Scan(&r.UID, &r.Name, &r.CreatedAt, &light, &census, &r.PxPerMM, &photoUID, &width, &height); err != nil {
		return r, err
	}
	if photoUID.Valid {
		r.Photo = &PhotoInfo{photoUID.String, int(width.Int64), int(height.Int64)}
	}
	if err := fromJSON(census, &r.Census); err != nil {
		return r, err
	}
	return r, fromJSON(light, &r.Light)
}

// SetLight keeps how a reference's light is undone, and what its pins read under it.
func (sh *Shop) SetLight(ctx context.Context, reference string, light *photo.Light, pins []Pin) error {
	var doc any
	if light != nil {
		raw, err := asJSON(light)
		if err != nil {
			return err
		}
		doc = raw
	}
	return inTx(ctx, sh.db, func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, "UPDATE reference SET light = ? WHERE shop_id = ? AND uid = ?", doc, sh.id, reference)
		if err != nil {
			return err
		}
		if n, err := res.RowsAffected(); err != nil || n == 0 {
			return errOr(err, ErrNotFound)
		}
		for _, p := range pins {
			reading, err := asJSON(p.Reading)
			if err != nil {
				return err
			}
			if _, err := tx.ExecContext(ctx, "UPDATE pin SET reading = ? WHERE shop_id = ? AND reference_uid = ? AND uid = ?", reading, sh.id, reference, p.UID); err != nil {
				return err
			}
		}
		return nil
	})
}

func (sh *Shop) pins(ctx context.Context, reference string) ([]Pin, error) {
	rows, err := sh.db.QueryContext(ctx, `SELECT uid, name, x_px, y_px, radius_px, thickness_mm, ground, reading, sample, aside, state, mine, stroke FROM pin
		WHERE shop_id = ? AND reference_uid = ? ORDER BY created_at, uid`, sh.id, reference)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	pins := []Pin{}
	for rows.Next() {
		var p Pin
		var reading, stroke []byte
		if err := rows.Scan(&p.UID, &p.Name, &p.Disc.X, &p.Disc.Y, &p.Disc.Radius, &p.ThicknessMM, &p.Ground, &reading, &p.Sample, &p.Aside, &p.State, &p.Mine, &stroke); err != nil {
			return nil, err
		}
		if err := errors.Join(fromJSON(reading, &p.Reading), fromJSON(stroke, &p.Disc.Stroke)); err != nil {
			return nil, err
		}
		pins = append(pins, p)
	}
	return pins, rows.Err()
}

// MaxPins bounds the pins of one reference.
const MaxPins = 100

// AddPin keeps a pin on a reference.
func (sh *Shop) AddPin(ctx context.Context, reference string, p Pin) (Pin, error) {
	p.UID = newUID()
	if p.State == "" {
		p.State = recipe.Rested
	}
	reading, err := asJSON(p.Reading)
	if err != nil {
		return p, err
	}
	var stroke any
	if len(p.Disc.Stroke) > 0 {
		if stroke, err = asJSON(p.Disc.Stroke); err != nil {
			return p, err
		}
	}
	err = inTx(ctx, sh.db, func(tx *sql.Tx) error {
		var n int
		if err := tx.QueryRowContext(ctx, "SELECT COUNT(*) FROM pin WHERE shop_id = ? AND reference_uid = ?", sh.id, reference).Scan(&n); err != nil {
			return err
		}
		if n >= MaxPins {
			return ErrTooMany
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO pin
			(shop_id, reference_uid, uid, name, x_px, y_px, radius_px, thickness_mm, ground, reading, sample, state, stroke) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
			sh.id, reference, p.UID, p.Name, p.Disc.X, p.Disc.Y, p.Disc.Radius, p.ThicknessMM, p.Ground, reading, p.Sample, p.State, stroke)
		return err
	})
	return p, err
}

// SetScale keeps how many pixels of a reference's photo are a millimetre. What was counted to another scale is gone.
func (sh *Shop) SetScale(ctx context.Context, reference string, pxPerMM float64) error {
	res, err := sh.db.ExecContext(ctx, "UPDATE reference SET px_per_mm = ?, census = NULL WHERE shop_id = ? AND uid = ?", pxPerMM, sh.id, reference)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return errOr(err, ErrNotFound)
	}
	return nil
}

// SetCensus keeps the flake that was found in a reference's photo; nil takes it away.
func (sh *Shop) SetCensus(ctx context.Context, reference string, found *photo.Found) error {
	var doc any
	if found != nil {
		raw, err := asJSON(found)
		if err != nil {
			return err
		}
		doc = raw
	}
	_, err := sh.db.ExecContext(ctx, "UPDATE reference SET census = ? WHERE shop_id = ? AND uid = ?", doc, sh.id, reference)
	return err
}

// SetAside marks every pin of a bait of a bag as not typical, or takes that back.
func (sh *Shop) SetAside(ctx context.Context, reference string, sample int, aside bool) error {
	_, err := sh.db.ExecContext(ctx, "UPDATE pin SET aside = ? WHERE shop_id = ? AND reference_uid = ? AND sample = ?", aside, sh.id, reference, sample)
	return err
}

// SetMine marks a pin as differing on purpose, or takes that back.
func (sh *Shop) SetMine(ctx context.Context, reference, pin string, mine bool) error {
	_, err := sh.db.ExecContext(ctx, "UPDATE pin SET mine = ? WHERE shop_id = ? AND reference_uid = ? AND uid = ?", mine, sh.id, reference, pin)
	return err
}

// RemovePin takes a pin off.
func (sh *Shop) RemovePin(ctx context.Context, reference, uid string) error {
	res, err := sh.db.ExecContext(ctx, "DELETE FROM pin WHERE shop_id = ? AND reference_uid = ? AND uid = ?", sh.id, reference, uid)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return errOr(err, ErrNotFound)
	}
	return nil
}

func errOr(err, other error) error {
	if err != nil {
		return err
	}
	return other
}
