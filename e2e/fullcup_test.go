package e2e_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
)

// cupText is what is in the cup on the screen, line by line.
func (w *page) cupText() string {
	w.t.Helper()
	return eval[string](
		w,
		`[...document.querySelectorAll('[data-line]')].map((l) => l.dataset.line + ' ' + l.querySelector('input').value).join('; ')`,
	)
}

// A full recipe by taps and typing, all of it undone, all of it done again, and a reload: the same cup.
func TestAFullCupUndoneAndDoneAgain(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/bench")
	w.says("Wet rope")
	w.press("New cup")
	w.says("Clear plastisol")
	steps := 0
	tap := func(uid string, times int) {
		for range times {
			w.click(`[data-bottle="` + uid + `"]`)
		}
		steps += times
	}
	dose := func(uid, typed string) {
		w.until(`document.querySelector('[data-line="` + uid + `"] input')`)
		w.enter(`[data-line="`+uid+`"] input`, typed)
		w.holds(`[data-line="`+uid+`"] input`, typed)
		steps++
	}
	tap("tea-brown", 3)
	tap("bottle-green", 1)
	tap("drizzle-grey", 2)
	tap("peat-black", 1)
	dose("tea-brown", "9d")
	w.press("Powders")
	tap("gleam-green", 1)
	dose("gleam-green", "1/8 + 1/32 tsp")
	tap("wet-slate-pearl", 2)
	w.press("Flake")
	tap("barley-035", 1)
	dose("barley-035", "2 heaped 1/4 tsp")
	tap("soot-035", 1)
	tap("aurora-035", 1)
	dose("aurora-035", ".40") // refused: a size, no dose
	w.says("0.4 of what?")
	w.fill(`[data-line="aurora-035"] input`, "1/4 tsp")
	w.holds(`[data-line="aurora-035"] input`, "1/4 tsp")
	w.press("Additives")
	tap("fine-salt", 1)
	dose("fine-salt", "1/8 cup")
	tap("shed-softener", 3)

	// Asked back, and meant so.
	w.enter(`[data-line="wet-slate-pearl"] input`, "1 oz")
	w.says("times what is usual")
	w.press("It is meant so: keep it")
	w.holds(`[data-line="wet-slate-pearl"] input`, "1 oz")
	steps++
	dose("wet-slate-pearl", "tip of the small knife")
	full := w.cupText()
	assert.Len(t, strings.Split(full, "; "), 11, full)
	assert.Contains(t, full, "aurora-035 1/4 tsp")
	w.says("Fine salt settles")
	w.until(`document.querySelector('[data-testid="close-up"] img')`)

	// What one more would do is said on its line; held, the picture shows it, and lets go of it.
	w.says("+ 1 drop:")
	before := eval[string](w, `document.querySelector('[data-testid="prediction"]').dataset.hex`)
	w.do(chromedp.Evaluate[chromedp.Void](`document.querySelector('[data-line="peat-black"] [data-more]').dispatchEvent(new PointerEvent('pointerdown', { bubbles: true }))`))
	w.says("With one more")
	assert.NotEqual(t, before, eval[string](w, `document.querySelector('[data-testid="prediction"]').dataset.hex`))
	w.do(chromedp.Evaluate[chromedp.Void](`document.querySelector('[data-line="peat-black"] [data-more]').dispatchEvent(new PointerEvent('pointerup', { bubbles: true }))`))
	w.says("This cup, predicted")
	assert.Equal(t, full, w.cupText(), "holding adds nothing")

	undone := 0
	for eval[bool](w, `!document.querySelector('[aria-label="Undo"]').disabled`) && undone < 100 {
		head := w.cupText()
		w.press("Undo")
		undone++
		w.until(`![...document.querySelectorAll('[role="status"]')].some((s) => s.innerText.includes('wait here'))`)
		w.until(fmt.Sprintf(
			`[...document.querySelectorAll('[data-line]')].map((l) => l.dataset.line + ' ' + l.querySelector('input').value).join('; ') !== %q || document.querySelectorAll('[data-line]').length === 0`,
			head,
		))
	}
	w.says("Clear plastisol")
	for range undone {
		w.press("Redo")
	}
	w.until(fmt.Sprintf(
		`[...document.querySelectorAll('[data-line]')].map((l) => l.dataset.line + ' ' + l.querySelector('input').value).join('; ') === %q`,
		full,
	))
	w.reload()
	w.until(fmt.Sprintf(
		`[...document.querySelectorAll('[data-line]')].map((l) => l.dataset.line + ' ' + l.querySelector('input').value).join('; ') === %q`,
		full,
	))
}

