package web

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image/jpeg"
	"io"
	"net/http"
	"os"
	"time"

	"github.com/danielgtaylor/huma/v2"
	lru "github.com/hashicorp/golang-lru/v2"

	"cloudburst/core/photo"
	"cloudburst/format"
	"cloudburst/store"
)

// photoUpload is a photo on its way in. It goes to the disk as it comes, so that a slow phone, or sixty of them, hold
// no memory.
type photoUpload struct {
	file *os.File
	size int64
}

// uploads bounds how many photos arrive at once.
var uploads = make(chan struct{}, 64)

// longestUpload is how long a photo may take to arrive.
const longestUpload = time.Minute

// Resolve takes the bytes in; huma calls it before the handler.
func (u *photoUpload) Resolve(ctx huma.Context) []error {
	select {
	case uploads <- struct{}{}:
		defer func() { <-uploads }()
	default:
		return []error{huma.NewError(
			http.StatusServiceUnavailable, "Many photos arrive at once. Try again in a moment.",
		)}
	}
	_ = ctx.SetReadDeadline(time.Now().Add(longestUpload))
	f, err := os.CreateTemp("", "cloudburst-photo-")
	if err != nil {
		return []error{huma.Error500InternalServerError("a photo can't be put down", err)}
	}
	_ = os.Remove(f.Name()) // it is ours alone, and gone when it is closed
	n, err := io.Copy(f, io.LimitReader(ctx.BodyReader(), format.MaxPhotoBytes+1))
	switch {
	case err != nil:
		f.Close()
		return []error{huma.NewError(http.StatusBadRequest, "cannot read request body")}
	case n > format.MaxPhotoBytes:
		f.Close()
		return []error{huma.NewError(
			http.StatusRequestEntityTooLarge, fmt.Sprintf("limit=%d bytes", format.MaxPhotoBytes),
		)}
	}
	u.file, u.size = f, n
	return nil
}

func (a *api) photoRoutes() {
	huma.Register(a.huma, huma.Operation{
		OperationID: "addPhoto", Method: http.MethodPost, Path: "/photos",
		Summary: "Keep a photo: upright, at most 2,560 px, nothing in it but pixels",
		RequestBody: &huma.RequestBody{Required: true, Content: map[string]*huma.MediaType{
			"application/octet-stream": {Schema: &huma.Schema{Type: huma.TypeString, Format: "binary"}},
		}},
		Metadata: map[string]any{"longest": longestUpload + 3*longestAnswer}, // it may wait its turn behind others
	}, a.addPhoto)
	huma.Register(a.huma, huma.Operation{
		OperationID: "showPhoto", Method: http.MethodGet, Path: "/photos/{photo}",
		Responses: map[string]*huma.Response{"200": {Content: map[string]*huma.MediaType{"image/jpeg": {}}}},
	}, a.showPhoto)
}

// photoCache keeps the photos that are being pinned decoded, so that a pin can be dragged.
type photoCache struct {
	*lru.Cache[string, *photo.Picture]
}

func newPhotoCache() *photoCache {
	const few = 4 // some 20 MB each at most
	c, err := lru.New[string, *photo.Picture](few)
	if err != nil {
		panic(err) // only a size below one is refused
	}
	return &photoCache{c}
}

func (c *photoCache) get(
	ctx context.Context, b *budget, uid string, load func() ([]byte, error),
) (*photo.Picture, error) {
	key := ours(ctx, uid)
	if p, ok := c.Get(key); ok {
		return p, nil
	}
	return dear(ctx, b, func(context.Context) (*photo.Picture, error) {
		if p, ok := c.Get(key); ok { // somebody else wanted it, too
			return p, nil
		}
		raw, err := load()
		if err != nil {
			return nil, err
		}
		img, err := jpeg.Decode(bytes.NewReader(raw))
		if err != nil {
			return nil, err
		}
		p := photo.Take(img)
		c.Add(key, p)
		return p, nil
	})
}

func (a *api) addPhoto(ctx context.Context, in *struct{ photoUpload }) (*struct{ Body store.PhotoInfo }, error) {
	defer in.file.Close()
	if uid, done, err := shopOf(ctx).Done(ctx); done || err != nil {
		if err == nil {
			var info store.PhotoInfo
			info, err = shopOf(ctx).PhotoInfoOf(ctx, uid)
			return &struct{ Body store.PhotoInfo }{info}, problem(err, "")
		}
		return nil, problem(err, "")
	}
	p, err := dear(
		ctx, a.budget,
		func(ctx context.Context) (format.Photo, error) { return format.TakePhoto(ctx, in.file, in.size) },
	)
	if err != nil {
		if ctx.Err() != nil || errors.Is(err, errBusy) {
			return nil, problem(err, "")
		}
		return nil, fieldProblem("photo", err.Error())
	}
	info, err := shopOf(ctx).AddPhoto(ctx, p)
	if err == nil { // its first pin is near, and should not wait for the photo to be decoded
		_, err = a.photos.get(ctx, a.budget, info.UID, func() ([]byte, error) { return p.JPEG, nil })
	}
	return &struct{ Body store.PhotoInfo }{info}, problem(err, "")
}

func (a *api) showPhoto(ctx context.Context, in *struct {
	UID string `path:"photo" maxLength:"64" format:"uid"`
}) (*struct {
	ContentType  string `header:"Content-Type"`
	CacheControl string `header:"Cache-Control"`
	Body         []byte
}, error,
) {
	raw, err := shopOf(ctx).Photo(ctx, in.UID)
	return &struct {
		ContentType  string `header:"Content-Type"`
		CacheControl string `header:"Cache-Control"`
		Body         []byte
	}{"image/jpeg", "private, max-age=31536000, immutable", raw}, problem(err, "")
}
