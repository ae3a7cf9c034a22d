package match

import (
	"cmp"
	"math"
	"strings"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/fit"
	"cloudburst/core/measure"
	"cloudburst/core/mix"
	"cloudburst/core/optics"
)

// Move is what a maker says of a cup beside what it is to become.
type Move struct {
	What MoveKind `json:"what" enum:"too dark,too pale,more red,more yellow,more green,more blue,warmer,cooler,cleaner,dirtier,too see-through,too solid"`
	Much HowMuch  `json:"much" enum:"slight,some,lot"`
}

// MoveKind is what is wrong.
type MoveKind string

// HowMuch is by how much.
type HowMuch string

// Moves lists what can be said.
func Moves() []MoveKind {
	return []MoveKind{
		"too dark", "too pale", "more red", "more yellow", "more green", "more blue", "warmer", "cooler", "cleaner",
		"dirtier", "too see-through", "too solid",
	}
}

// Name is a move as one says it: redder, too dark.
func (m MoveKind) Name() string { return cmp.Or(comparatives[m], string(m)) }

// HowMuches lists by how much.
func HowMuches() []HowMuch { return []HowMuch{"slight", "some", "lot"} }

// What words are worth: how far a move goes, in ΔE00, and by how much of that people differ. Ours, from what bench
// words come to: a slight move is one that a careful eye asks for, a lot is another colour.
var movesBy = map[HowMuch]float64{"slight": 2.5, "some": 5, "lot": 10}

const wordsOff = 0.4

// throughBy is how far a move of see-through goes, in lightness of the light that comes through.
var throughBy = map[HowMuch]float64{"slight": 4, "some": 8, "lot": 16}

// directions of the moves in Lab. Warm and cool lie along the yellow-orange and its opposite.
var directions = map[MoveKind][3]float64{
	"too dark": {1, 0, 0}, "too pale": {-1, 0, 0}, "more red": {0, 1, 0}, "more yellow": {0, 0, 1},
	"more green": {0, -1, 0}, "more blue": {0, 0, -1},
	"warmer": {0, 0.5, 0.85}, "cooler": {0, -0.5, -0.85},
}

// Said is what a maker's words make of a colour as it is.
type Said struct {
	Lab        colour.Lab  `json:"lab"`
	Off        float64     `json:"off" doc:"ΔE00 by which words are expected to miss"`
	SeeThrough *SeeThrough `json:"seeThrough,omitempty" doc:"Where more or less see-through was asked for"`
}

// Say moves what a mix shows under a condition as was said. Words count as a reading of what is wanted, a noisy one.
func Say(mix *mix.Mix, at mix.Condition, moves []Move) (Said, error) {
	out := Said{Lab: mix.Colour(at)}
	if len(moves) == 0 {
		return out, measure.Faulty("moves", "say what is wrong with it first, such as slightly too dark")
	}
	said := map[MoveKind]bool{}
	for _, m := range moves {
		by, ok := movesBy[m.Much]
		if !ok {
			return out, measure.Faulty("moves", "say slight, some or a lot")
		}
		for _, pair := range opposites {
			if (m.What == pair[0] && said[pair[1]]) || (m.What == pair[1] && said[pair[0]]) {
				return out, measure.Faulty("moves", "%s and %s contradict each other; leave one out", pair[0], pair[1])
			}
		}
		said[m.What] = true
		switch {
		case m.What == "too see-through" || m.What == "too solid":
			through := at
			through.Ground = optics.Against
			mm := max(at.ThicknessMM, 2)
			l := colour.XYZ{X: 1, Y: mix.SeeThrough(mm, at.State), Z: 1}.Lab(colour.XYZ{X: 1, Y: 1, Z: 1}).L
			if m.What == "too solid" {
				l += throughBy[m.Much]
			} else {
				l -= throughBy[m.Much]
			}
			share := colour.Lab{L: max(0, min(100, l))}.XYZ(colour.XYZ{X: 1, Y: 1, Z: 1}).Y
			out.SeeThrough = &SeeThrough{Share: share, ThicknessMM: mm}
		default:
			var err error
			if out.Lab, by, err = shifted(out.Lab, m.What, by); err != nil {
				return out, err
			}
		}
		out.Off = math.Hypot(out.Off, 1+wordsOff*by)
	}
	out.Lab.L = max(0, min(100, out.Lab.L))
	return out, nil
}

// shifted goes from a colour where a move points, so many ΔE00 where that can be; by how many it went.
func shifted(lab colour.Lab, what MoveKind, by float64) (colour.Lab, float64, error) {
	d, known := directions[what]
	if !known {
		if what != "cleaner" && what != "dirtier" {
			return lab, by, measure.Faulty(
				"moves", "%q is not known here; say %s", string(what), strings.Join(moveNames(), ", "),
			)
		}
		c := lab.Chroma()
		if c < 3 {
			return lab, by, measure.Faulty("moves", "this is nearly grey: say which hue it lacks, such as more green")
		}
		d = [3]float64{0, lab.A / c, lab.B / c}
		if what == "dirtier" { // towards grey, and a little darker, as dirt is
			d = [3]float64{-0.3, -d[1], -d[2]}
			by = min(by, 0.8*colour.DeltaE00(lab, colour.Lab{L: lab.L}))
		}
	}
	return along00(lab, d, by), by, nil
}