// 37 drops counted by key in two additions; then half is poured and the rest is split.
func TestCountPourAndSplit(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/count/no-such-cup")
	w.says("This cup is not here")
	w.press("The cup that was touched last")
	w.says("Wet rope")
	w.press("New cup")
	w.says("Clear plastisol")
	w.press("Count")
	w.says("What drips")
	w.click(`[data-count="rowan-red"]`)
	total := func(n int) {
		w.until(fmt.Sprintf(`document.querySelector('[data-testid="total"]')?.innerText.trim() === "%d"`, n))
	}
	for range 20 {
		w.do(chromedp.KeyEvent(" "))
	}
	total(20)
	w.says("Addition 1")
	// Half a minute goes by.
	w.do(chromedp.Evaluate[chromedp.Void](`window.realNow = Date.now; Date.now = () => window.realNow() + 30000`))
	for range 17 {
		w.do(chromedp.KeyEvent("\r"))
	}
	total(37)
	// Other keys keep their own work, and a key belongs to what has the focus.
	for _, other := range []string{"x", "5", kb.ArrowDown, kb.F2, "\t"} {
		w.do(chromedp.KeyEvent(other))
	}
	w.do(chromedp.Evaluate[chromedp.Void](`document.activeElement.blur()`))
	total(37)
	w.press("Learn my pedal")
	w.says("Step on it now")
	w.do(chromedp.KeyEvent("b"))
	w.says("yours is KeyB")
	w.do(chromedp.KeyEvent("b"))
	total(38)
	w.press("Undo")
	total(37)
	w.do(chromedp.KeyEvent(" ")) // not "Undo" once more
	total(38)
	w.press("Undo")
	total(37)
	w.says("Addition 2")
	w.until(`[...document.querySelectorAll('[data-addition]')].map((g) => g.innerText.replace(/\s+/g, ' ').trim()).join('; ') === 'Addition 2 17 drops Rowan red; Addition 1 20 drops Rowan red'`)
	w.press("+10")
	total(47)
	w.do(chromedp.KeyEvent("\u0008")) // backspace takes the last back
	total(37)
	w.reload()
	total(37) // it opens on what was dripped last
	w.press("Weigh the bottle before")
	w.says("g before")
	w.press("Weigh it after")
	w.until(`document.querySelector('[data-testid="total"]').innerText.trim().startsWith("4")`)
	w.press("Undo")
	total(37)

	w.press("To the bench")
	w.holds(`[data-line="rowan-red"] input`, "37 drops")
	w.press("This cup")
	w.says("238 ml left")
	w.press("Poured or shot")
	w.says("119 ml left")
	w.holds(`[data-line="rowan-red"] input`, "18.5 drops")
	w.press("Split it in half")
	w.says("60 ml left")
	w.until(`document.querySelectorAll('[data-cup]').length === 7`) // and the demo's six
	w.holds(`[data-line="rowan-red"] input`, "9.25 drops")
	w.press("It is that hot now")
	w.says("Heated once")
	w.press("Sprues and plug came back")
	w.says("came back")
	w.holds(`[data-line="rowan-red"] input`, "12.95 drops")
	w.press("Pour it in here") // the first of the others: the split-off half
	w.holds(`[data-line="rowan-red"] input`, "22.2 drops")
	w.press("Undo")
	w.holds(`[data-line="rowan-red"] input`, "12.95 drops")
}

// Another bottle for one that is in the cup, and the same look with glass.
func TestSwapAndTheSameLookWithGlass(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/recipes/bog-lantern")
	w.press("Pour it on the bench")
	w.saved()
	w.click(`[data-line="peat-black"] [aria-expanded]`)
	w.press("Swap it")
	w.says("Something else for Peat black")
	w.press("Choose from the shelf…")
	w.choose("Drizzle grey")
	w.until(`document.querySelector('[data-testid="swapped"]')`)
	w.press("Put it in the cup")
	w.until(`document.querySelector('[data-line="drizzle-grey"]') && !document.querySelector('[data-line="peat-black"]')`)
	w.press("The same look with salt, glass or floating spheres")
	w.press("Choose from the shelf…")
	w.choose("Bead glass")
	w.until(`document.querySelector('[data-testid="swapped"]')`)
	w.press("Put it in the cup")
	w.until(`document.querySelector('[data-line="bead-glass"]')`)

	// Under water, turned, in another light.
	w.press("in air")
	w.choose("stained water, peat")
	w.says("The open water")
	w.visit("/recipes/everything-pot")
	w.press("Pour it on the bench")
	w.saved()
	w.click(`[data-line="aurora-035"] [aria-expanded]`)
	w.says("can be told apart")
	w.press("heavy")
	w.until(`document.querySelector('[data-line="aurora-035"] input').value !== '1/4 tsp'`)
}

