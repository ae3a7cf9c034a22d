package format

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	_ "image/gif" // only to say by name what is not taken
	"image/jpeg"
	_ "image/png"
	"runtime"
	"sync"
	"sync/atomic"

	"github.com/bep/imagemeta"
	"golang.org/x/image/draw"
	"golang.org/x/image/math/f64"
	_ "golang.org/x/image/webp"
)

// Limits of a photo that is taken in, and the longer side that is kept.
const (
	MaxPhotoBytes  = 20 << 20
	maxPhotoSide   = 12_000
	maxPhotoPixels = 60_000_000
	keptPhotoSide  = 2_560
)

// Photo is a picture as it is kept: upright, at most 2,560 px a side, and nothing in it but pixels. Where and
// with what it was taken is gone.
type Photo struct {
	JPEG          []byte
	Width, Height int
}

const photoAdvice = "JPEG, PNG and WebP up to 20 MB are taken"

// TakePhoto reads a photo that someone chose. Errors are sentences for that person.
func TakePhoto(raw []byte) (Photo, error) {
	if len(raw) > MaxPhotoBytes {
		return Photo{}, fmt.Errorf("this photo has over 20 MB; %s", photoAdvice)
	}
	cfg, kind, err := image.DecodeConfig(bytes.NewReader(raw))
	format, taken := map[string]imagemeta.ImageFormat{"jpeg": imagemeta.JPEG, "png": imagemeta.PNG, "webp": imagemeta.WebP}[kind]
	switch {
	case err != nil || !taken:
		return Photo{}, fmt.Errorf("this file is no photo that can be read; %s", photoAdvice)
	case kind == "webp" && moves(raw):
		return Photo{}, errors.New("this is a moving picture; save one still of it as JPEG, PNG or WebP and take that")
	case cfg.Width < 8 || cfg.Height < 8:
		return Photo{}, fmt.Errorf("this picture is only %d × %d px; a photo of a bait needs more", cfg.Width, cfg.Height)
	case cfg.Width > maxPhotoSide || cfg.Height > maxPhotoSide || cfg.Width*cfg.Height > maxPhotoPixels:
		return Photo{}, fmt.Errorf("this picture says it is %d × %d px; up to 12,000 px a side and 60 megapixels are taken", cfg.Width, cfg.Height)
	}
	img, _, err := image.Decode(bytes.NewReader(raw))
	if err != nil {
		return Photo{}, fmt.Errorf("this photo is damaged or cut off; copy it again from the camera. %s", photoAdvice)
	}
	img = upright(shrink(img), orientation(raw, format))
	var out bytes.Buffer
	if err := jpeg.Encode(&out, img, &jpeg.Options{Quality: 94}); err != nil {
		return Photo{}, err
	}
	return Photo{out.Bytes(), img.Bounds().Dx(), img.Bounds().Dy()}, nil
}

// moves says whether a WebP file declares itself a moving picture, which its decoder takes for damage.
func moves(webp []byte) bool {
	const extended, flags, animation = "VP8X", 20, 0x02
	return len(webp) > flags && string(webp[12:16]) == extended && webp[flags]&animation != 0
}

// strip is how many rows or columns are scaled at a time. The scaler holds 32 bytes for each of its pixels, for a whole photo
// some 250 MB; a strip is scaled one way only, so that it needs none of its neighbours.
const strip = 128

// inStrips does a strip on each core at a time.
func inStrips(n int, work func(from, to int)) {
	var next atomic.Int64
	var cores sync.WaitGroup
	for range min(4, runtime.GOMAXPROCS(0)) {
		cores.Go(func() {
			for {
				from := int(next.Add(strip)) - strip
				if from >= n {
					return
				}
				work(from, min(from+strip, n))
			}
		})
	}
	cores.Wait()
}

func shrink(img image.Image) image.Image {
	b := img.Bounds()
	w, h := b.Dx(), b.Dy()
	if long := max(w, h); long > keptPhotoSide {
		w, h = max(1, w*keptPhotoSide/long), max(1, h*keptPhotoSide/long)
	}
	wide := image.NewRGBA(image.Rect(0, 0, w, b.Dy()))
	draw.Draw(wide, wide.Rect, image.White, image.Point{}, draw.Src) // what is see-through in a PNG lies on white
	inStrips(b.Dy(), func(y, to int) {
		draw.BiLinear.Scale(wide, image.Rect(0, y, w, to), img, image.Rect(b.Min.X, b.Min.Y+y, b.Max.X, b.Min.Y+to), draw.Over, nil)
	})
	if h == b.Dy() {
		return wide
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	inStrips(w, func(x, to int) {
		draw.BiLinear.Scale(out, image.Rect(x, 0, to, h), wide, image.Rect(x, 0, to, b.Dy()), draw.Src, nil)
	})
	return out
}

var errFound = imagemeta.ErrStopWalking

// orientation reads the one tag that matters, 1 to 8; 1 is upright. Damaged metadata count as upright.
func orientation(raw []byte, format imagemeta.ImageFormat) int {
	turn := 1
	_, err := imagemeta.Decode(imagemeta.Options{
		R: bytes.NewReader(raw), ImageFormat: format, Sources: imagemeta.EXIF,
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
