package e2e_test

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// A bait on the bench, turned and in another shape; then two colours in one, the boundary dragged, in another light.
func TestTheBaitInTheHand(t *testing.T) {
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/recipes/gull-belly")
	w.press("Pour it on the bench")
	w.says("As saved")
	w.visit("/recipes/cold-herring")
	w.press("Pour it on the bench")
	w.says("As saved")
	bait := func(id string) string { return eval[string](w, `document.querySelector('[data-testid="`+id+`"]').src`) }
	changes := func(id, was string) {
		t.Helper()
		w.until(`document.querySelector('[data-testid="` + id + `"]').src !== ` + "`" + was + "`")
	}
	was := bait("bait")
	w.click(`[data-bottle="rowan-red"]`)
	changes("bait", was)
	was = bait("bait")
	w.press("Turned")
	changes("bait", was)
	was = bait("bait")
	w.press("Paddle-tail minnow")
	w.choose("Grub")
	changes("bait", was)
	w.says("thin 1.3 mm")

	w.press("Same look in another bait")
	w.press("Choose a bait…")
	w.choose("Flat drop-shot minnow")
	w.until(`document.querySelector('[data-testid="swapped"]')`)
	before := w.cupText()
	w.press("Put it in the cup")
	w.until("[...document.querySelectorAll('[data-line]')].map((l) => l.dataset.line + ' ' + l.querySelector('input').value).join('; ') !== `" + before + "`")

	w.press("Two colours in one bait")
	w.says("plainly two colours")
	was = bait("bait-side")
	w.do(chromedp.Evaluate[chromedp.Void](`(() => {
		const img = document.querySelector('[data-testid="bait-side"]'), box = img.getBoundingClientRect()
		const at = (share) => ({ bubbles: true, buttons: 1, clientX: box.left + box.width / 2, clientY: box.top + box.height * share })
		img.dispatchEvent(new PointerEvent('pointerdown', at(0.5)))
		img.dispatchEvent(new PointerEvent('pointermove', at(0.4)))
	})()`))
	changes("bait-side", was)
	boundary := eval[string](w, `new URLSearchParams(location.search).get('boundary')`)
	assert.Equal(t, "0.44", boundary)
	was = bait("bait-side")
	w.press("overcast daylight")
	w.choose("warm lamp")
	changes("bait-side", was)
	w.press("A core")
	w.until(`document.querySelector('[aria-label="Width of the core"]')`)
	w.reload()
	w.says("The bait in the hand")
	w.until(`document.querySelector('[aria-label="Width of the core"]')`)
	assert.Contains(t, eval[string](w, `document.querySelector('a[download]').href`), "kind=core")
}
