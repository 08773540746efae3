package desk

import (
	"slices"
	"sync"

	"uzzel/internal/store"
)

// Event says that something that was kept has changed.
type Event struct {
	Kind string
	ID   int64
	// in are the folders that it lies in, or lay in before: only those who may open one of them, and owners, are told.
	// Without any, everyone is.
	in     []*store.Folder
	owners []int64
}

// For says whether a person is to be told.
func (e Event) For(p Person) bool {
	if len(e.in) == 0 && len(e.owners) == 0 {
		return true
	}
	return slices.Contains(e.owners, p.ID) || slices.ContainsFunc(e.in, func(f *store.Folder) bool { return f.MayOpen(p.viewer()) })
}

// hub hands events to everyone who listens.
type hub struct {
	mu     sync.Mutex
	open   map[chan Event]bool
	closed bool
}

// Listen gives events until stop is called, or the server closes: then the channel is closed. One who does not keep up
// misses some.
func (d *Desk) Listen() (events <-chan Event, stop func()) {
	c := make(chan Event, 64)
	d.hub.mu.Lock()
	defer d.hub.mu.Unlock()
	if d.hub.open == nil {
		d.hub.open = map[chan Event]bool{}
	}
	if d.hub.closed {
		close(c)
		return c, func() {}
	}
	d.hub.open[c] = true
	return c, func() {
		d.hub.mu.Lock()
		defer d.hub.mu.Unlock()
		delete(d.hub.open, c)
	}
}

// Close ends what everyone listens to, so that a server that stops need not wait for them.
func (d *Desk) Close() {
	d.hub.mu.Lock()
	defer d.hub.mu.Unlock()
	d.hub.closed = true
	for c := range d.hub.open {
		close(c)
		delete(d.hub.open, c)
	}
}

func (h *hub) size() int {
	h.mu.Lock()
	defer h.mu.Unlock()
	return len(h.open)
}

func (d *Desk) tell(e Event) {
	d.hub.mu.Lock()
	defer d.hub.mu.Unlock()
	for c := range d.hub.open {
		select {
		case c <- e:
		default:
		}
	}
}
