package desk

import "sync"

// Event says that something that was kept has changed. Who may not open it learns no more than that.
type Event struct {
	Kind string
	ID   int64
}

// hub hands events to everyone who listens.
type hub struct {
	mu   sync.Mutex
	open map[chan Event]bool
}

// Listen gives events until stop is called. One who does not keep up misses some.
func (d *Desk) Listen() (events <-chan Event, stop func()) {
	c := make(chan Event, 64)
	d.hub.mu.Lock()
	defer d.hub.mu.Unlock()
	if d.hub.open == nil {
		d.hub.open = map[chan Event]bool{}
	}
	d.hub.open[c] = true
	return c, func() {
		d.hub.mu.Lock()
		defer d.hub.mu.Unlock()
		delete(d.hub.open, c)
	}
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
