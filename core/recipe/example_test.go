package recipe_test

import (
	"fmt"

	"cloudburst/core/cup"
	"cloudburst/core/recipe"
	. "cloudburst/testkit"
)

// A cup brought to a third of its volume, in whole drops.
func Example() {
	red := cup.Cup{
		Volume: MustVolume("1 cup"), Plastisol: "medium-plastisol", Doses: []cup.Dose{cup.DripOf("clear-red", 10)},
	}
	scaled, _ := recipe.Scale(&red, Bench(), Kit, MustVolume("80 ml"), Over(8))
	fmt.Println(scaled.Lines[0].Working)
	fmt.Println(scaled.Lines[0].Take)
	// Output:
	// 10 drops × 80 ml ÷ 1 cup (236.6 ml) = 3.38 drops
	// 3 drops
}
