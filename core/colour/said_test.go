package colour_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	. "cloudburst/core/colour"
)

func said(t *testing.T, words string) Lab {
	t.Helper()
	c, err := FromWords(words)
	require.NoError(t, err, words)
	return c
}

// What is said moves the colour the way that the word means.
func TestColoursFromWords(t *testing.T) {
	assert.Less(t, said(t, "dark olive").L, said(t, "olive").L)
	assert.Greater(t, said(t, "pale olive").L, said(t, "light olive").L)
	assert.Less(t, said(t, "dull green").Chroma(), said(t, "Green").Chroma())
	assert.Greater(t, said(t, "bright green").Chroma(), said(t, "green").Chroma())
	straw, greenish := said(t, "straw"), said(t, "pale, greenish straw")
	assert.Less(t, greenish.A, straw.A)
	assert.Less(t, said(t, "reddish brown").HueDeg(), said(t, "brown").HueDeg())
	og, g, o := said(t, "olive green"), said(t, "green"), said(t, "olive")
	assert.Less(t, DeltaE00(og, g), DeltaE00(og, o), "the last word is the hue")
	for _, hue := range []string{
		"red", "orange", "yellow", "green", "blue", "violet", "pink", "brown", "black", "grey", "white",
	} {
		assert.Equal(t, hue, said(t, hue).HueName(), "named back by the word that made it")
	}
}

func TestWordsThatAreNoColour(t *testing.T) {
	for text, says := range map[string]string{
		"": "name a colour", "dark and dull": "name a colour", "perchy olive": "“perchy” is no colour word",
	} {
		_, err := FromWords(text)
		assert.ErrorContains(t, err, says)
	}
}
