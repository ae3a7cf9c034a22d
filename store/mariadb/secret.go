package mariadb

import (
	"crypto/rand"
	"encoding/base64"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
)

// secret reads the instance's password, making one at the first start. Only the owner can read the file.
func secret(file string) (string, error) {
	raw, err := os.ReadFile(file)
	if err == nil && len(raw) >= 32 {
		return string(raw), nil
	}
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return "", fmt.Errorf("the database's password can't be read: %w", err)
	}
	bytes := make([]byte, 32)
	if _, err := rand.Read(bytes); err != nil {
		return "", err
	}
	password := base64.RawURLEncoding.EncodeToString(bytes)
	half := file + ".unfinished"
	if err := os.WriteFile(half, []byte(password), 0o600); err != nil {
		return "", fmt.Errorf("the database's password can't be kept: %w", err)
	}
	return password, os.Rename(half, file)
}

// socketPath is where the server's socket goes: in its folder, or in a short private one where that name would
// be too long for a socket (107 bytes).
func socketPath(dir string) (string, error) {
	abs, err := filepath.Abs(filepath.Join(dir, "socket"))
	if err != nil || len(abs) <= 100 {
		return abs, err
	}
	short, err := os.MkdirTemp("", "cloudburst-")
	return filepath.Join(short, "socket"), err
}
