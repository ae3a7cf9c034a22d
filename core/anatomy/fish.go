package anatomy

// paddleMinnow has a thick body, a thin stem, and a round plate that stands across.
func paddleMinnow() *Bait {
	b := &Bait{
		Key: "paddle-minnow", LengthMM: 100, Name: "Paddle-tail minnow",
		About: "A thick body, a thin stem, and a round plate that stands across.", BodyTo: 89,
	}
	b.add(loft{nose: 2.6, end: 2, power: 2.1, stations: []station{
		{0, 2.9, 2.7, 2.4, -1.2},
		{6, 5.7, 5.2, 4.6, -0.8},
		{14, 7.9, 7.5, 6.0, -0.4},
		{25, 9, 9, 6.5, 0},
		{45, 7.5, 7.6, 5.4, 0.4},
		{65, 4.7, 4.9, 3.6, 1.1},
		{80, 2.5, 2.6, 2.2, 1.8},
		{88, 1.8, 1.8, 1.75, 2.2},
		{91, 1.75, 1.75, 1.7, 2.3},
	}}.part(), 0)
	b.add(sweep{face: Vec{0.83, 0.55, 0}, joints: []joint{
		{Vec{88.8, 4.4, 0}, 1.8, 1.5, 0.4}, {
			Vec{90.6, 1.6, 0}, 4, 1.35, 0.9,
		}, {Vec{94.2, -4.2, 0}, 7, 1.15, 1}, {Vec{97.8, -9.6, 0}, 6, 0.8, 1}, {Vec{99.2, -12.2, 0}, 3.4, 0.6, 1},
	}}.part(), 2.6)
	b.fin(
		2,
		[]joint{
			{Vec{36, 7.4, 0}, 0.8, 1, 1},
			{Vec{41, 8.9, 0}, 2.2, 0.95, 1},
			{Vec{49, 8.7, 0}, 2.7, 0.8, 1},
			{Vec{58, 6.6, 0}, 1.8, 0.6, 1},
			{Vec{62, 5.9, 0}, 0.7, 0.5, 1},
		},
	)
	b.fin(
		1.8,
		[]joint{
			{Vec{55, -4.6, 0}, 0.7, 0.9, 1},
			{Vec{60, -5.4, 0}, 1.9, 0.8, 1},
			{Vec{67, -4.3, 0}, 1.7, 0.6, 1},
			{Vec{72, -2.9, 0}, 0.7, 0.5, 1},
		},
	)
	b.add(sweep{face: Vec{0.1, 0.35, 0.9}, joints: []joint{
		{
			Vec{24, -4.8, 5.2}, 1.2, 1.2, 0.6,
		}, {Vec{30, -6.2, 6.3}, 2.3, 0.9, 1}, {Vec{37, -7.8, 6.6}, 2.3, 0.65, 1}, {Vec{42, -8.8, 6.4}, 0.9, 0.5, 1},
	}}.part(), 1.6)
	b.head(9.4, 1.3, 2.1, 16.5, 6.2)
	b.sideCrease([][2]float64{{24, 1.3}, {40, 1.5}, {58, 1.7}, {80, 2}}, 0.8, 0.22)
	return b
}

// fin stands on edge in the middle of the bait.
func (b *Bait) fin(soft float64, joints []joint) {
	b.add(sweep{face: Vec{0, 0, 1}, joints: joints}.part(), soft)
}

// head gives eyes, a mouth and two gills to a fish: the eye's place and size, and where the gill lies, so far up and
// down.
func (b *Bait) head(eyeX, eyeY, eyeR, gillX, gillY float64) {
	b.sideCrease(
		[][2]float64{
			{gillX - 0.12*gillX, gillY},
			{gillX + 0.9, 0.35 * gillY},
			{gillX + 0.7, -0.4 * gillY},
			{gillX - 0.22*gillX, -gillY},
		},
		1.5, 0.5,
	)
	b.sideCrease(
		[][2]float64{{gillX + 2.4, 0.8 * gillY}, {gillX + 4, 0.1 * gillY}, {gillX + 2.6, -0.7 * gillY}}, 1.3, 0.36,
	)
	b.sideCrease(
		[][2]float64{
			{0.14 * eyeX, eyeY - 2.4*eyeR/2}, {0.5 * eyeX, eyeY - 3*eyeR/2}, {0.95 * eyeX, eyeY - 3.6*eyeR/2},
		}, 1.1,
		0.45,
	)
	b.eye(eyeX, eyeY, eyeR)
}

