package anatomy

import "math"

// craw has a body in plates, thin claws, legs and feelers.
func craw() *Bait {
	b := &Bait{
		Key: "craw", LengthMM: 102, Name: "Craw",
		About: "From above: plates, a carapace, and claws thin enough to show their own hue.", Lying: true, BodyTo: 62,
	}
	b.add(loft{nose: 2.6, end: 2.6, power: 2.15, stations: []station{
		{0, 2.4, 2.2, 3.4, 0},
		{8, 4, 3.6, 5, 0},
		{24, 5, 4.4, 6.1, 0},
		{34, 5.6, 4.8, 6.7, 0},
		{45, 6.2, 5.2, 7.8, 0},
		{55, 5, 4.4, 6.2, 0},
		{63, 2.8, 2.6, 3.2, 0},
	}, rings: rings(3.4, 35.6, 5.3, 0.95, 5)}.part(), 0)
	b.add(sweep{face: Vec{0, 1, 0}, steps: 44, joints: []joint{
		{Vec{53, 0.2, 4.4}, 2.3, 2.3, 0}, {Vec{60.5, 0.6, 9.6}, 1.9, 1.85, 0}, {Vec{68, 0.7, 12.4}, 1.9, 1.7, 0.1}, {
			Vec{76, 0.5, 14.4}, 3.6, 1.55, 0.7,
		}, {Vec{84.5, 0.4, 16.8}, 4.5, 1.2, 1}, {Vec{93, 0.2, 19.4}, 2.7, 0.8, 1}, {Vec{101.4, 0, 19.4}, 0.6, 0.5, 1},
	}}.part(), 1.4)
	b.add(sweep{face: Vec{0, 1, 0}, joints: []joint{
		{Vec{78, 0.5, 13}, 2, 1.3, 0.8}, {Vec{84, 0.4, 10.8}, 2, 1.1, 1}, {
			Vec{90.5, 0.2, 10.2}, 1.4, 0.8, 1,
		}, {Vec{96, 0, 12}, 0.5, 0.5, 1},
	}}.part(), 1.6)
	for i := range 3 {
		x := 41 + 5.2*float64(i)
		b.limb(
			0.8,
			[]joint{
				{Vec{x, -1.6, 6.2}, 1.05, 1.05, 0}, {
					Vec{x - 1.5, -1.2, 11.5}, 0.8, 0.8, 0,
				}, {Vec{x - 6.5, -2.6, 16}, 0.5, 0.5, 0},
			},
		)
	}
	b.limb(
		0.7,
		[]joint{
			{Vec{61, 1.6, 1.6}, 0.75, 0.75, 0},
			{Vec{72, 2.6, 4}, 0.6, 0.6, 0},
			{Vec{86, 2.4, 4.8}, 0.5, 0.5, 0},
			{Vec{98, 1.6, 7.4}, 0.42, 0.42, 0},
		},
	)
	b.fin(1.2, []joint{{Vec{58, 2.6, 0}, 1.6, 1.4, 0}, {Vec{64, 3.4, 0}, 1, 0.9, 0}, {Vec{69.5, 3.6, 0}, 0.5, 0.45, 0}})
	b.add(ball(Vec{59, 3.8, 3}, 1.35), 0.3)
	b.backCrease([][2]float64{{37, 0.2}, {38.4, 2.6}, {42, 4.6}, {46.5, 5.4}}, 1.3, 0.5)
	b.backCrease([][2]float64{{46, 1.1}, {51, 1.4}, {57, 1}}, 1, 0.3)
	return b
}

