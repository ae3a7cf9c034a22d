package mesh_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	. "cloudburst/core/mesh"
)

// A body that lies anyhow is brought to lie as a bait does: long, thick end first, higher than wide; and is the same
// when it was kept.
func TestABodyIsTurnedUpright(t *testing.T) {
	drop := Field(func(p Vec) float64 { // thick at -x
		x := min(20, max(-20, p[0]))
		r := 5 - 0.15*x
		return math.Hypot(math.Hypot(p[0]-x, 0.7*p[1]), 1.3*p[2]) - r
	})
	base, err := Over(t.Context(), drop, Vec{-34, -16, -10}, Vec{34, 16, 10}, 0.8)
	require.NoError(t, err)
	rapid.Check(t, func(t *rapid.T) {
		m := &Mesh{T: base.T, V: append([]Vec(nil), base.V...)}
		a, b := rapid.Float64Range(0, 6).Draw(t, "a"), rapid.Float64Range(0, 6).Draw(t, "b")
		off := rapid.Float64Range(-500, 500).Draw(t, "off")
		for i, p := range m.V {
			p = Vec{p[0]*math.Cos(a) - p[1]*math.Sin(a), p[0]*math.Sin(a) + p[1]*math.Cos(a), p[2]}
			m.V[i] = Vec{p[0]*math.Cos(b) - p[2]*math.Sin(b) + off, p[1] - off, p[0]*math.Sin(b) + p[2]*math.Cos(b)}
		}
		was := m.VolumeML()
		m.Upright()
		m.FitLength(100)
		m.Centre()
		from, to := m.Bounds()
		size := to.Minus(from)
		if math.Abs(size[0]-100) > 1e-6 || size[1] < size[2] || math.Abs(from[1]+to[1]) > 1e-9 {
			t.Fatalf("%v", size)
		}
		front, back := 0.0, 0.0
		for _, v := range m.V {
			if v[0] < 30 {
				front = max(front, math.Abs(v[1]))
			} else if v[0] > 70 {
				back = max(back, math.Abs(v[1]))
			}
		}
		if front <= back {
			t.Fatalf("the thin end comes first: %v before, %v behind", front, back)
		}
		if was <= 0 || m.VolumeML() <= 0 {
			t.Fatalf("turned inside out: %v ml, %v ml", was, m.VolumeML())
		}
		volume := m.VolumeML()
		for range 4 {
			m.Quarter()
		}
		for axis := range 3 {
			m.Half(axis)
		}
		if math.Abs(m.VolumeML()-volume) > 1e-9*volume {
			t.Fatal("turning changes what it holds")
		}
	})
	raw, err := base.Pack()
	require.NoError(t, err)
	again, err := Unpack(raw)
	require.NoError(t, err)
	assert.Equal(t, base.T, again.T)
	assert.InEpsilon(t, base.VolumeML(), again.VolumeML(), 1e-6)
	for _, bad := range [][]byte{nil, []byte("skin1"), []byte("solid it"), raw[:len(raw)/2]} {
		_, err := Unpack(bad)
		assert.Error(t, err)
	}
}
