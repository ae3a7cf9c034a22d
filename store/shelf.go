package store

import (
	"context"
	"database/sql"
	"errors"
	"maps"
	"strings"
	"time"

	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
)

// ShelfItem is a material with what only its shop knows of it.
type ShelfItem struct {
	material.Material
	Revision int            `json:"revision" doc:"Counts the changes; send it back with the next one"`
	Retired  bool           `json:"retired" doc:"Off the shelf, kept for the recipes that used it"`
	Stock    material.Stock `json:"stock"`
	Accepted bool           `json:"accepted" doc:"What batches have taught of it is predicted with"`
}

const itemColumns = "properties, revision, retired, stock, accepted"

// Materials lists what is on the shelf, plastisols first, in the order in which the bottles came. Retired ones are left
// out.
func (sh *Shop) Materials(ctx context.Context) ([]ShelfItem, error) {
	return sh.items(ctx, "AND NOT retired")
}

// AllMaterials is the same with the retired ones, which old recipes still name.
func (sh *Shop) AllMaterials(ctx context.Context) ([]ShelfItem, error) { return sh.items(ctx, "") }

// Item is one material with its stock, retired or not.
func (sh *Shop) Item(ctx context.Context, uid string) (ShelfItem, error) {
	list, err := sh.items(ctx, "AND uid = ?", uid)
	if err != nil {
		return ShelfItem{}, err
	}
	if len(list) == 0 {
		return ShelfItem{}, ErrNotFound
	}
	return list[0], nil
}

func (sh *Shop) items(ctx context.Context, where string, args ...any) ([]ShelfItem, error) {
	args = append([]any{sh.id}, args...)
	kinds := material.Kinds()
	for _, k := range kinds {
		args = append(args, k)
	}
	rows, err := sh.db.QueryContext(ctx, "SELECT "+itemColumns+" FROM material WHERE shop_id = ? "+where+`
		ORDER BY FIELD(kind`+strings.Repeat(", ?", len(kinds))+`), created_at, uid`, args...)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	list := []ShelfItem{}
	for rows.Next() {
		var raw, stock []byte
		var m ShelfItem
		if err := rows.Scan(&raw, &m.Revision, &m.Retired, &stock, &m.Accepted); err != nil {
			return nil, err
		}
		if err := errors.Join(materialForm.read(raw, &m.Material), stockForm.read(stock, &m.Stock)); err != nil {
			return nil, err
		}
		list = append(list, m)
	}
	return list, rows.Err()
}

// Left is how much is left of what the shop keeps count of, and below how much it buys more: ml or g, by uid.
func (sh *Shop) Left(ctx context.Context) (left, low map[string]float64, err error) {
	left, low = map[string]float64{}, map[string]float64{}
	rows, err := sh.db.QueryContext(
		ctx, "SELECT uid, stock FROM material WHERE shop_id = ? AND stock IS NOT NULL", sh.id,
	)
	if err != nil {
		return nil, nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var uid string
		var raw []byte
		var s material.Stock
		if err := rows.Scan(&uid, &raw); err != nil {
			return nil, nil, err
		}
		if err := stockForm.read(raw, &s); err != nil {
			return nil, nil, err
		}
		if s.Typed != "" {
			left[uid], low[uid] = s.Left, s.Low
		}
	}
	return left, low, rows.Err()
}

// AddMaterial puts a bottle on the shelf; without a uid it gets one.
func (sh *Shop) AddMaterial(ctx context.Context, m material.Material) (ShelfItem, error) {
	if m.UID == "" {
		m.UID = newUID()
	}
	if err := m.Check(); err != nil {
		return ShelfItem{}, err
	}
	uid, err := sh.write(ctx, func(tx *sql.Tx) (string, error) { return m.UID, addMaterial(ctx, tx, sh.id, m) })
	if err != nil {
		return ShelfItem{}, err
	}
	return sh.Item(ctx, uid)
}

// AddStarter fills an empty shelf with a rack to begin with, all of it at once.
func (sh *Shop) AddStarter(ctx context.Context, rack []material.Material) error {
	return sh.change(ctx, func(tx *sql.Tx) error {
		sums, err := sumsOf(ctx, tx, sh.id, "FOR UPDATE")
		if err != nil {
			return err
		}
		if sums.Count > 0 {
			return measure.Faulty("shelf", "there is something on the shelf already; add bottles one by one")
		}
		for _, m := range rack {
			m.UID = newUID()
			if err := m.Check(); err != nil {
				return err
			}
			if err := addMaterial(ctx, tx, sh.id, m); err != nil {
				return err
			}
		}
		return nil
	})
}

