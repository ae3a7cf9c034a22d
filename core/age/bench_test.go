package age

import (
	"fmt"
	"testing"

	"cloudburst/core/mix"
	"cloudburst/core/picture"
	"cloudburst/testkit"
)

func BenchmarkSays(b *testing.B) {
	shelf := testkit.Bench()
	of := minnow(b, "laminate", white, dyed)
	for b.Loop() {
		if _, err := of.Says(shelf, shelf); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkDraw draws a laminate two weeks on, as small as it is shown.
func BenchmarkDraw(b *testing.B) {
	shelf := testkit.Bench()
	of := minnow(b, "laminate", white, dyed)
	for _, day := range []float64{0, 14} {
		a, err := of.After(day, shelf)
		if err != nil {
			b.Fatal(err)
		}
		var cups []*mix.Mix
		for i := range a.Cups {
			m, err := mix.Stir(&a.Cups[i], shelf)
			if err != nil {
				b.Fatal(err)
			}
			cups = append(cups, m)
		}
		plan := picture.PlanBait(*of.Shape, of.Shape.Main(), 400, 150, false)
		b.Run(fmt.Sprintf("day %g", day), func(b *testing.B) {
			for b.Loop() {
				p := picture.BaitPicture{BaitPlan: plan, Structure: a.Structure, Cups: cups}
				p.Draw(mix.Compared)
			}
		})
	}
}
