package picture_test

import (
	"fmt"

	"cloudburst/core/cup"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
	"cloudburst/core/picture"
	. "cloudburst/testkit"
)

// The wedge of a red cup over white: paler where it is thin.
func Example() {
	red := cup.Cup{
		Volume: MustVolume("1 cup"), Plastisol: "medium-plastisol", Doses: []cup.Dose{cup.DripOf("clear-red", 9)},
	}
	m, _ := mix.Stir(&red, Bench())
	wedge := picture.Wedge(m, Over(mix.BodyMM), picture.WedgeSize{Width: 200, Strip: 20}, optics.White)
	thin, thick := wedge.RGBAAt(2, 10), wedge.RGBAAt(190, 10)
	fmt.Println(wedge.Rect.Dx(), thin.G > thick.G)
	// Output:
	// 200 true
}
