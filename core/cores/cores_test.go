package cores_test

import (
	"context"
	"errors"
	"runtime"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"

	"cloudburst/core/cores"
)

func TestAPanicComesBackAsAnError(t *testing.T) {
	var g cores.Group
	g.Go(func() error { return nil })
	g.Go(func() error { var none []int; _ = none[3]; return nil })
	var p *cores.Panic
	err := g.Wait()
	assert.ErrorAs(t, err, &p)
	assert.Contains(t, err.Error(), "index out of range [3]")
	assert.Contains(t, err.Error(), "cores_test.go", "with the place")
	assert.ErrorAs(t, cores.Each(t.Context(), 5, func(int) error { panic("no") }), &p)
	assert.ErrorAs(
		t, cores.EachWith(t.Context(), 5, func() int { panic("no") }, func(int, int) error { return nil }), &p,
	)
}

func TestEachDoesAllOnceAndStops(t *testing.T) {
	var sum atomic.Int64
	assert.NoError(t, cores.Each(t.Context(), 1000, func(i int) error { sum.Add(int64(i)); return nil }))
	assert.EqualValues(t, 999*1000/2, sum.Load())

	ctx, cancel := context.WithCancel(t.Context())
	sum.Store(0)
	assert.ErrorIs(t, cores.Each(ctx, 1000, func(int) error { sum.Add(1); cancel(); return nil }), context.Canceled)
	assert.Less(t, sum.Load(), int64(20))

	sum.Store(0)
	bad := errors.New("bad")
	assert.ErrorIs(t, cores.Each(t.Context(), 1000, func(int) error { sum.Add(1); return bad }), bad)
	assert.Less(t, sum.Load(), int64(20))
}

func TestPolitelyLeavesAProcessorToOthers(t *testing.T) {
	defer runtime.GOMAXPROCS(runtime.GOMAXPROCS(3))
	polite := cores.Politely(t.Context())
	assert.Equal(t, 3, cores.Of(t.Context()))
	assert.Equal(t, 2, cores.Of(polite))
	now, most := atomic.Int64{}, atomic.Int64{}
	assert.NoError(t, cores.Each(polite, 200, func(int) error {
		most.Store(max(most.Load(), now.Add(1)))
		runtime.Gosched()
		now.Add(-1)
		return nil
	}))
	assert.LessOrEqual(t, most.Load(), int64(2))
	runtime.GOMAXPROCS(1)
	assert.Equal(t, 1, cores.Of(polite))
}