// ChangeMaterial refines a material's properties, from the revision that was seen. ErrStale if it is no longer that.
func (sh *Shop) ChangeMaterial(ctx context.Context, m material.Material, seen int) (ShelfItem, error) {
	if err := m.Check(); err != nil {
		return ShelfItem{}, err
	}
	doc, err := materialForm.write(m)
	if err != nil {
		return ShelfItem{}, err
	}
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return ShelfItem{}, err
	}
	also := func(tx *sql.Tx) error {
		return inTurn(
			func() error { return unsee(ctx, tx, sh.id, m.UID, shelf) },
			func() error { return unseeTaught(ctx, tx, sh.id, shelf) },
			func() error { return keepRevision(ctx, tx, sh.id, m.UID) },
		)
	}
	return sh.changeItem(ctx, m.UID, seen, also, "properties = ?, name = ?", doc, m.Name)
}

// SetStock keeps how much is left and what it costs.
func (sh *Shop) SetStock(ctx context.Context, uid string, seen int, s material.Stock) (ShelfItem, error) {
	doc, err := stockForm.write(s)
	if err != nil {
		return ShelfItem{}, err
	}
	return sh.changeItem(ctx, uid, seen, nil, "stock = ?", doc)
}

// Retire takes a material off the shelf, or puts it back.
func (sh *Shop) Retire(ctx context.Context, uid string, seen int, retired bool) (ShelfItem, error) {
	return sh.changeItem(ctx, uid, seen, nil, "retired = ?", retired)
}

func (sh *Shop) changeItem(
	ctx context.Context, uid string, seen int, also func(*sql.Tx) error, set string, args ...any,
) (ShelfItem, error) {
	err := sh.change(ctx, func(tx *sql.Tx) error {
		if err := holdItem(ctx, tx, sh.id, uid, seen); err != nil {
			return err
		}
		_, err := tx.ExecContext(
			ctx, "UPDATE material SET revision = revision + 1, "+set+" WHERE shop_id = ? AND uid = ?",
			append(args, sh.id, uid)...,
		)
		if err == nil && also != nil {
			err = also(tx)
		}
		return err
	})
	if err != nil {
		return ShelfItem{}, err
	}
	return sh.Item(ctx, uid)
}

// holdItem locks a material, if nobody changed it since it was seen.
func holdItem(ctx context.Context, tx *sql.Tx, shop int64, uid string, seen int) error {
	return holdAt(ctx, tx, seen, "SELECT revision FROM material WHERE shop_id = ? AND uid = ? FOR UPDATE", shop, uid)
}

// holdAt locks the row whose revision the query gives. ErrStale if it is not the one that was seen.
func holdAt(ctx context.Context, tx *sql.Tx, seen int, query string, args ...any) error {
	var now int
	if err := tx.QueryRowContext(ctx, query, args...).Scan(&now); err != nil {
		return notFound(err)
	}
	if now != seen {
		return ErrStale
	}
	return nil
}

// NextBottle puts a new bottle of the same stuff on the shelf. Old recipes stay with the old one, which is retired.
func (sh *Shop) NextBottle(ctx context.Context, uid string, seen int) (ShelfItem, error) {
	old, err := sh.Item(ctx, uid)
	if err != nil {
		return ShelfItem{}, err
	}
	next := old.Material
	next.UID, next.Replaces = newUID(), old.UID
	fresh := old.Stock
	fresh.Typed, fresh.Left = fresh.Bought, fresh.Size
	stock, err := stockForm.write(fresh)
	if err != nil {
		return ShelfItem{}, err
	}
	made, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		if err := holdItem(ctx, tx, sh.id, uid, seen); err != nil {
			return "", err
		}
		if err := addMaterial(ctx, tx, sh.id, next); err != nil {
			return "", err
		}
		if _, err := tx.ExecContext(
			ctx, "UPDATE material SET stock = ? WHERE shop_id = ? AND uid = ?", stock, sh.id, next.UID,
		); err != nil {
			return "", err
		}
		_, err := tx.ExecContext(
			ctx, "UPDATE material SET retired = TRUE, revision = revision + 1 WHERE shop_id = ? AND uid = ?", sh.id,
			old.UID,
		)
		return next.UID, err
	})
	if err != nil {
		return ShelfItem{}, err
	}
	return sh.Item(ctx, made)
}

