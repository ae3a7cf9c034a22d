package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/recipe"
	"cloudburst/format"
	"cloudburst/testkit"
)

var binary string

func TestMain(m *testing.M) {
	dir, err := os.MkdirTemp("", "cb-cmd-")
	if err != nil {
		panic(err)
	}
	binary = filepath.Join(dir, "cloudburst")
	if out, err := exec.Command("go", "build", "-o", binary, ".").CombinedOutput(); err != nil {
		panic(string(out))
	}
	code := m.Run()
	os.RemoveAll(dir)
	os.Exit(code)
}

// run runs the program to its end.
func run(t *testing.T, env []string, stdin string, args ...string) (out, says string, ok bool) {
	t.Helper()
	testkit.Outside()
	cmd := exec.Command(binary, args...)
	cmd.Env = append(os.Environ(), env...)
	cmd.Stdin = strings.NewReader(stdin)
	var o, e bytes.Buffer
	cmd.Stdout, cmd.Stderr = &o, &e
	err := cmd.Run()
	return o.String(), e.String(), err == nil
}

func TestOpticsFromATerminal(t *testing.T) {
	for _, file := range []string{"slabs.json", "stacks.json"} {
		path := "../../core/optics/testdata/" + file
		out, says, ok := run(t, nil, "", "optics", path)
		require.True(t, ok, says)
		type spectrum []float64
		var got, want struct {
			Cases []struct {
				ID       string
				R, T     spectrum
				Lab      spectrum `json:"Lab_D65_2deg"`
				Internal struct{ R0, T0 spectrum }
				Expect   struct{ R, T, Lab spectrum }
			}
		}
		raw, err := os.ReadFile(path)
		require.NoError(t, err)
		require.NoError(t, json.Unmarshal(raw, &want))
		require.NoError(t, json.Unmarshal([]byte(out), &got))
		require.Len(t, got.Cases, len(want.Cases))
		for i, g := range got.Cases {
			w := want.Cases[i]
			assert.Equal(t, w.ID, g.ID)
			if w.Expect.T != nil {
				assert.InDeltaSlice(t, w.Expect.T, g.T, 1e-9, w.ID)
			} else {
				assert.InDeltaSlice(t, w.Expect.R, g.R, 1e-9, w.ID)
			}
			assert.Len(t, g.Lab, 3)
			assert.Len(t, g.Internal.R0, 36)
		}
	}
	for text, want := range map[string]string{
		"{":  "no JSON file of cases",
		"{}": `has no "cases"`,
		`{"cases":[{"id":"a","layers":[{"K":[1],"S":[1],"x_mm":1}]}]}`: "each has 36",
		`{"cases":[{"id":"a","view":"sideways","ground":0}]}`:          "none of contact, gap, transmission",
		`{"cases":[{"id":"a","view":"gap"}]}`:                          "say what the ground reflects",
		`{"cases":[{"id":"a","view":"gap","ground":null}]}`:            "say what the ground reflects",
		`{"cases":[{"id":"a","view":"transmission"}]} {"more":1}`:      "goes on after its cases",
		layer("null", "1"):  "none is left out",
		layer("1e200", "1"): "in 1/mm",
		layer("1", "null"):  "a thickness from 0",
		layer("1", "1e9"):   "a thickness from 0",
		`{"cases":[{"id":"a","view":"gap","ground":2}]}`: "between 0 and 1",
	} {
		_, says, ok := run(t, nil, text, "optics", "-")
		assert.False(t, ok)
		assert.Contains(t, says, want)
	}
}

// layer is a case of one layer, even in all bands.
func layer(k, mm string) string {
	row := strings.TrimSuffix(strings.Repeat(k+",", colour.Bands), ",")
	return fmt.Sprintf(
		`{"cases":[{"id":"a","view":"gap","ground":0.5,"layers":[{"K":[%s],"S":[%s],"x_mm":%s}]}]}`, row, row, mm,
	)
}

