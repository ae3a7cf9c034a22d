package store

import (
	"cmp"
	"context"
	"database/sql"
	"math"
	"slices"
	"strconv"
	"strings"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
)

// Seen is what a list shows of a recipe's colour. It is kept with the version, and worked out again when one of its
// materials changed.
type Seen struct {
	Swatch      mix.Swatch `json:"swatch" doc:"As its target was read, or 4 mm over white"`
	ThicknessMM float64    `json:"thicknessMM"`
	Nearness    string     `json:"nearness,omitempty" doc:"How it stands to its target, in words"`
	Near        colour.Lab `json:"near" doc:"At 5 mm over white, as recipes are compared with a colour that is sought"`
}

// mostPerL is the most that one ΔE00 can be in L: its weight S_L at L 0 or 100, a little more for the rounding. Chroma
// and hue only ever add.
const mostPerL = 1.75

// everyL is farther than any two colours are apart in L, also where one of them glows.
const everyL = 250

// near is how a recipe keeps its colour to be found by.
func (s *Seen) near() []any { return []any{s.Near.L, s.Near.A, s.Near.B} }

func see(r *SavedRecipe, shelf cup.Shelf) (*Seen, error) {
	m, err := mix.Stir(&r.Cup, shelf)
	if err != nil {
		return nil, err
	}
	at := mix.UsualLook(&r.Cup)
	lab := m.Colour(at)
	s := &Seen{
		Swatch: mix.NewSwatch(lab), ThicknessMM: at.ThicknessMM,
		Near: m.Colour(mix.Compared),
	}
	if r.Target != nil {
		s.Nearness = colour.Compare(lab, r.Target.Lab).Nearness
	}
	return s, nil
}

