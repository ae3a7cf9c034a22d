package e2e_test

import (
	"flag"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
)

var shots = flag.String("shots", "", "folder to write a picture of each main view to")

// Every main view of the demo shop opens without an error of its scripts; with -shots they are pictured.
func TestScreensOfTheDemo(t *testing.T) {
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/")
	take := func(name string) {
		if *shots != "" {
			w.shot(filepath.Join(*shots, name+".png"))
		}
	}
	w.says("Wet rope")
	w.says("ΔE00")
	take("bench")
	w.click(`[aria-label="dark surround"]`)
	take("bench-dark")
	w.click(`[aria-label="medium surround"]`)

	w.visit("/references")
	w.says("Goby from the old pier")
	take("references")
	w.click(`a[href^="/references/"] img`)
	w.says("Make it the target")
	w.until(`document.querySelector('[data-testid="photo"] img').complete`)
	w.do(chromedp.MouseClickXY(560, 330))
	w.until(`document.querySelector('[data-testid="sample"]')`)
	take("reference")

	w.visit("/recipes")
	w.says("Two-faced weed")
	take("recipes")
	w.visit("/recipes/wet-rope")
	w.says("All taken as advised")
	w.says("Close. A touch too pale")
	take("recipe")

	w.visit("/batches")
	w.says("Right first time")
	take("batches")
	w.visit("/batches/new/wet-rope")
	w.says("Go 1")
	take("new-batch")
	w.visit("/shelf")
	w.says("Peat black")
	take("shelf")
	w.visit("/nowhere/at/all")
	w.says("Nothing at this address")
}
