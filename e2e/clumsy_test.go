package e2e_test

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"math/rand/v2"
	"net/http"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var (
	clumsyFor  = flag.Duration("clumsy-for", 15*time.Second, "how long the clumsy hand is at it")
	clumsySeed = flag.Uint64("clumsy-seed", 0, "seed of the clumsy hand; 0 for one of the day")
)

// sizes are the screens that are used: at the desk, and at the bench.
var sizes = [][2]int64{{1280, 800}, {768, 1024}, {390, 844}}

// A hand that taps anything, types anything, goes back, reloads, presses Escape and looks up addresses that never were,
// on every screen. Nothing of it is a mistake of ours, in the program or in the page, no screen gives up, and every
// cup, bait and recipe opens afterwards.
func TestAClumsyHand(t *testing.T) {
	t.Parallel()
	seed := *clumsySeed
	if seed == 0 {
		seed = uint64(time.Now().Unix() / 86_400)
	}
	p := start(t, dataFolder(t), "demo")
	chrome := browser(t)
	done := 0
	for until := time.Now().Add(*clumsyFor); time.Now().Before(until) && !t.Failed(); seed++ {
		t.Logf("seed %d: go test ./e2e -run Clumsy -args -clumsy-for 2m -clumsy-seed %d", seed, seed)
		h := &hand{page: p.open(chrome, "/bench"), rng: rand.New(rand.NewPCG(seed, 3))}
		for stop := time.Now().Add(time.Minute); time.Now().Before(stop) && time.Now().Before(until) &&
			!t.Failed(); done++ {
			h.act()
			if done%20 == 19 {
				h.look()
				p.wellSoFar(h.did)
			}
		}
		h.look()
	}
	t.Logf("%d acts", done)
	p.wellSoFar(nil)
	p.everythingOpens()
	require.Greater(t, done, 10)
}

type hand struct {
	*page
	rng *rand.Rand
	did []string // the last acts, to tell what led to a mistake
}

func (h *hand) pick(list []string) string { return list[h.rng.IntN(len(list))] }

var (
	clumsyTexts = []string{
		"12", "0", "-1", "1e999", "nAn", "1/8 tsp", "1/0", "2 ml", "10 ml", "1 cup", "5 gal", "350F", "half", "all",
		"100 %",
		"0 %", "a lot", "", " ", "größe", "\u200b", "\u202egnol",
		"some, 2-5 drops", strings.Repeat("long ", 60), "<b>x</b>", "'; --", "🐟", ".015", "50 mm", "nose", "1e308",
		"99999999999", "2026-02-31", "½ cup",
	}
	clumsyPlaces = []string{
		"/bench", "/shelf", "/baits", "/molds", "/recipes", "/references", "/match", "/batches", "/kit", "/sheet",
		"/sheet?bait=paddle-minnow", "/count/nothing", "/bench/nothing",
		"/recipes/wet-rope", "/recipes/nothing", "/baits/gr%C3%B6%C3%9Fe", "/batches/new/wet-rope",
		"/beside?one=wet-rope&other=bog-lantern", "/beside", "/shelf/peat-black", "/shelf/nothing",
		"/bench?t=NaN", "/bench?t=1e9&ground=pink", "/baits?roll=NaN", "/references/nothing", "/nowhere/at/all",
		"/match?reference=nothing", "/molds/nothing",
		"/projects", "/projects/nothing", "/projects?reference=nothing", "/shelf/rowan-red/chips",
		"/shelf/skerry-medium/chips", "/shelf/fine-salt/chips", "/batches/new", "/pours", "/pours/nothing",
		"/leftovers",
		"/leftovers/nothing", "/packs", "/packs/nothing", "/log", "/log/new", "/log/nothing", "/pours/nothing/run",
		"/pours?bait=nothing", "/pours?recipe=wet-rope", "/batches/new?project=nothing&part=Nose",
	}
)

// find gives a thing that can be tapped, brought into view: its middle and what it is.
const find = `(() => {
	const all = [...document.querySelectorAll('button, a[href], input, textarea, select, [role=option], [role=tab], [role=slider], [role=switch], summary, canvas, img, svg, label, [data-strip]')]
		.filter((e) => !e.disabled && e.getClientRects().length && !e.download && !e.getAttribute('href')?.startsWith('/api/') && e.type !== 'file' && e.type !== 'color')
	const open = document.querySelector('[role=dialog], [role=listbox]')
	const near = open && %f < 0.8 ? all.filter((e) => open.contains(e)) : all
	const list = near.length ? near : all
	if (!list.length) return ''
	const e = list[Math.floor(%f * list.length)]
	e.scrollIntoView({ block: 'nearest', inline: 'nearest' })
	const r = e.getBoundingClientRect()
	return JSON.stringify({ x: r.x + r.width * %f, y: r.y + r.height * %f, is: e.tagName + ' ' + (e.getAttribute('aria-label') || e.innerText || e.placeholder || '').slice(0, 40), text: /^(INPUT|TEXTAREA)$/.test(e.tagName) && !/^(checkbox|radio|range)$/.test(e.type) })
})()`

