// Package e2e drives the real program, with its own database, through its real screens in headless Chromium.
package e2e_test

import (
	"bufio"
	"context"
	"flag"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"cloudburst/testkit"

	"github.com/chromedp/cdproto/cdp"
	cdppage "github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

var binary string

func TestMain(m *testing.M) {
	if _, err := os.Stat("../web/dist/index.html"); err != nil {
		fmt.Fprintln(os.Stderr, "e2e: the screens are not built; run ./test, or npm run build in ui/")
		os.Exit(1)
	}
	dir, err := os.MkdirTemp("", "cb-e2e-")
	if err != nil {
		panic(err)
	}
	binary = filepath.Join(dir, "cloudburst")
	if out, err := exec.Command("go", "build", "-o", binary, "../cmd/cloudburst").CombinedOutput(); err != nil {
		fmt.Fprintf(os.Stderr, "e2e: %s\n", out)
		os.Exit(1)
	}
	code := m.Run()
	if chromium.end != nil {
		chromium.end()
	}
	os.RemoveAll(dir)
	os.Exit(code)
}

// program is a running Cloudburst.
type program struct {
	t    *testing.T
	cmd  *exec.Cmd
	data string
	url  string
	done chan error
	said *log
}

// log is what the program has said so far.
type log struct {
	mu   sync.Mutex
	text strings.Builder
}

func (l *log) Write(b []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.text.Write(b)
}

func (l *log) String() string {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.text.String()
}

// dataFolder is a short folder of the test's own; a socket's path must not be long.
func dataFolder(t *testing.T) string {
	t.Helper()
	dir, err := os.MkdirTemp("", "cb-data-")
	require.NoError(t, err)
	t.Cleanup(func() { os.RemoveAll(dir) })
	return filepath.Join(dir, "d")
}

// The data folders of programs that were started once and ended well: copied, they spare every test the making of a
// database.
var made sync.Map // by command, a func() string that makes it once

// fresh lays a new program's data where there is none yet.
func fresh(t *testing.T, data, command string) {
	t.Helper()
	if _, err := os.Stat(data); err == nil {
		return
	}
	make, _ := made.LoadOrStore(command, sync.OnceValues(func() (string, error) {
		dir := filepath.Join(filepath.Dir(binary), command)
		p := startAt(t, dir, command, freeAddr(t))
		if r, err := http.Get(p.url + "/api/v1/molds"); err == nil { // makes all shapes, which are kept
			r.Body.Close()
		}
		p.end(syscall.SIGTERM)
		return dir, nil
	}))
	from, err := make.(func() (string, error))()
	require.NoError(t, err)
	out, err := exec.Command("cp", "-a", from, data).CombinedOutput()
	require.NoError(t, err, "%s", out)
}

// start runs the program and waits until it says that it is ready.
func start(t *testing.T, data, command string) *program {
	t.Helper()
	fresh(t, data, command)
	return startAt(t, data, command, freeAddr(t))
}

func startAt(t *testing.T, data, command, addr string) *program {
	t.Helper()
	testkit.Outside()
	p := &program{t: t, data: data, done: make(chan error, 1), said: &log{}}
	p.cmd = exec.Command(binary, command)
	p.cmd.Env = append(os.Environ(), "CLOUDBURST_DATA="+data, "CLOUDBURST_ADDR="+addr, "CLOUDBURST_DSN=")
	out, err := p.cmd.StdoutPipe()
	require.NoError(t, err)
	p.cmd.Stderr = p.said
	require.NoError(t, p.cmd.Start())
	ready := make(chan string, 1)
	go func() {
		for s := bufio.NewScanner(out); s.Scan(); {
			if _, url, ok := strings.Cut(s.Text(), "ready: "); ok {
				ready <- url
			}
		}
		p.done <- p.cmd.Wait()
	}()
	t.Cleanup(func() { p.end(syscall.SIGKILL) })
	select {
	case p.url = <-ready:
	case err := <-p.done:
		t.Fatalf("the program ended: %v\n%s", err, p.said.String())
	case <-time.After(time.Minute):
		t.Fatalf("the program did not get ready\n%s", p.said.String())
	}
	return p
}

// end sends a signal and waits for the program to be gone.
func (p *program) end(signal syscall.Signal) {
	if p.cmd.ProcessState != nil {
		return
	}
	_ = p.cmd.Process.Signal(signal)
	select {
	case <-p.done:
	case <-time.After(20 * time.Second):
		p.t.Error("the program did not end")
	}
}

func freeAddr(t *testing.T) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer l.Close()
	return l.Addr().String()
}

