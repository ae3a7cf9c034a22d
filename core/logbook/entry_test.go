package logbook_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	. "cloudburst/core/logbook"
	"cloudburst/testkit"
)

func TestAnEntryIsFoundByItsWords(t *testing.T) {
	e := Entry{
		Title: "Olive eel", Day: "2026-04-12", Words: "Two zander by the reed edge.", Water: "stained",
		Tags: []string{" #Zander", "zander", "Eel "}, Caught: 2, Good: 14,
	}
	e.Tidy()
	require.NoError(t, e.Check())
	assert.Equal(t, []string{"zander", "eel"}, e.Tags)
	assert.Equal(t, Spring, e.Season())
	for _, w := range Sought("What worked in stained water in spring?") {
		if w != "water" { // says the field, not the entry
			assert.Contains(t, e.Text(), w)
		}
	}
	assert.Contains(t, e.Text(), "#eel")
	assert.Equal(t, "14 baits, 2 fish", e.Says())
	for _, m := range []struct {
		day  string
		want Season
	}{{"2026-01-31", Winter}, {"2026-03-01", Spring}, {"2026-06-01", Summer}, {"2026-11-30", Autumn}, {"2026-12-01", Winter}, {"soon", ""}} {
		assert.Equal(t, m.want, (&Entry{Day: m.day}).Season(), m.day)
	}
}

func TestWhatIsNoEntry(t *testing.T) {
	for field, bad := range map[string]Entry{
		"title": {Day: "2026-04-12"}, "day": {Title: "x", Day: "yesterday"}, "good": {
			Title: "x", Day: "2026-04-12", Good: -1,
		},
		"tags": {Title: "x", Day: "2026-04-12", Tags: make([]string, 13)}, "words": {
			Title: "x", Day: "2026-04-12", Words: strings.Repeat("a", 4001),
		},
	} {
		testkit.AssertFault(t, bad.Check(), field, "")
	}
}

func ExampleSought() {
	fmt.Println(Sought("What worked in stained water in spring?"))
	// Output: [stained spring]
}
