package web

import (
	"embed"
	"io"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"
)

//go:embed all:dist
var dist embed.FS

// serveUI serves the built UI. Files under assets/ have a hash in their name and may be kept for ever; every
// other address is a view and gets the one page.
func serveUI(w http.ResponseWriter, r *http.Request) {
	if r.Method != http.MethodGet && r.Method != http.MethodHead {
		refuse(w, http.StatusMethodNotAllowed, "not-allowed", "This can't be done at this address.")
		return
	}
	files, _ := fs.Sub(dist, "dist")
	name := strings.TrimPrefix(path.Clean("/"+r.URL.Path), "/")
	h := w.Header()
	info, err := fs.Stat(files, name)
	switch {
	case err == nil && !info.IsDir() && name != "index.html":
		if strings.HasPrefix(name, "assets/") {
			h.Set("Cache-Control", "public, max-age=31536000, immutable")
		} else {
			h.Set("Cache-Control", "no-cache")
		}
	case path.Ext(name) != "" && name != "index.html":
		refuse(w, http.StatusNotFound, "not-found", "There is nothing at this address.")
		return
	default:
		name = "index.html"
		h.Set("Cache-Control", "no-cache")
	}
	h.Set("Content-Type", mime.TypeByExtension(path.Ext(name)))
	h.Set("Vary", "Accept-Encoding")
	for _, packed := range [][2]string{{"br", ".br"}, {"gzip", ".gz"}} {
		if f, err := files.Open(name + packed[1]); err == nil && strings.Contains(
			r.Header.Get("Accept-Encoding"), packed[0],
		) {
			defer f.Close()
			h.Set("Content-Encoding", packed[0])
			_, _ = io.Copy(w, f)
			return
		}
	}
	f, err := files.Open(name)
	if err != nil {
		refuse(w, http.StatusNotFound, "not-found", "The screens were not built into this program; run ./start.")
		return
	}
	defer f.Close()
	_, _ = io.Copy(w, f)
}
