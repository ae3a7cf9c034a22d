package bait

import "math"

// Shapes lists our own shapes.
func Shapes() []Shape {
	list := []Shape{
		shape("paddle-minnow", "Paddle-tail minnow", "A thick body, a thin stem, a flat paddle.", 100, 17,
			part{from: 0, to: 76, half: fish(11, 0.56), wide: fish(6.5, 0.5)},
			part{from: 76, to: 88, half: taper(2.2, 1.8), wide: taper(1.8, 1.5)},
			part{from: 88, to: 100, half: oval(11), wide: even(1.1), flat: true, centre: even(-1)}),
		shape("stick", "Stick", "The same all along: what is thick is thick everywhere.", 127, 9,
			part{from: 0, to: 127, half: cigar(5.6), wide: cigar(5.6)}),
		shape("finesse-worm", "Finesse worm", "Slim, and slimmer to the tail.", 115, 7,
			part{from: 0, to: 70, half: worm(3.6, 2.6), wide: worm(3.6, 2.6)},
			part{from: 70, to: 115, half: point(2.5), wide: point(2.5)}),
		shape("grub", "Grub", "A round body and a ribbon of a tail.", 78, 14,
			part{from: 0, to: 40, half: bullet(7), wide: bullet(7)},
			part{from: 40, to: 78, half: ribbon(4.6), wide: even(0.65), flat: true, centre: func(s float64) float64 { return 7 * math.Sin(2.6*s) * s }}),
		shape("craw", "Craw", "From above: a body, and two claws thin enough to show their own hue.", 88, 26,
			part{from: 0, to: 54, half: fish(9, 0.6), wide: fish(6, 0.55)},
			part{from: 46, to: 88, half: claw(7), wide: even(1.5), flat: true, centre: func(s float64) float64 { return 6 + 11*math.Sqrt(s) }},
			part{from: 46, to: 88, half: claw(7), wide: even(1.5), flat: true, centre: func(s float64) float64 { return -6 - 11*math.Sqrt(s) }}),
		shape("creature", "Creature", "From above: a body with legs and two flappers.", 96, 24,
			part{from: 0, to: 62, half: worm(7, 6), wide: worm(6.5, 5.5)},
			part{from: 14, to: 34, half: oval(1.5), wide: even(0.9), flat: true, centre: func(s float64) float64 { return 7 + 11*s }},
			part{from: 14, to: 34, half: oval(1.5), wide: even(0.9), flat: true, centre: func(s float64) float64 { return -7 - 11*s }},
			part{from: 62, to: 96, half: claw(5), wide: even(1.1), flat: true, centre: func(s float64) float64 { return 3 + 9*s }},
			part{from: 62, to: 96, half: claw(5), wide: even(1.1), flat: true, centre: func(s float64) float64 { return -3 - 9*s }}),
		shape("tube", "Tube", "A hollow body with a thin wall, and strips.", 90, 12,
			part{from: 0, to: 60, half: bullet(8), wide: bullet(8), wallMM: 1.6},
			part{from: 60, to: 90, half: even(1.2), wide: even(0.8), flat: true, centre: even(6)},
			part{from: 60, to: 89, half: even(1.2), wide: even(0.8), flat: true, centre: even(2)},
			part{from: 60, to: 90, half: even(1.2), wide: even(0.8), flat: true, centre: even(-2)},
			part{from: 60, to: 88, half: even(1.2), wide: even(0.8), flat: true, centre: even(-6)}),
		shape("drop-shot-minnow", "Flat drop-shot minnow", "Small and flat; light comes through everywhere.", 76, 12,
			part{from: 0, to: 58, half: fish(7, 0.6), wide: fish(3.4, 0.5)},
			part{from: 58, to: 66, half: taper(1.6, 1.4), wide: taper(1.1, 0.8)},
			part{from: 66, to: 76, half: fork(2.2), wide: even(0.65), flat: true, centre: func(s float64) float64 { return 1 + 6*s }},
			part{from: 66, to: 76, half: fork(2.2), wide: even(0.65), flat: true, centre: func(s float64) float64 { return -1 - 6*s }}),
		shape("toad", "Toad", "From above: a broad body and two kicking legs.", 92, 30,
			part{from: 0, to: 56, half: fish(17, 0.62), wide: fish(9, 0.6)},
			part{from: 50, to: 80, half: taper(3, 2.4), wide: taper(2.2, 1.4), centre: func(s float64) float64 { return 7 + 10*s }},
			part{from: 50, to: 80, half: taper(3, 2.4), wide: taper(2.2, 1.4), centre: func(s float64) float64 { return -7 - 10*s }},
			part{from: 80, to: 92, half: oval(9), wide: even(1.2), flat: true, centre: even(18)},
			part{from: 80, to: 92, half: oval(9), wide: even(1.2), flat: true, centre: even(-18)}),
	}
	for i := range list {
		switch list[i].Key {
		case "craw", "creature", "toad":
			list[i].Lying = true
		}
	}
	return list
}

