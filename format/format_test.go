package format_test

import (
	"bytes"
	"context"
	"encoding/binary"
	"encoding/json"
	"hash/crc32"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"image/png"
	"math"
	"math/rand/v2"
	"os"
	"runtime"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	xdraw "golang.org/x/image/draw"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/optics"
	"cloudburst/core/photo"
	"cloudburst/core/recipe"
	. "cloudburst/format"
)

func document(t testing.TB) Document {
	t.Helper()
	shelf := cup.Shelf{}
	for _, f := range material.Families() {
		shelf[f.Key] = f.New(f.Key, f.Name)
	}
	v, err := measure.ParseVolume("1/3 cup")
	require.NoError(t, err)
	doc, err := NewDocument(recipe.Recipe{UID: "reed-shadow", Name: "Reed <shadow> & \"co\"", Cup: cup.Cup{
		Volume: v, Plastisol: "soft-plastisol",
		Doses: []cup.Dose{
			{Material: "clear-red", Typed: "12d", Amount: measure.DropCount(12)}, cup.DripOf("yellow-dye", 3),
		},
		Target: &cup.Target{
			Name: "Belly", Lab: colour.Lab{L: 1.0 / 3, A: -0.1, B: 7}, ThicknessMM: 4, Ground: optics.Dark,
		},
	}}, shelf)
	require.NoError(t, err)
	return doc
}

func written(t testing.TB, d Document) []byte {
	var b bytes.Buffer
	require.NoError(t, d.Write(&b))
	return b.Bytes()
}

func TestWhatIsWrittenReadsBackToTheSameBytes(t *testing.T) {
	doc := document(t)
	raw := written(t, doc)
	back, err := ReadRecipe(bytes.NewReader(raw))
	require.NoError(t, err)
	assert.Equal(t, doc, back)
	assert.Equal(t, string(raw), string(written(t, back)))
	assert.Contains(t, string(raw), "<shadow> &", "readable as text")
	assert.Len(t, back.Materials, 3, "only what the recipe uses")
}

func TestBadRecipeFilesAreRefusedInWords(t *testing.T) {
	good := string(written(t, document(t)))
	for name, c := range map[string]struct{ text, says string }{
		"empty":         {"", "no complete JSON"},
		"cut off":       {good[:len(good)/2], "breaks at line"},
		"other JSON":    {`{"a": 1}`, "no recipe file"},
		"a list":        {`[1]`, "should hold"},
		"newer":         {strings.Replace(good, `"version": 1`, `"version": 2`, 1), "newer Cloudburst"},
		"version 0":     {strings.Replace(good, `"version": 1`, `"version": 0`, 1), "start at 1"},
		"unknown field": {strings.Replace(good, `"notes"`, `"nots"`, 1) + "", ""},
		"wrong type":    {strings.Replace(good, `"value": 12`, `"value": "12"`, 1), "should be a number"},
		"negative":      {strings.Replace(good, `"value": 12,`, `"value": -12,`, 1), "0 or more"},
		"absurd":        {strings.Replace(good, `"value": 12,`, `"value": 120000,`, 1), "more than any cup takes"},
		"missing material": {
			strings.Replace(good, `"uid": "clear-red"`, `"uid": "clear-rad"`, 1), "nothing on the shelf",
		},
		"same uid twice": {strings.Replace(good, `"uid": "clear-red"`, `"uid": "yellow-dye"`, 1), "same uid"},
		"bad material": {
			strings.Replace(good, `"movement": "bleeds"`, `"movement": "walks"`, 1),
			"material 3 (Yellow dye): colourant.movement",
		},
		"no name": {
			strings.Replace(good, `"name": "Reed`, `"name": "", "notes": "Reed`, 1), "1 to 80 letters",
		},
		"huge":             {good + strings.Repeat(" ", MaxRecipeBytes), "over 1 MB"},
		"trailing rubbish": {good + "{}", "no complete JSON"},
	} {
		_, err := ReadRecipe(strings.NewReader(c.text))
		if name == "unknown field" { // the document has no notes; make one up
			_, err = ReadRecipe(strings.NewReader(strings.Replace(
				good, `"uid": "reed-shadow"`, `"uid": "reed-shadow", "colour": "red"`, 1,
			)))
			c.says = `field "colour" that no recipe file has`
		}
		assert.ErrorContains(t, err, c.says, name)
	}
}