func (p *program) get(path string) string {
	p.t.Helper()
	res, err := http.Get(p.url + path)
	require.NoError(p.t, err)
	defer res.Body.Close()
	var b strings.Builder
	_, err = bufio.NewReader(res.Body).WriteTo(&b)
	require.NoError(p.t, err)
	require.Equal(p.t, http.StatusOK, res.StatusCode, b.String())
	return b.String()
}

// chromium is one for all tests: starting it takes longer than many of them. Each program has an address, and so a
// storage, of its own.
var chromium struct {
	once sync.Once
	ctx  context.Context
	end  func()
	err  error
}

// browser gives it.
func browser(t *testing.T) context.Context {
	t.Helper()
	chromium.once.Do(func() {
		opts := []chromedp.ExecAllocatorOption{
			chromedp.ExecPath("/usr/bin/chromium-headless-shell"), chromedp.Headless, chromedp.NoSandbox,
			chromedp.DisableGPU,
			chromedp.NoFirstRun, chromedp.NoDefaultBrowserCheck, chromedp.WindowSize(1280, 800),
		}
		for k, v := range map[string]any{
			"disable-background-networking": true, "disable-component-update": true, "disable-sync": true,
			"disable-default-apps": true, "disable-extensions": true, "disable-client-side-phishing-detection": true,
			"no-pings": true, "metrics-recording-only": true, "disable-dev-shm-usage": true,
			"force-color-profile": "srgb",
			"font-render-hinting": "none", "host-resolver-rules": "MAP * ~NOTFOUND , EXCLUDE 127.0.0.1",
			"disable-features":               "Translate,OptimizationHints,MediaRouter,CertificateTransparencyComponentUpdater",
			"disable-renderer-backgrounding": true, "disable-background-timer-throttling": true,
			"disable-backgrounding-occluded-windows": true,
		} {
			opts = append(opts, chromedp.Flag(k, v))
		}
		allocator, end := chromedp.NewExecAllocator(context.Background(), opts...)
		ctx, closeIt := chromedp.NewContext(allocator)
		chromium.ctx, chromium.end = ctx, func() { closeIt(); end() }
		chromium.err = chromedp.Do(ctx) // starts it; this call must not have a timeout
	})
	require.NoError(t, chromium.err)
	return chromium.ctx
}

// page is one window on the program.
type page struct {
	t    *testing.T
	ctx  context.Context
	base string
}

// open opens a window of 1280 × 800. Anything that goes wrong in the page's own scripts fails the test.
func (p *program) open(ctx context.Context, path string) *page {
	p.t.Helper()
	tab, close := chromedp.NewContext(ctx)
	p.t.Cleanup(close)
	w := &page{p.t, tab, p.url}
	require.NoError(p.t, chromedp.Do(tab))
	messages := chromedp.Console(tab)
	go func() {
		for m, err := range messages {
			if err != nil {
				return
			}
			text := fmt.Sprint(m)
			// A refused entry (4xx) and a program that was ended on purpose are logged by the browser itself.
			if strings.Contains(text, "Failed to load resource") || strings.Contains(text, "net::ERR_") {
				continue
			}
			if strings.Contains(strings.ToLower(text), "error") || strings.Contains(text, "[Vue warn]") {
				p.t.Errorf("the page says: %s", text)
			}
		}
	}()
	w.do(chromedp.EmulateViewport(1280, 800))
	w.before(fmt.Sprintf(countAsks, slow.Milliseconds()))
	w.visit(path)
	return w
}

// before runs a script before those of every page that is opened from now on.
func (w *page) before(script string) {
	w.t.Helper()
	w.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		_, err := cdp.Call(
			ctx, t, cdppage.AddScriptToEvaluateOnNewDocument,
			cdppage.AddScriptToEvaluateOnNewDocumentParams{Source: script},
		)
		return err
	}))
}

// slow holds every answer back, to find tests and screens that only work with fast ones.
var slow = flag.Duration("slow", 0, "hold every answer of the program back by this long")

