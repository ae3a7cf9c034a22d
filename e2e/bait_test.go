package e2e_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// src is a picture as it stands, and changes waits until it is another.
func (w *page) src(id string) string {
	w.t.Helper()
	return eval[string](w, `document.querySelector('[data-testid="`+id+`"]').src`)
}

func (w *page) changes(id, was string) {
	w.t.Helper()
	w.until(`document.querySelector('[data-testid="` + id + `"]').src !== ` + "`" + was + "`")
}

// drag drags an element by so many pixels, in steps as a finger does.
func (w *page) drag(css string, dx, dy float64) { w.t.Helper(); w.dragFrom(css, 0.5, dx, dy) }

// dragFrom does it from a share of the element's height.
func (w *page) dragFrom(css string, share, dx, dy float64) {
	w.t.Helper()
	type point struct{ X, Y float64 }
	at := eval[point](
		w,
		`(() => { const el = document.querySelector('`+css+
			`'); el.scrollIntoView({ block: 'center' }); const r = el.getBoundingClientRect(); return { X: r.left + r.width / 2, Y: r.top + r.height * `+fmt.Sprint(share)+` } })()`,
	)
	held := func(p *input.DispatchMouseEventParams) {
		p.Button, p.Buttons, p.ClickCount = input.MouseButtonLeft, 1, 1
	}
	w.do(chromedp.MouseEvent(chromedp.MousePressed, at.X, at.Y, held))
	for k := 1.0; k <= 4; k++ {
		w.do(chromedp.MouseEvent(chromedp.MouseMoved, at.X+dx*k/4, at.Y+dy*k/4, held))
	}
	w.do(chromedp.MouseEvent(chromedp.MouseReleased, at.X+dx, at.Y+dy, held))
}

// A bait on the bench, turned and in another shape; then the same look in a thinner one.
func TestABaitOnTheBench(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/recipes/cold-herring")
	w.press("Pour it on the bench")
	w.saved()
	was := w.src("bait")
	w.click(`[data-bottle="rowan-red"]`)
	w.changes("bait", was)
	for _, side := range []string{"Back", "Side", "Belly"} {
		was = w.src("bait")
		w.press(side)
		w.changes("bait", was)
	}
	was = w.src("bait")
	w.press("Paddle-tail minnow")
	w.choose("Grub")
	w.changes("bait", was)
	w.says("thin 0.8 mm")
	w.press("Same look in another bait")
	w.press("Choose a bait…")
	w.choose("Fork-tail minnow")
	w.until(`document.querySelector('[data-testid="swapped"]')`)
	w.press("Keep the fins")
	w.says("body over white")
	w.press("Keep the body")
	w.says("fins over white")
	before := w.cupText()
	w.press("Put it in the cup")
	w.until("[...document.querySelectorAll('[data-line]')].map((l) => l.dataset.line + ' ' + l.querySelector('input').value).join('; ') !== `" + before + "`")
}

