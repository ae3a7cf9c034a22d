package e2e_test

import (
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// From a reference to a cup: the search, a dose changed by hand, one held, a candidate on the bench, a correction in
// words, one of a half-poured cup, and all of it saved.
func TestFromAReferenceToDoses(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/references")
	picture := func(name string) {
		if *shots != "" {
			w.shot(filepath.Join(*shots, name+".png"))
		}
	}
	w.says("Goby from the old pier")
	w.click(`a[href^="/references/"] img`)
	w.says("Make it the target")
	w.press("Match it from the shelf")
	w.says("sets of bottles in")
	w.until(`document.querySelectorAll('[data-testid="candidate"]').length === 5`)
	w.until(`[...document.querySelectorAll('[data-testid="candidate"] img')].length === 5`)
	picture("match")

	// A dose changed by hand is worked out at once, and the list is sorted again.
	delta := func() float64 {
		return eval[float64](
			w, `Number(document.querySelector('[data-testid="candidate"] [data-testid="delta"]').textContent)`,
		)
	}
	before := delta()
	w.click(`[data-testid="candidate"] [aria-label^="More "]`)
	w.says("changed by hand")
	assert.GreaterOrEqual(
		t,
		eval[float64](
			w, `Math.max(...[...document.querySelectorAll('[data-testid="delta"]')].map((e) => Number(e.textContent)))`,
		),
		before,
	)

	// What is held goes in anyway, and the rest is matched to it.
	w.click(`[data-testid="candidate"] [title^="Keep this dose"]`)
	w.says("is held")
	w.press("Let it go")
	w.until(`!document.body.innerText.includes('is held')`)
	w.until(`document.querySelectorAll('[data-testid="candidate"]').length === 5`)

	// Nothing is allowed: said in words. Without the strong ones, what limits it is said.
	w.enter(`[aria-label="Only with these words"]`, "no such bottle anywhere")
	w.says("no bottle is allowed")
	w.enter(`[aria-label="Only with these words"]`, "pearl")
	w.says("What limits it")
	w.fill(`[aria-label="Only with these words"]`, "\b")
	w.until(`document.querySelectorAll('[data-testid="candidate"]').length === 5 && !document.querySelector('[data-testid="limit"]')`)
	require.Less(t, delta(), 2.0)

	// The long search can be stopped.
	w.press("Search harder")
	w.until(`(() => {
		const stop = document.querySelector('progress') && [...document.querySelectorAll('button')].find((b) => b.innerText === 'Stop')
		stop?.click()
		return stop
	})()`) // at once: it is done in a second or two
	w.until(`!document.querySelector('progress')`)

	// To the bench, half of it poured, then what is wrong with it in words.
	w.press("To the bench")
	w.says("Not saved as a recipe yet")
	w.says("Goby from the old pier: Back")
	w.press("This cup")
	w.press("Poured or shot")
	w.says("Poured 50 %")
	w.press("What next?")
	w.until(`document.querySelector('[data-testid="corrections"]')`)
	w.press("some")
	w.press("too pale")
	w.press("Work it out")
	w.until(`document.querySelector('[data-testid="way-out"] ul li')`)
	picture("match-correct")
	w.press("It goes in")
	w.says("As said: too pale")
	w.until(`!document.querySelector('[role="dialog"]')`)
	w.press("Save")
	w.enter(`[role="dialog"] input[type="text"]`, "Old pier back")
	w.saved()
	w.visit("/recipes")
	w.says("Old pier back")
}

// Parts of one bait are matched together, and go to the bench as cups with letters.
func TestPartsTogether(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/match")
	w.says("Choose a reference")
	w.click(`[data-testid="to-match"] a`)
	w.says("Match: Goby from the old pier")
	w.says("sets of bottles in")
	w.press("Parts of one bait, together")
	w.click(`[data-testid="readings"] button[aria-haspopup]`)
	w.choose("over the belly")
	w.press("Match the parts together")
	w.until(`document.querySelectorAll('[data-testid="layers"] [data-testid="candidate"] img').length === 3`)
	w.press("All cups to the bench")
	w.says("cup A, Back")
}
