package e2e_test

import (
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
	w.says("As saved")
	w.says("First light")
	t.Logf("%d clicks", clicks)
	assert.LessOrEqual(t, clicks, 12)
	w.visit("/shelf")
	w.says("Blue-glint powder")
	assert.False(t, eval[bool](w, `document.body.innerText.includes('starter rack')`))
}
