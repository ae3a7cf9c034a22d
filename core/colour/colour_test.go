package colour_test

import (
	"encoding/csv"
	"encoding/json"
	"os"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	. "cloudburst/core/colour"
)

func readTable(t *testing.T, file string) [][]float64 {
	t.Helper()
	f, err := os.Open(file)
	require.NoError(t, err)
	defer f.Close()
	rows, err := csv.NewReader(f).ReadAll()
	require.NoError(t, err)
	var table [][]float64
	for _, row := range rows[1:] {
		var line []float64
		for _, cell := range row {
			if strings.HasPrefix(cell, "#") {
				continue
			}
			v, err := strconv.ParseFloat(cell, 64)
			require.NoError(t, err)
			line = append(line, v)
		}
		table = append(table, line)
	}
	return table
}

func TestPublishedDifferencePairs(t *testing.T) {
	rows := readTable(t, "testdata/ciede2000_sharma.csv")
	require.Len(t, rows, 34)
	for _, r := range rows {
		p, q := Lab{L: r[1], A: r[2], B: r[3]}, Lab{L: r[4], A: r[5], B: r[6]}
		assert.InDelta(t, r[7], DeltaE00(p, q), 0.00005, "pair %v", r[0])
		assert.InDelta(t, r[7], DeltaE00(q, p), 0.00005, "pair %v the other way round", r[0])
	}
}

func TestSpectraAgainstIndependentTool(t *testing.T) {
	raw, err := os.ReadFile("testdata/spectra.json")
	require.NoError(t, err)
	var file struct {
		Vectors []struct {
			ID     string
			R      Spectrum
			LabD65 []float64 `json:"lab_d65"`
			LabD50 []float64 `json:"lab_d50"`
			LabA   []float64 `json:"lab_a"`
		}
	}
	require.NoError(t, json.Unmarshal(raw, &file))
	require.Len(t, file.Vectors, 30)
	worst := map[Light]float64{}
	for _, v := range file.Vectors {
		for light, want := range map[Light][]float64{D65: v.LabD65, D50: v.LabD50, A: v.LabA} {
			d := DeltaE00(light.Lab(&v.R), Lab{L: want[0], A: want[1], B: want[2]})
			worst[light] = max(worst[light], d)
		}
	}
	t.Logf("worst ΔE00: %v", worst)
	assert.Less(t, worst[D65], 0.002)
	assert.Less(t, worst[D50], 0.005)
	assert.Less(t, worst[A], 0.005)
}

func TestScreenVectors(t *testing.T) {
	rows := readTable(t, "testdata/srgb_vectors.csv")
	require.Len(t, rows, 40)
	for _, r := range rows {
		lin := RGB{R: Decode(r[0] / 255), G: Decode(r[1] / 255), B: Decode(r[2] / 255)}
		assert.InDeltaSlice(t, r[3:6], []float64{lin.R, lin.G, lin.B}, 1e-7)
		xyz := lin.XYZ()
		assert.InDeltaSlice(t, r[6:9], []float64{xyz.X, xyz.Y, xyz.Z}, 1e-4)
		lab := xyz.Lab(XYZ{X: 95.047, Y: 100, Z: 108.883})
		assert.InDeltaSlice(t, r[9:12], []float64{lab.L, lab.A, lab.B}, 1e-4)
		assert.Equal(t, SRGB8{R: uint8(r[0]), G: uint8(r[1]), B: uint8(r[2])}, lin.Lab().SRGB(), "there and back")
	}
}

func TestEveryLightHasItsOwnWhite(t *testing.T) {
	white := Flat(1)
	for _, light := range Lights() {
		assert.InDelta(t, 100, light.XYZ(&white).Y, 0.001, light)
		assert.Less(t, DeltaE00(light.Lab(&white), Lab{L: 100}), 0.01, light)
		assert.NotEmpty(t, light.Name())
		parsed, err := ParseLight(string(light))
		assert.NoError(t, err)
		assert.Equal(t, light, parsed)
	}
	_, err := ParseLight("candle")
	assert.ErrorContains(t, err, "D65")
}

func anyLab(t *rapid.T, name string) Lab {
	return Lab{
		L: rapid.Float64Range(0, 100).Draw(t, name+"L"),
		A: rapid.Float64Range(-110, 110).Draw(t, name+"a"),
		B: rapid.Float64Range(-110, 110).Draw(t, name+"b"),
	}
}

func TestOutOfGamutKeepsHueAndLightness(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := anyLab(t, "c")
		c.L = rapid.Float64Range(15, 90).Draw(t, "L")
		got := c.SRGB()
		shown := RGB{
			R: Decode(float64(got.R) / 255), G: Decode(float64(got.G) / 255), B: Decode(float64(got.B) / 255),
		}.Lab()
		if d := shown.L - c.L; d > 1.2 || d < -1.2 {
			t.Fatalf("lightness moved by %.2f for %v → %v", d, c, shown)
		}
		if shown.Chroma() > 12 && c.Chroma() > 12 {
			turn := shown.HueDeg() - c.HueDeg()
			for turn > 180 {
				turn -= 360
			}
			for turn < -180 {
				turn += 360
			}
			if turn > 4 || turn < -4 {
				t.Fatalf("hue turned by %.1f° for %v → %v", turn, c, shown)
			}
		}
	})
}

func TestDifferenceIsSymmetricAndZeroOnlyForItself(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p, q := anyLab(t, "p"), anyLab(t, "q")
		if d := DeltaE00(p, q) - DeltaE00(q, p); d > 1e-9 || d < -1e-9 {
			t.Fatalf("not symmetric by %g", d)
		}
		if DeltaE00(p, p) != 0 {
			t.Fatal("a colour differs from itself")
		}
	})
}

func TestWords(t *testing.T) {
	for _, c := range []struct {
		is, wanted Lab
		words      string
	}{
		{Lab{L: 40}, Lab{L: 40.2}, ""},
		{Lab{L: 40}, Lab{L: 42}, "a touch darker"},
		{Lab{L: 60}, Lab{L: 40}, "much paler"},
		{Lab{L: 50, A: 3}, Lab{L: 50}, "redder"},
		{Lab{L: 50, A: -40, B: 5}, Lab{L: 50, A: -40, B: -5}, "yellower"},
		{Lab{L: 50, A: 20, B: 20}, Lab{L: 50, A: 30, B: 30}, "duller"},
		{Lab{L: 50, A: 0, B: -60}, Lab{L: 50, A: 0, B: -50}, "cleaner"},
	} {
		assert.Contains(t, Lean(c.is, c.wanted), c.words, "%v from %v", c.is, c.wanted)
		if c.words == "" {
			assert.Empty(t, Lean(c.is, c.wanted))
		}
	}
	got := Compare(Lab{L: 45, A: 1}, Lab{L: 40})
	assert.Equal(t, "similar", got.Nearness)
	for limit, words := range map[float64]string{
		0.99: "can't be told apart", 1.99: "same bag", 3.99: "close", 7.99: "similar", 8: "another colour",
	} {
		assert.Equal(t, words, Nearness(limit))
	}
}

func BenchmarkLab(b *testing.B) {
	r := Flat(0.4)
	for b.Loop() {
		D65.Lab(&r)
	}
}
