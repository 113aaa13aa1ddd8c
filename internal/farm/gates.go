package farm

import (
	"context"
	"errors"
	"sync"
)

// ErrBusy says that too many writes wait for one farm.
var ErrBusy = errors.New("too much is being written on this farm at once: try again in a moment")

// mostWaiting is how many writes of one farm may wait in one process.
const mostWaiting = 64

// gates let the writes of one farm through one at a time, so that those that wait for a farm's lock do not hold the
// connections that other farms need. The lock itself is the farm's row in the database; a gate is only the queue in
// front of it, in each process. The zero value is ready.
type gates struct {
	mu   sync.Mutex
	open map[string]*gate
}

type gate struct {
	turn    chan struct{}
	waiting int
}

// enter waits for the farm's turn. leave must be called once the write has ended.
func (g *gates) enter(ctx context.Context, farmID string) (leave func(), err error) {
	g.mu.Lock()
	if g.open == nil {
		g.open = map[string]*gate{}
	}
	at := g.open[farmID]
	if at == nil {
		at = &gate{turn: make(chan struct{}, 1)}
		g.open[farmID] = at
	}
	if at.waiting > mostWaiting {
		g.mu.Unlock()
		return nil, ErrBusy
	}
	at.waiting++
	g.mu.Unlock()
	gone := func() {
		g.mu.Lock()
		if at.waiting--; at.waiting == 0 {
			delete(g.open, farmID)
		}
		g.mu.Unlock()
	}
	select {
	case at.turn <- struct{}{}:
		return func() { <-at.turn; gone() }, nil
	case <-ctx.Done():
		gone()
		return nil, ctx.Err()
	}
}
