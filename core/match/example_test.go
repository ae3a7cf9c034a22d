package match_test

import (
	"context"
	"fmt"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/match"
	. "cloudburst/testkit"
)

// A brown that was read over white at 8 mm, from two bottles at most.
func Example() {
	wish := match.Wish{
		Cup:      cup.Cup{Volume: MustVolume("1 cup"), Plastisol: "medium-plastisol"},
		Readings: []match.Reading{{Name: "back", Lab: colour.Lab{L: 40, A: 12, B: 30}, At: Over(8), Weight: 1}},
		Allowed:  []string{"clear-red", "carbon-black", "yellow-dye", "clear-blue"}, Most: 2,
	}
	result, err := match.Search(context.Background(), &wish, Bench(), Kit, nil)
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, d := range result.Candidates[0].Cup.Doses {
		fmt.Println(d.Typed, d.Material)
	}
	// Output:
	// 2 drops carbon-black
	// 1 drop yellow-dye
}
