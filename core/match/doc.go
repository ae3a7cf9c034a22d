// Package match asks what to drip to get a colour. Its heart is a forward model fast enough to be asked some ten thousand times a
// second: the same light through the same plastic as package optics works out, by tables.
package match
