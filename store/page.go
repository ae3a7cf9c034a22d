package store

import (
	"context"
	"database/sql"
	"encoding/base64"
	"fmt"
	"strings"
	"time"

	"cloudburst/core/measure"
)

// Page says which part of a list is wanted.
type Page struct {
	After string // where the part before it ended, as that was told; empty for the beginning
	Most  int
	Away  bool // what was put away, instead of what is in use
}

// kept is the SQL for where the things of a list are.
func (p Page) kept(table string) string {
	if p.Away {
		return " AND " + table + ".kept = 'away'"
	}
	return " AND " + table + ".kept = 'here'"
}

// Listed is a part of a list, and where the next one begins; empty at the end.
type Listed[T any] struct {
	Items []T    `json:"items" nullable:"false"`
	Next  string `json:"next,omitempty" doc:"Send it back as after for what follows; empty at the end"`
}

// A cursor holds the place of the last item by what the list is sorted by, so that what comes or goes in between
// neither repeats nor hides anything.
func cursorOf(parts ...string) string {
	return base64.RawURLEncoding.EncodeToString([]byte(strings.Join(parts, "\x00")))
}

func (p Page) parts(n int) ([]string, error) {
	raw, err := base64.RawURLEncoding.DecodeString(p.After)
	parts := strings.Split(string(raw), "\x00")
	if err != nil || len(parts) != n {
		return nil, measure.Faulty("after", "this is no place in the list; begin at its top")
	}
	return parts, nil
}

const stamp = "2006-01-02 15:04:05.000000"

func stamped(t time.Time) string { return t.UTC().Format(stamp) }

// older is the SQL for what comes after the cursor in a list sorted by these columns, all of them descending, the last
// a uid.
func (p Page) older(columns ...string) (where string, args []any, err error) {
	if p.After == "" {
		return "", nil, nil
	}
	parts, err := p.parts(len(columns))
	if err != nil {
		return "", nil, err
	}
	for i, part := range parts {
		if i < len(parts)-1 {
			at, err := time.Parse(stamp, part)
			if err != nil {
				return "", nil, measure.Faulty("after", "this is no place in the list; begin at its top")
			}
			args = append(args, at)
			continue
		}
		if part = strings.ToValidUTF8(part, ""); !isASCII(part) {
			return "", nil, measure.Faulty("after", "this is no place in the list; begin at its top")
		}
		args = append(args, part)
	}
	// Spelled out, not as rows: MariaDB finds its place in the index by this one.
	var either []string
	var all []any
	for i := range columns {
		var cond []string
		for j := range i {
			cond = append(cond, columns[j]+" = ?")
			all = append(all, args[j])
		}
		cond = append(cond, columns[i]+" < ?")
		all = append(all, args[i])
		either = append(either, "("+strings.Join(cond, " AND ")+")")
	}
	first := fmt.Sprintf("%s <= ? AND ", columns[0])
	return " AND " + first + "(" + strings.Join(either, " OR ") + ")", append([]any{args[0]}, all...), nil
}

func isASCII(s string) bool {
	for i := range len(s) {
		if s[i] >= 0x80 || s[i] < 0x20 {
			return false
		}
	}
	return true
}

// cut gives a part of what was read with one more than the most, and its cursor.
func cut[T any](list []T, most int, cursor func(*T) string) Listed[T] {
	if len(list) <= most {
		return Listed[T]{Items: list}
	}
	return Listed[T]{list[:most], cursor(&list[most-1])}
}

// eachRow reads a query's rows.
func (sh *Shop) eachRow(ctx context.Context, query string, args []any, each func(row *sql.Rows) error) error {
	rows, err := sh.db.QueryContext(ctx, query, args...)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		if err := each(rows); err != nil {
			return err
		}
	}
	return rows.Err()
}

// marks are n question marks.
func marks(n int) string { return strings.TrimSuffix(strings.Repeat("?,", n), ",") }

func anys[T any](list []T) []any {
	out := make([]any, len(list))
	for i, v := range list {
		out[i] = v
	}
	return out
}
