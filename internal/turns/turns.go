// Package turns has questions take turns at the processors, so that a large one never holds up a small one: each begins
// at once where there is room, works undisturbed for a moment, and from then on gives way to whatever begins.
package turns

import (
	"context"
	"errors"
	"slices"
	"sync"
	"sync/atomic"
	"time"
)

// How long a question works before it gives way to those that begin, and how long one that gives way works before the
// next one like it.
const (
	Quick = 40 * time.Millisecond
	Slice = 250 * time.Millisecond
)

// Most questions that may wait, in all and of one person.
const (
	MaxWaiting       = 400
	MaxWaitingPerson = 64
)

// ErrBusy says that too many questions wait already.
var ErrBusy = errors.New("too many questions are waiting")

// Gate lets as many questions work at a time as it has places. Of its places, one is kept from large questions where
// there are several.
type Gate struct {
	places int

	mu      sync.Mutex
	working map[*Turn]bool
	large   int     // of those that work
	fresh   []*Turn // that wait to begin
	waiting []*Turn // large ones that wait to go on
	people  map[int64]int
}

// New makes a gate with so many places.
func New(places int) *Gate {
	return &Gate{places: max(places, 1), working: map[*Turn]bool{}, people: map[int64]int{}}
}

// Turn is one question's turn.
type Turn struct {
	gate   *Gate
	person int64
	large  bool
	over   bool // done, or given up while it waited
	may    chan struct{}
	timer  *time.Timer
	// give is set when the turn is to give way at its next chance; mu is held by the goroutine of it that does.
	give atomic.Bool
	mu   sync.Mutex
}

// Take waits for a turn. later has it wait like a large question: nobody is looking at it yet. Done ends the turn.
func (g *Gate) Take(ctx context.Context, person int64, later bool) (*Turn, error) {
	t := &Turn{gate: g, person: person, large: later, may: make(chan struct{})}
	g.mu.Lock()
	if len(g.fresh)+len(g.waiting) >= MaxWaiting || g.people[person] >= MaxWaitingPerson {
		g.mu.Unlock()
		return nil, ErrBusy
	}
	g.people[person]++
	g.queue(t)
	g.next()
	g.mu.Unlock()
	if err := t.wait(ctx); err != nil {
		return nil, err
	}
	return t, nil
}

// queue puts a turn where it waits.
func (g *Gate) queue(t *Turn) {
	if t.large {
		g.waiting = append(g.waiting, t)
	} else {
		g.fresh = append(g.fresh, t)
	}
}

// wait waits until a turn may work; where its context ends first, the turn is over.
func (t *Turn) wait(ctx context.Context) error {
	select {
	case <-t.may:
		return nil
	case <-ctx.Done():
	}
	g := t.gate
	g.mu.Lock()
	defer g.mu.Unlock()
	g.end(t)
	return ctx.Err()
}

// end takes a turn away, wherever it is.
func (g *Gate) end(t *Turn) {
	if t.over {
		return
	}
	t.over = true
	if t.timer != nil {
		t.timer.Stop()
	}
	is := func(o *Turn) bool { return o == t }
	g.fresh, g.waiting = slices.DeleteFunc(g.fresh, is), slices.DeleteFunc(g.waiting, is)
	g.leave(t)
	if g.people[t.person]--; g.people[t.person] == 0 {
		delete(g.people, t.person)
	}
	g.next()
}

func (g *Gate) leave(t *Turn) {
	if !g.working[t] {
		return
	}
	delete(g.working, t)
	if t.large {
		g.large--
	}
}

// next lets those work for whom there are places: those that begin first, people who have fewer questions before others.
// Where there is no place for one that begins, a large one is asked to give way.
func (g *Gate) next() {
	for len(g.fresh) > 0 && len(g.working) < g.places {
		g.start(take(&g.fresh, g.fewest(g.fresh)))
	}
	for len(g.fresh) == 0 && len(g.waiting) > 0 && len(g.working) < g.places && g.large < max(1, g.places-1) {
		g.start(take(&g.waiting, g.fewest(g.waiting)))
	}
	if len(g.fresh) == 0 {
		return
	}
	for t := range g.working {
		if t.large {
			t.give.Store(true)
			return
		}
	}
}

// fewest is the first of those whose person has the fewest questions here.
func (g *Gate) fewest(list []*Turn) int {
	at := 0
	for i, t := range list {
		if g.people[t.person] < g.people[list[at].person] {
			at = i
		}
	}
	return at
}

func take(list *[]*Turn, at int) *Turn {
	t := (*list)[at]
	*list = slices.Delete(*list, at, at+1)
	return t
}

func (g *Gate) start(t *Turn) {
	g.working[t] = true
	after := Quick
	if t.large {
		g.large++
		after = Slice
	}
	t.give.Store(false)
	t.timer = time.AfterFunc(after, func() { t.give.Store(true) })
	close(t.may)
}

// Yield is called often by whoever works, any number of them at once. Where others are to go first it waits; it fails
// where the context ends.
func (t *Turn) Yield(ctx context.Context) error {
	if !t.give.Load() {
		return nil
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	if !t.give.Load() {
		return nil // another goroutine of it has waited for all
	}
	g := t.gate
	g.mu.Lock()
	if t.over {
		g.mu.Unlock()
		return context.Cause(ctx)
	}
	g.leave(t)
	t.large, t.may = true, make(chan struct{})
	g.waiting = append(g.waiting, t)
	g.next()
	g.mu.Unlock()
	return t.wait(ctx)
}

// Done ends the turn.
func (t *Turn) Done() {
	t.gate.mu.Lock()
	defer t.gate.mu.Unlock()
	t.gate.end(t)
}

// Load says how many questions work, and how many wait.
func (g *Gate) Load() (working, waiting int) {
	g.mu.Lock()
	defer g.mu.Unlock()
	return len(g.working), len(g.fresh) + len(g.waiting)
}
