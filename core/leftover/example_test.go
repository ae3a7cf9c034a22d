package leftover_test

import (
	"fmt"

	"cloudburst/core/leftover"
)

// Sprues of a laminate, melted together and topped up.
func Example() {
	liquids := func(string) float64 { return 0 }
	var tub leftover.Tub
	once := leftover.History{HeatsMean: 1, HeatsMost: 1, DoseMean: 2, DoseMost: 2}
	tub.Put(leftover.Of(60, map[string]float64{"olive": 5}, "plastisol", once, liquids), liquids)
	tub.Put(leftover.Of(40, map[string]float64{"cream": 8}, "plastisol", once, liquids), liquids)
	tub.Add(map[string]float64{"plastisol": 100}, liquids)
	fmt.Printf(
		"%.0f ml, %.1f ml of olive a litre, %.1f heats in the mean, %.0f at most\n", tub.ML(liquids),
		tub.PerLitre(liquids)["olive"], tub.HeatsMean, tub.HeatsMost,
	)
	// Output: 200 ml, 1.5 ml of olive a litre, 0.5 heats in the mean, 1 at most
}