// dropShotMinnow is slim, with a forked tail.
func dropShotMinnow() *Bait {
	b := &Bait{
		Key: "drop-shot-minnow", LengthMM: 76, Name: "Fork-tail minnow",
		About:  "Slim and small, with a thin forked tail.",
		BodyTo: 60,
	}
	b.add(loft{nose: 1.8, end: 1.5, stations: []station{
		{0, 1.7, 1.5, 1.3, -0.6},
		{5, 3.8, 3.5, 2.5, -0.4},
		{12, 5.6, 5.4, 3.5, -0.1},
		{20, 6.3, 6.3, 3.8, 0},
		{35, 5.3, 5.4, 3.1, 0.2},
		{50, 2.9, 3, 1.8, 0.4},
		{58, 1.6, 1.6, 1, 0.5},
		{63, 1.4, 1.4, 0.85, 0.5},
	}}.part(), 0)
	for _, up := range []float64{1, -0.92} {
		b.fin(
			2.4,
			[]joint{
				{Vec{57, 0.5, 0}, 1.4, 0.9, 0.5},
				{Vec{63, 0.5 + 2.2*up, 0}, 2.5, 0.8, 1},
				{Vec{69.5, 0.5 + 6*up, 0}, 2.1, 0.6, 1},
				{Vec{75.6, 0.5 + 10.4*up, 0}, 0.6, 0.42, 1},
			},
		)
	}
	b.fin(
		1.6,
		[]joint{
			{Vec{26, 5.2, 0}, 0.6, 0.8, 1},
			{Vec{30, 6.4, 0}, 1.7, 0.75, 1},
			{Vec{37, 6, 0}, 1.9, 0.6, 1},
			{Vec{43, 4.4, 0}, 0.8, 0.45, 1},
		},
	)
	b.fin(
		1.6,
		[]joint{{Vec{40, -4.2, 0}, 0.6, 0.75, 1}, {Vec{44, -4.3, 0}, 1.4, 0.65, 1}, {Vec{50, -3, 0}, 0.8, 0.45, 1}},
	)
	b.add(sweep{face: Vec{0.1, 0.35, 0.9}, joints: []joint{
		{Vec{17, -3.4, 3}, 0.9, 0.9, 0.6}, {Vec{22, -4.7, 3.8}, 1.6, 0.7, 1}, {Vec{27, -5.9, 3.9}, 1.5, 0.5, 1}, {
			Vec{30, -6.5, 3.7}, 0.6, 0.42, 1,
		},
	}}.part(), 1.2)
	b.head(6.6, 0.9, 1.5, 12, 4.2)
	return b
}

// sandEel is long and slender, with a low fin along its back and a small plate for a tail.
func sandEel() *Bait {
	b := &Bait{
		Key: "sand-eel", LengthMM: 113, Name: "Sand eel",
		About: "Long and slender: a low fin down the back, a small plate for a tail.", BodyTo: 100,
	}
	b.add(loft{nose: 1.6, end: 1.6, stations: []station{
		{0, 1, 1.3, 1, -1.2},
		{8, 2.9, 2.8, 2.3, -0.6},
		{20, 4.5, 4.6, 3.5, 0},
		{45, 4.6, 4.8, 3.5, 0},
		{75, 3.3, 3.3, 2.6, 0.2},
		{95, 1.9, 1.9, 1.7, 0.8},
		{105, 1.5, 1.5, 1.5, 1.2},
	}}.part(), 0)
	b.fin(
		1.5,
		[]joint{
			{Vec{28, 4.3, 0}, 0.5, 0.8, 1},
			{Vec{36, 4.9, 0}, 1.2, 0.75, 1},
			{Vec{60, 4.6, 0}, 1.3, 0.65, 1},
			{Vec{84, 3.3, 0}, 1.1, 0.5, 1},
			{Vec{90, 2.8, 0}, 0.5, 0.45, 1},
		},
	)
	b.fin(
		1.3,
		[]joint{
			{Vec{62, -4.1, 0}, 0.5, 0.7, 1},
			{Vec{70, -3.9, 0}, 1.1, 0.65, 1},
			{Vec{86, -2.2, 0}, 1, 0.5, 1},
			{Vec{90, -1.6, 0}, 0.5, 0.45, 1},
		},
	)
	b.add(sweep{face: Vec{0.83, 0.55, 0}, joints: []joint{
		{Vec{103.4, 2.8, 0}, 1.4, 1.3, 0.4}, {Vec{105, 0.4, 0}, 2.8, 1.15, 0.9}, {
			Vec{108.5, -4.4, 0}, 4.7, 0.95, 1,
		}, {Vec{111.2, -8, 0}, 3.9, 0.7, 1}, {Vec{112.3, -9.6, 0}, 2, 0.5, 1},
	}}.part(), 2)
	b.add(
		sweep{
			face: Vec{0.1, 0.35, 0.9},
			joints: []joint{
				{Vec{21, -2.4, 3}, 0.8, 0.8, 0.6}, {
					Vec{26, -3.4, 3.7}, 1.3, 0.65, 1,
				}, {Vec{32, -4.4, 3.5}, 0.6, 0.42, 1},
			},
		}.part(),
		1,
	)
	b.head(8.6, 0.5, 1.25, 15.6, 3.2)
	b.sideCrease([][2]float64{{23, 0.6}, {50, 0.7}, {92, 1}}, 0.7, 0.2)
	return b
}