// Sized is a bait of one's own measures: a body that is thick in the middle, and a tail as thin as the thinnest section.
func Sized(lengthMM, heightMM, thickestMM, thinnestMM float64) Shape {
	if thinnestMM > 0.85*thickestMM {
		return shape("own", "Measures of its own", "One thickness nearly all along.", lengthMM, max(heightMM, thickestMM)/2+1,
			part{from: 0, to: lengthMM, half: cigar(heightMM / 2), wide: cigar(thickestMM / 2)})
	}
	return shape("own", "Measures of its own", "A body and a tail, by its measures.", lengthMM, max(heightMM, thickestMM)/2+1,
		part{from: 0, to: 0.76 * lengthMM, half: fish(heightMM/2, 0.56), wide: fish(thickestMM/2, 0.5)},
		part{from: 0.75 * lengthMM, to: lengthMM, half: claw(0.32 * heightMM), wide: even(thinnestMM / 2), flat: true})
}

// StepChip is a chip of even steps, for judging a colour at each thickness.
func StepChip(stepsMM []float64) Shape {
	const stepMM, highMM = 18, 26
	var parts []part
	for i, mm := range stepsMM {
		parts = append(parts, part{from: stepMM * float64(i), to: stepMM * float64(i+1), half: even(highMM / 2), wide: even(mm / 2), flat: true})
	}
	return shape("step-chip", "Step chip", "Even steps, from thin to thick.", stepMM*float64(len(stepsMM)), highMM/2+1, parts...)
}

func shape(key, name, about string, length, halfY float64, parts ...part) Shape {
	return Shape{Key: key, Name: name, About: about, ToX: length, HalfY: halfY, parts: parts}
}

// The profiles, each over a share s of a part's length, for a largest half size r.

func even(r float64) func(float64) float64 { return func(float64) float64 { return r } }

func taper(a, b float64) func(float64) float64 {
	return func(s float64) float64 { return a + (b-a)*s }
}

// oval is half an ellipse over the part's length.
func oval(r float64) func(float64) float64 {
	return func(s float64) float64 { return r * math.Sqrt(max(0, 1-(2*s-1)*(2*s-1))) }
}

// fish is blunt at the nose and long to the tail: the deepest point lies before the middle.
func fish(r, skew float64) func(float64) float64 {
	return func(s float64) float64 {
		body := r * math.Pow(math.Sin(math.Pi*math.Pow(s, skew)), 0.75)
		if s > 0.5 { // it never gets thinner than its stem
			return max(body, 0.2*r)
		}
		return body
	}
}

// cigar is round at both ends, and of one size between.
func cigar(r float64) func(float64) float64 {
	return func(s float64) float64 { return r * math.Pow(max(0, 1-math.Pow(math.Abs(2*s-1), 5)), 0.4) }
}

// worm has a round head and thins towards its end.
func worm(a, b float64) func(float64) float64 {
	return func(s float64) float64 {
		return (a + (b-a)*s) * min(1, math.Sqrt(max(0, 1-math.Pow(1-min(1, s/0.06), 2))))
	}
}

// point thins to a tip.
func point(r float64) func(float64) float64 {
	return func(s float64) float64 { return r * (1 - 0.85*s) }
}

// bullet has a round nose and keeps its size.
func bullet(r float64) func(float64) float64 {
	return func(s float64) float64 { return r * math.Pow(1-math.Pow(1-min(1, s/0.3), 2), 0.5) }
}

func ribbon(r float64) func(float64) float64 {
	return func(s float64) float64 {
		return r * (0.55 + 0.45*math.Sin(math.Pi*min(1, s*1.1))) * math.Sqrt(max(0, 1-math.Pow(s, 8)))
	}
}

func claw(r float64) func(float64) float64 {
	return func(s float64) float64 { return r * (0.25 + 0.75*s) * math.Sqrt(max(0, 1-math.Pow(s, 6))) }
}

func fork(r float64) func(float64) float64 {
	return func(s float64) float64 { return r * (1 - 0.7*s) }
}
