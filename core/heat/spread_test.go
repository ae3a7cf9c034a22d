package heat

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// A dye across a boundary agrees with the error function, and between thin layers with the series, to 1 %.
func TestADyeSpreadsAsTheErrorFunctionHasIt(t *testing.T) {
	for _, day := range []float64{2, 14} {
		for _, d := range []float64{2e-7, 2e-6, 1e-5} {
			thick := Boundary{Diffuses: d, Left: 6, Right: 0.5}
			reach := thick.Reach(day * DayS)
			half := 8 * reach // thick, as a dye sees it
			p := (&Spread{Diffuses: d, Layers: []Layered{{half, 6}, {half, 0.5}}}).After(day * DayS)
			for x := -3.0; x <= 3; x += 0.25 {
				mm := x * reach
				assert.InDelta(
					t, thick.Thick(mm, day*DayS), p.Mean(
						half+mm-0.01*reach, half+mm+0.01*reach,
					), 0.01*6, "D %g, day %g, %g mm", d,
					day, mm,
				)
			}
			for _, mm := range [][2]float64{{1, 0.8}, {4.5, 6.75}, {0.8, 9}} {
				thin := Thin{Boundary{d, 6, 0.5}, mm[0], mm[1]}
				p := (&Spread{Diffuses: d, Layers: []Layered{{mm[0], 6}, {mm[1], 0.5}}}).After(day * DayS)
				left, right := thin.Means(day * DayS)
				assert.InEpsilon(t, left, p.Mean(0, mm[0]), 0.01, "D %g, day %g, %v", d, day, mm)
				assert.InEpsilon(t, right, p.Mean(mm[0], mm[0]+mm[1]), 0.01, "D %g, day %g, %v", d, day, mm)
			}
		}
	}
}

// Nothing is lost or made in any layers, flat or round, it only evens out; after long enough all is one mixture.
func TestSpreadingLosesNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := Spread{
			Diffuses: math.Pow(10, rapid.Float64Range(-7, -4.5).Draw(t, "D")), Round: rapid.Bool().Draw(t, "round"),
		}
		all, sum, most := 0.0, 0.0, 0.0
		size := (&Profile{round: s.Round}).size
		for range rapid.IntRange(2, 4).Draw(t, "layers") {
			l := Layered{rapid.Float64Range(0.2, 12).Draw(t, "mm"), rapid.Float64Range(0, 9).Draw(t, "c")}
			s.Layers = append(s.Layers, l)
			sum += l.PerL * size(all, all+l.MM)
			all += l.MM
			most = max(most, l.PerL)
		}
		mixed := sum / size(0, all)
		p := s.After(rapid.Float64Range(0, 30).Draw(t, "days") * DayS)
		assert.InDelta(t, mixed, p.Mean(0, all), 1e-9*(1+mixed))
		for _, c := range p.perL {
			assert.GreaterOrEqual(t, c, -0.02*most)
			assert.LessOrEqual(t, c, 1.02*most)
		}
		for _, c := range s.After(1e6 * DayS).perL {
			assert.InDelta(t, mixed, c, 1e-3*(1+mixed))
		}
	})
}
