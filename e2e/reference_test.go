package e2e_test

import (
	"fmt"
	"image/jpeg"
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/photo"
	"cloudburst/stand/camera"
)

// aShot writes a photo of a bait whose colours are known, with white, grey and a card beside it, taken under a lamp.
func aShot(t *testing.T) (file string, spots []camera.Spot) {
	t.Helper()
	shelf := cup.Shelf{}
	mix := func(drops map[string]float64) *mix.Mix {
		c := cup.Cup{Volume: measure.Volume{Typed: "1 cup", ML: measure.CupML}, Plastisol: "medium-plastisol"}
		for _, key := range []string{"medium-plastisol", "clear-brown", "clear-green", "titanium-white"} {
			f, ok := material.FindFamily(key)
			require.True(t, ok)
			shelf[key] = f.New(key, f.Name)
			if drops[key] > 0 {
				c.Doses = append(c.Doses, cup.DripOf(key, drops[key]))
			}
		}
		m, err := mix.Stir(&c, shelf)
		require.NoError(t, err)
		return m
	}
	img, spots := camera.Studio{
		Back: mix(map[string]float64{"clear-brown": 4, "clear-green": 1}), Belly: mix(map[string]float64{
			"titanium-white": 3, "clear-brown": 1,
		}),
		Light: colour.D50, Paper: 0.88, White: true, Grey: true, Card: true, Balance: camera.DaylightBalance, EV: -0.3,
		Tone: 0.08, Veil: 0.004, Vignette: 0.12, Noise: 1, Seed: 4,
	}.Shoot()
	file = filepath.Join(t.TempDir(), "shot.jpg")
	out, err := os.Create(file)
	require.NoError(t, err)
	require.NoError(t, jpeg.Encode(out, img, &jpeg.Options{Quality: 92}))
	require.NoError(t, out.Close())
	return file, spots
}