// countAsks counts what the page has asked of the program and not yet been answered.
const countAsks = `(() => {
	const fetch = window.fetch
	window.asking = 0
	window.fetch = async (...args) => {
		window.asking++
		try {
			const answer = await fetch(...args)
			await new Promise((done) => setTimeout(done, %d))
			return answer
		} finally {
			setTimeout(() => window.asking--) // after the page has read it
		}
	}
})()`

// steady waits until the page is answered and a thing, found by JavaScript, keeps its place: an answer that comes
// between the look where it is and the click would move it away, and something else would be clicked. Work that goes on
// is not waited for longer than two seconds.
func (w *page) steady(find string) {
	w.t.Helper()
	ctx, cancel := context.WithTimeout(w.ctx, 30*time.Second)
	defer cancel()
	// An error here is a page that is being left; the click will tell if there is nothing to click.
	_ = chromedp.Do(ctx, chromedp.Evaluate[chromedp.Void](`(async () => {
		const end = performance.now() + 2000
		for (let was, now; performance.now() < end; was = now) {
			const box = `+find+`?.getBoundingClientRect()
			now = box && !window.asking ? [box.x, box.y, box.width, box.height].join() : undefined
			if (now && now === was) return
			await new Promise(requestAnimationFrame)
		}
	})()`, chromedp.EvalAwaitPromise))
}

func (w *page) do(actions ...chromedp.Action[chromedp.Void]) {
	w.t.Helper()
	ctx, cancel := context.WithTimeout(w.ctx, 30*time.Second)
	defer cancel()
	if err := chromedp.Do(ctx, actions...); err != nil {
		w.fail(err.Error())
	}
}

// fail ends the test and leaves a picture of what was on the screen.
func (w *page) fail(why string) {
	w.t.Helper()
	shot, _ := chromedp.Run(w.ctx, chromedp.CaptureScreenshot())
	file := filepath.Join(os.TempDir(), "e2e-"+regexp.MustCompile(`\W+`).ReplaceAllString(w.t.Name(), "-")+".png")
	_ = os.WriteFile(file, shot, 0o600)
	w.t.Fatalf("%s (see %s)", why, file)
}

func (w *page) visit(path string) { w.t.Helper(); w.do(chromedp.Navigate(w.base + path)) }
func (w *page) reload()           { w.t.Helper(); w.do(chromedp.Reload()) }

func (w *page) click(css string) {
	w.t.Helper()
	w.do(chromedp.WaitEnabled(chromedp.CSS(css)))
	w.steady(fmt.Sprintf("document.querySelector(%q)", css))
	w.do(chromedp.Click(chromedp.CSS(css)))
}

// press clicks the button or link that says exactly this, or is called so.
func (w *page) press(words string) {
	w.t.Helper()
	w.pressAt(fmt.Sprintf(
		`//*[self::button or self::a or self::li or @role="option"][normalize-space()=%[1]q or @aria-label=%[1]q]`,
		words,
	))
}

// choose clicks what an open list offers.
func (w *page) choose(words string) {
	w.t.Helper()
	w.pressAt(fmt.Sprintf(`//*[@role="option"][normalize-space()=%q]`, words))
}

func (w *page) pressAt(xpath string) {
	w.t.Helper()
	sel := chromedp.Search(xpath)
	w.do(chromedp.WaitVisible(sel), chromedp.WaitEnabled(sel))
	w.steady(fmt.Sprintf(
		"document.evaluate(%q, document, null, XPathResult.FIRST_ORDERED_NODE_TYPE).singleNodeValue", xpath,
	))
	w.do(chromedp.Click(sel))
}

// enter types into a field, in place of what is there, and ends with Enter.
func (w *page) enter(css, text string) {
	w.t.Helper()
	w.into(css)
	w.do(chromedp.Evaluate[chromedp.Void](fmt.Sprintf(`document.querySelector(%q).select()`, css)),
		chromedp.KeyEvent(text), chromedp.KeyEvent("\r"))
}

// into clicks into a field; again where a list came into view meanwhile and something else lay there.
func (w *page) into(css string) {
	w.t.Helper()
	for range 3 {
		w.click(css)
		if eval[bool](w, fmt.Sprintf(`document.activeElement === document.querySelector(%q)`, css)) {
			return
		}
		w.do(chromedp.KeyEvent(kb.Escape))
	}
}

