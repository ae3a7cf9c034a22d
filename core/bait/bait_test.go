package bait_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	. "cloudburst/core/bait"
)

// integral adds a view's thickness up, ml.
func integral(s *Shape, view View) float64 {
	const step = 0.1
	sum := 0.0
	for x := s.FromX + step/2; x < s.ToX; x += step {
		for y := -s.HalfY - 10; y < s.HalfY+10; y += step {
			sum += s.At(x, y, view).MM * step * step
		}
	}
	return sum / 1000
}

func TestVolumesAgreeWithTheirThickness(t *testing.T) {
	shapes := Shapes()
	require.GreaterOrEqual(t, len(shapes), 9)
	for _, s := range shapes {
		v := s.VolumeML()
		assert.True(t, v > 0.5 && v < 40, "%s: %.1f ml", s.Key, v)
		assert.InEpsilon(t, v, integral(&s, Side), 0.01, s.Key)
		found, err := Find(s.Key)
		require.NoError(t, err)
		assert.Equal(t, s.Name, found.Name)
		assert.Less(t, s.ThinnestMM(), s.ThickestMM()+1e-9, s.Key)
		for x := s.FromX; x <= s.ToX; x++ { // the picture holds all of it
			assert.Zero(t, s.At(x, s.HalfY, Side).MM, s.Key)
			assert.Zero(t, s.At(x, -s.HalfY, Side).MM, s.Key)
		}
	}
	_, err := Find("spoon")
	assert.ErrorContains(t, err, "no bait is called")
	paddle, _ := Find("paddle-minnow")
	assert.Less(t, paddle.At(94, -1, Side).MM, 0.3*paddle.At(25, 0, Side).MM, "a paddle is thinner than its body")
	assert.InEpsilon(t, paddle.At(25, 0, Side).MM/2*1, paddle.At(25, 0, Back).Half, 0.05, "seen from the back, height and width change places")
	assert.Equal(t, 2, paddle.Fills(2.9*paddle.VolumeML()))
	tube, _ := Find("tube")
	assert.InDelta(t, 3.2, tube.At(40, 0, Side).MM, 1e-9, "two walls")
}

func TestSlicesFillThePoint(t *testing.T) {
	shapes := Shapes()
	rapid.Check(t, func(t *rapid.T) {
		s := rapid.SampledFrom(shapes).Draw(t, "shape")
		st := Structure{
			Kind: rapid.SampledFrom([]Kind{Single, Laminate, Core}).Draw(t, "kind"), BoundaryAt: rapid.Float64Range(-0.9, 0.9).Draw(t, "at"),
			BlurMM: rapid.Float64Range(0, 10).Draw(t, "blur"), CoreShare: rapid.Float64Range(0.05, 0.95).Draw(t, "core"),
		}
		if err := st.Check(); err != nil {
			t.Fatal(err)
		}
		view := rapid.SampledFrom([]View{Side, Back}).Draw(t, "view")
		p := s.At(rapid.Float64Range(s.FromX, s.ToX).Draw(t, "x"), rapid.Float64Range(-s.HalfY, s.HalfY).Draw(t, "y"), view)
		cut := st.Split(p, view)
		for _, v := range []float64{cut.First, cut.Second, cut.Last} {
			if !(v >= -1e-12 && v <= 1+1e-12) {
				t.Fatalf("%+v of %+v", cut, p)
			}
		}
		if sum := cut.First + cut.Second + cut.Last; math.Abs(sum-1) > 1e-9 {
			t.Fatalf("the slices of %+v come to %v", p, sum)
		}
	})
}

func TestPartsFillTheBait(t *testing.T) {
	for _, s := range Shapes() {
		low, _ := s.SharesOf(&Structure{Kind: Laminate, BoundaryAt: 0.5})
		high, rest := s.SharesOf(&Structure{Kind: Laminate, BoundaryAt: -0.5})
		assert.Less(t, low, high, "%s: a lower boundary gives the back more", s.Key)
		assert.InDelta(t, 1, high+rest, 1e-9)
		one, none := s.SharesOf(&Structure{Kind: Single})
		assert.InDelta(t, 1, one, 1e-12)
		assert.Zero(t, none)
	}
	stick, _ := Find("stick")
	_, core := stick.SharesOf(&Structure{Kind: Core, CoreShare: 0.5})
	assert.InDelta(t, 0.25, core, 0.02, "half as wide is a quarter of the volume")
}

func TestBadStructuresAreNamed(t *testing.T) {
	for says, st := range map[string]Structure{
		"inside the bait":  {Kind: Laminate, BoundaryAt: 2},
		"0 to 10 mm":       {Kind: Laminate, BlurMM: -1},
		"narrower than":    {Kind: Core, CoreShare: 1.2},
		"single, laminate": {Kind: "swirl"},
		"from 5 to 95":     {Kind: Core},
		"boundary lies":    {Kind: Laminate, BoundaryAt: math.NaN()},
	} {
		assert.ErrorContains(t, st.Check(), says)
	}
}
