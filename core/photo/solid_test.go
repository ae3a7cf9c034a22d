package photo

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// How solid shapes of pixels are, counted by hand.
func TestSolidity(t *testing.T) {
	for _, s := range []struct {
		rows []string
		want float64
	}{
		{[]string{"###", "###"}, 1},
		{[]string{"#", "#", "#"}, 1},
		{[]string{"##..", ".##.", "..##"}, 1},         // a slanting line
		{[]string{"#...", ".#..", "..#.", "...#"}, 1}, // and a thin one
		{[]string{".##.", "####", ".##."}, 1},
		{[]string{"#..", "#..", "###"}, 5.0 / 6},                     // the hull holds the slope's middle
		{[]string{"#.#", "#.#", "###"}, 7.0 / 9},                     // a hollow
		{[]string{"##.....##", "####.####", "##.....##"}, 16.0 / 27}, // two that touch nowhere
		{[]string{"..#..", ".###.", "#####", ".###.", "..#.."}, 1},
	} {
		c := &census{w: 9, h: len(s.rows)}
		var at []int32
		for y, row := range s.rows {
			for x, p := range row {
				if p == '#' {
					at = append(at, int32(y*c.w+x))
				}
			}
		}
		assert.InDelta(t, s.want, c.solidity(at), 1e-9, "%v", s.rows)
	}
}