func (h *hand) act() {
	note := func(format string, args ...any) {
		h.did = append(h.did, fmt.Sprintf(format, args...))
		h.did = h.did[max(0, len(h.did)-25):]
	}
	switch n := h.rng.IntN(100); {
	case n < 72:
		raw := eval[string](
			h.page, fmt.Sprintf(
				find, h.rng.Float64(), h.rng.Float64(), 0.1+0.8*h.rng.Float64(), 0.1+0.8*h.rng.Float64(),
			),
		)
		var at struct {
			X, Y float64
			Is   string
			Text bool
		}
		if raw == "" || json.Unmarshal([]byte(raw), &at) != nil {
			return
		}
		note("tap %s", at.Is)
		taps := 1
		if h.rng.IntN(6) == 0 {
			taps = 2 + h.rng.IntN(3)
		}
		for range taps {
			h.do(chromedp.MouseClickXY(at.X, at.Y))
		}
		if at.Text || h.rng.IntN(12) == 0 {
			text := h.pick(clumsyTexts)
			note("type %.30q", text)
			h.do(chromedp.Evaluate[chromedp.Void](`document.activeElement?.select?.()`), chromedp.KeyEvent(text))
			if h.rng.IntN(3) > 0 {
				note("Enter")
				h.do(chromedp.KeyEvent("\r"))
			}
		}
	case n < 78:
		key := h.pick([]string{"\x1b", " ", "\t", "\r", "\b"})
		note("key %q", key)
		h.do(chromedp.KeyEvent(key))
	case n < 82:
		note("Ctrl+Z")
		h.do(chromedp.Evaluate[chromedp.Void](`document.activeElement?.dispatchEvent(new KeyboardEvent('keydown', { key: 'z', ctrlKey: true, bubbles: true }))`))
	case n < 86:
		note("back")
		// A moment later, so that the answer comes before the page is left.
		h.do(chromedp.Evaluate[chromedp.Void](`history.length > 2 && void setTimeout(() => history.back())`))
		time.Sleep(50 * time.Millisecond)
	case n < 88:
		note("reload")
		h.reload()
	case n < 95:
		place := h.pick(clumsyPlaces)
		note("go to %s", place)
		h.visit(place)
	case n < 97:
		size := sizes[h.rng.IntN(len(sizes))]
		note("screen %d", size[0])
		h.do(chromedp.EmulateViewport(size[0], size[1]))
	case n < 98:
		if eval[bool](h.page, `!!document.querySelector('input[type=file]')`) {
			note("a photo")
			photo, err := filepath.Abs("testdata/bait.jpg")
			require.NoError(h.t, err)
			ctx, cancel := context.WithTimeout(h.ctx, time.Second)
			// the page may be left meanwhile
			_ = chromedp.Do(ctx, chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{photo}))
			cancel()
		}
	default:
		time.Sleep(300 * time.Millisecond)
	}
}

// look sees whether the screen has given up.
func (h *hand) look() {
	h.t.Helper()
	// A moment's grace: what is on the screen may be of a page that is being left.
	bad := `/does not answer|Something went wrong|can.t be worked out|undefined|NaN|\[object/.test(document.body?.innerText ?? '')`
	for tries := 0; eval[bool](h.page, bad); tries++ {
		if tries > 40 {
			h.t.Errorf(
				"the screen says: …%s…\nafter %s",
				eval[string](
					h.page,
					`/.{0,80}(does not answer|Something went wrong|can.t be worked out|undefined|NaN|\[object).{0,80}/.exec(document.body.innerText)[0]`,
				),
				strings.Join(h.did, "; "),
			)
			h.fail("the screen has given up")
		}
		time.Sleep(50 * time.Millisecond)
	}
}

var mistakes = regexp.MustCompile(`(?m)^.*(HTTP 5\d\d|level=ERROR|panic).*$`)

// wellSoFar looks through what the program has logged.
func (p *program) wellSoFar(did []string) {
	p.t.Helper()
	if bad := mistakes.FindAllString(p.said.String(), 5); len(bad) > 0 {
		p.t.Fatalf("the program logs:\n%s\nafter %s", strings.Join(bad, "\n"), strings.Join(did, "; "))
	}
}

// everythingOpens opens every cup, bait, recipe and reference there is.
func (p *program) everythingOpens() {
	p.t.Helper()
	for list, one := range map[string]string{
		"/cups": "/cups/", "/baits": "/baits/", "/recipes": "/recipes/", "/references": "/references/",
		"/molds": "/molds/",
	} {
		n := 0
		for after := ""; ; {
			address := "/api/v1" + list + "?most=60&after=" + after
			var page struct {
				Items []struct{ UID string }
				Next  string
			}
			raw := []byte(p.get(address))
			if raw[0] == '[' {
				require.NoError(p.t, json.Unmarshal(raw, &page.Items))
			} else {
				require.NoError(p.t, json.Unmarshal(raw, &page))
			}
			for _, it := range page.Items {
				r, err := http.NewRequestWithContext(
					context.Background(), http.MethodGet, p.url+"/api/v1"+one+it.UID, nil,
				)
				require.NoError(p.t, err)
				res, err := http.DefaultClient.Do(r)
				require.NoError(p.t, err)
				res.Body.Close()
				assert.Equal(p.t, http.StatusOK, res.StatusCode, one+it.UID)
				n++
			}
			if after = page.Next; after == "" {
				break
			}
		}
		p.t.Logf("%d of %s open", n, list)
	}
}
