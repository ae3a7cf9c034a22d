// Package pour takes a recipe or a bait to the finished baits: what is asked is laid out as cups, cooks, injector loads
// and fills, with what it takes of the shelf; the work is put into an order in which every cup is hot enough when it is
// shot and nothing in it too hot; and the run itself is followed step by step, timed anew by what really happened.
//
// Read equipment.go (what the bench heats, holds and shoots with), order.go (what is asked, and how a bait's parts
// become shots), heats.go (the heat that each cup has to have), figure.go (cooks, doses, shopping, cost), steps.go
// and cooking.go (what has to be done, one after the other), lay.go (when), warmth.go (how warm each cup is meanwhile), ways.go (what
// can be done where it does not go), run.go (what was really done).
//
// Units: °C, ml, g, seconds where named; time in a timeline goes in ticks of half a minute.
//
// Source: docs/model.md ("From recipe to baits", "A run").
package pour
