package e2e_test

import (
	"fmt"
	"strings"
	"syscall"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// While the line is down the count goes on; the bait and the target are in view, and nothing hangs over the edge of any
// screen.
func TestCountingGoesOnWhileTheLineIsDown(t *testing.T) {
	t.Parallel()
	data := dataFolder(t)
	p := start(t, data, "demo")
	w := p.open(browser(t), "/bench")
	w.says("Wet rope")
	w.press("Count")
	w.says("What drips")
	w.click(`[data-count="bottle-green"]`)
	total := func(n int) {
		w.until(fmt.Sprintf(`document.querySelector('[data-testid="total"]')?.innerText.trim() === "%d"`, n))
	}
	total(1)
	for _, size := range sizes {
		w.do(chromedp.EmulateViewport(size[0], size[1]))
		w.until(`document.querySelector('[data-testid="so-far"] img')?.naturalWidth > 100`)
		w.says("Goby from the old pier: Back")
		assert.LessOrEqual(t, eval[int64](w, `document.documentElement.scrollWidth`), size[0], "%v", size)
	}
	w.press("A tick")
	addr := strings.TrimPrefix(p.url, "http://")
	p.end(syscall.SIGKILL)
	for range 5 {
		w.do(chromedp.KeyEvent(" "))
	}
	total(6)
	w.says("5 of your taps wait here")
	startAt(t, data, "demo", addr)
	w.until(`!document.body.innerText.includes('of your taps wait here')`)
	total(6)
}

// Cups keep their names, and any of them is two taps away; what was put away is brought back.
func TestCupsAreSwitchedNamedAndBroughtBack(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/bench")
	w.says("Wet rope")
	for _, size := range sizes {
		w.do(chromedp.EmulateViewport(size[0], size[1]))
		w.visit("/bench")
		w.press("New cup")
		w.says("Clear plastisol")
		name := fmt.Sprintf("Trial at %d", size[0])
		w.press("More…")
		w.press("Rename")
		w.enter(`[aria-label="New name of this cup"]`, name)
		w.until(fmt.Sprintf(`document.querySelector('h1')?.innerText === %q`, name))
		w.click(`[aria-label$=": another cup"]`)
		w.until(`document.querySelectorAll('[data-testid="cups"] li').length >= 5`)
		assert.LessOrEqual(t, eval[int64](w, `document.documentElement.scrollWidth`), size[0], "%v", size)
		w.pressAt(`//*[@data-testid="cups"]//button[starts-with(normalize-space(), "Peat spot")]`)
		w.until(`document.querySelector('h1')?.innerText === 'Peat spot'`)
		w.click(`[aria-label$=": another cup"]`)
		w.pressAt(fmt.Sprintf(`//*[@data-testid="cups"]//button[starts-with(normalize-space(), %q)]`, name))
		w.until(fmt.Sprintf(`document.querySelector('h1')?.innerText === %q`, name))
		w.press("More…")
		w.press("Put away")
		w.says("was put away")
		w.until(fmt.Sprintf(`document.querySelector('h1') && document.querySelector('h1').innerText !== %q`, name))
		w.press("Bring it back")
		w.until(`!document.querySelector('[data-testid="gone"]')`)
		w.click(`[aria-label$=": another cup"]`)
		w.pressAt(fmt.Sprintf(`//*[@data-testid="cups"]//button[starts-with(normalize-space(), %q)]`, name))
		w.until(fmt.Sprintf(`document.querySelector('h1')?.innerText === %q`, name))
	}

	// Recipes, references, batches and baits are kept in the same way.
	w.do(chromedp.EmulateViewport(1280, 800))
	w.visit("/recipes/wet-rope")
	w.press("More…")
	w.press("Delete")
	w.says("was deleted")
	w.until(`location.pathname === '/recipes' && !document.querySelector('a[href="/recipes/wet-rope"]')`)
	w.visit("/recipes/wet-rope") // an old address still finds it
	w.says("This recipe was deleted.")
	w.press("Bring it back")
	w.until(`!document.body.innerText.includes('This recipe was deleted.')`)
	w.visit("/recipes")
	w.until(`document.querySelector('a[href="/recipes/wet-rope"]')`)
	w.visit("/batches")
	w.until(`document.querySelectorAll('[data-batch]').length > 1`)
	batches := eval[int](w, `document.querySelectorAll('[data-batch]').length`)
	w.click(`[data-batch] [data-keep] button`)
	w.press("Put away")
	w.until(fmt.Sprintf(`document.querySelectorAll('[data-batch]').length === %d`, batches-1))
	w.press("Bring it back")
	w.until(fmt.Sprintf(`document.querySelectorAll('[data-batch]').length === %d`, batches))
}

// A recipe goes straight into a bait, and the cups that were matched become one in one press.
func TestABaitOfARecipeAndOfAMatch(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/baits")
	w.press("Back and belly")
	w.until(`document.querySelectorAll('[data-cup]').length === 2`)
	w.click(`[data-cup="0"] [aria-haspopup="listbox"]`)
	w.choose("Recipe: Shrimp in tea")
	w.until(`document.querySelector('[data-cup="0"]').innerText.includes('Shrimp in tea')`)

	w.visit("/references")
	w.click(`a[href^="/references/"]`)
	w.press("Match it from the shelf")
	w.press("Parts of one bait, together")
	w.press("Match the parts together")
	w.do(chromedp.WaitVisible(chromedp.CSS(`[data-testid="layers"]`)))
	w.press("Make the bait of them")
	w.until(`location.pathname.startsWith('/baits/') && document.querySelectorAll('[data-cup]').length > 1`)
	w.until(`[...document.querySelectorAll('[data-cup]')].every((c) => c.innerText.includes('Goby from the old pier'))`)
}

// Said once counts once; what is at none is out of the recipe; too hot is said; no list is wider than its screen.
func TestSmallThingsOfTheHands(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/bench")
	w.says("Wet rope")
	w.press("New cup")
	w.says("Clear plastisol")
	w.click(`[data-bottle="rowan-red"]`)
	w.holds(`[data-line="rowan-red"] input`, "1 drop")
	w.click(`[data-line="rowan-red"] [aria-label^="One drop less"]`)
	w.holds(`[data-line="rowan-red"] input`, "0 drops")
	w.click(`[data-bottle="sound-blue"]`)
	w.press("Save")
	w.do(chromedp.WaitVisible(chromedp.CSS(`[role="dialog"] input`)), chromedp.KeyEvent("One blue drop"))
	w.click(`[role="dialog"] button[type="submit"]`)
	w.saved()
	w.press("This cup")
	w.press("Poured or shot")
	w.says("118 ml left")
	back := `[aria-label="How much came back"]`
	w.enter(back, "20 %")
	w.says("142 ml left")
	w.press("Sprues and plug came back") // nothing is written there any more
	w.says("142 ml left")
	w.fill(`[aria-label="Heated to"]`, "500F")
	w.press("It is that hot now")
	w.says("too hot")
	w.says("irritant gas")
	w.fill(`[aria-label="Heated to"]`, "340F")
	w.press("It is that hot now")
	w.says("Heated once")

	w.visit("/recipes")
	w.says("One blue drop")
	w.until(`[...document.querySelectorAll('a[href^="/recipes/"]')].find((a) => a.innerText.includes('One blue drop')).innerText.includes('1 Sound blue')`)
	assert.False(
		t, eval[bool](
			w, `[...document.querySelectorAll('a[href^="/recipes/"]')].some((a) => /\b0 /.test(a.innerText))`,
		),
	)
	for _, size := range sizes {
		w.do(chromedp.EmulateViewport(size[0], size[1]))
		for _, path := range []string{
			"/recipes", "/recipes/wet-rope", "/baits", "/batches", "/references", "/match", "/shelf", "/kit",
		} {
			w.visit(path)
			w.until(`document.querySelector('h1')`)
			w.until(fmt.Sprintf(`document.documentElement.scrollWidth <= %d`, size[0]))
		}
	}
}
