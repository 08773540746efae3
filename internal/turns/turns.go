// Package turns has questions take turns at the processors, so that a large one never holds up a small one: each begins
// at once where there is room, works undisturbed for a moment, and from then on gives way to whatever begins.
package turns

import (
	"context"
	"errors"
	"maps"
	"math"
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

// Whoever has had the processors for more than Share of late is in no hurry: such a person's questions give way from
// the beginning. What somebody has had counts half after each HalfLife.
const (
	Share    = 2 * time.Second
	HalfLife = 10 * time.Second
)

// Most questions that may wait, in all and of one person.
const (
	MaxWaiting       = 400
	MaxWaitingPerson = 64
)

// maxShares is how many people's shares are remembered before the small ones are forgotten.
const maxShares = 10_000

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
	had     map[int64]share
}

// share is how long somebody has had the processors, as it counted at a moment.
type share struct {
	long time.Duration
	when time.Time
}

// at is how much of a share counts at a moment.
func (s share) at(now time.Time) time.Duration {
	return time.Duration(float64(s.long) * math.Exp2(-float64(now.Sub(s.when))/float64(HalfLife)))
}

// New makes a gate with so many places.
func New(places int) *Gate {
	return &Gate{places: max(places, 1), working: map[*Turn]bool{}, people: map[int64]int{}, had: map[int64]share{}}
}

// Turn is one question's turn.
type Turn struct {
	gate   *Gate
	person int64
	large  bool
	over   bool // done, or given up while it waited
	may    chan struct{}
	timer  *time.Timer
	began  time.Time // when it last began to work
	// give is set when the turn is to give way at its next chance; mu is held by the goroutine of it that does.
	give atomic.Bool
	mu   sync.Mutex
}

// Take waits for a turn. later has it wait like a large question: nobody is looking at it yet. Done ends the turn.
func (g *Gate) Take(ctx context.Context, person int64, later bool) (*Turn, error) {
	t := &Turn{gate: g, person: person, may: make(chan struct{})}
	g.mu.Lock()
	if len(g.fresh)+len(g.waiting) >= MaxWaiting || g.people[person] >= MaxWaitingPerson {
		g.mu.Unlock()
		return nil, ErrBusy
	}
	g.people[person]++
	t.large = later || g.had[person].at(time.Now()) > Share
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
	now := time.Now()
	g.had[t.person] = share{g.had[t.person].at(now) + now.Sub(t.began), now}
	if len(g.had) > maxShares {
		maps.DeleteFunc(g.had, func(_ int64, s share) bool { return s.at(now) < Share/100 })
	}
}

// next lets those work for whom there are places: those that begin first, people who have had less before others.
// Where there is no place for one that begins, a large one is asked to give way.
func (g *Gate) next() {
	for len(g.fresh) > 0 && len(g.working) < g.places {
		g.start(take(&g.fresh, g.least(g.fresh)))
	}
	for len(g.fresh) == 0 && len(g.waiting) > 0 && len(g.working) < g.places && g.large < max(1, g.places-1) {
		g.start(take(&g.waiting, g.least(g.waiting)))
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

// least is the first of those whose person has had the processors least.
func (g *Gate) least(list []*Turn) int {
	at, now := 0, time.Now()
	for i, t := range list {
		if g.had[t.person].at(now) < g.had[list[at].person].at(now) {
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
	t.began = time.Now()
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

// Large says whether the turn gives way to whatever begins.
func (t *Turn) Large() bool {
	t.gate.mu.Lock()
	defer t.gate.mu.Unlock()
	return t.large
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