func FuzzReadRecipe(f *testing.F) {
	f.Add(written(f, document(f)))
	f.Add(append([]byte("\xef\xbb\xbf"), written(f, document(f))...))
	f.Add([]byte(`{"format":"cloudburst-recipe","version":1,"recipe":{"uid":"a"},"materials":[{}]}`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		doc, err := ReadRecipe(bytes.NewReader(raw))
		if err != nil {
			return
		}
		once := written(t, doc)
		again, err := ReadRecipe(bytes.NewReader(once))
		require.NoError(t, err, "what was accepted once is accepted again")
		require.Equal(t, once, written(t, again))
	})
}

func TestAPhotoIsTurnedUprightAndTellsNothing(t *testing.T) {
	raw, err := os.ReadFile("testdata/p02.jpg")
	require.NoError(t, err)
	require.Contains(t, string(raw), "Exif", "the test photo has metadata, among them a position and a turn")
	got, err := takePhoto(raw)
	require.NoError(t, err)
	assert.NotContains(t, string(got.JPEG), "Exif")
	assert.NotContains(t, string(got.JPEG), "GPS")
	assert.Equal(t, []int{1200, 900}, []int{got.Width, got.Height}, "as its truth says, upright")
	var truth struct {
		Patches map[string]json.RawMessage
		Regions []struct {
			Center [2]float64 `json:"center_px"`
			Radius float64    `json:"radius_px"`
		}
	}
	text, err := os.ReadFile("testdata/p02.truth.json")
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(text, &truth))
	img, err := jpeg.Decode(bytes.NewReader(got.JPEG))
	require.NoError(t, err)
	for _, r := range truth.Regions { // even spots of the bait lie where the truth has them
		reading, err := photo.Sample(photo.Take(img), photo.Disc{X: r.Center[0], Y: r.Center[1], Radius: r.Radius}, nil)
		require.NoError(t, err)
		assert.Greater(t, reading.Kept, 0.7, "%v", r)
	}
}

func TestPhotosOfEveryKindAreTaken(t *testing.T) {
	webp, err := os.ReadFile("testdata/p05.webp")
	require.NoError(t, err)
	_, err = takePhoto(webp)
	assert.NoError(t, err)

	seeThrough := image.NewNRGBA(image.Rect(0, 0, 3000, 30))
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, seeThrough))
	got, err := takePhoto(b.Bytes())
	require.NoError(t, err)
	assert.Equal(t, 2560, got.Width, "larger ones are made smaller")
	img, err := jpeg.Decode(bytes.NewReader(got.JPEG))
	require.NoError(t, err)
	r, _, _, _ := img.At(5, 5).RGBA()
	assert.EqualValues(t, 0xffff, r, "see-through lies on white")
}

// Inks and deep channels are taken as the colours that they stand for.
func TestInksAndSixteenBits(t *testing.T) {
	inks, err := os.ReadFile("testdata/cmyk.jpg")
	require.NoError(t, err)
	deep := image.NewNRGBA64(image.Rect(0, 0, 64, 48))
	draw.Draw(deep, deep.Bounds(), image.NewUniform(color.NRGBA{R: 200, G: 90, B: 40, A: 255}), image.Point{}, draw.Src)
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, deep))
	for name, raw := range map[string][]byte{"CMYK": inks, "16 bit": b.Bytes()} {
		got, err := takePhoto(raw)
		require.NoError(t, err)
		img, err := jpeg.Decode(bytes.NewReader(got.JPEG))
		require.NoError(t, err)
		red, green, blue, _ := img.At(30, 20).RGBA()
		for i, v := range [][2]uint32{{red, 200}, {green, 90}, {blue, 40}} {
			assert.InDelta(t, v[1], v[0]>>8, 5, "%s, channel %d", name, i)
		}
	}
}

