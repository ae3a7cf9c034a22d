package anatomy

import "sync"

// All lists the anatomies; they are put together once.
var All = sync.OnceValue(func() []*Bait {
	return []*Bait{
		paddleMinnow(), stick(), finesseWorm(), grub(), craw(), creature(), tube(), dropShotMinnow(), toad(), sandEel(),
		shrimp(), newt(),
	}
})

// Measured is a bait of one's own measures: as long and as high, and as thick at its thickest and thinnest.
func Measured(lengthMM, heightMM, thickestMM, thinnestMM float64) *Bait {
	b := &Bait{
		Key: "own", LengthMM: lengthMM, Name: "Measures of its own", About: "A body and a tail, by its measures.",
		BodyTo: 0.78 * lengthMM,
	}
	h, w := heightMM/2, thickestMM/2
	at := func(x, high, wide float64) station { return station{x * lengthMM, high * h, high * h, wide * w, 0} }
	if thinnestMM > 0.85*thickestMM {
		b.BodyTo = lengthMM
		b.add(
			loft{
				nose: min(h, 0.2*lengthMM), end: min(h, 0.2*lengthMM),
				stations: []station{at(0, 0.98, 0.98), at(0.5, 1, 1), at(1, 0.98, 0.98)},
			}.part(),
			0,
		)
		return b
	}
	thin := thinnestMM / 2
	end := max(0.14, 1.15*thin/w)
	b.add(loft{nose: 0.03 * lengthMM, end: 0.02 * lengthMM, stations: []station{
		at(0, 0.34, 0.34), at(0.1, 0.8, 0.78), at(0.27, 1, 1), at(0.48, 0.82, 0.84), at(0.66, 0.5, 0.52),
		at(0.8, 0.24, end),
	}}.part(), 0)
	b.fin(min(0.03*lengthMM, h/2), []joint{
		{Vec{0.74 * lengthMM, 0, 0}, 0.22 * h, 1.1 * thin, 0.6}, {Vec{0.84 * lengthMM, 0, 0}, 0.34 * h, thin, 1}, {
			Vec{0.93 * lengthMM, 0, 0}, 0.6 * h, thin, 1,
		}, {Vec{0.985 * lengthMM, 0, 0}, 0.5 * h, thin, 1}, {Vec{lengthMM - 0.62*thin, 0, 0}, 0.3 * h, thin, 1},
	})
	return b
}
