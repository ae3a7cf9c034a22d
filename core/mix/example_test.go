package mix_test

import (
	"fmt"

	"cloudburst/core/cup"
	"cloudburst/core/mix"
	. "cloudburst/testkit"
)

// One cup with nine drops of red, as a body and as a fin over white.
func Example() {
	red := cup.Cup{
		Volume: MustVolume("1 cup"), Plastisol: "medium-plastisol", Doses: []cup.Dose{cup.DripOf("clear-red", 9)},
	}
	m, _ := mix.Stir(&red, Bench())
	for _, mm := range []float64{mix.BodyMM, mix.FinMM} {
		lab := m.Colour(Over(mm))
		fmt.Printf("%g mm: %s\n", mm, lab.SRGB().Hex())
	}
	// Output:
	// 8 mm: #e10025
	// 1.5 mm: #fc88a9
}