// fill types into a field, in place of what is there, and leaves it.
func (w *page) fill(css, text string) {
	w.t.Helper()
	w.into(css)
	w.do(chromedp.Evaluate[chromedp.Void](fmt.Sprintf(`document.querySelector(%q).select()`, css)),
		chromedp.KeyEvent(text), chromedp.Blur(chromedp.CSS(css)))
}

func (w *page) upload(css, file string) {
	w.t.Helper()
	abs, err := filepath.Abs(file)
	require.NoError(w.t, err)
	w.do(chromedp.WaitReady(chromedp.CSS(css)), chromedp.SetUploadFiles(chromedp.CSS(css), []string{abs}))
}

// eval evaluates JavaScript.
func eval[T any](w *page, js string) T {
	w.t.Helper()
	ctx, cancel := context.WithTimeout(w.ctx, 30*time.Second)
	defer cancel()
	v, err := chromedp.Run(ctx, chromedp.Evaluate[T](js))
	require.NoError(w.t, err, js)
	return v
}

// promised evaluates JavaScript that promises something.
func promised[T any](w *page, js string) T {
	w.t.Helper()
	ctx, cancel := context.WithTimeout(w.ctx, 30*time.Second)
	defer cancel()
	v, err := chromedp.Run(ctx, chromedp.Evaluate[T](js, chromedp.EvalAwaitPromise))
	require.NoError(w.t, err, js)
	return v
}

// until waits for a JavaScript expression to come true.
func (w *page) until(js string) {
	w.t.Helper()
	deadline := time.Now().Add(30 * time.Second)
	for !eval[bool](w, "!!("+js+")") {
		if time.Now().After(deadline) {
			w.fail("never came true: " + js)
		}
		time.Sleep(20 * time.Millisecond)
	}
}

// says waits for a text to be on the page, whatever its capitals.
func (w *page) says(words string) {
	w.t.Helper()
	w.until(fmt.Sprintf(
		"document.body.innerText.replace(/\\s+/g, ' ').toLowerCase().includes(%q)", strings.ToLower(words),
	))
}

// saved waits until the bench says "As saved"; "Changed since it was saved" does not do.
func (w *page) saved() { w.t.Helper(); w.until(`/\bas saved/i.test(document.body.innerText)`) }

// holds waits for a field to hold a value.
func (w *page) holds(css, value string) {
	w.t.Helper()
	w.until(fmt.Sprintf("document.querySelector(%q)?.value === %q", css, value))
}

// tapTimes taps a bottle 25 times and gives the ms from each tap to the new picture on the screen, shortest first; and
// how many times as long the usual one is as a small answer with two frames, asked for in turn with the taps, since
// only that can be told of a machine that others use, too.
func (w *page) tapTimes() (ms []float64, ratio float64) {
	w.t.Helper()
	var plain []float64
	for range 25 {
		plain = append(plain, promised[float64](w, `(async () => {
			const t0 = performance.now()
			await (await fetch('/api/v1/shop')).json()
			for (let frames = 2; frames; frames--) await new Promise(requestAnimationFrame)
			return performance.now() - t0
		})()`))
		ms = append(ms, promised[float64](w, `(async () => {
			const strip = document.querySelector('[data-strip="white"]')
			const image = () => strip.style.backgroundImage
			const was = image(), t0 = performance.now()
			document.querySelector('[data-bottle="drizzle-grey"]').click()
			while (image() === was) await new Promise(requestAnimationFrame)
			await new Promise(requestAnimationFrame)
			return performance.now() - t0
		})()`))
	}
	slices.Sort(ms)
	slices.Sort(plain)
	return ms, ms[12] / plain[12]
}

// shot takes a picture of the window.
func (w *page) shot(file string) {
	w.t.Helper()
	w.until("document.fonts.status === 'loaded' && [...document.images].every((i) => i.complete)")
	time.Sleep(150 * time.Millisecond)
	png, err := chromedp.Run(w.ctx, chromedp.CaptureScreenshot())
	require.NoError(w.t, err)
	require.NoError(w.t, os.WriteFile(file, png, 0o644))
}