// shrimp has a carapace, a tail in plates that bends down to a fan, and many legs.
func shrimp() *Bait {
	b := &Bait{
		Key: "shrimp", LengthMM: 89, Name: "Shrimp",
		About:  "A carapace, plates that bend down to a fan, and thin legs.",
		BodyTo: 76,
	}
	b.add(loft{nose: 2.2, end: 1.6, stations: []station{
		{6, 2.2, 2.2, 1.8, 1.2},
		{12, 4.2, 4.1, 3.3, 0.8},
		{20, 5.4, 5.2, 4.1, 0.6},
		{30, 5.3, 5, 4.1, 0.9},
		{42, 4.5, 4.2, 3.6, 1.2},
		{56, 3.5, 3.2, 2.8, 0.1},
		{68, 2.4, 2.3, 2.1, -2.8},
		{76, 1.8, 1.7, 1.7, -5.6},
	}, rings: rings(31, 75, 6.2, 0.75, 4)}.part(), 0)
	b.fin(
		1.4, []joint{
			{Vec{16, 5.2, 0}, 0.9, 0.9, 0.5}, {Vec{10, 5, 0}, 0.9, 0.8, 0.5}, {Vec{0.6, 6.4, 0}, 0.42, 0.42, 0.5},
		},
	)
	for i := range 5 {
		x := 13 + 4*float64(i)
		b.limb(
			0.8,
			[]joint{
				{Vec{x, -2.6, 2}, 0.75, 0.75, 0}, {Vec{x + 2.5, -7.5, 4.2}, 0.6, 0.6, 0}, {
					Vec{x + 6.5, -11, 4.8}, 0.45, 0.45, 0,
				},
			},
		)
	}
	for i := range 5 {
		x, y := 35+7*float64(i), []float64{-2.4, -2.2, -2.2, -3.1, -4.4}[i]
		b.add(
			sweep{
				face: Vec{0.9, 0.3, 0.3},
				joints: []joint{
					{Vec{x, y, 1.2}, 1, 0.8, 0.6},
					{Vec{x + 1.6, y - 3, 1.9}, 1.3, 0.55, 1},
					{Vec{x + 3.4, y - 5.2, 2.1}, 0.6, 0.42, 1},
				},
			}.part(),
			0.9,
		)
	}
	b.limb(
		0.7,
		[]joint{
			{Vec{10, 2.6, 1.8}, 0.7, 0.7, 0},
			{Vec{5, 5.4, 3.6}, 0.55, 0.55, 0},
			{Vec{12, 9.6, 5.2}, 0.48, 0.48, 0},
			{Vec{30, 11, 6.6}, 0.42, 0.42, 0},
			{Vec{48, 9.5, 7.4}, 0.4, 0.4, 0},
		},
	)
	b.add(
		sweep{
			face: Vec{0.45, 0.85, 0.2},
			joints: []joint{
				{Vec{74, -4.8, 0.8}, 1.2, 1.1, 0.4},
				{Vec{80, -8, 3.2}, 2.6, 0.75, 1},
				{Vec{86, -11, 5}, 2.6, 0.5, 1},
				{Vec{88.4, -12.2, 5.6}, 1.2, 0.42, 1},
			},
		}.part(),
		1.4,
	)
	b.add(
		sweep{
			face: Vec{0.5, 0.86, 0},
			joints: []joint{
				{Vec{74, -5, 0}, 1.4, 1.2, 0.4}, {Vec{81, -9.4, 0}, 1.7, 0.8, 1}, {Vec{87, -13, 0}, 0.7, 0.45, 1},
			},
		}.part(),
		1.2,
	)
	b.limb(0.6, []joint{{Vec{10.5, 3, 2.6}, 0.7, 0.7, 0}, {Vec{9.6, 3.8, 4.2}, 0.7, 0.7, 0}})
	b.add(ball(Vec{9.4, 4, 4.5}, 1.35), 0.3)
	b.sideCrease([][2]float64{{29.5, 5.4}, {30.5, 2}, {28, -2.5}}, 1.4, 0.5)
	return b
}

// limb is round, and there on both sides.
func (b *Bait) limb(soft float64, joints []joint) {
	b.add(sweep{face: Vec{0.31, 0.83, 0.46}, joints: joints}.part(), soft)
}
