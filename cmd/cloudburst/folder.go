package main

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"syscall"

	"cloudburst/store"
)

// claim makes the data folder ours for as long as this program runs: it exists, was written by no newer version,
// and no other Cloudburst uses it. Until all of that is known nothing in it is touched.
func claim(dir string) (unlock func(), err error) {
	entries, err := os.ReadDir(dir)
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return nil, fmt.Errorf(
			"the data folder %s can't be read: %s. Give yourself the right to it, or choose another one with CLOUDBURST_DATA",
			dir, reason(err),
		)
	}
	versionFile := filepath.Join(dir, "VERSION")
	raw, err := os.ReadFile(versionFile)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		// A first start that was broken off at once has left no more than these.
		if slices.ContainsFunc(entries, func(e fs.DirEntry) bool {
			return e.Name() != "lock" && e.Name() != filepath.Base(unfinished(versionFile))
		}) {
			return nil, fmt.Errorf(
				"the folder %s is not empty and holds no Cloudburst data; choose an empty or a new one with CLOUDBURST_DATA", dir,
			)
		}
	case err != nil:
		return nil, fmt.Errorf(
			"%s can't be read: %s. Give yourself the right to it, or choose another folder with CLOUDBURST_DATA",
			versionFile,
			reason(err),
		)
	default:
		version, err := strconv.Atoi(strings.TrimSpace(string(raw)))
		if err != nil || version < 1 {
			return nil, fmt.Errorf(
				"%s does not say a version; if this is no Cloudburst folder, choose another one with CLOUDBURST_DATA",
				versionFile,
			)
		}
		if version > store.SchemaVersion {
			return nil, fmt.Errorf(
				"the data folder %s was written by a newer Cloudburst (version %d; this one knows up to %d). Update Cloudburst, or choose another folder with CLOUDBURST_DATA. Nothing was changed",
				dir, version, store.SchemaVersion,
			)
		}
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf(
			"the data folder %s can't be made: %s. Choose another one with CLOUDBURST_DATA", dir, reason(err),
		)
	}
	lock, err := os.OpenFile(filepath.Join(dir, "lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, fmt.Errorf(
			"can't write to the data folder %s: %s. Give yourself the right to it, or choose another one with CLOUDBURST_DATA",
			dir, reason(err),
		)
	}
	if err := syscall.Flock(int(lock.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		lock.Close()
		return nil, fmt.Errorf(
			"another Cloudburst is using the data folder %s. End it first, or choose another one with CLOUDBURST_DATA",
			dir,
		)
	}
	err = os.WriteFile(unfinished(versionFile), fmt.Appendln(nil, store.SchemaVersion), 0o600)
	if err == nil {
		err = os.Rename(unfinished(versionFile), versionFile)
	}
	if err != nil {
		lock.Close()
		return nil, fmt.Errorf(
			"can't write to the data folder %s: %s. Give yourself the right to it, or choose another one with CLOUDBURST_DATA",
			dir, reason(err),
		)
	}
	return func() { lock.Close() }, nil
}

// unfinished is where a file is written before it counts.
func unfinished(file string) string { return file + ".unfinished" }

// reason is what the system says, without the path that the sentence has already.
func reason(err error) string {
	var p *fs.PathError
	if errors.As(err, &p) {
		return p.Err.Error()
	}
	return err.Error()
}
