package web

import (
	"context"
	"errors"
	"strconv"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/cores"
)

func from(ctx context.Context, client string) context.Context {
	return context.WithValue(ctx, clientKey{}, client)
}

// Turns go round by client: one that asks a hundred times keeps nobody waiting for more than its turn.
func TestTurnsGoRoundByClient(t *testing.T) {
	t.Parallel()
	l := newLane(1)
	leave, err := l.enter(t.Context(), nil)
	require.NoError(t, err)
	var mu sync.Mutex
	var order []string
	var all sync.WaitGroup
	ask := func(client string) {
		waits := make(chan int, 1)
		all.Go(func() {
			leave, err := l.enter(from(t.Context(), client), func(before int) { waits <- before })
			if assert.NoError(t, err) {
				mu.Lock()
				order = append(order, client)
				mu.Unlock()
				leave()
			}
		})
		<-waits
	}
	for range 10 {
		ask("greedy")
	}
	ask("one")
	ask("two")
	leave()
	all.Wait()
	assert.Len(t, order, 12)
	assert.Contains(t, order[:3], "one", "%v", order)
	assert.Contains(t, order[:4], "two", "%v", order)
	assert.Equal(t, 1, l.free)
	assert.Empty(t, l.order)
	assert.Empty(t, l.waiting)
}

// Who goes away gives the place up, also at the very moment that it is given.
func TestAPlaceIsGivenUp(t *testing.T) {
	t.Parallel()
	l := newLane(2)
	var all sync.WaitGroup
	for i := range 200 {
		all.Go(func() {
			ctx, cancel := context.WithTimeout(
				from(t.Context(), strconv.Itoa(i%7)), time.Duration(i%11)*time.Millisecond,
			)
			defer cancel()
			leave, err := l.enter(ctx, nil)
			if err == nil {
				time.Sleep(time.Millisecond)
				leave()
			} else if !errors.Is(err, errBusy) {
				assert.ErrorIs(t, err, context.DeadlineExceeded)
			}
		})
	}
	all.Wait()
	assert.Equal(t, 2, l.free)
	assert.Zero(t, l.n)
}

func TestALaneIsBounded(t *testing.T) {
	t.Parallel()
	l := newLane(0)
	ctx, cancel := context.WithCancel(t.Context())
	var all sync.WaitGroup
	for i := range mostOfAClient {
		waits := make(chan int, 1)
		all.Go(func() { _, _ = l.enter(ctx, func(int) { waits <- i }) })
		<-waits
	}
	_, err := l.enter(ctx, nil)
	assert.ErrorIs(t, err, errBusy)
	cancel()
	all.Wait()
}

// Dear work within dear work does not wait for itself; a panic in it is an error for the one who asked.
func TestDearWorkInDearWork(t *testing.T) {
	t.Parallel()
	b := newBudget()
	ctx, cancel := context.WithTimeout(t.Context(), 5*time.Second)
	defer cancel()
	v, err := dear(ctx, b, func(ctx context.Context) (int, error) {
		return dear(ctx, b, func(ctx context.Context) (int, error) { return cores.Of(ctx), nil })
	})
	assert.NoError(t, err)
	assert.Positive(t, v)
	assert.Panics(t, func() { _, _ = dear(ctx, b, func(context.Context) (int, error) { panic("no") }) })
	_, err = dear(ctx, b, func(context.Context) (int, error) { return 1, nil })
	assert.NoError(t, err, "the place was left")
}
