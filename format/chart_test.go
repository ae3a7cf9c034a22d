package format_test

import (
	"bytes"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	. "cloudburst/format"
)

const cards = "../core/photo/testdata/shots/card24"

// The same card as CSV, as CGATS with LAB, and as CGATS with spectra.
func TestACardIsReadFromItsFiles(t *testing.T) {
	var first []colour.Lab
	for _, file := range []string{".csv", "_D65.cgats.txt", "_spectral.cgats.txt"} {
		raw, err := os.ReadFile(cards + file)
		require.NoError(t, err)
		c, err := ReadChart(bytes.NewReader(raw))
		require.NoError(t, err, file)
		assert.Equal(t, 4, c.Rows)
		assert.Equal(t, 6, c.Columns)
		if first == nil {
			first = c.Patches
		}
		for i, p := range c.Patches {
			assert.Less(t, colour.DeltaE00(first[i], p), 0.3, "%s: patch %d", file, i)
		}
	}
}

func TestBadCardFilesAreNamed(t *testing.T) {
	row := "A1,40,0,0\nA2,60,0,0\nA3,80,0,0\nA4,50,40,10\nA5,50,-40,10\nA6,50,10,40\nA7,50,10,-40\n"
	for text, says := range map[string]string{
		"":                                   "can't be read as a table",
		"hello":                              "can't be read as a table",
		"patch,L\nA1,4":                      "names no patches with LAB",
		"patch,L,a,b\nfront,1,2,3":           "is no place on a card",
		"patch,L,a,b\nA1,1,2,much":           "is no number",
		"patch,L,a,b\nA1,1,2,3\nA3,1,2,3":    "A2 of this card is missing",
		"patch,L,a,b\n" + row:                "eight patches or more",
		"patch,L,a,b\n" + row + "A8,400,0,0": "no possible colour",
		"BEGIN_DATA_FORMAT\nSAMPLE_NAME LAB_L\nEND_DATA_FORMAT\nBEGIN_DATA\nA1\nEND_DATA": "has 1 values where",
	} {
		_, err := ReadChart(strings.NewReader(text))
		assert.ErrorContains(t, err, says, "%q", text)
	}
	_, err := ReadChart(strings.NewReader("patch;L;a;b\n" + strings.ReplaceAll(row, ",", ";") + "A8;20;0;0"))
	assert.NoError(t, err)
}

func FuzzReadChart(f *testing.F) {
	for _, file := range []string{".csv", "_D65.cgats.txt"} {
		raw, err := os.ReadFile(cards + file)
		require.NoError(f, err)
		f.Add(string(raw))
	}
	f.Add("patch;L;a;b\nA1;1;2;3")
	f.Fuzz(func(t *testing.T, text string) {
		c, err := ReadChart(strings.NewReader(text))
		if (c == nil) == (err == nil) && err == nil {
			t.Fatal("neither a card nor a reason")
		}
	})
}