// UsedIn names the recipes whose newest version uses a material.
func (sh *Shop) UsedIn(ctx context.Context, uid string) ([]string, error) {
	rows, err := sh.db.QueryContext(ctx, `SELECT DISTINCT v.name FROM recipe r
		JOIN recipe_revision v ON v.shop_id = r.shop_id AND v.recipe_uid = r.uid AND v.revision = r.revision
		LEFT JOIN recipe_dose d ON d.shop_id = r.shop_id AND d.recipe_uid = r.uid AND d.revision = r.revision AND d.material_uid = ?
		WHERE r.shop_id = ? AND (d.material_uid IS NOT NULL OR v.plastisol_uid = ?) ORDER BY v.name LIMIT 100`, uid, sh.id, uid)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	names := []string{}
	for rows.Next() {
		var name string
		if err := rows.Scan(&name); err != nil {
			return nil, err
		}
		names = append(names, name)
	}
	return names, rows.Err()
}

// Kit is what the shop measures with, and its revision.
func (sh *Shop) Kit(ctx context.Context) (measure.Kit, int, error) {
	var raw []byte
	var revision int
	kit := measure.StandardKit()
	if err := sh.db.QueryRowContext(
		ctx, "SELECT kit, kit_revision FROM shop WHERE id = ?", sh.id,
	).Scan(&raw, &revision); err != nil {
		return kit, 0, notFound(err)
	}
	return kit, revision, kitForm.read(raw, &kit)
}

// SetKit keeps it, if nobody changed it since it was seen.
func (sh *Shop) SetKit(ctx context.Context, kit measure.Kit, seen int) error {
	if err := kit.Check(); err != nil {
		return err
	}
	doc, err := kitForm.write(kit)
	if err != nil {
		return err
	}
	return sh.change(ctx, func(tx *sql.Tx) error {
		if err := holdAt(ctx, tx, seen, "SELECT kit_revision FROM shop WHERE id = ? FOR UPDATE", sh.id); err != nil {
			return err
		}
		_, err := tx.ExecContext(
			ctx, "UPDATE shop SET kit = ?, kit_revision = kit_revision + 1 WHERE id = ?", doc, sh.id,
		)
		return err
	})
}

var errTaken = errors.New("this uid is taken")

func addMaterial(ctx context.Context, tx *sql.Tx, shop int64, m material.Material) error {
	doc, err := materialForm.write(m)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, "INSERT INTO material (shop_id, uid, kind, name, properties) VALUES (?, ?, ?, ?, ?)",
		shop, m.UID, m.Kind, m.Name, doc)
	if isDuplicate(err) {
		return errTaken
	}
	return errOr(err, keepRevision(ctx, tx, shop, m.UID))
}

// keepRevision keeps what a material is from now on beside what it was.
func keepRevision(ctx context.Context, tx *sql.Tx, shop int64, uid string) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO material_revision (shop_id, uid, revision, properties)
		SELECT shop_id, uid, revision, properties FROM material WHERE shop_id = ? AND uid = ?`, shop, uid)
	return err
}

// Shelves are the shelf as it is, and as it was, by the bottles' own figures.
type Shelves struct {
	now  cup.Shelf
	were map[string][]revision // of what was changed since it came, oldest first
}

type revision struct {
	since time.Time
	is    material.Material
}

// Shelves reads them.
func (sh *Shop) Shelves(ctx context.Context) (*Shelves, error) {
	kept, err := sh.shelf(ctx)
	if err != nil {
		return nil, err
	}
	rows, err := sh.db.QueryContext(ctx, `SELECT uid, properties, since FROM material_revision WHERE shop_id = ? AND uid IN
		(SELECT uid FROM material_revision WHERE shop_id = ? GROUP BY uid HAVING COUNT(*) > 1) ORDER BY uid, revision`, sh.id, sh.id)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	s := &Shelves{kept.plain, map[string][]revision{}}
	for rows.Next() {
		var uid string
		var raw []byte
		var r revision
		if err := rows.Scan(&uid, &raw, &r.since); err != nil {
			return nil, err
		}
		if err := materialForm.read(raw, &r.is); err != nil {
			return nil, err
		}
		s.were[uid] = append(s.were[uid], r)
	}
	return s, rows.Err()
}

// At is the shelf as it was at a time: each material by what was known of it then, or first.
func (s *Shelves) At(when time.Time) cup.Shelf {
	if len(s.were) == 0 {
		return s.now
	}
	shelf := maps.Clone(s.now)
	for uid, all := range s.were {
		shelf[uid] = all[0].is
		for _, r := range all {
			if !r.since.After(when) {
				shelf[uid] = r.is
			}
		}
	}
	return shelf
}
