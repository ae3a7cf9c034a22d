package cup_test

import (
	"fmt"

	"cloudburst/core/cup"
	. "cloudburst/testkit"
)

// Three drops go in, and half of the cup is poured: what stays has half of each.
func Example() {
	volume := MustVolume("1 cup")
	live := cup.Live{Cup: cup.Cup{Volume: volume, Plastisol: "medium-plastisol"}}
	for _, step := range []cup.Step{
		{Kind: cup.Drip, Material: "clear-red", Drops: 3}, {Kind: cup.PourOut, Typed: "half"},
	} {
		live, _ = step.Apply(live, Bench(), Kit)
	}
	fmt.Println(live.Volume, live.Doses[0].Amount)
	// Output:
	// 118.3 ml 1.5 drops
}
