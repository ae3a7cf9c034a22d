package e2e_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// bait is a bait of the demo's.
func (p *program) item(list, name string) map[string]any {
	var got struct{ Items []map[string]any }
	require.NoError(p.t, json.Unmarshal([]byte(p.get("/api/v1/"+list)), &got))
	for _, one := range got.Items {
		called, _ := one["name"].(string)
		if order, ok := one["order"].(map[string]any); ok {
			called, _ = order["name"].(string)
		}
		if called == name {
			return one
		}
	}
	require.Fail(p.t, "nothing is called "+name)
	return nil
}

// Forty baits of a laminate are planned, poured step by step with the thermometer stand-in, some of them spoiled, and
// what is lacking is planned from what is left. The page is left and opened again in between, and a second device looks
// on.
func TestALaminateOfFortyBaits(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	cups := p.item("baits", "Harbour herring")["cups"].([]any)
	uidOf := func(i int) string { return cups[i].(map[string]any)["cup"].(string) }
	p.send("POST", "/api/v1/baits", map[string]any{"name": "Plain herring", "mold": "lagoon-shad", "way": "laminate", "cups": []any{
		map[string]any{"cup": uidOf(0), "part": "belly"}, map[string]any{"cup": uidOf(1), "part": "back"},
	}})
	w := p.open(browser(t), "/baits/"+p.item("baits", "Plain herring")["uid"].(string))
	w.press("Pour it")
	w.says("How many baits")
	w.fill(`[role="dialog"] label:first-of-type input`, "none")
	w.press("Plan it")
	w.says("how many baits? From 1")
	w.fill(`[role="dialog"] label:first-of-type input`, "40")
	w.fill(`[role="dialog"] label:last-of-type input`, "4")
	w.press("Plan it")
	w.says("The order of the work")
	w.says("no order is sooner")
	uid := eval[string](w, `location.pathname.split('/').pop()`)

	// What can't be is said beside the field, and stays there to be mended.
	w.enter(`input[aria-label^="Baits of"]`, "0")
	w.says("this is too little; 1 is the least that is taken")
	w.enter(`input[aria-label="Molds at hand"]`, "99")
	w.says("this is too much; up to 24 is taken")
	w.enter(`input[aria-label^="Baits of"]`, "40")
	w.enter(`input[aria-label="Molds at hand"]`, "4")

	// A step is moved by hand, what follows with it, and back.
	total := `document.body.innerText.match(/(\d+) min from the first/)[1]`
	was := eval[string](w, total)
	w.pressAt(`//*[@data-step="A.fuse"]`)
	w.says("1 min later")
	for range 4 {
		now := eval[string](w, `document.querySelector('[data-testid="chosen-step"] .figure.text-lg').innerText`)
		w.press("1 min later")
		w.until(fmt.Sprintf(
			`document.querySelector('[data-testid="chosen-step"] .figure.text-lg')?.innerText !== %q`, now,
		))
	}
	w.until(fmt.Sprintf(`%s !== %q`, total, was))
	w.press("Steps back where they were")
	w.until(fmt.Sprintf(`%s === %q`, total, was))
	w.enter(`input[aria-label="Spares in per cent"]`, "-3")
	w.says("spares: from none")
	w.reload()

	w.press("Begin the run")
	w.says("Stir the jug")
	other := p.open(browser(t), "/pours/"+uid+"/run")
	other.says("Stir the jug")
	at := func() string {
		return eval[string](w, `document.querySelector('[data-testid="step"]')?.dataset.step ?? ''`)
	}
	asked, counted := 0, false
	for range 120 {
		w.until(`document.querySelector('[data-testid="step"]') || document.body.innerText.includes('All of it is poured')`)
		step := at()
		if step == "" {
			break
		}
		switch {
		case strings.HasSuffix(step, ".colour") && !counted:
			counted = true
			w.click(`[data-testid="step"] li button:last-child`)
			w.click(`[data-testid="step"] li button:last-child`)
			w.until(`document.querySelector('[data-testid="count"]').innerText.startsWith('2')`)
			w.reload()
			w.until(`document.querySelector('[data-testid="count"]')?.innerText.startsWith('2')`)
			w.press("Done")
			w.says("Only some of it was counted in")
			w.press("All of it is in")
		case strings.HasSuffix(step, ".fuse"):
			asked++
			w.fill(`input[aria-label="What the thermometer shows"]`, "900F")
			w.press("Take this reading")
			w.says("out of reach")
			w.press("Ask the thermometer")
			w.says("A stand-in")
			w.press("Begin")
			w.until(`document.querySelector('[role="timer"]')?.innerText.includes('to go') || document.querySelector('[role="timer"]')?.innerText.includes('over')`)
			w.press("Done")
		default:
			w.press("Done")
		}
		w.until(fmt.Sprintf(`(document.querySelector('[data-testid="step"]')?.dataset.step ?? '') !== %q`, step))
	}
	require.Positive(t, asked)
	require.True(t, counted)
	w.says("All of it is poured")
	other.says("All of it is poured")
	w.press("I did something else")
	w.fill(`input[aria-label="What you did otherwise"]`, "The fan was off")
	w.press("Write it down")
	w.says("The fan was off")
	w.pressAt(`//button[starts-with(normalize-space(), "Take back: Noted")]`)
	w.until(`!document.body.innerText.includes('The fan was off')`)

	w.press("What came of it")
	w.says("Good baits")
	w.press("Some are spoiled")
	w.fill(`[role="dialog"] input[aria-label="How many, 1"]`, "6")
	w.fill(`[role="dialog"] form > label:first-of-type input`, "400")
	w.click(`[role="dialog"] button[type="submit"]`)
	w.says("more than the 40 that the molds gave")
	w.fill(`[role="dialog"] form > label:first-of-type input`, "42")
	w.click(`[role="dialog"] button[type="submit"]`)
	w.says("are more than the 40 that were filled. Meant so?")
	w.fill(`[role="dialog"] form > label:first-of-type input`, "34")
	w.fill(`[role="dialog"] input[placeholder="nobody looked"]`, "5 ml")
	w.click(`[role="dialog"] button[type="submit"]`)
	w.says("34 good baits of 40 asked")
	w.press("Plan the 6 that are lacking, from what is left")
	w.says("Plain herring, the rest")
	w.says("that were left of it")
	w.says("The order of the work")

	// What it left is there, and becomes something else.
	w.visit("/leftovers")
	w.says("Sprues of Plain herring")
	w.says("Spoiled baits of Plain herring")
	w.press("What will do as…?")
	w.click(`[role="dialog"] button[aria-haspopup="listbox"]`)
	w.pressAt(`//li[contains(., "Recipe: Back of the wave")]`)
	w.press("Look")
	w.until(`document.querySelectorAll('[data-testid="will-do"]').length >= 3`)
	w.says("Will do with")
	w.pressAt(`//*[@data-testid="will-do"][contains(., "Sprues of Plain herring")]//button`)
	w.says("ΔE00")
	w.until(`location.pathname.startsWith('/bench/')`)
	w.press("This cup")
	w.until(`/\d+ ml left/.test(document.body.innerText)`)
	held := `Number(document.body.innerText.match(/(\d+) ml left/)[1])`
	all := eval[int](w, held)
	w.press("Poured or shot")
	w.until(fmt.Sprintf(`%s < %d`, held, all))
	w.visit("/leftovers")
	w.says("Spoiled baits of Plain herring")
	w.until(`!document.body.innerText.includes('Sprues of Plain herring')`)

	// The run wrote itself into the log; how it fished is added, and found again by words.
	w.visit("/log")
	w.says("Plain herring")
	w.pressAt(`//*[@data-testid="entry"][contains(., "Plain herring")]//a`)
	w.says("Its run")
	w.fill(`form input[placeholder^="clear, green"]`, "muddy")
	w.fill(`form textarea`, "Three on the drop, by the old sluice.")
	w.fill(`form input[placeholder="2026-03-31"]`, "tomorrow")
	w.press("Keep it")
	w.says("is no day")
	w.fill(`form input[placeholder="2026-03-31"]`, "2026-11-27")
	w.press("Keep it")
	w.says("It is kept.")
	w.visit("/log")
	w.fill(`input[type="search"]`, "what worked in muddy water by the sluice?")
	w.until(`document.querySelectorAll('[data-testid="entry"]').length === 1`)
	w.says("Three on the drop")

	// It leads back: what it was goes onto the bench, its colour is matched from the shelf.
	w.pressAt(`//*[@data-testid="entry"]//a`)
	w.press("Match its colour")
	w.says("Match: Plain herring")
	w.until(`document.querySelectorAll('[data-testid="candidate"]').length > 0`)
	w.visit("/log")
	w.pressAt(`//*[@data-testid="entry"][contains(., "Plain herring")]//a`)
	w.press("On the bench")
	w.until(`location.pathname.startsWith('/bench/')`)

	// The good ones go into bags, and the bags to the market.
	w.visit("/packs")
	w.press("A new pack")
	w.click(`[role="dialog"] button[aria-haspopup="listbox"]`)
	w.pressAt(`//li[contains(., "Plain herring")]`)
	w.fill(`[role="dialog"] input[inputmode="numeric"]`, "0")
	w.press("Make it")
	w.says("this is too little; 1 is the least that is taken")
	w.fill(`[role="dialog"] input[inputmode="numeric"]`, "5")
	w.press("Make it")
	w.says("34 at hand")
	w.says("6 more can be made up")
	w.fill(`form input[inputmode="numeric"]`, "7")
	w.press("Make them up")
	w.says("runs here say that 34 are at hand. Meant so?")
	w.fill(`form input[inputmode="numeric"]`, "6")
	w.press("Make them up")
	w.until(`document.querySelector('[data-testid="ready"]').innerText === '6'`)
	w.says("4 at hand")
	w.fill(`input[placeholder="Market, spring"]`, "Harbour market, the last one")
	w.press("Sold")
	w.says("It stands in the logbook")
	w.visit("/log")
	w.says("Harbour market, the last one")
	assert.Contains(t, p.get("/api/v1/batches"), "34 good, 6")
	assert.Contains(t, p.get("/api/v1/equipment"), `"lossRuns":2`)
}
