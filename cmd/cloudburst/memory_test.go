package main

import (
	"bytes"
	crand "crypto/rand"
	"encoding/json"
	"flag"
	"fmt"
	"image"
	"image/png"
	"io"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var turns = flag.Int("turns", 60, "how often the memory test turns a bait")

// memoryMB is what a program holds, or held at most, in MB.
func memoryMB(t *testing.T, pid int, key string) int {
	t.Helper()
	raw, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	require.NoError(t, err)
	for line := range strings.Lines(string(raw)) {
		if of, ok := strings.CutPrefix(line, key+":"); ok {
			kb, err := strconv.Atoi(strings.Fields(of)[0])
			require.NoError(t, err)
			return kb >> 10
		}
	}
	t.Fatalf("no %s", key)
	return 0
}

// blank is a PNG of so many pixels in a few hundred kB at most.
func blank(t *testing.T, w, h int) []byte {
	t.Helper()
	var b bytes.Buffer
	require.NoError(
		t, (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, image.NewGray(image.Rect(0, 0, w, h))),
	)
	return b.Bytes()
}

// What anybody can send takes no more memory than there is: photos that claim 60 megapixels, and those that have 40, at
// once; uploads that never end; a body of nothing but fields that nobody knows; a bait that is turned over and over.
func TestMemoryStaysBounded(t *testing.T) {
	t.Parallel()
	k := &killed{t: t, dir: filepath.Join(t.TempDir(), "d")}
	t.Cleanup(k.kill)
	k.start()
	pid := k.cmd.Process.Pid
	const most = 700
	under := func(what string) {
		t.Helper()
		mb := memoryMB(t, pid, "VmHWM")
		t.Logf("%s: %d MB at most so far", what, mb)
		assert.Less(t, mb, most, what)
	}
	send := func(path, kind string, body []byte) int {
		r, err := http.NewRequestWithContext(
			t.Context(), http.MethodPost, k.url()+"/api/v1"+path, bytes.NewReader(body),
		)
		require.NoError(t, err)
		r.Header.Set("Content-Type", kind)
		r.Header.Set("Idempotency-Key", crand.Text())
		w, err := http.DefaultClient.Do(r)
		if err != nil {
			return 0 // the answer came before all was sent
		}
		defer w.Body.Close()
		_, _ = io.Copy(io.Discard, w.Body)
		return w.StatusCode
	}
	atOnce := func(n int, do func()) {
		var all sync.WaitGroup
		for range n {
			all.Go(do)
		}
		all.Wait()
	}

	claimed := blank(t, 7750, 7750)
	atOnce(10, func() { assert.Equal(t, 422, send("/photos", "application/octet-stream", claimed)) })
	under(fmt.Sprintf("ten photos that claim 60 megapixels, %d kB each", len(claimed)>>10))
	whole := blank(t, 6320, 6320)
	atOnce(3, func() { assert.Equal(t, 200, send("/photos", "application/octet-stream", whole)) })
	under("three of 40 megapixels")

	var fields strings.Builder
	fields.WriteString("{")
	for i := range 78_000 {
		fmt.Fprintf(&fields, `"f%d":1,`, i)
	}
	fields.WriteString(`"x":1}`)
	atOnce(10, func() {
		assert.Contains(t, []int{0, 413}, send("/references/x/readings", "application/json", []byte(fields.String())))
	})
	under(fmt.Sprintf("ten bodies of 78,000 unknown fields, %d kB each", fields.Len()>>10))

	var half []net.Conn
	for range 60 {
		c, err := net.Dial("tcp", strings.TrimPrefix(k.url(), "http://"))
		require.NoError(t, err)
		_, err = fmt.Fprintf(
			c,
			"POST /api/v1/photos HTTP/1.1\r\nHost: 127.0.0.1\r\nIdempotency-Key: half-sent-1\r\nContent-Type: application/octet-stream\r\nContent-Length: 20000000\r\n\r\n",
		)
		require.NoError(t, err)
		_, _ = c.Write(make([]byte, 4<<20))
		half = append(half, c)
	}
	under("sixty half-sent photos")
	for _, c := range half {
		c.Close()
	}

	bait := ""
	for _, b := range k.all("/baits") {
		bait = uidOf(b)
	}
	turn := func(from, to int) {
		for i := from; i < to; i++ {
			w, err := http.Get(fmt.Sprintf(
				"%s/api/v1/baits/%s?quick=true&roll=%g", k.url(), bait, float64(i%3600)/10-180,
			))
			require.NoError(t, err)
			var page struct{ Main struct{ PNG string } }
			require.NoError(t, json.NewDecoder(w.Body).Decode(&page))
			w.Body.Close()
			require.NotEmpty(t, page.Main.PNG)
		}
	}
	turn(0, 200)
	time.Sleep(200 * time.Millisecond)
	before := memoryMB(t, pid, "VmRSS")
	turn(200, 200+*turns)
	after := memoryMB(t, pid, "VmRSS")
	t.Logf("%d turns: %d MB before, %d MB after", *turns, before, after)
	assert.Less(t, after-before, 80, "turns leave no growth")
	under("all of it")
}
