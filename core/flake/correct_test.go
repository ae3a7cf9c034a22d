package flake_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	. "cloudburst/core/flake"
)

// A hand takes out what it points at and puts in what was missed; the counts follow, and the count that was there stays
// as it was.
func TestACountIsCorrected(t *testing.T) {
	was := Found{
		AreaCM2: 2,
		Classes: []Class{{SizeIN: 0.04, Count: 2, PerCM2: 1}, {SizeIN: 0.015, Count: 1, PerCM2: 0.5}},
		Pieces: []Piece{
			{X: 100, Y: 100, SizeMM: 1, Class: 0},
			{X: 200, Y: 100, SizeMM: 1, Class: 0},
			{X: 109, Y: 100, SizeMM: 0.38, Class: 1},
		},
	}
	out, err := was.Correct(108, 101, 20, 0) // inside the large one, but nearer to the small one that lies on it
	require.NoError(t, err)
	assert.Len(t, out.Pieces, 2)
	assert.Equal(t, 0, out.Classes[1].Count)
	assert.Zero(t, out.Classes[1].PerCM2)
	assert.Len(t, was.Pieces, 3)
	assert.Equal(t, 1, was.Classes[1].Count)
	more, err := out.Correct(300, 300, 20, 1)
	require.NoError(t, err)
	assert.Equal(t, 300.0, more.Pieces[2].X)
	assert.InDelta(t, 0.381, more.Pieces[2].SizeMM, 1e-9)
	assert.Equal(t, 1, more.Pieces[2].Class)
	assert.Equal(t, 0.5, more.Classes[1].PerCM2)
	_, err = was.Correct(5, 5, 20, 2)
	assert.ErrorContains(t, err, "which of its kinds")
	_, err = was.Correct(-50, 5, 20, 1)
	assert.ErrorContains(t, err, "point at the photo")
}
