package format

import (
	"bufio"
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/color"
	_ "image/gif" // only to say by name what is not taken
	"image/jpeg"
	_ "image/png"
	"io"

	"github.com/bep/imagemeta"
	"golang.org/x/image/draw"
	"golang.org/x/image/math/f64"
	_ "golang.org/x/image/webp"

	"cloudburst/core/cores"
)

// Limits of a photo that is taken in, and the longer side that is kept. What counts is what decoding it takes, not what
// the file holds: a few kB can claim any size.
const (
	MaxPhotoBytes  = 20 << 20
	maxPhotoSide   = 12_000
	maxPhotoPixels = 40_000_000
	maxDecoded     = 400 << 20 // bytes
	maxScans       = 40        // of a progressive JPEG; cameras and programs write about ten
	keptPhotoSide  = 2_560
)

// Photo is a picture as it is kept: upright, at most 2,560 px a side, and nothing in it but pixels. Where and
// with what it was taken is gone.
type Photo struct {
	JPEG          []byte
	Width, Height int
}

const photoAdvice = "JPEG, PNG and WebP up to 20 MB are taken"

// TakePhoto reads a photo that someone chose, of so many bytes. It ends with the context. Errors are sentences for that
// person.
func TakePhoto(ctx context.Context, raw io.ReaderAt, size int64) (Photo, error) {
	if size > MaxPhotoBytes {
		return Photo{}, fmt.Errorf("this photo has over 20 MB; %s", photoAdvice)
	}
	whole := func() *io.SectionReader { return io.NewSectionReader(raw, 0, size) }
	cfg, kind, err := image.DecodeConfig(bufio.NewReader(whole()))
	format, taken := map[string]imagemeta.ImageFormat{
		"jpeg": imagemeta.JPEG, "png": imagemeta.PNG, "webp": imagemeta.WebP,
	}[kind]
	switch {
	case err != nil || !taken:
		return Photo{}, fmt.Errorf("this file is no photo that can be read; %s", photoAdvice)
	case kind == "webp" && moves(raw):
		return Photo{}, errors.New("this is a moving picture; save one still of it as JPEG, PNG or WebP and take that")
	case cfg.Width < 8 || cfg.Height < 8:
		return Photo{}, fmt.Errorf(
			"this picture is only %d × %d px; a photo of a bait needs more", cfg.Width, cfg.Height,
		)
	case cfg.Width > maxPhotoSide || cfg.Height > maxPhotoSide || cfg.Width*cfg.Height > maxPhotoPixels:
		return Photo{}, fmt.Errorf(
			"this picture says it is %d × %d px; up to 12,000 px a side and 40 megapixels are taken. Save it smaller",
			cfg.Width, cfg.Height,
		)
	}
	scans := 0
	if kind == "jpeg" {
		scans = jpegScans(bufio.NewReader(whole()))
	}
	switch {
	case scans > maxScans:
		return Photo{}, fmt.Errorf(
			"this JPEG is built up in %d layers, which no camera does; save it anew as an ordinary JPEG", scans,
		)
	case decodedBytes(cfg, kind, scans > 0) > maxDecoded:
		return Photo{}, errors.New("this picture takes more memory than is set aside for one; save it smaller, or as an ordinary JPEG")
	}
	img, _, err := image.Decode(&checked{ctx, bufio.NewReaderSize(whole(), 64<<10)})
	if ctx.Err() != nil {
		return Photo{}, ctx.Err()
	}
	if err != nil {
		return Photo{}, fmt.Errorf("this photo is damaged or cut off; copy it again from the camera. %s", photoAdvice)
	}
	small, err := shrink(ctx, img)
	if err != nil {
		return Photo{}, err
	}
	img = upright(small, orientation(whole(), format))
	var out bytes.Buffer
	if err := jpeg.Encode(&out, img, &jpeg.Options{Quality: 94}); err != nil {
		return Photo{}, err
	}
	return Photo{out.Bytes(), img.Bounds().Dx(), img.Bounds().Dy()}, nil
}

// checked hands a file out in small pieces, and ends with the context: a decoder works on each piece before it asks for
// the next.
type checked struct {
	ctx context.Context
	r   io.Reader
}

func (c *checked) Read(p []byte) (int, error) {
	if err := c.ctx.Err(); err != nil {
		return 0, err
	}
	const piece = 128
	return c.r.Read(p[:min(len(p), piece)])
}

// decodedBytes is what a picture takes in memory while it is decoded. A progressive JPEG holds its coefficients, too.
func decodedBytes(cfg image.Config, kind string, progressive bool) int {
	px := cfg.Width * cfg.Height
	switch kind {
	case "jpeg":
		components := 3
		switch cfg.ColorModel {
		case color.GrayModel:
			components = 1
		case color.CMYKModel:
			components = 4
		}
		each := components
		if progressive {
			each += 4 * components
			if components == 3 {
				each = 9 // colour is mostly kept at half the size
			}
		}
		return px * each
	case "png":
		switch cfg.ColorModel {
		case color.RGBA64Model, color.NRGBA64Model:
			return px * 8
		case color.Gray16Model:
			return px * 2
		case color.RGBAModel, color.NRGBAModel:
			return px * 4
		}
		return px
	}
	return px * 8 // WebP without loss holds it twice
}

