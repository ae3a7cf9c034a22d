package demo

import (
	"bytes"
	"embed"
	"fmt"
	"image/jpeg"
	"sync"

	"cloudburst/core/colour"
	"cloudburst/core/photo"
	"cloudburst/format"
	"cloudburst/stand/camera"
)

// The photos were taken by the camera stand-in; photos_test.go takes them anew. First that of the herring from the net,
// then those of what was poured after it, then the goby's.
//
//go:embed photos/*.jpg
var photoFiles embed.FS

const gobyPhoto = 4

// readPhoto is a photo with what was read in it.
type readPhoto struct {
	format.Photo
	light *photo.Light
	read  []photo.Reading
}

// readPhotos are the photos with what is read in them. That is always the same, so it is done once.
var readPhotos = sync.OnceValues(func() ([]readPhoto, error) {
	all := make([]readPhoto, gobyPhoto+1)
	for i := range all {
		discs := []photo.Disc{backAt, bellyAt}
		if i == gobyPhoto {
			discs = append(discs, tailAt)
		}
		raw, err := photoFiles.ReadFile(photoFile(i))
		if err != nil {
			return nil, err
		}
		if all[i], err = readShot(raw, discs...); err != nil {
			return nil, err
		}
	}
	return all, nil
})

func photoFile(i int) string { return fmt.Sprintf("photos/%d.jpg", i) }

// readShot reads places off a photo, with its white and grey.
func readShot(raw []byte, discs ...photo.Disc) (out readPhoto, err error) {
	decoded, err := jpeg.Decode(bytes.NewReader(raw))
	if err != nil {
		return out, err
	}
	size := decoded.Bounds().Size()
	out.Photo = format.Photo{JPEG: raw, Width: size.X, Height: size.Y}
	seen := photo.Take(decoded)
	if out.light, err = photo.ByWhiteAndGrey(seen, camera.WhiteThing(), camera.GreyThing(), colour.Shade); err != nil {
		return out, err
	}
	for _, at := range discs {
		r, err := photo.Sample(seen, at, out.light)
		if err != nil {
			return out, err
		}
		out.read = append(out.read, r)
	}
	return out, nil
}

var (
	backAt  = photo.Disc{X: 600, Y: 352, Radius: 14}
	bellyAt = photo.Disc{X: 600, Y: 398, Radius: 10}
	tailAt  = photo.Disc{X: 968, Y: 310, Radius: 12}
)
