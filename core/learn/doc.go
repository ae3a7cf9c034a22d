// Package learn makes a shelf truer by every batch that was read: how strong each bottle is and which way its hue
// leans, doses that nobody counted, and what a reading device adds to all it reads. It says how sure a prediction is,
// and what to pour next.
//
// Read poured.go (what is known of a batch), problem.go (the same in numbers), learn.go (what it teaches), belief.go
// and range.go (how sure a prediction is), next.go (what to do).
//
// Everything is worked out from the batches anew and from nothing else: no clock, no chance, no state. A batch that is
// left out has taught nothing.
//
// Units: ΔE00; strengths, hues and doses as natural logarithms of a proportion.
//
// Source: docs/model.md ("Learning"). A maximum a posteriori estimate by damped Gauss–Newton steps (Levenberg 1944,
// Marquardt 1963); readings that don't fit count less, as if their errors were Student's t (Lange, Little and Taylor
// 1989). How far bottles and devices are off all over is weighed by evidence (MacKay 1992).
package learn
