package anatomy

import "math"

// stick is round and ringed, the same nearly all along.
func stick() *Bait {
	b := &Bait{
		Key: "stick", LengthMM: 127, Name: "Stick",
		About: "Round and finely ringed: what is thick is thick nearly everywhere.", BodyTo: 127,
	}
	b.add(
		loft{
			nose: 4.2, end: 3.2,
			stations: []station{
				{0, 4.3, 4.3, 4.3, 0}, {45, 5.7, 5.7, 5.7, 0}, {90, 5, 5, 5, 0}, {127, 3.3, 3.3, 3.3, 0},
			},
			rings: rings(10, 120, 2.2, 0.32, 1.5),
		}.part(),
		0,
	)
	return b
}

// finesseWorm is slim, with a collar and a leaf of a tail.
func finesseWorm() *Bait {
	b := &Bait{
		Key: "finesse-worm", LengthMM: 115, Name: "Finesse worm",
		About: "Slim and ribbed, with a collar and a leaf of a tail.", BodyTo: 84,
	}
	b.add(loft{nose: 3.2, end: 2, stations: []station{
		{0, 3.4, 3.4, 3.4, -0.8},
		{12, 3.6, 3.6, 3.6, -1},
		{28, 3.3, 3.3, 3.3, 0.2},
		{33, 4.2, 4.2, 4.2, 0.9},
		{40, 4.1, 4.1, 4.1, 1.5},
		{45, 3.1, 3.1, 3.1, 1.6},
		{66, 2.7, 2.7, 2.7, 0.8},
		{88, 2.1, 2.1, 1.9, -0.6},
	}, rings: func() func(float64) float64 {
		head, tail := rings(6, 29.5, 3.2, 0.65, 2), rings(45, 86, 3.2, 0.6, 2)
		return func(x float64) float64 { return head(x) + tail(x) }
	}()}.part(), 0)
	b.fin(
		2.4,
		[]joint{
			{Vec{82, -0.3, 0}, 2, 1.8, 0},
			{Vec{92, -0.9, 0}, 2, 1.1, 0.5},
			{Vec{102, -1.2, 0}, 3.2, 0.65, 1},
			{Vec{110, -1, 0}, 3, 0.5, 1},
			{Vec{114.4, -0.8, 0}, 0.8, 0.42, 1},
		},
	)
	return b
}

// grub is a ribbed bullet with a tail that curls.
func grub() *Bait {
	b := &Bait{
		Key: "grub", LengthMM: 78, Name: "Grub", About: "A ribbed bullet, and a thin tail that curls.", BodyTo: 41,
	}
	b.add(loft{nose: 6, end: 2.4, stations: []station{
		{0, 6, 6, 6, 0}, {9, 7, 7, 7, 0}, {22, 6.5, 6.5, 6.4, 0}, {34, 4.4, 4.4, 4.1, 0}, {43, 2.6, 2.6, 2.2, 0.6},
	}, rings: rings(10, 39.5, 3.2, 0.85, 2)}.part(), 0)
	b.add(sweep{face: Vec{0, 0, 1}, steps: 56, joints: []joint{
		{Vec{38, 0.1, 0}, 2.5, 2.2, 0},
		{Vec{46, 1.6, 0}, 2.8, 1.5, 0.5},
		{Vec{56, 4.6, 0}, 3.8, 0.85, 1},
		{Vec{65.5, 5, 0}, 4.4, 0.65, 1},
		{Vec{72, 0.4, 0}, 4.5, 0.58, 1},
		{Vec{73, -7.6, 0}, 4.2, 0.52, 1},
		{Vec{68, -13.4, 0}, 3, 0.48, 1},
		{Vec{61.4, -14.4, 0}, 1.6, 0.44, 1},
		{Vec{57.2, -12.6, 0}, 0.55, 0.42, 1},
	}}.part(), 2.6)
	return b
}

// tube is a hollow body with a skirt of strands.
func tube() *Bait {
	b := &Bait{
		Key: "tube", LengthMM: 96, Name: "Tube", About: "A hollow body with a thin wall, and a skirt of strands.",
		BodyTo: 58,
	}
	b.add(
		loft{
			nose: 8, end: 0.6, power: 2.2,
			stations: []station{
				{0, 7.2, 7.2, 7.2, 0}, {10, 7.7, 7.7, 7.7, 0}, {40, 7.6, 7.6, 7.6, 0}, {59, 7.4, 7.4, 7.4, 0},
			},
			rings: rings(13, 54, 5, 0.32, 1),
		}.part(),
		0,
	)
	b.cutOut(
		loft{
			nose: 6, end: 1, stations: []station{{8, 5.6, 5.6, 5.6, 0}, {16, 6, 6, 6, 0}, {64, 5.75, 5.75, 5.75, 0}},
		}.part(),
		0.3,
	)
	const strands = 15
	for i := range strands {
		turn := 2 * math.Pi * (float64(i) + 0.5) / strands
		sin, cos := math.Sincos(turn)
		sway := 2.2 * math.Sin(2.7*float64(i)+1)
		wave := 1.4 * math.Cos(4.1*float64(i))
		at := func(x, r, off float64) Vec { return Vec{x, r*cos - off*sin, r*sin + off*cos} }
		b.add(sweep{single: true, face: Vec{0, cos, sin}, steps: 20, joints: []joint{
			{at(56, 6.6, 0), 1.25, 0.85, 1}, {at(68, 6.7, 0.2*sway), 1.2, 0.75, 1}, {
				at(80, 6.2+0.4*wave, 0.6*sway), 1.1, 0.65, 1,
			}, {at(95.6+0.3*wave, 5.8+wave, 1.3*sway), 0.8, 0.5, 1},
		}}.part(), 0.4)
	}
	b.eye(10, 1.2, 1.7)
	return b
}
