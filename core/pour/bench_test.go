package pour_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	. "cloudburst/core/pour"
)

// A plan of two cups and five loads, and its state in the middle of a run.
func BenchmarkPlan(b *testing.B) {
	bench := bench()
	o := order(bench, "lagoon", "laminate", 40)
	for b.Loop() {
		if _, err := o.Figure(bench); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkRunState(b *testing.B) {
	bench := bench()
	o := order(bench, "lagoon", "spots", 40)
	p, err := o.Figure(bench)
	require.NoError(b, err)
	r := &Run{Order: *o, Planned: *p, StartedMS: 1, Shrink: bench.Shrink}
	var events []Event
	for _, s := range p.Timeline.Steps[:len(p.Timeline.Steps)/3] {
		events = append(
			events, Event{
				Kind: Done, Step: s.Key, BurstS: s.BurstS, AtMS: int64(float64(s.Start+s.Ticks) * TickS * 1000),
			},
		)
	}
	for b.Loop() {
		if _, err := r.State(bench, events); err != nil {
			b.Fatal(err)
		}
	}
}
