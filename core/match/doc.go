// Package match asks what to drip to get a colour: from readings to doses, from a cup that is not right to what it lacks, from words to
// the next addition. Its heart is a forward model fast enough to be asked some hundred thousand times a second: the same light through
// the same plastic as packages optics and recipe work out, which have the last word on what is shown.
package match
