package bait

// Facts are a shape's measures, known without making it.
type Facts struct {
	LengthMM, ML, ThinMM, ThickMM float64
	Lying                         bool
	About                         string
}

// facts of our own shapes: length, volume, thinnest and thickest section. A test holds them to what the shapes are.
var facts = map[string][4]float64{
	"paddle-minnow":    {100, 9.728, 1.8, 13.0},
	"stick":            {127, 9.590, 5.8, 11.4},
	"finesse-worm":     {115, 2.783, 1.0, 8.4},
	"grub":             {78, 4.682, 0.8, 14.1},
	"craw":             {102, 7.204, 1.4, 11.4},
	"creature":         {102, 6.930, 0.9, 12.0},
	"tube":             {96, 6.121, 2.7, 15.3},
	"drop-shot-minnow": {76, 2.923, 1.1, 7.6},
	"toad":             {100, 15.961, 1.1, 12.9},
	"sand-eel":         {113, 3.919, 2.9, 7.0},
	"shrimp":           {89, 3.392, 2.6, 8.2},
	"newt":             {121, 5.586, 2.0, 9.4},
}

// FactsOf gives them; ok is false for a key that is none of our shapes.
func FactsOf(key string) (f Facts, ok bool) {
	for _, b := range bodies() {
		if b.Key == key {
			v := facts[key]
			return Facts{v[0], v[1], v[2], v[3], b.Lying, b.About}, true
		}
	}
	return f, false
}