func TestPredictFromATerminal(t *testing.T) {
	shelf := cup.Shelf{}
	for _, key := range []string{"medium-plastisol", "clear-red"} {
		f, _ := material.FindFamily(key)
		shelf[key] = f.New(key, f.Name)
	}
	r := recipe.Recipe{UID: "r", Name: "R", Cup: cup.Cup{
		Volume: measure.Volume{Typed: "1 cup", ML: measure.CupML}, Plastisol: "medium-plastisol",
		Doses: []cup.Dose{cup.DripOf("clear-red", 9)},
	}}
	doc, err := format.NewDocument(r, shelf)
	require.NoError(t, err)
	var file bytes.Buffer
	require.NoError(t, doc.Write(&file))
	out, says, ok := run(t, nil, file.String(), "predict", "-", "--thickness=2,8")
	require.True(t, ok, says)
	var got struct {
		FinishedML float64
		Colours    []struct {
			ThicknessMM   float64
			Ground, Light string
			Lab           colour.Lab
		}
	}
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	assert.Len(t, got.Colours, 2*len(optics.Grounds())*len(colour.Lights()))
	m, err := mix.Stir(&r.Cup, shelf)
	require.NoError(t, err)
	for _, c := range got.Colours {
		want := m.Colour(mix.Condition{
			ThicknessMM: c.ThicknessMM, Ground: optics.Ground(c.Ground), Light: colour.Light(c.Light),
		})
		assert.Equal(t, want, c.Lab)
	}
	_, says, ok = run(
		t, nil, strings.Replace(file.String(), `"typed": "9 drops"`, `"typed": "90 drops"`, 1), "predict", "-",
	)
	assert.False(t, ok)
	assert.Contains(t, says, "one of them is wrong")
	_, says, ok = run(t, nil, file.String(), "predict", "-", "--thickness="+strings.Repeat("1,", 60)+"1")
	assert.False(t, ok)
	assert.Contains(t, says, "up to 60")
	_, says, ok = run(t, nil, file.String(), "predict", "-", "--thickness=1e9")
	assert.False(t, ok)
	assert.Contains(t, says, "0.05 to 100 mm")
	_, says, ok = run(t, nil, "hello", "predict", "-")
	assert.False(t, ok)
	assert.Contains(t, says, "no complete JSON")
	_, says, ok = run(t, nil, "", "predict", "/no/such/file")
	assert.False(t, ok)
	assert.Contains(t, says, "can't be read: no such file")
}

// The file's own bottles meet its target, from a terminal.
func TestMatchFromATerminal(t *testing.T) {
	shelf := cup.Shelf{}
	for _, key := range []string{"medium-plastisol", "clear-yellow", "clear-green", "carbon-black"} {
		f, ok := material.FindFamily(key)
		require.True(t, ok)
		shelf[key] = f.New(key, f.Name)
	}
	r := recipe.Recipe{UID: "pier", Name: "Pier", Cup: cup.Cup{
		Volume: measure.Volume{Typed: "1 cup", ML: measure.CupML}, Plastisol: "medium-plastisol",
		Doses: []cup.Dose{cup.DripOf("clear-yellow", 14), cup.DripOf("clear-green", 3), cup.DripOf("carbon-black", 1)},
	}}
	file := func() string {
		doc, err := format.NewDocument(r, shelf)
		require.NoError(t, err)
		var out bytes.Buffer
		require.NoError(t, doc.Write(&out))
		return out.String()
	}
	_, says, ok := run(t, nil, file(), "match", "-")
	assert.False(t, ok)
	assert.Contains(t, says, "no target to match")
	m, err := mix.Stir(&r.Cup, shelf)
	require.NoError(t, err)
	at := mix.Condition{ThicknessMM: 8, Ground: optics.White, Light: colour.D65}
	r.Target = &cup.Target{Name: "back", Lab: m.Colour(at), ThicknessMM: 8, Ground: optics.White}
	for _, args := range [][]string{{"match", "-"}, {"match", "-", "--harder"}} {
		out, says, ok := run(t, nil, file(), args...)
		require.True(t, ok, says)
		var got struct{ Candidates []struct{ DeltaE00 float64 } }
		require.NoError(t, json.Unmarshal([]byte(out), &got))
		require.NotEmpty(t, got.Candidates)
		assert.Less(t, got.Candidates[0].DeltaE00, 0.2)
	}
}

