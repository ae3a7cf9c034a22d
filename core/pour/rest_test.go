package pour_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	. "cloudburst/core/pour"
)

func TestWhatARestIsGoodFor(t *testing.T) {
	assert.Equal(t, "too little for a bait of any mold here; keep it", SaysGives([]Gives{{"Grub", 0, 0}}))
	assert.Equal(
		t, "enough for 6 of Perch fin, or 2 of Shad, or 4 of Grub", SaysGives([]Gives{
			{"Grub", 4, 18}, {"Toad", 0, 0}, {"Shad", 2, 22}, {"Midge", 9, 12}, {"Perch fin", 6, 29},
		}),
	)
}