// SeenOf gives what a list shows of each recipe's colour, and keeps what had to be worked out for it.
func (sh *Shop) SeenOf(ctx context.Context, list []SavedRecipe) ([]Seen, error) {
	kept, err := sh.shelf(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]Seen, len(list))
	var fresh []int
	for i := range list {
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		s := list[i].seen
		if s == nil {
			if s, err = see(&list[i], kept.shelf); err != nil {
				return nil, err
			}
			fresh = append(fresh, i)
		}
		out[i] = *s
	}
	for part := range slices.Chunk(fresh, someAtOnce) {
		if err := sh.keepSeen(ctx, list, out, part, kept); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// keepSeen writes colours down, unless what they come from changed since, or what batches taught is not worked out yet.
func (sh *Shop) keepSeen(ctx context.Context, list []SavedRecipe, seen []Seen, which []int, of *keptShelf) error {
	if of.behind {
		return nil
	}
	return inTx(ctx, sh.db, func(tx *sql.Tx) error {
		now, err := sumsOf(ctx, tx, sh.id, "LOCK IN SHARE MODE")
		if err != nil || now != of.sums {
			return err
		}
		for _, i := range which {
			doc, err := seenForm.write(seen[i])
			if err != nil {
				return err
			}
			at := []any{sh.id, list[i].UID, list[i].Revision}
			if _, err := tx.ExecContext(
				ctx, "UPDATE recipe_revision SET seen = ? WHERE shop_id = ? AND recipe_uid = ? AND revision = ?",
				append([]any{doc}, at...)...,
			); err != nil {
				return err
			}
			if _, err := tx.ExecContext(ctx,
				"UPDATE recipe SET near_l = ?, near_a = ?, near_b = ? WHERE shop_id = ? AND uid = ? AND revision = ?",
				append(seen[i].near(), at...)...); err != nil {
				return err
			}
		}
		return nil
	})
}

// unsee forgets the colours of every recipe that has a material in it, also within a dilution.
func unsee(ctx context.Context, tx *sql.Tx, shop int64, uid string, shelf cup.Shelf) error {
	uids := []string{uid}
	for other, m := range shelf {
		if m.Colourant != nil && slices.ContainsFunc(
			m.Colourant.Contains, func(p material.Part) bool { return p.Material == uid },
		) {
			uids = append(uids, other)
		}
	}
	in := marks(len(uids))
	for _, query := range []string{
		"UPDATE recipe_revision SET seen = NULL WHERE shop_id = ? AND plastisol_uid IN (" + in + ")",
		`UPDATE recipe_revision r JOIN recipe_dose d ON d.shop_id = r.shop_id AND d.recipe_uid = r.recipe_uid AND d.revision = r.revision
			SET r.seen = NULL WHERE r.shop_id = ? AND d.material_uid IN (` + in + ")",
	} {
		if _, err := tx.ExecContext(ctx, query, append([]any{shop}, anys(uids)...)...); err != nil {
			return err
		}
	}
	_, err := tx.ExecContext(ctx, `UPDATE recipe JOIN recipe_revision r ON r.shop_id = recipe.shop_id AND r.recipe_uid = recipe.uid AND r.revision = recipe.revision
		SET recipe.near_l = NULL WHERE recipe.shop_id = ? AND r.seen IS NULL`, shop)
	return err
}

// NearRecipe is a recipe with its distance from a colour.
type NearRecipe struct {
	UID      string
	DeltaE00 float64
}

// RecipesNear lists recipes, the one nearest to a colour at 5 mm over white first.
func (sh *Shop) RecipesNear(
	ctx context.Context, wanted colour.Lab, find string, page Page,
) (Listed[NearRecipe], error) {
	none := Listed[NearRecipe]{}
	where, args, err := sh.mentions(ctx, find)
	if err != nil {
		return none, err
	}
	args = append([]any{sh.id}, args...)
	// What was forgotten since a material changed is worked out and kept part by part: broken off, the next time goes
	// on from there.
	for {
		unseen, err := sh.recipes(
			ctx, `SELECT `+recipeColumns+newestRecipes+page.kept("recipe")+where+` AND recipe.near_l IS NULL LIMIT ?`,
			append(args, someAtOnce)...,
		)
		if err != nil {
			return none, err
		}
		if _, err := sh.SeenOf(ctx, unseen); err != nil {
			return none, err
		}
		if len(unseen) < someAtOnce {
			break
		}
	}
	from := newestRecipes
	if where == "" { // no words to look for: the recipes alone will do
		from = " FROM recipe WHERE recipe.shop_id = ?"
	}
	last := NearRecipe{DeltaE00: -1}
	if page.After != "" {
		parts, err := page.parts(2)
		if err != nil {
			return none, err
		}
		last.UID = parts[1]
		if last.DeltaE00, err = strconv.ParseFloat(parts[0], 64); err != nil || measure.NotFinite(last.DeltaE00) != "" {
			return none, measure.Faulty("after", "this is no place in the list; begin at its top")
		}
	}
	byPlace := func(a, b NearRecipe) int {
		return cmp.Or(cmp.Compare(a.DeltaE00, b.DeltaE00), strings.Compare(a.UID, b.UID))
	}
	// Only those of nearly its lightness are read: what is farther than w in L is farther than w/mostPerL in ΔE00.
	var all []NearRecipe
	for w := min(max(8, last.DeltaE00*mostPerL), everyL); ; w *= 6 {
		all = all[:0]
		err = sh.eachRow(ctx, `SELECT recipe.uid, recipe.near_l, recipe.near_a, recipe.near_b`+from+page.kept("recipe")+
			where+
			` AND recipe.near_l BETWEEN ? AND ?`,
			append(slices.Clone(args), wanted.L-w, wanted.L+w), func(row *sql.Rows) error {
				n := NearRecipe{}
				var lab colour.Lab
				err := row.Scan(&n.UID, &lab.L, &lab.A, &lab.B)
				n.DeltaE00 = math.Round(1e6*colour.DeltaE00(lab, wanted)) / 1e6 // as the cursor has it
				if byPlace(n, last) > 0 {
					all = append(all, n)
				}
				return err
			})
		if err != nil {
			return none, err
		}
		slices.SortFunc(all, byPlace)
		if w >= everyL || len(all) > page.Most && all[page.Most].DeltaE00 <= w/mostPerL {
			break
		}
	}
	if all == nil {
		all = []NearRecipe{}
	}
	return cut(
		all, page.Most, func(n *NearRecipe) string {
			return cursorOf(
				strconv.FormatFloat(n.DeltaE00, 'f', 6, 64), n.UID,
			)
		},
	), nil
}
