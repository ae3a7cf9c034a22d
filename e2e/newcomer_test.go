package e2e_test

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// From an empty shop to a first saved cup of two colours and a flake, in twelve clicks at most.
func TestANewcomersFirstCup(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "serve")
	w := p.open(browser(t), "/")
	clicks := 0
	press := func(words string) { clicks++; w.press(words) }
	tap := func(css string) { clicks++; w.click(css) }
	press("Begin with a starter rack")
	w.says("Not saved as a recipe yet")
	tap(`[aria-label="One drop of Strong transparent red"]`)
	tap(`[aria-label="One drop of Transparent yellow"]`)
	press("Flake")
	tap(`[aria-label$="of Fine silver flake .008"]`)
	w.until(`document.querySelectorAll('[data-line]').length === 3`)
	press("Save")
	w.do(chromedp.WaitVisible(chromedp.CSS(`[role="dialog"] input`)), chromedp.KeyEvent("First light"))
	tap(`[role="dialog"] button[type="submit"]`)
	w.saved()
	w.says("First light")
	t.Logf("%d clicks", clicks)
	assert.LessOrEqual(t, clicks, 12)
	w.visit("/shelf")
	w.says("Blue-glint powder")
	assert.False(t, eval[bool](w, `document.body.innerText.includes('starter rack')`))
}

// What is tapped never moves under the finger: twenty taps at one place are twenty drops of one bottle, on every
// screen.
func TestTwentyTapsAtOnePlace(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/bench")
	w.says("Wet rope")
	for _, size := range sizes {
		w.do(chromedp.EmulateViewport(size[0], size[1]))
		w.visit("/bench")
		w.press("New cup")
		w.says("Clear plastisol")
		box := eval[[]float64](
			w,
			`(() => { const e = document.querySelector('[data-bottle="rowan-red"]'); e.scrollIntoView({ block: 'nearest' }); const r = e.getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2] })()`,
		)
		for range 20 {
			w.do(chromedp.MouseClickXY(box[0], box[1]))
		}
		w.holds(`[data-line="rowan-red"] input`, "20 drops")
		assert.Equal(
			t, 1, eval[int](w, `document.querySelectorAll('[data-line]').length`), "%d × %d", size[0], size[1],
		)
		assert.LessOrEqual(
			t, eval[int64](w, `document.documentElement.scrollWidth`), size[0], "nothing is cut off to the side",
		)
		// What is judged and what is changed are on the screen together.
		assert.True(
			t,
			eval[bool](
				w,
				`[...document.querySelectorAll('[data-strip], img, canvas')].some((e) => { const r = e.getBoundingClientRect(); return r.top >= 0 && r.top < innerHeight && r.height > 20 })`,
			),
		)
		// The line of the bottle that was tapped last can be seen, however many there are.
		for _, bottle := range []string{"chalk-white", "drizzle-grey", "rowan-red", "chalk-white"} {
			w.do(chromedp.Click(`[data-bottle="` + bottle + `"]`))
			w.until(fmt.Sprintf(`(() => {
				const line = document.querySelector('[data-line=%q]')
				if (!line) return false
				const r = line.getBoundingClientRect()
				return document.elementFromPoint(r.x + 40, r.y + r.height / 2)?.closest('[data-line]') === line
			})()`, bottle))
		}
	}
}
