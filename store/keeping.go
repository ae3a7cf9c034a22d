package store

import (
	"context"
	"database/sql"

	"cloudburst/core/measure"
)

// Kept says where a thing is: in its list, put away from it, or deleted. Whatever was put away or deleted can be
// brought back: what else names it, as a batch names its recipe, stays whole.
type Kept string

// The places.
const (
	Here    Kept = "here"
	Away    Kept = "away"
	Deleted Kept = "deleted"
)

// Thing is a kind of thing that a maker makes, names, puts away and deletes.
type Thing string

// The kinds.
const (
	Recipes    Thing = "recipe"
	References Thing = "reference"
	Batches    Thing = "batch"
	Baits      Thing = "bait"
	BenchCups  Thing = "cup"
	Projects   Thing = "project"
	Pours      Thing = "pour"
	Leftovers  Thing = "leftover"
	LogEntries Thing = "log"
	Packs      Thing = "pack"
	Supplies   Thing = "supply"
)

// tables of the things; never a name from outside.
var tables = map[Thing]string{
	Recipes: "recipe", References: "reference", Batches: "batch", Baits: "bait", BenchCups: "cup", Projects: "project",
	Pours: "pour", Leftovers: "leftover", LogEntries: "log_entry", Packs: "pack", Supplies: "supply",
}

// Keep puts a thing away, deletes it, or brings it back.
func (sh *Shop) Keep(ctx context.Context, what Thing, uid string, kept Kept) error {
	table, ok := tables[what]
	if !ok {
		return measure.Faulty(
			"what",
			"recipes, references, batches, baits, cups, projects, pours, leftovers, log entries, packs and supplies are kept",
		)
	}
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return err
	}
	return sh.change(ctx, func(tx *sql.Tx) error {
		var is Kept
		if err := tx.QueryRowContext(
			ctx, "SELECT kept FROM "+table+" WHERE shop_id = ? AND uid = ? FOR UPDATE", sh.id, uid,
		).Scan(&is); err != nil {
			return notFound(err)
		}
		if what == Baits && kept == Here && is != Here {
			if err := room(ctx, tx, roomForBaits, sh.id); err != nil {
				return err
			}
		}
		if _, err := tx.ExecContext(
			ctx, "UPDATE "+table+" SET kept = ? WHERE shop_id = ? AND uid = ?", kept, sh.id, uid,
		); err != nil || what != Batches {
			return err
		}
		return sh.taughtAnew(ctx, tx, shelf)
	})
}

// Rename gives a thing another name. A batch goes by its verdict; a bait's name is part of its design, see SaveBait.
func (sh *Shop) Rename(ctx context.Context, what Thing, uid, name string) error {
	query := map[Thing]string{
		Recipes: `UPDATE recipe_revision v JOIN recipe r ON r.shop_id = v.shop_id AND r.uid = v.recipe_uid AND r.revision = v.revision
			SET v.name = ? WHERE r.shop_id = ? AND r.uid = ?`,
		References: "UPDATE reference SET name = ?, revision = revision + 1 WHERE shop_id = ? AND uid = ?",
		Batches:    "UPDATE batch SET verdict = ? WHERE shop_id = ? AND uid = ?",
		BenchCups:  "UPDATE cup SET name = ? WHERE shop_id = ? AND uid = ?",
		Pours:      "UPDATE pour SET name = ?, revision = revision + 1 WHERE shop_id = ? AND uid = ?",
		LogEntries: "UPDATE log_entry SET name = ?, revision = revision + 1 WHERE shop_id = ? AND uid = ?",
		Leftovers:  "UPDATE leftover SET name = ?, revision = revision + 1 WHERE shop_id = ? AND uid = ?",
		Packs:      "UPDATE pack SET name = ?, revision = revision + 1 WHERE shop_id = ? AND uid = ?",
		Supplies:   "UPDATE supply SET name = ?, revision = revision + 1 WHERE shop_id = ? AND uid = ?",
		Projects:   "UPDATE project SET name = ?, revision = revision + 1 WHERE shop_id = ? AND uid = ?",
	}[what]
	switch {
	case query == "":
		return measure.Faulty(
			"what",
			"recipes, references, batches, baits, cups, projects, pours, leftovers, log entries, packs and supplies have names",
		)
	case what == Batches:
		if len(name) > 1000 {
			return measure.Faulty("name", "a verdict can have 1,000 letters; this has %d", len(name))
		}
		if err := measure.CheckNote("name", name); err != nil {
			return err
		}
	default:
		if err := measure.CheckName("name", "it", name, 80); err != nil {
			return err
		}
	}
	return sh.change(ctx, func(tx *sql.Tx) error {
		var one int
		if err := tx.QueryRowContext(
			ctx, "SELECT 1 FROM "+tables[what]+" WHERE shop_id = ? AND uid = ? FOR UPDATE", sh.id, uid,
		).Scan(&one); err != nil {
			return notFound(err)
		}
		_, err := tx.ExecContext(ctx, query, name, sh.id, uid)
		return err
	})
}

// About is the shop's name, and what its prices are in.
func (sh *Shop) About(ctx context.Context) (name, currency string, err error) {
	err = sh.db.QueryRowContext(ctx, "SELECT name, currency FROM shop WHERE id = ?", sh.id).Scan(&name, &currency)
	return name, currency, err
}

// SetAbout gives the shop another name and currency.
func (sh *Shop) SetAbout(ctx context.Context, name, currency string) error {
	if err := measure.CheckName("name", "the shop", name, 80); err != nil {
		return err
	}
	if err := measure.CheckName("currency", "the money", currency, 8); err != nil {
		return err
	}
	return sh.change(ctx, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE shop SET name = ?, currency = ? WHERE id = ?", name, currency, sh.id)
		return err
	})
}