// A photo comes in, its light is undone by white and grey, then by a card; pins say how far off they may be.
func TestThePhotosLight(t *testing.T) {
	t.Parallel()
	file, spots := aShot(t)
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/references")
	w.says("Goby from the old pier")
	w.upload(`input[aria-label^="Drop a photo"]`, file)
	w.says("The light is not undone")
	w.until(`document.querySelector('[data-testid="photo"] img')?.complete && document.querySelector('[data-testid="photo"] img').naturalWidth > 0`)
	point := func(d photo.Disc) {
		t.Helper()
		w.do(chromedp.Evaluate[chromedp.Void](fmt.Sprintf(`(() => {
			const el = document.querySelector('[data-testid="photo"]'), r = el.getBoundingClientRect()
			el.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true, buttons: 1, clientX: r.left + r.width * %f, clientY: r.top + r.height * %f }))
		})()`, d.X/camera.Width, d.Y/camera.Height)))
	}
	read := func(d photo.Disc) colour.Lab {
		t.Helper()
		was := eval[string](w, `document.querySelector('[data-testid="sample"]')?.dataset.hex ?? ''`)
		point(d)
		w.until(`document.querySelector('[data-testid="sample"]') && document.querySelector('[data-testid="sample"]').dataset.hex !== '` + was + `'`)
		lab, err := colour.ParseHex(eval[string](w, `document.querySelector('[data-testid="sample"]').dataset.hex`))
		require.NoError(t, err)
		return lab
	}
	raw := colour.DeltaE00(spots[1].Lab, read(spots[1].Disc))

	w.press("White and grey")
	w.says("Point at the white thing")
	w.press("overcast daylight")
	w.choose("sun")
	white, grey := camera.WhiteThing(), camera.GreyThing()
	point(white.Disc)
	w.says("Point at the grey thing")
	point(grey.Disc)
	w.says("Undone by white and grey")
	w.says("evened out over the paper")
	w.until(`document.querySelector('[data-testid="after"]')?.naturalWidth > 0`)
	w.says("Expected to be off by")
	shown, err := colour.ParseHex(eval[string](w, `document.querySelector('[data-testid="sample"]').dataset.hex`))
	require.NoError(t, err)
	lit := colour.DeltaE00(spots[1].Lab, shown) // the pin that lay there was read anew
	t.Logf("the belly: off by %.1f as the camera wrote it, %.1f with its light undone", raw, lit)
	assert.Less(t, lit, 3.0)
	assert.Less(t, lit, raw)

	w.press("A card")
	for _, c := range camera.CardCorners() {
		w.says("Point at the card")
		point(photo.Disc{X: c[0], Y: c[1]})
	}
	w.says("Undone by a card")
	for _, spot := range spots[:3] {
		read(spot.Disc)
		w.fill(`[data-testid="pin-name"]`, spot.Name)
		w.press("Keep this pin")
		w.until(`document.querySelector('[data-pin="` + spot.Name + `"]')`)
	}
	w.says("give or take ΔE00")
	// A vein painted with a small brush, beside the magnifier; how thick it is there, off a mold.
	point(photo.Disc{X: 480, Y: 340})
	w.until(`document.querySelector('[data-testid="magnifier"]')`)
	w.press("Paint an area")
	for x := 500.0; x < 640; x += 20 {
		point(photo.Disc{X: x, Y: 340})
	}
	w.until(`document.querySelectorAll('[data-testid="painted"] circle').length >= 6`)
	w.press("Read the thickness off a mold")
	w.press("Which mold?")
	w.choose("Paddle-tail minnow")
	w.says("Point at the bait’s nose")
	point(photo.Disc{X: 130, Y: 375})
	w.says("far end of its tail")
	point(photo.Disc{X: 1066, Y: 375})
	w.until(`Number(document.querySelector('[data-testid="pin-mm"]').value) > 9`)
	w.fill(`[data-testid="pin-name"]`, "Vein")
	w.press("Keep this pin")
	w.until(`document.querySelector('[data-pin="Vein"]')`)
	w.press("Tinted, or clear?")
	w.says("nearly as thick as each other") // back and belly are no two looks of one part
	w.says("half as thick")
	// Five baits of a bag, one of them odd: four backs, and what is a belly.
	for n, d := range []photo.Disc{
		{X: 590, Y: 338}, {X: 600, Y: 336}, {X: 610, Y: 334}, {X: 605, Y: 340}, {X: 430, Y: 432},
	} {
		point(d)
		w.until(`document.querySelector('[data-testid="sample"]')`)
		w.fill(`[data-testid="pin-name"]`, "Back")
		w.fill(`[data-testid="pin-sample"]`, fmt.Sprint(n+1))
		w.press("Keep this pin")
		w.until(fmt.Sprintf(`document.querySelector('[data-sample="%d"]')`, n+1))
	}
	w.says("Bait 5 is not typical of this bag")
	w.press("Set bait 5 aside")
	w.says("The baits of this bag keep together")
	w.says("Bait 5 is set aside")
	w.press("Mine on purpose") // the first pin: it differs because we want it to
	w.says(", mine on purpose")
	w.press("Score it again")
	w.reload()
	w.says("Undone by a card")
	w.press("As it was")
	w.says("its light not undone")
}

// A reference that nobody photographed: an instrument's Lab, words, a file of spectra; made the target of the cup; and
// a point of that cup's wedge kept as another.
func TestAReferenceWithoutAPhoto(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/references")
	w.fill(`[data-testid="told-name"]`, "The ruffe of my childhood")
	w.press("Begin")
	w.says("Nothing is known of it yet")
	w.fill(`[data-testid="told-part"]`, "Back")
	w.fill(`[data-testid="told-lab"]`, "42,5 -7")
	w.press("Keep this part")
	w.says("Type three numbers")
	w.fill(`[data-testid="told-lab"]`, "42,5 -7 36,5")
	w.press("Keep this part")
	w.until(`document.querySelector('[data-pin="Back"]')?.innerText.includes('L 42.5  a -7.0  b 36.5')`)
	w.press("Its Lab, measured")
	w.choose("In words")
	w.fill(`[data-testid="told-part"]`, "Belly")
	w.fill(`[data-testid="told-words"]`, "pale mottled straw")
	w.press("Keep this part")
	w.says("“mottled” is no colour word")
	w.holds(`[data-testid="told-words"]`, "pale mottled straw")
	w.fill(`[data-testid="told-words"]`, "pale greenish straw")
	w.press("Keep this part")
	w.until(`document.querySelector('[data-pin="Belly"]')?.innerText.includes('from words')`)
	w.press("In words")
	w.choose("An instrument’s file")
	file, err := filepath.Abs("../core/photo/testdata/shots/card24_spectral.cgats.txt")
	require.NoError(t, err)
	w.upload(`input[aria-label="Instrument’s file"]`, file)
	w.says("card24_spectral.cgats.txt")
	w.press("Keep this part")
	w.until(`document.querySelectorAll('[data-pin]').length === 26`)
	w.click(`[data-pin="Back"] button`)
	w.until(`location.pathname.startsWith('/bench/')`)
	w.says("The ruffe of my childhood: Back")
	w.press("Keep this point of the wedge as a reference")
	w.until(`location.pathname.startsWith('/references/')`)
	w.says("as a cup is predicted")
	w.visit("/references")
	w.says("Back, Belly")
}