// A bottle is added in a few taps, refined, and followed by the next one.
func TestAShelfOfOnesOwn(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/shelf")
	w.says("Peat black")
	w.press("Powders")
	w.until(`document.querySelectorAll('a[href^="/shelf/"]').length === 13`)
	w.press("All")
	w.press("Liquid colour")
	w.choose("Flake")
	w.fill(`[aria-label="Size"]`, ".40")
	w.do(chromedp.Evaluate[chromedp.Void](`[...document.querySelectorAll('form label')].find((l) => l.innerText.includes('Your own name')).querySelector('input').focus()`))
	w.do(chromedp.KeyEvent("Dory scale"))
	w.press("Add it")
	w.says("Did you mean .040?")
	w.fill(`[aria-label="Size"]`, ".040")
	w.press("Add it")
	w.says("How far may it be heated?")
	w.enter(`[data-property="thicknessMM"] input`, "0.05")
	w.says("measured by you")
	w.fill(`[aria-label="Temperature"]`, "340")
	w.press("Keep")
	w.says("Up to 340 °F (171 °C), says its maker")
	w.visit("/shelf/rowan-red")
	w.says("I counted")
	w.press("Which way does it lean? Choose another…")
	w.choose("Brick quay")
	w.says("At equal strength the lower is")
	w.press("Same stuff, new bottle")
	w.says("The next bottle after an older one")
	w.visit("/recipes/shrimp-in-tea")
	w.says("Rowan red")
	w.visit("/kit")
	w.says("tip of the small knife")
	w.click(`[aria-label="1/64 spoon"]`)
	w.until(`document.querySelector('[aria-label="1/64 spoon"]').ariaPressed === "false"`)
}

// Versions, a recipe made from another, a search by words and by colour, two side by side.
func TestRecipeLife(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/recipes/gull-belly")
	w.press("Pour it on the bench")
	w.saved()
	w.click(`[data-bottle="broom-yellow"]`)
	w.says("Changed since it was saved")
	w.press("Save")
	w.fill(`input[placeholder="A touch less red"]`, "warmer")
	w.click(`[role="dialog"] button[type="submit"]`)
	w.until(`!document.body.innerText.includes("since it was saved")`)
	w.visit("/recipes/gull-belly")
	w.says("warmer")
	w.says("Broom yellow new: 1 drop")
	w.press("Beside now")
	w.says("From left to right")
	w.visit("/recipes/gull-belly")
	w.press("Make one from it")
	w.says("Gull belly, my way")
	w.says("Made from")
	w.visit("/recipes")
	w.fill(`[aria-label="Find a recipe"]`, "belly broom")
	w.until(`document.querySelectorAll('[aria-label^="Lay another beside"]').length === 2`)
	w.fill(`[aria-label="Find a recipe"]`, "")
	w.do(chromedp.Evaluate[chromedp.Void](`(() => { const i = document.querySelector('[aria-label="Near this colour"]'); i.value = '#e8e8e2'; i.dispatchEvent(new Event('change')) })()`))
	w.says("from the colour sought")
	w.until(`document.querySelector('main li').innerText.includes('Gull belly')`)
}

// From a tap to the new pictures, for the fullest cup that the bench has.
func TestTapToPictureOfAFullCup(t *testing.T) {
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/recipes/everything-pot")
	w.press("Pour it on the bench")
	w.saved()
	w.until(`document.querySelector('[data-testid="close-up"] img')`)
	times, ratio := w.tapTimes()
	t.Logf(
		"tap to picture, full cup: median %.0f ms, 90th percentile %.0f ms; %.1f times a small answer", times[12],
		times[22],
		ratio,
	)
	assert.Less(t, ratio, 12.0)
}

// A flake is seen in other bases, and more and more of it; either is one tap from the bench.
func TestAFlakeInOtherBases(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/bench")
	w.says("Wet rope")
	w.press("Flake")
	w.click(`[data-bottle="rime-035"]`)
	w.until(`document.querySelector('[data-line="rime-035"]')`)
	w.click(`[data-line="rime-035"] [aria-expanded]`)
	w.press("In other bases")
	w.until(`document.querySelectorAll('[data-testid="bases"] img').length === 4`)
	w.says("against its base, ΔE00")
	w.press("Take Clear")
	w.until(`!document.querySelector('[data-line="tea-brown"]') && document.querySelector('[data-line="rime-035"]')`)
	w.press("More and more of it")
	w.until(`document.querySelectorAll('[data-testid="ladder"] img').length === 6`)
	w.press("Take 1/8 tsp")
	w.until(`document.querySelector('[data-line="rime-035"] input')?.value === '1/8 tsp'`)
	w.press("Undo")
	w.press("Undo")
	w.until(`document.querySelector('[data-line="tea-brown"]')`)
}
