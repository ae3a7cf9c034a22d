package store_test

import (
	"database/sql"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/logbook"
	"cloudburst/store"
	"cloudburst/store/storetest"
)

// longLog is a shop with so many log entries, put there by the thousand.
func longLog(t testing.TB, entries int) *store.Shop {
	dsn := storetest.DSN(t)
	st, err := store.Open(t.Context(), dsn)
	require.NoError(t, err)
	t.Cleanup(func() { st.Close() })
	require.NoError(t, st.Migrate(t.Context()))
	sh, err := st.NewShop(t.Context(), "Long", false)
	require.NoError(t, err)
	first, err := sh.AddEntry(
		t.Context(),
		logbook.Entry{
			Title: "Eel by the sluice", Day: "2026-04-02", Water: "stained", Tags: []string{"zander"},
			Words:  "On the fall.",
			Colour: &colour.Lab{L: 40, A: -6, B: 30},
		},
	)
	require.NoError(t, err)
	db, err := sql.Open("mysql", dsn)
	require.NoError(t, err)
	defer db.Close()
	for i := 1; i < entries; i++ {
		_, err := db.ExecContext(t.Context(), `INSERT INTO log_entry (shop_id, uid, day, name, entry, words, season, lab_l, lab_a, lab_b)
			SELECT shop_id, ?, DATE_SUB(day, INTERVAL ? DAY), ?, entry, ?, ELT(1 + ? MOD 4, 'spring', 'summer', 'autumn', 'winter'), ? MOD 90, 0, 0 FROM log_entry WHERE uid = ?`,
			fmt.Sprint("entry-", i), i%3000, fmt.Sprint("Day ", i), fmt.Sprintf("day %d\ngreen and slow, along the edge\nherring\n#tag%d", i, i%50), i, i, first.UID)
		require.NoError(t, err)
	}
	return sh
}

// A long list pages by keys: every entry comes once, newest day first, and one that comes in between moves nothing.
func TestTheLogPagesByKeys(t *testing.T) {
	sh := longLog(t, 130)
	seen := map[string]bool{}
	for after, page := "", 0; ; page++ {
		got, err := sh.Entries(t.Context(), store.EntriesAsked{Page: store.Page{After: after, Most: 40}})
		require.NoError(t, err)
		for _, e := range got.Items {
			assert.False(t, seen[e.UID], "%s twice", e.UID)
			seen[e.UID] = true
		}
		if page == 1 {
			_, err := sh.AddEntry(t.Context(), logbook.Entry{Title: "Later", Day: "2026-11-28", Tags: []string{}})
			require.NoError(t, err)
		}
		if after = got.Next; after == "" {
			break
		}
	}
	assert.Len(t, seen, 130)
	found, err := sh.Entries(
		t.Context(),
		store.EntriesAsked{Words: []string{"stained", "#zander"}, Season: logbook.Spring, Page: store.Page{Most: 10}},
	)
	require.NoError(t, err)
	assert.Len(t, found.Items, 1)
}

func BenchmarkLogOfTenThousand(b *testing.B) {
	sh := longLog(b, 10_000)
	for name, q := range map[string]store.EntriesAsked{
		"two words": {Words: []string{"stained", "fall"}}, "tag": {Words: []string{"#tag17"}},
		"season": {Season: logbook.Autumn}, "colour": {Near: &colour.Lab{L: 40, A: -6, B: 30}},
		"nothing": {Words: []string{"pike"}},
	} {
		q.Most = 30
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				if _, err := sh.Entries(b.Context(), q); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