// What stands in the way of a start is said in one sentence, and nothing is touched.
func TestWhatStandsInTheWayOfAStart(t *testing.T) {
	taken, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer taken.Close()
	newer, foreign := t.TempDir(), t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(newer, "VERSION"), []byte("999\n"), 0o600))
	require.NoError(t, os.WriteFile(filepath.Join(foreign, "letter.txt"), []byte("dear"), 0o600))
	file := filepath.Join(foreign, "letter.txt")
	used := t.TempDir()
	unlock, err := claim(used)
	require.NoError(t, err)
	defer unlock()

	for name, c := range map[string]struct{ env, says string }{
		"busy port":       {"CLOUDBURST_ADDR=" + taken.Addr().String(), "is in use already"},
		"bad address":     {"CLOUDBURST_ADDR=nowhere:99999", "choose another address"},
		"newer data":      {"CLOUDBURST_DATA=" + newer, "was written by a newer Cloudburst"},
		"foreign folder":  {"CLOUDBURST_DATA=" + foreign, "holds no Cloudburst data"},
		"not a folder":    {"CLOUDBURST_DATA=" + file, "can't be read"},
		"folder in use":   {"CLOUDBURST_DATA=" + used, "another Cloudburst is using"},
		"unreadable DSN":  {"CLOUDBURST_DSN=rubbish", "user:password@tcp"},
		"no such server":  {"CLOUDBURST_DSN=a:b@tcp(127.0.0.1:1)/c", "does not answer"},
		"can't be made":   {"CLOUDBURST_DATA=/proc/cloudburst", "can't be made"},
		"no rights there": {"CLOUDBURST_DATA=/proc/1/map_files/x", "CLOUDBURST_DATA"},
	} {
		home := t.TempDir()
		env := []string{"CLOUDBURST_ADDR=127.0.0.1:0", "CLOUDBURST_DATA=" + filepath.Join(home, "d"), c.env}
		out, says, ok := run(t, env, "", "demo")
		assert.False(t, ok, name)
		assert.Empty(t, out, name)
		assert.Contains(t, says, c.says, name)
		assert.Len(t, strings.Split(strings.TrimSpace(says), "\n"), 1, "%s: one sentence: %s", name, says)
		made, err := os.ReadDir(home)
		require.NoError(t, err)
		assert.Empty(t, made, "%s: nothing is touched", name)
	}
	for dir, entries := range map[string]int{newer: 1, foreign: 1} {
		list, err := os.ReadDir(dir)
		require.NoError(t, err)
		assert.Len(t, list, entries)
	}
}

func TestHelpListsTheSettings(t *testing.T) {
	out, _, ok := run(t, nil, "", "demo", "--help")
	assert.True(t, ok)
	for _, name := range []string{"CLOUDBURST_ADDR", "CLOUDBURST_DATA", "CLOUDBURST_DSN", "127.0.0.1:8080"} {
		assert.Contains(t, out, name)
	}
	out, _, ok = run(t, nil, "", "--help")
	assert.True(t, ok)
	for _, name := range []string{"demo", "serve", "migrate", "match", "predict", "optics"} {
		assert.Contains(t, out, name)
	}
}

func TestClaimWritesItsVersionAndLetsGo(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "new")
	unlock, err := claim(dir)
	require.NoError(t, err)
	_, err = claim(dir)
	assert.ErrorContains(t, err, "another Cloudburst")
	unlock()
	unlock, err = claim(dir)
	require.NoError(t, err)
	unlock()
	info, err := os.Stat(dir)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o700), info.Mode().Perm())
}

// A cube of 20 mm, by hand, comes out of a file and back into one.
func TestABodyFromATerminal(t *testing.T) {
	const cube = "v 0 0 0\nv 20 0 0\nv 20 20 0\nv 0 20 0\nv 0 0 20\nv 20 0 20\nv 20 20 20\nv 0 20 20\n" +
		"f 1 4 3 2\nf 5 6 7 8\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\n"
	type body struct {
		Triangles int
		SizeMM    [3]float64
		VolumeML  float64
	}
	stl := filepath.Join(t.TempDir(), "cube.stl")
	var got body
	out, says, ok := run(t, nil, cube, "body", "-", "--length", "10", "--out", stl)
	require.True(t, ok, says)
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	assert.Equal(t, body{12, [3]float64{10, 10, 10}, 1}, got)
	out, says, ok = run(t, nil, "", "body", stl)
	require.True(t, ok, says)
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	assert.InDelta(t, 1, got.VolumeML, 1e-9)
	for in, want := range map[string]string{
		"a lure": "no STL and no OBJ", cube + "v 9 9 40\nf 1 2 9\n": "three sheets",
	} {
		_, says, ok = run(t, nil, in, "body", "-")
		assert.False(t, ok)
		assert.Contains(t, says, want)
	}
	_, says, ok = run(t, nil, cube, "body", "-", "--length=-3")
	assert.False(t, ok)
	assert.Contains(t, says, "up to 1000 mm")
}
