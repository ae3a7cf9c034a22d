package format

import (
	"bufio"
	"bytes"
)

// JPEGScans counts the scans of a progressive JPEG.
func JPEGScans(raw []byte) int { return jpegScans(bufio.NewReader(bytes.NewReader(raw))) }
