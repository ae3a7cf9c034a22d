package mesh_test

import (
	"bytes"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cloudburst/core/measure"
	. "cloudburst/core/mesh"
)

func ball(r float64) Field { return func(p Vec) float64 { return p.Long() - r } }

// rod is a cylinder with round ends.
func rod(half, r float64) Field {
	return func(p Vec) float64 {
		p[0] -= max(-half, min(half, p[0]))
		return p.Long() - r
	}
}

func over(t testing.TB, f Field, reach, step float64) *Mesh {
	t.Helper()
	m, err := Over(t.Context(), f, Vec{-reach, -reach, -reach}, Vec{reach, reach, reach}, step)
	require.NoError(t, err)
	return m
}

func TestBodiesOfKnownVolume(t *testing.T) {
	for name, c := range map[string]struct {
		f    Field
		ml   float64
		area float64
	}{
		"ball": {ball(9), 4.0 / 3 * math.Pi * 729 / 1000, 4 * math.Pi * 81},
		"rod":  {rod(6, 3), (math.Pi*9*12 + 4.0/3*math.Pi*27) / 1000, 2*math.Pi*3*12 + 4*math.Pi*9},
	} {
		m := over(t, c.f, 11, 0.36)
		require.True(t, m.Closed(), name)
		assert.InEpsilon(t, c.ml, m.VolumeML(), 0.003, name)
		assert.InEpsilon(t, c.area, m.AreaMM2(), 0.01, name)
		for _, v := range m.V {
			require.Less(t, math.Abs(c.f(v)), 0.02, "%s: corners lie on the surface", name)
		}
	}
}

func TestTwoRunsGiveTheSameMesh(t *testing.T) {
	assert.Equal(t, over(t, rod(6, 3), 11, 0.5), over(t, rod(6, 3), 11, 0.5))
}

// Wherever a body lies, however it is turned about and however its triangles are mixed up: the same volume, and a file
// gives it back.
func TestAFileGivesTheBodyBack(t *testing.T) {
	body := over(t, rod(6, 3), 11, 0.8)
	want := body.VolumeML()
	rapid.Check(t, func(t *rapid.T) {
		rng := rand.New(rand.NewPCG(rapid.Uint64().Draw(t, "seed"), 1))
		m := &Mesh{V: append([]Vec{}, body.V...), T: append([][3]int32{}, body.T...)}
		by := Vec{rapid.Float64Range(-300, 300).Draw(t, "x"), rapid.Float64Range(-300, 300).Draw(t, "y"), 7}
		for i := range m.V {
			m.V[i] = m.V[i].Plus(by)
		}
		rng.Shuffle(len(m.T), func(i, j int) { m.T[i], m.T[j] = m.T[j], m.T[i] })
		wrong := 0
		for i := range m.T {
			if rng.IntN(5) == 0 {
				m.T[i][0], m.T[i][1] = m.T[i][1], m.T[i][0]
				wrong++
			}
		}
		var file bytes.Buffer
		if err := m.WriteSTL(&file); err != nil {
			t.Fatal(err)
		}
		got, says, err := Read(&file)
		if err != nil {
			t.Fatal(err)
		}
		if !got.Closed() || math.Abs(got.VolumeML()/want-1) > 1e-4 {
			t.Fatalf("%.5f ml for %.5f, %s", got.VolumeML(), want, says)
		}
		if wrong > 0 && !strings.Contains(says, "urned") {
			t.Fatalf("%d triangles were wrong: %q", wrong, says)
		}
	})
}

// A cube of 20 mm, by hand: eight corners, faces of four.
const cube = `# by hand
v 0 0 0
v 20 0 0
v 20 20 0
v 0 20 0
v 0 0 20
v 20 0 20
v 20 20 20
v 0 20 20
f 1 4 3 2
f 5 6 7 8
f 1/1 2/2 6/3 5/4
f 2 3 7 6
f 3 4 8 7
f -4 -8 -5 -1
`

func TestACubeByHand(t *testing.T) {
	m, says, err := Read(strings.NewReader(cube))
	require.NoError(t, err)
	assert.InDelta(t, 8, m.VolumeML(), 1e-9)
	assert.Len(t, m.T, 12)
	from, to := m.Bounds()
	assert.Equal(t, Vec{}, from)
	assert.Equal(t, Vec{20, 20, 20}, to)
	assert.InDelta(t, 2400, m.AreaMM2(), 1e-9)
	assert.NotContains(t, says, "hole")
	m.Scale(0.5)
	assert.InDelta(t, 1, m.VolumeML(), 1e-9)
}

