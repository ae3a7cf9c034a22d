package web

import (
	"context"
	"errors"
	"net"
	"net/http"
	"slices"
	"sync"

	"cloudburst/core/cores"
)

// Dear work, such as a search, a photo or a sheet of pictures, goes through a budget, so that taps always find a
// processor that is free: so much of it at once, the rest waits its turn, and turns go round by client. Who leaves
// gives the place up.

// errBusy is returned where too much waits already.
var errBusy = errors.New("too much is waiting")

// mostWaiting bounds what waits in a lane, and of one client.
const (
	mostWaiting   = 200
	mostOfAClient = 50
)

// lane lets so much through at once.
type lane struct {
	mu      sync.Mutex
	free    int
	waiting map[string][]*turn // by client
	order   []string           // whose turn is next
	n       int
}

type turn struct {
	ready chan struct{}
	given bool
}

func newLane(atOnce int) *lane { return &lane{free: atOnce, waiting: map[string][]*turn{}} }

// enter waits for a turn; leave must be called after it. waits is told how many are before it, where there are any.
func (l *lane) enter(ctx context.Context, waits func(before int)) (leave func(), err error) {
	client, _ := ctx.Value(clientKey{}).(string)
	l.mu.Lock()
	if l.free > 0 && l.n == 0 {
		l.free--
		l.mu.Unlock()
		return l.leave, nil
	}
	if l.n >= mostWaiting || len(l.waiting[client]) >= mostOfAClient {
		l.mu.Unlock()
		return nil, errBusy
	}
	t := &turn{ready: make(chan struct{})}
	if len(l.waiting[client]) == 0 {
		l.order = append(l.order, client)
	}
	l.waiting[client] = append(l.waiting[client], t)
	before := l.n
	l.n++
	l.mu.Unlock()
	if waits != nil {
		waits(before + 1)
	}
	select {
	case <-t.ready:
		return l.leave, nil
	case <-ctx.Done():
		l.mu.Lock()
		defer l.mu.Unlock()
		if t.given { // at the very moment: it goes to the next
			l.next()
			return nil, ctx.Err()
		}
		l.waiting[client] = slices.DeleteFunc(l.waiting[client], func(o *turn) bool { return o == t })
		l.n--
		l.tidy(client)
		return nil, ctx.Err()
	}
}

func (l *lane) leave() {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.next()
}

// next gives a place that was left to the client whose turn it is.
func (l *lane) next() {
	if l.n == 0 {
		l.free++
		return
	}
	client := l.order[0]
	l.order = append(l.order[1:], client)
	t := l.waiting[client][0]
	l.waiting[client] = l.waiting[client][1:]
	l.n--
	l.tidy(client)
	t.given = true
	close(t.ready)
}

func (l *lane) tidy(client string) {
	if len(l.waiting[client]) == 0 {
		delete(l.waiting, client)
		l.order = slices.DeleteFunc(l.order, func(c string) bool { return c == client })
	}
}

// budget has a lane for what takes a moment and one for what takes long, so that a moment never waits for minutes.
type budget struct{ moment, long *lane }

func newBudget() *budget { return &budget{newLane(1), newLane(1)} }

// dear does a moment's work in its turn, politely.
func dear[T any](ctx context.Context, b *budget, work func(ctx context.Context) (T, error)) (T, error) {
	if cores.IsPolite(ctx) { // within such work already
		return work(ctx)
	}
	leave, err := b.moment.enter(ctx, nil)
	if err != nil {
		var none T
		return none, err
	}
	defer leave()
	return work(cores.Politely(ctx))
}

type clientKey struct{}

// byClient tells clients apart by where they are, for the budget.
func byClient(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		host, _, err := net.SplitHostPort(r.RemoteAddr)
		if err != nil {
			host = r.RemoteAddr
		}
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), clientKey{}, host)))
	})
}
