package recipe_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/optics"
	. "cloudburst/core/recipe"
)

// A noisy way of reading is worth three readings, a surer one two; and who has read so often is left in peace.
func TestReadingsAreWorthTakingAgain(t *testing.T) {
	assert.Equal(t, 2, ByInstrument.Times())
	assert.Equal(t, 3, ByPhoto.Times())
	assert.Equal(t, 1, ByWords.Times())
	assert.Equal(t, 3, Times(0.7))
	assert.Equal(t, 1, Times(0.4))
	assert.Equal(t, 1, Times(0))
	read := func(name string, mm float64, how How) PartReading {
		return PartReading{
			Name: name, Lab: colour.Lab{L: 40}, ThicknessMM: mm, Ground: optics.White, State: cup.Rested, How: how,
		}
	}
	assert.Empty(t, Again(nil))
	belly := read("Belly", 8, ByInstrument)
	assert.Equal(
		t, "Worth reading again at another spot: belly. One reading by an instrument is off by some 0.5, the mean of 2 by 0.4.",
		Again([]PartReading{belly}),
	)
	assert.Empty(t, Again([]PartReading{belly, belly}))
	all := []PartReading{read("Back", 8, ByPhoto), belly, belly, read("Fin", 2, ByPhoto)}
	assert.Equal(
		t, "Worth reading again at another spot: back; fin. One reading off a photo is off by some 1.5, the mean of 3 by 0.9.",
		Again(all),
	)
	all = append(all, read("back", 8, ByPhoto), read("Back", 8, ByPhoto), read("Fin", 4, ByPhoto))
	assert.Contains(t, Again(all), ": fin.", "another thickness is another look")
	for len(all) < MaxReadings {
		all = append(all, read("Belly", 8, ByInstrument))
	}
	assert.Empty(t, Again(all), "a batch that is full")
}
