package heat_test

import (
	"fmt"

	"cloudburst/core/heat"
)

// A cup from the cupboard to the shot: one long burst, a stir, a short one.
func Example() {
	cup := heat.NewCup(249, heat.UsualCpJgK, 22, 22, heat.UsualCoolPerS)
	cup.Burst(1000, heat.UsualEfficiency, 110)
	cup.Rest(20)
	fmt.Printf("%.0f °C, then %.0f s more\n", cup.C, cup.BurstFor(177, 1000, heat.UsualEfficiency))
	// Output: 150 °C, then 23 s more
}