// A mold is made, a laminate with spots poured in it, its boundary dragged, the bait rolled, the light switched, the
// picture saved; all of it is there after a reload.
func TestTheBaitInTheHand(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/molds")
	w.says("Perch fin, eight")
	w.press("Add it")
	w.says("give the mold a name")
	w.fill(`[aria-label="Name of the mold"]`, "Skerry dart")
	w.press("Paddle-tail minnow")
	w.choose("Measures of its own")
	w.press("Add it")
	w.says("Learn it from a shot")
	field := func(key, typed string) { t.Helper(); w.enter(`[data-field="`+key+`"] input`, typed) }
	field("thinnestMM", "60 mm")
	w.says("not thicker than the thickest")
	field("thinnestMM", "1.8 mm")
	w.says("thin 1.8 mm")
	field("lengthMM", "4 in")
	w.holds(`[data-field="lengthMM"] input`, "101.6 mm")
	field("cavities", "3")
	field("baitML", "9 g") // without waiting for the one before
	w.says("Weighed: 9 g at 1.03 g/ml")
	mold := eval[string](w, "location.pathname.split('/').pop()")

	w.visit("/recipes/gull-belly")
	w.press("Pour it on the bench")
	w.saved()
	w.press("Paddle-tail minnow")
	w.choose("Skerry dart")
	w.until("location.search.includes('" + mold + "')")
	w.press("Two colours in one bait")
	w.says("plainly two colours")
	w.says("Left injector, seen from the gate: belly, from Gull belly")
	w.press("Spots")
	w.until(`document.querySelectorAll('[data-handle^="spots"]').length === 3`)
	value := func(key string) string {
		return eval[string](w, `document.querySelector('[data-field="`+key+`"] input').value`)
	}

	was, height := w.src("bait-main"), value("layers.0.top")
	w.drag(`[data-handle="layers.0"]`, 0, -25)
	w.changes("bait-main", was)
	w.until(`document.querySelector('[data-field="layers.0.top"] input').value !== '` + height + `'`)
	higher := value("layers.0.top")
	w.drag(`[data-handle="spots.1"]`, 60, 12)
	w.until(`document.querySelector('[data-field="spots.1.up"] input').value !== '0 mm'`)
	place := value("spots.1.at")
	field("spots.0.across", "0 mm")
	w.says("a spot is more than 0 and up to 60 mm across")
	field("spots.0.across", "5 mm")
	w.until(`!document.body.innerText.includes('more than 0 and up to 60')`)

	was = w.src("bait-main")
	w.dragFrom(`[data-testid="bait-box"]`, 0.85, 30, 60) // beside the handles: it turns
	w.until("location.search.includes('view=0.9')")
	w.changes("bait-main", was)
	was = w.src("bait-main")
	w.press("overcast daylight")
	w.choose("warm lamp")
	w.changes("bait-main", was)
	was = w.src("bait-main")
	w.press("in air")
	w.choose("green water, algae")
	w.press("as seen from below")
	w.changes("bait-main", was)
	w.press("Every water")
	w.until(`document.querySelectorAll('[data-testid="waters"] img').length === 4`)
	png := p.get(strings.TrimPrefix(
		eval[string](w, `document.querySelector('a[href*="/picture"]').getAttribute('href')`), p.url,
	))
	assert.True(t, strings.HasPrefix(png, "\x89PNG"))
	assert.Contains(t, png, "green water")
	assert.Contains(t, png, "as seen from below")
	strip := p.get(eval[string](w, `document.querySelector('a[href*="/strip"]').getAttribute('href')`))
	assert.Equal(t, 3, strings.Count(strip, "<circle"))

	w.reload()
	w.holds(`[data-field="layers.0.top"] input`, higher)
	w.holds(`[data-field="spots.1.at"] input`, place)
	w.says("as seen from below")
	assert.Contains(t, eval[string](w, "location.search"), "view=0.9")
	was = w.src("bait-main")
	w.press("Judge")
	w.changes("bait-main", was)
	was = w.src("bait-main")
	w.press("Three-quarter")
	w.changes("bait-main", was)
	// A verdict on flake, given at the bait, is the mold's from then on.
	w.visit("/recipes/wave-back")
	w.press("Pour it on the bench")
	w.saved()
	w.press("Paddle-tail minnow")
	w.choose("Skerry dart")
	w.until("location.search.includes('" + mold + "')")
	cup := eval[string](w, "location.pathname")
	w.press("Two colours in one bait")
	w.says("Flake and gate")
	w.click(`[data-flake="rime-008"] button`)
	w.choose("will block")
	w.says("by you")
	w.visit(cup + "?bait=" + mold)
	w.says("will block this gate")
	w.visit("/sheet?bait=" + mold)
	w.until(`document.querySelectorAll('[data-testid="sheet"] img').length > 8`)
}