// Eight turns of one picture: a red dot marks the corner that must end up top left.
func TestEveryOrientation(t *testing.T) {
	for turn := 1; turn <= 8; turn++ {
		const w, h = 64, 32
		img := image.NewRGBA(image.Rect(0, 0, w, h))
		cornerX, cornerY := 0, 0
		switch turn { // where the camera stored what belongs top left
		case 2, 7:
			cornerX = w - 16
		case 3:
			cornerX, cornerY = w-16, h-16
		case 4, 8:
			cornerY = h - 16
		}
		switch turn {
		case 6:
			cornerX, cornerY = 0, h-16
		case 7:
			cornerX, cornerY = w-16, h-16
		case 8:
			cornerX, cornerY = w-16, 0
		}
		for y := range 16 {
			for x := range 16 {
				img.Set(cornerX+x, cornerY+y, color.RGBA{R: 255, G: 0, B: 0, A: 255})
			}
		}
		var b bytes.Buffer
		require.NoError(t, jpeg.Encode(&b, img, &jpeg.Options{Quality: 95}))
		got, err := takePhoto(withOrientation(b.Bytes(), turn))
		require.NoError(t, err)
		back, err := jpeg.Decode(bytes.NewReader(got.JPEG))
		require.NoError(t, err)
		red, green, _, _ := back.At(6, 6).RGBA()
		assert.True(t, red > 0xb000 && green < 0x5000, "orientation %d", turn)
		if turn >= 5 {
			assert.Equal(t, []int{h, w}, []int{got.Width, got.Height})
		}
	}
}

// withOrientation puts a minimal EXIF block with that one tag into a JPEG.
func withOrientation(raw []byte, turn int) []byte {
	tiff := []byte{'M', 'M', 0, 42, 0, 0, 0, 8, 0, 1, 0x01, 0x12, 0, 3, 0, 0, 0, 1, 0, byte(turn), 0, 0, 0, 0, 0, 0}
	body := append([]byte("Exif\x00\x00"), tiff...)
	head := []byte{0xff, 0xd8, 0xff, 0xe1, 0, byte(len(body) + 2)}
	return append(append(head, body...), raw[2:]...)
}

func TestBadPhotosAreRefusedInWords(t *testing.T) {
	webp, err := os.ReadFile("testdata/p02.jpg")
	require.NoError(t, err)
	for name, c := range map[string]struct {
		raw  []byte
		says string
	}{
		"text":     {[]byte("hello"), "no photo that can be read"},
		"empty":    {nil, "no photo that can be read"},
		"gif":      {[]byte("GIF89a\x40\x00\x40\x00\x00\x00\x00;"), "no photo that can be read"},
		"cut off":  {webp[:len(webp)/2], "damaged or cut off"},
		"too wide": {pngOf(100_000, 100), "100000 × 100 px"},
		"too many": {pngOf(11_000, 11_000), "40 megapixels"},
		"moving":   {moving(), "save one still"},
		"tiny":     {pngOf(2, 2), "only 2 × 2 px"},
		"too big":  {make([]byte, MaxPhotoBytes+1), "over 20 MB"},
	} {
		_, err := takePhoto(c.raw)
		assert.ErrorContains(t, err, c.says, name)
	}
}

// A progressive JPEG of many layers costs seconds for a few kB: it is refused by its head. Ordinary ones have about
// ten.
func TestAProgressiveJPEGOfManyLayersIsRefused(t *testing.T) {
	layered := func(scans int) []byte {
		b := []byte{0xff, 0xd8, 0xff, 0xc2, 0, 11, 8, 0x10, 0, 0x10, 0, 1, 1, 0x11, 0}
		for range scans {
			b = append(b, 0xff, 0xda, 0, 8, 1, 1, 0, 0, 0, 0, 0x12, 0xff, 0x00, 0x34, 0xff, 0xd0, 0x56)
		}
		return append(b, 0xff, 0xd9)
	}
	assert.Equal(t, 10, JPEGScans(layered(10)))
	assert.Zero(t, JPEGScans(twelveMegapixels(t)), "not progressive")
	_, err := takePhoto(layered(3000))
	assert.ErrorContains(t, err, "built up in 3000 layers")
	_, err = takePhoto(layered(10))
	assert.ErrorContains(t, err, "damaged or cut off", "so far it may be one")

	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	raw := twelveMegapixels(t)
	_, err = TakePhoto(ctx, bytes.NewReader(raw), int64(len(raw)))
	assert.ErrorIs(t, err, context.Canceled)
}