// A tetrahedron in words, as a text STL: legs of 10, 20 and 30 mm, a sixth of 6 ml; and the same inside out.
func TestATextFile(t *testing.T) {
	var b strings.Builder
	b.WriteString("solid leg\n")
	for _, f := range []string{
		"0 0 0/0 20 0/10 0 0", "0 0 0/10 0 0/0 0 30", "0 0 0/0 0 30/0 20 0", "10 0 0/0 20 0/0 0 30",
	} {
		b.WriteString("facet normal 0 0 0\nouter loop\n")
		for v := range strings.SplitSeq(f, "/") {
			fmt.Fprintln(&b, "vertex", v)
		}
		b.WriteString("endloop\nendfacet\n")
	}
	b.WriteString("endsolid leg\n")
	m, _, err := Read(strings.NewReader(b.String()))
	require.NoError(t, err)
	assert.InDelta(t, 1, m.VolumeML(), 1e-9)
	for i := range m.T {
		m.T[i][0], m.T[i][1] = m.T[i][1], m.T[i][0]
	}
	did, err := m.Mend()
	require.NoError(t, err)
	assert.InDelta(t, 1, m.VolumeML(), 1e-9)
	assert.Contains(t, fmt.Sprint(did), "inside out")
}

func TestSmallHolesAreClosedAndLargeOnesAreSaid(t *testing.T) {
	body := over(t, ball(9), 11, 0.8)
	whole := body.VolumeML()
	hole := func(wide float64) *Mesh {
		m := &Mesh{V: append([]Vec{}, body.V...)}
		for _, t := range body.T {
			if v := body.V[t[0]]; math.Hypot(v[0], v[1]) > wide || v[2] < 0 {
				m.T = append(m.T, t)
			}
		}
		return m
	}
	m := hole(1.2)
	require.False(t, m.Closed())
	did, err := m.Mend()
	require.NoError(t, err)
	assert.Contains(t, fmt.Sprint(did), "closed 1 small hole")
	assert.InEpsilon(t, whole, m.VolumeML(), 0.005)
	_, err = hole(6).Mend()
	var f *measure.Fault
	require.ErrorAs(t, err, &f)
	assert.Contains(t, f.Says, "hole")
}

func TestWhatIsNoBody(t *testing.T) {
	three := cube + "v 10 10 40\nf 1 2 9\n" // a sail on an edge
	huge := strings.Replace(cube, "v 20 20 20", "v 20 20 1e7", 1)
	for name, c := range map[string]struct{ file, says string }{
		"nothing":     {"", "no STL and no OBJ"},
		"words":       {"a lure I liked", "no STL and no OBJ"},
		"a sheet":     {"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "fewer than four"},
		"a sail":      {three, "three sheets"},
		"far away":    {huge, "ten metres"},
		"no corner":   {"v 0 0 0\nf 1 2 3\n", "not there"},
		"no figures":  {"v a b c\n", "can't be read"},
		"two figures": {"v 1 2\n", "three figures"},
		"not a number": {
			"solid x\nvertex NaN 0 0\nvertex 1 0 0\nvertex 0 1 0\n" + strings.Repeat("vertex 0 0 1\n", 9),
			"lie nowhere",
		},
	} {
		_, _, err := Read(strings.NewReader(c.file))
		var f *measure.Fault
		require.ErrorAs(t, err, &f, name)
		assert.Contains(t, f.Says, c.says, name)
	}
	many := make([]byte, 84+50)
	copy(many[80:], []byte{255, 255, 255, 127})
	_, _, err := Read(bytes.NewReader(many))
	require.Error(t, err, "a head that claims two thousand million triangles")
}

// Whatever is read ends in a body with a volume or in a sentence, never in a panic.
func FuzzRead(f *testing.F) {
	f.Add([]byte(cube))
	f.Add([]byte("solid x\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\n"))
	m, _, _ := Read(strings.NewReader(cube))
	var b bytes.Buffer
	_ = m.WriteSTL(&b)
	f.Add(b.Bytes())
	f.Fuzz(func(t *testing.T, raw []byte) {
		m, _, err := Read(bytes.NewReader(raw))
		if err != nil {
			var fault *measure.Fault
			require.ErrorAs(t, err, &fault)
			return
		}
		require.True(t, m.Closed())
		require.GreaterOrEqual(t, m.VolumeML(), 0.0)
	})
}

func BenchmarkOver(b *testing.B) {
	for b.Loop() {
		over(b, rod(40, 9), 52, 0.36)
	}
}

func BenchmarkRead(b *testing.B) {
	var file bytes.Buffer
	m := over(b, rod(40, 9), 52, 0.3)
	require.NoError(b, m.WriteSTL(&file))
	b.ReportMetric(float64(len(m.T)), "triangles")
	for b.Loop() {
		_, _, err := Read(bytes.NewReader(file.Bytes()))
		require.NoError(b, err)
	}
}
