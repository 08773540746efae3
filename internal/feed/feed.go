// Package feed tells open windows of what has changed, each of what its person may know.
package feed

import (
	"slices"
	"sync"

	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Kinds of events that are not of one kept thing.
const (
	Records = "records" // records have changed
	Day     = "day"     // another day has begun, on which periods have other dates
	Targets = "targets" // targets or their measures have changed
	Inbox   = "inbox"   // somebody was told something
	// Settings is what administrators set for everyone: any answer may differ from then on.
	Settings = "settings"
)

// Event says that something that was kept has changed.
type Event struct {
	Kind string
	ID   int64
	// In are the folders that it lies in, or lay in before: only those who may open one of them, and Owners, are told.
	// Without any, everyone is.
	In     []*store.Folder
	Owners []int64
	Shared []store.Access // whom it is shared with by itself
}

// For says whether a person is to be told.
func (e Event) For(p people.Person) bool {
	if len(e.In) == 0 && len(e.Owners) == 0 && len(e.Shared) == 0 {
		return true
	}
	return slices.Contains(e.Owners, p.ID) ||
		slices.ContainsFunc(e.Shared, func(a store.Access) bool { return a.Lets(p.Viewer()) }) ||
		slices.ContainsFunc(e.In, func(f *store.Folder) bool { return f.MayOpen(p.Viewer()) })
}

// Hub hands events to everyone who listens. The zero value is ready.
type Hub struct {
	mu     sync.Mutex
	open   map[chan Event]bool
	closed bool
}

// Listen gives events until stop is called, or the hub closes: then the channel is closed. One who does not keep up
// misses some.
func (h *Hub) Listen() (events <-chan Event, stop func()) {
	c := make(chan Event, 64)
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.open == nil {
		h.open = map[chan Event]bool{}
	}
	if h.closed {
		close(c)
		return c, func() {}
	}
	h.open[c] = true
	return c, func() {
		h.mu.Lock()
		defer h.mu.Unlock()
		delete(h.open, c)
	}
}

// Close ends what everyone listens to, so that a server that stops need not wait for them.
func (h *Hub) Close() {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.closed = true
	for c := range h.open {
		close(c)
		delete(h.open, c)
	}
}

// Size is how many listen.
func (h *Hub) Size() int {
	h.mu.Lock()
	defer h.mu.Unlock()
	return len(h.open)
}

// Tell tells everyone who listens; who is to know of it is up to them (For).
func (h *Hub) Tell(e Event) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for c := range h.open {
		select {
		case c <- e:
		default:
		}
	}
}
