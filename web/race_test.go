//go:build race

package web_test

const (
	raceOn = true
	slack  = 20 // the race detector makes everything slower
)
