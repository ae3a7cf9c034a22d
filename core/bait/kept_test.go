package bait

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cloudburst/core/anatomy"
)

// A shape that was kept is the shape that was made; one that was damaged is made anew.
func TestAKeptShapeIsTheOneThatWasMade(t *testing.T) {
	drawer := map[string][]byte{}
	made := 0
	was := keeping
	defer KeepShapes(was)
	KeepShapes(Keeping{
		func(name string) []byte { return drawer[name] }, func(name string, raw []byte) { drawer[name] = raw },
	})
	for _, b := range anatomy.All()[:3] {
		grow := func() *Solid { made++; return grown(b, 1) }
		first := kept(b.Key, grow)
		again := kept(b.Key, grow)
		require.Equal(t, first, again, b.Key)
	}
	assert.Equal(t, 3, made)
	name := anatomy.All()[0].Key
	whole := drawer[name]
	for _, damaged := range [][]byte{
		nil, whole[:len(whole)/2], append([]byte("x"), whole...), whole[:len(whole)-1], {},
	} {
		made, drawer[name] = 0, damaged
		s := kept(name, func() *Solid { made++; return grown(anatomy.All()[0], 1) })
		assert.NotEmpty(t, s.T)
		assert.Equal(t, 1, made)
		assert.Equal(t, whole, drawer[name], "and kept again")
	}
}

func TestNoFileOfAShapeIsTrusted(t *testing.T) {
	whole := grown(anatomy.All()[0], 2).file()
	rapid.Check(t, func(t *rapid.T) {
		raw := append([]byte{}, whole...)
		at := rapid.IntRange(0, len(raw)-1).Draw(t, "at")
		raw[at] ^= byte(rapid.IntRange(1, 255).Draw(t, "by"))
		_, err := readSolid(raw)
		assert.Error(t, err)
		_, err = readSolid(rapid.SliceOf(rapid.Byte()).Draw(t, "anything"))
		assert.Error(t, err)
	})
}
