// Package cores does work on several processors at once. It is the one place where the program starts goroutines for
// computing: what panics in one of them comes back as an error to the one who waits, and never ends the program.
package cores

import (
	"context"
	"fmt"
	"runtime"
	"runtime/debug"
	"sync/atomic"

	"golang.org/x/sync/errgroup"
)

// Panic is a panic in one of the workers, as an error.
type Panic struct {
	Value any
	Stack []byte
}

func (p *Panic) Error() string { return fmt.Sprintf("panic: %v\n%s", p.Value, p.Stack) }

// Try runs f; a panic in it comes back as an error.
func Try(f func() error) (err error) {
	defer func() {
		if v := recover(); v != nil {
			err = &Panic{v, debug.Stack()}
		}
	}()
	return f()
}

type polite struct{}

// Politely leaves a processor to others: what is done under this context uses all but one, and lets others pass after
// every piece of work.
func Politely(ctx context.Context) context.Context { return context.WithValue(ctx, polite{}, true) }

// IsPolite says whether it is done so.
func IsPolite(ctx context.Context) bool { return ctx.Value(polite{}) != nil }

// Of is how many processors may be used at once.
func Of(ctx context.Context) int {
	all := runtime.GOMAXPROCS(0)
	if IsPolite(ctx) {
		return max(1, all-1)
	}
	return all
}

// Group is several pieces of work at once. The zero value is ready.
type Group struct{ all errgroup.Group }

// Go does one of them.
func (g *Group) Go(f func() error) { g.all.Go(func() error { return Try(f) }) }

// Wait waits for all, and gives the first error.
func (g *Group) Wait() error { return g.all.Wait() }

// Each does f for 0..n-1, as many at once as the context allows, and stops early when the context ends or something
// fails. The error of the context comes first.
func Each(ctx context.Context, n int, f func(i int) error) error {
	return EachWith(ctx, n, func() struct{} { return struct{}{} }, func(_ struct{}, i int) error { return f(i) })
}

// EachWith is the same where each worker has a thing of its own to work with.
func EachWith[T any](ctx context.Context, n int, own func() T, f func(t T, i int) error) error {
	var next, failed atomic.Int64
	yields := IsPolite(ctx)
	var g Group
	for range min(n, Of(ctx)) {
		g.Go(func() error {
			t := own()
			for ctx.Err() == nil && failed.Load() == 0 {
				if yields {
					runtime.Gosched()
				}
				i := int(next.Add(1)) - 1
				if i >= n {
					return nil
				}
				if err := Try(func() error { return f(t, i) }); err != nil {
					failed.Store(1)
					return err
				}
			}
			return nil
		})
	}
	err := g.Wait()
	if ctx.Err() != nil {
		return ctx.Err()
	}
	return err
}

// InTurn does the steps of a long work one after the other, until the context ends.
func InTurn(ctx context.Context, steps ...func()) error {
	for _, s := range steps {
		if err := ctx.Err(); err != nil {
			return err
		}
		s()
	}
	return ctx.Err()
}
