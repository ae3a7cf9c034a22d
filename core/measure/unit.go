package measure

// US customary measures, in ml.
const (
	TeaspoonML   = 4.92892
	FluidOunceML = 29.5735
	CupML        = 236.588
	PintML       = 2 * CupML
	QuartML      = 4 * CupML
	GallonML     = 16 * CupML
	LitreML      = 1000.0
)

type unit struct {
	ml        float64
	one, many string   // how it is said back
	spellings []string // as typed, lower case, without full stops
}

var volumeUnits = []unit{
	{CupML, "cup", "cups", []string{"cup", "cups", "c"}},
	{FluidOunceML, "fl oz", "fl oz", []string{"fl oz", "floz", "oz", "ounce", "ounces", "fluid ounce", "fluid ounces"}},
	{1, "ml", "ml", []string{"ml", "cc", "millilitre", "millilitres", "milliliter", "milliliters"}},
	{LitreML, "l", "l", []string{"l", "litre", "litres", "liter", "liters"}},
	{PintML, "pint", "pints", []string{"pint", "pints", "pt"}},
	{QuartML, "quart", "quarts", []string{"quart", "quarts", "qt"}},
	{GallonML, "gal", "gal", []string{"gal", "gallon", "gallons"}},
}

func findVolumeUnit(typed string) (unit, bool) {
	for _, u := range volumeUnits {
		for _, s := range u.spellings {
			if s == typed {
				return u, true
			}
		}
	}
	return unit{}, false
}
