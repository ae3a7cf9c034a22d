// Package format reads and writes what crosses the door: recipe files in and out, photos in. Nothing read here
// is trusted; every limit is checked before anything is kept.
package format