// Beside is what a batch looks like of which is said what it lacks beside the colour that was sought; nothing lacking
// is that colour.
func Beside(sought colour.Lab, moves []Move) (colour.Lab, error) {
	is := sought
	for _, m := range moves {
		by, ok := movesBy[m.Much]
		if !ok {
			return is, measure.Faulty("moves", "say slight, some or a lot")
		}
		other := MoveKind("")
		for _, pair := range opposites {
			switch m.What {
			case pair[0]:
				other = pair[1]
			case pair[1]:
				other = pair[0]
			}
		}
		if other == "too see-through" || other == "too solid" {
			return is, measure.Faulty(
				"moves", "how see-through it is can't be told in words here; read it over white and over dark",
			)
		}
		var err error
		if is, _, err = shifted(is, other, by); err != nil {
			return is, err
		}
	}
	is.L = max(0, min(100, is.L))
	return is, nil
}

var opposites = [][2]MoveKind{
	{"too dark", "too pale"},
	{"more red", "more green"},
	{"more yellow", "more blue"},
	{"warmer", "cooler"},
	{"cleaner", "dirtier"},
	{"too see-through", "too solid"},
}

func moveNames() []string {
	var out []string
	for _, m := range Moves() {
		out = append(out, string(m))
	}
	return out
}

// along00 goes from a colour in a direction until it lies so many ΔE00 away.
func along00(from colour.Lab, d [3]float64, by float64) colour.Lab {
	at := func(t float64) colour.Lab {
		return colour.Lab{L: from.L + t*d[0], A: from.A + t*d[1], B: from.B + t*d[2]}
	}
	return at(fit.Halve(0, 200, 50, func(t float64) bool { return colour.DeltaE00(from, at(t)) >= by }))
}

// leastOff keeps the weight of an exact reading finite: less than any eye sees.
const leastOff = 0.3

// Combine weighs two readings of one target by how far each may be off, ΔE00; 0 is exact.
func Combine(a colour.Lab, offA float64, b colour.Lab, offB float64) (colour.Lab, float64) {
	offA, offB = max(offA, leastOff), max(offB, leastOff)
	wa, wb := 1/(offA*offA), 1/(offB*offB)
	mean := func(x, y float64) float64 { return (wa*x + wb*y) / (wa + wb) }
	return colour.Lab{L: mean(a.L, b.L), A: mean(a.A, b.A), B: mean(a.B, b.B)}, 1 / math.Sqrt(wa+wb)
}

// Between is the colour that lies between two, so far from the first towards the second.
func Between(a, b colour.Lab, share float64) (Said, error) {
	if !(share >= 0 && share <= 1) {
		return Said{}, measure.Faulty("share", "a share from 0 (the first) to 1 (the second) is accepted")
	}
	mid := func(x, y float64) float64 { return x + (y-x)*share }
	return Said{
		Lab: colour.Lab{L: mid(a.L, b.L), A: mid(a.A, b.A), B: mid(a.B, b.B)}, Off: 1 + colour.DeltaE00(a, b)/6,
	}, nil
}

// comparatives are how moves of hue are said beside "slightly" and "a lot".
var comparatives = map[MoveKind]string{
	"more red": "redder", "more yellow": "yellower", "more green": "greener", "more blue": "bluer",
}

// InWords lists moves.
func InWords(moves []Move) string {
	var out []string
	for _, m := range moves {
		much := map[HowMuch]string{"slight": "slightly ", "some": "", "lot": "a lot "}[m.Much]
		if strings.HasPrefix(string(m.What), "too ") {
			out = append(
				out, map[HowMuch]string{"slight": "slightly ", "some": "", "lot": "much "}[m.Much]+string(m.What),
			)
			continue
		}
		out = append(out, much+m.What.Name())
	}
	return strings.Join(out, ", ")
}

// SaidOf makes a cup's new target of what was said of it. Words are one more reading of what is wanted, where it was
// read in the same place.
func SaidOf(old *cup.Target, at mix.Condition, got Said, says string) cup.Target {
	t := cup.Target{
		Name: cup.ShortName("As said: " + says), Lab: got.Lab, ThicknessMM: at.ThicknessMM, Ground: at.Ground,
		State: at.State, Error: got.Off,
	}
	if at.State == cup.Raw {
		t.State = cup.Hot
	}
	if old != nil && old.ThicknessMM == t.ThicknessMM && old.Ground == t.Ground {
		t.Lab, t.Error = Combine(old.Lab, cup.Off(old.Error, old.Exact), got.Lab, got.Off)
		t.Reference, t.GoodEnough = old.Reference, old.GoodEnough
	}
	return t
}
