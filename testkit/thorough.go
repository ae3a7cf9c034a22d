package testkit

import "flag"

// Thorough is set for the slow statistics in full: ./test --thorough. Every other run does a part of them.
var Thorough = flag.Bool("thorough", false, "run the slow statistics in full")

// Tried is how many are tried: all, or a part of them on a usual run.
func Tried(all, part int) int {
	if *Thorough {
		return all
	}
	return part
}
