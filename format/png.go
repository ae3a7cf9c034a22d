package format

import (
	"bytes"
	"encoding/binary"
	"errors"
	"hash/crc32"
)

// WithText puts words into a PNG, so that a picture that was passed on still says what it shows: tEXt chunks after the
// header, keyword and text in Latin-1 as the format has it (other letters become ?).
func WithText(png []byte, words [][2]string) ([]byte, error) {
	const headEnd = 8 + 4 + 4 + 13 + 4 // signature, and the IHDR chunk
	if len(png) < headEnd || !bytes.HasPrefix(png, []byte("\x89PNG\r\n\x1a\n")) {
		return nil, errors.New("this is no PNG")
	}
	out := append([]byte{}, png[:headEnd]...)
	for _, w := range words {
		body := append(append([]byte("tEXt"), latin1(w[0])...), 0)
		body = append(body, latin1(w[1])...)
		out = binary.BigEndian.AppendUint32(out, uint32(len(body)-4))
		out = append(out, body...)
		out = binary.BigEndian.AppendUint32(out, crc32.ChecksumIEEE(body))
	}
	return append(out, png[headEnd:]...), nil
}

func latin1(s string) []byte {
	var b []byte
	for _, r := range s {
		if r == 0 || r > 0xff {
			r = '?'
		}
		b = append(b, byte(r))
	}
	return b
}
