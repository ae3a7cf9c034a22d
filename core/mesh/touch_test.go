package mesh_test

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	. "cloudburst/core/mesh"
)

// blocks is the skin of those cells of a grid that are filled, 10 mm each: where two of them touch along an edge, or
// in a corner, so do their sheets.
func blocks(full map[[3]int]bool) *Mesh {
	m := &Mesh{}
	at := map[[3]int]int32{}
	corner := func(p [3]int) int32 {
		i, there := at[p]
		if !there {
			i = int32(len(m.V))
			at[p] = i
			m.V = append(m.V, Vec{float64(p[0]), float64(p[1]), float64(p[2])}.Times(10))
		}
		return i
	}
	for c := range full {
		for axis := range 3 {
			u, v := (axis+1)%3, (axis+2)%3
			for way := range 2 {
				next := c
				next[axis] += 2*way - 1
				if full[next] {
					continue
				}
				var q [4]int32
				for k, o := range [4][2]int{{0, 0}, {1, 0}, {1, 1}, {0, 1}} {
					p := c
					p[axis] += way
					p[u] += o[0]
					p[v] += o[1]
					q[k] = corner(p)
				}
				if way == 0 {
					q[1], q[3] = q[3], q[1]
				}
				m.T = append(m.T, [3]int32{q[0], q[1], q[2]}, [3]int32{q[0], q[2], q[3]})
			}
		}
	}
	return m
}

func TestSheetsThatTouchAreParted(t *testing.T) {
	m := blocks(map[[3]int]bool{{0, 0, 0}: true, {1, 1, 0}: true})
	open, crowded := m.Open()
	require.Zero(t, open)
	require.Equal(t, 2, crowded, "one edge, counted from either end")
	did, err := m.Mend()
	require.NoError(t, err)
	assert.Equal(t, []string{"parted sheets that touch in 1 edge"}, did)
	assert.True(t, m.Closed())
	assert.InDelta(t, 2, m.VolumeML(), 1e-12)
	assert.InDelta(t, 1200, m.AreaMM2(), 1e-9)
}

// Blocks at random keep their volume and skin, as they are or inside out, and what is written of them is read again
// without anything to mend.
func TestBlocksThatTouchAnyhow(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		full := map[[3]int]bool{}
		for i, on := range rapid.SliceOfN(rapid.Bool(), 27, 27).Draw(t, "full") {
			if on {
				full[[3]int{i % 3, i / 3 % 3, i / 9}] = true
			}
		}
		if len(full) == 0 {
			return
		}
		m := blocks(full)
		area := m.AreaMM2()
		var file bytes.Buffer
		require.NoError(t, m.WriteSTL(&file))
		again, did, err := Read(&file)
		require.NoError(t, err)
		require.Empty(t, did)
		if rapid.Bool().Draw(t, "inside out") {
			for i := range m.T {
				m.T[i][1], m.T[i][2] = m.T[i][2], m.T[i][1]
			}
		}
		_, err = m.Mend()
		require.NoError(t, err)
		for _, m := range []*Mesh{m, again} {
			require.True(t, m.Closed())
			require.InDelta(t, float64(len(full)), m.VolumeML(), 1e-9)
			require.InDelta(t, area, m.AreaMM2(), 1e-6)
		}
	})
}
