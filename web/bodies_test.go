package web_test

import (
	"bytes"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/mesh"
)

// box is a text STL as somebody might write it by hand.
func box(long, high, wide float64) string {
	p := func(i int) string {
		return fmt.Sprintf("vertex %g %g %g", long*float64(i&1), high*float64(i>>1&1), wide*float64(i>>2))
	}
	var b strings.Builder
	b.WriteString("solid box\n")
	for _, q := range [6][4]int{{0, 2, 3, 1}, {4, 5, 7, 6}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 4, 6, 2}, {1, 3, 7, 5}} {
		for _, t := range [2][3]int{{q[0], q[1], q[2]}, {q[0], q[2], q[3]}} {
			fmt.Fprintf(
				&b, "facet normal 0 0 0\nouter loop\n%s\n%s\n%s\nendloop\nendfacet\n", p(t[0]), p(t[1]), p(t[2]),
			)
		}
	}
	b.WriteString("endsolid box\n")
	return b.String()
}

type moldPage struct {
	UID      string
	Revision int
	LengthMM float64
	Notes    string
	Card     struct {
		VolumeML, ThinnestMM, ThickestMM float64
		MainView                         string
	}
	Body  *struct{ Quarters int }
	Views []struct{ PNG string }
}

// A maker's own bait comes in from a file, is brought to its length, rolled, poured in two colours, and taken along
// again.
func TestABaitFromAFile(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	m := get[moldPage](s, "POST", "/molds/from-file?name=Plank&length=", []byte(box(100, 20, 10)))
	assert.InDelta(t, 100, m.LengthMM, 1e-9)
	assert.InEpsilon(t, 20, m.Card.VolumeML, 0.001)
	assert.InDelta(t, 10, m.Card.ThickestMM, 0.1)
	assert.InDelta(t, 10, m.Card.ThinnestMM, 0.1)
	require.Len(t, m.Views, 4)
	rolled := get[moldPage](
		s, "PATCH", "/molds/"+m.UID, anything{"field": "body.roll", "typed": "on", "seen": m.Revision},
	)
	assert.Equal(t, 1, rolled.Body.Quarters)
	assert.InDelta(t, 20, rolled.Card.ThickestMM, 0.11, "on its side one looks through its height")
	assert.NotEqual(t, m.Views[0].PNG, rolled.Views[0].PNG)
	flat := get[moldPage](
		s, "PATCH", "/molds/"+m.UID, anything{"field": "body.lying", "typed": "true", "seen": rolled.Revision},
	)
	assert.Equal(t, "back", flat.Card.MainView)
	four := get[moldPage](
		s, "PATCH", "/molds/"+m.UID, anything{"field": "lengthMM", "typed": "50 mm", "seen": flat.Revision},
	)
	assert.InEpsilon(t, 2.5, four.Card.VolumeML, 0.001, "half as long is an eighth")

	cup := list[struct{ UID string }](s, "/cups")[0].UID
	b := get[baitPage](s, "POST", "/baits", anything{"mold": m.UID, "cup": cup, "way": "laminate"})
	assert.NotEmpty(t, b.Main.PNG)
	w := s.ask("GET", "/api/v1/baits/"+b.UID+"/turn?view=0.9,0.3,0.3,0", nil)
	assert.Equal(t, 200, w.Code)
	assert.Equal(t, "image/jpeg", w.Header().Get("Content-Type"))

	stl := s.ask("GET", "/api/v1/molds/"+m.UID+"/stl", nil)
	again, _, err := mesh.Read(bytes.NewReader(stl.Body.Bytes()))
	require.NoError(t, err)
	assert.InEpsilon(t, 2.5, again.VolumeML(), 0.001)
	ours, _, err := mesh.Read(bytes.NewReader(s.ask("GET", "/api/v1/molds/grub/stl", nil).Body.Bytes()))
	require.NoError(t, err)
	assert.InEpsilon(t, 4.682, ours.VolumeML(), 0.005)

	open := strings.Replace(box(100, 20, 10), "facet normal", "facet normal", 1)
	open = open[:strings.LastIndex(open, "facet normal")] + "endsolid box\n"
	_, _, says := s.refused("POST", "/molds/from-file?name=Open&length=4+in", []byte(open))
	assert.Contains(t, says, "this body is open")
	inch := get[moldPage](s, "POST", "/molds/from-file?name=Inches&length=4+in", []byte(box(4, 1, 0.5)))
	assert.InDelta(t, 101.6, inch.LengthMM, 1e-6)
	var status int
	for name, file := range map[string]string{
		"nothing": "", "no file": "hello", "half a head": strings.Repeat("x", 83),
		"a plane": "solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 9 0 0\nvertex 0 9 0\nendloop\nendfacet\nendsolid a\n",
	} {
		status, _, says = s.refused("POST", "/molds/from-file?name=Bad", []byte(file))
		assert.Contains(t, []int{400, 422}, status, name)
		assert.NotEmpty(t, says, name)
	}
	status, _, says = s.refused("POST", "/molds/from-file?name=Long&length=9+m", []byte(box(100, 20, 10)))
	assert.Equal(t, 422, status)
	assert.NotEmpty(t, says)
	status, _, _ = s.refused(
		"PATCH", "/molds/lagoon-shad", anything{"field": "shape", "typed": "from-a-file", "seen": 1},
	)
	assert.GreaterOrEqual(t, status, 400)
}
