package bait

import (
	"encoding/binary"
	"errors"
	"hash/crc32"
	"math"
)

// Keeping lets our own shapes be kept between two starts of a program: making all twelve takes seconds, reading them a
// fraction of one (docs/measured.md). Read gives what Write was given, or nothing. It is for the program that made them
// alone: another may shape them otherwise.
type Keeping struct {
	Read  func(name string) []byte
	Write func(name string, raw []byte)
}

var keeping = Keeping{func(string) []byte { return nil }, func(string, []byte) {}}

// KeepShapes is called before the first shape is asked for, or not at all.
func KeepShapes(k Keeping) { keeping = k }

// kept is a skin that was kept, or one that is made and kept.
func kept(name string, make func() *Solid) *Solid {
	if s, err := readSolid(keeping.Read(name)); err == nil {
		return s
	}
	s := make()
	keeping.Write(name, s.file())
	return s
}

// What a kept skin begins with, and what its parts take, bytes.
const (
	solidMark    = "skin 1\n\n"
	solidHead    = len(solidMark) + 4 + 4 + 8 + 8*8
	solidPerV    = 7 * 4
	solidPerT    = 3 * 4
	solidMostV   = 1 << 22
	solidMostT   = 1 << 23
	solidSumSize = 4
)

var errNoSolid = errors.New("no skin that was kept")

// file is a skin as it is kept: mark, counts, measures, corners, triangles, a check sum.
func (s *Solid) file() []byte {
	le := binary.LittleEndian
	out := make([]byte, 0, solidHead+solidPerV*len(s.V)+solidPerT*len(s.T)+solidSumSize)
	out = append(out, solidMark...)
	out = le.AppendUint32(out, uint32(len(s.V)))
	out = le.AppendUint32(out, uint32(len(s.T)))
	lying := uint64(0)
	if s.lying {
		lying = 1
	}
	out = le.AppendUint64(out, lying)
	for _, v := range []float64{s.ML, s.bodyTo, s.From[0], s.From[1], s.From[2], s.To[0], s.To[1], s.To[2]} {
		out = le.AppendUint64(out, math.Float64bits(v))
	}
	for i := range s.V {
		for _, v := range [7]float32{s.V[i][0], s.V[i][1], s.V[i][2], s.N[i][0], s.N[i][1], s.N[i][2], s.Open[i]} {
			out = le.AppendUint32(out, math.Float32bits(v))
		}
	}
	for _, t := range s.T {
		for _, i := range t {
			out = le.AppendUint32(out, uint32(i))
		}
	}
	return le.AppendUint32(out, crc32.ChecksumIEEE(out))
}

// readSolid reads it again. What is not whole is refused, and made anew by whoever asked.
func readSolid(raw []byte) (*Solid, error) {
	le := binary.LittleEndian
	if len(raw) < solidHead+solidSumSize || string(raw[:len(solidMark)]) != solidMark {
		return nil, errNoSolid
	}
	body, sum := raw[:len(raw)-solidSumSize], le.Uint32(raw[len(raw)-solidSumSize:])
	at := len(solidMark)
	u32 := func() uint32 { at += 4; return le.Uint32(body[at-4:]) }
	f64 := func() float64 { at += 8; return math.Float64frombits(le.Uint64(body[at-8:])) }
	v, t := int(u32()), int(u32())
	if v > solidMostV || t > solidMostT || len(body) != solidHead+solidPerV*v+solidPerT*t ||
		crc32.ChecksumIEEE(body) != sum {
		return nil, errNoSolid
	}
	s := &Solid{V: make([][3]float32, v), N: make([][3]float32, v), Open: make([]float32, v), T: make([][3]int32, t)}
	s.lying = u32() == 1
	at += 4
	s.ML = f64()
	bodyTo := f64()
	s.From, s.To = Vec{f64(), f64(), f64()}, Vec{f64(), f64(), f64()}
	f32 := func() float32 { return math.Float32frombits(u32()) }
	for i := range s.V {
		s.V[i], s.N[i], s.Open[i] = [3]float32{f32(), f32(), f32()}, [3]float32{f32(), f32(), f32()}, f32()
	}
	for i := range s.T {
		for k := range 3 {
			if s.T[i][k] = int32(u32()); int(s.T[i][k]) >= v || s.T[i][k] < 0 {
				return nil, errNoSolid
			}
		}
	}
	s.lookThrough(bodyTo)
	return s, nil
}
