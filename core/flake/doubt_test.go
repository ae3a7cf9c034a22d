package flake_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	. "cloudburst/core/flake"
)

// A hand takes one of two readings in one go, and can go back.
func TestOneOfTwoReadingsIsTaken(t *testing.T) {
	one := Found{
		Unsure: "One kind or two.", Classes: []Class{{SizeIN: 0.015, Count: 3}},
		Pieces: []Piece{{X: 1}, {X: 2}, {X: 3}},
	}
	one.Other = &Found{
		Classes: []Class{{SizeIN: 0.015, Count: 2}, {SizeIN: 0.015, Count: 1}},
		Pieces:  []Piece{{X: 1}, {X: 2}, {X: 3, Class: 1}},
	}
	as, err := one.Decide(false)
	require.NoError(t, err)
	assert.True(t, as.Decided)
	assert.Equal(t, one.Classes, as.Classes)
	two, err := as.Decide(true)
	require.NoError(t, err)
	assert.Len(t, two.Classes, 2)
	assert.Equal(t, one.Classes, two.Other.Classes)
	assert.Nil(t, two.Other.Other)
	back, err := two.Decide(true)
	require.NoError(t, err)
	assert.Equal(t, as, back)
	plain := Found{}
	_, err = plain.Decide(true)
	assert.ErrorContains(t, err, "one way only")
}
