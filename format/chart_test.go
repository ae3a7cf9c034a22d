package format_test

import (
	"bytes"
	"os"
	"slices"
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

// The same card measured under D50, as instruments usually write it: carried over, and said to be.
func TestAFileUnderD50(t *testing.T) {
	read := func(file string) []Measured {
		raw, err := os.ReadFile(file)
		require.NoError(t, err)
		list, err := ReadMeasured(bytes.NewReader(raw))
		require.NoError(t, err)
		return list
	}
	day, print := read(cards+"_D65.cgats.txt"), read(cards+"_D50.cgats.txt")
	var raw, off []float64
	for i, p := range print {
		assert.True(t, p.Adapted)
		assert.False(t, day[i].Adapted)
		off = append(off, colour.DeltaE00(day[i].Lab, p.Lab))
		raw = append(raw, colour.DeltaE00(day[i].Lab, plainD50(t, i)))
	}
	slices.Sort(off)
	slices.Sort(raw)
	t.Logf("median ΔE00 %.2f, at most %.2f; taken as D65 %.2f and %.2f", off[12], off[23], raw[12], raw[23])
	assert.Less(t, off[12], 1.0)
	assert.Less(t, off[23], 3.0)
	assert.Less(t, off[12], raw[12])
	list, err := ReadMeasured(strings.NewReader("name,L_D50,a_D50,b_D50\nGrey,50,0,0"))
	require.NoError(t, err)
	assert.True(t, list[0].Adapted)
	assert.InDelta(t, 50, list[0].Lab.L, 1e-6, "a grey is a grey in any light")
	assert.InDelta(t, 0, list[0].Lab.Chroma(), 1e-6)
}

// plainD50 is a patch of that file as it stands there.
func plainD50(t *testing.T, i int) colour.Lab {
	raw, err := os.ReadFile(cards + "_D50.cgats.txt")
	require.NoError(t, err)
	list, err := ReadMeasured(strings.NewReader(strings.ReplaceAll(string(raw), `"D50"`, `"D65"`)))
	require.NoError(t, err)
	return list[i].Lab
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
