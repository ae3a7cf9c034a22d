package e2e_test

import (
	"encoding/json"
	"fmt"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// small lists what can be pressed and is smaller than a finger, and says by how much. Words within a sentence are as
// high as its line.
const small = `(() => {
  const out = []
  for (const el of document.querySelectorAll('button, a[href], input:not([type=hidden]), select, [role=slider], [role=option], summary')) {
    const target = el.closest('label') && ['checkbox', 'radio', 'file', 'range'].includes(el.type) ? el.closest('label') : el
    const r = target.getBoundingClientRect()
    if (!r.width || !r.height || el.closest('.sr-only, [aria-hidden=true]')) continue
    if (el.matches('a') && el.parentElement.matches('p, td, span, h1, h2, li')) continue
    if (r.height < 43.5 || r.width < 43.5) out.push((el.getAttribute('aria-label') || el.innerText || el.type || el.tagName).slice(0, 40) + ' ' + Math.round(r.width) + '×' + Math.round(r.height))
  }
  return [...new Set(out)].slice(0, 12).join('; ')
})()`

// wide names what reaches beyond the right edge.
const wide = `[...document.querySelectorAll('main *')].filter((el) => el.getBoundingClientRect().right > innerWidth + 0.5).slice(-3).map((el) => el.tagName + '.' + el.className).join('; ')`

const axe = `(async () => {
  const got = await axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa'], resultTypes: ['violations'] })
  return JSON.stringify(got.violations.map((v) => v.id + ': ' + v.nodes.length + ' × ' + v.nodes.slice(0, 2).map((n) => n.target.join(' ') + ' (' + (n.any[0]?.message ?? n.all[0]?.message ?? n.none[0]?.message ?? '').slice(0, 160) + ')').join(', ')))
})()`

// Every view at the three sizes: nothing scrolls sideways, what is pressed is as large as a finger, and axe finds
// nothing to say.
func TestEveryViewCanBeUsedByAll(t *testing.T) {
	t.Parallel()
	script, err := os.ReadFile("../ui/node_modules/axe-core/axe.min.js")
	require.NoError(t, err)
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/bench")
	w.says("Wet rope")
	first := func(list string) string {
		var got struct{ Items []struct{ UID string } }
		require.NoError(t, json.Unmarshal([]byte(p.get("/api/v1/"+list)), &got))
		return got.Items[0].UID
	}
	p.send(
		"POST", "/api/v1/pours", map[string]any{"recipe": "wet-rope", "mold": "lagoon-shad", "count": 8, "copies": 2},
	)
	running := p.item("pours", "Wet rope")["uid"].(string)
	p.send("POST", "/api/v1/pours/"+running+"/run", map[string]any{"seen": 1})
	views := []struct{ path, says string }{
		{"/", "Running low"},
		{"/bench", "Wet rope"},
		{"/baits", "Harbour herring"},
		{"/baits/" + first("baits"), "In the mold"},
		{"/molds", "Perch fin, eight"},
		{"/molds/lagoon-shad", "Flake and gate"},
		{"/references", "Goby from the old pier"},
		{"/references/" + first("references"), "The light"},
		{"/recipes", "Peat spot"},
		{"/recipes/cold-herring", "Versions"},
		{"/batches", "Too thin in the tail"},
		{"/batches/new?project=" + first("projects") + "&part=Back", "Write down what really went in"},
		{"/projects", "Herring back and belly"},
		{"/projects/" + first("projects"), "To the bench"},
		{"/shelf", "Bladderwrack green"},
		{"/shelf/rime-008", "Rime"},
		{"/shelf/tea-brown", "What your batches say"},
		{"/kit", "spoon"},
		{"/pours", "Harbour herring"},
		{"/log", "Bog lantern after the rain"},
		{"/log/" + first("log"), "How it went"},
		{"/log/new", "A day at the water"},
		{"/packs", "Eyes, glue, bags, labels"},
		{"/packs/" + first("packs"), "In each bag"},
		{"/packs/" + first("packs") + "/label", "Print it"},
		{"/leftovers", "Sprues of Weed that turns"},
		{"/leftovers/" + first("leftovers"), "After more heats"},
		{"/leftovers/" + first("leftovers") + "/label", "Print it"},
		{"/pours/" + p.item("pours", "Harbour herring")["uid"].(string), "The order of the work"},
		{"/pours/" + running + "/run", "Stir the jug"},
		{"/pours/" + p.item("pours", "Weed that turns")["uid"].(string) + "/run", "good baits of"},
		{"/match?reference=" + first("references"), "To the bench"},
		{"/count/" + first("cups"), "What drips"},
		{"/beside?a=recipe:wet-rope&b=recipe:bog-lantern", ""},
		{"/sheet?bait=grub", ""},
		{"/shelf/rowan-red/chips", "chip"},
		{"/nowhere/at/all", "nothing"},
	}
	paths := make([]string, len(views))
	for i, v := range views {
		paths[i] = v.path
	}
	assert.Empty(t, without(t, paths), "views that this test does not open")
	for _, v := range views {
		w.do(chromedp.EmulateViewport(sizes[0][0], sizes[0][1]))
		w.visit(v.path)
		if v.says != "" {
			w.says(v.says)
		}
		w.do(chromedp.Evaluate[chromedp.Void](string(script)))
		for i, size := range sizes {
			w.do(chromedp.EmulateViewport(size[0], size[1]))
			w.steady("document.body")
			at := fmt.Sprintf("%s at %d×%d", v.path, size[0], size[1])
			assert.LessOrEqual(
				t, eval[int64](w, `document.documentElement.scrollWidth`), size[0], "%s scrolls sideways: %s", at,
				eval[string](w, wide),
			)
			assert.Empty(t, eval[string](w, small), "%s: too small for a finger", at)
			if i == 1 {
				continue // axe looks at the widest and the narrowest
			}
			found := promised[string](w, axe)
			var list []string
			require.NoError(t, json.Unmarshal([]byte(found), &list), found)
			assert.Empty(t, strings.Join(list, "\n"), at)
		}
	}
}

// without lists the views that the screens have and none of the paths opens.
func without(t *testing.T, paths []string) []string {
	t.Helper()
	router, err := os.ReadFile("../ui/src/router.ts")
	require.NoError(t, err)
	var out []string
	all := regexp.MustCompile(`path: '([^']*)'`).FindAllStringSubmatch(string(router), -1)
	require.NotEmpty(t, all)
	for _, m := range all {
		p := regexp.MustCompile(`/:\w+\(\.\*\)`).ReplaceAllString(m[1], "/.+")
		p = regexp.MustCompile(`/:\w+\?`).ReplaceAllString(p, "(/[^/?]+)?")
		p = regexp.MustCompile(`:\w+`).ReplaceAllString(p, "[^/?]+")
		view := regexp.MustCompile("^" + p + `(\?|$)`)
		if !slices.ContainsFunc(paths, view.MatchString) {
			out = append(out, m[1])
		}
	}
	return out
}
