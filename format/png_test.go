package format_test

import (
	"bytes"
	"image"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	. "cloudburst/format"
)

func TestAPictureSaysWhatItShows(t *testing.T) {
	var raw bytes.Buffer
	require.NoError(t, png.Encode(&raw, image.NewGray(image.Rect(0, 0, 3, 2))))
	got, err := WithText(raw.Bytes(), [][2]string{{"Title", "Wet rope ΔE"}, {"Comment", "overcast"}})
	require.NoError(t, err)
	img, err := png.Decode(bytes.NewReader(got)) // checks every chunk's sum
	require.NoError(t, err)
	assert.Equal(t, image.Rect(0, 0, 3, 2), img.Bounds())
	assert.Contains(t, string(got), "Title\x00Wet rope ?E")
	_, err = WithText([]byte("GIF89a"), nil)
	assert.ErrorContains(t, err, "no PNG")
}