// moving is the head of a WebP that declares itself a moving picture.
func moving() []byte {
	body := append([]byte("WEBPVP8X"), 10, 0, 0, 0, 0x02, 0, 0, 0, 99, 0, 0, 99, 0, 0)
	out := binary.LittleEndian.AppendUint32([]byte("RIFF"), uint32(len(body)))
	return append(out, body...)
}

// pngOf is a PNG that only claims its size.
func pngOf(w, h uint32) []byte {
	head := make([]byte, 17)
	copy(head, "IHDR")
	binary.BigEndian.PutUint32(head[4:], w)
	binary.BigEndian.PutUint32(head[8:], h)
	head[12], head[13] = 8, 2
	out := append([]byte("\x89PNG\r\n\x1a\n"), 0, 0, 0, 13)
	out = append(out, head...)
	return binary.BigEndian.AppendUint32(out, crc32.ChecksumIEEE(head))
}

// twelveMegapixels is a photo as a phone takes it: edges, gradients and grain.
func twelveMegapixels(t testing.TB) []byte {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, 4000, 3000))
	grain := rand.New(rand.NewPCG(1, 2))
	for y := range 3000 {
		for x := range 4000 {
			n := uint8(grain.IntN(7))
			img.SetRGBA(
				x, y, color.RGBA{R: uint8(x/20) + n, G: uint8(y/15) + n, B: uint8(60*((x/90+y/70)%3)) + n, A: 255},
			)
		}
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, img, &jpeg.Options{Quality: 90}))
	return b.Bytes()
}

// A photo of twelve megapixels is taken in without ever holding more than a few copies of it.
func TestALargePhotoTakesLittleMemory(t *testing.T) {
	raw := twelveMegapixels(t)
	runtime.GC()
	most := uint64(0)
	done := make(chan struct{})
	var watch sync.WaitGroup
	watch.Go(func() {
		for {
			var m runtime.MemStats
			runtime.ReadMemStats(&m)
			most = max(most, m.HeapInuse)
			select {
			case <-done:
				return
			case <-time.After(2 * time.Millisecond):
			}
		}
	})
	_, err := takePhoto(raw)
	close(done)
	watch.Wait()
	require.NoError(t, err)
	t.Logf("%d MB at most", most>>20)
	assert.Less(t, most, uint64(300<<20))
}

// Scaled in strips, a photo is as it is scaled whole.
func TestStripsLeaveNoSeams(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 3100, 1500))
	for y := range 1500 {
		for x := range 3100 {
			img.SetRGBA(x, y, color.RGBA{R: uint8(x / 13), G: uint8(y / 6), B: uint8((x + y) / 19), A: 255})
		}
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, img))
	got, err := takePhoto(b.Bytes())
	require.NoError(t, err)
	shown, err := jpeg.Decode(bytes.NewReader(got.JPEG))
	require.NoError(t, err)
	whole := image.NewRGBA(image.Rect(0, 0, got.Width, got.Height))
	xdraw.BiLinear.Scale(whole, whole.Rect, img, img.Rect, xdraw.Src, nil)
	most := 0.0
	for y := 0; y < got.Height; y++ {
		for x := 0; x < got.Width; x += 3 {
			p, q, _, _ := shown.At(x, y).RGBA()
			r, s, _, _ := whole.At(x, y).RGBA()
			most = max(most, math.Abs(float64(p>>8)-float64(r>>8)), math.Abs(float64(q>>8)-float64(s>>8)))
		}
	}
	assert.Less(t, most, 8.0, "what a JPEG does to a gradient")
}

func BenchmarkTakeTwelveMegapixels(b *testing.B) {
	raw := twelveMegapixels(b)
	b.ReportAllocs()
	for b.Loop() {
		if _, err := takePhoto(raw); err != nil {
			b.Fatal(err)
		}
	}
}

func takePhoto(raw []byte) (Photo, error) {
	return TakePhoto(context.Background(), bytes.NewReader(raw), int64(len(raw)))
}

func BenchmarkTakeFortyMegapixelsOfGrey(b *testing.B) {
	var raw bytes.Buffer
	require.NoError(b, png.Encode(&raw, image.NewGray(image.Rect(0, 0, 6320, 6320))))
	for b.Loop() {
		if _, err := takePhoto(raw.Bytes()); err != nil {
			b.Fatal(err)
		}
	}
}