// jpegScans counts the scans of a progressive JPEG; 0 for one that is not.
func jpegScans(r *bufio.Reader) int {
	const soi, sof2, sos, eoi = 0xd8, 0xc2, 0xda, 0xd9
	scans, progressive := 0, false
	for {
		b, err := r.ReadByte()
		if err != nil {
			break
		}
		if b != 0xff {
			continue
		}
		marker, err := r.ReadByte()
		for err == nil && marker == 0xff {
			marker, err = r.ReadByte()
		}
		if err != nil || marker == eoi {
			break
		}
		if marker == 0 || marker == soi || marker == 1 || marker >= 0xd0 && marker <= 0xd7 {
			continue
		}
		switch marker {
		case sof2:
			progressive = true
		case sos:
			scans++
		}
		var size [2]byte
		if _, err := io.ReadFull(r, size[:]); err != nil {
			break
		}
		if _, err := r.Discard(max(0, int(size[0])<<8+int(size[1])-2)); err != nil {
			break
		}
	}
	if !progressive {
		return 0
	}
	return scans
}

// moves says whether a WebP file declares itself a moving picture, which its decoder takes for damage.
func moves(webp io.ReaderAt) bool {
	const extended, flags, animation = "VP8X", 20, 0x02
	var head [flags + 1]byte
	n, _ := webp.ReadAt(head[:], 0)
	return n > flags && string(head[12:16]) == extended && head[flags]&animation != 0
}

// strip is how many rows or columns are scaled at a time. The scaler holds 32 bytes for each of its pixels, for a whole
// photo some 250 MB; a strip is scaled one way only, so that it needs none of its neighbours.
const strip = 64

// inStrips does a strip on each core at a time.
func inStrips(ctx context.Context, n int, work func(from, to int)) error {
	return cores.Each(ctx, (n+strip-1)/strip, func(i int) error {
		work(i*strip, min((i+1)*strip, n))
		return nil
	})
}

func shrink(ctx context.Context, img image.Image) (image.Image, error) {
	b := img.Bounds()
	w, h := b.Dx(), b.Dy()
	if long := max(w, h); long > keptPhotoSide {
		w, h = max(1, w*keptPhotoSide/long), max(1, h*keptPhotoSide/long)
	}
	wide := image.NewRGBA(image.Rect(0, 0, w, b.Dy()))
	draw.Draw(wide, wide.Rect, image.White, image.Point{}, draw.Src) // what is see-through in a PNG lies on white
	if err := inStrips(ctx, b.Dy(), func(y, to int) {
		draw.BiLinear.Scale(
			wide, image.Rect(0, y, w, to), img, image.Rect(b.Min.X, b.Min.Y+y, b.Max.X, b.Min.Y+to), draw.Over, nil,
		)
	}); err != nil || h == b.Dy() {
		return wide, err
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	return out, inStrips(ctx, w, func(x, to int) {
		draw.BiLinear.Scale(out, image.Rect(x, 0, to, h), wide, image.Rect(x, 0, to, b.Dy()), draw.Src, nil)
	})
}

var errFound = imagemeta.ErrStopWalking

// orientation reads the one tag that matters, 1 to 8; 1 is upright. Damaged metadata count as upright.
func orientation(raw io.ReadSeeker, format imagemeta.ImageFormat) int {
	turn := 1
	_, err := imagemeta.Decode(imagemeta.Options{
		R: raw, ImageFormat: format, Sources: imagemeta.EXIF,
		ShouldHandleTag: func(ti imagemeta.TagInfo) bool { return ti.Tag == "Orientation" },
		HandleTag: func(ti imagemeta.TagInfo) error {
			if v, ok := ti.Value.(uint16); ok && v >= 1 && v <= 8 {
				turn = int(v)
			}
			return errFound
		},
	})
	if err != nil && !errors.Is(err, errFound) {
		return 1
	}
	return turn
}

// upright turns and mirrors a picture as its orientation tag asks.
func upright(img image.Image, orientation int) image.Image {
	w, h := float64(img.Bounds().Dx()), float64(img.Bounds().Dy())
	turns := map[int]f64.Aff3{
		2: {-1, 0, w, 0, 1, 0}, 3: {-1, 0, w, 0, -1, h}, 4: {1, 0, 0, 0, -1, h}, 5: {0, 1, 0, 1, 0, 0},
		6: {0, -1, h, 1, 0, 0}, 7: {0, -1, h, -1, 0, w}, 8: {0, 1, 0, -1, 0, w},
	}
	turn, any := turns[orientation]
	if !any {
		return img
	}
	if orientation >= 5 {
		w, h = h, w
	}
	out := image.NewRGBA(image.Rect(0, 0, int(w), int(h)))
	draw.NearestNeighbor.Transform(out, turn, img, img.Bounds(), draw.Src, nil)
	return out
}
