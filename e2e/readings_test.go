package e2e_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
)

// A batch is read part by part; the bottle's page says what that teaches, and a reading that was wrong is taken out
// again.
func TestABatchIsReadAndTeaches(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/shelf/tea-brown")
	w.says("By 4 batches it is")
	w.visit("/batches")
	w.says("Close. A touch too pale")
	w.click(`[data-testid="add-reading"]`)
	w.says("What did it come out as?")
	w.press("Keep the reading")
	w.says("Type L, a, b and the thickness as figures")
	w.fill(`[role="dialog"] input[placeholder="Back"]`, "Tail tip")
	for axis, v := range map[string]string{"L": "5,5", "a": "1", "b": "-2"} {
		w.fill(`[role="dialog"] input[aria-label="`+axis+`"]`, v)
	}
	w.press("Keep the reading")
	w.until(`!document.querySelector('[role="dialog"]')`)
	w.says("Tail tip, 1.5 mm over white, by an instrument")
	w.says("Worth reading again at another spot")
	assert.Equal(
		t, 4, eval[int](w, `document.querySelectorAll('[data-batch]')[0].querySelectorAll('[data-reading]').length`),
	)
	w.visit("/shelf/tea-brown")
	w.says("Tail tip lies ΔE00")
	w.visit("/batches")
	w.says("Tail tip")
	w.click(`[aria-label="Take out Tail tip"]`)
	w.until(`document.querySelectorAll('[data-batch]')[0].querySelectorAll('[data-reading]').length === 3`)
	w.reload()
	w.says("Close. A touch too pale")
	w.until(`document.querySelectorAll('[data-batch]')[0].querySelectorAll('[data-reading]').length === 3`)

	photos := `document.querySelector('[data-batch]')?.querySelectorAll('[data-photos] img').length`
	had := eval[int](w, photos)
	w.upload(`[data-batch] [data-photos] input[type="file"]`, "testdata/bait.jpg")
	w.until(fmt.Sprintf("%s === %d", photos, had+1))
	w.reload()
	w.until(fmt.Sprintf("%s === %d", photos, had+1))
	w.click(fmt.Sprintf(`[data-batch] [aria-label="Take out photo %d"]`, had+1))
	w.until(fmt.Sprintf("%s === %d", photos, had))
}
