package web_test

import (
	"fmt"
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/logbook"
)

// BenchmarkLogOfTenThousand asks the endpoint, over a log of 10,000 entries, for the first thirty of each kind of
// question.
func BenchmarkLogOfTenThousand(b *testing.B) {
	s := serve(b, false)
	day := time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)
	waters, lights := []string{"clear", "green", "stained", "muddy"}, []string{"bright", "overcast", "dusk"}
	for i := range 10_000 {
		e := logbook.Entry{
			Title: fmt.Sprintf("Day %d", i), Day: day.AddDate(0, 0, i).Format(time.DateOnly), Words: fmt.Sprintf(
				"By the %d. stone, on the fall. %s", i%97, lights[i%3],
			),
			Tags: []string{fmt.Sprintf("tag%d", i%50)}, Water: waters[i%4], Caught: i % 5, Colour: &colour.Lab{
				L: float64(20 + i%60), A: float64(i%80 - 40), B: float64(i%90 - 40),
			},
		}
		_, err := s.shop.AddEntry(b.Context(), e)
		require.NoError(b, err)
	}
	for name, query := range map[string]string{
		"two words": "?find=stained+fall", "tag": "?find=%23tag17", "season": "?season=autumn",
		"colour":     "?near=dark+olive",
		"a question": "?find=what+worked+in+stained+water+in+spring%3F", "nothing": "?find=pike",
	} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				if w := s.ask("GET", "/api/v1/log"+query, nil); w.Code != http.StatusOK {
					b.Fatal(w.Body)
				}
			}
		})
	}
}
