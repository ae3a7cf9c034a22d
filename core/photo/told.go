package photo

import "cloudburst/core/colour"

// Source is where a reading is from that no photo gave.
type Source string

// The sources: an instrument's Lab or spectrum, words, a cup as it is predicted.
const (
	Typed    Source = "typed"
	Spectrum Source = "spectrum"
	Words    Source = "words"
	FromCup  Source = "cup"
)

// How far off readings without a photo are expected to be, ΔE00. Two instruments differ by about so much on glossy,
// see-through plastic; an estimate.
const (
	instrumentError = 1.0
	adaptedError    = 1.5
)

// Told is a reading that no photo gave.
func Told(lab colour.Lab, from Source) Reading {
	r := Reading{Lab: lab, Kept: 1, From: from}
	switch from {
	case Typed, Spectrum:
		r.Error = instrumentError
	case Words:
		r.Error = colour.SaidError
		r.Warning = "From words alone: a start for trying out, not a measurement. A photo with white and grey in it makes it sure."
	}
	return r
}

// Adapted is a reading measured under another light than daylight, and carried over without its spectrum.
func (r Reading) Adapted() Reading {
	r.Error = adaptedError
	r.Warning = "Measured under D50 and carried over to daylight; a file with spectra makes it sure."
	return r
}
