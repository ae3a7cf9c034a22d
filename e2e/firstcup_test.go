package e2e_test

import (
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The first cup, from a photo to a test batch, and over to another shop.
func TestFirstCupFromEndToEnd(t *testing.T) {
	t.Parallel()
	data := dataFolder(t)
	p := start(t, data, "demo")
	chrome := browser(t)
	w := p.open(chrome, "/references")

	// 1. A photo in, a pin on it, its colour as the target.
	w.upload(`input[aria-label^="Drop a photo"]`, "testdata/bait.jpg")
	w.says("Point at a spot")
	w.until(`document.querySelector('[data-testid="photo"] img').naturalWidth === 1200`) // upright
	w.do(chromedp.Evaluate[chromedp.Void](`window.box = document.querySelector('[data-testid="photo"]').getBoundingClientRect()`))
	x, y := eval[float64](w, "box.left + box.width * 0.35"), eval[float64](w, "box.top + box.height * 0.33")
	w.do(chromedp.MouseClickXY(x, y))
	w.until(`document.querySelector('[data-testid="sample"]')?.dataset.hex`)
	hex := eval[string](w, `document.querySelector('[data-testid="sample"]').dataset.hex`)
	w.press("Keep this pin")
	w.says("give it a name of 1 to 80 letters") // and the pin is still there
	w.fill(`[data-testid="pin-name"]`, "Back")
	w.press("Keep this pin")
	w.until(`document.querySelector('[data-pin="Back"] [data-hex]')?.dataset.hex === "` + hex + `"`)
	w.press("Make it the target")
	w.until(`document.querySelector('[data-testid="target"]')?.dataset.hex === "` + hex + `"`)

	// 2. A cup of its own: volume, taps, typing; wedge, prediction and difference follow.
	w.press("New cup")
	w.says("Clear plastisol")
	w.enter(`[aria-label="Volume of plastisol"]`, "12 buckets")
	w.says("is no unit of volume here; use cup, fl oz, ml")
	w.holds(`[aria-label="Volume of plastisol"]`, "12 buckets") // what was typed stays
	w.enter(`[aria-label="Volume of plastisol"]`, "8 fl oz")
	w.says("236.6 ml cold")
	wedge := func() string {
		return eval[string](w, `getComputedStyle(document.querySelector('[data-strip="white"]')).backgroundImage`)
	}
	clear := wedge()
	for range 3 {
		w.click(`[data-bottle="rowan-red"]`)
	}
	dose := func(uid string) string { return `[data-line="` + uid + `"] input` }
	w.holds(dose("rowan-red"), "3 drops")
	w.click(`[aria-label="One drop more of Rowan red"]`)
	w.click(`[aria-label="One drop less of Rowan red"]`)
	w.holds(dose("rowan-red"), "3 drops")
	w.enter(dose("rowan-red"), "12d")
	w.says("236.6 ml cold, 237.2 ml finished")
	w.click(`[data-bottle="peat-black"]`)
	w.enter(dose("peat-black"), "9000")
	w.says("is more than any cup takes")
	w.enter(dose("peat-black"), "2.5 drops")
	w.says("can't be dripped; type 2 or 3")
	w.enter(dose("peat-black"), "5 drops")
	w.holds(dose("peat-black"), "5 drops")
	w.until(`document.querySelectorAll('[data-line]').length === 2`)
	assert.NotEqual(t, clear, wedge(), "the wedge is the mix's")
	for _, ground := range []string{"over white", "over dark", "against the light"} {
		w.says(ground)
	}
	w.do(chromedp.Focus(chromedp.CSS(`[role="slider"]`)))
	before := eval[string](w, `document.querySelector('[role="slider"]').ariaValueNow`)
	for range 4 {
		w.do(chromedp.KeyEvent("\u0304")) // arrow right
	}
	w.until(`document.querySelector('[role="slider"]').ariaValueNow !== "` + before + `"`)

	// Undo and redo; a reload loses nothing.
	w.press("Undo")
	w.until(`document.querySelector('` + dose("peat-black") + `').value === "1 drop"`)
	w.press("Redo")
	w.holds(dose("peat-black"), "5 drops")
	w.click(`[data-bottle="peat-black"]`)
	w.reload() // at once
	w.holds(dose("peat-black"), "6 drops")
	w.press("Undo")
	w.holds(dose("peat-black"), "5 drops")

	// 3. Saved under a name; the target of the other cup is there to take again.
	w.press("Save")
	w.do(chromedp.WaitVisible(chromedp.CSS(`[role="dialog"]`)))
	w.click(`[role="dialog"] button[type="submit"]`)
	w.says("give it a name of 1 to 80 letters")
	w.fill(`[data-testid="recipe-name"]`, "Red skiff")
	w.click(`[role="dialog"] button[type="submit"]`)
	w.saved()

	p.end(syscall.SIGTERM)
	p = start(t, data, "demo")
	w = p.open(chrome, "/recipes")
	w.says("Red skiff")
	w.press("To the bench")
	w.holds(dose("rowan-red"), "12d") // as it was typed, after a restart of program and database

	// 4. Another volume.
	w.visit("/recipes")
	w.click(`a[href^="/recipes/"]:has([aria-label^="Red skiff"])`)
	w.says("In another volume")
	for volume, take := range map[string]string{"1/2 cup": "6", "2 cups": "24", "300 ml": "15", "1 gal": "192"} {
		w.enter(`[aria-label="Another volume"]`, volume)
		w.until(`document.querySelector('[data-volume="` + volume +
			`"] [data-scaled="rowan-red"] [data-take]')?.innerText === "` + take + `"`)
		assert.Contains(t, eval[string](w, `document.querySelector('[data-scaled="peat-black"]').innerText`), "ΔE")
	}
	w.enter(`[aria-label="Another volume"]`, "1/2 cup")
	w.until(`document.querySelector('[data-scaled="peat-black"]')?.innerText.includes("2.5")`)
	w.says("All taken as shown")
	w.enter(`[aria-label="Another volume"]`, "lots")
	w.says("has no number that can be read")

	// 5. A test batch in two goes, with a photo.
	w.press("Record a test batch")
	w.enter(`[aria-label="Addition 1, Rowan red"]`, "8d")
	w.fill(`[aria-label="Addition 1, Peat black"]`, "4")
	w.press("Another addition")
	w.fill(`[aria-label="Addition 2, Rowan red"]`, "4 drops")
	w.until(`document.querySelector('[data-sum="rowan-red"]').innerText === "12 drops"`)
	w.says("Predicted beside the recipe")
	w.fill(`textarea`, "A touch too red, but it swims.")
	w.fill(`[aria-label="Rested for"]`, "36")
	w.upload(`input[aria-label="Add a photo of the batch"]`, "testdata/bait.jpg")
	w.until(`document.querySelector('[data-testid="batch-photo"]')?.naturalWidth`)
	w.reload()
	w.holds(`[aria-label="Addition 2, Rowan red"]`, "4 drops") // nothing entered is lost
	w.press("Record it")
	w.until(`document.querySelector('[data-batch]')`)
	batch := eval[string](w, `document.querySelector('[data-batch]').innerText`)
	for _, words := range []string{
		"8 fl oz", "36 h", "A touch too red, but it swims.", "2 additions", "12 Rowan red", "4 Peat black", "ΔE00",
	} {
		assert.Contains(t, batch, words)
	}
	w.until(`document.querySelector('[data-batch] img').naturalWidth`)

	// 6. Out as one file, into an empty shop, and out again to the same bytes.
	uid := filepath.Base(eval[string](w, "location.pathname"))
	exported := p.get("/api/v1/recipes/" + uid + "/export")
	file := filepath.Join(t.TempDir(), "red-skiff.json")
	require.NoError(t, os.WriteFile(file, []byte(exported), 0o600))
	empty := start(t, dataFolder(t), "serve")
	v := empty.open(chrome, "/")
	v.says("There is no plastisol on the shelf yet")
	v.press("Bring in a recipe file")
	v.upload(`input[aria-label="Recipe file"]`, "testdata/bait.jpg")
	v.says("no complete JSON")
	v.upload(`input[aria-label="Recipe file"]`, file)
	v.says("“Red skiff” is in, with 3 new bottles.")
	assert.Equal(t, exported, empty.get("/api/v1/recipes/"+uid+"/export"))
	v.upload(`input[aria-label="Recipe file"]`, file)
	v.says("is here already, just the same")
}

// Two windows save one recipe: the second is told, and can keep both.
func TestTwoWindowsOneRecipe(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	chrome := browser(t)
	windows := []*page{p.open(chrome, "/recipes/bog-lantern"), p.open(chrome, "/recipes/bog-lantern")}
	for _, w := range windows {
		w.press("Pour it on the bench")
		w.saved()
	}
	for i, w := range windows {
		for range i + 1 {
			w.click(`[data-bottle="sound-blue"]`)
		}
		w.says("Changed since it was saved")
		w.press("Save")
		w.click(`[role="dialog"] button[type="submit"]`)
		if i == 0 {
			w.saved()
		}
	}
	second := windows[1]
	second.says("was saved from another window since you opened it")
	second.press("Keep both")
	second.saved()
	second.says("Bog lantern, second")
	second.visit("/recipes")
	second.says("1 Sound blue")
	second.says("2 Sound blue")
}

// A dropped connection is said; taps made meanwhile arrive once it is back, each once.
func TestTapsSurviveADeadProgram(t *testing.T) {
	t.Parallel()
	data := dataFolder(t)
	p := start(t, data, "demo")
	w := p.open(browser(t), "/bench")
	w.says("Wet rope")
	addr := strings.TrimPrefix(p.url, "http://")
	p.end(syscall.SIGKILL)
	for range 3 {
		w.click(`[data-bottle="rowan-red"]`)
	}
	w.says("3 of your taps wait here")
	startAt(t, data, "demo", addr)
	w.holds(`[data-line="rowan-red"] input`, "3 drops")
	w.reload()
	w.holds(`[data-line="rowan-red"] input`, "3 drops")

	// Then the database dies, too, in the middle of the work.
	raw, err := os.ReadFile(filepath.Join(data, "mariadb", "pid"))
	require.NoError(t, err)
	pid, err := strconv.Atoi(strings.TrimSpace(string(raw)))
	require.NoError(t, err)
	require.NoError(t, syscall.Kill(pid, syscall.SIGKILL))
	w.click(`[data-bottle="rowan-red"]`)
	w.holds(`[data-line="rowan-red"] input`, "4 drops")
	w.reload()
	w.holds(`[data-line="rowan-red"] input`, "4 drops")
}

// From a tap to the new wedge on the screen. The figure goes to docs/measured.md; here only what holds on a noisy
// machine, too, is asserted: how it stands to a small answer.
func TestTapToWedge(t *testing.T) {
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/bench")
	w.says("Wet rope")
	times, ratio := w.tapTimes()
	t.Logf(
		"tap to wedge: median %.0f ms, 90th percentile %.0f ms; %.1f times a small answer", times[12], times[22], ratio,
	)
	assert.Less(t, ratio, 6.0)
}

// A tap that the program stumbles over is tried a few times, then set aside and said; the taps behind it go on, also
// after a reload.
func TestATapThatIsStumbledOverBlocksNoOther(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/bench")
	w.says("Wet rope")
	w.before(`(() => {
		const fetch = window.fetch
		window.fetch = async (request, ...rest) => {
			const text = request.method === 'POST' ? await request.clone().text() : ''
			if (!sessionStorage.mended && text.includes('rowan-red'))
				return new Response('{"status":500,"detail":"Something went wrong here."}', { status: 500, headers: { 'Content-Type': 'application/problem+json' } })
			return fetch(request, ...rest)
		}
	})()`)
	w.reload()
	w.click(`[data-bottle="rowan-red"]`)
	w.click(`[data-bottle="sound-blue"]`)
	w.holds(`[data-line="sound-blue"] input`, "1 drop")
	w.says("One of your taps could not be taken and is kept here. The others went on.")
	w.reload()
	w.says("One of your taps could not be taken")
	w.holds(`[data-line="sound-blue"] input`, "1 drop")
	assert.False(t, eval[bool](w, `!!document.querySelector('[data-line="rowan-red"]')`))
	w.do(chromedp.Evaluate[chromedp.Void](`sessionStorage.mended = 'yes'`))
	w.press("Try again")
	w.holds(`[data-line="rowan-red"] input`, "1 drop")
	w.until(`!document.querySelector('[data-testid="set-aside"]')`)
}

// A shop of one's own has no stand-ins: nothing that is made up gets into a real cup.
func TestARealShopHasNoStandIns(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "serve")
	assert.Contains(t, p.get("/api/v1/shop"), `"scale":false,"card":false`)
	demo := start(t, dataFolder(t), "demo")
	assert.Contains(t, demo.get("/api/v1/shop"), `"scale":true,"card":true`)
}
