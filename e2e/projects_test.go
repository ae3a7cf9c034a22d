package e2e_test

import (
	"bytes"
	"encoding/json"
	"image/jpeg"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/stand/camera"
	"cloudburst/testkit"
)

// project is the uid of a project of the demo's.
func (p *program) project(name string) string {
	var got struct{ Items []struct{ UID, Name string } }
	require.NoError(p.t, json.Unmarshal([]byte(p.get("/api/v1/projects")), &got))
	for _, one := range got.Items {
		if one.Name == name {
			return one.UID
		}
	}
	require.Fail(p.t, "no project is called "+name)
	return ""
}

// send changes something over the API.
func (p *program) send(method, path string, body any) {
	p.t.Helper()
	doc, err := json.Marshal(body)
	require.NoError(p.t, err)
	r, err := http.NewRequestWithContext(p.t.Context(), method, p.url+path, bytes.NewReader(doc))
	require.NoError(p.t, err)
	r.Header.Set("Content-Type", "application/json")
	r.Header.Set("Idempotency-Key", uuid.NewString())
	got, err := http.DefaultClient.Do(r)
	require.NoError(p.t, err)
	defer got.Body.Close()
	says, err := io.ReadAll(got.Body)
	require.NoError(p.t, err)
	require.Less(p.t, got.StatusCode, 300, string(says))
}

// A maker opens a project on a target, takes the first step to the bench, records two batches of it from there, reads
// both, accepts what they say of the bottles, and stops when the line is reached.
func TestAProjectFromTheFirstStepToTheLine(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/projects")
	w.says("Herring back and belly")
	w.press("Open a project")
	w.says("What it is to look like")
	w.fill(`[role="dialog"] input[placeholder="The target's own name"]`, "Perch again")
	w.click(`[role="dialog"] button[aria-haspopup="listbox"]`)
	w.pressAt(`//li[contains(., "Perch of the reed edge")]`)
	w.press("Open it")
	w.says("Nothing was poured yet")

	record := func(verdict string) {
		w.click(`[data-step] .button-main`)
		w.says("Record a test batch")
		w.press("Record a test batch")
		w.says("need not be typed again")
		w.fill(`[role="dialog"] textarea`, verdict)
		w.press("Record it")
		w.says(verdict)
	}
	record("The first of it")
	w.says("What was poured was not read yet")

	// Its photo, from the camera stand-in, is pinned; the pin is the reading.
	photo := filepath.Join(t.TempDir(), "batch.jpg")
	flank := testkit.Stirred(
		t,
		testkit.CupOf(
			t, "1/2 cup", cup.DripOf("clear-yellow", 8), cup.DripOf("clear-green", 1), cup.DripOf("solid-brown", 1),
		),
	)
	img, _ := camera.Studio{
		Back: flank, Belly: flank, Light: colour.Shade, Paper: 0.88, White: true, Grey: true,
		Balance: camera.AutoBalance,
		Noise:   1, Seed: 9,
	}.Shoot()
	var raw bytes.Buffer
	require.NoError(t, jpeg.Encode(&raw, img, &jpeg.Options{Quality: 90}))
	require.NoError(t, os.WriteFile(photo, raw.Bytes(), 0o600))
	w.visit("/references")
	w.says("Goby from the old pier")
	w.upload(`input[type="file"]`, photo)
	w.says("The light")
	ref := eval[string](w, `location.pathname.split('/').pop()`)
	p.send(
		"POST", "/api/v1/references/"+ref+"/pins",
		map[string]any{
			"name": "Flank", "thicknessMM": 8, "ground": "white", "disc": map[string]any{
				"x": 600, "y": 352, "radius": 14,
			},
		},
	)

	w.visit("/projects/" + p.project("Perch again"))
	w.says("The first of it")
	w.press("Readings and more")
	w.click(`[data-testid="add-reading"]`)
	w.says("What did it come out as?")
	w.press("Take it from a pinned photo…")
	w.pressAt(`//li[contains(., ": Flank")]`)
	w.until(`document.querySelector('[role="dialog"] input[aria-label="L"]').value !== ''`)
	w.press("Keep the reading")
	w.says("Flank, 8 mm over white, off a photo")
	w.reload()
	w.says("Your batches know")
	w.press("Accept what they say")
	w.until(`!document.body.innerText.includes('Your batches know')`)
	w.says("The nearest so far is batch 1")

	record("The second of it")
	batches := map[string]any{}
	require.NoError(t, json.Unmarshal([]byte(p.get("/api/v1/projects/"+p.project("Perch again"))), &batches))
	trail := batches["trail"].([]any)[0].(map[string]any)
	second := trail["tries"].([]any)[1].(map[string]any)["uid"].(string)
	for i, mm := range []float64{8, 2} { // what it came out as is what was sought
		lab := trail["wanted"].([]any)[i].(map[string]any)["lab"]
		p.send(
			"POST", "/api/v1/batches/"+second+"/readings",
			map[string]any{
				"name": "Flank", "lab": lab, "thicknessMM": mm, "ground": "white", "state": "rested",
				"how": "instrument",
			},
		)
	}
	w.reload()
	w.says("Good enough")
	w.says("inside the line")
	assert.Equal(t, 2, eval[int](w, `document.querySelectorAll('[data-try]').length`))

	// What went wrong leads to why; and a happy accident is kept.
	w.press("Readings and more")
	w.click(`[data-testid="say-outcome"]`)
	w.says("What went wrong")
	w.press("short fill")
	w.fill(`[role="dialog"] input[placeholder="350F or 177 °C"]`, "warm")
	w.press("Keep it")
	w.says("has no number that can be read")
	w.fill(`[role="dialog"] input[placeholder="350F or 177 °C"]`, "300F")
	w.press("Keep it")
	w.says("too cold for the thin parts")
	w.says("Last heated to 300 °F")
}
