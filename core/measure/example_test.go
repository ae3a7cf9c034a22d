package measure_test

import (
	"fmt"

	"cloudburst/core/measure"
)

// Amounts are read as they are written, and said back.
func Example() {
	volume, _ := measure.ParseVolume("1/2 cup")
	fmt.Println(volume)
	dose, _ := measure.StandardKit().ParseDose("12 drops", measure.Liquid, volume.ML)
	fmt.Println(dose)
	_, err := measure.ParseTemperature("warm")
	fmt.Println(err)
	// Output:
	// 1/2 cup (118.3 ml)
	// 12 drops
	// "warm" has no number that can be read; type a temperature such as 350F or 177 °C
}
