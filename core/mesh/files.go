package mesh

import (
	"bufio"
	"bytes"
	"encoding/binary"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"

	"cloudburst/core/measure"
)

// Limits of a file.
const (
	MaxBytes     = 50 << 20
	MaxTriangles = 500_000
	mostMM       = 10_000
)

// Read reads an STL (binary or text) or an OBJ, mends it, and says what it mended. Lengths are as the file has them.
func Read(r io.Reader) (*Mesh, string, error) {
	raw, err := io.ReadAll(io.LimitReader(r, MaxBytes+1))
	if err != nil {
		return nil, "", err
	}
	if len(raw) > MaxBytes {
		return nil, "", measure.Faulty(
			"file", "this file is larger than %d MB; save it with fewer triangles", MaxBytes>>20,
		)
	}
	var m *Mesh
	switch {
	case isBinary(raw):
		m, err = readBinary(raw)
	case bytes.HasPrefix(bytes.TrimSpace(raw[:min(len(raw), 200)]), []byte("solid")):
		m, err = readText(raw)
	default:
		m, err = readOBJ(raw)
	}
	if err != nil {
		return nil, "", err
	}
	for _, v := range m.V {
		for _, x := range v {
			if !(math.Abs(x) <= mostMM) {
				return nil, "", measure.Faulty(
					"file", "this file has corners that lie nowhere, or more than ten metres away",
				)
			}
		}
	}
	did, err := m.Mend()
	return m, says(did), err
}

const headBytes, triangleBytes = 84, 50

// isBinary says whether the length is what a binary STL's count of triangles comes to: its head may begin with "solid",
// too.
func isBinary(raw []byte) bool {
	if len(raw) < headBytes {
		return false
	}
	n := int(binary.LittleEndian.Uint32(raw[80:]))
	return n > 0 && len(raw) >= headBytes+n*triangleBytes && len(raw) < headBytes+n*triangleBytes+1024
}

func tooMany() error {
	return measure.Faulty("file", "this file has more than 500,000 triangles; save it with fewer")
}

func readBinary(raw []byte) (*Mesh, error) {
	n := int(binary.LittleEndian.Uint32(raw[80:]))
	if n > MaxTriangles {
		return nil, tooMany()
	}
	m := &Mesh{V: make([]Vec, 0, 3*n), T: make([][3]int32, 0, n)}
	for i := range n {
		at := raw[headBytes+i*triangleBytes+12:]
		k := int32(len(m.V))
		for c := range 3 {
			var v Vec
			for x := range 3 {
				v[x] = float64(math.Float32frombits(binary.LittleEndian.Uint32(at[12*c+4*x:])))
			}
			m.V = append(m.V, v)
		}
		m.T = append(m.T, [3]int32{k, k + 1, k + 2})
	}
	return m, nil
}

// lines goes over the words of each line.
func lines(raw []byte, each func(words []string) error) error {
	s := bufio.NewScanner(bytes.NewReader(raw))
	s.Buffer(make([]byte, 4096), 1<<16)
	for s.Scan() {
		if words := strings.Fields(s.Text()); len(words) > 0 {
			if err := each(words); err != nil {
				return err
			}
		}
	}
	if s.Err() != nil {
		return measure.Faulty("file", "this is no STL and no OBJ file that can be read; save the body as one of them")
	}
	return nil
}

func corner(words []string) (v Vec, err error) {
	if len(words) < 3 {
		return v, measure.Faulty("file", "a corner without three figures; save the body once more")
	}
	for i := range 3 {
		if v[i], err = strconv.ParseFloat(words[i], 64); err != nil {
			return v, measure.Faulty("file", "a corner whose figures can't be read; save the body once more")
		}
	}
	return v, nil
}

func readText(raw []byte) (*Mesh, error) {
	m := &Mesh{}
	err := lines(raw, func(words []string) error {
		if words[0] != "vertex" {
			return nil
		}
		v, err := corner(words[1:])
		if err != nil {
			return err
		}
		if m.V = append(m.V, v); len(m.V)%3 == 0 {
			k := int32(len(m.V))
			m.T = append(m.T, [3]int32{k - 3, k - 2, k - 1})
		}
		if len(m.T) > MaxTriangles {
			return tooMany()
		}
		return nil
	})
	return m, err
}

// readOBJ reads corners and faces; faces of more than three corners become fans.
func readOBJ(raw []byte) (*Mesh, error) {
	m := &Mesh{}
	err := lines(raw, func(words []string) error {
		switch words[0] {
		case "v":
			v, err := corner(words[1:])
			if err != nil {
				return err
			}
			if m.V = append(m.V, v); len(m.V) > 3*MaxTriangles {
				return tooMany()
			}
		case "f":
			var face []int32
			for _, w := range words[1:] {
				number, _, _ := strings.Cut(w, "/")
				i, err := strconv.Atoi(number)
				if i < 0 { // from the end
					i += len(m.V) + 1
				}
				if err != nil || i < 1 || i > len(m.V) {
					return measure.Faulty("file", "a face names a corner that is not there; save the body once more")
				}
				face = append(face, int32(i-1))
			}
			for k := 2; k < len(face); k++ {
				m.T = append(m.T, [3]int32{face[0], face[k-1], face[k]})
			}
			if len(m.T) > MaxTriangles {
				return tooMany()
			}
		}
		return nil
	})
	if err == nil && len(m.T) == 0 {
		err = measure.Faulty("file", "this is no STL and no OBJ file that can be read; save the body as one of them")
	}
	return m, err
}

// WriteSTL writes it as a binary STL. Where sheets touch they are parted, so that other programs find one neighbour at
// every side, too.
func (m *Mesh) WriteSTL(w io.Writer) error {
	if _, crowded := m.Open(); crowded > 0 {
		whole := &Mesh{V: slices.Clone(m.V), T: slices.Clone(m.T)}
		whole.part(whole.sides())
		m = whole
	}
	b := bufio.NewWriter(w)
	var head [headBytes]byte
	copy(head[:], "Cloudburst, mm")
	binary.LittleEndian.PutUint32(head[80:], uint32(len(m.T)))
	_, _ = b.Write(head[:]) // the last one tells
	for _, t := range m.T {
		p, q, r := m.V[t[0]], m.V[t[1]], m.V[t[2]]
		n := unit(q.Minus(p).Cross(r.Minus(p)))
		var one [triangleBytes]byte
		for i, v := range [4]Vec{n, p, q, r} {
			for x := range 3 {
				binary.LittleEndian.PutUint32(one[12*i+4*x:], math.Float32bits(float32(v[x])))
			}
		}
		_, _ = b.Write(one[:])
	}
	return b.Flush()
}