// creature has a ribbed body, sickles for arms, club legs and two flappers.
func creature() *Bait {
	b := &Bait{
		Key: "creature", LengthMM: 102, Name: "Creature",
		About: "From above: a ribbed body with sickle arms, club legs and two flappers.", Lying: true, BodyTo: 64,
	}
	b.add(
		loft{
			nose: 5, end: 2.4,
			stations: []station{
				{0, 5, 5, 5.2, 0},
				{9, 6, 6, 6.3, 0},
				{26, 5.9, 5.9, 6.2, 0},
				{48, 4.8, 4.8, 5, 0},
				{66, 2.8, 2.6, 3.2, 0},
			},
			rings: rings(14, 62, 4, 0.9, 2),
		}.part(),
		0,
	)
	b.add(sweep{face: Vec{0, 1, 0}, steps: 44, joints: []joint{
		{Vec{15, 0, 4.6}, 2.2, 1.7, 0.2}, {Vec{14.4, 0, 9.4}, 2.2, 1.15, 0.8}, {Vec{18.6, 0, 15.2}, 2.6, 0.9, 1}, {
			Vec{27.4, 0, 18.6}, 2.6, 0.75, 1,
		}, {Vec{36, 0, 17.6}, 1.7, 0.6, 1}, {Vec{41.6, 0, 14.6}, 0.5, 0.45, 1},
	}}.part(), 1.8)
	for i := range 3 {
		x, z := 28+9*float64(i), []float64{5.2, 4.6, 4}[i]
		b.limb(
			0.9,
			[]joint{
				{Vec{x, -0.6, z}, 1.1, 1.1, 0},
				{Vec{x + 3, -0.4, z + 4}, 0.75, 0.75, 0},
				{Vec{x + 6.5, -0.4, z + 6.2}, 0.8, 0.8, 0},
				{Vec{x + 8.4, -0.4, z + 6.8}, 1.25, 1.2, 0},
			},
		)
	}
	b.add(sweep{face: Vec{0, 1, 0}, steps: 48, ribs: func(s, _ float64) float64 {
		return 1 + 0.22*math.Cos(2*math.Pi*9*s)*smooth(0.2, 0.4, s)
	}, joints: []joint{
		{Vec{61, 0, 1.7}, 1.9, 1.9, 0.1}, {Vec{68, 0.2, 4.4}, 2.3, 1.3, 0.7}, {Vec{79, 0.2, 8.8}, 4.6, 0.8, 1}, {
			Vec{91, 0.2, 12.4}, 5.2, 0.66, 1,
		}, {Vec{98.6, 0.2, 14.2}, 3.4, 0.55, 1}, {Vec{101.4, 0.2, 14.8}, 1.2, 0.46, 1},
	}}.part(), 1.8)
	b.limb(
		0.8, []joint{
			{Vec{64, 0.4, 0.9}, 0.9, 0.9, 0}, {Vec{74, 1, 1.6}, 0.6, 0.6, 0}, {Vec{84, 0.8, 3}, 0.44, 0.44, 0},
		},
	)
	return b
}

// toad has a broad body with eyes on top, and two kicking legs with webbed feet.
func toad() *Bait {
	b := &Bait{
		Key: "toad", LengthMM: 100, Name: "Toad",
		About: "From above: a broad body with eyes on top, and two kicking legs.",
		Lying: true, BodyTo: 58,
	}
	b.add(loft{nose: 4.4, end: 3.6, power: 2.3, stations: []station{
		{0, 3.4, 2.8, 8, 0},
		{8, 5.6, 4.8, 12.4, 0},
		{16, 6.6, 5.8, 14, 0},
		{27, 6.8, 6.2, 12.8, 0},
		{38, 6.8, 6.2, 13.4, 0},
		{49, 5.4, 5.2, 10.6, 0},
		{59, 3.2, 3.2, 4.6, 0},
	}}.part(), 0)
	b.add(sweep{face: Vec{0, 1, 0}, steps: 52, ribs: func(s, u float64) float64 {
		toes := smooth(0.74, 0.9, s)
		return 1 + 0.3*toes*math.Cos(3*math.Pi*u) - 0.1*toes
	}, joints: []joint{
		{Vec{46, -0.6, 6.6}, 4.4, 4.2, 0},
		{Vec{55, -0.8, 13.6}, 4.1, 3.7, 0},
		{Vec{63.4, -0.8, 16.6}, 2.8, 2.5, 0},
		{Vec{72, -0.5, 14.2}, 2.2, 1.9, 0.1},
		{
			Vec{80, -0.3, 13.8}, 2.5, 1.4, 0.6,
		},
		{Vec{88, -0.1, 16.2}, 5.2, 0.95, 1},
		{Vec{95, 0, 18.6}, 7, 0.7, 1},
		{Vec{98.6, 0, 19.8}, 6, 0.5, 1},
	}}.part(), 2.4)
	b.limb(
		1.4,
		[]joint{
			{Vec{18, -1.2, 11.4}, 2.5, 2.3, 0},
			{Vec{22, -1.8, 17.4}, 1.9, 1.8, 0},
			{Vec{29.4, -2, 20.2}, 1.4, 1.3, 0},
			{Vec{34, -2, 19.4}, 1.3, 1, 0.4},
		},
	)
	for _, toe := range [][2]float64{{38.6, 21.4}, {39.4, 18.6}, {37.4, 16}} {
		b.limb(
			0.7,
			[]joint{
				{Vec{33.4, -2, 19.4}, 0.9, 0.8, 0},
				{Vec{(33.4 + toe[0]) / 2, -2, (19.4 + toe[1]) / 2}, 0.7, 0.65, 0},
				{Vec{toe[0], -2, toe[1]}, 0.85, 0.65, 0},
			},
		)
	}
	b.add(ball(Vec{13, 5.2, 7.6}, 3.5), 1.4)
	b.sideCrease([][2]float64{{1.2, 0.2}, {5, 0.4}, {9.6, 0.2}, {13, -0.6}}, 1.2, 0.45)
	for _, p := range [][3]float64{
		{24, 3, 1.1}, {29, 7.5, 1.4}, {33, 2.2, 1}, {38, 6, 1.2}, {43, 2.6, 0.9}, {35, 10, 0.9}, {46, 6, 0.8},
	} {
		at, out := b.above(p[0], p[1])
		b.add(ball(at.Minus(out.Times(0.45*p[2])), p[2]), 0.8)
	}
	b.backCrease([][2]float64{{20, 4.6}, {27, 5.4}, {38, 8.6}, {47, 8}}, 1.2, 0.35)
	return b
}

