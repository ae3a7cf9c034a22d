package e2e_test

import (
	"flag"
	"path/filepath"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
)

var shots = flag.String("shots", "", "folder to write a picture of each main view to")

// Every main view of the demo shop opens without an error of its scripts; with -shots they are pictured.
func TestScreensOfTheDemo(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/")
	take := func(name string) {
		if *shots != "" {
			w.shot(filepath.Join(*shots, name+".png"))
		}
	}
	w.says("Wet rope")
	w.says("Running low")
	w.until(`document.querySelector('main img')?.complete`)
	take("now")
	w.press("Go on with it")
	w.says("ΔE00")
	take("bench")
	pour := func(recipe string) {
		w.visit("/recipes/" + recipe)
		w.press("Pour it on the bench")
		w.saved()
	}
	pour("wave-back")
	w.press("over white")
	w.press("over dark")
	w.says("Tilted 45°")
	pour("salted-hail")
	w.until(`document.querySelector('[data-testid="close-up"] img').complete`)
	w.click(`[data-line="barley-035"] [aria-expanded]`)
	w.says("can be told apart")
	w.press("Quick tests")
	w.says("Step chip")
	w.press("This cup")
	w.says("Worked at")
	w.press("Count")
	w.says("What drips")
	take("count")

	for _, bait := range []struct{ place, picture string }{{"1", "bait"}, {"2", ""}, {"3", ""}} {
		w.visit("/baits")
		w.says("Harbour herring")
		w.click(`ul li:nth-child(` + bait.place + `) a[href^="/baits/"]`)
		w.says("In the mold")
		w.until(`document.querySelector('[data-testid="bait-main"]')?.complete`)
		if bait.picture != "" {
			take(bait.picture)
		}
	}
	w.press("in air")
	w.choose("green water, algae")
	w.press("Every water")
	w.until(`document.querySelectorAll('[data-testid="waters"] img').length === 4`)
	w.do(chromedp.Evaluate[chromedp.Void](`window.scrollTo(0, 480)`))
	w.visit("/molds")
	w.says("Perch fin, eight")
	w.visit("/molds/lagoon-shad")
	w.says("Learn it from a shot")
	take("mold")

	w.visit("/references")
	w.says("Goby from the old pier")
	w.click(`a[href^="/references/"] img`)
	w.says("Make it the target")
	w.until(`document.querySelector('[data-testid="photo"] img').complete`)
	w.do(chromedp.MouseClickXY(470, 372))
	w.until(`document.querySelector('[data-testid="sample"]')`)
	take("reference")

	w.visit("/recipes")
	w.says("Two-faced weed")
	w.visit("/recipes/wet-rope")
	w.says("All taken as shown")
	w.says("Close. A touch too pale")
	take("recipe")

	w.visit("/projects")
	w.says("Herring back and belly")
	w.visit("/projects/" + p.project("Herring back and belly"))
	w.says("inside the bag's own spread")
	w.until(`!document.body.innerText.includes('Working out what to pour next')`)
	w.until(`[...document.querySelectorAll('[data-try] img')].slice(0, 3).every((i) => i.complete)`)
	take("project")
	w.visit("/batches")
	w.says("Right first time")
	w.visit("/batches/new/wet-rope")
	w.says("Addition 1")
	w.visit("/beside?one=wet-rope&other=bog-lantern")
	w.says("From left to right")
	w.visit("/shelf")
	w.says("Peat black")
	take("shelf")
	w.visit("/shelf/barley-035")
	w.says("Where it leads")
	take("material-flake")
	w.visit("/shelf/beetle-shift")
	w.says("Turned in the sun")
	w.visit("/kit")
	w.says("tip of the small knife")
	w.until(`[...document.querySelectorAll('input')].some((i) => i.value === 'Twin, 4 oz')`)
	w.do(chromedp.Evaluate[chromedp.Void](`document.querySelector('[data-testid="equipment"]').scrollIntoView()`))
	take("kit")
	p.send(
		"POST", "/api/v1/pours", map[string]any{"recipe": "wave-back", "mold": "lagoon-shad", "count": 16, "copies": 2},
	)
	running := p.item("pours", "Back of the wave")["uid"].(string)
	p.send("POST", "/api/v1/pours/"+running+"/run", map[string]any{"seen": 1, "atMS": time.Now().UnixMilli() - 380_000})
	for i, step := range []string{"A.measure", "A.first", "A.stir", "A.fuse"} {
		p.send(
			"POST", "/api/v1/pours/"+running+"/run/events",
			map[string]any{"kind": "done", "step": step, "atMS": time.Now().UnixMilli() - 200_000 + int64(i)*60_000},
		)
	}
	w.visit("/pours")
	w.says("being poured")
	herring := p.item("pours", "Harbour herring")
	w.visit("/pours/" + herring["uid"].(string))
	w.says("The order of the work")
	w.until(`document.querySelector('header img')?.complete`)
	w.pressAt(`//*[@data-step="body.1"]`)
	w.do(chromedp.Evaluate[chromedp.Void](`window.scrollTo(0, 330)`))
	take("plan")
	w.visit("/leftovers")
	w.says("Sprues of Weed that turns")
	take("leftovers")
	w.visit("/log")
	w.says("Bog lantern after the rain")
	take("log")
	w.visit("/pours/" + running + "/run")
	w.says("of 2")
	take("run")
	w.visit("/nowhere/at/all")
	w.says("Nothing at this address")
}
