package store

import (
	"context"
	"database/sql"
	"slices"
	"time"

	"cloudburst/core/project"
)

// SavedProject is a project as it is kept.
type SavedProject struct {
	UID      string `json:"uid"`
	Revision int    `json:"revision" doc:"Counts the changes; send it back with the next one"`
	Kept     Kept   `json:"kept" enum:"here,away,deleted"`
	project.Project
	Batches   int `json:"batches" doc:"That were poured for it"`
	touchedAt time.Time
}

const projectQuery = `SELECT p.uid, p.name, p.project, p.revision, p.kept, p.touched_at,
		(SELECT COUNT(*) FROM batch b WHERE b.shop_id = p.shop_id AND b.project_uid = p.uid AND b.kept <> 'deleted')
	FROM project p WHERE p.shop_id = ?`

func scanProject(row interface{ Scan(...any) error }) (SavedProject, error) {
	var p SavedProject
	var doc []byte
	var name string
	if err := row.Scan(&p.UID, &name, &doc, &p.Revision, &p.Kept, &p.touchedAt, &p.Batches); err != nil {
		return p, err
	}
	err := projectForm.read(doc, &p.Project)
	p.Name = name
	return p, err
}

// Projects lists them, the one that was touched last first.
func (sh *Shop) Projects(ctx context.Context, page Page) (Listed[SavedProject], error) {
	where, args, err := page.older("p.touched_at", "p.uid")
	if err != nil {
		return Listed[SavedProject]{}, err
	}
	list := []SavedProject{}
	err = sh.eachRow(ctx, projectQuery+page.kept("p")+where+" ORDER BY p.touched_at DESC, p.uid DESC LIMIT ?",
		append(append([]any{sh.id}, args...), page.Most+1), func(row *sql.Rows) error {
			p, err := scanProject(row)
			list = append(list, p)
			return err
		})
	return cut(list, page.Most, func(p *SavedProject) string { return cursorOf(stamped(p.touchedAt), p.UID) }), err
}

// Project is one of them.
func (sh *Shop) Project(ctx context.Context, uid string) (SavedProject, error) {
	p, err := scanProject(sh.db.QueryRowContext(ctx, projectQuery+" AND p.uid = ?", sh.id, uid))
	return p, notFound(err)
}

const roomForProjects = "SELECT COUNT(*) FROM project WHERE shop_id = ? AND kept = 'here' FOR UPDATE"

// AddProject opens a project.
func (sh *Shop) AddProject(ctx context.Context, p project.Project) (SavedProject, error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return SavedProject{}, err
	}
	if err := p.Check(shelf); err != nil {
		return SavedProject{}, err
	}
	doc, err := projectForm.write(p)
	if err != nil {
		return SavedProject{}, err
	}
	uid, err := sh.write(ctx, func(tx *sql.Tx) (string, error) {
		if err := room(ctx, tx, roomForProjects, sh.id); err != nil {
			return "", err
		}
		uid := newUID()
		_, err := tx.ExecContext(
			ctx, "INSERT INTO project (shop_id, uid, name, project) VALUES (?, ?, ?, ?)", sh.id, uid, p.Name, doc,
		)
		return uid, err
	})
	if err != nil {
		return SavedProject{}, err
	}
	return sh.Project(ctx, uid)
}

// ChangeProject keeps a changed project, if nobody changed it since it was seen.
func (sh *Shop) ChangeProject(ctx context.Context, uid string, seen int, p project.Project) (SavedProject, error) {
	shelf, err := sh.Shelf(ctx)
	if err != nil {
		return SavedProject{}, err
	}
	if err := p.Check(shelf); err != nil {
		return SavedProject{}, err
	}
	doc, err := projectForm.write(p)
	if err != nil {
		return SavedProject{}, err
	}
	if err := sh.change(ctx, func(tx *sql.Tx) error {
		if err := holdAt(
			ctx, tx, seen, "SELECT revision FROM project WHERE shop_id = ? AND uid = ? FOR UPDATE", sh.id, uid,
		); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx,
			"UPDATE project SET name = ?, project = ?, revision = revision + 1, touched_at = CURRENT_TIMESTAMP(6) WHERE shop_id = ? AND uid = ?",
			p.Name, doc, sh.id, uid)
		return err
	}); err != nil {
		return SavedProject{}, err
	}
	return sh.Project(ctx, uid)
}

// mostTried is how many batches of a project are shown, the latest.
const mostTried = 60

// BatchesFor are the batches that were poured for a project, the latest of them, in the order in which they were
// recorded.
func (sh *Shop) BatchesFor(ctx context.Context, project string) ([]SavedBatch, error) {
	list, err := sh.batches(
		ctx,
		" AND b.project_uid = ? AND b.kept <> 'deleted' ORDER BY b.poured_on DESC, b.recorded_at DESC, b.uid DESC LIMIT ?",
		project, mostTried,
	)
	slices.Reverse(list)
	return list, err
}