// newt has four legs and a long tail on edge.
func newt() *Bait {
	b := &Bait{
		Key: "newt", LengthMM: 121, Name: "Newt", About: "From above: four legs, and a long tail on edge that swings.",
		Lying: true, BodyTo: 62,
	}
	b.add(loft{nose: 3.6, end: 2, stations: []station{
		{0, 2.6, 2.3, 4, 0},
		{7, 4.2, 3.6, 6.4, 0},
		{13, 4.2, 3.8, 6.3, 0},
		{20, 3.8, 3.6, 4.6, 0},
		{34, 4.8, 4.6, 6, 0},
		{48, 4.6, 4.4, 5.4, 0},
		{60, 3.6, 3.4, 3.4, 0},
		{68, 3, 2.8, 2.2, 0},
	}}.part(), 0)
	b.add(sweep{single: true, face: Vec{0, 0, 1}, steps: 44, joints: []joint{
		{Vec{60, 0.1, 0}, 3.1, 2.6, 0}, {Vec{74, 0.2, 2}, 3.3, 1.7, 0.3}, {
			Vec{88, 0.2, 3.4}, 3.5, 1.2, 0.8,
		}, {Vec{102, 0.1, -1}, 3, 0.85, 1}, {Vec{114, 0, -3.6}, 1.8, 0.6, 1}, {Vec{120.4, 0, -2.6}, 0.6, 0.46, 1},
	}}.part(), 2.6)
	for _, leg := range [][3]Vec{
		{{22, -1.4, 4}, {25, -2, 10.4}, {19.6, -2.4, 15}},
		{{54, -1.2, 3.4}, {49, -2, 9.6}, {54.6, -2.4, 14.6}},
	} {
		b.limb(1.3, []joint{{leg[0], 1.9, 1.8, 0}, {leg[1], 1.35, 1.3, 0}, {leg[2], 1.15, 0.95, 0.2}})
		way := leg[2].Minus(leg[1])
		for _, turn := range []float64{-0.75, -0.1, 0.6} {
			sin, cos := math.Sincos(turn)
			toe := Vec{way[0]*cos - way[2]*sin, 0, way[0]*sin + way[2]*cos}
			toe = leg[2].Plus(toe.Times(4.2 / toe.Long()))
			b.limb(
				0.6,
				[]joint{{leg[2], 0.8, 0.75, 0}, {leg[2].Plus(toe).Times(0.5), 0.62, 0.58, 0}, {toe, 0.72, 0.55, 0}},
			)
		}
	}
	b.add(ball(Vec{7.4, 3.4, 4.4}, 1.75), 0.5)
	b.sideCrease([][2]float64{{1, 0}, {5, 0.2}, {10, 0}}, 1, 0.4)
	b.backCrease([][2]float64{{17.5, 0.3}, {17.2, 2.4}, {16, 4.4}}, 1.2, 0.4)
	return b
}
