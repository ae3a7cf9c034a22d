//go:build !race

package web_test

const (
	raceOn = false
	slack  = 1
)
