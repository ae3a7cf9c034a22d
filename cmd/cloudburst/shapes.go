package main

import (
	"fmt"
	"log/slog"
	"os"
	"path/filepath"

	"cloudburst/core/bait"
)

// keepShapes keeps our own shapes in the data folder, so that a second start has them at once. They are those of this
// very build: what another one left is thrown away. A folder that can't be written costs nothing but time.
func keepShapes(data string, log *slog.Logger) {
	path, err := os.Executable()
	if err != nil {
		return
	}
	build, err := os.Stat(path)
	if err != nil {
		return
	}
	all := filepath.Join(data, "shapes")
	own := filepath.Join(all, fmt.Sprintf("%x-%x", build.Size(), build.ModTime().UnixNano()))
	builds, _ := os.ReadDir(all)
	for _, b := range builds {
		if b.Name() != filepath.Base(own) {
			_ = os.RemoveAll(filepath.Join(all, b.Name()))
		}
	}
	if err := os.MkdirAll(own, 0o700); err != nil {
		log.Warn("shapes are not kept", "err", err)
		return
	}
	bait.KeepShapes(bait.Keeping{
		Read: func(name string) []byte {
			raw, _ := os.ReadFile(filepath.Join(own, name)) // what is not there is made
			return raw
		},
		Write: func(name string, raw []byte) {
			file := filepath.Join(own, name)
			if err := os.WriteFile(unfinished(file), raw, 0o600); err != nil {
				log.Warn("a shape is not kept", "shape", name, "err", err)
				return
			}
			_ = os.Rename(unfinished(file), file)
		},
	})
}