// A close-up of flake: its scale from a ruler in it, then the pieces of a region, drawn over the photo.
func TestACountOfFlake(t *testing.T) {
	t.Parallel()
	p := start(t, dataFolder(t), "demo")
	w := p.open(browser(t), "/references")
	w.says("Goby from the old pier")
	w.upload(`input[aria-label^="Drop a photo"]`, "../core/photo/testdata/shots/p09.jpg")
	w.says("Nobody said yet how long a millimetre is")
	w.until(`document.querySelector('[data-testid="photo"] img')?.naturalWidth > 0`)
	point := func(x, y float64) {
		t.Helper()
		w.do(chromedp.Evaluate[chromedp.Void](fmt.Sprintf(`(() => {
			const el = document.querySelector('[data-testid="photo"]'), r = el.getBoundingClientRect()
			el.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true, buttons: 1, clientX: r.left + r.width * %f, clientY: r.top + r.height * %f }))
		})()`, x/1200, y/900)))
	}
	w.press("Set the scale")
	w.fill(`[data-testid="scale-length"]`, "21 parsecs")
	w.says("Point at one end")
	point(96, 797)
	w.says("Point at its other end")
	point(621, 797)
	w.says("no length that is known here")
	w.press("Set the scale")
	w.press("Set the scale")
	w.fill(`[data-testid="scale-length"]`, "21 mm")
	point(96, 797)
	w.says("Point at its other end")
	point(621, 797)
	w.says("25.0 px here")
	w.press("Count the flake")
	w.says("Point at one corner")
	point(96, 180)
	w.says("Point at the corner across")
	point(1104, 576)
	w.until(`document.querySelectorAll('[data-flake-class]').length === 2`)
	w.until(`/\.03[456] in/.test(document.body.innerText)`) // .035 and .015 were laid
	w.until(`/\.01[456] in/.test(document.body.innerText)`)
	w.until(`document.querySelectorAll('[data-testid="pieces"] g').length > 700`)
	if *shots != "" {
		w.do(chromedp.Evaluate[chromedp.Void](`document.querySelector('[data-testid="flake"]').scrollIntoView({ block: 'center' })`))
		w.shot(filepath.Join(*shots, "reference-flake.png"))
	}
	w.reload()
	w.says("25.0 px here")
	w.until(`document.querySelectorAll('[data-testid="pieces"] g').length > 700`) // the count is kept
	// A mark taken away by hand, and put back.
	w.press("Correct it by hand")
	w.says("Point at a mark that is no piece")
	marks := func() int { return eval[int](w, `document.querySelectorAll('[data-testid="pieces"] g').length`) }
	all := marks()
	// The one that lies furthest from all others: after it is taken away, nothing else lies there.
	lonely := eval[[]float64](w, `(() => {
		const all = [...document.querySelectorAll('[data-testid="pieces"] circle[stroke="#fff"]')].map((c) => [Number(c.getAttribute('cx')), Number(c.getAttribute('cy'))])
		const alone = ([x, y]) => Math.min(...all.filter(([u, v]) => u !== x || v !== y).map(([u, v]) => Math.hypot(u - x, v - y)))
		return all.reduce((best, p) => (alone(p) > alone(best) ? p : best))
	})()`)
	x, y := lonely[0], lonely[1]
	point(x, y)
	w.until(fmt.Sprintf(`document.querySelectorAll('[data-testid="pieces"] g').length === %d`, all-1))
	point(x, y)
	w.until(fmt.Sprintf(`document.querySelectorAll('[data-testid="pieces"] g').length === %d`, all))
	// How many spoons that is, in a base of one's own.
	w.until(`document.querySelectorAll('[data-spoons]').length === 2`)
	w.says("tsp a cup, with the spoons here")
	w.press("clear plastisol")
	w.choose("Gull belly")
	w.until(`document.querySelector('[data-spoons]')`)
}
